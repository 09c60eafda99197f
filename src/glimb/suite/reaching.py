"""Calls that get to what no case has tried: arguments worth trying are tried, and what they come to is counted.

In: a project with a fixture, and the counts of its cases. Out: for a place and a side of it that was never met, a
statement that meets it when it is the first that is run from the fixture.
"""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import Point
from glimb.lang.node import replace
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.coverage import Counts, points_of, relative
from glimb.suite.edges import argument_lists, call_of, edges
from glimb.suite.project import Project
from glimb.suite.world import build

MOST_CALLS = 60
"""Calls that are tried for a routine."""
MOST_ROUNDS, MOST_SECONDS = 20_000, 0.5
"""What a call may take that is only tried."""

Side = tuple[tuple[Any, ...], int]
"""A place (see `Counted.place`) and one of its sides."""


def reach(project: Project, fixture: str, tried: Counts, folder: Path) -> dict[Side, str]:
    """Try calls of all routines of which something has not been tried, files being told from a folder. ProblemError
    for a fixture that cannot be."""
    missing = {(one.place, side) for one in tried.values() for side in one.sides if not one.counts[side]}
    concerned = {one.owner for one in tried.values() if one.missing()}
    engine = quick_engine(project, fixture)
    engine.cover()
    wanted = [
        (point, side, place)
        for point, one in points_of(engine)
        for place in relative({one.place: one}, folder)
        for side in one.sides
        if (place, side) in missing
    ]
    found: dict[Side, str] = {}
    for routine in engine.catalog.written_routines():
        if engine.catalog.told(routine) in concerned:
            _try_calls(engine, routine, wanted, found)
    engine.close()
    return found


def quick_engine(project: Project, fixture: str) -> Engine:
    """An engine in which a call that is only tried ends soon. ProblemError for a fixture that cannot be."""
    limits = project.settings.limits._replace(rounds=MOST_ROUNDS, seconds=MOST_SECONDS)
    return build(Project(project.root, replace(project.settings, limits=limits)), fixture)


def _try_calls(
    engine: Engine, routine: Routine, wanted: list[tuple[Point, int, tuple[Any, ...]]], found: dict[Side, str]
) -> None:
    """Run calls of a routine, and see what each is the first to meet."""
    values = list(edges(engine, routine).values())
    for arguments in argument_lists(values, MOST_CALLS):
        text = call_of(routine, arguments)
        source = Source(text, "tried")
        for statement in parse(source).statements:
            with suppress(ProblemError):
                engine.execute(engine.session("try"), statement, source)
        engine.reset()
        for point, side, place in wanted:
            if point.counts[side] and (place, side) not in found:
                found[place, side] = text
        wanted[:] = [(point, side, place) for point, side, place in wanted if (place, side) not in found]
