"""The cursors that are open in a session, and the result sets that a CALL leaves."""

from __future__ import annotations

from typing import Any, Protocol

from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.storage.indexes import Row


class CursorKind(Protocol):
    """How a cursor was declared, so far as the end of a transaction asks."""

    @property
    def hold(self) -> bool: ...
    @property
    def returns(self) -> bool: ...


class OpenCursor(Protocol):
    """A cursor (see `runtime.cursors`), so far as it is known here."""

    is_open: bool

    @property
    def kind(self) -> CursorKind: ...


class OpenCursors:
    """See above."""

    __slots__ = ("more_results", "opened", "returning")

    def __init__(self) -> None:
        self.opened: list[OpenCursor] = []
        self.returning: list[Any] = []
        """Cursors WITH RETURN that have been opened, in that order."""
        self.more_results: list[tuple[tuple[ResultColumn, ...], list[Row]]] = []
        """Result sets of a CALL behind its first."""

    def start_statement(self) -> None:
        self.returning, self.more_results = [], []

    def add(self, cursor: OpenCursor) -> None:
        """A cursor has been opened."""
        self.opened.append(cursor)
        if cursor.kind.returns:
            self.returning.append(cursor)

    def end_transaction(self, is_commit: bool) -> None:
        """Close all but those WITH HOLD, and those too when it is rolled back."""
        kept = [c for c in self.opened if c.kind.hold and is_commit]
        for cursor in self.opened:
            if cursor not in kept:
                cursor.is_open = False
        self.opened = kept
