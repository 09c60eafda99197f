"""Expected values and those that were seen: numbers by value, texts, dates as texts, arrays and rows by part."""

from __future__ import annotations

from typing import Any

from glimb.engine.values.conditions import Condition
from glimb.engine.values.conversion import convert, shortest_single
from glimb.engine.values.types import CLOB, TIME, TIMESTAMP, Type, source_of
from glimb.suite.expectations.line import Value


def same(expected: Value, value: Any, type_: Type, within: Value | None = None) -> bool:
    """Whether a value is the expected one: numbers by value, CHAR without blanks at its end."""
    if expected.anything:
        return True
    if expected.value is None or value is None:
        return expected.value is None and value is None
    type_ = source_of(type_)
    if type_.kind in ("array", "row"):
        return _same_parts(expected, value, type_, within)
    if expected.type.is_number and type_.is_number:
        if "approximate" in (expected.type.family, type_.family) and within is None:
            wanted, seen = as_float(expected.value, expected.type), as_float(value, type_)
            return wanted == seen or (type_.kind == "real" and shortest_single(seen) == wanted)
        return _is_near(_ratio(expected.value, expected.type), _ratio(value, type_), within)
    if expected.type.family == type_.family:
        if type_.kind == "char":
            return bool(str(expected.value).rstrip(" ") == value.rstrip(" "))
        return bool(expected.value == value)
    if expected.type.family == "text" and type_.family in ("date", "time", "timestamp", "months", "micros"):
        return _same_moment(expected.value, value, type_)
    return False


def _same_moment(text: str, value: Any, type_: Type) -> bool:
    """A date, time or interval written as a plain text."""
    full = TIME if type_.kind == "time" else TIMESTAMP if type_.kind == "timestamp" else type_
    try:
        return bool(convert(text, CLOB, full) == value)
    except Condition:
        return False


def _same_parts(expected: Value, value: Any, type_: Type, within: Value | None) -> bool:
    """Arrays and rows, part by part."""
    if expected.type.kind != type_.kind or len(expected.value) != len(value):
        return False
    mine, theirs = ([t.parts[0]] * len(value) if t.kind == "array" else t.parts for t in (expected.type, type_))
    parts = zip(expected.value, mine, value, theirs, strict=True)
    return all(same(Value(e, a, ""), v, b, within) for e, a, v, b in parts)


def as_float(value: Any, type_: Type) -> float:
    top, bottom = _ratio(value, type_)
    return top / bottom


Ratio = tuple[int, int]
"""A number exactly: numerator and denominator."""


def _ratio(value: Any, type_: Type) -> Ratio:
    if isinstance(value, float):
        return value.as_integer_ratio()
    return value, 10**type_.scale if type_.kind == "decimal" else 1


def _is_near(a: Ratio, b: Ratio, within: Value | None) -> bool:
    """Whether two numbers differ by no more than `within`, nothing by default."""
    most, unit = _ratio(within.value, within.type) if within is not None else (0, 1)
    return abs(a[0] * b[1] - b[0] * a[1]) * unit <= most * a[1] * b[1]
