"""One expectation against one outcome: whether it is met, and both sides when it is not."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.node import Record, replace
from glimb.lang.problem import ProblemError
from glimb.suite.expectations.kind import Around, Asks, Expectation, Verdict
from glimb.suite.expectations.kinds import KINDS
from glimb.suite.expectations.line import Value
from glimb.suite.wording import failure_text, waiting_text


def judge(expectation: Expectation, outcome: Outcome, around: Around) -> Verdict:
    """Compare one expectation with what the statement did."""
    kind = KINDS[expectation.kind]
    if kind.asks == "result" and (outcome.failure is not None or outcome.waiting is not None):
        return Verdict(expectation, False, expectation.text, _what_instead(outcome))
    if kind.asks == "absence" and (outcome.kind == "invalid" or outcome.waiting is not None):
        return Verdict(expectation, False, expectation.text, f"the statement has not run: {_what_instead(outcome)}")
    try:
        known = settled(expectation, around.ask)
        siblings = [settled(e, around.ask) for e in around.siblings] if kind.looks_around else ()
    except ProblemError as error:
        return Verdict(
            expectation, False, expectation.text, f"what is expected has no value: {error.problems[0].message}"
        )
    return replace(kind.judge(known, outcome, Around(around.ask, siblings)), expectation=expectation)


def settled(expectation: Expectation, ask: Asks) -> Expectation:
    """An expectation in which all expressions have their values; ProblemError where one has none."""
    says, rows = _settled(expectation.says, ask), _settled(expectation.rows, ask)
    if says is expectation.says and rows is expectation.rows:
        return expectation
    return replace(expectation, says=says, rows=rows)


def _settled(thing: Any, ask: Asks) -> Any:
    """The thing itself where nothing in it is to be asked for."""
    if isinstance(thing, Value):
        return ask.value(thing.text) if thing.asks else thing
    if type(thing) is tuple:
        parts = tuple(_settled(part, ask) for part in thing)
        return parts if any(new is not old for new, old in zip(parts, thing, strict=True)) else thing
    if isinstance(thing, Record):
        fields = {name: getattr(thing, name) for name in thing._fields}
        new = {name: part for name, old in fields.items() if (part := _settled(old, ask)) is not old}
        return replace(thing, **new) if new else thing
    return thing


def _what_instead(outcome: Outcome) -> str:
    return failure_text(outcome.failure) if outcome.failure is not None else f"it {waiting_text(outcome.waiting)}"
