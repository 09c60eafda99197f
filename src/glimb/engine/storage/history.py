"""What has been committed, in order, and how rows look to those who may not see all of it."""

from __future__ import annotations

from collections.abc import Iterator
from operator import itemgetter

from glimb.engine.storage.indexes import Row
from glimb.engine.storage.log import Entry
from glimb.engine.storage.table import SHARED, Holder, Table

MANY = 20
"""From so many changes on, it is worth to see whether all are new rows."""


class History:
    """The logs of committed transactions. `sequence` counts those that have changed something, since the start."""

    def __init__(self) -> None:
        self.commits: list[tuple[int, list[Entry]]] = []
        self.sequence = 0

    def keep(self, entries: list[Entry]) -> None:
        """Take in the log of a transaction: all see its changes from now on."""
        self.sequence += 1
        self.commits.append((self.sequence, entries))
        for table in {e[0] for e in entries if isinstance(e[0], Table)}:
            table.changed_at = self.sequence

    def since(self, snapshot: int) -> Iterator[tuple[int, list[Entry]]]:
        """What was committed after a snapshot, the latest first."""
        for sequence, entries in reversed(self.commits):
            if sequence <= snapshot:
                return
            yield sequence, entries

    def undo_to(self, length: int) -> None:
        """Take back all commits but the first so many."""
        while len(self.commits) > length:
            _, entries = self.commits.pop()
            undo_all(entries)

    def patch(self, own: Holder, table: Table, snapshot: int) -> dict[int, Row | None]:
        """Rows that somebody must see otherwise than they stand in the table: not the uncommitted changes of others,
        nor what was committed after the snapshot; the own ones always."""
        mine = {e[1] for e in own.log if e[0] is table}
        patch: dict[int, Row | None] = {}
        for other in table.writers:
            if other is not own:
                for entry in reversed(other.log):
                    if entry[0] is table:
                        patch[entry[1]] = entry[2]
        for _, entries in self.since(snapshot):
            for entry in reversed(entries):
                if entry[0] is table and entry[1] not in mine:
                    patch[entry[1]] = entry[2]
        return patch


def undo_all(entries: list[Entry]) -> None:
    """Take changes back, the latest first; many new rows of one table together."""
    table = entries[0][0] if len(entries) >= MANY and set(map(itemgetter(0), entries)) == {entries[0][0]} else None
    if isinstance(table, Table) and not any(map(itemgetter(2), entries)) and all(map(itemgetter(3), entries)):
        table.take_back(list(map(itemgetter(3), entries)))
        return
    for where, key, before, after in reversed(entries):
        where.undo(key, before, after)


def unmark(holder: Holder, tables: set[Table]) -> None:
    """Somebody has no uncommitted changes in these tables any more."""
    for table in tables:
        table.writers.pop(holder, None)
        rest = table.writers
        table.writer = None if not rest else next(iter(rest)) if len(rest) == 1 else SHARED
