"""`glimb check`: what is wrong or dubious in projects, without running their cases."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import COULD_NOT_RUN, MET, SLIPPED, path_of, refuse, refuse_for, say, shown_path

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.checking import Told


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", type=path_of, metavar="PATH", help="projects, folders or scripts (here)")
    formats = ("text", "jsonl", "sarif", "github")
    add("--format", choices=formats, default="text", help="how it is told (text)")
    add("--allow", metavar="FILE:LINE:CODE", help="switch a finding off there, by a comment with the reason")
    add("--because", default="", metavar="REASON", help="the reason for that")


def run(given: argparse.Namespace) -> int:
    """0 for nothing to tell, 1 for findings, 2 for errors."""
    from glimb.lang.problem import ProblemError
    from glimb.report.checked import FORMATS
    from glimb.suite.checking import ERROR, told_of

    if given.allow is not None:
        return _allow(given.allow, given.because)
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


def _allow(place: str, reason: str) -> int:
    """Write the comment that switches a finding off."""
    from glimb.lang.problem import ProblemError
    from glimb.suite.project import read_text
    from glimb.suite.switching import switched_off
    from glimb.whole import write_script

    name, _, rest = place.rpartition(":")
    file, _, line = name.rpartition(":")
    if not file or not line.isdigit():
        return refuse(f"{place} is no place of a finding", "FILE:LINE:CODE")
    path = path_of(file)
    if path.suffix != ".sql":
        return refuse(f"no comment can stand in {file}", "[allow] in glimb.toml switches a finding off everywhere")
    try:
        write_script(path, switched_off(read_text(path).text, int(line), rest, reason))
    except ProblemError as error:
        return refuse_for(error)
    say(f"{shown_path(path.absolute())}: {rest} is allowed at line {line}")
    return MET


def _checked(paths: list[Path]) -> list[Told]:
    """Each project that the paths lie in or hold, with the scripts that are meant of it."""
    from glimb.suite.checking import check
    from glimb.suite.project import open_project, project_roots, script_paths

    scripts = script_paths(paths)
    told: list[Told] = []
    roots = project_roots(paths)
    for root in roots:
        mine = [path for path in scripts if path.is_relative_to(root)]
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
