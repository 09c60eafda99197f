"""Ladders: the record of one case's run, rung by rung, with what every session's rail shows beside each rung."""

from __future__ import annotations

from datetime import datetime
from typing import NamedTuple

from glimb.engine.outcomes.outcome import (
    HeldLock,
    Holding,
    Outcome,
    TransactionEvent,
    locks_of,
)
from glimb.engine.outcomes.steps import Step, last_step, read_steps
from glimb.engine.values.conditions import Condition
from glimb.lang.node import Record
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.suite.expectations.kind import Verdict
from glimb.suite.script import Case
from glimb.suite.spells import Group, Holdings, Spell


class RailState(Record):
    """What a session's rail shows beside a rung: `none`, `open` or `waiting`; events of this rung; what is held."""

    state: str
    events: tuple[TransactionEvent, ...] = ()
    holding: Holding = ([], 0)

    @property
    def locks(self) -> list[HeldLock]:
        return locks_of(self.holding)


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
        """For a statement that waited: the rung (from 0) at which it ended, and the step of the case (setup first)."""
        self.ended_step: int | None = None
        self.verdicts: list[Verdict] = []
        self.rails: dict[str, RailState] = {}
        self.is_setup = False
        self.seconds = 0.0
        """How long it ran, until it ended or began to wait."""
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

    def forget_steps(self) -> None:
        """Give back what was recorded inside, which is large."""
        self._steps = None
        self.outcome.trace = None
        self.last.trace = None


def notes_of(rung: Rung) -> list[tuple[str, str]]:
    """The notes of a rung, each with the routine and line that said it; without, where that was not recorded or lies in
    rounds that are folded."""
    notes = rung.last.notes
    places: list[str] = []

    def look(steps: list[Step], routine: str) -> None:
        for step in steps:
            if step.info is not None and step.info.name == "note":
                places.append(f"{routine} line {step.info.source.line(step.info.span.start)}".strip())
            look(step.steps, step.frame.name if step.frame is not None else routine)

    look(rung.steps, "")
    return list(zip(notes, places if len(places) == len(notes) else [""] * len(notes), strict=True))


class Setting(NamedTuple):
    """What a case was run with: the model of isolation, the virtual clock before its first rung, of a case that runs
    twice the value of what it is run under."""

    model: str
    clock: datetime
    side: str = ""


class Ladder:
    """The record of one run of a case."""

    def __init__(self, case: Case, source: Source, sessions: list[str]) -> None:
        self.case = case
        self.source = source
        self.sessions = sessions
        self.rungs: list[Rung] = []
        self.first_commit = 0
        """How many commits there had been before the case."""
        self.setting: Setting | None = None
        """None until the case has begun."""
        self.met_count = self.slipped = 0
        """How many expectations of its rungs were met, and how many slipped."""
        self.slips: list[Verdict] = []
        """Slips that belong to no rung: an error of the case, a session left waiting."""
        self.problems: list[Problem] = []
        """Wrong lines of the case that were found only when it ran."""
        self.warnings: list[str] = []
        """What the case leaves behind without saying so."""
        self.waiting: dict[str, Rung] = {}
        """The rungs that wait, by session."""
        self.waits: list[Rung] = []
        """All that have waited or do."""
        self.holdings: dict[str, Holdings] = {}

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
        begun = (r for r in self.waits if r.number - 1 <= number)
        return {r.session: r for r in begun if r.ended_at is None or r.ended_at > number}

    def _holdings(self, session: str) -> Holdings:
        found = self.holdings.setdefault(session, Holdings())
        found.read(len(self.rungs), lambda number: self.rungs[number].rails[session].holding)
        return found

    def groups(self, session: str) -> list[Group]:
        """What a session holds and how long, in groups that do not overlap."""
        return [group for group in self._holdings(session).groups if group.start < len(self.rungs)]

    def group_at(self, number: int, session: str) -> Group | None:
        """The locks of which a session may hold some after rung `number` (from 0)."""
        return self._holdings(session).at(number)

    def held_at(self, number: int, session: str) -> list[Spell]:
        """What a session holds after rung `number` (from 0)."""
        group = self.group_at(number, session)
        return [spell for spell in group.spells if spell.start <= number < spell.end] if group is not None else []

    def grown_from(self, other: Ladder, rungs: int) -> None:
        """Know what another ladder knows of so many rungs, which are the first of this one too."""
        self.holdings = {session: Holdings(known, rungs) for session, known in other.holdings.items()}

    def take(self, rungs: list[Rung]) -> None:
        """Begin with rungs that have been run already, for a case with other sessions perhaps."""
        self.rungs += rungs
        self.sessions += dict.fromkeys(rung.session for rung in rungs if rung.session not in self.sessions)
        for rung in rungs:
            for session in self.sessions:
                rung.rails.setdefault(session, RailState("none"))
        self.waits += (rung for rung in rungs if rung.outcome.waiting is not None)
        for verdict in (verdict for rung in rungs if rung.verdicts for verdict in rung.verdicts):
            self._count(verdict)

    def judge(self, rung: Rung, verdict: Verdict) -> None:
        """Say of a rung what became of an expectation."""
        rung.verdicts.append(verdict)
        self._count(verdict)

    def _count(self, verdict: Verdict) -> None:
        if verdict.met:
            self.met_count += 1
        else:
            self.slipped += 1

    @property
    def slip_count(self) -> int:
        return len(self.slips) + self.slipped
