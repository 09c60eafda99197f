"""`glimb open`: a project or script on the screen."""

from __future__ import annotations

import argparse
import os
import sys
from typing import NoReturn

from glimb.commands.common import MET, path_of, refuse, refuse_for

MOST_SECONDS_TO_WRITE = 2.0


def options(command: argparse.ArgumentParser) -> None:
    command.add_argument("path", nargs="?", type=path_of, default=".", help="a project folder or a script (here)")
    command.add_argument(
        "-k", "--case", default="", metavar="CASE", help="go to the ladder of the case with this title"
    )
    command.add_argument(
        "--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value"
    )


def run(given: argparse.Namespace) -> int:
    if not given.path.exists():
        return refuse(f"there is no file or folder {given.path}")
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        return refuse("the screen needs a terminal; `glimb run` prints verdicts without one")
    from glimb.lang.problem import ProblemError
    from glimb.store import save
    from glimb.suite.letting import read_lets
    from glimb.tui.app import GlimbApp

    try:
        lets = read_lets(given.let)
    except ProblemError as error:
        return refuse_for(error)
    app = GlimbApp(given.path, lets, given.case)
    app.run()
    app.worker.join(MOST_SECONDS_TO_WRITE)
    save()
    _leave(app.return_code or MET)


def _leave(status: int) -> NoReturn:
    """End at once: sessions are greenlets of the worker's thread, and an interpreter that takes itself apart while some
    of them stand in the middle of a statement may end in a segmentation fault."""
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(status)
