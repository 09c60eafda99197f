"""`glimb survey`: the proof grid: of each routine what cases have asserted, only shown, or never shown."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse, refuse_for, say, shown_path
from glimb.commands.run import cases_of, choose_options

if TYPE_CHECKING:
    from glimb.suite.project import Project
    from glimb.suite.study import Study


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", metavar="PATH", help="projects, folders, scripts, or FILE:LINE for the case there (here)")
    choose_options(command)
    add("--format", choices=("text", "jsonl"), default="text", help="how it is told (text)")
    told = "the rungs that show a kind of evidence of a routine, or a call that would: ROUTINE.KIND"
    add("--cell", metavar="ROUTINE.KIND", help=told)


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.evidence import grid_lines, json_lines
    from glimb.suite.world import build

    try:
        found = list(studied(given))
        if given.cell is not None:
            return _cell(given, found)
        rows = []
        for project, study in found:
            engine = build(project, "")
            rows += study.grid(engine)
            engine.close()
    except ProblemError as error:
        return refuse_for(error)
    lines = grid_lines if given.format == "text" else json_lines
    for line in lines(rows, _shown):
        say(line)
    return MET


def _shown(file: str) -> str:
    return shown_path(path_of(file).absolute())


def studied(given: argparse.Namespace) -> Iterator[tuple[Project, Study]]:
    """Run the cases twice: recorded, for what they show, and counted, for arms and conditions; by project."""
    from glimb.commands.jobs import Ran, Work, run_cases
    from glimb.suite.letting import read_lets
    from glimb.suite.runner import Runner
    from glimb.suite.study import Study

    some = cases_of(given)
    ran = Ran()
    verdicts = [result.verdict for result in run_cases(some, Work(tuple(given.let), True), given.jobs, ran)]
    bad = [verdict for verdict in verdicts if verdict in ("slipped", "broken")]
    if bad:
        say(f"glimb: {len(bad)} of {len(verdicts)} cases are not met: `glimb run` tells why", sys.stderr)
    runner = Runner(read_lets(given.let))
    by_root: dict[object, tuple[Project, Study]] = {}
    for one in some:
        project = runner.project(one.script.path)
        _, study = by_root.setdefault(project.root, (project, Study()))
        study.counts = ran.counts
        for number in one.cases:
            study.take(runner.run_case(one.script, one.script.cases[number], recording=True))
    yield from by_root.values()


def _cell(given: argparse.Namespace, found: list[tuple[Project, Study]]) -> int:
    """One cell of the grid: the rungs behind it, or a call that would fill it."""
    from glimb.suite.evidence import EVIDENCE
    from glimb.suite.trying import call_for
    from glimb.suite.world import build

    name, _, kind = given.cell.rpartition(".")
    kinds = (*EVIDENCE, "arms", "conditions")
    if kind not in kinds:
        return refuse(f"there is no evidence `{kind}`: the kinds are {', '.join(kinds)}")
    count = 0
    for project, study in found:
        engine = build(project, "")
        for routine in engine.catalog.meant(name):
            count += 1
            say(routine.signature)
            for where in study.rungs(routine, kind) if kind in EVIDENCE else ():
                say(f"  {shown_path(where.path)}  {where.title}  rung {where.rung}")
            if study.lacks(routine, kind):
                tried = call_for(project, study, routine, kind)
                say(f"  {tried.text};\n  -- {tried.told}")
        engine.close()
    return MET if count else refuse(f"there is no routine {name}")
