"""Binding of queries: FROM, grouping, set operations, ORDER BY and limits (clause 7)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from glimb.engine import resolved as R
from glimb.engine.binding.common import common_tables
from glimb.engine.binding.comparisons import conjunction
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign, unified
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.grouping import bind_grouped, bind_grouping, no_grouping
from glimb.engine.binding.ordering import order_by, order_by_columns, over_result, with_result
from glimb.engine.binding.scope import GroupKeys, QueryScope, Scope, SourceScope
from glimb.engine.binding.sources import from_or_through, natural_name
from glimb.engine.binding.windows import merged_window
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite, walk
from glimb.lang.problem import nearest

MAX_VIEWS = 40


def bind_query(b: Binding, node: tree.Query, wanted: tuple[Type, ...] = ()) -> R.Query:
    """`wanted` are the types of the columns that VALUES or a select list of NULLs should take."""
    with _nested(b, node):
        with b.having(through_views=False):
            common = common_tables(b, node)
        return replace(_ordered(b, node, wanted), common=common)


@contextmanager
def _nested(b: Binding, node: tree.Query) -> Iterator[None]:
    """A query begins: it has common tables, set functions and windows of its own."""
    around = [*b.outer_aggregates, (b.scope, b.aggregates)] if isinstance(b.scope, QueryScope) else b.outer_aggregates
    b.catalog.watch()
    if b.depth >= MAX_VIEWS:
        b.fail("54001", "views or queries are nested too deep", node)
    with b.having(
        aggregates=None,
        windows_allowed=False,
        outer_aggregates=around,
        depth=b.depth + 1,
        common=[*b.common, {}],
    ):
        yield


def _ordered(b: Binding, node: tree.Query, wanted: tuple[Type, ...]) -> R.Query:
    """A body with its ORDER BY and limits."""
    node = over_result(node)
    if isinstance(node.body, tree.Select):
        body, columns, order, extra, lock = _select(b, node.body, node.order, node.lock)
    else:
        if node.lock is not None:
            b.fail("42601", "FOR UPDATE needs a query over tables", node.lock)
        body, columns = _plain_body(b, node.body, wanted)
        order, extra, lock = order_by_columns(b, node.order, columns), 0, ()
    if node.ties and not order:
        b.fail("42601", "WITH TIES needs ORDER BY", node)
    offset = _limit(b, node.offset, "OFFSET")
    fetch = _limit(b, node.fetch, "FETCH FIRST", node.percent)
    how: tuple[str, bool, float | None] = ("X", False, None)
    if node.lock is not None:
        how = ("X" if node.lock.mode == "update" else "S", node.lock.skip, node.lock.wait)
    return R.Query(body, columns, (), order, extra, offset, fetch, node.ties, lock, node.percent, how, span=node.span)


def _limit(b: Binding, node: tree.Expression | None, what: str, percent: bool = False) -> R.Expr | None:
    if node is None:
        return None
    with b.clause(f"in {what}"):
        bound = expression(b, node)
    if bound.type.family not in ("exact", "null"):
        b.fail("42804", f"{what} needs a number of rows, this is {bound.type}", node)
    if any(isinstance(n, R.Column) for n in walk(bound)):
        b.fail("42601", f"{what} cannot refer to columns", node)
    return assign(b, bound, T.decimal(18, 6) if percent else T.BIGINT, node, what)


def renamed(b: Binding, columns: tuple[R.Output, ...], names: tuple[str, ...], node: tree.Node) -> tuple[R.Output, ...]:
    """The same columns under other names, where any are given; 42601 when there are not as many."""
    if not names:
        return columns
    if len(names) != len(columns):
        b.fail("42601", f"{len(names)} names for {len(columns)} columns", node)
    if len(set(names)) < len(names):
        twice = next(name for name in names if names.count(name) > 1)
        b.fail("42701", f"two columns are called {twice}", node, "give each a name of its own")
    return tuple(replace(c, name=n) for c, n in zip(columns, names, strict=True))


# -- bodies other than SELECT


def _plain_body(b: Binding, node: tree.QueryBody, wanted: tuple[Type, ...]) -> tuple[R.Body, tuple[R.Output, ...]]:
    if isinstance(node, tree.Values):
        return _values(b, node, wanted)
    if isinstance(node, tree.SetOperation):
        return _set_operation(b, node, wanted)
    assert isinstance(node, tree.Nested)
    inner = bind_query(b, node.query, wanted)
    return bind_over(b, inner), inner.columns


def bind_over(b: Binding, inner: R.Query) -> R.Select:
    """SELECT * over a query that has an order or limits of its own."""
    number = b.new_source()
    items = tuple(R.Column(c.type, c.nullable, number, i, c.name) for i, c in enumerate(inner.columns))
    relation = R.Derived(inner, number, False)
    return R.Select(relation, None, items, False, (), (), 0, None, False)


def _values(b: Binding, node: tree.Values, wanted: tuple[Type, ...]) -> tuple[R.Body, tuple[R.Output, ...]]:
    rows: list[list[R.Expr]] = []
    for given in node.rows:
        if len(given) != len(node.rows[0]):
            b.fail("42601", f"this row has {len(given)} values, the first has {len(node.rows[0])}", given[0])
        with b.clause("in VALUES"):
            rows.append([expression(b, value) for value in given])
    width = len(rows[0])
    columns = []
    for at in range(width):
        values = unified(b, [row[at] for row in rows], node.rows[0][at], "VALUES")
        for row, value in zip(rows, values, strict=True):
            row[at] = value
        type_ = values[0].type
        if type_.kind == "null" and at < len(wanted):
            type_ = wanted[at]
        columns.append(R.Output(f"column{at + 1}", type_, any(v.nullable for v in values)))
    return R.Rows(tuple(tuple(row) for row in rows)), tuple(columns)


def _set_operation(
    b: Binding, node: tree.SetOperation, wanted: tuple[Type, ...]
) -> tuple[R.Body, tuple[R.Output, ...]]:
    left = bind_query(b, tree.Query(node.left, span=node.left.span), wanted)
    right = bind_query(b, tree.Query(node.right, span=node.right.span), wanted)
    if node.corresponding:
        left, right = _corresponding(b, left, right, node)
    if len(left.columns) != len(right.columns):
        widths = f"{len(left.columns)} and {len(right.columns)}"
        b.fail("42601", f"{node.kind.upper()} joins queries of {widths} columns", node)
    columns = []
    for a, second in zip(left.columns, right.columns, strict=True):
        type_ = T.common(a.type, second.type)
        if type_ is None:
            b.fail("42804", f"{node.kind.upper()} mixes {a.type} and {second.type} in column {a.name}", node)
        columns.append(R.Output(a.name, type_, a.nullable or second.nullable))
    types = tuple(c.type for c in columns)
    left, right = converted_columns(b, left, types, node), converted_columns(b, right, types, node)
    return R.SetQuery(node.kind, node.all, left, right), tuple(columns)


def _corresponding(b: Binding, left: R.Query, right: R.Query, node: tree.SetOperation) -> tuple[R.Query, R.Query]:
    """CORRESPONDING (clause 7.17): the columns of both sides that have one name, in the order of the left side."""
    names = [c.name for c in left.columns if any(c.name == o.name for o in right.columns)]
    for name in node.by:
        if name not in names:
            b.fail("42703", f"{name} is not a column of both sides", node, nearest(name, names))
    names = list(node.by) or names
    if not names:
        b.fail("42601", "the two sides have no column of one name", node)
    return _picked(b, left, names, node), _picked(b, right, names, node)


def _picked(b: Binding, query: R.Query, names: list[str], node: tree.Node) -> R.Query:
    """The columns of these names only."""
    over = bind_over(b, query)
    places = []
    for name in names:
        found = [n for n, c in enumerate(query.columns) if c.name == name]
        if len(found) > 1:
            b.fail("42702", f"{name} is ambiguous: several columns have this name", node)
        places += found
    columns = tuple(query.columns[p] for p in places)
    items = tuple(over.items[p] for p in places)
    return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())


def converted_columns(b: Binding, query: R.Query, types: tuple[Type, ...], node: tree.Node) -> R.Query:
    """The same query with columns in the representation of these types."""
    if all(_same_representation(c.type, t) for c, t in zip(query.columns, types, strict=True)):
        return query
    over = bind_over(b, query)
    items = tuple(assign(b, i, t, node, "the column") for i, t in zip(over.items, types, strict=True))
    columns = tuple(replace(c, type=t) for c, t in zip(query.columns, types, strict=True))
    return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())


def _same_representation(source: Type, target: Type) -> bool:
    if source == target or source.kind == "null":
        return True
    if source.family == target.family == "exact":
        return (source.scale if source.kind == "decimal" else 0) == (target.scale if target.kind == "decimal" else 0)
    return source.family == target.family and "char" not in (target.kind,)


# -- SELECT


def _select(
    b: Binding, node: tree.Select, keys: tuple[tree.SortKey, ...], lock: tree.RowLock | None
) -> tuple[R.Body, tuple[R.Output, ...], tuple[tuple[int, bool, bool], ...], int, tuple[int, ...]]:
    scope = QueryScope(b.scope, b.new_source())
    with b.having(scope=scope, named_windows={}, groups=list(b.groups)):
        for window in node.windows:
            if window.name in b.named_windows:
                b.fail("42701", f"window {window.name} is defined twice", window)
            b.named_windows[window.name] = merged_window(b, window.window)
        relation, conditions = from_or_through(b, node, scope, lock)
        with b.clause("in WHERE"):
            if node.where is not None:
                conditions = [*conditions, bind_condition(b, node.where, "WHERE")]
            where = conjunction(b, conditions) if conditions else None
        with b.clause("in GROUP BY"):
            group, sets = bind_grouping(b, node, scope)
        aggregates: list[R.Aggregate] = []
        with b.having(why_no_aggregate="", aggregates=aggregates, windows_allowed=True):
            items, names = _items(b, node.items, scope)
            with b.having(windows_allowed=False):
                having = bind_condition(b, node.having, "HAVING") if node.having is not None else None
            if having is not None or node.distinct:
                _no_next_value(b, (having, *(items if node.distinct else ())), node)
            columns = tuple(R.Output(n, i.type, i.nullable) for i, n in zip(items, names, strict=True))
            order, widened = order_by(b, with_result(keys, node.items, scope), columns, items, node.distinct)
            _no_next_value(b, tuple(widened[len(items) :]), node)
        grouped = group is not None or bool(aggregates) or having is not None
        grouped_by = tuple(group.keys) if group is not None else ()
        found = tuple(aggregates)
        select = R.Select(
            relation, where, tuple(widened), grouped, grouped_by, found, 0, having, node.distinct, sets=sets
        )
        if grouped:
            select = bind_grouped(b, select, node, scope, group or GroupKeys(b.new_source(), [], []))
        else:
            no_grouping(b, widened, scope)
            columns = tuple(replace(c, nullable=i.nullable) for c, i in zip(columns, select.items, strict=False))
        select = _with_windows(b, select, scope)
        locked = _locked(b, lock, scope, select) if lock is not None else ()
        return select, columns, order, len(widened) - len(items), locked


def _no_next_value(b: Binding, parts: tuple[R.Expr | None, ...], node: tree.Node) -> None:
    if any(isinstance(n, R.NextValue) for n in walk(tuple(p for p in parts if p is not None))):
        b.fail("42601", "NEXT VALUE cannot stand in HAVING, ORDER BY or SELECT DISTINCT", node)


def _with_windows(b: Binding, select: R.Select, scope: QueryScope) -> R.Select:
    """Replace window functions by columns of a row source of their own."""
    calls = (n for n in walk(select.items) if isinstance(n, R.WindowCall) and n.owner == scope.number)
    found = tuple(dict.fromkeys(calls))
    if not found:
        return select
    number = b.new_source()

    def change(part: Node) -> Node | None:
        if isinstance(part, R.WindowCall) and part.owner == scope.number:
            return R.Column(part.type, part.nullable, number, found.index(part), "")
        return None

    return replace(select, items=rewrite(select.items, change), windows=found, window_source=number)


def _items(b: Binding, nodes: tuple[tree.SelectItem, ...], scope: QueryScope) -> tuple[list[R.Expr], list[str]]:
    items: list[R.Expr] = []
    names: list[str] = []
    for item in nodes:
        if isinstance(item.value, tree.Star):
            columns = _expanded(b, item.value, scope)
            if b.stars is not None:
                b.stars[id(item)] = _written_out(item.value, [name for name, _ in columns], scope)
            for name, value in columns:
                items.append(value)
                names.append(name)
            continue
        value = expression(b, item.value)
        items.append(value)
        names.append(item.alias or natural_name(item.value) or f"column{len(items)}")
    return items, names


def _expanded(b: Binding, node: tree.Star, scope: QueryScope) -> list[tuple[str, R.Expr]]:
    """The columns that `*` or `q.*` stands for; merged ones come first."""
    if not scope.sources:
        b.fail("42601", "* needs a FROM clause", node)
    if node.qualifier:
        known: list[str] = []
        source: SourceScope | None = None
        at: Scope | None = scope
        while source is None and at is not None:
            if isinstance(at, QueryScope):
                if node.qualifier[-1] in at.merged_aliases:
                    return list(at.merged_aliases[node.qualifier[-1]].items())
                known += [s.alias for s in at.sources]
                named = [s for s in at.sources if s.is_named(node.qualifier)]
                if len(named) > 1:
                    b.fail("42702", f"{node.qualifier[-1]} is ambiguous: name the schema too", node)
                source = next(iter(named), None)
            at = at.parent
        if source is None:
            b.fail("42704", f"there is no table {node.qualifier[-1]} in FROM", node, nearest(node.qualifier[-1], known))
        return [(c.name, source.column(c)) for c in source.columns]
    found = list(scope.merged.items())
    return found + [(c.name, s.column(c)) for s in scope.sources for c in s.columns if not c.hidden]


def _written_out(node: tree.Star, names: list[str], scope: QueryScope) -> tuple[tree.SelectItem, ...]:
    """The columns of a star one by one, with the names of their tables where they need them."""
    tables = [""] * len(scope.merged) + [s.alias for s in scope.sources for c in s.columns if not c.hidden]
    found = []
    for at, name in enumerate(names):
        qualifier: tree.Parts = node.qualifier
        if not qualifier and names.count(name) > 1:
            qualifier = (tables[at],)
        found.append(tree.SelectItem(tree.Reference((*qualifier, name), span=node.span), span=node.span))
    return tuple(found)


def _locked(b: Binding, lock: tree.RowLock, scope: QueryScope, select: R.Select) -> tuple[int, ...]:
    """The base tables whose rows FOR UPDATE locks."""
    if lock.mode == "read only":
        return ()
    if select.grouped or select.distinct or select.windows:
        b.fail("42601", "FOR UPDATE needs rows of tables, not groups", lock)
    scans = {n.source for n in walk(select.relation) if isinstance(n, R.Scan)} if select.relation else set()
    chosen = [s for s in scope.sources if s.number in scans and (not lock.tables or s.alias in lock.tables)]
    unknown = set(lock.tables) - {s.alias for s in scope.sources}
    if unknown or not chosen:
        b.fail("42704", f"FOR UPDATE finds no table {', '.join(sorted(unknown))}".rstrip(), lock)
    b.effects.writes = True
    return tuple(s.number for s in chosen)
