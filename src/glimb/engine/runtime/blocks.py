"""What generated blocks call: atomic contexts, CASE without an arm, notes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glimb.engine.values.conditions import Condition

if TYPE_CHECKING:
    from glimb.engine.transactions.session import Session

MOST_NOTES = 10_000
"""So many notes of a statement are kept; those behind them are only counted."""


# ---- blocks and transactions ----------------------------------------------------------------------------------------


def enter_atomic(session: Session) -> tuple[int, int]:
    """Start of an atomic context; gives the place in the log to go back to, and the savepoint level around."""
    session.atomic += 1
    return len(session.log), session.open_level()


def leave_atomic(session: Session, around: int) -> None:
    session.atomic -= 1
    session.close_level(around)


def case_not_found() -> None:
    raise Condition("20000", "no WHEN of this CASE statement applies, and there is no ELSE")


def no_return(name: str) -> None:
    raise Condition("2F005", f"{name} ended without RETURN")


def note(session: Session, text: str | None) -> None:
    """CALL note(...)."""
    told = "NULL" if text is None else text
    if len(session.notes) < MOST_NOTES:
        session.notes.append(told)
    else:
        session.more_notes += 1
    if len(session.told) < 1000:
        session.told.append(told)
