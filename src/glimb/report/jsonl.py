"""Outcomes as JSON lines: a documented, stable format (docs/jsonl.md) that other programs build on."""

from __future__ import annotations

import json
from typing import Any

from glimb.engine.outcomes.outcome import HeldLock, Outcome, ResultColumn, Waiting
from glimb.engine.values.conditions import Origin
from glimb.engine.values.conversion import plain_of
from glimb.lang.visible import visible
from glimb.suite.execute import Executed


def line(executed: Executed, ascii: bool = False) -> str:
    """One outcome as one line, without its line end; what would steer a terminal is written as its number."""
    found = as_object(executed)
    text = json.dumps(found, ensure_ascii=ascii, allow_nan=False)
    if text == visible(text):
        return text
    return json.dumps(found, allow_nan=False).replace("\x7f", "\\u007f")


def as_object(executed: Executed) -> dict[str, Any]:
    """The object of one line."""
    outcome = executed.outcome
    failure = outcome.failure
    found = {
        "n": executed.number,
        "line": executed.line,
        "session": outcome.session,
        "sql": executed.text,
        "kind": outcome.kind,
        "ok": outcome.ok,
        "sqlstate": failure.sqlstate if failure else _completion(outcome),
        "message": failure.message if failure else None,
        "origin": {"routine": failure.origin.routine, "line": failure.origin.line}
        if failure and failure.origin
        else None,
        "columns": _columns(outcome.columns),
        "rows": _plain_rows(outcome.columns, outcome.rows) if outcome.rows is not None else None,
        "more": [{"columns": _columns(c), "rows": _plain_rows(c, rows)} for c, rows in outcome.more],
        "row_count": outcome.row_count,
        "out": {name: plain_of(value, type_) for name, type_, value in outcome.out},
        "notes": outcome.notes,
        "changes": {
            table: dict(zip(("inserted", "updated", "deleted"), counts, strict=True))
            for table, counts in outcome.counts().items()
        },
        "locks": [_lock(held) for held in outcome.locks],
        "waiting": _waiting(outcome.waiting),
        "transaction": outcome.transaction,
    }
    if failure and failure.origin:
        found["calls"] = _calls(failure.origin)
    if executed.code:
        found["code"] = "".join(f"{line.text}\n" for line in executed.code if line.kind == "code")
    return found


def _calls(origin: Origin) -> list[dict[str, Any]]:
    """The routines in which a condition arose, the innermost first, with the file of each."""
    return [{"routine": c.routine, "line": c.line, "file": c.file} for c in (origin, *origin.calls)]


def _completion(outcome: Outcome) -> str | None:
    """00000, or 02000 for a change of no rows; a waiting statement has no state yet."""
    return outcome.completion if outcome.waiting is None else None


def _columns(columns: tuple[ResultColumn, ...]) -> list[dict[str, str]]:
    return [{"name": c.name, "type": str(c.type)} for c in columns]


def _plain_rows(columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]]) -> list[list[Any]]:
    return [[plain_of(v, c.type) for v, c in zip(row, columns, strict=True)] for row in rows]


def _lock(held: HeldLock) -> dict[str, str]:
    return {"kind": held.kind, "table": held.table, "key": held.key, "mode": held.mode}


def _waiting(waiting: Waiting | None) -> dict[str, str] | None:
    if waiting is None:
        return None
    return {"for": ", ".join(waiting.sessions), "kind": waiting.kind, "table": waiting.table, "key": waiting.key}
