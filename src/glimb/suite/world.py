"""A world: an engine that holds the schema, routines and one fixture of a project, ready to be run in and reset."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from decimal import Decimal
from typing import TYPE_CHECKING, Any

from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.dispatch import expression
from glimb.engine.catalog.objects import Routine, Trigger
from glimb.engine.engine import Engine
from glimb.engine.runtime.writer import Writer
from glimb.engine.storage.table import ColumnInfo, Table
from glimb.engine.values import conversion as V
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.types import CLOB, Type, assignable, source_of
from glimb.lang.node import Record
from glimb.lang.parser import Broken, parse, parse_expression
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.tokens import Mark
from glimb.lang.tree import CreateRoutine, Statement
from glimb.suite.expectations.line import constant_of
from glimb.suite.project import FILE, Project, read_text

if TYPE_CHECKING:
    from pathlib import Path

LOADER = "fixture"
MOST_PROBLEMS = 20
"""Wrong rows of a file that are told at once."""
NO_ROUTINE, NO_OBJECT = "42883", "42704"


def build(project: Project, fixture: str) -> Engine:
    """Load a project with one fixture (empty name: no rows). ProblemError tells all that is wrong."""
    engine = Engine(project.settings.limits)
    engine.rollback_unhandled = project.settings.rollback_unhandled
    engine.default_model = project.settings.model
    engine.use_model(engine.default_model)
    late = list(_load_schema(engine, [read_text(path) for path in project.files("schema")]))
    engine.problems = _load_routines(engine, [read_text(path) for path in project.files("routines")], late)
    _load_stamps(engine, project, fixture)
    load_fixture(engine, project, fixture)
    engine.set_base()
    return engine


def schema_problems(project: Project) -> list[Problem]:
    """What is wrong with each statement of a schema; one that only misses what an earlier one makes is not told."""
    engine = Engine(project.settings.limits)
    problems: list[Problem] = []
    for path in project.files("schema"):
        source = read_text(path)
        for statement in parse(source).statements:
            try:
                _run(engine, statement, source)
            except ProblemError as error:
                missing = error.problems[0].sqlstate in (NO_ROUTINE, NO_OBJECT)
                problems += () if missing and problems else error.problems
    engine.close()
    return problems


def _load_stamps(engine: Engine, project: Project, fixture: str) -> None:
    """The stamps of the project, and those of the fixture and of the ones it stands on, which come before them."""
    found: dict[str, Any] = {}
    for path in project.stamp_files(list(_layers(project, fixture)) if fixture else []):
        from glimb.suite.stamps import read_stamps

        found |= read_stamps(path)
    if found:
        from glimb.suite.stamps import define_stamps

        define_stamps(engine, found)


def _layers(project: Project, fixture: str, above: tuple[str, ...] = ()) -> Iterator[str]:
    """A fixture behind those on which it stands: `--# on NAME` in one of its SQL files. ProblemError for a circle."""
    if fixture in project.fixtures():
        for path in project.fixture_files(fixture):
            source = read_text(path)
            for mark in parse(source).marks if path.suffix == ".sql" else ():
                word, _, name = mark.text.partition(" ")
                if mark.sign == "#" and word == "on":
                    if name.strip() in (fixture, *above):
                        message = f"{fixture} stands on itself, by {name.strip()}"
                        raise ProblemError(Problem("42601", message, mark.span, "", source))
                    yield from _layers(project, name.strip(), (fixture, *above))
    yield fixture


def load_fixture(engine: Engine, project: Project, fixture: str) -> None:
    """Load a fixture (empty name: no rows) into an engine with schema and routines. ProblemError for what is wrong."""
    for layer in dict.fromkeys(_layers(project, fixture)) if fixture else ():
        _check_fixture(project, layer)
        _load_fixture(engine, project.fixture_files(layer), project.settings.fixture_triggers == "on")
    _commit(engine)
    engine.sessions.clear()


def _check_fixture(project: Project, fixture: str) -> None:
    known = project.fixtures()
    if fixture not in known:
        hint = nearest(fixture, known) or (f"there are {', '.join(known)}" if known else "there is none")
        message = f"there is no fixture {fixture}"
        if fixture == project.settings.default_fixture and project.root is not None:
            source = read_text(project.root / FILE)
            place = re.search(r"(?m)^\s*fixture\s*=\s*(.+)$", source.text)
            span = Span(*place.span(1)) if place else Span(0, 1)
            raise ProblemError(Problem("42704", message, span, hint, source))
        raise ProblemError(Problem("42704", message, hint=hint))


def _commit(engine: Engine) -> None:
    session = engine.session(LOADER)
    if session.active:
        session.commit()


def _statements(source: Source) -> list[Statement]:
    """All statements of a file; ProblemError when one is broken."""
    parsed = parse(source)
    if parsed.problems:
        raise ProblemError(*parsed.problems)
    return [s for s in parsed.items if not isinstance(s, Broken)]


def _run_file(engine: Engine, source: Source) -> None:
    for statement in _statements(source):
        _run(engine, statement, source)


def _run(engine: Engine, statement: Statement, source: Source) -> None:
    for outcome in engine.execute(engine.session(LOADER), statement, source):
        failure = outcome.failure
        if failure is not None:
            told = Problem(failure.sqlstate, failure.message, statement.span, "", source)
            raise ProblemError(*(failure.problems or (told,)))


Late = list[tuple[Statement, Source]]


def _load_schema(engine: Engine, sources: list[Source]) -> Iterator[tuple[Statement, Source]]:
    """Run the files of the schema. Gives what must come behind the routines: what calls one, and what needs that."""
    late = False
    for source in sources:
        for statement in _statements(source):
            try:
                _run(engine, statement, source)
            except ProblemError as error:
                if error.problems[0].sqlstate != NO_ROUTINE and not (late and error.problems[0].sqlstate == NO_OBJECT):
                    raise
                late = True
                yield statement, source


def _load_routines(engine: Engine, sources: list[Source], late: Late) -> list[Problem]:
    """Make all routines known before any body is looked at, so that they may call each other in any order; then what
    of the schema needs them. Gives what is wrong in them: whoever needs a wrong one meets it when it is called."""
    from glimb.engine.definition.definer import define

    problems: list[Problem] = []
    made: list[Routine | Trigger] = []
    session = engine.session(LOADER)
    for source in sources:
        parsed = parse(source)
        problems += parsed.problems
        for statement in parsed.statements:
            try:
                if isinstance(statement, CreateRoutine):
                    made += define(session, source, statement)
                else:
                    _run(engine, statement, source)
            except ProblemError as error:
                problems += error.problems
    for statement, source in late:
        _run(engine, statement, source)
    for routine in made:
        try:
            assert isinstance(routine, Routine)
            engine.compiler.routines.check(routine)
        except ProblemError as error:
            problems += error.problems
    return problems


# ---- fixtures -------------------------------------------------------------------------------------------------------


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


def _load_fixture(engine: Engine, paths: list[Path], with_triggers: bool) -> None:
    """SQL files that come before the tables' rows may define things; CSV files go in the order of the tables."""
    tables = list(engine.catalog.relations)
    csv = [p for p in paths if p.suffix == ".csv"]
    for path in csv:
        if path.stem not in tables:
            message = f"{path.name}: there is no table {path.stem}"
            raise ProblemError(Problem("42704", message, Span(0, 1), nearest(path.stem, tables), read_text(path)))
    for path in sorted(csv, key=lambda p: tables.index(p.stem)):
        with nullcontext() if with_triggers else _no_triggers(engine, path.stem):
            _load_csv(engine, read_text(path), path.stem)
    for path in paths:
        if path.suffix == ".sql":
            _run_fixture_file(engine, read_text(path))


def _run_fixture_file(engine: Engine, source: Source) -> None:
    """Statements, and between them lines that stamp rows."""
    marks = [mark for mark in parse(source).marks if mark.sign == "#" and not mark.text.startswith("on ")]
    things: list[Statement | Mark] = [*_statements(source), *marks]
    for thing in sorted(things, key=lambda one: one.span.start):
        if not isinstance(thing, Mark):
            _run(engine, thing, source)
            continue
        word, _, rest = thing.text.partition(" ")
        if word != "stamp":
            raise ProblemError(
                Problem("42601", f"`{word}` does not stand in a fixture", thing.span, "on, stamp", source)
            )
        from glimb.suite.stamps import read_stamping, stamp_rows

        _commit(engine)
        stamp_rows(engine, read_stamping(rest), source, thing.span)


@contextmanager
def _no_triggers(engine: Engine, name: str) -> Iterator[None]:
    """Rows of a file are what they are: the triggers of their table have done their work before."""
    compiled = getattr(engine.catalog.relations[name], "compiled", None)
    if compiled is not None:
        compiled.triggers = []
    try:
        yield
    finally:
        if compiled is not None:
            compiled.triggers = None


def _load_csv(engine: Engine, source: Source, name: str) -> None:
    table = engine.catalog.relations[name]
    if not isinstance(table, Table):
        raise ProblemError(Problem("42807", f"{name} is a view and takes no rows", Span(0, 1), "", source))
    records = read_csv(source)
    header = next(records, None)
    if header is None:
        return
    positions = [_position(table, field, source) for field in header]
    for number, position in enumerate(positions):
        if position in positions[:number]:
            message = f"column {table.columns[position].name} stands twice in the header"
            raise ProblemError(Problem("42701", message, header[number].span, "", source))
    session = engine.session(LOADER)
    writer = Writer(session, 0, table)
    missing = [n for n in range(len(table.columns)) if n not in positions]
    by_row: dict[int, list[Field]] = {}
    problems: list[Problem] = []
    for record in records:
        session.watch()
        try:
            if len(record) != len(positions):
                message = f"{len(record)} fields, the header has {len(positions)}"
                raise ProblemError(Problem("22018", message, record[-1].span, "", source))
            row: list[Any] = [None] * len(positions)
            if missing:
                row = list(_at(source, record, lambda: engine.compiler.tables.defaults(table)(session, 0)))
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
    values = [row[position] for row in table.scan()]
    if identity is not None and values:
        identity.next = (max(values) if identity.increment > 0 else min(values)) + identity.increment


def _position(table: Table, field: Field, source: Source) -> int:
    name = (field.text or "").strip().lower()
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
