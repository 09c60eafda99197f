"""The command line. Every command imports what it needs itself, so that the others start at once."""

from __future__ import annotations

import argparse
import gc
import os
import signal
import sys
import time
from contextlib import AbstractContextManager, nullcontext
from functools import partial
from typing import TYPE_CHECKING, Any, TextIO

from glimb import __version__
from glimb.lang.visible import visible

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from glimb.lang.problem import Problem
    from glimb.suite.execute import Executed
    from glimb.suite.results import CaseResult
    from glimb.suite.script import Case, Script
    from glimb.suite.weave import Expander, Loom, Weave

MET, SLIPPED, COULD_NOT_RUN, STOPPED = 0, 1, 2, 130
EXAMPLES = """examples:
  glimb demo huts             write the demo project into the folder huts
  glimb open huts             open it: all cases, and the ladder of each
  glimb run huts              run its cases and print the verdicts
  glimb run huts -k bunk --junit verdicts.xml
  glimb weave huts/cases/two-clerks.sql -k 'last bunk'
  echo 'SELECT 7 / 2;' | glimb exec -
  glimb exec try.sql --project huts --fixture valley --format jsonl
"""


def main(arguments: list[str] | None = None) -> int:
    """Run the command that the arguments name; gives the exit status."""
    # Most of what is made lives on: looking through it again and again costs start-up.
    gc.set_threshold(100_000, 20, 20)
    given = sys.argv[1:] if arguments is None else arguments
    options = _parser(given[0] if given else "").parse_args(given)
    if options.command is None:
        options.path = _path(".")
        options.run = _open
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")  # what the encoding lacks must not end the program
    for name in ("SIGTERM", "SIGHUP"):
        if hasattr(signal, name):
            signal.signal(getattr(signal, name), _end)
    try:
        status: int = options.run(options)
        sys.stdout.flush()
    except KeyboardInterrupt:
        _say("stopped", sys.stderr)
        return STOPPED
    except BrokenPipeError:
        _abandon_output()
        return MET
    except OSError as error:
        if error.filename is None:
            _abandon_output()
        return _refuse(f"{error.filename or 'output'}: {error.strerror}")
    except Exception as error:  # whatever it is, the user gets a sentence and not a traceback
        from glimb.engine.values.conditions import condition_of

        return _refuse(condition_of(error).message)
    return status


def _abandon_output() -> None:
    """What is left in the buffer has nowhere to go: the interpreter must not try again when it ends."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def _end(number: int, frame: object) -> None:
    """A signal that ends the program: whoever has something to put right (a terminal, a file, a pool) does so."""
    signal.signal(number, signal.SIG_IGN)
    raise SystemExit(128 + number)


def _formatter(prog: str) -> argparse.HelpFormatter:
    """Help as wide as the terminal, up to 100 columns. (Left to itself, argparse imports five modules to find out.)"""
    try:
        width = os.get_terminal_size().columns
    except OSError:
        width = 100
    return argparse.RawDescriptionHelpFormatter(prog, width=max(40, min(100, width)) - 2)


def _path(text: str) -> Path:
    from pathlib import Path  # slow to import, and not needed by every command

    return Path(text)


class _Parser(argparse.ArgumentParser):
    """Says what is wrong with arguments as everything else is said."""

    def _print_message(self, message: str, file: Any = None) -> None:
        (file or sys.stderr).write(visible(message))


def _parser(chosen: str) -> argparse.ArgumentParser:
    """Knows all commands by name, and the options of the chosen one."""
    parser = _Parser(
        prog="glimb",
        description="Run SQL functions, procedures and blocks in an embedded interpreter, and judge every statement.",
        epilog=EXAMPLES,
        formatter_class=_formatter,
    )
    parser.add_argument("--version", action="version", version=f"glimb {__version__}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    for name, (summary, example, options) in COMMANDS.items():
        if name != chosen:
            commands.add_parser(name, help=summary, add_help=False)
            continue
        epilog = f"example:\n  {example}"
        command = commands.add_parser(
            name, help=summary, description=summary, epilog=epilog, formatter_class=_formatter
        )
        options(command)
    return parser


def _open_options(command: argparse.ArgumentParser) -> None:
    command.add_argument("path", nargs="?", type=_path, default=".", help="a project folder or a script (here)")
    command.set_defaults(run=_open)


def _run_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("paths", nargs="*", type=_path, metavar="PATH", help="projects, folders or scripts (here)")
    add(
        "-k",
        dest="words",
        action="append",
        default=[],
        metavar="WORD",
        help="only cases with this in title, file or tags",
    )
    for name in _formats():
        add(f"--{name}", type=_path, metavar="FILE", help=f"write the results as a {name} file too")
    command.set_defaults(run=_run)


def _weave_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("script", type=_path, metavar="SCRIPT", help="the script with the case")
    add("-k", dest="word", default="", metavar="CASE", help="the case with this in its title")
    add("--at-most", type=int, metavar="N", help="try N orders chosen at random instead of all")
    add("--seed", type=int, default=1, metavar="S", help="what the choice starts from (1)")
    add("-j", dest="jobs", type=int, default=1, metavar="N", help="how many processes (1)")
    add("--keep", nargs=2, metavar=("GROUP", "FILE"), help="write a group's order as a script")
    command.set_defaults(run=_weave)


def _exec_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("file", nargs="?", default="-", metavar="FILE", help="a file of statements, or - for input (-)")
    add("--project", type=_path, metavar="DIR", help="load the schema and routines of this project")
    add("--fixture", default="", metavar="NAME", help="load this fixture of the project")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")
    add("--show-code", action="store_true", help="print the Python that each statement becomes")
    command.set_defaults(run=_exec)


def _demo_options(command: argparse.ArgumentParser) -> None:
    command.add_argument("folder", type=_path, metavar="DIR", help="the folder to make")
    command.set_defaults(run=_demo)


COMMANDS: dict[str, tuple[str, str, Callable[[argparse.ArgumentParser], None]]] = {
    "open": ("open a project or script on the screen (the default)", "glimb open huts", _open_options),
    "run": (
        "run cases and print their verdicts",
        "glimb run huts -k 'last bunk' --junit verdicts.xml",
        _run_options,
    ),
    "weave": (
        "try all orders of a case's sessions",
        "glimb weave huts/cases/bunks.sql -k 'last bunk'",
        _weave_options,
    ),
    "exec": ("run statements and print one outcome for each", "glimb exec try.sql --format jsonl", _exec_options),
    "demo": ("write the demo project to a folder", "glimb demo huts && glimb open huts", _demo_options),
}
"""What a command does in a few words, an example, and what gives it its options."""


# ---- commands -------------------------------------------------------------------------------------------------------


def _open(options: argparse.Namespace) -> int:
    if not options.path.exists():
        return _refuse(f"there is no file or folder {options.path}")
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        return _refuse("the screen needs a terminal; `glimb run` prints verdicts without one")
    from glimb.tui.app import GlimbApp

    app = GlimbApp(options.path)
    app.run()
    return app.return_code or MET


def _formats() -> list[str]:
    """The formats of reports: their modules, by name."""
    from pkgutil import iter_modules

    return [module.name for module in iter_modules([str(_path(__file__).parent / "report" / "results")])]


def _run(options: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.results import format_named
    from glimb.report.text import summary
    from glimb.report.whole import write_whole
    from glimb.suite.project import script_paths

    reports = [(name, path) for name in _formats() if (path := getattr(options, name)) is not None]
    for name, path in reports:
        if not format_named(name).is_report(path):
            return _refuse(f"{path} is no report of results, and stays as it is")
    try:
        paths = script_paths(options.paths or [_path(".")])
    except ProblemError as error:
        return _refuse(error.problems[0].describe())
    if not paths:
        return _refuse("there are no scripts here", "a project has glimb.toml and cases/*.sql")
    word = options.words[-1] if options.words else ""
    if len(options.words) > 1:
        _say(f"glimb: -k is given {len(options.words)} times, `{word}` counts", sys.stderr)
    started = time.perf_counter()
    results = _run_cases(paths, word.lower())
    _say(summary(results, time.perf_counter() - started))
    for name, path in reports:
        write_whole(path, format_named(name).document(results, _shown))
    if not results:
        return _refuse(f"no case has `{word}` in its title, file or tags")
    verdicts = {result.verdict for result in results}
    return COULD_NOT_RUN if "broken" in verdicts else SLIPPED if "slipped" in verdicts else MET


def _run_cases(paths: list[Path], word: str) -> list[CaseResult]:
    """Run, and print each verdict when it is there; how far it is goes to a terminal's error stream meanwhile."""
    from glimb.report.text import result_lines
    from glimb.suite.runner import Runner
    from glimb.suite.script import read_script

    runner = Runner()
    scripts = [read_script(path) for path in paths]
    total = sum(len(s.cases) for s in scripts)
    results: list[CaseResult] = []
    told: set[tuple[str, int, str]] = set()
    progress = sys.stderr.isatty()
    for script in scripts:
        shown = _shown(script.path)
        for warning in script.warnings:
            _say(f"warning: {warning.describe()}")
        for result in runner.run_script(script, partial(_is_wanted, word, script.path.name)):
            results.append(result)
            if progress:
                print("\r\x1b[K", end="", file=sys.stderr, flush=True)
            for line in result_lines(result, shown, told):
                _say(line)
            if progress:
                print(f"{len(results)} of {total}", end="", file=sys.stderr, flush=True)
    if progress:
        print("\r\x1b[K", end="", file=sys.stderr, flush=True)
    return results


def _is_wanted(word: str, file: str, case: Case) -> bool:
    """Whether -k means this case."""
    return word in " ".join((case.title, file, *case.tags)).lower()


def _shown(path: Path) -> str:
    """A path from the current folder, where it lies below it."""
    here = _path(".").absolute()
    return str(path.relative_to(here)) if path.is_relative_to(here) else str(path)


def _weave(options: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.whole import write_whole
    from glimb.report.woven import is_kept_order, kept_script, weave_lines
    from glimb.suite.script import read_script
    from glimb.suite.weave import make_loom

    if not options.script.is_file():
        return _refuse(f"there is no file {options.script}")
    script = read_script(options.script)
    if script.problems:
        return _refuse(script.problems[0].describe())
    cases = [c for c in script.cases if options.word.lower() in c.title.lower()]
    if len(cases) != 1:
        known = "; ".join(c.title for c in cases or script.cases)
        return _refuse(f"{len(cases)} cases have `{options.word}` in their titles: one is wanted", known)
    try:
        loom = make_loom(options.script, cases[0].title)
    except ProblemError as error:
        return _refuse(error.problems[0].describe())
    if len(loom.threads) < 2:
        return _refuse("weaving needs a case of two sessions or more")
    woven = _woven(options, loom)
    for line in weave_lines(woven):
        _say(line)
    if options.keep is not None:
        number = int(options.keep[0]) if options.keep[0].isdecimal() else 0
        if not 1 <= number <= len(woven.groups):
            return _refuse(f"there is no group {options.keep[0]}", f"there are groups 1 to {len(woven.groups)}")
        path = _path(options.keep[1])
        if not is_kept_order(path, woven):
            return _refuse(f"{path} is no order kept of this case, and stays as it is")
        write_whole(path, kept_script(woven, number).encode())
    if woven.stopped:
        return STOPPED
    return SLIPPED if any(g.broken for g in woven.groups.values()) else MET


def _woven(options: argparse.Namespace, loom: Loom) -> Weave:
    """Weave, telling how far it is on a terminal; a keyboard interrupt ends it with what there is."""
    from glimb.suite.weave import Weave, weave, weave_some

    woven = Weave(loom)
    with _expanding(options.script, loom.case.title, options.jobs) as expander:
        rounds = weave(loom, expander) if options.at_most is None else weave_some(loom, options.at_most, options.seed)
        try:
            for woven in rounds:
                if sys.stderr.isatty():
                    text = f"\r{woven.runs:,} runs, {woven.covered:,} of {loom.orders:,} orders"
                    print(text, end="", file=sys.stderr, flush=True)
        except KeyboardInterrupt:
            woven.stopped = True
            _say("stopped", sys.stderr)
    if sys.stderr.isatty():
        print("\r\x1b[K", end="", file=sys.stderr)
    return woven


def _expanding(path: Path, title: str, jobs: int) -> AbstractContextManager[Expander | None]:
    """What expands the nodes of a weave in several processes; nothing for one, which needs no pool."""
    if jobs < 2:
        return nullcontext()
    from glimb.suite.weave_pool import pool

    return pool(path, title, jobs)


def _exec(options: argparse.Namespace) -> int:
    from glimb.lang.node import replace
    from glimb.lang.problem import ProblemError
    from glimb.suite.execute import Execution
    from glimb.suite.project import Project, Settings, open_project
    from glimb.suite.script import read_script
    from glimb.suite.world import build

    project = Project(None, Settings())
    try:
        if options.project is not None:
            if not options.project.is_dir():
                return _refuse(f"there is no folder {options.project}")
            project = open_project(options.project)
            if project.root is None:
                return _refuse(f"{options.project} is no project: it has no glimb.toml")
        elif options.fixture:
            return _refuse("--fixture needs --project")
        engine = build(project, options.fixture or project.settings.default_fixture)
        script = read_script("input" if options.file == "-" else options.file, _piped(options.file))
    except ProblemError as error:
        return _refuse("\n".join(p.describe() for p in error.problems))
    if not script.source.text and script.problems:
        return _refuse(script.problems[0].describe())
    for problem in [*engine.problems, *script.warnings, *_arranging_problems(script)]:
        _say(problem.describe(), sys.stderr)
    if options.format == "jsonl":
        from glimb.report.jsonl import line

        shown: Callable[[Executed], str] = partial(line, ascii=not sys.stdout.encoding.lower().startswith("utf"))
    else:
        from glimb.report.text import executed_text as shown
        from glimb.report.text import listing_lines
    for executed in Execution(engine, script, options.show_code).run():
        try:
            text = shown(executed)
        except Exception as error:  # what cannot be shown does not keep the others from being run
            failed = engine.failed(engine.session(executed.outcome.session), error, script.source)
            text = shown(replace(executed, outcome=failed))
        _say(text)
        if executed.code and options.format == "text":
            for told in listing_lines(executed.code, sys.stdout.isatty()):
                print(told)
        sys.stdout.flush()
    return MET


def _piped(name: str) -> str | None:
    """The text of `-` or of a pipe; None for a file."""
    from glimb.suite.project import decoded

    if name == "-":
        return decoded(sys.stdin.buffer.read(), "the input")
    path = _path(name)
    return decoded(path.read_bytes(), name) if path.is_fifo() else None


def _arranging_problems(script: Script) -> list[Problem]:
    """What is wrong with the arranging lines of a text; its statements say themselves what is wrong with them."""
    from glimb.suite.script import BrokenStep

    told = {id(p) for s in script.flow if isinstance(s, BrokenStep) for p in s.problems}
    every = [*script.problems, *(p for c in script.cases for p in c.problems)]
    return [p for p in every if id(p) not in told]


def _demo(options: argparse.Namespace) -> int:
    import shutil
    from importlib.resources import as_file, files

    from glimb.report.whole import made_whole

    folder: Path = options.folder
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        return _refuse(f"{folder} exists and is not empty")
    with as_file(files("glimb") / "demo") as source, made_whole(folder) as part:
        shutil.copytree(source, part, dirs_exist_ok=True, ignore=shutil.ignore_patterns("__pycache__", "*.py"))
    _say(f"wrote {folder}: try `glimb open {folder}` or `glimb run {folder}`")
    return MET


def _refuse(message: str, hint: str = "") -> int:
    """Say on the error stream why nothing was done."""
    _say(f"glimb: {message}" + (f" ({hint})" if hint else ""), sys.stderr)
    return COULD_NOT_RUN


def _say(text: str, stream: TextIO | None = None) -> None:
    """Print, with signs in the place of what would steer the terminal."""
    print(visible(text), file=stream or sys.stdout)
