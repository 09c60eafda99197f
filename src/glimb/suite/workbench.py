"""A ladder that one works on: what is typed, taken back, brought again, changed, pinned, and kept as a case.

It holds one replay and gives `View`s of it: what a screen draws, and nothing that it could change by that.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.source import Span
from glimb.suite.expectations.pinning import pinned
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.replay import Move, Replay
from glimb.suite.script import MAIN, BrokenStep, Case, ClockSet, Let, ModelSet, StatementStep, Turn, Wait
from glimb.suite.telling import Part, parts


class View(NamedTuple):
    """The ladder as it is: `differs` are the numbers of rungs that do something else than before the last change, with
    what they did; `tries` how often something was taken back that can be brought again; `session` is the one in which
    one goes on typing, `typed` whether there is anything that no file has."""

    ladder: Ladder
    differs: dict[int, Rung]
    tries: int
    session: str
    typed: bool


class Workbench:
    """See above."""

    def __init__(self, replay: Replay) -> None:
        self.replay = replay
        self.differs: dict[int, Rung] = {}
        self.tries: list[list[Move]] = []
        """What was taken back, the last one last."""
        self.typed = False

    def view(self) -> View:
        """What there is to see now."""
        return View(snapshot(self.replay.ladder), dict(self.differs), len(self.tries), self.replay.session, self.typed)

    # -- working

    def type(self, text: str, session: str = "") -> View:
        """Run a text below the last rung. ProblemError for wrong arranging or expecting lines: nothing has changed."""
        self.replay.run(text, session)
        self.differs, self.typed = {}, True
        return self.view()

    def rewind(self, rung: int | None = None) -> View:
        """Take back what is below a rung; without one, the last rung. Commits too."""
        last = self.replay.position
        gone = self.replay.cut(max(0, last - 1) if rung is None else min(rung, last))
        if any(move.is_rung for move in gone):
            self.tries.append(gone)
        self.differs, self.typed = {}, True
        return self.view()

    def bring(self) -> View:
        """Run again what was taken back last."""
        if self.tries:
            self.replay.bring(self.tries.pop())
        self.differs = {}
        return self.view()

    def change(self, rung: int, text: str) -> View:
        """Put another text in the place of a rung and run what is below it again: what does something else now is
        marked. ProblemError for wrong lines: nothing has changed."""
        self._change(rung, text if "-->" in text else "\n".join([text, *self._expected(rung)]))
        return self.view()

    def pin(self, rung: int, lines: list[str]) -> View:
        """Expect these lines of a rung too."""
        said = self._expected(rung)
        text = [f"{self._statement(rung)};", *said, *(f"--> {line}" for line in lines if f"--> {line}" not in said)]
        self._change(rung, "\n".join(text))
        return self.view()

    def _statement(self, rung: int) -> str:
        return self.replay.ladder.rungs[rung - 1].text.rstrip().removesuffix(";")

    def _expected(self, rung: int) -> list[str]:
        """The lines that say what is expected of a rung."""
        rungs = [move for move in self.replay.moves if move.is_rung]
        return list(written(rungs[rung - 1]))[1:]

    def _change(self, rung: int, text: str) -> None:
        before = self.replay.ladder.rungs[:]
        self.replay.change(rung, text)
        after = self.replay.ladder.rungs
        moved = len(after) - len(before)
        pairs = ((old, after[old.number + moved - 1]) for old in before[rung - 1 :] if old.number + moved > 0)
        self.differs = {new.number: old for old, new in pairs if _differs(old, new)}
        self.typed = True

    def leave_out(self, rung: int) -> View:
        """Take one rung away, and run what is below it again."""
        before = {r.number: r for r in self.replay.ladder.rungs}
        self.replay.leave_out(rung)
        after = self.replay.ladder.rungs
        self.differs = {r.number: before[r.number + 1] for r in after[rung - 1 :] if _differs(before[r.number + 1], r)}
        self.typed = True
        return self.view()

    def pins(self, rung: int) -> list[str]:
        """What could be said of a rung and is not yet, the telling lines; rows stand below theirs, indented."""
        found, said = self.replay.ladder.rungs[rung - 1], self._expected(rung)
        return [line for line in pinned(found.outcome) if f"--> {line}" not in said]

    # -- keeping

    def text(self, title: str) -> str:
        """The ladder as a case of a script: its statements with what was expected of them."""
        lines = [f"--# case {title}"]
        case = self.replay.case
        lines += [f"--# fixture {case.fixture}"] if case.fixture else []
        lines += [f"--# model {case.model}"] if case.model else []
        lines += [f"--# clock {case.clock:%Y-%m-%d %H:%M:%S}"] if case.clock is not None else []
        lines += [f"--# tags {' '.join(dict.fromkeys(case.tags))}"] if case.tags else []
        lines += [f"--# twin {case.twin.setting} = {' | '.join(case.twin.values)}"] if case.twin is not None else []
        session = MAIN
        for move in self.replay.moves:
            if move.is_setup:
                continue
            named = getattr(move.step, "session", session)
            if named != session and not isinstance(move.step, Turn):
                lines.append(f"--# session {named}")
            session = named
            lines += written(move)
        return "\n".join(lines) + "\n"


def kept_in(text: str, case: str, title: str) -> str:
    """The text of a script with a case in it: in the place of the one that has its title, or behind all others."""
    from glimb.suite.script import read_script

    found = next((c for c in read_script("kept", text).cases if c.title == title), None)
    if found is None:
        gap = "" if not text or text.endswith("\n\n") else "\n" if text.endswith("\n") else "\n\n"
        return f"{text}{gap}{case}"
    behind = text[found.end :]
    return f"{text[: found.span.start]}{case}{chr(10) * bool(behind.strip())}{behind}"


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


def snapshot(ladder: Ladder) -> Ladder:
    """A ladder of the same rungs, to which none is added."""
    copy = Ladder(ladder.case, ladder.source, ladder.sessions[:])
    copy.rungs, copy.first_commit = ladder.rungs[:], ladder.first_commit
    copy.slips, copy.problems, copy.warnings = ladder.slips[:], ladder.problems[:], ladder.warnings[:]
    return copy


def written(move: Move) -> Iterator[str]:
    """The lines of a script that make a move."""
    step, source = move.step, move.source
    match step:
        case Turn():
            yield source[step.span].strip()
        case Let():
            yield f"--# let {step.name} = {step.text}"
        case Wait():
            yield f"--# wait {step.seconds * 1000:g}ms"
        case ClockSet():
            yield f"--# clock {step.moment:%Y-%m-%d %H:%M:%S}"
        case ModelSet():
            yield f"--# model {step.model}"
        case StatementStep() | BrokenStep():
            text = source[step.span].rstrip()
            yield text if text.endswith(";") else f"{text};"
    if isinstance(step, Turn | StatementStep | BrokenStep):
        lines = source.text.split("\n")
        for expectation in step.expectations:
            first, last = source.line(expectation.span.start), source.line(expectation.span.end - 1)
            yield from (line.strip() for line in lines[first - 1 : last])
            below = lines[last : last + len(expectation.rows) + bool(expectation.header)]
            yield from (line.strip() for line in below)


def empty_case(fixture: str = "", model: str = "") -> Case:
    """The case of a ladder on which everything will be typed."""
    case = Case("scratch", Span(0, 0))
    case.fixture, case.model = fixture, model
    return case
