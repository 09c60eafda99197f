"""Rows of cells below heads, drawn: what screens show that is a list. Cells that are long are folded."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import NamedTuple

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.paper import Band, Drawing, Page, cells, folded, line_height, sign

MOST_ROWS = 5_000
WIDEST = 1_600.0
GAP = 14.0
LEAST_COLUMNS, MOST_LINES = 8, 12
STEP = line_height()


class Cell(NamedTuple):
    """A text; before it a sign (of `paper.sign`), if any. `is_right`: it ends where its column does."""

    text: str
    colour: str = C.INK
    bold: bool = False
    shape: str = ""
    is_right: bool = False
    fill: str = ""


Cells = Sequence[Cell]


def listing(made: Drawing, heads: Sequence[str], rows: Sequence[Cells], name: str) -> Drawing:
    """Lay rows out below their heads on a drawing; `name` tells them apart in the file, with their numbers."""
    if len(rows) > MOST_ROWS:
        made.left_out.append(f"the first {MOST_ROWS:,} of {len(rows):,} rows are drawn")
    shown = rows[:MOST_ROWS]
    needed = [max([cells(head), *(_columns(row[at]) for row in shown)]) for at, head in enumerate(heads)]
    room = max(made.width, min(WIDEST, sum(_length(n) for n in needed) + 2 * D.MARGIN)) - 2 * D.MARGIN
    widths = shared(needed, int((room - GAP * len(heads)) / (D.CELL * D.TEXT)))
    made.width = room + 2 * D.MARGIN
    lefts = [D.MARGIN + sum(_length(n) for n in widths[:at]) for at in range(len(widths))]
    made.heads = Band(20, partial(_heads, heads, lefts))
    for number, row in enumerate(shown, 1):
        folds = [_folded(cell, width) for cell, width in zip(row, widths, strict=True)]
        height = max(len(rows) for rows in folds) * STEP + 3
        made.bands.append(Band(height, partial(_row, row, folds, lefts, widths, f"{name}-{number}", height)))
    return made


def shared(needed: Sequence[int], room: int) -> list[int]:
    """So many columns shared among those that need some: what needs little has it, the others have alike."""
    left, widths = room, [0] * len(needed)
    waiting = sorted(range(len(needed)), key=lambda at: needed[at])
    while waiting:
        share = max(LEAST_COLUMNS, left // len(waiting))
        at = waiting.pop(0)
        widths[at] = min(needed[at], share)
        left -= widths[at]
    return widths


def _columns(cell: Cell) -> int:
    return max(map(cells, cell.text.split("\n"))) + (2 if cell.shape else 0)


def _length(columns: int) -> float:
    return columns * D.CELL * D.TEXT + GAP


def _folded(cell: Cell, width: int) -> list[str]:
    return folded(cell.text, width - (2 if cell.shape else 0), MOST_LINES)


def _heads(heads: Sequence[str], lefts: list[float], page: Page, y: float) -> None:
    for head, x in zip(heads, lefts, strict=True):
        page.words(x, y + 9, head, C.QUIET, D.SMALL)
    page.line([(D.MARGIN, y + 14), (page.width - D.MARGIN, y + 14)], C.FAINT)


def _row(
    row: Cells,
    folds: list[list[str]],
    lefts: list[float],
    widths: list[int],
    name: str,
    height: float,
    page: Page,
    y: float,
) -> None:
    for at, (cell, lines, x, width) in enumerate(zip(row, folds, lefts, widths, strict=True)):
        if cell.fill:
            page.box(x - 3, y, width * D.CELL * D.TEXT + 6, height - 1, cell.fill)
        if cell.shape:
            sign(page, cell.shape, x + 4, y + 6.5, 5.5, cell.colour)
        lead = 2 * D.CELL * D.TEXT if cell.shape else 0
        for number, text in enumerate(lines):
            left = x + width * D.CELL * D.TEXT if cell.is_right else x + lead
            own = name if not at and not number else ""
            anchor = "right" if cell.is_right else "left"
            page.words(left, y + 9 + number * STEP, text, cell.colour, D.TEXT, cell.bold, anchor, name=own)
