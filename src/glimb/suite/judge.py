"""Judging: one expectation against one outcome. Says whether it is met, and shows both sides when it is not."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine.outcomes.outcome import Outcome, ResultSet, TransactionEvent
from glimb.engine.storage.changes import Change
from glimb.engine.values.conditions import Condition
from glimb.engine.values.conversion import convert, literal_of
from glimb.engine.values.patterns import like
from glimb.engine.values.types import CLOB, TIME, TIMESTAMP, Type, source_of
from glimb.lang.node import Record
from glimb.suite.expectation import Expectation, Value
from glimb.suite.wording import changes_text, counts_text, failure_text, locks_text, waiting_text


class Cell(Record):
    """A cell of expected and seen rows: its text, and whether both sides agree."""

    text: str
    agrees: bool


class Comparison(Record):
    """Rows side by side: header, expected rows and seen rows, cell by cell. A missing row is empty."""

    header: tuple[str, ...]
    expected: list[list[Cell]]
    seen: list[list[Cell]]


class Verdict(Record):
    """What became of an expectation. `expected` and `seen` are in words; `comparison` shows rows."""

    expectation: Expectation | None
    met: bool
    expected: str
    seen: str
    comparison: Comparison | None = None


Holds = Callable[[str, Outcome], tuple[bool, str]]
"""Evaluates a `holds` condition in the statement's session: whether it is true, and what was seen."""


def same(expected: Value, value: Any, type_: Type, within: Value | None = None) -> bool:
    """Whether a value is the expected one: numbers by value, CHAR without blanks at its end."""
    if expected.value is None or value is None:
        return expected.value is None and value is None
    type_ = source_of(type_)
    if type_.kind in ("array", "row"):
        return _same_parts(expected, value, type_, within)
    if expected.type.is_number and type_.is_number:
        if "approximate" in (expected.type.family, type_.family) and within is None:
            return _as_float(expected.value, expected.type) == _as_float(value, type_)
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


def _as_float(value: Any, type_: Type) -> float:
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


def judge(expectation: Expectation, outcome: Outcome, holds: Holds) -> Verdict:
    """Compare one expectation with what the statement did."""
    if expectation.kind == "holds":
        met, seen = holds(expectation.parts["condition"], outcome)
        return Verdict(expectation, met, expectation.text, seen)
    if expectation.kind in _ABOUT_RESULTS and (outcome.failure is not None or outcome.waiting is not None):
        seen = failure_text(outcome) if outcome.failure is not None else f"it {waiting_text(outcome.waiting)}"
        return Verdict(expectation, False, expectation.text, seen)
    if expectation.kind in _ABOUT_ABSENCE and (outcome.kind == "invalid" or outcome.waiting is not None):
        seen = failure_text(outcome) if outcome.failure is not None else f"it {waiting_text(outcome.waiting)}"
        return Verdict(expectation, False, expectation.text, f"the statement has not run: {seen}")
    return _JUDGES[expectation.kind](expectation, outcome)


# ---- results --------------------------------------------------------------------------------------------------------


def _value(e: Expectation, outcome: Outcome) -> Verdict:
    name, wanted, within = e.parts["name"], e.parts["value"], e.parts["within"]
    text = wanted.text + (f" within {within.text}" if within is not None else "")
    if name:
        for out_name, type_, value in outcome.out:
            if out_name == name:
                met = same(wanted, value, type_, within)
                return Verdict(e, met, f"{name} = {text}", f"{name} = {literal_of(value, type_)}")
        known = ", ".join(n for n, _, _ in outcome.out)
        return Verdict(e, False, e.text, f"no OUT parameter {name}" + (f"; there are {known}" if known else ""))
    if outcome.rows is None:
        if len(outcome.out) == 1:
            _, type_, value = outcome.out[0]
            return Verdict(e, same(wanted, value, type_, within), text, literal_of(value, type_))
        return Verdict(e, False, text, "no value")
    if len(outcome.rows) != 1 or len(outcome.columns) != 1:
        return Verdict(e, False, f"one value, {text}", _size(outcome))
    type_ = outcome.columns[0].type
    value = outcome.rows[0][0]
    return Verdict(e, same(wanted, value, type_, within), text, literal_of(value, type_))


def _size(outcome: Outcome) -> str:
    rows = outcome.rows or []
    return f"{_plural(len(rows), 'row')} of {_plural(len(outcome.columns), 'column')}"


def _plural(count: int, word: str) -> str:
    return f"{count} {word}{'s' * (count != 1)}"


def _rows(e: Expectation, outcome: Outcome) -> Verdict:
    result = _result(e, outcome)
    if result is None:
        return Verdict(e, False, _plural(len(e.rows), "row"), _no_result(e))
    columns = [c.name for c in result[0]]
    header = e.header or tuple(columns)
    unknown = [name for name in e.header if name not in columns]
    if unknown:
        return Verdict(e, False, f"columns {', '.join(header)}", f"columns {', '.join(columns)}")
    if not e.header and len(e.rows[0]) != len(columns):
        width = _plural(len(columns), "column")
        return Verdict(e, False, _plural(len(e.rows[0]), "column"), f"{width}: {', '.join(columns)}")
    picked = [columns.index(name) for name in e.header] or list(range(len(columns)))
    types = [result[0][p].type for p in picked]
    seen = [[row[p] for p in picked] for row in result[1]]
    pairs = _paired(e, seen, types)
    met = all(_row_same(x, s, types) for x, s in pairs)
    expected_text = f"{_plural(len(e.rows), 'row')}{'' if e.parts['mode'] == 'ordered' else ', ' + e.parts['mode']}"
    comparison = None if met else _comparison(header, pairs, types)
    return Verdict(e, met, expected_text, _plural(len(seen), "row"), comparison)


Pair = tuple[tuple[Value, ...] | None, list[Any] | None]


def _row_same(expected: tuple[Value, ...] | None, seen: list[Any] | None, types: list[Type]) -> bool:
    if expected is None or seen is None:
        return False
    return all(same(x, v, t) for x, v, t in zip(expected, seen, types, strict=True))


def _paired(e: Expectation, seen: list[list[Any]], types: list[Type]) -> list[Pair]:
    """Expected rows with the seen rows to hold against them."""
    if e.parts["mode"] == "ordered":
        width = max(len(e.rows), len(seen))
        return [(e.rows[i] if i < len(e.rows) else None, seen[i] if i < len(seen) else None) for i in range(width)]
    matched: list[Pair] = []
    missing: list[tuple[Value, ...]] = []
    rest = dict(enumerate(seen))
    places: dict[Any, list[int]] = {}
    for number, row in enumerate(seen):
        places.setdefault(_first_key(row[0] if row else None, types[0] if types else CLOB), []).append(number)
    certain = bool(types) and types[0].family in ("text", "exact", "approximate", "boolean")
    for expected in e.rows:
        first = expected[0] if expected else Value(None, CLOB, "")
        likely = places.get(_first_key(first.value, first.type), ())
        found = next((i for i in likely if i in rest and _row_same(expected, rest[i], types)), None)
        if found is None and not certain:
            found = next((i for i in rest if _row_same(expected, rest[i], types)), None)
        if found is None:
            missing.append(expected)
        else:
            matched.append((expected, rest.pop(found)))
    if e.parts["mode"] == "include":
        return matched + [(m, None) for m in missing]
    left = list(rest.values())[::-1]
    for expected in missing:
        matched.append((expected, left.pop() if left else None))
    return matched + [(None, row) for row in reversed(left)]


def _first_key(value: Any, type_: Type) -> Any:
    """What equal values of the first column have in common, to find them by; of dates and arrays, mostly."""
    if isinstance(value, str):
        return value.rstrip(" ")
    if type_.is_number and value is not None:
        return _as_float(value, type_)
    return value if isinstance(value, bool | bytes) or value is None else str(value)


def _comparison(header: tuple[str, ...], pairs: list[Pair], types: list[Type]) -> Comparison:
    expected: list[list[Cell]] = []
    seen: list[list[Cell]] = []
    for wanted, row in pairs:
        agree = [
            wanted is not None and row is not None and same(wanted[i], row[i], types[i]) for i in range(len(header))
        ]
        expected.append([Cell(v.text, a) for v, a in zip(wanted, agree, strict=True)] if wanted is not None else [])
        shown = [literal_of(v, t) for v, t in zip(row, types, strict=True)] if row is not None else []
        seen.append([Cell(text, a) for text, a in zip(shown, agree, strict=False)])
    return Comparison(header, expected, seen)


def _no_rows(e: Expectation, outcome: Outcome) -> Verdict:
    count = _rows_counted(e, outcome)
    return Verdict(e, count == 0, "no rows", _no_result(e) if count is None else _plural(count, "row"))


def _count(e: Expectation, outcome: Outcome) -> Verdict:
    count, wanted = _rows_counted(e, outcome), e.parts["count"]
    return Verdict(
        e, count == wanted, _plural(wanted, "row"), _no_result(e) if count is None else _plural(count, "row")
    )


def _result(e: Expectation, outcome: Outcome) -> ResultSet | None:
    """The result set that an expectation is about."""
    number = e.parts["result"]
    return outcome.results[number - 1] if 0 < number <= len(outcome.results) else None


def _no_result(e: Expectation) -> str:
    return f"no result {e.parts['result']}" if e.parts["result"] != 1 else "no result"


def _rows_counted(e: Expectation, outcome: Outcome) -> int | None:
    result = _result(e, outcome)
    if result is not None:
        return len(result[1])
    return outcome.row_count if e.parts["result"] == 1 else None


def _note(e: Expectation, outcome: Outcome) -> Verdict:
    wanted = e.parts["text"]
    return Verdict(e, wanted.value in outcome.notes, f"note {wanted.text}", _notes_text(outcome))


def _notes_text(outcome: Outcome) -> str:
    """The first notes, and how many there are beside them."""
    more = f" and {len(outcome.notes) - 5} more" if len(outcome.notes) > 5 else ""
    return ", ".join(repr(n) for n in outcome.notes[:5]) + more or "no notes"


def _no_notes(e: Expectation, outcome: Outcome) -> Verdict:
    return Verdict(e, not outcome.notes, "no notes", _notes_text(outcome))


# ---- conditions -----------------------------------------------------------------------------------------------------


def _fails(e: Expectation, outcome: Outcome) -> Verdict:
    failure, state = outcome.failure, e.parts["state"]
    if failure is None and outcome.completion == "02000" and state.lower() in ("02000", "not found"):
        met = e.parts["like"] is None and not e.parts["routine"]
        return Verdict(e, met, e.text, "02000: no row was found")
    if failure is None:
        return Verdict(e, False, e.text, "it waits" if outcome.waiting else "no condition")
    met = not state or state in (failure.sqlstate, failure.name.upper(), failure.name) or state.lower() == failure.name
    if e.parts["like"] is not None:
        met = met and like(failure.message, e.parts["like"].value or "")
    if e.parts["routine"]:
        met = met and failure.origin is not None and failure.origin.routine == e.parts["routine"]
    return Verdict(e, met, e.text, failure_text(outcome))


def _deadlock(e: Expectation, outcome: Outcome) -> Verdict:
    failure = outcome.failure
    met = failure is not None and bool(failure.circle)
    return Verdict(e, met, "deadlock", failure_text(outcome))


# ---- changes --------------------------------------------------------------------------------------------------------


def _change(e: Expectation, outcome: Outcome) -> Verdict:
    table = e.parts["table"]
    if "key" in e.parts:
        return _cell_change(e, outcome)
    seen = tuple(outcome.counts().get(table, [0, 0, 0]))
    wanted = e.parts["counts"]
    return Verdict(e, seen == wanted, f"{table} {counts_text(wanted)}", changes_text(outcome))


def _cell_change(e: Expectation, outcome: Outcome) -> Verdict:
    """change TABLE (key) column old -> new."""
    mine = [c for c in outcome.changes if c.table.name == e.parts["table"]]
    column = e.parts["column"]
    for change in mine:
        if _is_key(change, e.parts["key"]):
            position = change.table.positions.get(column)
            if position is None:
                return Verdict(e, False, e.text, f"{change.table.name} has no column {column}")
            type_ = change.table.columns[position].type
            old = change.before[position] if change.before is not None else None
            new = change.after[position] if change.after is not None else None
            met = same(e.parts["old"], old, type_) and same(e.parts["new"], new, type_)
            return Verdict(e, met, e.text, f"{column} {literal_of(old, type_)} -> {literal_of(new, type_)}")
    keys = [f"({', '.join(map(literal_of, c.key, _key_types(c)))})" for c in mine if c.table.primary is not None]
    shown = f"{e.parts['table']} {', '.join(keys[:5])} changed" if keys else changes_text(outcome)
    return Verdict(e, False, e.text, shown + (f", and {len(keys) - 5} more" if len(keys) > 5 else ""))


def _key_types(change: Change) -> list[Type]:
    assert change.table.primary is not None
    return [change.table.columns[c].type for c in change.table.primary.columns]


def _is_key(change: Change, key: tuple[Value, ...]) -> bool:
    table = change.table
    if table.primary is None or len(key) != len(change.key):
        return False
    return all(same(k, v, t) for k, v, t in zip(key, change.key, _key_types(change), strict=True))


def _no_change(e: Expectation, outcome: Outcome) -> Verdict:
    return Verdict(e, not outcome.changes, "no change", changes_text(outcome))


# ---- locks and transactions -----------------------------------------------------------------------------------------


def key_text(key: tuple[Value, ...]) -> str:
    """A key as locks show it."""
    return f"({', '.join(literal_of(v.value, v.type) for v in key)})"


def _same_key(shown: str, key: tuple[Value, ...]) -> bool:
    """Whether a lock's key is the expected one; CHAR is shown padded."""
    wanted = key_text(key)
    return shown.replace(" ", "") == wanted.replace(" ", "")


def _lock(e: Expectation, outcome: Outcome) -> Verdict:
    p = e.parts
    met = any(
        held.kind == p["kind"]
        and held.table == p["table"]
        and held.mode == p["mode"]
        and (p["kind"] == "table" or _same_key(held.key, p["key"]))
        for held in outcome.locks
    )
    return Verdict(e, met, e.text, locks_text(outcome))


def _no_locks(e: Expectation, outcome: Outcome) -> Verdict:
    return Verdict(e, not outcome.locks, "no locks", locks_text(outcome))


def _waits(e: Expectation, outcome: Outcome) -> Verdict:
    waiting, p = outcome.waiting or outcome.waited, e.parts
    met = waiting is not None and p["session"] in waiting.sessions
    if met and waiting is not None and p["table"]:
        met = waiting.table == p["table"] and (not p["key"] or _same_key(waiting.key, p["key"]))
    seen = waiting_text(waiting) if outcome.failure is None or waiting else failure_text(outcome)
    return Verdict(e, met, e.text, seen)


def _wakes(e: Expectation, outcome: Outcome) -> Verdict:
    seen = f"wakes {', '.join(outcome.wakes)}" if outcome.wakes else "wakes nobody"
    return Verdict(e, e.parts["session"] in outcome.wakes, e.text, seen)


def _state(wanted: str) -> Callable[[Expectation, Outcome], Verdict]:
    shown = {"none": "no transaction", "open": "open", "committed": "committed", "rolled back": "rolled back"}
    return lambda e, outcome: Verdict(e, outcome.transaction == wanted, wanted, shown[outcome.transaction])


def _to_savepoint(e: Expectation, outcome: Outcome) -> Verdict:
    met = TransactionEvent("to savepoint", e.parts["name"]) in outcome.events
    seen = [str(x) for x in outcome.events if x.kind == "to savepoint"]
    return Verdict(e, met, e.text, ", ".join(seen) or "not rolled back to a savepoint")


_JUDGES: dict[str, Callable[[Expectation, Outcome], Verdict]] = {
    "value": _value,
    "rows": _rows,
    "no rows": _no_rows,
    "count": _count,
    "note": _note,
    "no notes": _no_notes,
    "fails": _fails,
    "deadlock": _deadlock,
    "change": _change,
    "no change": _no_change,
    "lock": _lock,
    "no locks": _no_locks,
    "waits": _waits,
    "wakes": _wakes,
    "open": _state("open"),
    "committed": _state("committed"),
    "rolled back": _state("rolled back"),
    "to savepoint": _to_savepoint,
}
_ABOUT_ABSENCE = ("no notes", "no change")
"""What a statement has not done only when it has run."""
_ABOUT_RESULTS = ("value", "rows", "no rows", "count")
