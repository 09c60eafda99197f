"""IN, ALL and ANY over the rows of a subquery, what subqueries have found before, and rows found in several ways, as
generated code calls them (9075-2 clauses 8.4 and 8.9)."""

from __future__ import annotations

import operator
from collections.abc import Callable
from functools import partial
from typing import Any

from glimb.engine.values.library import equal_parts, not3


def is_in(value: Any, found: tuple[set[Any], bool, bool]) -> bool | None:
    """IN over the set of a query's values: (values, whether a NULL was among them, whether there were any rows)."""
    values, has_null, any_rows = found
    if not any_rows:
        return False
    if isinstance(value, tuple):
        return _is_in_rows(value, values)
    if value is None:
        return None
    if value in values:
        return True
    return None if has_null else False


def _is_in_rows(value: tuple[Any, ...], values: set[Any]) -> bool | None:
    """Row IN: unknown when a comparison with some row is."""
    if None not in value and value in values:
        return True
    for row in values:
        if len(row) == len(value) and (None in row or None in value):
            if all(a is None or b is None or a == b for a, b in zip(value, row, strict=True)):
                return None
    return False


def is_in_list(value: Any, items: tuple[Any, ...]) -> bool | None:
    """IN over a list of values."""
    if value is None:
        return None
    if value in items:
        return True
    return None if None in items else False


_COMPARE: dict[str, Callable[[Any, Any], bool | None]] = {
    "==": operator.eq,
    "!=": operator.ne,
    "<": operator.lt,
    "<=": operator.le,
    ">": operator.gt,
    ">=": operator.ge,
}


class Found(list[Any]):
    """The values of a subquery, which are compared with others again and again."""

    _ends: tuple[Any, Any, bool] | None = None

    def ends(self) -> tuple[Any, Any, bool]:
        """The least and the greatest that is not NULL (None: all are), and whether there are NULLs."""
        if self._ends is None:
            known = [v for v in self if v is not None]
            self._ends = (min(known), max(known), len(known) < len(self)) if known else (None, None, True)
        return self._ends


_DECIDED_BY: dict[tuple[str, bool], str] = {
    ("<", True): "low",
    ("<=", True): "low",
    (">", True): "high",
    (">=", True): "high",
    ("<", False): "high",
    ("<=", False): "high",
    (">", False): "low",
    (">=", False): "low",
}
"""Which end of all values decides over ALL (True) and ANY."""


def _by_ends(value: Any, sign: str, every: bool, found: Found) -> bool | None:
    low, high, has_null = found.ends()
    if low is None:
        return None
    end = _DECIDED_BY.get((sign, every))
    if end is not None:
        result = _COMPARE[sign](value, low if end == "low" else high)
    else:  # = ALL, <> ANY: all the same as this one, or not
        result = (low == value == high) == (sign == "==")
    return result if not has_null or result != every else None


class Quantifier:
    """`quantified` over the values of a subquery that is run when the first value is compared with it. Where one of its
    ends decides for all that is not NULL, `is_limit` says so, and generated code compares with `limit` itself."""

    __slots__ = ("every", "find", "found", "is_limit", "limit", "sign")

    def __init__(self, find: Callable[[], Found], sign: str, every: bool) -> None:
        self.find, self.sign, self.every = find, sign, every
        self.found: Found | None = None
        self.is_limit = False
        self.limit: Any = None

    def __call__(self, value: Any) -> bool | None:
        if self.found is None:
            self.found = self.find()
            self._find_limit(self.found)
        return quantified(value, self.sign, self.every, self.found)

    def _find_limit(self, found: Found) -> None:
        end = _DECIDED_BY.get((self.sign, self.every))
        if found and end is not None:
            low, high, has_null = found.ends()
            self.is_limit, self.limit = not has_null, low if end == "low" else high


def either_rows(*found: Any) -> Any:
    """The rows that several look-ups have found, each once, in the order of their row ids."""
    some = [rows for rows in found if rows]
    if len(some) < 2:
        return some[0] if some else ()
    once = {row[-1]: row for rows in some for row in rows}
    return [once[number] for number in sorted(once)]


def quantified(value: Any, sign: str, every: bool, found: list[Any]) -> bool | None:
    """Clause 8.9: ALL is true over no rows, ANY is false."""
    if not found:
        return every
    compare = _COMPARE[sign]
    if isinstance(value, tuple):
        compare = partial(compare_rows, sign)
    elif value is None:
        return None
    elif isinstance(found, Found):
        return _by_ends(value, sign, every, found)
    unknown = False
    for item in found:
        result = None if item is None else compare(value, item)
        if result is None:
            unknown = True
        elif result != every:
            return not every
    return None if unknown else every


def compare_rows(sign: str, left: tuple[Any, ...], right: tuple[Any, ...]) -> bool | None:
    """Comparison of rows (clause 8.2), from the left: the first fields that differ decide."""
    if sign in ("==", "!="):
        same = equal_parts(left, right)
        return same if sign == "==" else not3(same)
    for a, b in zip(left[:-1], right[:-1], strict=True):
        if a is None or b is None:
            return None
        if a != b:
            return _COMPARE[sign[0]](a, b)
    last = left[-1], right[-1]
    return None if None in last else _COMPARE[sign](*last)


def remembered(memo: dict[Any, Any], function: Any, s: Any, d: int, *arguments: Any) -> Any:
    """The result of a subquery for these outer values, computed once a statement. Its hash tables are kept beside."""
    try:
        return memo[arguments]
    except KeyError:
        result = memo[arguments] = function(s, d, memo, *arguments)
        return result
