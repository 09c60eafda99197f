"""Executing a text statement by statement, without judging: what `glimb exec` prints comes from here."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.lang import tree
from glimb.lang.node import Record, replace
from glimb.lang.problem import ProblemError
from glimb.suite.driver import Driver, Told
from glimb.suite.script import Script, StatementStep

if TYPE_CHECKING:
    from glimb.engine.codegen.listing import Listed


class Executed(Record):
    """An outcome with the number, line and text of its statement; `code` is the Python it became, when asked for."""

    number: int
    line: int
    text: str
    outcome: Outcome
    code: list[Listed]


class Execution:
    """Runs the statements of a script in an engine, one after the other."""

    def __init__(self, engine: Engine, script: Script, show_code: bool = False) -> None:
        self.engine = engine
        self.script = script
        self.show_code = show_code

    def run(self) -> Iterator[Executed]:
        """Outcomes in the order in which they come about; a statement that waits has two."""
        driver = Driver(self.engine, self.script.source)
        started: dict[int, Executed] = {}
        for step in self.script.flow:
            for told in driver.run(step):
                if not told.has_waited:
                    started[told.step.span.start] = self._started(told, len(started) + 1)
                yield replace(started[told.step.span.start], outcome=told.outcome)

    def _started(self, told: Told, number: int) -> Executed:
        source, step = self.script.source, told.step
        code: list[Listed] = []
        if self.show_code and isinstance(step, StatementStep):
            code = self._code(step.statement, self.engine.session(step.session))
        return Executed(number, source.line(step.span.start), source[step.span], told.outcome, code)

    def _code(self, statement: tree.Statement, session: Session) -> list[Listed]:
        """The generated Python of a statement; of the routine itself when it makes one."""
        from glimb.engine.codegen.listing import listing

        compiler = self.engine.compiler
        try:
            if isinstance(statement, tree.CreateRoutine):
                group = self.engine.catalog.routines.get(statement.name[-1], ())
                units = [compiler.routines.routine_unit(r, False) for r in group if r.facts]
                return [line for unit in units for line in listing(unit.compile()[1])]
            return listing(compiler.statement(statement, self.script.source, session).code)
        except (ProblemError, Condition):
            return []
