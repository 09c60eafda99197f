"""Generated code to read: its lines with their numbers, the SQL that they stand for, a legend of its constants."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from glimb.engine.catalog.objects import Routine
from glimb.engine.outcomes.events import StatementInfo
from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.storage.table import Table
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.types import Type
from glimb.lang.source import NOWHERE, Source, Span

MOST_SIGNS = 100


class Listed(NamedTuple):
    """A line: `legend` tells a constant, `sql` what the lines below it do, `code` is Python. `number` is its line in
    the Python, or that of the SQL."""

    kind: str
    number: int
    text: str


def listing(code: GeneratedCode) -> list[Listed]:
    """A unit of generated code as it is compiled, with what helps to read it."""
    return [*_legend(code), *_lines(code)]


def _legend(code: GeneratedCode) -> Iterator[Listed]:
    for name, value in code.constants.items():
        yield Listed("legend", 0, f"{name} = {_meaning(value, code.source)}")


def _meaning(value: Any, source: Source) -> str:
    if isinstance(value, Table):
        return f"table {value.name}"
    if isinstance(value, Routine):
        return f"{value.kind} {value.signature}"
    if isinstance(value, Type):
        return f"type {value}"
    if isinstance(value, tuple) and value and isinstance(value[0], ResultColumn):
        return "columns " + ", ".join(f"{c.name} {c.type}" for c in value)
    if isinstance(value, StatementInfo):
        return f"{value.name}, line {value.source.line(value.span.start)}"
    if isinstance(value, tuple) and not _is_plain(value):
        shown = f"({', '.join(_meaning(part, source) for part in value)})"
    elif isinstance(value, frozenset):  # in an order that is the same each time
        shown = f"{{{', '.join(sorted(map(repr, value)))}}}"
    else:
        shown = repr(value) if isinstance(value, str | bytes | int | float | tuple) else type(value).__name__
    return shown if len(shown) <= MOST_SIGNS else shown[: MOST_SIGNS - 1] + "\u2026"


def _is_plain(value: Any) -> bool:
    """Whether a value is told by its text, the same each time."""
    if isinstance(value, tuple):
        return all(map(_is_plain, value))
    return value is None or isinstance(value, str | bytes | int | float)


def _lines(code: GeneratedCode) -> Iterator[Listed]:
    told = {NOWHERE}
    for number, (text, span) in enumerate(zip(code.text.splitlines(), code.spans, strict=False), 1):
        if span not in told and text.strip():
            indent = text[: len(text) - len(text.lstrip())]
            yield Listed("sql", code.source.line(span.start), f"{indent}# {_sql(code.source, span)}")
            told.add(span)
        yield Listed("code", number, text)


def _sql(source: Source, span: Span) -> str:
    """A statement on one line."""
    text = " ".join(source[span].split())
    return text if len(text) <= MOST_SIGNS else text[: MOST_SIGNS - 1] + "\u2026"
