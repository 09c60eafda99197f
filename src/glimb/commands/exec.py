"""`glimb exec`: statements, and one outcome for each."""

from __future__ import annotations

import argparse
import sys
from functools import partial
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse, say

if TYPE_CHECKING:
    from collections.abc import Callable

    from glimb.lang.problem import Problem
    from glimb.suite.execute import Executed
    from glimb.suite.script import Script


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("file", nargs="?", default="-", metavar="FILE", help="a file of statements, or - for input (-)")
    add("--project", type=path_of, metavar="DIR", help="load the schema and routines of this project")
    add("--fixture", default="", metavar="NAME", help="load this fixture of the project")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")
    add("--show-code", action="store_true", help="print the Python that each statement becomes")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.node import replace
    from glimb.lang.problem import ProblemError
    from glimb.suite.execute import Execution
    from glimb.suite.project import Project, Settings, open_project
    from glimb.suite.script import read_script
    from glimb.suite.world import build

    project = Project(None, Settings())
    try:
        if given.project is not None:
            if not given.project.is_dir():
                return refuse(f"there is no folder {given.project}")
            project = open_project(given.project)
            if project.root is None:
                return refuse(f"{given.project} is no project: it has no glimb.toml")
        elif given.fixture:
            return refuse("--fixture needs --project")
        engine = build(project, given.fixture or project.settings.default_fixture)
        script = read_script("input" if given.file == "-" else given.file, _piped(given.file))
    except ProblemError as error:
        return refuse("\n".join(p.describe() for p in error.problems))
    if not script.source.text and script.problems:
        return refuse(script.problems[0].describe())
    for problem in [*engine.problems, *script.warnings, *_arranging_problems(script)]:
        say(problem.describe(), sys.stderr)
    if given.format == "jsonl":
        from glimb.report.jsonl import line

        shown: Callable[[Executed], str] = partial(line, ascii=not sys.stdout.encoding.lower().startswith("utf"))
    else:
        from glimb.report.text import executed_text as shown
        from glimb.report.text import listing_lines
    for executed in Execution(engine, script, given.show_code).run():
        try:
            text = shown(executed)
        except Exception as error:  # what cannot be shown does not keep the others from being run
            failed = engine.failed(engine.session(executed.outcome.session), error, script.source)
            text = shown(replace(executed, outcome=failed))
        say(text)
        if executed.code and given.format == "text":
            for told in listing_lines(executed.code, sys.stdout.isatty()):
                print(told)
        sys.stdout.flush()
    return MET


def _piped(name: str) -> str | None:
    """The text of `-` or of a pipe; None for a file."""
    from glimb.suite.project import decoded

    if name == "-":
        return decoded(sys.stdin.buffer.read(), "the input")
    path = path_of(name)
    return decoded(path.read_bytes(), name) if path.is_fifo() else None


def _arranging_problems(script: Script) -> list[Problem]:
    """What is wrong with the arranging lines of a text; its statements say themselves what is wrong with them."""
    from glimb.suite.script import BrokenStep

    told = {id(p) for s in script.flow if isinstance(s, BrokenStep) for p in s.problems}
    every = [*script.problems, *(p for c in script.cases for p in c.problems)]
    return [p for p in every if id(p) not in told]
