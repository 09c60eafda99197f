"""Routines as functions: bound and written when they are first called, in three forms: bare, recorded, covered."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import ExitStack
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding import bind_routine
from glimb.engine.catalog.objects import STAMPS, Routine
from glimb.engine.codegen.blocks import atomic, limited_access, savepoint_level
from glimb.engine.codegen.builder import Unit, loaded
from glimb.engine.codegen.covering import begin_covering, stopping
from glimb.engine.codegen.protection import statements
from glimb.engine.codegen.registry import statement_writer
from glimb.engine.codegen.verbs import may_go_deeper, out_values
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.compiling.units import Units, waymarks_of
from glimb.engine.outcomes.events import FrameInfo
from glimb.engine.resolved.flow import comes_to_end
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.problems import problem_condition
from glimb.lang import tree
from glimb.lang.node import holds
from glimb.lang.problem import ProblemError


class RoutineCompiler:
    """Keeps `code`, `recorded`, `covered` and `facts` of routines."""

    def __init__(self, units: Units) -> None:
        self.units = units
        self.catalog = units.shared.catalog
        self._binding: set[Routine] = set()

    def reset(self, routine: Routine) -> None:
        def bare(*arguments: Any) -> Any:
            if routine.code is bare:
                routine.code = self._load(routine, False)
            return routine.code(*arguments)

        def recorded(*arguments: Any) -> Any:
            if routine.recorded is recorded:
                routine.recorded = self._load(routine, True)
            return routine.recorded(*arguments)

        def covered(*arguments: Any) -> Any:
            if routine.covered is covered:
                routine.covered = self._load(routine, False)
            return routine.covered(*arguments)

        routine.code, routine.recorded, routine.covered, routine.facts = bare, recorded, covered, None
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
        if routine.native is not None:
            return routine.native
        place = routine.definition.span.start
        routine.is_bound = True
        if self.units.may_be_kept(recording):
            of = f"routine {routine.name} {place} {routine.source.name}"
            code, _ = self.units.kept.unit(of, routine.source, place, lambda: self._written(routine, recording))
        else:
            code, _ = self._written(routine, recording)
        made: Callable[..., Any] = loaded(code, self.units.names(recording))["routine_1"]
        return made

    def _written(self, routine: Routine, recording: bool) -> tuple[GeneratedCode, None]:
        """The code of a routine, which is bound first when it is not yet."""
        if self._facts(routine) is None:
            try:
                self.check(routine)
            except ProblemError as error:
                raise problem_condition(error) from None
        return self.routine_unit(routine, recording).code(), None

    def routine_unit(self, routine: Routine, recording: bool) -> Unit:
        """The generated code of a routine that has been bound."""
        facts = routine.facts
        unit = self.units.make(f"{routine.kind} {routine.name}", routine.source, routine.name, recording)
        unit.waymarks = waymarks_of(routine.definition.body, routine.source)
        locals_ = [t.local for t in facts.parameters]
        function = unit.function("routine_", ["s", "d", *locals_], routine.definition.span)
        writer = statement_writer(function, recording)
        if may_go_deeper(facts.body):
            function.line("if s.stop or d > s.depth_limit: s.enter(d)")
        if recording:
            self._write_entry(writer, routine, facts, locals_)
        writer.out = tuple(t.local for t, p in zip(facts.parameters, routine.parameters, strict=True) if p.mode != "in")
        has_handlers = holds(facts.body, R.Handler)
        if has_handlers:
            function.line("try:")
            function.depth += 1
        if routine.definition.null_call is False:
            tests = " or ".join(f"{local} is None" for local in locals_)
            function.line(f"if {tests or 'False'}: return None")
        dynamic = holds(facts.body, R.ExecuteStmt, R.OpenStmt)
        with ExitStack() as around:
            if dynamic and routine.access:
                around.enter_context(limited_access(writer, tree.ACCESS.index(routine.access)))
            if routine.kind == "function" and facts.writes:
                around.enter_context(atomic(writer))
            elif routine.definition.new_level:
                around.enter_context(savepoint_level(writer))
            if routine.schema != STAMPS:
                begin_covering(unit)
            with stopping(writer):
                statements(writer, (facts.body,))
        if recording:
            function.line("E(END)")
        if routine.kind == "procedure":
            function.line(f"return {out_values(writer)}")
        elif comes_to_end(facts.body):
            function.line(f"no_return({unit.constant(routine.name, 'K')})")
        if has_handlers:
            function.depth -= 1
            function.line("except Condition as error:")
            function.line("    leave_routine(error)")
            function.line("    raise")
        return unit

    def _write_entry(self, writer: StatementWriter, routine: Routine, facts: Any, locals_: list[str]) -> None:
        """What a recorded routine writes when it is entered; when very much has been written, it goes on bare."""
        names, types = tuple(t.name for t in facts.parameters), tuple(t.type for t in facts.parameters)
        definition = routine.definition
        place = routine.source, definition.span, definition.body
        info = FrameInfo(routine.name, *place, names, types, tuple(locals_), facts.body)
        writer.reach = dict(zip(names, locals_, strict=True))
        function = writer.function
        bare = writer.unit.constant(routine, "R")
        arguments = "".join(f", {local}" for local in locals_)
        function.line(f"if len(s.trace) > s.shared.most_events: return {bare}.code(s, d{arguments})")
        function.line("trace = s.trace; E = trace.append")
        values = "".join(f"; E({local})" for local in locals_)
        function.line(f"E({writer.unit.constant(info, 'FRAME_')}); E(d){values}")
