"""A session: its transaction, its log of changes, and the statement it is in the middle of.

It is the first argument of all generated code, which knows it as `s`. What belongs together stands in objects of its
own: locks (`claims`), savepoints, deferred checks, diagnostics, notes, cursors, dynamic SQL.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any

from greenlet import greenlet

from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.outcomes.outcome import TransactionEvent
from glimb.engine.storage.history import undo_all, unmark
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.log import Entry
from glimb.engine.storage.overlay import Patched
from glimb.engine.storage.table import SHARED, Table
from glimb.engine.transactions.areas import DiagnosticsAreas
from glimb.engine.transactions.asides import Asides
from glimb.engine.transactions.characteristics import Characteristics
from glimb.engine.transactions.claims import Claims
from glimb.engine.transactions.deferred import Deferred
from glimb.engine.transactions.dynamic_state import ANY_ACCESS, DynamicState
from glimb.engine.transactions.open_cursors import OpenCursors
from glimb.engine.transactions.savepoints import Savepoints
from glimb.engine.transactions.shared import Shared
from glimb.engine.transactions.sight import Sight
from glimb.engine.transactions.threads import Thread
from glimb.engine.values.conditions import Condition, fail
from glimb.lang.source import Source

MANY_CHANGES = 4096
"""After so many changes it is looked at whether there are too many rows."""


class Session:
    """One user of an engine. Attributes that generated code reads again and again are plain."""

    def __init__(self, shared: Shared, name: str) -> None:
        self.shared = shared
        self.name = name
        self.autocommit = False
        self.usual = Characteristics()
        """Of the transactions that the session begins, unless another is said (`coming`)."""
        self.coming: Characteristics | None = None
        self.current = self.usual
        """Of the transaction that is active, or was last."""
        self.active = False
        self.explicit = False
        """Whether START TRANSACTION began it: then autocommit does not end it."""
        self.log: list[Entry] = []
        self.written: set[Table] = set()
        self.private_tables: dict[Table, Table] = {}
        """Its rows of temporary tables."""
        self.schema = ""
        """The current schema; empty for the project's own."""
        self.sight = Sight()
        self.savepoints = Savepoints()
        self.deferred = Deferred()
        self.claims = Claims(shared, self)
        self.budget = shared.budget
        self.diagnostics = DiagnosticsAreas()
        self.dynamic = DynamicState()
        self.cursors = OpenCursors()
        self.asides = Asides(shared.hosts)
        self.events: list[TransactionEvent] = []
        self.trace: list[Any] = []
        self.stop: Condition | None = None
        """Set when somebody, or a budget, wants the statement to end."""
        self.source: Source | None = None
        """The text of its statement."""
        self.moment = shared.clock
        self.depth_limit = shared.limits.depth
        self._entries: list[Entry] = []
        """What the statement has changed and committed itself."""
        self._mark = 0
        self._thread = Thread(shared)

    # -- running, from the engine's side

    def resume(self, work: Callable[[Session], Any] | Condition | None) -> Any:
        """Start `work`, or go on after a wait (with the condition that ended it, if one did).
        Gives the result of the work, or the Wait it is now in."""
        if callable(work):
            return self._thread.start(self, work)
        return self._thread.go_on(work)

    def end(self) -> greenlet | None:
        """Give up whatever the session is in the middle of, and take its changes back. Gives its greenlet when that
        is idle, for another session to use."""
        waited = self.claims.waiting is not None
        if waited:
            self._thread.leave()
        self.undo_to(0)
        self.claims.disown()
        return None if waited else self._thread.idle

    def start_statement(self) -> None:
        """Forget what the statement before left: the record of its changes and notes."""
        # Most statements leave none of these: to look costs less than to make them anew.
        self.asides.start_statement()
        if self.cursors.returning or self.cursors.more_results:
            self.cursors.start_statement()
        self.events, self._entries, self.trace = [], [], []
        self._mark = len(self.log)
        self.stop = None
        self.moment = self.shared.clock
        self.dynamic.access = ANY_ACCESS
        self.sight.version = None

    def entries(self) -> list[Entry]:
        """Log entries of the current statement, those it has committed included."""
        return self._entries + self.log[self._mark :]

    def now(self) -> datetime:
        """CURRENT_TIMESTAMP: it stands still within a statement."""
        return self.moment

    def current_schema(self) -> str:
        """CURRENT_SCHEMA."""
        return self.schema or DEFAULT_SCHEMA

    def set(self, settings: Mapping[str, Any]) -> None:
        """Settings that a script gives a session: autocommit, isolation, patience. They do not make it read-only."""
        self.autocommit = bool(settings.get("autocommit", self.autocommit))
        self.usual = self.usual._replace(isolation=str(settings.get("isolation", self.usual.isolation)))
        self.claims.patience = float(settings["patience"]) if "patience" in settings else self.claims.patience

    # -- ends that come from outside

    def enter(self, depth: int) -> None:
        """A routine is entered that is nested deep, or while somebody wants to end the statement."""
        if depth > self.depth_limit:
            fail("5B003", f"calls are nested more than {self.depth_limit} deep")
        self.check()

    def watch(self) -> None:
        """Called now and then by what may take long."""
        if self.stop:
            self.check()

    def check(self) -> None:
        """Called when `stop` is set: somebody, or the time budget, ends the statement."""
        condition, self.stop = self.stop, None
        if condition is not None:
            raise condition

    # -- transactions

    def begin(self) -> None:
        """Start a transaction if none is active."""
        if not self.active:
            self.active = True
            self.events.append(TransactionEvent("begin"))
            self.current, self.coming = self.coming or self.usual, None
            self.diagnostics.room = self.current.room
            self.shared.model.begin(self)

    def must_write(self) -> None:
        """25006 in a transaction that is READ ONLY."""
        if self.active and self.current.read_only:
            fail("25006", "the transaction is READ ONLY")

    def commit(self) -> None:
        """Raises 40002 or 40001, and is rolled back, when a deferred check or the model is against it."""
        self._check_deferred()
        try:
            self.shared.model.validate(self)
        except Condition:
            self.rollback()
            raise
        self._empty_temporary()
        self._entries += self.log[self._mark :]
        if self.log:
            self.shared.history.keep(self.log)
            self._unmark()
        self._finish("commit")

    def _check_deferred(self) -> None:
        """Deferred constraints are checked at COMMIT; one that is not met rolls the transaction back (40002)."""
        try:
            self.deferred.check()
        except Condition as condition:
            self.rollback()
            message = f"rolled back: {condition.message}"
            raise Condition("40002", message, condition.items) from None

    def _empty_temporary(self) -> None:
        """ON COMMIT DELETE ROWS."""
        for table in [t for t in self.written if t.temporary == "delete"]:
            for row in list(table.scan()):
                self.change(table, row[-1], row, None)

    def rollback(self) -> None:
        """Take everything back, and give up all locks."""
        self.undo_to(0)
        self._finish("rollback")

    def _finish(self, event: str) -> None:
        if self.active:
            self.diagnostics.ended[event] += 1
            self.events.append(TransactionEvent(event))
        self.active = self.explicit = False
        self.log, self._mark = [], 0
        self.savepoints.clear()
        self.sight.clear()
        self.deferred.clear()
        self.cursors.end_transaction(event == "commit")
        self.claims.end_transaction()

    def undo_to(self, mark: int) -> None:
        """Take back the changes of this transaction behind position `mark` of the log."""
        undo_all(self.log[mark:])
        del self.log[mark:]
        self._mark = min(self._mark, mark)
        if not self.log:
            self._unmark()

    def _unmark(self) -> None:
        """There are no uncommitted changes any more."""
        unmark(self, self.written)
        self.written = set()

    def savepoint(self, name: str) -> None:
        """SAVEPOINT (clause 17.5)."""
        self.begin()
        self.savepoints.set(name, len(self.log))
        self.events.append(TransactionEvent("savepoint", name))

    def rollback_to(self, name: str) -> None:
        """ROLLBACK TO SAVEPOINT (clause 17.8); 3B001 when there is none. Locks stay."""
        self.undo_to(self.savepoints.go_back(name))
        self.events.append(TransactionEvent("to savepoint", name))

    def release_savepoint(self, name: str) -> None:
        """RELEASE SAVEPOINT (clause 17.6)."""
        self.savepoints.release(name)
        self.events.append(TransactionEvent("release", name))

    # -- reading and changing

    def private(self, table: Table) -> Table:
        """This session's own rows of a temporary table (clause 4.15.2)."""
        found = self.private_tables.get(table)
        if found is None:
            found = self.private_tables[table] = self.shared.compiler.private_copy(self, table)
        return found

    def view(self, table: Table) -> Any:
        """The table as this session may see it now."""
        return self.shared.model.view(self, table)

    def view_to_change(self, table: Table, mode: str = "U", wait: float | None = None, skip: bool = False) -> Any:
        """The table as it is looked through for rows to change, or to lock."""
        return self.shared.model.view_to_change(self, table, mode, wait, skip)

    def patched(self, table: Table) -> Table | Patched:
        """The table with what others have changed and not committed, or after the snapshot, left out."""
        sight, history = self.sight, self.shared.history
        patch = history.patch(self, table, sight.snapshot)
        if not patch:
            return table
        sight.version = min(sight.snapshot, history.sequence)
        return Patched(table, patch)

    def change(self, table: Table, row_id: int, before: Row | None, after: Row | None) -> None:
        """Change one row, which is locked, and log it."""
        if table.writer is not self:
            self.marks(table)
        table.put(row_id, before, after)
        self.log.append((table, row_id, before, after))
        if not len(self.log) % MANY_CHANGES:
            self.watch()
            self.shared.count_rows()

    def marks(self, table: Table) -> None:
        """From now on, a table has uncommitted changes of this session."""
        table.writers[self] = None
        self.written.add(table)
        table.writer = self if len(table.writers) == 1 else SHARED
