"""The expecting lines of a script as expectations."""

from __future__ import annotations

import re
from collections.abc import Iterator

from glimb.lang.node import replace
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.lang.tokens import Mark
from glimb.suite.expectations.kind import Expectation
from glimb.suite.expectations.kinds import KINDS
from glimb.suite.expectations.line import Line, Value, literal, split

_HOLDS = r"(?i)(under\b[^:]*:\s*)?holds\b"
_SIGN = r"(?m)^[ \t]*-->"


def read_expectations(source: Source, marks: list[Mark]) -> tuple[list[Expectation], list[Problem]]:
    """The expectations of consecutive lines; a line indented by two blanks or more is a row of the one above."""
    found: list[Expectation] = []
    problems: list[Problem] = []
    rows: list[tuple[Value, ...]] = []
    for mark in _joined(source, marks):
        is_row = _is_below(mark)
        try:
            if is_row and found and found[-1].kind == "rows":
                found[-1] = _with_row(source, found[-1], rows, mark)
            elif is_row and problems:
                continue
            else:
                _finish(found, rows)
                found.append(_read(source, mark))
        except ProblemError as error:
            problems += error.problems
    _finish(found, rows)
    hint = "rows stand on lines of their own, indented: -->   1 | 'south'"
    without = [one for one in found if one.kind == "rows" and not one.rows]
    problems += (Problem("42601", "the expected rows are missing", one.span, hint, source) for one in without)
    return [one for one in found if one not in without], problems


def _is_below(mark: Mark) -> bool:
    """Whether a line belongs to the one above: it is indented by two blanks or more."""
    return mark.text_start - mark.start >= 5


def _joined(source: Source, marks: list[Mark]) -> Iterator[Mark]:
    """The lines, a condition with those on which it goes on, in which blanks take the place of the signs."""
    at = 0
    while at < len(marks):
        first = marks[at]
        at += 1
        last = first
        while re.match(_HOLDS, first.text) and not _is_below(first) and at < len(marks) and _is_below(marks[at]):
            last = marks[at]
            at += 1
        if last is not first:
            text = re.sub(
                _SIGN, lambda m: m[0].replace("-->", "   "), source.text[first.text_start : last.end]
            ).rstrip()
            first = first._replace(text=text, end=last.end)
        yield first


def _read(source: Source, mark: Mark) -> Expectation:
    line = Line(source, mark.text, mark.text_start)
    side = ""
    if line.accept("under"):
        side = line.until(":").lower()
        if not line.rest.startswith(":"):
            line.fail("a colon is missing", "under locking: value 3")
        line.at += 1
    first = line.peek().lower()
    for kind in KINDS.values():
        if not kind.words.startswith(first):
            continue
        at = line.at
        if all(line.accept(word) for word in kind.words.split()):
            says = kind.read(line)
            line.end()
            return Expectation(kind.words, says, _on_one_line(mark.text), mark.span, side=side)
        line.at = at
    if not mark.text:
        line.fail("an expectation is missing behind -->")
    word = line.peek()
    line.fail(f"`{word}` is no expectation", nearest(word.lower(), [k.split()[0] for k in KINDS] + list(KINDS)))


def _on_one_line(text: str) -> str:
    return " ".join(text.split()) if "\n" in text else text


def _finish(found: list[Expectation], rows: list[tuple[Value, ...]]) -> None:
    """Give the rows that have been read to their expectation."""
    if rows:
        found[-1] = replace(found[-1], rows=tuple(rows))
        rows.clear()


def _with_row(source: Source, expectation: Expectation, rows: list[tuple[Value, ...]], mark: Mark) -> Expectation:
    """Read a line: the header, when it is the first and holds only names; otherwise one more row."""
    cells = split(mark.text, "|")
    is_name = [_is_quoted(c) or (c.replace("_", "a").isalnum() and not c[0].isdigit()) for _, c in cells if c]
    names = all(is_name) and len(is_name) == len(cells)
    if not rows and not expectation.header and names and not _are_words(cells):
        return replace(
            expectation, header=tuple(c[1:-1].replace('""', '"') if _is_quoted(c) else c.lower() for _, c in cells)
        )
    row = tuple(literal(source, cell, mark.text_start + at) for at, cell in cells)
    width = len(expectation.header or (rows[0] if rows else row))
    if len(row) != width:
        raise ProblemError(Problem("42601", f"{len(row)} values where {width} stand above", mark.span, "", source))
    rows.append(row)
    return expectation


def _is_quoted(cell: str) -> bool:
    """Whether a cell is a delimited identifier."""
    return len(cell) > 2 and cell[0] == cell[-1] == '"'


def _are_words(cells: list[tuple[int, str]]) -> bool:
    return any(c.lower() in ("null", "true", "false", "unknown") for _, c in cells)
