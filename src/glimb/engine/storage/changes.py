"""Net changes of rows: log entries folded into what was there before and after."""

from __future__ import annotations

from typing import Any

from glimb.engine.storage.table import Table
from glimb.lang.node import Record


class Change(Record):
    """Net change of one row: `before` None for an inserted row, `after` None for a deleted one. No row ids."""

    table: Table
    key: tuple[Any, ...]
    before: tuple[Any, ...] | None
    after: tuple[Any, ...] | None


def net_changes(entries: list[Any]) -> list[Change]:
    """Fold log entries into one change a row: what was there before the first, and after the last of them."""
    first: dict[tuple[Table, int], Any] = {}
    last: dict[tuple[Table, int], Any] = {}
    for where, row_id, before, after in entries:
        if isinstance(where, Table):
            first.setdefault((where, row_id), before)
            last[where, row_id] = after
    changes = []
    for place, before in first.items():
        after = last[place]
        if before is not after and (before is None or after is None or before[:-1] != after[:-1]):
            table = place[0]
            key = table.key_text(before or after)
            changes.append(
                Change(
                    table,
                    key if isinstance(key, tuple) else (key,),
                    None if before is None else before[:-1],
                    None if after is None else after[:-1],
                )
            )
    return changes
