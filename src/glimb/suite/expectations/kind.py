"""What a kind of expectation is: how its line is read, what it asks of an outcome, what would be pinned."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.node import Record
from glimb.lang.source import Span
from glimb.suite.expectations.line import Line, Value


class Expectation(Record):
    """One expectation: its kind, what it says (a record of that kind), text, place. `rows` are the lines below it."""

    kind: str
    says: Any
    text: str
    span: Span
    rows: tuple[tuple[Value, ...], ...] = ()
    header: tuple[str, ...] = ()
    side: str = ""
    """Of a case that runs twice: under which value this is expected; empty for both."""

    @property
    def table(self) -> str:
        """The table that it is about; empty when it is about none."""
        return str(getattr(self.says, "table", ""))


class Cell(Record):
    """A cell of expected and seen rows: its text, and whether both sides agree."""

    text: str
    agrees: bool


class Comparison(Record):
    """Rows side by side: header, expected rows and seen rows, cell by cell. A missing row is empty."""

    header: tuple[str, ...]
    expected: list[list[Cell]]
    seen: list[list[Cell]]


class Verdict(Record):
    """What became of an expectation. `expected` and `seen` are in words; `comparison` shows rows."""

    expectation: Expectation | None
    met: bool
    expected: str
    seen: str
    comparison: Comparison | None = None


Holds = Callable[[str, Outcome], tuple[bool, str]]
"""Evaluates a condition in the statement's session: whether it is true, and what was seen."""


def says_nothing(line: Line) -> None:
    """The words of the kind are all there is to say."""


def pins_nothing(outcome: Outcome) -> Iterator[str]:
    """Of this kind nothing is pinned: another one says it."""
    return iter(())


class Kind(NamedTuple):
    """The entry of a kind. `asks` is `result` or `absence` where a statement that has not ended well, or has not run,
    cannot meet it; `covers` is what of a routine has been asserted when it is met."""

    words: str
    judge: Callable[[Expectation, Outcome, Holds], Verdict]
    read: Callable[[Line], Any] = says_nothing
    pin: Callable[[Outcome], Iterator[str]] = pins_nothing
    asks: str = ""
    covers: str = ""
