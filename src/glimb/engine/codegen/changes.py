"""Code generation for INSERT, UPDATE, DELETE and MERGE: functions of their own, which have a Writer do the work."""

from __future__ import annotations

from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Function, Unit
from glimb.engine.codegen.queries import QueryWriter, constant_rows
from glimb.engine.resolved.relations import is_volatile
from glimb.engine.values import types as T
from glimb.lang.source import Span


def write_change(unit: Unit, node: R.Stmt) -> tuple[str, list[R.Expr]]:
    """A function that does a change; gives its name and what callers must pass."""
    if isinstance(node, R.InsertStmt):
        return write_insert(unit, node)
    if isinstance(node, R.UpdateStmt):
        return write_update(unit, node)
    if isinstance(node, R.DeleteStmt):
        return write_delete(unit, node)
    assert isinstance(node, R.MergeStmt)
    return write_merge(unit, node)


def _write_checker(
    unit: Unit, function: Function, source: int, checks: tuple[tuple[str, R.Expr], ...], span: Span
) -> None:
    """WITH CHECK OPTION: the writer looks at every row that it stores."""
    if not checks:
        return
    checker = unit.function("check_option_", ["s", "d", "r"], span)
    writer = QueryWriter(checker, True)
    writer.columns[source] = "r"
    for view, condition in checks:
        checker.line(f"if not {writer.true(condition)}: outside_view({unit.constant(view, 'K')})")
    function.line(f"w.checker = {checker.name}")


def _writing(unit: Unit, hint: str, table: Any, span: Span, volatile: bool) -> tuple[Function, QueryWriter]:
    """A function that starts with a Writer and takes everything back when it fails."""
    function = unit.function(f"{hint}_", ["s", "d"], span)
    writer = QueryWriter(function, True)
    writer.volatile = volatile
    function.line(f"w = Writer(s, d, {unit.table(table)})")
    function.line("try:")
    function.depth += 1
    function.hoist_here()
    return function, writer


def _done(function: Function) -> None:
    function.depth -= 1
    function.line("except BaseException:")
    function.line("    w.abort()")
    function.line("    raise")


def write_insert(unit: Unit, node: R.InsertStmt) -> tuple[str, list[R.Expr]]:
    """A function that inserts; gives its name and what callers must pass."""
    table = node.table
    function, writer = _writing(unit, "insert", table, node.span, True)
    defaults = dict(node.defaults)
    _write_checker(unit, function, node.source, node.checks, node.span)
    function.line(f"w.begin({unit.table(table)}, 'insert')")

    def row(texts: list[str]) -> str:
        given = dict(zip(node.positions, texts, strict=True))
        return ", ".join(given[i] if i in given else writer.value(defaults[i]) for i in range(len(table.columns)))

    query = node.query
    known = constant_rows(query.body) if query is not None and isinstance(query.body, R.Rows) else None
    if query is None:
        function.line(f"w.insert(({row([])},))")
    elif isinstance(query.body, R.Rows) and known is None:
        writer.body(query.body, lambda texts: function.line(f"w.insert(({row(texts)},))"))
    else:
        is_bare = not query.order and query.fetch is None and query.offset is None
        rows = unit.constant(known, "ROWS") if known is not None and is_bare else writer.rows(query)
        made = row([f"r[{i}]" for i in range(len(node.positions))])
        if node.positions == tuple(range(len(table.columns))):
            function.line(f"insert_all(w, {rows})")
        elif all(isinstance(value, R.Const) for value in defaults.values()):
            function.line(f"insert_all(w, [({made},) for r in {rows}])")
        else:  # a default may draw a value, which must not be drawn for a row behind one that fails
            with function.indented(f"for r in {rows}:"):
                function.line(f"w.insert(({made},))")
    function.line("return w.finish()")
    _done(function)
    return function.name, list(writer.free)


def _find_rows(function: Function, writer: QueryWriter, table: Any, source: int, where: R.Expr | None) -> None:
    """Lock the rows to change; when one had to be waited for and has changed, look again."""
    with function.indented("while True:"):
        function.hoist_here()
        function.line("found = []")
        scan = R.Scan(table, source)
        writer.changing = {source: ()}
        writer.loops(scan, where, lambda: function.line(f"found.append(r{source})"))
        function.line(f"if s.claims.lock_rows({writer.unit.table(table)}, found): break")


def _find(function: Function, writer: QueryWriter, node: R.UpdateStmt | R.DeleteStmt) -> None:
    """The rows to change: those of the condition, or the one at which a cursor stands."""
    if node.cursor is None:
        _find_rows(function, writer, node.table, node.source, node.where)
        return
    if node.cursor.named is not None:
        cursor = f"named_cursor(s, {writer.value(node.cursor.named)})"
    else:
        cursor = writer.variable(R.Variable(T.NULL, False, node.cursor.local, ""))
    function.line(f"found = {cursor}.current(s, {writer.unit.table(node.table)})")


def write_update(unit: Unit, node: R.UpdateStmt) -> tuple[str, list[R.Expr]]:
    """A function that updates."""
    volatile = is_volatile(node)
    function, writer = _writing(unit, "update", node.table, node.span, volatile)
    _write_checker(unit, function, node.source, node.checks, node.span)
    _find(function, writer, node)
    function.hoist_here()
    new = dict(node.values)
    row = f"r{node.source}"
    writer.columns[node.source] = row
    function.line("pairs = []")
    with function.indented(f"for {row} in found:"):
        texts = dict(zip(new, writer.row_values(tuple(new.values())), strict=True))
        values = [texts.get(i, f"{row}[{i}]") for i in range(len(node.table.columns))]
        function.row(f"pairs.append(({row}, ", values, "))")
    function.line(f"w.assigned = {unit.constant(frozenset(new), 'SET')}")
    function.line("return w.update(pairs)")
    _done(function)
    return function.name, list(writer.free)


def write_delete(unit: Unit, node: R.DeleteStmt) -> tuple[str, list[R.Expr]]:
    """A function that deletes."""
    function, writer = _writing(unit, "delete", node.table, node.span, is_volatile(node))
    _find(function, writer, node)
    function.line("return w.delete(found)")
    _done(function)
    return function.name, list(writer.free)


def write_merge(unit: Unit, node: R.MergeStmt) -> tuple[str, list[R.Expr]]:
    """A function that merges: what to do with every row is found first, then done."""
    function, writer = _writing(unit, "merge", node.table, node.span, is_volatile(node))
    _write_checker(unit, function, node.target, node.checks, node.span)
    line, row, width = function.line, f"r{node.target}", len(node.table.columns)

    def decide() -> None:
        for matched, kind in ((True, "is not"), (False, "is")):
            actions = [a for a in node.actions if a.matched is matched]
            if actions:
                with function.indented(f"if {row}[-1] {kind} None:"):
                    word = "if"
                    for action in actions:
                        test = writer.true(action.condition) if action.condition is not None else "True"
                        with function.indented(f"{word} {test}:"):
                            act(action)
                        word = "elif"

    def act(action: R.MergeAction) -> None:
        new = dict(action.values)
        values = [writer.value(new[n]) if n in new else f"{row}[{n}]" for n in range(width)]
        if not action.matched:
            function.row("inserts.append(", values)
        elif action.values:
            function.row(f"updates.append(({row}, ", values, "))")
        else:
            line(f"deletes.append({row})")

    with function.indented("while True:"):
        function.hoist_here()
        line("updates, deletes, inserts = [], [], []")
        writer.changing = {node.target: ()}
        writer.loops(node.relation, None, decide)
        line("touched = [old for old, _ in updates] + deletes")
        line(f"if s.claims.lock_rows({unit.table(node.table)}, touched): break")
    events = {"insert" if not a.matched else "update" if a.values else "delete" for a in node.actions}
    sets = dict.fromkeys(frozenset(dict(a.values)) for a in node.actions if a.matched and a.values)
    line(f"return w.merge(updates, deletes, inserts, {tuple(sorted(events))!r}, {unit.constant(tuple(sets), 'SETS')})")
    _done(function)
    return function.name, list(writer.free)
