"""Two ladders drawn beside one another, the first difference marked: a case that runs twice, a try and the ladder it
was laid beside."""

from __future__ import annotations

from functools import partial
from itertools import zip_longest

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.ladder import MOST_RUNGS, NARROWEST_LANE, Column, legend, verdict
from glimb.report.drawings.paper import Band, Drawing, Entry, Page
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.signs import signs

FIRST, LATER = "≠", "="
"""At the first rung that differs, and at later ones."""
BETWEEN = 26.0


def differences(one: Ladder, other: Ladder) -> dict[int, str]:
    """The numbers of rungs that are not alike, in their statement or in what it did; the first of them with `FIRST`."""
    found: dict[int, str] = {}
    for number, (a, b) in enumerate(zip_longest(one.rungs, other.rungs), 1):
        if a is None or b is None or _told(one, a) != _told(other, b):
            found[number] = LATER if found else FIRST
    return found


def _told(ladder: Ladder, rung: Rung) -> object:
    rows = [rows for _, rows in rung.last.results]
    return rung.session, rung.text, signs(ladder, rung), rows, rung.last.transaction


def drawing(one: Ladder, other: Ladder, names: tuple[str, str], facts: list[str]) -> Drawing:
    """Two ladders as a drawing, each with the name of what it is."""
    marked = differences(one, other)
    lane = NARROWEST_LANE * 0.8
    needed = max(Column.least(ladder, lane) for ladder in (one, other))
    width = max(D.A4[0], 2 * D.MARGIN + BETWEEN + 2 * needed)
    room = (width - 2 * D.MARGIN - BETWEEN) / 2
    columns = Column(one, D.MARGIN, room, marked), Column(other, D.MARGIN + room + BETWEEN, room, marked)
    first = next(iter(marked), None)
    told = f"first difference at rung {first}" if first is not None else "no difference"
    verdicts = [f"{name}: {verdict(ladder)}" for name, ladder in zip(names, (one, other), strict=True)]
    entries = {entry.text: entry for ladder in (one, other) for entry in legend(ladder)}
    marks = [Entry(D.letter(FIRST, C.WARN), "the first difference"), Entry(D.letter(LATER, C.WARN), "a later one")]
    made = Drawing(one.case.title, [*facts, *verdicts, told], [*entries.values(), *marks], width=width)
    made.heads = Band(38, partial(_heads, columns, names, room))
    count = max(len(one.rungs), len(other.rungs))
    if count > MOST_RUNGS:
        made.left_out.append(f"the first {MOST_RUNGS:,} of {count:,} rungs are drawn")
    for at in range(min(count, MOST_RUNGS)):
        sides = [column for column in columns if at < len(column.ladder.rungs)]
        height = max(column.height(at) for column in sides)
        made.bands.append(Band(height, partial(_rung, sides, at, height)))
    return made


def _heads(columns: tuple[Column, Column], names: tuple[str, str], room: float, page: Page, y: float) -> None:
    for number, (column, name) in enumerate(zip(columns, names, strict=True)):
        page.words(column.x, y + 12, name, C.INK, D.LARGE, True, name=f"side-{number + 1}")
        column.heads(page, y + 18)


def _rung(columns: list[Column], at: int, height: float, page: Page, y: float) -> None:
    for column in columns:
        column.draw(at, page, y, height)
