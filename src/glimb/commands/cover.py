"""`glimb cover`: run cases, and tell what of the project's routines they have tried."""

from __future__ import annotations

import argparse
import sys
from typing import TYPE_CHECKING

from glimb.commands.common import MET, SLIPPED, path_of, refuse, refuse_for, say, shown_path
from glimb.commands.run import cases_of, choose_options

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.coverage import Counts


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", metavar="PATH", help="projects, folders, scripts, or FILE:LINE for the case there (here)")
    choose_options(command)
    add("--missing", action="store_true", help="tell what was never tried, and calls that would try it")
    add("--jsonl", action="store_true", help="print a line of JSON for each place in the place of the table")
    add("--lcov", type=path_of, metavar="FILE", help="write an LCOV tracefile too")
    add("--at-least", type=float, metavar="PERCENT", help="exit with 1 when less has been tried")
    add("--add", type=path_of, action="append", default=[], metavar="FILE", help="add the counts of an earlier --jsonl")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.coverage import coverage_lines, lcov, missing_lines
    from glimb.suite.coverage import from_json, json_lines, merged, share_of
    from glimb.whole import write_whole

    try:
        counts = merged(_counts(given), *(from_json(path) for path in given.add))
    except ProblemError as error:
        return refuse_for(error)
    if given.lcov is not None:
        if not _is_tracefile(given.lcov):
            return refuse(f"{given.lcov} is no LCOV tracefile, and stays as it is")
        write_whole(given.lcov, lcov(counts, _shown).encode())
    if given.jsonl:
        for line in json_lines(counts):
            print(line)
    else:
        for line in coverage_lines(counts, _shown):
            say(line)
    if given.missing and not given.jsonl:
        say("")
        for line in missing_lines(counts, _shown, _reached(given, counts)):
            say(line)
    share = share_of(counts.values())
    if given.at_least is not None and share.percent < given.at_least:
        say(f"glimb: {share.percent:.1f} % tried, at least {given.at_least:g} % is wanted", sys.stderr)
        return SLIPPED
    return MET


def _counts(given: argparse.Namespace) -> Counts:
    """Run the cases; what is wrong with them is told on the error stream."""
    from glimb.commands.jobs import Ran, Work, run_cases
    from glimb.suite.coverage import relative

    ran = Ran()
    verdicts: dict[str, int] = {}
    for result in run_cases(cases_of(given), Work(tuple(given.let), True), given.jobs, ran):
        verdicts[result.verdict] = verdicts.get(result.verdict, 0) + 1
    told = [f"{verdicts[verdict]} {verdict}" for verdict in ("slipped", "broken") if verdict in verdicts]
    if told:
        say(f"glimb: of {sum(verdicts.values())} cases {', '.join(told)}: `glimb run` tells why", sys.stderr)
    return relative(ran.counts, path_of(".").absolute())


def _reached(given: argparse.Namespace, counts: Counts) -> dict[tuple[tuple[object, ...], int], str]:
    """Statements that would try what is missing, for the default fixture of each project."""
    from glimb.lang.problem import ProblemError
    from glimb.suite.project import FILE, find_root, open_project
    from glimb.suite.reaching import reach

    found: dict[tuple[tuple[object, ...], int], str] = {}
    projects = {find_root(one.script.path.parent) for one in cases_of(given)}
    for root in sorted(root for root in projects if root is not None):
        project = open_project(root / FILE)
        try:
            found |= reach(project, project.settings.default_fixture, counts, path_of(".").absolute())
        except ProblemError as error:
            say(f"glimb: no calls are tried: {error.problems[0].describe()}", sys.stderr)
    return found


def _shown(file: str) -> str:
    return shown_path(path_of(file).absolute())


def _is_tracefile(path: Path) -> bool:
    """Whether nothing is lost when a tracefile takes this file's place."""
    if not path.is_file() or not path.stat().st_size:
        return True
    with path.open("rb") as file:
        return file.read(3) in (b"TN:", b"SF:")
