"""The command line: its commands with what they are for, and how a run of the program begins and ends."""

from __future__ import annotations

import argparse
import gc
import os
import signal
import sys
from contextlib import nullcontext
from importlib import import_module

from glimb import __version__
from glimb.commands.common import MET, STOPPED, refuse, say
from glimb.commands.every import COMMANDS
from glimb.lang.visible import visible

TYPE_CHECKING = False  # as in `typing`, which takes longer to import than all of this
if TYPE_CHECKING:
    from contextlib import AbstractContextManager
    from typing import Any

EXAMPLES = """examples:
  glimb demo huts             write the demo project into the folder huts
  glimb open huts             open it: all cases, and the ladder of each
  glimb run huts              run its cases and print the verdicts
  glimb run huts -k bunk --junit verdicts.xml
  glimb weave huts/cases/two-clerks.sql -k 'last bunk'
  echo 'SELECT 7 / 2;' | glimb exec -
  glimb exec try.sql --project huts --fixture valley --format jsonl
"""

GARBAGE = (100_000, 50, 100)
"""How seldom Python looks for garbage: most of what is made lives on, and looking through it again and again costs a
third of a run."""

KEEPING = ("open", "run", "check", "cover", "survey", "weave")
"""Commands that keep what they have parsed and compiled."""


def main(arguments: list[str] | None = None) -> int:
    """Run the command that the arguments name; gives the exit status."""
    gc.set_threshold(*GARBAGE)
    given = sys.argv[1:] if arguments is None else arguments
    options = _parser(given[0] if given else "").parse_args(given)
    if options.command is None:
        options = _parser("open").parse_args(["open"])
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")  # what the encoding lacks must not end the program
    for name in ("SIGTERM", "SIGHUP"):
        if hasattr(signal, name):
            signal.signal(getattr(signal, name), _end)
    try:
        with _keeping(options):
            status: int = import_module(f"glimb.commands.{options.command}").run(options)
        sys.stdout.flush()
    except KeyboardInterrupt:
        say("stopped", sys.stderr)
        return STOPPED
    except BrokenPipeError:
        _abandon_output()
        return MET
    except OSError as error:
        if error.filename is None:
            _abandon_output()
        return refuse(f"{error.filename or 'output'}: {error.strerror}")
    except Exception as error:  # whatever it is, the user gets a sentence and not a traceback
        from glimb.engine.values.conditions import condition_of

        return refuse(condition_of(error).message)
    return status


def _keeping(options: argparse.Namespace) -> AbstractContextManager[None]:
    """What is kept between runs, of commands that read whole projects."""
    if options.command not in KEEPING:
        return nullcontext()
    from pathlib import Path

    from glimb.store import keeping
    from glimb.suite.project import find_root

    told = getattr(options, "paths", None) or [getattr(options, "path", None) or getattr(options, "script", ".")]
    place = Path(str(told[0]))
    return keeping(find_root(place) or place)


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
    for name, (summary, example) in COMMANDS.items():
        if name != chosen:
            commands.add_parser(name, help=summary, add_help=False)
            continue
        epilog = f"example:\n  {example}"
        command = commands.add_parser(
            name, help=summary, description=summary, epilog=epilog, formatter_class=_formatter
        )
        import_module(f"glimb.commands.{name}").options(command)
    return parser
