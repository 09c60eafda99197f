"""What a statement did, in words: for verdicts, printed outcomes and screens."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.outcome import Failure, HeldLock, ResultColumn, Waiting
from glimb.engine.values.conditions import Origin
from glimb.engine.values.conversion import literal_of
from glimb.lang.source import from_here


def failure_text(failure: Failure | None) -> str:
    """A condition that left a statement, in one line."""
    if failure is None:
        return "no condition"
    origin = f" ({origin_text(failure.origin)})" if failure.origin else ""
    if failure.first is not None:
        state, place = failure.first
        origin += f"; raised first as {state}" + (f" {origin_text(place)}" if place else "")
    origin += "".join(f"; raised again {origin_text(place)}" for place in failure.again)
    name = f" {failure.name}" if failure.name else ""
    return f"{failure.sqlstate}{name}: {failure.message}{origin}"


def origin_text(origin: Origin) -> str:
    """Where a condition came from, and by which calls."""
    calls = "".join(f", called by {c.routine} line {c.line}{_file(c, origin.file)}" for c in origin.calls)
    return f"in {origin.routine} line {origin.line}{_file(origin, '')}{calls}"


def _file(origin: Origin, known: str) -> str:
    """The file of a place, unless that is told already; short where it lies below the folder we are in."""
    if origin.file in ("", known):
        return ""
    return f" of {from_here(origin.file)}"


def counts_text(counts: list[int] | tuple[int, ...]) -> str:
    """+inserted ~updated -deleted, without what is nought."""
    return " ".join(f"{sign}{n}" for sign, n in zip("+~-", counts, strict=True) if n) or "no change"


def changes_text(counts: dict[str, list[int]]) -> str:
    """Rows inserted, updated and deleted by table."""
    return ", ".join(f"{table} {counts_text(c)}" for table, c in counts.items()) or "no change"


def locks_text(held: list[HeldLock]) -> str:
    """All locks that are held."""
    return ", ".join(f"{k} {t} {key} {m}".replace("  ", " ") for k, t, key, m in held) or "no locks"


def waiting_text(waiting: Waiting | None) -> str:
    """A wait in words."""
    if waiting is None:
        return "it does not wait"
    return f"waits for {', '.join(waiting.sessions)} on {waiting.table} {waiting.key}".rstrip()


def row_texts(columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]]) -> list[list[str]]:
    """The rows of a result, each value as it is written in SQL."""
    return [[literal_of(v, c.type) for v, c in zip(row, columns, strict=True)] for row in rows]


def cut(text: str, width: int) -> str:
    """At most `width` characters, with an ellipsis where something is missing."""
    return text if len(text) <= width else text[: max(0, width - 1)] + "…"
