"""A world: an engine that holds the schema, routines and one fixture of a project, ready to be run in and reset."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from functools import cache
from typing import TYPE_CHECKING, Any

from glimb.engine.catalog.objects import Routine, Trigger
from glimb.engine.engine import Engine
from glimb.lang.parser import Broken, Parsed, parse
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.tokens import Mark
from glimb.lang.tree import CreateRoutine, Statement
from glimb.store import digest, in_use
from glimb.suite.project import FILE, Project, read_text

if TYPE_CHECKING:
    from pathlib import Path

LOADER = "fixture"
NO_ROUTINE, NO_OBJECT = "42883", "42704"


def build(project: Project, fixture: str) -> Engine:
    """Load a project with one fixture (empty name: no rows). ProblemError tells all that is wrong."""
    engine = Engine(project.settings.limits)
    engine.rollback_unhandled = project.settings.rollback_unhandled
    engine.default_model = project.settings.model
    engine.use_model(engine.default_model)
    schema, routines = ([read_text(path) for path in project.files(name)] for name in ("schema", "routines"))
    late = list(_load_schema(engine, schema))
    _load_routines(engine, routines, late)
    stamps = _load_stamps(engine, project, fixture)
    if in_use() is not None:
        texts = (
            part for source in (*schema, *routines, *map(read_text, stamps)) for part in (source.name, source.text)
        )
        engine.compiler.units.kept.stand_for(digest(*texts))
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


def _load_stamps(engine: Engine, project: Project, fixture: str) -> list[Path]:
    """The stamps of the project, and those of the fixture and of the ones it stands on, which come before them; gives
    their files."""
    found: dict[str, Any] = {}
    paths = project.stamp_files(list(_layers(project, fixture)) if fixture else [])
    for path in paths:
        from glimb.suite.stamps import read_stamps

        found |= read_stamps(path)
    if found:
        from glimb.suite.stamps import define_stamps

        define_stamps(engine, found)
    return paths


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


def try_fixture(engine: Engine, project: Project, fixture: str) -> None:
    """Load a fixture into a world without rows, which can be reset; one with stamps of its own into its own world.
    ProblemError for what is wrong."""
    if project.stamp_files(list(_layers(project, fixture))) == project.stamp_files([]):
        load_fixture(engine, project, fixture)
    else:
        build(project, fixture).close()


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
    parsed = _parsed(source)
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


def _parsed(source: Source) -> Parsed:
    """A file of SQL, parsed, or as it was parsed before."""
    store = in_use()
    if store is None:
        return parse(source)
    found: Parsed = store.parsed(f"source {source.name}", source.text, lambda: parse(source))
    return found


def _load_routines(engine: Engine, sources: list[Source], late: Late) -> None:
    """Make all routines known, so that they may call each other in any order; then what of the schema needs them.
    Bodies are looked at when they are called, or when somebody asks what is wrong: who needs a wrong one meets it."""
    problems: list[Problem] = []
    made: list[Routine | Trigger] = []
    session = engine.session(LOADER)
    for source in sources:
        from glimb.engine.definition.definer import define  # for the start: a text alone defines nothing

        parsed = _parsed(source)
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
    engine.problems = cache(lambda: problems + _wrong_bodies(engine, made))


def _wrong_bodies(engine: Engine, made: list[Routine | Trigger]) -> list[Problem]:
    problems: list[Problem] = []
    for routine in made:
        try:
            assert isinstance(routine, Routine)
            engine.compiler.routines.check(routine)
        except ProblemError as error:
            problems += error.problems
    return problems


# ---- fixtures -------------------------------------------------------------------------------------------------------


def _load_fixture(engine: Engine, paths: list[Path], with_triggers: bool) -> None:
    """SQL files that come before the tables' rows may define things; CSV files go in the order of the tables."""
    tables = list(engine.catalog.relations)
    csv = [p for p in paths if p.suffix == ".csv"]
    for path in csv:
        if path.stem not in tables:
            message = f"{path.name}: there is no table {path.stem}"
            raise ProblemError(Problem("42704", message, Span(0, 1), nearest(path.stem, tables), read_text(path)))
    for path in sorted(csv, key=lambda p: tables.index(p.stem)):
        from glimb.suite.csv_loading import load_csv  # for the start: not every world has such files

        with nullcontext() if with_triggers else _no_triggers(engine, path.stem):
            load_csv(engine, read_text(path), path.stem, LOADER)
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
        try:
            stamping = read_stamping(rest)
        except ProblemError as error:
            problem = error.problems[0]
            raise ProblemError(Problem(problem.sqlstate, problem.message, thing.span, problem.hint, source)) from None
        stamp_rows(engine, stamping, source, thing.span)


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
