"""StatementWriter that stand alone as functions."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone
from glimb.engine.binding.dynamic import cursor_table
from glimb.engine.binding.outside import Outside
from glimb.engine.codegen.builder import Unit, loaded
from glimb.engine.codegen.changes import write_change
from glimb.engine.codegen.command_names import command_of
from glimb.engine.codegen.data import begin, write_rows
from glimb.engine.codegen.protection import write_statement
from glimb.engine.codegen.queries import with_whole_row
from glimb.engine.codegen.registry import statement_writer
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.compiling.units import Units, waymarks_of
from glimb.engine.outcomes.outcome import NOTHING, ResultColumn
from glimb.engine.planning.explain import Plan
from glimb.engine.resolved.relations import is_volatile
from glimb.engine.storage.table import Table
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.types import BIGINT, varchar
from glimb.lang import tree
from glimb.lang.source import Source

BLOCK = "block"
"""What a block outside a routine is called, where one asks what routine a condition comes from."""
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
    tree.Prepare: "prepare",
    tree.Deallocate: "deallocate",
    tree.AllocateCursor: "allocate cursor",
    tree.AllocateDescriptor: "descriptor",
    tree.SetDescriptor: "descriptor",
    tree.Describe: "describe",
    tree.Savepoint: "savepoint",
    tree.ReleaseSavepoint: "release savepoint",
    tree.SelectInto: "select into",
    tree.SetVariable: "set",
}


class Compiled:
    """A statement ready to run: `run(session, depth, *parameters)` gives a Result. `command` is what the standard calls
    it, `level` what it does with SQL data (a position in ACCESS), `parameters` the number of its dynamic parameters.
    `table` is the one whose rows stand behind the columns of each row, for a cursor to change; `outside` are the names
    of values from outside that it is given behind its parameters."""

    __slots__ = ("code", "command", "kind", "level", "outside", "parameters", "run", "table")

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
        self.outside: tuple[str, ...] = ()

    def given(self, literals: dict[str, Any]) -> Compiled:
        """The same with the values of its literals."""
        run = partial(self.run, **literals)
        same = Compiled(self.kind, self.command, run, self.code, self.level, self.parameters)
        same.table, same.outside = self.table, self.outside
        return same


def kind_of(node: tree.Statement) -> str:
    """What a statement is called in outcomes."""
    if isinstance(node, tree.CreateRoutine | tree.Drop):
        return f"{'create' if isinstance(node, tree.CreateRoutine) else 'drop'} {node.kind}"
    if isinstance(node, tree.Rollback):
        return "rollback to savepoint" if node.savepoint else "rollback"
    return KINDS.get(type(node), "control")


def compile_statement(
    units: Units,
    node: tree.Statement,
    source: Source,
    recording: bool,
    schema: str,
    outside: Outside,
    for_cursor: bool = False,
    of: str = "",
) -> Compiled:
    """Bind a statement, write it and load what is written; `of` is what stands for it, where it may be kept between
    runs."""
    table: Table | None = None

    def written() -> tuple[GeneratedCode, tuple[Any, ...]]:
        nonlocal table
        bound, level, count = bind_alone(units.shared.catalog, node, source, schema, outside)
        kind = bound.kind if isinstance(bound, R.RunStmt) else kind_of(node)
        unit = units.make(kind, source, BLOCK if isinstance(node, tree.Block) else "", recording)
        unit.waymarks = waymarks_of(node, source)
        table = cursor_table(bound.query) if for_cursor and isinstance(bound, R.QueryStmt) else None
        name = _write(unit, node, bound, recording, outside, table is not None)
        return unit.code(), (kind, command_of(bound), name, level, count, tuple(outside.locals))

    code, beside = units.kept.unit(of, source, node.span.start, written) if of else written()
    kind, command, name, level, count, locals_ = beside
    namespace = loaded(code, units.names(recording))
    compiled = Compiled(kind, command, namespace[name], code, level, count)
    compiled.table, compiled.outside = table, locals_
    return compiled


def _write(unit: Unit, node: tree.Statement, bound: R.Stmt, recording: bool, outside: Outside, rows: bool) -> str:
    """Write the function of a statement; gives its name. `rows` says that whole rows stand behind those of a query."""
    names = [f"p{n + 1}" for n in range(len(outside.parameters or ()))]
    names += [*outside.locals.values(), *(f"given_rows_{table}" for table in outside.tables)]
    names += [local for local, _ in outside.literals.values()]
    function = unit.function("statement_", ["s", "d", *names], node.span)
    writer = statement_writer(function, recording)
    for variable, made in outside.derived:
        function.line(f"{variable.local} = {writer.value(made)}")
    for target in outside.given.values():
        if target.local not in names:
            function.line(f"{target.local} = UNGIVEN")
    if recording:
        function.line("trace = s.trace; E = trace.append")
    if isinstance(bound, R.QueryStmt):
        _write_query(writer, bound, rows)
    elif isinstance(bound, R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt | R.InsteadStmt):
        writer.recording = False
        write_statement(writer, bound)
        function.line("return (), None, count, ()")
    elif isinstance(bound, R.ExplainStmt):
        _write_plan(writer, bound)
    elif isinstance(bound, R.ExecuteStmt):
        writer.recording = False
        write_statement(writer, bound)
        _write_given(writer, outside)
        function.line("return result1")
    elif isinstance(bound, R.CallStmt):
        _write_call(writer, bound, outside)
    else:
        writer.recording = recording and not isinstance(bound, R.TransactionStmt | R.SchemaStmt)
        write_statement(writer, bound)
        _write_given(writer, outside)
        counts = isinstance(bound, R.SelectIntoStmt) and not bound.optional
        nothing = unit.constant(NOTHING, "NOTHING")
        function.line("return (), None, s.diagnostics.row_count, ()" if counts else f"return {nothing}")
    return function.name


def _write_given(writer: StatementWriter, outside: Outside) -> None:
    """Give host variables the values that the statement has for them."""
    if outside.given:
        targets = outside.given.items()
        shown = [f"({name!r}, {writer.type(t.type)}, {t.local})" for name, t in targets]
        writer.function.row("s.asides.hosts.give(", shown)


def _write_plan(writer: StatementWriter, bound: R.ExplainStmt) -> None:
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
        line(f"count = len({write_rows(writer, bound.statement.query)})")
    else:
        name, _ = write_change(unit, bound.statement)
        line(f"count = {name}(s, d)")
    writer.function.depth -= 1
    line("finally:")
    line("    s.undo_to(mark)")
    columns = (ResultColumn("step", varchar(200)), ResultColumn("rows", BIGINT))
    line(f"rows = {unit.constant(unit.plan, 'PLAN')}.lines(count)")
    line(f"return {unit.constant(columns, 'COLUMNS')}, rows, len(rows), ()")


def _write_query(writer: StatementWriter, bound: R.QueryStmt, with_rows: bool) -> None:
    line, query = writer.function.line, bound.query
    begin(writer, query)
    columns = tuple(ResultColumn(c.name, c.type) for c in query.columns)
    name = writer.unit.constant(columns, "COLUMNS")
    call = write_rows(writer, with_whole_row(query) if with_rows else query)
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


def _write_call(writer: StatementWriter, bound: R.CallStmt, outside: Outside) -> None:
    writer.recording = False
    writer.result = "out"
    write_statement(writer, bound)
    _write_given(writer, outside)
    named = [(p.name, p.type) for p in bound.routine.parameters if p.mode != "in"]
    shown = [
        f"({writer.unit.constant(name, 'K')}, {writer.type(type_)}, {local})"
        for (name, type_), local in zip(named, writer.out, strict=False)
    ]
    writer.function.line(f"return call_result(s, ({''.join(s + ', ' for s in shown)}))")
