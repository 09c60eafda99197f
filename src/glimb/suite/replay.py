"""Going back is running again: a ladder that can be gone through in both directions, asked, continued and changed.

Runs are deterministic, so the state at rung k is had by going back to the fixture and running the rungs up to k again.
A replay keeps its place: one rung forward costs one statement. Where running again would be felt, the store is kept as
it was behind a rung at which no session was in the middle of anything (`Held`), and running again begins there.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator
from datetime import datetime
from itertools import takewhile
from typing import NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.hosts import HostValue
from glimb.engine.transactions.keeping import Kept, keep, put_back
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.case_run import CaseRun
from glimb.suite.expectations.kind import Verdict
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.letting import Lets
from glimb.suite.project import Project
from glimb.suite.script import MAIN, BrokenStep, Case, ModelSet, Script, StatementStep, Step, Turn, Twin, read_typed
from glimb.suite.world import build

KEEP_BEHIND = 0.02
"""Seconds of running behind which the store is kept: less is not felt when it is run again."""


class Move(NamedTuple):
    """A step with the text that it stands in; whether it belongs to the setup."""

    step: Step
    source: Source
    is_setup: bool = False

    @property
    def is_rung(self) -> bool:
        return isinstance(self.step, StatementStep | BrokenStep)


class Held(NamedTuple):
    """What is kept behind a rung beside the store: how many moves led there, the run so far, sessions, host variables,
    the clock, how many commits there had been."""

    moves: int
    rungs: list[Rung]
    slips: list[Verdict]
    problems: list[Problem]
    sessions: dict[str, Kept]
    hosts: dict[str, HostValue]
    clock: datetime
    sequence: int


class Replay:
    """A case of a script, or what is typed, in an engine of its own.

    `moves` are all steps there are, `position` is the number of the last rung that has been run (0: the fixture, behind
    what the case says of itself). Between two rungs stand steps that are none (a session's turn, the clock, `let`):
    they belong to the rung behind them."""

    def __init__(
        self,
        engine: Engine,
        case: Case,
        source: Source,
        side: str = "",
        lets: Lets | None = None,
        keep_behind: float = KEEP_BEHIND,
    ) -> None:
        self.engine = engine
        self.case = case
        self.source = source
        self.side = side
        self.lets = lets or {}
        self.keep_behind = keep_behind
        self.moves = moves_in(case, source)
        self.session = MAIN
        """That of the last statement or session line, in which one goes on typing."""
        self._at = 0
        self._held: list[Held] = []
        self._spent = 0.0
        self._sequence = engine.shared.history.sequence
        self._run = CaseRun(engine, source, case, side, self.lets)
        self._restart()

    # -- where it stands

    @property
    def ladder(self) -> Ladder:
        """The rungs up to here."""
        return self._run.ladder

    @property
    def position(self) -> int:
        return len(self.ladder.rungs)

    @property
    def moves(self) -> list[Move]:
        """All steps there are; to be set as a whole."""
        return self._moves

    @moves.setter
    def moves(self, moves: list[Move]) -> None:
        self._moves = moves
        self.length = sum(move.is_rung for move in moves)
        """How many rungs there are when all moves have been made."""

    # -- going

    def at(self, rung: int) -> Ladder:
        """Go to the state behind a rung, from 1; 0 is that before the first. IndexError for one that is not there."""
        if not 0 <= rung <= self.length:
            raise IndexError(f"there are rungs 1 to {self.length}")
        if rung < self.position or self._is_past(rung):
            self._restart(rung)
        while self.position < rung:
            self._forward()
        return self.ladder

    def finish(self) -> Ladder:
        """Go to the end: all rungs, what comes behind the last one, and what is left behind."""
        self.at(self.length)
        self._forward_to(len(self.moves))
        self._run.finish()
        self._finished = True
        return self.ladder

    def _is_past(self, rung: int) -> bool:
        """Whether steps behind this rung have been carried out already."""
        return self.position == rung and (self._finished or not self._ends_with_rung())

    def _ends_with_rung(self) -> bool:
        return self._at == 0 or self.moves[self._at - 1].is_rung

    def _forward_to(self, moves: int) -> None:
        """Until so many moves have been made."""
        while self._at < moves:
            self._forward()

    def _forward(self) -> None:
        """Make the next move."""
        move = self.moves[self._at]
        started = time.perf_counter()
        self._run.step(move.step, move.is_setup, move.source)
        self._at += 1
        self._spent += time.perf_counter() - started
        if isinstance(move.step, Turn | StatementStep | BrokenStep):
            self.session = move.step.session
        if move.is_rung and self._spent >= self.keep_behind:
            self._keep()

    def _restart(self, rung: int = 0) -> None:
        """From the fixture, or from the last place kept that is not behind the rung."""
        while self._held and len(self._held[-1].rungs) > rung:
            self._held.pop()
            self.engine.pop_base()
        self.engine.reset()
        self.engine.shared.history.sequence = self._sequence  # so that commits have the same numbers again
        before = self._run
        self._run = CaseRun(self.engine, self.source, self.case, self.side, self.lets)
        if self._held:
            self.ladder.grown_from(before.ladder, len(self._held[-1].rungs))
        self._finished, self._spent, self._at, self.session = False, 0.0, 0, MAIN
        self._run.start()
        if self._held:
            self._go_on_from(self._held[-1])

    # -- what spares running again

    def _keep(self) -> None:
        """Keep the store as it is, where no session is in the middle of anything that would be lost."""
        engine, ladder = self.engine, self.ladder
        kept = {name: keep(session) for name, session in engine.sessions.items()}
        sessions = {name: k for name, k in kept.items() if k is not None}
        if len(sessions) < len(kept) or self._run.waiting or self._run.unseen:
            return
        past = self._at, ladder.rungs[:], ladder.slips[:], ladder.problems[:]
        clock, sequence = engine.clock, engine.shared.history.sequence
        self._held.append(Held(*past, sessions, dict(engine.shared.hosts), clock, sequence))
        engine.push_base()
        self._spent = 0.0

    def _go_on_from(self, held: Held) -> None:
        ladder = self.ladder
        ladder.take(held.rungs)
        ladder.slips[:], ladder.problems[:] = held.slips, held.problems
        self._at = self._run.made = held.moves
        self.engine.clock, self.engine.shared.history.sequence = held.clock, held.sequence
        self.session = held.rungs[-1].session if held.rungs else MAIN
        model = next((m.step for m in reversed(self.moves[: held.moves]) if isinstance(m.step, ModelSet)), None)
        if model is not None:
            self.engine.use_model(model.model)
        for name, kept in held.sessions.items():
            put_back(self.engine.session(name), kept)
        self.engine.shared.hosts.clear()
        self.engine.shared.hosts.update(held.hosts)

    # -- changing what there is

    def cut(self, rung: int) -> list[Move]:
        """Go back to a rung and take away what comes behind it; gives that, to be brought back by `bring`."""
        self.at(rung)
        gone = self.moves[self._at :]
        self._go_on_with(())
        return gone

    def _go_on_with(self, moves: Iterable[Move]) -> None:
        """Have these moves behind here."""
        fresh = list(moves)
        self._moves = [*self._moves[: self._at], *fresh]
        self.length = self.position + sum(move.is_rung for move in fresh)

    def back(self, rungs: int = 1) -> list[Move]:
        """Take back the last rungs, commits included."""
        return self.cut(max(0, self.position - rungs))

    def bring(self, moves: Iterable[Move]) -> Ladder:
        """Go on with moves, in the place of those that there are behind here."""
        self._go_on_with(moves)
        return self.at(self.length)

    def follow(self, other: Replay) -> None:
        """Make the moves of another one and stand where it stands: what both have made already stays as it is."""
        pairs = zip(self.moves, other.moves, strict=False)
        same = sum(1 for _ in takewhile(lambda pair: pair[0] is pair[1], pairs))
        if self._at > min(same, other._at):
            self.at(sum(move.is_rung for move in other.moves[: min(same, other._at)]))
        self.moves = other.moves
        self._forward_to(other._at)
        self.session = other.session

    def run(self, text: str, session: str = "") -> list[Rung]:
        """Run a text (statements, arranging and expecting lines) behind the present rung, in the place of what came
        there; gives the new rungs. ProblemError for a text with wrong lines: then nothing has changed."""
        moves = typed_moves(text, session or self.session, self.case.twin)
        before = self.position
        if before == self.length:
            self._forward_to(len(self.moves))
        self._go_on_with(moves)
        self._forward_to(len(self.moves))
        return self.ladder.rungs[before:]

    def change(self, rung: int, text: str) -> Ladder:
        """Put another text in the place of a rung, and run again what comes behind it. Stands at the end then."""
        old = self._number_of(rung)
        moves = typed_moves(text, self._session_of(self.moves[old]), self.case.twin, self.moves[old].is_setup)
        rest = self.moves[old + 1 :]
        self.at(rung - 1)
        self.moves = [*self.moves[:old], *moves, *rest]
        return self.at(self.length)

    def leave_out(self, rung: int) -> Ladder:
        """Take a rung away, and run again what comes behind it."""
        old = self._number_of(rung)
        rest = self.moves[old + 1 :]
        self.at(rung - 1)
        self.moves = [*self.moves[:old], *rest]
        return self.at(self.length)

    def _number_of(self, rung: int) -> int:
        """Which of the moves is a rung."""
        places = [number for number, move in enumerate(self.moves) if move.is_rung]
        if not 1 <= rung <= len(places):
            raise IndexError(f"there are rungs 1 to {len(places)}")
        return places[rung - 1]

    def _session_of(self, move: Move) -> str:
        assert isinstance(move.step, StatementStep | BrokenStep)
        return move.step.session

    # -- asking

    def ask(self, query: str, session: str = "") -> Outcome:
        """What a query gives here, asked for a session, without a trace. ProblemError for a text that is no query."""
        return Asker(self.engine, session or self.session, self._last_of(session)).query(query)

    def _last_of(self, session: str) -> Outcome | None:
        """What the last statement of a session did: its rows and OUT values may be named."""
        wanted = session or self.session
        return next((r.last for r in reversed(self.ladder.rungs) if r.session == wanted), None)

    def watch(self, query: str, session: str = "") -> Iterator[Outcome]:
        """What a query gives behind every rung, the first before all of them; ends where it began."""
        here = self.position
        for rung in range(self.length + 1):
            self.at(rung)
            yield self.ask(query, session)
        self.at(here)

    def step(self, rung: int) -> Step:
        """The step that makes a rung."""
        return self.moves[self._number_of(rung)].step

    def close(self) -> None:
        """Let the engine go, as it was at the fixture."""
        while self._held:
            self._held.pop()
            self.engine.pop_base()
        self.engine.reset()


def moves_in(case: Case, source: Source) -> list[Move]:
    """The moves of a case as its file has it, those of the setup first."""
    return [*(Move(step, source, True) for step in case.setup), *(Move(step, source) for step in case.steps)]


def typed_moves(text: str, session: str, twin: Twin | None, is_setup: bool = False) -> list[Move]:
    """The steps of a text that belongs to no file; ProblemError for arranging or expecting lines that are wrong."""
    script = read_typed(text, session, twin)
    wrong = script.wrong_lines(*(p for case in script.cases for p in case.problems))
    if wrong:
        raise ProblemError(*wrong)
    return [Move(step, script.source, is_setup) for step in script.flow]


def replay(project: Project, script: Script, case: Case, side: str = "", lets: Lets | None = None) -> Replay:
    """A replay of a case in a world of its own; ProblemError when the case or its fixture is wrong."""
    if script.problems or case.problems:
        raise ProblemError(*(script.problems or case.problems))
    engine = build(project, case.fixture or project.settings.default_fixture)
    return Replay(engine, case, script.source, side, lets)


def chosen_case(script: Script, word: str) -> Case:
    """The one case with a word in its title; ProblemError when there are none or several."""
    if script.problems:
        raise ProblemError(*script.problems)
    exact = [c for c in script.cases if c.title.lower() == word.lower()]
    cases = exact or [c for c in script.cases if word.lower() in c.title.lower()]
    if len(cases) != 1:
        known = "; ".join(c.title for c in cases or script.cases)
        where = f"with `{word}` in the title" if word else "in the file"
        message = f"{len(cases) or 'no'} case{'s' if len(cases) != 1 else ''} {where}: one is wanted"
        raise ProblemError(Problem("42704", message, hint=known))
    return cases[0]
