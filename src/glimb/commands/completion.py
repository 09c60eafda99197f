"""`glimb completion`: what makes a shell complete commands, options and files."""

from __future__ import annotations

import argparse
from collections.abc import Iterator

from glimb.commands.common import MET, say
from glimb.report.completions import Command, Option


def options(command: argparse.ArgumentParser) -> None:
    command.add_argument("shell", choices=("bash", "zsh", "fish"), help="the shell")


def run(given: argparse.Namespace) -> int:
    from importlib import import_module

    from glimb.commands.every import COMMANDS
    from glimb.report.completions import SHELLS

    commands = []
    for name, (summary, _) in COMMANDS.items():
        parser = argparse.ArgumentParser(prog=name)
        module = import_module(f"glimb.commands.{name}")
        module.options(parser)
        commands.append(
            Command(name, summary, tuple(_options(parser)), getattr(module, "THINGS", ()) or _words(parser))
        )
    for line in SHELLS[given.shell](commands):
        say(line)
    return MET


def _options(parser: argparse.ArgumentParser) -> Iterator[Option]:
    for action in parser._actions:
        if action.option_strings:
            takes = "" if action.nargs == 0 else str(action.metavar or action.dest)
            choices = tuple(str(choice) for choice in action.choices or ())
            yield Option(tuple(action.option_strings), action.help or "", takes, choices)


def _words(parser: argparse.ArgumentParser) -> tuple[str, ...]:
    """The words among which the first argument is chosen."""
    first = next((action for action in parser._actions if not action.option_strings), None)
    return tuple(str(choice) for choice in (first.choices or ())) if first is not None else ()
