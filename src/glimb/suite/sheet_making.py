"""New call sheets: rows from a query or from arguments worth trying, with what was seen where that is wanted."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conversion import literal_of
from glimb.lang.parser import parse
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.edges import argument_lists, call_of, edges

MOST_ROWS = 40
"""Rows that arguments worth trying make."""
MOST_FROM_QUERY = 10_000


def routine_named(engine: Engine, name: str) -> Routine:
    """The one routine of a name, which may be without its schema; ProblemError when there is none or several."""
    meant = engine.catalog.meant(name)
    found = [r for r in meant if name == r.name] or meant
    if not found:
        known = [r.name for r in engine.catalog.written_routines()]
        raise ProblemError(Problem("42883", f"there is no routine {name}", hint=nearest(name.lower(), known)))
    several = engine.catalog.routines[found[0].name]
    if len(found) > 1 or len(several) > 1:
        told = ", ".join(r.signature for r in (found if len(found) > 1 else several))
        raise ProblemError(Problem("42725", f"there are several routines {name}: a sheet is of one", hint=told))
    return found[0]


def edge_rows(engine: Engine, routine: Routine) -> list[tuple[str, ...]]:
    """Argument lists worth trying, as SQL texts; those that go beyond a budget (class 5B) are left out."""
    lists = argument_lists(list(edges(engine, routine).values()), MOST_ROWS)
    outcomes = ((row, _called(engine, call_of(routine, row)).failure) for row in lists)
    return [row for row, failure in outcomes if failure is None or not failure.sqlstate.startswith("5B")]


def query_rows(engine: Engine, routine: Routine, query: str) -> list[tuple[str, ...]]:
    """An argument list for each row of a query: its columns are the parameters, by name or, where no name is one, in
    their order; parameters that it lacks are left to their defaults (an empty text)."""
    outcome = Asker(engine, "sheet", None).query(query)
    if outcome.failure is not None:
        raise ProblemError(Problem(outcome.failure.sqlstate, outcome.failure.message))
    columns = outcome.columns or ()
    wanted = [p.name for p in routine.parameters if p.mode != "out"]
    names = [c.name for c in columns]
    if not set(names) & set(wanted):
        if len(names) > len(wanted):
            raise ProblemError(Problem("42601", f"{len(names)} columns for {len(wanted)} parameters"))
        names = wanted[: len(names)]
    if len(outcome.rows or ()) > MOST_FROM_QUERY:
        told = f"the query has {len(outcome.rows or ()):,} rows, a sheet at most {MOST_FROM_QUERY:,}"
        raise ProblemError(Problem("54001", told, hint=f"FETCH FIRST {MOST_FROM_QUERY} ROWS ONLY"))
    rows = []
    for row in outcome.rows or ():
        texts = {name: literal_of(value, c.type) for name, c, value in zip(names, columns, row, strict=True)}
        rows.append(tuple(texts.get(name, "") for name in wanted))
    return rows


def sheet_text(engine: Engine, routine: Routine, rows: Iterable[tuple[str, ...]], take: bool) -> str:
    """The CSV file: a column for each parameter that is given a value, then what is expected; with `take` each call is
    run from the fixture and what was seen is expected."""
    wanted = [p.name for p in routine.parameters if p.mode != "out"]
    outs = [p.name for p in routine.parameters if p.mode != "in"]
    expected = [f"value {name}" for name in outs] if routine.kind == "procedure" else []
    expected = ["count"] if routine.table else expected or (["value"] if routine.kind == "function" else [])
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*wanted, *expected, "fails"])
    for row in rows:
        seen = _seen(engine, routine, row, len(expected)) if take else [""] * (len(expected) + 1)
        writer.writerow([*(cell_of(text) for text in row), *seen])
    return out.getvalue()


def cell_of(text: str) -> str:
    """An SQL text as a cell: texts and moments without what makes them literals, where that can be read again."""
    if text.startswith("'") and text.endswith("'") and len(text) > 2:
        inner = text[1:-1].replace("''", "'")
        is_plain = inner != "NULL" and inner == inner.strip() and not inner.startswith(("'", "U&'", "u&'"))
        return inner if is_plain else text
    for word in ("DATE", "TIMESTAMP", "TIME"):
        if text.startswith(f"{word} '"):
            return text[len(word) + 2 : -1]
    return text


def _seen(engine: Engine, routine: Routine, row: tuple[str, ...], width: int) -> list[str]:
    """What a call gives: its values, or the condition that left it."""
    given = [text if text else "DEFAULT" for text in row]
    if "DEFAULT" in given:
        return [""] * (width + 1)
    outcome = _called(engine, call_of(routine, given))
    if outcome.failure is not None:
        return [""] * width + [outcome.failure.sqlstate]
    if routine.table:
        return [str(len(outcome.rows or ())), ""]
    if routine.kind == "procedure":
        return [*(cell_of(literal_of(value, type_)) for _, type_, value in outcome.out or ()), ""]
    rows, columns = outcome.rows or [], outcome.columns or ()
    return [cell_of(literal_of(rows[0][0], columns[0].type)) if rows else "", ""]


def _called(engine: Engine, text: str) -> Outcome:
    source = Source(text, "sheet")
    (statement,) = parse(source).statements
    outcome = engine.execute(engine.session("sheet"), statement, source)[0]
    engine.reset()
    return outcome
