"""What generated blocks call: rounds of loops, atomic contexts, CASE without an arm, notes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from itertools import chain, repeat
from typing import Any

from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition

STRETCH = 256
"""So many rounds go by between two looks at whether the statement is to end: a look in each took a fifth of a short
loop. What may take long within a round looks for itself."""


def rounds(session: Session) -> Iterator[Any]:
    """As many rounds as a loop may have."""
    return chain.from_iterable(_stretches(session, lambda first, end: repeat(None, end - first)))


def numbered_rounds(session: Session) -> Iterator[int]:
    """The same with their numbers, from 0."""
    return chain.from_iterable(_stretches(session, range))


def _stretches(session: Session, stretch: Callable[[int, int], Iterable[Any]]) -> Iterator[Iterable[Any]]:
    most = session.budget.rounds
    for first in range(0, most, STRETCH):
        if session.stop:
            session.check()
        yield stretch(first, min(first + STRETCH, most))


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
