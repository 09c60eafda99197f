"""Binding of statements that change data, and of those that steer transactions."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binder.queries import QueryBinder
from glimb.engine.binder.scope import ColumnScope, QueryScope, SourceScope
from glimb.engine.catalog import Table
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest


class DataBinder(QueryBinder):
    """Binds INSERT, UPDATE, DELETE and transaction statements."""

    def insert(self, node: tree.Insert) -> R.Stmt:
        table = self.base_table(node.table, node)
        self.writes = True
        positions = self._positions(table, node) if node.columns else tuple(range(len(table.columns)))
        given = positions if node.query is not None else ()
        missing = (n for n in range(len(table.columns)) if n not in given)
        defaults = tuple((n, self.column_default(table, n)) for n in missing)
        if node.query is None:
            return R.InsertStmt(table, None, (), defaults, span=node.span)
        self._check_generated(table, positions, node)
        types = tuple(table.columns[p].type for p in positions)
        body = node.query.body
        if isinstance(body, tree.Values) and not node.query.order and node.query.fetch is None:
            query = self._insert_rows(table, positions, body)
        else:
            query = self.query(node.query, types)
            self._check_width(len(query.columns), positions, table, node)
            over = self._over(query)
            items = tuple(
                self.assign(i, t, node, f"column {table.columns[p].name}")
                for i, t, p in zip(over.items, types, positions, strict=True)
            )
            columns = tuple(R.Output(table.columns[p].name, t, True) for p, t in zip(positions, types, strict=True))
            query = R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
        return R.InsertStmt(table, query, positions, defaults, span=node.span)

    def _check_generated(self, table: Table, positions: tuple[int, ...], node: tree.Insert) -> None:
        """Columns that are always generated take only DEFAULT, or with OVERRIDING SYSTEM VALUE, identities."""
        assert node.query is not None
        body = node.query.body
        for at, position in enumerate(positions):
            column = table.columns[position]
            given = not isinstance(body, tree.Values) or any(
                at < len(row) and not isinstance(row[at], tree.DefaultValue) for row in body.rows
            )
            if given and column.always and (column.generated is not None or node.overriding != "system"):
                hint = "OVERRIDING SYSTEM VALUE" if column.identity is not None else ""
                self.fail("428C9", f"column {column.name} is always generated", node, hint)

    def _positions(self, table: Table, node: tree.Insert) -> tuple[int, ...]:
        positions = []
        for name in node.columns:
            position = self._column(table, name, node)
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
        scope, self.scope = self.scope, None
        bound = self.assign(self.expression(column.default), column.type, column.default, f"column {column.name}")
        self.scope = scope
        return bound

    def row_scope(self, table: Table, alias: str, parent: QueryScope | None = None) -> tuple[QueryScope, int]:
        """A scope with the columns of one table, as UPDATE, DELETE and CHECK see them."""
        scope = QueryScope(parent or self.scope)
        number = self.new_source()
        columns = [ColumnScope(c.name, c.type, not c.not_null, i) for i, c in enumerate(table.columns)]
        scope.sources.append(SourceScope(number, alias or table.name, columns))
        return scope, number

    def update(self, node: tree.Update) -> R.Stmt:
        table = self.base_table(node.table, node)
        self.writes = True
        outer = self.scope
        self.scope, number = self.row_scope(table, node.alias)
        try:
            values = self._assignments(table, node)
            self.why_no_aggregate = "in WHERE"
            where = self.condition(node.where, "WHERE") if node.where is not None else None
        finally:
            self.scope = outer
        return R.UpdateStmt(table, number, values, where, node.cursor, span=node.span)

    def _assignments(self, table: Table, node: tree.Update | tree.MergeClause) -> tuple[tuple[int, R.Expr], ...]:
        values: list[tuple[int, R.Expr]] = []
        self.why_no_aggregate = "in SET"
        for assignment in node.assignments:
            position = self._column(table, assignment.column, assignment)
            column = table.columns[position]
            if column.always and not isinstance(assignment.value, tree.DefaultValue):
                self.fail("428C9", f"column {column.name} is always generated", assignment)
            if any(p == position for p, _ in values):
                self.fail("42701", f"column {assignment.column} is set twice", assignment)
            values.append((position, self._stored_value(table, position, assignment.value)))
        return tuple(values)

    def delete(self, node: tree.Delete) -> R.Stmt:
        table = self.base_table(node.table, node)
        self.writes = True
        outer = self.scope
        self.scope, number = self.row_scope(table, node.alias)
        self.why_no_aggregate = "in WHERE"
        try:
            where = self.condition(node.where, "WHERE") if node.where is not None else None
        finally:
            self.scope = outer
        return R.DeleteStmt(table, number, where, node.cursor, span=node.span)

    def merge(self, node: tree.Merge) -> R.Stmt:
        """MERGE (clause 14.12): the source, outer joined with the target."""
        table = self.base_table(node.table, node)
        self.writes = True
        outer = self.scope
        scope = self.scope = QueryScope(outer)
        try:
            source = self._from_item(node.source, scope)
            target_scope, target = self.row_scope(table, node.alias, None)
            if any(s.alias == target_scope.sources[0].alias for s in scope.sources):
                self.fail(
                    "42701", f"{target_scope.sources[0].alias} is both target and source", node, "name one of them"
                )
            only_source = QueryScope(outer)
            only_source.sources = list(scope.sources)
            scope.sources.append(target_scope.sources[0])
            self.why_no_aggregate = "in MERGE"
            condition = self.condition(node.condition, "ON")
            actions = tuple(self._merge_action(table, c, scope, only_source) for c in node.clauses)
        finally:
            self.scope = outer
        relation = R.JoinRows("left", source, R.Scan(table, target), condition)
        return R.MergeStmt(table, relation, target, actions, span=node.span)

    def _merge_action(
        self, table: Table, node: tree.MergeClause, both: QueryScope, source: QueryScope
    ) -> R.MergeAction:
        self.scope = both if node.matched else source
        condition = self.condition(node.condition, "WHEN") if node.condition is not None else None
        if node.matched:
            values = self._assignments(table, node)
            self.scope = both
            return R.MergeAction(True, condition, values)
        insert = tree.Insert((table.name,), node.columns, tree.Query(tree.Values((node.values,))), span=node.span)
        positions = self._positions(table, insert) if node.columns else tuple(range(len(table.columns)))
        self._check_width(len(node.values), positions, table, node)
        self._check_generated(table, positions, insert)
        given = {p: self._stored_value(table, p, v) for p, v in zip(positions, node.values, strict=True)}
        row = tuple((n, given[n] if n in given else self.column_default(table, n)) for n in range(len(table.columns)))
        self.scope = both
        return R.MergeAction(False, condition, row)

    def truncate(self, node: tree.Truncate) -> R.Stmt:
        table = self.base_table(node.table, node)
        self.writes = True
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
                return R.TransactionStmt("set", "", node.modes, False, span=span)
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
