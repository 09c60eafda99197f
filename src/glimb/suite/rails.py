"""Where the locks of a ladder stand beside its rungs: of each session in a few slots, from rung to rung.

In: a ladder to which no rung is added any more. Out: a `RailPlan`, asked slot by slot and rung by rung.
"""

from __future__ import annotations

from bisect import bisect_right
from functools import lru_cache
from typing import NamedTuple

from glimb.engine.outcomes.outcome import HeldLock
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.spells import Group, Spell

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
        for rung in ladder.waits:
            if rung.ended_at is not None:
                self.ended.setdefault(rung.ended_at, []).append(rung)
        self._count = slots
        self._slots: dict[tuple[str, int], list[Slot]] = {}
        """Of the groups that have been asked about, by session and start."""

    def slots(self, session: str, group: Group) -> list[Slot]:
        """Slots for a group of locks of a session, each from the rung that took it to the one before it was let go."""
        slots = self._slots.get((session, group.start))
        if slots is None:
            slots = self._slots[session, group.start] = [Slot([], []) for _ in range(self._count)]
            spells = [spell for spell in group.spells if spell.start < len(self.ladder.rungs)]
            for wanted in (False, True):
                for spell in spells:
                    if (spell.lock.mode in INTENTIONS) is wanted:
                        any(slot.take(spell) for slot in slots)
        return slots

    def used(self, session: str) -> int:
        """How many slots a session needs."""
        groups = [self.slots(session, group) for group in self.ladder.groups(session)]
        return max((sum(bool(slot.spells) for slot in slots) for slots in groups), default=0)

    def bar(self, session: str, slot: int, number: int) -> HeldLock | None:
        """The lock in a slot behind a rung (from 0)."""
        group = self.ladder.group_at(number, session)
        if group is None:
            return None
        starts, spells = self.slots(session, group)[slot]
        at = bisect_right(starts, number) - 1
        return spells[at].at(number) if at >= 0 and number < spells[at].end else None

    def wanted(self, number: int) -> set[tuple[str, str]]:
        """The locks that somebody waits for behind a rung (from 0): table and key."""
        waiting = (rung.outcome.waiting for rung in self.ladder.waits_at(number).values())
        return {(w.table, w.key) for w in waiting if w is not None}


@lru_cache(maxsize=2)
def plan_of(ladder: Ladder) -> RailPlan:
    """The plan of a ladder to which no rung is added any more."""
    return RailPlan(ladder)
