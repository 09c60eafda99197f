"""From a parsed statement to a Python function, and the memory of what has been compiled.

A statement is compiled once for its text and the version of the catalog; a routine when it is first called, in two
forms: bare, and recorded.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone, bind_routine, bind_trigger
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.changed_views import change_target
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.dynamic import cursor_table
from glimb.engine.binding.sources import view_query
from glimb.engine.binding.statements import column_default
from glimb.engine.binding.stored import row_scope
from glimb.engine.catalog.objects import Routine, Trigger, View
from glimb.engine.codegen.builder import Unit
from glimb.engine.codegen.changes import write_change
from glimb.engine.codegen.command_names import command_of
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.codegen.queries import with_whole_row, write_query
from glimb.engine.codegen.statements import RECORDING_NAMES, StatementWriter, may_go_deeper
from glimb.engine.definition.definer import define, private_copy
from glimb.engine.outcomes.events import MOST_EVENTS, FrameInfo
from glimb.engine.outcomes.outcome import NOTHING, ResultColumn
from glimb.engine.planning.explain import Plan
from glimb.engine.resolved.relations import is_volatile
from glimb.engine.runtime.names import RUNTIME_NAMES
from glimb.engine.storage.table import Table, TableCode
from glimb.engine.transactions.session import Session
from glimb.engine.transactions.shared import Shared
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.problems import problem_condition
from glimb.engine.values.types import BIGINT, Type, varchar
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source

KINDS = {
    tree.QueryStatement: "select",
    tree.Insert: "insert",
    tree.Update: "update",
    tree.Delete: "delete",
    tree.Truncate: "truncate",
    tree.Merge: "merge",
    tree.CreateSequence: "create sequence",
    tree.CreateTrigger: "create trigger",
    tree.AlterTable: "alter table",
    tree.AlterSequence: "alter sequence",
    tree.Call: "call",
    tree.Block: "block",
    tree.CreateTable: "create table",
    tree.CreateView: "create view",
    tree.StartTransaction: "start transaction",
    tree.SetTransaction: "set transaction",
    tree.Commit: "commit",
    tree.Explain: "explain",
    tree.Execute: "execute",
    tree.ExecuteImmediate: "execute",
    tree.CreateSchema: "create schema",
    tree.CreateModule: "create module",
    tree.CreateDomain: "create domain",
    tree.CreateType: "create type",
    tree.AlterDomain: "alter domain",
    tree.AlterRoutine: "alter routine",
    tree.LockTable: "lock table",
    tree.SetConstraints: "set constraints",
    tree.SetSchema: "set schema",
    tree.SetSession: "set session",
    tree.Prepare: "prepare",
    tree.Deallocate: "deallocate",
    tree.AllocateCursor: "allocate cursor",
    tree.AllocateDescriptor: "descriptor",
    tree.SetDescriptor: "descriptor",
    tree.Describe: "describe",
    tree.Savepoint: "savepoint",
    tree.ReleaseSavepoint: "release savepoint",
}
MAX_STATEMENTS = 2_000
OUR_TABLE = Source("", "constraints")


@contextmanager
def _fitting(what: str) -> Iterator[None]:
    """Bind a stored text that is needed now: when it no longer fits, that is a condition of the statement."""
    try:
        yield
    except ProblemError as error:
        condition = problem_condition(error)
        condition.message = f"{what} no longer fits: {condition.message}"
        raise condition from None


class Compiled:
    """A statement ready to run: `run(session, depth, *parameters)` gives a Result. `command` is what the standard calls
    it, `level` what it does with SQL data (a position in ACCESS), `parameters` the number of its dynamic parameters.
    `table` is the one whose rows stand behind the columns of each row, for a cursor to change."""

    __slots__ = ("code", "command", "kind", "level", "parameters", "run", "table")

    def __init__(
        self, kind: str, command: str, run: Callable[..., Any], code: GeneratedCode, level: int, parameters: int
    ) -> None:
        self.kind = kind
        self.command = command
        self.run = run
        self.code = code
        self.level = level
        self.parameters = parameters
        self.table: Table | None = None


def kind_of(node: tree.Statement) -> str:
    """What a statement is called in outcomes."""
    if isinstance(node, tree.CreateRoutine | tree.Drop):
        return f"{'create' if isinstance(node, tree.CreateRoutine) else 'drop'} {node.kind}"
    if isinstance(node, tree.Rollback):
        return "rollback to savepoint" if node.savepoint else "rollback"
    return KINDS.get(type(node), "control")


class Compiler:
    """Compiles for one engine."""

    def __init__(self, shared: Shared) -> None:
        self.shared = shared
        self.catalog = shared.catalog
        self.catalog.on_change = self._forget
        self._statements: dict[int, dict[Any, Compiled]] = {}
        self._binding: set[Routine] = set()

    # -- statements

    def statement(
        self,
        node: tree.Statement,
        source: Source,
        session: Session,
        types: tuple[Type, ...] | None = None,
        for_cursor: bool = False,
    ) -> Compiled:
        """Compile a statement that stands alone, with the types of its dynamic parameters if it may have any; for a
        cursor, with the rows that it may change. Raises ProblemError when it is wrong."""
        known = self._statements.setdefault(self.catalog.version, {})
        recording = self.shared.recording
        place = (source.name, node.span.start) if recording else None
        key = (source[node.span], recording, place, session.schema, types, self.shared.plain, for_cursor)
        compiled = known.get(key)
        if compiled is None:
            compiled = self._compile(node, source, recording, session.schema, types, for_cursor)
            if len(known) >= MAX_STATEMENTS:
                known.clear()
            known[key] = compiled
        return compiled

    def _compile(
        self,
        node: tree.Statement,
        source: Source,
        recording: bool,
        schema: str,
        types: tuple[Type, ...] | None,
        for_cursor: bool = False,
    ) -> Compiled:
        parameters = None if types is None else list(types)
        bound, level, count = bind_alone(self.catalog, node, source, schema, parameters)
        kind = kind_of(node)
        unit = self._unit(kind, source, "", recording)
        names = [f"p{n + 1}" for n in range(len(types or ()))]
        function = unit.function("statement_", ["s", "d", *names], node.span)
        writer = StatementWriter(function, recording)
        if recording:
            function.line("trace = s.trace; E = trace.append")
        table = cursor_table(bound.query) if for_cursor and isinstance(bound, R.QueryStmt) else None
        if isinstance(bound, R.QueryStmt):
            self._write_query(writer, bound, table is not None)
        elif isinstance(bound, R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt | R.InsteadStmt):
            writer.recording = False
            writer.statement(bound)
            function.line("return (), None, count, ()")
        elif isinstance(bound, R.ExplainStmt):
            self._write_plan(writer, bound)
        elif isinstance(bound, R.ExecuteStmt):
            writer.recording = False
            writer.statement(bound)
            function.line("return result1")
        elif isinstance(bound, R.CallStmt):
            self._write_call(writer, bound)
        else:
            writer.recording = recording and not isinstance(bound, R.TransactionStmt | R.SchemaStmt)
            writer.statement(bound)
            function.line(f"return {unit.constant(NOTHING, 'NOTHING')}")
        namespace, code = unit.compile()
        compiled = Compiled(kind, command_of(bound), namespace[function.name], code, level, count)
        compiled.table = table
        return compiled

    def _write_plan(self, writer: StatementWriter, bound: R.ExplainStmt) -> None:
        """EXPLAIN: run the statement with counters at every step, take back what it changed, and give the steps."""
        unit, line = writer.unit, writer.function.line
        unit.plan = Plan()
        writer.recording = False
        line(f"counts = {unit.constant(unit.plan, 'PLAN')}.start()")
        line("mark = len(s.log)")
        line("s.begin()")
        line("try:")
        writer.function.depth += 1
        if isinstance(bound.statement, R.QueryStmt):
            line(f"count = len({writer.rows(bound.statement.query)})")
        else:
            name, _ = write_change(unit, bound.statement)
            line(f"count = {name}(s, d)")
        writer.function.depth -= 1
        line("finally:")
        line("    s.undo_to(mark)")
        columns = (ResultColumn("step", varchar(200)), ResultColumn("rows", BIGINT))
        line(f"rows = {unit.constant(unit.plan, 'PLAN')}.lines(count)")
        line(f"return {unit.constant(columns, 'COLUMNS')}, rows, len(rows), ()")

    def _unit(self, title: str, source: Source, routine: str, recording: bool) -> Unit:
        unit = Unit(title, source, routine, write_query, write_change)
        unit.recording = recording
        unit.plain = self.shared.plain
        unit.constants.update(RUNTIME_NAMES)
        if recording:
            unit.constants.update(RECORDING_NAMES)
        return unit

    def _write_query(self, writer: StatementWriter, bound: R.QueryStmt, with_rows: bool) -> None:
        line, query = writer.function.line, bound.query
        writer.begin(query)
        columns = tuple(ResultColumn(c.name, c.type) for c in query.columns)
        name = writer.unit.constant(columns, "COLUMNS")
        call = writer.rows(with_whole_row(query) if with_rows else query)
        if is_volatile(query):
            line("mark = len(s.log)")
            line("try:")
            line(f"    rows = {call}")
            line("except BaseException:")
            line("    s.undo_to(mark)")
            line("    raise")
        else:
            line(f"rows = {call}")
        line(f"return {name}, rows, len(rows), ()")

    def _write_call(self, writer: StatementWriter, bound: R.CallStmt) -> None:
        writer.recording = False
        writer.result = "out"
        writer.statement(bound)
        named = [(p.name, p.type) for p in bound.routine.parameters if p.mode != "in"]
        shown = [
            f"({writer.unit.constant(name, 'K')}, {writer.type(type_)}, {local})"
            for (name, type_), local in zip(named, writer.out, strict=False)
        ]
        writer.function.line(f"return call_result(s, ({''.join(s + ', ' for s in shown)}))")

    # -- routines

    def _forget(self) -> None:
        """The catalog has changed: what was compiled against it is compiled anew when next needed."""
        for group in self.catalog.routines.values():
            for routine in group:
                if routine.is_bound:
                    self._reset(routine)
        private = (t for s in self.shared.sessions.values() for t in s.private_tables.values())
        for table in (*self.catalog.tables(), *private):
            table.compiled = TableCode()
        for trigger in self.catalog.triggers.values():
            trigger.code = None
        if len(self._statements) > 8:
            self._statements = {v: s for v, s in self._statements.items() if v == self.catalog.version}

    def _reset(self, routine: Routine) -> None:
        def bare(*arguments: Any) -> Any:
            if routine.code is bare:
                routine.code = self._load(routine, False)
            return routine.code(*arguments)

        def recorded(*arguments: Any) -> Any:
            if routine.recorded is recorded:
                routine.recorded = self._load(routine, True)
            return routine.recorded(*arguments)

        routine.code, routine.recorded, routine.facts = bare, recorded, None
        routine.is_bound = False
        routine.bind = lambda: self._facts(routine)

    def _facts(self, routine: Routine) -> Any:
        """Bind a routine unless that is being done already; gives its facts, None when they cannot be had."""
        if routine.facts is None and routine not in self._binding:
            self._binding.add(routine)
            routine.is_bound = True
            try:
                routine.facts = bind_routine(self.catalog, routine)
            except ProblemError:
                return None
            finally:
                self._binding.discard(routine)
        return routine.facts

    def check(self, routine: Routine) -> None:
        """Bind a routine's body; raises ProblemError with all that is wrong in it."""
        routine.is_bound = True
        routine.facts = bind_routine(self.catalog, routine)

    def _load(self, routine: Routine, recording: bool) -> Callable[..., Any]:
        if self._facts(routine) is None:
            try:
                self.check(routine)
            except ProblemError as error:
                raise problem_condition(error) from None
        namespace, _ = self.routine_unit(routine, recording).compile()
        loaded: Callable[..., Any] = namespace["routine_1"]
        return loaded

    def routine_unit(self, routine: Routine, recording: bool) -> Unit:
        """The generated code of a routine that has been bound."""
        facts = routine.facts
        unit = self._unit(f"{routine.kind} {routine.name}", routine.source, routine.name, recording)
        locals_ = [t.local for t in facts.parameters]
        function = unit.function("routine_", ["s", "d", *locals_], routine.definition.span)
        writer = StatementWriter(function, recording)
        if may_go_deeper(facts.body):
            function.line("if s.stop or d > s.depth_limit: s.enter(d)")
        if recording:
            self._write_entry(writer, routine, facts, locals_)
        writer.out = tuple(t.local for t, p in zip(facts.parameters, routine.parameters, strict=True) if p.mode != "in")
        has_handlers = any(isinstance(n, R.Handler) for n in walk(facts.body))
        if has_handlers:
            function.line("try:")
            function.depth += 1
        if routine.definition.null_call is False:
            tests = " or ".join(f"{local} is None" for local in locals_)
            function.line(f"if {tests or 'False'}: return None")
        dynamic = any(isinstance(n, R.ExecuteStmt | R.OpenStmt) for n in walk(facts.body))
        with ExitStack() as around:
            if dynamic and routine.access:
                around.enter_context(writer.limited_access(tree.ACCESS.index(routine.access)))
            if routine.kind == "function" and facts.writes:
                around.enter_context(writer.atomic())
            elif routine.definition.new_level:
                around.enter_context(writer.savepoint_level())
            writer.statement(facts.body)
        if recording:
            function.line("E(END)")
        if routine.kind == "procedure":
            function.line(f"return {writer.out_values()}")
        else:
            function.line(f"no_return({unit.constant(routine.name, 'K')})")
        if has_handlers:
            function.depth -= 1
            function.line("except Condition as error:")
            function.line("    leave_routine(error)")
            function.line("    raise")
        return unit

    def _write_entry(self, writer: StatementWriter, routine: Routine, facts: Any, locals_: list[str]) -> None:
        """What a recorded routine writes when it is entered; when very much has been written, it goes on bare."""
        info = FrameInfo(routine, tuple(t.name for t in facts.parameters), tuple(t.type for t in facts.parameters))
        function = writer.function
        bare = writer.unit.constant(routine, "R")
        arguments = "".join(f", {local}" for local in locals_)
        function.line(f"if len(s.trace) > {MOST_EVENTS}: return {bare}.code(s, d{arguments})")
        function.line("trace = s.trace; E = trace.append")
        values = "".join(f"; E({local})" for local in locals_)
        function.line(f"E({writer.unit.constant(info, 'FRAME_')}); E(d){values}")

    def view_columns(self, view: View) -> tuple[R.Output, ...]:
        """The columns of a view; none when its query has become wrong."""
        try:
            return view_query(binding_for(self.catalog, view.source), view, view.query).columns
        except ProblemError:
            return ()

    def is_updatable(self, view: View) -> bool:
        """Whether rows of a view are rows of one table, so that they can be changed through it."""
        try:
            change_target(binding_for(self.catalog, view.source), (), "", view.query, view)
        except ProblemError:
            return False
        return True

    def statement_now(self, session: Session, node: tree.Statement, source: Source) -> None:
        """Compile and run a statement that another one is made of."""
        self._compile(node, source, False, session.schema, None).run(session, 1)

    def described_columns(
        self, node: tree.Statement, source: Source, session: Session, types: list[Type]
    ) -> tuple[ResultColumn, ...]:
        """The columns of the result of a statement; none when it has no result."""
        try:
            bound = bind_alone(self.catalog, node, source, session.schema, types).statement
        except ProblemError as error:
            raise problem_condition(error) from None
        if not isinstance(bound, R.QueryStmt):
            return ()
        return tuple(ResultColumn(c.name, c.type) for c in bound.query.columns)

    def private_copy(self, session: Session, table: Table) -> Table:
        """A table like a temporary one, empty, for the rows of one session."""
        return private_copy(session, table)

    # -- tables

    def validator(self, table: Table) -> Callable[..., None]:
        """NOT NULL and CHECK of a table as one function: validate(session, depth, row)."""
        unit = self._unit(f"checks of {table.name}", OUR_TABLE, "", False)
        function = unit.function("validate_", ["s", "d", "r"], OUR_TABLE_SPAN)
        name = unit.constant(table, "T")
        writer = ExpressionWriter(function, True)
        for number, column in enumerate(table.columns):
            if column.not_null:
                function.line(f"if r[{number}] is None: null_in({name}, {number})")
        for number, check in enumerate(table.checks):
            if check.enforced and not check.deferrable:
                condition = self._check_condition(table, number, writer)
                function.line(f"if {writer.false(condition)}: check_failed({name}, {number})")
        namespace, _ = unit.compile()
        validate: Callable[..., None] = namespace[function.name]
        return validate

    def _check_condition(self, table: Table, number: int, writer: ExpressionWriter) -> R.Expr:
        """A CHECK over row `r`, bound."""
        binder = binding_for(self.catalog, OUR_TABLE)
        binder.scope, source = row_scope(binder, table, table.short)
        writer.columns[source] = "r"
        with _fitting(f"constraint {table.checks[number].name}"):
            return bind_condition(binder, table.checks[number].condition, "CHECK")

    def check_code(self, table: Table, number: int) -> Callable[..., None]:
        """A deferrable CHECK as a function: check(session, depth, row)."""
        found = table.compiled.checks.get(number)
        if found is None:
            unit = self._unit(f"check of {table.name}", OUR_TABLE, "", False)
            function = unit.function("check_", ["s", "d", "r"], OUR_TABLE_SPAN)
            writer = ExpressionWriter(function, True)
            condition = self._check_condition(table, number, writer)
            function.line(f"if {writer.false(condition)}: check_failed({unit.constant(table, 'T')}, {number})")
            namespace, _ = unit.compile()
            found = table.compiled.checks[number] = namespace[function.name]
        return found

    def defaults(self, table: Table) -> Callable[..., tuple[Any, ...]]:
        """The defaults of a table's columns as one function of session and depth."""
        if table.compiled.defaults is None:
            unit = self._unit(f"defaults of {table.name}", OUR_TABLE, "", False)
            function = unit.function("defaults_", ["s", "d"], OUR_TABLE_SPAN)
            writer = ExpressionWriter(function, True)
            binder = binding_for(self.catalog, OUR_TABLE)
            with _fitting(f"a default of table {table.name}"):
                values = [writer.value(column_default(binder, table, n)) for n in range(len(table.columns))]
            function.line(f"return ({', '.join(values)},)")
            namespace, _ = unit.compile()
            table.compiled.defaults = namespace[function.name]
        return table.compiled.defaults

    def trigger(self, trigger: Trigger) -> Callable[..., Any]:
        """A trigger as a function of the old and new row; a BEFORE trigger gives the new row as it has left it."""
        if trigger.code is None:
            with _fitting(f"trigger {trigger.name}"):
                facts = bind_trigger(self.catalog, trigger)
            unit = self._unit(f"trigger {trigger.name}", trigger.source, trigger.name, False)
            parameters = ["s", "d", "old", "new", "old_rows=()", "new_rows=()"]
            function = unit.function("trigger_", parameters, trigger.definition.span)
            writer = StatementWriter(function, False)
            function.line("if s.stop or d > s.depth_limit: s.enter(d)")
            for locals_, row in ((facts.old, "old"), (facts.new, "new")):
                if locals_:
                    function.line(f"{', '.join(locals_)}, row_id = {row}")
            if facts.condition is not None:
                function.line(f"if not {writer.true(facts.condition)}: return new")
            with writer.atomic():
                writer.statement(facts.body)
            function.line(f"return ({', '.join(facts.new)}, row_id)" if facts.new else "return new")
            namespace, _ = unit.compile()
            trigger.code = namespace[function.name]
        return trigger.code

    def generator(self, table: Table) -> Callable[..., Any]:
        """The generated columns of a table as one function: generate(session, depth, row) gives the whole row."""
        unit = self._unit(f"generated columns of {table.name}", OUR_TABLE, "", False)
        function = unit.function("generate_", ["s", "d", "r"], OUR_TABLE_SPAN)
        writer = ExpressionWriter(function, True)
        binder = binding_for(self.catalog, OUR_TABLE)
        binder.scope, source = row_scope(binder, table, table.short, unchecked=True)
        writer.columns[source] = "r"
        texts = [f"r[{n}]" for n in range(len(table.columns) + 1)]
        for number, column in enumerate(table.columns):
            if column.generated is not None:
                with _fitting(f"column {column.name}"):
                    value = expression(binder, column.generated)
                    value = assign(binder, value, column.type, column.generated, f"column {column.name}")
                texts[number] = writer.value(value)
        function.line(f"return ({', '.join(texts)})")
        namespace, _ = unit.compile()
        generate: Callable[..., Any] = namespace[function.name]
        return generate

    # -- schema statements, called by generated code

    def define(self, session: Session, statement: R.SchemaStmt, source: Source) -> None:
        """Carry out a schema statement: all of it, or nothing."""
        mark = len(session.log)
        try:
            problems: list[Problem] = []
            for made in define(session, source, statement.statement):
                try:
                    if isinstance(made, Routine):
                        self.check(made)
                    else:
                        bind_trigger(self.catalog, made)
                except ProblemError as error:
                    problems += error.problems
            if problems:
                raise ProblemError(*problems)
        except ProblemError as error:
            session.undo_to(mark)
            raise problem_condition(error) from None
        except BaseException:
            session.undo_to(mark)
            raise


OUR_TABLE_SPAN = tree.Star().span
