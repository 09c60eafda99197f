"""A call that shows what no case has shown of a routine: arguments worth trying are tried until one does.

In: a project with a fixture, a routine, the kind of evidence that is missing. Out: the text of a statement, whether it
has been seen to show it, and what is to be known about it.
"""

from __future__ import annotations

import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.outcomes.steps import walk_steps
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.coverage import NAMES, Counted, relative
from glimb.suite.edges import argument_lists, call_of, edges
from glimb.suite.evidence import Collector, shown_of
from glimb.suite.ladder import Rung
from glimb.suite.project import Project
from glimb.suite.reaching import quick_engine, reach
from glimb.suite.study import Study

MOST_CALLS, MOST_SECONDS = 80, 3.0
"""Calls that are tried of a routine, and how long."""


class Tried(NamedTuple):
    """A statement, whether it shows what was wanted, and what to know about it."""

    text: str
    is_found: bool
    told: str


def call_for(project: Project, study: Study, routine: Routine, kind: str) -> Tried:
    """A call that shows a kind of evidence (`arms` and `conditions` too) that no case has shown, run first from the
    fixture; the likeliest call where none of those that were tried does. ProblemError for a fixture that cannot be."""
    fixture = study.fixture(project)
    if kind in ("arms", "conditions"):
        return _to_place(project, fixture, list(study.missing(routine, kind)), routine)
    engine = quick_engine(project, fixture)
    engine.shared.recording = True
    mine = _same(engine, routine)
    lines = study.never_handled(routine)
    texts = [call_of(mine, arguments) for arguments in argument_lists(list(edges(engine, mine).values()), MOST_CALLS)]
    end = time.monotonic() + MOST_SECONDS
    found = next((text for text in texts if time.monotonic() > end or _shows(engine, text, mine, kind, lines)), "")
    found = found if time.monotonic() <= end else ""
    engine.close()
    if kind == "waits":
        return Tried(texts[0], False, "it waits where another session has a row that it touches and did not commit")
    if not found:
        return Tried(texts[0], False, f"none of {len(texts)} calls that were tried shows it: this is the likeliest one")
    return Tried(found, True, "ROLLBACK behind it shows it" if kind == "undone" else "this call shows it")


def _same(engine: Engine, routine: Routine) -> Routine:
    """The routine of an engine that was made of the same text."""
    place = routine.source.name, routine.definition.span.start
    every = engine.catalog.written_routines()
    return next(r for r in every if (r.source.name, r.definition.span.start) == place)


def _shows(engine: Engine, text: str, routine: Routine, kind: str, lines: Iterable[int]) -> bool:
    """Run a call from the fixture, and see whether it shows something."""
    source, collector, changes, is_cut = Source(text, "tried"), Collector(), False, False
    with suppress(ProblemError):
        for outcome in engine.execute(engine.session("try"), parse(source).statements[0], source):
            rung = Rung(1, "try", text, 1, outcome)
            # A budget that is smaller here than in a run shows nothing of the routine.
            is_cut |= outcome.failure is not None and outcome.failure.sqlstate.startswith("5B")
            collector.look_at(rung, Path())
            changes |= outcome.failure is None and any(step.changes for step in walk_steps(rung.steps))
    engine.reset()
    if is_cut:
        return False
    if kind == "undone":
        return changes
    seen = collector.seen.get((routine.source.name, routine.definition.span.start))
    if seen is None:
        return False
    if kind == "handler":
        return any(routine.source.line(span.start) in lines for span in seen.handlers)
    return bool(shown_of(kind, seen, routine))


def _to_place(project: Project, fixture: str, missing: list[Counted], routine: Routine) -> Tried:
    """A call that comes to an arm, or gives a condition a value that it never had."""
    assert project.root is not None
    folder = project.root
    counts = relative({one.place: one for one in missing}, folder)
    calls = reach(project, fixture, counts, folder)
    for one in counts.values():
        names = NAMES.get(one.kind, ("",))
        for side in one.sides:
            text = calls.get((one.place, side))
            if text is not None and not one.counts[side]:
                told = f"{one.text[:60]} is {names[side]} by it" if names[side] else f"{one.text[:60]} is come to by it"
                return Tried(text, True, f"line {one.line}: {told}")
    engine = quick_engine(project, fixture)
    mine = _same(engine, routine)
    text = call_of(mine, next(argument_lists(list(edges(engine, mine).values()), 1)))
    engine.close()
    return Tried(text, False, "none of the calls that were tried comes there: this is the likeliest one")
