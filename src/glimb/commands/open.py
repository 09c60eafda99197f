"""`glimb open`: a project or script on the screen."""

from __future__ import annotations

import argparse
import sys

from glimb.commands.common import MET, path_of, refuse


def options(command: argparse.ArgumentParser) -> None:
    command.add_argument("path", nargs="?", type=path_of, default=".", help="a project folder or a script (here)")


def run(given: argparse.Namespace) -> int:
    if not given.path.exists():
        return refuse(f"there is no file or folder {given.path}")
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        return refuse("the screen needs a terminal; `glimb run` prints verdicts without one")
    from glimb.tui.app import GlimbApp

    app = GlimbApp(given.path)
    app.run()
    return app.return_code or MET
