"""Places in a text: a Source is a named text, a Span a half-open range of offsets in it.

Offsets count characters from 0; lines and columns, counted from 1, are derived only when a place is shown.
"""

from __future__ import annotations

import os
from bisect import bisect_right
from typing import NamedTuple


def from_here(file: str) -> str:
    """A file as it is told: short where it lies below the folder we are in."""
    try:
        return file.removeprefix(os.getcwd() + os.sep)
    except OSError:  # a folder that is gone
        return file


class Span(NamedTuple):
    """Half-open range `start <= offset < end` of characters of one source."""

    start: int
    end: int


NOWHERE = Span(0, 0)


class Source:
    """A text with a name (a path, or a word such as `input`) and the starts of its lines."""

    __slots__ = ("_starts", "name", "text")

    def __init__(self, text: str, name: str = "input") -> None:
        self.text = text
        self.name = name
        self._starts: list[int] | None = None

    @property
    def starts(self) -> list[int]:
        """Offsets at which the lines start."""
        if self._starts is None:
            starts = [0]
            find = self.text.find
            at = find("\n")
            while at >= 0:
                starts.append(at + 1)
                at = find("\n", at + 1)
            self._starts = starts
        return self._starts

    def line(self, offset: int) -> int:
        """Number of the line, from 1, in which `offset` lies."""
        return bisect_right(self.starts, offset)

    def column(self, offset: int) -> int:
        """Number of the column, from 1, of `offset` in its line."""
        return offset - self.starts[self.line(offset) - 1] + 1

    def line_text(self, line: int) -> str:
        """Text of the line with this number, without its line end."""
        start = self.starts[line - 1]
        end = self.text.find("\n", start)
        return self.text[start : end if end >= 0 else len(self.text)].rstrip("\r")

    def __getitem__(self, span: Span) -> str:
        return self.text[span.start : span.end]

    def excerpt(self, span: Span) -> str:
        """The line of `span` and, below it, carets under the part that is meant."""
        line = self.line(span.start)
        text = self.line_text(line).replace("\t", " ")
        column = self.column(span.start)
        width = max(1, min(span.end, span.start + max(1, len(text) - column + 1)) - span.start)
        if len(text) > 160:
            cut = max(0, column - 60)
            text, column = text[cut : cut + 120], column - cut
            width = min(width, max(1, len(text) - column + 1))
        return f"{text}\n{' ' * (column - 1)}{'^' * width}"
