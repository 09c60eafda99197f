"""SET statements and transaction verbs at run time (ISO/IEC 9075-2 clauses 17 and 19)."""

from __future__ import annotations

from collections.abc import Callable

from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail

# ---- settings -------------------------------------------------------------------------------------------------------


def set_schema(session: Session, name: str | None) -> None:
    known = session.shared.catalog.schemas
    name = "" if name is None else name.strip()
    if name != DEFAULT_SCHEMA and name not in known:
        fail("3F000", f"there is no schema {name}")
    session.schema = "" if name == DEFAULT_SCHEMA else name


def set_autocommit(session: Session, value: str) -> None:
    if session.active:
        fail("25001", "autocommit is set before the transaction")
    session.autocommit = value == "on"


def set_characteristics(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "what transactions are like is set before the transaction")
    session.usual = session.usual.with_modes(modes)


def set_constraints(session: Session, value: tuple[tuple[str, ...], bool]) -> None:
    """SET CONSTRAINTS (clause 17.4): what becomes immediate is checked at once."""
    session.begin()
    names, deferred = value
    session.deferred.set(names, deferred)


def start_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "a transaction is active already")
    session.coming = (session.coming or session.usual).with_modes(modes)
    session.begin()
    session.explicit = True


def set_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "SET TRANSACTION comes before the transaction")
    session.coming = (session.coming or session.usual).with_modes(modes)


def commit(session: Session, chain: bool) -> None:
    session.savepoints.forbid_end()
    _end(session, session.commit, chain)


def rollback(session: Session, chain: bool) -> None:
    session.savepoints.forbid_end()
    _end(session, session.rollback, chain)


def _end(session: Session, end: Callable[[], None], chain: bool) -> None:
    """AND CHAIN: a new transaction of the same characteristics."""
    kept = session.current
    end()
    if chain:
        session.coming = kept
        session.begin()
