"""Executing a text statement by statement, judged only if that is wanted: what `glimb exec` prints comes from here."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.lang import tree
from glimb.lang.node import Record, replace
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.driver import Driver, Told
from glimb.suite.script import BrokenStep, Case, Script, StatementStep, Step

if TYPE_CHECKING:
    from glimb.engine.codegen.listing import Listed
    from glimb.suite.case_run import CaseRun
    from glimb.suite.ladder import Ladder
    from glimb.suite.letting import Lets


class Executed(Record):
    """An outcome with the number, line and text of its statement; `code` is the Python it became, when asked for."""

    number: int
    line: int
    text: str
    outcome: Outcome
    code: list[Listed]


class Manner(NamedTuple):
    """How a text is executed: `lines` (first and last, from 1) are those whose statements run, `stop` ends it at the
    first condition that leaves a statement, `judge` looks at its expectations."""

    show_code: bool = False
    judge: bool = False
    stop: bool = False
    lines: tuple[int, int] | None = None


class Execution:
    """Runs the statements of texts in an engine, one after the other."""

    def __init__(self, engine: Engine, source: Source, manner: Manner = Manner(), lets: Lets | None = None) -> None:
        self.engine = engine
        self.manner = manner
        self.has_failed = False
        """Whether a condition has left a statement."""
        self.problems: list[Problem] = []
        """Wrong lines that were found when it ran: taken away by whoever tells of them."""
        self._number = 0
        self._started: dict[int, Executed] = {}
        # A ladder keeps all outcomes: it is made only where it is wanted, so that a long text takes no memory.
        self._case = _judging(engine, source, lets or {}) if manner.judge else None
        self._driver = self._case.driver if self._case is not None else Driver(engine, source, lets=lets)
        self._driver.start(None, "")

    def run(self, script: Script) -> Iterator[Executed]:
        """Outcomes in the order in which they come about; a statement that waits has two."""
        for step in script.flow:
            if not self._is_meant(step, script.source):
                continue
            for told in self._carry_out(step, script.source):
                if not told.has_waited:
                    self._started[id(told.step)] = self._start(told, script.source)
                yield replace(self._started[id(told.step)], outcome=told.outcome)
                self.has_failed = self.has_failed or told.outcome.failure is not None
            if self.has_failed and self.manner.stop:
                return

    def finish(self) -> Ladder | None:
        """There is no further text: a ladder of all that was judged, if that was wanted."""
        if self._case is None:
            return None
        self._case.finish()
        return self._case.ladder

    def _carry_out(self, step: Step, source: Source) -> list[Told]:
        if self._case is not None:
            told = self._case.step(step, source=source)
            self.problems += self._case.ladder.problems
            self._case.ladder.problems.clear()
            return told
        self._driver.source = source
        try:
            return self._driver.run(step)
        except ProblemError as error:
            self.problems += error.problems
            return []

    def _is_meant(self, step: Step, source: Source) -> bool:
        """Whether a step is among the lines that run; sessions' settings, the model and the clock count always."""
        if self.manner.lines is None or not isinstance(step, StatementStep | BrokenStep):
            return True
        first, last = self.manner.lines
        return source.line(step.span.start) <= last and source.line(max(step.span.start, step.span.end - 1)) >= first

    def _start(self, told: Told, source: Source) -> Executed:
        step = told.step
        code: list[Listed] = []
        if self.manner.show_code and isinstance(step, StatementStep):
            code = self._code(step.statement, source, self.engine.session(step.session))
        self._number += 1
        line = source.line(step.span.start)
        return Executed(self._number, line, source[step.span], told.outcome, code)

    def _code(self, statement: tree.Statement, source: Source, session: Session) -> list[Listed]:
        """The generated Python of a statement; of the routine itself when it makes one."""
        from glimb.engine.codegen.listing import listing

        compiler = self.engine.compiler
        try:
            if isinstance(statement, tree.CreateRoutine):
                catalog = self.engine.catalog
                group = catalog.routines.get(catalog.key("routines", statement.name, session.schema), ())
                units = [compiler.routines.routine_unit(r, False) for r in group if r.bind() is not None]
                return [line for unit in units for line in listing(unit.compile()[1])]
            return listing(compiler.code_of(statement, source, session))
        except (ProblemError, Condition):
            return []


def _judging(engine: Engine, source: Source, lets: Lets) -> CaseRun:
    from glimb.suite.case_run import CaseRun  # for the start: most texts are not judged

    return CaseRun(engine, source, Case("", Span(0, 0)), "", lets)
