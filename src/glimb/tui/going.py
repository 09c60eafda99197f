"""Going from screen to screen: all pages, what is chosen on them, and how one comes from one to another and back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

from glimb.engine.outcomes.steps import walk_steps
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.climber import Way
from glimb.suite.course import Course
from glimb.suite.desk import Desk, Named
from glimb.suite.kept import SCRATCH, empty_case
from glimb.suite.ladder import Ladder
from glimb.suite.letting import Lets
from glimb.suite.project import Project, Settings, open_project
from glimb.suite.script import Script
from glimb.suite.sheets import is_sheet
from glimb.tui.climb import ClimbScreen
from glimb.tui.drawing import Row
from glimb.tui.drawn import draw_shown
from glimb.tui.finding import places
from glimb.tui.findings import FindingsScreen
from glimb.tui.host import Found, Host
from glimb.tui.ladder import LadderScreen
from glimb.tui.page import Page
from glimb.tui.palette import PALETTES, Palette
from glimb.tui.routine import RoutineScreen
from glimb.tui.sheet import SheetScreen
from glimb.tui.survey import SurveyScreen
from glimb.tui.tables import Sight, TablesScreen
from glimb.tui.worker import Worker


class Going(Host):
    """The application with its pages."""

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
        self._show_routine(file, line)

    def _show_routine(self, file: str, line: int) -> None:
        """The routine in which a line stands; where there is none, the file."""

        def show(names: list[Named]) -> None:
            mine = [one for one in names if one.file == file and one.line <= line]
            if mine:
                self.routine.show(file, mine[-1].line, line)
            elif Path(file).is_file():
                self.routine.edit_file(Path(file), line)

        self.worker.ask(Desk.routines, show)

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
        # While one screen goes another key may come through, and take away the page too.
        while page in self.screen_stack and self.screen is not page:
            await self.pop_screen()
        if page not in self.screen_stack:
            await self.push_screen(page)
        page.draw()
        if name == "routine":
            if place is not None:
                self._show_routine(*place)
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
        course = self.climber.course
        if self.screen is self.climber and course is not None and len(course):
            return course.scene(self.climber.at).source.name, course.lines[self.climber.at].line
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

    def action_draw_shown(self) -> None:
        draw_shown(self)

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


def scratch_row(place: Path, fixture: str) -> Row:
    """The case that is nobody's, with the rows of a fixture."""
    case = empty_case(fixture)
    return Row((place, 0), Script(str(place), Source("", str(place)), [case], [], []), case)
