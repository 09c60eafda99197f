"""Problems: what is wrong with a text, where, and what may help. Values, never printed here."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from glimb.lang.source import NOWHERE, Source, Span, from_here

SYNTAX = "42601"


class Problem:
    """One fault in a text: SQLSTATE, message, place and, where there is one, a hint."""

    __slots__ = ("hint", "message", "source", "span", "sqlstate")

    def __init__(
        self, sqlstate: str, message: str, span: Span = NOWHERE, hint: str = "", source: Source | None = None
    ) -> None:
        self.sqlstate = sqlstate
        self.message = message
        self.span = span
        self.hint = hint
        self.source = source

    def describe(self) -> str:
        """`file:line:column: message (hint)`, and the line with a mark below it."""
        text = f"{self.message} ({self.hint})" if self.hint else self.message
        if self.source is None:
            return text
        line, column = self.source.line(self.span.start), self.source.column(self.span.start)
        return f"{from_here(self.source.name)}:{line}:{column}: {text}\n{indent(self.source.excerpt(self.span))}"

    def brief(self) -> str:
        """Message with its place and hint on one line."""
        text = f"{self.message} ({self.hint})" if self.hint else self.message
        if self.source is None:
            return text
        return f"{text}, line {self.source.line(self.span.start)} column {self.source.column(self.span.start)}"

    def __repr__(self) -> str:
        return f"Problem({self.sqlstate}, {self.message!r}, {self.span})"


class ProblemError(Exception):
    """Raised by parser and binder: one or more problems that keep a statement from running."""

    def __init__(self, *problems: Problem) -> None:
        super().__init__(problems[0].message if problems else "")
        self.problems = problems


class ToldError(ProblemError):
    """Raised where the reason has been told already: a name is used whose declaration is wrong."""


def indent(text: str, by: str = "    ") -> str:
    """Every line of `text` moved in."""
    return "\n".join(by + line for line in text.split("\n"))


def nearest(word: str, known: Iterable[str]) -> str:
    """Hint naming what is close to `word` among `known`; empty when nothing is."""
    return _nearest(word[:60], tuple(sorted(set(known) - {word})))


@lru_cache(maxsize=1000)
def _nearest(word: str, known: tuple[str, ...]) -> str:
    from difflib import get_close_matches  # slow to import, and only needed for what is wrong

    close = get_close_matches(word, known, n=2, cutoff=0.6)
    return f"did you mean {' or '.join(close)}?" if close else ""
