"""What locks are on: tables, rows by their keys, and other unique keys.

A resource is (table, key): a row by its primary key (or row id, where there is none), another unique key, or the table
itself with key None. One may stand for many keys at once (`NewKeys`); `singly` tells them apart again.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from glimb.engine.storage.indexes import Index
from glimb.engine.storage.table import Table

Resource = tuple[Any, Any]


class _OtherKey:
    """Stands before a unique key that is not the primary one. It is no value of SQL, so that no primary key of several
    columns looks like it."""

    def __repr__(self) -> str:
        return "unique"


_OTHER_KEY = _OtherKey()


class NewKeys:
    """The keys of many rows that were put in at once: in the place of a key, until somebody else wants one of them."""

    __slots__ = ("keys",)

    def __init__(self, keys: list[Any]) -> None:
        self.keys = keys


def key_of(table: Table, index: Index, key: Any) -> Any:
    """What stands for the key of a unique index in a resource."""
    return key if index is table.primary else (_OTHER_KEY, index.name, key)


def other_key(resource: Resource) -> tuple[str, Any] | None:
    """Of the lock of a unique key that is not the primary one: the name of its index, and its value. These are an inner
    matter, and not shown."""
    key = resource[1]
    return key[1:] if isinstance(key, tuple) and key[0] is _OTHER_KEY else None


def singly(taken: Iterable[tuple[Resource, str]]) -> Iterator[tuple[Resource, str]]:
    """Locks with their modes, many at once one by one."""
    for resource, mode in taken:
        table, key = resource
        if isinstance(key, NewKeys):
            for one in key.keys:
                yield (table, one), mode
        else:
            yield resource, mode
