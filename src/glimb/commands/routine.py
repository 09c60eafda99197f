"""`glimb routine`: a routine from all sides: what it promises and touches, who calls it, how often it was run."""

from __future__ import annotations

import argparse

from glimb.commands.common import MET, path_of, refuse, refuse_for, say, shown_path


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("name", metavar="ROUTINE", help="the name of the routine; all that have it are told")
    add("path", nargs="?", default=".", metavar="PATH", help="a project (here)")
    add("--format", choices=("text", "jsonl"), default="text", help="how it is told (text)")


def run(given: argparse.Namespace) -> int:
    """The cases are run and counted for it."""
    from glimb.lang.problem import ProblemError
    from glimb.report.about import about_json, about_lines
    from glimb.suite.about import about
    from glimb.suite.choosing import read_any
    from glimb.suite.project import open_project, script_paths
    from glimb.suite.runner import Runner

    try:
        scripts = [read_any(path) for path in script_paths([path_of(given.path)])]
        project = open_project(path_of(given.path))
        runner = Runner(covering=True)
        engine = runner.world(project, "")
        wanted = [r for r in engine.catalog.written_routines() if r.name == given.name.lower()]
        for script in scripts if wanted else ():
            for _ in runner.run_script(script):
                pass
        for routine in wanted:
            told = about(engine, routine, scripts, runner.counts.values())
            for line in about_lines(told, _shown) if given.format == "text" else [about_json(told, _shown)]:
                say(line)
    except ProblemError as error:
        return refuse_for(error)
    return MET if wanted else refuse(f"there is no routine {given.name}")


def _shown(file: str) -> str:
    return shown_path(path_of(file).absolute())
