"""Ladders: the record of one case's run, rung by rung, with what every session's rail shows beside each rung."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import NamedTuple

from glimb.engine.outcomes.outcome import (
    HeldLock,
    Holding,
    Outcome,
    TransactionEvent,
    describe_lock,
    is_key_lock,
    locks_of,
)
from glimb.engine.outcomes.steps import Step, last_step, read_steps
from glimb.engine.values.conditions import Condition
from glimb.lang.node import Record
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.suite.expectations.kind import Verdict
from glimb.suite.script import Case


class RailState(Record):
    """What a session's rail shows beside a rung: `none`, `open` or `waiting`; events of this rung; what is held."""

    state: str
    events: tuple[TransactionEvent, ...] = ()
    holding: Holding = ([], 0)

    @property
    def locks(self) -> list[HeldLock]:
        return locks_of(self.holding)


class Spell:
    """How long a session holds a lock: from the rung at which it is taken to the one before `end`."""

    def __init__(self, lock: HeldLock, start: int) -> None:
        self.lock = lock
        self.start = start
        self.end = start
        self.modes = [(start, lock.mode)]
        """Its modes, each with the rung from which on it is held so."""

    def at(self, rung: int) -> HeldLock:
        """The lock as it is held after a rung (from 0)."""
        mode = next(mode for start, mode in reversed(self.modes) if start <= rung)
        return self.lock._replace(mode=mode)


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
        self.slips: list[Verdict] = []
        """Slips that belong to no rung: an error of the case, a session left waiting."""
        self.problems: list[Problem] = []
        """Wrong lines of the case that were found only when it ran."""
        self.warnings: list[str] = []
        self._spells: dict[str, list[Spell]] = {}
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

    def spells(self, session: str) -> list[Spell]:
        """What a session holds and how long, in the order of the rungs: found from what each rung adds."""
        found = self._spells.get(session)
        if found is None:
            found = self._spells[session] = list(self._read_spells(session))
        return found

    def _read_spells(self, session: str) -> Iterator[Spell]:
        held: dict[tuple[str, str, str], Spell] = {}
        before: Holding = ([], 0)
        for number, rung in enumerate(self.rungs):
            now = rung.rails[session].holding
            if now[0] is before[0]:
                fresh = now[0][before[1] : now[1]]
            else:
                fresh = list(dict(now[0][: now[1]]).items())
                kept = {describe_lock(r, m)[:3] for r, m in fresh}
                for what in [w for w in held if w not in kept]:
                    held.pop(what).end = number
            before = now
            for lock in (describe_lock(r, m) for r, m in fresh if not is_key_lock(r)):
                spell = held.get(lock[:3])
                if spell is None:
                    spell = held[lock[:3]] = Spell(lock, number)
                    yield spell
                elif spell.modes[-1][1] != lock.mode:
                    spell.modes.append((number, lock.mode))
        for spell in held.values():
            spell.end = len(self.rungs)

    def held_at(self, number: int, session: str) -> list[Spell]:
        """What a session holds after rung `number` (from 0)."""
        return [spell for spell in self.spells(session) if spell.start <= number < spell.end]

    @property
    def slip_count(self) -> int:
        return len(self.slips) + sum(len(rung.slips) for rung in self.rungs if rung.verdicts)

    @property
    def met_count(self) -> int:
        return sum(verdict.met for rung in self.rungs if rung.verdicts for verdict in rung.verdicts)
