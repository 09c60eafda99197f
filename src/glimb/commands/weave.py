"""`glimb weave`: all orders of a case's sessions."""

from __future__ import annotations

import argparse
import sys
from contextlib import AbstractContextManager, nullcontext
from typing import TYPE_CHECKING

from glimb.commands.common import MET, SLIPPED, STOPPED, path_of, refuse, say

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.weave import Expander, Loom, Weave


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("script", type=path_of, metavar="SCRIPT", help="the script with the case")
    add("-k", dest="word", default="", metavar="CASE", help="the case with this in its title")
    add("--at-most", type=int, metavar="N", help="try N orders chosen at random instead of all")
    add("--seed", type=int, default=1, metavar="S", help="what the choice starts from (1)")
    add("-j", dest="jobs", type=int, default=1, metavar="N", help="how many processes (1)")
    add("--keep", nargs=2, metavar=("GROUP", "FILE"), help="write a group's order as a script")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.woven import is_kept_order, kept_script, weave_lines
    from glimb.suite.script import read_script
    from glimb.suite.weave import make_loom
    from glimb.whole import write_whole

    if not given.script.is_file():
        return refuse(f"there is no file {given.script}")
    script = read_script(given.script)
    if script.problems:
        return refuse(script.problems[0].describe())
    cases = [c for c in script.cases if given.word.lower() in c.title.lower()]
    if len(cases) != 1:
        known = "; ".join(c.title for c in cases or script.cases)
        return refuse(f"{len(cases)} cases have `{given.word}` in their titles: one is wanted", known)
    try:
        loom = make_loom(given.script, cases[0].title)
    except ProblemError as error:
        return refuse(error.problems[0].describe())
    if len(loom.threads) < 2:
        return refuse("weaving needs a case of two sessions or more")
    woven = _woven(given, loom)
    for line in weave_lines(woven):
        say(line)
    if given.keep is not None:
        number = int(given.keep[0]) if given.keep[0].isdecimal() else 0
        if not 1 <= number <= len(woven.groups):
            return refuse(f"there is no group {given.keep[0]}", f"there are groups 1 to {len(woven.groups)}")
        path = path_of(given.keep[1])
        if not is_kept_order(path, woven):
            return refuse(f"{path} is no order kept of this case, and stays as it is")
        write_whole(path, kept_script(woven, number).encode())
    if woven.stopped:
        return STOPPED
    return SLIPPED if any(g.broken for g in woven.groups.values()) else MET


def _woven(given: argparse.Namespace, loom: Loom) -> Weave:
    """Weave, telling how far it is on a terminal; a keyboard interrupt ends it with what there is."""
    from glimb.suite.weave import Weave, weave, weave_some

    woven = Weave(loom)
    with _expanding(given.script, loom.case.title, given.jobs) as expander:
        rounds = weave(loom, expander) if given.at_most is None else weave_some(loom, given.at_most, given.seed)
        try:
            for woven in rounds:
                if sys.stderr.isatty():
                    text = f"\r{woven.runs:,} runs, {woven.covered:,} of {loom.orders:,} orders"
                    print(text, end="", file=sys.stderr, flush=True)
        except KeyboardInterrupt:
            woven.stopped = True
            say("stopped", sys.stderr)
    if sys.stderr.isatty():
        print("\r\x1b[K", end="", file=sys.stderr)
    return woven


def _expanding(path: Path, title: str, jobs: int) -> AbstractContextManager[Expander | None]:
    """What expands the nodes of a weave in several processes; nothing for one, which needs no pool."""
    if jobs < 2:
        return nullcontext()
    from glimb.suite.weave_pool import pool

    return pool(path, title, jobs)
