"""`glimb weave`: all orders of a case's sessions."""

from __future__ import annotations

import argparse
import sys
from contextlib import AbstractContextManager, nullcontext
from typing import TYPE_CHECKING

from glimb.commands.common import MET, SLIPPED, STOPPED, path_of, refuse, refuse_for, say, script_at

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from pathlib import Path

    from glimb.suite.weave import Expander, Loom, Weave
    from glimb.suite.weave_web import Web


def choose_options(command: argparse.ArgumentParser) -> None:
    """What says which case is woven, and in how many processes."""
    add = command.add_argument
    add("script", type=path_of, metavar="SCRIPT", help="the script with the case")
    add("-k", dest="word", default="", metavar="CASE", help="the case with this in its title")
    add("-j", dest="jobs", type=int, default=1, metavar="N", help="how many processes (1)")


def options(command: argparse.ArgumentParser) -> None:
    choose_options(command)
    add = command.add_argument
    add("--at-most", type=int, metavar="N", help="try N orders chosen at random instead of all")
    add("--seed", type=int, default=1, metavar="S", help="what the choice starts from (1)")
    add("--keep", nargs=2, metavar=("GROUP", "FILE"), help="write a group's order as a script")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.woven import is_kept_order, kept_script, weave_lines
    from glimb.suite.weave import weave_some
    from glimb.whole import write_whole

    try:
        loom = loom_of(given)
    except ProblemError as error:
        return refuse_for(error)
    rounds = None if given.at_most is None else lambda: weave_some(loom, given.at_most, given.seed)
    woven = woven_of(given, loom, rounds)
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


def loom_of(given: argparse.Namespace) -> Loom:
    """The loom of the case that is chosen; ProblemError when it cannot be woven."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.replay import chosen_case
    from glimb.suite.weave import make_loom

    loom = make_loom(given.script, chosen_case(script_at(given.script), given.word).title)
    if len(loom.threads) < 2:
        raise ProblemError(Problem("0A000", "weaving needs a case of two sessions or more"))
    return loom


def woven_of(
    given: argparse.Namespace,
    loom: Loom,
    rounds: Callable[[], Iterator[Weave]] | None = None,
    web: Web | None = None,
) -> Weave:
    """Weave, telling how far it is on a terminal; a keyboard interrupt ends it with what there is."""
    from glimb.suite.weave import Weave, weave

    woven = Weave(loom, web)
    with _expanding(given.script, loom.case.title, given.jobs) as expander:
        try:
            for woven in rounds() if rounds is not None else weave(loom, expander, web):
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
