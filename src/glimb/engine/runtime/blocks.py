"""What generated blocks call: atomic contexts, CASE without an arm, notes."""

from __future__ import annotations

from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition

# ---- blocks and transactions ----------------------------------------------------------------------------------------


def enter_atomic(session: Session) -> tuple[int, int]:
    """Start of an atomic context; gives the place in the log to go back to, and the savepoint level around."""
    session.savepoints.atomic += 1
    return len(session.log), session.savepoints.open_level()


def leave_atomic(session: Session, around: int) -> None:
    """End of an atomic context; `around` is what `enter_atomic` gave."""
    session.savepoints.atomic -= 1
    session.savepoints.close_level(around)


def case_not_found() -> None:
    """20000: no arm of a CASE statement applies."""
    raise Condition("20000", "no WHEN of this CASE statement applies, and there is no ELSE")


def no_return(name: str) -> None:
    """2F005: a function has come to its end."""
    raise Condition("2F005", f"{name} ended without RETURN")


def note(session: Session, text: str | None) -> None:
    """CALL note(...)."""
    session.asides.notes.note("NULL" if text is None else text)
