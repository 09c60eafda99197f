"""Conditions that leave a statement, that handlers take in it, and that hold behind it: `fails`, `deadlock`, `handled`,
`holds`."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.catalog.objects import is_meant
from glimb.engine.outcomes.outcome import HandledCondition, Outcome
from glimb.engine.outcomes.passes import is_waymark
from glimb.engine.values.patterns import like
from glimb.lang.node import Record
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value, table_text
from glimb.suite.wording import failure_text

MOST_HANDLED = 5
"""So many conditions that handlers took are told."""


class Raised(Record):
    """The state or name of a condition (empty: any), a pattern of its message, the routine that raised it, the waymark
    behind which, the line (of its file) on which."""

    state: str
    like: Value | None
    routine: str
    waymark: str
    line: int | None


def _read_state(line: Line) -> str:
    state = line.word("an SQLSTATE or the name of a condition") if line.peek().lower() != "like" else ""
    return "NOT FOUND" if state.lower() == "not" and line.accept("found") else state


def _read_fails(line: Line) -> Raised:
    state = _read_state(line)
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
    met = _is_state(state, failure.sqlstate, failure.name)
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


class Taken(Record):
    """The state or name of a condition (empty: any), a pattern of its message, the routine whose handler takes it."""

    state: str
    like: Value | None
    routine: str


def _read_handled(line: Line) -> Taken:
    state = _read_state(line)
    pattern = line.literal(" in ") if line.accept("like") else None
    return Taken(state, pattern, line.dotted("the name of a routine") if line.accept("in") else "")


def _judge_handled(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Taken = e.says
    met = any(
        _is_state(says.state, one.sqlstate, one.name)
        and (says.like is None or like(one.message, says.like.value or ""))
        and (not says.routine or is_meant(says.routine, one.routine))
        for one in outcome.handled
    )
    more = " and more" if len(outcome.handled) > MOST_HANDLED else ""
    seen = ", ".join(map(_handled_text, outcome.handled[:MOST_HANDLED])) + more
    return Verdict(e, met, e.text, seen or "no handler took anything")


def _handled_text(one: HandledCondition) -> str:
    told = f"{one.sqlstate} {one.name}".rstrip() + (f": {one.message}" if one.message else "")
    return f"{told} (in {one.routine})" if one.routine else told


def _is_state(wanted: str, sqlstate: str, name: str) -> bool:
    """Whether a state or the name of a condition is that of one; `NOT FOUND` is all of class 02."""
    if wanted.lower() == "not found":
        return sqlstate[:2] == "02"
    return not wanted or wanted.upper() == sqlstate or wanted.lower() == name.lower() != ""


def _handled_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    """What handlers took instead: each state once for each routine."""
    taken = dict.fromkeys((one.sqlstate, one.routine) for one in outcome.handled)
    for state, routine in list(taken)[:MOST_HANDLED]:
        yield f"handled {state}" + (f" in {table_text(routine)}" if routine else "")


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
    Kind("handled", _judge_handled, _read_handled, covers="handled", seen=_handled_seen),
    Kind("deadlock", _judge_deadlock, covers="condition"),
    Kind("holds", _judge_holds, _read_holds, covers="result"),
)
