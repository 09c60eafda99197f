"""What each screen can have drawn into a file: of what it shows, as it stands."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from glimb.suite.desk import Desk
from glimb.tui.asking import ChoiceScreen, LineScreen
from glimb.tui.climb import ClimbScreen
from glimb.tui.findings import FindingsScreen
from glimb.tui.host import Host
from glimb.tui.ladder import LadderScreen
from glimb.tui.page import Page
from glimb.tui.routine import RoutineScreen
from glimb.tui.sheet import SheetScreen
from glimb.tui.survey import SurveyScreen
from glimb.tui.tables import TablesScreen

if TYPE_CHECKING:
    from glimb.report.drawings.paper import Drawing
    from glimb.suite.ladder import Ladder

FOLDER = "drawings"
"""Where drawings are put in a project, unless another file is typed."""


class Offer(NamedTuple):
    """What can be drawn: in a few words, the name of its file, and what makes the drawing, in the worker's thread."""

    told: str
    name: str
    make: Callable[[Desk], Drawing]

    @property
    def file(self) -> str:
        """The file that is offered."""
        stem = re.sub(r"[^\w]+", "-", self.name.lower()).strip("-")[:60]
        return f"{FOLDER}/{stem or 'drawing'}.svg"

    def write(self, desk: Desk, path: Path) -> Path:
        """Make the drawing, and write it. ProblemError when that cannot be done."""
        from glimb.report.drawings.files import write

        write(self.make(desk), path)
        return path


def draw_shown(app: Host) -> None:
    """Draw what is shown into a file: ask what, where there is a choice, and for the file."""
    page = app.screen
    some = offers(page) if isinstance(page, Page) else []
    if len(some) < 2:
        _ask_for_file(app, some[0] if some else None)
        return

    def take(number: int | str | None) -> None:
        if isinstance(number, int):
            _ask_for_file(app, some[number])

    app.ask(ChoiceScreen("What is to be drawn?", [one.told for one in some]), take)


def _ask_for_file(app: Host, offer: Offer | None) -> None:
    if offer is None:
        app.notify("there is nothing to be drawn here yet")
        return
    folder = app.root if app.root is not None else Path()

    def take(name: str | None) -> None:
        if name:
            path = folder / Path(name).expanduser()
            app.notify(f"drawing {offer.told} ...")
            app.worker.ask(lambda desk: offer.write(desk, path), drawn)

    def drawn(path: Path) -> None:
        app.notify(f"drawn: {app.shown(path)}")

    told = f"{offer.told[0].upper()}{offer.told[1:]}"
    app.ask(LineScreen(f"{told}: in which file, .svg or .pdf?", offer.file), take)


def offers(page: Page) -> list[Offer]:
    """What can be drawn of a page; nothing where it shows nothing yet."""
    for kind, offered in _OFFERED.items():
        if isinstance(page, kind):
            return list(offered(page))
    return []


def _of_survey(page: SurveyScreen) -> Iterator[Offer]:
    def survey(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, survey

        rows = desk.study.grid(desk.engine())
        return survey.drawing(rows, desk.study.counts, facts.of_project(desk.project), _shown(desk))

    yield Offer("the proof grid, and how much of each routine was tried", "survey", survey)
    yield Offer("which routine calls, reads and changes what", "calls", lambda desk: _calls(desk, ""))


def _calls(desk: Desk, of: str) -> Drawing:
    from glimb.report.drawings import calls, facts
    from glimb.suite.uses import uses

    return calls.drawing(uses(desk.engine().catalog), facts.of_project(desk.project), of)


def _of_ladder(page: LadderScreen) -> Iterator[Offer]:
    row, ladder, ladders, side = page.row, page.ladder, page.ladders, page.side
    if row is None or row.case is None or ladder is None:
        return
    case, path, twin = row.case, row.script.path, row.case.twin
    view = page.work.view

    def facts_of(desk: Desk, one: Ladder, both: bool) -> list[str]:
        from glimb.report.drawings import facts

        told = facts.of_case(desk.project, path, case, one, both)
        return [*told, "worked on, kept in no file"] if view is not None and view.typed else told

    def this(desk: Desk) -> Drawing:
        from glimb.report.drawings import ladder as drawings

        return drawings.drawing(ladder, facts_of(desk, ladder, False))

    def beside(desk: Desk) -> Drawing:
        from glimb.report.drawings import twin as drawings

        names = ("as it is", "the try beside it")
        if twin is not None:
            names = (f"{twin.setting} {twin.values[0]}", f"{twin.setting} {twin.values[1]}")
        return drawings.drawing(ladders[0], ladders[1], names, facts_of(desk, ladders[0], True))

    told = "this ladder" if len(ladders) < 2 else "the ladder that is shown"
    yield Offer(told, f"ladder {row.title}" + (f" {side + 1}" if side else ""), this)
    if len(ladders) > 1:
        yield Offer("both ladders, side by side", f"twin {row.title}", beside)


def _of_climb(page: ClimbScreen) -> Iterator[Offer]:
    course, row, at = page.course, page.app.current, page.at
    if course is None or row is None or row.case is None:
        return
    case, path, ladder = row.case, row.script.path, page.app.current_ladder

    def climb(desk: Desk) -> Drawing:
        from glimb.report.drawings import climb, facts

        return climb.drawing(course, case.title, facts.of_case(desk.project, path, case, ladder), at)

    yield Offer(f"what happened inside rung {course.rung.number}", f"climb {row.title} {course.rung.number}", climb)


def _of_routine(page: RoutineScreen) -> Iterator[Offer]:
    about = page.about
    if about is None:
        return

    def routine(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, routine

        return routine.drawing(about, facts.of_project(desk.project), _shown(desk))

    yield Offer("this routine with its counts", f"routine {about.name}", routine)
    yield Offer("what it uses, and what uses it", f"calls {about.name}", lambda desk: _calls(desk, about.name))


def _of_tables(page: TablesScreen) -> Iterator[Offer]:
    shown, fixture, rung = page.shown, page.fixture, page.rung

    def rows(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, rows

        assert shown is not None
        told = facts.of_project(desk.project, fixture)
        return rows.drawing(shown, [*told, *([f"behind rung {rung}"] if rung is not None else [])])

    def tables(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, tables
        from glimb.suite.tables import examples
        from glimb.suite.tables import tables as all_tables

        engine = desk.engine(fixture)
        notes = all_tables(engine)
        rows = examples(engine, notes, tables.EXAMPLES)
        return tables.drawing(notes, rows, facts.of_project(desk.project, fixture))

    if shown is not None:
        yield Offer("these rows", f"rows {shown.note.name}", rows)
    yield Offer("all tables, and what refers to what", "tables", tables)


def _of_sheet(page: SheetScreen) -> Iterator[Offer]:
    path, table, ran = page.path, page.table, dict(page.ran)
    if path is None:
        return

    def sheet(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, sheet

        told = [*facts.of_project(desk.project), desk.project.shown(path)]
        return sheet.drawing(table, ran, path.stem, told)

    yield Offer("this call sheet", f"sheet {path.stem}", sheet)


def _of_findings(page: FindingsScreen) -> Iterator[Offer]:
    if page.told_all is None:
        return
    some = page.some

    def findings(desk: Desk) -> Drawing:
        from glimb.report.drawings import facts, findings

        return findings.drawing(some, facts.of_project(desk.project), _shown(desk))

    yield Offer("these findings", "findings", findings)


def _shown(desk: Desk) -> Callable[[str], str]:
    return lambda file: desk.project.shown(Path(file))


_OFFERED: dict[type[Page], Callable[..., Iterator[Offer]]] = {
    SurveyScreen: _of_survey,
    LadderScreen: _of_ladder,
    ClimbScreen: _of_climb,
    RoutineScreen: _of_routine,
    TablesScreen: _of_tables,
    SheetScreen: _of_sheet,
    FindingsScreen: _of_findings,
}
