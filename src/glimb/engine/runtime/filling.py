"""Many rows into a table that nobody else uses, at once: no locks, no log, nothing to take back.

For what a base is made of, before it is set. Everything is checked that `Writer` checks (NOT NULL, CHECK, keys,
references); where something is wrong, or more is to be done for a row than that, nothing has happened.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.lang import tree
from glimb.lang.node import walk


def fill(session: Session, table: Table, columns: Sequence[Sequence[Any]]) -> bool:
    """Store rows, given by columns, in an empty table; whether that could be done. Raises 5B005 when all tables
    together hold too much."""
    if not _is_plain(session, table):
        return False
    first = table.next_id
    rows: list[Row] = list(zip(*columns, range(first, first + len(columns[0])), strict=True))
    maps = [_map(index, rows) for index in table.indexes]
    if not _are_valid(session, table, rows) or any(found is None for found in maps):
        return False
    for index, found in zip(table.indexes, maps, strict=True):
        index.map = found or {}
    if not all(_refer(table, number) for number in range(len(table.foreign))):
        for index in table.indexes:
            index.map = {}
        return False
    table.rows = dict(zip(range(first, first + len(rows)), rows, strict=True))
    table.next_id = first + len(rows)
    session.shared.count_rows()
    return True


def _is_plain(session: Session, table: Table) -> bool:
    """Whether a row of this table is stored once it has been checked, and nobody has one yet."""
    if table.rows or table.writers or table.temporary or table.has_generated or table.compiled.triggers != []:
        return False
    if any(i.deferrable or i.null_key or not i.enforced for i in table.indexes):
        return False
    if any(f.deferrable for f in table.foreign):
        return False
    return not any(c.deferrable or _may_look_at_rows(session, c.condition) for c in table.checks)


def _may_look_at_rows(session: Session, condition: tree.Expression) -> bool:
    """Whether a CHECK can tell how many rows there are already."""
    calls = (n for n in walk(condition) if isinstance(n, tree.FunctionCall | tree.Query))
    return any(isinstance(n, tree.Query) or n.name[-1] in _names(session) for n in calls)


def _names(session: Session) -> set[str]:
    return {routine.name.rpartition(".")[2] for routine in session.shared.catalog.all_routines()}


def _are_valid(session: Session, table: Table, rows: list[Row]) -> bool:
    """NOT NULL and CHECK."""
    if not table.checks and not any(column.not_null for column in table.columns):
        return True
    validate = session.shared.compiler.tables.validator(table)
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


def _map(index: Index, rows: list[Row]) -> dict[Any, Any] | None:
    """What an index over these rows maps; None when a key is there twice."""
    keys = list(map(index.get_key, rows))
    pairs = list(zip(keys, rows, strict=True))
    if None in keys if index.single else any(None in key for key in keys):
        pairs = [(key, row) for key, row in pairs if not index.has_null(key)]
    if index.unique:
        found = dict(pairs)
        return found if len(found) == len(pairs) else None
    many: dict[Any, dict[int, Row]] = {}
    for key, row in pairs:
        many.setdefault(key, {})[row[-1]] = row
    return many


def _refer(table: Table, number: int) -> bool:
    """Whether every row refers to one that is there."""
    key = table.foreign[number]
    if not key.enforced:
        return True
    if key.match != "simple" or key.converts:
        return False
    return key.child_index.map.keys() <= key.target_index.map.keys()
