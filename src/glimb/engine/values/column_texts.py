"""Many texts of one column as values of its type: whole columns at once where they look as texts of that type do.

In: texts, None for NULL. Out: values, or None where a text is unusual (blanks, exponents, too many digits, wrong):
`conversion.convert` takes these one by one, and says what is wrong.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from datetime import date, datetime
from typing import Any

from glimb.engine.values.types import Type

FEW = 400
"""Of so many texts at the start one sees whether a column repeats itself."""


def column_values(texts: Sequence[str | None], type_: Type) -> list[Any] | None:
    """The values of a column, in order; None where one has to be looked at alone."""
    if None in texts:
        found = column_values([t for t in texts if t is not None], type_)
        if found is None:
            return None
        values = iter(found)
        return [None if t is None else next(values) for t in texts]
    present: list[str] = texts  # type: ignore[assignment]
    convert = _CONVERSIONS.get(type_.kind)
    if convert is None:
        return None
    few = len(present) > FEW and 2 * len(set(present[:FEW])) < FEW
    different = list(dict.fromkeys(present)) if few else present
    if 2 * len(different) > len(present):
        return convert(present, type_)
    made = convert(different, type_)  # what stands often is made once, and kept once
    return list(map(dict(zip(different, made, strict=True)).__getitem__, present)) if made is not None else None


def _all_match(pattern: str, texts: list[str]) -> bool:
    """Whether each text, none of which holds a line end, matches."""
    together = "\n".join(texts)
    return together.count("\n") == len(texts) - 1 and bool(re.fullmatch(rf"(?:(?:{pattern})\n)*+", together + "\n"))


def _integers(texts: list[str], type_: Type) -> list[int] | None:
    if texts and not _all_match("-?[0-9]{1,18}", texts):
        return None
    values = list(map(int, texts))
    limit = type_.limit
    return values if not values or (-limit <= min(values) and max(values) < limit) else None


def _decimals(texts: list[str], type_: Type) -> list[int] | None:
    """Scaled numbers."""
    scale, whole = type_.scale, type_.size - type_.scale
    if whole < 1 or not _all_match(rf"-?[0-9]{{1,{whole}}}(?:\.[0-9]{{0,{scale}}})?", texts):
        return None
    parts = [text.partition(".") for text in texts]
    return [int(before + behind.ljust(scale, "0")) for before, _, behind in parts]


def _texts(texts: list[str], type_: Type) -> list[str] | None:
    size = type_.size
    if size and texts and max(map(len, texts)) > size:
        return None
    return [text.ljust(size) for text in texts] if type_.kind == "char" else texts


def _dates(texts: list[str], type_: Type) -> list[date] | None:
    return _moments(texts, "[0-9]{4}-[0-9]{2}-[0-9]{2}", date.fromisoformat)


def _timestamps(texts: list[str], type_: Type) -> list[datetime] | None:
    return _moments(texts, "[0-9]{4}-[0-9]{2}-[0-9]{2} [0-9]{2}:[0-9]{2}:[0-9]{2}", datetime.fromisoformat)


def _moments(texts: list[str], pattern: str, convert: Callable[[str], Any]) -> list[Any] | None:
    if texts and not _all_match(pattern, texts):
        return None
    try:
        return [convert(text) for text in texts]
    except ValueError:
        return None


def _booleans(texts: list[str], type_: Type) -> list[bool] | None:
    known = {"true": True, "false": False}
    if not set(texts) <= known.keys():
        return None
    return [known[text] for text in texts]


_CONVERSIONS: dict[str, Callable[[list[str], Type], list[Any] | None]] = {
    **dict.fromkeys(("smallint", "integer", "bigint"), _integers),
    "decimal": _decimals,
    **dict.fromkeys(("char", "varchar", "clob"), _texts),
    "date": _dates,
    "timestamp": _timestamps,
    "boolean": _booleans,
}
