"""Many rows of plain literals behind VALUES, as they are written: read as nodes when somebody looks at one.

In: the stretch of a text that `tokens` took for such rows. Out: a sequence of rows, as the parser would have made them
one by one; or, for what stores them, their texts by column.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import cache
from typing import NamedTuple, overload

from glimb.lang.source import Span
from glimb.lang.tokens import PLAIN_DATE, PLAIN_NULL, PLAIN_NUMBER, PLAIN_STRING
from glimb.lang.tree import Expression, Literal

Item = tuple[str, str, str, str, str, str]
Row = tuple[Expression, ...]


@cache
def _item() -> re.Pattern[str]:
    """What stands before a literal, the literal as a number, a text, NULL or a date, and the end of its row."""
    literals = rf"({PLAIN_NUMBER})|({PLAIN_STRING})|({PLAIN_NULL})|({PLAIN_DATE})"
    return re.compile(rf"([(,])\s*+(?:{literals})(?:\s*+(\)))?+")


@cache
def _texts() -> re.Pattern[str]:
    """The same, with the whole literal as one text: twice as quick."""
    return re.compile(rf"([(,])\s*+({PLAIN_NUMBER}|{PLAIN_STRING}|{PLAIN_NULL}|{PLAIN_DATE})")


class Column(NamedTuple):
    """The texts of a column, None for NULL, and the kinds of literals that there are."""

    texts: list[str | None]
    kinds: frozenset[str]


class WrittenRows(Sequence[Row]):
    """See above. Equal to the tuple of its rows."""

    def __init__(self, text: str, start: int) -> None:
        self._text, self._start = text, start
        """The stretch, and where it begins in the source."""
        self._rows: tuple[Row, ...] | None = None

    def columns(self, width: int) -> list[Column] | None:
        """The rows by column; None when one has not this width."""
        items: list[tuple[str, str]] = _texts().findall(self._text)
        opening = [sign for sign, _ in items]
        if len(items) % width or opening.count("(") * width != len(items) or set(opening[::width]) != {"("}:
            return None
        return [_column([text for _, text in items[at::width]]) for at in range(width)]

    @property
    def rows(self) -> tuple[Row, ...]:
        """The rows as nodes."""
        if self._rows is None:
            self._rows = tuple(self._read())
        return self._rows

    def _read(self) -> Iterator[Row]:
        row: list[Expression] = []
        opening = 0
        for match in _item().finditer(self._text):
            if match[1] == "(":
                opening = match.start(1)
            group = next(number for number in (2, 3, 4, 5) if match[number])
            span = match.span(group)
            if match[6] and not row:  # a literal in parentheses by itself
                span = opening, match.end(6)
            kind, value = _literal(match.groups(""))  # type: ignore[arg-type]
            row.append(Literal(kind, value, span=Span(self._start + span[0], self._start + span[1])))
            if match[6]:
                yield tuple(row)
                row = []

    @overload
    def __getitem__(self, at: int) -> Row: ...
    @overload
    def __getitem__(self, at: slice) -> Sequence[Row]: ...
    def __getitem__(self, at: int | slice) -> Row | Sequence[Row]:
        return self.rows[at]

    def __len__(self) -> int:
        return len(self.rows)

    def __eq__(self, other: object) -> bool:
        return self.rows == (other.rows if isinstance(other, WrittenRows) else other)

    def __hash__(self) -> int:
        return hash(self.rows)

    def __repr__(self) -> str:
        return repr(self.rows)


def _literal(item: Item) -> tuple[str, str]:
    """The kind and value of a literal."""
    return _kind_and_value("".join(item[1:5]))


def _kind_and_value(text: str) -> tuple[str, str]:
    match text[0]:
        case "'":
            return "string", text[1:-1].replace("''", "'")
        case "n" | "N":
            return "null", ""
        case "d" | "D":
            return "date", text[text.index("'") + 1 : -1].replace("''", "'")
    return "decimal" if "." in text else "integer", text


NUMBER_STARTS = frozenset("-.0123456789")


def _column(texts: list[str]) -> Column:
    starts = {text[0] for text in texts}
    if starts <= NUMBER_STARTS:
        return Column([*texts], frozenset(("decimal", "integer") if "." in "".join(texts) else ("integer",)))
    if starts == {"'"}:
        return Column([text[1:-1].replace("''", "'") for text in texts], frozenset(("string",)))
    found = [_kind_and_value(text) for text in texts]
    return Column([None if kind == "null" else value for kind, value in found], frozenset(kind for kind, _ in found))
