"""What a kind of expectation is: how its line is read, what it asks of an outcome, what would be pinned."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, NamedTuple, Protocol

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


class Asks(Protocol):
    """Asks a question in the statement's session, without a trace."""

    def value(self, text: str) -> Value:
        """The value of an expression; ProblemError when it has none."""

    def holds(self, text: str) -> tuple[bool, str]:
        """Whether a condition is true, and what was seen."""


class Around(NamedTuple):
    """What an expectation is judged with beside the outcome: who asks, and all that is expected of the statement."""

    ask: Asks
    siblings: Sequence[Expectation]


def says_nothing(line: Line) -> None:
    """The words of the kind are all there is to say."""


def pins_nothing(outcome: Outcome) -> Iterator[str]:
    """Of this kind nothing is pinned: another one says it."""
    return iter(())


class Kind(NamedTuple):
    """The entry of a kind: words, and what reads, judges and pins it. `asks` is `result` or `absence` where a statement
    that has not ended well, or has not run, cannot meet it; `covers` is what of a routine has been asserted when it is
    met."""

    words: str
    judge: Callable[[Expectation, Outcome, Around], Verdict]
    read: Callable[[Line], Any] = says_nothing
    pin: Callable[[Outcome], Iterator[str]] = pins_nothing
    asks: str = ""
    covers: str = ""
    looks_around: bool = False
    """Whether it is judged by what else is expected of the statement."""
    seen: Callable[[Expectation, Outcome], Iterator[str]] | None = None
    """The lines that say what was seen, in the place of an expectation of this kind that slipped; those that would be
    pinned where there are none."""

    def again(self, expectation: Expectation, outcome: Outcome) -> Iterator[str]:
        """What is to be said instead of an expectation that slipped."""
        return self.seen(expectation, outcome) if self.seen is not None else self.pin(outcome)
