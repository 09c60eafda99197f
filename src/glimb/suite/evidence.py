"""The proof grid: for each routine, which kinds of behaviour cases have asserted, only shown, or never shown.

In: recorded ladders of cases, and the counts of `suite.coverage`. Out: a `Row` for each routine. Asserted is what a
rung showed when an expectation of that rung was met that covers it (docs/evidence.md has the rules).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import NamedTuple, TypeVar

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.engine.codegen.expressions import may_raise
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import ARM, CONDITION
from glimb.engine.outcomes.steps import Step, walk_steps
from glimb.lang.node import Node, walk
from glimb.lang.source import Span
from glimb.suite.coverage import Counted, Share, share_of
from glimb.suite.expectations.kinds import KINDS
from glimb.suite.findings.queries import is_one_row
from glimb.suite.ladder import Ladder, Rung

ASSERTED, SEEN, NEVER, CANNOT = "asserted", "seen", "never", "cannot"
EVIDENCE = ("called", "result", "null_argument", "no_row", "many_rows", "raises", "handler", "undone", "waits")
"""Kinds of evidence, in the order of the grid."""
RESULT = frozenset(("result", "empty result"))
EFFECT = RESULT | {"changes", "notes", "waymarks"}
READING = (R.SelectIntoStmt, R.FetchStmt, R.UpdateStmt, R.DeleteStmt, R.MergeStmt)
TOUCHING = (R.Scan, R.InsertStmt, *READING[2:], R.TruncateStmt, R.RoutineCall, R.CallStmt, R.CallRows)
Place = tuple[str, int]
"""Of a routine: the name of its text, and where it begins there."""


class Row(NamedTuple):
    """A routine with what is known of it."""

    file: str
    line: int
    name: str
    kind: str
    evidence: dict[str, str]
    arms: Share
    conditions: Share


class Where(NamedTuple):
    """A rung that shows something: of the case with this title in a script, and its number, from 1."""

    path: Path
    title: str
    rung: int


MOST_WHERE = 50
"""Rungs that are kept for one thing that was shown; there may be more."""


class Shown:
    """The rungs that show one thing: those that assert it, and those in which it is only seen."""

    __slots__ = ("asserting", "seeing")

    def __init__(self) -> None:
        self.asserting: list[Where] = []
        self.seeing: list[Where] = []

    @property
    def is_asserted(self) -> bool:
        return bool(self.asserting)

    @property
    def rungs(self) -> list[Where]:
        """Those that assert it first."""
        return [*self.asserting, *self.seeing]

    def add(self, where: Where, asserted: bool) -> None:
        some = self.asserting if asserted else self.seeing
        if len(some) < MOST_WHERE and where not in some[-1:]:
            some.append(where)


class Seen:
    """What runs have shown of one routine: kinds of evidence, parameters that were NULL, handlers that fired."""

    def __init__(self) -> None:
        self.kinds: dict[str, Shown] = {}
        self.nulls: dict[str, Shown] = {}
        self.handlers: dict[Span, Shown] = {}

    def add(self, other: Seen) -> None:
        """Take what another has shown too."""
        _join(self.kinds, other.kinds)
        _join(self.nulls, other.nulls)
        _join(self.handlers, other.handlers)


Name = TypeVar("Name")


def _join(known: dict[Name, Shown], others: dict[Name, Shown]) -> None:
    for name, shown in others.items():
        mine = known.setdefault(name, Shown())
        for where in shown.asserting:
            mine.add(where, True)
        for where in shown.seeing:
            mine.add(where, False)


class Collector:
    """Looks at ladders."""

    def __init__(self) -> None:
        self.seen: dict[Place, Seen] = {}
        self._where = Where(Path(), "", 0)

    def look(self, ladder: Ladder) -> None:
        """Take note of what the rungs of a recorded ladder show."""
        changed: dict[str, set[Place]] = {}
        path, title = Path(ladder.source.name), ladder.case.title
        for rung in ladder.rungs:
            self._look_at(rung, Where(path, title, rung.number), changed)

    def look_at(self, rung: Rung, path: Path) -> None:
        """Take note of what a rung alone shows."""
        self._look_at(rung, Where(path, "", rung.number), {})

    def _look_at(self, rung: Rung, where: Where, changed: dict[str, set[Place]]) -> None:
        self._where = where
        covered = _covered(rung)
        frames = [step for step in walk_steps(rung.steps) if step.frame is not None]
        left = _left_by_exception(rung) if frames else set()
        for frame in frames:
            self._frame(frame, rung, covered, id(frame) in left)
        self._undone(rung, frames, covered, changed)

    def _of(self, frame: Step) -> Seen:
        assert frame.frame is not None
        place = frame.frame.source.name, frame.frame.span.start
        return self.seen.setdefault(place, Seen())

    def _note(self, known: dict[Name, Shown], name: Name, asserted: bool) -> None:
        known.setdefault(name, Shown()).add(self._where, asserted)

    def _frame(self, frame: Step, rung: Rung, covered: set[str], is_left: bool) -> None:
        seen = self._of(frame)
        own = list(_own(frame))
        self._note(seen.kinds, "called", bool(covered))
        if is_left:
            self._note(seen.kinds, "raises", "condition" in covered)
        else:
            is_function = _returns(own)
            self._note(seen.kinds, "result", bool(covered & (RESULT if is_function else EFFECT)))
        for variable in frame.assigned:
            if variable.value is None:
                self._note(seen.nulls, variable.name, bool(covered))
        if any(_found_none(step) for step in own):
            self._note(seen.kinds, "no_row", bool(covered & (EFFECT | {"condition"})))
        if rung.steps == [frame] and rung.last.rows == [] and not is_left:
            self._note(seen.kinds, "no_result_row", bool(covered & EFFECT))
        if any(step.condition is not None and step.condition.sqlstate == "21000" for step in own):
            self._note(seen.kinds, "many_rows", bool(covered & (EFFECT | {"condition"})))
        if rung.outcome.waiting is not None or (rung.last.failure is not None and rung.last.failure.circle):
            self._note(seen.kinds, "waits", bool(covered & {"waits", "condition"}))
        for step in own:
            if step.handler is not None:
                self._note(seen.handlers, step.handler.span, bool(covered & (EFFECT | {"condition", "handled"})))

    def _undone(self, rung: Rung, frames: list[Step], covered: set[str], changed: dict[str, set[Place]]) -> None:
        """What routines have changed is undone: by their own failure, or when the transaction is rolled back."""
        mine = changed.setdefault(rung.session, set())
        changing = _changing(rung.steps) if frames else set()
        for frame in frames:
            if id(frame) in changing:
                if rung.last.failure is not None and not rung.last.changes:
                    self._note(self._of(frame).kinds, "undone", bool(covered & {"condition", "changes", "transaction"}))
                else:
                    assert frame.frame is not None
                    mine.add((frame.frame.source.name, frame.frame.span.start))
        for event in rung.rails[rung.session].events if rung.session in rung.rails else ():
            if event.kind in ("rollback", "to savepoint"):
                for place in mine:
                    kinds = self.seen.setdefault(place, Seen()).kinds
                    self._note(kinds, "undone", bool(covered & {"transaction", "changes", "condition"}))
            if event.kind in ("rollback", "commit"):
                mine.clear()


def _changing(steps: list[Step]) -> set[int]:
    """The steps, by identity, in which rows were changed, or in what they call."""
    order = [(step, -1) for step in steps]
    for at, (step, _) in enumerate(order):  # it grows meanwhile: callers stand before what they call
        order += ((inner, at) for inner in step.steps)
    found = {id(step) for step, _ in order if step.changes}
    for step, caller in reversed(order):
        if caller >= 0 and id(step) in found:
            found.add(id(order[caller][0]))
    return found


def _covered(rung: Rung) -> set[str]:
    """What the expectations of a rung that were met say something about."""
    return {KINDS[v.expectation.kind].covers for v in rung.verdicts if v.met and v.expectation is not None}


def _own(frame: Step) -> Iterator[Step]:
    """The steps of a routine, those of what it calls aside."""
    for step in frame.steps:
        yield step
        if step.frame is None:
            yield from (inner for inner in _own(step) if inner.frame is None)


def _found_none(step: Step) -> bool:
    return step.found_none or step.row_count == 0


def _returns(own: list[Step]) -> bool:
    """Whether a routine has come to a RETURN with a value."""
    return any(step.info is not None and step.info.name == "return" for step in own)


def _left_by_exception(rung: Rung) -> set[int]:
    """The frames, by identity, that an exception has left: the last ones of a rung that failed, and the last ones in
    a statement whose condition a handler took."""
    left: set[int] = set()
    if rung.last.failure is not None:
        left |= set(_last_frames(rung.steps))
    for step in walk_steps(rung.steps):
        if step.handler is not None:
            left |= set(_last_frames(step.steps))
    return left


def _last_frames(steps: list[Step]) -> Iterator[int]:
    while steps:
        step = steps[-1]
        if step.frame is not None:
            yield id(step)
        steps = step.steps


# ---- the grid


def grid(engine: Engine, seen: dict[Place, Seen], counts: Iterable[Counted]) -> list[Row]:
    """A row for each routine of an engine, in the order of files and lines."""
    by_owner: dict[tuple[str, str], list[Counted]] = {}
    for one in counts:
        by_owner.setdefault((one.file, one.owner), []).append(one)
    rows = []
    for routine in engine.catalog.written_routines():
        file, start = routine.source.name, routine.definition.span.start
        found = seen.get((file, start), Seen())
        name = engine.catalog.told(routine)
        mine = by_owner.get((file, name), [])
        evidence = {kind: _standing(kind, found, routine) for kind in EVIDENCE}
        line, kind = routine.source.line(start), routine.kind_word
        rows.append(Row(file, line, name, kind, evidence, share_of(mine, ARM), share_of(mine, CONDITION)))
    return sorted(rows, key=lambda row: (row.file, row.line))


def _standing(kind: str, seen: Seen, routine: Routine) -> str:
    shown = shown_of(kind, seen, routine)
    if None in shown:
        return NEVER
    if shown:
        needed = all if kind == "handler" else any
        return ASSERTED if needed(one is not None and one.is_asserted for one in shown) else SEEN
    return NEVER if can_be(kind, routine) else CANNOT


def shown_of(kind: str, seen: Seen, routine: Routine) -> list[Shown | None]:
    """What has shown a kind of evidence of a routine; of handlers, for each of them, None where nothing has."""
    if kind == "handler":
        return [seen.handlers.get(handler.span) for handler in handlers_of(routine)]
    found = [seen.kinds.get(kind)]
    if kind == "null_argument":
        found = [seen.nulls.get(p.name) for p in routine.parameters if p.mode != "out"]
    elif kind == "no_row" and routine.table:
        found.append(seen.kinds.get("no_result_row"))
    return [one for one in found if one is not None]


class Nature(NamedTuple):
    """What is possible of a routine by what it is made of: kinds of evidence, and its handlers."""

    can: frozenset[str]
    handlers: tuple[R.Handler, ...]


def _nature(routine: Routine) -> Nature:
    """Kept with what the binder made of the routine: in a dictionary of ours it would hold the whole engine."""
    facts = routine.bind()
    known: Nature | None = getattr(facts, "nature", None)
    if known is None:
        nodes = list(walk(facts.body)) if facts is not None else []
        handlers = tuple(n for n in nodes if isinstance(n, R.Handler))
        can = frozenset(kind for kind in EVIDENCE if _can_be(kind, routine, nodes, bool(facts and facts.writes)))
        known = Nature(can, handlers)
        if facts is not None:
            facts.nature = known
    return known


def handlers_of(routine: Routine) -> tuple[R.Handler, ...]:
    """The handlers that a routine declares."""
    return _nature(routine).handlers


def can_be(kind: str, routine: Routine) -> bool:
    """Whether a kind of behaviour is possible at all for a routine."""
    return kind in _nature(routine).can


def _gives_a_row(node: Node) -> bool:
    """Whether a statement takes the values of one row that are written there."""
    query = node.query if isinstance(node, R.SelectIntoStmt) else None
    return query is not None and isinstance(query.body, R.Rows) and query.offset is None and query.fetch is None


def _can_be(kind: str, routine: Routine, nodes: list[Node], writes: bool) -> bool:
    if kind == "handler":
        return any(isinstance(n, R.Handler) for n in nodes)
    if kind == "null_argument":
        return any(p.mode != "out" for p in routine.parameters) and routine.definition.null_call
    if kind == "no_row":
        return bool(routine.table) or any(isinstance(n, READING) and not _gives_a_row(n) for n in nodes)
    if kind == "many_rows":
        into = [n.query for n in nodes if isinstance(n, R.SelectIntoStmt)]
        into += [n.query for n in nodes if isinstance(n, R.ScalarQuery)]
        return any(not is_one_row(query) for query in into)
    if kind == "raises":
        return any(isinstance(n, R.Stmt) and not _is_harmless(n) for n in nodes) or any(
            may_raise(n) for n in nodes if isinstance(n, R.Expr)
        )
    if kind == "undone":
        return writes
    return kind != "waits" or any(isinstance(n, TOUCHING) for n in nodes)


def _is_harmless(node: R.Stmt) -> bool:
    """Whether a statement raises nothing itself, its expressions aside."""
    quiet = R.BlockStmt | R.IfStmt | R.LoopStmt | R.SetStmt | R.ReturnStmt | R.LeaveStmt | R.IterateStmt
    quiet |= R.WaymarkStmt | R.NoteStmt | R.ForStmt
    return (
        isinstance(node, quiet) or _gives_a_row(node) or (isinstance(node, R.CaseStmt) and node.otherwise is not None)
    )
