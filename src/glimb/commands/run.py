"""`glimb run`: cases and their verdicts."""

from __future__ import annotations

import argparse
import sys
import time
from typing import TYPE_CHECKING, TextIO

from glimb.commands.common import COULD_NOT_RUN, MET, SLIPPED, path_of, refuse, refuse_for, say

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from glimb.report.reported import Reported
    from glimb.suite.choosing import Chosen

COLOURS = {"met": "32", "slipped": "31", "broken": "31;1", "skipped": "2", "warning:": "33"}
"""Select Graphic Rendition (ECMA-48) of what stands first in a line."""


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", metavar="PATH", help="projects, folders, scripts, or FILE:LINE for the case there (here)")
    choose_options(command)
    add("-x", dest="stops", action="store_true", help="stop at the first case that is not met")
    add("--last-failed", action="store_true", help="only cases that were not met when they were run last")
    add("--list", action="store_true", help="list the cases and run none")
    add("-q", dest="quiet", action="store_true", help="tell only what is not met, and how many are")
    add("-v", dest="verbose", action="store_true", help="tell each statement too")
    add("--slowest", type=int, default=0, metavar="N", help="tell which N cases took longest")
    add("--since", action="store_true", help="tell which rungs do something else than in the run that was accepted")
    add("--accept", action="store_true", help="make this run the one that --since compares with")
    add("--watch", action="store_true", help="run again whenever a file of the project is written")
    add("--github", action="store_true", help="annotate what slipped, for a workflow of GitHub")
    for name in _formats():
        add(f"--{name}", metavar="FILE", help=f"write the results as a {name} file too; - for the output alone")


def choose_options(command: argparse.ArgumentParser) -> None:
    """What says which cases are run, and with what."""
    add = command.add_argument
    add(
        "-k",
        dest="words",
        action="append",
        default=[],
        metavar="WORDS",
        help="only cases with this in title, file or tags; and, or, not join words",
    )
    add("-j", dest="jobs", type=int, default=1, metavar="N", help="how many processes (1)")
    add(
        "--let",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="give a host variable this value, in the place of what scripts set",
    )


def _formats() -> list[str]:
    """The formats of reports: their modules, by name."""
    from pkgutil import iter_modules

    return [module.name for module in iter_modules([str(path_of(__file__).parents[1] / "report" / "results")])]


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.results import format_named

    reports = [(name, path_of(path)) for name in _formats() if (path := getattr(given, name)) is not None]
    for name, path in reports:
        if str(path) != "-" and not format_named(name).is_report(path):
            return refuse(f"{path} is no report of results, and stays as it is")
    try:
        if given.watch:
            return _watch(given, reports)
        return _once(given, reports)
    except ProblemError as error:
        return refuse_for(error)


def cases_of(given: argparse.Namespace) -> list[Chosen]:
    """The cases that are meant; ProblemError where there is none, or a host variable is wrong."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.choosing import chosen, meant
    from glimb.suite.letting import check_lets, read_lets

    word = given.words[-1] if given.words else ""
    if len(given.words) > 1:
        say(f"glimb: -k is given {len(given.words)} times, `{word}` counts", sys.stderr)
    paths = given.paths or ["."]
    every = chosen(paths)
    if not every:
        raise ProblemError(
            Problem("58030", "there are no scripts here", hint="a project has glimb.toml and cases/*.sql")
        )
    check_lets(read_lets(given.let), [one.script for one in every])
    some = meant(every, word) if word else every
    if not any(one.cases or one.script.problems for one in some):
        raise ProblemError(Problem("42704", f"no case has `{word}` in its title, file or tags"))
    return some


def _once(given: argparse.Namespace, reports: list[tuple[str, Path]]) -> int:
    from glimb.report.reported import summary
    from glimb.report.results import format_named
    from glimb.suite.choosing import failed_last
    from glimb.whole import write_whole

    some = cases_of(given)
    if given.last_failed:
        some = failed_last(some)
        if not some:
            say("nothing that was not met when it was run last")
            return MET
    if given.list:
        return _list(some)
    is_alone = any(str(path) == "-" for _, path in reports)
    out = sys.stderr if is_alone else sys.stdout
    started = time.perf_counter()
    results = _told(given, some, out)
    seconds = time.perf_counter() - started
    if given.since or given.accept:
        for line in _since(given, results):
            _say(line, out)
    for line in _behind(given, results):
        _say(line, out)
    _say(summary(results, seconds), out)
    for name, path in reports:
        document = format_named(name).document(results)
        if str(path) == "-":
            sys.stdout.flush()
            sys.stdout.buffer.write(document + b"\n")
        else:
            write_whole(path, document)
    if given.github:
        for one in results:
            if one.is_bad:
                say(_annotation(one), out)
    verdicts = {result.verdict for result in results}
    return COULD_NOT_RUN if "broken" in verdicts else SLIPPED if "slipped" in verdicts else MET


def _list(some: list[Chosen]) -> int:
    from glimb.commands.common import shown_path

    for one in some:
        for number in one.cases:
            case = one.script.cases[number]
            tags = f"  [{' '.join(case.tags)}]" if case.tags else ""
            say(f"{shown_path(one.script.path)}:{one.script.source.line(case.span.start)}: {case.title}{tags}")
    return MET


def _told(given: argparse.Namespace, some: list[Chosen], out: TextIO) -> list[Reported]:
    """Run, and print each verdict when it is there; how far it is goes to a terminal's error stream meanwhile."""
    from glimb.commands.jobs import Ran, Work, run_cases
    from glimb.report.reported import told_lines
    from glimb.suite.choosing import keep_failed

    total = sum(len(one.cases) for one in some)
    results: list[Reported] = []
    told: set[tuple[str, int, str]] = set()
    ran: dict[Path, tuple[set[str], set[str]]] = {}
    progress, whole = sys.stderr.isatty(), given.since or given.accept
    for one in some:
        for warning in one.script.warnings:
            _say(f"warning: {warning.describe()}", out)
    for result in run_cases(some, Work(tuple(given.let), False, given.stops, whole), given.jobs, Ran()):
        results.append(result)
        every, failed = ran.setdefault(result.path, (set(), set()))
        every.add(result.title)
        failed |= {result.title} if result.is_bad else set()
        if progress:
            print("\r\x1b[K", end="", file=sys.stderr, flush=True)
        if not given.quiet or result.is_bad:
            for line in told_lines(result, told, given.verbose):
                _say(line, out)
        if progress:
            print(f"{len(results)} of {total}", end="", file=sys.stderr, flush=True)
    if progress:
        print("\r\x1b[K", end="", file=sys.stderr, flush=True)
    keep_failed(ran)
    return results


def _behind(given: argparse.Namespace, results: list[Reported]) -> list[str]:
    """What is told behind all cases: what took longest, and once more, in a line each, what is not met."""
    slowest = sorted(results, key=lambda one: -one.seconds)[: max(0, given.slowest)]
    lines = [f"{one.seconds * 1000:8.1f} ms  {one.shown}:{one.line}: {one.title}" for one in slowest]
    bad = [one for one in results if one.is_bad]
    if bad and len(results) > 1:
        lines += ["", *(f"{one.verdict:8} {one.shown}:{one.cause[0] or one.line}: {one.title}" for one in bad), ""]
    return lines


def _since(given: argparse.Namespace, results: list[Reported]) -> Iterator[str]:
    """The rungs that do something else than in the run that was accepted, though all expectations may hold."""
    from glimb.report.since import Base, difference_lines
    from glimb.suite.project import find_root

    bases: dict[Path | None, Base] = {}
    count = 0
    for one in results:
        base = bases.setdefault(root := find_root(one.path.parent), bases.get(root) or Base(root))
        for side, rungs in enumerate(one.sides):
            differences = list(base.differences(base.key(one.path, one.title, side), rungs) or ())
            if differences and given.since:
                count += len(differences)
                yield f"differs  {one.shown}:{one.line}: {one.title}"
                for difference in differences:
                    yield from difference_lines(difference)
    if given.since:
        fresh = [root for root, base in bases.items() if not base.is_there]
        if fresh:
            yield "there is nothing to compare with yet: --accept makes a run what is compared with"
        else:
            yield f"{count} rung{'s do' if count != 1 else ' does'} something else than in the run that was accepted"
    if given.accept:
        for root, base in bases.items():
            mine = [one for one in results if find_root(one.path.parent) == root]
            base.accept({base.key(o.path, o.title, n): r for o in mine for n, r in enumerate(o.sides)})
        yield "this run is what --since compares with"


def _annotation(one: Reported) -> str:
    from glimb.report.checked import annotation

    line, cause = one.cause
    return annotation("error", one.shown, line or one.line, 1, one.title, cause)


def _say(line: str, out: TextIO) -> None:
    """Print a line; on a terminal its first word in colour."""
    word = line.split(" ", 1)[0]
    if word in COLOURS and _has_colours(out):
        from glimb.lang.visible import visible

        print(f"\x1b[{COLOURS[word]}m{word}\x1b[0m{visible(line[len(word) :])}", file=out)
    else:
        say(line, out)


def _has_colours(out: TextIO) -> bool:
    import os

    return out.isatty() and not os.environ.get("NO_COLOR") and os.environ.get("TERM") != "dumb"


def _watch(given: argparse.Namespace, reports: list[tuple[str, Path]]) -> int:
    """Run, and again whenever a file below the paths is written, until the keyboard interrupts it."""
    from watchfiles import watch

    from glimb.suite.project import project_roots

    paths = [
        path_of(text.rpartition(":")[0] or text) if not path_of(text).exists() else path_of(text)
        for text in given.paths or ["."]
    ]
    folders = project_roots(paths) or [p if p.is_dir() else p.parent for p in paths]
    status = _watched(given, reports)
    try:
        for changes in watch(*folders, raise_interrupt=True):
            if any(path_of(name).suffix in (".sql", ".csv", ".toml") and ".glimb" not in name for _, name in changes):
                say("")
                status = _watched(given, reports)
    except KeyboardInterrupt:
        say("")
    return status


def _watched(given: argparse.Namespace, reports: list[tuple[str, Path]]) -> int:
    """Run once; what is wrong with files ends nothing, since they are being worked on."""
    from glimb.lang.problem import ProblemError

    try:
        return _once(given, reports)
    except ProblemError as error:
        return refuse_for(error)
    finally:
        sys.stdout.flush()
