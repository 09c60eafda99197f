"""Work on ladders, in the worker's thread: typing, going back, keeping, climbing, asking about the state at a rung."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TypeVar

from textual.message_pump import MessagePump

from glimb.engine.engine import Engine
from glimb.lang.problem import Problem, ProblemError
from glimb.suite.climber import Way
from glimb.suite.completing import words_of
from glimb.suite.course import Course
from glimb.suite.desk import Desk
from glimb.suite.kept import Keeping, kept_in, moves_of, place_of, setup_in
from glimb.suite.letting import Lets
from glimb.suite.pins import blocks_of
from glimb.suite.project import Project, make_own_folder, read_text
from glimb.suite.replay import moves_in, replay
from glimb.suite.script import Case, Script
from glimb.suite.taking_out import taken_out
from glimb.suite.workbench import View, Workbench
from glimb.tui.messages import (
    CaseId,
    CaseKept,
    Climbed,
    Known,
    PinsFound,
    Refused,
    TakenOut,
    Worked,
    WorkFailed,
)
from glimb.tui.thread import WorkThread
from glimb.whole import write_script

T = TypeVar("T")


class BenchWork(WorkThread):
    """Holds a workbench for each case that is worked on; what no file has is written into the project's `.glimb` after
    every step."""

    def __init__(self, owner: MessagePump, project: Project, lets: Lets | None = None) -> None:
        super().__init__(owner, project, lets)
        self._benches: dict[CaseId, Workbench] = {}
        self._keepings: dict[Path, Keeping] = {}
        self._busy: Workbench | None = None
        """The workbench on which something is done."""

    def stop(self) -> None:
        super().stop()
        if self._busy is not None:
            self._busy.sides.climber.stop()

    def ask_bench(
        self, case_id: CaseId, script: Script, question: Callable[[Workbench], T], then: Callable[[T], None]
    ) -> None:
        """Ask about the ladder of a case without changing it."""
        self._answer(lambda: question(self._bench_of(case_id, script)), then)

    def ask_rung(
        self,
        case_id: CaseId,
        script: Script,
        rung: int,
        question: Callable[[Engine, Desk], T],
        then: Callable[[T], None],
    ) -> None:
        """Ask about the state behind a rung of a ladder, which stays where it is."""

        def ask() -> T:
            return self._bench_of(case_id, script).look_at(rung, lambda engine: question(engine, self.desk))

        self._answer(ask, then)

    def work(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str = "") -> None:
        """Work on the ladder of a case; `text` is what is given back when it cannot be run."""
        self._work.put(lambda: self._on_bench(case_id, script, action, text))

    def turn(self, case_id: CaseId, script: Script, side: int) -> None:
        """Work from now on at a side of a case that runs twice. Nothing is run for that where nothing was typed."""

        def turn() -> None:
            with suppress(ProblemError):  # told by the run already
                bench = self._bench_of(case_id, script)
                if bench.typed or bench.watches.all():
                    self._on_bench(case_id, script, lambda bench: bench.turn(side), "")
                else:
                    bench.turn(side)

        self._work.put(turn)

    def find_pins(self, case_id: CaseId, script: Script, rung: int) -> None:
        """Ask what could be said of a rung."""

        def action(bench: Workbench) -> View:
            self._post(PinsFound(rung, blocks_of(bench.pins(rung))))
            return bench.view()

        self.work(case_id, script, action)

    def keep(self, case_id: CaseId, script: Script, path: Path, title: str) -> None:
        """Write what was worked on into a file, as a case of a title."""

        def action(bench: Workbench) -> View:
            before = read_text(path).text if path.exists() else ""
            if path == script.path and before != script.source.text:
                raise ProblemError(Problem("58030", f"{path.name} has been changed meanwhile, and stays as it is"))
            path.parent.mkdir(parents=True, exist_ok=True)
            if setup := bench.setup_text():
                before = setup_in(before, setup)
            write_script(path, kept_in(before, bench.text(title), title))
            bench.typed = False
            self._post(CaseKept(path, title))
            return bench.view()

        self.work(case_id, script, action)

    def leave(self, case_id: CaseId, script: Script) -> None:
        """Have the ladder as its file has it; what was worked on goes to the shelf."""

        def action(bench: Workbench) -> View:
            return bench.start_over(moves_in(script.cases[case_id[1]], script.source))

        self.work(case_id, script, action)

    def begin_again(self, case_id: CaseId, script: Script) -> None:
        """Have a ladder with nothing on it; what was typed there can be brought back."""

        def work() -> None:
            bench = self._benches.pop(case_id, None)
            if bench is not None:
                bench.sides.close()

        self._work.put(work)
        self.work(case_id, script, lambda bench: bench.rewind(0))

    def climb(self, case_id: CaseId, script: Script, rung: int) -> None:
        """Go into a rung."""

        def climb(bench: Workbench) -> Climbed:
            course = bench.sides.climber.climb(rung)
            told = "nothing happens inside this statement: it calls no routine and is no block"
            return Climbed(case_id, course, 0) if len(course) else Climbed(case_id, None, 0, told)

        self._climb(case_id, script, climb)

    def climb_on(
        self, case_id: CaseId, script: Script, course: Course, at: int, way: Way, by: int, in_scene: bool, nothing: str
    ) -> None:
        """Follow a way through rounds that are folded."""

        def climb(bench: Workbench) -> Climbed:
            found, place = bench.sides.climber.climb_on(course, at, way, by, in_scene)
            is_nowhere = found is course and place == at
            return Climbed(case_id, None if is_nowhere else found, place, nothing)

        self._climb(case_id, script, climb)

    def climb_to_round(self, case_id: CaseId, script: Script, course: Course, at: int, number: int) -> None:
        """Show a round that is folded."""
        self._climb(
            case_id, script, lambda bench: Climbed(case_id, *bench.sides.climber.climb_to_round(course, at, number))
        )

    def _climb(self, case_id: CaseId, script: Script, climb: Callable[[Workbench], Climbed]) -> None:
        def action(bench: Workbench) -> View:
            try:
                self._post(climb(bench))
            except ProblemError as error:
                self._post(Climbed(case_id, None, 0, error.problems[0].message))
            return bench.view()

        self.work(case_id, script, action)

    def take_out(self, case_id: CaseId, script: Script, course: Course, at: int) -> None:
        """Make of the statement of a step one that can be run alone."""

        def action(bench: Workbench) -> View:
            self._post(TakenOut(taken_out(course, at, bench.replay.engine)))
            return bench.view()

        self.work(case_id, script, action)

    def _on_bench(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str) -> None:
        try:
            bench = self._busy = self._bench_of(case_id, script)
            bench.begin()
            view = action(bench)
            self._post(Worked(case_id, view, words_of(bench.replay.engine, bench.replay.session)))
            self._keep_by_the_way(script, script.cases[case_id[1]], bench)
            if bench.is_behind:
                self._post(Worked(case_id, bench.look(), words_of(bench.replay.engine, bench.replay.session)))
        except ProblemError as error:
            self._post(Refused("\n".join(p.describe() for p in error.problems), text))
        finally:
            self._busy = None

    def _project(self, script: Script) -> Project:
        assert self._runner is not None
        return self._runner.project(script.path)

    def _bench_of(self, case_id: CaseId, script: Script) -> Workbench:
        """The workbench of a case: with what was worked on and is in no file, or with all of it run."""
        found = self._benches.get(case_id)
        if found is None:
            case = script.cases[case_id[1]]
            sides = case.twin.values if case.twin is not None else ("",)
            project = self._project(script)
            found = Workbench(*(replay(project, script, case, side, self._lets) for side in sides))
            for side in found.sides.all:
                side.engine.shared.recording = True
            place = self._place(script, case)
            if place.exists():
                self._go_on(found, place)
            self._benches[case_id] = found
        return found

    def _go_on(self, bench: Workbench, place: Path) -> None:
        """Have the ladder that was kept; one that cannot be read is laid aside, and the case is as its file has it."""
        try:
            bench.resume(*moves_of(read_text(place).text))
        except ProblemError as error:
            aside = place.with_suffix(".unread")
            place.replace(aside)
            told = error.problems[0].message if error.problems else "it is no case"
            self._post(WorkFailed(f"what was typed here last cannot be read ({told}): it is in {aside}"))

    def _place(self, script: Script, case: Case) -> Path:
        return place_of(self._project(script).root, script.path, case.title)

    def _keep_by_the_way(self, script: Script, case: Case, bench: Workbench) -> None:
        """Have what no file has outlive the program."""
        place = self._place(script, case)
        keeping = self._keepings.setdefault(place, Keeping(place))
        try:
            if bench.typed:
                make_own_folder(self._project(script).root)
                keeping.keep(bench.replay.moves, lambda: bench.setup_text() + bench.text(case.title))
            else:
                keeping.forget()
        except OSError as error:
            self._post(WorkFailed(f"what is typed cannot be kept in {place}: {error.strerror}"))

    def _resume(self, case_id: CaseId, script: Script) -> None:
        """Tell what can be typed; where a case was worked on, its ladder is that."""
        try:
            bench = self._bench_of(case_id, script)
        except ProblemError:
            return  # told by the run already
        self._post(Known(words_of(bench.replay.engine, bench.replay.session)))
        if bench.typed:
            self._on_bench(case_id, script, Workbench.view, "")
