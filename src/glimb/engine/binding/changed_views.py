"""Changes of views: of the table behind them, or by INSTEAD OF triggers."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.queries import bind_over, bind_query
from glimb.engine.binding.scope import ChangeTarget, ColumnScope, QueryScope, SourceScope
from glimb.engine.binding.sources import elsewhere, from_item, natural_name, view_query
from glimb.engine.binding.stored import gathers, pairs, row_scope
from glimb.engine.catalog.objects import View, schema_of
from glimb.engine.storage.table import Table
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import ProblemError, nearest

# -- what is changed: a table, or a view through which its table is changed (clauses 4.14 and 14)


def change_target(b: Binding, name: tree.Parts, alias: str, node: tree.Node, known: View | None = None) -> ChangeTarget:
    """The base table behind a name, with the names and conditions of the views on the way."""
    found = known or b.relation(name, node)
    if isinstance(found, Table):
        scope, number = row_scope(b, found, alias)
        names = {c.name: i for i, c in enumerate(found.columns)}
        return ChangeTarget(found, scope, number, names, (), (), found.short)
    query, select = found.query, found.query.body
    plain = isinstance(select, tree.Select) and len(select.sources) == 1 and not found.recursive
    if (
        not plain
        or not isinstance(select, tree.Select)
        or not isinstance(select.sources[0], tree.TableName)
        or select.group is not None
        or select.having is not None
        or select.distinct
        or query.common
        or query.fetch is not None
        or query.offset is not None
        or any(isinstance(n, tree.FunctionCall) and gathers(n) for n in walk(select.items))
    ):
        hint = "an INSTEAD OF trigger can do it, or a query of plain rows of one table"
        b.fail("42807", f"view {found.name} cannot be changed", node, hint)
    inner = select.sources[0]
    with elsewhere(b, found.source, found.schema):
        below = change_target(b, inner.name, inner.alias, inner)
        if inner.columns:
            below.rename(inner.columns)
        with b.scoped(below.scope, "in WHERE"):
            where = bind_condition(b, select.where, "WHERE") if select.where is not None else None
    return _view_target(b, found, select, below, where, alias)


def seen_through(b: Binding, node: tree.TableName) -> ChangeTarget | None:
    """The table behind a view whose rows are rows of it; None for everything else."""
    if len(node.name) == 1 and any(node.name[0] in level for level in b.common):
        return None
    found = b.catalog.relations.get(b.key("relations", node.name, node))
    if not isinstance(found, View):
        return None
    try:
        target = change_target(b, node.name, node.alias, node)
    except ProblemError:
        return None
    if node.columns:
        for column, name in zip(target.scope.sources[0].columns, node.columns, strict=False):
            column.name = name
    return target


def _view_target(
    b: Binding, view: View, select: tree.Select, below: ChangeTarget, where: R.Expr | None, alias: str
) -> ChangeTarget:
    """What a view makes of the target below it: its names, its condition, what rows must meet to stay in it."""
    scope = QueryScope(b.scope)
    source = below.scope.sources[0]
    columns: list[ColumnScope] = []
    with elsewhere(b, view.source, view.schema), b.scoped(below.scope):
        for item in select.items:
            if isinstance(item.value, tree.Star):
                columns += [ColumnScope(c.name, c.type, c.nullable, c.index, c.value) for c in source.columns]
                continue
            value = expression(b, item.value)
            own = isinstance(value, R.Column) and value.source == source.number
            at = value.index if isinstance(value, R.Column) and own else -1
            name = item.alias or natural_name(item.value)
            columns.append(ColumnScope(name, value.type, value.nullable, at, None if own else value))
    for column, name in zip(columns, view.columns or (), strict=False):
        column.name = name
    names = {c.name: c.index for c in columns if c.index >= 0}
    schema = "" if alias else schema_of(view.name)
    scope.sources.append(SourceScope(below.number, alias or view.short, columns, schema))
    conditions = below.conditions + ((where,) if where is not None else ())
    checks = below.checks
    if view.check == "cascaded":
        checks = tuple((view.name, c) for c in conditions)
    elif view.check and where is not None:
        checks = (*checks, (view.name, where))
    return ChangeTarget(below.table, scope, below.number, names, conditions, checks, view.short)


# -- INSTEAD OF triggers


def is_instead(b: Binding, name: tree.Parts, event: str, node: tree.Node) -> bool:
    """Whether a view has a trigger that does the change instead."""
    found = b.relation(name, node)
    return isinstance(found, View) and any(
        t.view is found and t.definition.event == event for t in b.catalog.triggers.values()
    )


def _instead_rows(
    b: Binding, table: tree.Parts, alias: str, where: tree.Expression | None
) -> tuple[R.Query, QueryScope]:
    """The rows of a view that a change is about."""
    scope = QueryScope(b.scope)
    relation = from_item(b, tree.TableName(table, alias), scope)
    with b.scoped(scope, "in WHERE"):
        condition = bind_condition(b, where, "WHERE") if where is not None else None
    source = scope.sources[0]
    items = tuple(source.column(c) for c in source.columns)
    columns = tuple(R.Output(c.name, c.type, c.nullable) for c in source.columns)
    select = R.Select(relation, condition, items, False, (), (), 0, None, False)
    return R.Query(select, columns, (), (), 0, None, None, False, ()), scope


def instead_delete(b: Binding, node: tree.Delete) -> R.Stmt:
    view = b.relation(node.table, node)
    query, _ = _instead_rows(b, node.table, node.alias, node.where)
    return R.InsteadStmt(view, "delete", query, len(query.columns), span=node.span)


def instead_update(b: Binding, node: tree.Update) -> R.Stmt:
    """Rows of twice the width: as they are, and as they should be."""
    view = b.relation(node.table, node)
    query, scope = _instead_rows(b, node.table, node.alias, node.where)
    names = [c.name for c in query.columns]
    select = query.body
    assert isinstance(select, R.Select)
    new = list(select.items)
    for assignment in node.assignments:
        for name, value in pairs(b, assignment, node):
            if name not in names:
                b.fail("42703", f"{node.table[-1]} has no column {name}", assignment, nearest(name, names))
            at = names.index(name)
            with b.scoped(scope):
                new[at] = assign(b, expression(b, value), query.columns[at].type, value, f"column {name}")
    wide = replace(query, body=replace(select, items=(*select.items, *new)), columns=query.columns * 2)
    return R.InsteadStmt(view, "update", wide, len(names), span=node.span)


def instead_insert(b: Binding, node: tree.Insert) -> R.Stmt:
    view = b.relation(node.table, node)
    assert isinstance(view, View)
    columns = view_query(b, view, node).columns
    names = [c.name for c in columns]
    given = node.columns or tuple(names)
    for name in given:
        if name not in names:
            b.fail("42703", f"{view.name} has no column {name}", node, nearest(name, names))
    if node.query is None:
        b.fail("42601", "a view has no default values", node)
    query = bind_query(b, node.query, tuple(columns[names.index(n)].type for n in given))
    if len(query.columns) != len(given):
        b.fail("42601", f"{len(query.columns)} values for {len(given)} columns", node)
    over = bind_over(b, query)
    items = tuple(
        assign(b, over.items[given.index(c.name)], c.type, node, f"column {c.name}")
        if c.name in given
        else R.Const(c.type, True, None)
        for c in columns
    )
    rows = R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
    return R.InsteadStmt(view, "insert", rows, len(columns), span=node.span)
