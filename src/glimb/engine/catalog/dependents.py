"""Who uses an object of the catalog: views, routines, triggers, tables and domains whose texts name it.

In: the catalog, and the key of an object. Out: dependents, each with what it takes to say whether it still fits. Names
are read as each text's own schema has them (ISO/IEC 9075-2 clauses 11.21 to 11.33, RESTRICT and CASCADE).
"""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Domain, Routine, Trigger, View
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Record, walk

Object = View | Table | Routine | Trigger | Domain


class Dependent(Record):
    """An object whose text names another one: its space and key in the catalog, and what it is."""

    space: str
    key: str
    object: Object

    @property
    def name(self) -> str:
        """With its schema, unless it is in the project's."""
        return self.key


def dependents(catalog: Catalog, space: str, key: str) -> list[Dependent]:
    """Who names the object of this key in `relations`, `routines`, `sequences`, `types` or `domains`; itself aside."""
    found = []
    for dependent, schema, text in _texts(catalog):
        if (dependent.space, dependent.key) != (space, key) and names(catalog, text, schema, space, key):
            found.append(dependent)
    return sorted(found, key=lambda d: d.name)


def names(catalog: Catalog, text: object, schema: str, space: str, key: str) -> bool:
    """Whether a text that was written in a schema names the object of this key."""
    return any(catalog.key(space, parts, schema) == key for parts in _named(text, space))


def _texts(catalog: Catalog) -> Iterator[tuple[Dependent, str, object]]:
    """Every text in the catalog with the schema in which it was written."""
    for key, relation in catalog.relations.items():
        text: object = relation.query if isinstance(relation, View) else relation.definition
        schema = relation.schema if isinstance(relation, View) else ""  # tables and domains name schemas themselves
        yield Dependent("relations", key, relation), schema, text
    for key, group in catalog.routines.items():
        for routine in group:
            yield Dependent("routines", key, routine), routine.schema, routine.definition
    for key, trigger in catalog.triggers.items():
        parts = (trigger.definition.condition, trigger.definition.body)
        yield Dependent("triggers", key, trigger), trigger.schema, tuple(p for p in parts if p is not None)
    for key, domain in catalog.domains.items():
        texts = (domain.default, *(c.condition for c in domain.checks), *_distinct(domain.type))
        yield Dependent("domains", key, domain), "", tuple(t for t in texts if t is not None)


def _distinct(type_: Type) -> Iterator[tree.TypeName]:
    """The distinct types that a type is made of."""
    if type_.kind == "distinct":
        yield tree.TypeName(type_.names[0])
    for part in type_.parts:
        yield from _distinct(part)


def _named(text: object, space: str) -> Iterator[tree.Parts]:
    """The names in a text that may mean objects of a space; those of its common tables mean themselves."""
    common = {n.name for n in walk(text) if isinstance(n, tree.CommonTable)}
    for node in walk(text):
        for parts in _NAMES[space](node):
            if space != "relations" or len(parts) > 1 or parts[0] not in common:
                yield parts


def _relations(node: object) -> tuple[tree.Parts, ...]:
    if isinstance(node, tree.TableName):
        return (node.name,)
    if isinstance(node, tree.Insert | tree.Update | tree.Delete | tree.Merge | tree.Truncate):
        return (node.table,)
    return node.tables if isinstance(node, tree.LockTable) else ()


def _routines(node: object) -> tuple[tree.Parts, ...]:
    return (node.name,) if isinstance(node, tree.FunctionCall | tree.Call) else ()


def _sequences(node: object) -> tuple[tree.Parts, ...]:
    return (node.name,) if isinstance(node, tree.NextValue) else ()


def _domains(node: object) -> tuple[tree.Parts, ...]:
    return (node.parts,) if isinstance(node, tree.TypeName) else ()


def _types(node: object) -> tuple[tree.Parts, ...]:
    """A distinct type is called as a function too, which makes its values (clause 11.51)."""
    return (node.name,) if isinstance(node, tree.FunctionCall) else _domains(node)


_NAMES = {
    "relations": _relations, "routines": _routines, "sequences": _sequences, "types": _types, "domains": _domains
}  # fmt: skip
