"""The worker: one thread that owns all engines. Screens ask it to run cases; it answers with messages."""

from __future__ import annotations

import queue
import threading
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any, TypeVar

from textual.message import Message
from textual.message_pump import MessagePump

from glimb.engine.engine import Engine
from glimb.engine.values.conditions import condition_of
from glimb.lang.problem import Problem, ProblemError
from glimb.report.since import Base, Difference, rungs_of
from glimb.report.whole import write_script
from glimb.suite.choosing import read_any
from glimb.suite.climber import Way
from glimb.suite.completing import Words, words_of
from glimb.suite.course import Course
from glimb.suite.desk import Desk
from glimb.suite.kept import kept_in, moves_of, place_of
from glimb.suite.letting import Lets
from glimb.suite.pins import blocks_of
from glimb.suite.project import Project, make_own_folder, open_project, read_text
from glimb.suite.replay import replay
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Script
from glimb.suite.taking_out import taken_out
from glimb.suite.workbench import View, Workbench

TOLD_SECONDS, DONE_SECONDS = 0.4, 0.1
"""How often it is told which scripts have been read, and which cases have been run."""
CaseId = tuple[Path, int]
T = TypeVar("T")


class ScriptsRead(Message):
    """Scripts have been read, those that were told before aside; the last time with the paths of all there are."""

    def __init__(self, scripts: list[Script], paths: list[Path] | None) -> None:
        super().__init__()
        self.scripts = scripts
        self.paths = paths


class CaseDone(Message):
    """A case has been run; `recorded` when its ladder was asked for. `differs`: rungs that do something else than
    in the run that was accepted."""

    def __init__(
        self, case_id: CaseId, result: CaseResult, recorded: bool, differs: tuple[Difference, ...] = ()
    ) -> None:
        super().__init__()
        self.case_id = case_id
        self.result = result
        self.recorded = recorded
        self.differs = differs


class CasesDone(Message):
    """Cases that have been run since it was told last."""

    def __init__(self, cases: list[CaseDone]) -> None:
        super().__init__()
        self.cases = cases


class Answered(Message):
    """What was asked of the desk, and who waits for it."""

    def __init__(self, tell: Callable[[], None]) -> None:
        super().__init__()
        self.tell = tell


class Counted(Message):
    """More is known of what cases show and try."""


class RunEnded(Message):
    """All cases that were asked for have been run, or the run was stopped."""

    def __init__(self, count: int, stopped: bool) -> None:
        super().__init__()
        self.count = count
        self.stopped = stopped


class Worked(Message):
    """The ladder that is being worked on has changed; `words` are the names that can stand in a statement."""

    def __init__(self, case_id: CaseId, view: View, words: Words) -> None:
        super().__init__()
        self.case_id = case_id
        self.view = view
        self.words = words


class Known(Message):
    """The names that can stand in a statement of a case."""

    def __init__(self, words: Words) -> None:
        super().__init__()
        self.words = words


class Climbed(Message):
    """What happened inside a rung, and at which step one stands; without a course nothing was found: why."""

    def __init__(self, case_id: CaseId, course: Course | None, at: int, nothing: str = "") -> None:
        super().__init__()
        self.case_id = case_id
        self.course = course
        self.at = at
        self.nothing = nothing


class TakenOut(Message):
    """A statement from within a routine, to be run alone."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.text = text


class PinsFound(Message):
    """What could be said of a rung: blocks of a line with the rows below it."""

    def __init__(self, rung: int, blocks: list[list[str]]) -> None:
        super().__init__()
        self.rung = rung
        self.blocks = blocks


class CaseKept(Message):
    """What was worked on stands in a file."""

    def __init__(self, path: Path, title: str) -> None:
        super().__init__()
        self.path = path
        self.title = title


class Refused(Message):
    """What was typed cannot be run: why, and the text, so that it is not lost."""

    def __init__(self, message: str, text: str) -> None:
        super().__init__()
        self.message = message
        self.text = text


class WorkFailed(Message):
    """What was asked for could not be done."""

    def __init__(self, message: str) -> None:
        super().__init__()
        self.message = message


class Worker:
    """Takes work in order. `stop` ends what is being done and drops what was asked for. It holds a workbench for each
    case that is worked on; what no file has is written into the project's `.glimb` after every step."""

    def __init__(self, owner: MessagePump, project: Project, lets: Lets | None = None) -> None:
        self._lets = lets or {}
        self._owner = owner
        self._project_there = project
        self._desk: Desk | None = None
        self._behind: deque[Iterator[None]] = deque()
        """What is done step by step while nothing else is asked for."""
        self._is_stopped = False
        self._base: Base | None = None
        """What the cases did in the run that was accepted; None until it is needed."""
        self._work: queue.Queue[Callable[[], None] | None] = queue.Queue()
        self._runner: Runner | None = None
        self._benches: dict[CaseId, Workbench] = {}
        self._busy: Workbench | None = None
        """The workbench on which something is done."""
        self._thread = threading.Thread(target=self._loop, name="glimb-worker", daemon=True)
        self._thread.start()

    def read(self, paths: list[Path]) -> None:
        """Read scripts; what was loaded before is loaded anew."""
        self._work.put(lambda: self._read(paths))

    def record(self, case_id: CaseId, script: Script) -> None:
        """Run a case for its ladder."""
        self._work.put(lambda: self._record(case_id, script))

    def run(self, cases: list[tuple[CaseId, Script]], counting: list[Script] | None = None) -> None:
        """Run cases in order, whatever else is asked for meanwhile coming first; then count what all the cases of some
        scripts try."""
        self._is_stopped = False
        self._work.put(lambda: self._behind.append(self._run(cases, counting)))

    def ask(self, question: Callable[[Desk], T], then: Callable[[T], None]) -> None:
        """Ask the desk; the answer comes as a message."""

        def work() -> None:
            try:
                answer = question(self.desk)
            except ProblemError as error:
                self._post(WorkFailed("\n".join(p.describe() for p in error.problems)))
                return
            self._post(Answered(lambda: then(answer)))

        self._work.put(work)

    def ask_bench(
        self, case_id: CaseId, script: Script, question: Callable[[Workbench], T], then: Callable[[T], None]
    ) -> None:
        """Ask about the ladder of a case without changing it."""

        def work() -> None:
            try:
                answer = question(self._bench_of(case_id, script))
            except ProblemError as error:
                self._post(WorkFailed("\n".join(p.describe() for p in error.problems)))
                return
            self._post(Answered(lambda: then(answer)))

        self._work.put(work)

    def ask_rung(
        self,
        case_id: CaseId,
        script: Script,
        rung: int,
        question: Callable[[Engine, Desk], T],
        then: Callable[[T], None],
    ) -> None:
        """Ask about the state behind a rung of a ladder, which stays where it is."""

        def work() -> None:
            try:
                bench = self._bench_of(case_id, script)
                answer = question(self.desk.standing(bench.replay, script, rung, self._lets), self.desk)
            except ProblemError as error:
                self._post(WorkFailed("\n".join(p.describe() for p in error.problems)))
                return
            self._post(Answered(lambda: then(answer)))

        self._work.put(work)

    def save(self, path: Path, text: str, before: str, then: Callable[[], None]) -> None:
        """Write a file whole, unless somebody else has written it since it was read as `before`."""

        def work() -> None:
            try:
                if path.exists() and read_text(path).text != before:
                    self._post(WorkFailed(f"{path.name} has been changed meanwhile, and stays as it is"))
                    return
                path.parent.mkdir(parents=True, exist_ok=True)
                write_script(path, text)
            except OSError as error:
                self._post(WorkFailed(f"{path.name} cannot be written: {error.strerror}"))
                return
            except ProblemError as error:
                self._post(WorkFailed(error.problems[0].message))
                return
            self._post(Answered(then))

        self._work.put(work)

    def accept(self, results: list[CaseResult]) -> None:
        """Make what these runs did what later ones are compared with."""
        self._work.put(lambda: self._accept(results))

    def work(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str = "") -> None:
        """Work on the ladder of a case; `text` is what is given back when it cannot be run."""
        self._work.put(lambda: self._on_bench(case_id, script, action, text))

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
            write_script(path, kept_in(before, bench.text(title), title))
            bench.typed = False
            self._post(CaseKept(path, title))
            return bench.view()

        self.work(case_id, script, action)

    def leave(self, case_id: CaseId, script: Script) -> None:
        """Have the ladder as its file has it; what was worked on goes to the shelf."""

        def action(bench: Workbench) -> View:
            made = Workbench(replay(self._project(script), script, script.cases[case_id[1]], "", self._lets))
            return bench.start_over(made.replay.moves)

        self.work(case_id, script, action)

    def begin_again(self, case_id: CaseId, script: Script) -> None:
        """Have a ladder with nothing on it; what was typed there can be brought back."""

        def work() -> None:
            bench = self._benches.pop(case_id, None)
            if bench is not None:
                bench.replay.close()

        self._work.put(work)
        self.work(case_id, script, lambda bench: bench.rewind(0))

    def climb(self, case_id: CaseId, script: Script, rung: int) -> None:
        """Go into a rung."""

        def climb(bench: Workbench) -> Climbed:
            course = bench.climber.climb(rung)
            told = "nothing happens inside this statement: it calls no routine and is no block"
            return Climbed(case_id, course, 0) if len(course) else Climbed(case_id, None, 0, told)

        self._climb(case_id, script, climb)

    def climb_on(
        self, case_id: CaseId, script: Script, course: Course, at: int, way: Way, by: int, in_scene: bool, nothing: str
    ) -> None:
        """Follow a way through rounds that are folded."""

        def climb(bench: Workbench) -> Climbed:
            found, place = bench.climber.climb_on(course, at, way, by, in_scene)
            is_nowhere = found is course and place == at
            return Climbed(case_id, None if is_nowhere else found, place, nothing)

        self._climb(case_id, script, climb)

    def climb_to_round(self, case_id: CaseId, script: Script, course: Course, at: int, number: int) -> None:
        """Show a round that is folded."""
        self._climb(case_id, script, lambda bench: Climbed(case_id, *bench.climber.climb_to_round(course, at, number)))

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

    def stop(self) -> None:
        self._is_stopped = True
        if self._busy is not None:
            self._busy.climber.stop()
        runner = self._runner
        if runner is not None:
            runner.stop()

    def close(self) -> None:
        self.stop()
        self._work.put(None)

    def join(self, seconds: float) -> None:
        """Wait so long for what is still to be written."""
        self._thread.join(seconds)

    @property
    def desk(self) -> Desk:
        """The desk, in the worker's thread."""
        assert self._runner is not None
        if self._desk is None:
            self._desk = Desk(self._project_there, self._runner, self._lets)
        return self._desk

    def _loop(self) -> None:
        self._runner = Runner(self._lets)
        while True:
            try:
                work = self._work.get(block=not self._behind)
            except queue.Empty:
                work = self._step
            if work is None:
                return
            try:
                work()
            except Exception as error:  # a fault of ours: the worker goes on with what it is asked for next
                self._post(WorkFailed(condition_of(error).message))
                self._post(RunEnded(0, True))

    def _step(self) -> None:
        """A step of what is done behind all else."""
        steps = self._behind[0]
        try:
            next(steps)
        except StopIteration:
            self._behind.popleft()
        except BaseException:
            self._behind.popleft()
            raise

    def _post(self, message: Any) -> None:
        self._owner.post_message(message)

    def _read(self, paths: list[Path]) -> None:
        assert self._runner is not None
        for steps in self._behind:
            steps.close()  # type: ignore[attr-defined]
        if self._behind:
            self._behind.clear()
            self._post(RunEnded(0, False))
        self._runner.forget()
        self.desk.forget()
        with suppress(ProblemError):
            root = self._project_there.root
            self.desk.project = open_project(root) if root is not None else self._project_there
        for bench in self._benches.values():
            bench.replay.close()
        self._benches.clear()
        self._behind.append(self._reading(paths))

    def _reading(self, paths: list[Path]) -> Iterator[None]:
        """Read scripts one by one, telling from time to time which there are: of very many one sees the first soon."""
        scripts: list[Script] = []
        told, count = time.monotonic(), 0
        for path in paths:
            scripts.append(read_any(path))
            if time.monotonic() > told + TOLD_SECONDS:
                self._post(ScriptsRead(scripts[count:], None))
                told, count = time.monotonic(), len(scripts)
            yield
        self.desk.study.keep_only((script.path, case.title) for script in scripts for case in script.cases)
        self.desk.scripts = scripts
        self._post(ScriptsRead(scripts[count:], paths))

    def _on_bench(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str) -> None:
        try:
            bench = self._busy = self._bench_of(case_id, script)
            bench.begin()
            view = action(bench)
            self._keep_by_the_way(script, script.cases[case_id[1]], bench)
            self._post(Worked(case_id, view, words_of(bench.replay.engine, bench.replay.session)))
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
            side = case.twin.values[0] if case.twin is not None else ""
            made = replay(self._project(script), script, case, side, self._lets)
            made.engine.shared.recording = True
            found = Workbench(made)
            place = self._place(script, case)
            if place.exists():
                self._go_on(found, place)
            self._benches[case_id] = found
        return found

    def _go_on(self, bench: Workbench, place: Path) -> None:
        """Have the ladder that was kept; one that cannot be read is laid aside, and the case is as its file has it."""
        try:
            bench.resume(moves_of(read_text(place).text))
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
        try:
            if bench.typed:
                make_own_folder(self._project(script).root)
                place.parent.mkdir(exist_ok=True)
                write_script(place, bench.text(case.title))
            else:
                place.unlink(missing_ok=True)
        except OSError as error:
            self._post(WorkFailed(f"what is typed cannot be kept in {place}: {error.strerror}"))

    def _run(self, cases: list[tuple[CaseId, Script]], counting: list[Script] | None) -> Iterator[None]:
        count, told = 0, time.monotonic()
        done: list[CaseDone] = []
        for case_id, script in cases:
            if self._is_stopped:
                break
            done.append(self._run_one(case_id, script))
            count += 1
            if time.monotonic() > told + DONE_SECONDS:
                self._post(CasesDone(done))
                done, told = [], time.monotonic()
            yield
        self._post(CasesDone(done))
        self._post(RunEnded(count, self._is_stopped))
        self._post(Counted())
        if counting is not None and not self._is_stopped:
            yield from self._count(counting)

    def _count(self, scripts: list[Script]) -> Iterator[None]:
        for _ in self.desk.count((script, case) for script in scripts if not script.problems for case in script.cases):
            yield
            if self._is_stopped:
                return
        self._post(Counted())

    def _run_one(self, case_id: CaseId, script: Script) -> CaseDone:
        """A case for its verdict, and for what it shows."""
        assert self._runner is not None
        if script.problems:
            return CaseDone(case_id, next(iter(self._runner.run_script(script))), False)
        result = self.desk.run(script, script.cases[case_id[1]])
        differs = self._differences(result)
        self.desk.study.take(result)
        return CaseDone(case_id, result, False, differs)

    def _differences(self, result: CaseResult) -> tuple[Difference, ...]:
        """The rungs that do something else than in the run that was accepted."""
        if self._base is None:
            self._base = Base(self._project_there.root)
        assert result.case is not None
        found: list[Difference] = []
        for side, ladder in enumerate(result.ladders):
            key = self._base.key(result.script.path, result.case.title, side)
            found += self._base.differences(key, rungs_of(ladder)) or ()
        return tuple(found)

    def _accept(self, results: list[CaseResult]) -> None:
        base = self._base = Base(self._project_there.root)
        done = [(r, r.case.title, side, one) for r in results if r.case for side, one in enumerate(r.ladders)]
        try:
            base.accept({base.key(r.script.path, title, side): rungs_of(one) for r, title, side, one in done})
        except OSError as error:
            self._post(WorkFailed(f"what the cases did cannot be kept: {error.strerror}"))

    def _record(self, case_id: CaseId, script: Script) -> None:
        """A case for its ladder."""
        runner = self._runner
        assert runner is not None
        runner.stopped = False
        if script.problems:
            self._post(CaseDone(case_id, next(iter(runner.run_script(script))), True))
        else:
            self._post(CaseDone(case_id, runner.run_case(script, script.cases[case_id[1]], True), True))
            self._resume(case_id, script)
        self._post(RunEnded(1, runner.stopped))

    def _resume(self, case_id: CaseId, script: Script) -> None:
        """Tell what can be typed; where a case was worked on, its ladder is that."""
        try:
            bench = self._bench_of(case_id, script)
        except ProblemError:
            return  # told by the run already
        self._post(Known(words_of(bench.replay.engine, bench.replay.session)))
        if bench.typed:
            self._on_bench(case_id, script, Workbench.view, "")
