"""Many rows at once, where nothing is to be done for a row but to check and to store it.

`fill` is for what a base is made of, before it is set, in a table that nobody else uses: no locks, no log, nothing to
take back. `insert_all` is for INSERT, with locks and log. Everything is checked that `Writer` checks row
by row (NOT NULL, CHECK, keys, references); where something is wrong, or in the way, nothing has happened.
"""

from __future__ import annotations

from itertools import repeat
from operator import add, itemgetter
from typing import Any

from glimb.engine.runtime.writer import Writer, validator_of
from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.resources import key_of
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import MANY_CHANGES, Session
from glimb.engine.values.conditions import Condition
from glimb.lang import tree
from glimb.lang.node import walk

MANY = 20
"""From so many rows on, they are looked at together."""


def fill(session: Session, table: Table, columns: list[list[Any]]) -> bool:
    """Store rows, given by columns, in an empty table; whether that could be done. The columns are used up. Raises
    5B005 when all tables together hold too much."""
    if table.rows or table.writers or not _is_plain(session, table):
        return False
    first = table.next_id
    rows: list[Row] = list(zip(*columns, range(first, first + len(columns[0])), strict=True))
    columns.clear()
    if not _are_valid(session, table, rows):
        return False
    keys = [_keys(index, rows) for index in table.indexes]
    table.put_new(rows, keys)
    are_new = all(len(i.map) == len(k) for i, (k, _) in zip(table.indexes, keys, strict=True) if i.unique)
    if not are_new or not all(_refer(table, number) for number in range(len(table.foreign))):
        table.rows = {}
        for index in table.indexes:
            index.map = {}
        return False
    table.next_id = first + len(rows)
    session.shared.count_rows()
    return True


def insert_all(writer: Writer, rows: list[tuple[Any, ...]]) -> None:
    """Store the rows of an INSERT."""
    table = writer.table
    if len(rows) >= MANY and writer.checker is None:
        stored = _insert_new(writer.session, table, rows)
        if stored is not None:
            writer.count += len(stored)
            if table.foreign:
                writer.later.added += [(table, row) for row in stored]
            return
    for row in rows:
        writer.insert(row)


def _insert_new(session: Session, table: Table, values: list[tuple[Any, ...]]) -> list[Row] | None:
    """Store rows; gives them as they are stored, None when that cannot be done. References are still to be checked."""
    if session.sight.reads is not None or not _is_plain(session, table):
        return None
    numbers = range(table.next_id, table.next_id + len(values))
    rows: list[Row] = list(map(add, values, zip(numbers, strict=True)))
    keys = [_keys(index, rows) for index in table.indexes]
    if not _are_valid(session, table, rows) or not _are_new(table, keys):
        return None
    if not session.shared.locks.acquire_new(session.claims, table, _locked(table, rows, keys)):
        return None
    table.next_id += len(rows)
    session.marks(table)
    table.put_new(rows, keys)
    before = len(session.log)
    session.log += zip(repeat(table), numbers, repeat(None), rows, strict=False)
    session.watch()
    if before // MANY_CHANGES != len(session.log) // MANY_CHANGES:
        session.shared.count_rows()
    return rows


Keys = list[tuple[list[Any], list[Row]]]


def _locked(table: Table, rows: list[Row], keys: Keys) -> list[Any]:
    """What is locked for new rows: their unique keys, and where there is no primary key, their row ids."""
    unique = [(index, *found) for index, found in zip(table.indexes, keys, strict=True) if index.unique]
    if len(unique) == 1 and unique[0][0] is table.primary:
        return unique[0][1]
    of_row: dict[int, list[Any]] = {row[-1]: [] for row in rows}
    for index, known, keyed in unique:
        for key, row in zip(known, keyed, strict=True):
            of_row[row[-1]].append(key_of(table, index, key))
    if table.primary is None:
        for number, locked in of_row.items():
            locked.append(number)
    return [key for locked in of_row.values() for key in locked]


def _is_plain(session: Session, table: Table) -> bool:
    """Whether a row of this table is stored once it has been checked."""
    if table.temporary or table.has_generated or table.compiled.triggers != []:
        return False
    if any(i.deferrable or i.null_key or not i.enforced for i in table.indexes):
        return False
    if any(f.deferrable for f in table.foreign):
        return False
    return not any(c.deferrable or _may_look_at_rows(session, c.condition) for c in table.checks)


def _may_look_at_rows(session: Session, condition: tree.Expression) -> bool:
    """Whether a CHECK can tell how many rows there are already."""
    calls = (n for n in walk(condition) if isinstance(n, tree.FunctionCall | tree.Query))
    return any(isinstance(n, tree.Query) or n.name[-1] in session.shared.catalog.routine_names() for n in calls)


def _are_valid(session: Session, table: Table, rows: list[Row]) -> bool:
    """NOT NULL and CHECK."""
    needed = [number for number, column in enumerate(table.columns) if column.not_null]
    if not table.checks:
        return not any(None in map(itemgetter(number), rows) for number in needed)
    validate = validator_of(session, table)
    try:
        for number, row in enumerate(rows):
            validate(session, 1, row)
            if not number & 4095:
                session.watch()
    except Condition as condition:
        if condition.sqlstate.startswith("5B"):  # a budget is spent, whatever the row is
            raise
        return False
    return True


def _keys(index: Index, rows: list[Row]) -> tuple[list[Any], list[Row]]:
    """The keys of rows that are not NULL, and those rows."""
    keys = list(map(index.get_key, rows))
    if None in keys if index.single else any(None in key for key in keys):
        pairs = [(key, row) for key, row in zip(keys, rows, strict=True) if not index.has_null(key)]
        return [key for key, _ in pairs], [row for _, row in pairs]
    return keys, rows


def _are_new(table: Table, keys: Keys) -> bool:
    """Whether no unique key is there twice, or already."""
    for index, (known, _) in zip(table.indexes, keys, strict=True):
        if index.unique:
            new = set(known)
            if len(new) < len(known) or not index.map.keys().isdisjoint(new):
                return False
    return True


def _refer(table: Table, number: int) -> bool:
    """Whether every row refers to one that is there."""
    key = table.foreign[number]
    if not key.enforced:
        return True
    return not key.converts and key.child_index.map.keys() <= key.target_index.map.keys()
