"""What has been tried: how often each statement, arm, loop, handler and condition of what is stored did what.

Generated code of the covered form counts (see `codegen.covering`); a `Coverage` belongs to an engine and holds a
`Point` for each place. Counting is done by iterators, the cheapest thing that an expression can call.
"""

from __future__ import annotations

import operator
from collections.abc import Callable, Iterable, Sequence
from itertools import count, islice
from typing import Any, NamedTuple

from glimb.lang.source import Source, Span

STATEMENT, ARM, LOOP, HANDLER, CONDITION = "statement", "arm", "loop", "handler", "condition"
SIDES = {STATEMENT: 1, ARM: 1, LOOP: 3, HANDLER: 1, CONDITION: 3}
"""How many counts each kind has: of a loop how often it had no round, one, more; of a condition how often it was true,
false, unknown."""


class Key(NamedTuple):
    """Which place: of what kind, in which text, where, and of several that begin there which one."""

    kind: str
    source: str
    start: int
    end: int
    number: int = 0


class Point:
    """The counts of one place. Several may share an iterator: statements that are run one behind the other."""

    __slots__ = ("iterators", "key", "more", "owner", "possible", "source", "text")

    def __init__(self, key: Key, source: Source) -> None:
        self.key = key
        self.source = source
        self.owner = ""
        """The routine or trigger in which it stands; empty where the catalog tells what it belongs to."""
        self.text = source.text[key.start : key.end]
        """How it is told."""
        self.possible = [True] * SIDES[key.kind]
        """Which sides can be met at all."""
        self.iterators: list[list[count[int]]] = [[] for _ in range(SIDES[key.kind])]
        self.more = [0] * SIDES[key.kind]
        """What is counted at once, and what was counted and has not been."""

    def counter(self, side: int = 0) -> count[int]:
        """An iterator that counts for a side."""
        if not self.iterators[side]:
            self.iterators[side].append(count(1))
        return self.iterators[side][0]

    @property
    def counts(self) -> tuple[int, ...]:
        """How often each side was met."""
        return tuple(
            more + sum(_taken(one) for one in iterators)
            for more, iterators in zip(self.more, self.iterators, strict=True)
        )


def _taken(iterator: count[int]) -> int:
    """How often an iterator that began with 1 was asked."""
    return int(repr(iterator)[6:-1]) - 1


class Coverage:
    """All points of an engine."""

    def __init__(self) -> None:
        self.points: dict[Key, Point] = {}

    def point(self, kind: str, source: Source, span: Span, number: int = 0) -> Point:
        """The point of a place; made when it is first asked for."""
        key = Key(kind, source.name, span.start, span.end, number)
        found = self.points.get(key)
        if found is None:
            found = self.points[key] = Point(key, source)
            if kind == CONDITION:
                found.possible[2] = False  # until somebody finds that it can be unknown
        return found


class Stretch:
    """Statements that are run one after the other unless something is raised: they are counted together, and what was
    raised takes back the count of those that were not reached."""

    def __init__(self, points: list[Point]) -> None:
        self.iterator = count(1)
        for point in points:
            point.iterators[0].append(self.iterator)

    def __next__(self) -> int:
        return next(self.iterator)


Later = dict[Span, tuple[Point, ...]]
"""Of a statement in a stretch: the points of those behind it."""


def stopped(error: BaseException, spans: list[Span], later: Later) -> None:
    """Take back what was counted of statements behind the one at which an exception came up in this function."""
    traceback = error.__traceback__
    if traceback is not None:
        for point in later.get(spans[traceback.tb_lineno - 1], ()):
            point.more[0] -= 1


MOST_LOOKED_AT = 32
"""Rows of a table that are looked at for those that a look-up passes by."""
SIGNS: dict[str, Callable[[Any, Any], bool]] = {
    "==": operator.eq,
    "<": operator.lt,
    "<=": operator.le,
    ">": operator.gt,
    ">=": operator.ge,
}
Tests = tuple[tuple[int, str, Any, Point, bool], ...]
"""What a look-up answers: column, sign, value, where it is counted, whether it counts the rows found."""


def count_look_up(rows: dict[int, Any], tests: Tests, found: object) -> None:
    """Count what an index answers: one row, None or a range (whose rows are tested one by one). The first rows of the
    table tell which of the conditions others did not meet."""
    if found is not None:
        _meet(tests, 1)
    _pass_by(islice(rows.values(), MOST_LOOKED_AT), tests)


def count_rows(rows: dict[int, Any], tests: Tests, found: Iterable[Any]) -> list[Any]:
    """The same for several rows; gives them."""
    listed = list(found)
    _meet(tests, len(listed))
    _pass_by(islice(rows.values(), MOST_LOOKED_AT), tests)
    return listed


def count_bucket(table: dict[Any, Any], tests: Tests, found: Sequence[Any]) -> Sequence[Any]:
    """Count what a hash table answers: its other rows are those for which the conditions were false. Gives the rows."""
    _meet(tests, len(found))
    for _, _, value, point, _ in tests:
        if value is None:
            point.more[2] += 1
        elif len(table) > bool(found):
            point.more[1] += 1
    return found


def _meet(tests: Tests, count: int) -> None:
    for _, _, _, point, is_true in tests:
        if is_true:
            point.more[0] += count


def _pass_by(rows: Iterable[Any], tests: Tests) -> None:
    """Count the first condition that each row does not meet; where all meet it, rows are counted elsewhere."""
    for row in rows:
        if row is not None:
            for column, sign, value, point, _ in tests:
                own = row[column] if column >= 0 else value
                if own is None or value is None:
                    point.more[2] += 1
                    break
                if not SIGNS[sign](own, value):
                    point.more[1] += 1
                    break


def rounds_done(loop: Point, rounds: int, others: tuple[tuple[Point, int], ...]) -> None:
    """A loop has ended: what is counted once for each round is counted now."""
    loop.more[min(rounds, 2)] += 1
    for point, side in others:
        point.more[side] += rounds
