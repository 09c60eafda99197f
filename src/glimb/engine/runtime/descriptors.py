"""SQL descriptor areas: what dynamic statements take and give, item by item (ISO/IEC 9075-2 clauses 20.1 to 20.5)."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.transactions.descriptor import Descriptor
from glimb.engine.transactions.session import Session
from glimb.engine.values import types as T
from glimb.engine.values.conditions import fail
from glimb.engine.values.types import Type

DEFAULT_MAXIMUM = 100
SETTABLE = ("type", "length", "precision", "scale", "datetime_interval_code", "indicator", "data")


def _named(session: Session, name: str | None) -> Descriptor:
    found = session.dynamic.descriptors.get(name or "")
    if found is None:
        known = ", ".join(session.dynamic.descriptors)
        fail("33000", f"there is no descriptor {name}" + (f"; there are: {known}" if known else ""))
    return found


def allocate_descriptor(session: Session, name: str | None, maximum: int | None) -> None:
    if not name or name in session.dynamic.descriptors:
        fail("33000", f"descriptor {name} is there already" if name else "a descriptor needs a name")
    if maximum is not None and not 1 <= maximum <= 10_000:
        fail("07009", f"a descriptor has room for 1 to 10,000 items, not {maximum}")
    session.dynamic.descriptors[name] = Descriptor(name, maximum or DEFAULT_MAXIMUM)


def deallocate_descriptor(session: Session, name: str | None) -> None:
    del session.dynamic.descriptors[_named(session, name).name]


def set_descriptor_count(session: Session, name: str | None, count: int | None) -> None:
    _named(session, name).resize(-1 if count is None else count)


def set_descriptor(
    session: Session, name: str | None, number: int | None, items: tuple[tuple[str, Any, Type], ...]
) -> None:
    """SET DESCRIPTOR ... VALUE: the type that is said first, then the value."""
    area = _named(session, name).area(number)
    for item, value, type_ in sorted(items, key=lambda i: SETTABLE.index(i[0])):
        area.set(item, value, type_)


def descriptor_items(
    session: Session, name: str | None, number: int | None, items: tuple[str, ...]
) -> tuple[tuple[Any, ...], tuple[ResultColumn, ...]] | None:
    """GET DESCRIPTOR: the values that are asked for, and their types; without items of a value, COUNT. None for an item
    behind COUNT: there is no data."""
    descriptor = _named(session, name)
    if items[0] in ("count", "top_level_count"):
        found = [(descriptor.count, T.INTEGER) for _ in items]
    else:
        area = descriptor.area(number)
        if number is not None and number > descriptor.count:
            return None
        found = [area.get(item) for item in items]
    return tuple(v for v, _ in found), tuple(ResultColumn(i, t) for i, (_, t) in zip(items, found, strict=True))


def described_values(session: Session, name: str | None) -> tuple[tuple[Any, ...], tuple[Type, ...]]:
    """What a descriptor gives to the dynamic parameters of a statement."""
    descriptor = _named(session, name)
    passed = [item.passed() for item in descriptor.items[: descriptor.count]]
    return tuple(v for v, _ in passed), tuple(t for _, t in passed)


def fill_descriptor(
    session: Session, name: str | None, columns: tuple[ResultColumn, ...], row: tuple[Any, ...] | None
) -> None:
    """DESCRIBE, EXECUTE ... INTO DESCRIPTOR, FETCH ... INTO DESCRIPTOR."""
    _named(session, name).describe(columns, row)
