"""Variables at a waymark: `at`, `never at`."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.outcomes.passes import Pass, Passes, WaymarkInfo
from glimb.engine.values.conversion import literal_of
from glimb.lang.node import Record
from glimb.suite.expectations.comparing import same
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value, table_text


class Passed(Record):
    """A waymark, perhaps with its routine before it; which time it was passed (0: the last); a variable and its value,
    and how far a number may be off."""

    waymark: str
    number: int
    variable: str
    value: Value
    within: Value | None


class Avoided(Record):
    """A waymark that is not passed."""

    waymark: str


def _read_at(line: Line) -> Passed:
    waymark = line.dotted("the name of a waymark")
    number = line.number("a number") if line.peek().isdecimal() else 0
    variable = line.dotted("the name of a variable")
    if not line.rest.startswith("="):
        line.fail("= and a value are missing", "at held chosen = 3")
    line.at += 1
    value = line.literal(" within ")
    return Passed(waymark, number, variable, value, line.literal("\n") if line.accept("within") else None)


def _judge_at(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Passed = e.says
    found = _found(outcome.passes, says.waymark)
    if isinstance(found, str):
        return Verdict(e, False, e.text, found)
    last = outcome.passes.last[found]
    passed = outcome.passes.of(found, says.number) if says.number else last
    if passed is None:
        times = f"it was passed {last.number:,} time{'s' * (last.number != 1)}"
        return Verdict(e, False, e.text, times + (", this one is not kept" if says.number <= last.number else ""))
    value = passed.value(says.variable)
    if value is None:
        return Verdict(e, False, e.text, f"no variable {says.variable} there; there are {', '.join(found.names)}")
    met = same(says.value, *value, says.within)
    return Verdict(e, met, e.text, f"{says.variable} = {literal_of(*value)}{_which(passed, last)}")


def _which(passed: Pass, last: Pass) -> str:
    return f" at pass {passed.number:,} of {last.number:,}" if last.number > 1 else ""


def _found(passes: Passes, name: str) -> WaymarkInfo | str:
    """The waymark of this name that was passed, or why there is none."""
    named = [w for w in passes.last if w.is_meant(name)]
    if len({w.full_name for w in named}) > 1:
        return f"passed were {' and '.join(sorted(w.full_name for w in named))}: name one of them"
    return named[-1] if named else "it was not passed"


def _at_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    """The value that the variable had there; that it was not passed."""
    says: Passed = e.says
    found = _found(outcome.passes, says.waymark)
    if isinstance(found, str):
        yield from [f"never at {says.waymark}"] * (not outcome.passes.last)
        return
    passed = outcome.passes.of(found, says.number) if says.number else outcome.passes.last[found]
    value = passed.value(says.variable) if passed is not None else None
    if value is not None:
        number = f" {says.number}" if says.number else ""
        yield f"at {table_text(says.waymark)}{number} {table_text(says.variable)} = {literal_of(*value)}"


def _read_never(line: Line) -> Avoided:
    return Avoided(line.dotted("the name of a waymark"))


def _judge_never(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    passed = sum(p.number for w, p in outcome.passes.last.items() if w.is_meant(e.says.waymark))
    return Verdict(e, not passed, e.text, f"passed {passed:,} time{'s' * (passed != 1)}" if passed else "not passed")


KINDS = (
    Kind("never at", _judge_never, _read_never, asks="absence", covers="waymarks"),
    Kind("at", _judge_at, _read_at, covers="waymarks", seen=_at_seen),
)
