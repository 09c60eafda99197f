"""A ladder drawn: rails of its sessions with transactions, locks and waits, beside them the statements in the lanes of
their sessions, with what they did and what was expected of them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from itertools import islice
from math import cos, hypot, pi, sin
from typing import NamedTuple

from glimb.engine.outcomes.outcome import Blocked
from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, folded, line_height, shortened, sign
from glimb.suite import signs as S
from glimb.suite import telling
from glimb.suite.expectations.kind import Verdict
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.rails import RailPlan
from glimb.suite.script import Turn
from glimb.suite.signs import Sign, signs

SLOTS = 5
SLOT, RAIL = 9.0, 18.0
"""Widths: of a lock bar with its gap, and of a rail without its locks."""
NUMBER, GAP = 24.0, 12.0
NARROWEST_LANE = 230.0
MOST_RUNGS = 2_000
MOST_LINES, MOST_ROWS, MOST_SIGNS, MOST_LOCKS = 14, 8, 24, 8
EVENTS = {S.COMMIT: "diamond", S.ROLLBACK: "open diamond", S.SAVEPOINT: "square", S.BACK: "back"}
"""The shape of what happens to a transaction, at its rail and before its words."""
SHAPES = {**EVENTS, S.WAIT: "glass", S.WAKE: "play", S.CONDITION: "cross"}
COLOURS = {
    S.CONDITION: C.SLIP, S.WAIT: C.WARN, S.WAKE: C.WARN, S.NONE: C.WARN, S.ROLLBACK: C.WARN, S.BACK: C.WARN,
    S.AGAIN: C.QUIET, S.NOTE: C.QUIET, S.SAVEPOINT: C.QUIET, S.DONE: C.QUIET, S.COMMIT: C.MET,
}  # fmt: skip
STEP = line_height()
RING = 58.0
"""The height of the ring of a deadlock."""


class Said(NamedTuple):
    """A line below a statement: a shape in front of it (or none), its words and their colour."""

    shape: str
    text: str
    colour: str
    bold: bool = False
    name: str = ""


def drawing(ladder: Ladder, facts: list[str], width: float = D.A4[0]) -> Drawing:
    """A ladder as a drawing; `facts` tell of its project and setting."""
    width = max(width, 2 * D.MARGIN + Column.least(ladder))
    column = Column(ladder, D.MARGIN, width - 2 * D.MARGIN)
    made = Drawing(ladder.case.title, [*facts, verdict(ladder)], legend(ladder), width=width)
    made.heads = Band(20, column.heads)
    shown = ladder.rungs[:MOST_RUNGS]
    if len(shown) < len(ladder.rungs):
        made.left_out.append(f"the first {MOST_RUNGS:,} of {len(ladder.rungs):,} rungs are drawn")
    made.bands = [Band(column.height(at), partial(column.draw, at)) for at in range(len(shown))]
    slips = [Said("cross", row, C.SLIP, True) for v in ladder.slips for row in slip_rows(v, 120)]
    made.bands += [Band(STEP, partial(_slip_line, said)) for said in slips]
    return made


def _slip_line(said: Said, page: Page, y: float) -> None:
    say(page, said, D.MARGIN, y)


def verdict(ladder: Ladder) -> str:
    """How many expectations were met and slipped."""
    slipped = f", {ladder.slip_count} slipped" if ladder.slip_count else ""
    return f"expectations: {ladder.met_count} met{slipped}"


def settings_of(ladder: Ladder, session: str) -> str:
    """What a case sets for a session."""
    turns = (s for s in (*ladder.case.setup, *ladder.case.steps) if isinstance(s, Turn) and s.session == session)
    found = {name: value for turn in turns for name, value in turn.settings.items()}
    shown = {True: "on", False: "off"}
    return ", ".join(f"{name} {shown[v] if isinstance(v, bool) else v}" for name, v in found.items())


class Column:
    """A ladder between two edges: what `ladder` draws once and `twin` twice."""

    def __init__(self, ladder: Ladder, x: float, width: float, marked: dict[int, str] | None = None) -> None:
        self.ladder, self.x, self.width = ladder, x, width
        self.plan = RailPlan(ladder, SLOTS)
        used = {name: self.plan.used(name) for name in ladder.sessions}
        self.rail_x: dict[str, float] = {}
        for name in ladder.sessions:
            self.rail_x[name] = x + RAIL / 2
            x += RAIL + used[name] * SLOT
        self.lanes_x = x + NUMBER
        self.lane = (self.x + width - self.lanes_x) / len(ladder.sessions)
        self.columns = int((self.lane - GAP) / (D.CELL * D.TEXT))
        self.marked = marked or {}
        """Signs at the numbers of rungs: of what differs."""
        self._rows: dict[int, tuple[list[str], list[Said]]] = {}

    @staticmethod
    def least(ladder: Ladder, lane: float = NARROWEST_LANE) -> float:
        """The least width of a column."""
        return len(ladder.sessions) * (lane + RAIL + SLOTS * SLOT) + NUMBER

    def heads(self, page: Page, y: float) -> None:
        """The names of the sessions, above their lanes and, as numbers, above their rails."""
        for at, name in enumerate(self.ladder.sessions):
            colour = C.session_colour(at)
            lane = self.lanes_x + at * self.lane
            page.words(lane, y + 10, shortened(name, self.columns), colour, D.LARGE, True, name=f"session-{name}")
            beside = D.width_of(name, D.LARGE) + 10
            room = int((self.lane - beside - GAP) / (D.CELL * D.SMALL))
            if room > 8:
                page.words(lane + beside, y + 10, shortened(settings_of(self.ladder, name), room), C.QUIET, D.SMALL)
            if len(self.ladder.sessions) > 1:
                room = int((self._rail_room(at)) / (D.CELL * D.SMALL))
                page.words(self.rail_x[name] - 4, y + 10, name[: max(1, room)], colour, D.SMALL, True)
        page.line([(self.x, y + 15), (self.x + self.width, y + 15)], C.FAINT)

    def _rail_room(self, at: int) -> float:
        names = self.ladder.sessions
        right = self.rail_x[names[at + 1]] if at + 1 < len(names) else self.lanes_x - NUMBER + RAIL / 2
        return right - self.rail_x[names[at]] - 3

    # -- one rung

    def height(self, at: int) -> float:
        statement, below = self._of(at)
        failure = self.ladder.rungs[at].last.failure
        ring = RING if failure is not None and failure.circle else 0
        return (len(statement) + len(below)) * STEP + ring + 7

    def _of(self, at: int) -> tuple[list[str], list[Said]]:
        """The lines of a rung's statement, and those below it."""
        if at not in self._rows:
            rung = self.ladder.rungs[at]
            statement = folded(rung.text.strip(), self.columns, MOST_LINES)
            self._rows[at] = statement, [*self._below(rung, at), *self._expected(rung)]
        return self._rows[at]

    def _below(self, rung: Rung, at: int) -> Iterator[Said]:
        told = signs(self.ladder, rung, self.plan.ended.get(at, ()))
        for one in told[:MOST_SIGNS]:
            rows = folded(one.text, self.columns - 3, 4)
            yield _said(one, rows[0])
            yield from (Said("", row, COLOURS.get(one.kind, C.INK)) for row in rows[1:])
            if one.kind == S.ROWS and not one.text.startswith("+"):
                yield from islice(self._results(rung), MOST_ROWS + 2)
            if one.kind == S.CONDITION and rung.last.failure is not None:
                yield from self._circle(rung, rung.last.failure.circle)
        if len(told) > MOST_SIGNS:
            yield Said("", f"and {len(told) - MOST_SIGNS} things more", C.QUIET)
        yield from self._locks(rung, at)

    def _circle(self, rung: Rung, circle: tuple[Blocked, ...]) -> Iterator[Said]:
        """The waits of a deadlock, by the numbers that its ring has below."""
        for number, wait in enumerate(circle, 1):
            told = f"{number} {wait} ({wait.lock.mode})" + (", ended" if wait.session == rung.session else "")
            for at, row in enumerate(folded(told, self.columns - 3, 3)):
                yield Said("", row, C.SLIP, name=f"circle-{number}" if not at else "")

    def _results(self, rung: Rung) -> Iterator[Said]:
        """Its first result set as a table; one row and column is told already."""
        for columns, rows in rung.last.results[:1]:
            if not rows or len(rows) + len(columns) <= 2:
                continue
            texts = telling.Rows(1, 1, columns, rows).texts(MOST_ROWS)
            table = [[c.name for c in columns], *texts]
            widths = [max(D.cells(row[n]) for row in table) for n in range(len(columns))]
            for number, row in enumerate(table):
                line = "  ".join(cell + " " * (w - D.cells(cell)) for cell, w in zip(row, widths, strict=True))
                yield Said("", _cut(line, self.columns - 3), C.QUIET if not number else C.INK)
            if len(rows) > MOST_ROWS:
                yield Said("", f"and {len(rows) - MOST_ROWS:,} rows more", C.QUIET)

    def _locks(self, rung: Rung, at: int) -> Iterator[Said]:
        """The locks that it took, or holds in another mode now."""
        taken = [
            spell.at(at) for spell in self.ladder.held_at(at, rung.session) if any(n == at for n, _ in spell.modes)
        ]
        texts = [f"{lock.mode} {lock.table} {lock.key}".rstrip() for lock in taken]
        more = f", and {len(texts) - MOST_LOCKS} more" if len(texts) > MOST_LOCKS else ""
        if texts:
            for number, row in enumerate(folded(f"locks {', '.join(texts[:MOST_LOCKS])}{more}", self.columns - 3, 4)):
                yield Said("bar" if not number else "", row, C.QUIET)

    def _expected(self, rung: Rung) -> Iterator[Said]:
        for verdict in rung.verdicts:
            if verdict.met:
                yield Said("check", shortened(verdict.expected, self.columns - 3), C.MET)
            else:
                for number, row in enumerate(slip_rows(verdict, self.columns - 3)):
                    yield Said("cross" if not number else "", row, C.SLIP, True)

    def draw(self, at: int, page: Page, y: float, height: float = 0.0) -> None:
        """Draw a rung, so high or as high as it needs."""
        rung = self.ladder.rungs[at]
        height = height or self.height(at)
        place = self.ladder.sessions.index(rung.session)
        colour = C.QUIET if rung.is_setup else C.session_colour(place)
        statement, below = self._of(at)
        x = self.lanes_x + place * self.lane
        if rung.slips:
            page.box(x - 4, y, self.lane - GAP / 2, height - 3, C.SLIP_PALE)
        mark = self.marked.get(rung.number, "")
        if mark:
            page.box(x - 4, y, self.lane - GAP / 2, height - 3, C.WARN_PALE)
            page.words(
                self.lanes_x - 6,
                y + 9 + STEP,
                mark,
                C.WARN,
                D.TEXT,
                True,
                anchor="right",
                name=f"differs-{rung.number}",
            )
        for number in range(1, len(self.ladder.sessions)):
            line = self.lanes_x + number * self.lane - GAP / 2 - 2
            page.line([(line, y), (line, y + height)], C.FAINT, 0.5)
        self._rails(page, at, y, height)
        page.words(
            self.lanes_x - 6, y + 9, str(rung.number), C.QUIET, D.SMALL, anchor="right", name=f"number-{rung.number}"
        )
        for number, row in enumerate(statement):
            name = f"rung-{rung.number}" if not number else ""
            page.words(x, y + 9 + number * STEP, row, colour, D.TEXT, not rung.is_setup, name=name)
        y += len(statement) * STEP
        for said in below:
            say(page, said, x, y)
            y += STEP
        failure = rung.last.failure
        if failure is not None and failure.circle:
            self._ring(page, failure.circle, x, y)

    # -- rails

    def _rails(self, page: Page, at: int, y: float, height: float) -> None:
        rung = self.ladder.rungs[at]
        for place, session in enumerate(self.ladder.sessions):
            colour, x = C.session_colour(place), self.rail_x[session]
            state = rung.rails[session].state
            before = self.ladder.rungs[at - 1].rails[session].state if at else "none"
            self._rail(page, x, y, y + 6, before, colour)
            self._rail(page, x, y + 6, y + height, state, colour)
            for slot in range(SLOTS):
                self._bar(page, session, slot, at, y, height, colour)
            name = self._node(session, rung, at)
            if name:
                sign(page, name, x, y + 6, 7.5, colour)
        if rung.outcome.waiting is not None:
            for holder in rung.outcome.waiting.sessions:
                if holder in self.rail_x:
                    self._wait(page, rung.session, holder, y + 6)

    def _rail(self, page: Page, x: float, y: float, end: float, state: str, colour: str) -> None:
        if state == "open":
            page.line([(x, y), (x, end)], colour, 2.2)
        elif state == "waiting":
            page.line([(x, y), (x, end)], colour, 1.6, (2.0, 1.6))
        else:
            page.line([(x, y), (x, end)], C.FAINT, 1.0, (0.8, 2.4))

    def _node(self, session: str, rung: Rung, at: int) -> str:
        """What stands at a rail: what became of its transaction, that it waits or goes on, or that a statement ran."""
        if rung.session != session:
            woken = any(r.session == session for r in self.plan.ended.get(at, ()))
            return "play" if woken else ""
        if rung.outcome.waiting is not None:
            return "glass"
        state = rung.rails[session]
        event = next((e.kind for e in reversed(state.events) if e.kind in EVENTS), "")
        return EVENTS[event] if event else "dot" if state.state == "open" else "ring"

    def _bar(self, page: Page, session: str, slot: int, at: int, y: float, height: float, colour: str) -> None:
        """A lock in its slot: from where it is taken, with its mode, to where it is let go."""
        x = self.rail_x[session] + RAIL / 2 + slot * SLOT
        old = self.plan.bar(session, slot, at - 1) if at else None
        new = self.plan.bar(session, slot, at)
        if new is None:
            if old is not None:
                page.line([(x - 2.5, y + 4), (x + 2.5, y + 4)], colour, 1.2)
                page.line([(x, y), (x, y + 4)], colour, 1.2)
            return
        is_new = old != new
        start = y + 14 if is_new else y
        if (new.table, new.key) in self.plan.wanted(at):
            page.line([(x - 1.5, start), (x - 1.5, y + height)], colour, 1.2)
            page.line([(x + 1.5, start), (x + 1.5, y + height)], colour, 1.2)
        else:
            page.line([(x, start), (x, y + height)], colour, 1.2)
        if is_new:
            if old is not None and old[:3] == new[:3]:
                page.line([(x, y), (x, y + 5)], colour, 1.2)
            else:
                page.line([(x - 2.5, y + 5), (x + 2.5, y + 5)], colour, 1.2)
            page.words(x, y + 12.5, new.mode, colour, 6 if len(new.mode) < 2 else 4.6, True, anchor="middle")

    def _wait(self, page: Page, waiter: str, holder: str, y: float) -> None:
        """From the rail that waits to the one that it waits for."""
        x, to = self.rail_x[waiter], self.rail_x[holder]
        side = 5 if to > x else -5
        page.arrow([(x + side, y), (to - side * 0.6, y)], C.WARN, 1.0, (3.0, 2.0))

    # -- a deadlock

    def _ring(self, page: Page, circle: tuple[Blocked, ...], x: float, y: float) -> None:
        """Who waited for whom: the sessions in a ring by number, an arrow for each wait."""
        r = 16.0
        middle = x + 40, y + RING / 2 - 2
        names = [wait.session for wait in circle]
        spots = {}
        for at, name in enumerate(names):
            angle = 2 * pi * at / len(names) - (pi if len(names) == 2 else pi / 2)
            spots[name] = middle[0] + r * cos(angle), middle[1] + r * sin(angle)
        for wait in circle:
            if wait.holder in spots:
                _bow(page, spots[wait.session], spots[wait.holder])
        for number, name in enumerate(names, 1):
            place = self.ladder.sessions.index(name) if name in self.ladder.sessions else 0
            px, py = spots[name]
            page.area(D.ring(px, py, 6), "#ffffff", C.session_colour(place), 1.4)
            page.words(px, py + 2.5, str(number), C.session_colour(place), D.SMALL, True, anchor="middle")


def _bow(page: Page, start: D.Point, end: D.Point) -> None:
    """An arrow in a bow from one place of a ring to another, away from its middle."""
    (x0, y0), (x1, y1) = start, end
    length = max(0.1, hypot(x1 - x0, y1 - y0))
    across = -(y1 - y0) / length, (x1 - x0) / length
    bend = 9.0
    points = []
    for at in range(9):
        part = 0.2 + 0.6 * at / 8
        lift = bend * 4 * part * (1 - part)
        points.append((x0 + (x1 - x0) * part - across[0] * lift, y0 + (y1 - y0) * part - across[1] * lift))
    page.arrow(points, C.SLIP, 1.0)


# ---- lines below a statement


def _said(one: Sign, text: str) -> Said:
    colour = COLOURS.get(one.kind, C.INK)
    return Said(SHAPES.get(one.kind, ""), text, colour, one.kind == S.CONDITION)


def say(page: Page, said: Said, x: float, y: float) -> None:
    """Draw a line below a statement."""
    if said.shape == "bar":
        page.line([(x + 4, y + 3), (x + 4, y + 10)], said.colour, 1.2)
        page.line([(x + 1.5, y + 3), (x + 6.5, y + 3)], said.colour, 1.2)
    elif said.shape:
        sign(page, said.shape, x + 4, y + 6.5, 5.5, said.colour)
    page.words(x + 13, y + 9, said.text, said.colour, D.TEXT, said.bold, name=said.name)


def slip_rows(verdict: Verdict, columns: int) -> Iterator[str]:
    """What was expected and what was seen."""
    yield from folded(f"expected {verdict.expected}", columns, 4)
    yield from folded(f"seen {verdict.seen}", columns, 6)


def _cut(text: str, columns: int) -> str:
    """The same as `shortened`, blanks kept."""
    return text.rstrip() if D.cells(text.rstrip()) <= columns else text[: max(1, columns - 1)] + "…"


def legend(ladder: Ladder) -> list[Entry]:
    """What the signs of this ladder mean, of those that can come up in it."""
    rails = [rung.rails[session] for rung in ladder.rungs for session in ladder.sessions if session in rung.rails]
    events = {event.kind for rail in rails for event in rail.events}
    states = {rail.state for rail in rails}
    shown = [
        Entry(D.stroke(C.INK, 2.2), "transaction open") if "open" in states else None,
        Entry(D.sample("dot"), "a statement in it") if "open" in states else None,
        Entry(D.sample("ring"), "one outside"),
        Entry(D.sample("diamond"), "commit") if S.COMMIT in events else None,
        Entry(D.sample("open diamond"), "rollback") if S.ROLLBACK in events else None,
        Entry(D.sample("square"), "savepoint") if S.SAVEPOINT in events else None,
        Entry(D.sample("back"), "back to a savepoint") if S.BACK in events else None,
    ]
    if any(rung.outcome.waiting is not None for rung in ladder.rungs):
        shown += [
            Entry(D.sample("glass"), "waits, until"),
            Entry(D.sample("play"), "it goes on"),
            Entry(D.stroke(C.WARN, 1.0, (3, 2), arrow=True), "waits for"),
            Entry(_double, "a lock that is waited for"),
        ]
    modes = {
        mode
        for session in ladder.sessions
        for group in ladder.groups(session)
        for spell in group.spells
        for _, mode in spell.modes
    }
    if modes:
        named = {"S": "shared", "U": "to be updated", "X": "exclusive"}
        told = [f"{mode} {named[mode]}" for mode in named if mode in modes]
        told += [f"{mode} of rows below" for mode in ("IS", "IX", "SIX") if mode in modes]
        shown.append(Entry(_bar_sample, f"a lock: {', '.join(told)}"))
    shown.append(Entry(D.letter("+"), "inserted,  ~ updated,  - deleted rows"))
    if any(rung.verdicts for rung in ladder.rungs):
        shown.append(Entry(D.sample("check", C.MET), "expected and met"))
    if ladder.slip_count:
        shown.append(Entry(D.sample("cross", C.SLIP), "slipped, or a condition"))
    return [entry for entry in shown if entry is not None]


def _double(page: Page, x: float, y: float) -> None:
    page.line([(x - 1.5, y - 5), (x - 1.5, y + 5)], C.INK, 1.2)
    page.line([(x + 1.5, y - 5), (x + 1.5, y + 5)], C.INK, 1.2)


def _bar_sample(page: Page, x: float, y: float) -> None:
    page.line([(x, y - 4), (x, y + 5)], C.INK, 1.2)
    page.line([(x - 3, y - 4), (x + 3, y - 4)], C.INK, 1.2)
