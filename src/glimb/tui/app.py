"""The application: its screens, its worker, and what goes between them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import ClassVar

from textual.binding import Binding

from glimb.engine.outcomes.steps import walk_steps
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.climber import Way
from glimb.suite.course import Course
from glimb.suite.desk import Desk, Named
from glimb.suite.kept import SCRATCH, empty_case
from glimb.suite.ladder import Ladder
from glimb.suite.letting import Lets
from glimb.suite.project import Project, Settings, open_project, script_paths
from glimb.suite.script import Script
from glimb.suite.sheets import is_sheet
from glimb.tui.climb import ClimbScreen
from glimb.tui.drawing import Row
from glimb.tui.editing import edit
from glimb.tui.finding import Finder, places
from glimb.tui.findings import FindingsScreen
from glimb.tui.host import Found, Host
from glimb.tui.ladder import LadderScreen
from glimb.tui.page import Page
from glimb.tui.palette import PALETTES, THEMES, Palette
from glimb.tui.routine import RoutineScreen
from glimb.tui.sheet import SheetScreen
from glimb.tui.state import read_state, write_state
from glimb.tui.survey import SurveyScreen
from glimb.tui.tables import Sight, TablesScreen
from glimb.tui.watching import written
from glimb.tui.worker import (
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
    Worker,
    WorkFailed,
)

WATCH_SECONDS = 1.0


class GlimbApp(Host):
    """Opens a project folder or a script; `word` is in the title of the case whose ladder is wanted at once."""

    TITLE = "Glimb"
    CSS_PATH = "glimb.tcss"
    COMMANDS: ClassVar = {Finder}
    BINDINGS: ClassVar = [Binding("ctrl+c", "quit", "quit", show=False)]

    def __init__(self, path: Path, lets: Lets | None = None, word: str = "") -> None:
        super().__init__()
        self.path = path
        self.survey, self.ladder, self.climber = SurveyScreen(), LadderScreen(), ClimbScreen()
        self.routine, self.tables, self.sheet = RoutineScreen(), TablesScreen(), SheetScreen()
        self.findings = FindingsScreen()
        self.pages: dict[str, Page] = {
            "survey": self.survey,
            "ladder": self.ladder,
            "climb": self.climber,
            "routine": self.routine,
            "tables": self.tables,
            "sheet": self.sheet,
            "findings": self.findings,
        }
        self._after_reading: Callable[[], None] | None = None
        self._stamps: dict[Path, float] = {}
        self._wanted = word
        self._is_new = True
        self._wanted_page = ""
        self._page = "survey"
        """The name of the page one stands on; that of the ladder while one climbs from it."""
        try:
            project = open_project(path if path.is_dir() else path.parent)
        except ProblemError:
            project = Project(None, Settings(title=path.name))
        self.root, self.title_text = project.root, project.name
        self.worker = Worker(self, project, lets)
        folder = (self.root or (path if path.is_dir() else path.parent)).absolute()
        place = folder / f"{SCRATCH}.sql"
        self.scratch = scratch_row(place, "")

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

    # -- screens

    def open_ladder(self, row: Row, rung: int = 0, line: int = 0) -> None:
        """Go to a case's ladder, and run it for that; stand at a rung, from 1, or at that of a line. A case of a sheet
        is a row of it."""
        if is_sheet(row.script.path):
            self.call_later(self.show_sheet, row.script.path, row.id[1])
            return
        self.ladder.show_case(row)
        self.ladder.rung, self.ladder.wanted_line = max(0, rung - 1), line
        self.show_ladder()
        self.worker.record(row.id, row.script)

    @property
    def current(self) -> Row | None:
        return self.ladder.row

    @property
    def current_ladder(self) -> Ladder | None:
        return self.ladder.ladder

    @property
    def current_rung(self) -> int | None:
        return self.ladder.chosen.number if self.ladder.chosen is not None else None

    def stand_at(self, rung: int) -> None:
        """Choose a rung of the current ladder."""
        self.ladder.rung = max(0, rung - 1)

    def insert_in_open_rung(self, text: str) -> None:
        """Go to the ladder and type something in its open rung."""
        self.show_ladder()
        self.call_after_refresh(self.ladder.work.insert, text)

    def go_to_place(self, file: str, line: int) -> None:
        """To what stands in a file: the rung of a case, or a routine."""
        rows = [row for row in self.survey.rows if str(row.script.path) == file and row.case is not None]
        found = [r for r in rows if r.case is not None and r.script.source.line(r.case.span.start) <= line]
        if rows and is_sheet(rows[0].script.path):
            self.call_later(self.show_sheet, rows[0].script.path, (found or rows)[-1].id[1])
        elif rows:
            self.open_ladder((found or rows)[-1], line=line)
        else:
            self.call_later(self._go_to_routine, file, line)

    @property
    def known_routines(self) -> list[tuple[str, str, int]]:
        return [(row.name, row.file, row.line) for row in self.survey.proof.rows]

    @property
    def known_tables(self) -> list[str]:
        return self.survey.proof.tables

    def go_to_table(self, name: str) -> None:
        """Look at the rows of a table."""
        self.tables.sight = Sight(name)
        self.call_later(self.action_go, "tables")

    def edit_here(self, file: str, line: int) -> None:
        """Edit a file in the text area of the routine's page."""

        async def go() -> None:
            await self.action_go("routine")
            self.routine.edit_file(Path(file), line)

        self.call_later(go)

    async def show_sheet(self, path: Path, row: int) -> None:
        """To a row of a sheet."""
        await self.action_go("sheet")
        self.sheet.come(path, row)

    async def _go_to_routine(self, file: str, line: int) -> None:
        await self.action_go("routine")

        def show(names: list[Named]) -> None:
            mine = [one for one in names if one.file == file and one.line <= line]
            if mine:
                self.routine.show(file, mine[-1].line, line)
            elif Path(file).is_file():
                self.routine.edit_file(Path(file), line)

        self.worker.ask(Desk.routines, show)

    def files_saved(self, files: set[Path]) -> None:
        """Files were written here: read everything again, and run what they concern."""

        def concerned(keys: set[tuple[Path, str]]) -> None:
            self.reread(lambda: self.survey.run_concerned(keys, files))

        self.worker.ask(lambda desk: desk.study.touched(files), concerned)

    def open_scratch(self) -> None:
        self.open_ladder(self.scratch)

    def type_on_scratch(self, text: str, fixture: str) -> None:
        """Have a text in the open rung of the scratch ladder, from the fixture on. (What was typed there goes to the
        shelf of tries when it is run.)"""
        self.scratch = scratch_row(self.scratch.script.path, fixture)
        self.worker.begin_again(self.scratch.id, self.scratch.script)
        self.open_scratch()
        self.call_after_refresh(self.ladder.work.put, text)

    def show_ladder(self) -> None:
        self.call_later(self.action_go, "ladder")

    async def action_go(self, name: str) -> None:
        """To a screen by its name: back to it where one came from it."""
        page, self.came_from, self._page = self.pages[name], self._page, name
        place = self._chosen_routine() if name == "routine" else None
        if page in self.screen_stack:
            while self.screen is not page:
                await self.pop_screen()
        else:
            await self.push_screen(page)
        page.draw()
        if name == "routine":
            if place is not None:
                self.routine.show(*place)
            else:
                self.routine.refresh_about()
        elif name == "tables":
            self.tables.come()
        elif name == "sheet":
            self._go_to_sheet()
        elif name == "findings":
            self.findings.come()

    def _go_to_sheet(self) -> None:
        """To the sheet of what is chosen where one comes from: a case of a sheet, a routine."""
        row, place = self.survey.chosen, self._routine_there
        if self.came_from == "survey" and row is not None and is_sheet(row.script.path):
            if self.survey.focused is not self.survey.grid:
                self.sheet.come(row.script.path, row.id[1])
                return
        self.sheet.come(routine=place)

    @property
    def _routine_there(self) -> str:
        """The routine of the page one comes from."""
        if self.came_from == "routine" and self.routine.about is not None:
            return self.routine.about.name
        if self.came_from == "survey" and self.survey.focused is self.survey.grid and self.survey.grid.cell is not None:
            return self.survey.grid.cell[0].name
        return ""

    def _chosen_routine(self) -> tuple[str, int] | None:
        """The routine that is chosen on the screen one stands on: of a cell of the grid, or that a rung calls."""
        if self.screen is self.survey and self.survey.focused is self.survey.grid and self.survey.grid.cell is not None:
            row = self.survey.grid.cell[0]
            return row.file, row.line
        if self.screen is self.ladder and self.ladder.chosen is not None:
            frames = (step.frame for step in walk_steps(self.ladder.chosen.steps) if step.frame is not None)
            frame = next(frames, None)
            return (frame.source.name, frame.source.line(frame.span.start)) if frame is not None else None
        return None

    async def back(self) -> None:
        """To where one came from."""
        if isinstance(self.screen, Page) and self.screen is not self.survey:
            await self.pop_screen()
            if isinstance(self.screen, Page):
                self._page = next(name for name, page in self.pages.items() if page is self.screen)
                self.screen.draw()

    def places(self) -> Iterator[Found]:
        return places(self, self.survey, self.ladder)

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

    # -- climbing

    def climb(self, row: Row, rung: int) -> None:
        self.worker.climb(row.id, row.script, rung)

    def climb_on(self, course: Course, at: int, way: Way, by: int, in_scene: bool, nothing: str) -> None:
        row = self.ladder.row
        if row is not None:
            self.worker.climb_on(row.id, row.script, course, at, way, by, in_scene, nothing)

    def climb_to_round(self, course: Course, at: int, number: int) -> None:
        row = self.ladder.row
        if row is not None:
            self.worker.climb_to_round(row.id, row.script, course, at, number)

    def take_out(self, course: Course, at: int) -> None:
        row = self.ladder.row
        if row is not None:
            self.worker.take_out(row.id, row.script, course, at)

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


def scratch_row(place: Path, fixture: str) -> Row:
    """The case that is nobody's, with the rows of a fixture."""
    case = empty_case(fixture)
    return Row((place, 0), Script(str(place), Source("", str(place)), [case], [], []), case)


def _stamp(path: Path) -> float:
    """When a file was last changed; 0 when it is gone."""
    try:
        return path.stat().st_mtime
    except OSError:
        return 0.0
