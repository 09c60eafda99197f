"""Pinning: what an outcome was, as expecting lines of a script."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.outcome import Outcome
from glimb.engine.values import literal_of

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
    elif outcome.rows is not None:
        yield from _rows(outcome)
    for name, type_, value in outcome.out:
        yield f"value {name} = {literal_of(value, type_)}"
    for note in outcome.notes:
        if "\n" not in note:
            quoted = note.replace("'", "''")
            yield f"note '{quoted}'"
    for table, (added, changed, removed) in sorted(outcome.counts().items()):
        signs = (f"{sign}{n}" for sign, n in (("+", added), ("~", changed), ("-", removed)) if n)
        yield f"change {table} {' '.join(signs)}"
    yield from (f"wakes {name}" for name in outcome.wakes)
    ended = [e for e in outcome.events if e in ("commit", "rollback")]
    if ended:
        yield "committed" if ended[-1] == "commit" else "rolled back"


def _rows(outcome: Outcome) -> Iterator[str]:
    rows = outcome.rows or []
    if not rows:
        yield "no rows"
    elif len(rows) == 1 and len(outcome.columns) == 1:
        yield f"value {literal_of(rows[0][0], outcome.columns[0].type)}"
    elif len(rows) > MOST_ROWS:
        yield f"count {len(rows)}"
    else:
        yield "rows"
        for row in rows:
            cells = (literal_of(v, c.type) for v, c in zip(row, outcome.columns, strict=False))
            yield "  " + " | ".join(cells)
