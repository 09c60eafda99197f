"""`glimb exec`: statements, and one outcome for each; at a terminal, a prompt."""

from __future__ import annotations

import argparse
import os
import sys
from functools import partial
from typing import TYPE_CHECKING

from glimb.commands.common import (
    COULD_NOT_RUN,
    MET,
    SLIPPED,
    arranging_problems,
    path_of,
    refuse,
    refuse_for,
    say,
    shown_path,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from glimb.engine.engine import Engine
    from glimb.suite.execute import Executed, Execution
    from glimb.suite.letting import Lets
    from glimb.suite.project import Project
    from glimb.suite.script import Script


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("file", nargs="?", default="-", metavar="FILE", help="a file of statements, or - for input (-)")
    add("--project", type=path_of, metavar="DIR", help="load this project (that of the file, if it is in one)")
    add("--no-project", action="store_true", help="load none, wherever the file is")
    add("--fixture", default="", metavar="NAME", help="load this fixture of the project (its default)")
    add("--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value")
    add("--lines", type=_lines, metavar="A-B", help="run only the statements on these lines")
    add("--stop", action="store_true", help="end at the first condition that leaves a statement")
    add("--strict", action="store_true", help="exit with 1 when a condition has left a statement")
    add("--check-expectations", action="store_true", help="judge what the text expects; exit with 1 when some slipped")
    add("--notes", action="store_true", help="print only what CALL note(...) said")
    add("--full", action="store_true", help="cut no cells")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")
    add("--show-code", action="store_true", help="print the Python that each statement becomes")


def _lines(text: str) -> tuple[int, int]:
    """A line, or the first and last of several."""
    first, _, last = text.partition("-")
    try:
        found = int(first), int(last or first)
    except ValueError:
        found = 0, 0
    if not 0 < found[0] <= found[1]:
        raise argparse.ArgumentTypeError(f"`{text}` are no lines, such as 12-18 or 12")
    return found


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.suite.execute import Execution, Manner
    from glimb.suite.script import read_script
    from glimb.suite.world import build

    is_prompt = given.file == "-" and sys.stdin.isatty()
    try:
        project = _project(given)
        engine = build(project, given.fixture or project.settings.default_fixture)
        script = read_script("input" if given.file == "-" else given.file, "" if is_prompt else _piped(given.file))
        lets = _lets(given, script, is_prompt) if given.let else {}
    except ProblemError as error:
        return refuse_for(error)
    if not script.source.text and script.problems:
        return refuse(script.problems[0].describe())
    wrong = arranging_problems(script)
    for problem in [*engine.problems(), *script.warnings, *wrong]:
        say(problem.describe(), sys.stderr)
    manner = Manner(given.show_code, given.check_expectations, given.stop, given.lines)
    execution = Execution(engine, script.source, manner, lets)
    show = _shower(given, engine, script)
    if is_prompt:
        from glimb.commands.prompt import prompt

        prompt(execution, project, partial(_run, execution, show=show))
    else:
        _run(execution, script, show)
    status = _status(given, execution)
    return COULD_NOT_RUN if wrong and given.check_expectations else status  # what is expected is not all judged


def _project(given: argparse.Namespace) -> Project:
    """The project that is asked for, or that of the file's folder; ProblemError for one that there is not."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.project import Project, Settings, open_project

    found = Project(None, Settings())
    if given.project is not None:
        if not given.project.is_dir():
            raise ProblemError(Problem("58030", f"there is no folder {given.project}"))
        found = open_project(given.project)
        if found.root is None:
            raise ProblemError(Problem("58030", f"{given.project} is no project: it has no glimb.toml"))
    elif not given.no_project:
        found = open_project("." if given.file == "-" else os.path.dirname(given.file) or ".")
    if given.fixture and found.root is None:
        raise ProblemError(Problem("58030", "--fixture needs a project", hint="--project DIR names one"))
    return found


def _lets(given: argparse.Namespace, script: Script, is_prompt: bool) -> Lets:
    """What host variables are given from outside; ProblemError for what no statement speaks of."""
    from glimb.suite.letting import check_lets, read_lets

    lets = read_lets(given.let)
    if not is_prompt:
        check_lets(lets, [script])
    return lets


def _run(execution: Execution, script: Script, show: Callable[[Executed], None]) -> None:
    for executed in execution.run(script):
        show(executed)
        sys.stdout.flush()
    for problem in execution.problems:
        say(problem.describe(), sys.stderr)
    execution.problems.clear()


def _shower(given: argparse.Namespace, engine: Engine, script: Script) -> Callable[[Executed], None]:
    """What prints an outcome, in the format that is wanted."""
    from glimb.lang.node import replace

    if given.format == "jsonl":
        from glimb.report.jsonl import line

        shown: Callable[[Executed], str] = partial(line, ascii=not sys.stdout.encoding.lower().startswith("utf"))
    else:
        from glimb.report.text import MAX_WIDTH, executed_text, listing_lines

        shown = partial(executed_text, width=sys.maxsize if given.full else MAX_WIDTH)

    def show(executed: Executed) -> None:
        if given.notes:
            for note in executed.outcome.notes:
                say(note)
            return
        try:
            text = shown(executed)
        except Exception as error:  # what cannot be shown does not keep the others from being run
            failed = engine.failed(engine.session(executed.outcome.session), error, script.source)
            text = shown(replace(executed, outcome=failed))
        say(text)
        if executed.code and given.format == "text":
            for told in listing_lines(executed.code, sys.stdout.isatty()):
                print(told)

    return show


def _status(given: argparse.Namespace, execution: Execution) -> int:
    """The exit status, and what slipped, where expectations are judged."""
    from glimb.report.text import plural, rung_slips, verdict_lines

    status = SLIPPED if given.strict and execution.has_failed else MET
    ladder = execution.finish()
    if ladder is None:
        return status
    shown = given.file if given.file == "-" else shown_path(path_of(given.file).absolute())
    for verdict in ladder.slips:
        for text in verdict_lines(verdict, ladder.source):
            say(f"    {text}")
    for rung in ladder.rungs:
        for text in rung_slips(rung, shown, ladder.source):
            say(text)
    say(f"{ladder.met_count} of {plural(ladder.met_count + ladder.slip_count, 'expectation')} met")
    if ladder.problems:
        return COULD_NOT_RUN
    return SLIPPED if ladder.slip_count else status


def _piped(name: str) -> str | None:
    """The text of `-` or of a pipe; None for a file."""
    from glimb.suite.project import decoded

    if name == "-":
        return decoded(sys.stdin.buffer.read(), "the input")
    path = path_of(name)
    return decoded(path.read_bytes(), name) if path.is_fifo() else None
