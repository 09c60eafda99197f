"""Promises that reading does not settle, since a routine runs a text that it makes: DETERMINISTIC is tried, by the same
calls twice with the clock moved between them.

In: a project, and an engine with its routines. Out: findings.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from datetime import timedelta

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.values.conversion import literal_of
from glimb.lang.node import walk
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.edges import argument_lists, call_of, edges
from glimb.suite.findings.finding import RULES, Finding
from glimb.suite.findings.promises import depends_on, head_of
from glimb.suite.project import Project
from glimb.suite.reaching import quick_engine

MOST_CALLS = 8
"""Calls that are tried of a routine."""
MOVED = timedelta(days=401, hours=5, minutes=7)
"""How far the clock is moved: another year, month, day, hour and minute."""
CODE = "not-deterministic"
TOO_LONG = "5B002"
"""What a call gives whose time is up: nothing that hangs on the clock of the world."""


def broken_promises(project: Project, engine: Engine) -> Iterator[Finding]:
    """Routines that are DETERMINISTIC, run texts, and give something else when the clock is moved."""
    names = {r.name for r in engine.catalog.written_routines() if r.deterministic and _is_open(r)}
    if not names:
        return
    quick = quick_engine(project, project.settings.default_fixture)
    for routine in quick.catalog.written_routines():
        if routine.name in names and routine.deterministic and _is_open(routine):
            told = _told(quick, routine)
            if told:
                yield Finding(CODE, routine.source, head_of(routine.definition), told, RULES[CODE].remedy)
    quick.close()


def _is_open(routine: Routine) -> bool:
    """Whether reading finds nothing, and there is more than can be read."""
    return next(depends_on(routine, set()), "") == "" and _runs_texts(routine, set())


def _runs_texts(routine: Routine, seen: set[Routine]) -> bool:
    seen.add(routine)
    facts = routine.bind()
    for node in walk(facts.body) if facts is not None else ():
        if isinstance(node, R.PrepareStmt | R.ExecuteStmt):
            return True
        if isinstance(node, R.RoutineCall | R.CallRows | R.CallStmt) and node.routine not in seen:
            if _runs_texts(node.routine, seen):
                return True
    return False


def _told(engine: Engine, routine: Routine) -> str:
    """What differs, of the first call of which something does."""
    for arguments in argument_lists(list(edges(engine, routine).values()), MOST_CALLS):
        call = call_of(routine, arguments)
        first = _given(engine, call)
        clock = engine.clock
        engine.clock = clock + MOVED
        second = _given(engine, call)
        engine.clock = clock
        if first != second and TOO_LONG not in (first, second):
            return f"{routine.name} is DETERMINISTIC, and {call} gives {first} and, with the clock moved, {second}"
    return ""


def _given(engine: Engine, call: str) -> str:
    """What a call gives, run from the fixture: rows, OUT parameters, the condition it leaves with."""
    source = Source(call, "tried")
    told = []
    with suppress(ProblemError):
        (statement,) = parse(source).statements
        for outcome in engine.execute(engine.session("try"), statement, source):
            if outcome.failure is not None:
                told.append(outcome.failure.sqlstate)
            types = [column.type for column in outcome.columns]
            told += [literal_of(v, t) for row in outcome.rows or () for v, t in zip(row, types, strict=True)]
            told += [literal_of(value, type_) for _, type_, value in outcome.out]
    engine.reset()
    return ", ".join(told) or "nothing"
