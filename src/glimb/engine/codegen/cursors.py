"""Code generation for cursors, dynamic SQL and descriptors: what is carried out by objects of the run time."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.completion import no_data
from glimb.engine.codegen.data import begin, write_rows
from glimb.engine.codegen.queries import with_whole_row, write_query
from glimb.engine.codegen.recording import record, record_values
from glimb.engine.codegen.variables import write_unpack
from glimb.engine.codegen.writing import StatementWriter
from glimb.lang.node import replace

# -- cursors


def _at_hand(w: StatementWriter, cursor: R.CursorDef) -> R.CursorDef:
    """A cursor in a local: one that a value names is looked up."""
    if cursor.named is None:
        return cursor
    local = w.function.temp("cursor")
    w.line(f"{local} = named_cursor(s, {w.value(cursor.named)})")
    return replace(cursor, local=local)


def _statement_name(w: StatementWriter, name: str | R.Expr) -> str:
    return w.unit.constant(name, "K") if isinstance(name, str) else f"extended({w.value(name)})"


def open_cursor(w: StatementWriter, node: R.OpenStmt) -> None:
    """OPEN: the rows are those of this moment."""
    record(w, "open", node)
    cursor = _at_hand(w, node.cursor)
    if cursor.query is None:
        name = w.unit.constant(cursor.statement, "K") if cursor.named is None else f"{cursor.local}.statement"
        passed = _passed(w, node.using, node.descriptor)
        w.line(f"open_dynamic(s, d, {cursor.local}, {name}, {passed})")
        return
    begin(w, cursor.query)
    query = with_whole_row(cursor.query) if cursor.table is not None else cursor.query
    if not cursor.sensitive:
        w.line(f"{cursor.local}.open(s, {write_rows(w, query)})")
        return
    name, free = write_query(w.unit, query, "rows", False, w.function.at)
    again = w.function.temp("again")
    w.line(f"{again} = partial({', '.join([name, 's', 'd', *(w.value(e) for e in free)])})")
    w.line(f"{cursor.local}.open(s, {again}(), {again})")


def _passed(w: StatementWriter, values: tuple[R.Expr, ...], descriptor: R.Expr | None) -> str:
    """Values for dynamic parameters, and their types."""
    if descriptor is not None:
        return f"*described_values(s, {w.value(descriptor)})"
    types = w.unit.constant(tuple(v.type for v in values), "TYPES")
    return f"({''.join(f'{w.value(v)}, ' for v in values)}), {types}"


def fetch(w: StatementWriter, node: R.FetchStmt) -> None:
    """FETCH: a row into its targets, or no data."""
    targets = node.targets or tuple(r.target for r in node.receives if r.target is not None)
    record(w, "fetch", node, targets)
    row = w.function.temp("row")
    node = replace(node, cursor=_at_hand(w, node.cursor))
    position = f", {w.value(node.position)}" if node.position is not None else ""
    w.line(f"{row} = {node.cursor.local}.fetch({node.orientation!r}{position})")
    w.line(f"s.diagnostics.row_count = {row} is not None and 1 or 0")
    with w.function.indented(f"if {row} is not None:"):
        if node.descriptor is not None:
            _fill(w, node.descriptor, f"{node.cursor.local}.kind.columns", row)
        elif node.targets:
            _take_dynamic(w, node.targets, f"{row}, {node.cursor.local}.kind.columns")
        else:
            whole = f"[:{len(node.receives)}]" if node.cursor.table is not None else ""
            write_unpack(w, node.receives, f"{row}{whole}")
    with w.function.indented("else:"):
        which = f"cursor {node.cursor.name}" if node.cursor.name else "the cursor"
        no_data(w, f"{which} has no more rows")
    record_values(w, targets)


def _take_dynamic(w: StatementWriter, targets: tuple[R.Target, ...], row_and_columns: str) -> None:
    """Assign values whose types are known only now."""
    types = w.unit.constant(tuple(t.type for t in targets), "TYPES")
    names = ", ".join(t.local for t in targets)
    w.line(f"{names}, = taken({row_and_columns}, {types})")
    for target in targets:
        w.bounds.pop(target.local, None)
        w.not_null.discard(target.local)


# -- dynamic SQL


def prepare(w: StatementWriter, node: R.PrepareStmt) -> None:
    """PREPARE."""
    record(w, "prepare", node)
    w.line(f"prepare(s, {_statement_name(w, node.name)}, {w.value(node.text)})")


def execute(w: StatementWriter, node: R.ExecuteStmt) -> None:
    """EXECUTE, EXECUTE IMMEDIATE: the result into its targets."""
    record(w, "execute", node, node.targets)
    name = "None"
    if node.text is not None:
        w.line(f"prepare(s, None, {w.value(node.text)})")
    else:
        name = _statement_name(w, node.name)
    result = w.function.temp("result")
    w.line(f"{result} = execute_dynamic(s, d, {name}, {_passed(w, node.using, node.using_descriptor)})")
    if node.targets or node.into_descriptor is not None:
        row = w.function.temp("row")
        w.line(f"{row} = one_row({result})")
        with w.function.indented(f"if {row} is not None:"):
            if node.into_descriptor is not None:
                _fill(w, node.into_descriptor, f"{row}[1]", f"{row}[0]")
            else:
                _take_dynamic(w, node.targets, f"*{row}")
        with w.function.indented("else:"):
            no_data(w, "EXECUTE found no row")
    record_values(w, node.targets)


def deallocate(w: StatementWriter, node: R.DeallocateStmt) -> None:
    """DEALLOCATE PREPARE."""
    record(w, "deallocate", node)
    w.line(f"deallocate(s, {_statement_name(w, node.name)})")


def allocate_cursor(w: StatementWriter, node: R.AllocateCursorStmt) -> None:
    """ALLOCATE CURSOR."""
    record(w, "allocate cursor", node)
    attributes = f"{node.scroll}, {node.hold}, {node.returns}"
    w.line(f"allocate_cursor(s, {w.value(node.name)}, {_statement_name(w, node.statement)}, {attributes})")


# -- descriptors


def _fill(w: StatementWriter, descriptor: R.Expr, columns: str, row: str) -> None:
    w.line(f"fill_descriptor(s, {w.value(descriptor)}, {columns}, {row})")


def write_descriptor(w: StatementWriter, node: R.DescriptorStmt) -> None:
    """ALLOCATE, DEALLOCATE, GET, SET DESCRIPTOR."""
    record(w, f"{node.verb} descriptor", node, node.targets)
    name = w.value(node.name)
    number = w.value(node.number) if node.number is not None else "None"
    if node.verb == "get":
        items = w.unit.constant(node.asked, "ITEMS")
        found = w.function.temp("found")
        w.line(f"{found} = descriptor_items(s, {name}, {number}, {items})")
        with w.function.indented(f"if {found} is not None:"):
            _take_dynamic(w, node.targets, f"*{found}")
        with w.function.indented("else:"):
            no_data(w, "the descriptor has no such item")
    elif node.verb == "set":
        given = "".join(f"({i!r}, {w.value(v)}, {w.unit.constant(v.type, 'TYPE_')}), " for i, v in node.given)
        w.line(f"set_descriptor(s, {name}, {number}, ({given}))")
    else:
        call = {"allocate": "allocate_descriptor", "count": "set_descriptor_count"}.get(node.verb)
        w.line(f"{call}(s, {name}, {number})" if call else f"deallocate_descriptor(s, {name})")
    record_values(w, node.targets)


def describe(w: StatementWriter, node: R.DescribeStmt) -> None:
    """DESCRIBE."""
    record(w, "describe", node)
    if node.cursor is not None:
        _fill(w, node.descriptor, f"{_at_hand(w, node.cursor).local}.structure()", "None")
        return
    columns = f"described(s, {_statement_name(w, node.statement)}, {node.what == 'input'})"
    _fill(w, node.descriptor, columns, "None")


def close_cursor(w: StatementWriter, node: R.CloseStmt) -> None:
    """CLOSE."""
    record(w, "close", node)
    w.line(f"{_at_hand(w, node.cursor).local}.close()")
