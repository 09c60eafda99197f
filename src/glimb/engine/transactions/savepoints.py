"""Savepoints and their levels (ISO/IEC 9075-2 clauses 4.41.2 and 17.5 to 17.7)."""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine.values.conditions import fail


class Savepoint(NamedTuple):
    """A name, and the place in the log of the transaction to go back to."""

    name: str
    place: int


class Savepoints:
    """The savepoints of a transaction, oldest first. Those before `level` are out of reach."""

    __slots__ = ("atomic", "level", "points")

    def __init__(self) -> None:
        self.points: list[Savepoint] = []
        self.level = 0
        self.atomic = 0
        """How many atomic contexts are open: a transaction may not end inside one."""

    def clear(self) -> None:
        """The transaction has ended."""
        self.points, self.level = [], 0

    def open_level(self) -> int:
        """Begin a savepoint level, as an atomic context and NEW SAVEPOINT LEVEL do; gives the one around it."""
        around, self.level = self.level, len(self.points)
        return around

    def close_level(self, around: int) -> None:
        """End a savepoint level, and its savepoints with it."""
        del self.points[self.level :]
        self.level = min(around, len(self.points))

    def set(self, name: str, place: int) -> None:
        """SAVEPOINT: one of the same name in the same level is destroyed."""
        found = self._find(name)
        if found is not None:
            del self.points[found]
        self.points.append(Savepoint(name, place))

    def go_back(self, name: str) -> int:
        """ROLLBACK TO: forget the savepoints behind it; gives its place in the log."""
        number = self._known(name)
        del self.points[number + 1 :]
        return self.points[number].place

    def release(self, name: str) -> None:
        """RELEASE: forget it, and those behind it."""
        del self.points[self._known(name) :]

    def _find(self, name: str) -> int | None:
        reach = range(self.level, len(self.points))
        return next((n for n in reach if self.points[n].name == name), None)

    def _known(self, name: str) -> int:
        """Where it is; 3B001 when it is not there, or out of reach."""
        place = self._find(name)
        if place is not None:
            return place
        known = ", ".join(p.name for p in self.points[self.level :])
        hint = f"; there are: {known}" if known else " in this transaction"
        if any(p.name == name for p in self.points):
            hint = " in this savepoint level: an atomic block, a function or NEW SAVEPOINT LEVEL begins one"
        fail("3B001", f"there is no savepoint {name}{hint}")

    def forbid_end(self) -> None:
        """COMMIT and ROLLBACK may not run inside an atomic context."""
        if self.atomic:
            fail("2D000", "a transaction may not end inside an ATOMIC block or a function")
