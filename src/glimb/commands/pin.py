"""`glimb pin`: what rungs did, written into the script as expectations."""

from __future__ import annotations

import argparse
import sys
from typing import TYPE_CHECKING

from glimb.commands.common import COULD_NOT_RUN, MET, path_of, refuse, refuse_for, say, script_at, shown_path

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.letting import Lets
    from glimb.suite.pins import Worlds
    from glimb.suite.script import Script


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("scripts", nargs="+", type=path_of, metavar="SCRIPT", help="scripts, or folders or projects with scripts")
    add("-k", dest="word", default="", metavar="CASE", help="only the cases with this in their title")
    which = command.add_mutually_exclusive_group()
    which.add_argument("--all", action="store_true", help="rungs of which nothing is expected, and what slipped")
    which.add_argument("--slips", action="store_true", help="only what slipped: what was seen takes its place")
    add("--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value")
    add("--dry-run", action="store_true", help="show what would be written, and write nothing")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.suite.letting import check_lets, read_lets
    from glimb.suite.project import script_paths
    from glimb.suite.sheets import is_sheet

    try:
        paths = [path for path in script_paths(given.scripts) if not is_sheet(path)]
        scripts = [script_at(path) for path in paths]
        lets = read_lets(given.let)
        check_lets(lets, scripts)
        if not any(given.word.lower() in case.title.lower() for script in scripts for case in script.cases):
            return refuse(f"no case has `{given.word}` in its title")
        worlds: Worlds = {}
        statuses = [_pin(path, script, given, lets, worlds) for path, script in zip(paths, scripts, strict=True)]
    except ProblemError as error:
        return refuse_for(error)
    return max(statuses, default=MET)


def _pin(path: Path, script: Script, given: argparse.Namespace, lets: Lets, worlds: Worlds) -> int:
    """Pin one script, showing the difference first."""
    from difflib import unified_diff

    from glimb.suite.pins import Wanted, pin_script
    from glimb.suite.project import open_project, read_text
    from glimb.whole import write_script

    cases = [c for c in script.cases if given.word.lower() in c.title.lower()]
    wanted = Wanted(not given.slips, given.slips or given.all)
    pinned = pin_script(open_project(path.parent), script, cases, wanted, lets, worlds)
    for problem in pinned.problems:
        say(problem.describe(), sys.stderr)
    shown = shown_path(path)
    if pinned.text == script.source.text:
        say(f"{shown}: nothing to pin")
        return COULD_NOT_RUN if pinned.problems else MET
    before, after = script.source.text.splitlines(), pinned.text.splitlines()
    for line in unified_diff(before, after, shown, shown, lineterm="", n=2):
        say(line)
    counted = f"{pinned.added} line{'s' * (pinned.added != 1)} added, {pinned.removed} removed"
    if given.dry_run:
        say(f"{shown}: {counted} (not written)")
        return MET
    if read_text(path).text != script.source.text:
        return refuse(f"{shown} has been changed meanwhile, and stays as it is")
    write_script(path, pinned.text)
    say(f"{shown}: {counted}")
    return MET
