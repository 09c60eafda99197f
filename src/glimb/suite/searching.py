"""Whether a rung says something: in its statement, its values and rows, its notes, what it raised."""

from __future__ import annotations

from glimb.suite.ladder import Rung
from glimb.suite.telling import Condition, Given, Notes, Rows, Values, parts, told

MOST_ROWS = 1_000
"""Rows of a result in which a text is looked for."""


def says(rung: Rung, text: str) -> bool:
    """Whether a text stands in what a rung is or did; capitals and blanks do not matter."""
    wanted = " ".join(text.lower().split())
    return any(wanted in " ".join(found.lower().split()) for found in _texts(rung))


def _texts(rung: Rung) -> list[str]:
    outcome = rung.last
    texts = [rung.text, rung.session]
    for part in parts(outcome):
        match part:
            case Condition(failure):
                texts.append(f"{failure.sqlstate} {failure.message}")
            case Rows():
                texts += [", ".join(row) for row in part.texts(MOST_ROWS)]
            case Values() | Given():
                texts += [f"{name} = {value}" for name, value in part.texts()]
            case Notes(notes):
                texts += notes
    for change in outcome.changes[:MOST_ROWS]:
        _, table, key, cells = told(change)
        texts.append(f"{table} {key} " + ", ".join(f"{name} {before} {after}" for name, before, after in cells))
    return texts
