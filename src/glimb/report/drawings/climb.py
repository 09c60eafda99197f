"""What happened inside a rung, drawn: calls and loops as a strip of depth over steps, below it the steps in which
something changed, each with its line of source and its values."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from functools import partial

from glimb.engine.values.conversion import literal_of
from glimb.report.climbed import done
from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, folded, line_height, shortened, sign
from glimb.report.text import one_line
from glimb.suite.climbing import Line, head_of
from glimb.suite.course import Course
from glimb.suite.wording import failure_text

LEVEL = 13.0
WIDEST_STEP = 22.0
DEEPEST = 24
NARROWEST, APART = 0.5, 1.5
"""Of a box, and between two ticks: what would come nearer is not drawn."""
FIRST, LAST, AROUND = 300, 100, 100
"""How many steps stand below the strip, of those that tell something: the first, the last, those on either side of the
one that is chosen."""
NUMBER, PLACE = 34.0, 34.0
"""Widths: of the number of a step, and of its line."""
INDENT = 9.0
SHARE = 0.56
"""The part of the room in which statements stand; their values have the rest."""
STEP = line_height()


def drawing(course: Course, title: str, facts: list[str], chosen: int = 0) -> Drawing:
    """A course as a drawing; its case has this title, `chosen` is the step that one looks at (from 0)."""
    rung = course.rung
    told = [*facts, f"case: {title}", f"{len(course):,} steps recorded"]
    made = Drawing(shortened(f"rung {rung.number}: {one_line(rung.text)}", 240), told, _legend(course))
    room = made.width - 2 * D.MARGIN
    if not len(course):
        made.left_out.append("nothing happens inside this statement: it calls no routine and is no block")
        return made
    strip = Strip(course, room)
    made.left_out += strip.left_out()
    made.top.append(Band(strip.height, strip.draw))
    made.heads = Band(18, partial(_heads, room))
    telling = [at for at in range(len(course)) if _tells(course.lines[at])]
    near = range(bisect_left(telling, chosen) - AROUND, bisect_left(telling, chosen) + AROUND)
    shown = [n for n in range(len(telling)) if n < FIRST or n >= len(telling) - LAST or n in near]
    if len(shown) < len(telling):
        made.left_out.append(f"{len(shown):,} of {len(telling):,} steps that tell something stand below")
    folds, before = list(course.folds), -1
    for number in shown:
        if number > before + 1:
            made.bands.append(_dots(f"{number - before - 1:,} steps that are not drawn"))
        while folds and folds[0] <= telling[number]:
            made.bands += _fold_band(course, folds.pop(0))
        made.bands.append(_row(course.lines[telling[number]], room, strip.places))
        before = number
    failure = rung.last.failure
    if failure is not None:
        rows = folded(failure_text(failure), int(room / (D.CELL * D.TEXT)) - 4)
        made.bands += [Band(STEP, partial(_failed, row, not number)) for number, row in enumerate(rows)]
    return made


def _heads(room: float, page: Page, y: float) -> None:
    x = D.MARGIN
    for at, text in ((NUMBER - 8, "step"), (NUMBER + PLACE - 10, "line")):
        page.words(x + at, y + 9, text, C.QUIET, D.SMALL, anchor="right")
    page.words(x + NUMBER + PLACE, y + 9, "statement", C.QUIET, D.SMALL)
    page.words(x + room * SHARE + 2, y + 9, "with what, and what it did", C.QUIET, D.SMALL)
    page.line([(x, y + 13), (x + room, y + 13)], C.FAINT)


def _failed(text: str, is_first: bool, page: Page, y: float) -> None:
    if is_first:
        sign(page, "cross", D.MARGIN + 5, y + 7, 6, C.SLIP)
    page.words(D.MARGIN + 16, y + 9, text, C.SLIP, bold=True)


def _tells(line: Line) -> bool:
    """Whether a step has changed something, or decided where it goes on."""
    step = line.step
    return bool(
        line.kind == "enter" or line.changed or line.branch or step.changes or step.condition or step.found_none
        or step.rounds or line.kind in ("return", "note", "waymark", "signal", "resignal")
    )  # fmt: skip


def _fold_band(course: Course, at: int) -> Iterator[Band]:
    """Which rounds of a loop are folded in front of a step."""
    line = course.lines[at]
    siblings = course.children.get(course.parents[at], [])
    first = max((course.lines[s].round for s in siblings if s < at), default=0) + 1
    if first < line.round:
        yield _dots(f"rounds {first:,} to {line.round - 1:,} are folded")


def _dots(text: str) -> Band:
    """Where something is not drawn."""
    return Band(STEP, lambda page, y: page.words(D.MARGIN + NUMBER + PLACE, y + 9, f"⋮ {text}", C.QUIET))


def _row(line: Line, room: float, places: dict[str, int]) -> Band:
    """A step: number, line, statement, and what it did beside it."""
    indent = NUMBER + PLACE + min(line.depth, DEEPEST) * INDENT
    middle = max(indent + 140, room * SHARE)
    cell = D.CELL * D.TEXT
    is_call = line.kind == "enter"
    ink = C.session_colour(places.get(line.routine, 0)) if is_call else C.INK
    text = line.routine if is_call else one_line(head_of(line.text, line.kind))
    text += f"  [round {line.round:,}]" if line.round and not is_call else ""
    statement = folded(text, int((middle - indent - 10) / cell), 4)
    values = [f"{v} " for v in _entered(line)] if is_call else list(done(line))
    beside = [row for value in values for row in folded(value.rstrip(), int((room - middle) / cell), 4)]
    height = max(len(statement), len(beside), 1) * STEP + 2

    def draw(page: Page, y: float) -> None:
        x = D.MARGIN
        page.words(
            x + NUMBER - 8, y + 9, str(line.number), C.QUIET, D.SMALL, anchor="right", name=f"step-{line.number}"
        )
        page.words(x + NUMBER + PLACE - 10, y + 9, str(line.line or ""), C.QUIET, D.SMALL, anchor="right")
        for depth in range(min(line.depth, DEEPEST)):
            level = x + NUMBER + PLACE + depth * INDENT
            page.line([(level, y), (level, y + height)], C.FAINT, 0.7)
        for number, row in enumerate(statement):
            page.words(x + indent, y + 9 + number * STEP, row, ink, bold=is_call)
        colour = C.SLIP if line.step.condition is not None else C.INK
        mark = "cross" if line.step.condition is not None else "square" if line.step.changes else ""
        if mark:
            sign(page, mark, x + middle - 6, y + 6.5, 5, colour)
        for number, row in enumerate(beside):
            page.words(x + middle + 2, y + 9 + number * STEP, row, C.QUIET if is_call else colour)

    return Band(height, draw)


def _entered(line: Line) -> Iterator[str]:
    """What a call was entered with."""
    yield from (f"{v.name} = {literal_of(v.value, v.type)}" for v in line.step.assigned)


class Strip:
    """All steps from left to right, calls and loops as boxes over the steps that they hold."""

    def __init__(self, course: Course, room: float) -> None:
        self.course = course
        self.places = _places(course)
        self.unit = min(WIDEST_STEP, (room - 60) / max(1, len(course)))
        self.x = D.MARGIN + 52
        self.depth = max(line.depth for line in course.lines) + 1
        self.levels = min(self.depth, DEEPEST)
        self.height = 30 + self.levels * LEVEL + 26

    def left_out(self) -> Iterator[str]:
        """What is too deep to be drawn."""
        if self.depth > DEEPEST:
            yield f"calls and loops deeper than {DEEPEST} are not drawn: the deepest step is at {self.depth - 1}"

    def draw(self, page: Page, y: float) -> None:
        top = y + 22
        bottom = top + self.levels * LEVEL
        for level in range(self.levels):
            page.words(
                self.x - 8,
                top + level * LEVEL + 9.5,
                f"depth {level}" if not level else str(level),
                C.QUIET,
                6.5,
                anchor="right",
            )
            page.line(
                [(self.x, top + level * LEVEL), (self.x + len(self.course) * self.unit, top + level * LEVEL)],
                C.PALE,
                0.5,
            )
        reached = [0.0] * self.levels
        for at, end in self._boxes():
            x, level = self.x + at * self.unit, self.course.lines[at].depth
            if (end - at) * self.unit >= NARROWEST or x >= reached[level] + NARROWEST:
                self._box(page, at, end, top)
                reached[level] = x + max(NARROWEST, (end - at) * self.unit)
        reached = [0.0] * (self.levels + 1)
        for at, line in enumerate(self.course.lines):
            x = self.x + (at + 0.5) * self.unit
            if not self.course.children.get(at) and line.depth < DEEPEST and x >= reached[line.depth]:
                up = top + line.depth * LEVEL
                page.line([(x, up + 3), (x, up + LEVEL - 3)], C.INK, min(1.4, max(NARROWEST, self.unit / 2)))
                reached[line.depth] = x + APART
            if line.step.condition is not None:
                sign(page, "cross", x, top - 6, 5.5, C.SLIP)
            elif line.step.changes and x >= reached[-1]:
                sign(page, "square", x, top - 6, 3.6, C.INK)
                reached[-1] = x + APART
        for at in self.course.folds:
            x = self.x + at * self.unit
            page.line([(x, top - 2), (x, bottom + 2)], C.WARN, 1.0, (2.0, 1.5))
        self._axis(page, bottom)

    def _boxes(self) -> Iterator[tuple[int, int]]:
        """The steps that hold others, each with the first one behind them; the outermost first."""
        lines = self.course.lines
        ends: dict[int, int] = {}
        for at in range(len(lines) - 1, -1, -1):
            mine = self.course.children.get(at)
            ends[at] = ends[mine[-1]] if mine else at + 1
            if mine:
                ends[at] = max(ends[at], at + 1)
        found = [(at, end) for at, end in ends.items() if self.course.children.get(at) and lines[at].depth < DEEPEST]
        return iter(sorted(found, key=lambda one: lines[one[0]].depth))

    def _box(self, page: Page, at: int, end: int, top: float) -> None:
        line = self.course.lines[at]
        width = max(NARROWEST, (end - at) * self.unit)
        is_call = line.kind == "enter"
        x, y = self.x + at * self.unit, top + line.depth * LEVEL
        place = self.places.get(line.routine, 0)
        fill = C.session_pale(place) if is_call else C.PALE
        edge = C.session_colour(place) if is_call else C.FAINT
        page.box(x, y + 1, width, LEVEL - 2, fill, edge if width > 3 else "")
        text = line.routine if is_call else line.kind.upper()
        room = int((width - 6) / (D.CELL * 6.5))
        if room >= 3:
            page.words(x + 3, y + 9, shortened(text, room), edge if is_call else C.QUIET, 6.5, bold=is_call)

    def _axis(self, page: Page, y: float) -> None:
        count = len(self.course)
        page.line([(self.x, y + 3), (self.x + count * self.unit, y + 3)], C.QUIET, 0.7)
        each = next(n * 10**power for power in range(9) for n in (1, 2, 5) if n * 10**power * self.unit >= 34)
        for number in sorted({1, *range(each, count + 1, each)}):
            x = self.x + (number - 0.5) * self.unit
            page.line([(x, y + 3), (x, y + 6)], C.QUIET, 0.7)
            page.words(x, y + 13.5, f"{number:,}", C.QUIET, 6.5, anchor="middle")
        page.words(self.x - 8, y + 13.5, "step", C.QUIET, 6.5, anchor="right")


def _places(course: Course) -> dict[str, int]:
    """The numbers of the routines, by which they have their colours."""
    names = dict.fromkeys(scene.title for scene in course.scenes if scene.entered is not None)
    return {name: number for number, name in enumerate(names)}


def _legend(course: Course) -> list[Entry]:
    lines = course.lines
    shown = [Entry(D.patch(C.SESSIONS_PALE[0], C.SESSIONS[0]), "a call, over the steps within it")]
    if any(line.step.rounds for line in lines):
        shown.append(Entry(D.patch(C.PALE, C.FAINT), "a loop or another statement that holds others"))
    shown.append(Entry(lambda page, x, y: page.line([(x, y - 4), (x, y + 4)], C.INK, 1.4), "a step"))
    if any(line.step.changes for line in lines):
        shown.append(Entry(D.sample("square", C.INK, 4.5), "rows changed"))
    if course.folds:
        shown.append(Entry(_fold_sample, "rounds are folded here"))
    if any(line.step.condition is not None for line in lines):
        shown.append(Entry(D.sample("cross", C.SLIP, 6), "a condition came up"))
    return shown


def _fold_sample(page: Page, x: float, y: float) -> None:
    page.line([(x, y - 5), (x, y + 5)], C.WARN, 1.0, (2.0, 1.5))
