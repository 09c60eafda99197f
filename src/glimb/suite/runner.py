"""Running: cases in their worlds, one after the other, each from the fixture as loaded, and what became of them."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from pathlib import Path

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome, locks_of
from glimb.engine.values.conditions import condition_of
from glimb.lang import tree
from glimb.lang.node import Record, walk
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.driver import Driver, Told
from glimb.suite.expectations.judging import judge
from glimb.suite.expectations.kind import Around, Expectation, Verdict
from glimb.suite.ladder import Ladder, RailState, Rung
from glimb.suite.letting import Lets
from glimb.suite.project import Project, open_project
from glimb.suite.results import CaseResult
from glimb.suite.script import MAIN, BrokenStep, Case, Script, StatementStep, Step, Turn
from glimb.suite.wording import failure_text, waiting_text
from glimb.suite.world import build


class Runner:
    """Runs cases of any projects; it keeps a world for each fixture."""

    def __init__(self, lets: Lets | None = None) -> None:
        self.lets = lets or {}
        self._projects: dict[Path, Project] = {}
        self._worlds: dict[tuple[Path | None, str], Engine | ProblemError] = {}
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

    def _forget_worlds(self) -> None:
        for world in self._worlds.values():
            if isinstance(world, Engine):
                world.close()
        self._worlds.clear()
        self._prepared.clear()

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
            try:
                found = build(project, fixture)
            except ProblemError as error:
                found = error
            self._worlds[key] = found
        if isinstance(found, ProblemError):
            raise found
        return found

    def run_script(self, script: Script, wanted: Callable[[Case], bool] = lambda case: True) -> Iterable[CaseResult]:
        """Run the cases of a script; gives each result as soon as it is there."""
        if script.problems:
            broken = CaseResult(script, None, "broken")
            broken.problems = script.problems
            yield broken
            return
        for case in script.cases:
            if self.stopped:
                return
            if wanted(case):
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
            result.problems += (_placed(p, script, case) for p in error.problems)
        if result.problems:
            result.verdict = "broken"
            return result
        self._running = engine
        engine.shared.recording = recording
        try:
            sides = case.twin.values if case.twin is not None else ("",)
            ladders = []
            for side in sides:
                climb = _Climb(engine, script.source, case, side, self.lets)
                ladders.append(climb.run(self._setup_rungs(engine, script, case, recording)))
                engine.reset()
            result.ladder = ladders[0]
            result.twin = ladders[1] if len(ladders) > 1 else None
        except ProblemError as error:
            result.problems += error.problems
            result.verdict = "broken"
            return result
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
            climb = _Climb(engine, script.source, case, "", self.lets)
            for step in case.setup:
                climb._step(step, True)
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
    return isinstance(step, StatementStep) and step.session == MAIN and not isinstance(step.statement, lasting)


def _in_the_way(engine: Engine, ladders: list[Ladder]) -> list[Problem]:
    """What is wrong in the project's routines, where a case has met it."""
    failures = [rung.last.failure for ladder in ladders for rung in ladder.rungs if rung.slips]
    met = {_place(p) for f in failures if f is not None for p in f.problems}
    missing = any(f is not None and f.sqlstate in ("42883", "42884") for f in failures)
    return [p for p in engine.problems if missing or _place(p) in met]


def _place(problem: Problem) -> tuple[str, int, str]:
    return problem.source.name if problem.source is not None else "", problem.span.start, problem.message


def _placed(problem: Problem, script: Script, case: Case) -> Problem:
    """A problem of a fixture with a place: where the case names it, when it has none of its own."""
    if problem.source is not None:
        return problem
    return Problem(problem.sqlstate, problem.message, case.fixture_span, problem.hint, script.source)


class _Climb:
    """One run of one case in an engine."""

    def __init__(self, engine: Engine, source: Source, case: Case, side: str, lets: Lets) -> None:
        self.side = side
        self.engine = engine
        self.source = source
        self.case = case
        self.ladder = Ladder(case, source, case.sessions())
        self.ladder.first_commit = engine.shared.history.sequence
        self.driver = Driver(engine, source, case.twin, side, lets)
        self.waiting: dict[str, Rung] = {}
        self.unseen: dict[str, Rung] = {}
        self.states: dict[str, str] = {}

    def run(self, done: list[Rung] | None) -> Ladder:
        """Run the case; `done` are the rungs of its setup when that has been done already."""
        self.driver.start(self.case.clock, self.case.model)
        if done is not None:
            self.ladder.rungs += done
        else:
            for step in self.case.setup:
                self._step(step, True)
        for step in self.case.steps:
            self._step(step, False)
        self._finish()
        return self.ladder

    def _step(self, step: Step, is_setup: bool) -> None:
        if isinstance(step, StatementStep | BrokenStep):
            self._blame_unseen(step.session)
            self._statement(step, is_setup, self.driver.run(step))
        else:
            for told in self.driver.run(step):
                self._ended(told, len(self.ladder.rungs) - 1)
            if isinstance(step, Turn):
                self._turn(step)

    def _turn(self, turn: Turn) -> None:
        due = [e for e in turn.expectations if e.side in ("", self.side)]
        if not due:
            return
        rung = self.unseen.pop(turn.session, None) or self.waiting.get(turn.session)
        if rung is None:
            seen = "no statement of this session has come out of a wait"
            self.ladder.slips.append(Verdict(due[0], False, due[0].text, seen))
            return
        self._judge(rung, due, rung.last)

    def _statement(self, step: StatementStep | BrokenStep, is_setup: bool, told: list[Told]) -> None:
        text, first = self.source[step.span], told[0].outcome
        rung = Rung(len(self.ladder.rungs) + 1, step.session, text, self.source.line(step.span.start), first)
        rung.is_setup, rung.commits = is_setup, self.engine.shared.history.sequence - self.ladder.first_commit
        self.ladder.rungs.append(rung)
        if first.waiting is not None:
            self.waiting[step.session] = rung
        for ended in told[1:]:
            self._ended(ended, len(self.ladder.rungs) - 1)
        self._rails(rung, [t.outcome for t in told])
        self._judge(rung, step.expectations, first)

    def _ended(self, told: Told, at: int) -> None:
        """A statement that waited has ended."""
        name = told.step.session
        rung = self.waiting.pop(name)
        rung.final, rung.ended_at = told.outcome, at
        self.unseen[name] = rung

    def _rails(self, rung: Rung, outcomes: list[Outcome]) -> None:
        """What every rail shows beside this rung."""
        for name in self.ladder.sessions:
            session = self.engine.sessions.get(name)
            if session is None:
                rung.rails[name] = RailState("none")
                continue
            events = tuple(e for o in outcomes if o.session == name for e in o.events)
            state = "waiting" if session.claims.waiting is not None else "open" if session.active else "none"
            rung.rails[name] = RailState(state, events, session.claims.holding())

    # -- judging

    def _judge(self, rung: Rung, expectations: list[Expectation], outcome: Outcome) -> None:
        due = [e for e in expectations if e.side in ("", self.side)]
        around = Around(Asker(self.engine, rung.session, outcome), due)
        for expectation in due:
            self._check_table(expectation, outcome)
            self._check_waymark(expectation)
            rung.verdicts.append(judge(expectation, outcome, around))
        if outcome.failure is not None:
            self._nothing_unseen(rung)

    def _check_table(self, expectation: Expectation, outcome: Outcome) -> None:
        """An expectation about a table that there is not is a wrong line."""
        name = expectation.table
        known = self.engine.catalog.relations
        if name and name not in known and not any(c.table.name == name for c in outcome.changes):
            hint = nearest(name, known)
            self.ladder.problems.append(
                Problem("42704", f"there is no table {name}", expectation.span, hint, self.source)
            )

    def _check_waymark(self, expectation: Expectation) -> None:
        """So is one about a waymark that there is not."""
        name = str(getattr(expectation.says, "waymark", ""))
        if not name:
            return
        known = waymarks_known(self.engine.catalog, self.case)
        if name not in known:
            problem = f"there is no waymark {name}"
            self.ladder.problems.append(
                Problem("42704", problem, expectation.span, nearest(name, known) or "--@ name in a body", self.source)
            )

    def _nothing_unseen(self, rung: Rung) -> None:
        """A condition that no expectation speaks of is a slip of its own."""
        spoken = any(v.expectation and v.expectation.kind in ("fails", "deadlock") for v in rung.verdicts)
        named = any(v.expectation is None for v in rung.verdicts)
        if rung.last.failure is not None and not spoken and not named:
            rung.verdicts.append(Verdict(None, False, "no condition", failure_text(rung.last.failure)))

    def _blame_unseen(self, session: str) -> None:
        """A statement that came out of its wait with a condition nobody asked about."""
        rung = self.unseen.pop(session, None)
        if rung is not None:
            self._nothing_unseen(rung)

    def _finish(self) -> None:
        for session in list(self.unseen):
            self._blame_unseen(session)
        for rung in self.waiting.values():
            seen = f"{rung.session} still {waiting_text(rung.outcome.waiting)}"
            rung.verdicts.append(Verdict(None, False, "the statement ends", seen))
        self.ladder.warnings += self._left_behind()

    def _left_behind(self) -> list[str]:
        """Sessions that end the case with work that is neither committed nor rolled back, unless that is expected."""
        found = []
        for name, session in self.engine.sessions.items():
            last = next((r for r in reversed(self.ladder.rungs) if r.session == name), None)
            kinds = {v.expectation.kind for v in last.verdicts if v.expectation} if last is not None else set()
            if session.active and session.claims.waiting is None and not kinds & {"open", "lock"}:
                locks = len(locks_of(session.claims.holding()))
                if session.log or (locks and last is not None and last.last.ok):
                    held = f", {locks} lock{'s' * (locks != 1)} held" if locks else ""
                    found.append(f"{name} ends with its transaction open{held}")
        return found


def waymarks_known(catalog: Catalog, case: Case) -> set[str]:
    """The waymarks of all routines, with and without the routine's name, and those of the case's own statements."""
    found: set[str] = set()
    for group in catalog.routines.values():
        for routine in group:
            for mark in walk(routine.definition.body):
                if isinstance(mark, tree.Waymark):
                    found |= {mark.name, f"{routine.name}.{mark.name}"}
    for step in (*case.setup, *case.steps):
        if isinstance(step, StatementStep):
            found |= {m.name for m in walk(step.statement) if isinstance(m, tree.Waymark)}
    return found
