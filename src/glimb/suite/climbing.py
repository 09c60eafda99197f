"""Climbing into a rung: what happened inside its routines, statement by statement, one line each.

In: the steps of a recorded rung. Out: `Line`s with place, variables before and after, the arm taken, row changes, the
condition raised and the handler that took it. Nothing is run here.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Any, NamedTuple

from glimb.engine.catalog.objects import is_meant
from glimb.engine.outcomes.steps import Step, Variable
from glimb.engine.values.conversion import literal_of
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.source import Source, Span
from glimb.lang.tokens import tokenize
from glimb.suite.ladder import Rung

Variables = dict[str, Variable]
Callers = tuple["Line", ...]
OUTSIDE = ""
"""The routine of what stands in a block outside one."""


class Line(NamedTuple):
    """One step of a rung: `number` counts all of them from 1, `depth` the calls and loops around. `round` is that of
    the loop around (0: none), `branch` the arm that was taken."""

    number: int
    depth: int
    routine: str
    source: Source | None
    span: Span
    kind: str
    text: str
    round: int
    step: Step
    branch: str
    callers: tuple[Line, ...] = ()
    """The steps that called the routine in which it stands, the innermost first."""

    @property
    def calls(self) -> list[tuple[str, str, int]]:
        """Where it stands and by which calls it got there, the innermost first: routine, file, line."""
        return [(line.routine, line.file, line.line) for line in (self, *self.callers)]

    @property
    def line(self) -> int:
        return self.source.line(self.span.start) if self.source is not None else 0

    @property
    def file(self) -> str:
        return self.source.name if self.source is not None else ""

    @property
    def before(self) -> Variables:
        return self.step.before

    @property
    def after(self) -> Variables:
        """The variables behind it: of a call those that it was entered with."""
        return {v.name: v for v in self.step.assigned} if self.step.frame is not None else _after(self.step)

    @property
    def changed(self) -> list[tuple[Variable | None, Variable]]:
        """Variables that have another value behind it, each as it was and as it is."""
        before = self.before
        pairs = [(before.get(name), now) for name, now in self.after.items()]
        return [(old, now) for old, now in pairs if old is None or not _same(old.value, now.value)]

    @property
    def kept(self) -> list[Variable]:
        """Variables that were assigned the value that they had, or none because no row was found."""
        changed = {now.name for _, now in self.changed}
        return [] if self.step.frame is not None else [v for v in self.step.assigned if v.name not in changed]

    @property
    def read(self) -> list[Variable]:
        """Variables that the statement names and leaves as they are, with the values that they have."""
        if self.source is None or self.step.frame is not None:
            return []
        assigned, named = {v.name for v in self.step.assigned}, _names(self.text, self.kind)
        return [v for name, v in self.before.items() if name in named and name not in assigned]


def _after(step: Step) -> Variables:
    """The variables behind a statement by itself: what loops and calls within it do is told by their own steps."""
    return {**step.before, **{v.name: v for v in step.assigned}}


def _same(a: Any, b: Any) -> bool:
    return type(a) is type(b) and bool(a == b)


def lines_of(rung: Rung, statement: tree.Statement | None) -> Iterator[Line]:
    """All steps of a recorded rung, in the order in which they began; `statement` is the one that it has run."""
    counter = 0
    choices: dict[int, dict[Span, Node]] = {}

    def choice_at(body: Node | None, span: Span) -> Node | None:
        """The IF or CASE of a body that stands at a place."""
        if body is None:
            return None
        known = choices.get(id(body))
        if known is None:
            known = choices[id(body)] = {n.span: n for n in walk(body) if isinstance(n, tree.If | tree.CaseStatement)}
        return known.get(span)

    def told(steps: list[Step], depth: int, routine: str, body: Node | None, callers: Callers) -> Iterator[Line]:
        nonlocal counter
        for at, step in enumerate(steps):
            counter += 1
            following = steps[at + 1] if at + 1 < len(steps) else None
            if step.frame is not None:
                inner = step.frame
                place = inner.source, inner.head
                yield Line(counter, depth, inner.name, *place, "enter", inner.name, step.round, step, "", callers)
                yield from told(step.steps, depth + 1, inner.name, inner.body, callers)
                continue
            info = step.info
            assert info is not None
            node = choice_at(body, info.span)
            branch = _branch(node, following) if node is not None else ""
            place, text = (info.source, info.span), info.source[info.span]
            line = Line(counter, depth, routine, *place, info.name, text, step.round, step, branch, callers)
            yield line
            # What is within a loop is called by whoever calls the loop; what a call enters, by the call.
            yield from told(step.steps, depth + 1, routine, body, callers if info.is_loop else (line, *callers))

    yield from told(rung.steps, 0, OUTSIDE, statement, ())


# ---- what is wanted of them


class Wanted(NamedTuple):
    """Which lines are wanted: those within a routine; those that change a variable, to a value perhaps, and then all of
    the same round; those of a round. Empty and None: all."""

    routine: str = ""
    variable: str = ""
    value: str = ""
    round: int | None = None


def chosen(lines: list[Line], wanted: Wanted) -> list[Line]:
    """The lines that are wanted, in order."""
    found = list(_within(lines, wanted.routine)) if wanted.routine else lines
    if wanted.round is not None:
        found = [line for line in found if line.round == wanted.round]
    if wanted.variable:
        hits = [line for line in found if _sets(line, wanted.variable, wanted.value)]
        found = _with_rounds(found, hits) if wanted.value else hits
    return found


def _within(lines: list[Line], routine: str) -> Iterator[Line]:
    """The calls of a routine with all that is in them."""
    depth = -1
    for line in lines:
        if depth >= 0 and line.depth > depth:
            yield line
            continue
        depth = line.depth if line.kind == "enter" and is_meant(routine, line.routine.lower()) else -1
        if depth >= 0:
            yield line


def _sets(line: Line, variable: str, value: str) -> bool:
    """Whether a line assigns a variable; if a value is wanted, so that it becomes that."""
    if not value:
        return any(v.name.lower() == variable for v in line.step.assigned)
    return any(
        v.name.lower() == variable and literal_of(v.value, v.type).upper() == value.upper() for _, v in line.changed
    )


def _with_rounds(lines: list[Line], hits: list[Line]) -> list[Line]:
    """The lines with the others of their round of the loop around."""
    places = {line.number: at for at, line in enumerate(lines)}
    found: set[int] = set()
    for hit in hits:
        at = places[hit.number]
        first = last = at
        if hit.round:
            while first and _is_beside(lines[first - 1], hit):
                first -= 1
            while last + 1 < len(lines) and _is_beside(lines[last + 1], hit):
                last += 1
        found |= set(range(first, last + 1))
    return [lines[at] for at in sorted(found)]


def _is_beside(line: Line, hit: Line) -> bool:
    """Whether a line is of the same round as another, or within such a one."""
    return line.depth > hit.depth or (line.depth == hit.depth and line.round == hit.round)


# ---- the text behind a step


def _branch(node: Node, following: Step | None) -> str:
    """Which arm of an IF or CASE the statement behind it is in."""
    assert isinstance(node, tree.If | tree.CaseStatement)
    place = following.info.span.start if following is not None and following.info is not None else -1
    for number, (_, body) in enumerate(node.arms, 1):
        if _covers(body, place):
            return f"arm {number} of {len(node.arms)}"
    if node.otherwise is not None:
        return "ELSE" if _covers(node.otherwise, place) else ""
    return "no arm"


def _covers(body: tuple[tree.Statement, ...], place: int) -> bool:
    return bool(body) and body[0].span.start <= place < body[-1].span.end


_HEADS = {"if": "then", "while": "do", "for": "do", "case": "when", "loop": "loop", "repeat": "repeat"}


@lru_cache(maxsize=10_000)
def head_of(text: str, kind: str) -> str:
    """The text of a statement; of one that holds others, up to these."""
    word = _HEADS.get(kind)
    tokens = tokenize(Source(text)).tokens if word is not None else []
    end = next((t for t in tokens if t.value == word and t.kind == "name"), None)
    if end is None:
        return text
    return text[: end.end] if kind in ("loop", "repeat") else text[: end.start].rstrip()


@lru_cache(maxsize=10_000)
def _names(text: str, kind: str) -> frozenset[str]:
    """The names in a statement, or in the head of one that holds others."""
    return frozenset(t.value for t in tokenize(Source(head_of(text, kind))).tokens if t.kind in ("name", "quoted"))
