"""Control statements and compound statements: ISO/IEC 9075-4 clauses 13 and 14, diagnostics: 9075-2 clause 23.

Long on purpose: one grammar. The statements of routines call each other without end, and hand methods on as what to
read next (`comma_list(self.expression)`), so that the parser is one object whose parts stand in files by clause.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cached_property

from glimb.lang import tree
from glimb.lang.node import Node, placed
from glimb.lang.parser.schema import SchemaParser
from glimb.lang.problem import nearest

ORIENTATIONS = ("next", "prior", "first", "last", "absolute", "relative")
LABELLED = ("begin", "loop", "while", "repeat", "for")
GENERAL_CONDITIONS = ("sqlexception", "sqlwarning")
SIGNAL_ITEMS = (
    "message_text class_origin subclass_origin constraint_catalog constraint_schema constraint_name catalog_name "
    "schema_name table_name column_name cursor_name routine_name parameter_name"
).split()
STATEMENT_ITEMS = (
    *("number", "more", "row_count", "command_function", "command_function_code"),
    *("dynamic_function", "dynamic_function_code"),
    *("transaction_active", "transactions_committed", "transactions_rolled_back"),
)
CONDITION_ITEMS = (
    *(*SIGNAL_ITEMS, "returned_sqlstate", "condition_number", "condition_identifier", "message_length"),
    *("message_octet_length", "connection_name", "server_name", "trigger_catalog", "trigger_schema", "trigger_name"),
    *("routine_catalog", "routine_schema", "specific_name", "parameter_mode", "parameter_ordinal_position"),
)
DESCRIPTOR_ITEMS = (
    *("type", "length", "octet_length", "returned_length", "returned_octet_length", "precision", "scale", "nullable"),
    *("indicator", "data", "name", "unnamed", "datetime_interval_code", "level", "cardinality"),
)
SET_ITEMS = ("type", "length", "precision", "scale", "datetime_interval_code", "indicator", "data")
_SQLSTATE = r"[0-9A-Z]{5}\Z"


class RoutineParser(SchemaParser):
    """Parses blocks and control statements, and so every statement."""

    def statement(self) -> tree.Statement:
        self.deeper()
        start = self.token.start
        label = ""
        if self.is_name() and self.is_op(":", ahead=1) and self.is_word(*LABELLED, ahead=2):
            label = self.advance().value
            self.advance()
        node = self._labelled(label) if label or self.is_word(*LABELLED) else self._unlabelled()
        self.nesting -= 1
        return placed(node, self.span_from(start))

    @cached_property
    def _readers(self) -> dict[str, Callable[[], tree.Statement]]:
        """Readers by the word a statement starts with."""
        return {
            **self.data_statements(),
            "create": self.create,
            "alter": self.alter,
            "drop": self.drop,
            "call": self._call,
            "set": self._set,
            "if": self._if,
            "case": self._case_statement,
            "return": self._return,
            "leave": self._leave,
            "iterate": self._iterate,
            "open": self._open,
            "fetch": self._fetch,
            "close": self._close,
            "signal": self._signal,
            "resignal": self._signal,
            "get": self._get,
            "allocate": self._allocate,
            "describe": self._describe,
            "prepare": self._prepare,
            "execute": self._execute,
            "deallocate": self._deallocate,
            "explain": self._explain,
        }

    def _unlabelled(self) -> tree.Statement:
        token = self.token
        reader = self._readers.get(token.sign)
        if reader is not None:
            return reader()
        if self.is_op("("):
            return self.query_statement()
        self.wanted = {"a statement": None}
        hint = ""
        if token.kind == "name":
            hint = self.foreign() or nearest(token.value, [*self._readers, *LABELLED])
        self.fail(hint=hint)

    # -- blocks

    def _labelled(self, label: str) -> tree.Statement:
        word = self.token.value
        if word == "begin":
            return self._block(label)
        if word == "while":
            return self._while(label)
        if word == "repeat":
            return self._repeat(label)
        if word == "for":
            return self._for(label)
        self.expect("loop")
        body = self.statements("end")
        self._end("loop", label)
        return tree.Loop(body, label)

    def _end(self, word: str, label: str) -> None:
        """END [word] [label]; the label must be the one at the start."""
        self.expect("end")
        if word:
            self.expect(word)
        if self.is_name():
            name = self.token
            if name.value != label:
                what = f"the label at the start is {label}" if label else "there is no label at the start"
                self.fail(f"END {word.upper()} {name.value} does not fit: {what}".replace("  ", " "))
            self.advance()

    def statements(self, *stops: str) -> tuple[tree.Statement, ...]:
        """Statements, each with its semicolon, up to one of the words."""
        found: list[tree.Statement] = []
        while True:
            if self.waymarks:
                found += self._waymarks()
            if self.is_word(*stops):
                return tuple(found)
            found.append(self.statement())
            self.expect_op(";")

    def _waymarks(self) -> Iterator[tree.Statement]:
        """The waymarks that stand between the last token and the next one."""
        before, behind = self.tokens[self.at - 1].end, self.token.start
        here = [m for m in self.waymarks if before <= m.start < behind]
        for mark in here:
            self.waymarks.remove(mark)
            yield tree.Waymark(mark.text.lower(), span=mark.span)

    def _block(self, label: str) -> tree.Statement:
        self.expect("begin")
        atomic = self.accept("atomic")
        if not atomic and self.is_word("not") and self.is_word("atomic", ahead=1):
            self.advance()
            self.advance()
        declarations = []
        while self.is_word("declare"):
            declarations.append(self._declaration())
            self.expect_op(";")
        body = self.statements("end")
        self._end("", label)
        return tree.Block(body, tuple(declarations), atomic, label)

    def _declaration(self) -> Node:
        start = self.advance().start
        return placed(self._declared(), self.span_from(start))

    def _declared(self) -> Node:
        if self.is_word("continue", "exit", "undo") and self.is_word("handler", ahead=1):
            kind = self.advance().value
            self.expect("handler", "for")
            conditions = self.comma_list(self._handled_condition)
            return tree.DeclareHandler(kind, conditions, self.statement())
        name = self.identifier("a name")
        if self.accept("condition"):
            return tree.DeclareCondition(name, self._sqlstate() if self.accept("for") else "")
        if self.is_word("sensitive", "insensitive", "asensitive", "scroll", "cursor") or (
            self.is_word("no") and self.is_word("scroll", ahead=1)
        ):
            return self._cursor(name)
        names = [name]
        while self.accept_op(","):
            names.append(self.identifier("a name"))
        type_name = self.type_name()
        default = self.expression() if self.accept("default") else None
        return tree.DeclareVariable(tuple(names), type_name, default)

    def _cursor(self, name: str) -> Node:
        """[SENSITIVE | INSENSITIVE | ASENSITIVE] [[NO] SCROLL] CURSOR [WITH HOLD] [WITH RETURN] FOR query or name."""
        sensitivity, scroll, hold, returns = self._cursor_attributes()
        query, statement = None, ""
        if self.is_query() or self.is_op("("):
            query = self.query()
        else:
            statement = self.identifier("a query or the name of a prepared statement")
        return tree.DeclareCursor(name, query, statement, sensitivity, scroll, hold, returns)

    def _cursor_attributes(self) -> tuple[str, bool, bool, bool]:
        """Sensitivity, whether it scrolls, is held and is returned; up to FOR."""
        sensitivity = self.advance().value if self.is_word("sensitive", "insensitive", "asensitive") else ""
        scroll = self.accept("scroll")
        if not scroll:
            self.accept("no", "scroll")
        self.expect("cursor")
        hold = returns = False
        while self.is_word("with", "without"):
            taken = self.advance().value == "with"
            if self.accept("hold"):
                hold = taken
            else:
                self.expect("return")
                returns = taken
                if self.accept("to"):
                    if not self.is_word("caller", "client"):
                        self.fail()
                    self.advance()
        self.expect("for")
        return sensitivity, scroll, hold, returns

    def _allocate_cursor(self) -> tree.Statement:
        """ALLOCATE name CURSOR FOR statement (9075-2 clause 20.17): the name is a text, or what GLOBAL, LOCAL name."""
        name = self.dynamic_name("the name of a cursor, as a text")
        if isinstance(name, str):
            self.wanted = {"DESCRIPTOR": None, "the name of a cursor, as a text": None}
            self.fail()
        _, scroll, hold, returns = self._cursor_attributes()
        return tree.AllocateCursor(name, self.dynamic_name("the name of a prepared statement"), scroll, hold, returns)

    def _sqlstate(self) -> str:
        self.expect("sqlstate")
        self.accept("value")
        place = self.token.span
        state = self.text("an SQLSTATE in quotes")
        if not re.match(_SQLSTATE, state):
            self.fail(f"'{state}' is no SQLSTATE", "five characters, digits and capital letters", place)
        if state.startswith("00"):
            self.fail("class 00 is success and cannot be signalled or handled", span=place)
        return state

    def _handled_condition(self) -> str:
        if self.is_word("sqlstate"):
            return self._sqlstate()
        if self.is_word(*GENERAL_CONDITIONS):
            return self.advance().value
        if self.accept("not", "found"):
            return "not found"
        return self.identifier("a condition")

    # -- control

    def _call(self) -> tree.Statement:
        self.expect("call")
        name = self.parts("the name of a procedure")
        arguments: tuple[tree.Argument, ...] = ()
        if self.accept_op("("):
            arguments = () if self.is_op(")") else self.comma_list(self.argument)
            self.expect_op(")")
        return tree.Call(name, arguments)

    def _set(self) -> tree.Statement:
        if self.is_word("transaction", ahead=1) or (
            self.is_word("local", ahead=1) and self.is_word("transaction", ahead=2)
        ):
            return self.set_transaction()
        if self.is_word("descriptor", ahead=1) or (
            self.is_word("sql", ahead=1) and self.is_word("descriptor", ahead=2)
        ):
            if not self.is_op("=", ahead=2):
                return self._set_descriptor()
        if not self.is_op("=", ahead=2):
            special = {
                "constraints": self.set_constraints,
                "session": self.set_session,
                "schema": self.set_schema,
            }.get(self.peek().value)
            if special is not None:
                return special()
        self.expect("set")
        if self.is_op("("):
            targets = self.in_parentheses(lambda: self.comma_list(self.target))
            self.expect_op("=")
            return tree.SetVariable(targets, self.expression())
        pairs = self.comma_list(self._assigned_variable)
        if len(pairs) == 1:
            return tree.SetVariable((pairs[0][0],), pairs[0][1])
        return tree.SetVariable(tuple(t for t, _ in pairs), tree.RowValue(tuple(v for _, v in pairs)))

    def _assigned_variable(self) -> tuple[tree.Target, tree.Expression]:
        target = self.target()
        self.expect_op("=")
        return target, self.expression()

    def _if(self) -> tree.Statement:
        self.expect("if")
        arms = [self._arm()]
        while self.accept("elseif"):
            arms.append(self._arm())
        otherwise = self.statements("end") if self.accept("else") else None
        self.expect("end", "if")
        return tree.If(tuple(arms), otherwise)

    def _arm(self) -> tuple[tree.Expression, tuple[tree.Statement, ...]]:
        condition = self.expression()
        self.expect("then")
        return condition, self.statements("elseif", "else", "end")

    def _case_statement(self) -> tree.Statement:
        self.expect("case")
        operand = None if self.is_word("when") else self.expression()
        arms = []
        while self.accept("when"):
            conditions = self.when_conditions(operand is not None)
            self.expect("then")
            arms.append((conditions, self.statements("when", "else", "end")))
        if not arms:
            self.fail()
        otherwise = self.statements("end") if self.accept("else") else None
        self.expect("end", "case")
        return tree.CaseStatement(operand, tuple(arms), otherwise)

    def _while(self, label: str) -> tree.Statement:
        self.expect("while")
        condition = self.expression()
        self.expect("do")
        body = self.statements("end")
        self._end("while", label)
        return tree.While(condition, body, label)

    def _repeat(self, label: str) -> tree.Statement:
        self.expect("repeat")
        body = self.statements("until")
        self.expect("until")
        until = self.expression()
        self._end("repeat", label)
        return tree.Repeat(body, until, label)

    def _for(self, label: str) -> tree.Statement:
        self.expect("for")
        name = cursor = ""
        if self.is_name() and self.is_word("as", ahead=1):
            name = self.identifier()
            self.expect("as")
        sensitivity = ""
        if self.is_name() and self.is_word("cursor", "sensitive", "insensitive", "asensitive", ahead=1):
            cursor = self.identifier()
            sensitivity, _, _, _ = self._cursor_attributes()
        query = self.query()
        self.expect("do")
        body = self.statements("end")
        self._end("for", label)
        return tree.For(name, query, body, cursor, label, sensitivity)

    def _return(self) -> tree.Statement:
        self.expect("return")
        if self.is_word("table") and self.is_op("(", ahead=1):
            self.advance()
            return tree.Return(None, self.in_parentheses(self.query))
        if self.is_op(";") or self.token.kind == "end":
            self.wanted = {"a value": None, **self.wanted}
            return tree.Return()
        if self.is_query():
            return tree.Return(None, self.query())
        return tree.Return(self.expression())

    def _leave(self) -> tree.Statement:
        self.expect("leave")
        return tree.Leave(self.identifier("a label"))

    def _iterate(self) -> tree.Statement:
        self.expect("iterate")
        return tree.Iterate(self.identifier("a label"))

    # -- cursors

    def _open(self) -> tree.Statement:
        self.expect("open")
        name = self.dynamic_name("the name of a cursor")
        using, descriptor = self._using() if self.accept("using") else ((), None)
        return tree.Open(name, using, descriptor)

    def _fetch(self) -> tree.Statement:
        self.expect("fetch")
        orientation, position = "next", None
        if self.is_word(*ORIENTATIONS):
            orientation = self.advance().value
            if orientation in ("absolute", "relative"):
                position = self.operand()
            self.expect("from")
        else:
            self.accept("from")
        cursor = self.dynamic_name("the name of a cursor")
        self.expect("into")
        if self._descriptor_comes():
            return tree.Fetch(cursor, (), orientation, position, self._descriptor())
        return tree.Fetch(cursor, self.comma_list(self.target), orientation, position)

    def _close(self) -> tree.Statement:
        self.expect("close")
        return tree.Close(self.dynamic_name("the name of a cursor"))

    # -- dynamic SQL

    def _prepare(self) -> tree.Statement:
        self.expect("prepare")
        name = self.dynamic_name("a name for the statement")
        self.expect("from")
        return tree.Prepare(name, self.expression())

    def _execute(self) -> tree.Statement:
        self.expect("execute")
        if self.accept("immediate"):
            return tree.ExecuteImmediate(self.expression())
        name = self.dynamic_name("the name of a prepared statement")
        using: tuple[tree.Expression, ...] = ()
        into: tuple[tree.Reference, ...] = ()
        taken: tree.Expression | None = None
        given: tree.Expression | None = None
        while self.is_word("using", "into"):
            if self.advance().value == "using":
                using, taken = self._using()
            elif self._descriptor_comes():
                given = self._descriptor()
            else:
                into = self.comma_list(self.reference)
        return tree.Execute(name, using, into, taken, given)

    def _deallocate(self) -> tree.Statement:
        self.expect("deallocate")
        if self._descriptor_comes():
            return tree.AllocateDescriptor(self._descriptor(), allocate=False)
        self.expect("prepare")
        return tree.Deallocate(self.dynamic_name("the name of a prepared statement"))

    # -- descriptors (9075-2 clauses 20.2 to 20.5, 20.9)

    def _descriptor_comes(self) -> bool:
        return self.is_word("descriptor") or (self.is_word("sql") and self.is_word("descriptor", ahead=1))

    def _descriptor(self) -> tree.Expression:
        """[SQL] DESCRIPTOR and its name, a text."""
        self.accept("sql")
        self.expect("descriptor")
        if self.is_word("local", "global") and not self.is_op(".", ahead=1):
            self.advance()
        return self._primary()

    def _using(self) -> tuple[tuple[tree.Expression, ...], tree.Expression | None]:
        """What stands behind USING: values, or a descriptor."""
        if self._descriptor_comes():
            return (), self._descriptor()
        return self.comma_list(self.expression), None

    def _allocate(self) -> tree.Statement:
        self.expect("allocate")
        if not self._descriptor_comes():
            return self._allocate_cursor()
        name = self._descriptor()
        return tree.AllocateDescriptor(name, self.operand() if self.accept("with", "max") else None)

    def _describe(self) -> tree.Statement:
        self.expect("describe")
        what = self.advance().value if self.is_word("input", "output", "cursor") else "output"
        name = self.dynamic_name(f"the name of a {'cursor' if what == 'cursor' else 'prepared statement'}")
        if what == "cursor":
            self.expect("structure")
        self.expect("using")
        return tree.Describe(what, name, self._descriptor())

    def _get(self) -> tree.Statement:
        if not (self.is_word("descriptor", ahead=1) or self.is_word("sql", ahead=1)):
            return self._get_diagnostics()
        self.expect("get")
        name = self._descriptor()
        number = self.operand() if self.accept("value") else None
        known = DESCRIPTOR_ITEMS if number is not None else ("count", "top_level_count")
        return tree.GetDescriptor(name, number, self.comma_list(lambda: self._diagnostics_item(known)))

    def _set_descriptor(self) -> tree.Statement:
        self.expect("set")
        name = self._descriptor()
        number = self.operand() if self.accept("value") else None
        known = SET_ITEMS if number is not None else ("count",)
        return tree.SetDescriptor(name, number, self.comma_list(lambda: self._set_item(known)))

    def _set_item(self, known: tuple[str, ...]) -> tuple[str, tree.Expression]:
        if not self.is_word(*known):
            self.fail()
        item = self.advance().value
        self.expect_op("=")
        return item, self.expression()

    def _explain(self) -> tree.Statement:
        self.expect("explain")
        return tree.Explain(self.statement())

    # -- conditions and diagnostics

    def _signal(self) -> tree.Statement:
        again = self.advance().value == "resignal"
        state = condition = ""
        if self.is_word("sqlstate"):
            state = self._sqlstate()
        elif not self.is_word("set") and self.is_name():
            condition = self.identifier("a condition")
        elif not again:
            self.wanted["the name of a condition"] = None
            self.fail()
        items: tuple[tuple[str, tree.Expression], ...] = ()
        if self.accept("set"):
            items = self.comma_list(self._signal_item)
            names = [name for name, _ in items]
            twice = next((n for n in names if names.count(n) > 1), "")
            if twice:
                self.fail(f"{twice.upper()} is set twice", span=self.span_from(self.tokens[self.at - 1].start))
        return tree.Signal(again, state, condition, items)

    def _signal_item(self) -> tuple[str, tree.Expression]:
        if not self.is_word(*SIGNAL_ITEMS):
            self.fail()
        name = self.advance().value
        self.expect_op("=")
        return name, self.expression()

    def _get_diagnostics(self) -> tree.Statement:
        self.expect("get")
        stacked = self.accept("stacked")
        if not stacked:
            self.accept("current")
        self.expect("diagnostics")
        condition: tree.Expression | None = None
        known: tuple[str, ...] = STATEMENT_ITEMS
        if self.accept("condition") or self.accept("exception"):
            condition = self.operand()
            known = CONDITION_ITEMS
        if condition is None and self.is_op("=", ahead=1) and self.is_word("all", ahead=2):
            target = self.reference()
            self.advance()
            self.advance()
            part = self.advance().value if self.is_word("statement", "condition") else ""
            condition = self.operand() if part == "condition" and not self.is_op(";") else None
            return tree.GetDiagnostics((), condition, stacked, target, part)
        items = self.comma_list(lambda: self._diagnostics_item(known))
        return tree.GetDiagnostics(items, condition, stacked)

    def _diagnostics_item(self, known: tuple[str, ...]) -> tuple[tree.Reference, str]:
        target = self.reference()
        self.expect_op("=")
        if not self.is_word(*known):
            other = "GET DIAGNOSTICS CONDITION 1" if known is STATEMENT_ITEMS else "GET DIAGNOSTICS"
            hint = f"that is an item of {other}" if self.token.value in (*STATEMENT_ITEMS, *CONDITION_ITEMS) else ""
            self.fail(hint=hint)
        return target, self.advance().value
