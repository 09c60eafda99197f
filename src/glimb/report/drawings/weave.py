"""A weave drawn: its merged states as a graph from the fixture to the ways to end, each way as wide as orders go it,
those on which nothing can be put right any more marked."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from math import log

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.graphs import layered, smooth
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, Point, folded, line_height, sign
from glimb.report.text import plural
from glimb.suite.weave import Group, Weave, order_text
from glimb.suite.weave_web import START, Passing, Way

MOST_STATES = 2_000
MOST_GROUPS = 200
LABELLED = 90
"""Ways up to which each has its statement written beside it."""
LAYER, BETWEEN = 92.0, 32.0
"""Lengths: from layer to layer, and between two states of one, where there are few; with many they come nearer."""
GROUP, GROUP_GAP = 290.0, 10.0
MOST_ROWS = 3
DASHES: tuple[tuple[float, ...], ...] = ((), (5.0, 2.0), (1.5, 1.5), (6.0, 2.0, 1.5, 2.0))
"""Sessions are told apart by how their ways are dashed, and by colour."""
STEP = line_height(D.SMALL)


def drawing(woven: Weave, facts: list[str]) -> Drawing:
    """A weave with its web as a drawing."""
    assert woven.web is not None
    picture = Picture(woven)
    loom = woven.loom
    told = [*facts, f"{plural(loom.orders, 'order')}, {plural(len(woven.web.levels), 'state')}"]
    told.append(plural(len(woven.groups), "way") + " to end")
    made = Drawing(loom.case.title, told, _legend(woven), picture.left_out, picture.width)
    if not woven.complete:
        made.left_out.insert(0, f"stopped: {woven.covered:,} of {loom.orders:,} orders have come to their end")
    made.bands = [Band(picture.height, picture.draw), *_statements(woven, made.width - 2 * D.MARGIN)]
    return made


def _statements(woven: Weave, room: float) -> Iterator[Band]:
    """The statements that the sessions run, by their numbers."""
    for at, (name, thread) in enumerate(woven.loom.threads.items()):
        for number, step in enumerate(thread, 1):
            head = f"{name} {number}"
            text = " ".join(woven.loom.source[step.span].split())
            rows = folded(text, int((room - 90) / (D.CELL * D.TEXT)), 3)
            height = len(rows) * line_height() + (10 if number == 1 else 2)
            yield Band(height, partial(_statement, head, rows, C.session_colour(at), height))


def _statement(head: str, rows: list[str], colour: str, height: float, page: Page, y: float) -> None:
    y += height - len(rows) * line_height()
    page.words(D.MARGIN, y + 9, head, colour, D.TEXT, True, name=f"statement-{head.replace(' ', '-')}")
    for number, row in enumerate(rows):
        page.words(D.MARGIN + 90, y + 9 + number * line_height(), row, C.INK)


class Picture:
    """The graph: states in layers by how many statements led there, the ways to end in a column at the right."""

    def __init__(self, woven: Weave) -> None:
        web = woven.web
        assert web is not None
        self.woven, self.left_out = woven, list[str]()
        self.sessions = list(woven.loom.threads)
        groups = woven.ranked()
        self.groups = groups[:MOST_GROUPS]
        if len(groups) > MOST_GROUPS:
            self.left_out.append(f"the {MOST_GROUPS} most frequent of {len(groups):,} ways to end are drawn")
        numbers = {group.ended: number for number, group in enumerate(self.groups)}
        passing = web.counts(group.ended for group in groups if group.broken)
        kept = self._kept(passing)
        self.states = {state: at for at, state in enumerate(kept)}
        """The states that are drawn, with their places among the nodes; behind them come the groups."""
        self.ways: list[tuple[Way, Passing]] = []
        edges = []
        for way, count in zip(web.ways, passing, strict=True):
            to = numbers.get(way.end) if way.end is not None else self.states.get(way.to)
            if way.start in self.states and to is not None:
                self.ways.append((way, count))
                edges.append((self.states[way.start], len(kept) + to if way.end is not None else to))
        self.edges = edges
        last = max(web.levels) + 1
        layers = [web.levels[state] for state in kept] + [last] * len(self.groups)
        self.layout = layered(len(layers), edges, layers)
        self._measure(last)

    def _kept(self, passing: list[Passing]) -> list[int]:
        """The states that are drawn: all, or those that most orders pass, with those of an order of each way to end."""
        web = self.woven.web
        assert web is not None
        count = len(web.levels)
        if count <= MOST_STATES:
            return list(range(count))
        orders = [0] * count
        for way, one in zip(web.ways, passing, strict=True):
            if way.to >= 0:
                orders[way.to] += one.orders
        shown = {START, *(way.to for group in self.groups for way in web.along(group.order) if way.to >= 0)}
        for state in sorted(range(count), key=lambda state: (-orders[state], state)):
            if len(shown) >= MOST_STATES:
                break
            shown.add(state)
        told = f"{len(shown):,} of {count:,} states are drawn: those that most orders pass, and an order of each way to"
        self.left_out.append(f"{told} end; widths count all orders")
        return sorted(shown)

    def _measure(self, last: int) -> None:
        """How much room there is for what."""
        layout = self.layout
        self.texts = [_group_rows(number, group, self.woven.covered) for number, group in enumerate(self.groups, 1)]
        boxes = [len(rows) * STEP + 10 for rows in self.texts]
        column = sum(boxes) + GROUP_GAP * max(0, len(boxes) - 1)
        across = BETWEEN if layout.height < 40 else max(7.0, 900 / layout.height)
        self.unit = max(across, min(40.0, (column - 20) / max(1.0, layout.height)))
        self.height = max(column, layout.height * self.unit + 20, 60) + 10
        wide = LAYER if last <= 16 else max(44.0, 1_500 / last)
        self.layer = max(wide, min(260.0, self.height / 12))  # what is steep cannot be followed
        self.states_x = D.MARGIN + 34
        self.groups_x = self.states_x + last * self.layer + 26
        self.width = max(D.A4[0], self.groups_x + GROUP + D.MARGIN)
        order = sorted(range(len(self.groups)), key=lambda n: self.layout.places[len(self.states) + n])
        self.box_tops: dict[int, float] = {}
        top = (self.height - column) / 2
        for number in order:
            self.box_tops[number] = top
            top += boxes[number] + GROUP_GAP
        self.boxes = boxes

    def _spot(self, node: int) -> Point:
        """Where a node stands, from the upper edge of the graph; of a group, where ways come into it."""
        at = node - len(self.states)
        if at >= 0:
            return self.groups_x, self.box_tops[at] + 5 + STEP / 2
        return self._at(node)

    def _at(self, node: int) -> Point:
        room = self.height - self.layout.height * self.unit
        x = self.states_x + self.layout.layers[node] * self.layer
        return x, room / 2 + self.layout.places[node] * self.unit

    def draw(self, page: Page, y: float) -> None:
        most = max(
            [1, *(count.orders for _, count in self.ways)]
        )  # of a weave that was stopped none may have come to an end
        is_labelled = len(self.ways) <= LABELLED
        lost = {self.edges[at][1] for at, (_, count) in enumerate(self.ways) if count.is_lost}
        mixed = {self.edges[at][0] for at, (_, count) in enumerate(self.ways) if not count.is_lost}
        for at, (way, count) in enumerate(self.ways):
            start, end = self.edges[at]
            points = [self._spot(start), *map(self._at, self.layout.routes[at]), self._spot(end)]
            if way.end is not None:
                points.insert(-1, (self.groups_x - 16, points[-1][1]))
            line = smooth([(x, y + up) for x, up in points])
            place = self.sessions.index(way.session)
            colour = C.SLIP if count.is_lost else C.session_colour(place)
            width = 0.5 + 3.0 * log(1 + count.orders) / log(1 + most)
            page.line(line, colour, width, DASHES[place % len(DASHES)])
            if count.is_lost and start in mixed:
                sign(page, "cross", *_middle(line), 6, C.SLIP)
            if is_labelled:
                _label(page, line, f"{way.session} {way.number}", colour)
        for state, node in self.states.items():
            x, up = self._spot(node)
            name = f"state-{state}"
            if state == START:
                page.words(x - 8, y + up + 2.5, "fixture", C.INK, D.SMALL, True, anchor="right", name=name)
            shape = "square" if state == START else "open diamond" if node in lost else "ring"
            sign(page, shape, x, y + up, 7 if is_labelled or state == START else 4, C.SLIP if node in lost else C.INK)
        for number, top in self.box_tops.items():
            self._box(page, number, y + top)

    def _box(self, page: Page, number: int, y: float) -> None:
        group, rows = self.groups[number], self.texts[number]
        ground, edge = (C.SLIP_PALE, C.SLIP) if group.broken else ("#ffffff", C.QUIET)
        page.box(self.groups_x, y, GROUP, self.boxes[number], ground, edge)
        for at, text in enumerate(rows):
            colour = (C.SLIP if group.broken else C.INK) if not at else C.QUIET
            name = f"group-{number + 1}" if not at else ""
            page.words(self.groups_x + 7, y + 13 + at * STEP - 1, text, colour, D.SMALL, not at, name=name)


def _label(page: Page, line: list[Point], text: str, colour: str) -> None:
    """A text on a line, near its beginning, where ways part."""
    x, y = line[len(line) // 4 + 2]
    wide = D.width_of(text, 6.0) + 3
    page.box(x - wide / 2, y - 4, wide, 8, "#ffffff")
    page.words(x, y + 2.2, text, colour, 6.0, anchor="middle")


def _middle(line: list[Point]) -> Point:
    return line[len(line) // 2]


def _group_rows(number: int, group: Group, total: int) -> list[str]:
    """What is told of a way to end: how many orders, one of them, how its sessions ended, rows that are changed."""
    columns = int((GROUP - 14) / (D.CELL * D.SMALL))
    share = 100 * group.count / total if total else 0
    head = f"{number}: {plural(group.count, 'order')}, {share:.1f} %" + (", does not hold" if group.broken else "")
    return [row for text in (head, *_told(group)) for row in folded(text, columns, 3)]


def _told(group: Group) -> Iterator[str]:
    yield f"such as {order_text(group.order)}"
    for name, dones, state in group.ended.sessions:
        yield f"{name}: {' · '.join([*(done.shown for done in dones), f'transaction {state}'])}"
    for change in group.ended.changes[:MOST_ROWS]:
        yield f"row {change}"
    if len(group.ended.changes) > MOST_ROWS:
        yield f"and {plural(len(group.ended.changes) - MOST_ROWS, 'row')} more"
    if not group.ended.changes:
        yield "rows as in the fixture"


def _legend(woven: Weave) -> list[Entry]:
    shown = [
        Entry(D.stroke(C.session_colour(at), 1.6, DASHES[at % len(DASHES)]), f"a statement of {name} ({len(thread)})")
        for at, (name, thread) in enumerate(woven.loom.threads.items())
    ]
    shown.append(Entry(D.sample("ring", C.INK, 6), "a state: orders that led to the same meet there"))
    shown.append(Entry(_widths, "the wider, the more orders"))
    if any(group.broken for group in woven.groups.values()):
        shown.append(Entry(D.sample("cross", C.SLIP, 6), "from here on every order breaks a `holds`"))
        shown.append(Entry(D.sample("open diamond", C.SLIP, 6), "a state from which each does"))
    return shown


def _widths(page: Page, x: float, y: float) -> None:
    page.line([(x - 8, y - 3), (x + 8, y - 3)], C.INK, 0.6)
    page.line([(x - 8, y + 2), (x + 8, y + 2)], C.INK, 3.2)
