"""The survey: all cases of a project with their verdicts; run one, run all, go to a ladder."""

from __future__ import annotations

from collections import Counter
from typing import ClassVar

from textual.app import ComposeResult
from textual.containers import Horizontal

from glimb.suite.script import Script
from glimb.tui import facets
from glimb.tui.drawing import Row, survey_items
from glimb.tui.lines import Lines, around
from glimb.tui.page import Key, Page, bindings
from glimb.tui.palette import MET, SLIP
from glimb.tui.pane import Pane
from glimb.tui.text import Text
from glimb.tui.worker import CaseDone, CaseId, RunEnded

KEYS = [
    Key("enter", "enter", "ladder", "go to the chosen case's ladder", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("r", "run_one", "run", "run the chosen case", True),
    Key("a", "run_all", "run all", "run all cases", True),
    Key("x", "next_slip", "next slip", "the next case that slipped", True),
    Key("o", "scratch", "scratch ladder", "type on a ladder that belongs to no case", True),
    Key("E", "edit", "editor", "the case in your editor", True),
    Key("s", "stop", "stop", "stop the run"),
    Key("tab", "app.focus_next", "scroll", "scroll the pane at the side"),
    Key("f", "full", "case", "the case on the whole screen, or beside the others"),
    Key("L", "ladder", "ladder", "the ladder seen last", True),
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name", True),
    Key("q", "app.quit", "quit", "quit", True),
]


DRAW_SECONDS = 0.1
"""Results are drawn this often while cases run."""


class SurveyScreen(Page):
    """Cases by script at the left, the chosen one at the right."""

    NAME: ClassVar = "Survey"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []
        self.places: dict[CaseId, Row] = {}
        self.asked = 0
        self.done = 0
        self.stale = False
        """Whether there are results that have not been drawn."""
        self.lines, self.side = Lines(id="cases"), Pane(id="side")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            yield self.lines
            yield self.side

    def on_mount(self) -> None:
        self.lines.focus()
        self.draw()
        self.set_interval(DRAW_SECONDS, self._draw_what_is_new)

    # -- contents

    def show_scripts(self, scripts: list[Script]) -> None:
        """Show other scripts, keeping the results of cases that are still there."""
        old = {(r.script.path, r.title): r.result for r in self.rows}
        self.rows = []
        for script in scripts:
            if script.problems:
                self.rows.append(Row((script.path, 0), script, None))
            else:
                self.rows += [Row((script.path, n), script, case) for n, case in enumerate(script.cases)]
        for row in self.rows:
            row.result = old.get((row.script.path, row.title))
        self.places = {row.id: row for row in self.rows}
        self.draw()

    def row(self, case_id: CaseId) -> Row | None:
        return self.places.get(case_id)

    @property
    def chosen(self) -> Row | None:
        key = self.lines.key
        return self.rows[key] if key is not None and key < len(self.rows) else None

    def draw(self) -> None:
        """Draw everything anew."""
        if not self.is_mounted:
            return
        self.stale = False
        colours = self.app.colours
        lines = self.lines
        width = lines.size.width or self.size.width
        shown = {str(r.script.path): self.app.shown(r.script.path) for r in self.rows}
        lines.show(survey_items(self.rows, shown, colours, width - 2), lines.key, colours.chosen, self.rows)
        self._draw_head()
        self._draw_side()

    def _draw_what_is_new(self) -> None:
        if self.stale:
            self.draw()

    def _draw_head(self) -> None:
        colours = self.app.colours
        head = self.named()
        head.append(f"  {self.app.title_text}  ", style=f"bold {colours.text}")
        verdicts = Counter(row.verdict for row in self.rows)
        counts = {v: verdicts[v] for v in ("met", "slipped", "broken", "skipped")}
        head.append(f"{MET} {counts['met']} met  ", style=colours.met)
        slips = counts["slipped"] + counts["broken"]
        head.append(f"{SLIP} {slips} slipped  ", style=f"bold {colours.slip}" if slips else colours.quiet)
        rest = len(self.rows) - sum(counts.values())
        if rest:
            head.append(f"{rest} not run", style=colours.quiet)
        if self.asked:
            filled = round(20 * self.done / self.asked)
            head.append("  " + "█" * filled + "░" * (20 - filled), style=colours.accent)
            head.append(f" {self.done} of {self.asked}, s stops", style=colours.text)
        self.head.update(head)

    def _draw_side(self) -> None:
        row = self.chosen
        colours = self.app.colours
        if row is not None:
            self.side.draw(lambda width: facets.case_facets(row, colours, width))
        else:
            hint = (
                "There are no cases here.\n\nA project has glimb.toml and cases/*.sql;\n"
                "`glimb demo DIR` writes one to look at.\n\no types on a ladder that belongs to no case;\n"
                "k keeps it there as one."
            )
            self.side.draw(lambda width: Text(hint, style=colours.quiet))

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        self._draw_side()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        row = self.rows[message.key] if not message.is_late else None
        if row is not None and row.case is not None:
            self.app.open_ladder(row)

    def case_done(self, message: CaseDone) -> None:
        """A case has been run."""
        row = self.row(message.case_id)
        if row is not None:
            row.result, row.running = message.result, False
        self.done += 1
        self.stale = True

    def run_ended(self, message: RunEnded) -> None:
        for row in self.rows:
            row.running = False
        self.asked = self.done = 0
        self.draw()
        if message.stopped:
            self.notify("stopped", severity="warning")

    # -- keys

    def _run(self, rows: list[Row]) -> None:
        for row in rows:
            row.running = True
        self.asked += len(rows)
        self.app.worker.run([(row.id, row.script) for row in rows])
        self.draw()

    def action_run_one(self) -> None:
        chosen = self.chosen
        if chosen is not None:
            self.app.reread(lambda: self._run([r for r in self.rows if r.id == chosen.id]))

    def action_run_all(self) -> None:
        self.app.reread(lambda: self._run(list(self.rows)))

    def action_next_slip(self) -> None:
        order = around(len(self.rows), (self.lines.key or 0) + 1)
        found = next((n for n in order if self.rows[n].verdict in ("slipped", "broken")), None)
        if found is None:
            self.notify("no case has slipped")
        else:
            self.lines.choose(found)

    def action_ladder(self) -> None:
        self.app.show_ladder()

    def action_enter(self) -> None:
        self.lines.action_enter()

    def action_scratch(self) -> None:
        self.app.open_scratch()

    def action_edit(self) -> None:
        row = self.chosen
        if row is not None:
            at = row.script.source.line(row.case.span.start) if row.case is not None else 1
            self.app.edit(str(row.script.path), at)
