"""Executing a text statement by statement, without judging: what `glimb exec` prints comes from here."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.engine.values.origins import GeneratedCode
from glimb.lang import tree
from glimb.lang.node import Record, replace
from glimb.lang.problem import ProblemError
from glimb.suite.script import BrokenStep, ClockSet, ModelSet, Script, StatementStep, Turn, Wait


class Executed(Record):
    """An outcome with the number, line and text of its statement; `code` is the Python it became, when asked for."""

    number: int
    line: int
    text: str
    outcome: Outcome
    code: str


class Execution:
    """Runs the statements of a script in an engine, one after the other."""

    def __init__(self, engine: Engine, script: Script, show_code: bool = False) -> None:
        self.engine = engine
        self.script = script
        self.show_code = show_code
        self.number = 0
        self.waiting: dict[str, Executed] = {}

    def run(self) -> Iterator[Executed]:
        """Outcomes in the order in which they come about; a statement that waits has two."""
        for step in self.script.flow:
            if isinstance(step, Turn):
                self.engine.session(step.session).set(step.settings)
            elif isinstance(step, Wait):
                yield from (self._ended(o) for o in self.engine.advance(step.seconds))
            elif isinstance(step, ClockSet):
                self.engine.clock = step.moment
            elif isinstance(step, ModelSet):
                self.engine.use_model(step.model)
            else:
                yield from self._step(step)

    def _step(self, step: StatementStep | BrokenStep) -> Iterator[Executed]:
        source = self.script.source
        session = self.engine.session(step.session)
        code = ""
        if isinstance(step, StatementStep):
            outcomes = self.engine.execute(session, step.statement, source)
            code = self._code(step.statement, session) if self.show_code else ""
        else:
            outcomes = [self.engine.refuse(session, ProblemError(*step.problems))]
        self.number += 1
        first = Executed(self.number, source.line(step.span.start), source[step.span], outcomes[0], code)
        if outcomes[0].waiting is not None:
            self.waiting[step.session] = first
        yield first
        for outcome in outcomes[1:]:
            yield self._ended(outcome)

    def _ended(self, outcome: Outcome) -> Executed:
        """A statement that has come out of its wait."""
        return replace(self.waiting.pop(outcome.session), outcome=outcome)

    def _code(self, statement: tree.Statement, session: Session) -> str:
        """The generated Python of a statement; of the routine itself when it makes one."""
        compiler = self.engine.compiler
        try:
            if isinstance(statement, tree.CreateRoutine):
                group = self.engine.catalog.routines.get(statement.name[-1], ())
                return "\n".join(compiler.routines.routine_unit(r, False).text()[0] for r in group if r.facts)
            code: GeneratedCode = compiler.statement(statement, self.script.source, session).code
        except (ProblemError, Condition):
            return ""
        return code.text
