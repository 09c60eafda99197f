"""Names found in the tokens of a text: what a block or routine that is being typed declares, and to which columns a
routine compares its parameters. By the tokens, not by a tree: the text need not be complete.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from glimb.lang.source import Source
from glimb.lang.tokens import Token, tokenize

MODES = ("in", "out", "inout")
_NO_VARIABLE = ("condition", "cursor", "handler", "insensitive", "sensitive", "asensitive", "scroll", "no", "for")


def variables_in(tokens: Sequence[Token]) -> Iterator[tuple[str, str]]:
    """The variables and parameters that a text declares, each with its type."""
    for at, token in enumerate(tokens):
        if token.value == "declare":
            names, behind = _names(tokens, at + 1)
            type_ = _type(tokens, behind)
            if type_ and tokens[behind].value not in _NO_VARIABLE:
                yield from ((name, type_) for name in names)
        if token.value in ("procedure", "function") and at and tokens[at - 1].value in ("create", "replace"):
            yield from _parameters(tokens, at + 2)


def cursors_in(tokens: Sequence[Token]) -> Iterator[str]:
    """The cursors that a text declares."""
    for name, *behind in zip(tokens, tokens[1:], tokens[2:], tokens[3:], strict=False):
        words = [token.value for token in behind]
        if "cursor" in words and words[0] != "for":
            at = tokens.index(name)
            if at and tokens[at - 1].value == "declare":
                yield name.value


def compared(source: str, parameter: str) -> Iterator[str]:
    """The columns to which a routine's text compares a parameter for equality."""
    tokens = tokenize(Source(source)).tokens
    for at, token in enumerate(tokens):
        if token.value == "=":
            left, right = _path_before(tokens, at), _path_behind(tokens, at)
            if parameter in (left, right) and left and right:
                yield left if right == parameter else right


def _names(tokens: Sequence[Token], at: int) -> tuple[list[str], int]:
    """A list of names from a place on, and the place behind it."""
    names = []
    while at < len(tokens) and tokens[at].kind in ("name", "quoted"):
        names.append(tokens[at].value)
        at += 1
        if at >= len(tokens) or tokens[at].value != ",":
            break
        at += 1
    return names, at


def _type(tokens: Sequence[Token], at: int) -> str:
    """The type at a place: its name, and its lengths in parentheses."""
    if at >= len(tokens) or tokens[at].kind != "name":
        return ""
    end = at + 1
    if end < len(tokens) and tokens[end].value == "(":
        while end < len(tokens) and tokens[end].value != ")":
            end += 1
        end += 1
    return "".join(token.value for token in tokens[at:end]).upper().replace(",", ", ")


def _parameters(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, str]]:
    """The parameters of a routine whose parentheses open at a place."""
    while at < len(tokens) and tokens[at].value in ("(", ","):
        at += 1
        at += at < len(tokens) and tokens[at].value in MODES
        type_ = _type(tokens, at + 1)
        if type_ and tokens[at].kind in ("name", "quoted"):
            yield tokens[at].value, type_
        depth = 0
        while at < len(tokens) and (depth or tokens[at].value not in (",", ")")):
            depth += (tokens[at].value == "(") - (tokens[at].value == ")")
            at += 1


def _path_before(tokens: Sequence[Token], at: int) -> str:
    return tokens[at - 1].value if at else ""


def _path_behind(tokens: Sequence[Token], at: int) -> str:
    """The last name of a path such as `b.hut`."""
    at += 1
    if at >= len(tokens) or tokens[at].kind not in ("name", "quoted"):
        return ""
    while at + 2 < len(tokens) and tokens[at + 1].value == "." and tokens[at + 2].kind in ("name", "quoted"):
        at += 2
    return tokens[at].value
