"""A type as it would be written: for tables made of queries, and for the information of who copies one."""

from __future__ import annotations

from glimb.engine.values.types import Type
from glimb.lang import tree


def type_name(type_: Type) -> tree.TypeName:
    """A type as it would be written."""
    if type_.kind == "array":
        return tree.TypeName("array", (type_.size,), type_name(type_.parts[0]))
    if type_.kind == "row":
        fields = (tree.ResultColumn(n, type_name(t)) for n, t in zip(type_.names, type_.parts, strict=True))
        return tree.TypeName("row", (), None, tuple(fields))
    if type_.kind in ("months", "micros"):
        return tree.TypeName(str(type_).lower())
    if type_.kind == "distinct":
        return tree.TypeName(type_.names[0])
    arguments = {"decimal": (type_.size, type_.scale)}.get(type_.kind, (type_.size,) if type_.size else ())
    return tree.TypeName(type_.kind, arguments)
