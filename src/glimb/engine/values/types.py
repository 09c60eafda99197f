"""Data types: ISO/IEC 9075-2 clause 4 and the result types of clause 9.

How values are held at run time: integers as int; DECIMAL(p,s) as int scaled by 10**s (exact, and faster than
decimal.Decimal); REAL and DOUBLE as float; texts as str; BINARY as bytes; BOOLEAN as bool; DATE, TIME, TIMESTAMP as
datetime objects; intervals as int (months, or microseconds); arrays and rows as tuples; a value of a distinct type as
one of its source type; NULL as None.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

MAX_PRECISION = 38
MAX_LENGTH = 1_000_000
INTERVAL_FIELDS = ("year", "month", "day", "hour", "minute", "second")
INTEGER_RANGES = {"smallint": 2**15, "integer": 2**31, "bigint": 2**63}
_FAMILIES = {
    "smallint": "exact",
    "integer": "exact",
    "bigint": "exact",
    "decimal": "exact",
    "real": "approximate",
    "double": "approximate",
    "boolean": "boolean",
    "char": "text",
    "varchar": "text",
    "clob": "text",
    "binary": "bytes",
    "varbinary": "bytes",
    "blob": "bytes",
    "date": "date",
    "time": "time",
    "timestamp": "timestamp",
    "months": "months",
    "micros": "micros",
    "null": "null",
    "array": "array",
    "row": "row",
}
MAX_CARDINALITY = 100_000


class Type(NamedTuple):
    """A data type. `size` is a length in characters, decimal digits, or the number of the first interval field;
    `scale` the digits behind the point (of seconds too), or the number of the last interval field. `parts` are the
    element type of an array (with `size` elements at most), the types of a row's fields (`names`), or the source of a
    distinct type."""

    kind: str
    size: int = 0
    scale: int = 0
    parts: tuple[Type, ...] = ()
    names: tuple[str, ...] = ()

    @property
    def family(self) -> str:
        """Types of one family can be compared and assigned to each other."""
        return _FAMILIES.get(self.kind) or f"distinct {self.names[0]}"

    @property
    def is_number(self) -> bool:
        return _FAMILIES.get(self.kind) in ("exact", "approximate")

    @property
    def is_integer(self) -> bool:
        return self.kind in INTEGER_RANGES

    @property
    def limit(self) -> int:
        """Smallest absolute value that an exact number of this type cannot hold (for integers: the positive side)."""
        return INTEGER_RANGES.get(self.kind) or 10**self.size

    def __str__(self) -> str:
        """The type as it is written."""
        if self.kind == "decimal":
            return f"DECIMAL({self.size},{self.scale})" if self.scale else f"DECIMAL({self.size})"
        if self.kind in ("char", "varchar", "binary", "varbinary") or (self.kind in ("clob", "blob") and self.size):
            return f"{self.kind.upper()}({self.size})"
        if self.kind in SECOND_DIGITS and self.scale != SECOND_DIGITS[self.kind]:
            return f"{self.kind.upper()}({self.scale})"
        if self.kind == "double":
            return "DOUBLE PRECISION"
        if self.kind in ("months", "micros"):
            first, last = INTERVAL_FIELDS[self.size].upper(), INTERVAL_FIELDS[self.scale].upper()
            return f"INTERVAL {first}" + (f" TO {last}" if first != last else "")
        if self.kind == "array":
            return f"{self.parts[0]} ARRAY[{self.size}]"
        if self.kind == "row":
            return f"ROW({', '.join(f'{n} {t}' for n, t in zip(self.names, self.parts, strict=True))})"
        return self.names[0] if self.kind == "distinct" else self.kind.upper()


INTEGER, BIGINT = Type("integer"), Type("bigint")
DOUBLE, REAL = Type("double"), Type("real")
BOOLEAN, NULL = Type("boolean"), Type("null")
CLOB, BLOB = Type("clob"), Type("blob")
SECOND_DIGITS = {"time": 0, "timestamp": 6}
"""Digits behind the point of the seconds, where a type does not say how many (clause 6.1)."""
MOST_SECOND_DIGITS = 6
DATE, TIME, TIMESTAMP = Type("date"), Type("time", 0, MOST_SECOND_DIGITS), Type("timestamp", 0, MOST_SECOND_DIGITS)
DAY_TO_SECOND = Type("micros", 2, 5)


def varchar(length: int) -> Type:
    """VARCHAR of this length, at least 1."""
    return Type("varchar", max(1, min(length, MAX_LENGTH)))


def decimal(precision: int, scale: int) -> Type:
    """DECIMAL of this precision, cut to what the engine holds."""
    return Type("decimal", max(1, min(precision, MAX_PRECISION)), scale)


def digits(type_: Type) -> tuple[int, int]:
    """Precision and scale of an exact number."""
    if type_.kind == "decimal":
        return type_.size, type_.scale
    return {"smallint": 5, "integer": 10, "bigint": 19}[type_.kind], 0


def length(type_: Type) -> int:
    """Longest text of this type, in characters."""
    return type_.size if type_.kind in ("char", "varchar", "binary", "varbinary") else MAX_LENGTH


def common(left: Type, right: Type) -> Type | None:
    """Result type of values that are combined (clause 9.5): CASE, UNION, COALESCE, comparisons. None: there is none."""
    if left == right or right.kind == "null":
        return left
    if left.kind == "null":
        return right
    if left.is_number and right.is_number:
        return _common_number(left, right)
    if left.family == right.family == "text":
        if "clob" in (left.kind, right.kind):
            return CLOB
        kind = "char" if left.kind == right.kind == "char" else "varchar"
        return Type(kind, max(left.size, right.size))
    if left.family == right.family == "bytes":
        return BLOB if "blob" in (left.kind, right.kind) else Type("varbinary", max(left.size, right.size))
    if left.kind == right.kind and left.kind in ("array", "row"):
        return _common_parts(left, right)
    if left.family == right.family:
        if left.family in ("months", "micros"):
            return Type(left.kind, min(left.size, right.size), max(left.scale, right.scale))
        return max(left, right, key=lambda t: t.scale)
    return None


def _common_parts(left: Type, right: Type) -> Type | None:
    """Of arrays and of rows with as many fields: their parts are combined; of one representation, or not at all."""
    if len(left.parts) != len(right.parts):
        return None
    parts = [common(a, b) for a, b in zip(left.parts, right.parts, strict=True)]
    if any(p is None for p in parts):
        return None
    return Type(left.kind, max(left.size, right.size), 0, tuple(p for p in parts if p is not None), left.names)


def array(element: Type, size: int = MAX_CARDINALITY) -> Type:
    """An array of at most `size` elements."""
    return Type("array", max(1, min(size, MAX_CARDINALITY)), 0, (element,))


def row(fields: Iterable[tuple[str, Type]]) -> Type:
    """A row of these fields: names and types."""
    known = tuple(fields)
    return Type("row", 0, 0, tuple(type_ for _, type_ in known), tuple(name for name, _ in known))


def source_of(type_: Type) -> Type:
    """The type that a distinct type is made of; any other type itself."""
    return type_.parts[0] if type_.kind == "distinct" else type_


def _common_number(left: Type, right: Type) -> Type:
    if "approximate" in (left.family, right.family):
        return DOUBLE
    if left.is_integer and right.is_integer:
        return max(left, right, key=lambda t: INTEGER_RANGES[t.kind])
    (p1, s1), (p2, s2) = digits(left), digits(right)
    scale = max(s1, s2)
    return decimal(max(p1 - s1, p2 - s2) + scale, scale)


def arithmetic(sign: str, left: Type, right: Type) -> Type:
    """Result type of `+ - * /` over two numbers (clause 6.27): integers keep the wider type; DECIMAL sums have the
    larger scale, products the sum of the scales, quotients at least six digits behind the point."""
    if "approximate" in (left.family, right.family):
        return DOUBLE
    if left.is_integer and right.is_integer:
        return _common_number(left, right)
    (p1, s1), (p2, s2) = digits(left), digits(right)
    if sign == "*":
        return decimal(p1 + p2, s1 + s2)
    if sign == "/":
        scale = max(6, s1, s2)
        return decimal(p1 - s1 + s2 + scale, scale)
    scale = max(s1, s2)
    return decimal(max(p1 - s1, p2 - s2) + 1 + scale, scale)


def assignable(source: Type, target: Type) -> bool:
    """Whether a value may be assigned without CAST (clause 9.2): numbers among each other, texts among each other,
    otherwise the same family; a DATE may become a TIMESTAMP."""
    if source.kind == target.kind and source.kind in ("array", "row"):
        pairs = zip(source.parts, target.parts, strict=False)
        return len(source.parts) == len(target.parts) and all(assignable(a, b) for a, b in pairs)
    if source.kind == "null" or source.family == target.family:
        return True
    if source.family == "date" and target.family == "timestamp":
        return True
    return source.is_number and target.is_number


def castable(source: Type, target: Type) -> bool:
    """Whether CAST between the two is defined (clause 6.13)."""
    if "distinct" in (source.kind, target.kind) and source.family != target.family:
        return assignable(source_of(source), source_of(target)) and source.kind != target.kind
    if "array" in (source.kind, target.kind) or "row" in (source.kind, target.kind):
        pairs = zip(source.parts, target.parts, strict=False)
        return (
            source.kind == target.kind
            and len(source.parts) == len(target.parts)
            and all(castable(a, b) for a, b in pairs)
        )
    if assignable(source, target) or source.family == "text" or target.family == "text":
        return True
    families = {source.family, target.family}
    if "exact" in families and families & {"micros", "months"}:
        interval = source if target.family == "exact" else target
        return interval.size == interval.scale  # of one field
    return (source.family, target.family) in {("timestamp", "date"), ("timestamp", "time"), ("time", "timestamp")}
