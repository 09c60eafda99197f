"""Pinning: what an outcome was, as expecting lines of a script."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from glimb.engine.outcomes.outcome import Outcome, ResultColumn
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang.visible import escaped

MOST_ROWS = 50


def pinned(outcome: Outcome) -> list[str]:
    """Expecting lines, without the sign, that this outcome meets."""
    return list(_lines(outcome))


def _lines(outcome: Outcome) -> Iterator[str]:
    if outcome.waiting is not None:
        lock = outcome.waiting
        on = f" on {lock.table} {lock.key}".rstrip() if not lock.key.startswith("#") else f" on {lock.table}"
        yield f"waits for {lock.sessions[0]}{on}"
        return
    if outcome.failure is not None:
        yield "deadlock" if outcome.failure.circle else f"fails {outcome.failure.sqlstate}"
    for number, (columns, rows) in enumerate(outcome.results, 1):
        yield from _rows(columns, rows, number)
    for name, type_, value in outcome.out:
        yield f"value {name} = {_literal(value, type_)}"
    yield from (f"note {escaped(note)}" for note in outcome.notes)
    for table, (added, changed, removed) in sorted(outcome.counts().items()):
        signs = (f"{sign}{n}" for sign, n in (("+", added), ("~", changed), ("-", removed)) if n)
        yield f"change {table} {' '.join(signs)}"
    yield from (f"wakes {name}" for name in outcome.wakes)
    ended = [e.kind for e in outcome.events if e.ends]
    if ended:
        yield "committed" if ended[-1] == "commit" else "rolled back"


def _literal(value: Any, type_: Type) -> str:
    """A value on one line."""
    return escaped(value) if isinstance(value, str) and type_.family == "text" else literal_of(value, type_)


def _rows(columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]], number: int) -> Iterator[str]:
    """A result set, the first or a later one."""
    which = f" of result {number}" if number > 1 else ""
    if not rows:
        yield f"no rows{which}"
    elif len(rows) == 1 and len(columns) == 1 and not which:
        yield f"value {_literal(rows[0][0], columns[0].type)}"
    elif len(rows) > MOST_ROWS:
        yield f"count {len(rows)}{which}"
    else:
        yield f"rows{which}"
        for row in rows:
            cells = (_literal(v, c.type) for v, c in zip(row, columns, strict=True))
            yield "  " + " | ".join(cells)
