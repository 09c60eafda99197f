"""How the rows of a recursion came about: what SEARCH and CYCLE add to them (ISO/IEC 9075-2 clause 7.18).

While a recursion runs, a row has behind its `width` columns: with CYCLE its mark and the path of keys to it, with
SEARCH the keys from the start to it. A step's rows come with what stood behind the row that they were made from.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.lang.node import Record

Row = tuple[Any, ...]


class Trail(Record):
    """Positions of the columns that SEARCH orders by and that CYCLE compares; empty without such a clause."""

    width: int
    search: tuple[int, ...]
    depth_first: bool
    cycle: tuple[int, ...]
    mark: Any
    unmarked: Any

    @property
    def extra(self) -> int:
        """How many values stand behind the columns while the recursion runs."""
        return 2 * bool(self.cycle) + bool(self.search)


def first_rows(rows: list[Row], trail: Trail) -> list[Row]:
    """The rows that a recursion starts with."""
    before = ((trail.unmarked, ()) if trail.cycle else ()) + (((),) if trail.search else ())
    return next_rows([row + before for row in rows], trail)


def next_rows(rows: list[Row], trail: Trail) -> list[Row]:
    """The rows of a step, with their own keys added to those of the rows that they come from."""
    made = []
    for row in rows:
        behind: Row = ()
        if trail.cycle:
            path = row[trail.width + 1]
            key = tuple(row[c] for c in trail.cycle)
            behind = (trail.mark if key in path else trail.unmarked, (*path, key))
        if trail.search:
            behind += ((*row[-1], tuple((row[c] is None, row[c]) for c in trail.search)),)
        made.append(row[: trail.width] + behind)
    return made


def to_follow(rows: list[Row], trail: Trail) -> list[Row]:
    """Those from which the recursion goes on: a row that closes a circle is the last of its path."""
    return [r for r in rows if r[trail.width] != trail.mark] if trail.cycle else rows


def finished(rows: list[Row], trail: Trail) -> list[Row]:
    """The rows as the query sees them: with their number in the order of SEARCH, then the mark and path of CYCLE."""
    width = trail.width
    if not trail.search:
        return rows
    depth_first: Callable[[Row], Any] = lambda row: row[-1]
    breadth_first: Callable[[Row], Any] = lambda row: (len(row[-1]), row[-1][-1])
    ordered = sorted(rows, key=depth_first if trail.depth_first else breadth_first)
    return [(*row[:width], number, *row[width:-1]) for number, row in enumerate(ordered, 1)]
