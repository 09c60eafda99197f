"""A text with routines that is being written: what is wrong with it, and what is dubious in it.

In: an engine with the project, and the text as it stands. Out: remarks with their places; the engine is as it was.
"""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine.binding import bind_routine
from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.parser import parse
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.findings.finding import Subject, findings_of


class Remark(NamedTuple):
    """What is wrong (an SQLSTATE) or dubious (the code of a finding) at a place: line and column from 1."""

    line: int
    column: int
    code: str
    message: str
    is_error: bool


def remarks(engine: Engine, source: Source) -> list[Remark]:
    """All that is to be said of a text, in its order."""
    parsed = parse(source)
    found = [_of_problem(source, problem) for problem in parsed.problems]
    if not found:
        try:
            found = _of_routines(engine, source, parsed.statements)
        finally:
            engine.reset()
    return sorted(set(found))


def _of_routines(engine: Engine, source: Source, statements: list[tree.Statement]) -> list[Remark]:
    """Define the routines of a text in the place of those that are there, and look at them."""
    found: list[Remark] = []
    for statement in statements:
        if isinstance(statement, tree.CreateRoutine):
            try:
                for outcome in engine.execute(engine.session("draft"), replace(statement, replace=True), source):
                    if outcome.failure is not None:
                        found.append(_remark(source, statement.span, outcome.failure.sqlstate, outcome.failure.message))
            except ProblemError as error:
                found += (_of_problem(source, problem) for problem in error.problems)
    for routine in list(engine.catalog.written_routines()):
        if routine.source is source:
            found += _of_routine(engine, source, routine)
    return found


def _of_routine(engine: Engine, source: Source, routine: Routine) -> list[Remark]:
    try:
        facts = bind_routine(engine.catalog, routine)
    except ProblemError as error:
        return [_of_problem(source, problem) for problem in error.problems]
    subject = Subject(engine, source, routine.definition, facts.body, facts.parameters, routine)
    return [_remark(source, f.span, f.code, f.message, False) for f in findings_of(subject)]


def _of_problem(source: Source, problem: Problem) -> Remark:
    hint = f" ({problem.hint})" if problem.hint else ""
    return _remark(source, problem.span, problem.sqlstate, problem.message + hint)


def _remark(source: Source, span: Span, code: str, message: str, is_error: bool = True) -> Remark:
    return Remark(source.line(span.start), source.column(span.start), code, message, is_error)
