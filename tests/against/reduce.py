"""Makes the body of a routine smaller while what is asked of it stays true: statements go, one after another."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from glimb.lang.node import Node
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.lang.tree import Statement

HEAD = "CREATE FUNCTION f() RETURNS INTEGER MODIFIES SQL DATA "


def reduced(body: str, differs: Callable[[str], bool]) -> str:
    """The body, as small as the removal of statements, and of what stands round them, makes it."""
    smaller = True
    while smaller:
        smaller = False
        for candidate in candidates(body):
            if differs(candidate):
                body, smaller = candidate, True
                break
    return body


def candidates(body: str) -> Iterator[str]:
    """Bodies with less in them, the largest cuts first: a statement goes, or one within takes its place."""
    text = HEAD + body
    spans = sorted(set(_spans(parse(Source(text + ";")).statements[0])), key=lambda s: s[0] - s[1])
    for start, end in spans:
        if start > len(HEAD):
            rest = text[end:].lstrip(" ;")
            yield (text[:start] + rest)[len(HEAD) :]
            inner = [s for s in spans if start < s[0] and s[1] < end]
            for first, last in inner[:6]:
                yield (text[:start] + text[first:last] + text[end:])[len(HEAD) :]


def _spans(node: Any) -> Iterator[tuple[int, int]]:
    if isinstance(node, Statement):
        yield node.span.start, node.span.end
    if isinstance(node, Node):
        for name in node._fields:
            yield from _spans(getattr(node, name))
    elif isinstance(node, tuple):
        for part in node:
            yield from _spans(part)
