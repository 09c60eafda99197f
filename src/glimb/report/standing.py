"""The state behind a rung, and what was asked there, as text and as JSON lines (docs/jsonl.md)."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.changes import Change
from glimb.engine.values.conversion import literal_of, plain_of
from glimb.report.jsonl import change_object, columns_of, lock_of, plain_rows, waiting_of
from glimb.report.text import one_line, table_lines
from glimb.suite.standing import SessionStanding, Standing
from glimb.suite.telling import ChangeTold, told
from glimb.suite.wording import failure_text, locks_text, row_texts, waiting_text


def standing_lines(state: Standing) -> Iterator[str]:
    """The state as lines of text."""
    rung = state.rung
    yield f"after rung {rung.number} {rung.session}> {one_line(rung.text)}" if rung is not None else "at the fixture"
    yield f"   clock {state.clock:%Y-%m-%d %H:%M:%S}"
    yield from (f"   :{name} = {literal_of(host.value, host.type)}" for name, host in state.hosts.items())
    yield "committed since the fixture" if state.committed else "nothing is committed since the fixture"
    yield from (f"   {change_text(told(change))}" for change in state.committed)
    for session in state.sessions:
        yield from _session_lines(session)


def _session_lines(session: SessionStanding) -> Iterator[str]:
    transaction = {"none": "no transaction", "open": "transaction open", "waiting": "waits"}[session.state]
    settings = f"{session.isolation.upper()}{', autocommit' if session.autocommit else ''}"
    yield f"session {session.name}: {transaction}, {settings}"
    if session.waiting is not None:
        yield f"   {waiting_text(session.waiting)}"
    if session.savepoints:
        yield f"   savepoints {', '.join(session.savepoints)}"
    if session.locks:
        yield f"   holds {locks_text(session.locks)}"
    yield from (f"   {change_text(told(change))}" for change in session.changes)


def change_text(row: ChangeTold) -> str:
    """A change of a row in one line."""
    if row.sign == "~":
        cells = ", ".join(f"{name} {old} -> {new}" for name, old, new in row.cells)
    else:
        cells = ", ".join(f"{name} {new if row.sign == '+' else old}" for name, old, new in row.cells)
    return f"{row.sign} {row.table} {row.key} {cells}".replace("  ", " ")


def standing_line(state: Standing) -> str:
    """The state as a JSON line."""
    rung = state.rung
    found = {
        "rung": rung.number if rung is not None else 0,
        "session": rung.session if rung is not None else None,
        "sql": rung.text if rung is not None else None,
        "clock": f"{state.clock:%Y-%m-%d %H:%M:%S}",
        "hosts": {name: plain_of(host.value, host.type) for name, host in state.hosts.items()},
        "committed": _changes(state.committed),
        "sessions": [_session_object(session) for session in state.sessions],
    }
    return json.dumps(found, ensure_ascii=False, allow_nan=False)


def _session_object(session: SessionStanding) -> dict[str, Any]:
    return {
        "session": session.name,
        "transaction": session.state,
        "isolation": session.isolation,
        "autocommit": session.autocommit,
        "savepoints": list(session.savepoints),
        "locks": [lock_of(held) for held in session.locks],
        "waiting": waiting_of(session.waiting) if session.waiting is not None else None,
        "changes": _changes(session.changes),
    }


def _changes(changes: list[Change]) -> list[dict[str, Any]]:
    return [change_object(change) for change in changes]


def asked_lines(outcome: Outcome) -> Iterator[str]:
    """What a query gave."""
    if outcome.failure is not None or outcome.rows is None:
        yield failure_text(outcome.failure)
        return
    yield from table_lines([c.name for c in outcome.columns], row_texts(outcome.columns, outcome.rows))
    yield f"{len(outcome.rows)} row{'s' * (len(outcome.rows) != 1)}"


def asked_line(query: str, session: str, rung: int, outcome: Outcome) -> str:
    """The same as a JSON line."""
    failure = outcome.failure
    found = {
        "rung": rung,
        "session": session,
        "sql": query,
        "sqlstate": failure.sqlstate if failure is not None else "00000",
        "message": failure.message if failure is not None else None,
        "columns": columns_of(outcome.columns),
        "rows": plain_rows(outcome.columns, outcome.rows) if outcome.rows is not None else None,
    }
    return json.dumps(found, ensure_ascii=False, allow_nan=False)
