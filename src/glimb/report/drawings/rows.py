"""Rows of a table drawn, those of a fixture or those behind a rung with what differs from the fixture."""

from __future__ import annotations

from glimb.engine.values.conversion import literal_of
from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.listing import Cell, listing
from glimb.report.drawings.paper import Drawing, Entry
from glimb.report.text import plural
from glimb.suite.tables import Shown

SIGNS = {"": "", "added": "+", "changed": "~", "removed": "-"}
FILLS = {"": "", "added": C.MET_PALE, "changed": C.WARN_PALE, "removed": C.SLIP_PALE}


def drawing(shown: Shown, facts: list[str]) -> Drawing:
    """Rows of a table as a drawing."""
    note = shown.note
    differing = [state for state in shown.states.values() if state]
    legend = []
    if differing:
        legend = [
            Entry(D.letter(SIGNS[state]), f"{state} since the fixture") for state in ("added", "changed", "removed")
        ]
    told = [plural(len(shown.rows), "row"), *([f"key {', '.join(note.key)}"] if note.key else [])]
    made = Drawing(note.name, [*facts, *told], legend)
    heads = ["", *(f"{name} {type_}" for name, type_ in note.columns)]
    return listing(made, heads, [_row(shown, at) for at in range(len(shown.rows))], "row")


def _row(shown: Shown, at: int) -> list[Cell]:
    state = shown.states.get(at, "")
    before = shown.before.get(at)
    cells = [Cell(SIGNS[state], C.INK, True)]
    for number, (value, type_) in enumerate(zip(shown.rows[at], shown.note.types, strict=False)):
        text = literal_of(value, type_)
        is_changed = before is not None and before[number] != value
        if before is not None and is_changed:
            text += f"\nwas {literal_of(before[number], type_)}"
        fill = FILLS[state] if state != "changed" or is_changed else ""
        cells.append(Cell(text, C.QUIET if value is None else C.INK, is_changed, fill=fill))
    return cells
