"""Findings, their rules, and what a rule looks at."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property
from typing import NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding import bind_trigger
from glimb.engine.catalog.objects import Routine, Trigger
from glimb.engine.engine import Engine
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.problem import ProblemError
from glimb.lang.source import NOWHERE, Source, Span


class Finding(NamedTuple):
    """Something dubious: the code of its rule, where it is, what it is, what may be done."""

    code: str
    source: Source
    span: Span
    message: str
    hint: str


class Subject:
    """A routine or trigger: its text and tree, what the binder made of it, and the engine it is in."""

    def __init__(
        self,
        engine: Engine,
        source: Source,
        definition: tree.CreateRoutine | tree.CreateTrigger,
        body: R.Stmt,
        parameters: tuple[R.Target, ...] = (),
        routine: Routine | None = None,
    ) -> None:
        self.engine = engine
        self.source = source
        self.definition = definition
        self.body = body
        self.parameters = parameters
        self.routine = routine

    @cached_property
    def nodes(self) -> list[Node]:
        """All nodes of what was bound, parents first."""
        return list(walk(self.body))

    @cached_property
    def written(self) -> list[Node]:
        """All nodes of the body as it was written."""
        return list(walk(self.definition.body))

    @cached_property
    def reached(self) -> list[tuple[R.Stmt, tuple[R.BlockStmt, ...]]]:
        """All statements, each with the blocks whose handlers are in reach (see `with_blocks`)."""
        return list(with_blocks(self.body))

    @cached_property
    def statements(self) -> list[tuple[R.Stmt, list[R.Expr]]]:
        """All statements, each with the expressions in it; those of statements within it aside."""
        own = (n for n in self.nodes if isinstance(n, R.Stmt | R.Declare))
        return [(n, list(expressions_of(n))) for n in own]  # type: ignore[misc]

    @property
    def is_atomic(self) -> bool:
        """Whether it always runs within a statement, which a transaction outlives: a function or trigger."""
        return self.routine is None or self.routine.kind == "function"


Found = Iterator[tuple[Span, str]]
"""Places with what is dubious there."""


class Rule(NamedTuple):
    """A rule: its code, what may be done, and what looks for it."""

    code: str
    remedy: str
    look: Callable[[Subject], Found]


RULES: dict[str, Rule] = {}


def finding(code: str, remedy: str) -> Callable[[Callable[[Subject], Found]], Callable[[Subject], Found]]:
    """Enter a function as what looks for a finding."""

    def enter(look: Callable[[Subject], Found]) -> Callable[[Subject], Found]:
        RULES[code] = Rule(code, remedy, look)
        return look

    return enter


def subjects(engine: Engine) -> Iterator[Subject]:
    """All routines and triggers that can be bound."""
    for routine in engine.catalog.written_routines():
        facts = routine.bind()
        if facts is not None:
            definition = routine.definition
            yield Subject(engine, routine.source, definition, facts.body, facts.parameters, routine)
    for trigger in engine.catalog.triggers.values():
        bound = _trigger(engine, trigger)
        if bound is not None:
            yield Subject(engine, trigger.source, trigger.definition, bound)


def _trigger(engine: Engine, trigger: Trigger) -> R.Stmt | None:
    try:
        return bind_trigger(engine.catalog, trigger).body
    except ProblemError:
        return None


def findings_of(subject: Subject) -> Iterator[Finding]:
    """What all rules find in a subject, in the order of the text."""
    found = [
        Finding(rule.code, subject.source, span, message, rule.remedy)
        for rule in RULES.values()
        for span, message in rule.look(subject)
    ]
    yield from sorted(found, key=lambda one: (one.span.start, one.code))


# ---- what several rules ask


def lists_of(nodes: list[Node]) -> Iterator[tuple[R.Stmt, ...]]:
    """All lists of statements among nodes."""
    for node in nodes:
        match node:
            case R.BlockStmt(body=inner) | R.LoopStmt(body=inner) | R.ForStmt(body=inner):
                yield inner
            case R.IfStmt() | R.CaseStmt():
                yield from (arm for _, arm in node.arms)
                if node.otherwise:
                    yield node.otherwise


def with_blocks(body: Node, around: tuple[R.BlockStmt, ...] = ()) -> Iterator[tuple[R.Stmt, tuple[R.BlockStmt, ...]]]:
    """All statements, each with the blocks in whose bodies it stands, the innermost last: their handlers are in reach.
    What a handler does has only the blocks around its own."""
    if isinstance(body, R.Stmt):
        yield body, around
    for name in body._inner[::-1]:
        inner = around
        if isinstance(body, R.BlockStmt) and name == "body":
            inner = (*around, body)
        yield from _within(getattr(body, name), inner)


def _within(value: object, around: tuple[R.BlockStmt, ...]) -> Iterator[tuple[R.Stmt, tuple[R.BlockStmt, ...]]]:
    if isinstance(value, Node):
        yield from with_blocks(value, around)
    elif type(value) is tuple:
        for item in value:
            yield from _within(item, around)


_APART = (R.Stmt, R.Handler)


def expressions_of(statement: Node) -> Iterator[R.Expr]:
    """The expressions of a statement, with all that is in them; those of statements within it aside."""
    for name in statement._inner[::-1]:
        yield from _expressions(getattr(statement, name))


def _expressions(value: object) -> Iterator[R.Expr]:
    if isinstance(value, _APART):
        return
    if isinstance(value, R.Expr):
        yield value
    if isinstance(value, Node):
        yield from expressions_of(value)
    elif type(value) is tuple:
        for item in value:
            yield from _expressions(item)


def place_of(e: R.Expr, statement: Node) -> Span:
    """Where an expression stands, as far as that is known."""
    if e.place is not None:
        return e.place.span
    return e.span if e.span != NOWHERE else statement.span
