"""A look at the data as a session sees them, which leaves no trace.

It takes no lock and waits for nobody, what it reads counts for no isolation level, and it changes nothing."""

from __future__ import annotations

from typing import Any

from glimb.engine.storage.overlay import Patched
from glimb.engine.storage.resources import Resource
from glimb.engine.storage.table import Table
from glimb.engine.transactions.claims import Claims
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail


class NoClaims(Claims):
    """Has every lock that it asks for, and no one notices."""

    def _take(self, resource: Resource, mode: str, wait: float | None) -> bool:
        return False


class Onlooker(Session):
    """Sees what is committed, or in the snapshot of the session that it looks for, and that session's own changes."""

    def __init__(self, looks_for: Session) -> None:
        super().__init__(looks_for.shared, looks_for.name)
        self.looks_for = looks_for
        self.active = True
        now = looks_for.current if looks_for.active else looks_for.coming or looks_for.usual
        self.current = now._replace(read_only=True)
        self.schema, self.source, self.moment = looks_for.schema, looks_for.source, looks_for.shared.clock
        self.sight.snapshot = looks_for.sight.snapshot
        self.private_tables = looks_for.private_tables
        self.dynamic.prepared = looks_for.dynamic.prepared
        self.claims = NoClaims(self.shared, self)
        self.log = looks_for.log
        self._mark = len(self.log)

    def must_write(self) -> None:
        fail("25006", "a question changes nothing")

    def view(self, table: Table) -> Any:
        """See above; the rows of a temporary table are the session's own anyway."""
        if table.private_to:
            return table
        if self.shared.model.name == "locking" and self.current.isolation == "read uncommitted":
            return table
        patch = self.shared.history.patch(self.looks_for, table, self.sight.snapshot)
        return Patched(table, patch) if patch else table

    def view_to_change(self, table: Table, mode: str = "U", wait: float | None = None, skip: bool = False) -> Any:
        return self.view(table)

    def begin(self) -> None:
        """It is in no transaction of its own."""

    def commit(self) -> None:
        fail("25006", "a question ends no transaction")

    def rollback(self) -> None:
        fail("25006", "a question ends no transaction")
