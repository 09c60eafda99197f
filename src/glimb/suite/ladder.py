"""Ladders: the record of one case's run, rung by rung, with what every session's rail shows beside each rung."""

from __future__ import annotations

from glimb.engine.conditions import Condition
from glimb.engine.outcome import HeldLock, Outcome
from glimb.engine.recorder import Step, last_step, read_steps
from glimb.lang.node import Record
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.suite.judge import Verdict
from glimb.suite.script import Case


class RailState(Record):
    """What a session's rail shows beside a rung: `none`, `open` or `waiting`; events of this rung; locks held."""

    state: str
    events: tuple[str, ...]
    locks: tuple[HeldLock, ...]


class Rung:
    """One executed statement of a case (or an end of a wait, or a move of the clock)."""

    def __init__(self, number: int, session: str, text: str, line: int, outcome: Outcome) -> None:
        self.number = number
        self.session = session
        self.text = text
        self.line = line
        self.outcome = outcome
        self.final: Outcome | None = None
        """For a statement that waited: its outcome when it had ended."""
        self.ended_at: int | None = None
        self.verdicts: list[Verdict] = []
        self.rails: dict[str, RailState] = {}
        self.is_setup = False
        self.commits = 0
        """How many commits with changes there have been, this rung's included."""
        self._steps: list[Step] | None = None

    @property
    def last(self) -> Outcome:
        """The outcome in the end."""
        return self.final or self.outcome

    @property
    def slips(self) -> list[Verdict]:
        return [v for v in self.verdicts if not v.met]

    @property
    def steps(self) -> list[Step]:
        """What happened inside, when it was recorded."""
        if self._steps is None:
            self._steps = read_steps(self.last.trace) if self.last.trace else []
            failure = self.last.failure
            if failure is not None and self._steps:
                last_step(self._steps).condition = Condition(failure.sqlstate, failure.message)
        return self._steps


class Ladder:
    """The record of one run of a case."""

    def __init__(self, case: Case, source: Source, sessions: list[str]) -> None:
        self.case = case
        self.source = source
        self.sessions = sessions
        self.rungs: list[Rung] = []
        self.first_commit = 0
        """How many commits there had been before the case."""
        self.slips: list[Verdict] = []
        """Slips that belong to no rung: an error of the case, a session left waiting."""
        self.problems: list[Problem] = []
        """Wrong lines of the case that were found only when it ran."""
        self.warnings: list[str] = []
        """What the case leaves behind without saying so."""

    def version_rung(self, version: int) -> Rung | None:
        """The rung at which a version was committed; None when it is that of the fixture."""
        version -= self.first_commit
        before = 0
        found = None
        for rung in self.rungs:
            if before < rung.commits <= version:
                found = rung
            before = rung.commits
        return found

    def waits_at(self, number: int) -> dict[str, Rung]:
        """Of the sessions that wait after rung `number` (from 0): the rung in which each does."""
        return {
            r.session: r
            for r in self.rungs[: number + 1]
            if r.outcome.waiting is not None and (r.ended_at is None or r.ended_at > number)
        }

    def taken_at(self, number: int, session: str, lock: HeldLock) -> Rung:
        """The rung that took a lock which a session holds after rung `number`, in whatever mode."""
        at = number
        while at and any(k[:3] == lock[:3] for k in self.rungs[at - 1].rails[session].locks):
            at -= 1
        return self.rungs[at]

    @property
    def slip_count(self) -> int:
        return len(self.slips) + sum(len(r.slips) for r in self.rungs)

    @property
    def met_count(self) -> int:
        return sum(v.met for r in self.rungs for v in r.verdicts)
