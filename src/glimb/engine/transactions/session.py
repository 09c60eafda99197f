"""A session: its transaction, its change log, its locks and the statement it is in the middle of.

Each session is a greenlet. A lock that must be waited for switches back to the engine, from wherever in nested
calls it was wanted, and the session goes on from there when the engine resumes it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from sys import getsizeof
from typing import TYPE_CHECKING, Any

from greenlet import getcurrent, greenlet

from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.definition.definer import private_copy
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.log import Entry
from glimb.engine.storage.overlay import Patched
from glimb.engine.storage.table import SHARED, Table
from glimb.engine.transactions.characteristics import Characteristics
from glimb.engine.transactions.descriptor import Descriptor
from glimb.engine.transactions.locks import Resource, Wait
from glimb.engine.values.conditions import Condition, fail

if TYPE_CHECKING:
    from glimb.engine.engine import Engine
    from glimb.engine.outcomes.outcome import ResultColumn
    from glimb.engine.runtime.cursors import Cursor
    from glimb.lang.source import Source
    from glimb.lang.tree import Statement

FOREVER = 1 << 62
FEW_ROWS = 1000
"""Fewer rows than that are not worth measuring."""


def size_of(row: Any) -> int:
    """About how many bytes a row takes with its values."""
    return getsizeof(row) + sum(getsizeof(v) for v in row) if isinstance(row, tuple) else getsizeof(row)


class DefinitionChanged(Condition):
    """A table was defined anew while a statement waited for it: what was compiled no longer fits."""


def _loop(starter: greenlet) -> None:
    """What a greenlet does: run the statements that it is given, of one session after another. While it is idle it
    holds nothing of them: frames of a greenlet are not seen by the garbage collector, nor are the arguments that it
    was started with, so that those are no job."""
    job: tuple[Session, Callable[[Session], Any]] = starter.switch()
    while True:
        session, work = job
        del job
        try:
            results = [work(session)]
        except Exception as error:
            results = [error]
        hub = session.engine.hub
        del session, work
        job = hub.switch(results)


def _worker() -> greenlet:
    green = greenlet(_loop)
    green.switch(getcurrent())
    return green


class Session:
    """One user of the engine. Attributes that generated code reads are plain and few."""

    def __init__(self, engine: Engine, name: str) -> None:
        self.engine = engine
        self.name = name
        self.autocommit = False
        self.usual = Characteristics()
        """Of the transactions that the session begins, unless another is said (`coming`)."""
        self.coming: Characteristics | None = None
        self.isolation, self.read_only, self.room = self.usual
        self.patience: float | None = None
        self.active = False
        self.explicit = False
        """Whether START TRANSACTION began it: then autocommit does not end it."""
        self.log: list[Entry] = []
        self.written: set[Table] = set()
        self.savepoints: list[tuple[str, int]] = []
        """Names and places in the log, oldest first."""
        self.level = 0
        """Where the current savepoint level begins in them: those before it are out of reach."""
        self.snapshot = FOREVER
        self.reads: dict[Any, Any] | None = None
        """What a SERIALIZABLE transaction has read, by table: True, or keys by index; None: it need not be known."""
        self.began = 0
        """When a SERIALIZABLE transaction began, in ticks of the model."""
        self.private_tables: dict[Table, Table] = {}
        """Its rows of temporary tables."""
        self.owned: list[Table] = []
        """Tables whose definition this transaction has changed."""
        self.version: int | None = None
        """How many commits the statement can see, where there is more than it can see."""
        self.momentary: dict[Resource, None] = {}
        """Locks that are held to the end of the statement only."""
        self.held: dict[Resource, str] = {}
        self.taken: list[tuple[Resource, str]] = []
        """Locks as they were taken and converted, since one was last given up: outcomes look back at a part of it."""
        self.waiting: Wait | None = None
        self.row_count = 0
        self.areas: dict[int, list[Condition]] = {}
        """Conditions of the statement before, by depth of calls, where a routine may ask for them."""
        self.overfull: set[int] = set()
        """Depths at which there were more conditions than there is room for."""
        self.descriptors: dict[str, Descriptor] = {}
        self.named_cursors: dict[str, Any] = {}
        """Cursors that ALLOCATE has made."""
        self.dynamic_command = ""
        """What the latest dynamic statement was."""
        self.notes: list[str] = []
        self.more_notes = 0
        """How many notes of the statement were not kept."""
        self.told: list[str] = []
        """All notes of the session, the first thousand."""
        self.events: list[str] = []
        self.atomic = 0
        self.trace: list[Any] = []
        self.stop: Condition | None = None
        self.source: Source | None = None
        """The text of its statement."""
        self.cursors: list[Cursor] = []
        self.returning: list[Cursor] = []
        """Cursors WITH RETURN that have been opened, in that order."""
        self.more_results: list[tuple[tuple[ResultColumn, ...], list[Row]]] = []
        """Result sets of a CALL behind its first."""
        self.prepared: dict[str | None, tuple[Statement, Source]] = {}
        self.schema = ""
        """The current schema; empty for the project's own."""
        self.access = 3
        """What the routine that runs may do, for dynamic statements (a position in ACCESS)."""
        self.committed = self.rolled_back = 0
        self.modes: dict[str, bool] = {}
        """Constraints whose check SET CONSTRAINTS has deferred (or not); empty key: all."""
        self.pending: dict[tuple[Any, ...], Callable[[], None]] = {}
        """Deferred checks, by what they are about."""
        self.moment = engine.clock
        self.depth_limit = engine.limits.depth
        self.round_limit = engine.limits.rounds
        self.row_limit = engine.limits.rows
        self.memory_limit = engine.limits.memory
        self._marks: list[Entry] = []
        self._mark = 0
        self._green: greenlet = engine.idle.pop() if engine.idle else _worker()

    # -- running, from the engine's side

    def resume(self, work: Callable[[Session], Any] | Condition | None) -> Any:
        """Start `work`, or go on after a wait (with the condition that ended it, if one did).
        Gives the result of the work, or the Wait it is now in."""
        given = self._green.switch((self, work) if self.waiting is None else work)
        return given.pop() if isinstance(given, list) else given  # the greenlet goes on holding what it has given

    def end(self) -> greenlet | None:
        """Give up whatever the session is in the middle of, and take its changes back. Gives its greenlet when that
        is idle, for another session to use: making one costs more than running a statement in it."""
        green = self._green
        if self.waiting is not None:
            green.throw()
        self.undo_to(0)
        for table in self.owned:
            table.owner = None
        return green if green and self.waiting is None else None

    def now(self) -> datetime:
        """CURRENT_TIMESTAMP: it stands still within a statement."""
        return self.moment

    def current_schema(self) -> str:
        return self.schema or DEFAULT_SCHEMA

    # -- budgets

    def enter(self, depth: int) -> None:
        """A routine is entered that is nested deep, or while somebody wants to end the statement."""
        if depth > self.depth_limit:
            fail("5B003", f"calls are nested more than {self.depth_limit} deep")
        self.check()

    def measure(self, rows: list[Any]) -> None:
        """Rows have been collected: 5B005 when they are more than a statement may hold."""
        if len(rows) > FEW_ROWS:
            sample = rows[:: len(rows) // 20]
            size = len(rows) * sum(size_of(row) for row in sample) // len(sample)
            if size > self.memory_limit:
                fail("5B005", f"{len(rows):,} rows are more than {self.memory_limit:,} bytes of memory")

    def join(self, left: Any, right: Any) -> Any:
        """A text or binary string behind another, neither of which has a length that would bound it."""
        if len(left) + len(right) > self.memory_limit:
            fail("5B005", f"a text of {len(left) + len(right):,} characters is too long")
        return left + right

    def too_long(self) -> None:
        fail("5B001", f"a loop has gone through {self.round_limit:,} rounds")

    def too_many(self) -> None:
        fail("5B004", f"a recursive common table has more than {self.row_limit:,} rows")

    # -- conditions of completion

    def warn(self, depth: int, sqlstate: str, message: str) -> None:
        """A warning, or no data: it is there for GET DIAGNOSTICS, and for a handler when the statement has ended."""
        self.note_condition(depth, Condition(sqlstate, message))

    def warn_once(self, depth: int, sqlstate: str, message: str) -> None:
        """A warning that a statement may meet in every row."""
        if not any(c.sqlstate == sqlstate for c in self.areas.get(depth, ())):
            self.warn(depth, sqlstate, message)

    def note_condition(self, depth: int, condition: Condition) -> None:
        area = self.areas.setdefault(depth, [])
        if len(area) < self.room:
            self.overfull.discard(depth)
            area.append(condition)
        else:
            self.overfull.add(depth)

    def raise_warning(self, depth: int) -> None:
        """Raise the first warning of the statement that has ended, for a handler in reach."""
        for condition in self.areas[depth]:
            if condition.sqlstate[:2] == "01":
                raise condition

    def watch(self) -> None:
        """Called now and then by what may take long."""
        if self.stop:
            self.check()

    def check(self) -> None:
        """Called when `stop` is set: somebody, or the time budget, ends the statement."""
        condition, self.stop = self.stop, None
        if condition is not None:
            raise condition

    def set(self, settings: Mapping[str, Any]) -> None:
        """Settings that a script gives a session: autocommit, isolation, patience. They do not make it read-only."""
        self.autocommit = bool(settings.get("autocommit", self.autocommit))
        self.usual = self.usual._replace(isolation=str(settings.get("isolation", self.usual.isolation)))
        self.patience = float(settings["patience"]) if "patience" in settings else self.patience

    # -- transactions

    def begin(self) -> None:
        """Start a transaction if none is active."""
        if not self.active:
            self.active = True
            self.events.append("begin")
            self.isolation, self.read_only, self.room = self.coming or self.usual
            self.coming = None
            self.engine.model.begin(self)

    def start_statement(self) -> None:
        """Forget what the statement before left: the record of its changes and notes."""
        self.notes, self.events, self._marks = [], [], []
        self.more_notes = 0
        self._mark = len(self.log)
        self.areas, self.overfull = {}, set()
        self.stop = None
        self.moment = self.engine.clock
        self.returning, self.more_results = [], []
        self.access = 3
        self.version = None

    def entries(self) -> list[Entry]:
        """Log entries of the current statement, those it has committed included."""
        return self._marks + self.log[self._mark :]

    def commit(self) -> None:
        self._check_deferred()
        try:
            self.engine.model.validate(self)
        except Condition:
            self.rollback()
            raise
        self._empty_temporary()
        self._marks += self.log[self._mark :]
        self.committed += self.active
        self.engine.keep(self)
        self._finish("commit")

    def _check_deferred(self) -> None:
        """Deferred constraints are checked at COMMIT; one that is not met rolls the transaction back (40002)."""
        try:
            self.check_pending(())
        except Condition as condition:
            self.rollback()
            message = f"rolled back: {condition.message}"
            raise Condition("40002", message, condition.items) from None

    def check_pending(self, names: tuple[str, ...]) -> None:
        """Do the deferred checks of these constraints, or of all."""
        due = [key for key in self.pending if not names or key[0] in names]
        for key in due:
            self.pending[key]()
        for key in due:
            self.pending.pop(key, None)

    def is_deferred(self, constraint: Any) -> bool:
        """Whether a constraint is checked at the end of the transaction only."""
        if not constraint.deferrable:
            return False
        chosen: bool = self.modes.get(constraint.name, self.modes.get("", constraint.deferred))
        return chosen

    def set_constraints(self, names: tuple[str, ...], deferred: bool) -> None:
        if not deferred:
            self.check_pending(names)
        if not names:
            self.modes.clear()
        self.modes.update(dict.fromkeys(names or ("",), deferred))

    def _empty_temporary(self) -> None:
        """ON COMMIT DELETE ROWS."""
        for table in [t for t in self.written if t.temporary == "delete"]:
            for row in list(table.scan()):
                self.change(table, row[-1], row, None)

    def rollback(self) -> None:
        self.rolled_back += self.active
        self.undo_to(0)
        self._finish("rollback")

    def _finish(self, event: str) -> None:
        if self.active:
            self.events.append(event)
        self.active = self.explicit = False
        self.log = []
        self._mark = 0
        self.savepoints = []
        self.level = 0
        self.snapshot = FOREVER
        self.reads = None
        self.momentary = {}
        for table in self.owned:
            table.owner = None
        self.owned = []
        self.read_only = False
        self.modes, self.pending = {}, {}
        kept = [c for c in self.cursors if c.kind.hold and event == "commit"]
        for cursor in self.cursors:
            if cursor not in kept:
                cursor.is_open = False
        self.cursors = kept
        self.engine.release(self, list(self.held))

    def undo_to(self, mark: int) -> None:
        """Take back the changes of this transaction behind position `mark` of the log."""
        log = self.log
        while len(log) > mark:
            where, key, before, after = log.pop()
            where.undo(key, before, after)
        self._mark = min(self._mark, mark)
        if not log:
            self.engine.unmark(self)

    def open_level(self) -> int:
        """Begin a savepoint level, as an atomic context and NEW SAVEPOINT LEVEL do; gives the one around it."""
        around, self.level = self.level, len(self.savepoints)
        return around

    def close_level(self, around: int) -> None:
        """End a savepoint level, and its savepoints with it."""
        del self.savepoints[self.level :]
        self.level = min(around, len(self.savepoints))

    def savepoint(self, name: str) -> None:
        """SAVEPOINT (clause 17.5): one of the same name in the same level is destroyed."""
        self.begin()
        place = self._place_of(name)
        if place is not None:
            del self.savepoints[place]
        self.savepoints.append((name, len(self.log)))
        self.events.append(f"savepoint {name}")

    def _place_of(self, name: str) -> int | None:
        reach = range(self.level, len(self.savepoints))
        return next((n for n in reach if self.savepoints[n][0] == name), None)

    def _find_savepoint(self, name: str) -> int:
        place = self._place_of(name)
        if place is not None:
            return place
        known = ", ".join(n for n, _ in self.savepoints[self.level :])
        hint = f"; there are: {known}" if known else " in this transaction"
        if any(n == name for n, _ in self.savepoints):
            hint = " in this savepoint level: an atomic block, a function or NEW SAVEPOINT LEVEL begins one"
        fail("3B001", f"there is no savepoint {name}{hint}")

    def rollback_to(self, name: str) -> None:
        number = self._find_savepoint(name)
        del self.savepoints[number + 1 :]
        self.undo_to(self.savepoints[number][1])
        self.events.append(f"to savepoint {name}")

    def release_savepoint(self, name: str) -> None:
        del self.savepoints[self._find_savepoint(name) :]
        self.events.append(f"release {name}")

    def forbid_end(self) -> None:
        """COMMIT and ROLLBACK may not run inside an atomic context."""
        if self.atomic:
            fail("2D000", "a transaction may not end inside an ATOMIC block or a function")

    # -- reading

    def private(self, table: Table) -> Table:
        """This session's own rows of a temporary table (clause 4.15.2)."""
        found = self.private_tables.get(table)
        if found is None:
            found = self.private_tables[table] = private_copy(self, table)
        return found

    def view(self, table: Table) -> Any:
        """The table as this session may see it now."""
        return self.engine.model.view(self, table)

    def view_to_change(self, table: Table, mode: str = "U", wait: float | None = None, skip: bool = False) -> Any:
        """The table as it is looked through for rows to change, or to lock."""
        return self.engine.model.view_to_change(self, table, mode, wait, skip)

    def patched(self, table: Table) -> Table | Patched:
        """The table with what others have changed and not committed, or after the snapshot, left out."""
        patch = self.engine.patch(self, table)
        if not patch:
            return table
        self.version = min(self.snapshot, self.engine.sequence)
        return Patched(table, patch)

    def wait_for_owner(self, table: Table) -> None:
        """Another session is changing the definition of a table: wait for what becomes of it."""
        held = (table, None) in self.held
        try:
            self.lock((table, None), "IS")
        finally:
            if not held:
                self.momentary[table, None] = None

    # -- locks

    def hold(self, resource: Resource, mode: str) -> None:
        """A lock has been granted."""
        self.held[resource] = mode
        self.taken.append((resource, mode))

    def hold_only(self, held: dict[Resource, str]) -> None:
        """These are all locks that are held now."""
        self.held = held
        self.taken = list(held.items())

    def holding(self) -> tuple[list[tuple[Resource, str]], int]:
        """What is held at this moment, without a copy of it: the first so many of `taken`."""
        return self.taken, len(self.taken)

    def lock(self, resource: Resource, mode: str, wait: float | None = None) -> bool:
        """Hold a lock to the end of the transaction. True when it had to be waited for: `wait` seconds at most, or as
        long as the session's patience lasts."""
        if resource in self.momentary:
            del self.momentary[resource]
        return self._take(resource, mode, wait)

    def _take(self, resource: Resource, mode: str, wait: float | None) -> bool:
        if self.held.get(resource) == mode:
            return False
        if self.engine.locks.acquire(self, resource, mode):
            return False
        self._wait(resource, mode, wait)
        if resource[1] is None and self.engine.catalog.relations.get(resource[0].name) is not resource[0]:
            message = f"the definition of {resource[0].name} has changed while this waited; run it again"
            raise DefinitionChanged("42704", message)
        return True

    def read_lock(self, resource: Resource, mode: str, keep: bool, wait: float | None = None) -> None:
        """A lock for reading: to the end of the transaction, or of the statement unless it was held before."""
        held = resource in self.held
        self._take(resource, mode, wait)
        if not held and not keep:
            self.momentary[resource] = None

    def end_statement(self) -> None:
        """Give up the locks that were for the statement only, unless they have become more."""
        given, self.momentary = self.momentary, {}
        if given:
            self.engine.release(self, [r for r in given if self.held.get(r) in ("S", "U", "IS", "IX")])

    def _wait(self, resource: Resource, mode: str, bound: float | None) -> None:
        engine = self.engine
        if bound == 0:
            lock = engine.locks.locks[resource]
            blockers = lock.blockers(self, mode)
            holders = [s.name for s in blockers if s in lock.holders]
            by = f"locked by {', '.join(holders)}" if holders else f"wanted by {', '.join(s.name for s in blockers)}"
            engine.wake(engine.locks.withdraw(self, resource))
            fail("5L001", f"{engine.describe(resource, mode)} is {by}")
        longest = min((w for w in (bound, self.patience) if w is not None), default=None)
        mode = engine.locks.wanted(self, resource, mode)
        until = engine.elapsed + longest if longest is not None else None
        self.waiting = Wait((), resource, mode, until)
        circle = engine.locks.circle(self)
        if circle:
            message, told = engine.tell_circle(circle)
            self.waiting = None
            engine.wake(engine.locks.withdraw(self, resource))
            self.rollback()
            raise Condition("40001", message, {"circle": told})
        names = tuple(s.name for s in engine.locks.blockers(self))
        self.waiting = Wait(names, resource, mode, until, longest)
        self.events.append("wait")
        ended = engine.hub.switch(self.waiting)
        resource, self.waiting = self.waiting.resource, None
        if ended is not None:
            engine.wake(engine.locks.withdraw(self, resource))
            raise ended

    def lock_table(self, table: Table, mode: str, wait: float | None = None) -> None:
        """A lock on a whole table."""
        self.begin()
        self.lock((table, None), mode, wait)

    def own(self, table: Table) -> None:
        """A schema statement is about to change a table: nobody else may be in the middle of using it."""
        self.lock_table(table, "X")
        if table.owner is None:
            table.owner = self
            self.owned.append(table)

    def intend(self, table: Table, mode: str) -> None:
        """The intention lock on a table above the locks on its rows."""
        resource = (table, None)
        if self.momentary or self.held.get(resource) != "IX":
            self.lock(resource, mode)

    @staticmethod
    def row_resource(table: Table, row: Row) -> Resource:
        """What stands for a row in locks: its primary key, or its row id."""
        return table, table.primary.get_key(row) if table.primary else row[-1]

    def lock_row(self, table: Table, row: Row, mode: str = "X", wait: float | None = None) -> bool:
        """A lock on a row, by its key."""
        return self.lock((table, table.primary.get_key(row) if table.primary else row[-1]), mode, wait)

    def free_rows(
        self, rows: list[Row], tables: tuple[tuple[int, Table], ...], mode: str, offset: int, most: int | None
    ) -> list[Row]:
        """SKIP LOCKED: the rows of a result whose rows of these tables, at their positions, can be locked at once; they
        are, until there are enough."""
        self.begin()
        for _, table in tables:
            self.intend(table, "IX" if mode == "X" else "IS")
        free: list[Row] = []
        for row in rows:
            if most is not None and len(free) >= offset + most:
                break
            wanted = [self.row_resource(t, row[at]) for at, t in tables if row[at][-1] is not None]
            if all(self.engine.locks.is_free(self, resource, mode) for resource in wanted):
                for resource in wanted:
                    self.lock(resource, mode)
                free.append(row)
        return free[offset:]

    def lock_rows(self, table: Table, rows: list[Row], mode: str = "X", wait: float | None = None) -> bool:
        """Locks on rows as they were seen. False when one has changed meanwhile: then look again."""
        self.begin()
        self.intend(table, "IX" if mode == "X" else "IS")
        steady = True
        for row in rows:
            self.lock_row(table, row, mode, wait)
            if table.rows.get(row[-1]) is not row:
                if self.snapshot != FOREVER:
                    self.rollback()
                    raise Condition("40001", f"a row of {table.name} has been changed since this transaction began")
                steady = False
        return steady

    def change(self, table: Table, row_id: int, before: Row | None, after: Row | None) -> None:
        """Change one row, which is locked, and log it."""
        if table.writer is not self:
            table.writers.add(self)
            self.written.add(table)
            table.writer = self if len(table.writers) == 1 else SHARED
        table.put(row_id, before, after)
        self.log.append((table, row_id, before, after))
        if not len(self.log) & 4095:
            self.watch()
            self.engine.count_rows()
