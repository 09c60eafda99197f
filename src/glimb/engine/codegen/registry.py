"""What writes each kind of statement."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.blocks import write_block
from glimb.engine.codegen.builder import Function
from glimb.engine.codegen.conditions import get_diagnostics, signal
from glimb.engine.codegen.control import case_statement, for_statement, if_statement, loop, no_arm

# -- cursors
from glimb.engine.codegen.cursors import (
    allocate_cursor,
    close_cursor,
    deallocate,
    describe,
    execute,
    fetch,
    open_cursor,
    prepare,
    write_descriptor,
)
from glimb.engine.codegen.data import delete, insert, instead, merge, select_into, truncate, update
from glimb.engine.codegen.jumps import iterate, leave
from glimb.engine.codegen.variables import set_statement
from glimb.engine.codegen.verbs import note, return_statement, schema, transaction, waymark, write_call, write_run
from glimb.engine.codegen.writing import NoArm, StatementWriter, Writers

WRITERS: Writers = {
    R.InsertStmt: (insert, True),
    R.UpdateStmt: (update, True),
    R.DeleteStmt: (delete, True),
    R.TruncateStmt: (truncate, True),
    R.MergeStmt: (merge, True),
    R.InsteadStmt: (instead, True),
    R.PrepareStmt: (prepare, True),
    R.ExecuteStmt: (execute, True),
    R.DeallocateStmt: (deallocate, True),
    R.AllocateCursorStmt: (allocate_cursor, True),
    R.DescriptorStmt: (write_descriptor, True),
    R.DescribeStmt: (describe, True),
    R.RunStmt: (write_run, True),
    R.CallStmt: (write_call, True),
    R.NoteStmt: (note, True),
    R.SetStmt: (set_statement, True),
    R.SelectIntoStmt: (select_into, True),
    R.BlockStmt: (write_block, False),
    R.WaymarkStmt: (waymark, False),
    R.IfStmt: (if_statement, False),
    R.CaseStmt: (case_statement, False),
    NoArm: (no_arm, True),
    R.LoopStmt: (loop, False),
    R.ForStmt: (for_statement, False),
    R.LeaveStmt: (leave, False),
    R.IterateStmt: (iterate, False),
    R.ReturnStmt: (return_statement, True),
    R.OpenStmt: (open_cursor, True),
    R.FetchStmt: (fetch, True),
    R.CloseStmt: (close_cursor, True),
    R.SignalStmt: (signal, True),
    R.DiagnosticsStmt: (get_diagnostics, True),
    R.TransactionStmt: (transaction, True),
    R.SchemaStmt: (schema, True),
}


def statement_writer(function: Function, recording: bool) -> StatementWriter:
    """Who writes statements into a function, bare or recorded."""
    return StatementWriter(WRITERS, function, recording)
