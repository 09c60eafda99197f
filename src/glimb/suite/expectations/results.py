"""What a statement gives: `value`, `rows`, `no rows`, `count`."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from glimb.engine.outcomes.outcome import Outcome, ResultColumn, ResultSet
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import BIGINT, CLOB, INTEGER, Type
from glimb.lang.node import Record
from glimb.suite.expectations.comparing import as_float, same
from glimb.suite.expectations.kind import Around, Cell, Comparison, Expectation, Kind, Verdict
from glimb.suite.expectations.line import NAME, Line, Value, name_text

MOST_ROWS = 10
MOST_OF_A_ROW = 200
"""More rows, or longer ones, are pinned as their count."""


# ---- value


class OneValue(Record):
    """The only value, or that of an OUT parameter; `within` is how far a number may be off."""

    name: str
    value: Value
    within: Value | None


def _read_value(line: Line) -> OneValue:
    name = ""
    if re.match(rf"{NAME}\s*=", line.rest):
        name = line.name("the name of a parameter")
        line.until("=")
        line.at += 1
    text = line.until(" within ")
    if not text:
        line.fail("a value is missing")
    line.at -= len(text)
    if " | " in "".join(text.split("'")[::2]):
        line.fail("value takes one value", f"--> rows, and below it -->   {text}")
    value = line.literal(" within ")
    return OneValue(name, value, line.literal(" ") if line.accept("within") else None)


def _judge_value(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: OneValue = e.says
    name, wanted, within = says.name, says.value, says.within
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


def _pin_values(outcome: Outcome) -> Iterator[str]:
    for name, type_, value in outcome.out:
        yield f"value {name_text(name)} = {literal_of(value, type_)}"
    if not outcome.out:
        for name, type_, value in outcome.given:
            yield f"holds :{name} IS NULL" if value is None else f"holds :{name} = {literal_of(value, type_)}"


def _value_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    """The value in the place of the expected one, as near as that had to be."""
    says: OneValue = e.says
    within = _within(says.within)
    if says.name:
        yield from (f"value {name_text(n)} = {literal_of(v, t)}{within}" for n, t, v in outcome.out if n == says.name)
    elif outcome.rows is None and len(outcome.out) == 1:
        _, type_, value = outcome.out[0]
        yield f"value {literal_of(value, type_)}{within}"
    elif outcome.rows is not None:
        yield from _pin_result(outcome.columns, outcome.rows, 1, within)


def _count_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    count = _rows_counted(e, outcome)
    which = f" of result {e.says.result}" if e.says.result != 1 else ""
    if count is not None:
        yield f"count {count}{which}"


def _none_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    result = _result(e, outcome)
    if result is not None:
        yield from _pin_result(*result, e.says.result)


def _rows_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    result, says = _result(e, outcome), e.says
    if result is not None:
        order = " in any order" if says.mode == "any order" else ""
        yield from _pin_result(*result, says.result, _within(says.within), order)


def _within(within: Value | None) -> str:
    return f" within {within.text}" if within is not None else ""


# ---- rows


class Rows(Record):
    """Which result set of a CALL, and how its rows are compared: `ordered`, `any order`, `include`; `within` is how far
    a number may be off."""

    mode: str
    result: int
    within: Value | None = None


def _of_result(line: Line) -> int:
    """Which of the result sets of a CALL: `of result 2`, the first where nothing is said."""
    if not line.accept("of"):
        return 1
    if not line.accept("result"):
        line.fail("found something else", "rows of result 2")
    return line.number("the number of a result set")


def _read_rows(line: Line) -> Rows:
    mode, which = "ordered", _of_result(line)
    if line.accept("include"):
        mode = "include"
    elif line.accept("in"):
        for word in ("any", "order"):
            if not line.accept(word):
                line.fail("found something else", "rows in any order")
        mode = "any order"
    which = which if which != 1 else _of_result(line)
    return Rows(mode, which, line.literal("\n") if line.accept("within") else None)


def _judge_rows(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
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
    picked = _picked(list(columns), e.header) or list(range(len(columns)))
    types = [result[0][p].type for p in picked]
    seen = [[row[p] for p in picked] for row in result[1]]
    pairs = _paired(e, seen, types)
    met = all(_row_same(x, s, types, e.says.within) for x, s in pairs)
    expected_text = f"{_plural(len(e.rows), 'row')}{'' if e.says.mode == 'ordered' else ', ' + e.says.mode}"
    comparison = None if met else _comparison(header, pairs, types, e.says.within)
    return Verdict(e, met, expected_text, _plural(len(seen), "row"), comparison)


def _picked(columns: list[str], header: tuple[str, ...]) -> list[int]:
    """The positions of the columns that are named; a name that stands again means the next column of that name, and the
    last one where there is no further."""
    found: list[int] = []
    for name in header:
        places = [at for at, column in enumerate(columns) if column == name]
        found.append(next((at for at in places if at not in found), places[-1]))
    return found


Pair = tuple[tuple[Value, ...] | None, list[Any] | None]


def _row_same(
    expected: tuple[Value, ...] | None, seen: list[Any] | None, types: list[Type], within: Value | None = None
) -> bool:
    if expected is None or seen is None:
        return False
    return all(same(x, v, t, within) for x, v, t in zip(expected, seen, types, strict=True))


def _paired(e: Expectation, seen: list[list[Any]], types: list[Type]) -> list[Pair]:
    """Expected rows with the seen rows to hold against them."""
    if e.says.mode == "ordered":
        width = max(len(e.rows), len(seen))
        return [(e.rows[i] if i < len(e.rows) else None, seen[i] if i < len(seen) else None) for i in range(width)]
    if e.says.within is not None or any(v.anything for row in e.rows for v in row):
        return _matched(e, seen, types)
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
    return _with_rest(e, matched, missing, list(rest.values()))


def _matched(e: Expectation, seen: list[list[Any]], types: list[Type]) -> list[Pair]:
    """Pairs where a row may fit several: as many as there can be, by augmenting paths (Kuhn, 1955)."""
    fits = [[n for n, row in enumerate(seen) if _row_same(x, row, types, e.says.within)] for x in e.rows]
    taken: dict[int, int] = {}
    """By the number of a seen row: that of the expected one that has it."""

    def place(expected: int, tried: set[int]) -> bool:
        for row in fits[expected]:
            if row not in tried:
                tried.add(row)
                if row not in taken or place(taken[row], tried):
                    taken[row] = expected
                    return True
        return False

    for number in range(len(e.rows)):
        place(number, set())
    rows = {expected: row for row, expected in taken.items()}
    matched: list[Pair] = [(x, seen[rows[n]]) for n, x in enumerate(e.rows) if n in rows]
    missing = [x for n, x in enumerate(e.rows) if n not in rows]
    return _with_rest(e, matched, missing, [row for n, row in enumerate(seen) if n not in taken])


def _with_rest(
    e: Expectation, matched: list[Pair], missing: list[tuple[Value, ...]], rest: list[list[Any]]
) -> list[Pair]:
    """Behind the pairs that agree: what was expected and is not there, beside what is there and was not expected."""
    if e.says.mode == "include":
        return matched + [(m, None) for m in missing]
    left = rest[::-1]
    for expected in missing:
        matched.append((expected, left.pop() if left else None))
    return matched + [(None, row) for row in reversed(left)]


def _first_key(value: Any, type_: Type) -> Any:
    """What equal values of the first column have in common, to find them by; of dates and arrays, mostly."""
    if isinstance(value, str):
        return value.rstrip(" ")
    if type_.is_number and value is not None:
        return as_float(value, type_)
    return value if isinstance(value, bool | bytes) or value is None else str(value)


def _comparison(header: tuple[str, ...], pairs: list[Pair], types: list[Type], within: Value | None) -> Comparison:
    expected: list[list[Cell]] = []
    seen: list[list[Cell]] = []
    for wanted, row in pairs:
        agree = [
            wanted is not None and row is not None and same(wanted[i], row[i], types[i], within)
            for i in range(len(header))
        ]
        expected.append([Cell(v.text, a) for v, a in zip(wanted, agree, strict=True)] if wanted is not None else [])
        shown = [literal_of(v, t) for v, t in zip(row, types, strict=True)] if row is not None else []
        seen.append([Cell(text, a) for text, a in zip(shown, agree, strict=False)])
    return Comparison(header, expected, seen)


def _pin_rows(outcome: Outcome) -> Iterator[str]:
    for number, (columns, rows) in enumerate(outcome.results, 1):
        yield from _pin_result(columns, rows, number)


def _pin_result(
    columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]], number: int, within: str = "", order: str = ""
) -> Iterator[str]:
    """A result set, the first or a later one; as near and in the order that was expected."""
    which = f" of result {number}" if number > 1 else ""
    if not rows:
        yield f"no rows{which}"
        return
    if len(rows) == 1 and len(columns) == 1 and not which:
        yield f"value {literal_of(rows[0][0], columns[0].type)}{within}"
        return
    lines = _cells(columns, rows) if len(rows) <= MOST_ROWS else []
    if len(rows) > MOST_ROWS or any(len(line) > MOST_OF_A_ROW for line in lines):
        yield f"count {len(rows)}{which}"
    else:
        yield f"rows{which}{order}{within}"
        yield from lines


def _cells(columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]]) -> list[str]:
    """Rows as lines, their cells below one another."""
    texts = [[literal_of(v, c.type) for v, c in zip(row, columns, strict=True)] for row in rows]
    widths = [max(len(cell) for cell in column) for column in zip(*texts, strict=True)]
    return ["  " + " | ".join(c.ljust(w) for c, w in zip(row, widths, strict=True)).rstrip() for row in texts]


# ---- numbers of rows


class Counted(Record):
    """How many rows a result has, or have been changed."""

    count: Value
    result: int


def _read_no_rows(line: Line) -> Counted:
    return Counted(Value(0, INTEGER, "0"), _of_result(line))


def _read_count(line: Line) -> Counted:
    if line.peek().isidentifier():
        line.fail(f"`{line.peek()}` is not a number of rows")
    count = line.literal(" of ")
    if not count.asks and (not count.type.is_integer or count.value is None or count.value < 0):
        line.fail(f"`{count.text}` is not a number of rows")
    return Counted(count, _of_result(line))


def _judge_no_rows(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    count = _rows_counted(e, outcome)
    return Verdict(e, count == 0, "no rows", _no_result(e) if count is None else _plural(count, "row"))


def _judge_count(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    count, wanted = _rows_counted(e, outcome), e.says.count
    met = count is not None and same(wanted, count, BIGINT)
    text = f"{wanted.text} rows" if wanted.text != "1" else "1 row"
    return Verdict(e, met, text, _no_result(e) if count is None else _plural(count, "row"))


def _result(e: Expectation, outcome: Outcome) -> ResultSet | None:
    """The result set that an expectation is about."""
    number = e.says.result
    return outcome.results[number - 1] if 0 < number <= len(outcome.results) else None


def _no_result(e: Expectation) -> str:
    return f"no result {e.says.result}" if e.says.result != 1 else "no result"


def _rows_counted(e: Expectation, outcome: Outcome) -> int | None:
    result = _result(e, outcome)
    if result is not None:
        return len(result[1])
    return outcome.row_count if e.says.result == 1 else None


KINDS = (
    Kind("no rows", _judge_no_rows, _read_no_rows, asks="result", covers="empty result", seen=_none_seen),
    Kind("rows", _judge_rows, _read_rows, _pin_rows, asks="result", covers="result", seen=_rows_seen),
    Kind("value", _judge_value, _read_value, _pin_values, asks="result", covers="result", seen=_value_seen),
    Kind("count", _judge_count, _read_count, asks="result", covers="result", seen=_count_seen),
)
