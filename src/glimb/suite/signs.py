"""What a rung did, in a few short texts, each with what kind of thing it tells: ladders are drawn with these.

In: rungs and their outcomes. Out: `Sign`s, what weighs most first; how each kind looks is for those who draw.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from glimb.engine.outcomes.outcome import Outcome, TransactionEvent
from glimb.engine.storage.changes import Change
from glimb.suite import telling
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.telling import Part, parts
from glimb.suite.wording import counts_text, cut

WAIT, WAKE, AGAIN, CONDITION, CHANGE, ROWS, NONE, VALUE, NOTE = (
    "wait", "wake", "again", "condition", "change", "rows", "none", "value", "note",
)  # fmt: skip
COMMIT, ROLLBACK, SAVEPOINT, BACK, DONE = "commit", "rollback", "savepoint", "to savepoint", "done"
ENDINGS = {COMMIT: "committed", ROLLBACK: "rolled back", SAVEPOINT: "{}", BACK: "to {}"}
"""What is said of an event of a transaction; other events are not told."""


class Sign(NamedTuple):
    """A kind (above) and a text."""

    kind: str
    text: str


def signs(ladder: Ladder, rung: Rung, woken: Iterable[Rung] = ()) -> list[Sign]:
    """What a rung did; `woken` are the rungs that ended a wait at it."""
    told: list[Sign] = []
    waiting = rung.outcome.waiting
    if waiting is not None:
        place = f"{waiting.table} {waiting.key}".rstrip()
        told.append(Sign(WAIT, f"waits for {', '.join(waiting.sessions)} on {place}"))
        if rung.ended_at is not None:
            told.append(Sign(AGAIN, f"goes on at rung {ladder.rungs[rung.ended_at].number}:"))
    told += outcome_signs(rung.last)
    for other in woken:
        if other.session != rung.session:
            told.append(Sign(WAKE, f"{other.session} goes on with rung {other.number}"))
    return told or [Sign(DONE, "done")]


SIGNED = (
    telling.Condition,
    telling.Changes,
    telling.Rows,
    telling.Count,
    telling.Values,
    telling.Given,
    telling.Notes,
    telling.Transaction,
)
"""What of an outcome has signs, what weighs most first. Waits and wakes stand at the rails, locks have a view."""


def outcome_signs(outcome: Outcome) -> Iterator[Sign]:
    """What an outcome was."""
    signed = [part for part in parts(outcome) if isinstance(part, SIGNED)]
    for part in sorted(signed, key=lambda part: SIGNED.index(type(part))):
        yield from _part_signs(part)


def was_signs(before: Outcome, now: Outcome) -> list[Sign]:
    """What an outcome was that is another one now: its signs, or where these are the same the first thing that was
    otherwise."""
    signs = list(outcome_signs(before))
    if signs != list(outcome_signs(now)):
        return signs or [Sign(DONE, "done")]
    there = _all_details(now)
    for kind, old in _all_details(before).items():
        new = there.get(kind, [])
        if old != new:
            more = [text for text in old if text not in new] or [f"{len(old)} {kind}"]
            return [Sign(CHANGE, cut(more[0], 120))]
    return [Sign(DONE, "otherwise")]


def _all_details(outcome: Outcome) -> dict[str, list[str]]:
    """All that is told of an outcome, by the kind of part."""
    found: dict[str, list[str]] = {}
    for part in parts(outcome):
        found.setdefault(type(part).__name__.lower(), []).extend(_details(part))
    return found


def _details(part: Part) -> list[str]:
    """All that a part tells, a text for each thing."""
    match part:
        case telling.Changes(changes, _):
            return [_change_text(change) for change in changes]
        case telling.Rows():
            return [" | ".join(row) for row in part.texts()]
        case telling.Notes(notes):
            return list(notes)
        case telling.Locks():
            return [f"{lock.mode} {lock.kind} {lock.table} {lock.key}".rstrip() for lock in part.held]
        case telling.Passed():
            return [f"{name} {text}" for name, text in part.texts()]
        case telling.Condition(failure):
            place = f" in {failure.origin.routine}" if failure.origin is not None and failure.origin.routine else ""
            return [f"{failure.sqlstate} {failure.message}{place}"]
        case telling.Values() | telling.Given():
            return [f"{name} = {text}" for name, text in part.texts()]
        case telling.Waits(waiting):
            return [f"waits for {', '.join(waiting.sessions)} on {waiting.table} {waiting.key}".rstrip()]
        case telling.Wakes(sessions):
            return [f"{session} goes on" for session in sessions]
        case telling.Count(count):
            return [f"{count} row{'s' * (count != 1)}"]
        case telling.Transaction(state, events):
            return [f"transaction {state}", *(event.kind for event in events)]


def _change_text(change: Change) -> str:
    sign, table, key, cells = telling.told(change)
    if sign != "~":
        return f"{sign} {table} {', '.join(str(before or after) for _, before, after in cells)}"
    return f"{table} {key} {', '.join(f'{name} {before} → {after}' for name, before, after in cells)}"


def _part_signs(part: Part) -> Iterator[Sign]:
    match part:
        case telling.Condition(failure):
            yield Sign(CONDITION, f"{failure.sqlstate} {'deadlock' if failure.circle else cut(failure.message, 160)}")
        case telling.Changes(_, counts):
            yield from (Sign(CHANGE, f"{counts_text(c)} {table}") for table, c in counts.items())
        case telling.Rows(1, _, [_], [_]):
            yield Sign(VALUE, f"= {cut(part.texts()[0][0], 120)}")
        case telling.Rows(number, _, _, rows):
            yield Sign(ROWS, ("+ " if number > 1 else "") + f"{len(rows)} row{'s' * (len(rows) != 1)}")
        case telling.Count(_, True):
            yield Sign(NONE, "no rows")
        case telling.Values() | telling.Given():
            yield from (Sign(VALUE, f"{name} = {cut(text, 80)}") for name, text in part.texts())
        case telling.Notes(notes):
            more = f" +{len(notes) - 1}" if len(notes) > 1 else ""
            yield Sign(NOTE, f"note {cut(notes[0], 120)}{more}")
        case telling.Transaction(_, events):
            yield from (_event_sign(event) for event in events if event.kind in ENDINGS)


def _event_sign(event: TransactionEvent) -> Sign:
    return Sign(event.kind, ENDINGS[event.kind].format(event.name))
