"""Data types: ISO/IEC 9075-2 clause 4 and the result types of clause 9.

How values are held at run time: integers as int; DECIMAL(p,s) as int scaled by 10**s (exact, and faster than
decimal.Decimal); REAL and DOUBLE as float; texts as str; BINARY as bytes; BOOLEAN as bool; DATE, TIME, TIMESTAMP as
datetime objects; intervals as int (months, or microseconds); NULL as None.
"""

from __future__ import annotations

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
}


class Type(NamedTuple):
    """A data type. `size` is a length in characters, decimal digits, or the number of the first interval field;
    `scale` the digits behind the point, or the number of the last interval field."""

    kind: str
    size: int = 0
    scale: int = 0

    @property
    def family(self) -> str:
        """Types of one family can be compared and assigned to each other."""
        return _FAMILIES[self.kind]

    @property
    def is_number(self) -> bool:
        return _FAMILIES[self.kind] in ("exact", "approximate")

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
        if self.kind in ("char", "varchar", "binary", "varbinary"):
            return f"{self.kind.upper()}({self.size})"
        if self.kind == "double":
            return "DOUBLE PRECISION"
        if self.kind in ("months", "micros"):
            first, last = INTERVAL_FIELDS[self.size].upper(), INTERVAL_FIELDS[self.scale].upper()
            return f"INTERVAL {first}" + (f" TO {last}" if first != last else "")
        return self.kind.upper()


INTEGER, BIGINT = Type("integer"), Type("bigint")
DOUBLE, REAL = Type("double"), Type("real")
BOOLEAN, NULL = Type("boolean"), Type("null")
CLOB, BLOB = Type("clob"), Type("blob")
DATE, TIME, TIMESTAMP = Type("date"), Type("time"), Type("timestamp")
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
    if left.family == right.family:
        if left.family in ("months", "micros"):
            return Type(left.kind, min(left.size, right.size), max(left.scale, right.scale))
        return left
    return None


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
    if source.kind == "null" or source.family == target.family:
        return True
    if source.family == "date" and target.family == "timestamp":
        return True
    return source.is_number and target.is_number


def castable(source: Type, target: Type) -> bool:
    """Whether CAST between the two is defined (clause 6.13)."""
    if assignable(source, target) or source.family == "text" or target.family == "text":
        return True
    pairs = {("timestamp", "date"), ("timestamp", "time"), ("exact", "micros"), ("exact", "months")}
    return (source.family, target.family) in pairs | {("micros", "exact"), ("months", "exact")}
