"""Indexes of a table: rows by key, and keys in order for those who look for a range.

Keys are kept in order only from the first range on. What has changed since the last one is put in order at the next:
a few keys by bisection, many by sorting again, which Timsort does in nearly linear time.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from itertools import repeat
from operator import itemgetter
from typing import Any, NamedTuple

Row = tuple[Any, ...]
Limit = tuple[Any, bool] | None
"""An end of a range: the value, and whether it belongs to the range; None: the range has no end there."""

FEW = 50
"""So many changed keys are put in their places one by one."""


def exhaust(calls: Iterator[object]) -> None:
    """Make all calls of a `map`, without a loop of our own."""
    deque(calls, maxlen=0)


class Bounds(NamedTuple):
    """Keys that begin with `prefix` and go on with a value from `low` to `high`."""

    prefix: tuple[Any, ...]
    low: Limit
    high: Limit

    @property
    def is_empty(self) -> bool:
        """Whether a NULL among the values lets nothing be equal, less or greater."""
        return None in self.prefix or any(end is not None and end[0] is None for end in (self.low, self.high))

    def take(self, keys: list[Any], single: bool) -> list[Any]:
        """The keys of an ordered list that lie in the range."""
        if single:
            return keys[_place(keys, self.low, None) : _end(keys, self.high, None)]
        start = (*self.prefix, self.low[0]) if self.low else self.prefix
        end = (*self.prefix, self.high[0]) if self.high else self.prefix
        first = _place(keys, (start, self.low[1] if self.low else True), itemgetter(slice(len(start))))
        last = _end(keys, (end, self.high[1] if self.high else True), itemgetter(slice(len(end))))
        return keys[first:last]

    def contains(self, key: Any, single: bool) -> bool:
        """Whether one key lies in the range."""
        return not self.is_empty and bool(self.take([key], single))


def _place(keys: list[Any], low: Limit, part: Callable[[Any], Any] | None) -> int:
    if low is None:
        return 0
    return (bisect_left if low[1] else bisect_right)(keys, low[0], key=part)


def _end(keys: list[Any], high: Limit, part: Callable[[Any], Any] | None) -> int:
    if high is None:
        return len(keys)
    return (bisect_right if high[1] else bisect_left)(keys, high[0], key=part)


class Index:
    """Rows by key. A unique one maps a key to its row, another a key to its rows by row id. NULL is left out.

    `key` says that it belongs to PRIMARY KEY or UNIQUE. One that is deferrable is not unique while a transaction is
    under way, so it keeps rows as one that is not; so does one in which NULLs count as equal."""

    __slots__ = (
        "_changed",
        "_ordered",
        "columns",
        "deferrable",
        "deferred",
        "enforced",
        "get_key",
        "key",
        "map",
        "name",
        "null_key",
        "single",
        "unique",
    )

    def __init__(self, name: str, columns: tuple[int, ...], unique: bool) -> None:
        self.key = unique
        self.deferrable = self.deferred = False
        self.enforced = True
        self.null_key = False
        self.name = name
        self.columns = columns
        self.unique = unique
        self.single = len(columns) == 1
        self.get_key: Callable[[Row], Any] = itemgetter(*columns)
        self.map: dict[Any, Any] = {}
        self._ordered: list[Any] = []
        self._changed: set[Any] | None = None
        """Keys that have come or gone since `_ordered` was true; None: it never was."""

    def has_null(self, key: Any) -> bool:
        return not self.null_key and (key is None if self.single else None in key)

    def add(self, row: Row) -> None:
        key = self.get_key(row)
        if not self.has_null(key):
            if self.unique:
                self.map[key] = row
            else:
                self.map.setdefault(key, {})[row[-1]] = row
            if self._changed is not None:
                self._changed.add(key)

    def add_new(self, keys: list[Any], rows: list[Row]) -> None:
        """Add many rows with their keys, none of which is NULL, nor there already if the index is unique."""
        if self.unique:
            self.map.update(zip(keys, rows, strict=True))
        else:
            for key, row in zip(keys, rows, strict=True):
                self.map.setdefault(key, {})[row[-1]] = row
        if self._changed is not None:
            self._changed.update(keys)

    def take_back(self, rows: list[Row]) -> None:
        """Remove many rows."""
        if self.unique and not (self._changed is not None or self.null_key):
            exhaust(map(self.map.pop, map(self.get_key, rows), repeat(None)))
        else:
            exhaust(map(self.remove, rows))

    def remove(self, row: Row) -> None:
        key = self.get_key(row)
        if not self.has_null(key):
            if not self.unique:
                rows = self.map[key]
                del rows[row[-1]]
                if not rows:
                    del self.map[key]
            elif self.map[key] is row:
                del self.map[key]
            if self._changed is not None:
                self._changed.add(key)

    def replace(self, before: Row | None, after: Row | None) -> None:
        """One row has become another, or come (`before` None), or gone (`after` None)."""
        if before is not None and after is not None:
            key = self.get_key(after)
            if key == self.get_key(before) and not self.has_null(key):
                if self.unique:
                    self.map[key] = after
                else:
                    self.map[key][after[-1]] = after
                return
        if before is not None:
            self.remove(before)
        if after is not None:
            self.add(after)

    def keys(self) -> list[Any]:
        """All keys in order."""
        if self._changed is None or len(self._changed) > FEW:
            self._ordered = sorted(self.map)
        else:
            for key in self._changed:
                self._put_in_order(key)
        self._changed = set()
        return self._ordered

    def _put_in_order(self, key: Any) -> None:
        ordered = self._ordered
        place = bisect_left(ordered, key)
        stands = place < len(ordered) and ordered[place] == key
        if key in self.map and not stands:
            ordered.insert(place, key)
        elif key not in self.map and stands:
            del ordered[place]

    def between(self, bounds: Bounds) -> list[Row] | None:
        """The rows of a range by row id; None when they are so many that a scan is the faster way to them."""
        if bounds.is_empty:
            return []
        keys = bounds.take(self.keys(), self.single)
        if 2 * len(keys) > len(self.map):
            return None
        rows: Iterable[Row]
        if self.unique:
            rows = [self.map[key] for key in keys]
        else:
            rows = [row for key in keys for row in self.map[key].values()]
        return sorted(rows, key=itemgetter(-1))
