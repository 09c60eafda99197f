"""The code of built-in functions, as generated code calls it."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable
from operator import itemgetter
from typing import Any, NoReturn, TypeVar

from glimb.engine.values import signatures
from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.conversion import check_float
from glimb.engine.values.signatures import builtin
from glimb.engine.values.types import Type

T_ = TypeVar("T_", str, bytes)
NO_ROWS: dict[int, Any] = {}


# ---- helpers that the code above calls ------------------------------------------------------------------------------


@builtin("mod", ("exact", "exact"), lambda t: t[1])
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
    """ROUND of an approximate number."""
    return round(value, max(-400, min(400, places)))


def sql_sqrt(value: float) -> float:
    """SQRT; 2201F of a negative number."""
    if value < 0:
        fail("2201F", "SQRT of a negative number")
    return math.sqrt(value)


def sql_ln(value: float) -> float:
    """LN; 2201E of a number that is not positive."""
    if value <= 0:
        fail("2201E", "logarithm of a number that is not positive")
    return math.log(value)


def sql_log10(value: float) -> float:
    """LOG10, exact for powers of ten; 2201E of a number that is not positive."""
    if value <= 0:
        fail("2201E", "logarithm of a number that is not positive")
    return math.log10(value)


@builtin("log", ("number", "number"), signatures.REAL, as_double=True)
def sql_log(base: float, value: float) -> float:
    """LOG: the logarithm to a base (clause 6.30), exact for powers of ten and two; 2201E of numbers that have none."""
    if base in (2, 10):
        return sql_log10(value) if base == 10 else math.log2(value) if value > 0 else sql_ln(value)
    return sql_ln(value) / sql_ln(base)


@builtin("power", ("number", "number"), signatures.REAL, as_double=True)
def sql_power(base: float, exponent: float) -> float:
    """POWER, clause 6.28: 2201F where it has no value."""
    if (base == 0 and exponent < 0) or (base < 0 and exponent != int(exponent)):
        fail("2201F", f"POWER({base:g}, {exponent:g}) has no value")
    return check_float(safe_float(math.pow, base, exponent))


@builtin("width_bucket", ("exact", "exact", "exact", "integer"), signatures.WHOLE, aligned=3)
@builtin("width_bucket", ("number", "number", "number", "integer"), signatures.WHOLE, as_double=True)
def width_bucket(value: float, low: float, high: float, count: float) -> int:
    """WIDTH_BUCKET (clause 6.28), reckoned exactly: 2201G for no buckets, or no room for them."""
    buckets = int(count)
    if buckets < 1 or low == high:
        fail("2201G", "WIDTH_BUCKET needs a number of buckets above 0, and bounds that differ")
    from fractions import Fraction  # slow to import, and seldom needed

    above, width = Fraction(value) - Fraction(low), Fraction(high) - Fraction(low)
    position = above * buckets / width
    return 0 if position < 0 else min(int(position), buckets) + 1


def safe_float(function: Callable[..., float], *arguments: float) -> float:
    """Call a function of `math`; an overflow gives infinity, for check_float to see."""
    try:
        return function(*arguments)
    except OverflowError:
        return math.inf


def arc(function: Callable[[float], float], value: float) -> float:
    """ASIN, ACOS; 22003 beyond -1 and 1."""
    if not -1 <= value <= 1:
        fail("22003", "the argument is out of range")
    return function(value)


@builtin("substring", ("text", "integer", "integer"), signatures.text_like, optional=1)
@builtin("substring", ("bytes", "integer", "integer"), signatures.same, optional=1)
def sql_substring(text: T_, start: int, count: int | None = None) -> T_:
    """Clause 6.30: counts from 1; positions outside the text are empty; a negative length is 22011."""
    begin = start - 1
    if count is None:
        return text[max(0, begin) :]
    if count < 0:
        fail("22011", "SUBSTRING of a negative length")
    return text[max(0, begin) : max(0, begin + count)]


@builtin(
    "overlay", ("text", "text", "integer", "integer"), lambda t: T.varchar(T.length(t[0]) + T.length(t[1])), optional=1
)
@builtin(
    "overlay",
    ("bytes", "bytes", "integer", "integer"),
    lambda t: Type("varbinary", min(T.MAX_LENGTH, T.length(t[0]) + T.length(t[1]))),
    optional=1,
)
def sql_overlay(text: Any, placed: Any, start: int, count: int | None = None) -> Any:
    """Clause 6.30, as SUBSTRING before || placed || SUBSTRING behind; of texts or of bytes."""
    width = len(placed) if count is None else count
    return sql_substring(text, 1, start - 1) + placed + sql_substring(text, start + width)


@builtin("replace", ("text", "text", "text"), signatures.fixed(T.CLOB))
def sql_replace(session: Any, text: str, old: str, new: str) -> str:
    """Every `old` in the text replaced; nothing to look for leaves it as it is."""
    if not old:
        return text
    longer = len(new) - len(old)
    if longer > 0 and len(text) + longer * text.count(old) > session.budget.memory:
        fail("5B005", "the text becomes too long")
    return text.replace(old, new)


@builtin("repeat", ("text", "integer"), signatures.fixed(T.CLOB))
def sql_repeat(text: str, count: int) -> str:
    """REPEAT; 22001 when the whole would be too long."""
    if len(text) * count > T.MAX_LENGTH:
        fail("22001", f"a text of {len(text) * count} characters is too long")
    return text * max(0, count)


@builtin("truncate", ("exact", "integer"), signatures.same, constants=("digits",))
def sql_truncate(value: int, places: int, digits: int) -> int:
    """Cut a scaled number with `digits` behind the point after `places`."""
    if places >= digits:
        return value
    unit: int = 10 ** min(digits - places, 60)
    kept = abs(value) // unit * unit
    return -kept if value < 0 else kept


@builtin("right", ("text", "integer"), signatures.text_like)
def sql_right(text: str, count: int) -> str:
    """RIGHT."""
    return text[-count:] if count > 0 else ""


@builtin("lpad", ("text", "integer", "text"), signatures.fixed(T.CLOB), optional=1)
def sql_lpad(text: str, width: int, fill: str = " ") -> str:
    """LPAD: fill up to `width` at the left, or cut to it."""
    return _padding(text, width, fill) + text[: max(0, width)]


@builtin("rpad", ("text", "integer", "text"), signatures.fixed(T.CLOB), optional=1)
def sql_rpad(text: str, width: int, fill: str = " ") -> str:
    """RPAD: fill up to `width` at the right, or cut to it."""
    return text[: max(0, width)] + _padding(text, width, fill)


def _padding(text: str, width: int, fill: str) -> str:
    """What is missing. Raises 22001 when the whole would be too long."""
    if width > T.MAX_LENGTH:
        fail("22001", f"a text of {width} characters is too long")
    missing = width - len(text)
    return (fill * (missing // len(fill) + 1))[:missing] if fill and missing > 0 else ""


def trim_character(text: T_) -> T_:
    """The one character or octet that TRIM removes: 22027 for any other number of them."""
    if len(text) != 1:
        fail("22027", f"TRIM removes one character, not {text[:20]!r}")
    return text


def interval_field(value: int, unit: int, above: int) -> int:
    """A field of an interval, whose unit is so long, as that of the field above it is; 0 where there is none."""
    amount = (abs(value) % above if above else abs(value)) // unit
    return -amount if value < 0 else amount


def spread(values: list[float], function: str) -> float | None:
    """VAR_POP, VAR_SAMP and their square roots (clause 10.9); NULL where a sample is too small."""
    count = len(values)
    if count == 0 or (count == 1 and function.endswith("samp")):
        return None
    mean = math.fsum(values) / count
    variance = math.fsum((v - mean) ** 2 for v in values) / (count - function.endswith("samp"))
    return check_float(math.sqrt(variance) if function.startswith("stddev") else variance)


def regression(pairs: list[tuple[float, float]], function: str) -> Any:
    """The set functions of two arguments, dependent and independent variable (clause 10.9)."""
    count = len(pairs)
    if function == "regr_count":
        return count
    if not count:
        return None
    mean_y, mean_x = (math.fsum(p[n] for p in pairs) / count for n in (0, 1))
    sxx = math.fsum((x - mean_x) ** 2 for _, x in pairs)
    syy = math.fsum((y - mean_y) ** 2 for y, _ in pairs)
    sxy = math.fsum((y - mean_y) * (x - mean_x) for y, x in pairs)
    plain = {"regr_avgx": mean_x, "regr_avgy": mean_y, "regr_sxx": sxx, "regr_syy": syy, "regr_sxy": sxy}
    if function in plain:
        return plain[function]
    if function.startswith("covar"):
        return None if function == "covar_samp" and count == 1 else sxy / (count - (function == "covar_samp"))
    if function == "corr":
        return sxy / math.sqrt(sxx * syy) if sxx and syy else None
    if not sxx:
        return None
    if function == "regr_r2":
        return sxy * sxy / (sxx * syy) if syy else 1.0
    slope = sxy / sxx
    return slope if function == "regr_slope" else mean_y - slope * mean_x


def ordered(entries: list[tuple[Any, ...]], keys: tuple[tuple[int, bool, bool], ...], distinct: bool) -> list[Any]:
    """The values of an ordered set function; each entry is a value with its sort keys."""
    sort_rows(entries, keys)
    values = [entry[0] for entry in entries]
    return list(dict.fromkeys(values)) if distinct else values


def listagg(values: list[str], separator: str, overflow: tuple[str, bool] | None) -> str:
    """LISTAGG (clause 10.9): 22001 when the text gets too long, unless it is to be truncated."""
    length = sum(map(len, values)) + len(separator) * (len(values) - 1)
    text = separator.join(values) if length <= 4000 else ""
    if length <= 4000:
        return text
    if overflow is None:
        fail("22001", f"LISTAGG gives {length} characters, VARCHAR(4000) holds 4000")
    filler, count = overflow
    kept = min(len(values), 4002)
    while True:
        kept -= 1
        tail = filler + (f"({len(values) - kept})" if count else "")
        text = separator.join([*values[:kept], tail])
        if len(text) <= 4000 or kept == 0:
            return text[:4000]


def percentile(values: list[Any], fraction: float, continuous: bool) -> Any:
    """PERCENTILE_CONT and PERCENTILE_DISC over sorted values (clause 10.9)."""
    if not continuous:
        return values[max(0, math.ceil(fraction * len(values)) - 1)]
    place = fraction * (len(values) - 1)
    low = math.floor(place)
    high = math.ceil(place)
    if low == high:
        return values[low]
    below, above, share = values[low], values[high], place - low
    distance = above - below
    return below + distance * share if math.isfinite(distance) else below * (1 - share) + above * share


def average(values: list[Any], shift: int, unit: int) -> int:
    """Mean of scaled numbers with `shift` more digits, or of intervals whose last field is so many months or
    microseconds, rounded half away from zero."""
    return average_of(sum(values), len(values), shift, unit)


def average_of(total: int, count: int, shift: int, unit: int) -> int:
    """The same, of so many values with this sum."""
    top: int = total * 10**shift
    quotient, rest = divmod(abs(top), count * unit)
    if rest * 2 >= count * unit:
        quotient += 1
    return unit * (-quotient if top < 0 else quotient)


def overlaps(start: Any, end: Any, other_start: Any, other_end: Any) -> bool | None:
    """Clause 8.14: whether two periods share a moment; a period may be written backwards or be a moment only."""
    periods = []
    for first, last in ((start, end), (other_start, other_end)):
        if first is None or (last is not None and last < first):
            first, last = last, first
        periods.append((first, last))
    (s1, e1), (s2, e2) = periods

    def after(a: Any, b: Any) -> bool | None:
        return None if a is None or b is None else bool(a > b)

    later = and3(after(s1, s2), not3(and3(not3(after(e2, s1)), not3(after(e2, e1)))))
    earlier = and3(after(s2, s1), not3(and3(not3(after(e1, s2)), not3(after(e1, e2)))))
    ends = None if e1 is None or e2 is None else True  # of a period that begins with NULL both are
    return or3(or3(later, earlier), and3(s1 == s2, ends))


def and3(left: bool | None, right: bool | None) -> bool | None:
    """AND in three-valued logic."""
    if left is False or right is False:
        return False
    return None if left is None or right is None else True


def or3(left: bool | None, right: bool | None) -> bool | None:
    """OR in three-valued logic."""
    return not3(and3(not3(left), not3(right)))


def element(array: tuple[Any, ...], position: int) -> Any:
    """array[position] (clause 6.24): 2202E where there is none."""
    if not 1 <= position <= len(array):
        fail("2202E", f"there is no element {position}, the array has {len(array)}")
    return array[position - 1]


def with_element(array: tuple[Any, ...] | None, position: int | None, value: Any, most: int) -> tuple[Any, ...]:
    """An array with one element replaced; one beyond its end makes it longer, with NULLs between (clause 14.15)."""
    if array is None:
        fail("2200E", "an array that is NULL has no elements")
    if position is None or not 1 <= position <= most:
        fail("2202E", f"the array has elements 1 to {most}, not {'NULL' if position is None else position}")
    return array[: position - 1] + (None,) * (position - 1 - len(array)) + (value,) + array[position:]


def with_field(row: tuple[Any, ...] | None, at: int, value: Any, width: int) -> tuple[Any, ...]:
    """A row with one field replaced; a row that is NULL is one of NULLs."""
    fields = row or (None,) * width
    return (*fields[:at], value, *fields[at + 1 :])


def joined_arrays(left: tuple[Any, ...], right: tuple[Any, ...]) -> tuple[Any, ...]:
    """array || array; 2202F when it has too many elements."""
    if len(left) + len(right) > T.MAX_CARDINALITY:
        fail("2202F", f"{len(left) + len(right)} elements are too many for an array")
    return left + right


@builtin("trim_array", ("array", "integer"), signatures.same)
def trim_array(array: tuple[Any, ...], count: int) -> tuple[Any, ...]:
    """TRIM_ARRAY: without its last elements; 2202E when it has not so many."""
    if not 0 <= count <= len(array):
        fail("2202E", f"{count} elements cannot be taken from {len(array)}")
    return array[: len(array) - count]


def equal_parts(left: tuple[Any, ...] | None, right: tuple[Any, ...] | None, padded: bool = False) -> bool | None:
    """Equality of arrays: unknown when only a NULL keeps them from being equal. `padded`: blanks at the ends of texts
    do not count."""
    if left is None or right is None:
        return None
    if padded:
        left, right = (tuple(v.rstrip(" ") if isinstance(v, str) else v for v in side) for side in (left, right))
    if len(left) != len(right):
        return False
    unknown = False
    for a, b in zip(left, right, strict=True):
        if a is None or b is None:
            unknown = True
        elif a != b:
            return False
    return None if unknown else True


def unnest(arrays: tuple[Any, ...], widths: tuple[int, ...], ordinality: bool) -> list[tuple[Any, ...]]:
    """UNNEST (clause 7.6): elements side by side, the shorter arrays filled with NULL; rows give their fields."""
    rows: list[tuple[Any, ...]] = []
    for number in range(max((len(a) for a in arrays if a is not None), default=0)):
        row: tuple[Any, ...] = ()
        for array, width in zip(arrays, widths, strict=True):
            value = array[number] if array is not None and number < len(array) else None
            row += (value,) if width < 0 else (None,) * width if value is None else value
        rows.append((*row, number + 1) if ordinality else row)
    return rows


def is_unique(rows: list[tuple[Any, ...]], distinct: bool) -> bool:
    """UNIQUE (clause 8.11): no two rows are equal; a row with a NULL is equal to none when NULLs are distinct."""
    counted = [r for r in rows if not (distinct and None in r)]
    return len(set(counted)) == len(counted)


def outside_domain(value: Any, name: str) -> NoReturn:
    """A value that does not meet the CHECK of a domain."""
    raise Condition("23514", f"the value does not meet the domain's CHECK {name}", {"constraint_name": name})


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


def row_percent(value: int | None, count: int) -> int:
    """FETCH FIRST n PERCENT, rounded up; `value` has six digits behind the point."""
    if value is None:
        fail("22004", "NULL is no number of rows")
    if value < 0:
        fail("2201W", "a percentage is 0 or more")
    return -(-value * count // 100_000_000)


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


def not3(value: bool | None) -> bool | None:
    """NOT in three-valued logic."""
    return None if value is None else not value
