"""Binding of cursors, dynamic SQL and descriptors (ISO/IEC 9075-2 clauses 14 and 20)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.queries import bind_query
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest


def cursor_definition(b: Binding, node: tree.DeclareCursor) -> R.CursorDef:
    """A cursor; over plain rows of one table it can change them."""
    local, number = b.local(node.name, "c"), b.new_source()
    if node.query is None:
        return R.CursorDef(
            local, node.name, None, number, node.scroll, node.hold, node.returns, False, None, (), node.statement
        )
    lock = node.query.lock
    table, columns = None, tree.Parts()
    changes = node.sensitivity != "insensitive" and (lock is None or lock.mode != "read only")
    with b.having(through_views=changes and isinstance(node.query.body, tree.Select)):
        query = bind_query(b, replace(node.query, lock=_rows_locked(lock)))
    if changes:
        table = cursor_table(query)
    if lock is not None and lock.mode == "update":
        if table is None:
            b.fail("42601", f"cursor {node.name} is not over plain rows of one table", lock)
        names = {c.name for c in table.columns}
        columns = tuple(n for n in lock.tables if n in names)
        unknown = [n for n in lock.tables if n not in names and n != table.short]
        if unknown:
            b.fail("42703", f"{table.name} has no column {unknown[0]}", lock, nearest(unknown[0], names))
    sensitive = node.sensitivity == "sensitive"
    return R.CursorDef(local, node.name, query, number, node.scroll, node.hold, node.returns, sensitive, table, columns)


# -- cursors


def cursor_named(b: Binding, name: tree.DynamicName, node: tree.Node) -> R.CursorDef:
    """A cursor by its name, or one that a value names; 34000 when there is none."""
    if not isinstance(name, str):
        named = _name_value(b, name, "cursor")
        return R.CursorDef("", "", None, 0, True, named=named)
    found = b.names.cursor(name) if b.names is not None else None
    if found is None:
        known = [n for names in (b.names.around() if b.names is not None else ()) for n in names.cursors]
        b.fail("42704", f"there is no cursor {name} here", node, nearest(name, known))
    return found


def open_cursor(b: Binding, node: tree.Open) -> R.Stmt:
    """OPEN, with values for the parameters of a prepared statement (clauses 14.4 and 20.15)."""
    cursor = cursor_named(b, node.cursor, node)
    if node.using and cursor.query is not None:
        b.fail("42601", f"cursor {cursor.name} is over a query that is known, it takes no USING", node)
    descriptor = _descriptor(b, node.using_descriptor)
    if descriptor is not None and cursor.query is not None:
        b.fail("42601", f"cursor {cursor.name} is over a query that is known, it takes no USING", node)
    return R.OpenStmt(cursor, tuple(expression(b, u) for u in node.using), descriptor, span=node.span)


def close_cursor(b: Binding, node: tree.Close) -> R.Stmt:
    """CLOSE (clause 14.6)."""
    return R.CloseStmt(cursor_named(b, node.cursor, node), span=node.span)


def bind_fetch(b: Binding, node: tree.Fetch) -> R.Stmt:
    """FETCH with its orientation and targets (clause 14.5)."""
    cursor = cursor_named(b, node.cursor, node)
    if node.orientation != "next" and not cursor.scroll:
        b.fail("42601", f"cursor {cursor.name} only goes forward", node, "DECLARE ... SCROLL CURSOR")
    position = None
    if node.position is not None:
        position = assign(b, expression(b, node.position), T.BIGINT, node.position, "the position")
    descriptor = _descriptor(b, node.into_descriptor)
    if descriptor is not None:
        return R.FetchStmt(cursor, (), node.orientation, position, (), descriptor, span=node.span)
    if cursor.query is None:
        targets = _dynamic_targets(b, node.targets)
        return R.FetchStmt(cursor, (), node.orientation, position, targets, span=node.span)
    receives = b.later.bind_receives(b, node.targets, cursor.query, node)
    return R.FetchStmt(cursor, receives, node.orientation, position, span=node.span)


# -- dynamic SQL


def _dynamic_targets(b: Binding, nodes: tuple[tree.Target, ...]) -> tuple[R.Target, ...]:
    """Targets whose values are converted when they arrive."""
    for node in nodes:
        if not isinstance(node, tree.Reference):
            b.fail("42601", "a part of a variable takes no value whose type is known only later", node)
    targets = tuple(b.later.bind_target(b, t) for t in nodes if isinstance(t, tree.Reference))
    b.may_be_null |= {t.local for t in targets}
    return targets


def _statement_text(b: Binding, node: tree.Expression) -> R.Expr:
    b.effects.writes = True
    return _text(b, node, "the text of a statement")


def _name_value(b: Binding, node: tree.Expression, what: str) -> R.Expr:
    return _text(b, node, f"the name of a {what}")


def _text(b: Binding, node: tree.Expression, what: str) -> R.Expr:
    bound = expression(b, node)
    if bound.type.family not in ("text", "null"):
        b.fail("42804", f"{what} is a text, this is {bound.type}", node)
    return bound


def _statement_name(b: Binding, name: tree.DynamicName) -> str | R.Expr:
    return name if isinstance(name, str) else _name_value(b, name, "statement")


def prepare(b: Binding, node: tree.Prepare) -> R.Stmt:
    """PREPARE (clause 20.7): the text is bound when it is executed."""
    return R.PrepareStmt(_statement_name(b, node.name), _statement_text(b, node.text), span=node.span)


def execute(b: Binding, node: tree.Execute) -> R.Stmt:
    """EXECUTE of a prepared statement (clause 20.13)."""
    b.effects.writes = True
    using = tuple(expression(b, u) for u in node.using)
    taken, given = _descriptor(b, node.using_descriptor), _descriptor(b, node.into_descriptor)
    name = _statement_name(b, node.name)
    return R.ExecuteStmt(name, None, using, _dynamic_targets(b, node.into), taken, given, span=node.span)


def execute_immediate(b: Binding, node: tree.ExecuteImmediate) -> R.Stmt:
    """EXECUTE IMMEDIATE (clause 20.14)."""
    return R.ExecuteStmt("", _statement_text(b, node.text), (), (), span=node.span)


def deallocate(b: Binding, node: tree.Deallocate) -> R.Stmt:
    """DEALLOCATE PREPARE (clause 20.8)."""
    return R.DeallocateStmt(_statement_name(b, node.name), span=node.span)


def allocate_cursor(b: Binding, node: tree.AllocateCursor) -> R.Stmt:
    """ALLOCATE CURSOR (clause 20.17)."""
    name, statement = _name_value(b, node.name, "cursor"), _statement_name(b, node.statement)
    return R.AllocateCursorStmt(name, statement, node.scroll, node.hold, node.returns, span=node.span)


# -- descriptors


def _descriptor(b: Binding, node: tree.Expression | None) -> R.Expr | None:
    """The name of a descriptor: a text."""
    return _name_value(b, node, "descriptor") if node is not None else None


def _whole_number(b: Binding, node: tree.Expression | None, what: str) -> R.Expr | None:
    return assign(b, expression(b, node), T.INTEGER, node, what) if node is not None else None


def allocate_descriptor(b: Binding, node: tree.AllocateDescriptor) -> R.Stmt:
    """ALLOCATE and DEALLOCATE DESCRIPTOR (clauses 20.2 and 20.3)."""
    verb = "allocate" if node.allocate else "deallocate"
    room = _whole_number(b, node.maximum, "WITH MAX")
    return R.DescriptorStmt(verb, _name_value(b, node.name, "descriptor"), room, span=node.span)


def describe(b: Binding, node: tree.Describe) -> R.Stmt:
    """DESCRIBE (clause 20.10)."""
    cursor = cursor_named(b, node.name, node) if node.what == "cursor" else None
    statement = _statement_name(b, node.name) if cursor is None else ""
    return R.DescribeStmt(node.what, statement, cursor, _name_value(b, node.descriptor, "descriptor"), span=node.span)


def get_descriptor(b: Binding, node: tree.GetDescriptor) -> R.Stmt:
    """GET DESCRIPTOR (clause 20.4)."""
    targets = _dynamic_targets(b, tuple(t for t, _ in node.items))
    number = _whole_number(b, node.number, "the number of an item")
    asked = tuple(item for _, item in node.items)
    return R.DescriptorStmt("get", _name_value(b, node.name, "descriptor"), number, (), asked, targets, span=node.span)


def set_descriptor(b: Binding, node: tree.SetDescriptor) -> R.Stmt:
    """SET DESCRIPTOR (clause 20.5)."""
    name = _name_value(b, node.name, "descriptor")
    if node.number is None:
        count = _whole_number(b, node.items[-1][1], "COUNT")
        return R.DescriptorStmt("count", name, count, span=node.span)
    given = []
    for item, value in node.items:
        bound = expression(b, value)
        given.append((item, bound if item == "data" else assign(b, bound, T.INTEGER, value, item.upper())))
    number = _whole_number(b, node.number, "the number of an item")
    return R.DescriptorStmt("set", name, number, tuple(given), span=node.span)


def cursor_table(query: R.Query) -> Table | None:
    """The table whose rows a cursor gives one by one."""
    body = query.body
    if not isinstance(body, R.Select) or body.grouped or body.distinct or body.windows:
        return None
    return body.relation.table if isinstance(body.relation, R.Scan) else None


def _rows_locked(lock: tree.RowLock | None) -> tree.RowLock | None:
    """What a cursor locks when it is opened: FOR UPDATE OF names columns here, not tables, FOR READ ONLY locks none."""
    if lock is None or lock.mode == "read only":
        return None
    return replace(lock, tables=()) if lock.mode == "update" else lock
