"""Passes of waymarks: what a statement's routines had in their variables when they came by a named point."""

from __future__ import annotations

from typing import Any, NamedTuple

from glimb.engine.catalog.objects import is_meant
from glimb.engine.values.types import Type
from glimb.lang.source import Source, Span

MOST_PASSES = 10_000
"""So many passes of a statement are kept, and beyond them the last one of each waymark."""


def is_waymark(said: str, routine: str, name: str) -> bool:
    """Whether what somebody says means a waymark of a routine: its name alone, or behind that of the routine."""
    of, _, mark = said.rpartition(".")
    return mark == name and (not of or is_meant(of, routine))


class WaymarkInfo:
    """A waymark: the routine that it is in (empty: a block outside one), name, place, the variables seen there."""

    __slots__ = ("name", "names", "routine", "source", "span", "types")

    def __init__(
        self, routine: str, name: str, source: Source, span: Span, names: tuple[str, ...], types: tuple[Type, ...]
    ) -> None:
        self.routine = routine
        self.name = name
        self.source = source
        self.span = span
        self.names = names
        self.types = types

    def _place(self) -> tuple[str, str, Span]:
        return self.source.name, self.routine, self.span

    def __eq__(self, other: object) -> bool:
        """A routine has several forms of code, each with marks of its own: the place says which are the same."""
        return isinstance(other, WaymarkInfo) and self._place() == other._place()

    def __hash__(self) -> int:
        return hash(self._place())

    @property
    def full_name(self) -> str:
        return f"{self.routine}.{self.name}" if self.routine else self.name

    def is_meant(self, said: str) -> bool:
        """Whether what somebody says means this waymark."""
        return is_waymark(said, self.routine, self.name)


class Pass(NamedTuple):
    """One time that a waymark was passed: which time, from 1, and the values of its variables."""

    waymark: WaymarkInfo
    number: int
    values: tuple[Any, ...]

    def value(self, name: str) -> tuple[Any, Type] | None:
        """The value of a variable with its type; None when there is no such variable."""
        if name not in self.waymark.names:
            return None
        at = self.waymark.names.index(name)
        return self.values[at], self.waymark.types[at]


class Passes:
    """All passes of one statement, in order."""

    __slots__ = ("kept", "last")

    def __init__(self) -> None:
        self.kept: list[Pass] = []
        self.last: dict[WaymarkInfo, Pass] = {}

    def add(self, waymark: WaymarkInfo, values: tuple[Any, ...]) -> None:
        """The waymark is passed."""
        before = self.last.get(waymark)
        passed = self.last[waymark] = Pass(waymark, before.number + 1 if before is not None else 1, values)
        if len(self.kept) < MOST_PASSES:
            self.kept.append(passed)

    def of(self, waymark: WaymarkInfo, number: int) -> Pass | None:
        """The pass of this number; None when it did not come to it, or is not kept."""
        last = self.last.get(waymark)
        if last is not None and last.number == number:
            return last
        return next((p for p in self.kept if p.waymark == waymark and p.number == number), None)
