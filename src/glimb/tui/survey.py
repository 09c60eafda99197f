"""The survey: all cases of a project with their verdicts, and the proof grid: what they have shown of each routine."""

from __future__ import annotations

import time
from collections import Counter
from functools import partial
from itertools import accumulate
from pathlib import Path
from typing import Any, ClassVar

from textual.app import ComposeResult
from textual.containers import Horizontal, Vertical
from textual.widgets import Static

from glimb.suite.coverage import Share
from glimb.suite.desk import Cell, Proof
from glimb.suite.evidence import CANNOT, EVIDENCE, NEVER, Where
from glimb.suite.evidence import Row as ProofRow
from glimb.suite.script import Script
from glimb.tui import facets
from glimb.tui.asking import ChoiceScreen
from glimb.tui.drawing import Row, case_line, one_line, plural, rows_of, script_line, verdict_style
from glimb.tui.lines import Groups, Lines, around
from glimb.tui.messages import CaseDone, CaseId, RunEnded
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.palette import DIFFERS, MET, SLIP, VERDICT_SIGNS
from glimb.tui.pane import Pane
from glimb.tui.proof import COLUMNS, HEADS, ProofGrid, standing
from glimb.tui.text import Text

KEYS = [
    Key("enter", "enter", "go in", "a case: its ladder; a cell of the grid: its rungs, or a call for it", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("r", "run_one", "run", "run the chosen case", True),
    Key("a", "run_all", "run all", "run all cases", True),
    Key("tab", "app.focus_next", "next pane", "cases, proof grid, and what is said of the chosen one", True),
    Key("x", "next_slip", "next slip", "the next case that slipped", True),
    Key("v", "next_never", "next never", "the next cell of the grid that no case has shown", True),
    Key("d", "next_differing", "next ≠", "the next case that does something else than before"),
    Key("z", "fold", "fold", "only the name of the case's file, or all of its cases"),
    Key("Z", "fold_all", "fold all", "only the names of all files, or all cases"),
    Key("B", "accept", "accept", "what all cases do now is what later runs are compared with"),
    Key("A", "by_itself", "by itself", "run what a change of a file concerns by itself, or no longer"),
    Key("o", "scratch", "scratch ladder", "type on a ladder that belongs to no case", True),
    Key("E", "edit", "editor", "the case, or the routine, in your editor"),
    Key("s", "stop", "stop", "stop the run"),
    Key("f", "full", "proof", "the proof grid on the whole screen, or beside the cases"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name", True),
    Key("q", "app.quit", "quit", "quit", True),
]


DRAW_SECONDS, BUSY_DRAW_SECONDS = 0.1, 0.6
"""How often results are drawn while cases run; less often when they are many, which drawing would hold up."""
MANY_ASKED = 100


class SurveyView(Page):
    """What the survey shows: cases by file, the proof grid, what is said of the chosen case or cell."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []
        self.scripts: dict[Path, list[Row]] = {}
        self.places: dict[CaseId, Row] = {}
        self.files: tuple[list[str], list[int]] = [], []
        """The names of the files of cases, and how many each has."""
        self.asked = 0
        self.done = 0
        self.stale = False
        self._drawn_at = 0.0
        """Whether there are results that have not been drawn."""
        self.proof = Proof([], Share(0, 0), False, [])
        self.is_reading = True
        self.folded: set[str] = set()
        """The scripts of which only the name is shown."""
        self.behind: list[Where] = []
        """The rungs behind the chosen cell."""
        self.by_itself = False
        """Whether what a change of a file concerns is run at once."""
        self._wanted: object = []
        """The case that was chosen when the program was left."""
        self.changed = False
        """Whether files have been changed since they were read."""
        self.lines, self.side = Lines(id="cases"), Pane(id="side")
        self.grid, self.grid_head = ProofGrid(id="grid"), Static("", id="grid-head")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            yield self.lines
            with Vertical(id="proof"):
                yield self.grid_head
                yield self.grid
                yield self.side

    def on_mount(self) -> None:
        self.lines.focus()
        self.draw()
        self.set_interval(DRAW_SECONDS, self._draw_what_is_new)

    # -- contents

    def show_scripts(self, scripts: list[Script], paths: list[Path] | None) -> None:
        """Scripts have been read (anew), keeping the results of cases that are still there. With paths these are all
        that there are; until then others may come."""
        self.is_reading = paths is None
        for script in scripts:
            old = {row.title: row for row in self.scripts.get(script.path, ())}
            mine = self.scripts[script.path] = rows_of(script)
            for row in mine:
                if row.title in old:
                    row.result, row.differs = old[row.title].result, old[row.title].differs
        if paths is not None:
            self.scripts = {path: self.scripts[path] for path in paths if path in self.scripts}
        self.rows = [row for rows in self.scripts.values() for row in rows]
        self.places = {row.id: row for row in self.rows}
        names = [self.app.shown(path) for path, rows in self.scripts.items() if rows]
        self.files = names, [len(rows) for rows in self.scripts.values() if rows]
        self.draw()
        if self._wanted:
            self._stand_where_one_was(is_last=paths is not None)

    def _stand_where_one_was(self, is_last: bool) -> None:
        """Choose the case that was chosen when the program was left, once it is there."""
        file, title = (*self._wanted, "", "")[:2] if isinstance(self._wanted, list) else ("", "")
        found = (n for n, row in enumerate(self.rows) if row.title == title and self.app.shown(row.id[0]) == file)
        number = next(found, None)
        if number is not None:
            self.choose(number)
        if number is not None or is_last:
            self._wanted = []

    # -- what is there at the next start

    def state(self) -> dict[str, Any]:
        """What is to be kept."""
        row = self.chosen
        case = [self.app.shown(row.script.path), row.title] if row is not None else []
        return {"by_itself": self.by_itself, "case": case, "folded": sorted(self.folded)}

    def recall(self, state: dict[str, Any]) -> None:
        """Take what was kept."""
        self.by_itself = state.get("by_itself") is True
        self._wanted = state.get("case", [])
        folded = state.get("folded")
        self.folded = {str(name) for name in folded} if isinstance(folded, list) else set()

    def row(self, case_id: CaseId) -> Row | None:
        return self.places.get(case_id)

    @property
    def chosen(self) -> Row | None:
        key = self.lines.key
        return self.rows[key] if key is not None and key < len(self.rows) else None

    def choose(self, number: int) -> None:
        """Stand on a case, whose file is folded no longer."""
        name = self.app.shown(self.rows[number].script.path)
        if name in self.folded:
            self.folded -= {name}
            self.draw()
        self.lines.choose(number)

    def draw(self) -> None:
        """Draw everything anew."""
        if not self.is_mounted:
            return
        self.stale = False
        colours = self.app.colours
        lines = self.lines
        width = lines.size.width or self.size.width
        lines.show(self._items(width - 2), lines.key, colours.chosen, self.rows)
        self._draw_grid()
        self._draw_head()
        self._draw_side()

    def _items(self, width: int) -> Groups:
        """The cases under the names of their files."""
        rows, colours = self.rows, self.app.colours
        names, sizes = self.files
        firsts = list(accumulate(sizes, initial=0))
        folded = {number for number, name in enumerate(names) if name in self.folded}

        def head(group: int) -> Text:
            mine = rows[firsts[group] : firsts[group + 1]]
            return script_line(names[group], mine, group in folded, colours, width)

        return Groups(sizes, head, lambda number: case_line(rows[number], colours, width), folded)

    def _draw_grid(self) -> None:
        colours = self.app.colours
        shown = {file: self.app.shown(Path(file)) for file in {row.file for row in self.proof.rows}}
        self.grid.show_rows(self.proof.rows, shown, colours)
        self.grid_head.update(self.grid.head(colours))

    def show_proof(self, proof: Proof) -> None:
        """More is known of what cases show."""
        self.proof = proof
        self._draw_grid()
        self._draw_head()
        self._draw_side()

    def _draw_what_is_new(self) -> None:
        pause = DRAW_SECONDS if self.asked < MANY_ASKED else BUSY_DRAW_SECONDS
        if self.stale and time.monotonic() >= self._drawn_at + pause:
            self.draw()
            self._drawn_at = time.monotonic()

    def _draw_head(self) -> None:
        colours = self.app.colours
        head = self.named()
        head.append(f"  {self.app.title_text}  ", style=f"bold {colours.text}")
        verdicts = Counter(row.verdict for row in self.rows)
        counts = {v: verdicts[v] for v in ("met", "slipped", "broken", "skipped")}
        head.append(f"{MET} {counts['met']} met  ", style=colours.met)
        slips = counts["slipped"]
        head.append(f"{SLIP} {slips} slipped  ", style=f"bold {colours.slip}" if slips else colours.quiet)
        for verdict in ("broken", "skipped"):
            if counts[verdict]:
                sign = VERDICT_SIGNS[verdict]
                head.append(f"{sign} {counts[verdict]} {verdict}  ", style=verdict_style(verdict, colours))
        differing = sum(bool(row.differs) for row in self.rows)
        if differing:
            head.append(f"{DIFFERS} {differing} differ  ", style=f"bold {colours.warn}")
        rest = len(self.rows) - sum(counts.values())
        if rest:
            head.append(f"{rest} not run  ", style=colours.quiet)
        if self.proof.share.all:
            told = f"coverage {self.proof.share.percent:.0f} %"
            told += "" if self.proof.is_counted else " before files were read again"
            head.append(f"{told}  ", style=colours.text)
        if self.is_reading:
            head.append("reading ...  ", style=f"bold {colours.warn}")
        if self.changed:
            head.append("files have changed: a runs all  ", style=f"bold {colours.warn}")
        if self.by_itself:
            head.append("runs by itself  ", style=colours.accent)
        if self.asked:
            filled = round(20 * self.done / self.asked)
            head.append("  " + "█" * filled + "░" * (20 - filled), style=colours.accent)
            head.append(f" {self.done} of {self.asked}, s stops", style=colours.text)
        self.head.update(head)

    def _draw_side(self) -> None:
        colours, row, cell = self.app.colours, self.chosen, self.grid.cell
        if self.focused is self.grid and cell is not None:
            self.side.draw(lambda width: facets.cell_facets(*cell, self.behind, self.app.shown, colours, width))
        elif row is not None:
            self.side.draw(lambda width: facets.case_facets(row, colours, width))
        else:
            hint = (
                "There are no cases here.\n\nA project has glimb.toml and cases/*.sql;\n"
                "`glimb demo DIR` writes one to look at.\n\no types on a ladder that belongs to no case;\n"
                "k keeps it there as one."
            )
            self.side.draw(lambda width: Text(hint, style=colours.quiet))


class SurveyScreen(SurveyView):
    """Cases by script at the left, the proof grid at the right, below it what is said of the chosen case or cell."""

    NAME: ClassVar = "Survey"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        self._draw_side()

    def on_proof_grid_cell_chosen(self) -> None:
        self.grid_head.update(self.grid.head(self.app.colours))
        self.behind = []
        self._draw_side()
        if self.grid.cell is not None and self.focused is self.grid:
            cell = self.grid.cell
            self.app.worker.ask(lambda desk: desk.rungs(*cell), partial(self._show_behind, cell))

    def _show_behind(self, cell: tuple[ProofRow, str], behind: list[Where]) -> None:
        """The rungs behind the chosen cell are known."""
        if self.grid.cell == cell:
            self.behind = behind
            self._draw_side()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        if message.is_late:
            return
        if message.lines is self.grid:
            self._enter_cell()
        else:
            row = self.rows[message.key]
            if self.app.shown(row.script.path) in self.folded:
                self.action_fold()
            elif row.case is not None:
                self.app.open_ladder(row)

    def _enter_cell(self) -> None:
        """Go to the rungs behind a cell; where there is none, to an open rung with a call for it."""
        if self.grid.cell is None:
            return
        row, column = self.grid.cell
        if standing(row, column) == CANNOT:
            self.told(f"this cannot be of {row.name}")
        elif not self.proof.is_counted and column not in EVIDENCE:
            self.told("not counted yet: a runs and counts all cases")
        else:
            self.app.worker.ask(lambda desk: desk.cell(row, column), partial(self._go_behind, row, column))

    def _go_behind(self, row: ProofRow, column: str, cell: Cell) -> None:
        there = [w for w in cell.rungs if any(r.script.path == w.path and r.title == w.title for r in self.rows)]
        if not self.is_current:
            return
        options = [f"rung {w.rung} of {w.title}  ({self.app.shown(w.path)})" for w in there]
        if cell.tried is not None:
            options.append(f"type on a scratch ladder: {one_line(cell.tried.text)}")
        if not options:
            self.told(
                "the rungs that show it are of call sheets: C shows them" if cell.rungs else "nothing is known of it"
            )
        elif len(options) == 1:
            self._take_option(there, cell, 0)
        else:
            take = partial(self._take_option, there, cell)
            question = f"{row.name}: {HEADS[column].told}"
            self.app.ask(ChoiceScreen(question, options), lambda n: take(n) if isinstance(n, int) else None)

    def _take_option(self, there: list[Where], cell: Cell, number: int) -> None:
        if number < len(there):
            where = there[number]
            row = next((r for r in self.rows if r.script.path == where.path and r.title == where.title), None)
            if row is not None:
                self.app.open_ladder(row, where.rung)
        elif cell.tried is not None:
            self.told(cell.tried.told)
            self.app.type_on_scratch(f"{cell.tried.text};", cell.fixture)

    def case_done(self, message: CaseDone) -> None:
        """A case has been run; it is drawn with those that come with it."""
        row = self.row(message.case_id)
        if row is not None:
            row.result, row.running, row.differs = message.result, False, message.differs
        self.done += 1
        self.stale = True

    def run_ended(self, message: RunEnded) -> None:
        for row in self.rows:
            row.running = False
        self.asked = self.done = 0
        self.draw()
        if message.stopped:
            self.notify("stopped", severity="warning")
        elif not message.has_base and self.app.root is not None and all(row.result for row in self.rows):
            self.action_accept()  # the first run of all cases is what later ones are compared with

    # -- keys

    def action_full(self) -> None:
        super().action_full()
        self.set_focus(self.grid if self.full else self.lines)

    def run(self, rows: list[Row]) -> None:
        """Run these cases, and count what all of them try."""
        for row in rows:
            row.running = True
        self.asked += len(rows)
        scripts = list({row.script.path: row.script for row in self.rows}.values())
        self.app.worker.run([(row.id, row.script) for row in rows], scripts)
        self.draw()

    def run_concerned(self, keys: set[tuple[Path, str]], files: set[Path]) -> None:
        """Run the cases that a change concerns, and those that are not met or new."""
        some = [
            row
            for row in self.rows
            if (row.script.path, row.title) in keys or row.script.path in files or row.verdict not in ("met", "skipped")
        ]
        if some:
            self.run(some)

    def action_run_one(self) -> None:
        chosen = self.chosen
        if chosen is not None:
            self.app.reread(lambda: self.run([r for r in self.rows if r.id == chosen.id]))

    def action_run_all(self) -> None:
        self.app.reread(lambda: self.run(list(self.rows)))

    def action_next_slip(self) -> None:
        order = around(len(self.rows), (self.lines.key or 0) + 1)
        found = next((n for n in order if self.rows[n].verdict in ("slipped", "broken")), None)
        if found is None:
            self.notify("no case has slipped")
        else:
            self.choose(found)

    def action_fold(self) -> None:
        """Show only the name of the chosen case's script, or all of its cases again."""
        row = self.chosen
        if row is not None:
            self.folded ^= {self.app.shown(row.script.path)}
            first = next(n for n, one in enumerate(self.rows) if one.script.path == row.script.path)
            self.draw()
            self.lines.choose(first)

    def action_fold_all(self) -> None:
        names = set(self.files[0])
        self.folded = set() if self.folded == names else names
        self.draw()

    def action_next_differing(self) -> None:
        order = around(len(self.rows), (self.lines.key or 0) + 1)
        found = next((n for n in order if self.rows[n].differs), None)
        if found is None:
            self.told("no case does something else than in the run that was accepted")
        else:
            self.choose(found)

    def action_next_never(self) -> None:
        """The next cell that nothing has shown, from the chosen one on and round."""
        rows, count = self.proof.rows, len(COLUMNS)
        at = (self.grid.key or 0) * count + self.grid.column
        cells = around(len(rows) * count, at + 1)
        found = next((c for c in cells if standing(rows[c // count], COLUMNS[c % count]) == NEVER), None)
        if found is None:
            self.told("there is no cell that no case has shown")
        else:
            self.set_focus(self.grid)
            self.grid.column = found % count
            self.grid.choose(found // count)
            self.grid.action_across(0)

    def action_accept(self) -> None:
        """What all cases do now becomes what later runs are compared with."""
        results = [row.result for row in self.rows if row.result is not None]
        self.app.worker.accept(results)
        for row in self.rows:
            row.differs = ()
        self.told(f"accepted: {plural(len(results), 'case')}")
        self.draw()

    def action_by_itself(self) -> None:
        self.by_itself = not self.by_itself
        self.told("what a change concerns is run by itself" if self.by_itself else "nothing is run by itself")
        self.draw()

    def action_enter(self) -> None:
        (self.grid if self.focused is self.grid else self.lines).action_enter()

    def action_scratch(self) -> None:
        self.app.open_scratch()

    def action_edit(self) -> None:
        row, cell = self.chosen, self.grid.cell
        if self.focused is self.grid and cell is not None:
            self.app.edit(cell[0].file, cell[0].line)
            return
        if row is not None:
            at = row.script.source.line(row.case.span.start) if row.case is not None else 1
            self.app.edit(str(row.script.path), at)
