"""Statements that change data or steer transactions: ISO/IEC 9075-2 clauses 14 and 17."""

from __future__ import annotations

from collections.abc import Callable

from glimb.lang import tree
from glimb.lang.parser.queries import QueryParser

ISOLATION_LEVELS = ("read uncommitted", "read committed", "repeatable read", "serializable")


class DataParser(QueryParser):
    """Parses INSERT, UPDATE, DELETE, SELECT INTO, queries as statements, and transaction statements."""

    def query_statement(self) -> tree.Statement:
        """A query, or SELECT ... INTO."""
        start, opening = self.token.start, self.at
        if self.accept("select"):
            distinct = self.accept("distinct")
            if not distinct:
                self.accept("all")
            items = self.comma_list(self._select_item)
            if self.accept("into"):
                targets = self.comma_list(self.reference)
                select = self.rest_of_select(items, distinct, start)
                return tree.SelectInto(self.rest_of_query(select, (), False, start), targets)
            self.at = opening
        return tree.QueryStatement(self.query())

    def reference(self) -> tree.Reference:
        start = self.token.start
        return tree.Reference(self.parts("a variable"), span=self.span_from(start))

    def insert(self) -> tree.Statement:
        self.expect("insert", "into")
        table = self.parts("the name of a table")
        columns: tuple[str, ...] = ()
        if self.is_op("(") and not self._is_query_ahead():
            columns = self.column_names()
        overriding = ""
        if self.accept("overriding"):
            self.expect("system", "value")
            overriding = "system"
        if self.accept("default", "values"):
            return tree.Insert(table, columns, None)
        if not self.is_query() and not self.is_op("("):
            self.wanted.update({"VALUES": None, "SELECT": None})
            self.fail()
        return tree.Insert(table, columns, self.query(), overriding)

    def merge(self) -> tree.Statement:
        self.expect("merge", "into")
        table = self.parts("the name of a table")
        alias = self._alias("using")
        self.expect("using")
        source = self._from_item()
        self.expect("on")
        condition = self.expression()
        clauses = []
        while self.is_word("when"):
            clauses.append(self._merge_clause())
        if not clauses:
            self.fail()
        return tree.Merge(table, alias, source, condition, tuple(clauses))

    def _merge_clause(self) -> tree.MergeClause:
        start = self.advance().start
        matched = not self.accept("not")
        self.expect("matched")
        condition = self.expression() if self.accept("and") else None
        self.expect("then")
        assignments: tuple[tree.Assignment, ...] = ()
        columns: tuple[str, ...] = ()
        values: tuple[tree.Expression, ...] = ()
        if not matched:
            self.expect("insert")
            columns = self.column_names() if self.is_op("(") else ()
            self.expect("values")
            values = self.in_parentheses(lambda: self.comma_list(self.expression))
        elif self.accept("update", "set"):
            assignments = self.comma_list(self._assignment)
        else:
            self.expect("delete")
        span = self.span_from(start)
        return tree.MergeClause(matched, condition, assignments, columns, values, span=span)

    def truncate(self) -> tree.Statement:
        self.expect("truncate", "table")
        table = self.parts("the name of a table")
        restart = self.accept("restart", "identity")
        if not restart:
            self.accept("continue", "identity")
        return tree.Truncate(table, restart)

    def update(self) -> tree.Statement:
        self.expect("update")
        table = self.parts("the name of a table")
        alias = self._alias("set")
        self.expect("set")
        assignments = self.comma_list(self._assignment)
        where, cursor = self._where()
        return tree.Update(table, alias, assignments, where, cursor)

    def _assignment(self) -> tree.Assignment:
        start = self.token.start
        column = self.identifier("the name of a column")
        self.expect_op("=")
        return tree.Assignment(column, self.expression(), span=self.span_from(start))

    def delete(self) -> tree.Statement:
        self.expect("delete", "from")
        table = self.parts("the name of a table")
        alias = self._alias("where")
        where, cursor = self._where()
        return tree.Delete(table, alias, where, cursor)

    def _alias(self, stop: str) -> str:
        if self.accept("as") or (self.is_name() and self.token.value != stop):
            return self.identifier("a correlation name")
        return ""

    def _where(self) -> tuple[tree.Expression | None, str]:
        if not self.accept("where"):
            return None, ""
        if self.accept("current", "of"):
            return None, self.identifier("the name of a cursor")
        return self.expression(), ""

    # -- transactions

    def start_transaction(self) -> tree.Statement:
        self.expect("start", "transaction")
        return tree.StartTransaction(self._modes())

    def set_transaction(self) -> tree.Statement:
        self.expect("set", "transaction")
        modes = self._modes()
        if not modes:
            self.fail()
        return tree.SetTransaction(modes)

    def _modes(self) -> tuple[str, ...]:
        modes: list[str] = []
        while self.is_word("read", "isolation"):
            if self.accept("isolation", "level"):
                modes.append(self.isolation_level())
            else:
                self.expect("read")
                if not self.is_word("only", "write"):
                    self.fail()
                modes.append(f"read {self.advance().value}")
            if not self.accept_op(","):
                break
        return tuple(modes)

    def isolation_level(self) -> str:
        for level in ISOLATION_LEVELS:
            if self.accept(*level.split()):
                return level
        self.wanted = {level.upper(): None for level in ISOLATION_LEVELS}
        self.fail()

    def commit(self) -> tree.Statement:
        self.expect("commit")
        self.accept("work")
        return tree.Commit(self._chain())

    def _chain(self) -> bool:
        if self.accept("and", "no", "chain"):
            return False
        return self.accept("and", "chain")

    def rollback(self) -> tree.Statement:
        self.expect("rollback")
        self.accept("work")
        if self.accept("to"):
            self.accept("savepoint")
            return tree.Rollback(self.identifier("the name of a savepoint"))
        chain = self._chain()
        if self.accept("to"):
            self.accept("savepoint")
            return tree.Rollback(self.identifier("the name of a savepoint"))
        return tree.Rollback("", chain)

    def savepoint(self) -> tree.Statement:
        self.expect("savepoint")
        return tree.Savepoint(self.identifier("a name for the savepoint"))

    def release(self) -> tree.Statement:
        self.expect("release")
        self.accept("savepoint")
        return tree.ReleaseSavepoint(self.identifier("the name of a savepoint"))

    def data_statements(self) -> dict[str, Callable[[], tree.Statement]]:
        """Readers by the word a statement starts with."""
        return {
            "select": self.query_statement,
            "values": self.query_statement,
            "with": self.query_statement,
            "table": self.query_statement,
            "insert": self.insert,
            "update": self.update,
            "delete": self.delete,
            "truncate": self.truncate,
            "merge": self.merge,
            "start": self.start_transaction,
            "commit": self.commit,
            "rollback": self.rollback,
            "savepoint": self.savepoint,
            "release": self.release,
        }
