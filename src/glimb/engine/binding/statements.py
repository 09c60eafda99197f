"""Binding of statements that change data, and of those that steer transactions."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NoReturn

from glimb.engine import resolved as R
from glimb.engine.binding.changed_views import (
    change_target,
    instead_delete,
    instead_insert,
    instead_update,
    is_instead,
)
from glimb.engine.binding.comparisons import conjunction, row_items
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign, bind_converted
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.queries import bind_over, bind_query
from glimb.engine.binding.scope import ChangeTarget, QueryScope
from glimb.engine.binding.sources import elsewhere, from_item
from glimb.engine.binding.stored import pairs
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.engine.values.column_texts import column_values
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest
from glimb.lang.written_rows import Column, WrittenRows


def bind_insert(b: Binding, node: tree.Insert) -> R.Stmt:
    """INSERT (clause 14.11), into a table or through a view."""
    b.effects.writes = True
    b.does(3, node)
    if is_instead(b, node.table, "insert", node):
        return instead_insert(b, node)
    target = change_target(b, node.table, "", node)
    table = target.table
    positions = _positions(b, target, node) if node.columns else tuple(target.names.values())
    given = positions if node.query is not None else ()
    missing = (n for n in range(len(table.columns)) if n not in given)
    defaults = tuple((n, column_default(b, table, n)) for n in missing)
    if node.query is None:
        return R.InsertStmt(table, None, (), defaults, target.number, target.checks, span=node.span)
    kept = positions
    if node.overriding == "user":
        kept, defaults = _without_identities(b, table, positions, defaults)
    _check_generated(b, table, positions, node)
    types = tuple(table.columns[p].type for p in positions)
    body = node.query.body
    if isinstance(body, tree.Values) and not node.query.order and node.query.fetch is None:
        query = _insert_rows(b, table, positions, body)
    else:
        query = bind_query(b, node.query, types)
        _check_width(b, len(query.columns), positions, table, node)
        over = bind_over(b, query)
        items = tuple(
            assign(b, i, t, node, f"column {table.columns[p].name}")
            for i, t, p in zip(over.items, types, positions, strict=True)
        )
        columns = tuple(R.Output(table.columns[p].name, t, True) for p, t in zip(positions, types, strict=True))
        query = R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
    if kept != positions:
        query = _picked_columns(b, query, [n for n, p in enumerate(positions) if p in kept])
    return R.InsertStmt(table, query, kept, defaults, target.number, target.checks, span=node.span)


def _without_identities(
    b: Binding, table: Table, positions: tuple[int, ...], defaults: tuple[tuple[int, R.Expr], ...]
) -> tuple[tuple[int, ...], tuple[tuple[int, R.Expr], ...]]:
    """OVERRIDING USER VALUE: what is given for identity columns does not count."""
    kept = tuple(p for p in positions if table.columns[p].identity is None)
    more = tuple((p, column_default(b, table, p)) for p in positions if p not in kept)
    return kept, defaults + more


def _picked_columns(b: Binding, query: R.Query, places: list[int]) -> R.Query:
    over = bind_over(b, query)
    items = tuple(over.items[p] for p in places)
    columns = tuple(query.columns[p] for p in places)
    return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())


def _check_generated(b: Binding, table: Table, positions: tuple[int, ...], node: tree.Insert) -> None:
    """Columns that are always generated take only DEFAULT, or with OVERRIDING SYSTEM VALUE, identities."""
    assert node.query is not None
    body = node.query.body
    for at, position in enumerate(positions):
        column = table.columns[position]
        if not column.always:
            continue
        given = not isinstance(body, tree.Values) or any(
            at < len(row) and not isinstance(row[at], tree.DefaultValue) for row in body.rows
        )
        if given and (column.generated is not None or not node.overriding):
            hint = "OVERRIDING SYSTEM VALUE" if column.identity is not None else ""
            b.fail("428C9", f"column {column.name} is always generated", node, hint)


def _positions(b: Binding, target: ChangeTarget, node: tree.Insert) -> tuple[int, ...]:
    positions: list[int] = []
    for name in node.columns:
        position = target.names.get(name)
        if position is None:
            _cannot_be_set(b, target, name, node)
        if position in positions:
            b.fail("42701", f"column {name} is given twice", node)
        positions.append(position)
    return tuple(positions)


def _cannot_be_set(b: Binding, target: ChangeTarget, name: str, node: tree.Node) -> NoReturn:
    """A column that a view computes, or none at all."""
    if any(column.name == name for source in target.scope.sources for column in source.columns):
        b.fail("42807", f"column {name} of view {target.label} is computed: it cannot be set", node)
    b.fail("42703", f"table {target.label} has no column {name}", node, nearest(name, target.names))


def bind_column(b: Binding, table: Table, name: str, node: tree.Node) -> int:
    """The position of a column of a table; 42703 when it has none of that name."""
    position = table.positions.get(name)
    if position is None:
        b.fail("42703", f"table {table.name} has no column {name}", node, nearest(name, table.positions))
    return position


def _check_width(b: Binding, width: int, positions: tuple[int, ...], table: Table, node: tree.Node) -> None:
    if width != len(positions):
        names = ", ".join(table.columns[p].name for p in positions)
        b.fail("42601", f"{width} values for {len(positions)} columns ({names})", node)


def _insert_rows(b: Binding, table: Table, positions: tuple[int, ...], body: tree.Values) -> R.Query:
    """Rows of VALUES, where DEFAULT may stand; each value converted by itself, or many together."""
    columns = tuple(R.Output(table.columns[p].name, table.columns[p].type, True) for p in positions)
    many = isinstance(body.rows, WrittenRows) or len(body.rows) >= MANY
    known = _known_rows(table, positions, body) if many else None
    if known is not None:
        return R.Query(R.Rows((), R.KnownRows(known)), columns, (), (), 0, None, None, False, ())
    rows = []
    for row in body.rows:
        _check_width(b, len(row), positions, table, row[0])
        with b.clause("in VALUES"):
            rows.append(tuple(_stored_value(b, table, p, v) for p, v in zip(positions, row, strict=True)))
    return R.Query(R.Rows(tuple(rows)), columns, (), (), 0, None, None, False, ())


MANY = 20
"""From so many rows of VALUES on, they are looked at together."""
FITTING = {
    **dict.fromkeys(("smallint", "integer", "bigint"), frozenset(("integer", "null"))),
    "decimal": frozenset(("integer", "decimal", "null")),
    **dict.fromkeys(("char", "varchar", "clob"), frozenset(("string", "null"))),
    "date": frozenset(("date", "null")),
}
"""Kinds of literals that may be stored in a column of a kind by nothing but reading their texts."""


def _known_rows(table: Table, positions: tuple[int, ...], body: tree.Values) -> list[tuple[Any, ...]] | None:
    """The values of many rows that are plain literals, converted column by column; None where one is something else, or
    has to be looked at by itself."""
    columns = []
    for position, written in zip(positions, _by_column(body.rows, len(positions)) or (), strict=False):
        type_ = table.columns[position].type
        fits = written.kinds <= FITTING.get(type_.kind, frozenset())
        values = column_values(written.texts, type_) if fits else None
        if values is None:
            return None
        columns.append(values)
    return list(zip(*columns, strict=True)) if columns else None


def _by_column(rows: Sequence[tuple[tree.Expression, ...]], width: int) -> list[Column] | None:
    """Rows of plain literals by column; None where one is something else, or has another width."""
    if isinstance(rows, WrittenRows):
        return rows.columns(width)
    if any(len(row) != width for row in rows):
        return None
    found = []
    for nodes in zip(*rows, strict=True):
        literals = [node for node in nodes if type(node) is tree.Literal]
        if len(literals) != len(nodes):
            return None
        texts = [node.value if node.kind != "null" else None for node in literals]
        found.append(Column(texts, frozenset(node.kind for node in literals)))
    return found


def _stored_value(b: Binding, table: Table, position: int, node: tree.Expression) -> R.Expr:
    """A value for a column of a table, or the column's default."""
    if isinstance(node, tree.DefaultValue):
        return column_default(b, table, position)
    column = table.columns[position]
    return assign(b, expression(b, node), column.type, node, f"column {column.name}")


def column_default(b: Binding, table: Table, position: int) -> R.Expr:
    """What a column gets when nothing is given."""
    column = table.columns[position]
    if column.identity is not None:
        return bind_converted(b, R.NextValue(column.identity.type, False, column.identity), column.type, explicit=False)
    if column.default is None:
        return R.Const(column.type, True, None)
    with elsewhere(b, b.source, ""):
        return assign(b, expression(b, column.default), column.type, column.default, f"column {column.name}")


def update(b: Binding, node: tree.Update) -> R.Stmt:
    """UPDATE, searched or positioned (clauses 14.13 and 14.14)."""
    b.effects.writes = True
    b.does(3, node)
    if is_instead(b, node.table, "update", node):
        return instead_update(b, node)
    cursor = _positioned(b, node.cursor, node)
    target = change_target(b, node.table, node.alias, node)
    with b.scoped(target.scope):
        values = _assignments(b, target, node)
        if cursor is not None:
            _check_positioned(b, cursor, target.table, [p for p, _ in values], node)
        where = _where_of(b, target, node.where)
    return R.UpdateStmt(target.table, target.number, values, where, cursor, target.checks, span=node.span)


def delete(b: Binding, node: tree.Delete) -> R.Stmt:
    """DELETE, searched or positioned (clauses 14.7 and 14.9)."""
    b.effects.writes = True
    b.does(3, node)
    if is_instead(b, node.table, "delete", node):
        return instead_delete(b, node)
    cursor = _positioned(b, node.cursor, node)
    target = change_target(b, node.table, node.alias, node)
    if cursor is not None:
        _check_positioned(b, cursor, target.table, [], node)
    with b.scoped(target.scope):
        where = _where_of(b, target, node.where)
    return R.DeleteStmt(target.table, target.number, where, cursor, span=node.span)


def _where_of(b: Binding, target: ChangeTarget, node: tree.Expression | None) -> R.Expr | None:
    """The condition of a change, with those of the views that it goes through."""
    conditions = list(target.conditions)
    if node is not None:
        with b.clause("in WHERE"):
            conditions.append(bind_condition(b, node, "WHERE"))
    return conjunction(b, conditions) if conditions else None


def _positioned(b: Binding, cursor: tree.DynamicName, node: tree.Node) -> R.CursorDef | None:
    """The cursor of WHERE CURRENT OF."""
    return b.later.cursor_named(b, cursor, node) if cursor else None


def _check_positioned(b: Binding, cursor: R.CursorDef, table: Table, positions: list[int], node: tree.Node) -> None:
    if cursor.query is None:
        return  # over a prepared statement: what it is over is known when it is open
    if cursor.table is None:
        hint = "it needs plain rows of one table, and no FOR READ ONLY or INSENSITIVE"
        b.fail("42828", f"cursor {cursor.name} cannot change rows", node, hint)
    if cursor.table is not table:
        b.fail("42828", f"cursor {cursor.name} is over {cursor.table.name}, not {table.name}", node)
    for position in positions:
        name = table.columns[position].name
        if cursor.columns and name not in cursor.columns:
            b.fail("42829", f"cursor {cursor.name} is not for update of {name}", node)


def _assignments(
    b: Binding, target: ChangeTarget, node: tree.Update | tree.MergeClause
) -> tuple[tuple[int, R.Expr], ...]:
    values: list[tuple[int, R.Expr]] = []
    for assignment in node.assignments:
        with b.clause("in SET"):
            assigned = _assigned_values(b, target, assignment, node)
        for position, value in assigned:
            if any(p == position for p, _ in values):
                name = target.table.columns[position].name
                b.fail("42701", f"column {name} is set twice", assignment)
            values.append((position, value))
    return tuple(values)


def _assigned_values(
    b: Binding, target: ChangeTarget, node: tree.Assignment, parent: tree.Node
) -> list[tuple[int, R.Expr]]:
    table = target.table
    if len(node.columns) > 1 and isinstance(node.value, tree.Subquery):
        items = row_items(b, node.value)
        if len(items) != len(node.columns):
            b.fail("42601", f"{len(items)} values for {len(node.columns)} columns", node)
        places = [_assignable(b, target, n, node.value, node) for n in node.columns]
        return [
            (p, assign(b, i, table.columns[p].type, node, f"column {table.columns[p].name}"))
            for p, i in zip(places, items, strict=True)
        ]
    found = []
    for name, value in pairs(b, node, parent):
        position = _assignable(b, target, name, value, node)
        if node.element is not None:
            found.append((position, _changed_element(b, table, target.number, position, node)))
        else:
            found.append((position, _stored_value(b, table, position, value)))
    return found


def _assignable(b: Binding, target: ChangeTarget, name: str, value: tree.Expression, node: tree.Node) -> int:
    """The position of a column that may be set to a value."""
    position = target.names.get(name)
    if position is None:
        _cannot_be_set(b, target, name, node)
    column = target.table.columns[position]
    if column.always and not isinstance(value, tree.DefaultValue):
        b.fail("428C9", f"column {column.name} is always generated", node)
    return position


def _changed_element(b: Binding, table: Table, source: int, position: int, node: tree.Assignment) -> R.Expr:
    """SET column[n] = value."""
    assert node.element is not None
    column = table.columns[position]
    if column.type.kind != "array":
        b.fail("42804", f"column {column.name} is {column.type}, it has no elements", node)
    old = R.Column(column.type, True, source, position, column.name)
    return changed_element(b, old, node.element, node.value, node)


def changed_element(
    b: Binding, array: R.Expr, position: tree.Expression, value: tree.Expression, node: tree.Node
) -> R.Expr:
    """An array with one element replaced."""
    at = assign(b, expression(b, position), T.INTEGER, position, "the position")
    element = assign(b, expression(b, value), array.type.parts[0], value, "the element")
    return R.Loose(array.type, False, "with_element", (array, at, element), (array.type.size,))


def merge(b: Binding, node: tree.Merge) -> R.Stmt:
    """MERGE (clause 14.12): the source, outer joined with the target."""
    b.effects.writes = True
    b.does(3, node)
    target = change_target(b, node.table, node.alias, node)
    outer, scope = b.scope, QueryScope(b.scope)
    with b.scoped(scope, "in MERGE"):
        source = from_item(b, node.source, scope)
        own = target.scope.sources[0]
        if any(s.alias == own.alias and s.schema == own.schema for s in scope.sources):
            b.fail("42701", f"{own.alias} is both target and source", node, "name one of them")
        only_source = QueryScope(outer)
        only_source.sources = list(scope.sources)
        scope.sources.append(own)
        condition = conjunction(b, [*target.conditions, bind_condition(b, node.condition, "ON")])
        actions = tuple(_merge_action(b, target, c, scope, only_source) for c in node.clauses)
    relation = R.JoinRows("left", source, R.Scan(target.table, target.number), condition)
    return R.MergeStmt(target.table, relation, target.number, actions, target.checks, span=node.span)


def _merge_action(
    b: Binding, target: ChangeTarget, node: tree.MergeClause, both: QueryScope, source: QueryScope
) -> R.MergeAction:
    table = target.table
    with b.scoped(both if node.matched else source):
        condition = bind_condition(b, node.condition, "WHEN") if node.condition is not None else None
        if node.matched:
            return R.MergeAction(True, condition, _assignments(b, target, node))
        insert = tree.Insert((table.name,), node.columns, tree.Query(tree.Values((node.values,))), span=node.span)
        positions = _positions(b, target, insert) if node.columns else tuple(target.names.values())
        _check_width(b, len(node.values), positions, table, node)
        _check_generated(b, table, positions, insert)
        given = {p: _stored_value(b, table, p, v) for p, v in zip(positions, node.values, strict=True)}
        row = tuple((n, given[n] if n in given else column_default(b, table, n)) for n in range(len(table.columns)))
        return R.MergeAction(False, condition, row)


def truncate(b: Binding, node: tree.Truncate) -> R.Stmt:
    """TRUNCATE TABLE (clause 14.10); 42893 while another table refers to this one."""
    table = b.base_table(node.table, node)
    b.effects.writes = True
    b.does(3, node)
    if any(f.table is not table for f in table.referenced):
        users = ", ".join(sorted({f.table.name for f in table.referenced}))
        b.fail("42893", f"{table.name} cannot be truncated: {users} refers to it", node)
    return R.TruncateStmt(table, node.restart, span=node.span)


def transaction(b: Binding, node: tree.Statement) -> R.Stmt:
    """Transaction statements need no names."""
    span = node.span
    match node:
        case tree.StartTransaction():
            return R.TransactionStmt("start", "", node.modes, False, span=span)
        case tree.SetTransaction():
            return R.TransactionStmt("set local" if node.local else "set", "", node.modes, False, span=span)
        case tree.Commit():
            return R.TransactionStmt("commit", "", (), node.chain, span=span)
        case tree.Rollback(savepoint=""):
            return R.TransactionStmt("rollback", "", (), node.chain, span=span)
        case tree.Rollback():
            return R.TransactionStmt("rollback to", node.savepoint, (), False, span=span)
        case tree.Savepoint():
            return R.TransactionStmt("savepoint", node.name, (), False, span=span)
        case tree.ReleaseSavepoint():
            return R.TransactionStmt("release", node.name, (), False, span=span)
    raise AssertionError(node)
