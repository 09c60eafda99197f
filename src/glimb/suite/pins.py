"""Pinning a script: what its rungs did, written below them as expectations.

In: a script, and which rungs are meant. Out: the script's new text; nothing is written here. What is pinned of a rung
is what a person would say of it: what it raised; otherwise what it gave, told and changed; whom it waited for and woke;
how its transaction ended. What is true of every rung (no locks, an open transaction) is said only where it takes the
place of an expectation that slipped.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang import tree
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.suite.expectations.kind import Expectation, Verdict
from glimb.suite.expectations.kinds import KINDS
from glimb.suite.expectations.pinning import pinned
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.letting import Lets
from glimb.suite.project import Project
from glimb.suite.replay import Replay
from glimb.suite.script import BrokenStep, Case, Script, StatementStep, Turn
from glimb.suite.world import build

Holder = StatementStep | BrokenStep | Turn
"""What expectations stand below."""


class Wanted(NamedTuple):
    """Which rungs: those of which nothing is expected, and those of which something slipped."""

    bare: bool
    slips: bool


class Edit(NamedTuple):
    """Lines of a text, from 0, in whose place others come; nothing is taken away where `first` is `end`."""

    first: int
    end: int
    lines: list[str]


class Pinned(NamedTuple):
    """The new text, how many lines came and went, and what could not be done."""

    text: str
    added: int
    removed: int
    problems: list[Problem]


Worlds = dict[tuple[object, str], Engine]
"""Engines that have been built, by the root of their project and fixture."""


def pin_script(
    project: Project, script: Script, cases: list[Case], wanted: Wanted, lets: Lets, worlds: Worlds
) -> Pinned:
    """Pin cases of a script, each run from its fixture."""
    edits: list[Edit] = []
    problems: list[Problem] = []
    for case in cases:
        if case.skip:
            continue
        own = {id(p) for s in case.steps if isinstance(s, BrokenStep) for p in s.problems}
        wrong = [p for p in case.problems if id(p) not in own]
        if wrong:
            problems += wrong
            continue
        edits += _CasePins(script.source, case, _ladders(worlds, project, script, case, lets), wanted).edits(problems)
    text, added, removed = _edited(script.source.text, edits)
    return Pinned(text, added, removed, problems)


def _ladders(worlds: Worlds, project: Project, script: Script, case: Case, lets: Lets) -> dict[str, Ladder]:
    """The ladder of a case; of one that runs twice, both, by setting. `worlds` are those that have been built."""
    fixture = case.fixture or project.settings.default_fixture
    key = project.root, fixture
    if key not in worlds:
        worlds[key] = build(project, fixture)
    engine = worlds[key]
    sides = case.twin.values if case.twin is not None else ("",)
    found = {}
    for side in sides:
        replay = Replay(engine, case, script.source, side, lets)
        found[side] = replay.finish()
        replay.close()
    return found


class _CasePins:
    """The edits of one case."""

    def __init__(self, source: Source, case: Case, ladders: dict[str, Ladder], wanted: Wanted) -> None:
        self.source = source
        self.case = case
        self.ladders = ladders
        self.wanted = wanted
        self.lines = source.text.split("\n")

    def edits(self, problems: list[Problem]) -> Iterator[Edit]:
        """What is to be done to the text."""
        for at, holder in enumerate(self.case.steps):
            if not isinstance(holder, StatementStep | BrokenStep | Turn):
                continue
            told = {side: self._outcome(ladder, at) for side, ladder in self.ladders.items()}
            if isinstance(holder, Turn) and all(outcome is None for outcome in told.values()):
                continue
            yield from self._edit(holder, told, problems)
        yield from self._late()

    # -- which outcome belongs to which holder

    def _outcome(self, ladder: Ladder, at: int) -> tuple[Outcome, list[Verdict]] | None:
        """What expectations below a step are about: the first outcome of its statement, or at a session's turn the end
        of its statement that has come out of a wait; with what became of them."""
        step = self.case.steps[at]
        assert isinstance(step, StatementStep | BrokenStep | Turn)
        mine = {id(e) for e in step.expectations}
        if isinstance(step, Turn):
            rung = self._due(ladder, at)
            if rung is None:
                return None
            outcome = rung.last
        else:
            rung = self._rung(ladder, step)
            outcome = rung.outcome
        verdicts = [v for v in rung.verdicts if v.expectation is not None and id(v.expectation) in mine]
        alone = isinstance(step, Turn) == (rung.final is not None)
        return outcome, verdicts + [v for v in rung.verdicts if v.expectation is None and alone]

    def _rung(self, ladder: Ladder, step: StatementStep | BrokenStep) -> Rung:
        line = self.source.line(step.span.start)
        return next(r for r in ladder.rungs if r.line == line and r.text == self.source[step.span] and not r.is_setup)

    def _due(self, ladder: Ladder, at: int) -> Rung | None:
        """The rung whose wait has ended before a turn of its session, and of which no earlier turn has told."""
        turn = self.case.steps[at]
        assert isinstance(turn, Turn)
        waited = [r for r in ladder.rungs if r.session == turn.session and r.final is not None]
        return next((rung for rung in waited if self._turn_of(rung) == at), None)

    def _turn_of(self, rung: Rung) -> int | None:
        """The turn at which the end of a wait is told: the session's first one behind it, unless the session has gone
        on already."""
        assert rung.ended_step is not None
        for at in range(max(0, rung.ended_step - len(self.case.setup) + 1), len(self.case.steps)):
            step = self.case.steps[at]
            if isinstance(step, StatementStep | BrokenStep | Turn) and step.session == rung.session:
                return at if isinstance(step, Turn) else None
        return None

    # -- what becomes of the lines

    def _edit(
        self, holder: Holder, told: dict[str, tuple[Outcome, list[Verdict]] | None], problems: list[Problem]
    ) -> Iterator[Edit]:
        bare = not holder.expectations
        slipped = [v for found in told.values() if found is not None for v in found[1] if not v.met]
        if not ((bare and self.wanted.bare) or (slipped and self.wanted.slips)):
            return
        if bare:
            blocks = by_side({side: _default(found) for side, found in told.items()})
            blocks = _telling(holder, blocks)
            if blocks and self._shares_line(holder):
                hint = "expectations are about the last statement of a line"
                problems.append(Problem("01000", "not pinned: its line goes on", holder.span, hint, self.source))
                return
        else:
            blocks = by_side({side: _again(found) for side, found in told.items()})
        gone: list[Expectation] = []
        for verdict in slipped:
            e = verdict.expectation
            if e is None:
                continue
            if e.kind in STAYS:
                hint = "what would be right in its place is for you to say"
                problems.append(Problem("01000", f"`{e.text}` slipped and stays", e.span, hint, self.source))
            else:
                gone.append(e)
        kept = [e for e in holder.expectations if not any(e is g for g in gone)]
        yield from (Edit(*self._stretch(e), []) for e in {id(g): g for g in gone}.values())
        known = {e.text for e in kept}
        lines = [line for block in blocks if block[0] not in known for line in _marked(block)]
        if lines:
            at = max([self._line_behind(holder), *(self._stretch(e)[1] for e in holder.expectations)])
            yield Edit(at, at, lines)

    def _line_behind(self, holder: Holder) -> int:
        """The number of the line behind a statement and its semicolon, or behind a session's line."""
        text, end = self.source.text, holder.span.end
        if not isinstance(holder, Turn):
            rest = text[end:]
            blanks = len(rest) - len(rest.lstrip())
            if rest[blanks : blanks + 1] == ";":
                end += blanks
        return self.source.line(max(end - 1, 0))

    def _shares_line(self, holder: Holder) -> bool:
        """Whether another statement begins on the line on which this one ends."""
        line = self._line_behind(holder)
        others = (s for s in self.case.steps if isinstance(s, StatementStep | BrokenStep))
        return any(o.span.start > holder.span.start and self.source.line(o.span.start) == line for o in others)

    def _stretch(self, e: Expectation) -> tuple[int, int]:
        """The lines of an expectation, with the rows below it."""
        first = self.source.line(e.span.start) - 1
        end = self.source.line(e.span.end - 1)
        while end < len(self.lines) and _is_row(self.lines[end]):
            end += 1
        return first, end

    def _late(self) -> Iterator[Edit]:
        """Statements that came out of their waits, of which no turn of their session can tell: one is added."""
        found: dict[str, dict[str, list[list[str]]]] = {}
        for side, ladder in self.ladders.items():
            for rung in ladder.rungs:
                if rung.final is not None and self._turn_of(rung) is None and self._is_last(rung):
                    found.setdefault(rung.session, {s: [] for s in self.ladders})[side] = _default((rung.last, []))
        end = self.source.line(max(self.case.end - 1, 0))
        while end and not self.lines[end - 1].strip():
            end -= 1
        end = max(end, 1)
        for session, sides in found.items():
            lines = [line for block in by_side(sides) for line in _marked(block)]
            if lines and self.wanted.bare:
                yield Edit(end, end, [f"--# session {session}", *lines])

    def _is_last(self, rung: Rung) -> bool:
        """Whether the session does nothing behind this rung."""
        ladder = next(iter(self.ladders.values()))
        return not any(r.session == rung.session and r.number > rung.number for r in ladder.rungs)


STAYS = ("holds", "never at", "no other change", "no other locks", "no other notes")
"""Kinds whose lines say what a person wants, so that what was seen cannot take their place."""


def _default(found: tuple[Outcome, list[Verdict]] | None) -> list[list[str]]:
    """What is said of an outcome where nothing has been said: blocks of a line with the rows below it."""
    return blocks_of(pinned(found[0])) if found is not None else []


def _telling(holder: Holder, blocks: list[list[str]]) -> list[list[str]]:
    """What is not evident from the statement: that COMMIT commits, or that an INSERT inserts the rows that stand in it.
    (Where they do not, something else is said.)"""
    statement = holder.statement if isinstance(holder, StatementStep) else None
    if isinstance(statement, tree.Commit | tree.Rollback):
        return [b for b in blocks if b not in (["committed"], ["rolled back"])]
    if isinstance(statement, tree.Insert) and statement.query is not None and len(blocks) == 1:
        body = statement.query.body
        rows = len(body.rows) if isinstance(body, tree.Values) else 0
        return [b for b in blocks if not rows or not re.fullmatch(rf"change .* \+{rows}", b[0])]
    return blocks


def _again(found: tuple[Outcome, list[Verdict]] | None) -> list[list[str]]:
    """What is said in the place of what slipped."""
    if found is None:
        return []
    outcome, verdicts = found
    slipped = [v for v in verdicts if not v.met and (v.expectation is None or v.expectation.kind not in STAYS)]
    if not slipped:
        return []
    if any(v.expectation is None or _is_about_the_end(v.expectation, outcome) for v in slipped):
        return _default(found)
    blocks: list[list[str]] = []
    for verdict in slipped:
        assert verdict.expectation is not None
        blocks += [block for block in blocks_of(_instead(verdict.expectation, outcome)) if block not in blocks]
    return blocks


def _is_about_the_end(e: Expectation, outcome: Outcome) -> bool:
    """Whether nothing that was expected beside it can be true: one side has ended with a condition, the other not."""
    return e.kind in ("fails", "deadlock") or outcome.failure is not None


def _instead(e: Expectation, outcome: Outcome) -> list[str]:
    """The lines that say what was seen, in the place of an expectation that slipped."""
    return list(KINDS[e.kind].again(e, outcome))


def offered(rung: Rung) -> list[list[str]]:
    """All that could be said of a rung: what was seen in the place of what slipped, then what tells most."""
    found = _again((rung.outcome, rung.slips))
    return [*found, *(block for block in blocks_of(pinned(rung.outcome)) if block not in found)]


def giving_way(rung: Rung, lines: list[str]) -> list[Expectation]:
    """The expectations of a rung that slipped and in whose place these lines stand: they say the same thing of it, or
    it has ended as nobody expected."""
    words = {line.split()[0] for line in lines if line.strip() and not line.startswith("  ")}
    slipped = [v.expectation for v in rung.slips if v.expectation is not None and v.expectation.kind not in STAYS]
    return [
        e
        for e in slipped
        if words
        and (
            e.kind.split()[0] in words
            or _is_about_the_end(e, rung.outcome)
            or not set(lines).isdisjoint(_instead(e, rung.outcome))
        )
    ]


def by_side(sides: dict[str, list[list[str]]]) -> list[list[str]]:
    """Blocks of lines; of a case that runs twice those that both sides have in common, and those of one side."""
    if len(sides) == 1:
        return next(iter(sides.values()))
    (one, first), (two, second) = sides.items()
    common = [b for b in first if b in second]
    own = [(side, b) for side, blocks in ((one, first), (two, second)) for b in blocks if b not in common]
    return common + [[f"under {side}: {block[0]}", *block[1:]] for side, block in own]


def of_side(blocks: list[list[str]], side: str) -> list[str]:
    """The lines among these that are said of a side, without the word for it."""
    mark = f"under {side}: "
    mine = [b for b in blocks if not b[0].startswith("under ") or b[0].startswith(mark)]
    return [line.removeprefix(mark) for block in mine for line in block]


def blocks_of(lines: list[str]) -> list[list[str]]:
    """Lines, each with the rows below it."""
    blocks: list[list[str]] = []
    for line in lines:
        if line.startswith("  ") and blocks:
            blocks[-1].append(line)
        else:
            blocks.append([line])
    return blocks


def _marked(block: list[str]) -> list[str]:
    return [f"--> {line}" for line in block]


def _is_row(line: str) -> bool:
    """Whether a line belongs to the expectation above it."""
    stripped = line.strip()
    return stripped.startswith("-->   ") or (stripped.startswith("-->") and stripped[3:5] == "  ")


def _edited(text: str, edits: list[Edit]) -> tuple[str, int, int]:
    """The text with the edits made, and how many lines came and went."""
    lines = text.split("\n")
    if lines[-1] and any(edit.first >= len(lines) for edit in edits):
        lines.append("")
    for edit in sorted(edits, key=lambda e: (e.first, e.end), reverse=True):
        lines[edit.first : edit.end] = edit.lines
    return "\n".join(lines), sum(len(e.lines) for e in edits), sum(e.end - e.first for e in edits)
