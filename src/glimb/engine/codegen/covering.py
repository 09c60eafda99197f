"""The covered form: what statements, arms, loops, handlers and conditions write so that they are counted (see
`outcomes.coverage`)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Unit
from glimb.engine.codegen.expressions import may_raise
from glimb.engine.codegen.writing import NoArm, StatementWriter
from glimb.engine.outcomes.coverage import ARM, CONDITION, HANDLER, LOOP, STATEMENT, Point, Stretch
from glimb.lang.source import Span

COMPOUND = R.IfStmt | R.CaseStmt | R.LoopStmt | R.ForStmt | R.BlockStmt
JUMPS = R.ReturnStmt | R.LeaveStmt | R.IterateStmt | R.SignalStmt
UNCOUNTED = R.BlockStmt | R.WaymarkStmt | NoArm
"""What is no statement of its own."""


def point(unit: Unit, kind: str, span: Span, number: int = 0) -> Point:
    assert unit.coverage is not None
    made = unit.coverage.point(kind, unit.source, span, number)
    made.owner = unit.routine
    return made


def statement_point(unit: Unit, kind: str, node: R.Stmt) -> Point:
    """The point of a statement; one that holds others is told up to the first of them."""
    made = point(unit, kind, node.span)
    inner: tuple[R.Stmt, ...] = ()
    if isinstance(node, R.IfStmt | R.CaseStmt):
        inner = node.arms[0][1]
    elif isinstance(node, R.LoopStmt | R.ForStmt):
        inner = node.body
    if inner:
        made.text = unit.source.text[node.span.start : inner[0].span.start].rstrip()
    return made


def counted(unit: Unit, iterator: count[int]) -> str:
    """The name of a function that counts; what it gives is true."""
    return unit.constant(iterator.__next__, "COUNT")


def begin_covering(unit: Unit) -> None:
    """Have the statements of a unit counted, which belongs to something that is stored."""
    unit.is_counted = unit.coverage is not None


def count_statements(w: StatementWriter, nodes: tuple[R.Stmt, ...], at: int) -> None:
    """Before a statement of a list: where a stretch of statements begins that run one after the other, one count."""
    if not w.unit.is_counted or (at and not _is_cut(w, nodes[at - 1])):
        return
    end = at + 1
    while end < len(nodes) and not _is_cut(w, nodes[end - 1]):
        end += 1
    stretch = [n for n in nodes[at:end] if not isinstance(n, UNCOUNTED)]
    if stretch:
        points = [statement_point(w.unit, STATEMENT, n) for n in stretch]
        if at == 0 and w.with_rounds is not None:
            w.with_rounds += [(made, 0) for made in points]
        else:
            w.line(f"{counted(w.unit, Stretch(points).iterator)}()")
        for number, node in enumerate(stretch[:-1], 1):
            w.later[node.span] = tuple(points[number:])
    w.with_rounds = None


def _is_cut(w: StatementWriter, node: R.Stmt) -> bool:
    """Whether what stands behind a statement may run less often or more often than it."""
    handled = w.in_action or w.handling or any(h.kind == "continue" for b in w.protections for h in b.handlers)
    return bool(handled) or isinstance(node, COMPOUND | JUMPS)


def count_alone(w: StatementWriter, node: R.Stmt) -> None:
    """Count a statement that stands in no list."""
    count_statements(w, (node,), 0)


def count_arm(w: StatementWriter, node: R.Stmt, number: int, start: int, body: tuple[R.Stmt, ...]) -> None:
    """An arm has been taken, whose condition begins somewhere."""
    if w.unit.is_counted:
        first = body[0].span if body else node.span
        made = point(w.unit, ARM, first, number)
        made.text = " ".join(w.unit.source.text[start : first.start].split()).removeprefix("; ")
        w.line(f"{counted(w.unit, made.counter())}()")


def count_handler(w: StatementWriter, handler: R.Handler) -> None:
    """A handler has taken a condition."""
    if w.unit.is_counted:
        made = point(w.unit, HANDLER, handler.span)
        made.text = w.unit.source.text[handler.span.start : handler.action.span.start].rstrip()
        w.line(f"{counted(w.unit, made.counter())}()")


def test_of_rounds(w: StatementWriter, condition: R.Expr) -> tuple[str, Point | None]:
    """The condition of WHILE as text, and where it can be counted at the end of the loop: it was true in each round,
    and ends the loop when it is not."""
    place = condition.place
    if not w.unit.is_counted or place is None or not w.unit.owns(place.source, place.span) or place.part:
        return "", None
    if may_raise(condition):
        return "", None
    made = point(w.unit, CONDITION, place.span)
    made.possible[2] |= w.nullable(condition)
    return w.true_plain(condition), made


def leave_rounds(w: StatementWriter, condition: R.Expr, made: Point) -> None:
    """The condition of WHILE was not true."""
    false, unknown = (counted(w.unit, made.counter(side)) for side in (1, 2))
    if w.nullable(condition):
        w.line(f"{false}() if {w.false_plain(condition)} else {unknown}()")
    else:
        w.line(f"{false}()")


@contextmanager
def counted_rounds(
    w: StatementWriter, node: R.LoopStmt | R.ForStmt, number: str, others: list[tuple[Point, int]]
) -> Iterator[None]:
    """A loop whose rounds are counted in the local `number`; `others` are counted with them."""
    if not w.unit.is_counted:
        yield
        return
    w.line(f"{number} = 0")
    with w.function.indented("try:"):
        yield
    with w.function.indented("finally:"):
        made = statement_point(w.unit, LOOP, node)
        made.possible[0] = isinstance(node, R.ForStmt) or node.before is not None
        loop = w.unit.constant(made, "LOOP")
        w.line(f"rounds_done({loop}, {number}, {w.unit.constant(tuple(others), 'OTHERS')})")


@contextmanager
def stopping(w: StatementWriter) -> Iterator[None]:
    """The body of a routine: an exception that leaves it takes back what was counted beyond it."""
    if not w.unit.is_counted:
        yield
        return
    with w.function.indented("try:"):
        yield
    with w.function.indented("except BaseException as stopping:"):
        tell_stop(w, "stopping")
        w.line("raise")


def tell_stop(w: StatementWriter, error: str) -> None:
    """An exception has been caught in this function."""
    if w.unit.is_counted and not w.in_action:
        w.line(f"stopped({error}, SPANS, {w.unit.constant(w.later, 'LATER')})")
