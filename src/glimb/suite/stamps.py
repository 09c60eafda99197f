"""Stamps: templates that make many rows. Each is a table function `stamps.TABLE(count)`, made from stamps.toml.

In: stamps.toml of a project and of a fixture: a table of the file for each table, with `count` and SQL expressions for
columns over `n` (1, 2, ...), `count`, and `pick(query)`, a row of another table by turns or, with a seed, at random.
Out: functions in an engine, and rows that are put in by `--# stamp TABLE COUNT column = expression, ...`.
"""

from __future__ import annotations

import re
import tomllib
from collections.abc import Collection
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.catalog.objects import STAMPS
from glimb.engine.engine import Engine
from glimb.engine.storage.table import Table
from glimb.lang.parser import parse, parse_expression
from glimb.lang.printer import name as written
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.suite.expectations.line import NAME, Line, split
from glimb.suite.project import read_text

FILE = "stamps.toml"
SCHEMA = STAMPS
STAMPER = "stamp"
"""The session that puts rows in."""
DEFAULT_COUNT = 100
NUMBERS = (
    f"CREATE FUNCTION {SCHEMA}.numbers (most INTEGER) RETURNS TABLE (n INTEGER) CONTAINS SQL "
    "RETURN TABLE (SELECT v.n FROM (VALUES (1)) AS v (n) WHERE v.n <= most);"
)


class Stamp(NamedTuple):
    """The template of a table: its default count, the expressions of columns, and where each stands."""

    table: str
    rows: int
    columns: dict[str, str]
    source: Source

    def span(self, key: str) -> Span:
        """Where a key of it stands in its file."""
        head = re.search(rf'(?mi)^\s*\[\s*"?{re.escape(self.table)}"?\s*\]', self.source.text)
        at = head.end() if head is not None else 0
        found = re.compile(rf'(?mi)^\s*"?({re.escape(key)})"?\s*=\s*(.*)$').search(self.source.text, at)
        return Span(*found.span(2)) if found is not None else Span(at - 1 if at else 0, max(at, 1))


def read_stamps(path: Path) -> dict[str, Stamp]:
    """The stamps of a file, by table; ProblemError for what it may not say."""
    source = read_text(path)
    try:
        data: dict[str, Any] = tomllib.loads(source.text)
    except tomllib.TOMLDecodeError as error:
        raise ProblemError(Problem("58030", str(error), Span(0, 1), "", source)) from None
    return {name: _stamp(name, given, source) for name, given in data.items()}


def _folded(name: str, known: Collection[str]) -> str:
    """A key of the file as a name: as it is written where there is such a one, or else as names are folded."""
    return name if name in known else name.lower()


def _stamp(name: str, given: Any, source: Source) -> Stamp:
    stamp = Stamp(name, DEFAULT_COUNT, {}, source)
    if not isinstance(given, dict):
        raise ProblemError(Problem("58030", f"{name} is a table: [{name}]", Span(0, 1), "", source))
    count = given.get("count", DEFAULT_COUNT)
    if not isinstance(count, int) or isinstance(count, bool) or count < 0:
        raise ProblemError(Problem("58030", "count is a number of rows", stamp.span("count"), "", source))
    for key, text in given.items():
        if key != "count" and not isinstance(text, str):
            raise ProblemError(Problem("58030", f"{key} is an SQL expression, in quotes", stamp.span(key), "", source))
    return stamp._replace(rows=count, columns={k: str(v) for k, v in given.items() if k != "count"})


# ---- functions


def define_stamps(engine: Engine, stamps: dict[str, Stamp]) -> None:
    """Make a table function of each stamp. ProblemError for what does not fit its table."""
    session = engine.session(STAMPER)
    _run(engine, f"CREATE SCHEMA {SCHEMA};")
    _run(engine, NUMBERS)
    (numbers,) = engine.catalog.routines[f"{SCHEMA}.numbers"]
    numbers.native = _numbers
    engine.compiler.forget()
    for table, stamp in {_folded(name, engine.catalog.relations): stamp for name, stamp in stamps.items()}.items():
        _define(engine, table, stamp)
    if session.active:
        session.commit()


def _numbers(session: Any, depth: int, most: int | None) -> list[tuple[int]]:
    """The rows of stamps.numbers."""
    rows = [(n,) for n in range(1, (most or 0) + 1)]
    session.budget.measure(rows)
    return rows


def _define(engine: Engine, name: str, stamp: Stamp) -> None:
    table = _table(engine, name, stamp.source, stamp.span(stamp.table))
    texts = {_folded(key, table.positions): text for key, text in stamp.columns.items()}
    for name in texts:
        if name not in table.positions:
            hint = nearest(name, table.positions)
            problem = Problem("42703", f"{stamp.table} has no column {name}", stamp.span(name), hint, stamp.source)
            raise ProblemError(problem)
    columns = [(column, texts[column.name]) for column in table.columns if column.name in texts]
    heads = ", ".join(f"{written(column.name)} {column.type}" for column, _ in columns)
    made = {column.name: expression(text, stamp, column.name) for column, text in columns}
    values = ", ".join(f"{text} AS {written(name)}" for name, text in made.items())
    more = ("", "") if "n" in texts else (", n INTEGER", ", s.n AS n")
    text = (
        f"CREATE FUNCTION {SCHEMA}.{written(table.name)} (count INTEGER DEFAULT {stamp.rows}) "
        f"RETURNS TABLE ({heads}{more[0]}) "
        f"READS SQL DATA RETURN TABLE (SELECT {values}{more[1]} FROM TABLE({SCHEMA}.numbers(count)) AS s (n));"
    )
    try:
        _run(engine, text)
    except ProblemError as error:
        problem = error.problems[0]
        at = next((name for name, expr in made.items() if _stands_in(problem, expr)), "count")
        raise ProblemError(
            Problem(problem.sqlstate, problem.message, stamp.span(at), problem.hint, stamp.source)
        ) from None


def _stands_in(problem: Problem, expr: str) -> bool:
    """Whether a problem of the text that was made lies in an expression."""
    if problem.source is None:
        return False
    at = problem.source.text.find(expr)
    return 0 <= at <= problem.span.start < at + len(expr)


def _plain(text: str) -> str:
    return " ".join(text.split())


def expression(text: str, stamp: Stamp, name: str) -> str:
    """The SQL of a column's expression, with what `pick` stands for. ProblemError for what is none."""
    picked = re.fullmatch(r"(?is)\s*pick\s*\((.*?)(?:,\s*(\d+)\s*)?\)\s*", text)
    if picked is not None:
        query, seed = _plain(picked[1]), picked[2]
        turn = f"MOD(s.n - 1, CARDINALITY(ARRAY({query})))"
        if seed is not None:
            # Multiplicative hashing: the upper bits of a product with 2**32 divided by the golden ratio.
            upper = f"MOD((CAST(s.n AS BIGINT) + {int(seed) * 7919}) * 2654435761, 4294967296) / 65536"
            turn = f"CAST(MOD({upper}, CARDINALITY(ARRAY({query}))) AS INTEGER)"
        return f"((ARRAY({query}))[{turn} + 1])"
    try:
        parse_expression(Source(text))
    except ProblemError as error:
        problem = error.problems[0]
        raise ProblemError(
            Problem(problem.sqlstate, problem.message, stamp.span(name), problem.hint, stamp.source)
        ) from None
    return f"({_plain(text)})"


def _table(engine: Engine, name: str, source: Source, span: Span) -> Table:
    table = engine.catalog.relations.get(name)
    if not isinstance(table, Table):
        hint = nearest(name, engine.catalog.relations)
        raise ProblemError(Problem("42704", f"there is no table {name}", span, hint, source))
    return table


# ---- rows


class Stamping(NamedTuple):
    """Rows that are to be put in: of which table, how many (None: as many as the stamp says), and expressions that take
    the place of the stamp's."""

    table: str
    rows: int | None
    columns: tuple[tuple[str, str], ...]


def read_stamping(text: str) -> Stamping:
    """`TABLE [COUNT] [column = expression, ...]`. ProblemError without a place for what is no such text."""
    found = re.fullmatch(rf"(?s)({NAME})(?:\s+(?P<count>\d+))?(?:\s+(?P<columns>.+))?", text.strip())
    if found is None:
        raise ProblemError(Problem("42601", "a table is wanted", hint="stamp guest 500 born = DATE '1990-01-01'"))
    columns = []
    for _, part in split(found["columns"], ",") if found["columns"] else ():
        one = re.fullmatch(rf"(?s)({NAME})\s*=\s*(?P<value>.+)", part)
        if one is None:
            raise ProblemError(Problem("42601", f"`{part}` is no column = expression"))
        parse_expression(Source(one["value"]))
        columns.append((_name(one[1]), one["value"]))
    return Stamping(_name(found[1]), int(found["count"]) if found["count"] else None, tuple(columns))


def _name(text: str) -> str:
    """A name as it is written, delimited or not."""
    return Line(Source(text), text, 0).name("a name")


def stamp_rows(engine: Engine, wanted: Stamping, source: Source, span: Span) -> None:
    """Put rows in and commit them, in a session of its own. ProblemError at a place for what cannot be."""
    table = _table(engine, wanted.table, source, span)
    routines = engine.catalog.routines.get(f"{SCHEMA}.{wanted.table}")
    if not routines:
        hint = f"{FILE} of the project or the fixture: [{wanted.table}]"
        raise ProblemError(Problem("42704", f"there is no stamp for {wanted.table}", span, hint, source))
    given = dict(wanted.columns)
    for name in given:
        if name not in table.positions:
            hint = nearest(name, table.positions)
            raise ProblemError(Problem("42703", f"{wanted.table} has no column {name}", span, hint, source))
    made = [name for name, _ in routines[0].table if name in table.positions and name not in given]
    columns = ", ".join(map(written, (*made, *given)))
    values = ", ".join([*(f"s.{written(name)}" for name in made), *(f"({text})" for text in given.values())])
    count = "" if wanted.rows is None else str(wanted.rows)
    name = written(wanted.table)
    text = f"INSERT INTO {name} ({columns}) SELECT {values} FROM TABLE({SCHEMA}.{name}({count})) AS s;"
    try:
        _run(engine, text)
    except ProblemError as error:
        problem = error.problems[0]
        raise ProblemError(Problem(problem.sqlstate, problem.message, span, problem.hint, source)) from None
    session = engine.session(STAMPER)
    if session.active:
        session.commit()


def _run(engine: Engine, text: str) -> None:
    """Run a statement that is made here; ProblemError for the condition that leaves it."""
    source = Source(text, FILE)
    parsed = parse(source)
    if parsed.problems:
        raise ProblemError(*parsed.problems)
    (statement,) = parsed.statements
    for outcome in engine.execute(engine.session(STAMPER), statement, source):
        failure = outcome.failure
        if failure is not None or outcome.waiting is not None:
            message = failure.message if failure is not None else "other sessions hold locks that these rows need"
            problems = failure.problems if failure is not None else ()
            raise ProblemError(*(problems or (Problem(failure.sqlstate if failure else "5L003", message),)))
