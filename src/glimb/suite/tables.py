"""The rows of tables, to be looked at: of a fixture or at a rung, by a condition and in an order, with what differs
from the fixture; what refers to what; and a cell of a CSV file of a fixture changed.

In: an engine or a replay, a table's name, SQL texts. Out: rows as they are held, with the types of their columns.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.table import ForeignKey, Table
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang.printer import name as column_name
from glimb.lang.printer import names
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.csv_loading import column_named, typed
from glimb.suite.csv_reading import Field, read_csv
from glimb.suite.ladder import Ladder
from glimb.suite.project import Project, read_text
from glimb.suite.stamps import SCHEMA

Row = tuple[Any, ...]
STAMPED = 20
"""Rows that are made to show a stamp."""
COMMITTED = ""
"""In the place of a session's name: what everybody sees."""


class Reference(NamedTuple):
    """Columns of one table that refer to those of another."""

    table: str
    columns: tuple[str, ...]
    target: str
    key: tuple[str, ...]


class TableNote(NamedTuple):
    """A table, or a stamp that makes rows of one."""

    name: str
    columns: tuple[tuple[str, str], ...]
    """Name and type of each."""
    types: tuple[Type, ...]
    total: int
    key: tuple[str, ...]
    refers: tuple[Reference, ...]
    referred: tuple[Reference, ...]
    checks: tuple[str, ...]
    is_stamp: bool = False


class Shown(NamedTuple):
    """Rows of a table: `state` of each is empty, `added`, `changed` or `removed` against the fixture; `before` are the
    rows of the fixture behind changed ones, by the number of the row."""

    note: TableNote
    rows: list[Row]
    states: dict[int, str]
    before: dict[int, Row]


def tables(engine: Engine) -> list[TableNote]:
    """All tables with the number of their rows, then stamps."""
    notes = [_note(table) for table in sorted(engine.catalog.tables(), key=lambda t: t.name) if not table.temporary]
    return [*notes, *_stamps(engine)]


def _note(table: Table) -> TableNote:
    return TableNote(
        table.name,
        tuple((c.name, str(c.type)) for c in table.columns),
        tuple(c.type for c in table.columns),
        len(table.rows) - table.dead,
        tuple(table.columns[n].name for n in table.primary.columns) if table.primary is not None else (),
        tuple(_reference(f) for f in table.foreign),
        tuple(_reference(f) for f in table.referenced),
        tuple(check.text for check in table.checks),
    )


def _reference(foreign: ForeignKey) -> Reference:
    columns = tuple(foreign.table.columns[n].name for n in foreign.columns)
    key = tuple(foreign.target.columns[n].name for n in foreign.target_index.columns)
    return Reference(foreign.table.name, columns, foreign.target.name, key)


def _stamps(engine: Engine) -> Iterator[TableNote]:
    """Stamps, as tables of the rows that they make."""
    for routine in engine.catalog.all_routines():
        if routine.schema == SCHEMA and routine.table and routine.native is None:
            columns = tuple((name, str(type_)) for name, type_ in routine.table)
            types = tuple(type_ for _, type_ in routine.table)
            yield TableNote(routine.name, columns, types, STAMPED, (), (), (), (), True)


def rows_of(engine: Engine, name: str, condition: str = "", order: str = "", session: str = COMMITTED) -> list[Row]:
    """The rows of a table for which an SQL condition is true, in the order of a text behind ORDER BY, as a session sees
    them, or as committed. ProblemError for a condition or an order that is none, with what is wrong."""
    schema, _, stamp = name.partition(".")
    source = f"TABLE({SCHEMA}.{written(stamp)}({STAMPED}))" if schema == SCHEMA else written(name)
    text = f"SELECT * FROM {source}"
    text += f" WHERE {condition}" if condition.strip() else ""
    text += f" ORDER BY {order}" if order.strip() else ""
    return _rows(Asker(engine, session or "onlooker").query(text))


def examples(engine: Engine, notes: list[TableNote], count: int) -> dict[str, list[list[str]]]:
    """The first rows of tables, each value as written in SQL."""
    found = {}
    for note in notes:
        table = engine.catalog.relations.get(note.name)
        rows = table.rows.values() if isinstance(table, Table) else ()
        texts = ([literal_of(v, t) for v, t in zip(row, note.types, strict=False)] for row in rows if row is not None)
        found[note.name] = list(islice(texts, count))
    return found


def _rows(outcome: Outcome) -> list[Row]:
    if outcome.failure is not None:
        failure = outcome.failure
        raise ProblemError(*(failure.problems or (Problem(failure.sqlstate, failure.message),)))
    return outcome.rows or []


def shown(engine: Engine, name: str, condition: str = "", order: str = "") -> Shown:
    """The rows of a table in a fixture."""
    note = next((n for n in tables(engine) if n.name == name), None)
    if note is None:
        every = [n.name for n in tables(engine)]
        raise ProblemError(Problem("42704", f"there is no table {name}", hint=nearest(name, every)))
    return Shown(note, rows_of(engine, name, condition, order), {}, {})


def shown_at(
    engine: Engine, fixture: Engine, name: str, condition: str = "", order: str = "", session: str = COMMITTED
) -> Shown:
    """The rows of a table at a rung, with what became of those of the fixture: rows that are gone stand last."""
    found = shown(engine, name, "FALSE")
    now = rows_of(engine, name, condition, order, session)
    if name not in {note.name for note in tables(fixture)}:
        return Shown(found.note, now, dict.fromkeys(range(len(now)), "added"), {})
    before = rows_of(fixture, name)
    states, behind = _compared(found.note, before, now)
    wanted = rows_of(fixture, name, condition, order) if condition.strip() else before
    there = _keys(found.note, now if not condition.strip() else rows_of(engine, name, "", "", session))
    gone = [row for row in wanted if _key(found.note, row) not in there]
    states |= dict.fromkeys(range(len(now), len(now) + len(gone)), "removed")
    return Shown(found.note, now + gone, states, behind)


def _compared(note: TableNote, before: list[Row], now: list[Row]) -> tuple[dict[int, str], dict[int, Row]]:
    old = {_key(note, row): row for row in before}
    states, behind = {}, {}
    for number, row in enumerate(now):
        was = old.get(_key(note, row))
        if was is None:
            states[number] = "added"
        elif was != row:
            states[number], behind[number] = "changed", was
    return states, behind


def _keys(note: TableNote, rows: list[Row]) -> set[Any]:
    return {_key(note, row) for row in rows}


def _key(note: TableNote, row: Row) -> Any:
    """What makes a row the same one: its key, or all of it where there is none."""
    if not note.key:
        return tuple(map(repr, row))
    names = [name for name, _ in note.columns]
    return tuple(row[names.index(name)] for name in note.key)


# ---- from row to row


def condition_for(note: TableNote, columns: tuple[str, ...], values: list[Any], types: list[Type]) -> str:
    """The condition that some columns have these values."""
    pairs = zip(columns, values, types, strict=True)
    named = ((column_name(name), v, t) for name, v, t in pairs)
    return " AND ".join(f"{name} IS NULL" if v is None else f"{name} = {literal_of(v, t)}" for name, v, t in named)


def written(table: str) -> str:
    """The name of a table as it is written in SQL."""
    schema, _, short = table.rpartition(".")
    return names((schema, short) if schema else (short,))


def followed(note: TableNote, row: Row, column: str) -> tuple[str, str] | None:
    """To which table a cell refers, and the condition for the row; None where it refers to none."""
    for reference in note.refers:
        if column in reference.columns:
            values, types = _values(note, row, reference.columns)
            if None not in values:
                return reference.target, condition_for(note, reference.key, values, types)
    return None


def referring(note: TableNote, row: Row) -> list[tuple[str, str]]:
    """The tables whose rows can refer to this one, each with the condition for those that do."""
    found = []
    for reference in note.referred:
        values, types = _values(note, row, reference.key)
        found.append((reference.table, condition_for(note, reference.columns, values, types)))
    return found


def _values(note: TableNote, row: Row, columns: tuple[str, ...]) -> tuple[list[Any], list[Type]]:
    names = [name for name, _ in note.columns]
    places = [names.index(name) for name in columns]
    return [row[n] for n in places], [note.types[n] for n in places]


def touching(ladder: Ladder, note: TableNote, row: Row | None) -> list[int]:
    """The rungs that changed a table, or one row of it (by its key)."""
    key = _key(note, row) if row is not None and note.key else None
    return [
        rung.number
        for rung in ladder.rungs
        for outcome in [rung.last]
        if any(c.table.name == note.name and (key is None or tuple(c.key) == key) for c in outcome.changes)
    ]


# ---- cells of a CSV file


def csv_of(project: Project, fixture: str, name: str) -> Path | None:
    """The CSV file of a fixture from which a table has its rows."""
    if project.root is None or not fixture:
        return None
    return next((p for p in project.fixture_files(fixture) if p.suffix == ".csv" and p.stem == name), None)


def changed_cell(engine: Engine, path: Path, note: TableNote, row: Row, column: str, text: str) -> str:
    """The text of a CSV file with one field changed to what is typed: nothing or NULL for NULL, otherwise as it is.
    ProblemError for a row that is not in the file, and for what the column cannot take."""
    source = read_text(path)
    records = list(read_csv(source))
    table = next(t for t in engine.catalog.tables() if t.name == note.name)
    heads = [column_named(table, field.text) for field in records[0]]
    if column not in heads:
        raise ProblemError(Problem("42703", f"{path.name} has no column {column}: its value comes from elsewhere"))
    wanted = _key(note, row)
    for record in records[1:]:
        if _record_key(engine, table, note, heads, record, source) == wanted:
            field = record[heads.index(column)]
            written = written_field(text)
            value = None if text in ("", "NULL") else text.strip('"') if text == '""' else text
            typed(engine, table.columns[table.positions[column]], Field(value, field.span), source)
            return source.text[: field.span.start] + written + source.text[field.span.end :]
    raise ProblemError(Problem("02000", f"this row does not come from {path.name}"))


def _record_key(
    engine: Engine, table: Table, note: TableNote, heads: list[str], record: list[Field], source: Source
) -> Any:
    """What makes a record the same row as one of the table."""
    values = {
        name: typed(engine, table.columns[table.positions[name]], field, source)
        for name, field in zip(heads, record, strict=False)
        if name in table.positions and not table.columns[table.positions[name]].always
    }
    names = note.key or tuple(name for name, _ in note.columns)
    key = tuple(values.get(name) for name in names)
    return key if note.key else tuple(map(repr, key))


def written_field(text: str) -> str:
    """A field as it stands in a CSV file (RFC 4180): in quotes where it has to be."""
    if text in ("", "NULL", '""'):
        return text
    if any(sign in text for sign in ',"\n\r') or text != text.strip():
        return '"' + text.replace('"', '""') + '"'
    return text
