"""LEAVE and ITERATE: jumps out of Python loops, and flags for those across several."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.recording import record
from glimb.engine.codegen.writing import Frame, StatementWriter


def leave(w: StatementWriter, node: R.LeaveStmt) -> None:
    """LEAVE: a break, a flag for the loops between, or a return from the function of a handler."""
    record(w, "leave", node)
    write_jump(w, node.local, "leave")


def iterate(w: StatementWriter, node: R.IterateStmt) -> None:
    """ITERATE, the same with continue."""
    record(w, "iterate", node)
    write_jump(w, node.local, "iterate")


def write_jump(w: StatementWriter, local: str, kind: str) -> None:
    """Leave or repeat the frame `local`: at once when it is the innermost, otherwise by a flag."""
    if w.frames[-1].local == local:
        w.line("break" if kind == "leave" else "continue")
        return
    flag = f"{kind}_{local}"
    for frame in reversed(w.frames):
        if frame.local == local:
            break
        frame.pending[kind, local] = None
    w.flags[flag] = None
    w.function.hoist(f"{flag} = False")
    w.line(f"{flag} = True")
    w.line(w.frames[-1].leave)


def after_loop(w: StatementWriter, frame: Frame) -> None:
    """Go on with jumps that go past the loop that has just ended."""
    for kind, local in frame.pending:
        w.flags[f"{kind}_{local}"] = None
        with w.function.indented(f"if {kind}_{local}:"):
            if w.frames[-1].local == local:
                w.line(f"{kind}_{local} = False")
                w.line("break" if kind == "leave" else "continue")
            else:
                w.frames[-1].pending[kind, local] = None
                w.line(w.frames[-1].leave)
