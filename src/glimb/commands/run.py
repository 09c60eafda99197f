"""`glimb run`: cases and their verdicts."""

from __future__ import annotations

import argparse
import sys
import time
from functools import partial
from typing import TYPE_CHECKING

from glimb.commands.common import COULD_NOT_RUN, MET, SLIPPED, path_of, refuse, refuse_for, say, shown_path

if TYPE_CHECKING:
    from glimb.suite.letting import Lets
    from glimb.suite.results import CaseResult
    from glimb.suite.script import Case, Script


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", type=path_of, metavar="PATH", help="projects, folders or scripts (here)")
    add(
        "-k",
        dest="words",
        action="append",
        default=[],
        metavar="WORD",
        help="only cases with this in title, file or tags",
    )
    add(
        "--let",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="give a host variable this value, in the place of what scripts set",
    )
    for name in _formats():
        add(f"--{name}", type=path_of, metavar="FILE", help=f"write the results as a {name} file too")


def _formats() -> list[str]:
    """The formats of reports: their modules, by name."""
    from pkgutil import iter_modules

    return [module.name for module in iter_modules([str(path_of(__file__).parents[1] / "report" / "results")])]


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.results import format_named
    from glimb.report.text import summary
    from glimb.report.whole import write_whole
    from glimb.suite.letting import check_lets, read_lets
    from glimb.suite.project import script_paths
    from glimb.suite.script import read_script

    reports = [(name, path) for name in _formats() if (path := getattr(given, name)) is not None]
    for name, path in reports:
        if not format_named(name).is_report(path):
            return refuse(f"{path} is no report of results, and stays as it is")
    try:
        paths = script_paths(given.paths or [path_of(".")])
    except ProblemError as error:
        return refuse_for(error)
    if not paths:
        return refuse("there are no scripts here", "a project has glimb.toml and cases/*.sql")
    scripts = [read_script(path) for path in paths]
    try:
        lets = read_lets(given.let)
        check_lets(lets, scripts)
    except ProblemError as error:
        return refuse_for(error)
    word = given.words[-1] if given.words else ""
    if len(given.words) > 1:
        say(f"glimb: -k is given {len(given.words)} times, `{word}` counts", sys.stderr)
    started = time.perf_counter()
    results = _run_cases(scripts, word.lower(), lets)
    say(summary(results, time.perf_counter() - started))
    for name, path in reports:
        write_whole(path, format_named(name).document(results, shown_path))
    if not results:
        return refuse(f"no case has `{word}` in its title, file or tags")
    verdicts = {result.verdict for result in results}
    return COULD_NOT_RUN if "broken" in verdicts else SLIPPED if "slipped" in verdicts else MET


def _run_cases(scripts: list[Script], word: str, lets: Lets) -> list[CaseResult]:
    """Run, and print each verdict when it is there; how far it is goes to a terminal's error stream meanwhile."""
    from glimb.report.text import result_lines
    from glimb.suite.runner import Runner

    runner = Runner(lets)
    total = sum(len(s.cases) for s in scripts)
    results: list[CaseResult] = []
    told: set[tuple[str, int, str]] = set()
    progress = sys.stderr.isatty()
    for script in scripts:
        shown = shown_path(script.path)
        for warning in script.warnings:
            say(f"warning: {warning.describe()}")
        for result in runner.run_script(script, partial(is_wanted, word, script.path.name)):
            results.append(result)
            if progress:
                print("\r\x1b[K", end="", file=sys.stderr, flush=True)
            for line in result_lines(result, shown, told):
                say(line)
            if progress:
                print(f"{len(results)} of {total}", end="", file=sys.stderr, flush=True)
    if progress:
        print("\r\x1b[K", end="", file=sys.stderr, flush=True)
    return results


def is_wanted(word: str, file: str, case: Case) -> bool:
    """Whether -k means this case."""
    return word in " ".join((case.title, file, *case.tags)).lower()
