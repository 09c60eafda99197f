"""Rows of CSV files into tables.

A whole file goes in column by column where nothing is wrong with it. Whatever is wrong, or needs more than that, is
left to the second way, row by row, which knows the place of everything it complains about.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.dispatch import expression
from glimb.engine.engine import Engine
from glimb.engine.runtime.filling import fill
from glimb.engine.runtime.writer import Writer
from glimb.engine.storage.table import ColumnInfo, Table
from glimb.engine.values import conversion as V
from glimb.engine.values.column_texts import column_values
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.types import CLOB, Type, assignable, source_of
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.suite.csv_reading import Field, UnusualError, read_columns, read_csv
from glimb.suite.expectations.line import constant_of

MOST_PROBLEMS = 20
"""Wrong rows of a file that are told at once."""


def load_csv(engine: Engine, source: Source, name: str, loader: str) -> None:
    """Load a file into a table, by the session of this name; raises ProblemError for what is wrong."""
    table = engine.catalog.relations[name]
    if not isinstance(table, Table):
        raise ProblemError(Problem("42807", f"{name} is a view and takes no rows", Span(0, 1), "", source))
    if not _loaded_whole(engine, source, table, loader):
        _load_by_row(engine, source, table, loader)


def _loaded_whole(engine: Engine, source: Source, table: Table, loader: str) -> bool:
    """Load a file column by column, if that can be done."""
    session = engine.session(loader)
    try:
        header, parts = read_columns(source.text)
        names = [column_named(table, name) for name in header]
        if len(set(names)) < len(names) or not table.positions.keys() >= set(names):
            return False
        made: list[list[Any]] = [[] for _ in table.columns]
        for columns in parts:
            given = dict(zip(names, columns, strict=True))
            for values, column in zip(made, table.columns, strict=True):
                more = _values(column, given.get(column.name), len(columns[0]))
                if more is None:
                    return False
                values += more
            session.watch()
    except UnusualError:
        return False
    if not made[0] or not fill(session, table, made):
        return False
    for name in names:
        _go_on_behind(table, table.positions[name])
    return True


def _values(column: ColumnInfo, texts: list[str | None] | None, rows: int) -> list[Any] | None:
    """The values of a column; None where they have to be made one by one."""
    if texts is None:
        return None if column.default is not None or column.identity is not None else [None] * rows
    return None if column.always else column_values(texts, source_of(column.type))


def _load_by_row(engine: Engine, source: Source, table: Table, loader: str) -> None:
    records = read_csv(source)
    header = next(records, None)
    if header is None:
        return
    positions = [_position(table, field, source) for field in header]
    for number, position in enumerate(positions):
        if position in positions[:number]:
            message = f"column {table.columns[position].name} stands twice in the header"
            raise ProblemError(Problem("42701", message, header[number].span, "", source))
    session = engine.session(loader)
    writer = Writer(session, 0, table)
    missing = tuple(n for n in range(len(table.columns)) if n not in positions)
    by_row: dict[int, list[Field]] = {}
    problems: list[Problem] = []
    for record in records:
        session.watch()
        try:
            if len(record) != len(positions):
                message = f"{len(record)} fields, the header has {len(positions)}"
                raise ProblemError(Problem("22018", message, record[-1].span, "", source))
            row: list[Any] = [None] * len(table.columns)
            if missing:
                values = _at(source, record, lambda: engine.compiler.tables.defaults(table, missing)(session, 0))
                for position, value in zip(missing, values, strict=True):
                    row[position] = value
            for position, field in zip(positions, record, strict=True):
                row[position] = typed(engine, table.columns[position], field, source)
            by_row[table.next_id] = record
            _at(source, record, lambda row=row: writer.insert(tuple(row)))
        except ProblemError as error:
            problems += error.problems
            if len(problems) >= MOST_PROBLEMS:
                break
    if problems:
        raise ProblemError(*problems)
    try:
        writer.finish()
    except Condition as condition:
        _at(source, by_row.get(condition.items.get("row_id", 0), header), condition.again)
    for position in positions:
        _go_on_behind(table, position)


def _go_on_behind(table: Table, position: int) -> None:
    """An identity column whose values come from the file goes on behind the last of them."""
    identity = table.columns[position].identity
    values = [row[position] for row in table.scan()] if identity is not None else []
    if identity is not None and values:
        identity.next = (max(values) if identity.increment > 0 else min(values)) + identity.increment


def column_named(table: Table, head: str | None) -> str:
    """The column that the head of a file means: as it is spelled, or whatever its capitals."""
    said = (head or "").strip()
    if said in table.positions or said.lower() in table.positions:
        return said if said in table.positions else said.lower()
    return next((name for name in table.positions if name.lower() == said.lower()), said)


def _position(table: Table, field: Field, source: Source) -> int:
    name = column_named(table, field.text)
    if name not in table.positions:
        hint = nearest(name, table.positions)
        raise ProblemError(Problem("42703", f"{table.name} has no column {name}", field.span, hint, source))
    return table.positions[name]


def typed(engine: Engine, column: ColumnInfo, field: Field, source: Source) -> Any:
    """A field as a value of a column's type: exactly, a digit more than the type has is refused. Arrays and rows stand
    as in SQL."""
    if field.text is None:
        return None
    try:
        if column.always:
            fail("428C9", "the column is always generated, leave it out or empty")
        type_ = source_of(column.type)
        if type_.kind in ("array", "row"):
            return _constructed(engine, field.text, column.type)
        value = V.convert(field.text, CLOB, column.type, explicit=False)
        if type_.family == "exact" and Decimal(field.text.strip()) != Decimal(V.text_of(value, type_)):
            fail("22003", f"{field.text.strip()} has more digits than {type_}")
        return value
    except Condition as condition:
        message = f"{column.name}: {condition.message}"
        raise ProblemError(Problem(condition.sqlstate, message, field.span, "", source)) from None


def _constructed(engine: Engine, text: str, type_: Type) -> Any:
    """An array or row as it is written in SQL: ARRAY[1, 2], ROW(1, 'a')."""
    inner = Source(text, "field")
    try:
        node = parse_expression(inner)
        binder = binding_for(engine.catalog, inner)
        constant = constant_of(expression(binder, node))
    except ProblemError as error:
        fail("22018", f"'{text[:40]}' is no {type_}: {error.problems[0].message}")
    if constant is None or not assignable(constant.type, type_):
        fail("22018", f"'{text[:40]}' is no {type_}: an array or row of literals can stand there")
    return V.convert(constant.value, constant.type, type_, explicit=False)


def _at(source: Source, record: list[Field], action: Any) -> Any:
    """Do something; a condition it raises gets the place of the record."""
    try:
        return action()
    except Condition as condition:
        span = Span(record[0].span.start, record[-1].span.end)
        raise ProblemError(Problem(condition.sqlstate, condition.message, span, "", source)) from None
