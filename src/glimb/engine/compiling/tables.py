"""Checks, defaults, generated columns and triggers of tables as functions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding import TriggerFacts, bind_trigger
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.statements import column_default
from glimb.engine.binding.stored import row_scope
from glimb.engine.catalog.objects import Trigger
from glimb.engine.codegen.blocks import atomic
from glimb.engine.codegen.covering import begin_covering, stopping
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.codegen.protection import statements
from glimb.engine.codegen.registry import statement_writer
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.compiling.units import Units
from glimb.engine.outcomes.events import FrameInfo
from glimb.engine.storage.table import Table
from glimb.engine.values.problems import problem_condition
from glimb.lang import tree
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source

OUR_TABLE = Source("", "constraints")
OUR_TABLE_SPAN = tree.Star().span


@contextmanager
def _fitting(what: str) -> Iterator[None]:
    """Bind a stored text that is needed now: when it no longer fits, that is a condition of the statement."""
    try:
        yield
    except ProblemError as error:
        condition = problem_condition(error)
        condition.message = f"{what} no longer fits: {condition.message}"
        raise condition from None


class TableCompiler:
    """What is made of a table stands in `Table.compiled`, of a trigger in `Trigger.code` and `recorded`."""

    def __init__(self, units: Units) -> None:
        self.units = units
        self.catalog = units.shared.catalog

    def validator(self, table: Table) -> Callable[..., None]:
        """NOT NULL and CHECK of a table as one function: validate(session, depth, row)."""
        unit = self.units.make(f"checks of {table.name}", OUR_TABLE, "", False)
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
        check = table.checks[number]
        binder = binding_for(self.catalog, check.source)
        binder.scope, source = row_scope(binder, table, table.short)
        writer.columns[source] = "r"
        with _fitting(f"constraint {check.name}"):
            return bind_condition(binder, check.condition, "CHECK")

    def check_code(self, table: Table, number: int) -> Callable[..., None]:
        """A deferrable CHECK as a function: check(session, depth, row)."""
        found = table.compiled.checks.get(number)
        if found is None:
            unit = self.units.make(f"check of {table.name}", OUR_TABLE, "", False)
            function = unit.function("check_", ["s", "d", "r"], OUR_TABLE_SPAN)
            writer = ExpressionWriter(function, True)
            condition = self._check_condition(table, number, writer)
            function.line(f"if {writer.false(condition)}: check_failed({unit.constant(table, 'T')}, {number})")
            namespace, _ = unit.compile()
            found = table.compiled.checks[number] = namespace[function.name]
        return found

    def defaults(self, table: Table, columns: tuple[int, ...]) -> Callable[..., tuple[Any, ...]]:
        """The defaults of some columns as one function of session and depth; others would take their numbers."""
        found = table.compiled.defaults.get(columns)
        if found is None:
            unit = self.units.make(f"defaults of {table.name}", OUR_TABLE, "", False)
            function = unit.function("defaults_", ["s", "d"], OUR_TABLE_SPAN)
            writer = ExpressionWriter(function, True)
            binder = binding_for(self.catalog, OUR_TABLE)
            with _fitting(f"a default of table {table.name}"):
                values = [writer.value(column_default(binder, table, n)) for n in columns]
            function.line(f"return ({', '.join(values)},)")
            namespace, _ = unit.compile()
            found = table.compiled.defaults[columns] = namespace[function.name]
        return found

    def trigger(self, trigger: Trigger, written: int) -> Callable[..., Any]:
        """A trigger as a function of the old and new row; a BEFORE trigger gives the new row as it has left it. Where
        very much has been `written` into a recorded run already, it goes on bare, as routines do."""
        if self.units.shared.recording and written <= self.units.shared.most_events:
            trigger.recorded = trigger.recorded or self._trigger(trigger, True)
            return trigger.recorded
        trigger.code = trigger.code or self._trigger(trigger, False)
        return trigger.code

    def _trigger(self, trigger: Trigger, recording: bool) -> Callable[..., Any]:
        with _fitting(f"trigger {trigger.name}"):
            facts = bind_trigger(self.catalog, trigger)
        unit = self.units.make(f"trigger {trigger.name}", trigger.source, trigger.name, recording)
        parameters = ["s", "d", "old", "new", "old_rows=()", "new_rows=()"]
        function = unit.function("trigger_", parameters, trigger.definition.span)
        writer = statement_writer(function, recording)
        begin_covering(unit)
        function.line("if s.stop or d > s.depth_limit: s.enter(d)")
        for locals_, row in ((facts.old, "old"), (facts.new, "new")):
            if locals_:
                function.line(f"{', '.join(locals_)}, row_id = {row}")
        if recording:
            _write_entry(writer, trigger, facts)
        if facts.condition is not None:
            left = "E(END); " if recording else ""
            function.line(f"if not {writer.true(facts.condition)}: {left}return new")
        with atomic(writer), stopping(writer):
            statements(writer, (facts.body,))
        if recording:
            function.line("E(END)")
        function.line(f"return ({', '.join(facts.new)}, row_id)" if facts.new else "return new")
        namespace, _ = unit.compile()
        made: Callable[..., Any] = namespace[function.name]
        return made

    def generator(self, table: Table) -> Callable[..., Any]:
        """The generated columns of a table as one function: generate(session, depth, row) gives the whole row."""
        unit = self.units.make(f"generated columns of {table.name}", OUR_TABLE, "", False)
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


def _write_entry(writer: StatementWriter, trigger: Trigger, facts: TriggerFacts) -> None:
    """What a recorded trigger writes when it is entered: its rows, each column by the name of the row."""
    node, columns = trigger.definition, trigger.table.columns
    rows = [(locals_, name) for locals_, name in ((facts.old, node.old or "old"), (facts.new, node.new or "new"))]
    for locals_, name in rows:
        writer.shown |= {local: f"{name}.{column.name}" for local, column in zip(locals_, columns, strict=False)}
    types = tuple(c.type for locals_, _ in rows for c in columns[: len(locals_)])
    writer.reach = {name: local for local, name in writer.shown.items()}
    info = FrameInfo(
        trigger.name, trigger.source, node.span, node.body, tuple(writer.reach), types, tuple(writer.shown), facts.body
    )
    values = "".join(f"; E({local})" for local in writer.shown)
    writer.function.line("trace = s.trace; E = trace.append")
    writer.function.line(f"E({writer.unit.constant(info, 'FRAME_')}); E(d){values}")
