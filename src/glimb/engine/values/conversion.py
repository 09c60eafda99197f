"""Values at run time: conversions between types (clauses 6.13, 9.2), texts, checks. Called by generated code."""

from __future__ import annotations

import math
import re
import struct
from datetime import date, datetime, time, timedelta
from typing import Any, NoReturn

from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.types import Type
from glimb.lang.visible import escaped

SECOND = 1_000_000
DAY = 86_400 * SECOND
MICROS = {"day": 86_400 * SECOND, "hour": 3_600 * SECOND, "minute": 60 * SECOND, "second": SECOND}
_DATE = r"([0-9]{4})-([0-9]{1,2})-([0-9]{1,2})\Z"
_TIME = r"([0-9]{1,2}):([0-9]{2}):([0-9]{2})(?:\.([0-9]{1,6})[0-9]*)?\Z"
_NUMBER = r"([+-]?)([0-9]*)(?:\.([0-9]*))?(?:[eE]([+-]?[0-9]{1,4}))?\Z"
_DAY_TIME = r"([0-9]+)(?: ([0-9]+))?(?::([0-9]+))?(?::([0-9]+))?(?:\.([0-9]+))?\Z"


# ---- checks ---------------------------------------------------------------------------------------------------------


def out_of_range(value: int, type_: Type, what: str = "") -> NoReturn:
    """An exact number does not fit its type: 22003."""
    shown = text_of(value, type_) if abs(value) < 10**60 else "the number"
    fail("22003", f"{_taker(what)}{shown} is out of range for {type_}")


def _taker(what: str) -> str:
    """The beginning of a message about a value that something with a name cannot take."""
    return "" if what.startswith("the ") or not what else f"{what}: "


def check_integer(value: int, type_: Type, what: str = "") -> int:
    """`value` when the integer type holds it."""
    limit = type_.limit
    if -limit <= value < limit:
        return value
    out_of_range(value, type_, what)


def check_decimal(value: int, type_: Type, what: str = "") -> int:
    """The scaled `value` when the decimal type holds it."""
    if abs(value) < type_.limit:
        return value
    out_of_range(value, type_, what)


def check_float(value: float) -> float:
    """`value` unless an operation has left the range of a double."""
    if math.isfinite(value):
        return value
    fail("22003", "the result is out of range for DOUBLE PRECISION")


def single(value: float) -> float:
    """`value` as REAL holds it, with 24 binary digits (clause 6.1)."""
    try:
        held: float = struct.unpack("<f", struct.pack("<f", value))[0]
    except OverflowError:
        fail("22003", "the result is out of range for REAL")
    return held


def interval_unit(type_: Type) -> int:
    """How many months, or microseconds, the last field of an interval is; one for seconds."""
    last = T.INTERVAL_FIELDS[type_.scale]
    return (12 if last == "year" else 1) if type_.kind == "months" else 1 if last == "second" else MICROS[last]


def fit_text(value: str, type_: Type, what: str = "") -> str:
    """Assign a text: only blanks may be cut, CHAR is padded (clause 9.2); 22001 otherwise."""
    size = type_.size
    if not size:  # a CLOB without a length
        return value
    if len(value) > size:
        if value[size:].strip(" "):
            shown = value if len(value) <= 40 else value[:37] + "..."
            fail("22001", f"{_taker(what)}'{shown}' has {len(value)} characters, {type_} holds {size}")
        value = value[:size]
    return value.ljust(size) if type_.kind == "char" else value


def cut_text(value: str, type_: Type, session: Any = None, depth: int = 0) -> str:
    """Cast a text to a text: what is too long is cut (clause 6.13), which is a warning in a session."""
    if not type_.size:
        return value
    if session is not None and len(value) > type_.size and value[type_.size :].strip(" "):
        session.diagnostics.warn_once(depth, "01004", f"a text has been cut to {type_}")
    return value[: type_.size].ljust(type_.size) if type_.kind == "char" else value[: type_.size]


def text_to_bytes(text: str, what: object) -> bytes:
    """The octets that pairs of hexadecimal digits show."""
    digits = "".join(text.split(" "))
    if len(digits) % 2 or not re.match(r"[0-9a-fA-F]*\Z", digits):
        fail("22018", f"'{text[:40]}' is no {what} (pairs of hexadecimal digits)")
    return bytes.fromhex(digits)


def cut_bytes(value: bytes, type_: Type) -> bytes:
    """Cast a binary string to another: what is too long is cut (clause 6.13)."""
    return fit_bytes(value[: type_.size] if type_.size else value, type_)


def fit_bytes(value: bytes, type_: Type) -> bytes:
    """Assign a binary string."""
    if not type_.size:  # a BLOB without a length
        return value
    if value[type_.size :].strip(b"\0"):
        fail("22001", f"{len(value)} octets do not fit {type_}")
    value = value[: type_.size]
    return value.ljust(type_.size, b"\0") if type_.kind == "binary" else value


# ---- numbers --------------------------------------------------------------------------------------------------------


def rescale(value: int, by: int) -> int:
    """A scaled number with `by` fewer digits behind the point (more when negative), rounded half away from zero."""
    if by <= 0:
        return value * int(10**-by)
    unit: int = 10**by
    return (value + unit // 2) // unit if value >= 0 else -((unit // 2 - value) // unit)


def divide(left: int, right: int) -> int:
    """Integer division that truncates toward zero."""
    quotient = abs(left) // abs(right)
    return quotient if (left < 0) == (right < 0) else -quotient


def divide_scaled(left: int, right: int, shift: int) -> int:
    """`left * 10**shift / right`, rounded half away from zero."""
    scaled: int = abs(left) * 10**shift
    quotient, rest = divmod(scaled, abs(right))
    if rest * 2 >= abs(right):
        quotient += 1
    return quotient if (left < 0) == (right < 0) else -quotient


def float_to_scaled(value: float, scale: int) -> int:
    """A double as a scaled number, rounded."""
    top, bottom = value.as_integer_ratio()
    return divide_scaled(top, bottom, scale)


def scaled_to_text(value: int, scale: int) -> str:
    """Decimal notation."""
    if not scale:
        return str(value)
    digits = str(abs(value)).rjust(scale + 1, "0")
    return f"{'-' if value < 0 else ''}{digits[:-scale]}.{digits[-scale:]}"


def text_to_scaled(text: str, scale: int, what: object) -> int:
    """The number that a text shows, as a scaled number: 22018 when it shows none."""
    match = re.match(_NUMBER, text.strip())
    if not match or not (match[2] or match[3]):
        fail("22018", f"'{text[:40]}' is no {what}")
    whole, fraction, exponent = match[2].lstrip("0"), match[3] or "", int(match[4] or 0)
    if abs(exponent) > 400 or len(whole) > 400:
        fail("22003", f"'{text[:40]}' is out of range for {what}")
    fraction = fraction[:1000]
    value = rescale(int(whole + fraction or "0"), len(fraction) - exponent - scale)
    return -value if match[1] == "-" else value


def text_to_float(text: str) -> float:
    """The double that a text shows."""
    if not re.match(_NUMBER, text.strip()) or not any(c.isdigit() for c in text):
        fail("22018", f"'{text[:40]}' is no DOUBLE PRECISION")
    return check_float(float(text))


def float_to_text(value: float) -> str:
    """Shortest text that gives the same double, in the form of an approximate literal."""
    mantissa, _, exponent = f"{value!r}".partition("e")
    if exponent:
        return f"{mantissa}E{int(exponent)}"
    return mantissa[:-2] if mantissa.endswith(".0") else mantissa


def shortest_single(value: float) -> float:
    """The double of the fewest decimal digits that REAL holds as `value`: to be written in its place."""
    return next(s for digits in range(6, 18) if single(s := float(f"{value:.{digits}g}")) == value)


def text_to_boolean(text: str) -> bool | None:
    """TRUE, FALSE or UNKNOWN in any case."""
    word = text.strip().lower()
    if word in ("true", "false"):
        return word == "true"
    if word == "unknown":
        return None
    fail("22018", f"'{text[:40]}' is no BOOLEAN")


# ---- dates and times ------------------------------------------------------------------------------------------------


def text_to_date(text: str) -> date:
    """YYYY-MM-DD: 22007 for another form, 22008 for a day that does not exist."""
    match = re.match(_DATE, text.strip())
    if not match:
        fail("22007", f"'{text[:40]}' is no DATE (YYYY-MM-DD)")
    try:
        return date(int(match[1]), int(match[2]), int(match[3]))
    except ValueError:
        raise Condition("22008", f"there is no day {text.strip()}") from None


def text_to_time(text: str) -> time:
    """HH:MM:SS[.ffffff]."""
    match = re.match(_TIME, text.strip())
    if not match:
        fail("22007", f"'{text[:40]}' is no TIME (HH:MM:SS)")
    try:
        return time(int(match[1]), int(match[2]), int(match[3]), int((match[4] or "").ljust(6, "0")))
    except ValueError:
        raise Condition("22008", f"there is no time {text.strip()}") from None


def text_to_timestamp(text: str) -> datetime:
    """YYYY-MM-DD[ HH:MM:SS[.ffffff]]."""
    day, _, clock = text.strip().replace("T", " ", 1).partition(" ")
    if not re.match(_DATE, day) or (clock and not re.match(_TIME, clock)):
        fail("22007", f"'{text[:40]}' is no TIMESTAMP (YYYY-MM-DD HH:MM:SS)")
    return datetime.combine(text_to_date(day), text_to_time(clock) if clock else time())


def text_to_interval(text: str, type_: Type) -> int:
    """The months or microseconds that the text of an interval with these fields stands for."""
    body = text.strip()
    negative = body.startswith("-")
    body = body[1:] if body[:1] in ("+", "-") else body
    fields = T.INTERVAL_FIELDS[type_.size : type_.scale + 1]
    if len(body) > 60:
        fail("22015", f"'{text[:40]}...' is too long for {type_}")
    value = _months(body, fields) if type_.kind == "months" else _micros(body, fields)
    if value is None:
        fail("22007", f"'{text[:40]}' is no {type_}")
    return -value if negative else value


_DIGITS = re.compile("[0-9]+")


def _months(body: str, fields: tuple[str, ...]) -> int | None:
    parts = body.split("-")
    if len(parts) != len(fields) or not all(_DIGITS.fullmatch(p) for p in parts):
        return None
    amounts = dict(zip(fields, map(int, parts), strict=True))
    return amounts.get("year", 0) * 12 + amounts.get("month", 0)


def _micros(body: str, fields: tuple[str, ...]) -> int | None:
    """Fields with a blank behind the days and colons between the others, a fraction of seconds behind the last."""
    main, _, fraction = body.partition(".")
    days, blank, clock = main.partition(" ") if fields[0] == "day" and len(fields) > 1 else ("", "", main)
    parts = [*([days] if blank else []), *clock.split(":")]
    if len(parts) != len(fields) or not all(_DIGITS.fullmatch(p) for p in parts):
        return None
    if fraction and (fields[-1] != "second" or not _DIGITS.fullmatch(fraction)):
        return None
    total: int = sum(int(p) * MICROS[f] for p, f in zip(parts, fields, strict=True))
    return total + int(fraction[:6].ljust(6, "0")) if fraction else total


def interval_text(value: int, type_: Type) -> str:
    """Text of an interval, in the form of its literal."""
    sign, rest = ("-" if value < 0 else ""), abs(value)
    fields = T.INTERVAL_FIELDS[type_.size : type_.scale + 1]
    if type_.kind == "months":
        amounts = {"year": rest // 12, "month": rest % 12 if "year" in fields else rest}
        return sign + "-".join(str(amounts[f]).rjust(2, "0") if i else str(amounts[f]) for i, f in enumerate(fields))
    shown: list[str] = []
    for field in fields:
        amount, rest = divmod(rest, MICROS[field])
        shown.append(str(amount).rjust(2, "0") if shown else str(amount))
    text = shown[0]
    for field, part in zip(fields[1:], shown[1:], strict=True):
        text += (" " if field == "hour" else ":") + part
    if fields[-1] == "second" and rest:
        text += f".{rest:06d}".rstrip("0")
    return sign + text


def moved(moment: Any, micros: int) -> Any:
    """A date or timestamp later by so many microseconds; a date moves by whole days."""
    try:
        if type(moment) is date:
            return moment + timedelta(micros // DAY if micros >= 0 else -(-micros // DAY))
        if isinstance(moment, datetime):
            return moment + timedelta(microseconds=micros)
        start = datetime.combine(date(2000, 1, 1), moment) + timedelta(microseconds=micros)
        return start.time()
    except OverflowError:
        raise Condition("22008", "the date is out of range") from None


def moved_months(moment: Any, months: int) -> Any:
    """A date or timestamp later by so many months; 22008 when that month has no such day."""
    index = moment.year * 12 + moment.month - 1 + months
    try:
        return moment.replace(year=index // 12, month=index % 12 + 1)
    except ValueError:
        raise Condition("22008", f"there is no day {moment.day} in month {index % 12 + 1} of {index // 12}") from None


def micros_of(moment: time) -> int:
    """Microseconds from midnight to a time of day."""
    return ((moment.hour * 60 + moment.minute) * 60 + moment.second) * SECOND + moment.microsecond


def days_between(left: date, right: date) -> int:
    """Whole days from `right` to `left`."""
    return left.toordinal() - right.toordinal()


def months_between(left: date, right: date, years: bool) -> int:
    """Whole months (or years, as months) from `right` to `left`, toward zero."""
    months = (left.year - right.year) * 12 + left.month - right.month
    if months > 0 and left.day < right.day:
        months -= 1
    elif months < 0 and left.day > right.day:
        months += 1
    return divide(months, 12) * 12 if years else months


def micros_between(left: Any, right: Any) -> int:
    """Microseconds from `right` to `left`, both timestamps or both times."""
    if isinstance(left, time):
        left, right = datetime.combine(date(2000, 1, 1), left), datetime.combine(date(2000, 1, 1), right)
    micros: int = (left - right) // timedelta(microseconds=1)
    return micros


# ---- texts ----------------------------------------------------------------------------------------------------------


def text_of(value: Any, type_: Type) -> str:
    """A value, not NULL, as CAST to a text gives it."""
    type_ = T.source_of(type_)
    kind = type_.kind
    if kind in ("array", "row"):
        return parts_text(value, type_)
    if kind == "decimal":
        return scaled_to_text(value, type_.scale)
    if kind in ("double", "real"):
        return float_to_text(value if kind == "double" else shortest_single(value))
    if kind == "boolean":
        return "TRUE" if value else "FALSE"
    if kind in ("months", "micros"):
        return interval_text(value, type_)
    if isinstance(value, bytes):
        return value.hex().upper()
    if isinstance(value, datetime):
        return _seconds_cut(value.isoformat(" "), type_)
    if isinstance(value, time):
        return _seconds_cut(value.isoformat(), type_)
    return value.isoformat() if isinstance(value, date) else str(value)


def _seconds_cut(text: str, type_: Type) -> str:
    """A time with as many digits of the second as its type has, or none where they are all nought."""
    return text[: len(text) - T.MOST_SECOND_DIGITS + type_.scale] if "." in text else text


def parts_text(value: tuple[Any, ...], type_: Type) -> str:
    """An array or a row as its constructor would be written."""
    types = type_.parts * len(value) if type_.kind == "array" else type_.parts
    inner = ", ".join(literal_of(v, t) for v, t in zip(value, types, strict=True))
    return f"ARRAY[{inner}]" if type_.kind == "array" else f"ROW({inner})"


def literal_of(value: Any, type_: Type) -> str:
    """A value as it would be written in SQL, on one line: texts quoted, NULL as NULL, dates with their word."""
    if value is None:
        return "NULL"
    type_ = T.source_of(type_)
    text = text_of(value, type_)
    if type_.family == "text":
        return escaped(text)
    if type_.family == "bytes":
        return f"X'{text}'"
    if type_.kind in ("date", "time", "timestamp"):
        return f"{type_.kind.upper()} '{text}'"
    if type_.kind in ("months", "micros"):
        return str(type_).replace("INTERVAL", f"INTERVAL '{text}'")
    return text


def plain_of(value: Any, type_: Type) -> Any:
    """A value for JSON: integers, doubles and booleans as they are, everything else as text, NULL as None."""
    type_ = T.source_of(type_)
    if value is None or type_.is_integer or type_.kind in ("boolean", "double"):
        return value
    if type_.kind == "real":
        return shortest_single(value)
    if type_.kind == "array":
        return [plain_of(v, type_.parts[0]) for v in value]
    if type_.kind == "row":
        return {n: plain_of(v, t) for n, v, t in zip(type_.names, value, type_.parts, strict=True)}
    return text_of(value, type_)


def assigned(value: Any, source: Type, target: Type, what: str) -> Any:
    """A value converted for something with a name, which the message gives when that fails."""
    try:
        return convert(value, source, target, explicit=False)
    except Condition as condition:
        condition.message = _taker(what) + condition.message
        raise


def convert(value: Any, source: Type, target: Type, explicit: bool = True) -> Any:
    """CAST one value. An assignment (`explicit` False) refuses to cut text."""
    if value is None or source.kind == "null":
        return None
    source, target = T.source_of(source), T.source_of(target)
    if target.kind in ("array", "row"):
        return _to_parts(value, source, target, explicit)
    if target.family == "exact":
        return _to_exact(value, source, target)
    if target.family == "approximate":
        number = _to_float(value, source)
        return single(number) if target.kind == "real" else number
    if target.family == "text":
        text = value if source.family == "text" else text_of(value, source)
        return cut_text(text, target) if explicit and source.family == "text" else fit_text(text, target)
    if target.family == "bytes":
        if source.family == "bytes":
            return cut_bytes(value, target) if explicit else fit_bytes(value, target)
        return fit_bytes(text_to_bytes(value, target), target)
    if target.kind == "boolean":
        return text_to_boolean(value) if source.family == "text" else value
    return _to_moment(value, source, target)


def equal_value(value: Any, source: Type, target: Type) -> Any:
    """The value of another type to which a value is equal; None when there is none."""
    if source.family == "text":
        value = value.rstrip(" ") if "char" in (source.kind, target.kind) else value
    try:
        found = convert(value, source, target, explicit=False)
        same = convert(found, target, source, explicit=False)
    except Condition:
        return None
    if source.family == "text" and "char" in (source.kind, target.kind):
        return found if same.rstrip(" ") == value else None
    return found if same == value else None


def _to_parts(value: tuple[Any, ...], source: Type, target: Type, explicit: bool) -> tuple[Any, ...]:
    """An array or a row, part by part; 2202F when an array has more elements than its target holds."""
    if target.kind == "row":
        return tuple(convert(v, a, b, explicit) for v, a, b in zip(value, source.parts, target.parts, strict=True))
    if len(value) > target.size:
        if not explicit and any(v is not None for v in value[target.size :]):
            fail("2202F", f"{len(value)} elements do not fit {target}")
        value = value[: target.size]
    return tuple(convert(v, source.parts[0], target.parts[0], explicit) for v in value)


def _to_float(value: Any, source: Type) -> float:
    if source.family == "text":
        return text_to_float(value)
    return float(value / 10**source.scale)


def _to_exact(value: Any, source: Type, target: Type) -> int:
    scale = target.scale if target.kind == "decimal" else 0
    if source.family == "text":
        number = text_to_scaled(value, scale, target)
    elif source.family == "approximate":
        number = float_to_scaled(check_float(value), scale)
    elif source.family in ("months", "micros"):
        number = value if source.kind == "months" else divide(value, MICROS[T.INTERVAL_FIELDS[source.scale]])
        number = number // 12 if source.kind == "months" and source.scale == 0 else number
    else:
        number = rescale(value, (source.scale if source.kind == "decimal" else 0) - scale)
    return check_integer(number, target) if target.is_integer else check_decimal(number, target)


def _to_moment(value: Any, source: Type, target: Type) -> Any:
    kind = target.kind
    if source.family == "text":
        if kind in ("months", "micros"):
            return text_to_interval(value, target)
        moment = {"date": text_to_date, "time": text_to_time, "timestamp": text_to_timestamp}[kind](value)
        return moment if kind == "date" else _in_digits(moment, target)
    if source.family == "exact":
        unit = T.INTERVAL_FIELDS[target.scale]
        whole = rescale(value, source.scale if source.kind == "decimal" else 0)
        return whole * MICROS[unit] if kind == "micros" else whole * (12 if unit == "year" else 1)
    if kind == "date":
        return value.date() if isinstance(value, datetime) else value
    if kind == "time" and isinstance(value, datetime):
        value = value.time()
    if kind == "timestamp" and not isinstance(value, datetime):
        return datetime.combine(value, time())
    return _in_digits(value, target) if kind in T.SECOND_DIGITS else value


def _in_digits(value: Any, target: Type) -> Any:
    """A time without the digits of its second that the type does not have: they are cut off, not rounded."""
    unit = 10 ** (T.MOST_SECOND_DIGITS - target.scale)
    return value.replace(microsecond=value.microsecond // unit * unit) if value.microsecond else value
