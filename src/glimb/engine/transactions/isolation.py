"""The two concurrency models, behind one small interface: what a session sees of a table, and what it locks to see it.

`versions`: readers see committed versions and never wait; SERIALIZABLE refuses at COMMIT what could close a circle of
transactions that each have read what the next has changed (Cahill, Röhm and Fekete, "Serializable isolation for
snapshot databases", 2008): one with such a neighbour on both sides is not let through.
`locking`: strict two-phase locking; readers lock what they read, for as long as their level asks for (Gray and
others, "Granularity of locks and degrees of consistency", 1976).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from glimb.engine.storage.indexes import Bounds, Index, Row
from glimb.engine.storage.overlay import Patched
from glimb.engine.storage.table import Table
from glimb.engine.transactions.claims import row_resource
from glimb.engine.transactions.session import Session
from glimb.engine.transactions.shared import Model, Shared
from glimb.engine.transactions.sight import Sight
from glimb.engine.values.conditions import Condition

View = Any
"""What generated code reads: an object with `scan()`, `lookup(number)` and `ranges(number)`, such as a Table."""


# ---- versions -------------------------------------------------------------------------------------------------------


class Certified:
    """A SERIALIZABLE transaction that has been committed: when it began and ended, what it read and wrote, and whether
    somebody at the same time has read what it changed (`is_read`) or changed what it read (`has_read`)."""

    __slots__ = ("began", "ended", "entries", "has_read", "is_read", "reads")

    def __init__(self, began: int, ended: int, reads: dict[Any, Any], entries: list[Any]) -> None:
        self.began = began
        self.ended = ended
        self.reads = reads
        self.entries = entries
        self.is_read = self.has_read = False


class Versions:
    """Committed versions for readers."""

    name = "versions"

    def __init__(self, shared: Shared) -> None:
        self.shared = shared
        self.ticks = 0
        self.certified: list[Certified] = []

    def begin(self, session: Session) -> None:
        if session.current.isolation in ("repeatable read", "serializable"):
            session.sight.snapshot = self.shared.history.sequence
        session.sight.reads = None
        if session.current.isolation == "serializable":
            self.ticks += 1
            session.sight.reads, session.sight.began = {}, self.ticks

    def view(self, session: Session, table: Table) -> View:
        if table.owner is not None and table.owner is not session:
            session.claims.wait_for_owner(table)
        seen: Table | Patched = table
        writer = table.writer
        if (writer is not None and writer is not session) or table.changed_at > session.sight.snapshot:
            seen = session.patched(table)
        return Watched(seen, table, session.sight.reads) if session.sight.reads is not None else seen

    def view_to_change(self, session: Session, table: Table, mode: str, wait: float | None, skip: bool) -> View:
        return self.view(session, table)

    def rely(self, session: Session, table: Table, index: Index, key: Any) -> None:
        """SERIALIZABLE: a constraint reads what is committed now, the transaction what was when it began. Where the
        two differ it cannot go on: it would have come before somebody, and after."""
        if session.sight.reads is None:
            return
        noted_of(session.sight.reads, table, table.indexes.index(index)).keys.add(key)
        for _, entries in self.shared.history.since(session.sight.snapshot):
            for where, _, before, after in entries:
                if where is table and _has_key(index, before, key) != _has_key(index, after, key):
                    session.rollback()
                    raise Condition("40001", f"a row of {table.name} has come or gone since this transaction began")

    def validate(self, session: Session) -> None:
        """SERIALIZABLE: refuse a transaction that stands, or makes another one stand, between two neighbours."""
        if session.sight.reads is None:
            return
        mine = Certified(session.sight.began, 0, session.sight.reads, list(session.log))
        before = [c for c in self.certified if c.ended > mine.began]
        changed = [c for c in before if self._overlap(mine.reads, c.entries)]
        readers = [c for c in before if self._overlap(c.reads, mine.entries)]
        mine.has_read = bool(changed) or self._changed_by_others(session)
        mine.is_read = bool(readers) or any(
            sight is not session.sight and sight.reads and self._overlap(sight.reads, mine.entries)
            for sight in self._all_sights()
        )
        if (mine.has_read and mine.is_read) or any(c.has_read for c in changed) or any(c.is_read for c in readers):
            table = next((t.name for t in session.sight.reads if isinstance(t, Table)), "")
            raise Condition("40001", f"what this transaction has read ({table}, ...) was changed at the same time")
        for neighbour in changed:
            neighbour.is_read = True
        for neighbour in readers:
            neighbour.has_read = True
        self._keep(mine)

    def _changed_by_others(self, session: Session) -> bool:
        """Whether anybody, SERIALIZABLE or not, has committed a change of what was read."""
        assert session.sight.reads is not None
        since = self.shared.history.since(session.sight.snapshot)
        return any(self._overlap(session.sight.reads, entries) for _, entries in since)

    def _keep(self, mine: Certified) -> None:
        """Keep a committed transaction for as long as one that began before its end is under way."""
        self.ticks += 1
        mine.ended = self.ticks
        oldest = min((sight.began for sight in self._all_sights() if sight.reads is not None), default=self.ticks)
        self.certified = [c for c in self.certified if c.ended > oldest]
        self.certified.append(mine)

    def _all_sights(self) -> Iterator[Sight]:
        return (s.sight for s in self.shared.sessions.values())

    def _overlap(self, reads: dict[Any, Any], entries: list[Any]) -> bool:
        """Whether changes are about something that was read."""
        return any(
            isinstance(table, Table) and self._was_read(reads, table, before, after)
            for table, _, before, after in entries
        )

    @staticmethod
    def _was_read(reads: dict[Any, Any], table: Table, before: Row | None, after: Row | None) -> bool:
        """Whether a change would have changed what was read."""
        found = reads.get(table)
        if found is None:
            return False
        if found is True:
            return True
        rows = [row for row in (before, after) if row is not None]
        return any(noted.covers(table.indexes[number], row) for number, noted in found.items() for row in rows)


class Noted:
    """What has been looked up in one index: keys and ranges."""

    __slots__ = ("keys", "ranges")

    def __init__(self) -> None:
        self.keys: set[Any] = set()
        self.ranges: set[Bounds] = set()

    def covers(self, index: Index, row: Row) -> bool:
        """Whether a row would have been found, or would now be."""
        key = index.get_key(row)
        if index.has_null(key):
            return False
        return key in self.keys or any(bounds.contains(key, index.single) for bounds in self.ranges)


def noted_of(reads: dict[Any, Any], table: Table, number: int) -> Noted:
    """What has been noted of an index; notes that go nowhere when the whole table has been read anyway."""
    by_index = reads.setdefault(table, {})
    if by_index is True:
        return Noted()
    noted: Noted = by_index.setdefault(number, Noted())
    return noted


def _has_key(index: Index, row: Row | None, key: Any) -> bool:
    return row is not None and bool(index.get_key(row) == key)


class Watched:
    """A table whose reads are noted: all of it, or the keys and ranges of an index that were looked up."""

    def __init__(self, seen: Table | Patched, table: Table, reads: dict[Any, Any]) -> None:
        self.seen = seen
        self.table = table
        self.reads = reads

    def scan(self) -> Iterable[Row]:
        self.reads[self.table] = True
        return self.seen.scan()

    def lookup(self, number: int) -> Callable[..., Any]:
        find = self.seen.lookup(number)

        def get(key: Any, default: Any = None) -> Any:
            noted_of(self.reads, self.table, number).keys.add(key)
            return find(key, default)

        return get

    def ranges(self, number: int) -> Callable[[Bounds], Iterable[Row]]:
        find = self.seen.ranges(number)

        def between(bounds: Bounds) -> Iterable[Row]:
            noted_of(self.reads, self.table, number).ranges.add(bounds)
            return find(bounds)

        return between


# ---- locking --------------------------------------------------------------------------------------------------------


class Locking:
    """Locks for readers: none under READ UNCOMMITTED; on rows to the end of the statement under READ COMMITTED, of the
    transaction under REPEATABLE READ; on the table under SERIALIZABLE, so that nothing can appear in it."""

    name = "locking"

    def __init__(self, shared: Shared) -> None:
        pass

    def begin(self, session: Session) -> None:
        session.sight.reads = None

    def view(self, session: Session, table: Table) -> View:
        if session.current.isolation == "read uncommitted":
            return table
        return self.view_to_change(session, table, "S", None, False)

    def rely(self, session: Session, table: Table, index: Index, key: Any) -> None:
        """Who reads a key holds it: nobody else has changed it."""

    def validate(self, session: Session) -> None:
        """What was read has been locked: nothing can have changed."""

    def view_to_change(self, session: Session, table: Table, mode: str, wait: float | None, skip: bool) -> View:
        session.begin()
        level = session.current.isolation
        keep = level != "read committed" and level != "read uncommitted"
        if level == "serializable":
            session.claims.lock((table, None), "S" if mode == "S" else "SIX", wait)
            return table
        session.claims.read_lock((table, None), "IS" if mode == "S" else "IX", keep, wait)
        return Locked(session, table, mode, keep, wait, skip)


class Locked:
    """A table whose rows are locked as they are read. A row that somebody else has changed or removed and not yet
    committed is waited for, or skipped."""

    def __init__(self, session: Session, table: Table, mode: str, keep: bool, wait: float | None, skip: bool) -> None:
        self.session = session
        self.table = table
        self.mode = mode
        self.keep = keep
        self.wait = wait
        self.skip = skip

    def scan(self) -> Iterator[Row]:
        for row_id in list(self.table.rows):
            row = self._read(row_id)
            if row is not None:
                yield row

    def _read(self, row_id: int) -> Row | None:
        """A row as it is when it is locked; None when it is gone."""
        rows, session = self.table.rows, self.session
        while True:
            row = rows.get(row_id)
            named = row if row is not None else self._removed(row_id)
            if named is None:
                return None
            resource = row_resource(self.table, named)
            if self.skip and not session.shared.locks.is_free(session.claims, resource, self.mode):
                return None
            session.claims.read_lock(resource, self.mode, self.keep, self.wait)
            if rows.get(row_id) is row:
                return row

    def _removed(self, row_id: int) -> Row | None:
        """A row that another session has removed and not yet committed, as it was."""
        for other in self.table.writers:
            if other is not self.session:
                for where, key, before, after in other.log:
                    if where is self.table and key == row_id and after is None:
                        return before  # type: ignore[no-any-return]
        return None

    def lookup(self, number: int) -> Callable[..., Any]:
        index = self.table.indexes[number]

        def get(key: Any, default: Any = None) -> Any:
            if key is None or (not index.single and None in key):
                return default
            found: dict[int, Row] = {}
            for row_id in self._candidates(number, key):
                row = self._read(row_id)
                if row is not None and index.get_key(row) == key:
                    found[row_id] = row
            if index.unique:
                return next(iter(found.values()), default)
            return found or default

        return get

    def _candidates(self, number: int, key: Any) -> list[int]:
        """Row ids that have a key, or had it before a change that is not yet committed."""
        index = self.table.indexes[number]
        found = index.map.get(key)
        ids = {found[-1]} if found is not None and index.unique else set(found or ())
        return sorted(ids | {row[-1] for row in self._before_changes() if index.get_key(row) == key})

    def _before_changes(self) -> Iterator[Row]:
        """Rows that others have changed and not yet committed, as they were."""
        for other in self.table.writers:
            if other is not self.session:
                for where, _, before, _ in other.log:
                    if where is self.table and before is not None:
                        yield before

    def ranges(self, number: int) -> Callable[[Bounds], Iterator[Row]]:
        index = self.table.indexes[number]

        def between(bounds: Bounds) -> Iterator[Row]:
            found = index.between(bounds)
            if found is None:
                yield from self.scan()
                return
            ids = {row[-1] for row in found}
            for before in self._before_changes():
                key = index.get_key(before)
                if not index.has_null(key) and bounds.contains(key, index.single):
                    ids.add(before[-1])
            for row_id in sorted(ids):
                row = self._read(row_id)
                if row is not None:
                    yield row

        return between


MODELS: dict[str, Callable[[Shared], Model]] = {"versions": Versions, "locking": Locking}
