"""What uses what, drawn: routines, triggers, views and tables in layers, those that are used to the right of those that
use them; what is called, read, changed and fired by lines that differ."""

from __future__ import annotations

from collections import Counter
from functools import partial
from typing import NamedTuple

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.graphs import THIN, Layout, between, layered, stacked
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, shortened
from glimb.suite.uses import CALLS, CHANGES, FIRES, READS, Link, Thing, Uses

MOST_THINGS = 600
BOX, LAYER = 132.0, 218.0
"""Lengths: of a box, and from one layer to the next."""
HEIGHT, GAP = 25.0, 9.0


class Stroke(NamedTuple):
    """How a verb is drawn."""

    colour: str
    width: float
    dash: tuple[float, ...]


STROKES = {
    CALLS: Stroke(C.INK, 1.0, ()),
    READS: Stroke(C.SESSIONS[0], 0.8, (1.2, 1.6)),
    CHANGES: Stroke(C.WARN, 1.9, ()),
    FIRES: Stroke(C.SESSIONS[1], 1.0, (5.0, 2.5)),
}
GROUNDS = {"table": C.PALE, "view": C.SESSIONS_PALE[0], "trigger": C.SESSIONS_PALE[1]}


def drawing(uses: Uses, facts: list[str], of: str = "") -> Drawing:
    """What uses what; of one thing (`of`, its name), all that uses it and all that it uses, at once or by others."""
    things, links = (uses.things, uses.links) if not of else around(uses, of)
    title = "What calls, reads and changes what" if not of else f"What {of} uses, and what uses it"
    counts = Counter(thing.kind for thing in things)
    told = [f"{n} {kind}{'s' * (n != 1)}" for kind, n in sorted(counts.items())]
    made = Drawing(title, [*facts, *told], _legend(links))
    made.left_out += [f"{t.kind} {t.name} cannot be bound: nothing is known of it" for t in uses.unbound if t in things]
    if len(things) > MOST_THINGS:
        made.left_out.append(f"{MOST_THINGS} of {len(things):,} are drawn: those with most links")
        things, links = _most_linked(things, links)
    if not things:
        made.left_out.append("there is nothing that uses or is used")
        return made
    picture = Picture(things, links)
    made.width = max(made.width, picture.width)
    made.bands = [Band(picture.height, picture.draw)]
    return made


def around(uses: Uses, name: str) -> tuple[list[Thing], list[Link]]:
    """The things of a name with all that they use and all that uses them, and the links on these ways."""
    kept: set[Link] = set()
    mine = [thing for thing in uses.things if thing.name == name]
    for forward in (True, False):
        todo, seen = list(mine), set(mine)
        while todo:
            one = todo.pop()
            for link in uses.links:
                start, end = (link.user, link.used) if forward else (link.used, link.user)
                if start == one:
                    kept.add(link)
                    if end not in seen:
                        seen.add(end)
                        todo.append(end)
    things = {thing for link in kept for thing in (link.user, link.used)} | set(mine)
    return sorted(things), sorted(kept)


def _most_linked(things: list[Thing], links: list[Link]) -> tuple[list[Thing], list[Link]]:
    counts = Counter(thing for link in links for thing in (link.user, link.used))
    kept = set(sorted(things, key=lambda thing: (-counts[thing], thing))[:MOST_THINGS])
    return sorted(kept), [link for link in links if link.user in kept and link.used in kept]


def layers_of(things: list[Thing], links: list[Link]) -> Layout:
    """Things in layers: tables last, unless they fire something; of several links between two, one counts."""
    numbers = {thing: at for at, thing in enumerate(things)}
    edges = sorted({(numbers[link.user], numbers[link.used]) for link in links})
    first = layered(len(things), edges)
    firing = {link.user for link in links if link.verb == FIRES}
    last = max(
        (first.layers[at] for at, thing in enumerate(things) if thing.kind != "table" or thing in firing), default=-1
    )
    layers = [
        last + 1 if thing.kind == "table" and thing not in firing else first.layers[at]
        for at, thing in enumerate(things)
    ]
    return layered(len(things), edges, layers)


class Picture:
    """The boxes and lines."""

    def __init__(self, things: list[Thing], links: list[Link]) -> None:
        self.things, self.links = things, links
        self.numbers = {thing: at for at, thing in enumerate(things)}
        self.layout = layers_of(things, links)
        edges = sorted({(self.numbers[link.user], self.numbers[link.used]) for link in links})
        self.routes = dict(zip(edges, self.layout.routes, strict=True))
        self.unit = (HEIGHT + GAP) / 2  # most of what stands across are lines, which need less
        self.tops = stacked(self.layout, [HEIGHT] * len(things), GAP, self.unit)
        self.height = max(self.tops) + HEIGHT + 16
        self.width = 2 * D.MARGIN + max(self.layout.layers) * LAYER + BOX

    def _x(self, layer: float) -> float:
        return D.MARGIN + layer * LAYER

    def draw(self, page: Page, y: float) -> None:
        y += 8
        several = Counter((link.user, link.used) for link in self.links)
        drawn: Counter[tuple[Thing, Thing]] = Counter()
        for link in self.links:
            pair = link.user, link.used
            shift = (drawn[pair] - (several[pair] - 1) / 2) * 4.5
            drawn[pair] += 1
            self._link(page, link, y, shift)
        for at, thing in enumerate(self.things):
            self._box(page, thing, self._x(self.layout.layers[at]), y + self.tops[at])

    def _link(self, page: Page, link: Link, y: float, shift: float) -> None:
        start, end = self.numbers[link.user], self.numbers[link.used]
        stroke = STROKES[link.verb]
        if start == end:
            self._loop(page, start, y, stroke)
            return
        ys = [y + self.tops[at] + HEIGHT / 2 + shift for at in (start, end)]
        ends = [(self._x(self.layout.layers[at]), up) for at, up in zip((start, end), ys, strict=True)]
        by = [(self._x(self.layout.layers[at]), y + self.tops[at] + THIN / 2 + shift) for at in self.routes[start, end]]
        page.arrow(between(ends[0], ends[1], BOX, by), stroke.colour, stroke.width, stroke.dash)

    def _loop(self, page: Page, at: int, y: float, stroke: Stroke) -> None:
        """A thing that uses itself."""
        x, top = self._x(self.layout.layers[at]) + BOX, y + self.tops[at]
        points = [(x, top + 6), (x + 12, top + 4), (x + 15, top + 12), (x + 12, top + 20), (x, top + 18)]
        page.arrow(points, stroke.colour, stroke.width, stroke.dash)

    def _box(self, page: Page, thing: Thing, x: float, y: float) -> None:
        ground = GROUNDS.get(thing.kind, "#ffffff")
        page.box(x, y, BOX, HEIGHT, ground, C.INK if thing.kind != "table" else C.QUIET)
        if thing.kind == "table":
            page.line([(x, y + 3), (x + BOX, y + 3)], C.QUIET, 0.8)
        room = int((BOX - 10) / (D.CELL * D.TEXT))
        page.words(x + 6, y + 12, shortened(thing.name, room), C.INK, D.TEXT, True, name=f"{thing.kind}-{thing.name}")
        page.words(x + 6, y + 20.5, thing.kind, C.QUIET, 6.0)


def _legend(links: list[Link]) -> list[Entry]:
    verbs = {link.verb for link in links}
    told = {CALLS: "calls", READS: "reads rows of", CHANGES: "changes rows of", FIRES: "fires (a trigger)"}
    return [
        Entry(partial(_stroke, STROKES[verb]), told[verb]) for verb in (CALLS, READS, CHANGES, FIRES) if verb in verbs
    ]


def _stroke(stroke: Stroke, page: Page, x: float, y: float) -> None:
    page.arrow([(x - 9, y), (x + 9, y)], stroke.colour, stroke.width, stroke.dash)
