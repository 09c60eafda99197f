"""What routines tell: `note`, `no notes`."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.node import Record
from glimb.lang.visible import escaped
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value

MOST_NOTES = 5
"""So many notes of a statement are pinned, and told."""


class Noted(Record):
    """The text of a note."""

    text: Value


def _read_note(line: Line) -> Noted:
    if not line.rest:
        line.fail("the text of the note is missing")
    return Noted(line.literal("\n"))


def _judge_note(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    wanted = e.says.text
    return Verdict(e, wanted.value in outcome.notes, f"note {wanted.text}", _notes_text(outcome))


def _notes_text(outcome: Outcome) -> str:
    """The first notes, and how many there are beside them."""
    more = f" and {len(outcome.notes) - MOST_NOTES} more" if len(outcome.notes) > MOST_NOTES else ""
    return ", ".join(escaped(n) for n in outcome.notes[:MOST_NOTES]) + more or "no notes"


def _judge_no_notes(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    return Verdict(e, not outcome.notes, "no notes", _notes_text(outcome))


def _notes_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    return _pin_notes(outcome)


def _judge_no_other(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    others = Counter(outcome.notes) - Counter(s.says.text.value for s in around.siblings if s.kind == "note")
    seen = ", ".join(escaped(n) for n in list(others.elements())[:MOST_NOTES])
    return Verdict(e, not others, e.text, seen or "no other notes")


def _pin_notes(outcome: Outcome) -> Iterator[str]:
    return (f"note {escaped(note)}" for note in outcome.notes[:MOST_NOTES])


KINDS = (
    Kind("no other notes", _judge_no_other, asks="absence", covers="notes", looks_around=True),
    Kind("no notes", _judge_no_notes, asks="absence", covers="notes", seen=_notes_seen),
    Kind("note", _judge_note, _read_note, _pin_notes, covers="notes"),
)
