"""IF, CASE and loops."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial

from glimb.engine import resolved as R
from glimb.engine.codegen.blocks import new_cursor
from glimb.engine.codegen.covering import count_arm, counted_rounds, leave_rounds, test_of_rounds
from glimb.engine.codegen.data import begin, write_rows
from glimb.engine.codegen.jumps import after_loop
from glimb.engine.codegen.protection import (
    protected,
    statements,
)
from glimb.engine.codegen.queries import with_whole_row
from glimb.engine.codegen.recording import is_certain, record, record_values
from glimb.engine.codegen.variables import (
    assigned_in,
    bounds_inside,
    has_handlers,
    proven,
)
from glimb.engine.codegen.writing import Frame, NoArm, StatementWriter
from glimb.engine.outcomes.coverage import Point

# -- control


def _condition_value(w: StatementWriter, condition: R.Expr, fallback: str) -> str:
    """Text of a condition; inside the reach of a CONTINUE handler it is computed first, and counts as
    `fallback` when it raises, so that the statement ends."""
    continuing = any(h.kind == "continue" for b in w.protections for h in b.handlers)
    if not continuing or isinstance(condition, R.Const):
        return w.true(condition)
    test = w.function.temp("test")
    w.line(f"{test} = {fallback}")
    with protected(w, None):
        w.line(f"{test} = {w.true(condition)}")
    return test


def if_statement(w: StatementWriter, node: R.IfStmt) -> None:
    """IF, as a chain of Python's own."""
    record(w, "if", node)
    _arms(w, node, node.arms, node.otherwise)


Arms = tuple[tuple[R.Expr, tuple[R.Stmt, ...]], ...]


def _arms(w: StatementWriter, node: R.Stmt, arms: Arms, otherwise: tuple[R.Stmt, ...]) -> None:
    bodies = _counted_bodies(w, node, [*(body for _, body in arms), otherwise])
    continuing = any(h.kind == "continue" for b in w.protections for h in b.handlers)
    if continuing:
        _nested_arms(w, arms, bodies)
        return
    word = "if"
    for (condition, _), write in zip(arms, bodies, strict=False):
        with w.function.indented(f"{word} {w.true(condition)}:"):
            outer = w.not_null
            w.not_null = outer | (set() if has_handlers(w) else proven(condition))
            write()
            w.not_null = outer & w.not_null
        word = "elif"
    if otherwise:
        with w.function.indented("else:"):
            bodies[-1]()


def _counted_bodies(w: StatementWriter, node: R.Stmt, bodies: list[tuple[R.Stmt, ...]]) -> list[Callable[[], None]]:
    """What writes each arm: first that it was taken, then its statements."""

    def write(number: int, start: int, body: tuple[R.Stmt, ...]) -> None:
        if body and not isinstance(body[0], NoArm):
            count_arm(w, node, number, start, body)
        statements(w, body)

    starts = [node.span.start, *(body[-1].span.end for body in bodies[:-1])]
    return [partial(write, number, *both) for number, both in enumerate(zip(starts, bodies, strict=True))]


def _nested_arms(w: StatementWriter, arms: Arms, bodies: list[Callable[[], None]]) -> None:
    """Arms whose conditions may be interrupted by a handler: which arm to take is found first."""
    arm = w.function.temp("arm")
    w.line(f"{arm} = -1")
    with protected(w, None):
        choice = str(len(arms))
        for number in range(len(arms) - 1, -1, -1):
            choice = f"({number} if {w.true(arms[number][0])} else {choice})"
        w.line(f"{arm} = {choice}")
    word = "if"
    for number, write in enumerate(bodies):
        with w.function.indented(f"{word} {arm} == {number}:"):
            write()
        word = "elif"


def case_statement(w: StatementWriter, node: R.CaseStmt) -> None:
    """CASE, as IF; without ELSE it ends in 20000."""
    record(w, "case", node)
    if node.operand is not None:
        w.line(f"{node.local} = None")
        with protected(w, None):
            w.line(f"{node.local} = {w.value(node.operand)}")
    missing: tuple[R.Stmt, ...] = (NoArm(span=node.span),) if node.otherwise is None else node.otherwise
    _arms(w, node, node.arms, missing)


def no_arm(w: StatementWriter, node: NoArm) -> None:
    """The ELSE that a CASE does not have."""
    w.line("case_not_found()")


def loop(w: StatementWriter, node: R.LoopStmt) -> None:
    """LOOP, WHILE, REPEAT, as one bounded Python loop."""
    word = "while" if node.before is not None else "repeat" if node.after is not None else "loop"
    record(w, word, node)
    numbered = w.recording or node.after is not None
    rounds = "range(s.budget.rounds)" if numbered else "repeat(None, s.budget.rounds)"
    bounds = w.bounds
    w.bounds = bounds_inside(w, node)
    told = bool(node.body) and is_certain(w, node.body[0])
    with _rounds(w, node, rounds, "", node.before, node.after, told):
        statements(w, node.body)
    assigned = assigned_in(node)
    w.bounds = {local: bound for local, bound in bounds.items() if local not in assigned}


@contextmanager
def _rounds(
    w: StatementWriter,
    node: R.LoopStmt | R.ForStmt,
    iterable: str,
    unpack: str,
    before: R.Expr | None = None,
    after: R.Expr | None = None,
    told: bool = True,
) -> Iterator[None]:
    """A Python loop around the body, counted, stoppable and folded when it is recorded; `told` says that the first
    statement of the body tells of every round. UNTIL is tested at the start of the next round, so that ITERATE
    comes by it too."""
    number = w.function.temp("round")
    limit, fold = w.function.temp("limit"), w.function.temp("fold")
    if w.recording:
        w.line(f"{fold} = LoopFold(s.shared.rounds); {limit} = len(trace) + 3000")
    w.frames.append(Frame(node.local))
    w.not_null = set()
    header = f"for {number} in {iterable}:" if not unpack else f"for {number}, {unpack} in enumerate({iterable}):"
    done, others = w.function.temp("done"), list[tuple[Point, int]]()
    with counted_rounds(w, node, done, others), w.function.indented(header):
        w.line("if s.stop: s.check()")
        if before is not None:
            others += _go_on(w, before)
        if after is not None:
            with w.function.indented(f"if {number}:"):
                w.line(f"if {_condition_value(w, after, 'True')}: break")
        if w.unit.is_counted:
            w.line(f"{done} += 1")
            w.with_rounds = others
        if w.recording:
            w.line(f"if len(trace) > {limit}: {limit} = {fold}(trace, {number} + 1)")
            if told:
                w.starts_round = True
            else:
                w.line("E(ROUND)")
        yield
        w.with_rounds = None
        if not unpack:
            w.function.depth -= 1
            w.line("else: s.budget.too_long()")
            w.function.depth += 1
    w.not_null = set()
    frame = w.frames.pop()
    if w.recording:
        w.line("E(END)")
    after_loop(w, frame)


def _go_on(w: StatementWriter, condition: R.Expr) -> list[tuple[Point, int]]:
    """The test of WHILE; gives what is counted of it once for each round."""
    test, point = test_of_rounds(w, condition)
    if point is None:
        w.line(f"if not {_condition_value(w, condition, 'False')}: break")
        return []
    with w.function.indented(f"if not {test}:"):
        leave_rounds(w, condition, point)
        w.line("break")
    return [(point, 0)]


def for_statement(w: StatementWriter, node: R.ForStmt) -> None:
    """FOR: a Python loop over rows, through a cursor when it has one."""
    record(w, "for", node)
    reach = w.reach
    rows = w.function.temp("rows")
    w.line(f"{rows} = ()")
    cursor = node.cursor if node.cursor is not None and node.cursor.table is not None else None
    if cursor is not None:
        w.line(f"{cursor.local} = {new_cursor(w, cursor)}")
    with protected(w, None):
        begin(w, node.query)
        w.line(f"{rows} = {write_rows(w, with_whole_row(node.query) if cursor is not None else node.query)}")
        if cursor is not None:
            w.line(f"{cursor.local}.open(s, {rows})")
    names = ", ".join(t.local for t in node.targets) + (", _" if cursor is not None else "")
    with _rounds(w, node, rows, f"({names},)"):
        if cursor is not None:
            w.line(f"{cursor.local}.below = {cursor.local}.above = {cursor.local}.below + 1")
        if w.recording:
            record(w, "row", node, node.targets)
            record_values(w, node.targets)
        statements(w, node.body)
    w.reach = reach
