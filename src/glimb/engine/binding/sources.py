"""Binding of FROM: tables, views, subqueries, joins (ISO/IEC 9075-2 clauses 7.5 to 7.10)."""

from __future__ import annotations

from contextlib import AbstractContextManager

from glimb.engine import resolved as R
from glimb.engine.binding.calls import resolve
from glimb.engine.binding.comparisons import compare, conjunction
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import unified
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.scope import ColumnScope, QueryScope, Scope, SourceScope
from glimb.engine.catalog.objects import SYSTEM_SCHEMAS, SystemView, View, schema_of
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest
from glimb.lang.source import Source

# -- FROM


def _from(b: Binding, sources: tuple[tree.FromItem, ...], scope: QueryScope) -> R.Relation | None:
    relation: R.Relation | None = None
    for item in sources:
        bound = from_item(b, item, scope)
        relation = bound if relation is None else R.JoinRows("inner", relation, bound, None)
    return relation


def from_or_through(
    b: Binding, node: tree.Select, scope: QueryScope, lock: tree.RowLock | None
) -> tuple[R.Relation | None, list[R.Expr]]:
    """FROM. A query whose rows are to be locked or changed sees through a view: its rows are rows of the table."""
    through = b.through_views or lock is not None
    only = node.sources[0] if through and len(node.sources) == 1 else None
    with b.having(through_views=False):
        target = b.later.seen_through(b, only) if isinstance(only, tree.TableName) else None
        if target is None:
            return _from(b, node.sources, scope), []
    b.does(2, node)
    scope.sources += target.scope.sources
    return R.Scan(target.table, target.number), list(target.conditions)


def from_item(b: Binding, node: tree.FromItem, scope: QueryScope) -> R.Relation:
    if isinstance(node, tree.TableName):
        return _table_name(b, node, scope)
    if isinstance(node, tree.DerivedTable):
        return _derived(b, node, scope)
    if isinstance(node, tree.TableCall):
        return _table_call(b, node, scope)
    if isinstance(node, tree.Unnest):
        return _unnest(b, node, scope)
    if isinstance(node, tree.ChangedRows):
        return _changed_rows(b, node, scope)
    assert isinstance(node, tree.Join)
    return _join(b, node, scope)


def _unnest(b: Binding, node: tree.Unnest, scope: QueryScope) -> R.Relation:
    """UNNEST (clause 7.6): one column for each array, or one for each field of an array of rows."""
    with b.scoped(_inner_scope(b, scope, True)):
        arrays = tuple(expression(b, a) for a in node.arrays)
    columns: list[R.Output] = []
    widths = []
    for array in arrays:
        if array.type.kind != "array":
            b.fail("42804", f"UNNEST takes arrays, this is {array.type}", node)
        inner = array.type.parts[0]
        if inner.kind == "row":
            columns += [R.Output(n, t, True) for n, t in zip(inner.names, inner.parts, strict=True)]
            widths.append(len(inner.parts))
        else:
            columns.append(R.Output(f"column{len(columns) + 1}", inner, True))
            widths.append(-1)
    if node.ordinality:
        columns.append(R.Output("ordinality", T.INTEGER, False))
    alias = node.alias or f"unnest{b.sources}"
    number = _add_source(b, scope, alias, tuple(columns), node, node.columns)
    return R.UnnestRows(arrays, tuple(widths), node.ordinality, number)


def _changed_rows(b: Binding, node: tree.ChangedRows, scope: QueryScope) -> R.Relation:
    """FINAL, NEW or OLD TABLE (statement) (clause 7.6, feature T495)."""
    with b.scoped(scope.parent):
        statement = b.later.change_statement(b, node.statement)
    deletes = isinstance(statement, R.DeleteStmt)
    if (deletes and node.kind != "old") or (isinstance(statement, R.InsertStmt) and node.kind == "old"):
        what = "DELETE has no new rows" if deletes else "INSERT has no old rows"
        b.fail("42601", what, node, "OLD TABLE" if deletes else "FINAL TABLE")
    table: Table = statement.table  # type: ignore[attr-defined]
    number = _add_source(b, scope, node.alias or table.short, table_outputs(table), node, node.columns)
    return R.ChangedRows(statement, table, node.kind, number)


def _add_source(
    b: Binding,
    scope: QueryScope,
    alias: str,
    columns: tuple[R.Output, ...],
    node: tree.FromItem,
    names: tuple[str, ...],
    schema: str = "",
) -> int:
    if any(s.alias == alias and s.schema == schema for s in scope.sources):
        b.fail("42701", f"{alias} stands twice in FROM", node, "give one of them another name")
    number = b.new_source()
    columns = b.later.renamed(b, columns, names, node)
    found = [ColumnScope(c.name, c.type, c.nullable, i) for i, c in enumerate(columns)]
    scope.sources.append(SourceScope(number, alias, found, schema))
    return number


def _table_name(b: Binding, node: tree.TableName, scope: QueryScope) -> R.Relation:
    alias = node.alias or node.name[-1]
    if len(node.name) == 1:
        transition = b.transition_tables.get(node.name[0])
        if transition is not None:
            local, table = transition
            number = _add_source(b, scope, alias, table_outputs(table), node, node.columns)
            return R.TransitionRows(local, len(table.columns) + 1, number)
        for level in reversed(b.common):
            common = level.get(node.name[0])
            if common is not None:
                columns = b.common_columns[common]
                number = _add_source(b, scope, alias, columns, node, node.columns)
                return R.CommonRows(common, number, len(columns))
    system = _system_view(node.name)
    if system is not None:
        outputs = tuple(R.Output(n, t, True) for n, t in system.columns)
        schema = "" if node.alias else node.name[-2]
        return R.SystemRows(system, _add_source(b, scope, alias, outputs, node, node.columns, schema))
    if len(node.name) > 1 and node.name[-2] in SYSTEM_SCHEMAS:
        known = _system_names(node.name[-2])
        b.fail("42704", f"there is no view {'.'.join(node.name)}", node, nearest(node.name[-1], known))
    relation = b.relation(node.name, node)
    schema = "" if node.alias else schema_of(relation.name)
    if isinstance(relation, View):
        query = view_query(b, relation, node)
        number = _add_source(b, scope, alias, query.columns, node, node.columns, schema)
        return R.Derived(query, number, False, relation.name)
    b.does(2, node)
    number = _add_source(b, scope, alias, table_outputs(relation), node, node.columns, schema)
    return R.Scan(relation, number)


def view_query(b: Binding, view: View, node: tree.Node) -> R.Query:
    """The query of a view, bound in its own text and without the names around its use."""
    with elsewhere(b, view.source, view.schema):
        query = b.later.bind_query(b, view.bindable)
        return replace(query, columns=b.later.renamed(b, query.columns, view.columns, node))


def elsewhere(b: Binding, source: Source, schema: str) -> AbstractContextManager[None]:
    """Bind what was written in another text, without the names around the place of its use."""
    return b.having(scope=None, source=source, common=[], schema=schema, transition_tables={})


def _inner_scope(b: Binding, scope: QueryScope, lateral: bool) -> Scope | None:
    """What a query in FROM can refer to: the sources before it only when it is LATERAL."""
    return scope if lateral else scope.parent


def _derived(b: Binding, node: tree.DerivedTable, scope: QueryScope) -> R.Relation:
    with b.scoped(_inner_scope(b, scope, node.lateral)):
        query = b.later.bind_query(b, node.query)
    alias = node.alias or f"derived{b.sources}"
    number = _add_source(b, scope, alias, query.columns, node, node.columns)
    return R.Derived(query, number, node.lateral, node.alias)


def _table_call(b: Binding, node: tree.TableCall, scope: QueryScope) -> R.Relation:
    name = node.call.name[-1]
    key = b.key("routines", node.call.name, node.call)
    if key not in b.catalog.routines:
        known = [n for n, g in b.catalog.routines.items() if g[0].table]
        b.fail("42883", f"there is no table function {name}", node.call, nearest(name, known))
    with b.scoped(_inner_scope(b, scope, True)):
        routine, arguments = resolve(b, key, node.call.arguments, node.call, "function")
    if not routine.table:
        b.fail("42809", f"{name} is a {routine.kind_word}, not a table function", node.call)
    columns = tuple(R.Output(n, t, True) for n, t in routine.table)
    number = _add_source(b, scope, node.alias or name, columns, node, node.columns)
    return R.CallRows(routine, tuple(arguments), number)


def _join(b: Binding, node: tree.Join, scope: QueryScope) -> R.Relation:
    first = len(scope.sources)
    left = from_item(b, node.left, scope)
    middle = len(scope.sources)
    right = from_item(b, node.right, scope)
    lefts, rights = scope.sources[first:middle], scope.sources[middle:]
    condition: R.Expr | None = None
    if node.natural or node.using:
        condition = _merge(b, node, scope, lefts, rights)
        if node.alias:
            scope.merged_aliases[node.alias] = {n: scope.merged[n] for n in node.using}
    elif node.condition is not None:
        inside = QueryScope(scope.parent)
        inside.sources, inside.merged = scope.sources[first:], scope.merged if first == 0 else {}
        inside.merged_aliases = scope.merged_aliases
        with b.scoped(inside, "in ON"):
            condition = bind_condition(b, node.condition, "ON")
    if node.kind in ("left", "full"):
        _may_be_null(rights)
    if node.kind in ("right", "full"):
        _may_be_null(lefts)
    if node.kind == "right":
        return R.JoinRows("left", right, left, condition)
    return R.JoinRows("inner" if node.kind == "cross" else node.kind, left, right, condition)


def _merge(
    b: Binding, node: tree.Join, scope: QueryScope, lefts: list[SourceScope], rights: list[SourceScope]
) -> R.Expr | None:
    """USING and NATURAL: equal columns of the same name become one."""
    right_columns = {c.name: (s, c) for s in rights for c in s.columns if not c.hidden}
    left_names = [c.name for s in lefts for c in s.columns if not c.hidden]
    left_names += [n for n in scope.merged if n not in left_names]
    names = node.using or tuple(n for n in left_names if n in right_columns)
    tests = []
    for name in names:
        left = _merge_side(b, name, scope, lefts, node)
        if name not in right_columns:
            b.fail("42703", f"there is no column {name} on the right side", node, nearest(name, right_columns))
        source, column = right_columns[name]
        right = source.column(column)
        tests.append(compare(b, "=", left, right, node))
        column.hidden = True
        for s in lefts:
            for c in s.columns:
                c.hidden = c.hidden or c.name == name
        if node.kind == "full":
            both = unified(b, [replace(left, nullable=True), replace(right, nullable=True)], node, "USING")
            scope.merged[name] = R.Coalesce(both[0].type, True, tuple(both))
        else:
            scope.merged[name] = right if node.kind == "right" else left
    return conjunction(b, tests) if tests else None


def _merge_side(b: Binding, name: str, scope: QueryScope, lefts: list[SourceScope], node: tree.Join) -> R.Expr:
    if name in scope.merged:
        return scope.merged[name]
    found = [s.column(c) for s in lefts for c in s.columns if c.name == name and not c.hidden]
    if len(found) != 1:
        known = [c.name for s in lefts for c in s.columns]
        problem = f"{name} is ambiguous" if found else f"there is no column {name}"
        b.fail("42703", f"{problem} on the left side", node, nearest(name, known))
    return found[0]


def _may_be_null(sources: list[SourceScope]) -> None:
    """The outer side of an outer join."""
    for source in sources:
        for column in source.columns:
            column.nullable = True


def table_outputs(table: Table) -> tuple[R.Output, ...]:
    """The columns of a base table."""
    return tuple(R.Output(c.name, c.type, not c.not_null) for c in table.columns)


def natural_name(node: tree.Expression) -> str:
    """The name of a result column without AS: that of a column, variable, field or function (T285)."""
    if isinstance(node, tree.Reference):
        return node.parts[-1]
    if isinstance(node, tree.Field):
        return node.name
    if isinstance(node, tree.FunctionCall):
        return node.name[-1].partition("_")[0] if node.name[-1].startswith(("trim_", "extract_")) else node.name[-1]
    return natural_name(node.operand) if isinstance(node, tree.Cast) else ""


def _system_view(name: tree.Parts) -> SystemView | None:
    """A view of the information schema or of our own, whose module is read when one is named."""
    if len(name) < 2 or name[-2] not in SYSTEM_SCHEMAS:
        return None
    from glimb.engine.catalog.information_schema import VIEWS

    return VIEWS.get(name[-2:])


def _system_names(schema: str) -> list[str]:
    from glimb.engine.catalog.information_schema import VIEWS

    return [name for known, name in VIEWS if known == schema]
