"""Conditions at run time: which handler takes one, SIGNAL, RESIGNAL."""

from __future__ import annotations

import sys
from typing import Any

from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition, can_be_handled, fail, from_python, is_exception, is_own
from glimb.engine.values.origins import origin, place_of

CAUGHT = (Condition, ArithmeticError, RecursionError)
"""Python exceptions in generated code that stand for SQL conditions."""

HandlerEntry = tuple[int, tuple[str, ...]]
Chain = tuple[tuple[int, tuple[HandlerEntry, ...]], ...]
"""Blocks from the innermost outwards: their depth, and their handlers with what they handle."""


def caught(error: BaseException) -> Condition:
    """The SQL condition that a Python exception stands for, with its place."""
    condition = from_python(error)
    if condition is not error:
        condition.__traceback__ = error.__traceback__
    return condition


def _specificity(states: tuple[str, ...], condition: Condition) -> int:
    """How well a handler fits: 4 a state or name, 3 the state of a class in which Glimb has subclasses of its own, 2 a
    class, 1 a general word, 0 not at all."""
    state = condition.sqlstate
    best = 0
    for wanted in states:
        if wanted == state or (condition.name and wanted == f"name:{condition.name}"):
            return 4
        if wanted == f"{state[:2]}000" and is_own(state):
            best = max(best, 3)
        elif wanted == "02" and state[:2] == "02":
            best = max(best, 2)
        elif (wanted == "warning" and state[:2] == "01") or (wanted == "exception" and is_exception(state)):
            best = max(best, 1)
    return best


def find_handler(condition: Condition, chain: Chain) -> int:
    """Number of the handler that takes the condition: the most specific one of the innermost block that has any."""
    if not can_be_handled(condition.sqlstate):
        return 0
    for depth, handlers in chain:
        if depth >= condition.bypass:
            continue
        best, chosen = 0, 0
        for number, states in handlers:
            fit = _specificity(states, condition)
            if fit > best:
                best, chosen = fit, number
        if chosen:
            return chosen
    return 0


def escaped(error: BaseException, depth: int) -> Condition:
    """A condition that a handler of the block at `depth` raises: that block and those inside it do not handle it."""
    condition = caught(error)
    condition.bypass = min(condition.bypass, depth)
    return condition


def leave_routine(condition: Condition) -> None:
    """In the routine that called, all handlers count again."""
    condition.bypass = 1_000_000


def signal(session: Session, state: str, name: str, items: dict[str, Any]) -> Condition:
    """The condition that SIGNAL raises."""
    for item, value in items.items():
        if value is None:
            fail("22004", f"{item.upper()} may not be NULL")
    message = items.get("message_text", "")
    if name:
        items["condition_identifier"] = name
        message = message or f"condition {name}"
    return Condition(state, message, items)


def resignal(condition: Condition | None, state: str, name: str, items: dict[str, Any]) -> Condition:
    """The handled condition again, with what RESIGNAL changes."""
    if condition is None:
        fail("0K000", "RESIGNAL needs a handler that is active")
    changed = {**condition.items, **items}
    if name:
        changed["condition_identifier"] = name
    again = Condition(state or condition.sqlstate, changed.get("message_text") or condition.message, changed)
    if not condition.located:
        condition.origin, condition.located = origin(condition), True
    if not state and not name:
        again.origin, again.located = condition.origin, True
        again.__traceback__ = condition.__traceback__
        own = place_of(sys._getframe(1))
        again.items["again"] = (*condition.items.get("again", ()), *([own] if own is not None else []))
    else:
        again.items.setdefault("first", (condition.sqlstate, condition.origin))
        again.below = (condition, *condition.below)
    return again
