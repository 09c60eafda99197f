"""A call sheet, typed into: each row is a call, run when one leaves its cell, with what was seen beside what is
expected."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path
from typing import ClassVar

from textual import events
from textual.app import ComposeResult
from textual.binding import Binding
from textual.containers import Horizontal, Vertical
from textual.message import Message
from textual.widgets import Input, Static

from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.desk import Desk, Named
from glimb.suite.project import read_text
from glimb.suite.sheet_table import Ran, SheetTable, columns_for, new_table, parameters_of, pasted, read_table, taken
from glimb.suite.sheets import ARRANGING, CHECK, routine_of
from glimb.tui.asking import ChoiceScreen, LineScreen
from glimb.tui.cells import Cells, Column, Drawn
from glimb.tui.drawing import plural
from glimb.tui.guarded import Guarded
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.palette import MET, NOT_RUN, SLIP, VERDICT_SIGNS
from glimb.tui.pane import Pane
from glimb.tui.text import Text

KEYS = [
    Key("escape", "out", "out", "back to where one came from", True),
    Key("enter", "type", "type", "type into the cell; Enter, Tab and arrows go on to the next, Esc ends typing", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("c", "choose", "sheet", "choose a sheet, or a routine for a new one", True),
    Key("n", "next(1)", "next", "the next sheet", True),
    Key("b", "next(-1)", "before", "the sheet before"),
    Key("a", "add", "row", "add a row below", True),
    Key("delete,minus", "remove", "no row", "take the row out"),
    Key("o", "column", "column", "add a column: a parameter, what is expected, a name, a check", True),
    Key("w", "fill", "from query", "add a row for each row of a fixture query", True),
    Key("d", "edges", "edge values", "add rows of arguments worth trying", True),
    Key("k", "take", "take", "expect what was seen: in the cell, or in all of the row", True),
    Key("l", "take_all", "take all", "expect what was seen in all rows", True),
    Key("j", "down", "fill down", "the cell into the empty ones below it", True),
    Key("y", "copy", "copy", "copy the cell"),
    Key("p", "paste", "paste", "paste what was copied here; the terminal's own paste takes blocks of a spreadsheet"),
    Key("u", "undo", "undo", "undo the last change", True),
    Key("U", "redo", "redo", "do it again"),
    Key("r", "run", "run", "run all rows", True),
    Key("x", "next_slip", "next slip", "the next row that slipped", True),
    Key("v", "ladder", "ladder", "type the row's call on the scratch ladder"),
    Key("E", "edit", "editor", "the file in your editor"),
    Key("f", "full", "row", "the chosen row on the whole screen, or beside the others"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name"),
    Key("q", "app.quit", "quit", "quit"),
]
MOST_UNDONE = 200


class CellInput(Guarded, Input):
    """Types into one cell after the other: what leads out of a cell takes what is typed."""

    class Leaves(Message):
        """The cell is left, for the one so many rows and columns away; `ends` when typing ends."""

        def __init__(self, value: str | None, down: int, right: int, ends: bool) -> None:
            super().__init__()
            self.value, self.down, self.right, self.ends = value, down, right, ends

    class Pasted(Message):
        """Something with more than one cell was pasted."""

        def __init__(self, text: str) -> None:
            super().__init__()
            self.text = text

    TELLS_KEYS = True
    BINDINGS: ClassVar = [
        Binding("enter", "told", "next row", key_display="Enter"),
        Binding("tab", "told", "next cell", key_display="Tab"),
        Binding("shift+tab", "told", "cell before", key_display="Shift+Tab"),
        Binding("up", "told", "row above", key_display="↑"),
        Binding("escape", "told", "end typing", key_display="Esc"),
    ]
    """What the foot tells; all of it is done by `take_key`."""
    MOVES: ClassVar = {"enter": (1, 0), "down": (1, 0), "up": (-1, 0), "tab": (0, 1), "shift+tab": (0, -1)}

    async def take_key(self, event: events.Key) -> bool:
        """What leads out of the cell."""
        whole = self.selection.is_empty is False and self.value == self.selected_text
        moves = dict(self.MOVES)
        if whole or not self.value:
            moves |= {"left": (0, -1), "right": (0, 1)}
        if event.key == "escape":
            self.post_message(self.Leaves(None, 0, 0, True))
        elif event.key in moves:
            self.post_message(self.Leaves(self.value, *moves[event.key], False))
        else:
            return False
        return True

    def _on_paste(self, event: events.Paste) -> None:
        event.stop()
        event.prevent_default()
        if any(sign in event.text.rstrip("\r\n") for sign in "\r\n\t"):
            self.post_message(self.Pasted(event.text))
        else:
            self.replace(event.text.rstrip("\r\n"), *self.selection)


class SheetView(Page):
    """What is shown of a sheet: its cells, what was seen, the chosen row at length."""

    def __init__(self) -> None:
        super().__init__()
        self.path: Path | None = None
        self.paths: list[Path] = []
        self.names: list[Named] = []
        self.table = SheetTable((), ())
        self.saved = ""
        """The file as it was read or written last."""
        self.ran: dict[int, Ran] = {}
        self.before: list[SheetTable] = []
        self.after: list[SheetTable] = []
        self.copied = ""
        self.is_dirty = False
        """Whether something was saved that other pages do not know of."""
        self.heads, self.cells = Static("", id="heads"), Cells(id="cells")
        self.input, self.pane = CellInput(id="typing-cell", select_on_focus=False), Pane(id="row")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            with Vertical(id="rows"):
                yield self.heads
                yield self.cells
                yield self.input
            yield self.pane

    def on_mount(self) -> None:
        self.input.display = False
        self.cells.focus()
        self.draw()

    # -- what is looked at

    def come(self, path: Path | None = None, row: int = 0, routine: str = "") -> None:
        """Look at a sheet, or at that of a routine; otherwise at the one seen last."""

        def take(found: tuple[list[Path], list[Named]]) -> None:
            self.paths, self.names = found
            wanted = path or (next((p for p in self.paths if self._called(p) == routine), None) if routine else None)
            if wanted is None and routine and any(n.name == routine for n in self.names):
                self._begin(routine)
            elif wanted is not None or self.path is None:
                self.open(wanted or (self.paths[0] if self.paths else None), row)
            else:
                self.open(self.path, self.cells.row or 0)

        self.app.worker.ask(lambda desk: (desk.sheets(), desk.routines()), take)

    def open(self, path: Path | None, row: int = 0) -> None:
        """Read a sheet and run it."""
        if path is None:
            self.draw()
            return
        try:
            source = read_text(path) if path.exists() else Source("", str(path))
            table = read_table(source, parameters_of(self.app.root, self._called(path)))
        except ProblemError as error:
            self.told(error.problems[0].describe(), severity="error")
            return
        is_same = path == self.path and source.text == self.saved
        self.path, self.saved = path, source.text
        if not is_same:
            self.table, self.before, self.after, self.ran = table, [], [], {}
        self.draw()
        self.cells.go_to(row, self.cells.column)
        self.run_rows(range(len(self.table.rows)))

    def _begin(self, routine: str) -> None:
        """A new sheet; it is written when something stands in it."""
        root = self.app.root
        if root is None:
            self.told("a sheet belongs to a project: `glimb new DIR` makes one", severity="warning")
            return
        self.path, self.saved = root / "sheets" / f"{routine}.csv", ""
        self.table, self.before, self.after, self.ran = new_table(root, routine), [], [], {}
        self.draw()

    # -- changing and running

    def change(self, table: SheetTable, rows: Iterable[int], moved: bool = False) -> None:
        """Have another table, write it, and run the rows that are new in it."""
        if table == self.table or self.path is None:
            return
        self.before = [*self.before[-MOST_UNDONE:], self.table]
        self.after = []
        self._set(table, rows, moved)

    def _set(self, table: SheetTable, rows: Iterable[int], moved: bool) -> None:
        self.table = table
        wanted = [row for row in rows if row < len(table.rows)]
        if moved:
            self.ran, wanted = {}, list(range(len(table.rows)))
        for row in wanted:
            self.ran.pop(row, None)
        self._write()
        self.draw()
        self.run_rows(wanted)

    def _write(self) -> None:
        path, text = self.path, self.table.text()
        if path is None or text == self.saved:
            return
        before = self.saved
        self.saved, self.is_dirty = text, True
        if path not in self.paths:
            self.paths = sorted([*self.paths, path])
        self.app.worker.save(path, text, before, lambda: None)

    def run_rows(self, rows: Iterable[int]) -> None:
        """Run rows as they stand."""
        path, table, wanted = self.path, self.table, list(rows)
        if path is None or not wanted:
            return

        def take(ran: dict[int, Ran]) -> None:
            if self.path == path and self.table == table:
                self.ran |= ran
                self.draw()

        self.app.worker.ask(lambda desk: desk.run_sheet(path, table, wanted), take)

    @property
    def routine(self) -> str:
        """The routine that is called."""
        return self._called(self.path) if self.path is not None else ""

    def _called(self, path: Path) -> str:
        return routine_of(path, {n.name for n in self.names})

    # -- drawing

    def draw(self) -> None:
        if not self.is_mounted:
            return
        colours, table = self.app.colours, self.table
        self._draw_head()
        if self.path is None:
            self.cells.show_cells([], 0, lambda r, c: Drawn("", ""), colours)
            self.heads.update(Text("  There is no call sheet yet: c chooses a routine for one.", style=colours.text))
            self.pane.draw(lambda width: Text("A sheet is a table of calls of one routine, and of what is expected."))
            return
        columns = [Column(name, "", False) for name in table.columns]
        self.cells.show_cells(columns, len(table.rows), self._cell, colours, self._mark, about=table)
        self._draw_row()

    def _draw_head(self) -> None:
        colours, head = self.app.colours, self.named()
        if self.path is not None:
            head.append(f"  {self.app.shown(self.path)}", style=f"bold {colours.text}")
            head.append(f"  {plural(len(self.table.rows), 'call')}", style=colours.quiet)
            verdicts = [ran.verdict for ran in self.ran.values()]
            head.append(f"  {MET} {verdicts.count('met')} met", style=colours.met)
            slips, broken = verdicts.count("slipped"), verdicts.count("broken")
            head.append(f"  {SLIP} {slips} slipped", style=f"bold {colours.slip}" if slips else colours.quiet)
            if broken:
                head.append(f"  {VERDICT_SIGNS['broken']} {broken} broken", style=f"bold {colours.slip}")
        self.head.update(head)

    def _cell(self, row: int, column: int) -> Drawn:
        """A cell; where something else was seen, that behind it."""
        colours, table, ran = self.app.colours, self.table, self.ran.get(row)
        text = table.shown(row, column)
        if not table.is_expected(column) or ran is None:
            return Drawn(text, colours.quiet if text == "NULL" else colours.text)
        seen = ran.seen.get(column)
        if column in ran.slipped:
            return Drawn(f"{text} {SLIP} {seen}" if seen else f"{text} {SLIP}", f"bold {colours.slip}")
        if text and ran.is_met(column):
            return Drawn(f"{text} {MET}", colours.met)
        return Drawn(f"({seen})" if seen and not text else text, colours.quiet)

    def _mark(self, row: int) -> Drawn:
        colours, ran = self.app.colours, self.ran.get(row)
        if ran is None:
            return Drawn(NOT_RUN, colours.quiet)
        is_bad = ran.verdict in ("slipped", "broken")
        return Drawn(VERDICT_SIGNS.get(ran.verdict, " "), f"bold {colours.slip}" if is_bad else colours.met)

    def _draw_row(self) -> None:
        colours, row = self.app.colours, self.cells.row
        self.heads.update(self.cells.head(colours))
        if row is None or row >= len(self.table.rows):
            hint = "No call yet: a adds a row, w makes rows of a query, d of values worth trying."
            self.pane.draw(lambda width: Text(hint, style=colours.text))
        else:
            self.pane.draw(lambda width: self._row_text(row))

    def _row_text(self, row: int) -> Text:
        colours, table, ran = self.app.colours, self.table, self.ran.get(row)
        text = Text().append(f"{self.routine}, row {row + 1}\n", style=f"bold {colours.text}")
        wide = max(map(len, table.columns), default=0)
        for number, name in enumerate(table.columns):
            is_here = number == self.cells.column
            text.append(
                f"\n{'▸' if is_here else ' '} {name.ljust(wide)}  ", style=colours.accent if is_here else colours.quiet
            )
            cell = table.shown(row, number)
            default = "(default)" if name not in (CHECK, *ARRANGING) and not table.is_expected(number) else ""
            text.append(cell or default, style=colours.text if cell else colours.faint)
            seen = ran.seen.get(number) if ran is not None else None
            if seen and seen != cell:
                text.append(f"   seen: {seen}", style=colours.warn)
        if ran is not None:
            text.append(f"\n\n{VERDICT_SIGNS.get(ran.verdict, '')} {ran.verdict}", style=f"bold {colours.accent}")
            for told in ran.told:
                text.append(f"\n{told}", style=colours.slip)
            if any(seen and seen != table.shown(row, n) for n, seen in ran.seen.items()):
                text.append("\n\nk expects what was seen", style=colours.quiet)
        return text


class SheetTyping(SheetView):
    """Cells typed into and pasted."""

    # -- messages

    def on_cells_moved(self, message: Cells.Moved) -> None:
        self._draw_row()

    def on_lines_entered(self) -> None:
        self.action_type()

    def on_cell_input_leaves(self, message: CellInput.Leaves) -> None:
        """What was typed is the cell's; go on to the next one."""
        row, column = self.cells.row or 0, self.cells.column
        if message.value is not None and message.value != self._typed_at(row, column):
            self.change(self.table.put(row, column, [[message.value]]), [row])
        if message.ends:
            self.input.display = self.cells.is_typed_into = False
            self.set_focus(self.cells)
            return
        row, column = row + message.down, column + message.right
        if column >= len(self.table.columns):
            row, column = row + 1, 0
        if row >= len(self.table.rows):
            self.change(self.table.with_rows(len(self.table.rows), [[]]), [])
        self.cells.go_to(max(0, min(row, len(self.table.rows) - 1)), max(0, column))
        self.action_type()

    def on_cell_input_pasted(self, message: CellInput.Pasted) -> None:
        self._paste(message.text)

    def on_paste(self, event: events.Paste) -> None:
        """What the terminal pastes goes into the cells from the chosen one on."""
        self._paste(event.text)

    def _paste(self, text: str) -> None:
        block = pasted(text)
        row = self.cells.row or 0
        if block and self.path is not None:
            self.change(self.table.put(row, self.cells.column, block), range(row, row + len(block)))
            self.told(f"pasted {plural(len(block), 'row')}")

    # -- keys

    def action_choose(self) -> None:
        fresh = [n for n in self.names if not any(self._called(p) == n.name for p in self.paths)]
        options = [self.app.shown(p) for p in self.paths] + [f"a new one for {n.name}, {n.kind}" for n in fresh]

        def take(number: int | str | None) -> None:
            if isinstance(number, int) and number < len(self.paths):
                self.open(self.paths[number])
            elif isinstance(number, int):
                self._begin(fresh[number - len(self.paths)].name)

        if options:
            self.app.ask(ChoiceScreen("Call sheets", options), take)
        else:
            self.told("there is no routine to call: R, o makes one")

    def _typed_at(self, row: int, column: int) -> str:
        return self.table.shown(row, column) if row < len(self.table.rows) else ""

    def action_type(self) -> None:
        if self.path is None:
            self.action_choose()
            return
        if not self.table.rows:
            self.change(self.table.with_rows(0, [[]]), [0])
        self.input.display = self.cells.is_typed_into = True
        self.input.value = self._typed_at(self.cells.row or 0, self.cells.column)
        self.input.border_title = self.table.columns[self.cells.column]
        self.set_focus(self.input)
        self.input.action_select_all()

    def action_enter(self) -> None:
        self.action_type()

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
            return
        self.leave()
        await self.app.back()

    def leave(self) -> None:
        """What was written here is run with all else."""
        if self.is_dirty and self.path is not None:
            self.is_dirty = False
            self.app.files_saved({self.path})

    def on_screen_suspend(self) -> None:
        self.leave()


class SheetScreen(SheetTyping):
    """The calls in rows; below them the cell that is typed into; at the side the chosen row at length."""

    NAME: ClassVar = "Call sheet"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = [*bindings(KEYS), Binding("ctrl+z", "undo", "undo")]

    def action_full(self) -> None:
        self.full = not self.full
        self.set_class(self.full, "full")
        self.set_focus(self.pane if self.full else self.cells)
        self.call_after_refresh(self.draw)

    def action_next(self, by: int) -> None:
        if self.paths:
            at = self.paths.index(self.path) if self.path in self.paths else -1
            self.open(self.paths[(at + by) % len(self.paths)])

    def action_add(self) -> None:
        if self.path is not None:
            at = (self.cells.row + 1) if self.cells.row is not None and self.table.rows else 0
            self.change(self.table.with_rows(at, [[]]), [], moved=True)
            self.cells.go_to(at, 0)

    def action_remove(self) -> None:
        if self.path is not None and self.cells.row is not None and self.cells.row < len(self.table.rows):
            self.change(self.table.without_row(self.cells.row), [], moved=True)

    def action_column(self) -> None:
        if self.path is None:
            return
        options = columns_for(self.table, self.app.root, self.routine)

        def take(choice: int | str | None) -> None:
            name = options[choice] if isinstance(choice, int) else choice
            if name and name not in self.table.columns:
                self.change(self.table.with_column(name), [], moved=True)
                self.cells.go_to(self.cells.row or 0, len(self.table.columns) - 1)

        question = "A column"
        self.app.ask(ChoiceScreen(question, options, 0, "Or words that expect: change TABLE, lock row TABLE ..."), take)

    def action_fill(self) -> None:
        def take(query: str | None) -> None:
            if query:
                self._fill(lambda desk: desk.rows_from(self.routine, query.rstrip("; ")))

        if self.path is not None:
            question = "A row for each row of this query; its columns are the parameters, by name or in their order:"
            self.app.ask(LineScreen(question), take)

    def action_edges(self) -> None:
        if self.path is not None:
            self._fill(lambda desk: desk.rows_from(self.routine, ""))

    def _fill(self, ask: Callable[[Desk], list[list[str]]]) -> None:
        def take(rows: list[list[str]]) -> None:
            kept = tuple(row for row in self.table.rows if any(row))
            table = self.table._replace(rows=kept)
            width, wanted = len(self.table.columns), self._arguments()
            lines = []
            for row in rows:
                line = [""] * width
                for place, text in zip(wanted, row, strict=False):
                    if place is not None:
                        line[place] = text
                lines.append(line)
            self.change(table.with_rows(len(kept), lines), [], moved=True)
            self.cells.go_to(len(kept), self.cells.column)
            self.told(f"{plural(len(rows), 'row')} more; l expects what was seen in all rows")

        self.app.worker.ask(ask, take)

    def _arguments(self) -> list[int | None]:
        """The columns of the parameters, in the order of the routine; None for one that the sheet has no column for."""
        fresh = new_table(self.app.root, self.routine)
        columns = self.table.columns
        names = [name for name in fresh.columns if name.lower() in fresh.parameters]
        return [columns.index(name) if name in columns else None for name in names]

    def action_take(self) -> None:
        """Expect what was seen."""
        row, column = self.cells.row, self.cells.column
        ran = self.ran.get(row) if row is not None else None
        if row is None or ran is None:
            self.told("this row has not been run")
            return
        columns = [column] if self.table.is_expected(column) else list(ran.seen)
        table = taken(self.table, row, ran, columns)
        if table == self.table:
            self.told("what was seen is expected already, or can be no cell")
        self.change(table, [row])

    def action_take_all(self) -> None:
        table = self.table
        for row, ran in self.ran.items():
            table = taken(table, row, ran, list(ran.seen))
        changed = [n for n, (old, new) in enumerate(zip(self.table.rows, table.rows, strict=True)) if old != new]
        self.change(table, changed)
        self.told(f"taken in {plural(len(changed), 'row')}; u undoes it")

    def action_down(self) -> None:
        row, column = self.cells.row, self.cells.column
        if row is not None and row < len(self.table.rows):
            table = self.table.filled_down(row, column)
            rows = [n for n, (old, new) in enumerate(zip(self.table.rows, table.rows, strict=True)) if old != new]
            self.change(table, rows)

    def action_copy(self) -> None:
        row = self.cells.row
        if row is not None and row < len(self.table.rows):
            self.copied = self.table.shown(row, self.cells.column)
            self.app.copy_to_clipboard(self.copied)
            self.told(f"copied {self.copied or 'an empty cell'}")

    def action_paste(self) -> None:
        row = self.cells.row
        if row is not None and row < len(self.table.rows):
            self.change(self.table.put(row, self.cells.column, [[self.copied]]), [row])

    def action_undo(self) -> None:
        if self.before:
            self.after.append(self.table)
            self._set(self.before.pop(), [], True)
        else:
            self.told("nothing to undo")

    def action_redo(self) -> None:
        if self.after:
            self.before.append(self.table)
            self._set(self.after.pop(), [], True)
        else:
            self.told("nothing to do again")

    def action_run(self) -> None:
        self.ran = {}
        self.draw()
        self.run_rows(range(len(self.table.rows)))

    def action_next_slip(self) -> None:
        bad = sorted(n for n, ran in self.ran.items() if ran.verdict in ("slipped", "broken"))
        here = self.cells.row or 0
        found = next((n for n in bad if n > here), bad[0] if bad else None)
        if found is None:
            self.told("no row has slipped")
        else:
            slipped = self.ran[found].slipped
            self.cells.go_to(found, min(slipped) if slipped else self.cells.column)

    def action_ladder(self) -> None:
        """The call of the row, on the scratch ladder."""
        path, table, row = self.path, self.table, self.cells.row
        if path is None or row is None:
            return

        def find(desk: Desk) -> tuple[str, str]:
            return desk.call_of_row(path, table, row)

        self.app.worker.ask(find, lambda found: self.app.type_on_scratch(f"{found[0]};", found[1]))

    def action_edit(self) -> None:
        if self.path is not None:
            self.app.edit(str(self.path), (self.cells.row or 0) + 2)
