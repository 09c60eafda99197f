"""The rails of a ladder: of each session its transaction, its locks, its waits, rung by rung. No widgets."""

from __future__ import annotations

from bisect import bisect_right
from functools import lru_cache
from typing import NamedTuple

from glimb.engine.outcomes.outcome import HeldLock
from glimb.suite.ladder import Ladder, Rung, Spell
from glimb.tui import palette as P
from glimb.tui.palette import Palette
from glimb.tui.text import Text

SLOTS = 3
INTENTIONS = ("IS", "IX")
RAIL_WIDTH = SLOTS + 2

EVENT_SIGNS = {"commit": P.COMMIT, "rollback": P.ROLLBACK, "savepoint": P.KNOT, "to savepoint": P.BACK}
"""How a rail shows what happened to its transaction."""


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

    def __init__(self, ladder: Ladder) -> None:
        self.ladder = ladder
        self.ended: dict[int, list[Rung]] = {}
        self.waits = [rung for rung in ladder.rungs if rung.outcome.waiting is not None]
        for rung in self.waits:
            if rung.ended_at is not None:
                self.ended.setdefault(rung.ended_at, []).append(rung)
        self.slots = {session: self._slots(session) for session in ladder.sessions}

    def _slots(self, session: str) -> list[Slot]:
        """Slots for the locks of a session, each from the rung that took it to the one before it was let go."""
        slots = [Slot([], []) for _ in range(SLOTS)]
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


def rails(plan: RailPlan, number: int, at_line: int, colours: Palette) -> Text:
    """The rails of all sessions beside one line of a rung: at its statement (0), behind it (1), and further down."""
    wanted = plan.wanted(number)
    line = Text()
    for at, session in enumerate(plan.ladder.sessions):
        colour = colours.session(at)
        sign, strong = _rail_sign(plan, number, session, at_line > 0)
        line.append(sign, style=f"bold {colour}" if strong else colour)
        for slot in range(SLOTS):
            old = plan.bar(session, slot, number - 1) if number else None
            new = plan.bar(session, slot, number)
            line.append(_lock_sign(old, new, at_line, wanted), style=colour)
        line.append(" ")
    return line


def _lock_sign(old: HeldLock | None, new: HeldLock | None, at_line: int, wanted: set[tuple[str, str]]) -> str:
    if new is not None:
        if old != new and at_line < 2:
            started = P.LOCK_TAKEN if old is None or old[:3] != new[:3] else P.LOCK_CONVERTED
            return P.LOCK_MODES[new.mode] if at_line else started
        return P.LOCK_WANTED if (new.table, new.key) in wanted else P.LOCK_HELD
    return P.LOCK_FREED if old is not None and not at_line else " "


def _rail_sign(plan: RailPlan, number: int, session: str, second: bool) -> tuple[str, bool]:
    """Sign of a rail, and whether it is one that stands out."""
    rung = plan.ladder.rungs[number]
    state = rung.rails[session].state
    plain = {"none": P.RAIL_NONE, "open": P.RAIL_OPEN, "waiting": P.RAIL_WAITING}[state]
    if second:
        return plain, False
    if rung.session != session:
        ended = any(r.session == session for r in plan.ended.get(number, ()))
        return (P.WAKE, True) if ended else (plain, False)
    if rung.outcome.waiting is not None:
        return P.WAIT, True
    for event in reversed(rung.rails[session].events):
        if event.kind in EVENT_SIGNS:
            return EVENT_SIGNS[event.kind], True
    return (P.NODE if state == "open" else P.NODE_NONE), True
