"""CALL, RETURN, settings, transactions and schema statements within routines or alone."""

from __future__ import annotations

from typing import Any

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.engine.codegen.data import begin, write_rows
from glimb.engine.codegen.recording import RETURNED, record, record_values
from glimb.engine.codegen.variables import (
    unpack_one,
)
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.outcomes.events import END, NO_DATA, ROUND, LoopFold
from glimb.engine.outcomes.passes import WaymarkInfo
from glimb.lang import tree
from glimb.lang.node import holds, walk

# -- calls


def write_call(w: StatementWriter, node: R.CallStmt) -> None:
    """CALL: a call of the routine's function, and its OUT values."""
    targets = tuple(r.target for r in node.receives if r is not None and r.target is not None)
    record(w, "call", node, targets)
    routine = w.unit.constant(node.routine, "R")
    arguments = "".join(f", {w.value(a)}" for a in node.arguments)
    call = f"{w.function.called(f'{routine}.{w.form}')}(s, d + 1{arguments})"
    mark = w.function.temp("mark") if w.result != "out" and _may_return_rows(node.routine) else ""
    if mark:
        w.line(f"{mark} = len(s.cursors.returning)")
    if not node.receives:
        w.line(call)
        if mark:
            _drop_results(w, mark)
        return
    temps = [r.temp if r is not None else w.function.temp("out") for r in node.receives]
    w.line(f"{', '.join(temps)}, = {call}")
    if mark:
        _drop_results(w, mark)
    for receive in node.receives:
        if receive is not None:
            unpack_one(w, receive)
    if w.result == "out":
        w.out = tuple(temps)
    record_values(w, targets)


def _drop_results(w: StatementWriter, mark: str) -> None:
    """Result sets of a procedure that a routine has called: nobody takes them, but it is told that there were some
    (clause 13.4 of the standard's part 4)."""
    if w.diagnoses:
        w.line(f"if len(s.cursors.returning) > {mark}:")
        w.line("    s.diagnostics.warn(d, '0100C', 'the procedure has returned result sets')")
    w.line(f"del s.cursors.returning[{mark}:]")


def note(w: StatementWriter, node: R.NoteStmt) -> None:
    """CALL note(...)."""
    record(w, "note", node)
    w.line(f"note(s, {w.value(node.value)})")


def waymark(w: StatementWriter, node: R.WaymarkStmt) -> None:
    """A waymark: a look at the variables, which is no statement and leaves the diagnostics as they are."""
    record(w, "waymark", node)
    types = tuple(v.type for v in node.variables)
    mark = WaymarkInfo(w.unit.routine, node.name, w.unit.source, node.span, node.names, types)
    w.function.row(f"s.asides.passes.add({w.unit.constant(mark, 'WAYMARK_')}, ", [w.value(v) for v in node.variables])


def return_statement(w: StatementWriter, node: R.ReturnStmt) -> None:
    """RETURN."""
    given = (R.Target("result", RETURNED, node.value.type),) if node.value is not None else ()
    record(w, "return", node, given)
    if node.query is not None:
        begin(w, node.query)
        result = write_rows(w, node.query)
    elif node.value is not None:
        if any(isinstance(n, R.Scan) for n in walk(node.value)):
            w.line("if not s.active: s.begin()")
        result = w.value(node.value)
    else:
        result = out_values(w)
    if w.recording:
        w.line(f"result = {result}")
        result = "result"
        record_values(w, given)
        w.line("E(END)")
    if w.in_action:
        w.frames[0].returns = True
        result = f"({result},)"
    w.line(f"return {result}")


def out_values(w: StatementWriter) -> str:
    """What a procedure gives back: the values of its OUT and INOUT parameters."""
    return f"({', '.join(w.out)},)" if w.out else "None"


# -- what only calls something


def write_run(w: StatementWriter, node: R.RunStmt) -> None:
    """A statement that only calls a function at run time."""
    record(w, node.step, node)
    given = [w.value(v) if isinstance(v, R.Expr) else w.unit.constant(v, "K") for v in node.values]
    w.line(f"{node.function}({', '.join(['s', *given])})")


# -- transactions and schema


def transaction(w: StatementWriter, node: R.TransactionStmt) -> None:
    """START, SET TRANSACTION, COMMIT, ROLLBACK, savepoints."""
    record(w, node.verb, node)
    name = w.unit.constant(node.name, "K")
    modes = w.unit.constant(node.modes, "MODES")
    w.line(
        {
            "start": f"start_transaction(s, {modes})",
            "set": f"set_transaction(s, {modes})",
            "set local": f"set_transaction(s, {modes})",
            "commit": f"commit(s, {node.chain})",
            "rollback": f"rollback(s, {node.chain})",
            "savepoint": f"s.savepoint({name})",
            "rollback to": f"s.rollback_to({name})",
            "release": f"s.release_savepoint({name})",
        }[node.verb]
    )


def schema(w: StatementWriter, node: R.SchemaStmt) -> None:
    """CREATE, ALTER, DROP: carried out by the compiler."""
    record(w, "schema", node)
    statement = w.unit.constant(node, "SCHEMA")
    w.line(f"s.shared.compiler.define(s, {statement}, {w.unit.constant(w.unit.source, 'SOURCE')})")


def may_go_deeper(body: R.Stmt) -> bool:
    """Whether a routine may call another one, itself perhaps: then it looks how deep it is."""
    calling = R.RoutineCall, R.CallStmt, R.CallRows, R.ExecuteStmt, R.SchemaStmt
    changing = R.InsertStmt, R.UpdateStmt, R.DeleteStmt, R.MergeStmt, R.InsteadStmt, R.OpenStmt, R.TruncateStmt
    return holds(body, *calling, *changing)


def _may_return_rows(routine: Routine) -> bool:
    """Whether a procedure declares cursors WITH RETURN, or calls one that may."""
    return any(
        (isinstance(n, tree.DeclareCursor) and n.returns) or isinstance(n, tree.Call)
        for n in walk(routine.definition.body)
    )


RECORDING_NAMES: dict[str, Any] = {"END": END, "NO_DATA": NO_DATA, "ROUND": ROUND, "LoopFold": LoopFold}
