"""A table as a session may see it, where others have changed it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from glimb.engine.storage.indexes import Bounds, Index, Row
from glimb.engine.storage.table import EMPTY, Table


class Patched:
    """A table as a session may see it, where others have changed it: some rows are replaced or left out."""

    def __init__(self, table: Table, patch: dict[int, Row | None]) -> None:
        self.table = table
        self.patch = patch

    def scan(self) -> list[Row]:
        rows = dict(self.table.rows)
        missing = [rid for rid in self.patch if rid not in rows]
        rows.update(self.patch)
        ordered = (rows[rid] for rid in sorted(rows)) if missing else rows.values()
        return [row for row in ordered if row is not None]

    def lookup(self, number: int) -> Callable[..., Any]:
        index = self.table.indexes[number]
        patched: dict[Any, dict[int, Row]] = {}
        for row in self.patch.values():
            if row is not None:
                patched.setdefault(index.get_key(row), {})[row[-1]] = row

        def get(key: Any, default: Any = None) -> Any:
            if key is None or (not index.single and None in key):
                return default
            found = {rid: row for rid, row in _entries(index, key) if rid not in self.patch}
            found.update(patched.get(key, EMPTY))
            if index.unique:
                return next(iter(found.values()), default)
            return found or default

        return get

    def ranges(self, number: int) -> Callable[[Bounds], list[Row]]:
        find, patch = self.table.ranges(number), self.patch

        def between(bounds: Bounds) -> list[Row]:
            rows = {row[-1]: row for row in find(bounds) if row[-1] not in patch}
            rows.update((rid, row) for rid, row in patch.items() if row is not None)
            return [rows[rid] for rid in sorted(rows)]

        return between


def _entries(index: Index, key: Any) -> Iterator[tuple[int, Row]]:
    found = index.map.get(key)
    if found is not None:
        if index.unique:
            yield found[-1], found
        else:
            yield from found.items()
