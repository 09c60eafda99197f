"""Cursors at run time (ISO/IEC 9075-2 clause 14)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine.outcomes.outcome import Result, ResultColumn
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail
from glimb.lang.node import Record


class CursorKind(Record):
    """What is known of a cursor where it is declared."""

    name: str
    columns: tuple[ResultColumn, ...]
    hold: bool
    returns: bool
    by_row: bool = False
    """Whether each of its rows comes with a row of a table behind its columns."""
    over: Table | None = None
    """Of a dynamic cursor: that table."""
    scroll: bool = True
    """False for one that ALLOCATE has made without SCROLL; of others it is known before."""


class Cursor:
    """A cursor: its rows are those at OPEN, whatever changes later, unless it is SENSITIVE: then `again` gives them
    anew for every FETCH. One that can change rows has behind the columns of each row the row of its table.

    Rows are counted from 1. The cursor stands at row `above`, which is row `below` too, or between the two: before the
    first, behind the last, or where a row was that a sensitive cursor no longer finds."""

    __slots__ = ("above", "again", "below", "is_open", "kind", "rows", "statement")

    def __init__(self, kind: CursorKind) -> None:
        self.kind = kind
        self.is_open = False
        self.rows: list[Any] = []
        self.again: Callable[[], list[Any]] | None = None
        self.statement = ""
        """Of one that ALLOCATE has made: the name of its statement."""

    def open(self, session: Session, rows: list[Any], again: Callable[[], list[Any]] | None = None) -> None:
        """Take the rows; 24000 when it is open already."""
        if self.is_open:
            fail("24000", f"cursor {self.kind.name} is open already")
        self.is_open, self.rows, self.again = True, rows, again
        self.below, self.above = 0, 1
        session.cursors.add(self)

    def fetch(self, orientation: str = "next", position: int | None = 0) -> Any:
        """The row to which the cursor is moved (clause 14.5); None before the first or behind the last."""
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        if orientation != "next" and not self.kind.scroll:
            fail("42601", f"cursor {self.kind.name} only goes forward")
        if self.again is not None:
            self._look_again(self.again())
        if position is None:
            fail("22004", "the position of FETCH is NULL")
        return self._move(orientation, position)

    def _move(self, orientation: str, position: int) -> Any:
        count = len(self.rows)
        at = {
            "next": self.below + 1,
            "prior": self.above - 1,
            "first": 1,
            "last": count,
            "relative": (self.above if position < 0 else self.below) + position,
            "absolute": position if position >= 0 else count + 1 + position,
        }[orientation]
        if 1 <= at <= count and not (orientation == "relative" and position == 0 and self.below != self.above):
            self.below = self.above = at
            return self.rows[at - 1]
        if orientation != "relative" or position != 0:
            self.below, self.above = (0, 1) if at < 1 else (count, count + 1)
        return None

    def _look_again(self, rows: list[Any]) -> None:
        """Take the rows as they are now, and stand where the same row is, or where it was. Rows that are no rows of a
        table have no identity but their number."""
        before, self.rows = self.rows, rows
        if self.above > len(before) or (not self.kind.by_row and self.above > len(rows)):
            self.below, self.above = len(rows), len(rows) + 1
        elif self.below > 0 and self.kind.by_row:
            places = {row[-1][-1]: n for n, row in enumerate(rows, 1)}
            standing = self.below == self.above
            here = places.get(before[self.below - 1][-1][-1]) if standing else None
            behind = (places.get(row[-1][-1]) for row in before[self.below :])
            following = next((place for place in behind if place is not None), len(rows) + 1)
            self.below, self.above = (here, here) if here is not None else (following - 1, following)

    def current(self, session: Session, table: Table) -> list[Row]:
        """The row of the table at which the cursor stands, locked (clauses 14.6, 14.13)."""
        if not self.is_open or self.below != self.above:
            fail("24000", f"cursor {self.kind.name} stands at no row")
        if not self.kind.by_row:
            fail("42828", f"cursor {self.kind.name} cannot change rows: it is not over plain rows of one table")
        if self.kind.over is not None and self.kind.over is not (table.shared or table):
            fail("42828", f"cursor {self.kind.name} is over {self.kind.over.name}, not {table.name}")
        seen = self.rows[self.below - 1][-1]
        session.claims.lock_place(table, seen)
        row = table.rows.get(seen[-1])
        if row is None:
            fail("24000", f"the row at which cursor {self.kind.name} stands has been deleted")
        return [row]

    def structure(self) -> tuple[ResultColumn, ...]:
        """DESCRIBE CURSOR: the columns of an open cursor."""
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        return self.kind.columns

    def close(self) -> None:
        """Give the rows up; 24000 when it is not open."""
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        self.is_open, self.rows = False, []


def call_result(session: Session, out: tuple[Any, ...]) -> Result:
    """What a CALL gives: its OUT values, and the rows left in the cursors WITH RETURN that are open, in the order in
    which they were opened; those of the first one are the rows of the CALL."""
    sets = [(c.kind.columns, c.rows[c.below :]) for c in session.cursors.returning if c.is_open]
    for cursor in session.cursors.returning:
        cursor.is_open = False
    session.cursors.returning = []
    if not sets:
        return Result(out=out)
    cut = [(columns, [r[: len(columns)] for r in rows]) for columns, rows in sets]
    session.cursors.more_results = cut[1:]
    return Result(cut[0][0], cut[0][1], len(cut[0][1]), out)
