"""Tables: rows of the fixture, and the same rows at a rung; followed along foreign keys, sorted, filtered, changed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, ClassVar, NamedTuple

from textual.app import ComposeResult
from textual.containers import Horizontal, Vertical
from textual.widgets import Static

from glimb.engine.engine import Engine
from glimb.engine.values.conversion import literal_of
from glimb.lang.printer import name as column_name
from glimb.suite import tables as core
from glimb.suite.desk import Desk
from glimb.suite.project import read_text
from glimb.suite.tables import Shown, TableNote
from glimb.suite.wording import cut
from glimb.tui.asking import ChoiceScreen, LineScreen
from glimb.tui.cells import Cells, Column, Drawn
from glimb.tui.drawing import plural
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.pane import Pane
from glimb.tui.text import Text

KEYS = [
    Key("escape", "out", "back", "back to where one came from: the row before, then the screen before", True),
    Key("enter", "enter", "follow", "follow a foreign key to the row that the cell refers to", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("w", "referring", "who refers", "the rows of other tables that refer to this one", True),
    Key("c", "choose", "table", "choose a table, or a stamp", True),
    Key("n", "next(1)", "next", "the next table", True),
    Key("b", "next(-1)", "before", "the table before"),
    Key("slash", "filter", "filter", "only rows for which an SQL condition is true", True),
    Key("o", "sort", "sort", "sort by the chosen column; again: the other way; again: as they stand", True),
    Key("a", "order", "order by", "sort by what is typed behind ORDER BY"),
    Key("x", "next_touch", "next touch", "the next rung that changes this table", True),
    Key("y", "next_touch_row", "row touched", "the next rung that changes this row", True),
    Key("comma", "rung(-1)", "rung before", "the rows behind the rung before; before the first: the fixture", True),
    Key("full_stop", "rung(1)", "next rung", "the rows behind the next rung", True),
    Key("d", "next_difference", "next ±", "the next row that is not as in the fixture"),
    Key("v", "session", "session", "as another session sees the rows, or as committed"),
    Key("p", "fixture", "fixture", "the rows of another fixture"),
    Key("i", "insert", "to open rung", "put the value of the cell into the open rung"),
    Key("e", "change", "change", "change the cell in the CSV file of the fixture"),
    Key("tab", "app.focus_next", "next pane", "rows, and the chosen row at length"),
    Key("f", "full", "row", "the chosen row on the whole screen, or beside the others"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name"),
    Key("q", "app.quit", "quit", "quit"),
]
SIGNS = {"": " ", "added": "+", "changed": "~", "removed": "-"}


class Sight(NamedTuple):
    """What is looked at: a table, with a condition and an order, and the cell one stands at."""

    table: str
    condition: str = ""
    order: str = ""
    row: int = 0
    column: int = 0


class TablesView(Page):
    """What is shown of tables: their names, the rows of one, the chosen row at length."""

    def __init__(self) -> None:
        super().__init__()
        self.notes: list[TableNote] = []
        self.sight = Sight("")
        self.back: list[Sight] = []
        self.fixture = ""
        self.every_fixture: list[str] = []
        self.rung: int | None = None
        """The rung behind which the rows are shown; None: in the fixture."""
        self.chosen_session: str | None = None
        """Who sees the rows behind a rung: nobody in particular (empty, what is committed), or None for the session of
        the rung."""
        self.shown: Shown | None = None
        self.line, self.heads, self.cells = Static("", id="tables"), Static("", id="heads"), Cells(id="cells")
        self.pane = Pane(id="row")

    def body(self) -> ComposeResult:
        yield self.line
        with Horizontal(id="body"):
            with Vertical(id="rows"):
                yield self.heads
                yield self.cells
            yield self.pane

    def on_mount(self) -> None:
        self.cells.focus()
        self.draw()

    # -- what is asked for

    def come(self) -> None:
        """Look at the tables as they are now: behind the chosen rung of the ladder, where there is one."""
        row = self.app.current
        if row is None or row.case is None:
            self.rung = None
        elif self.app.came_from == "ladder":
            self.rung, self.chosen_session = self.app.current_rung, None
        self.app.worker.ask(lambda desk: (desk.fixtures(), self._fixture_of(desk)), self._fixtures)

    @property
    def as_session(self) -> str:
        """The session that sees the rows; empty for what is committed."""
        ladder = self.app.current_ladder
        if self.chosen_session is not None or ladder is None or not self.rung:
            return self.chosen_session or core.COMMITTED
        return ladder.rungs[min(self.rung, len(ladder.rungs)) - 1].session if ladder.rungs else core.COMMITTED

    def _fixture_of(self, desk: Desk) -> str:
        row = self.app.current
        if self.rung is not None and row is not None and row.case is not None:
            return desk.fixture_of(row.case)
        fixtures = desk.fixtures()
        return self.fixture if self.fixture in fixtures else fixtures[0] if fixtures else ""

    def _fixtures(self, found: tuple[list[str], str]) -> None:
        self.every_fixture, self.fixture = found
        self.ask()

    def ask(self, then: Callable[[], None] | None = None) -> None:
        """Ask for the rows that are looked at."""
        sight, fixture, row, rung = self.sight, self.fixture, self.app.current, self.rung
        session = self.as_session

        def take(found: tuple[list[TableNote], Shown | None]) -> None:
            self.notes, self.shown = found
            if self.shown is not None:
                self.sight = self.sight._replace(table=self.shown.note.name)
            self.draw()
            self.cells.go_to(self.sight.row, self.sight.column)
            if then is not None:
                then()

        def at_rung(engine: Engine, desk: Desk) -> tuple[list[TableNote], Shown | None]:
            notes = core.tables(engine)
            name = _name_in(notes, sight.table)
            rows = core.shown_at(engine, desk.engine(fixture), name, sight.condition, sight.order, session)
            return notes, rows

        def in_fixture(desk: Desk) -> tuple[list[TableNote], Shown | None]:
            engine = desk.engine(fixture)
            notes = core.tables(engine)
            if not notes:
                return notes, None
            return notes, core.shown(engine, _name_in(notes, sight.table), sight.condition, sight.order)

        if rung is not None and row is not None:
            self.app.worker.ask_rung(row.id, row.script, rung, at_rung, take)
        else:
            self.app.worker.ask(in_fixture, take)

    def look(self, sight: Sight, remember: bool = True) -> None:
        """Look at something else; back leads here again."""
        if remember and self.sight.table:
            self.back.append(self.sight._replace(row=self.cells.row or 0, column=self.cells.column))
        self.sight = sight
        self.ask()

    # -- drawing

    def draw(self) -> None:
        if not self.is_mounted:
            return
        colours, shown = self.app.colours, self.shown
        self._draw_head()
        self._draw_tables()
        if shown is None:
            self.cells.show_cells([], 0, lambda r, c: Drawn("", ""), colours)
            self.heads.update(Text("  There is no table here: schema/*.sql makes them.", style=colours.text))
            self.pane.draw(lambda width: Text(""))
            return
        numbers = [type_.is_number for type_ in shown.note.types]
        columns = [Column(n, t, number) for (n, t), number in zip(shown.note.columns, numbers, strict=True)]
        self.cells.show_cells(columns, len(shown.rows), self._cell, colours, self._mark, about=shown)
        self._draw_row()

    def _draw_head(self) -> None:
        colours, head, row = self.app.colours, self.named(), self.app.current
        head.append(f"  fixture {self.fixture or '(none)'}", style=f"bold {colours.text}")
        if self.rung is not None and row is not None:
            seen = f"as {self.as_session} sees it" if self.as_session else "as committed"
            place = f"behind rung {self.rung}" if self.rung else "before rung 1"
            head.append(
                f"  {place} of {cut(row.title, max(20, self.size.width - 90))}, {seen}", style=f"bold {colours.accent}"
            )
        if self.shown is not None:
            count = len(self.shown.rows)
            head.append(f"  {count:,} row{'s' * (count != 1)}", style=colours.text)
            states = list(self.shown.states.values())
            told = "  ".join(f"{SIGNS[s]}{states.count(s):,}" for s in ("added", "changed", "removed") if s in states)
            head.append(f"  {told}", style=f"bold {colours.warn}")
        if self.sight.condition:
            head.append(f"  where {cut(self.sight.condition, 50)}", style=colours.warn)
        if self.sight.order:
            head.append(f"  by {cut(self.sight.order, 30)}", style=colours.warn)
        self.head.update(head)

    def _draw_tables(self) -> None:
        """The tables with their counts, so many as there is room for, around the chosen one."""
        colours, names = self.app.colours, [note.name for note in self.notes]
        at = names.index(self.sight.table) if self.sight.table in names else 0
        words = [f"{n.name} {'stamp' if n.is_stamp else f'{n.total:,}'}" for n in self.notes]
        first, room = at, self.size.width - 8 - (len(words[at]) if words else 0)
        last = at + 1
        while first > 0 or last < len(words):
            before = first > 0 and room >= len(words[first - 1]) + 3
            behind = last < len(words) and room >= len(words[last]) + 3
            if before:
                first, room = first - 1, room - len(words[first - 1]) - 3
            if behind:
                room, last = room - len(words[last]) - 3, last + 1
            if not before and not behind:
                break
        line = Text(" … " if first else "   ", style=colours.quiet)
        for number in range(first, min(last, len(words))):
            name, _, count = words[number].rpartition(" ")
            style = f"bold reverse {colours.accent}" if number == at else colours.text
            line.append(f" {name} ", style=style).append(f"{count} ", style=colours.quiet)
        self.line.update(line.append(" …" if last < len(words) else "", style=colours.quiet))

    def _cell(self, row: int, column: int) -> Drawn:
        shown, colours = self.shown, self.app.colours
        assert shown is not None
        value, state = shown.rows[row][column], shown.states.get(row, "")
        text, style = value_text(value, shown.note.types[column]), colours.text
        if value is None or text == "''":
            style = colours.quiet
        if state == "changed" and shown.before[row][column] != value:
            style = f"bold {colours.warn}"
        elif state == "added":
            style = f"bold {colours.met}"
        elif state == "removed":
            style = f"strike {colours.slip}"
        return Drawn(text, style)

    def _mark(self, row: int) -> Drawn:
        colours, state = self.app.colours, self.shown.states.get(row, "") if self.shown is not None else ""
        style = {"added": colours.met, "changed": colours.warn, "removed": colours.slip}.get(state, colours.quiet)
        return Drawn(SIGNS[state], f"bold {style}")

    def _draw_row(self) -> None:
        shown, row, colours = self.shown, self.cells.row, self.app.colours
        if shown is None:
            return
        self.heads.update(self.cells.head(colours))
        if row is None or row >= len(shown.rows):
            told = "No row meets the condition." if self.sight.condition else "This table has no rows."
            self.pane.draw(lambda width: table_text(shown.note, colours).append(f"\n\n{told}", style=colours.warn))
        else:
            column = self.cells.column
            self.pane.draw(lambda width: row_text(shown, row, column, colours))


class TablesScreen(TablesView):
    """The tables in a line, below them the rows of one, at the side the chosen row at length."""

    NAME: ClassVar = "Tables"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    # -- messages

    def on_cells_moved(self, message: Cells.Moved) -> None:
        self._draw_row()

    def on_lines_entered(self) -> None:
        self.action_enter_cell()

    # -- keys

    @property
    def _here(self) -> tuple[Shown, tuple[Any, ...]] | None:
        """What is shown, and the chosen row."""
        shown, row = self.shown, self.cells.row
        return (shown, shown.rows[row]) if shown is not None and row is not None and row < len(shown.rows) else None

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        elif self.back:
            self.look(self.back.pop(), remember=False)
        elif self.sight.condition or self.sight.order:
            self.look(Sight(self.sight.table), remember=False)
        else:
            await self.app.back()

    def action_full(self) -> None:
        self.full = not self.full
        self.set_class(self.full, "full")
        self.set_focus(self.pane if self.full else self.cells)
        self.call_after_refresh(self.draw)

    def action_enter(self) -> None:
        self.action_enter_cell()

    def action_enter_cell(self) -> None:
        if self._here is None:
            return
        shown, row = self._here
        column = shown.note.columns[self.cells.column][0]
        found = core.followed(shown.note, row, column)
        if found is None:
            told = (
                f"{column} refers to no other table" if row[self.cells.column] is not None else "NULL refers to nothing"
            )
            self.told(f"{told}; w: who refers to this row")
        else:
            self.look(Sight(*found))

    def action_referring(self) -> None:
        if self._here is None:
            return
        found = core.referring(self._here[0].note, self._here[1])
        if not found:
            self.told(f"no table refers to {self._here[0].note.name}")
        elif len(found) == 1:
            self.look(Sight(*found[0]))
        else:

            def take(number: int | str | None) -> None:
                if isinstance(number, int):
                    self.look(Sight(*found[number]))

            options = [f"{table}  where {condition}" for table, condition in found]
            self.app.ask(ChoiceScreen("Rows that refer to this one", options), take)

    def action_choose(self) -> None:
        if not self.notes:
            return

        def take(number: int | str | None) -> None:
            if isinstance(number, int):
                self.look(Sight(self.notes[number].name))

        options = [f"{n.name}  {'a stamp' if n.is_stamp else plural(n.total, 'row')}" for n in self.notes]
        names = [note.name for note in self.notes]
        at = names.index(self.sight.table) if self.sight.table in names else 0
        self.app.ask(ChoiceScreen("Tables and stamps", options, at), take)

    def action_next(self, by: int) -> None:
        names = [note.name for note in self.notes]
        if names:
            at = names.index(self.sight.table) if self.sight.table in names else 0
            self.look(Sight(names[(at + by) % len(names)]), remember=False)

    def action_filter(self) -> None:
        def take(text: str | None) -> None:
            if text is not None:
                self.look(self.sight._replace(condition="" if text == "*" else text, row=0))

        question = f"Only rows of {self.sight.table} for which this is true (* for all):"
        self.app.ask(LineScreen(question, self.sight.condition), take)

    def action_order(self) -> None:
        def take(text: str | None) -> None:
            if text is not None:
                self.look(self.sight._replace(order="" if text == "*" else text, row=0), remember=False)

        self.app.ask(LineScreen("ORDER BY (* for as they stand):", self.sight.order), take)

    def action_sort(self) -> None:
        if self.shown is not None and self.shown.note.columns:
            name = column_name(self.shown.note.columns[self.cells.column][0])
            order = {name: f"{name} DESC", f"{name} DESC": ""}.get(self.sight.order, name)
            self.look(self.sight._replace(order=order, row=0, column=self.cells.column), remember=False)

    def action_rung(self, by: int) -> None:
        """The rows behind another rung; before the first stands the fixture."""
        row = self.app.current
        ladder = self.app.current_ladder
        if row is None or ladder is None:
            self.told("there is no ladder: S, Enter on a case")
            return
        self._stand(max(0, min(len(ladder.rungs), (self.rung or 0) + by)))

    def _stand(self, rung: int) -> None:
        self.rung = rung or None
        self.app.stand_at(rung)
        self.sight = self.sight._replace(row=self.cells.row or 0, column=self.cells.column)
        self.ask()

    def action_next_touch(self) -> None:
        self._next_touch(None)

    def action_next_touch_row(self) -> None:
        self._next_touch(self._here[1] if self._here is not None else None)

    def _next_touch(self, row: tuple[Any, ...] | None) -> None:
        ladder, shown = self.app.current_ladder, self.shown
        if ladder is None or shown is None:
            self.told("there is no ladder: S, Enter on a case")
            return
        rungs = core.touching(ladder, shown.note, row)
        found = next((n for n in rungs if n > (self.rung or 0)), rungs[0] if rungs else None)
        if found is None:
            self.told(f"no rung of this ladder changes {shown.note.name if row is None else 'this row'}")
            return
        names = [name for name, _ in shown.note.columns]
        key = [row[names.index(name)] for name in shown.note.key] if row is not None else []

        def stand_there() -> None:
            now = self.shown
            if now is not None and key:
                places = [[name for name, _ in now.note.columns].index(name) for name in now.note.key]
                at = next((n for n, r in enumerate(now.rows) if [r[p] for p in places] == key), 0)
                self.cells.go_to(at, self.cells.column)

        self.rung = found
        self.app.stand_at(found)
        self.ask(stand_there)

    def action_next_difference(self) -> None:
        states = self.shown.states if self.shown is not None else {}
        here = self.cells.row or 0
        found = next((n for n in sorted(states) if n > here), min(states, default=None))
        if found is None:
            self.told("all rows are as in the fixture")
        else:
            self.cells.go_to(found, self.cells.column)

    def action_session(self) -> None:
        ladder = self.app.current_ladder
        if self.rung is None or ladder is None:
            self.told("sessions see their own rows behind a rung: . goes to the first")
            return
        options = [
            "as the session of each rung sees them",
            "as committed",
            *(f"as {name} sees it" for name in ladder.sessions),
        ]

        def take(number: int | str | None) -> None:
            if isinstance(number, int):
                self.chosen_session = [None, core.COMMITTED, *ladder.sessions][number]
                self.ask()

        self.app.ask(ChoiceScreen("Who sees the rows", options), take)

    def action_fixture(self) -> None:
        def take(number: int | str | None) -> None:
            if isinstance(number, int):
                self.rung, self.fixture = None, self.every_fixture[number]
                self.ask()

        if self.every_fixture:
            self.app.ask(ChoiceScreen("Fixtures", self.every_fixture), take)
        else:
            self.told("there is no fixture: `glimb new fixture NAME` makes one")

    def action_insert(self) -> None:
        if self._here is not None:
            shown, row = self._here
            self.app.insert_in_open_rung(literal_of(row[self.cells.column], shown.note.types[self.cells.column]))

    def action_change(self) -> None:
        """Change a cell in its CSV file."""
        if self._here is None:
            return
        if self.rung is not None:
            self.told("a row behind a rung is what statements made of it: in the fixture (,) it can be changed")
            return
        shown, row = self._here
        name, number = shown.note.name, self.cells.column
        column, fixture = shown.note.columns[number][0], self.fixture

        def find(desk: Desk) -> Path | None:
            return core.csv_of(desk.project, fixture, name)

        def ask(path: Path | None) -> None:
            if path is None:
                self.told(f"{name} has no CSV file in this fixture: its rows come of SQL, of stamps or of one below")
                return
            value = "" if row[number] is None else field_text(row[number], shown, number)
            question = f'{column} of this row in {self.app.shown(path)} (NULL for NULL, "" for the empty text):'
            self.app.ask(LineScreen(question, value), partial(self._write, path, shown.note, row, column))

        self.app.worker.ask(find, ask)

    def _write(self, path: Path, note: TableNote, row: tuple[Any, ...], column: str, text: str | None) -> None:
        if text is None:
            return

        def change(desk: Desk) -> tuple[str, str]:
            before = read_text(path).text
            return before, core.changed_cell(desk.engine(""), path, note, row, column, text)

        def write(found: tuple[str, str]) -> None:
            self.sight = self.sight._replace(row=self.cells.row or 0, column=self.cells.column)
            self.app.worker.save(path, found[1], found[0], saved)

        def saved() -> None:
            self.told(f"saved {self.app.shown(path)}")
            self.app.files_saved({path})
            self.come()

        self.app.worker.ask(change, write)


def _name_in(notes: list[TableNote], name: str) -> str:
    """A table that is there: this one, or the first."""
    return name if any(note.name == name for note in notes) or not notes else notes[0].name


def value_text(value: Any, type_: Any) -> str:
    """A value in a cell: texts without quotes, blanks at their ends and empty ones shown."""
    if value is None:
        return "NULL"
    if isinstance(value, str):
        if not value:
            return "''"
        bare = value.strip(" ")
        start = len(value) - len(value.lstrip(" "))
        return "␣" * start + bare + "␣" * (len(value) - start - len(bare)) if bare else "␣" * len(value)
    text = literal_of(value, type_)
    return text.partition("'")[2].removesuffix("'") if "'" in text and type_.kind not in ("array", "row") else text


def field_text(value: Any, shown: Shown, column: int) -> str:
    """A value as one types it into a CSV file."""
    if isinstance(value, str):
        return value or '""'
    return value_text(value, shown.note.types[column])


def table_text(note: TableNote, colours: Any) -> Text:
    """What a table is."""
    text = Text().append(f"{note.name}\n", style=f"bold {colours.text}")
    text.append(f"key {', '.join(note.key)}" if note.key else "no key", style=colours.quiet)
    for check in note.checks:
        text.append(f"\ncheck {check}", style=colours.quiet)
    return text


def row_text(shown: Shown, number: int, column: int, colours: Any) -> Text:
    """A row at length: each column with its type, what it was, what it refers to; who refers to it."""
    note, row, before = shown.note, shown.rows[number], shown.before.get(number)
    text = table_text(note, colours)
    state = shown.states.get(number, "")
    if state:
        text.append(f"\n{SIGNS[state]} {state} since the fixture", style=f"bold {colours.warn}")
    text.append("\n")
    refers = {name: r.target for r in note.refers for name in r.columns}
    wide = max((len(name) for name, _ in note.columns), default=0)
    for at, (name, type_) in enumerate(note.columns):
        text.append(
            f"\n{'▸' if at == column else ' '} {name.ljust(wide)}  ",
            style=colours.accent if at == column else colours.quiet,
        )
        text.append(value_text(row[at], note.types[at]), style=f"bold {colours.text}" if at == column else colours.text)
        if before is not None and before[at] != row[at]:
            text.append(f"  was {value_text(before[at], note.types[at])}", style=f"bold {colours.warn}")
        text.append(f"  {type_}", style=colours.faint)
        if name in refers:
            text.append(f"  → {refers[name]}", style=colours.accent)
    if note.referred:
        text.append("\n\nreferred to by", style=colours.quiet)
        for reference in note.referred:
            text.append(f"\n  {reference.table} ({', '.join(reference.columns)})", style=colours.text)
        text.append("\n  w goes there", style=colours.quiet)
    return text
