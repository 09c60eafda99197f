"""The locks of one session: those it holds, the one it waits for, and how long it is patient."""

from __future__ import annotations

from typing import NoReturn, Protocol

from glimb.engine.outcomes.outcome import Blocked, TransactionEvent, Waiting, describe_lock
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.resources import Resource
from glimb.engine.storage.table import Holder, Table
from glimb.engine.transactions.locks import LockOwner, Wait
from glimb.engine.transactions.shared import Shared
from glimb.engine.transactions.sight import FOREVER, Sight
from glimb.engine.values.conditions import Condition, fail


class DefinitionChanged(Condition):
    """A table was defined anew while a statement waited for it: what was compiled no longer fits."""


class Claimant(Holder, Protocol):
    """The session whose locks these are."""

    @property
    def events(self) -> list[TransactionEvent]: ...
    @property
    def sight(self) -> Sight: ...
    def begin(self) -> None: ...
    def rollback(self) -> None: ...


class Claims:
    """See above. It is what the lock table knows of a session."""

    def __init__(self, shared: Shared, session: Claimant) -> None:
        self.shared = shared
        self.session = session
        self.name = session.name
        self.patience: float | None = None
        """Seconds; None: for ever."""
        self.waiting: Wait | None = None
        self.held: dict[Resource, str] = {}
        self.momentary: dict[Resource, None] = {}
        """Locks that are held to the end of the statement only."""
        self.owned: list[Table] = []
        """Tables whose definition this transaction has changed."""
        self._taken: list[tuple[Resource, str]] = []
        """Locks as they were taken and converted, since one was last given up: outcomes look back at a part of it."""

    # -- what the lock table says

    def hold(self, resource: Resource, mode: str) -> None:
        """A lock has been granted."""
        self.held[resource] = mode
        self._taken.append((resource, mode))

    def hold_only(self, held: dict[Resource, str]) -> None:
        """These are all locks that are held now."""
        self.held = held
        self._taken = list(held.items())

    def holding(self) -> tuple[list[tuple[Resource, str]], int]:
        """What is held at this moment, without a copy of it: the first so many of a list."""
        return self._taken, len(self._taken)

    # -- taking

    def lock(self, resource: Resource, mode: str, wait: float | None = None) -> bool:
        """Hold a lock to the end of the transaction. True when it had to be waited for: `wait` seconds at most, or as
        long as the session's patience lasts. Raises 5L001, 5L002 or, for the victim of a deadlock, 40001."""
        if resource in self.momentary:
            del self.momentary[resource]
        return self._take(resource, mode, wait)

    def _take(self, resource: Resource, mode: str, wait: float | None) -> bool:
        if self.held.get(resource) == mode:
            return False
        if self.shared.locks.acquire(self, resource, mode):
            return False
        self._wait(resource, mode, wait)
        if resource[1] is None and self.shared.catalog.relations.get(resource[0].name) is not resource[0]:
            message = f"the definition of {resource[0].name} has changed while this waited; run it again"
            raise DefinitionChanged("42704", message)
        return True

    def read_lock(self, resource: Resource, mode: str, keep: bool, wait: float | None) -> None:
        """A lock for reading: to the end of the transaction, or of the statement unless it was held before."""
        held = resource in self.held
        self._take(resource, mode, wait)
        if not held and not keep and resource in self.held:  # the key of a new row of its own is not
            self.momentary[resource] = None

    def _wait(self, resource: Resource, mode: str, bound: float | None) -> None:
        shared, locks = self.shared, self.shared.locks
        if bound == 0:
            self._refuse(resource, mode)
        longest = min((w for w in (bound, self.patience) if w is not None), default=None)
        mode = locks.wanted(self, resource, mode)
        until = shared.waits.elapsed + longest if longest is not None else None
        self.waiting = Wait((), resource, mode, until)
        circle = locks.circle(self)
        if circle:
            told = blocked(circle)
            self.waiting = None
            shared.waits.wake(locks.withdraw(self, resource))
            self.session.rollback()
            message = f"deadlock: {'; '.join(map(str, told))}; {self.name} was rolled back"
            raise Condition("40001", message, {"circle": told})
        names = tuple(s.name for s in locks.blockers(self))
        self.waiting = Wait(names, resource, mode, until, longest)
        self.session.events.append(TransactionEvent("wait"))
        ended = shared.waits.hub.switch(self.waiting)
        resource, self.waiting = self.waiting.resource, None
        if ended is not None:
            shared.waits.wake(locks.withdraw(self, resource))
            raise ended

    def _refuse(self, resource: Resource, mode: str) -> None:
        """NOWAIT: say who is in the way."""
        locks = self.shared.locks
        lock = locks.locks[resource]
        blockers = lock.blockers(self, mode)
        holders = [s.name for s in blockers if s in lock.holders]
        by = f"locked by {', '.join(holders)}" if holders else f"wanted by {', '.join(s.name for s in blockers)}"
        self.shared.waits.wake(locks.withdraw(self, resource))
        shown = describe_lock(resource, mode)
        fail("5L001", f"{f'{shown.table} {shown.key}'.rstrip()} is {by}")

    # -- giving up

    def end_statement(self) -> None:
        """Give up the locks that were for the statement only, unless they have become more."""
        given, self.momentary = self.momentary, {}
        if given:
            self.shared.release(self, [r for r in given if self.held.get(r) in ("S", "U", "IS", "IX")])

    def end_transaction(self) -> None:
        """Give up all."""
        self.momentary = {}
        self.disown()
        self.shared.release(self, list(self.held))

    def disown(self) -> None:
        """The definitions of tables are not being changed any more."""
        for table in self.owned:
            table.owner = None
        self.owned = []

    # -- tables and rows

    def lock_table(self, table: Table, mode: str, wait: float | None = None) -> None:
        """A lock on a whole table."""
        self.session.begin()
        self.lock((table, None), mode, wait)

    def lock_whole(self, table: Table) -> None:
        """A table for this session alone, to change all rows as they are now."""
        self.lock_table(table, "X")
        if table.changed_at > self.session.sight.snapshot:
            self._fail_as_changed(table)

    def _fail_as_changed(self, table: Table) -> NoReturn:
        self.session.rollback()
        raise Condition("40001", f"a row of {table.name} has been changed since this transaction began")

    def own(self, table: Table) -> None:
        """A schema statement is about to change a table: nobody else may be in the middle of using it."""
        self.lock_table(table, "X")
        if table.owner is None:
            table.owner = self.session
            self.owned.append(table)

    def wait_for_owner(self, table: Table) -> None:
        """Another session is changing the definition of a table: wait for what becomes of it."""
        held = (table, None) in self.held
        try:
            self.lock((table, None), "IS")
        finally:
            if not held:
                self.momentary[table, None] = None

    def intend(self, table: Table, mode: str) -> None:
        """The intention lock on a table above the locks on its rows."""
        resource = (table, None)
        if self.momentary or self.held.get(resource) != "IX":
            self.lock(resource, mode)

    def lock_row(self, table: Table, row: Row, mode: str = "X", wait: float | None = None) -> bool:
        """A lock on a row, by its key."""
        return self.lock((table, table.primary.get_key(row) if table.primary else row[-1]), mode, wait)

    def free_rows(
        self, rows: list[Row], tables: tuple[tuple[int, Table], ...], mode: str, offset: int, most: int | None
    ) -> list[Row]:
        """SKIP LOCKED: the rows of a result whose rows of these tables, at their positions, can be locked at once; they
        are, until there are enough."""
        self.session.begin()
        for _, table in tables:
            self.intend(table, "IX" if mode == "X" else "IS")
        free: list[Row] = []
        for row in rows:
            if most is not None and len(free) >= offset + most:
                break
            wanted = [row_resource(t, row[at]) for at, t in tables if row[at][-1] is not None]
            if all(self.shared.locks.is_free(self, resource, mode) for resource in wanted):
                for resource in wanted:
                    self.lock(resource, mode)
                free.append(row)
        return free[offset:]

    def lock_rows(self, table: Table, rows: list[Row], mode: str = "X", wait: float | None = None) -> bool:
        """Locks on rows as they were seen. False when one has changed meanwhile: then look again. 27000 when the
        statement itself has changed it, by what it calls."""
        self._intend_rows(table, mode)
        steady = True
        for row in rows:
            if not self._lock_seen(table, row, mode, wait):
                if self._is_ours(table, row):
                    fail(
                        "27000", f"a row of {table.name} has been changed by what the statement calls that looks for it"
                    )
                steady = False
        return steady

    def lock_place(self, table: Table, row: Row) -> None:
        """Lock the row at which a cursor stands, which the session itself may have changed since."""
        self._intend_rows(table, "X")
        self._lock_seen(table, row, "X", None)

    def _intend_rows(self, table: Table, mode: str) -> None:
        self.session.begin()
        self.intend(table, "IX" if mode == "X" else "IS")

    def _lock_seen(self, table: Table, row: Row, mode: str, wait: float | None) -> bool:
        """Lock a row; whether it is still as it was seen. 40001 where others have changed it since a snapshot."""
        self.lock_row(table, row, mode, wait)
        if table.rows.get(row[-1]) is row:
            return True
        if self.session.sight.snapshot != FOREVER and not self._is_ours(table, row):
            self._fail_as_changed(table)
        return False

    def _is_ours(self, table: Table, row: Row) -> bool:
        """Whether a row is by now what this session has made of it."""
        now = table.rows.get(row[-1])
        return any(e[0] is table and e[1] == row[-1] and e[3] is now for e in reversed(self.session.log))


def row_resource(table: Table, row: Row) -> Resource:
    """What stands for a row in locks: its primary key, or its row id."""
    return table, table.primary.get_key(row) if table.primary else row[-1]


def told_wait(wait: Wait) -> Waiting:
    """A wait as an outcome tells it."""
    held = describe_lock(wait.resource, wait.mode)
    return Waiting(wait.blockers, held.kind, held.table, held.key, wait.mode)


def blocked(circle: list[LockOwner]) -> tuple[Blocked, ...]:
    """A deadlock as data: each session of the circle waits for the next one."""
    pairs = zip(circle, [*circle[1:], circle[0]], strict=True)
    return tuple(
        Blocked(owner.name, holder.name, describe_lock(owner.waiting.resource, owner.waiting.mode))
        for owner, holder in pairs
        if owner.waiting is not None
    )
