"""What all commands share: exit statuses, how something is said, how something is refused."""

from __future__ import annotations

import argparse
import sys

from glimb.lang.visible import visible

TYPE_CHECKING = False  # as in `typing`, which takes longer to import than all of this
if TYPE_CHECKING:
    from pathlib import Path
    from typing import TextIO

    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.replay import Replay
    from glimb.suite.script import Script

MET, SLIPPED, COULD_NOT_RUN, STOPPED = 0, 1, 2, 130


def path_of(text: str) -> Path:
    from pathlib import Path  # slow to import, and not needed by every command

    return Path(text)


def shown_path(path: Path) -> str:
    """A path from the current folder, where it lies below it."""
    here = path_of(".").absolute()
    return str(path.relative_to(here)) if path.is_relative_to(here) else str(path)


def refuse(message: str, hint: str = "") -> int:
    """Say on the error stream why nothing was done."""
    say(f"glimb: {message}" + (f" ({hint})" if hint else ""), sys.stderr)
    return COULD_NOT_RUN


def refuse_for(error: ProblemError) -> int:
    """Say on the error stream all that is wrong."""
    return refuse("\n".join(p.describe() for p in error.problems))


def say(text: str, stream: TextIO | None = None) -> None:
    """Print, with signs in the place of what would steer the terminal."""
    print(visible(text), file=stream or sys.stdout)


def script_at(path: Path) -> Script:
    """The script of a file; ProblemError when it is not there, or wrong as a whole."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.script import read_script

    if not path.is_file():
        raise ProblemError(Problem("58030", f"there is no file {path}"))
    script = read_script(path)
    if script.problems:
        raise ProblemError(*script.problems)
    return script


def case_options(command: argparse.ArgumentParser) -> None:
    """The arguments that choose one case of one script, and what it is run with."""
    add = command.add_argument
    add("script", type=path_of, metavar="SCRIPT", help="the script with the case")
    add("-k", dest="word", default="", metavar="CASE", help="the case with this in its title")
    add("--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value")
    add("--under", default="", metavar="VALUE", help="of a case that runs twice: under which setting (the first)")


def opened(given: argparse.Namespace) -> Replay:
    """A replay of the case that is chosen by `case_options`; ProblemError when that cannot be had."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.letting import check_lets, read_lets
    from glimb.suite.project import open_project
    from glimb.suite.replay import chosen_case, replay

    script = script_at(given.script)
    case = chosen_case(script, given.word)
    lets = read_lets(given.let)
    check_lets(lets, [script])
    side = given.under.lower()
    if side and (case.twin is None or side not in case.twin.values):
        raise ProblemError(Problem("42704", f"the case does not run under {given.under}"))
    if not side and case.twin is not None:
        side = case.twin.values[0]
    return replay(open_project(given.script.parent), script, case, side, lets)


def arranging_problems(script: Script) -> list[Problem]:
    """What is wrong with the arranging lines of a text; its statements say themselves what is wrong with them."""
    from glimb.suite.script import BrokenStep

    told = {id(p) for s in script.flow if isinstance(s, BrokenStep) for p in s.problems}
    every = [*script.problems, *(p for c in script.cases for p in c.problems)]
    return [p for p in every if id(p) not in told]
