"""Code generation for cursors, dynamic SQL and descriptors: what is carried out by objects of the run time."""

from __future__ import annotations

from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.codegen.queries import with_whole_row, write_query
from glimb.lang.node import replace


class CursorWriter(ExpressionWriter):
    """Writes statements about cursors and prepared statements."""

    line: Any
    bounds: dict[str, int]

    def record(
        self, name: str, node: R.Stmt | R.Node, targets: tuple[R.Target, ...] = (), is_change: bool = False
    ) -> None:
        """Say, in a recorded form, that a statement starts."""
        raise NotImplementedError

    def record_values(self, targets: tuple[R.Target, ...]) -> None:
        """Say which values a statement has assigned."""
        raise NotImplementedError

    def begin(self, query: R.Query) -> None:
        """A query that reads a table starts a transaction."""
        raise NotImplementedError

    def rows(self, query: R.Query) -> str:
        """Text of a call that gives the rows of a query."""
        raise NotImplementedError

    def no_data(self, message: str) -> None:
        """The condition 02000."""
        raise NotImplementedError

    def unpack(self, receives: tuple[R.Receive, ...], row: str) -> None:
        """Take a row apart and store its parts."""
        raise NotImplementedError

    # -- cursors

    def _at_hand(self, cursor: R.CursorDef) -> R.CursorDef:
        """A cursor in a local: one that a value names is looked up."""
        if cursor.named is None:
            return cursor
        local = self.function.temp("cursor")
        self.line(f"{local} = named_cursor(s, {self.value(cursor.named)})")
        return replace(cursor, local=local)

    def _statement_name(self, name: str | R.Expr) -> str:
        return self.unit.constant(name, "K") if isinstance(name, str) else f"extended({self.value(name)})"

    def open_cursor(self, node: R.OpenStmt) -> None:
        self.record("open", node)
        cursor = self._at_hand(node.cursor)
        if cursor.query is None:
            name = self.unit.constant(cursor.statement, "K") if cursor.named is None else f"{cursor.local}.statement"
            passed = self._passed(node.using, node.descriptor)
            self.line(f"open_dynamic(s, d, {cursor.local}, {name}, {passed})")
            return
        self.begin(cursor.query)
        query = with_whole_row(cursor.query) if cursor.table is not None else cursor.query
        if not cursor.sensitive:
            self.line(f"{cursor.local}.open(s, {self.rows(query)})")
            return
        name, free = write_query(self.unit, query, "rows", False, self.function.at)
        again = self.function.temp("again")
        self.line(f"{again} = partial({', '.join([name, 's', 'd', *(self.value(e) for e in free)])})")
        self.line(f"{cursor.local}.open(s, {again}(), {again})")

    def _passed(self, values: tuple[R.Expr, ...], descriptor: R.Expr | None) -> str:
        """Values for dynamic parameters, and their types."""
        if descriptor is not None:
            return f"*described_values(s, {self.value(descriptor)})"
        types = self.unit.constant(tuple(v.type for v in values), "TYPES")
        return f"({''.join(f'{self.value(v)}, ' for v in values)}), {types}"

    def fetch(self, node: R.FetchStmt) -> None:
        targets = node.targets or tuple(r.target for r in node.receives if r.target is not None)
        self.record("fetch", node, targets)
        row = self.function.temp("row")
        node = replace(node, cursor=self._at_hand(node.cursor))
        position = f", {self.value(node.position)}" if node.position is not None else ""
        self.line(f"{row} = {node.cursor.local}.fetch({node.orientation!r}{position})")
        self.line(f"s.diagnostics.row_count = {row} is not None and 1 or 0")
        with self.function.indented(f"if {row} is not None:"):
            if node.descriptor is not None:
                self._fill(node.descriptor, f"{node.cursor.local}.kind.columns", row)
            elif node.targets:
                self._take_dynamic(node.targets, f"{row}, {node.cursor.local}.kind.columns")
            else:
                whole = f"[:{len(node.receives)}]" if node.cursor.table is not None else ""
                self.unpack(node.receives, f"{row}{whole}")
        with self.function.indented("else:"):
            which = f"cursor {node.cursor.name}" if node.cursor.name else "the cursor"
            self.no_data(f"{which} has no more rows")
        self.record_values(targets)

    def _take_dynamic(self, targets: tuple[R.Target, ...], row_and_columns: str) -> None:
        """Assign values whose types are known only now."""
        types = self.unit.constant(tuple(t.type for t in targets), "TYPES")
        names = ", ".join(t.local for t in targets)
        self.line(f"{names}, = taken({row_and_columns}, {types})")
        for target in targets:
            self.bounds.pop(target.local, None)
            self.not_null.discard(target.local)

    # -- dynamic SQL

    def prepare(self, node: R.PrepareStmt) -> None:
        self.record("prepare", node)
        self.line(f"prepare(s, {self._statement_name(node.name)}, {self.value(node.text)})")

    def execute(self, node: R.ExecuteStmt) -> None:
        self.record("execute", node, node.targets)
        name = "None"
        if node.text is not None:
            self.line(f"prepare(s, None, {self.value(node.text)})")
        else:
            name = self._statement_name(node.name)
        result = self.function.temp("result")
        self.line(f"{result} = execute_dynamic(s, d, {name}, {self._passed(node.using, node.using_descriptor)})")
        if node.targets or node.into_descriptor is not None:
            with self.function.indented(f"if {result}.rows:"):
                if node.into_descriptor is not None:
                    self._fill(node.into_descriptor, f"{result}.columns", f"one_row({result})")
                else:
                    self._take_dynamic(node.targets, f"one_row({result}), {result}.columns")
            with self.function.indented("else:"):
                self.no_data("EXECUTE found no row")
        self.record_values(node.targets)

    def deallocate(self, node: R.DeallocateStmt) -> None:
        self.record("deallocate", node)
        self.line(f"deallocate(s, {self._statement_name(node.name)})")

    def allocate_cursor(self, node: R.AllocateCursorStmt) -> None:
        self.record("allocate cursor", node)
        attributes = f"{node.scroll}, {node.hold}, {node.returns}"
        self.line(f"allocate_cursor(s, {self.value(node.name)}, {self._statement_name(node.statement)}, {attributes})")

    # -- descriptors

    def _fill(self, descriptor: R.Expr, columns: str, row: str) -> None:
        self.line(f"fill_descriptor(s, {self.value(descriptor)}, {columns}, {row})")

    def descriptor(self, node: R.DescriptorStmt) -> None:
        self.record(f"{node.verb} descriptor", node, node.targets)
        name = self.value(node.name)
        number = self.value(node.number) if node.number is not None else "None"
        if node.verb == "get":
            items = self.unit.constant(node.asked, "ITEMS")
            found = self.function.temp("found")
            self.line(f"{found} = descriptor_items(s, {name}, {number}, {items})")
            with self.function.indented(f"if {found} is not None:"):
                self._take_dynamic(node.targets, f"*{found}")
            with self.function.indented("else:"):
                self.no_data("the descriptor has no such item")
        elif node.verb == "set":
            given = "".join(f"({i!r}, {self.value(v)}, {self.unit.constant(v.type, 'TYPE_')}), " for i, v in node.given)
            self.line(f"set_descriptor(s, {name}, {number}, ({given}))")
        else:
            call = {"allocate": "allocate_descriptor", "count": "set_descriptor_count"}.get(node.verb)
            self.line(f"{call}(s, {name}, {number})" if call else f"deallocate_descriptor(s, {name})")
        self.record_values(node.targets)

    def describe(self, node: R.DescribeStmt) -> None:
        self.record("describe", node)
        if node.cursor is not None:
            self._fill(node.descriptor, f"{self._at_hand(node.cursor).local}.structure()", "None")
            return
        columns = f"described(s, {self._statement_name(node.statement)}, {node.what == 'input'})"
        self._fill(node.descriptor, columns, "None")

    def close_cursor(self, node: R.CloseStmt) -> None:
        self.record("close", node)
        self.line(f"{self._at_hand(node.cursor).local}.close()")
