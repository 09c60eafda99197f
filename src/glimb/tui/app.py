"""The application: its screens, its worker, and what goes between them."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import ClassVar

from textual.binding import Binding

from glimb.lang.problem import ProblemError
from glimb.suite.desk import Desk
from glimb.suite.project import script_paths
from glimb.suite.sheets import is_sheet
from glimb.tui.drawing import Row
from glimb.tui.editing import edit
from glimb.tui.finding import Finder
from glimb.tui.going import Going
from glimb.tui.messages import (
    Answered,
    CaseDone,
    CaseKept,
    CasesDone,
    Climbed,
    Counted,
    Known,
    PinsFound,
    Refused,
    RunEnded,
    ScriptsRead,
    TakenOut,
    Worked,
    WorkFailed,
)
from glimb.tui.palette import PALETTES, THEMES
from glimb.tui.state import read_state, write_state
from glimb.tui.watching import written

WATCH_SECONDS = 1.0


class GlimbApp(Going):
    """Opens a project folder or a script; `word` is in the title of the case whose ladder is wanted at once."""

    TITLE = "Glimb"
    CSS_PATH = "glimb.tcss"
    COMMANDS: ClassVar = {Finder}
    BINDINGS: ClassVar = [Binding("ctrl+c", "quit", "quit")]

    def on_mount(self) -> None:
        for theme in THEMES:
            self.register_theme(theme)
        self.theme = "glimb-dusk"
        # Installed screens stay as they are when one leaves them.
        for name, page in self.pages.items():
            self.install_screen(page, name)
        self.push_screen("survey")
        self.end_on_signals()
        self._recall()
        self.reread()
        self.run_worker(self._watch(), group="watching", exit_on_error=False)
        self.set_interval(WATCH_SECONDS, self._look_for_changes)

    def on_unmount(self) -> None:
        self._remember()
        self.worker.close()

    # -- what is there at the next start

    def _recall(self) -> None:
        state = read_state(self.root)
        if state.get("theme") in PALETTES:
            self.theme = state["theme"]
        self.survey.recall(state)
        self.routine.recall(state)
        self._wanted_page = str(state.get("screen", "")) if not self._wanted and self.path.is_dir() else ""

    def _remember(self) -> None:
        write_state(
            self.root, {"theme": self.theme, "screen": self._page, **self.survey.state(), **self.routine.state()}
        )

    # -- files

    def reread(self, then: Callable[[], None] | None = None) -> None:
        """Read the scripts again, and forget what was loaded; then do something with them."""
        try:
            paths = script_paths([self.path])
        except ProblemError as error:
            self.notify(error.problems[0].describe(), severity="error")
            return
        self._stamps = {path: _stamp(path) for path in paths}
        self.survey.changed = False
        self._after_reading = then
        self.worker.read(paths)

    def on_scripts_read(self, message: ScriptsRead) -> None:
        self.survey.show_scripts(message.scripts, message.paths)
        if message.paths is None:
            return
        self.on_counted()
        if self.ladder.row is not None:
            self.ladder.row = self.survey.row(self.ladder.row.id) or self.ladder.row
        action, self._after_reading = self._after_reading, None
        if action is not None:
            action()
        elif self._is_new:
            self._is_new = False
            self._open_first()

    def _open_first(self) -> None:
        """What one sees first: the case that was asked for, that of a file, or where there is none a scratch ladder."""
        rows = self.survey.rows
        if self._wanted:
            exact = [r for r in rows if r.title.lower() == self._wanted.lower()]
            found = exact or [r for r in rows if self._wanted.lower() in r.title.lower()]
            if len(found) == 1:
                self.survey.choose(rows.index(found[0]))
                self.open_ladder(found[0])
            else:
                told = "; ".join(r.title for r in found[:5]) or "none"
                self.notify(f"{self._wanted} is in the titles of {len(found)} cases: {told}", severity="error")
        elif self.path.is_file() and rows:
            self.open_ladder(rows[0])
        elif not rows:
            self.open_scratch()
        elif self._wanted_page == "ladder" and self.survey.chosen is not None and self.survey.chosen.case is not None:
            self.open_ladder(self.survey.chosen)
        elif self._wanted_page in self.pages and self._wanted_page != "climb":
            self.call_later(self.action_go, self._wanted_page)

    async def _watch(self) -> None:
        """Tell what is written; where the system cannot, files are read when cases are run."""
        folder = (self.root or (self.path if self.path.is_dir() else self.path.parent)).absolute()
        with suppress(OSError, RuntimeError):
            async for files in written(folder, self.root is not None):
                self._files_written(files)

    def _files_written(self, files: set[Path]) -> None:
        """Files have changed: run what they concern, if the user has it so."""
        if not self.survey.by_itself:
            self.survey.changed = True
            self.survey.draw()
        else:
            self.files_saved(files)

    def _look_for_changes(self) -> None:
        row = self.ladder.row
        if row is None or row is self.scratch:
            return
        if _stamp(row.script.path) != self._stamps.get(row.script.path) and not self.ladder.changed:
            self.ladder.changed = True
            self.ladder.draw()

    def edit(self, file: str, line: int) -> None:
        problem = edit(self, Path(file), line)
        if problem:
            self.notify(problem, severity="warning")
            return
        if self.screen is self.climber:
            self.pop_screen()
        if self.ladder.row is not None:
            self.run_again(self.ladder.row)
        else:
            self.reread()

    def run_again(self, row: Row) -> None:
        """Read everything again and run this case."""

        def run() -> None:
            found = row if row is self.scratch else self.survey.row(row.id)
            if found is None or found.case is None:
                self.notify("this case is no longer in its file", severity="warning")
                return
            rung = self.ladder.rung
            self.ladder.show_case(found)
            self.ladder.rung = rung
            self.worker.record(found.id, found.script)

        self.reread(run)

    def neighbour(self, by: int) -> None:
        """The ladder of the case after or before."""
        rows = [r for r in self.survey.rows if r.case is not None and not is_sheet(r.script.path)]
        current = self.ladder.row
        at = next((n for n, r in enumerate(rows) if current is not None and r.id == current.id), None)
        if at is not None and 0 <= at + by < len(rows):
            self.survey.choose(self.survey.rows.index(rows[at + by]))
            self.ladder.show_case(rows[at + by])
            self.worker.record(rows[at + by].id, rows[at + by].script)
        else:
            self.notify("there is no case there")

    def files_saved(self, files: set[Path]) -> None:
        """Files were written here: read everything again, and run what they concern."""

        def concerned(keys: set[tuple[Path, str]]) -> None:
            self.reread(lambda: self.survey.run_concerned(keys, files))

        self.worker.ask(lambda desk: desk.study.touched(files), concerned)

    def on_climbed(self, message: Climbed) -> None:
        row = self.ladder.row
        if row is None or row.id != message.case_id:
            return
        if message.course is None:
            self.climber.waited()
            self.notify(message.nothing)
            return
        self.climber.climbed(message.course, message.at)
        if self.screen is self.ladder:
            self.push_screen("climb")

    async def on_taken_out(self, message: TakenOut) -> None:
        await self.action_go("ladder")
        self.ladder.work.put(message.text)

    # -- answers of the worker

    def on_cases_done(self, message: CasesDone) -> None:
        for one in message.cases:
            self.survey.case_done(one)

    def on_case_done(self, message: CaseDone) -> None:
        self.survey.case_done(message)
        row = self.ladder.row
        if message.recorded and row is not None and row.id == message.case_id:
            self.ladder.show_result(message.result)

    def on_worked(self, message: Worked) -> None:
        self.ladder.worked(message)

    def on_known(self, message: Known) -> None:
        self.ladder.work.know(message.words)

    def on_pins_found(self, message: PinsFound) -> None:
        self.ladder.deeds.pins_found(message)

    def on_case_kept(self, message: CaseKept) -> None:
        """Read the files again, and stand on the ladder of the case that is there now."""
        self.notify(f"kept in {self.shown(message.path)}: {message.title}")

        def show() -> None:
            rows = [r for r in self.survey.rows if r.case is not None and r.case.title == message.title]
            found = next((r for r in rows if r.script.path.absolute() == message.path.absolute()), None)
            if found is not None:
                self.ladder.show_case(found)
                self.worker.record(found.id, found.script)

        self.reread(show)

    def on_refused(self, message: Refused) -> None:
        self.ladder.work.refused(message)

    def on_answered(self, message: Answered) -> None:
        message.tell()

    def on_counted(self, message: Counted | None = None) -> None:
        """More is known: the pages that tell of it ask for it."""
        self.worker.ask(Desk.proof, self.survey.show_proof)
        if self.screen is self.routine:
            self.routine.refresh_about()

    def on_run_ended(self, message: RunEnded) -> None:
        self.survey.run_ended(message)

    def on_work_failed(self, message: WorkFailed) -> None:
        self.notify(message.message, severity="error")

    def action_theme(self) -> None:
        """The other theme."""
        self.theme = "glimb-noon" if self.theme == "glimb-dusk" else "glimb-dusk"
        for page in self.pages.values():
            page.draw()


def _stamp(path: Path) -> float:
    """When a file was last changed; 0 when it is gone."""
    try:
        return path.stat().st_mtime
    except OSError:
        return 0.0
