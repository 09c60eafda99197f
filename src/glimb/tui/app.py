"""The application: its two screens, its worker, and what goes between them."""

from __future__ import annotations

import asyncio
import signal
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, ClassVar

from textual.binding import Binding

from glimb.engine.values.conditions import condition_of
from glimb.lang.problem import ProblemError
from glimb.lang.visible import visible
from glimb.suite.letting import Lets
from glimb.suite.project import open_project, script_paths
from glimb.tui.drawing import Row
from glimb.tui.host import Host
from glimb.tui.ladder import LadderScreen
from glimb.tui.palette import PALETTES, THEMES, Palette
from glimb.tui.survey import SurveyScreen
from glimb.tui.text import Text
from glimb.tui.worker import CaseDone, CaseKept, PinsFound, Refused, RunEnded, ScriptsRead, Worked, Worker, WorkFailed

WATCH_SECONDS = 1.0


class GlimbApp(Host):
    """Opens a project folder or a script."""

    TITLE = "Glimb"
    CSS_PATH = "glimb.tcss"
    ENABLE_COMMAND_PALETTE = False
    BINDINGS: ClassVar = [Binding("t", "theme", "dark or light"), Binding("ctrl+c", "quit", "quit", show=False)]

    def __init__(self, path: Path, lets: Lets | None = None) -> None:
        super().__init__()
        self.path = path
        self.survey = SurveyScreen()
        self.ladder = LadderScreen()
        self.worker = Worker(self, lets)
        self._after_reading: Callable[[], None] | None = None
        self._stamps: dict[Path, float] = {}
        self._open_when_read = path.is_file()
        try:
            project = open_project(path if path.is_dir() else path.parent)
            self.root, self.title_text = project.root, project.name
        except ProblemError:
            self.root, self.title_text = None, path.name

    @property
    def colours(self) -> Palette:
        return PALETTES.get(self.theme, PALETTES["glimb-dusk"])

    def shown(self, path: Path) -> str:
        """A path from the project's folder."""
        root = self.root
        return str(path.relative_to(root)) if root is not None and path.is_relative_to(root) else path.name

    def on_mount(self) -> None:
        for theme in THEMES:
            self.register_theme(theme)
        self.theme = "glimb-dusk"
        # Installed screens stay as they are when one leaves them.
        self.install_screen(self.survey, "survey")
        self.install_screen(self.ladder, "ladder")
        self.push_screen("survey")
        self._end_on_signals()
        self.reread()
        self.set_interval(WATCH_SECONDS, self._look_for_changes)

    def on_unmount(self) -> None:
        self.worker.close()

    def _end_on_signals(self) -> None:
        """Leave in order, so that the terminal is as it was, when somebody wants the program to end."""
        loop = asyncio.get_running_loop()
        for name in ("SIGTERM", "SIGHUP"):
            if hasattr(signal, name):
                number = getattr(signal, name)
                loop.add_signal_handler(number, partial(self.exit, return_code=128 + number))

    def notify(self, message: str, **options: Any) -> None:
        super().notify(visible(message), **{**options, "markup": False})

    # -- files

    def reread(self, then: Callable[[], None] | None = None) -> None:
        """Read the scripts again, and forget what was loaded; then do something with them."""
        try:
            paths = script_paths([self.path])
        except ProblemError as error:
            self.notify(error.problems[0].describe(), severity="error")
            return
        self._stamps = {path: _stamp(path) for path in paths}
        self._after_reading = then
        self.worker.read(paths)

    def on_scripts_read(self, message: ScriptsRead) -> None:
        self.survey.show_scripts(message.scripts)
        if self.ladder.row is not None:
            self.ladder.row = self.survey.row(self.ladder.row.id) or self.ladder.row
        action, self._after_reading = self._after_reading, None
        if action is not None:
            action()
        elif self._open_when_read and self.survey.rows:
            self._open_when_read = False
            self.open_ladder(self.survey.rows[0])

    def _look_for_changes(self) -> None:
        row = self.ladder.row
        if row is not None and _stamp(row.script.path) != self._stamps.get(row.script.path) and not self.ladder.changed:
            self.ladder.changed = True
            self.ladder.draw()

    # -- screens

    def open_ladder(self, row: Row) -> None:
        """Go to a case's ladder, and run it for that."""
        self.ladder.show_case(row)
        self.show_ladder()
        self.worker.run([(row.id, row.script)], recording=True)

    def show_ladder(self) -> None:
        if self.screen is not self.ladder:
            self.push_screen("ladder")

    async def show_survey(self) -> None:
        if self.screen is self.ladder:
            await self.pop_screen()
            self.survey.draw()

    def run_again(self, row: Row) -> None:
        """Read everything again and run this case."""

        def run() -> None:
            found = self.survey.row(row.id)
            if found is None or found.case is None:
                self.notify("this case is no longer in its file", severity="warning")
                return
            rung = self.ladder.rung
            self.ladder.show_case(found)
            self.ladder.rung = rung
            self.worker.run([(found.id, found.script)], recording=True)

        self.reread(run)

    def neighbour(self, by: int) -> None:
        """The ladder of the case after or before."""
        rows = [r for r in self.survey.rows if r.case is not None]
        current = self.ladder.row
        at = next((n for n, r in enumerate(rows) if current is not None and r.id == current.id), None)
        if at is not None and 0 <= at + by < len(rows):
            self.survey.lines.choose(self.survey.rows.index(rows[at + by]))
            self.ladder.show_case(rows[at + by])
            self.worker.run([(rows[at + by].id, rows[at + by].script)], recording=True)

    # -- answers of the worker

    def on_case_done(self, message: CaseDone) -> None:
        self.survey.case_done(message)
        row = self.ladder.row
        if message.recorded and row is not None and row.id == message.case_id:
            self.ladder.show_result(message.result)

    def on_worked(self, message: Worked) -> None:
        self.ladder.worked(message)

    def on_pins_found(self, message: PinsFound) -> None:
        self.ladder.work.pins_found(message)

    def on_case_kept(self, message: CaseKept) -> None:
        """Read the files again, and stand on the ladder of the case that is there now."""
        self.notify(f"kept in {self.shown(message.path)}: {message.title}")

        def show() -> None:
            rows = [r for r in self.survey.rows if r.case is not None and r.case.title == message.title]
            found = next((r for r in rows if r.script.path == message.path.absolute()), None)
            if found is not None:
                self.ladder.show_case(found)
                self.worker.run([(found.id, found.script)], recording=True)

        self.reread(show)

    def on_refused(self, message: Refused) -> None:
        self.ladder.work.refused(message)

    def on_run_ended(self, message: RunEnded) -> None:
        self.survey.run_ended(message)

    def _fatal_error(self) -> None:
        """A fault of ours ends the screen: in place of the framework's traceback, a sentence and the kept report."""
        fault = self._exception or RuntimeError("the screen ended without a reason")
        self.panic(Text(f"glimb: {condition_of(fault).message}"))

    def on_work_failed(self, message: WorkFailed) -> None:
        self.notify(message.message, severity="error")

    def action_theme(self) -> None:
        """The other theme."""
        self.theme = "glimb-noon" if self.theme == "glimb-dusk" else "glimb-dusk"
        self.survey.draw()
        self.ladder.draw()


def _stamp(path: Path) -> float:
    """When a file was last changed; 0 when it is gone."""
    try:
        return path.stat().st_mtime
    except OSError:
        return 0.0
