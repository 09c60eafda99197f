"""Binding of statements that change data, and of those that steer transactions."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.queries import QueryBinder, natural_name
from glimb.engine.binding.scope import ChangeTarget, ColumnScope, QueryScope, SourceScope
from glimb.engine.catalog.objects import View, schema_of
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.engine.values.signatures import AGGREGATES
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import ProblemError, nearest


def _gathers(call: tree.FunctionCall) -> bool:
    """Whether a call is of a set function or over a window."""
    return call.over is not None or call.name[-1] in AGGREGATES


class DataBinder(QueryBinder):
    """Binds INSERT, UPDATE, DELETE and transaction statements."""

    def insert(self, node: tree.Insert) -> R.Stmt:
        self.writes = True
        self.does(3, node)
        if self._is_instead(node.table, "insert", node):
            return self._instead_insert(node)
        target = self.change_target(node.table, "", node)
        table = target.table
        positions = self._positions(target, node) if node.columns else tuple(target.names.values())
        given = positions if node.query is not None else ()
        missing = (n for n in range(len(table.columns)) if n not in given)
        defaults = tuple((n, self.column_default(table, n)) for n in missing)
        if node.query is None:
            return R.InsertStmt(table, None, (), defaults, target.number, target.checks, span=node.span)
        if node.overriding == "user":
            positions_, defaults = self._without_identities(table, positions, defaults)
        self._check_generated(table, positions, node)
        types = tuple(table.columns[p].type for p in positions)
        body = node.query.body
        if isinstance(body, tree.Values) and not node.query.order and node.query.fetch is None:
            query = self._insert_rows(table, positions, body)
        else:
            query = self.query(node.query, types)
            self._check_width(len(query.columns), positions, table, node)
            over = self.over(query)
            items = tuple(
                self.assign(i, t, node, f"column {table.columns[p].name}")
                for i, t, p in zip(over.items, types, positions, strict=True)
            )
            columns = tuple(R.Output(table.columns[p].name, t, True) for p, t in zip(positions, types, strict=True))
            query = R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
        if node.overriding == "user":
            query = self._picked_columns(query, [n for n, p in enumerate(positions) if p in positions_])
            positions = positions_
        return R.InsertStmt(table, query, positions, defaults, target.number, target.checks, span=node.span)

    def _without_identities(
        self, table: Table, positions: tuple[int, ...], defaults: tuple[tuple[int, R.Expr], ...]
    ) -> tuple[tuple[int, ...], tuple[tuple[int, R.Expr], ...]]:
        """OVERRIDING USER VALUE: what is given for identity columns does not count."""
        kept = tuple(p for p in positions if table.columns[p].identity is None)
        more = tuple((p, self.column_default(table, p)) for p in positions if p not in kept)
        return kept, defaults + more

    def _picked_columns(self, query: R.Query, places: list[int]) -> R.Query:
        over = self.over(query)
        items = tuple(over.items[p] for p in places)
        columns = tuple(query.columns[p] for p in places)
        return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())

    def _check_generated(self, table: Table, positions: tuple[int, ...], node: tree.Insert) -> None:
        """Columns that are always generated take only DEFAULT, or with OVERRIDING SYSTEM VALUE, identities."""
        assert node.query is not None
        body = node.query.body
        for at, position in enumerate(positions):
            column = table.columns[position]
            given = not isinstance(body, tree.Values) or any(
                at < len(row) and not isinstance(row[at], tree.DefaultValue) for row in body.rows
            )
            if given and column.always and (column.generated is not None or not node.overriding):
                hint = "OVERRIDING SYSTEM VALUE" if column.identity is not None else ""
                self.fail("428C9", f"column {column.name} is always generated", node, hint)

    def _positions(self, target: ChangeTarget, node: tree.Insert) -> tuple[int, ...]:
        positions: list[int] = []
        for name in node.columns:
            position = target.names.get(name)
            if position is None:
                self.fail("42703", f"table {target.label} has no column {name}", node, nearest(name, target.names))
            if position in positions:
                self.fail("42701", f"column {name} is given twice", node)
            positions.append(position)
        return tuple(positions)

    def _column(self, table: Table, name: str, node: tree.Node) -> int:
        position = table.positions.get(name)
        if position is None:
            self.fail("42703", f"table {table.name} has no column {name}", node, nearest(name, table.positions))
        return position

    def _check_width(self, width: int, positions: tuple[int, ...], table: Table, node: tree.Node) -> None:
        if width != len(positions):
            names = ", ".join(table.columns[p].name for p in positions)
            self.fail("42601", f"{width} values for {len(positions)} columns ({names})", node)

    def _insert_rows(self, table: Table, positions: tuple[int, ...], body: tree.Values) -> R.Query:
        """Rows of VALUES, where DEFAULT may stand; each value converted by itself."""
        rows = []
        self.why_no_aggregate = "in VALUES"
        for row in body.rows:
            self._check_width(len(row), positions, table, row[0])
            rows.append(tuple(self._stored_value(table, p, v) for p, v in zip(positions, row, strict=True)))
        columns = tuple(R.Output(table.columns[p].name, table.columns[p].type, True) for p in positions)
        return R.Query(R.Rows(tuple(rows)), columns, (), (), 0, None, None, False, ())

    def _stored_value(self, table: Table, position: int, node: tree.Expression) -> R.Expr:
        """A value for a column of a table, or the column's default."""
        if isinstance(node, tree.DefaultValue):
            return self.column_default(table, position)
        column = table.columns[position]
        return self.assign(self.expression(node), column.type, node, f"column {column.name}")

    def column_default(self, table: Table, position: int) -> R.Expr:
        """What a column gets when nothing is given."""
        column = table.columns[position]
        if column.identity is not None:
            return self.converted(
                R.NextValue(column.identity.type, False, column.identity), column.type, explicit=False
            )
        if column.default is None:
            return R.Const(column.type, True, None)
        with self.elsewhere(self.source, ""):
            return self.assign(self.expression(column.default), column.type, column.default, f"column {column.name}")

    def row_scope(self, table: Table, alias: str, unchecked: bool = False) -> tuple[QueryScope, int]:
        """A scope with the columns of one table, as UPDATE, DELETE and CHECK see them; `unchecked` rows have not yet
        been looked at by constraints, so that a NULL may be in any column."""
        scope = QueryScope(self.scope)
        number = self.new_source()
        columns = [ColumnScope(c.name, c.type, unchecked or not c.not_null, i) for i, c in enumerate(table.columns)]
        schema = "" if alias else schema_of(table.name)
        scope.sources.append(SourceScope(number, alias or table.short, columns, schema))
        return scope, number

    def update(self, node: tree.Update) -> R.Stmt:
        self.writes = True
        self.does(3, node)
        if self._is_instead(node.table, "update", node):
            return self._instead_update(node)
        outer = self.scope
        cursor = self._positioned(node.cursor, node)
        target = self.change_target(node.table, node.alias, node)
        self.scope = target.scope
        try:
            values = self._assignments(target, node)
            if cursor is not None:
                self._check_positioned(cursor, target.table, [p for p, _ in values], node)
            where = self._where_of(target, node.where)
        finally:
            self.scope = outer
        return R.UpdateStmt(target.table, target.number, values, where, cursor, target.checks, span=node.span)

    def delete(self, node: tree.Delete) -> R.Stmt:
        self.writes = True
        self.does(3, node)
        if self._is_instead(node.table, "delete", node):
            return self._instead_delete(node)
        outer = self.scope
        cursor = self._positioned(node.cursor, node)
        target = self.change_target(node.table, node.alias, node)
        if cursor is not None:
            self._check_positioned(cursor, target.table, [], node)
        self.scope = target.scope
        try:
            where = self._where_of(target, node.where)
        finally:
            self.scope = outer
        return R.DeleteStmt(target.table, target.number, where, cursor, span=node.span)

    def _where_of(self, target: ChangeTarget, node: tree.Expression | None) -> R.Expr | None:
        """The condition of a change, with those of the views that it goes through."""
        self.why_no_aggregate = "in WHERE"
        conditions = list(target.conditions)
        if node is not None:
            conditions.append(self.condition(node, "WHERE"))
        return self.conjunction(conditions) if conditions else None

    def _positioned(self, cursor: tree.DynamicName, node: tree.Node) -> R.CursorDef | None:
        """The cursor of WHERE CURRENT OF."""
        return self.cursor_named(cursor, node) if cursor else None

    def _check_positioned(self, cursor: R.CursorDef, table: Table, positions: list[int], node: tree.Node) -> None:
        if cursor.query is None:
            return  # over a prepared statement: what it is over is known when it is open
        if cursor.table is None:
            hint = "it needs plain rows of one table, and no FOR READ ONLY or INSENSITIVE"
            self.fail("42828", f"cursor {cursor.name} cannot change rows", node, hint)
        if cursor.table is not table:
            self.fail("42828", f"cursor {cursor.name} is over {cursor.table.name}, not {table.name}", node)
        for position in positions:
            name = table.columns[position].name
            if cursor.columns and name not in cursor.columns:
                self.fail("42829", f"cursor {cursor.name} is not for update of {name}", node)

    def cursor_named(self, name: tree.DynamicName, node: tree.Node) -> R.CursorDef:
        """The cursor of this name; known where routines are bound."""
        raise NotImplementedError

    # -- what is changed: a table, or a view through which its table is changed (clauses 4.14 and 14)

    def change_target(self, name: tree.Parts, alias: str, node: tree.Node, known: View | None = None) -> ChangeTarget:
        """The base table behind a name, with the names and conditions of the views on the way."""
        found = known or self.relation(name, node)
        if isinstance(found, Table):
            scope, number = self.row_scope(found, alias)
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
            or any(isinstance(n, tree.FunctionCall) and _gathers(n) for n in walk(select.items))
        ):
            hint = "an INSTEAD OF trigger can do it, or a query of plain rows of one table"
            self.fail("42807", f"view {found.name} cannot be changed", node, hint)
        inner = select.sources[0]
        with self.elsewhere(found.source, found.schema):
            below = self.change_target(inner.name, inner.alias, inner)
            if inner.columns:
                below.rename(inner.columns)
            self.scope = below.scope
            where = self.condition(select.where, "WHERE") if select.where is not None else None
        return self._view_target(found, select, below, where, alias)

    def seen_through(self, node: tree.TableName) -> ChangeTarget | None:
        """The table behind a view whose rows are rows of it; None for everything else."""
        if len(node.name) == 1 and any(node.name[0] in level for level in self.common):
            return None
        found = self.catalog.relations.get(self.key("relations", node.name, node))
        if not isinstance(found, View):
            return None
        try:
            target = self.change_target(node.name, node.alias, node)
        except ProblemError:
            return None
        if node.columns:
            for column, name in zip(target.scope.sources[0].columns, node.columns, strict=False):
                column.name = name
        return target

    def _view_target(
        self, view: View, select: tree.Select, below: ChangeTarget, where: R.Expr | None, alias: str
    ) -> ChangeTarget:
        """What a view makes of the target below it: its names, its condition, what rows must meet to stay in it."""
        scope = QueryScope(self.scope)
        source = below.scope.sources[0]
        columns: list[ColumnScope] = []
        with self.elsewhere(view.source, view.schema):
            self.scope = below.scope
            for item in select.items:
                if isinstance(item.value, tree.Star):
                    columns += [ColumnScope(c.name, c.type, c.nullable, c.index, c.value) for c in source.columns]
                    continue
                value = self.expression(item.value)
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

    def _is_instead(self, name: tree.Parts, event: str, node: tree.Node) -> bool:
        """Whether a view has a trigger that does the change instead."""
        found = self.relation(name, node)
        return isinstance(found, View) and any(
            t.view is found and t.definition.event == event for t in self.catalog.triggers.values()
        )

    def _instead_rows(self, table: tree.Parts, alias: str, where: tree.Expression | None) -> tuple[R.Query, QueryScope]:
        """The rows of a view that a change is about."""
        scope = QueryScope(self.scope)
        relation = self._from_item(tree.TableName(table, alias), scope)
        outer, self.scope = self.scope, scope
        self.why_no_aggregate = "in WHERE"
        condition = self.condition(where, "WHERE") if where is not None else None
        self.scope = outer
        source = scope.sources[0]
        items = tuple(source.column(c) for c in source.columns)
        columns = tuple(R.Output(c.name, c.type, c.nullable) for c in source.columns)
        select = R.Select(relation, condition, items, False, (), (), 0, None, False)
        return R.Query(select, columns, (), (), 0, None, None, False, ()), scope

    def _instead_delete(self, node: tree.Delete) -> R.Stmt:
        view = self.relation(node.table, node)
        query, _ = self._instead_rows(node.table, node.alias, node.where)
        return R.InsteadStmt(view, "delete", query, len(query.columns), span=node.span)

    def _instead_update(self, node: tree.Update) -> R.Stmt:
        """Rows of twice the width: as they are, and as they should be."""
        view = self.relation(node.table, node)
        query, scope = self._instead_rows(node.table, node.alias, node.where)
        outer, self.scope = self.scope, scope
        names = [c.name for c in query.columns]
        select = query.body
        assert isinstance(select, R.Select)
        new = list(select.items)
        for assignment in node.assignments:
            for name, value in self._pairs(assignment, node):
                if name not in names:
                    self.fail("42703", f"{node.table[-1]} has no column {name}", assignment, nearest(name, names))
                at = names.index(name)
                new[at] = self.assign(self.expression(value), query.columns[at].type, value, f"column {name}")
        self.scope = outer
        wide = replace(query, body=replace(select, items=(*select.items, *new)), columns=query.columns * 2)
        return R.InsteadStmt(view, "update", wide, len(names), span=node.span)

    def _instead_insert(self, node: tree.Insert) -> R.Stmt:
        view = self.relation(node.table, node)
        assert isinstance(view, View)
        columns = self.view_query(view, node).columns
        names = [c.name for c in columns]
        given = node.columns or tuple(names)
        for name in given:
            if name not in names:
                self.fail("42703", f"{view.name} has no column {name}", node, nearest(name, names))
        if node.query is None:
            self.fail("42601", "a view has no default values", node)
        query = self.query(node.query, tuple(columns[names.index(n)].type for n in given))
        if len(query.columns) != len(given):
            self.fail("42601", f"{len(query.columns)} values for {len(given)} columns", node)
        over = self.over(query)
        items = tuple(
            self.assign(over.items[given.index(c.name)], c.type, node, f"column {c.name}")
            if c.name in given
            else R.Const(c.type, True, None)
            for c in columns
        )
        rows = R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
        return R.InsteadStmt(view, "insert", rows, len(columns), span=node.span)

    # -- assignments of UPDATE and MERGE

    def _pairs(self, node: tree.Assignment, parent: tree.Node) -> list[tuple[str, tree.Expression]]:
        """Columns with their values: those of a row, or of a query that gives one row, are taken apart (T641)."""
        if len(node.columns) == 1:
            return [(node.columns[0], node.value)]
        if isinstance(node.value, tree.RowValue):
            if len(node.value.items) != len(node.columns):
                self.fail("42601", f"{len(node.value.items)} values for {len(node.columns)} columns", node)
            return list(zip(node.columns, node.value.items, strict=True))
        self.fail("42601", f"{len(node.columns)} columns need a row of as many values", node)

    def _assignments(
        self, target: ChangeTarget, node: tree.Update | tree.MergeClause
    ) -> tuple[tuple[int, R.Expr], ...]:
        values: list[tuple[int, R.Expr]] = []
        self.why_no_aggregate = "in SET"
        for assignment in node.assignments:
            for position, value in self._assigned_values(target, assignment, node):
                if any(p == position for p, _ in values):
                    name = target.table.columns[position].name
                    self.fail("42701", f"column {name} is set twice", assignment)
                values.append((position, value))
        return tuple(values)

    def _assigned_values(
        self, target: ChangeTarget, node: tree.Assignment, parent: tree.Node
    ) -> list[tuple[int, R.Expr]]:
        table = target.table
        if len(node.columns) > 1 and isinstance(node.value, tree.Subquery):
            items = self._row_items(node.value)
            if len(items) != len(node.columns):
                self.fail("42601", f"{len(items)} values for {len(node.columns)} columns", node)
            places = [self._assignable(target, n, node.value, node) for n in node.columns]
            return [
                (p, self.assign(i, table.columns[p].type, node, f"column {table.columns[p].name}"))
                for p, i in zip(places, items, strict=True)
            ]
        found = []
        for name, value in self._pairs(node, parent):
            position = self._assignable(target, name, value, node)
            if node.element is not None:
                found.append((position, self._changed_element(table, target.number, position, node)))
            else:
                found.append((position, self._stored_value(table, position, value)))
        return found

    def _assignable(self, target: ChangeTarget, name: str, value: tree.Expression, node: tree.Node) -> int:
        """The position of a column that may be set to a value."""
        position = target.names.get(name)
        if position is None:
            self.fail("42703", f"table {target.label} has no column {name}", node, nearest(name, target.names))
        column = target.table.columns[position]
        if column.always and not isinstance(value, tree.DefaultValue):
            self.fail("428C9", f"column {column.name} is always generated", node)
        return position

    def _changed_element(self, table: Table, source: int, position: int, node: tree.Assignment) -> R.Expr:
        """SET column[n] = value."""
        assert node.element is not None
        column = table.columns[position]
        if column.type.kind != "array":
            self.fail("42804", f"column {column.name} is {column.type}, it has no elements", node)
        old = R.Column(column.type, True, source, position, column.name)
        return self.changed_element(old, node.element, node.value, node)

    def changed_element(
        self, array: R.Expr, position: tree.Expression, value: tree.Expression, node: tree.Node
    ) -> R.Expr:
        """An array with one element replaced."""
        at = self.assign(self.expression(position), T.INTEGER, position, "the position")
        element = self.assign(self.expression(value), array.type.parts[0], value, "the element")
        return R.Loose(array.type, False, f"with_element({{0}}, {{1}}, {{2}}, {array.type.size})", (array, at, element))

    def merge(self, node: tree.Merge) -> R.Stmt:
        """MERGE (clause 14.12): the source, outer joined with the target."""
        self.writes = True
        self.does(3, node)
        outer = self.scope
        target = self.change_target(node.table, node.alias, node)
        scope = self.scope = QueryScope(outer)
        try:
            source = self._from_item(node.source, scope)
            own = target.scope.sources[0]
            if any(s.alias == own.alias and s.schema == own.schema for s in scope.sources):
                self.fail("42701", f"{own.alias} is both target and source", node, "name one of them")
            only_source = QueryScope(outer)
            only_source.sources = list(scope.sources)
            scope.sources.append(own)
            self.why_no_aggregate = "in MERGE"
            condition = self.conjunction([*target.conditions, self.condition(node.condition, "ON")])
            actions = tuple(self._merge_action(target, c, scope, only_source) for c in node.clauses)
        finally:
            self.scope = outer
        relation = R.JoinRows("left", source, R.Scan(target.table, target.number), condition)
        return R.MergeStmt(target.table, relation, target.number, actions, target.checks, span=node.span)

    def _merge_action(
        self, target: ChangeTarget, node: tree.MergeClause, both: QueryScope, source: QueryScope
    ) -> R.MergeAction:
        table = target.table
        self.scope = both if node.matched else source
        condition = self.condition(node.condition, "WHEN") if node.condition is not None else None
        if node.matched:
            values = self._assignments(target, node)
            self.scope = both
            return R.MergeAction(True, condition, values)
        insert = tree.Insert((table.name,), node.columns, tree.Query(tree.Values((node.values,))), span=node.span)
        positions = self._positions(target, insert) if node.columns else tuple(target.names.values())
        self._check_width(len(node.values), positions, table, node)
        self._check_generated(table, positions, insert)
        given = {p: self._stored_value(table, p, v) for p, v in zip(positions, node.values, strict=True)}
        row = tuple((n, given[n] if n in given else self.column_default(table, n)) for n in range(len(table.columns)))
        self.scope = both
        return R.MergeAction(False, condition, row)

    def truncate(self, node: tree.Truncate) -> R.Stmt:
        table = self.base_table(node.table, node)
        self.writes = True
        self.does(3, node)
        if any(f.table is not table for f in table.referenced):
            users = ", ".join(sorted({f.table.name for f in table.referenced}))
            self.fail("42893", f"{table.name} cannot be truncated: {users} refers to it", node)
        return R.TruncateStmt(table, node.restart, span=node.span)

    def transaction(self, node: tree.Statement) -> R.Stmt:
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
