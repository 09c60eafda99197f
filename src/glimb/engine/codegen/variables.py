"""Variables: what they are given, what is known of them (not NULL, within bounds)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.expressions import SMALL
from glimb.engine.codegen.recording import record, record_values
from glimb.engine.codegen.writing import StatementWriter
from glimb.lang.node import walk

# -- variables


def store(w: StatementWriter, target: R.Target, value: R.Expr) -> None:
    """target = value, with the range check as a statement of its own, which costs nothing while it holds."""
    if not isinstance(value, R.Checked):
        w.bounds.pop(target.local, None)
        w.line(f"{target.local} = {w.value(value)}")
        _know(w, target.local, not w.nullable(value))
        return
    unbounded = not _cannot_overflow(w, value)
    w.bounds.pop(target.local, None)
    limit = min(value.type.limit - 1, SMALL)
    call = f"check_{'integer' if value.type.is_integer else 'decimal'}"
    local = w.function.temp() if has_handlers(w) and unbounded else target.local
    w.line(f"{local} = {w.value(value.operand)}")
    known = f"{local} is not None and " if w.nullable(value.operand) else ""
    if unbounded:
        far = value.type.limit - 1
        test = f"({local} > {limit} or {local} < -{limit})"  # quicker than two signs around the name
        wide = f" and not -{far} <= {local} <= {far}" if far > limit else ""
        w.line(f"if {known}{test}{wide}: {call}({local}, {w.type(value.type)})")
    if local != target.local:
        w.line(f"{target.local} = {local}")
    _know(w, target.local, not w.nullable(value))


def _know(w: StatementWriter, local: str, not_null: bool) -> None:
    """Remember what is known of a variable from here on; in the reach of handlers nothing is."""
    if not not_null or has_handlers(w):
        w.not_null.discard(local)


def set_statement(w: StatementWriter, node: R.SetStmt) -> None:
    record(w, "set", node, node.targets)
    if len(node.targets) == 1:
        store(w, node.targets[0], node.values[0])
    else:
        names = ", ".join(t.local for t in node.targets)
        w.line(f"{names} = {', '.join(w.value(v) for v in node.values)}")
    record_values(w, node.targets)


def write_unpack(w: StatementWriter, receives: tuple[R.Receive, ...], row: str) -> None:
    """Take a row apart and store its parts."""
    w.line(f"{', '.join(r.temp for r in receives)}, = {row}")
    for receive in receives:
        unpack_one(w, receive)


def unpack_one(w: StatementWriter, receive: R.Receive) -> None:
    """Store what has arrived."""
    if receive.target is not None:
        store(w, receive.target, receive.value)


def bounds_inside(w: StatementWriter, node: R.LoopStmt) -> dict[str, int]:
    """Variables whose values are bounded from above in the body of a loop, by its condition: until they are
    assigned, an addition to them cannot overflow."""
    assigned = assigned_in(node)
    bounds = {local: bound for local, bound in w.bounds.items() if local not in assigned}
    test = node.before
    if isinstance(test, R.Compare) and test.sign in ("<", "<=") and isinstance(test.left, R.Variable):
        if isinstance(test.right, R.Const) and isinstance(test.right.value, int) and not has_handlers(w):
            bounds[test.left.local] = test.right.value
    return bounds


def has_handlers(w: StatementWriter) -> bool:
    return any(b.handlers for b in w.protections)


def _cannot_overflow(w: StatementWriter, value: R.Checked) -> bool:
    """variable + constant, of a variable that is bounded."""
    sum_ = value.operand
    if not isinstance(sum_, R.Arith) or sum_.sign != "+" or not value.type.is_integer:
        return False
    a, b = sum_.left, sum_.right
    if not isinstance(a, R.Variable) or not isinstance(b, R.Const) or a.local not in w.bounds or a.type != value.type:
        return False
    return bool(b.value >= 0 and w.bounds[a.local] + b.value < value.type.limit)


def proven(condition: R.Expr) -> set[str]:
    """Variables that are not NULL where a condition is true."""
    if isinstance(condition, R.And):
        return set().union(*(proven(i) for i in condition.items))
    if isinstance(condition, R.Compare):
        return {side.local for side in (condition.left, condition.right) if isinstance(side, R.Variable)}
    if isinstance(condition, R.IsNull) and condition.negated and isinstance(condition.operand, R.Variable):
        return {condition.operand.local}
    return set()


def assigned_in(node: R.Stmt) -> set[str]:
    """Variables that are assigned somewhere in a statement."""
    return {n.local for n in walk(node) if isinstance(n, R.Target)}


def declared_in(node: R.Stmt) -> set[str]:
    """Variables that are declared inside a statement."""
    own = {n.target.local for n in walk(node) if isinstance(n, R.Declare)}
    return own | {t.local for n in walk(node) if isinstance(n, R.ForStmt) for t in n.targets}
