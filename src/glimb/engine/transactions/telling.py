"""What a session has done, told as an outcome."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.outcome import Failure, Outcome, TransactionEvent, Waiting
from glimb.engine.transactions.session import Session
from glimb.engine.values import origins
from glimb.engine.values.conditions import Condition, condition_of
from glimb.lang.node import replace
from glimb.lang.problem import ProblemError


def complete(session: Session, outcome: Outcome, result: Any, rollback_unhandled: bool) -> None:
    """Fill in the outcome of a statement that has ended, with its result or with what was raised."""
    if isinstance(result, BaseException):
        outcome.failure = failure_of(result, session)
        if rollback_unhandled and session.active:
            session.rollback()
    else:
        outcome.columns, outcome.rows, outcome.row_count, outcome.out = result
        outcome.more = session.cursors.more_results
    if session.autocommit and session.active and not session.explicit:
        _autocommit(session, outcome)
    session.claims.end_statement()
    outcome.version = session.sight.version
    session.asides.tell(outcome)
    outcome.entries = session.entries()
    outcome.events = session.events
    outcome.transaction = state_of(session, session.events)
    outcome.trace = session.trace or None


def _autocommit(session: Session, outcome: Outcome) -> None:
    try:
        if outcome.failure is None:
            session.commit()
        else:
            session.rollback()
    except Condition as condition:
        outcome.failure = failure_of(condition, session)


def waits(session: Session, kind: str, waiting: Waiting) -> Outcome:
    """The outcome of a statement that waits."""
    told = Outcome(session.name, kind)
    told.waiting = waiting
    return _standing(session, told)


def refused(session: Session, sqlstate: str, message: str) -> Outcome:
    """The outcome of a statement that has not been run."""
    outcome = Outcome(session.name, "invalid")
    outcome.failure = Failure(sqlstate, message, None)
    return _standing(session, outcome)


def _standing(session: Session, outcome: Outcome) -> Outcome:
    """Where the session stands, with nothing that has ended."""
    outcome.transaction = state_of(session, [])
    outcome.holding = session.claims.holding()
    return outcome


def invalid(session: Session, error: ProblemError) -> Outcome:
    """The outcome of a statement that the binder or parser has refused."""
    first = error.problems[0]
    outcome = refused(session, first.sqlstate, first.message)
    details = "\n".join(p.describe() for p in error.problems)
    outcome.failure = Failure(first.sqlstate, first.brief(), None, "", details, (), tuple(error.problems))
    return outcome


def state_of(session: Session, events: list[TransactionEvent]) -> str:
    """none, open, committed or rolled back."""
    if session.active:
        return "open"
    ends = [e.kind for e in events if e.ends]
    if not ends:
        return "none"
    return "committed" if ends[-1] == "commit" else "rolled back"


def failure_of(error: BaseException, session: Session) -> Failure:
    """What has left a statement, with the place where it was raised."""
    condition = condition_of(error, session.source)
    if not condition.located:
        condition.origin = origins.origin(error)
        condition.located = True
    circle = condition.items.get("circle", ())
    details = condition.items.get("details", "")
    failure = Failure(condition.sqlstate, condition.message, condition.origin, condition.name, details, circle)
    aside = {name: condition.items[name] for name in ("problems", "first", "again") if condition.items.get(name)}
    return replace(failure, **aside) if aside else failure
