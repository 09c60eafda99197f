"""Texts of CSV files as records: RFC 4180, where quotes tell a text from NULL.

`read_csv` gives every field with its place, for what is shown, changed and complained about; `read_columns` gives the
texts alone, column by column, of a file that is plain enough for it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import chain

from glimb.lang.node import Record
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span

_FIELD = r'("(?:[^"]|"")*"|[^",\n]*)(,|\n|\Z)'

AT_ONCE = 1_000_000
"""Characters of which the fields are texts at the same time."""


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


class UnusualError(Exception):
    """A text that `read_columns` leaves to `read_csv`."""


Records = list[list[str | None]]


def read_columns(text: str) -> tuple[list[str | None], Iterator[list[list[str | None]]]]:
    """The header, and the columns below it, some thousand rows at a time: a large file is never there as texts of all
    its fields. UnusualError where a line has another number of fields than the header, or anything else is unusual."""
    parts = _quoted_records(text) if '"' in text else _plain_records(text)
    first = next(parts, None)
    if first is None:
        raise UnusualError
    header = first.pop(0)

    def columns(records: Records) -> list[list[str | None]]:
        if records and set(map(len, records)) != {len(header)}:
            raise UnusualError
        return [list(column) for column in zip(*records, strict=True)]

    return header, (columns(part) for part in chain((first,), parts) if part)


def _plain_records(text: str) -> Iterator[Records]:
    """Records of a text without quotes."""
    may_be_null = ",," in text or ",\n" in text or "\n," in text or "NULL" in text or text[-1:] == ","
    at = 0
    while at < len(text):
        end = text.find("\n", at + AT_ONCE)
        end = end if end >= 0 else len(text)
        lines = [line for line in text[at:end].split("\n") if line and line != "NULL"]
        records: Records = [line.split(",") for line in lines]  # type: ignore[misc]
        if may_be_null:
            records = [[None if field in ("", "NULL") else field for field in record] for record in records]
        if records:
            yield records
        at = end + 1


def _quoted_records(text: str) -> Iterator[Records]:
    """Records of a text in which some fields stand in quotes; UnusualError where something stands between a quote and
    the end of its field."""
    records: Records = []
    record: list[str | None] = []
    behind = told = 0
    for match in re.finditer(_FIELD, text):
        start, end = match.span()
        if start != behind:
            raise UnusualError
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
            if records and end > told + AT_ONCE:
                yield records
                records, told = [], end
    if behind != len(text):
        raise UnusualError
    if records:
        yield records
