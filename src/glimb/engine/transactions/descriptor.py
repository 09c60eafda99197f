"""An SQL descriptor area: items with types and values (ISO/IEC 9075-2 clauses 20.1 to 20.5)."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.values import types as T
from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import convert, text_of
from glimb.engine.values.types import Type

KIND_CODES = {
    "char": 1,
    "decimal": 3,
    "integer": 4,
    "smallint": 5,
    "real": 7,
    "double": 8,
    "date": 9,
    "time": 9,
    "timestamp": 9,
    "months": 10,
    "micros": 10,
    "varchar": 12,
    "boolean": 16,
    "row": 19,
    "bigint": 25,
    "blob": 30,
    "clob": 40,
    "array": 50,
    "binary": 60,
    "varbinary": 61,
    "null": 12,
}
"""The code of each type (table 27)."""
MOMENT_CODES = {"date": 1, "time": 2, "timestamp": 3}
INTERVAL_CODES = {
    (0, 0): 1,
    (1, 1): 2,
    (2, 2): 3,
    (3, 3): 4,
    (4, 4): 5,
    (5, 5): 6,
    (0, 1): 7,
    (2, 3): 8,
    (2, 4): 9,
    (2, 5): 10,
    (3, 4): 11,
    (3, 5): 12,
    (4, 5): 13,
}
"""The code of an interval by its first and last field (table 28)."""


class Item:
    """One item: a value with its type, the name it came with, and what SET DESCRIPTOR has said about its type."""

    __slots__ = ("name", "nullable", "said", "type", "value")

    def __init__(self, type_: Type = T.NULL, value: Any = None, name: str = "", nullable: bool = True) -> None:
        self.type, self.value = type_, value
        self.name, self.nullable = name, nullable
        self.said: dict[str, int] = {}

    def set(self, item: str, value: Any, type_: Type) -> None:
        """SET DESCRIPTOR ... VALUE n item = value."""
        if item == "data":
            self.type, self.value = type_, value
        elif item == "indicator":
            self.value = None if value is None or value < 0 else self.value
        else:
            self.said[item] = value

    def passed(self) -> tuple[Any, Type]:
        """The value as a dynamic parameter takes it, of the type that was said."""
        type_ = self._said_type()
        return (convert(self.value, self.type, type_), type_) if type_ is not None else (self.value, self.type)

    def _said_type(self) -> Type | None:
        code = self.said.get("type")
        if code is None:
            return None
        kinds = [k for k, c in KIND_CODES.items() if c == code and k not in ("row", "array", "null")]
        detail = self.said.get("datetime_interval_code")
        if code == 9:
            kinds = [k for k, c in MOMENT_CODES.items() if c == detail]
        if code == 2:
            kinds = ["decimal"]
        if not kinds:
            fail("07009", f"{code} is the code of no type here" + (f" with {detail}" if code in (9, 10) else ""))
        if code == 10:
            fields = next((f for f, c in INTERVAL_CODES.items() if c == detail), (2, 5))
            return Type("months" if fields[0] < 2 else "micros", *fields)
        if kinds[0] == "decimal":
            return T.decimal(self.said.get("precision", T.MAX_PRECISION), self.said.get("scale", 0))
        if kinds[0] in T.SECOND_DIGITS:
            return Type(kinds[0], 0, self.said.get("precision", T.MOST_SECOND_DIGITS))
        return Type(
            kinds[0], self.said.get("length", 1) if kinds[0] in ("char", "varchar", "binary", "varbinary") else 0
        )

    def get(self, item: str) -> tuple[Any, Type]:
        """GET DESCRIPTOR ... VALUE n target = item."""
        if item == "data":
            return self.value, self.type
        if item == "name":
            return self.name, T.varchar(128)
        return self._number(item), T.INTEGER

    def _number(self, item: str) -> int | None:
        type_ = T.source_of(self._said_type() or self.type)
        has_length = type_.family in ("text", "bytes")
        text = text_of(self.value, type_) if self.value is not None and has_length else ""
        facts = {
            "type": KIND_CODES[type_.kind],
            "length": T.length(type_) if has_length else None,
            "octet_length": T.length(type_) * (4 if type_.family == "text" else 1) if has_length else None,
            "returned_length": len(self.value) if self.value is not None and has_length else None,
            "returned_octet_length": len(text.encode()) if self.value is not None and has_length else None,
            "precision": T.digits(type_)[0] if type_.family == "exact" else type_.scale,
            "scale": T.digits(type_)[1] if type_.family == "exact" else 0,
            "nullable": int(self.nullable),
            "indicator": -1 if self.value is None else 0,
            "unnamed": int(not self.name),
            "datetime_interval_code": MOMENT_CODES.get(type_.kind, 0),
            "level": 0,
            "cardinality": len(self.value) if type_.kind == "array" and self.value is not None else 0,
        }
        if type_.kind in ("months", "micros"):
            facts["datetime_interval_code"] = INTERVAL_CODES[type_.size, type_.scale]
        return facts[item]


class Descriptor:
    """A descriptor area of a session. The first `count` of its items hold; SET may reach up to the `maximum`."""

    __slots__ = ("count", "items", "maximum", "name")

    def __init__(self, name: str, maximum: int) -> None:
        self.name, self.maximum = name, maximum
        self.count = 0
        self.items: list[Item] = []

    def resize(self, count: int) -> None:
        """SET DESCRIPTOR ... COUNT."""
        if not 0 <= count <= self.maximum:
            fail("07008", f"descriptor {self.name} has room for {self.maximum} items, not {count}")
        self.count = count
        self._reach(count)

    def _reach(self, number: int) -> None:
        self.items += [Item() for _ in range(number - len(self.items))]

    def area(self, number: int | None) -> Item:
        """An item, within COUNT or not; 07009 when there is no room for it."""
        if number is None or not 1 <= number <= self.maximum:
            fail("07009", f"descriptor {self.name} has room for {self.maximum} items; there is no item {number}")
        self._reach(number)
        return self.items[number - 1]

    def content(self) -> list[tuple[Any, ...]]:
        """All that it holds, to compare with another."""
        return [(self.count,), *((str(a.type), a.value, a.name, sorted(a.said.items())) for a in self.items)]

    def describe(self, columns: tuple[ResultColumn, ...], row: tuple[Any, ...] | None = None) -> None:
        """Take the columns of a result, and a row of it when there is one."""
        self.resize(len(columns))
        values = row if row is not None else (None,) * len(columns)
        self.items = [Item(c.type, v, c.name) for c, v in zip(columns, values, strict=False)]
