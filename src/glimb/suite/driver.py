"""Steps of a script in an engine: the one place where settings, waits, the clock and the model are applied.

`run`, `exec` and `weave` all drive scripts by it, each with its own use for what is told.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.session import Session
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.script import BrokenStep, ClockSet, Let, ModelSet, StampStep, StatementStep, Step, Turn, Twin, Wait

if TYPE_CHECKING:
    from glimb.suite.letting import Lets

Executable = StatementStep | BrokenStep


class Told(NamedTuple):
    """The outcome of a statement: its first one (it may wait), or the one after its wait."""

    step: Executable
    outcome: Outcome
    has_waited: bool


class Driver:
    """Runs the steps of one case or text, in any order that it is given."""

    def __init__(
        self, engine: Engine, source: Source, twin: Twin | None = None, side: str = "", lets: Lets | None = None
    ) -> None:
        self.engine = engine
        self.source = source
        self.lets = lets or {}
        self.setting, self.side = (twin.setting, side) if twin is not None else ("", "")
        self.waiting: dict[str, Executable] = {}
        """The statement in which each session waits."""

    def start(self, clock: datetime | None, model: str) -> None:
        """Set what a case says of its clock and model, and host variables; of a twin over models, the side decides."""
        self.engine.shared.hosts.update(self.lets)
        if clock is not None:
            self.engine.clock = clock
        if self.setting == "model":
            model = self.side
        if model:
            self.engine.use_model(model)

    def session(self, name: str) -> Session:
        """A session, with the setting under which this side of a twin runs."""
        session = self.engine.session(name)
        if self.setting == "isolation":
            session.set({"isolation": self.side})
        elif self.setting == "autocommit":
            session.set({"autocommit": self.side == "on"})
        return session

    def run(self, step: Step | ClockSet | ModelSet) -> list[Told]:
        """Carry a step out; gives what it brings about, in order: first of the statement itself, then of those that it
        lets go on."""
        if isinstance(step, StatementStep | BrokenStep):
            return self._execute(step)
        if isinstance(step, Wait):
            return [self._ended(outcome) for outcome in self.engine.advance(step.seconds)]
        if isinstance(step, Turn):
            self.engine.session(step.session).set(step.settings)
            self.session(step.session)
        elif isinstance(step, Let):
            from glimb.suite.letting import let  # for the start: few texts set any

            let(self.engine, self.source, step, self.lets)
        elif isinstance(step, StampStep):
            from glimb.suite.stamps import read_stamping, stamp_rows

            stamp_rows(self.engine, read_stamping(step.text), self.source, step.span)
        elif isinstance(step, ClockSet):
            self.engine.clock = step.moment
        else:
            self.engine.use_model(step.model)
        return []

    def _execute(self, step: Executable) -> list[Told]:
        session = self.session(step.session)
        if isinstance(step, StatementStep):
            first, *others = self.engine.execute(session, step.statement, self.source)
        else:
            first, others = self.engine.refuse(session, ProblemError(*step.problems)), []
        if first.waiting is not None:
            self.waiting[step.session] = step
        return [Told(step, first, False), *(self._ended(outcome) for outcome in others)]

    def _ended(self, outcome: Outcome) -> Told:
        return Told(self.waiting.pop(outcome.session), outcome, True)
