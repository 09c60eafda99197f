"""Outcomes as JSON lines: a documented, stable format (docs/jsonl.md) that other programs build on."""

from __future__ import annotations

import json
from typing import Any, assert_never

from glimb.engine.outcomes.outcome import HeldLock, Outcome, ResultColumn, Waiting
from glimb.engine.outcomes.passes import Pass
from glimb.engine.storage.changes import Change
from glimb.engine.values.conditions import Origin
from glimb.engine.values.conversion import plain_of
from glimb.lang.visible import visible
from glimb.suite import telling
from glimb.suite.execute import Executed
from glimb.suite.telling import Part, parts


def line(executed: Executed, ascii: bool = False) -> str:
    """One outcome as one line, without its line end; what would steer a terminal is written as its number."""
    found = as_object(executed)
    text = json.dumps(found, ensure_ascii=ascii, allow_nan=False)
    if text == visible(text):
        return text
    return json.dumps(found, allow_nan=False).replace("\x7f", "\\u007f")


NOTHING: dict[str, Any] = {
    "message": None,
    "origin": None,
    "columns": [],
    "rows": None,
    "more": [],
    "row_count": None,
    "out": {},
    "notes": [],
    "changes": {},
    "locks": [],
    "waiting": None,
    "transaction": "none",
    "given": {},
    "waymarks": [],
}
"""What a statement did, where there is nothing to say; the keys in their order."""


def as_object(executed: Executed) -> dict[str, Any]:
    """The object of one line."""
    outcome = executed.outcome
    found: dict[str, Any] = {
        "n": executed.number,
        "line": executed.line,
        "session": outcome.session,
        "sql": executed.text,
        "kind": outcome.kind,
        "ok": outcome.ok,
        "sqlstate": _state(outcome),
        **NOTHING,
        "more": [{"columns": columns_of(c), "rows": plain_rows(c, rows)} for c, rows in outcome.more],
    }
    for part in parts(outcome):
        found |= fields_of(part)
    if executed.code:
        found["code"] = "".join(f"{line.text}\n" for line in executed.code if line.kind == "code")
    return found


def fields_of(part: Part) -> dict[str, Any]:
    """What a part is of the object; further result sets stand in one list, and who wakes has lines of its own."""
    match part:
        case telling.Waits(waiting):
            return {"waiting": waiting_of(waiting)}
        case telling.Condition(failure):
            again = {"again": [place for origin in failure.again for place in _calls(origin)]} if failure.again else {}
            return {"message": failure.message, **_origin(failure.origin), **_first(failure.first), **again}
        case telling.Rows(1, _, columns, rows):
            return {"columns": columns_of(columns), "rows": plain_rows(columns, rows)}
        case telling.Values(values):
            return {"out": {name: plain_of(value, type_) for name, type_, value in values}}
        case telling.Given(values):
            return {"given": {name: plain_of(value, type_) for name, type_, value in values}}
        case telling.Passed(passes):
            return {"waymarks": [_passed(last) for last in passes.last.values()]}
        case telling.Notes(notes):
            return {"notes": notes}
        case telling.Count(rows):
            return {"row_count": rows}
        case telling.Changes(_, counts):
            return {"changes": {table: dict(zip(COUNTED, c, strict=True)) for table, c in counts.items()}}
        case telling.Locks():
            return {"locks": [lock_of(held) for held in part.held]}
        case telling.Transaction(state):
            return {"transaction": state}
        case telling.Rows() | telling.Wakes():
            return {}
        case _:
            assert_never(part)


def _passed(last: Pass) -> dict[str, Any]:
    """A waymark, how often it was passed, and its variables at the last time."""
    mark = last.waymark
    values = {n: plain_of(v, t) for n, v, t in zip(mark.names, last.values, mark.types, strict=True)}
    place = {"line": mark.source.line(mark.span.start), "file": mark.source.name}
    return {"routine": mark.routine, "waymark": mark.name, **place, "passes": last.number, "values": values}


COUNTED = ("inserted", "updated", "deleted")


def _origin(origin: Origin | None) -> dict[str, Any]:
    if origin is None:
        return {}
    return {"origin": {"routine": origin.routine, "line": origin.line}, "calls": _calls(origin)}


def _first(first: tuple[str, Origin | None] | None) -> dict[str, Any]:
    """What RESIGNAL has changed: the SQLSTATE of before, and where it came from."""
    if first is None:
        return {}
    state, origin = first
    return {"first": {"sqlstate": state, "calls": _calls(origin) if origin is not None else []}}


def _calls(origin: Origin) -> list[dict[str, Any]]:
    """The routines in which a condition arose, the innermost first, with the file of each."""
    return [{"routine": c.routine, "line": c.line, "file": c.file} for c in (origin, *origin.calls)]


def _state(outcome: Outcome) -> str | None:
    """Of its condition; 00000, or 02000 for a change of no rows; a waiting statement has no state yet."""
    if outcome.failure is not None:
        return outcome.failure.sqlstate
    return outcome.completion if outcome.waiting is None else None


def columns_of(columns: tuple[ResultColumn, ...]) -> list[dict[str, str]]:
    return [{"name": c.name, "type": str(c.type)} for c in columns]


def plain_rows(columns: tuple[ResultColumn, ...], rows: list[tuple[Any, ...]]) -> list[list[Any]]:
    return [[plain_of(v, c.type) for v, c in zip(row, columns, strict=True)] for row in rows]


def lock_of(held: HeldLock) -> dict[str, str]:
    return {"kind": held.kind, "table": held.table, "key": held.key, "mode": held.mode}


def waiting_of(waiting: Waiting) -> dict[str, str]:
    return {"for": ", ".join(waiting.sessions), "kind": waiting.kind, "table": waiting.table, "key": waiting.key}


def change_object(change: Change) -> dict[str, Any]:
    """A row that was inserted (`before` is null), deleted (`after` is null), or updated, with the columns that were."""
    table = change.table
    columns = list(enumerate(table.columns))
    if change.before is not None and change.after is not None:
        columns = [(at, column) for at, column in columns if change.before[at] != change.after[at]]
    before, after = (
        {c.name: plain_of(row[at], c.type) for at, c in columns} if row is not None else None
        for row in (change.before, change.after)
    )
    key = None
    if table.primary is not None:
        places = table.primary.columns
        key = {
            table.columns[at].name: plain_of(v, table.columns[at].type)
            for at, v in zip(places, change.key, strict=True)
        }
    return {"table": table.name, "key": key, "before": before, "after": after}
