"""Conditions that leave a statement, and conditions that hold behind it: `fails`, `deadlock`, `holds`."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.catalog.objects import is_meant
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.outcomes.passes import is_waymark
from glimb.engine.values.patterns import like
from glimb.lang.node import Record
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value
from glimb.suite.wording import failure_text


class Raised(Record):
    """The state or name of a condition (empty: any), a pattern of its message, the routine that raised it, the waymark
    behind which, the line (of its file) on which."""

    state: str
    like: Value | None
    routine: str
    waymark: str
    line: int | None


def _read_fails(line: Line) -> Raised:
    state = line.word("an SQLSTATE or the name of a condition") if line.peek().lower() != "like" else ""
    if state.lower() == "not" and line.accept("found"):
        state = "NOT FOUND"
    pattern = line.literal(" in ", " at ", " line ") if line.accept("like") else None
    routine = line.dotted("the name of a routine") if line.accept("in") else ""
    waymark = line.dotted("the name of a waymark") if line.accept("at") else ""
    number = line.number("the number of a line") if line.accept("line") else None
    return Raised(state, pattern, routine, waymark, number)


def _judge_fails(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Raised = e.says
    failure, state = outcome.failure, says.state
    if failure is None and outcome.completion == "02000" and state.lower() in ("02000", "not found"):
        met = says.like is None and not says.routine and not says.waymark and says.line is None
        return Verdict(e, met, e.text, "02000: no row was found")
    if failure is None:
        return Verdict(e, False, e.text, "it waits" if outcome.waiting else "no condition")
    met = not state or state in (failure.sqlstate, failure.name.upper(), failure.name) or state.lower() == failure.name
    if says.like is not None:
        met = met and like(failure.message, says.like.value or "")
    origin = failure.origin
    if says.routine:
        met = met and origin is not None and is_meant(says.routine, origin.routine)
    if says.line is not None:
        met = met and origin is not None and origin.line == says.line
    if says.waymark:
        met = met and origin is not None and is_waymark(says.waymark, origin.routine, origin.waymark)
    behind = f", behind {origin.waymark}" if says.waymark and origin is not None and origin.waymark else ""
    return Verdict(e, met, e.text, failure_text(outcome.failure) + behind)


def _pin_fails(outcome: Outcome) -> Iterator[str]:
    if outcome.failure is not None:
        yield "deadlock" if outcome.failure.circle else f"fails {outcome.failure.sqlstate}"


def _judge_deadlock(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    failure = outcome.failure
    return Verdict(e, failure is not None and bool(failure.circle), "deadlock", failure_text(outcome.failure))


class Condition(Record):
    """A condition of SQL, as text."""

    text: str


def _read_holds(line: Line) -> Condition:
    text = line.rest
    start, line.at = line.start + line.at, len(line.text)
    try:
        parse_expression(Source(text))
    except ProblemError as error:
        problem = error.problems[0]
        span = Span(start + problem.span.start, start + problem.span.end)
        raise ProblemError(Problem(problem.sqlstate, problem.message, span, problem.hint, line.source)) from None
    return Condition(text)


def _judge_holds(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    met, seen = around.ask.holds(e.says.text)
    return Verdict(e, met, e.text, seen)


KINDS = (
    Kind("fails", _judge_fails, _read_fails, _pin_fails, covers="condition"),
    Kind("deadlock", _judge_deadlock, covers="condition"),
    Kind("holds", _judge_holds, _read_holds, covers="result"),
)
