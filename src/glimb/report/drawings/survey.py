"""The proof grid drawn: of each routine what cases have asserted, only shown or never shown, and beside it how much of
its statements, arms and conditions they have tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from itertools import groupby

from glimb.engine.outcomes.coverage import ARM, CONDITION, STATEMENT
from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, shortened, sign
from glimb.report.evidence import HEADS
from glimb.suite.coverage import NAMES, Counted, Counts, by_owner, share_of
from glimb.suite.evidence import ASSERTED, CANNOT, EVIDENCE, NEVER, SEEN, Row

SHAPES = {ASSERTED: "square", SEEN: "open square", NEVER: "point", CANNOT: "dash"}
COLOURS = {ASSERTED: C.MET, SEEN: C.WARN, NEVER: C.INK, CANNOT: C.FAINT}
NAME, KIND, CELL, BAR = 190.0, 64.0, 35.0, 54.0
"""Widths: of names, kinds, cells of the grid, bars with their figures."""
BAR_LENGTH, BAR_GAP = 42.0, 14.0
ROW = 13.0
MOST_ROUTINES = 1_000
SIDES = NAMES[CONDITION]
BARS = ("statements", "arms", *SIDES)


def drawing(rows: list[Row], counts: Counts, facts: list[str], shown: Callable[[str], str]) -> Drawing:
    """A proof grid with the counts behind it; `shown` gives the path of a file as it is shown."""
    tried = by_owner(counts)
    width = 2 * D.MARGIN + NAME + KIND + len(HEADS) * CELL + len(BARS) * (BAR + BAR_GAP) + 8
    made = Drawing("What the cases have shown", [*facts, *_sums(rows)], _legend(), width=width)
    made.heads = Band(34, _heads)
    if not rows:
        made.left_out.append("the project has no routine")
    if len(rows) > MOST_ROUTINES:
        made.left_out.append(f"the first {MOST_ROUTINES:,} of {len(rows):,} routines are drawn")
    for file, group in groupby(rows[:MOST_ROUTINES], key=lambda row: row.file):
        mine = list(group)
        for number, row in enumerate(mine):
            name = shown(file) if not number else ""
            shares = tuple(_shares(tried.get((file, row.name), [])))
            made.bands.append(Band(ROW + (20 if name else 0), partial(_row, row, shares, name)))
    return made


def _shares(mine: list[Counted]) -> Iterator[tuple[int, int]]:
    """For each of `BARS`, how many of how many."""
    yield share_of(mine, STATEMENT)
    yield share_of(mine, ARM)
    for side in range(len(SIDES)):
        can = [one for one in mine if one.kind == CONDITION and side in one.sides]
        yield sum(one.counts[side] > 0 for one in can), len(can)


def _sums(rows: list[Row]) -> Iterator[str]:
    """How many cells of each kind there are."""
    cells = [standing for row in rows for standing in row.evidence.values()]
    yield f"{len(rows)} routine{'s' * (len(rows) != 1)}"
    yield ", ".join(f"{cells.count(kind)} {kind}" for kind in (ASSERTED, SEEN, NEVER))


def _grid_x(number: int) -> float:
    return D.MARGIN + NAME + KIND + (number + 0.5) * CELL


def _bar_x(number: int) -> float:
    return D.MARGIN + NAME + KIND + len(HEADS) * CELL + BAR_GAP + number * (BAR + BAR_GAP)


def _heads(page: Page, y: float) -> None:
    for number, head in enumerate(HEADS):
        page.words(_grid_x(number), y + 22, head, C.QUIET, D.SMALL, anchor="middle")
    for number, head in enumerate(BARS):
        page.words(_bar_x(number), y + 22, head, C.QUIET, D.SMALL)
    page.words(D.MARGIN + NAME + KIND + CELL / 2 - 10, y + 10, "evidence", C.INK, D.SMALL, True)
    page.words(_bar_x(0), y + 10, "tried", C.INK, D.SMALL, True)
    page.words(_bar_x(2), y + 10, "conditions that were", C.INK, D.SMALL, True)
    page.words(D.MARGIN, y + 22, "routine", C.QUIET, D.SMALL)
    page.line([(D.MARGIN, y + 27), (page.width - D.MARGIN, y + 27)], C.FAINT)


def _row(row: Row, shares: tuple[tuple[int, int], ...], file: str, page: Page, y: float) -> None:
    if file:
        page.words(D.MARGIN, y + 14, file, C.INK, D.TEXT, True)
        y += 20
    middle = y + ROW / 2
    page.line([(D.MARGIN, y + ROW), (page.width - D.MARGIN, y + ROW)], C.PALE, 0.6)
    page.words(D.MARGIN + 10, middle + 3, shortened(row.name, 36), C.INK, D.TEXT, name=f"routine-{row.name}")
    page.words(D.MARGIN + NAME, middle + 3, row.kind, C.QUIET, D.SMALL)
    for number, kind in enumerate(EVIDENCE):
        standing = row.evidence[kind]
        sign(page, SHAPES[standing], _grid_x(number), middle, 6.5 if standing != CANNOT else 5, COLOURS[standing])
    for number, (taken, every) in enumerate(shares):
        _bar(page, _bar_x(number), middle, taken, every)


def _bar(page: Page, x: float, y: float, taken: int, every: int) -> None:
    if not every:
        sign(page, "dash", x + 3, y, 5, C.FAINT)
        return
    length = BAR_LENGTH * taken / every
    page.box(x, y - 3, BAR_LENGTH, 6, C.PALE)
    if taken:
        page.box(x, y - 3, length, 6, C.MET if taken == every else C.WARN)
    page.words(
        x + BAR_LENGTH + 3, y + 2.6, f"{taken}/{every}", C.QUIET if taken == every else C.INK, 6.2, taken < every
    )


def _legend() -> list[Entry]:
    told = {ASSERTED: "asserted", SEEN: "only seen", NEVER: "never", CANNOT: "cannot be"}
    signs = [Entry(D.sample(SHAPES[kind], COLOURS[kind]), text) for kind, text in told.items()]
    bars = [
        Entry(D.patch(C.MET), "all tried"),
        Entry(D.patch(C.WARN), "tried in part"),
        Entry(D.patch(C.PALE), "not tried"),
    ]
    return [*signs, *bars]
