"""The events of a recorded run (`outcomes.events`) read as steps: a tree of statements, calls and rounds."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from glimb.engine.outcomes.events import END, NO_DATA, ROUND, FrameInfo, Gap, HandlerInfo, StatementInfo
from glimb.engine.storage.changes import Change, net_changes
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import Type
from glimb.lang.node import Record


class Variable(Record):
    """A variable with its type and value at some moment."""

    name: str
    type: Type
    value: Any


class Step:
    """One executed statement of a routine: what it assigned and changed, what it called, what interrupted it."""

    __slots__ = (
        "assigned",
        "changes",
        "condition",
        "found_none",
        "frame",
        "gaps",
        "handler",
        "info",
        "round",
        "rounds",
        "row_count",
        "steps",
        "values",
    )

    def __init__(self, info: StatementInfo | None, frame: FrameInfo | None, values: dict[str, Variable]) -> None:
        self.info = info
        self.frame = frame
        self.values = values
        """What all locals of the routine hold before it."""
        self.gaps: list[Gap] = []
        """Of a loop: the rounds that were folded."""
        self.assigned: list[Variable] = []
        self.changes: list[Change] = []
        self.row_count: int | None = None
        self.steps: list[Step] = []
        self.rounds = 0
        self.round = 0
        """In which round of the loop around it this statement ran."""
        self.condition: Condition | None = None
        """The condition this statement raised, when a handler took it."""
        self.handler: HandlerInfo | None = None
        """The one that took it."""
        self.found_none = False
        """Whether it is a SELECT INTO or FETCH that found no row."""

    @property
    def before(self) -> dict[str, Variable]:
        """The variables that it can see, by name, with their values before it."""
        if self.info is None:
            return {}
        return {name: self.values[local] for name, local in self.info.reach.items() if local in self.values}

    @property
    def handled(self) -> bool:
        return self.handler is not None


class _Reader:
    """Reads the list once, front to back; `stack` holds the open steps (frames and loops)."""

    def __init__(self, events: list[Any]) -> None:
        self.events = events
        self.at = 0
        self.top = Step(None, None, {})
        self.stack = [self.top]
        self.depths = [0]
        self.variables: list[dict[str, Variable]] = [{}]

    def read(self) -> list[Step]:
        while self.at < len(self.events):
            event = self.events[self.at]
            self.at += 1
            if isinstance(event, StatementInfo):
                self._statement(event)
            elif isinstance(event, FrameInfo):
                self._frame(event)
            elif event is END:
                self._close()
            elif event is ROUND:
                self._round()
            elif isinstance(event, Gap):
                self._close_simple()
                self.stack[-1].rounds = event.round - 1
                self.stack[-1].gaps.append(event)
            elif isinstance(event, HandlerInfo):
                self._handled(event)
            elif event is NO_DATA:
                self.stack[-1].found_none = True
            else:
                self._value(event)
        self._begin_following()
        while len(self.stack) > 1:
            self._close()
        return self.top.steps

    def _round(self) -> None:
        self._close_simple()
        self.stack[-1].rounds += 1

    def _begin_following(self) -> None:
        """Go on to the assignment that follows the one that has its values."""
        step = self.stack[-1]
        if step.info is not None and step.info.following is not None and len(step.assigned) == step.info.count:
            self._statement(step.info.following)

    def _open(self, step: Step) -> None:
        step.round = self.stack[-1].rounds
        self.stack[-1].steps.append(step)
        self.stack.append(step)

    def _statement(self, info: StatementInfo) -> None:
        if info.starts_round:
            self._round()
        self._close_simple()
        self._open(Step(info, None, self.variables[-1]))

    def _close_simple(self) -> None:
        """Close the statement that is open, so that a loop or a routine is the innermost."""
        while self.stack[-1].info is not None and not self.stack[-1].info.is_loop:
            self._pop()

    def _pop(self) -> None:
        """Close the innermost step."""
        step = self.stack.pop()
        if step.frame is not None:
            self.depths.pop()
            self.variables.pop()

    def _frame(self, info: FrameInfo) -> None:
        values = []
        depth = self._next()
        for name, type_ in zip(info.variables, info.types, strict=True):
            values.append(Variable(name, type_, self._next()))
        step = Step(None, info, {})
        step.assigned = values
        self._open(step)
        self.depths.append(depth)
        self.variables.append(dict(zip(info.locals, values, strict=True)))

    def _next(self) -> Any:
        self.at += 1
        return self.events[self.at - 1] if self.at <= len(self.events) else None

    def _close(self) -> None:
        """The innermost frame or loop is left."""
        self._close_simple()
        if len(self.stack) > 1:
            self._pop()

    def _handled(self, handler: HandlerInfo) -> None:
        depth, condition = self._next(), self._next()
        self._begin_following()
        while len(self.depths) > 1 and self.depths[-1] > depth:
            self._pop()
        raised = self.stack[-1]
        if raised.info is None or raised.info.is_loop:
            raised = raised.steps[-1] if raised.steps else raised
        raised.condition = condition
        raised.handler = handler
        self._close_simple()

    def _value(self, value: Any) -> None:
        """A value behind a statement: of a variable, or row count and log entries of a change."""
        self._begin_following()
        step = self.stack[-1]
        info = step.info
        if info is None:
            return
        number = len(step.assigned)
        if number < len(info.variables):
            variable = Variable(info.variables[number], info.types[number], value)
            step.assigned.append(variable)
            self.variables[-1] = {**self.variables[-1], info.locals[number]: variable}
        elif info.is_change and step.row_count is None:
            step.row_count = value
        elif info.is_change:
            step.changes = net_changes(value)


def read_steps(events: list[Any]) -> list[Step]:
    """The steps of a recorded statement, as a tree."""
    return _Reader(events).read()


def last_step(steps: list[Step]) -> Step:
    """The statement that ran last, innermost: where an exception that left all of them was raised."""
    step = steps[-1]
    while step.steps:
        step = step.steps[-1]
    return step


def walk_steps(steps: list[Step]) -> Iterator[Step]:
    """All steps, parents first. Calls may lie very deep: each step costs the same wherever it is."""
    inside = [iter(steps)]
    while inside:
        step = next(inside[-1], None)
        if step is None:
            inside.pop()
        else:
            yield step
            inside.append(iter(step.steps))
