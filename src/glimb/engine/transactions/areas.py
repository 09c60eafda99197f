"""Diagnostics areas: the conditions of the statement before, for GET DIAGNOSTICS and handlers (clause 23)."""

from __future__ import annotations

from glimb.engine.transactions.characteristics import MOST_CONDITIONS
from glimb.engine.values.conditions import Condition


class DiagnosticsAreas:
    """One area for each depth of calls at which a routine may ask."""

    __slots__ = ("areas", "ended", "overfull", "room", "row_count")

    def __init__(self) -> None:
        self.areas: dict[int, list[Condition]] = {}
        self.overfull: set[int] = set()
        """Depths at which there were more conditions than there is room for."""
        self.room = MOST_CONDITIONS
        self.row_count = 0
        """Of the latest change or query."""
        self.ended = {"commit": 0, "rollback": 0}
        """How many transactions of the session have ended so."""

    def forget(self, depth: int) -> None:
        """Another statement begins at a depth."""
        self.areas.pop(depth, None)
        self.overfull.discard(depth)

    def warn(self, depth: int, sqlstate: str, message: str) -> None:
        """A warning, or no data: it is there for GET DIAGNOSTICS, and for a handler when the statement has ended."""
        self.note(depth, Condition(sqlstate, message))

    def warn_once(self, depth: int, sqlstate: str, message: str) -> None:
        """A warning that a statement may meet in every row."""
        if not any(c.sqlstate == sqlstate for c in self.areas.get(depth, ())):
            self.warn(depth, sqlstate, message)

    def note(self, depth: int, condition: Condition) -> None:
        """Put a condition into an area, if there is room."""
        area = self.areas.setdefault(depth, [])
        if len(area) < self.room:
            area.append(condition)
        else:
            self.overfull.add(depth)

    def raise_warning(self, depth: int) -> None:
        """Raise the first warning of the statement that has ended, for a handler in reach."""
        for condition in self.areas[depth]:
            if condition.sqlstate[:2] == "01":
                raise condition
