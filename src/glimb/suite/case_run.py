"""One run of one case: its steps in an engine, and the ladder with a rung for each statement, judged."""

from __future__ import annotations

import time

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome, locks_of
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.driver import Driver, Told
from glimb.suite.expectations.judging import judge
from glimb.suite.expectations.kind import Around, Expectation, Verdict
from glimb.suite.ladder import Ladder, RailState, Rung, Setting
from glimb.suite.letting import Lets
from glimb.suite.script import BrokenStep, Case, StatementStep, Step, Turn
from glimb.suite.wording import failure_text, waiting_text


class CaseRun:
    """One run of one case in an engine, step by step: its ladder grows by what each step brings about."""

    def __init__(self, engine: Engine, source: Source, case: Case, side: str, lets: Lets) -> None:
        self.side = side
        self.engine = engine
        self.source = source
        self.case = case
        self.ladder = Ladder(case, source, case.sessions())
        self.ladder.first_commit = engine.shared.history.sequence
        self.driver = Driver(engine, source, case.twin, side, lets)
        self.made = 0
        """How many steps have been carried out, those of the setup included."""
        self.waiting = self.ladder.waiting
        self.unseen: dict[str, Rung] = {}

    def start(self) -> None:
        """Set what the case says of itself."""
        self.driver.start(self.case.clock, self.case.model)
        self.ladder.setting = Setting(self.engine.shared.model.name, self.engine.clock, self.side)

    def run(self, done: list[Rung] | None) -> Ladder:
        """Run the case; `done` are the rungs of its setup when that has been done already."""
        self.start()
        if done is not None:
            self.ladder.take(done)
        else:
            for step in self.case.setup:
                self.step(step, True)
        for step in self.case.steps:
            self.step(step, False)
        self.finish()
        return self.ladder

    def step(self, step: Step, is_setup: bool = False, source: Source | None = None) -> list[Told]:
        """Carry out a step, of the case's text or of another one; gives the outcomes that it brings about."""
        self.driver.source = source or self.source
        self.made += 1
        if isinstance(step, StatementStep | BrokenStep):
            self._blame_unseen(step.session)
            started = time.perf_counter()
            told = self.driver.run(step)
            self._statement(step, is_setup, told, time.perf_counter() - started)
            return told
        try:
            told = self.driver.run(step)
        except ProblemError as error:  # of a host variable that cannot be set: what needs it says so
            self.ladder.problems += error.problems
            return []
        for ended in told:
            self._ended(ended, len(self.ladder.rungs) - 1)
        if isinstance(step, Turn):
            self._turn(step)
        return told

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

    def _statement(self, step: StatementStep | BrokenStep, is_setup: bool, told: list[Told], seconds: float) -> None:
        source, first = self.driver.source, told[0].outcome
        line = source.line(step.span.start)
        rung = Rung(len(self.ladder.rungs) + 1, step.session, source[step.span], line, first)
        rung.seconds = seconds
        self._rail_for(step.session)
        rung.is_setup, rung.commits = is_setup, self.engine.shared.history.sequence - self.ladder.first_commit
        self.ladder.rungs.append(rung)
        if first.waiting is not None:
            self.waiting[step.session] = rung
            self.ladder.waits.append(rung)
        for ended in told[1:]:
            self._ended(ended, len(self.ladder.rungs) - 1)
        self._rails(rung, [t.outcome for t in told])
        self._judge(rung, step.expectations, first)

    def _rail_for(self, session: str) -> None:
        """A session that the case does not name, since somebody has typed it, has a rail from now on."""
        if session not in self.ladder.sessions:
            self.ladder.sessions.append(session)
            for rung in self.ladder.rungs:
                rung.rails[session] = RailState("none")

    def _ended(self, told: Told, at: int) -> None:
        """A statement that waited has ended."""
        name = told.step.session
        rung = self.waiting.pop(name)
        rung.final, rung.ended_at, rung.ended_step = told.outcome, at, self.made - 1
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
            self.ladder.judge(rung, judge(expectation, outcome, around))
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
            self.ladder.judge(rung, Verdict(None, False, "no condition", failure_text(rung.last.failure)))

    def _blame_unseen(self, session: str) -> None:
        """A statement that came out of its wait with a condition nobody asked about."""
        rung = self.unseen.pop(session, None)
        if rung is not None:
            self._nothing_unseen(rung)

    def finish(self) -> None:
        """There is no further step: what nobody asked about, who still waits, what is left behind."""
        for session in list(self.unseen):
            self._blame_unseen(session)
        for rung in self.waiting.values():
            seen = f"{rung.session} still {waiting_text(rung.outcome.waiting)}"
            self.ladder.judge(rung, Verdict(None, False, "the statement ends", seen))
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
                    found |= {mark.name, f"{routine.short}.{mark.name}", f"{routine.name}.{mark.name}"}
    for step in (*case.setup, *case.steps):
        if isinstance(step, StatementStep):
            found |= {m.name for m in walk(step.statement) if isinstance(m, tree.Waymark)}
    return found
