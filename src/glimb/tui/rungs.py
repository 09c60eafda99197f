"""The rungs of a ladder drawn: each statement in the lane of its session, and below it what it did, as the lens shows
it. No widgets."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import lru_cache, partial
from itertools import islice
from typing import NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.suite import signs as suite_signs
from glimb.suite import telling
from glimb.suite.ladder import Ladder, Rung, notes_of
from glimb.suite.rails import RailPlan, plan_of
from glimb.suite.signs import Sign
from glimb.suite.watches import Watch
from glimb.suite.wording import cut
from glimb.tui import palette as P
from glimb.tui.drawing import one_line, plural
from glimb.tui.facets import aligned, change_text
from glimb.tui.lines import Item, Stack, fixed
from glimb.tui.palette import Palette
from glimb.tui.rails import EVENT_SIGNS, RAIL_WIDTH, rails
from glimb.tui.text import Text

LENSES = ("effects", "rows", "changes", "notes", "locks", "time")
"""What rungs show below their statement."""

NUMBER_WIDTH = 6
MARKS_WIDTH = 7
WATCH_WIDTH = 14
NARROWEST_LANE = 30
"""Columns below which lanes overlap: then each begins a little to the right of the one before."""

Signs = list[tuple[str, str]]
"""What a rung did: short texts with their styles."""


class Look(NamedTuple):
    """How a ladder is looked at: the room there is, the lens, which rungs are open with all that they show (or None:
    all of them where they fit), what differs (rungs by number, as they were), which rungs are marked, what was taken
    back, what is watched."""

    width: int
    height: int
    lens: str = "effects"
    opened: frozenset[int] = frozenset()
    differs: Mapping[int, Rung] = {}
    marked: frozenset[int] = frozenset()
    taken: Sequence[Rung] = ()
    watches: Sequence[Watch] = ()


class Measure(NamedTuple):
    """How many lines a statement may have, and how many rows stand below it."""

    lines: int
    rows: int


MEASURES = (Measure(40, 14), Measure(14, 6), Measure(6, 0), Measure(3, 0), Measure(2, 0))
"""From the roomiest on: the first with which the whole ladder fits is taken."""
COMPACT = Measure(1, 0)
"""Otherwise: a statement has a line, what it did another one."""
LENS_ROWS = 8
"""Rows of a result that the lens on rows shows."""
OPEN = Measure(60, 40)
"""A rung that was opened."""


class LadderDrawing:
    """A ladder in lanes, to be shown as items."""

    def __init__(self, ladder: Ladder, look: Look, colours: Palette) -> None:
        self.ladder, self.look, self.colours = ladder, look, colours
        self.plan = plan_of(ladder)
        self.rail_width = RAIL_WIDTH * len(ladder.sessions) + 1
        self.watch_width = WATCH_WIDTH * len(look.watches)
        room = max(20, look.width - self.rail_width - NUMBER_WIDTH - self.watch_width)
        count = len(ladder.sessions)
        self.has_lanes = room // count >= NARROWEST_LANE
        self.lane = room // count if self.has_lanes else min(26, room // (2 * count))
        self.room = self.lane if self.has_lanes else room
        self._places = {session: at for at, session in enumerate(ladder.sessions)}

    # -- how much is shown

    def items(self) -> Stack:
        """All of it: the heads of the lanes, the rungs, what was taken back."""
        measure, rungs = self._measure(), self.ladder.rungs
        above = [fixed(self._heads())]
        above += [fixed(self._plain(line, f"bold {self.colours.slip}")) for line in _ladder_slips(self.ladder)]
        below = [fixed(self._taken(rung)) for rung in self.look.taken]
        if not rungs:
            below.append(fixed(self._plain("No statement yet: o types one.", self.colours.quiet)))
        others: Iterable[int] = range(1, len(rungs) + 1)
        if measure is COMPACT:
            with_rows = _with_rows(self.ladder) if self.look.lens == "rows" else ()
            others = {*with_rows, *(n for n in self.look.opened if n <= len(rungs))}
        heights = {n - 1: self._height(rungs[n - 1], self._of(n, measure)) for n in others}

        def make(at: int) -> Item:
            mine = self._of(at + 1, measure)
            return Item(partial(self._drawn, rungs[at], mine), at, heights.get(at, 2))

        return Stack(above, len(rungs), 2, make, below, heights)

    def _of(self, number: int, measure: Measure) -> Measure:
        return OPEN if number in self.look.opened else measure

    def _measure(self) -> Measure:
        room = self.look.height - 2 - len(self.look.taken) - len(self.ladder.slips)
        if 2 * len(self.ladder.rungs) > room:
            return COMPACT
        fits = (m for m in MEASURES if sum(self._height(rung, m) for rung in self.ladder.rungs) <= room)
        return next(fits, COMPACT)

    def _height(self, rung: Rung, measure: Measure) -> int:
        """How many lines a rung has."""
        if measure is COMPACT:
            return 2 + (_table_height(rung, LENS_ROWS) if self.look.lens == "rows" else 0)
        return len(self._statement(rung, measure.lines)) + len(self._below(rung, measure))

    # -- one rung

    def _offset(self, session: str) -> int:
        """Where its lane begins; a session whose rungs have all been taken back has none."""
        return self.lane * self._places.get(session, 0)

    def _width(self, session: str) -> int:
        return self.room - 3 if self.has_lanes else self.room - self._offset(session)

    def _statement(self, rung: Rung, most: int) -> list[str]:
        """The statement on so many lines at most."""
        width = max(8, self._width(rung.session) - (MARKS_WIDTH if rung.verdicts else 0))
        return _folded(one_line(rung.text), width, most) if len(rung.text) > width else [one_line(rung.text)]

    def _below(self, rung: Rung, measure: Measure) -> list[Text]:
        """What it did, on the lines that this needs; one at least."""
        width = self._width(rung.session)
        lens = self.look.lens
        lines = _flowed(list(self._signs(rung)), width, measure is COMPACT)
        if lens in ("effects", "rows"):
            rows = measure.rows if lens == "effects" else max(measure.rows, LENS_ROWS)
            lines += islice(self._rows(rung, rows, width), rows + 2) if rows else ()
        return lines

    def _rows(self, rung: Rung, most: int, width: int) -> Iterator[Text]:
        """Its result sets as tables; one row and column is told already."""
        for columns, rows in rung.last.results:
            if rows and len(rows) + len(columns) > 2:
                part = telling.Rows(1, 1, columns, rows)
                cells = [[Text(cell, style=self.colours.text) for cell in row] for row in part.texts(most)]
                yield from aligned([c.name for c in columns], cells, self.colours, width)
                if len(rows) > most:
                    yield Text(f"and {plural(len(rows) - most, 'row')} more", style=self.colours.quiet)

    def _signs(self, rung: Rung) -> Iterator[tuple[str, str]]:
        """What the lens shows of it."""
        colours, lens = self.colours, self.look.lens
        if lens in ("effects", "rows"):
            yield from signs(self.plan, rung, colours)
        elif lens == "changes":
            changes = rung.last.changes
            yield from ((one_line(change_text(c, colours).plain), colours.text) for c in changes[:40])
            if not changes:
                yield "no row changed", colours.faint
        elif lens == "notes":
            notes = notes_of(rung)
            yield from ((f"{note}   {place}".rstrip(), colours.text) for note, place in notes)
            if not notes:
                yield "–", colours.faint
        elif lens == "locks":
            held = [spell.at(rung.number - 1) for spell in self.ladder.held_at(rung.number - 1, rung.session)]
            yield from ((f"{lock.mode} {lock.kind} {lock.table} {lock.key}".rstrip(), colours.text) for lock in held)
            if not held:
                yield "no lock", colours.faint
        else:
            yield f"{rung.seconds * 1000:.2f} ms", colours.text
        before = self.look.differs.get(rung.number)
        if before is not None:
            yield f"{P.DIFFERS} was", f"bold {colours.warn}"
            yield from was_signs(before.last, rung.last, colours)

    def _drawn(self, rung: Rung, measure: Measure) -> list[Text]:
        colours, look = self.colours, self.look
        colour = colours.session(self._places[rung.session])
        style = colours.quiet if rung.is_setup else colour
        statement = self._statement(rung, measure.lines)
        rows = [Text(line, style=style) for line in statement] + self._below(rung, measure)
        marks = _marks(rung, colours)
        drawn = []
        for at, row in enumerate(rows):
            line = Text(" ").append_text(rails(self.plan, rung.number - 1, at, colours))
            number = f"{rung.number:>3}" if not at else "   "
            line.append(number, style=f"bold {colours.warn}" if rung.number in look.marked else colours.quiet)
            sign = P.DIFFERS if rung.number in look.differs else P.MARKED if rung.number in look.marked else " "
            line.append(f"{sign if not at else ' '}  ", style=f"bold {colours.warn}")
            line.append_text(self._in_lane(rung.session, row, marks if not at else None))
            self._watched(line, rung, at)
            drawn.append(line)
        return drawn

    def _in_lane(self, session: str, row: Text, marks: Text | None) -> Text:
        """A line of a rung in its lane, with thin lines between the lanes."""
        width, offset = self._width(session), self._offset(session)
        cell = row.copy()
        cell.truncate(width, overflow="ellipsis")
        if marks is not None and marks.plain:
            cell.append(" " * max(1, width - len(cell) - len(marks))).append_text(marks)
        line = Text(" " * offset).append_text(cell)
        line.append(" " * max(0, self.lane * len(self.ladder.sessions) - len(line)))
        if self.has_lanes:
            for place in range(1, len(self.ladder.sessions)):
                at = place * self.lane - 2
                line = line[:at].append(P.LANE, style=self.colours.faint).append_text(line[at + 1 :])  # type: ignore
        return line

    def _watched(self, line: Text, rung: Rung, at: int) -> None:
        """The values of the watches at the right; what has changed stands out."""
        if not self.look.watches or at:
            return
        line.append(" " * max(0, self.look.width - self.watch_width - len(line)))
        for watch in self.look.watches:
            values = watch.values[rung.number - 1 : rung.number + 1]
            now = values[1] if len(values) == 2 else "…"
            style = f"bold {self.colours.warn}" if len(set(values)) == 2 else self.colours.quiet
            line.append(f" {cut(now, WATCH_WIDTH - 1):>{WATCH_WIDTH - 1}}", style=style)

    def _taken(self, rung: Rung) -> Text:
        """A rung that was taken back."""
        offset = self._offset(rung.session)
        width = self.look.width - self.rail_width - NUMBER_WIDTH - offset
        line = Text(" " * self.rail_width).append(f"{rung.number:>3}{P.BACK}  ")
        line.append(" " * offset + cut(one_line(rung.text), max(8, width)))
        line.stylize(self.colours.faint)
        return line

    def _plain(self, text: str, style: str) -> Text:
        return Text("  " + text, style=style)

    def _heads(self) -> Text:
        """The names of the sessions, each above its lane, in the colour of its rail; the watches at the right."""
        line = Text(" " * (self.rail_width + NUMBER_WIDTH))
        for at, session in enumerate(self.ladder.sessions):
            is_last = at == len(self.ladder.sessions) - 1
            name = session if is_last else cut(session, max(1, self.lane - 1)).ljust(self.lane)
            line.append(name, style=f"bold {self.colours.session(at)}")
        if self.look.watches:
            line.append(" " * max(0, self.look.width - self.watch_width - len(line)))
            for watch in self.look.watches:
                line.append(
                    f" {cut(one_line(watch.query), WATCH_WIDTH - 1):>{WATCH_WIDTH - 1}}", style=self.colours.warn
                )
        return line


@lru_cache(maxsize=2)
def _with_rows(ladder: Ladder) -> list[int]:
    """The numbers of the rungs that have a table of rows below them."""
    told = ((rung, rung.final or rung.outcome) for rung in ladder.rungs)
    return [rung.number for rung, last in told if last.rows is not None and _table_height(rung, 1)]


def _table_height(rung: Rung, most: int) -> int:
    """How many lines the result sets of a rung have below it."""
    shown = [len(rows) for columns, rows in rung.last.results if rows and len(rows) + len(columns) > 2]
    return min(sum(1 + min(count, most) + (count > most) for count in shown), most + 2)


def _folded(text: str, width: int, most: int) -> list[str]:
    """A text broken at blanks, its later lines set in; the last line says where something is missing."""
    if most == 1:
        return [cut(text, width)]
    lines: list[str] = []
    rest, room = text, width
    while rest and len(lines) < most:
        if len(rest) <= room:
            lines.append(rest)
            rest = ""
            break
        ends = (rest.rfind(" ", room // 3, room + 1), rest.rfind(",", 0, room) + 1, rest.rfind("(", 0, room) + 1, room)
        end = next(place for place in ends if place > 0)
        lines.append(rest[:end])
        rest, room = rest[end:].lstrip(), width - 2
    if rest:
        lines[-1] = cut(f"{lines[-1]} {rest}", width - 2)
    return [line if not at else f"  {line}" for at, line in enumerate(lines)]


def _flowed(told: Signs, width: int, in_one: bool) -> list[Text]:
    """Short texts one behind the other, on as many lines as they need."""
    lines = [Text()]
    for text, style in told:
        gap = "  " if lines[-1].plain else ""
        if not in_one and gap and len(lines[-1]) + len(gap) + len(text) > width:
            lines.append(Text())
            gap = ""
        if len(text) <= width or in_one:
            lines[-1].append(gap + text, style=style)
        else:
            folded = _folded(one_line(text), width, 4)
            lines[-1].append(folded[0], style=style)
            lines += [Text(part, style=style) for part in folded[1:]]
    return lines


def _ladder_slips(ladder: Ladder) -> Iterator[str]:
    for verdict in ladder.slips:
        yield f"{P.SLIP} expected {verdict.expected}; seen: {verdict.seen}"


def _marks(rung: Rung, colours: Palette) -> Text:
    """Expectations of a rung: how many met, how many slipped."""
    slips = len(rung.slips)
    met = len(rung.verdicts) - slips
    if slips:
        return Text(f"{P.SLIP}{slips} {P.MET}{met}" if met else f"{P.SLIP}{slips}", style=f"bold {colours.slip}")
    return Text(f"{P.MET}{met}", style=colours.met) if met else Text("")


def signs(plan: RailPlan, rung: Rung, colours: Palette) -> Signs:
    """What a rung did, in a few signs."""
    told = suite_signs.signs(plan.ladder, rung, plan.ended.get(rung.number - 1, ()))
    return [styled(sign, colours) for sign in told]


def was_signs(before: Outcome, now: Outcome, colours: Palette) -> Iterator[tuple[str, str]]:
    """What an outcome was that is another one now, in the same signs."""
    return (styled(sign, colours) for sign in suite_signs.was_signs(before, now))


MARKS = {
    suite_signs.WAIT: P.WAIT,
    suite_signs.WAKE: P.WAKE,
    **{kind: EVENT_SIGNS[kind] for kind in suite_signs.ENDINGS},
}
"""What stands in front of the text of a sign."""


def styled(sign: Sign, colours: Palette) -> tuple[str, str]:
    """A sign as it stands on the screen: its text, with its mark, and its style."""
    mark = f"{MARKS[sign.kind]} " if sign.kind in MARKS else ""
    return mark + sign.text, _style(sign.kind, colours)


def _style(kind: str, colours: Palette) -> str:
    match kind:
        case suite_signs.CONDITION:
            return f"bold {colours.slip}"
        case suite_signs.WAIT | suite_signs.WAKE | suite_signs.NONE | suite_signs.ROLLBACK | suite_signs.BACK:
            return colours.warn
        case suite_signs.AGAIN | suite_signs.NOTE | suite_signs.SAVEPOINT:
            return colours.quiet
        case suite_signs.COMMIT:
            return colours.met
        case suite_signs.DONE:
            return colours.faint
        case _:
            return colours.text
