"""The merged states of a weave as a graph: from the fixture, statement by statement, to the ways to end.

In: what each round of a weave has expanded (`Web.add`). Out: states with how many orders pass them, ways between them,
and which of them lead to broken ends only.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

Order = tuple[str, ...]
"""Session names, in the order in which their statements run."""


class Done(NamedTuple):
    """What became of one statement: a digest to compare, and words to show."""

    digest: tuple[Any, ...]
    shown: str


class Ended(NamedTuple):
    """How an order ends: for each session what its statements did and the state of its transaction; the net changes."""

    sessions: tuple[tuple[str, tuple[Done, ...], str], ...]
    changes: tuple[str, ...]


START = 0
"""The number of the state that the fixture is."""


class Way(NamedTuple):
    """The statement of a session with this number, from a state to another one, or (`end`) to a way to end."""

    start: int
    session: str
    number: int
    to: int
    end: Ended | None


class Web:
    """See above. States are numbered as they are found; `level` is how many statements led to one."""

    def __init__(self) -> None:
        self.levels = [0]
        self.ways: list[Way] = []
        self._numbers: dict[tuple[int, str], int] = {}
        self._following: dict[tuple[int, str], Way] = {}

    def add(self, start: int, session: str, number: int, state: str, ended: Ended | None) -> int:
        """Have a statement lead from a state to the one with this digest, or to an end; gives the number of the state
        that it leads to."""
        level = self.levels[start] + 1
        to = -1
        if ended is None:
            to = self._numbers.setdefault((level, state), len(self.levels))
            if to == len(self.levels):
                self.levels.append(level)
        way = Way(start, session, number, to, ended)
        self.ways.append(way)
        self._following[start, session] = way
        return to

    def along(self, order: Order) -> Iterator[Way]:
        """The ways of one order."""
        at = START
        for session in order:
            way = self._following.get((at, session))
            if way is None:
                return
            yield way
            at = way.to

    def counts(self, broken: Iterable[Ended]) -> list[Passing]:
        """For each way how many orders go it, and how many of these end broken."""
        bad = set(broken)
        forward, backward, worse = [1] + [0] * (len(self.levels) - 1), [0] * len(self.levels), [0] * len(self.levels)
        for way in self.ways:  # in the order of their levels
            if way.end is None:
                forward[way.to] += forward[way.start]
        for way in reversed(self.ways):
            backward[way.start] += 1 if way.end is not None else backward[way.to]
            worse[way.start] += (way.end in bad) if way.end is not None else worse[way.to]
        return [
            Passing(
                forward[w.start] * (1 if w.end is not None else backward[w.to]),
                forward[w.start] * ((w.end in bad) if w.end is not None else worse[w.to]),
            )
            for w in self.ways
        ]


class Passing(NamedTuple):
    """How many orders go a way, and how many of them end with a condition that does not hold."""

    orders: int
    broken: int

    @property
    def is_lost(self) -> bool:
        """Whether every order that goes here ends so."""
        return 0 < self.orders == self.broken
