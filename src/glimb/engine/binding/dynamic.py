"""Binding of cursors, dynamic SQL and descriptors (ISO/IEC 9075-2 clauses 14 and 20)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.statements import DataBinder
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import ToldError, nearest


class Names:
    """Conditions and cursors declared in a block."""

    def __init__(self, parent: Names | None) -> None:
        self.parent = parent
        self.conditions: dict[str, str] = {}
        self.cursors: dict[str, R.CursorDef | None] = {}
        """None for one whose declaration is wrong."""

    def condition(self, name: str) -> str | None:
        """The SQLSTATE of a declared condition, empty when it has none; None when it is not declared."""
        if name in self.conditions:
            return self.conditions[name]
        return self.parent.condition(name) if self.parent else None

    def cursor(self, name: str) -> R.CursorDef | None:
        if name in self.cursors:
            found = self.cursors[name]
            if found is None:
                raise ToldError
            return found
        return self.parent.cursor(name) if self.parent else None


class DynamicBinder(DataBinder):
    """Binds statements about cursors and prepared statements."""

    names: Names | None
    violations: set[str]

    def local(self, name: str, hint: str) -> str:
        """A Python name for a variable."""
        raise NotImplementedError

    def target(self, node: tree.Reference) -> R.Target:
        """A variable to assign to."""
        raise NotImplementedError

    def receives(
        self, targets: tuple[tree.Reference | tree.Element, ...], query: R.Query, node: tree.Node
    ) -> tuple[R.Receive, ...]:
        """How the columns of a query are assigned to variables."""
        raise NotImplementedError

    def cursor_definition(self, node: tree.DeclareCursor) -> R.CursorDef:
        """A cursor; over plain rows of one table it can change them."""
        local, number = self.local(node.name, "c"), self.new_source()
        if node.query is None:
            return R.CursorDef(
                local, node.name, None, number, node.scroll, node.hold, node.returns, False, None, (), node.statement
            )
        lock = node.query.lock
        table, columns = None, tree.Parts()
        changes = node.sensitivity != "insensitive" and (lock is None or lock.mode != "read only")
        self.through_views = changes and isinstance(node.query.body, tree.Select)
        query = self.query(replace(node.query, lock=_rows_locked(lock)))
        if changes:
            table = cursor_table(query)
        if lock is not None and lock.mode == "update":
            if table is None:
                self.fail("42601", f"cursor {node.name} is not over plain rows of one table", lock)
            names = {c.name for c in table.columns}
            columns = tuple(n for n in lock.tables if n in names)
            unknown = [n for n in lock.tables if n not in names and n != table.short]
            if unknown:
                self.fail("42703", f"{table.name} has no column {unknown[0]}", lock, nearest(unknown[0], names))
        sensitive = node.sensitivity == "sensitive"
        return R.CursorDef(
            local, node.name, query, number, node.scroll, node.hold, node.returns, sensitive, table, columns
        )

    # -- cursors

    def cursor_named(self, name: tree.DynamicName, node: tree.Node) -> R.CursorDef:
        if not isinstance(name, str):
            named = self._name_value(name, "cursor")
            return R.CursorDef("", "", None, 0, True, named=named)
        found = self.names.cursor(name) if self.names is not None else None
        if found is None:
            known: list[str] = []
            names = self.names
            while names is not None:
                known += names.cursors
                names = names.parent
            self.fail("42704", f"there is no cursor {name} here", node, nearest(name, known))
        return found

    def open_cursor(self, node: tree.Open) -> R.Stmt:
        cursor = self.cursor_named(node.cursor, node)
        if node.using and cursor.query is not None:
            self.fail("42601", f"cursor {cursor.name} is over a query that is known, it takes no USING", node)
        descriptor = self._descriptor(node.using_descriptor)
        if descriptor is not None and cursor.query is not None:
            self.fail("42601", f"cursor {cursor.name} is over a query that is known, it takes no USING", node)
        return R.OpenStmt(cursor, tuple(self.expression(u) for u in node.using), descriptor, span=node.span)

    def close_cursor(self, node: tree.Close) -> R.Stmt:
        return R.CloseStmt(self.cursor_named(node.cursor, node), span=node.span)

    def fetch(self, node: tree.Fetch) -> R.Stmt:
        cursor = self.cursor_named(node.cursor, node)
        if node.orientation != "next" and not cursor.scroll:
            self.fail("42601", f"cursor {cursor.name} only goes forward", node, "DECLARE ... SCROLL CURSOR")
        position = None
        if node.position is not None:
            position = self.assign(self.expression(node.position), T.BIGINT, node.position, "the position")
        descriptor = self._descriptor(node.into_descriptor)
        if descriptor is not None:
            return R.FetchStmt(cursor, (), node.orientation, position, (), descriptor, span=node.span)
        if cursor.query is None:
            targets = self._dynamic_targets(node.targets)
            return R.FetchStmt(cursor, (), node.orientation, position, targets, span=node.span)
        receives = self.receives(node.targets, cursor.query, node)
        return R.FetchStmt(cursor, receives, node.orientation, position, span=node.span)

    # -- dynamic SQL

    def _dynamic_targets(self, nodes: tuple[tree.Reference | tree.Element, ...]) -> tuple[R.Target, ...]:
        """Targets whose values are converted when they arrive."""
        for node in nodes:
            if isinstance(node, tree.Element):
                self.fail("42601", "an element of an array takes no value whose type is known only later", node)
        targets = tuple(self.target(t) for t in nodes if isinstance(t, tree.Reference))
        self.violations |= {t.local for t in targets}
        return targets

    def _statement_text(self, node: tree.Expression) -> R.Expr:
        self.writes = True
        return self._text(node, "the text of a statement")

    def _name_value(self, node: tree.Expression, what: str) -> R.Expr:
        return self._text(node, f"the name of a {what}")

    def _text(self, node: tree.Expression, what: str) -> R.Expr:
        bound = self.expression(node)
        if bound.type.family not in ("text", "null"):
            self.fail("42804", f"{what} is a text, this is {bound.type}", node)
        return bound

    def _statement_name(self, name: tree.DynamicName) -> str | R.Expr:
        return name if isinstance(name, str) else self._name_value(name, "statement")

    def prepare(self, node: tree.Prepare) -> R.Stmt:
        return R.PrepareStmt(self._statement_name(node.name), self._statement_text(node.text), span=node.span)

    def execute(self, node: tree.Execute) -> R.Stmt:
        self.writes = True
        using = tuple(self.expression(u) for u in node.using)
        taken, given = self._descriptor(node.using_descriptor), self._descriptor(node.into_descriptor)
        name = self._statement_name(node.name)
        return R.ExecuteStmt(name, None, using, self._dynamic_targets(node.into), taken, given, span=node.span)

    def execute_immediate(self, node: tree.ExecuteImmediate) -> R.Stmt:
        return R.ExecuteStmt("", self._statement_text(node.text), (), (), span=node.span)

    def deallocate(self, node: tree.Deallocate) -> R.Stmt:
        return R.DeallocateStmt(self._statement_name(node.name), span=node.span)

    def allocate_cursor(self, node: tree.AllocateCursor) -> R.Stmt:
        name, statement = self._name_value(node.name, "cursor"), self._statement_name(node.statement)
        return R.AllocateCursorStmt(name, statement, node.scroll, node.hold, node.returns, span=node.span)

    # -- descriptors

    def _descriptor(self, node: tree.Expression | None) -> R.Expr | None:
        """The name of a descriptor: a text."""
        return self._name_value(node, "descriptor") if node is not None else None

    def _whole_number(self, node: tree.Expression | None, what: str) -> R.Expr | None:
        return self.assign(self.expression(node), T.INTEGER, node, what) if node is not None else None

    def allocate_descriptor(self, node: tree.AllocateDescriptor) -> R.Stmt:
        verb = "allocate" if node.allocate else "deallocate"
        room = self._whole_number(node.maximum, "WITH MAX")
        return R.DescriptorStmt(verb, self._name_value(node.name, "descriptor"), room, span=node.span)

    def describe(self, node: tree.Describe) -> R.Stmt:
        cursor = self.cursor_named(node.name, node) if node.what == "cursor" else None
        statement = self._statement_name(node.name) if cursor is None else ""
        return R.DescribeStmt(
            node.what, statement, cursor, self._name_value(node.descriptor, "descriptor"), span=node.span
        )

    def get_descriptor(self, node: tree.GetDescriptor) -> R.Stmt:
        targets = self._dynamic_targets(tuple(t for t, _ in node.items))
        number = self._whole_number(node.number, "the number of an item")
        asked = tuple(item for _, item in node.items)
        return R.DescriptorStmt(
            "get", self._name_value(node.name, "descriptor"), number, (), asked, targets, span=node.span
        )

    def set_descriptor(self, node: tree.SetDescriptor) -> R.Stmt:
        name = self._name_value(node.name, "descriptor")
        if node.number is None:
            count = self._whole_number(node.items[-1][1], "COUNT")
            return R.DescriptorStmt("count", name, count, span=node.span)
        given = []
        for item, value in node.items:
            bound = self.expression(value)
            given.append((item, bound if item == "data" else self.assign(bound, T.INTEGER, value, item.upper())))
        number = self._whole_number(node.number, "the number of an item")
        return R.DescriptorStmt("set", name, number, tuple(given), span=node.span)

    def placeholder(self, node: tree.Placeholder) -> R.Expr:
        """A dynamic parameter: its type is that of the value it is given."""
        if self.parameters is None:
            return super().placeholder(node)
        number = self.placeholders
        self.placeholders += 1
        if number >= len(self.parameters):
            self.fail("07001", f"there are {len(self.parameters)} values for more parameters", node, "USING ...")
        return R.Variable(self.parameters[number], True, f"p{number + 1}", "")


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
