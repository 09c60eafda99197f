"""`glimb check`: what is wrong or dubious in projects, without running their cases."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import COULD_NOT_RUN, MET, SLIPPED, path_of, refuse_for, say, shown_path

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.checking import Told


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", type=path_of, metavar="PATH", help="projects, folders or scripts (here)")
    formats = ("text", "jsonl", "sarif", "github")
    add("--format", choices=formats, default="text", help="how it is told (text)")


def run(given: argparse.Namespace) -> int:
    """0 for nothing to tell, 1 for findings, 2 for errors."""
    from glimb.lang.problem import ProblemError
    from glimb.report.checked import FORMATS
    from glimb.suite.checking import ERROR, told_of

    try:
        told = _checked(given.paths or [path_of(".")])
    except ProblemError as error:
        if any(problem.source is None for problem in error.problems):
            return refuse_for(error)
        told = told_of(error)
    for line in FORMATS[given.format](told, lambda file: shown_path(path_of(file).absolute())):
        say(line)
    if any(one.severity == ERROR for one in told):
        return COULD_NOT_RUN
    return SLIPPED if told else MET


def _checked(paths: list[Path]) -> list[Told]:
    """Each project that the paths lie in or hold, with the scripts that are meant of it."""
    from glimb.suite.checking import check
    from glimb.suite.project import open_project, project_roots, script_paths

    scripts = script_paths(paths)
    told: list[Told] = []
    roots = project_roots(paths)
    for root in roots:
        mine = [path for path in scripts if root is not None and path.is_relative_to(root)]
        mine = [
            path
            for path in mine
            if not any(r != root and r.is_relative_to(root) and path.is_relative_to(r) for r in roots)
        ]
        told += check(open_project(root), mine)
        scripts = [path for path in scripts if path not in mine]
    if scripts:
        told += check(open_project(scripts[0].parent), scripts)
    return told
