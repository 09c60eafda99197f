"""What drawings are made of: lines, areas and words on pages, and bands that are laid one below the other on them.

In: a `Drawing`, a title with facts, a legend, and bands of known heights. Out: `Page`s with what stands where on them.
Lengths are in points (1/72 inch), from the upper left corner. Nothing here knows how a file is written.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from math import cos, pi, sin
from typing import NamedTuple
from unicodedata import combining, east_asian_width

from glimb.lang.visible import visible
from glimb.report.drawings.look import FAINT, INK, QUIET

Point = tuple[float, float]

CELL = 0.60205
"""The width of a character of the fixed font beside its size (DejaVu Sans Mono: 1233 of 2048 units)."""
TEXT, SMALL, LARGE, TITLE = 8.0, 7.0, 10.0, 15.0
"""Sizes of words."""
LEADING = 1.35
MARGIN = 36.0
A4 = (842.0, 595.0)
"""Lying, ISO 216."""


class Line(NamedTuple):
    """A line through some points. `dash` are lengths that are drawn and left out in turn."""

    points: tuple[Point, ...]
    colour: str
    width: float
    dash: tuple[float, ...]


class Area(NamedTuple):
    """A closed outline; `fill` and `edge` may be empty."""

    points: tuple[Point, ...]
    fill: str
    edge: str
    width: float


class Words(NamedTuple):
    """A text in one line. `x` is its left end (in the fixed font also its middle or right end), `y` its base line;
    `name` tells it from others in the file."""

    x: float
    y: float
    text: str
    size: float
    colour: str
    bold: bool
    anchor: str
    fixed: bool
    name: str


Mark = Line | Area | Words


class Page:
    """A page on which something is drawn. What is drawn later lies above."""

    def __init__(self, width: float, height: float) -> None:
        self.width, self.height = width, height
        self.marks: list[Mark] = []

    def line(
        self, points: Iterable[Point], colour: str = INK, width: float = 0.8, dash: tuple[float, ...] = ()
    ) -> None:
        self.marks.append(Line(tuple(points), colour, width, dash))

    def area(self, points: Iterable[Point], fill: str = "", edge: str = "", width: float = 0.8) -> None:
        self.marks.append(Area(tuple(points), fill, edge, width))

    def box(self, x: float, y: float, width: float, height: float, fill: str, edge: str = "") -> None:
        """A rectangle by its upper left corner."""
        self.area(((x, y), (x + width, y), (x + width, y + height), (x, y + height)), fill, edge)

    def words(
        self,
        x: float,
        y: float,
        text: str,
        colour: str = INK,
        size: float = TEXT,
        bold: bool = False,
        anchor: str = "left",
        fixed: bool = True,
        name: str = "",
    ) -> None:
        """A text in one line; nothing in it steers whatever shows the file."""
        if text:
            self.marks.append(Words(x, y, visible(text), size, colour, bold, anchor, fixed, name))

    def arrow(
        self, points: Sequence[Point], colour: str = INK, width: float = 0.8, dash: tuple[float, ...] = ()
    ) -> None:
        """A line with a head at its last point."""
        (x0, y0), (x, y) = points[-2:]
        length = max(0.001, ((x - x0) ** 2 + (y - y0) ** 2) ** 0.5)
        across, along = (x - x0) / length, (y - y0) / length
        size = 3.2 + 1.6 * width
        back = (x - across * size, y - along * size)
        self.line([*points[:-1], back], colour, width, dash)
        wing = size * 0.42
        self.area(
            [
                (x, y),
                (back[0] - along * wing, back[1] + across * wing),
                (back[0] + along * wing, back[1] - across * wing),
            ],
            colour,
        )


def cells(text: str) -> int:
    """How many columns of the fixed font a text takes: two for a wide character (Unicode Standard Annex 11)."""
    if text.isascii():
        return len(text)
    return sum(0 if combining(c) else 2 if east_asian_width(c) in "WF" else 1 for c in text)


def width_of(text: str, size: float) -> float:
    """How long a text is in the fixed font."""
    return cells(text) * CELL * size


def line_height(size: float = TEXT) -> float:
    return size * LEADING


def folded(text: str, columns: int, most: int = 1_000) -> list[str]:
    """A text broken at blanks to lines of so many columns, the later ones set in by two; the last of `most` lines says
    that something is missing."""
    rows: list[str] = []
    for part in text.split("\n"):
        lead, room = "", max(8, columns)
        rest = part.rstrip()
        while cells(rest) > room:
            end = _break(rest, room)
            rows.append(lead + rest[:end].rstrip())
            rest, lead, room = rest[end:].lstrip(), "  ", max(6, columns - 2)
        rows.append(lead + rest)
    if len(rows) > most:
        left = len(rows) - most + 1
        rows = [*rows[: most - 1], f"… {left} lines more"]
    return rows


def _break(text: str, room: int) -> int:
    """Where a line of a text ends that has so many columns."""
    while cells(text[:room]) > room:
        room -= 1
    room = max(1, room)
    places = (text.rfind(" ", room // 3, room + 1), text.rfind(",", room // 3, room) + 1, text.rfind("(", 1, room) + 1)
    return next((place for place in places if place > 0), room)


def shortened(text: str, columns: int) -> str:
    """At most so many columns, with an ellipsis where something is missing."""
    text = " ".join(text.split())
    if cells(text) <= columns:
        return text
    while text and cells(text) >= columns:
        text = text[:-1]
    return text + "…"


# ---- signs ----------------------------------------------------------------------------------------------------------


def ring(x: float, y: float, r: float, count: int = 20) -> list[Point]:
    """A circle, as so many points."""
    return [(x + r * cos(2 * pi * at / count), y + r * sin(2 * pi * at / count)) for at in range(count)]


def sign(page: Page, name: str, x: float, y: float, size: float, colour: str) -> None:
    """A sign around a point: each has a shape of its own."""
    r = size / 2
    match name:
        case "dot" | "ring":
            page.area(ring(x, y, r), colour if name == "dot" else "#ffffff", colour, 1.0)
        case "diamond" | "open diamond":
            points = [(x, y - r), (x + r, y), (x, y + r), (x - r, y)]
            page.area(points, colour if name == "diamond" else "#ffffff", colour, 1.1)
        case "square" | "open square":
            corners = [(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)]
            page.area(corners, colour if name == "square" else "#ffffff", colour, 1.1)
        case "back":
            page.area([(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)], "#ffffff", colour, 1.1)
            page.line([(x + r * 0.5, y + r * 0.45), (x - r * 0.4, y), (x + r * 0.5, y - r * 0.45)], colour, 1.1)
        case "glass":
            page.area([(x - r, y - r), (x + r, y - r), (x - r, y + r), (x + r, y + r)], "#ffffff", colour, 1.1)
        case "play":
            page.area([(x - r * 0.8, y - r), (x + r, y), (x - r * 0.8, y + r)], colour, colour, 0.8)
        case "check":
            page.line([(x - r, y), (x - r * 0.25, y + r * 0.7), (x + r, y - r * 0.8)], colour, 1.3)
        case "cross":
            page.line([(x - r, y - r), (x + r, y + r)], colour, 1.5)
            page.line([(x - r, y + r), (x + r, y - r)], colour, 1.5)
        case "point":
            page.area(ring(x, y, r * 0.35), colour)
        case "dash":
            page.line([(x - r, y), (x + r, y)], colour, 1.1)
        case _:
            raise KeyError(name)


# ---- bands and pages ------------------------------------------------------------------------------------------------


class Band(NamedTuple):
    """A stretch of a drawing that is not broken: its height, and what draws it on a page at a height."""

    height: float
    draw: Callable[[Page, float], None]


class Entry(NamedTuple):
    """A line of a legend: what draws a sample around a point, and what it means."""

    sample: Callable[[Page, float, float], None]
    text: str


@dataclass
class Drawing:
    """What is drawn: `facts` stand below the title, `left_out` tells what is not drawn, `top` stands on the first page
    alone, `heads` above the bands of every page."""

    title: str
    facts: list[str]
    legend: list[Entry] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)
    width: float = A4[0]
    top: list[Band] = field(default_factory=list)
    heads: Band | None = None
    bands: list[Band] = field(default_factory=list)


def sample(name: str, colour: str = INK, size: float = 7.0) -> Callable[[Page, float, float], None]:
    """A sign as a sample."""
    return lambda page, x, y: sign(page, name, x, y, size, colour)


def stroke(
    colour: str = INK, width: float = 1.0, dash: tuple[float, ...] = (), arrow: bool = False
) -> Callable[[Page, float, float], None]:
    """A short line as a sample."""

    def draw(page: Page, x: float, y: float) -> None:
        (page.arrow if arrow else page.line)([(x - 8, y), (x + 8, y)], colour, width, dash)

    return draw


def patch(fill: str, edge: str = "") -> Callable[[Page, float, float], None]:
    """A filled rectangle as a sample."""
    return lambda page, x, y: page.box(x - 6, y - 3.5, 12, 7, fill, edge)


def letter(text: str, colour: str = INK) -> Callable[[Page, float, float], None]:
    """Words as a sample."""
    return lambda page, x, y: page.words(x, y + 2.5, text, colour, SMALL, bold=True, anchor="middle")


def pages(drawing: Drawing, height: float | None) -> list[Page]:
    """The pages of a drawing: as many as it needs of a height, or one that is as high as it needs (None). A band that
    is higher than a page has a page of its own height."""
    first = _first_head(drawing)
    later = _later_head(drawing)
    heads = [drawing.heads] if drawing.heads is not None else []
    groups: list[list[Band]] = [[first, *drawing.top, *heads]]
    room = (height or float("inf")) - 2 * MARGIN
    used = sum(band.height for band in groups[0])
    is_bare = True
    for band in drawing.bands:
        if not is_bare and used + band.height > room:
            groups.append([later, *heads])
            used, is_bare = sum(b.height for b in groups[-1]), True
        groups[-1].append(band)
        used, is_bare = used + band.height, False
    made = []
    for number, bands in enumerate(groups, 1):
        needed = sum(band.height for band in bands) + 2 * MARGIN
        page = Page(drawing.width, needed if height is None else max(height, needed))
        y = MARGIN
        for band in bands:
            band.draw(page, y)
            y += band.height
        if len(groups) > 1:
            right = drawing.width - MARGIN
            page.words(right, MARGIN + 4, f"page {number} of {len(groups)}", QUIET, SMALL, anchor="right")
        made.append(page)
    return made


def _later_head(drawing: Drawing) -> Band:
    def draw(page: Page, y: float) -> None:
        page.words(MARGIN, y + 5, shortened(drawing.title, 110), INK, TEXT, True, fixed=False)

    return Band(16, draw)


def _first_head(drawing: Drawing) -> Band:
    """Title, facts, legend, and what is left out."""
    room = drawing.width - 2 * MARGIN
    title = folded(drawing.title, int(room / (TITLE * 0.62)), 3)
    facts = list(_flowed(drawing.facts, int(room / (CELL * TEXT)), "   "))
    rows = list(_legend_rows(drawing.legend, room))
    left_out = [row for text in drawing.left_out for row in folded(text, int(room / (CELL * TEXT)))]
    heights = (len(title) * 19, len(facts) * 12, 8, len(rows) * 13, len(left_out) * 12, 8)

    def draw(page: Page, y: float) -> None:
        for at, text in enumerate(title):
            page.words(
                MARGIN, y + 12 + 19 * at, text.strip(), INK, TITLE, True, fixed=False, name="title" if not at else ""
            )
        y += heights[0]
        for at, text in enumerate(facts):
            page.words(MARGIN, y + 8 + 12 * at, text, QUIET, TEXT, name="facts" if not at else "")
        y += heights[1] + 4
        page.line([(MARGIN, y), (drawing.width - MARGIN, y)], FAINT, 0.8)
        y += heights[2] - 4
        for row in rows:
            for x, entry in row:
                entry.sample(page, MARGIN + x + 10, y + 6)
                page.words(MARGIN + x + 24, y + 8.5, entry.text, QUIET, SMALL)
            y += 13
        for at, text in enumerate(left_out):
            page.words(MARGIN, y + 9 + 12 * at, text, INK, TEXT, True, name="left-out" if not at else "")

    return Band(sum(heights), draw)


def _flowed(texts: Iterable[str], columns: int, gap: str) -> Iterator[str]:
    """Short texts behind one another, on as many lines as they need."""
    row = ""
    for text in texts:
        if row and cells(row) + len(gap) + cells(text) > columns:
            yield row
            row = ""
        row += (gap if row else "") + shortened(text, columns)
    if row:
        yield row


def _legend_rows(legend: list[Entry], room: float) -> Iterator[list[tuple[float, Entry]]]:
    row: list[tuple[float, Entry]] = []
    x = 0.0
    for entry in legend:
        wide = 24 + width_of(entry.text, SMALL) + 16
        if row and x + wide - 16 > room:
            yield row
            row, x = [], 0.0
        row.append((x, entry))
        x += wide
    if row:
        yield row
