"""Statements that change data or steer transactions: ISO/IEC 9075-2 clauses 14 and 17.

Long on purpose: one grammar. The statements on data and transactions call each other without end, and hand methods on
as what to read next (`comma_list(self.expression)`), so that the parser is one object whose parts stand in files by
clause.
"""

from __future__ import annotations

from collections.abc import Callable

from glimb.lang import tree
from glimb.lang.parser.queries import QueryParser

LOCK_MODES = {
    "share": "S",
    "exclusive": "X",
    "row share": "IS",
    "row exclusive": "IX",
    "share row exclusive": "SIX",
    "share update": "U",
}
ISOLATION_LEVELS = ("read uncommitted", "read committed", "repeatable read", "serializable")


AFTER_NAMES = ("from", "using", "into", "for", "structure", "cursor")
"""Words behind the name of a statement or cursor."""


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
                targets = self.comma_list(self.target)
                select = self.rest_of_select(items, distinct, start)
                return tree.SelectInto(self.rest_of_query(select, (), False, start), targets)
            self.at = opening
        return tree.QueryStatement(self.query())

    def reference(self) -> tree.Reference:
        if self.is_host_variable():
            return self.host_variable()
        start = self.token.start
        return tree.Reference(self.parts("a variable"), span=self.span_from(start))

    def target(self) -> tree.Target:
        """What a value is assigned to (clause 14.15): a variable, a field of one, an element of one."""
        found: tree.Target = self.reference()
        start = found.span.start
        while self.is_op("[", "."):
            if self.accept_op("["):
                found = tree.Element(found, self.expression(), span=self.span_from(start))
                self.expect_op("]")
            else:
                self.advance()
                found = tree.Field(found, self.identifier("the name of a field"), span=self.span_from(start))
        return found

    def insert(self) -> tree.Statement:
        self.expect("insert", "into")
        table = self.parts("the name of a table")
        columns: tuple[str, ...] = ()
        if self.is_op("(") and not self.holds_query(self.at):
            columns = self.column_names()
        overriding = ""
        if self.accept("overriding"):
            if not self.is_word("system", "user"):
                self.fail()
            overriding = self.advance().value
            self.expect("value")
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
        element: tree.Expression | None = None
        if self.is_op("("):
            columns = self.column_names()
        else:
            columns = (self.parts("the name of a column")[-1],)
            if self.accept_op("["):
                element = self.expression()
                self.expect_op("]")
        self.expect_op("=")
        return tree.Assignment(columns, self.expression(), element, span=self.span_from(start))

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

    def dynamic_name(self, what: str) -> tree.DynamicName:
        """The name of a statement or cursor; extended, a text or what stands behind GLOBAL or LOCAL (clause 5.4)."""
        if self.token.kind == "string":
            return self._primary()
        scoped = self.is_word("global", "local") and self.peek().kind in ("name", "quoted", "string")
        if scoped and self.peek().value not in AFTER_NAMES:
            self.advance()
            return self._primary()
        return self.identifier(what)

    def _where(self) -> tuple[tree.Expression | None, tree.DynamicName]:
        if not self.accept("where"):
            return None, ""
        if self.accept("current", "of"):
            return None, self.dynamic_name("the name of a cursor")
        return self.expression(), ""

    # -- transactions

    def start_transaction(self) -> tree.Statement:
        self.expect("start", "transaction")
        return tree.StartTransaction(self._modes())

    def set_transaction(self) -> tree.Statement:
        self.expect("set")
        local = self.accept("local")
        self.expect("transaction")
        modes = self._modes()
        if not modes:
            self.fail()
        return tree.SetTransaction(modes, local)

    def set_constraints(self) -> tree.Statement:
        self.expect("set", "constraints")
        names = () if self.accept("all") else self.comma_list(lambda: self.parts("the name of a constraint"))
        if not self.is_word("deferred", "immediate"):
            self.fail()
        return tree.SetConstraints(names, self.advance().value == "deferred")

    def set_session(self) -> tree.Statement:
        """SET SESSION AUTOCOMMIT ON, SET SESSION CHARACTERISTICS AS TRANSACTION mode, ..."""
        self.expect("set", "session")
        if self.accept("autocommit"):
            if not self.is_word("on", "off"):
                self.fail()
            return tree.SetSession("autocommit", self.advance().value)
        self.expect("characteristics", "as", "transaction")
        modes = self._modes()
        if not modes:
            self.fail()
        return tree.SetSession("characteristics", modes)

    def set_schema(self) -> tree.Statement:
        self.expect("set", "schema")
        return tree.SetSchema(self.expression())

    def lock_table(self) -> tree.Statement:
        self.expect("lock", "table")
        tables = self.comma_list(lambda: self.parts("the name of a table"))
        self.expect("in")
        words = []
        while not self.is_word("mode"):
            if not self.is_word("share", "exclusive", "row", "update"):
                self.fail()
            words.append(self.advance().value)
        self.expect("mode")
        mode = " ".join(words)
        if mode not in LOCK_MODES:
            self.fail(f"there is no lock mode {mode.upper()}", ", ".join(LOCK_MODES).upper())
        return tree.LockTable(tables, LOCK_MODES[mode], self.bounded_wait())

    def _modes(self) -> tuple[str, ...]:
        modes: list[str] = []
        while self.is_word("read", "isolation", "diagnostics"):
            if any(_kind(m) == self.token.value for m in modes):
                self.fail(f"{self.token.value.upper()} is said twice")
            if self.accept("diagnostics", "size"):
                modes.append(f"diagnostics {self.integer()}")
            elif self.accept("isolation", "level"):
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
        chain = self._chain()
        self._no_release()
        return tree.Commit(chain)

    def _no_release(self) -> None:
        self.accept("no", "release")

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
        if not chain and self.accept("to"):
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
            "lock": self.lock_table,
            "merge": self.merge,
            "start": self.start_transaction,
            "commit": self.commit,
            "rollback": self.rollback,
            "savepoint": self.savepoint,
            "release": self.release,
        }


def _kind(mode: str) -> str:
    """The word that a characteristic of transactions begins with."""
    word = mode.split()[0]
    return word if word == "diagnostics" or mode in ("read only", "read write") else "isolation"
