"""A ladder that one works on: what is typed, taken back, brought again, changed, pinned, and kept as a case.

It holds one replay and gives `View`s of it: what a screen draws, and nothing that it could change by that.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from copy import copy as shallow
from itertools import takewhile
from typing import NamedTuple, TypeVar

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.suite.expectations.kind import Expectation
from glimb.suite.kept import case_text, expected_lines, setup_text, written
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.pins import blocks_of, by_side, giving_way, of_side, offered
from glimb.suite.replay import Move, Replay
from glimb.suite.script import MAIN
from glimb.suite.sides import Sides
from glimb.suite.telling import Changes, Condition, Locks, Part, Passed, parts
from glimb.suite.watches import Watch, Watches

T = TypeVar("T")


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
    """The ladders as they are, one or of a case that runs twice both, and the `side` on which one works: `differs` are
    the numbers of its rungs that do something else than before the last change, with what they did; `taken` are rungs
    that were taken back and can be brought again, `tries` the shelf of what was taken back before that; `session` is
    the one in which one goes on typing, `typed` whether there is anything that no file has, `has_own_setup` whether
    the setup is among that."""

    ladders: list[Ladder]
    side: int
    differs: dict[int, Rung]
    taken: list[Rung]
    tries: list[Try]
    session: str
    typed: bool
    watches: list[Watch]
    has_own_setup: bool

    @property
    def ladder(self) -> Ladder:
        """The one on which one works."""
        return self.ladders[self.side]


class Workbench:
    """See above. A case that runs twice has two replays, with the same moves: what is done is done on one side, and the
    other one follows."""

    def __init__(self, *sides: Replay) -> None:
        self.sides = Sides(*sides)
        self._setup = self._setup_now()
        """What the file has."""
        self.differs: list[dict[int, Rung]] = [{} for _ in sides]
        self.taken: list[Try] = []
        """What was taken back since something was typed, the last one last."""
        self.tries: list[Try] = []
        """The shelf: what was taken back before that."""
        self.typed = False
        self.watches = Watches()

    @property
    def replay(self) -> Replay:
        """That of the side on which one works."""
        return self.sides.replay

    def turn(self, side: int) -> View:
        """Work on another side of a case that runs twice."""
        if self.sides.turn(side):
            self.watches.forget()
        return self.view()

    def _nothing_differs(self) -> None:
        self.differs = [{} for _ in self.sides.all]

    def view(self) -> View:
        """What there is to see now."""
        self.sides.follow()
        position = self.replay.position
        taken = self.taken[0].ladder.rungs[position:] if self.taken else []
        return View(
            [snapshot(replay.ladder) for replay in self.sides.all],
            self.sides.number,
            dict(self.differs[self.sides.number]),
            taken,
            self.tries[:],
            self.replay.session,
            self.typed,
            self.watches.all(),
            self.has_own_setup,
        )

    # -- working

    def type(self, text: str, session: str = "") -> View:
        """Run a text below the last rung. ProblemError for wrong arranging or expecting lines: nothing has changed."""
        self.replay.run(text, session)
        self._shelve()
        return self._worked()

    def _worked(self) -> View:
        """Something has been done that no file has."""
        self._nothing_differs()
        self.typed = True
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
        self._nothing_differs()
        self.watches.changed(rung)

    def bring(self) -> View:
        """Run again what was taken back last, of what is still in sight."""
        if self.taken:
            self.replay.bring(self.taken.pop().moves)
        self._nothing_differs()
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
        return self._worked()

    def start_over(self, moves: list[Move]) -> View:
        """Have other moves from the fixture on; what stands here goes to the shelf. Nothing counts as typed then."""
        self._take_back(0)
        self._shelve()
        self.replay.bring(moves)
        self._nothing_differs()
        self._setup = self._setup_now()
        self.typed = False
        return self.view()

    def resume(self, setup: list[Move] | None, moves: list[Move]) -> None:
        """Go on with a ladder that was kept: its moves, behind the setup of the file unless it has one of its own."""
        self.replay.moves = [*(self._setup if setup is None else setup), *moves]
        self.typed = True

    def _setup_now(self) -> list[Move]:
        return list(takewhile(lambda move: move.is_setup, self.replay.moves))

    @property
    def has_own_setup(self) -> bool:
        """Whether the setup is another one than that of the file."""
        now = self._setup_now()
        return len(now) != len(self._setup) or any(a is not b for a, b in zip(now, self._setup, strict=True))

    def begin(self) -> None:
        """Run what there is, unless that has been done."""
        if self.replay.position < self.replay.length:
            self.replay.at(self.replay.length)

    def again(self, rungs: list[int]) -> View:
        """Run some rungs once more, below the last one."""
        moves = self._rungs()
        self.replay.run("\n".join(line for rung in rungs for line in self._turned(moves[rung - 1])))
        self._shelve()
        return self._worked()

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
        return self._worked()

    def _rungs(self) -> list[Move]:
        return [move for move in self.replay.moves if move.is_rung]

    def change(self, rung: int, text: str) -> View:
        """Put another text in the place of a rung and run what is below it again: what does something else now is
        marked. ProblemError for wrong lines: nothing has changed."""
        self._change(rung, text if "-->" in text else "\n".join([text, *self._expected(rung)]))
        return self.view()

    def pin(self, rung: int, lines: list[str]) -> View:
        """Expect these lines of a rung; what slipped and says the same thing of it gives way."""
        self.sides.follow()
        blocks = blocks_of(lines)
        gone = [e for r in self.sides.all for e in giving_way(r.ladder.rungs[rung - 1], of_side(blocks, r.side))]
        said = self._expected(rung, gone)
        fresh = [line for block in blocks if not _stands(block, said) for line in block]
        text = [f"{self._statement(rung)};", *said, *(f"--> {line}" for line in fresh)]
        self._change(rung, "\n".join(text))
        return self.view()

    def _statement(self, rung: int) -> str:
        return self.replay.ladder.rungs[rung - 1].text.rstrip().removesuffix(";")

    def _expected(self, rung: int, without: Collection[Expectation] = ()) -> list[str]:
        """The lines that say what is expected of a rung."""
        return list(expected_lines(self._rungs()[rung - 1], without))

    def _change(self, rung: int, text: str) -> None:
        self._run_again(rung, lambda: self.replay.change(rung, text), rung)

    def leave_out(self, rung: int) -> View:
        """Take one rung away, and run what is below it again."""
        self._run_again(rung, lambda: self.replay.leave_out(rung), rung + 1)
        return self.view()

    def _run_again(self, rung: int, act: Callable[[], object], first: int) -> None:
        """Do something at a rung, and mark of those that were there from the `first` on what does something else now,
        on each side."""
        self.sides.follow()
        before = [replay.ladder.rungs[:] for replay in self.sides.all]
        act()
        self.sides.follow()
        self._shelve()
        self.watches.changed(rung - 1)
        self.differs = [
            _differing(old[first - 1 :], replay.ladder.rungs, len(replay.ladder.rungs) - len(old))
            for old, replay in zip(before, self.sides.all, strict=True)
        ]
        self.typed = True

    def pins(self, rung: int) -> list[str]:
        """What could be said of a rung and is not yet, the telling lines; rows stand below theirs, indented."""
        self.sides.follow()
        sides, said = {r.side: offered(r.ladder.rungs[rung - 1]) for r in self.sides.all}, self._expected(rung)
        blocks = by_side(sides)
        if self._rungs()[rung - 1].is_setup:  # that is of other cases too, which have no sides
            blocks = [block for block in blocks if not block[0].startswith("under ")]
        return [line for block in blocks if not _stands(block, said) for line in block]

    # -- watching

    def watch(self, query: str) -> View:
        """Keep a query, or no longer. ProblemError for a text that is no query."""
        self.watches.watch(query)
        return self.view()

    @property
    def is_behind(self) -> bool:
        """Whether there are rungs behind which the watches have not been asked."""
        return self.watches.is_behind(self.replay.position)

    def look(self) -> View:
        """Ask the watches behind the rungs behind which they have not been asked."""
        self.watches.look(self.replay)
        return self.view()

    # -- keeping

    def text(self, title: str) -> str:
        """The ladder as a case of a script: its statements with what was expected of them."""
        return case_text(self.replay.case, title, self.replay.moves)

    def setup_text(self) -> str:
        """The setup as the lines of a script; empty where it is that of the file."""
        return setup_text(self._setup_now()) if self.has_own_setup else ""


def _stands(block: list[str], said: list[str]) -> bool:
    """Whether a line stands among others with all rows that are below it."""
    lines = [f"--> {line}" for line in block]
    return any(said[at : at + len(lines)] == lines for at in range(len(said)))


def _differing(before: list[Rung], after: list[Rung], moved: int) -> dict[int, Rung]:
    """Of rungs that stand so many places further now: those that do something else, with what they did."""
    pairs = ((old, after[old.number + moved - 1]) for old in before if old.number + moved > 0)
    return {new.number: old for old, new in pairs if _differs(old, new)}


def _differs(old: Rung, new: Rung) -> bool:
    """Whether two rungs have done something else, their statements aside."""
    return told(old.outcome) != told(new.outcome) or told(old.last) != told(new.last)


def told(outcome: Outcome) -> list[object]:
    """All that there is to say of an outcome, to compare."""
    return [_plain(part) for part in parts(outcome)]


def _plain(part: Part) -> object:
    """A part without what is of its run and text only: objects that are made again, and places in a text that has been
    typed meanwhile."""
    match part:
        case Changes(changes, _):
            return [(change.table.name, change.key, change.before, change.after) for change in changes]
        case Condition(failure):
            messages = tuple(problem.message for problem in failure.problems) or failure.message
            origins = [(o.routine, o.waymark) for o in (failure.origin, *failure.again) if o is not None]
            return failure.sqlstate, failure.name, messages, failure.circle, origins
        case Locks():
            return part.held
        case Passed(passes):
            return [(p.waymark.routine, p.waymark.name, p.number, p.values) for p in passes.kept]
        case _:
            return part


def snapshot(ladder: Ladder) -> Ladder:
    """A ladder of the same rungs, to which none is added."""
    copy = Ladder(ladder.case, ladder.source, ladder.sessions[:])
    copy.rungs, copy.holdings = ladder.rungs[:], ladder.holdings
    copy.met_count, copy.slipped = ladder.met_count, ladder.slipped
    for rung in ladder.waiting.values():  # is told its end later, by who goes on with the ladder
        copy.rungs[rung.number - 1] = shallow(rung)
    copy.waits = [copy.rungs[rung.number - 1] for rung in ladder.waits]
    copy.first_commit, copy.setting = ladder.first_commit, ladder.setting
    copy.slips, copy.problems, copy.warnings = ladder.slips[:], ladder.problems[:], ladder.warnings[:]
    return copy
