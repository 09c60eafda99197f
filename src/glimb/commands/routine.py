"""`glimb routine`: a routine from all sides: what it promises and touches, who calls it, how often it was run."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse, refuse_for, say, shown_path

if TYPE_CHECKING:
    from glimb.suite.about import About
    from glimb.suite.project import Project


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("name", metavar="ROUTINE", help="the name of the routine; all that have it are told")
    add("path", nargs="?", default=".", metavar="PATH", help="a project (here)")
    add("--format", choices=("text", "jsonl"), default="text", help="how it is told (text)")


def run(given: argparse.Namespace) -> int:
    """The cases are run and counted for it."""
    from glimb.lang.problem import ProblemError
    from glimb.report.about import about_json, about_lines

    try:
        _, found = told_of(given.name, given.path)
    except ProblemError as error:
        return refuse_for(error)
    for told in found:
        for line in about_lines(told, _shown) if given.format == "text" else [about_json(told, _shown)]:
            say(line)
    return MET if found else refuse(f"there is no routine {given.name}")


def told_of(name: str, path: str) -> tuple[Project, list[About]]:
    """A project, and all routines of a name (with its types: of that signature) from all sides, its cases counted;
    ProblemError when the project cannot be loaded."""
    from glimb.suite.about import about
    from glimb.suite.choosing import read_any
    from glimb.suite.project import open_project, script_paths
    from glimb.suite.runner import Runner

    scripts = [read_any(one) for one in script_paths([path_of(path)])]
    project = open_project(path_of(path))
    runner = Runner(covering=True)
    engine = runner.world(project, "")
    wanted = engine.catalog.meant(name)
    for script in scripts if wanted else ():
        for _ in runner.run_script(script):
            pass
    return project, [about(engine, routine, scripts, runner.counts.values()) for routine in wanted]


def _shown(file: str) -> str:
    return shown_path(path_of(file).absolute())
