"""Binding of queries: FROM, grouping, set operations, ORDER BY and limits (clause 7)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from glimb.engine import resolved as R
from glimb.engine.binding.common import CommonBinder
from glimb.engine.binding.dependencies import determined
from glimb.engine.binding.scope import ChangeTarget, ColumnScope, GroupKeys, QueryScope, Scope, SourceScope
from glimb.engine.catalog.information_schema import VIEWS
from glimb.engine.catalog.objects import SYSTEM_SCHEMAS, View, schema_of
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite, walk
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source

MAX_VIEWS = 40


class QueryBinder(CommonBinder):
    """Binds query expressions."""

    def query(self, node: tree.Query, wanted: tuple[Type, ...] = ()) -> R.Query:
        """`wanted` are the types of the columns that VALUES or a select list of NULLs should take."""
        through, self.through_views = self.through_views, False
        with self._nested(node):
            common = self.common_tables(node)
            self.through_views = through
            return replace(self._ordered(node, wanted), common=common)

    @contextmanager
    def _nested(self, node: tree.Query) -> Iterator[None]:
        """A query begins: it has common tables, set functions and windows of its own."""
        aggregates, self.aggregates = self.aggregates, None
        windows_allowed, self.windows_allowed = self.windows_allowed, False
        outer = len(self.outer_aggregates)
        if isinstance(self.scope, QueryScope):
            self.outer_aggregates.append((self.scope, aggregates))
        self.watch()
        self.depth += 1
        self.common.append({})
        try:
            if self.depth > MAX_VIEWS:
                self.fail("54001", "views or queries are nested too deep", node)
            yield
        finally:
            self.common.pop()
            self.depth -= 1
            del self.outer_aggregates[outer:]
            self.aggregates, self.windows_allowed = aggregates, windows_allowed

    def _ordered(self, node: tree.Query, wanted: tuple[Type, ...]) -> R.Query:
        """A body with its ORDER BY and limits."""
        if isinstance(node.body, tree.Select):
            body, columns, order, extra, lock = self._select(node.body, node.order, node.lock)
        else:
            if node.lock is not None:
                self.fail("42601", "FOR UPDATE needs a query over tables", node.lock)
            body, columns = self._plain_body(node.body, wanted)
            order, extra, lock = self._order_by_columns(node.order, columns), 0, ()
        if node.ties and not order:
            self.fail("42601", "WITH TIES needs ORDER BY", node)
        offset = self._limit(node.offset, "OFFSET")
        fetch = self._limit(node.fetch, "FETCH FIRST", node.percent)
        how: tuple[str, bool, float | None] = ("X", False, None)
        if node.lock is not None:
            how = ("X" if node.lock.mode == "update" else "S", node.lock.skip, node.lock.wait)
        return R.Query(
            body, columns, (), order, extra, offset, fetch, node.ties, lock, node.percent, how, span=node.span
        )

    def _limit(self, node: tree.Expression | None, what: str, percent: bool = False) -> R.Expr | None:
        if node is None:
            return None
        self.why_no_aggregate = f"in {what}"
        bound = self.expression(node)
        if bound.type.family not in ("exact", "null"):
            self.fail("42804", f"{what} needs a number of rows, this is {bound.type}", node)
        if any(isinstance(n, R.Column) for n in walk(bound)):
            self.fail("42601", f"{what} cannot refer to columns", node)
        return self.assign(bound, T.decimal(18, 6) if percent else T.BIGINT, node, what)

    def renamed(self, columns: tuple[R.Output, ...], names: tuple[str, ...], node: tree.Node) -> tuple[R.Output, ...]:
        if not names:
            return columns
        if len(names) != len(columns):
            self.fail("42601", f"{len(names)} names for {len(columns)} columns", node)
        return tuple(replace(c, name=n) for c, n in zip(columns, names, strict=True))

    # -- bodies other than SELECT

    def _plain_body(self, node: tree.QueryBody, wanted: tuple[Type, ...]) -> tuple[R.Body, tuple[R.Output, ...]]:
        if isinstance(node, tree.Values):
            return self._values(node, wanted)
        if isinstance(node, tree.SetOperation):
            return self._set_operation(node, wanted)
        assert isinstance(node, tree.Nested)
        inner = self.query(node.query, wanted)
        return self.over(inner), inner.columns

    def over(self, inner: R.Query) -> R.Select:
        """SELECT * over a query that has an order or limits of its own."""
        number = self.new_source()
        items = tuple(R.Column(c.type, c.nullable, number, i, c.name) for i, c in enumerate(inner.columns))
        relation = R.Derived(inner, number, False)
        return R.Select(relation, None, items, False, (), (), 0, None, False)

    def _values(self, node: tree.Values, wanted: tuple[Type, ...]) -> tuple[R.Body, tuple[R.Output, ...]]:
        rows: list[list[R.Expr]] = []
        self.why_no_aggregate = "in VALUES"
        for given in node.rows:
            if len(given) != len(node.rows[0]):
                self.fail("42601", f"this row has {len(given)} values, the first has {len(node.rows[0])}", given[0])
            rows.append([self.expression(value) for value in given])
        width = len(rows[0])
        columns = []
        for at in range(width):
            values = self.unified([row[at] for row in rows], node.rows[0][at], "VALUES")
            for row, value in zip(rows, values, strict=True):
                row[at] = value
            type_ = values[0].type
            if type_.kind == "null" and at < len(wanted):
                type_ = wanted[at]
            columns.append(R.Output(f"column{at + 1}", type_, any(v.nullable for v in values)))
        return R.Rows(tuple(tuple(row) for row in rows)), tuple(columns)

    def _set_operation(self, node: tree.SetOperation, wanted: tuple[Type, ...]) -> tuple[R.Body, tuple[R.Output, ...]]:
        left = self.query(tree.Query(node.left, span=node.left.span), wanted)
        right = self.query(tree.Query(node.right, span=node.right.span), wanted)
        if node.corresponding:
            left, right = self._corresponding(left, right, node)
        if len(left.columns) != len(right.columns):
            widths = f"{len(left.columns)} and {len(right.columns)}"
            self.fail("42601", f"{node.kind.upper()} joins queries of {widths} columns", node)
        columns = []
        for a, b in zip(left.columns, right.columns, strict=True):
            type_ = T.common(a.type, b.type)
            if type_ is None:
                self.fail("42804", f"{node.kind.upper()} mixes {a.type} and {b.type} in column {a.name}", node)
            columns.append(R.Output(a.name, type_, a.nullable or b.nullable))
        types = tuple(c.type for c in columns)
        left, right = self.converted_columns(left, types, node), self.converted_columns(right, types, node)
        return R.SetQuery(node.kind, node.all, left, right), tuple(columns)

    def _corresponding(self, left: R.Query, right: R.Query, node: tree.SetOperation) -> tuple[R.Query, R.Query]:
        """CORRESPONDING (clause 7.17): the columns of both sides that have one name, in the order of the left side."""
        names = [c.name for c in left.columns if any(c.name == o.name for o in right.columns)]
        for name in node.by:
            if name not in names:
                self.fail("42703", f"{name} is not a column of both sides", node, nearest(name, names))
        names = list(node.by) or names
        if not names:
            self.fail("42601", "the two sides have no column of one name", node)
        return self._picked(left, names, node), self._picked(right, names, node)

    def _picked(self, query: R.Query, names: list[str], node: tree.Node) -> R.Query:
        """The columns of these names only."""
        over = self.over(query)
        places = []
        for name in names:
            found = [n for n, c in enumerate(query.columns) if c.name == name]
            if len(found) > 1:
                self.fail("42702", f"{name} is ambiguous: several columns have this name", node)
            places += found
        columns = tuple(query.columns[p] for p in places)
        items = tuple(over.items[p] for p in places)
        return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())

    def converted_columns(self, query: R.Query, types: tuple[Type, ...], node: tree.Node) -> R.Query:
        """The same query with columns in the representation of these types."""
        if all(self._same_representation(c.type, t) for c, t in zip(query.columns, types, strict=True)):
            return query
        over = self.over(query)
        items = tuple(self.assign(i, t, node, "the column") for i, t in zip(over.items, types, strict=True))
        columns = tuple(replace(c, type=t) for c, t in zip(query.columns, types, strict=True))
        return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())

    @staticmethod
    def _same_representation(source: Type, target: Type) -> bool:
        if source == target or source.kind == "null":
            return True
        if source.family == target.family == "exact":
            return (source.scale if source.kind == "decimal" else 0) == (
                target.scale if target.kind == "decimal" else 0
            )
        return source.family == target.family and "char" not in (target.kind,)

    def _order_by_columns(
        self, keys: tuple[tree.SortKey, ...], columns: tuple[R.Output, ...]
    ) -> tuple[tuple[int, bool, bool], ...]:
        """ORDER BY of a set operation or VALUES: by the names or numbers of its columns."""
        order = []
        for key in keys:
            position = self._output_position(key.value, columns)
            if position is None:
                self.fail("42703", "here ORDER BY takes columns of the result", key, ", ".join(c.name for c in columns))
            self.sort_value(R.Const(columns[position].type, True, None), key)
            order.append(self._sort(key, position))
        return tuple(order)

    def _sort(self, key: tree.SortKey, position: int) -> tuple[int, bool, bool]:
        """NULL sorts as if it were higher than every value, unless NULLS FIRST or LAST says otherwise."""
        nulls_first = key.nulls == "first" if key.nulls else key.descending
        return position, key.descending, nulls_first

    def _output_position(self, node: tree.Expression, columns: tuple[R.Output, ...]) -> int | None:
        """Which column of the result a sort key names, by name or number."""
        if isinstance(node, tree.Literal) and node.kind == "integer":
            position = int(node.value) - 1 if len(node.value) < 9 else -1
            if not 0 <= position < len(columns):
                self.fail("42703", f"the result has columns 1 to {len(columns)}", node)
            return position
        if isinstance(node, tree.Reference) and len(node.parts) == 1:
            found = [i for i, c in enumerate(columns) if c.name == node.parts[0]]
            if len(found) > 1:
                self.fail("42702", f"{node.parts[0]} is ambiguous: several columns have this name", node)
            return found[0] if found else None
        return None

    # -- SELECT

    def _select(
        self, node: tree.Select, keys: tuple[tree.SortKey, ...], lock: tree.RowLock | None
    ) -> tuple[R.Body, tuple[R.Output, ...], tuple[tuple[int, bool, bool], ...], int, tuple[int, ...]]:
        outer = self.scope
        scope = self.scope = QueryScope(outer, self.new_source())
        named, self.named_windows = self.named_windows, {}
        groups = len(self.groups)
        try:
            for window in node.windows:
                if window.name in self.named_windows:
                    self.fail("42701", f"window {window.name} is defined twice", window)
                self.named_windows[window.name] = self.merged_window(window.window)
            relation, conditions = self._from_or_through(node, scope, lock)
            self.why_no_aggregate = "in WHERE"
            if node.where is not None:
                conditions = [*conditions, self.condition(node.where, "WHERE")]
            where = self.conjunction(conditions) if conditions else None
            self.why_no_aggregate = "in GROUP BY"
            group, sets = self._grouping(node, scope)
            self.why_no_aggregate = ""
            self.aggregates = []
            self.windows_allowed = True
            items, names = self._items(node.items, scope)
            self.windows_allowed = False
            having = self.condition(node.having, "HAVING") if node.having is not None else None
            if having is not None or node.distinct:
                self._no_next_value((having, *(items if node.distinct else ())), node)
            self.windows_allowed = True
            columns = tuple(R.Output(n, i.type, i.nullable) for i, n in zip(items, names, strict=True))
            order, widened = self._order_by(keys, columns, items, node.distinct)
            self._no_next_value(tuple(widened[len(items) :]), node)
            self.windows_allowed = False
            aggregates, self.aggregates = tuple(self.aggregates), None
            grouped = group is not None or bool(aggregates) or having is not None
            grouped_by = tuple(group.keys) if group is not None else ()
            select = R.Select(
                relation, where, tuple(widened), grouped, grouped_by, aggregates, 0, having, node.distinct, sets=sets
            )
            if grouped:
                select = self._grouped(select, node, scope, group or GroupKeys(self.new_source(), [], []))
            else:
                self._no_grouping(widened)
                columns = tuple(replace(c, nullable=i.nullable) for c, i in zip(columns, select.items, strict=False))
            select = self._with_windows(select, scope)
            locked = self._locked(lock, scope, select) if lock is not None else ()
            return select, columns, order, len(widened) - len(items), locked
        finally:
            self.scope = outer
            self.aggregates = None
            self.windows_allowed = False
            self.named_windows = named
            del self.groups[groups:]

    def _no_next_value(self, parts: tuple[R.Expr | None, ...], node: tree.Node) -> None:
        if any(isinstance(n, R.NextValue) for n in walk(tuple(p for p in parts if p is not None))):
            self.fail("42601", "NEXT VALUE cannot stand in HAVING, ORDER BY or SELECT DISTINCT", node)

    def _no_grouping(self, items: list[R.Expr]) -> None:
        """GROUPING where nothing is grouped."""
        for call in walk(tuple(items)):
            if isinstance(call, R.GroupingCall):
                self.fail("42803", "GROUPING takes columns of GROUP BY", call)

    def _with_windows(self, select: R.Select, scope: QueryScope) -> R.Select:
        """Replace window functions by columns of a row source of their own."""
        calls = (n for n in walk(select.items) if isinstance(n, R.WindowCall) and n.owner == scope.number)
        found = tuple(dict.fromkeys(calls))
        if not found:
            return select
        number = self.new_source()

        def change(part: Node) -> Node | None:
            if isinstance(part, R.WindowCall) and part.owner == scope.number:
                return R.Column(part.type, part.nullable, number, found.index(part), "")
            return None

        return replace(select, items=rewrite(select.items, change), windows=found, window_source=number)

    def _items(self, nodes: tuple[tree.SelectItem, ...], scope: QueryScope) -> tuple[list[R.Expr], list[str]]:
        items: list[R.Expr] = []
        names: list[str] = []
        for item in nodes:
            if isinstance(item.value, tree.Star):
                for name, value in self._expanded(item.value, scope):
                    items.append(value)
                    names.append(name)
                continue
            value = self.expression(item.value)
            items.append(value)
            names.append(item.alias or natural_name(item.value) or f"column{len(items)}")
        return items, names

    def _expanded(self, node: tree.Star, scope: QueryScope) -> list[tuple[str, R.Expr]]:
        """The columns that `*` or `q.*` stands for; merged ones come first."""
        if not scope.sources:
            self.fail("42601", "* needs a FROM clause", node)
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
                        self.fail("42702", f"{node.qualifier[-1]} is ambiguous: name the schema too", node)
                    source = next(iter(named), None)
                at = at.parent
            if source is None:
                self.fail(
                    "42704", f"there is no table {node.qualifier[-1]} in FROM", node, nearest(node.qualifier[-1], known)
                )
            return [(c.name, source.column(c)) for c in source.columns]
        found = list(scope.merged.items())
        return found + [(c.name, s.column(c)) for s in scope.sources for c in s.columns if not c.hidden]

    def _order_by(
        self, keys: tuple[tree.SortKey, ...], columns: tuple[R.Output, ...], items: list[R.Expr], distinct: bool
    ) -> tuple[tuple[tuple[int, bool, bool], ...], list[R.Expr]]:
        """Sort keys as positions in the select list, which grows by what is not yet in it."""
        order = []
        widened = list(items)
        for key in keys:
            position = self._output_position(key.value, columns)
            if position is None:
                value = self.expression(key.value)
                if value in widened:
                    position = widened.index(value)
                else:
                    if distinct:
                        self.fail("42601", "with DISTINCT, ORDER BY takes columns of the result", key)
                    position = len(widened)
                    widened.append(value)
            self.sort_value(widened[position], key)
            order.append(self._sort(key, position))
        return tuple(order), widened

    def _locked(self, lock: tree.RowLock, scope: QueryScope, select: R.Select) -> tuple[int, ...]:
        """The base tables whose rows FOR UPDATE locks."""
        if lock.mode == "read only":
            return ()
        if select.grouped or select.distinct or select.windows:
            self.fail("42601", "FOR UPDATE needs rows of tables, not groups", lock)
        scans = {n.source for n in walk(select.relation) if isinstance(n, R.Scan)} if select.relation else set()
        chosen = [s for s in scope.sources if s.number in scans and (not lock.tables or s.alias in lock.tables)]
        unknown = set(lock.tables) - {s.alias for s in scope.sources}
        if unknown or not chosen:
            self.fail("42704", f"FOR UPDATE finds no table {', '.join(sorted(unknown))}".rstrip(), lock)
        self.writes = True
        return tuple(s.number for s in chosen)

    # -- grouping

    def _grouping(self, node: tree.Select, scope: QueryScope) -> tuple[GroupKeys | None, tuple[tuple[int, ...], ...]]:
        """The keys of GROUP BY, and its grouping sets as positions of keys (clause 7.13); no sets when there is but
        the one of all keys. From here on what is bound is over the groups."""
        if node.group is None:
            return None, ()
        bound, sets = self._keys_and_sets(node)
        missing = {n for n in range(len(bound)) if any(n not in s for s in sets)} if sets else set()
        if missing:
            places = {(k.source, k.index) for n, k in enumerate(bound) if n in missing and isinstance(k, R.Column)}
            for source in scope.sources:
                for column in source.columns:
                    column.nullable = column.nullable or (source.number, column.index) in places
            bound, sets = self._keys_and_sets(node)
        keys = [replace(k, nullable=True) if n in missing else k for n, k in enumerate(bound)]
        if sets:
            keys.append(R.SetNumber(T.INTEGER, False))
        group = GroupKeys(self.new_source(), bound, keys)
        self.groups.append(group)
        return group, sets

    def _keys_and_sets(self, node: tree.Select) -> tuple[list[R.Expr], tuple[tuple[int, ...], ...]]:
        keys: list[R.Expr] = []
        sets: list[tuple[int, ...]] = [()]
        assert node.group is not None
        for element in node.group:
            sets = [tuple(dict.fromkeys(a + b)) for a in sets for b in self._grouping_sets(element, keys)]
            if len(sets) > 512:
                self.fail("54001", "more than 512 grouping sets", element)
        if node.distinct_groups:
            sets = list({frozenset(s): s for s in sets}.values())
        if len(sets) == 1 and len(sets[0]) == len(keys):
            return keys, ()
        return keys, tuple(sets)

    def _grouping_sets(self, node: tree.Expression, keys: list[R.Expr]) -> list[tuple[int, ...]]:
        """The sets that one element of GROUP BY stands for; its keys are put into `keys`."""
        if not isinstance(node, tree.Grouping):
            parts = node.items if isinstance(node, tree.RowValue) else (node,)
            return [tuple(self._grouping_key(p, keys) for p in parts)]
        inner = [self._grouping_sets(item, keys) for item in node.items]
        if node.kind == "sets":
            return [s for sets in inner for s in sets]
        parts_ = [sets[0] for sets in inner]
        if node.kind == "rollup":
            return [sum(parts_[:n], ()) for n in range(len(parts_), -1, -1)]
        if len(parts_) > 9:
            self.fail("54001", "CUBE of more than 9 columns", node)
        chosen = [[p for n, p in enumerate(parts_) if not mask >> n & 1] for mask in range(1 << len(parts_))]
        return [sum(c, ()) for c in chosen]

    def _grouping_key(self, node: tree.Expression, keys: list[R.Expr]) -> int:
        bound = self.expression(node)
        if isinstance(bound, R.Const):
            self.fail("42803", "a constant is no column to group by", node, "name the column")
        if bound not in keys:
            keys.append(bound)
        return keys.index(bound)

    def _grouped(self, select: R.Select, node: tree.Select, scope: QueryScope, group: GroupKeys) -> R.Select:
        """Replace group keys and set functions by columns of the grouped rows; everything else must be one of them.
        A column that depends on grouped ones goes along (T301)."""
        number, keys = group.number, group.keys
        aggregates = list(select.aggregates)
        own = {s.number for s in scope.sources}
        dependent = determined(select, keys) if not select.sets else set()

        def change(part: Node) -> Node | None:
            at = group.place(part) if isinstance(part, R.Expr) else -1
            if isinstance(part, R.Expr) and at >= 0:
                return R.Column(part.type, keys[at].nullable, number, at, "")
            if isinstance(part, R.GroupingCall):
                return self._grouping_value(part, group, select.sets)
            if isinstance(part, R.Aggregate) and part in aggregates:
                return R.Column(part.type, part.nullable, number, len(keys) + aggregates.index(part), "")
            if isinstance(part, R.Column) and part.source in own:
                if (part.source, part.index) not in dependent:
                    raise _NotGrouped(part)
                any_value = R.Aggregate(part.type, part.nullable, "any_value", part, False, None, owner=scope.number)
                if any_value not in aggregates:
                    aggregates.append(any_value)
                return R.Column(part.type, part.nullable, number, len(keys) + aggregates.index(any_value), "")
            return None

        try:
            items = rewrite(select.items, change)
            having = rewrite(select.having, change) if select.having is not None else None
        except _NotGrouped as problem:
            name = problem.column.name
            at = next(
                (r for r in walk((node.items, node.having)) if isinstance(r, tree.Reference) and r.parts[-1] == name),
                node,
            )
            what = "is not in GROUP BY" if node.group is not None else "stands beside a set function, without GROUP BY"
            self.fail("42803", f"{name} {what}", at, f"group by {name}, or use a set function of it")
        return replace(select, items=items, having=having, aggregates=tuple(aggregates), group_source=number)

    def _grouping_value(self, call: R.GroupingCall, group: GroupKeys, sets: tuple[tuple[int, ...], ...]) -> R.Expr:
        """GROUPING(a, b): for each argument 1 where it is not grouped, read as binary digits; looked up by set."""
        places = [group.place(a) for a in call.arguments]
        if min(places) < 0:
            raise ProblemError(Problem("42803", "GROUPING takes columns of GROUP BY", call.span, "", self.source))
        values = [sum((p not in s) << n for n, p in enumerate(reversed(places))) for s in sets] or [0]
        which = (
            R.Column(T.INTEGER, False, group.number, len(group.keys) - 1, "") if sets else R.Const(T.INTEGER, False, 0)
        )
        return R.Strict(T.INTEGER, False, f"({', '.join(map(str, values))},)[{{0}}]", (which,))

    # -- FROM

    def _from(self, sources: tuple[tree.FromItem, ...], scope: QueryScope) -> R.Relation | None:
        relation: R.Relation | None = None
        for item in sources:
            bound = self._from_item(item, scope)
            relation = bound if relation is None else R.JoinRows("inner", relation, bound, None)
        return relation

    def _from_or_through(
        self, node: tree.Select, scope: QueryScope, lock: tree.RowLock | None
    ) -> tuple[R.Relation | None, list[R.Expr]]:
        """FROM. A query whose rows are to be locked or changed sees through a view: its rows are rows of the table."""
        through, self.through_views = self.through_views or lock is not None, False
        only = node.sources[0] if through and len(node.sources) == 1 else None
        target = self.seen_through(only) if isinstance(only, tree.TableName) else None
        if target is None:
            return self._from(node.sources, scope), []
        self.does(2, node)
        scope.sources += target.scope.sources
        return R.Scan(target.table, target.number), list(target.conditions)

    def seen_through(self, node: tree.TableName) -> ChangeTarget | None:
        """The table behind a view whose rows are rows of it."""
        raise NotImplementedError

    def _from_item(self, node: tree.FromItem, scope: QueryScope) -> R.Relation:
        if isinstance(node, tree.TableName):
            return self._table_name(node, scope)
        if isinstance(node, tree.DerivedTable):
            return self._derived(node, scope)
        if isinstance(node, tree.TableCall):
            return self._table_call(node, scope)
        if isinstance(node, tree.Unnest):
            return self._unnest(node, scope)
        if isinstance(node, tree.ChangedRows):
            return self._changed_rows(node, scope)
        assert isinstance(node, tree.Join)
        return self._join(node, scope)

    def _unnest(self, node: tree.Unnest, scope: QueryScope) -> R.Relation:
        """UNNEST (clause 7.6): one column for each array, or one for each field of an array of rows."""
        outer, self.scope = self.scope, self._inner_scope(scope, True)
        arrays = tuple(self.expression(a) for a in node.arrays)
        self.scope = outer
        columns: list[R.Output] = []
        widths = []
        for array in arrays:
            if array.type.kind != "array":
                self.fail("42804", f"UNNEST takes arrays, this is {array.type}", node)
            inner = array.type.parts[0]
            if inner.kind == "row":
                columns += [R.Output(n, t, True) for n, t in zip(inner.names, inner.parts, strict=True)]
                widths.append(len(inner.parts))
            else:
                columns.append(R.Output(f"column{len(columns) + 1}", inner, True))
                widths.append(-1)
        if node.ordinality:
            columns.append(R.Output("ordinality", T.INTEGER, False))
        alias = node.alias or f"unnest{self.sources}"
        number = self._add_source(scope, alias, tuple(columns), node, node.columns)
        return R.UnnestRows(arrays, tuple(widths), node.ordinality, number)

    def _changed_rows(self, node: tree.ChangedRows, scope: QueryScope) -> R.Relation:
        """FINAL, NEW or OLD TABLE (statement) (clause 7.6, feature T495)."""
        outer, self.scope = self.scope, scope.parent
        statement = self.change_statement(node.statement)
        self.scope = outer
        deletes = isinstance(statement, R.DeleteStmt)
        if (deletes and node.kind != "old") or (isinstance(statement, R.InsertStmt) and node.kind == "old"):
            what = "DELETE has no new rows" if deletes else "INSERT has no old rows"
            self.fail("42601", what, node, "OLD TABLE" if deletes else "FINAL TABLE")
        table: Table = statement.table  # type: ignore[attr-defined]
        number = self._add_source(scope, node.alias or table.short, table_outputs(table), node, node.columns)
        return R.ChangedRows(statement, table, node.kind, number)

    def change_statement(self, node: tree.Statement) -> R.Stmt:
        """INSERT, UPDATE, DELETE or MERGE, bound where statements are."""
        raise NotImplementedError

    def _add_source(
        self,
        scope: QueryScope,
        alias: str,
        columns: tuple[R.Output, ...],
        node: tree.FromItem,
        names: tuple[str, ...],
        schema: str = "",
    ) -> int:
        if any(s.alias == alias and s.schema == schema for s in scope.sources):
            self.fail("42701", f"{alias} stands twice in FROM", node, "give one of them another name")
        number = self.new_source()
        columns = self.renamed(columns, names, node)
        found = [ColumnScope(c.name, c.type, c.nullable, i) for i, c in enumerate(columns)]
        scope.sources.append(SourceScope(number, alias, found, schema))
        return number

    def _table_name(self, node: tree.TableName, scope: QueryScope) -> R.Relation:
        alias = node.alias or node.name[-1]
        if len(node.name) == 1:
            transition = self.transition_tables.get(node.name[0])
            if transition is not None:
                local, table = transition
                number = self._add_source(scope, alias, table_outputs(table), node, node.columns)
                return R.TransitionRows(local, len(table.columns) + 1, number)
            for level in reversed(self.common):
                common = level.get(node.name[0])
                if common is not None:
                    columns = self.common_columns[common]
                    number = self._add_source(scope, alias, columns, node, node.columns)
                    return R.CommonRows(common, number, len(columns))
        system = VIEWS.get(node.name[-2:]) if len(node.name) > 1 else None
        if system is not None:
            outputs = tuple(R.Output(n, t, True) for n, t in system.columns)
            schema = "" if node.alias else node.name[-2]
            return R.SystemRows(system, self._add_source(scope, alias, outputs, node, node.columns, schema))
        if len(node.name) > 1 and node.name[-2] in SYSTEM_SCHEMAS:
            known = [n for s, n in VIEWS if s == node.name[-2]]
            self.fail("42704", f"there is no view {'.'.join(node.name)}", node, nearest(node.name[-1], known))
        relation = self.relation(node.name, node)
        schema = "" if node.alias else schema_of(relation.name)
        if isinstance(relation, View):
            query = self.view_query(relation, node)
            number = self._add_source(scope, alias, query.columns, node, node.columns, schema)
            return R.Derived(query, number, False, relation.name)
        self.does(2, node)
        number = self._add_source(scope, alias, table_outputs(relation), node, node.columns, schema)
        return R.Scan(relation, number)

    def view_query(self, view: View, node: tree.Node) -> R.Query:
        """The query of a view, bound in its own text and without the names around its use."""
        with self.elsewhere(view.source, view.schema):
            query = self.query(view.bindable)
            return replace(query, columns=self.renamed(query.columns, view.columns, node))

    @contextmanager
    def elsewhere(self, source: Source, schema: str) -> Iterator[None]:
        """Bind what was written in another text, without the names around the place of its use."""
        kept = self.scope, self.source, self.common, self.schema, self.transition_tables
        self.scope, self.source, self.common, self.schema, self.transition_tables = None, source, [], schema, {}
        try:
            yield
        finally:
            self.scope, self.source, self.common, self.schema, self.transition_tables = kept

    def _inner_scope(self, scope: QueryScope, lateral: bool) -> Scope | None:
        """What a query in FROM can refer to: the sources before it only when it is LATERAL."""
        return scope if lateral else scope.parent

    def _derived(self, node: tree.DerivedTable, scope: QueryScope) -> R.Relation:
        outer, self.scope = self.scope, self._inner_scope(scope, node.lateral)
        query = self.query(node.query)
        self.scope = outer
        alias = node.alias or f"derived{self.sources}"
        number = self._add_source(scope, alias, query.columns, node, node.columns)
        return R.Derived(query, number, node.lateral, node.alias)

    def _table_call(self, node: tree.TableCall, scope: QueryScope) -> R.Relation:
        name = node.call.name[-1]
        key = self.key("routines", node.call.name, node.call)
        if key not in self.catalog.routines:
            known = [n for n, g in self.catalog.routines.items() if g[0].table]
            self.fail("42883", f"there is no table function {name}", node.call, nearest(name, known))
        outer, self.scope = self.scope, self._inner_scope(scope, True)
        routine, arguments = self.resolve(key, node.call.arguments, node.call, "function")
        self.scope = outer
        if not routine.table:
            self.fail("42809", f"{name} is a {routine.kind_word}, not a table function", node.call)
        columns = tuple(R.Output(n, t, True) for n, t in routine.table)
        number = self._add_source(scope, node.alias or name, columns, node, node.columns)
        return R.CallRows(routine, tuple(arguments), number)

    def _join(self, node: tree.Join, scope: QueryScope) -> R.Relation:
        first = len(scope.sources)
        left = self._from_item(node.left, scope)
        middle = len(scope.sources)
        right = self._from_item(node.right, scope)
        lefts, rights = scope.sources[first:middle], scope.sources[middle:]
        condition: R.Expr | None = None
        if node.natural or node.using:
            condition = self._merge(node, scope, lefts, rights)
            if node.alias:
                scope.merged_aliases[node.alias] = {n: scope.merged[n] for n in node.using}
        elif node.condition is not None:
            self.why_no_aggregate = "in ON"
            inside = QueryScope(scope.parent)
            inside.sources, inside.merged = scope.sources[first:], scope.merged if first == 0 else {}
            inside.merged_aliases = scope.merged_aliases
            outer, self.scope = self.scope, inside
            try:
                condition = self.condition(node.condition, "ON")
            finally:
                self.scope = outer
        if node.kind in ("left", "full"):
            _may_be_null(rights)
        if node.kind in ("right", "full"):
            _may_be_null(lefts)
        if node.kind == "right":
            return R.JoinRows("left", right, left, condition)
        return R.JoinRows("inner" if node.kind == "cross" else node.kind, left, right, condition)

    def _merge(
        self, node: tree.Join, scope: QueryScope, lefts: list[SourceScope], rights: list[SourceScope]
    ) -> R.Expr | None:
        """USING and NATURAL: equal columns of the same name become one."""
        right_columns = {c.name: (s, c) for s in rights for c in s.columns if not c.hidden}
        left_names = [c.name for s in lefts for c in s.columns if not c.hidden]
        left_names += [n for n in scope.merged if n not in left_names]
        names = node.using or tuple(n for n in left_names if n in right_columns)
        tests = []
        for name in names:
            left = self._merge_side(name, scope, lefts, node)
            if name not in right_columns:
                self.fail("42703", f"there is no column {name} on the right side", node, nearest(name, right_columns))
            source, column = right_columns[name]
            right = source.column(column)
            tests.append(self.compare("=", left, right, node))
            column.hidden = True
            for s in lefts:
                for c in s.columns:
                    c.hidden = c.hidden or c.name == name
            if node.kind == "full":
                both = self.unified([replace(left, nullable=True), replace(right, nullable=True)], node, "USING")
                scope.merged[name] = R.Coalesce(both[0].type, True, tuple(both))
            else:
                scope.merged[name] = right if node.kind == "right" else left
        return self.conjunction(tests) if tests else None

    def _merge_side(self, name: str, scope: QueryScope, lefts: list[SourceScope], node: tree.Join) -> R.Expr:
        if name in scope.merged:
            return scope.merged[name]
        found = [s.column(c) for s in lefts for c in s.columns if c.name == name and not c.hidden]
        if len(found) != 1:
            known = [c.name for s in lefts for c in s.columns]
            problem = f"{name} is ambiguous" if found else f"there is no column {name}"
            self.fail("42703", f"{problem} on the left side", node, nearest(name, known))
        return found[0]


class _NotGrouped(Exception):
    def __init__(self, column: R.Column) -> None:
        self.column = column


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
