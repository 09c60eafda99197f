"""BEGIN ... END: declarations, handlers behind their block, atomic contexts."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from glimb.engine import resolved as R
from glimb.engine.codegen.covering import tell_stop
from glimb.engine.codegen.jumps import after_loop
from glimb.engine.codegen.protection import (
    action_function,
    call_action,
    chain_text,
    is_written_once,
    protected,
    statements,
)
from glimb.engine.codegen.recording import record, record_values
from glimb.engine.codegen.variables import (
    store,
)
from glimb.engine.codegen.writing import Frame, StatementWriter
from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.runtime.cursors import CursorKind
from glimb.lang.node import holds, walk

# -- blocks


def write_block(w: StatementWriter, node: R.BlockStmt) -> None:
    reach = w.reach
    is_left = holds(node, R.LeaveStmt) and any(isinstance(n, R.LeaveStmt) and n.local == node.label for n in walk(node))
    if is_left or (any(h.kind != "continue" for h in node.handlers) and holds(node.body, R.SignalStmt)):
        w.frames.append(Frame(node.label))
        with w.function.indented("while True:"):
            _block_body(w, node)
            w.line("break")
        after_loop(w, w.frames.pop())
    else:
        _block_body(w, node)
    w.reach = reach


def _block_body(w: StatementWriter, node: R.BlockStmt) -> None:
    for declare in node.declares:
        with w.function.placed(declare.span), protected(w, None):
            record(w, "declare", declare, (declare.target,))
            store(w, declare.target, declare.value)
            record_values(w, (declare.target,))
    w.reaches[id(node)] = w.reach
    for cursor in node.cursors:
        w.line(f"{cursor.local} = {new_cursor(w, cursor)}")
    if node.atomic:
        with atomic(w) as mark:
            w.marks[node.depth] = mark
            _guarded_body(w, node)
    else:
        _guarded_body(w, node)


def new_cursor(w: StatementWriter, cursor: R.CursorDef) -> str:
    columns = tuple(ResultColumn(c.name, c.type) for c in cursor.query.columns) if cursor.query else ()
    kind = CursorKind(cursor.name, columns, cursor.hold, cursor.returns, cursor.table is not None)
    return f"Cursor({w.unit.constant(kind, 'CURSOR')})"


@contextmanager
def atomic(w: StatementWriter) -> Iterator[str]:
    """An exception that leaves the body takes back what it has changed; a transaction may not end inside. Gives
    the local that holds the place in the log."""
    mark, level = w.function.temp("mark"), w.function.temp("level")
    w.line(f"{mark}, {level} = enter_atomic(s)")
    with w.function.indented("try:"):
        yield mark
    with w.function.indented("except BaseException:"):
        w.line(f"s.undo_to({mark})")
        w.line("raise")
    with w.function.indented("finally:"):
        w.line(f"leave_atomic(s, {level})")


@contextmanager
def savepoint_level(w: StatementWriter) -> Iterator[None]:
    """NEW SAVEPOINT LEVEL (clause 11.60)."""
    level = w.function.temp("level")
    w.line(f"{level} = s.savepoints.open_level()")
    with w.function.indented("try:"):
        yield
    with w.function.indented("finally:"):
        w.line(f"s.savepoints.close_level({level})")


@contextmanager
def limited_access(w: StatementWriter, access: int) -> Iterator[None]:
    """What dynamic SQL may do in a routine: no more than the routine."""
    w.line(f"access, s.dynamic.access = s.dynamic.access, {access}")
    with w.function.indented("try:"):
        yield
    with w.function.indented("finally:"):
        w.line("s.dynamic.access = access")


def _guarded_body(w: StatementWriter, node: R.BlockStmt) -> None:
    """The statements of a block, and behind them its EXIT handlers."""
    exits = [h for h in node.handlers if h.kind != "continue"]
    for handler in node.handlers:
        if is_written_once(w, handler, node):
            action_function(w, handler, node)
    w.protections.append(node)
    if not exits:
        statements(w, node.body)
        w.protections.pop()
        return
    with w.function.indented("try:"):
        statements(w, node.body)
    error, condition, number = (w.function.temp(n) for n in ("error", "condition", "handler"))
    with w.function.indented(f"except CAUGHT as {error}:"):
        w.line(f"{condition} = caught({error})")
        w.line(f"{number} = find_handler({condition}, {chain_text(w, [node])})")
        word = "if"
        for handler in exits:
            with w.function.indented(f"{word} {number} == {handler.number}:"):
                tell_stop(w, error)
                call_action(w, handler, node, condition)
            word = "elif"
        w.line("else: raise")
    w.protections.pop()
