"""Names in what tables and domains are made of get their schemas: it is read again later, from other schemas."""

from __future__ import annotations

from typing import Any, TypeVar

from glimb.engine.definition.context import Definition
from glimb.engine.values.signatures import BUILTINS
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite, walk

_NAMES: dict[type, tuple[str, str]] = {
    tree.NextValue: ("name", "sequences"),
    tree.FunctionCall: ("name", "routines"),
    tree.TableName: ("name", "relations"),
    tree.Constraint: ("target", "relations"),
}
"""What names an object of which space, and in which field."""
T = TypeVar("T")


def settled(d: Definition, thing: T, own: str = "") -> T:
    """A part of a definition in which every name that means an object of a schema, but for that of the project's own,
    has its schema; `own` is the key of a table that is only being made. What means nothing stays, to be told later."""
    common = {node.name for node in walk(thing) if isinstance(node, tree.CommonTable)}

    def key(parts: tree.Parts, *spaces: str) -> tree.Parts:
        if len(parts) != 1 or (spaces == ("relations",) and parts[0] in common):
            return parts
        if own and spaces == ("relations",) and parts[0] == own.rpartition(".")[2]:
            return (own,) if "." not in own else tuple(own.split("."))
        for space in spaces:
            found = d.catalog.key(space, parts, d.binder.schema)
            if found in getattr(d.catalog, space):
                return tuple(found.split("."))
        return parts

    def change(node: Node) -> Node | None:
        if isinstance(node, tree.TypeName):
            *schema, name = key(node.parts, "types", "domains") if node.element is None and not node.fields else ("",)
            return replace(node, schema=tuple(schema), name=name) if schema else None
        field, space = _NAMES.get(type(node), ("", ""))
        parts: tree.Parts = getattr(node, field) if field else ()
        if not parts or (space == "routines" and parts[0] in BUILTINS) or key(parts, space) == parts:
            return None
        others: dict[str, Any] = {name: rewrite(getattr(node, name), change) for name in node._fields if name != field}
        return replace(node, **{**others, field: key(parts, space)})

    found: T = rewrite(thing, change)
    return found
