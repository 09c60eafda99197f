"""What is looked at when a statement has changed all its rows, or, deferred, at the end of the transaction: keys that
may be taken for a while, foreign keys (ISO/IEC 9075-2 clause 4.25.2)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from glimb.engine.runtime.foreign_keys import check_children, check_parent
from glimb.engine.runtime.keys import check_key
from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session


class Later:
    """Made for one statement."""

    __slots__ = ("added", "keyed", "removed", "session")

    def __init__(self, session: Session) -> None:
        self.session = session
        self.added: list[tuple[Table, Row]] = []
        """Rows that may refer to others."""
        self.removed: list[tuple[Table, Row, Row | None]] = []
        """Rows that others may refer to, as they were and as they are."""
        self.keyed: list[tuple[Table, Index, Row]] = []
        """Rows whose keys are looked at when all rows have changed."""

    def look(self) -> None:
        """Check keys and foreign keys."""
        for table, index, row in self.keyed:
            self.check(index, (row[-1],), partial(check_key, self.session, table, index, row))
        for table, row in self.added:
            for key in table.foreign:
                self.check(key, (row[-1],), partial(check_parent, self.session, key, row))
        for table, old, new in self.removed:
            for key in table.referenced:
                gone = key.target_index.get_key(old)
                if new is None or gone != key.target_index.get_key(new):
                    self.check(key, ("gone", gone), partial(check_children, self.session, key, old))

    def check(self, constraint: Any, about: tuple[Any, ...], check: Callable[[], None]) -> None:
        """Check a constraint now, or at the end of the transaction when it is deferred."""
        if not constraint.enforced:
            return
        if self.session.deferred.defers(constraint):
            self.session.deferred.pending[(constraint.name, constraint, *about)] = check
        else:
            check()
