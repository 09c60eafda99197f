"""Schema statements: ISO/IEC 9075-2 clause 11; routines: 9075-4 clause 9."""

from __future__ import annotations

from typing import Any

from glimb.lang import tree
from glimb.lang.parser.statements import DataParser

ACCESS = ("no sql", "contains sql", "reads sql data", "modifies sql data")
ACTIONS = ("no action", "cascade", "restrict", "set null", "set default")


class SchemaParser(DataParser):
    """Parses CREATE and DROP."""

    def create(self) -> tree.Statement:
        self.expect("create")
        replace = self.accept("or", "replace")
        if self.is_word("function", "procedure"):
            return self._routine(self.advance().value, replace)
        if self.accept("view"):
            return self._view(replace)
        if not replace and self.accept("trigger"):
            return self._trigger()
        if not replace and self.accept("table"):
            return self._table()
        if not replace and self.accept("sequence"):
            return tree.CreateSequence(self.parts("a name for the sequence"), self._sequence_options())
        self.fail()

    # -- tables and views

    def _table(self) -> tree.Statement:
        if_absent = self.accept("if", "not", "exists")
        name = self.parts("a name for the table")
        columns: list[tree.ColumnDefinition] = []
        constraints: list[tree.Constraint] = []
        self.expect_op("(")
        while True:
            if self.is_word("constraint", "primary", "unique", "check", "foreign"):
                constraints.append(self._table_constraint())
            else:
                columns.append(self._column())
            if not self.accept_op(","):
                break
        self.expect_op(")")
        if not columns:
            self.fail("a table needs at least one column")
        return tree.CreateTable(name, tuple(columns), tuple(constraints), if_absent)

    def _column(self) -> tree.ColumnDefinition:
        start = self.token.start
        name = self.identifier("the name of a column")
        type_name = self.type_name()
        default: tree.Expression | None = None
        not_null = False
        constraints: list[tree.Constraint] = []
        identity: tree.SequenceOptions | None = None
        always = False
        generated: tree.Expression | None = None
        while True:
            if self.accept("generated"):
                always = self.accept("always")
                if not always:
                    self.expect("by", "default")
                self.expect("as")
                if always and self.is_op("("):
                    generated = self.in_parentheses(self.expression)
                else:
                    self.expect("identity")
                    identity = (
                        self.in_parentheses(self._sequence_options) if self.is_op("(") else tree.SequenceOptions()
                    )
                    not_null = True
            elif self.accept("default"):
                default = self._concatenation()
            elif self.accept("not", "null"):
                not_null = True
            elif self.accept("null"):
                continue
            elif self.is_word("constraint", "primary", "unique", "check", "references"):
                constraints.append(self._column_constraint(name))
            else:
                break
        span = self.span_from(start)
        return tree.ColumnDefinition(
            name, type_name, default, not_null, tuple(constraints), identity, always, generated, span=span
        )

    def _constraint_name(self) -> str:
        return self.identifier("a name for the constraint") if self.accept("constraint") else ""

    def _column_constraint(self, column: str) -> tree.Constraint:
        start = self.token.start
        name = self._constraint_name()
        if self.accept("not", "null"):
            return tree.Constraint("not null", name, (column,), span=self.span_from(start))
        if self.accept("primary", "key"):
            return tree.Constraint("primary", name, (column,), span=self.span_from(start))
        if self.accept("unique"):
            return tree.Constraint("unique", name, (column,), span=self.span_from(start))
        if self.accept("check"):
            return self._check(name, start)
        if self.is_word("references"):
            return self._references(name, (column,), start)
        self.fail()

    def _table_constraint(self) -> tree.Constraint:
        start = self.token.start
        name = self._constraint_name()
        if self.accept("primary", "key"):
            return tree.Constraint("primary", name, self.column_names(), span=self.span_from(start))
        if self.accept("unique"):
            return tree.Constraint("unique", name, self.column_names(), span=self.span_from(start))
        if self.accept("check"):
            return self._check(name, start)
        if self.accept("foreign", "key"):
            return self._references(name, self.column_names(), start)
        self.fail()

    def _check(self, name: str, start: int) -> tree.Constraint:
        condition = self.in_parentheses(self.expression)
        return tree.Constraint("check", name, (), condition, span=self.span_from(start))

    def _references(self, name: str, columns: tuple[str, ...], start: int) -> tree.Constraint:
        self.expect("references")
        target = self.parts("the name of a table")
        target_columns = self.column_names() if self.is_op("(") else ()
        actions = {"delete": "no action", "update": "no action"}
        while self.is_word("on"):
            self.advance()
            if not self.is_word("delete", "update"):
                self.fail()
            event = self.advance().value
            actions[event] = self._action()
        return tree.Constraint(
            "foreign",
            name,
            columns,
            None,
            target,
            target_columns,
            actions["delete"],
            actions["update"],
            span=self.span_from(start),
        )

    def _action(self) -> str:
        for action in ACTIONS:
            if self.accept(*action.split()):
                return action
        self.fail()

    def _view(self, replace: bool) -> tree.Statement:
        name = self.parts("a name for the view")
        columns = self.column_names() if self.is_op("(") else ()
        self.expect("as")
        return tree.CreateView(name, columns, self.query(), replace)

    def _sequence_options(self) -> tree.SequenceOptions:
        """Options in any order."""
        start_at = self.token.start
        found: dict[str, Any] = {}
        while True:
            if self.accept("as"):
                found["type"] = self.type_name()
            elif self.accept("start", "with"):
                found["start"] = self._signed_integer()
            elif self.accept("increment", "by"):
                found["increment"] = self._signed_integer()
            elif self.accept("minvalue"):
                found["minimum"] = self._signed_integer()
            elif self.accept("maxvalue"):
                found["maximum"] = self._signed_integer()
            elif self.accept("cycle"):
                found["cycle"] = True
            elif not (self.accept("no", "minvalue") or self.accept("no", "maxvalue") or self.accept("no", "cycle")):
                return tree.SequenceOptions(**found, span=self.span_from(start_at))

    def _alter_table(self) -> tree.Statement:
        table = self.parts("the name of a table")
        if self.accept("add"):
            if self.is_word("constraint", "primary", "unique", "check", "foreign"):
                return tree.AlterTable(table, "add constraint", constraint=self._table_constraint())
            self.accept("column")
            return tree.AlterTable(table, "add column", column=self._column())
        if self.accept("drop"):
            verb = "drop constraint" if self.accept("constraint") else "drop column"
            if verb == "drop column":
                self.accept("column")
            name = self.identifier("a name")
            cascade = self.accept("cascade")
            if not cascade:
                self.accept("restrict")
            return tree.AlterTable(table, verb, name, cascade=cascade)
        self.expect("alter")
        self.accept("column")
        return self._alter_column(table, self.identifier("the name of a column"))

    def _alter_column(self, table: tree.Parts, name: str) -> tree.Statement:
        if self.accept("set", "default"):
            return tree.AlterTable(table, "set default", name, value=self._concatenation())
        if self.accept("drop", "default"):
            return tree.AlterTable(table, "drop default", name)
        if self.accept("set", "not", "null"):
            return tree.AlterTable(table, "set not null", name)
        if self.accept("drop", "not", "null"):
            return tree.AlterTable(table, "drop not null", name)
        self.expect("set", "data", "type")
        return tree.AlterTable(table, "set type", name, type=self.type_name())

    def _signed_integer(self) -> int:
        negative = self.accept_op("-")
        if self.token.kind != "integer" or len(self.token.value) > 19:
            self.wanted = {"a whole number": None}
            self.fail()
        value = int(self.advance().value)
        return -value if negative else value

    def alter(self) -> tree.Statement:
        self.expect("alter")
        if self.accept("table"):
            return self._alter_table()
        self.expect("sequence")
        name = self.parts("the name of a sequence")
        self.expect("restart")
        return tree.AlterSequence(name, self._signed_integer() if self.accept("with") else None)

    def drop(self) -> tree.Statement:
        self.expect("drop")
        if not self.is_word("table", "view", "function", "procedure", "routine", "sequence", "trigger"):
            self.fail()
        kind = self.advance().value
        if_exists = self.accept("if", "exists")
        name = self.parts(f"the name of a {kind}")
        cascade = self.accept("cascade")
        if not cascade:
            self.accept("restrict")
        return tree.Drop(kind, name, if_exists, cascade)

    # -- triggers

    def _trigger(self) -> tree.Statement:
        name = self.parts("a name for the trigger")
        if not self.is_word("before", "after"):
            self.fail()
        timing = self.advance().value
        if not self.is_word("insert", "update", "delete"):
            self.fail()
        event = self.advance().value
        columns: tuple[str, ...] = ()
        if event == "update" and self.accept("of"):
            columns = self.comma_list(lambda: self.identifier("the name of a column"))
        self.expect("on")
        table = self.parts("the name of a table")
        names = self._referencing() if self.accept("referencing") else {}
        each_row = False
        if self.accept("for", "each"):
            if not self.is_word("row", "statement"):
                self.fail()
            each_row = self.advance().value == "row"
        condition = self.in_parentheses(self.expression) if self.accept("when") else None
        old, new = names.get("old", ""), names.get("new", "")
        return tree.CreateTrigger(name, timing, event, columns, table, old, new, each_row, condition, self.statement())

    def _referencing(self) -> dict[str, str]:
        """OLD and NEW with the names that stand for them."""
        names: dict[str, str] = {}
        while self.is_word("old", "new"):
            which = self.advance().value
            if self.is_word("table"):
                self.fail("transition tables are not supported yet")
            self.accept("row")
            self.accept("as")
            names[which] = self.identifier(f"a name for the {which} row")
        if not names:
            self.fail()
        return names

    # -- routines

    def _routine(self, kind: str, replace: bool) -> tree.Statement:
        name = self.parts(f"a name for the {kind}")
        self.expect_op("(")
        parameters = () if self.is_op(")") else self.comma_list(lambda: self._parameter(kind))
        self.expect_op(")")
        returns: tree.TypeName | None = None
        table: tuple[tree.ResultColumn, ...] = ()
        if kind == "function":
            self.expect("returns")
            if self.accept("table"):
                table = self.in_parentheses(lambda: self.comma_list(self._result_column))
            else:
                returns = self.type_name()
        deterministic, access = self._characteristics()
        body = self.statement()
        return tree.CreateRoutine(kind, name, parameters, body, returns, table, replace, deterministic, access)

    def _parameter(self, kind: str) -> tree.Parameter:
        start = self.token.start
        mode = "in"
        if self.is_word("in", "out", "inout"):
            mode = self.advance().value
            if kind == "function" and mode != "in":
                self.fail("a function has IN parameters only")
        name = self.identifier("the name of a parameter")
        type_name = self.type_name()
        default = self.expression() if self.accept("default") else None
        return tree.Parameter(name, type_name, mode, default, span=self.span_from(start))

    def _result_column(self) -> tree.ResultColumn:
        start = self.token.start
        name = self.identifier("the name of a column")
        return tree.ResultColumn(name, self.type_name(), span=self.span_from(start))

    def _characteristics(self) -> tuple[bool, str]:
        """Routine characteristics in any order: what the routine promises."""
        deterministic, access = False, ""
        while True:
            found = next((words for words in ACCESS if self.accept(*words.split())), "")
            if found:
                access = found
            elif self.accept("language"):
                if not self.accept("sql"):
                    self.fail(hint="routines here are written in SQL")
            elif self.accept("not", "deterministic"):
                deterministic = False
            elif self.accept("deterministic"):
                deterministic = True
            elif self.accept("called", "on", "null", "input"):
                continue
            elif self.accept("specific"):
                self.parts()
            elif self.accept("dynamic", "result", "sets"):
                self.integer()
            else:
                return deterministic, access
