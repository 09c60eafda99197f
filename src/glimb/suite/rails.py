"""Where the locks of a ladder stand beside its rungs: of each session in a few slots, from rung to rung.

In: a ladder to which no rung is added any more. Out: a `RailPlan`, asked slot by slot and rung by rung.
"""

from __future__ import annotations

from bisect import bisect_right
from functools import lru_cache
from typing import NamedTuple

from glimb.engine.outcomes.outcome import HeldLock
from glimb.suite.ladder import Ladder, Rung, Spell

SLOTS = 3
INTENTIONS = ("IS", "IX")


class Slot(NamedTuple):
    """A line of a rail: the locks that stand in it one after the other, and the rungs at which they begin."""

    starts: list[int]
    spells: list[Spell]

    def take(self, spell: Spell) -> bool:
        """Have a lock stand here, unless something does already."""
        at = bisect_right(self.starts, spell.start)
        if at and self.spells[at - 1].end > spell.start:
            return False
        if at < len(self.starts) and self.starts[at] < spell.end:
            return False
        self.starts.insert(at, spell.start)
        self.spells.insert(at, spell)
        return True


class RailPlan:
    """Which lock stands in which slot of its session's rail: locks on rows and whole tables first, and where there is
    room the intentions on tables that come with them. What is beside a rung is found when it is drawn."""

    def __init__(self, ladder: Ladder, slots: int = SLOTS) -> None:
        self.ladder = ladder
        self.ended: dict[int, list[Rung]] = {}
        self.waits = [rung for rung in ladder.rungs if rung.outcome.waiting is not None]
        for rung in self.waits:
            if rung.ended_at is not None:
                self.ended.setdefault(rung.ended_at, []).append(rung)
        self.slots = {session: self._slots(session, slots) for session in ladder.sessions}

    def _slots(self, session: str, count: int) -> list[Slot]:
        """Slots for the locks of a session, each from the rung that took it to the one before it was let go."""
        slots = [Slot([], []) for _ in range(count)]
        spells = self.ladder.spells(session)
        for wanted in (False, True):
            for spell in spells:
                if (spell.lock.mode in INTENTIONS) is wanted:
                    any(slot.take(spell) for slot in slots)
        return slots

    def bar(self, session: str, slot: int, number: int) -> HeldLock | None:
        """The lock in a slot behind a rung (from 0)."""
        starts, spells = self.slots[session][slot]
        at = bisect_right(starts, number) - 1
        return spells[at].at(number) if at >= 0 and number < spells[at].end else None

    def wanted(self, number: int) -> set[tuple[str, str]]:
        """The locks that somebody waits for behind a rung (from 0): table and key."""
        waiting = (
            r.outcome.waiting
            for r in self.waits
            if r.number - 1 <= number and (r.ended_at is None or r.ended_at > number)
        )
        return {(w.table, w.key) for w in waiting if w is not None}


@lru_cache(maxsize=2)
def plan_of(ladder: Ladder) -> RailPlan:
    """The plan of a ladder to which no rung is added any more."""
    return RailPlan(ladder)
