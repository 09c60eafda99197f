"""Schema statements: ISO/IEC 9075-2 clause 11; routines: 9075-4 clause 9.

Long on purpose: one grammar. The schema statements call each other without end, and hand methods on as what to read
next (`comma_list(self.expression)`), so that the parser is one object whose parts stand in files by clause.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from glimb.lang import tree
from glimb.lang.node import replace as replace_node
from glimb.lang.parser.statements import DataParser

DROPPED = (
    *("table", "view", "function", "procedure", "routine", "sequence", "trigger"),
    *("schema", "module", "domain", "type"),
)
ACTIONS = ("no action", "cascade", "restrict", "set null", "set default")


class Characteristics(NamedTuple):
    """What a routine promises; None where nothing is said."""

    deterministic: bool | None = None
    access: str = ""
    specific: str = ""
    result_sets: int | None = None
    null_call: bool | None = None
    new_level: bool = False


class SchemaParser(DataParser):
    """Parses CREATE, ALTER and DROP."""

    def create(self) -> tree.Statement:
        self.expect("create")
        replace = self.accept("or", "replace")
        if self.is_word("function", "procedure"):
            return self._routine(self.advance().value, replace)
        if self.is_word("recursive", "view"):
            recursive = self.accept("recursive")
            self.expect("view")
            return self._view(replace, recursive)
        if replace:
            self.fail()
        if self.accept("trigger"):
            return self._trigger()
        if self.is_word("table", "global", "local"):
            return self._table()
        if self.accept("sequence"):
            return tree.CreateSequence(self.parts("a name for the sequence"), self._sequence_options())
        if self.accept("schema"):
            return self._schema()
        if self.accept("module"):
            return self._module()
        if self.accept("domain"):
            return self._domain()
        self.expect("type")
        name = self.parts("a name for the type")
        self.expect("as")
        source = self.type_name()
        self.accept("final")
        return tree.CreateType(name, source)

    # -- schemas, modules, domains

    def _schema(self) -> tree.Statement:
        """CREATE SCHEMA with the objects that follow it."""
        if self.accept("authorization"):
            name: tuple[str, ...] = (self.identifier("a name for the schema"),)
        else:
            name = self.parts("a name for the schema")
            if self.accept("authorization"):
                self.identifier()
        elements = []
        while self.is_word("create"):
            start = self.token.start
            elements.append(replace_node(self.create(), span=self.span_from(start)))
        return tree.CreateSchema(name, tuple(elements))

    def _module(self) -> tree.Statement:
        """An SQL-server module (9075-4 clause 9.1)."""
        name = self.parts("a name for the module")
        if self.accept("language"):
            self.expect("sql")
        elements: list[tree.Statement] = []
        while self.accept("declare") or self.is_word("function", "procedure"):
            start = self.token.start
            if not self.is_word("function", "procedure", "local"):
                self.fail()
            element = self._table() if self.is_word("local") else self._routine(self.advance().value, False)
            elements.append(replace_node(element, span=self.span_from(start)))
            self.expect_op(";")
        self.expect("end", "module")
        return tree.CreateModule(name, tuple(elements))

    def _domain(self) -> tree.Statement:
        name = self.parts("a name for the domain")
        self.accept("as")
        type_name = self.type_name()
        default = self.operand() if self.accept("default") else None
        constraints = []
        while self.is_word("constraint", "check"):
            constraints.append(self._domain_constraint())
        return tree.CreateDomain(name, type_name, default, tuple(constraints))

    def _domain_constraint(self) -> tree.Constraint:
        start = self.token.start
        name = self._constraint_name()
        self.expect("check")
        return self._check(name, start)

    def _alter_domain(self) -> tree.Statement:
        name = self.parts("the name of a domain")
        if self.accept("set", "default"):
            return tree.AlterDomain(name, "set default", self.operand())
        if self.accept("drop", "default"):
            return tree.AlterDomain(name, "drop default")
        if self.accept("add"):
            return tree.AlterDomain(name, "add constraint", None, self._domain_constraint())
        self.expect("drop", "constraint")
        return tree.AlterDomain(name, "drop constraint", None, None, self.identifier("the name of a constraint"))

    # -- tables and views

    def _table(self) -> tree.Statement:
        temporary = ""
        if self.is_word("global", "local"):
            temporary = self.advance().value
            self.expect("temporary")
        self.expect("table")
        if_absent = self.accept("if", "not", "exists")
        name = self.parts("a name for the table")
        made = self._table_from_query(name) if self._is_query_behind_names() else self._table_elements(name)
        preserve = self.accept("on", "commit", "preserve", "rows")
        if not preserve:
            self.accept("on", "commit", "delete", "rows")
        return replace_node(made, if_absent=if_absent, temporary=temporary, preserve=preserve)

    def _is_query_behind_names(self) -> bool:
        """Whether AS (query) comes, perhaps behind names of columns."""
        ahead = 0
        if self.is_op("("):
            while self.peek(ahead).kind != "end" and not self.is_op(")", ahead=ahead):
                ahead += 1
            ahead += 1
        return self.is_word("as", ahead=ahead)

    def _table_from_query(self, name: tree.Parts) -> tree.CreateTable:
        names = self.column_names() if self.is_op("(") else ()
        self.expect("as")
        query = self.in_parentheses(self.query)
        with_data = not self.accept("with", "no", "data")
        if with_data:
            self.accept("with", "data")
        return tree.CreateTable(name, (), query=query, query_columns=names, with_data=with_data)

    def _table_elements(self, name: tree.Parts) -> tree.CreateTable:
        columns: list[tree.ColumnDefinition] = []
        constraints: list[tree.Constraint] = []
        likes: list[tree.LikeTable] = []
        self.expect_op("(")
        while True:
            if self.is_word("constraint", "primary", "unique", "check", "foreign"):
                constraints.append(self._table_constraint())
            elif self.is_word("like"):
                likes.append(self._like_table(len(columns)))
            else:
                columns.append(self._column())
            if not self.accept_op(","):
                break
        self.expect_op(")")
        if not columns and not likes:
            self.fail("a table needs at least one column")
        return tree.CreateTable(name, tuple(columns), tuple(constraints), False, tuple(likes))

    def _like_table(self, position: int) -> tree.LikeTable:
        start = self.advance().start
        table = self.parts("the name of a table")
        including = []
        while self.is_word("including", "excluding"):
            taken = self.advance().value == "including"
            if not self.is_word("identity", "defaults", "generated"):
                self.fail()
            word = self.advance().value
            if taken:
                including.append(word)
        return tree.LikeTable(table, position, tuple(including), span=self.span_from(start))

    def _column(self) -> tree.ColumnDefinition:
        start = self.token.start
        name = self.identifier("the name of a column")
        typed = not (self.is_word("generated") and self.is_word("always", ahead=1) and self.is_word("as", ahead=2))
        type_name = self.type_name() if typed else tree.UNTYPED
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
                default = self.operand()
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
        if self.is_word("primary", "unique"):
            return self._key(name, start, lambda: (column,))
        if self.accept("check"):
            return self._check(name, start)
        if self.is_word("references"):
            return self._references(name, (column,), start)
        self.fail()

    def _table_constraint(self) -> tree.Constraint:
        start = self.token.start
        name = self._constraint_name()
        if self.is_word("primary", "unique"):
            return self._key(name, start, self.column_names)
        if self.accept("check"):
            return self._check(name, start)
        if self.accept("foreign", "key"):
            return self._references(name, self.column_names(), start)
        self.fail()

    def _key(self, name: str, start: int, columns: Callable[[], tuple[str, ...]]) -> tree.Constraint:
        """PRIMARY KEY or UNIQUE, with the columns where they stand."""
        distinct = True
        if self.accept("primary", "key"):
            kind = "primary"
        else:
            self.expect("unique")
            kind, distinct = "unique", self.nulls_distinct()
        found = tree.Constraint(kind, name, columns(), nulls_distinct=distinct)
        return self._with_characteristics(found, start)

    def _with_characteristics(self, found: tree.Constraint, start: int) -> tree.Constraint:
        """[INITIALLY DEFERRED | IMMEDIATE] [[NOT] DEFERRABLE] [[NOT] ENFORCED] in any order."""
        deferrable = deferred = fixed = False
        enforced = True
        while True:
            if self.accept("initially", "deferred"):
                deferred = True
            elif self.accept("deferrable"):
                deferrable = True
            elif self.accept("not", "enforced"):
                enforced = False
            elif self.accept("not", "deferrable"):
                fixed = True
            elif not (self.accept("initially", "immediate") or self.accept("enforced")):
                break
        if fixed and (deferrable or deferred):
            self.fail("NOT DEFERRABLE goes with neither DEFERRABLE nor INITIALLY DEFERRED", span=self.span_from(start))
        return replace_node(
            found, deferrable=deferrable or deferred, deferred=deferred, enforced=enforced, span=self.span_from(start)
        )

    def _check(self, name: str, start: int) -> tree.Constraint:
        condition = self.in_parentheses(self.expression)
        return self._with_characteristics(tree.Constraint("check", name, (), condition), start)

    def _references(self, name: str, columns: tuple[str, ...], start: int) -> tree.Constraint:
        self.expect("references")
        target = self.parts("the name of a table")
        target_columns = self.column_names() if self.is_op("(") else ()
        actions = {"delete": "no action", "update": "no action"}
        match = "simple"
        if self.accept("match"):
            if not self.is_word("full", "partial", "simple"):
                self.fail()
            match = self.advance().value
        while self.is_word("on"):
            self.advance()
            if not self.is_word("delete", "update"):
                self.fail()
            event = self.advance().value
            actions[event] = self._action()
        found = tree.Constraint(
            "foreign", name, columns, None, target, target_columns, actions["delete"], actions["update"], match
        )
        return self._with_characteristics(found, start)

    def _action(self) -> str:
        for action in ACTIONS:
            if self.accept(*action.split()):
                return action
        self.fail()

    def _view(self, replace: bool, recursive: bool) -> tree.Statement:
        name = self.parts("a name for the view")
        columns = self.column_names() if self.is_op("(") else ()
        self.expect("as")
        query = self.query()
        check = ""
        if self.accept("with"):
            check = "cascaded"
            if self.is_word("local", "cascaded"):
                check = self.advance().value
            self.expect("check", "option")
        return tree.CreateView(name, columns, query, replace, check, recursive)

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
            restrict = not cascade and self.accept("restrict")
            return tree.AlterTable(table, verb, name, cascade=cascade, restrict=restrict)
        self.expect("alter")
        if self.accept("constraint"):
            name, start = self.identifier("the name of a constraint"), self.token.start
            change = self._with_characteristics(tree.Constraint("", name), start)
            return tree.AlterTable(table, "alter constraint", name, constraint=change)
        self.accept("column")
        return self._alter_column(table, self.identifier("the name of a column"))

    def _alter_column(self, table: tree.Parts, name: str) -> tree.Statement:
        if self.accept("set", "default"):
            return tree.AlterTable(table, "set default", name, value=self.operand())
        if self.accept("drop", "default"):
            return tree.AlterTable(table, "drop default", name)
        if self.accept("set", "not", "null"):
            return tree.AlterTable(table, "set not null", name)
        if self.accept("drop", "not", "null"):
            return tree.AlterTable(table, "drop not null", name)
        for verb in ("drop identity", "drop expression"):
            if self.accept(*verb.split()):
                return tree.AlterTable(table, verb, name)
        if self.accept("restart"):
            start = self._signed_integer() if self.accept("with") else None
            return tree.AlterTable(table, "restart", name, start=start)
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
        if self.accept("domain"):
            return self._alter_domain()
        if self.is_word("function", "procedure", "routine"):
            return self._alter_routine(self.advance().value)
        self.expect("sequence")
        name = self.parts("the name of a sequence")
        restart, start = self.accept("restart"), None
        if restart and self.accept("with"):
            start = self._signed_integer()
        return tree.AlterSequence(name, restart, start, self._sequence_options())

    def _alter_routine(self, kind: str) -> tree.Statement:
        name = self.parts(f"the name of a {kind}")
        types = self._parameter_types()
        start = self.at
        found = self._characteristics()
        if self.at == start:
            self.fail()
        self.accept("restrict")
        return tree.AlterRoutine(
            kind, name, types, found.deterministic, found.access, found.result_sets, found.null_call
        )

    def _parameter_types(self) -> tuple[tree.TypeName, ...] | None:
        """(type, ...) behind the name of a routine; None when nothing is there."""
        if not self.accept_op("("):
            return None
        types = () if self.is_op(")") else self.comma_list(self.type_name)
        self.expect_op(")")
        return types

    def drop(self) -> tree.Statement:
        self.expect("drop")
        specific = self.accept("specific")
        if not self.is_word(*(DROPPED[2:5] if specific else DROPPED)):
            self.fail()
        kind = self.advance().value
        if_exists = self.accept("if", "exists")
        name = self.parts(f"the name of a {kind}")
        types = self._parameter_types() if kind in DROPPED[2:5] and not specific else None
        cascade = self.accept("cascade")
        restrict = not cascade and self.accept("restrict")
        return tree.Drop(kind, name, if_exists, cascade, types, specific, restrict)

    # -- triggers

    def _trigger(self) -> tree.Statement:
        name = self.parts("a name for the trigger")
        if not self.is_word("before", "after", "instead"):
            self.fail()
        timing = self.advance().value
        if timing == "instead":
            self.expect("of")
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
        old, new, *tables = (names.get(w, "") for w in ("old", "new", "old table", "new table"))
        body = self.statement()
        return tree.CreateTrigger(
            name, timing, event, columns, table, old, new, each_row, condition, body, tables[0], tables[1]
        )

    def _referencing(self) -> dict[str, str]:
        """OLD and NEW with the names that stand for them."""
        names: dict[str, str] = {}
        while self.is_word("old", "new"):
            which = self.advance().value
            what = "table" if self.accept("table") else "row"
            if what == "row":
                self.accept("row")
            self.accept("as")
            key = which if what == "row" else f"{which} table"
            names[key] = self.identifier(f"a name for the {which} {what}")
        if not names:
            self.fail()
        return names

    # -- routines

    def _routine(self, kind: str, replace: bool) -> tree.CreateRoutine:
        name = self.parts(f"a name for the {kind}")
        self.expect_op("(")
        parameters = () if self.is_op(")") else self.comma_list(lambda: self._parameter(kind))
        self.expect_op(")")
        returns: tree.TypeName | None = None
        table: tuple[tree.ResultColumn, ...] = ()
        if kind == "function":
            self.expect("returns")
            if self.accept("table"):
                table = self.in_parentheses(lambda: self.comma_list(self._field))
            else:
                returns = self.type_name()
        found = self._characteristics()
        body = self.statement()
        return tree.CreateRoutine(
            kind,
            name,
            parameters,
            body,
            returns,
            table,
            replace,
            bool(found.deterministic),
            found.access,
            found.specific,
            found.result_sets or 0,
            found.null_call is not False,
            found.new_level,
        )

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

    def _characteristics(self) -> Characteristics:
        """Routine characteristics in any order: what the routine promises."""
        found = Characteristics()
        while True:
            access = next((words for words in tree.ACCESS if self.accept(*words.split())), "")
            if access:
                found = found._replace(access=access)
            elif self.accept("language"):
                if not self.accept("sql"):
                    self.fail(hint="routines here are written in SQL")
            elif self.accept("not", "deterministic"):
                found = found._replace(deterministic=False)
            elif self.accept("deterministic"):
                found = found._replace(deterministic=True)
            elif self.accept("called", "on", "null", "input"):
                found = found._replace(null_call=True)
            elif self.accept("returns", "null", "on", "null", "input"):
                found = found._replace(null_call=False)
            elif self.accept("specific"):
                found = found._replace(specific=self.parts()[-1])
            elif self.accept("dynamic", "result", "sets"):
                found = found._replace(result_sets=self.integer())
            elif self.is_word("new", "old") and self.is_word("savepoint", ahead=1):
                found = found._replace(new_level=self.advance().value == "new")
                self.expect("savepoint", "level")
            else:
                return found
