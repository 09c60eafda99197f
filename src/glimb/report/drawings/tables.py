"""Tables drawn: columns with their types, keys and references, how many rows the fixture has, and the first of them."""

from __future__ import annotations

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.graphs import THIN, between, layered, stacked
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, line_height, shortened, sign
from glimb.report.text import plural
from glimb.suite.tables import Reference, TableNote

Examples = dict[str, list[list[str]]]
"""Of each table the first rows, each value as written in SQL."""
MOST_TABLES, MOST_COLUMNS = 300, 60
EXAMPLES = 2
BOX, LAYER = 322.0, 392.0
"""Lengths: of a box, and from one layer to the next."""
NAMES, TYPES = 104.0, 84.0
"""In a box: how much room names of columns and types have; the values of rows have the rest."""
HEAD, GAP = 22.0, 26.0
STEP = line_height(D.SMALL)


def drawing(notes: list[TableNote], rows: Examples, facts: list[str]) -> Drawing:
    """Tables (stamps aside) as a drawing."""
    every = [note for note in notes if not note.is_stamp]
    shown = every[:MOST_TABLES]
    total = sum(note.total for note in every)
    told = [plural(len(every), "table"), plural(total, "row")]
    made = Drawing("Tables and what refers to what", [*facts, *told], _legend())
    if len(shown) < len(every):
        made.left_out.append(f"the first {MOST_TABLES} of {len(every):,} tables are drawn")
    wide = [note.name for note in shown if len(note.columns) > MOST_COLUMNS]
    if wide:
        made.left_out.append(f"of tables with more columns the first {MOST_COLUMNS} are drawn: {', '.join(wide)}")
    if not shown:
        made.left_out.append("the project has no tables")
        return made
    picture = Picture(shown, rows)
    made.width = max(made.width, picture.width)
    made.bands = [Band(picture.height, picture.draw)]
    return made


class Picture:
    """The boxes, those that refer to the left of what they refer to."""

    def __init__(self, notes: list[TableNote], rows: Examples) -> None:
        self.notes, self.rows = notes, rows
        self.numbers = {note.name: at for at, note in enumerate(notes)}
        self.refers = [
            (at, reference)
            for at, note in enumerate(notes)
            for reference in note.refers
            if reference.target in self.numbers
        ]
        edges = sorted({(at, self.numbers[reference.target]) for at, reference in self.refers})
        self.layout = layered(len(notes), edges)
        self.routes = dict(zip(edges, self.layout.routes, strict=True))
        self.heights = [HEAD + min(len(note.columns), MOST_COLUMNS) * STEP + 6 for note in notes]
        self.unit = sum(self.heights) / len(notes) * 0.6
        self.tops = stacked(self.layout, self.heights, GAP, self.unit)
        self.height = max([*self.tops, *(t + own for t, own in zip(self.tops, self.heights, strict=False))]) + 20
        self.width = 2 * D.MARGIN + max(self.layout.layers) * LAYER + BOX

    def _x(self, at: int) -> float:
        return D.MARGIN + self.layout.layers[at] * LAYER

    def _column_y(self, at: int, column: str) -> float:
        names = [name for name, _ in self.notes[at].columns][:MOST_COLUMNS]
        place = names.index(column) if column in names else len(names) - 1
        return self.tops[at] + HEAD + (place + 0.5) * STEP

    def draw(self, page: Page, y: float) -> None:
        y += 10
        for at, reference in self.refers:
            self._reference(page, at, reference, y)
        for at in range(len(self.notes)):
            self._box(page, at, y)

    def _reference(self, page: Page, at: int, reference: Reference, y: float) -> None:
        """From the first column that refers to the first one of the key."""
        to = self.numbers[reference.target]
        start = y + self._column_y(at, reference.columns[0])
        end = y + self._column_y(to, reference.key[0])
        if at == to:
            x = self._x(at) + BOX
            page.arrow([(x, start), (x + 14, start), (x + 14, end), (x, end)], C.QUIET, 0.9)
            return
        by = [(self._x(n), y + self.tops[n] + THIN / 2) for n in self.routes[at, to]]
        page.arrow(between((self._x(at), start), (self._x(to), end), BOX, by), C.SESSIONS[0], 0.9)

    def _box(self, page: Page, at: int, y: float) -> None:
        note, x, top = self.notes[at], self._x(at), y + self.tops[at]
        page.box(x, top, BOX, self.heights[at], "#ffffff", C.INK)
        page.box(x, top, BOX, HEAD - 4, C.PALE, C.INK)
        page.words(x + 8, top + 12.5, shortened(note.name, 32), C.INK, D.TEXT + 0.5, True, name=f"table-{note.name}")
        page.words(x + BOX - 8, top + 12.5, plural(note.total, "row"), C.QUIET, D.SMALL, anchor="right")
        referring = {column for reference in note.refers for column in reference.columns}
        for number, (name, type_) in enumerate(note.columns[:MOST_COLUMNS]):
            line = top + HEAD + number * STEP
            is_key = name in note.key
            if is_key:
                sign(page, "diamond", x + 7, line + 4.8, 5.5, C.INK)
            if name in referring:
                page.arrow([(x + 11, line + 4.8), (x + 19, line + 4.8)], C.SESSIONS[0], 0.9)
            page.words(x + 23, line + 7.5, shortened(name, _room(NAMES - 22)), C.INK, D.SMALL, is_key)
            page.words(x + NAMES + 4, line + 7.5, shortened(type_, _room(TYPES)), C.QUIET, D.SMALL)
            values = ", ".join(row[number] for row in self.rows.get(note.name, [])[:EXAMPLES])
            room = _room(BOX - NAMES - TYPES - 16)
            page.words(x + NAMES + TYPES + 10, line + 7.5, shortened(values, room), C.QUIET, D.SMALL)


def _room(length: float) -> int:
    return int(length / (D.CELL * D.SMALL))


def _legend() -> list[Entry]:
    return [
        Entry(D.sample("diamond", C.INK, 5.5), "primary key"),
        Entry(D.stroke(C.SESSIONS[0], 0.9, arrow=True), "refers to: from the column to the key"),
        Entry(D.letter("'a'", C.QUIET), "values of the first rows of the fixture"),
    ]
