"""Budgets: how many rounds, rows, calls, seconds and bytes a statement may take, and what happens beyond."""

from __future__ import annotations

from sys import getsizeof
from typing import Any, NamedTuple

from glimb.engine.values.conditions import fail

FEW_ROWS = 1000
"""Fewer rows than that are not worth measuring."""


class Limits(NamedTuple):
    """Budgets that no honest case meets: rounds of one loop, rows of a recursive common table, depth of calls,
    seconds of real time a statement, bytes of memory for a statement and for the rows of a world."""

    rounds: int = 10_000_000
    rows: int = 1_000_000
    depth: int = 500
    seconds: float = 10.0
    memory: int = 1_000_000_000


class Budget:
    """Looks at what grows. Time, and memory that nobody counts, are looked at from outside (see `watch`)."""

    __slots__ = ("memory", "rounds", "rows")

    def __init__(self, limits: Limits) -> None:
        self.rounds, self.rows, self.memory = limits.rounds, limits.rows, limits.memory

    def measure(self, rows: list[Any]) -> None:
        """Rows have been collected: 5B005 when they are more than a statement may hold."""
        if len(rows) > FEW_ROWS:
            sample = rows[:: len(rows) // 20]
            size = len(rows) * sum(size_of(row) for row in sample) // len(sample)
            if size > self.memory:
                fail("5B005", f"{len(rows):,} rows are more than {self.memory:,} bytes of memory")

    def join(self, left: Any, right: Any) -> Any:
        """A text or binary string behind another, neither of which has a length that would bound it."""
        if len(left) + len(right) > self.memory:
            fail("5B005", f"a text of {len(left) + len(right):,} characters is too long")
        return left + right

    def too_long(self) -> None:
        fail("5B001", f"a loop has gone through {self.rounds:,} rounds")

    def too_many(self) -> None:
        fail("5B004", f"a recursive common table has more than {self.rows:,} rows")


def size_of(row: Any) -> int:
    """About how many bytes a row takes with its values."""
    return getsizeof(row) + sum(getsizeof(v) for v in row) if isinstance(row, tuple) else getsizeof(row)
