"""The recorded form: what statements write into the list of events (see `outcomes.events`)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.outcomes.events import StatementInfo
from glimb.lang.node import walk

RETURNED = "RETURN"
"""How the value of RETURN is named, which is no variable."""


def is_certain(w: StatementWriter, node: R.Stmt) -> bool:
    """Whether a recorded assignment needs no marker behind another one: nothing comes between the two."""
    if not w.recording or not isinstance(node, R.SetStmt):
        return False
    if any(h.kind == "continue" for b in w.protections for h in b.handlers):
        return False
    return not any(isinstance(n, R.Query | R.RoutineCall) for n in walk(node.values))


# -- recording


def record(
    w: StatementWriter, name: str, node: R.Stmt | R.Node, targets: tuple[R.Target, ...] = (), is_change: bool = False
) -> None:
    """Say, in a recorded form, that a statement starts."""
    if w.recording:
        names, locals_ = tuple(w.shown.get(t.local, t.name) for t in targets), tuple(t.local for t in targets)
        mine = {name: local for name, local in zip(names, locals_, strict=True) if name != RETURNED}
        before = {name: local for name, local in w.reach.items() if mine.get(name, local) == local}
        info = StatementInfo(
            name, w.unit.source, node.span, names, tuple(t.type for t in targets), is_change, locals_, before
        )
        w.reach = {**w.reach, **mine}
        info.starts_round, w.starts_round = w.starts_round, False
        if w.follows and w.latest is not None:
            w.latest.following = info
        else:
            w.line(f"E({w.unit.constant(info, 'AT_')})")
        w.latest, w.follows = info, False


def record_values(w: StatementWriter, targets: tuple[R.Target, ...]) -> None:
    if w.recording and targets:
        w.line("; ".join(f"E({t.local})" for t in targets))
