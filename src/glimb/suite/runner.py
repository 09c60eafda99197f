"""Running: cases in their worlds, one after the other, each from the fixture as loaded, and what became of them."""

from __future__ import annotations

import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from glimb.engine.engine import Engine
from glimb.engine.values.conditions import condition_of
from glimb.lang import tree
from glimb.lang.node import Record
from glimb.lang.problem import Problem, ProblemError
from glimb.suite.case_run import CaseRun
from glimb.suite.coverage import Counts, counted, merged
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.letting import Lets
from glimb.suite.project import FileState, Project, Settings, open_project
from glimb.suite.results import CaseResult
from glimb.suite.script import MAIN, Case, Script, StatementStep, Step
from glimb.suite.world import build


class Runner:
    """Runs cases of any projects; it keeps a world for each fixture."""

    def __init__(self, lets: Lets | None = None, covering: bool = False) -> None:
        self.lets = lets or {}
        self.covering = covering
        self._counts: Counts = {}
        """What was counted in worlds that are gone."""
        self._projects: dict[Path, Project] = {}
        self._worlds: dict[tuple[Path | None, str], Engine | ProblemError] = {}
        self._states: dict[Path | None, frozenset[FileState]] = {}
        """The files of each project when its first world was built."""
        self._prepared: dict[Engine, Prepared] = {}
        """Of worlds in which the setup of a script has been done: what that was."""
        self._running: Engine | None = None
        self.stopped = False

    def project(self, path: Path) -> Project:
        """The project a script belongs to."""
        folder = path.parent
        if folder not in self._projects:
            self._projects[folder] = open_project(folder)
        return self._projects[folder]

    def use(self, project: Project, folder: Path) -> None:
        """Take this project for the scripts of a folder, whatever lies on disk."""
        self._projects[folder] = project

    def forget(self) -> None:
        """Files have changed: load everything anew."""
        self._projects.clear()
        self._forget_worlds()

    def refresh(self) -> bool:
        """Files may have changed: load everything anew where they have; whether that is so."""
        self._projects.clear()
        changed = any(Project(root, Settings()).state() != state for root, state in self._states.items())
        if changed or any(isinstance(world, ProblemError) for world in self._worlds.values()):
            self._forget_worlds()
            return True
        return False

    def _forget_worlds(self) -> None:
        self._counts = self.counts
        for world in self._worlds.values():
            if isinstance(world, Engine):
                world.close()
        self._worlds.clear()
        self._states.clear()
        self._prepared.clear()

    @property
    def counts(self) -> Counts:
        """What has been tried, of a runner that counts it."""
        worlds = [world for world in self._worlds.values() if isinstance(world, Engine)]
        return merged(self._counts, *(counted(world) for world in worlds)) if self.covering else {}

    def stop(self) -> None:
        """End the run, from any thread."""
        self.stopped = True
        if self._running is not None:
            self._running.watch.stop()

    def world(self, project: Project, fixture: str) -> Engine:
        """The engine with this fixture, as loaded."""
        key = (project.root, fixture)
        found = self._worlds.get(key)
        if found is None:
            if project.root not in self._states:
                self._states[project.root] = project.state()
            try:
                found = build(project, fixture)
                if self.covering:
                    found.cover()
            except ProblemError as error:
                found = error
            self._worlds[key] = found
        if isinstance(found, ProblemError):
            raise found
        return found

    def prepare(self, script: Script, cases: list[int]) -> None:
        """Build the worlds in which these cases run; what is wrong with one is told when a case needs it."""
        for number in [] if script.problems else cases:
            with suppress(ProblemError):
                project = self.project(script.path)
                self.world(project, script.cases[number].fixture or project.settings.default_fixture)

    def run_script(self, script: Script) -> Iterable[CaseResult]:
        """Run the cases of a script; gives each result as soon as it is there."""
        if script.problems:
            broken = CaseResult(script, None, "broken")
            broken.problems = script.problems
            yield broken
            return
        for case in script.cases:
            if self.stopped:
                return
            yield self.run_case(script, case)

    def run_case(self, script: Script, case: Case, recording: bool = False) -> CaseResult:
        """Run one case from its fixture; `recording` keeps what happens inside routines."""
        result = CaseResult(script, case, "skipped")
        if case.skip:
            return result
        started = time.perf_counter()
        result.problems = list(case.problems)
        try:
            project = self.project(script.path)
            engine = self.world(project, case.fixture or project.settings.default_fixture)
        except ProblemError as error:
            engine = None
            result.problems += (_placed(p, script, case) for p in error.problems)
        if engine is None or result.problems:
            result.verdict = "broken"
            return result
        self._running = engine
        engine.shared.recording = recording
        try:
            sides = case.twin.values if case.twin is not None else ("",)
            ladders = []
            for side in sides:
                climb = CaseRun(engine, script.source, case, side, self.lets)
                ladders.append(climb.run(self._setup_rungs(engine, script, case, recording)))
                engine.reset()
            result.ladder = ladders[0]
            result.twin = ladders[1] if len(ladders) > 1 else None
        except Exception as error:  # a fault of ours: the case is broken, the others still run
            condition = condition_of(error, script.source)
            result.problems.append(Problem(condition.sqlstate, condition.message, case.span, "", script.source))
            result.verdict = "broken"
            self._forget_worlds()
            return result
        finally:
            engine.shared.recording = False
            self._running = None
            engine.reset()
        result.verdict = "slipped" if any(ladder.slip_count for ladder in ladders) else "met"
        result.problems += [p for ladder in ladders for p in ladder.problems]
        if result.verdict == "slipped":
            result.problems += _in_the_way(engine, ladders)
        if result.problems:
            result.verdict = "broken"
        result.seconds = time.perf_counter() - started
        return result

    def _setup_rungs(self, engine: Engine, script: Script, case: Case, recording: bool) -> list[Rung] | None:
        """The rungs of a script's setup, which is done once for all of its cases where that makes no difference: plain
        statements of one session that leave nothing open. None: the case has to do it itself."""
        if self.covering:  # counts must not depend on which cases share a setup
            return None
        prepared = self._prepared.get(engine)
        if prepared is not None and (prepared.setup is not case.setup or prepared.recording != recording):
            engine.pop_base()
            del self._prepared[engine]
            prepared = None
        if not case.setup or case.twin is not None or case.model or case.clock is not None:
            if prepared is not None:
                engine.pop_base()
                del self._prepared[engine]
            return None
        if prepared is None and all(_is_plain(step) for step in case.setup):
            climb = CaseRun(engine, script.source, case, "", self.lets)
            for step in case.setup:
                climb.step(step, True)
            rungs = climb.ladder.rungs
            main = engine.sessions.get(MAIN)
            if all(r.last.ok for r in rungs) and (main is None or not main.active):
                engine.push_base()
                prepared = self._prepared[engine] = Prepared(case.setup, recording, rungs)
            engine.reset()
        return prepared.rungs if prepared is not None else None


class Prepared(Record):
    """A setup that has been done in a world and made its base, with its rungs."""

    setup: list[Step]
    recording: bool
    rungs: list[Rung]


def _is_plain(step: Step) -> bool:
    """Whether a step of setup leaves nothing in its session that a case could see."""
    lasting = tree.SetSchema | tree.SetSession | tree.SetConstraints | tree.SetTransaction | tree.Prepare | tree.Call
    lasting |= tree.SelectInto | tree.SetVariable
    return isinstance(step, StatementStep) and step.session == MAIN and not isinstance(step.statement, lasting)


def _in_the_way(engine: Engine, ladders: list[Ladder]) -> list[Problem]:
    """What is wrong in the project's routines, where a case has met it."""
    failures = [rung.last.failure for ladder in ladders for rung in ladder.rungs if rung.slips]
    met = {_place(p) for f in failures if f is not None for p in f.problems}
    missing = any(f is not None and f.sqlstate in ("42883", "42884") for f in failures)
    return [p for p in engine.problems() if missing or _place(p) in met] if missing or met else []


def _place(problem: Problem) -> tuple[str, int, str]:
    return problem.source.name if problem.source is not None else "", problem.span.start, problem.message


def _placed(problem: Problem, script: Script, case: Case) -> Problem:
    """A problem of a fixture with a place: where the case names it, when it has none of its own."""
    if problem.source is not None:
        return problem
    return Problem(problem.sqlstate, problem.message, case.fixture_span, problem.hint, script.source)
