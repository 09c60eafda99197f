"""A ladder that one works on: what is typed, taken back, brought again, changed, pinned, and kept as a case.

It holds one replay and gives `View`s of it: what a screen draws, and nothing that it could change by that.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from copy import copy as shallow
from typing import NamedTuple, TypeVar

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conversion import literal_of
from glimb.suite.asking import parsed_query
from glimb.suite.climber import Climber
from glimb.suite.expectations.kind import Expectation
from glimb.suite.expectations.pinning import pinned
from glimb.suite.kept import Known, case_text, expected_lines, written
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.pins import blocks_of
from glimb.suite.replay import Move, Replay
from glimb.suite.script import MAIN
from glimb.suite.telling import Part, parts

T = TypeVar("T")


class Watch(NamedTuple):
    """A query whose value is asked behind every rung: texts, one for each rung, behind the one before all of them."""

    query: str
    values: list[str]


class Try(NamedTuple):
    """What was taken back: its moves, the ladder as it was with it, and behind which rung it began."""

    moves: list[Move]
    ladder: Ladder
    behind: int

    @property
    def rungs(self) -> list[Rung]:
        """The rungs that were taken back."""
        return self.ladder.rungs[self.behind :]


class View(NamedTuple):
    """The ladder as it is: `differs` are the numbers of rungs that do something else than before the last change, with
    what they did; `taken` are rungs that were taken back and can be brought again, `tries` the shelf of what was taken
    back before that; `session` is the one in which one goes on typing, `typed` whether there is anything that no file
    has."""

    ladder: Ladder
    differs: dict[int, Rung]
    taken: list[Rung]
    tries: list[Try]
    session: str
    typed: bool
    watches: list[Watch]


class Workbench:
    """See above."""

    def __init__(self, replay: Replay) -> None:
        self.replay = replay
        self.climber = Climber(replay)
        self.differs: dict[int, Rung] = {}
        self.taken: list[Try] = []
        """What was taken back since something was typed, the last one last."""
        self.tries: list[Try] = []
        """The shelf: what was taken back before that."""
        self.typed = False
        self.watches: dict[str, list[str]] = {}
        self._watched = 0
        """Up to which rung the watches have been asked."""
        self._written: Known = {}

    def view(self) -> View:
        """What there is to see now."""
        position = self.replay.position
        taken = self.taken[0].ladder.rungs[position:] if self.taken else []
        watches = [Watch(query, values[:]) for query, values in self.watches.items()]
        ladder = snapshot(self.replay.ladder)
        return View(ladder, dict(self.differs), taken, self.tries[:], self.replay.session, self.typed, watches)

    # -- working

    def type(self, text: str, session: str = "") -> View:
        """Run a text below the last rung. ProblemError for wrong arranging or expecting lines: nothing has changed."""
        self.replay.run(text, session)
        self._shelve()
        self.differs, self.typed = {}, True
        return self.view()

    def look_at(self, rung: int, question: Callable[[Engine], T]) -> T:
        """Ask about the state behind a rung, and stand again where one stood."""
        here = self.replay.position
        self.replay.at(max(0, min(rung, self.replay.length)))
        try:
            return question(self.replay.engine)
        finally:
            self.replay.at(here)

    def rewind(self, rung: int | None = None) -> View:
        """Take back what is below a rung; without one, the last rung. Commits too."""
        last = self.replay.position
        self._take_back(max(0, last - 1) if rung is None else min(rung, last))
        return self.view()

    def _take_back(self, rung: int) -> None:
        before = snapshot(self.replay.ladder)
        gone = self.replay.cut(rung)
        if any(move.is_rung for move in gone):
            self.taken.append(Try(gone, before, rung))
            self.typed = True
        self.differs = {}
        self._watched = min(self._watched, rung)

    def bring(self) -> View:
        """Run again what was taken back last, of what is still in sight."""
        if self.taken:
            self.replay.bring(self.taken.pop().moves)
        self.differs = {}
        return self.view()

    def _shelve(self) -> None:
        """What was taken back goes out of sight, to the shelf."""
        if self.taken:
            moves = [move for piece in reversed(self.taken) for move in piece.moves]
            self.tries.append(Try(moves, self.taken[0].ladder, self.taken[-1].behind))
            self.taken = []

    def take(self, number: int) -> View:
        """Take a try of the shelf again, from where it began; what stands there now goes to the shelf."""
        self._shelve()
        chosen = self.tries.pop(number)
        if chosen.behind < self.replay.position:
            self._take_back(chosen.behind)
            self._shelve()
        self.replay.bring(chosen.moves)
        self.differs, self.typed = {}, True
        return self.view()

    def start_over(self, moves: list[Move]) -> View:
        """Have other moves from the fixture on; what stands here goes to the shelf. Nothing counts as typed then."""
        self._take_back(0)
        self._shelve()
        self.replay.bring(moves)
        self.differs, self.typed = {}, False
        return self.view()

    def resume(self, moves: list[Move]) -> None:
        """Go on with a ladder that was kept: its moves, behind the setup."""
        setup = [move for move in self.replay.moves if move.is_setup]
        self.replay.moves = [*setup, *moves]
        self.typed = True

    def begin(self) -> None:
        """Run what there is, unless that has been done."""
        if self.replay.position < self.replay.length:
            self.replay.at(self.replay.length)

    def again(self, rungs: list[int]) -> View:
        """Run some rungs once more, below the last one."""
        moves = self._rungs()
        self.replay.run("\n".join(line for rung in rungs for line in self._turned(moves[rung - 1])))
        self._shelve()
        self.differs, self.typed = {}, True
        return self.view()

    def _turned(self, move: Move) -> Iterator[str]:
        """A move as text, in its session."""
        yield f"--# session {getattr(move.step, 'session', MAIN)}"
        yield next(written(move))

    def only(self, rungs: list[int]) -> View:
        """Run some rungs alone, from the fixture (the setup belongs to it); what stood there goes to the shelf."""
        moves, setup = self._rungs(), sum(rung.is_setup for rung in self.replay.ladder.rungs)
        wanted = [moves[rung - 1] for rung in rungs if rung > setup]
        self._take_back(setup)
        self._shelve()
        self.replay.bring(wanted)
        self.differs, self.typed = {}, True
        return self.view()

    def _rungs(self) -> list[Move]:
        return [move for move in self.replay.moves if move.is_rung]

    def change(self, rung: int, text: str) -> View:
        """Put another text in the place of a rung and run what is below it again: what does something else now is
        marked. ProblemError for wrong lines: nothing has changed."""
        self._change(rung, text if "-->" in text else "\n".join([text, *self._expected(rung)]))
        return self.view()

    def pin(self, rung: int, lines: list[str]) -> View:
        """Expect these lines of a rung; what slipped and says the same thing of it (begins with the same word) gives
        way."""
        words = {line.split()[0] for line in lines if line.strip() and not line.startswith(" ")}
        slipped = [v.expectation for v in self.replay.ladder.rungs[rung - 1].slips if v.expectation is not None]
        said = self._expected(rung, [e for e in slipped if e.text.split()[0] in words])
        fresh = [line for block in blocks_of(lines) if not _stands(block, said) for line in block]
        text = [f"{self._statement(rung)};", *said, *(f"--> {line}" for line in fresh)]
        self._change(rung, "\n".join(text))
        return self.view()

    def _statement(self, rung: int) -> str:
        return self.replay.ladder.rungs[rung - 1].text.rstrip().removesuffix(";")

    def _expected(self, rung: int, without: Collection[Expectation] = ()) -> list[str]:
        """The lines that say what is expected of a rung."""
        return list(expected_lines(self._rungs()[rung - 1], without))

    def _change(self, rung: int, text: str) -> None:
        before = self.replay.ladder.rungs[:]
        self.replay.change(rung, text)
        self._shelve()
        self._watched = min(self._watched, rung - 1)
        after = self.replay.ladder.rungs
        moved = len(after) - len(before)
        pairs = ((old, after[old.number + moved - 1]) for old in before[rung - 1 :] if old.number + moved > 0)
        self.differs = {new.number: old for old, new in pairs if _differs(old, new)}
        self.typed = True

    def leave_out(self, rung: int) -> View:
        """Take one rung away, and run what is below it again."""
        before = {r.number: r for r in self.replay.ladder.rungs}
        self.replay.leave_out(rung)
        self._shelve()
        self._watched = min(self._watched, rung - 1)
        after = self.replay.ladder.rungs
        self.differs = {r.number: before[r.number + 1] for r in after[rung - 1 :] if _differs(before[r.number + 1], r)}
        self.typed = True
        return self.view()

    def pins(self, rung: int) -> list[str]:
        """What could be said of a rung and is not yet, the telling lines; rows stand below theirs, indented."""
        found, said = self.replay.ladder.rungs[rung - 1], self._expected(rung)
        return [line for block in blocks_of(pinned(found.outcome)) if not _stands(block, said) for line in block]

    # -- watching

    def watch(self, query: str) -> View:
        """Keep a query, or no longer. ProblemError for a text that is no query."""
        if query in self.watches:
            del self.watches[query]
        else:
            parsed_query(query)
            self.watches[query] = []
            self._watched = 0
        return self.view()

    @property
    def is_behind(self) -> bool:
        """Whether there are rungs behind which the watches have not been asked."""
        return any(len(values) != self.replay.position + 1 for values in self.watches.values())

    def look(self) -> View:
        """Ask the watches behind the rungs behind which they have not been asked."""
        end = self.replay.length
        for values in self.watches.values():
            del values[self._watched + 1 :]
        first = min((len(values) for values in self.watches.values()), default=end + 1)
        for rung in range(first, end + 1):
            self.replay.at(rung)
            for query, values in self.watches.items():
                if len(values) == rung:
                    values.append(_value(self.replay.ask(query)))
        self.replay.at(end)
        self._watched = end
        return self.view()

    # -- keeping

    def text(self, title: str) -> str:
        """The ladder as a case of a script: its statements with what was expected of them."""
        return case_text(self.replay.case, title, self.replay.moves, self._written)


def _stands(block: list[str], said: list[str]) -> bool:
    """Whether a line stands among others with all rows that are below it."""
    lines = [f"--> {line}" for line in block]
    return any(said[at : at + len(lines)] == lines for at in range(len(said)))


def _differs(old: Rung, new: Rung) -> bool:
    """Whether two rungs have done something else, their statements aside."""
    return told(old.outcome) != told(new.outcome) or told(old.last) != told(new.last)


def told(outcome: Outcome) -> list[object]:
    """All that there is to say of an outcome, to compare."""
    return [_plain(part) for part in parts(outcome)]


def _plain(part: Part) -> object:
    held = getattr(part, "held", None)
    passes = getattr(part, "passes", None)
    if held is not None:
        return held
    return passes.kept if passes is not None else part


def _value(outcome: Outcome) -> str:
    """What a watch shows: the value of its first row and column, and how many rows more there are."""
    if outcome.failure is not None:
        return outcome.failure.sqlstate
    rows = outcome.rows or []
    if not rows or outcome.columns is None:
        return "no row"
    value = literal_of(rows[0][0], outcome.columns[0].type)
    return value if len(rows) == 1 else f"{value} +{len(rows) - 1}"


def snapshot(ladder: Ladder) -> Ladder:
    """A ladder of the same rungs, to which none is added."""
    copy = Ladder(ladder.case, ladder.source, ladder.sessions[:])
    # A statement that waits is told its end later, by who goes on with the ladder.
    copy.rungs = [shallow(r) if r.outcome.waiting is not None and r.final is None else r for r in ladder.rungs]
    copy.first_commit, copy.setting = ladder.first_commit, ladder.setting
    copy.slips, copy.problems, copy.warnings = ladder.slips[:], ladder.problems[:], ladder.warnings[:]
    return copy
