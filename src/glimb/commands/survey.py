"""`glimb survey`: the proof grid: of each routine what cases have asserted, only shown, or never shown."""

from __future__ import annotations

import argparse
import sys
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse_for, say, shown_path
from glimb.commands.run import cases_of, choose_options

if TYPE_CHECKING:
    from glimb.suite.evidence import Row


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", metavar="PATH", help="projects, folders, scripts, or FILE:LINE for the case there (here)")
    choose_options(command)
    add("--format", choices=("text", "jsonl"), default="text", help="how it is told (text)")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.evidence import grid_lines, json_lines

    try:
        rows = _rows(given)
    except ProblemError as error:
        return refuse_for(error)
    lines = grid_lines if given.format == "text" else json_lines
    for line in lines(rows, lambda file: shown_path(path_of(file).absolute())):
        say(line)
    return MET


def _rows(given: argparse.Namespace) -> list[Row]:
    """Run the cases twice: recorded, for what they show, and counted, for arms and conditions."""
    from glimb.commands.jobs import Ran, Work, run_cases
    from glimb.suite.evidence import Collector, grid
    from glimb.suite.letting import read_lets
    from glimb.suite.runner import Runner
    from glimb.suite.world import build

    some = cases_of(given)
    ran, collector = Ran(), Collector()
    verdicts = [result.verdict for result in run_cases(some, Work(tuple(given.let), True), given.jobs, ran)]
    bad = [verdict for verdict in verdicts if verdict in ("slipped", "broken")]
    if bad:
        say(f"glimb: {len(bad)} of {len(verdicts)} cases are not met: `glimb run` tells why", sys.stderr)
    runner = Runner(read_lets(given.let))
    projects = {}
    for one in some:
        for number in one.cases:
            for ladder in runner.run_case(one.script, one.script.cases[number], recording=True).ladders:
                collector.look(ladder)
        project = runner.project(one.script.path)
        projects[project.root] = project
    rows = []
    for project in projects.values():
        engine = build(project, "")
        rows += grid(engine, collector.seen, ran.counts.values())
        engine.close()
    return rows
