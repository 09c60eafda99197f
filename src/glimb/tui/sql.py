"""SQL text in colours: our own tokens, for the open rung and for the source of routines."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from rich.style import Style

from glimb.lang.parser.base import RESERVED
from glimb.lang.source import Source
from glimb.lang.tokens import Token, tokenize
from glimb.tui.palette import Palette
from glimb.tui.text import Text

KINDS = {"string": "text", "bytes": "text", "integer": "number", "decimal": "number", "float": "number"}


class Stretch(NamedTuple):
    """A part of a text, by what it is: word, text, number, comment, host."""

    start: int
    end: int
    kind: str


def stretches(source: Source) -> Iterator[Stretch]:
    """The parts of a text that have a colour."""
    found = tokenize(source)
    before: Token | None = None
    for token in found.tokens[:-1]:
        kind = KINDS.get(token.kind, "")
        if token.kind == "name" and token.value in RESERVED:
            kind = "word"
        if before is not None and before.value == ":" and before.end == token.start and token.kind == "name":
            kind = "host"
        if kind:
            yield Stretch(token.start, token.end, kind)
        before = token
    yield from (Stretch(mark.start, mark.end, "comment") for mark in found.marks)


def styles(colours: Palette) -> dict[str, Style]:
    """How each kind is drawn."""
    return {
        "word": Style(color=colours.accent),
        "text": Style(color=colours.met),
        "number": Style(color=colours.sessions[1]),
        "comment": Style(color=colours.quiet, italic=True),
        "host": Style(color=colours.sessions[0], bold=True),
        "problem": Style(color=colours.slip, underline=True),
    }


@lru_cache(maxsize=64)
def coloured_lines(text: str, colours: Palette) -> tuple[Text, ...]:
    """A text line by line, in colours."""
    whole = Text(text, style=colours.text)
    drawn = styles(colours)
    for stretch in stretches(Source(text)):
        whole.stylize(drawn[stretch.kind], stretch.start, stretch.end)
    return tuple(Text().append_text(line) for line in whole.split("\n", allow_blank=True))
