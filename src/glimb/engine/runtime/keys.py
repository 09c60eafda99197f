"""Unique keys at work: who takes one locks it (ISO/IEC 9075-2 clause 11.7)."""

from __future__ import annotations

from typing import Any

from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.resources import key_of
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.engine.values.conversion import literal_of


def check_key(session: Session, table: Table, index: Index, row: Row) -> None:
    """A key that is deferrable, or in which NULLs are equal: no other row may have it. (It has been locked when the row
    was written, so that nobody relies on what may be taken back.)"""
    now = table.rows.get(row[-1])
    if now is None or not index.enforced:
        return
    key = index.get_key(now)
    if index.has_null(key):
        return
    if len(relied_on(session, table, index, key).get(key, ())) > 1:
        refuse_taken(session, table, index, now)


def lock_key(session: Session, table: Table, index: Index, row: Row) -> None:
    """Hold the key of a row, so that nobody takes or frees it meanwhile."""
    key = index.get_key(row)
    if not index.has_null(key):
        session.claims.lock((table, key_of(table, index, key)), "X")


def claim(session: Session, table: Table, index: Index, row: Row) -> None:
    """Take a key for a row, or fail when it is taken."""
    key = index.get_key(row)
    if index.has_null(key):
        return
    lock_key(session, table, index, row)
    if key in relied_on(session, table, index, key):
        refuse_taken(session, table, index, row)


def claim_all(session: Session, table: Table, index: Index, pairs: list[tuple[Row, Row]]) -> None:
    """Keys of an UPDATE are compared when all rows have changed: what the statement itself frees is free."""
    changed = [(old, new) for old, new in pairs if index.get_key(old) != index.get_key(new)]
    if not changed:
        return
    freed = {index.get_key(old) for old, _ in changed}
    taken = set()
    for old, new in changed:
        lock_changed(session, table, index, [(old, new)])
        key = index.get_key(new)
        if index.has_null(key):
            continue
        if key in taken or (key in relied_on(session, table, index, key) and key not in freed):
            refuse_taken(session, table, index, new)
        taken.add(key)


def lock_changed(session: Session, table: Table, index: Index, pairs: list[tuple[Row, Row]]) -> None:
    """Hold the keys that rows had and those that they are given, where the two differ."""
    for old, new in pairs:
        if index.get_key(old) != index.get_key(new):
            lock_key(session, table, index, old)
            lock_key(session, table, index, new)


def relied_on(session: Session, table: Table, index: Index, key: Any) -> dict[Any, Any]:
    """The map of an index, for a constraint to look a key up."""
    if session.sight.reads is not None:
        session.shared.model.rely(session, table, index, key)
    return index.map


def refuse_taken(session: Session, table: Table, index: Index, row: Row) -> None:
    shown = shown_columns(table, index.columns, row)
    raise Condition(
        "23505",
        f"{table.name} has a row with {shown} already ({index.name})",
        {"table_name": table.name, "constraint_name": index.name},
    )


def shown_columns(table: Table, columns: tuple[int, ...], row: Row) -> str:
    """Columns with their values, for messages."""
    return ", ".join(f"{table.columns[c].name} {literal_of(row[c], table.columns[c].type)}" for c in columns)
