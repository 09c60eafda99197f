"""Completion scripts of shells, from the commands and options that the command line has."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple


class Option(NamedTuple):
    """An option of a command: its spellings, what it is for, what it may be given (none for a switch)."""

    names: tuple[str, ...]
    help: str
    takes: str
    choices: tuple[str, ...]


class Command(NamedTuple):
    """A command: its name, what it is for, its options, and words that may stand first behind it."""

    name: str
    help: str
    options: tuple[Option, ...]
    words: tuple[str, ...]


def bash(commands: Sequence[Command]) -> Iterator[str]:
    """For bash: `eval "$(glimb completion bash)"`."""
    yield "_glimb() {"
    yield '  local word="${COMP_WORDS[COMP_CWORD]}" before="${COMP_WORDS[COMP_CWORD-1]}" words=""'
    yield "  if [ $COMP_CWORD -eq 1 ]; then"
    yield f'    COMPREPLY=($(compgen -W "{" ".join(c.name for c in commands)} --help --version" -- "$word")); return'
    yield "  fi"
    yield '  case "${COMP_WORDS[1]} $before" in'
    for command in commands:
        for option in command.options:
            for name in option.names if option.choices else ():
                reply = f'COMPREPLY=($(compgen -W "{" ".join(option.choices)}" -- "$word"))'
                yield f'    "{command.name} {name}") {reply}; return ;;'
    yield "  esac"
    yield '  case "${COMP_WORDS[1]}" in'
    for command in commands:
        names = [name for option in command.options for name in option.names]
        yield f'    {command.name}) words="{" ".join([*command.words, *names])}" ;;'
    yield "  esac"
    yield '  COMPREPLY=($(compgen -W "$words" -- "$word") $(compgen -f -- "$word"))'
    yield "}"
    yield "complete -o filenames -F _glimb glimb"


def zsh(commands: Sequence[Command]) -> Iterator[str]:
    """For zsh: `eval "$(glimb completion zsh)"`, behind compinit."""
    yield "_glimb() {"
    yield "  local -a commands=("
    yield from (f"    {_single(f'{c.name}:{c.help}')}" for c in commands)
    yield "  )"
    yield "  if (( CURRENT == 2 )); then _describe command commands; return; fi"
    yield "  case $words[2] in"
    for command in commands:
        yield f"    {command.name}) shift words; (( CURRENT-- )); _arguments \\"
        for option in command.options:
            yield from (f"      {_single(_zsh_option(option, name))} \\" for name in option.names)
        words = f"({' '.join(command.words)})" if command.words else "_files"
        yield f"      {_single(f'*:path:{words}')} ;;"
    yield "  esac"
    yield "}"
    yield "compdef _glimb glimb"


def _zsh_option(option: Option, name: str) -> str:
    told = option.help.replace("[", "(").replace("]", ")").replace(":", ";")
    if not option.takes:
        return f"{name}[{told}]"
    values = f"({' '.join(option.choices)})" if option.choices else "_files"
    return f"{name}[{told}]:{option.takes.lower()}:{values}"


def fish(commands: Sequence[Command]) -> Iterator[str]:
    """For fish: `glimb completion fish | source`."""
    for command in commands:
        yield f"complete -c glimb -n __fish_use_subcommand -f -a {command.name} -d {_single(command.help)}"
        seen = f"-n '__fish_seen_subcommand_from {command.name}'"
        if command.words:
            yield f"complete -c glimb {seen} -a {_single(' '.join(command.words))}"
        for option in command.options:
            spelled = " ".join(f"-l {n[2:]}" if n.startswith("--") else f"-s {n[1:]}" for n in option.names)
            takes = f" -x -a {_single(' '.join(option.choices))}" if option.choices else " -r" if option.takes else ""
            yield f"complete -c glimb {seen} {spelled}{takes} -d {_single(option.help)}"


def _single(text: str) -> str:
    """A word of a shell."""
    return "'" + text.replace("'", "'\\''") + "'"


SHELLS: dict[str, Callable[[Sequence[Command]], Iterator[str]]] = {"bash": bash, "zsh": zsh, "fish": fish}
