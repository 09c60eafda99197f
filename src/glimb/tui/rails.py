"""The rails of a ladder: of each session its transaction, its locks, its waits, rung by rung. No widgets."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import HeldLock
from glimb.suite.rails import SLOTS, RailPlan
from glimb.tui import palette as P
from glimb.tui.palette import Palette
from glimb.tui.text import Text

RAIL_WIDTH = SLOTS + 2

EVENT_SIGNS = {"commit": P.COMMIT, "rollback": P.ROLLBACK, "savepoint": P.KNOT, "to savepoint": P.BACK}
"""How a rail shows what happened to its transaction."""


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
