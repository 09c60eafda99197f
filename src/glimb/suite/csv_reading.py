"""Texts of CSV files as records: RFC 4180, where quotes tell a text from NULL.

`read_csv` gives every field with its place, for what is shown, changed and complained about; `read_columns` gives the
texts alone, column by column, of a file that is plain enough for it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from glimb.lang.node import Record
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span

_FIELD = r'("(?:[^"]|"")*"|[^",\n]*)(,|\n|\Z)'


class Field(Record):
    """A field of a CSV file: its text, None for NULL (nothing, or NULL, without quotes), and its place."""

    text: str | None
    span: Span


def read_csv(source: Source) -> Iterator[list[Field]]:
    """RFC 4180 with one addition: quotes tell a text from NULL. `""` is the empty text, nothing at all is NULL."""
    text, at, end = source.text, 0, len(source.text)
    record: list[Field] = []
    while at < end:
        start = at
        if text[at] == '"':
            at, value = _quoted_field(source, at)
            record.append(Field(value, Span(start, at)))
        else:
            while at < end and text[at] not in ",\n":
                at += 1
            raw = text[start:at]
            record.append(Field(None if raw in ("", "NULL") else raw, Span(start, at)))
        if at < end and text[at] == ",":
            at += 1
            if at == end or text[at] == "\n":
                record.append(Field(None, Span(at, at)))
        elif at < end and text[at] != "\n":
            raise ProblemError(
                Problem("22018", "a comma or the end of the line must follow a quote", Span(at, at + 1), "", source)
            )
        if at >= end or text[at] == "\n":
            at += 1
            if record != [Field(None, record[0].span)]:
                yield record
            record = []


def _quoted_field(source: Source, start: int) -> tuple[int, str]:
    """The offset behind a quoted field, and its text."""
    text, at, parts = source.text, start + 1, []
    while True:
        quote = text.find('"', at)
        if quote < 0:
            raise ProblemError(Problem("22018", "this quote is not closed", Span(start, start + 1), "", source))
        parts.append(text[at:quote])
        if text[quote + 1 : quote + 2] != '"':
            return quote + 1, "".join(parts)
        parts.append('"')
        at = quote + 2


def read_columns(text: str) -> tuple[list[str | None], list[list[str | None]]] | None:
    """The header and the columns below it; None where a line has another number of fields than the header, or anything
    else is unusual."""
    records = _quoted_records(text) if '"' in text else list(_plain_records(text))
    if not records:
        return None
    header, *rows = records
    if any(len(row) != len(header) for row in rows):
        return None
    columns = [list(column) for column in zip(*rows, strict=True)] or [[] for _ in header]
    return header, columns


def _plain_records(text: str) -> Iterator[list[str | None]]:
    """Records of a text without quotes."""
    may_be_null = (
        ",," in text or ",\n" in text or "\n," in text or "NULL" in text or text[:1] == "," or text[-1:] == ","
    )
    for line in text.split("\n"):
        if line and line != "NULL":
            fields: list[str | None] = line.split(",")  # type: ignore[assignment]
            yield [None if f in ("", "NULL") else f for f in fields] if may_be_null else fields


def _quoted_records(text: str) -> list[list[str | None]] | None:
    """Records of a text in which some fields stand in quotes; None where something stands between a quote and the end
    of its field."""
    records: list[list[str | None]] = []
    record: list[str | None] = []
    behind = 0
    for match in re.finditer(_FIELD, text):
        start, end = match.span()
        if start != behind:
            return None
        behind = end
        raw, sign = match.groups()
        if raw[:1] == '"':
            record.append(raw[1:-1].replace('""', '"'))
        else:
            record.append(None if raw in ("", "NULL") else raw)
        if sign != ",":
            if record != [None]:
                records.append(record)
            record = []
    return records if behind == len(text) else None
