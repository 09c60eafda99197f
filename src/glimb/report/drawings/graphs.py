"""Layouts of graphs: layers from left to right, by the method of Sugiyama, Tagawa and Toda (IEEE Transactions on
Systems, Man and Cybernetics 11, 1981). igraph has it, with few crossings, in time that thousands of nodes allow."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

from glimb.report.drawings.files import missing
from glimb.report.drawings.paper import Point

Edge = tuple[int, int]


class Layout(NamedTuple):
    """Of each node its layer, and its place across: a number from 0 on, one apart from what stands beside it. Behind
    the `nodes` that were asked for come those that only hold lines apart: of each edge `routes` has those that it goes
    by, from its first end to its last."""

    nodes: int
    layers: list[int]
    places: list[float]
    routes: list[list[int]]

    @property
    def height(self) -> float:
        """The greatest place across."""
        return max(self.places, default=0.0)


def layered(count: int, edges: Sequence[Edge], layers: Sequence[int] | None = None) -> Layout:
    """Lay out so many nodes in layers: those given, or so that edges go to later ones where there is no circle."""
    try:
        import igraph
    except ImportError:
        raise missing() from None
    if not count:
        return Layout(0, [], [], [[] for _ in edges])
    if layers is None:
        layers = _layers(count, edges)
    every, steps, routes = list(layers), list[Edge](), list[list[int]]()
    for start, end in edges:  # an edge over several layers becomes one of several steps, each to the next layer
        a, b = layers[start], layers[end]
        between = [len(every) + at for at in range(abs(b - a) - 1)]
        every += range(a + 1, b) if a < b else range(a - 1, b, -1)
        way = [start, *between, end]
        steps += [(m, n) if a < b else (n, m) for m, n in pairwise(way)] if a != b else []
        routes.append(between)
    laid = igraph.Graph(n=len(every), edges=steps, directed=True).layout_sugiyama(layers=every)
    places = [x for x, _ in laid]
    least = min(places)
    return Layout(count, every, [place - least for place in places], routes)


def _layers(count: int, edges: Sequence[Edge]) -> list[int]:
    """A layer for each node: behind all that lead to it; where nothing does, right before what it leads to. Of a circle
    the edge that closes it goes back. Not igraph's own, whose solver has ended the process (1.0)."""
    after: list[list[int]] = [[] for _ in range(count)]
    for start, end in edges:
        after[start].append(end)
    ended: list[int] = []
    open_now, onward = [False] * count, [list[int]() for _ in range(count)]
    seen = [False] * count
    for root in range(count):
        walk = [] if seen[root] else [(root, iter(after[root]))]
        while walk:
            node, rest = walk[-1]
            seen[node] = open_now[node] = True
            following = next(rest, None)
            if following is None:
                open_now[node] = False
                ended.append(node)
                walk.pop()
            elif not open_now[following]:
                onward[node].append(following)
                if not seen[following]:
                    walk.append((following, iter(after[following])))
    layers = [0] * count
    for node in reversed(ended):
        for following in onward[node]:
            layers[following] = max(layers[following], layers[node] + 1)
    led_to = {following for some in onward for following in some}
    for node in set(range(count)) - led_to:
        layers[node] = min((layers[following] for following in onward[node]), default=1) - 1
    return layers


THIN = 7.0
"""How much room a line has across, where it goes by boxes."""


def stacked(layout: Layout, heights: Sequence[float], gap: float, unit: float) -> list[float]:
    """Where the nodes of a layout begin across when each has a height of its own, and lines go between them: in the
    order of their layers, as near to their places (times `unit`) as they can be without touching. The least is 0."""
    every = [*heights, *[THIN] * (len(layout.places) - len(heights))]
    tops = [0.0] * len(every)
    by_layer: dict[int, list[int]] = {}
    for node, layer in enumerate(layout.layers):
        by_layer.setdefault(layer, []).append(node)
    for nodes in by_layer.values():
        nodes.sort(key=lambda node: layout.places[node])
        free, pushed = float("-inf"), 0.0
        for node in nodes:
            wanted = layout.places[node] * unit - every[node] / 2
            tops[node] = max(free, wanted)
            pushed += tops[node] - wanted
            free = tops[node] + every[node] + (gap if node < layout.nodes else 0)
        for node in nodes:  # what was pushed down is given back to all: on the average they stand where they should
            tops[node] -= pushed / len(nodes)
    least = min(tops, default=0.0)
    return [top - least for top in tops]


SMOOTH = 12
"""Of how many straight pieces a bend is made."""


def smooth(points: Sequence[Point]) -> list[Point]:
    """A line through points that are ordered from left to right, bent so that it is level at each of them."""
    found = list(points[:1])
    for (x0, y0), (x1, y1) in pairwise(points):
        for at in range(1, SMOOTH + 1):
            part = at / SMOOTH
            eased = part * part * (3 - 2 * part)
            found.append((x0 + (x1 - x0) * part, y0 + (y1 - y0) * eased))
    return found


TIP = 7.0
"""How long the last, level bit of a line is, that has its head."""


def between(starts: Point, ends: Point, width: float, by: Sequence[Point]) -> list[Point]:
    """The points of an arrow from one box to another, both of a width, each given by its left edge and where across the
    line leaves it and comes to it; `by` are the left edges of the places that it goes through on its way."""
    (a, start), (b, end) = starts, ends
    if a == b:  # beside the boxes, which stand above one another
        line = smooth([(a + width, start), (a + width + 4 * TIP, (start + end) / 2), (a + width + TIP, end)])
        return [*line, (a + width, end)]
    near, far = (0.0, width) if a < b else (width, 0.0)
    through = [(x + side, up) for x, up in by for side in (near, far)]
    tip = b + near, end
    line = smooth([(a + far, start), *through, (tip[0] + (-TIP if a < b else TIP), end)])
    return [*line, tip]
