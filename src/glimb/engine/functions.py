"""Built-in functions and set functions: their arguments, result types and code (ISO/IEC 9075-2 clauses 6.28 to 6.33).

A strict function gives NULL when an argument is NULL, so its code only sees values. The code is a Python expression
with {0}, {1}, ... for the arguments; helpers it calls are the functions of this module and of `values`.
"""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Callable
from functools import lru_cache
from operator import itemgetter
from typing import Any, NamedTuple

from glimb.engine import types as T
from glimb.engine.conditions import Condition, fail
from glimb.engine.types import Type
from glimb.engine.values import check_float


class Builtin(NamedTuple):
    """One way to call a built-in function: families of the arguments (`...` repeats the last, `?` makes optional)."""

    families: tuple[str, ...]
    result: Callable[[list[Type]], Type]
    code: str
    optional: int = 0
    as_double: bool = False


def _same(types: list[Type]) -> Type:
    return types[0]


def _fixed(type_: Type) -> Callable[[list[Type]], Type]:
    return lambda types: type_


def _text_like(types: list[Type]) -> Type:
    return T.CLOB if types[0].kind == "clob" else T.varchar(T.length(types[0]))


def _whole(types: list[Type]) -> Type:
    """Type of FLOOR, CEILING: same digits, none behind the point."""
    if types[0].kind == "decimal":
        return T.decimal(types[0].size - types[0].scale + 1, 0)
    return types[0]


_INT, _DBL, _BOOL = _fixed(T.INTEGER), _fixed(T.DOUBLE), _fixed(T.BOOLEAN)
_MATH = {
    "sqrt": "sql_sqrt({0})",
    "exp": "check_float(safe_float(math.exp, {0}))",
    "ln": "sql_ln({0})",
    "log10": "sql_ln({0}) / 2.302585092994046",
    "sin": "math.sin({0})",
    "cos": "math.cos({0})",
    "tan": "math.tan({0})",
    "asin": "arc(math.asin, {0})",
    "acos": "arc(math.acos, {0})",
    "atan": "math.atan({0})",
    "sinh": "check_float(safe_float(math.sinh, {0}))",
    "cosh": "check_float(safe_float(math.cosh, {0}))",
    "tanh": "math.tanh({0})",
}

BUILTINS: dict[str, tuple[Builtin, ...]] = {
    "abs": (
        Builtin(("number",), _same, "abs({0})"),
        Builtin(("months",), _same, "abs({0})"),
        Builtin(("micros",), _same, "abs({0})"),
    ),
    "mod": (Builtin(("exact", "exact"), lambda t: t[1], "sql_mod({0}, {1})"),),
    "sign": (Builtin(("number",), _INT, "(({0} > 0) - ({0} < 0))"),),
    "floor": (
        Builtin(("exact",), _whole, "({0} // {scale})"),
        Builtin(("approximate",), _DBL, "float(math.floor({0}))"),
    ),
    "ceiling": (
        Builtin(("exact",), _whole, "(-(-{0} // {scale}))"),
        Builtin(("approximate",), _DBL, "float(math.ceil({0}))"),
    ),
    "round": (
        Builtin(("exact", "integer"), _same, "sql_round({0}, {1}, {digits})", optional=1),
        Builtin(("approximate", "integer"), _DBL, "sql_round_float({0}, {1})", optional=1),
    ),
    "power": (Builtin(("number", "number"), _DBL, "sql_power({0}, {1})", as_double=True),),
    "log": (Builtin(("number", "number"), _DBL, "(sql_ln({1}) / sql_ln({0}))", as_double=True),),
    **{name: (Builtin(("number",), _DBL, code, as_double=True),) for name, code in _MATH.items()},
    "char_length": (Builtin(("text",), _INT, "len({0})"),),
    "octet_length": (Builtin(("text",), _INT, "len({0}.encode())"), Builtin(("bytes",), _INT, "len({0})")),
    "upper": (Builtin(("text",), _text_like, "{0}.upper()"),),
    "lower": (Builtin(("text",), _text_like, "{0}.lower()"),),
    "substring": (Builtin(("text", "integer", "integer"), _text_like, "sql_substring({0}, {1}, {2})", optional=1),),
    "position": (Builtin(("text", "text"), _INT, "({1}.find({0}) + 1)"),),
    "overlay": (
        Builtin(
            ("text", "text", "integer", "integer"),
            lambda t: T.varchar(T.length(t[0]) + T.length(t[1])),
            "sql_overlay({0}, {1}, {2}, {3})",
            optional=1,
        ),
    ),
    "trim_both": (Builtin(("text", "text"), _text_like, "{0}.strip(trim_character({1}))"),),
    "trim_leading": (Builtin(("text", "text"), _text_like, "{0}.lstrip(trim_character({1}))"),),
    "trim_trailing": (Builtin(("text", "text"), _text_like, "{0}.rstrip(trim_character({1}))"),),
    "reverse": (Builtin(("text",), _text_like, "{0}[::-1]"),),
    "repeat": (Builtin(("text", "integer"), _fixed(T.CLOB), "sql_repeat({0}, {1})"),),
    "truncate": (Builtin(("exact", "integer"), _same, "sql_truncate({0}, {1}, {digits})"),),
    "replace": (Builtin(("text", "text", "text"), _fixed(T.CLOB), "sql_replace({0}, {1}, {2})"),),
    "left": (Builtin(("text", "integer"), _text_like, "{0}[:max(0, {1})]"),),
    "right": (Builtin(("text", "integer"), _text_like, "sql_right({0}, {1})"),),
    "lpad": (Builtin(("text", "integer", "text"), _fixed(T.CLOB), "sql_pad({0}, {1}, {2}, True)", optional=1),),
    "rpad": (Builtin(("text", "integer", "text"), _fixed(T.CLOB), "sql_pad({0}, {1}, {2}, False)", optional=1),),
    "extract_year": (
        *tuple(Builtin((f,), _INT, "{0}.year") for f in ("date", "timestamp")),
        Builtin(("months",), _INT, "divide({0}, 12)"),
    ),
    "extract_month": (
        *tuple(Builtin((f,), _INT, "{0}.month") for f in ("date", "timestamp")),
        Builtin(("months",), _INT, "({0} - 12 * divide({0}, 12))"),
    ),
    "extract_day": (
        *tuple(Builtin((f,), _INT, "{0}.day") for f in ("date", "timestamp")),
        Builtin(("micros",), _INT, "interval_field({0}, 86_400_000_000, 0)"),
    ),
    "extract_hour": (
        *tuple(Builtin((f,), _INT, "{0}.hour") for f in ("time", "timestamp")),
        Builtin(("micros",), _INT, "interval_field({0}, 3_600_000_000, 24)"),
    ),
    "extract_minute": (
        *tuple(Builtin((f,), _INT, "{0}.minute") for f in ("time", "timestamp")),
        Builtin(("micros",), _INT, "interval_field({0}, 60_000_000, 60)"),
    ),
    "extract_second": (
        *tuple(
            Builtin((f,), _fixed(T.decimal(8, 6)), "({0}.second * 1_000_000 + {0}.microsecond)")
            for f in ("time", "timestamp")
        ),
        Builtin(("micros",), _fixed(T.decimal(8, 6)), "({0} - 60_000_000 * divide({0}, 60_000_000))"),
    ),
}
ALIASES = {
    "character_length": "char_length",
    "length": "char_length",
    "ceil": "ceiling",
    "pow": "power",
    "substr": "substring",
    "ltrim": "trim_leading",
    "rtrim": "trim_trailing",
    "btrim": "trim_both",
    "ucase": "upper",
    "lcase": "lower",
    "trunc": "truncate",
    "year": "extract_year",
    "month": "extract_month",
    "day": "extract_day",
    "hour": "extract_hour",
    "minute": "extract_minute",
    "second": "extract_second",
}
CLOCK: dict[str, tuple[Type, str]] = {
    "current_date": (T.DATE, "s.now().date()"),
    "current_time": (T.TIME, "s.now().time()"),
    "localtime": (T.TIME, "s.now().time()"),
    "current_timestamp": (T.TIMESTAMP, "s.now()"),
    "localtimestamp": (T.TIMESTAMP, "s.now()"),
}
NO_ROWS: dict[int, Any] = {}
AGGREGATES = frozenset(("count", "sum", "avg", "min", "max", "every", "any", "some", "any_value"))


RANKS = frozenset(("row_number", "rank", "dense_rank", "percent_rank", "cume_dist"))
PICKS = frozenset(("lag", "lead", "first_value", "last_value", "nth_value"))
WINDOW_FUNCTIONS = RANKS | PICKS | {"ntile"}


def fits(family: str, type_: Type) -> bool:
    """Whether a type may be an argument of this family."""
    if type_.kind == "null" or type_.family == family:
        return True
    if family == "number":
        return type_.is_number
    return family == "integer" and type_.is_integer


def aggregate_type(function: str, argument: Type) -> Type | None:
    """Result type of a set function (clause 10.9); None when it does not take such an argument."""
    if function in ("min", "max", "any_value"):
        return argument if argument.kind != "boolean" or function == "any_value" else None
    if function in ("every", "any", "some"):
        return T.BOOLEAN if argument.kind in ("boolean", "null") else None
    if argument.family in ("months", "micros", "null"):
        return argument
    if argument.family == "approximate":
        return T.DOUBLE
    if argument.family != "exact":
        return None
    if function == "avg":
        return T.decimal(T.MAX_PRECISION, max(6, argument.scale if argument.kind == "decimal" else 0))
    if argument.kind in ("smallint", "integer"):
        return T.BIGINT
    return T.decimal(T.MAX_PRECISION, argument.scale if argument.kind == "decimal" else 0)


# ---- helpers that the code above calls ------------------------------------------------------------------------------


def sql_mod(left: int, right: int) -> int:
    """Remainder with the sign of the dividend."""
    rest = abs(left) % abs(right)
    return -rest if left < 0 else rest


def sql_round(value: int, places: int, digits: int) -> int:
    """Round a scaled number with `digits` behind the point to `places`, half away from zero."""
    if places >= digits:
        return value
    if digits - places > 60:
        return 0
    unit: int = 10 ** (digits - places)
    rounded = (abs(value) + unit // 2) // unit * unit
    return -rounded if value < 0 else rounded


def sql_round_float(value: float, places: int) -> float:
    return round(value, max(-400, min(400, places)))


def sql_sqrt(value: float) -> float:
    if value < 0:
        fail("2201F", "SQRT of a negative number")
    return math.sqrt(value)


def sql_ln(value: float) -> float:
    if value <= 0:
        fail("2201E", "logarithm of a number that is not positive")
    return math.log(value)


def sql_power(base: float, exponent: float) -> float:
    """POWER, clause 6.28: 2201F where it has no value."""
    if (base == 0 and exponent < 0) or (base < 0 and exponent != int(exponent)):
        fail("2201F", f"POWER({base:g}, {exponent:g}) has no value")
    return check_float(safe_float(math.pow, base, exponent))


def safe_float(function: Callable[..., float], *arguments: float) -> float:
    """Call a function of `math`; an overflow gives infinity, for check_float to see."""
    try:
        return function(*arguments)
    except OverflowError:
        return math.inf


def arc(function: Callable[[float], float], value: float) -> float:
    if not -1 <= value <= 1:
        fail("22003", "the argument is out of range")
    return function(value)


def sql_substring(text: str, start: int, count: int | None = None) -> str:
    """Clause 6.30: counts from 1; positions outside the text are empty; a negative length is 22011."""
    begin = start - 1
    if count is None:
        return text[max(0, begin) :]
    if count < 0:
        fail("22011", "SUBSTRING of a negative length")
    return text[max(0, begin) : max(0, begin + count)]


def sql_overlay(text: str, placed: str, start: int, count: int | None = None) -> str:
    """Clause 6.30, as SUBSTRING before || placed || SUBSTRING behind."""
    width = len(placed) if count is None else count
    return sql_substring(text, 1, start - 1) + placed + sql_substring(text, start + width)


def sql_replace(text: str, old: str, new: str) -> str:
    """Every `old` in the text replaced; nothing to look for leaves it as it is."""
    return text.replace(old, new) if old else text


def sql_repeat(text: str, count: int) -> str:
    if len(text) * count > T.MAX_LENGTH:
        fail("22001", f"a text of {len(text) * count} characters is too long")
    return text * max(0, count)


def sql_truncate(value: int, places: int, digits: int) -> int:
    """Cut a scaled number with `digits` behind the point after `places`."""
    if places >= digits:
        return value
    unit: int = 10 ** min(digits - places, 60)
    kept = abs(value) // unit * unit
    return -kept if value < 0 else kept


def sql_right(text: str, count: int) -> str:
    return text[-count:] if count > 0 else ""


def sql_pad(text: str, width: int, fill: str = " ", left: bool = True) -> str:
    """Fill up to `width`, or cut to it."""
    if width > T.MAX_LENGTH:
        fail("22001", f"a text of {width} characters is too long")
    missing = width - len(text)
    if missing <= 0:
        return text[: max(0, width)]
    padding = (fill * (missing // len(fill) + 1))[:missing] if fill else ""
    return padding + text if left else text + padding


def trim_character(text: str) -> str:
    """The one character that TRIM removes: 22027 for any other number of them."""
    if len(text) != 1:
        fail("22027", f"TRIM removes one character, not '{text[:20]}'")
    return text


def interval_field(value: int, unit: int, modulus: int) -> int:
    """A field of a day-time interval."""
    amount = abs(value) // unit
    amount = amount % modulus if modulus else amount
    return -amount if value < 0 else amount


@lru_cache(maxsize=256)
def like_pattern(pattern: str, escape: str | None) -> re.Pattern[str]:
    """The regular expression of a LIKE pattern (clause 8.5)."""
    if escape is not None and len(escape) != 1:
        fail("22019", f"ESCAPE is one character, not '{escape[:20]}'")
    parts = []
    characters = iter(pattern)
    for character in characters:
        if character == escape:
            literal = next(characters, "")
            if literal not in ("%", "_", escape) or not literal:
                fail("22025", f"'{escape}' in LIKE must be followed by %, _ or itself")
            parts.append(re.escape(literal))
        else:
            parts.append({"%": ".*", "_": "."}.get(character) or re.escape(character))
    return re.compile("".join(parts), re.DOTALL)


def like(text: str, pattern: str, escape: str | None = None) -> bool:
    """Whether the whole text fits the pattern."""
    return like_pattern(pattern, escape).fullmatch(text) is not None


def average(values: list[Any], shift: int) -> int:
    """Mean of scaled numbers with `shift` more digits, rounded half away from zero."""
    top: int = sum(values) * 10**shift
    count = len(values)
    quotient, rest = divmod(abs(top), count)
    if rest * 2 >= count:
        quotient += 1
    return -quotient if top < 0 else quotient


def same_row_error(rows: list[Any]) -> None:
    """A query used as one value has given several rows."""
    raise Condition("21000", f"the query gives {len(rows)} rows where one may be")


def row_limit(value: int | None, sqlstate: str, least: int) -> int:
    """Checked count of FETCH FIRST or OFFSET."""
    if value is None:
        fail("22004", "NULL is no number of rows")
    if value < least:
        fail(sqlstate, f"{value} is no number of rows here")
    return value


def with_ties(rows: list[Any], keys: tuple[tuple[int, bool, bool], ...], offset: int, count: int) -> int:
    """How many rows FETCH FIRST ... WITH TIES gives: those that sort like the last one come along."""
    end = offset + count
    if not count > 0 or end >= len(rows):
        return count
    last = [rows[end - 1][index] for index, _, _ in keys]
    while end < len(rows) and [rows[end][index] for index, _, _ in keys] == last:
        end += 1
    return end - offset


def set_except(left: list[Any], right: list[Any], every: bool) -> list[Any]:
    """EXCEPT: rows of the left side that are not on the right; ALL counts them."""
    if not every:
        taken = set(right)
        return [row for row in dict.fromkeys(left) if row not in taken]
    counts = Counter(right)
    kept = []
    for row in left:
        if counts[row] > 0:
            counts[row] -= 1
        else:
            kept.append(row)
    return kept


def set_intersect(left: list[Any], right: list[Any], every: bool) -> list[Any]:
    """INTERSECT: rows on both sides; ALL as often as on the side with fewer."""
    if not every:
        common = set(right)
        return [row for row in dict.fromkeys(left) if row in common]
    counts = Counter(right)
    kept = []
    for row in left:
        if counts[row] > 0:
            counts[row] -= 1
            kept.append(row)
    return kept


def sort_rows(rows: list[Any], keys: tuple[tuple[int, bool, bool], ...]) -> None:
    """Sort in place by columns (index, descending, nulls first), stable, the last key first."""
    for index, descending, nulls_first in reversed(keys):
        if any(row[index] is None for row in rows):
            rows.sort(key=_null_key(index, nulls_first != descending), reverse=descending)
        else:
            rows.sort(key=itemgetter(index), reverse=descending)


def _null_key(index: int, nulls_low: bool) -> Callable[[Any], tuple[bool, Any]]:
    """Sort key of a column with NULLs in it, which sort below or above all values."""

    def key(row: Any) -> tuple[bool, Any]:
        value = row[index]
        return (value is None) != nulls_low, 0 if value is None else value

    return key


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
        if None in row or None in value:
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


def not3(value: bool | None) -> bool | None:
    """NOT in three-valued logic."""
    return None if value is None else not value


_COMPARE: dict[str, Callable[[Any, Any], bool]] = {
    "==": lambda a, b: a == b,
    "!=": lambda a, b: a != b,
    "<": lambda a, b: a < b,
    "<=": lambda a, b: a <= b,
    ">": lambda a, b: a > b,
    ">=": lambda a, b: a >= b,
}


def quantified(value: Any, sign: str, every: bool, found: list[Any]) -> bool | None:
    """Clause 8.9: ALL is true over no rows, ANY is false."""
    if not found:
        return every
    compare = _COMPARE[sign]
    unknown = False
    for item in found:
        if value is None or item is None:
            unknown = True
        elif compare(value, item) != every:
            return not every
    return None if unknown else every


def remembered(memo: dict[Any, Any], function: Any, s: Any, d: int, *arguments: Any) -> Any:
    """The result of a subquery for these outer values, computed once a statement."""
    try:
        return memo[arguments]
    except KeyError:
        result = memo[arguments] = function(s, d, *arguments)
        return result
