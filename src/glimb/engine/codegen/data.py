"""Queries and changes within statements."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.changes import write_delete, write_insert, write_merge, write_update
from glimb.engine.codegen.completion import (
    handles_completion,
    no_data,
)
from glimb.engine.codegen.recording import record, record_values
from glimb.engine.codegen.variables import (
    write_unpack,
)
from glimb.engine.codegen.writing import StatementWriter
from glimb.lang.node import holds


def select_into(w: StatementWriter, node: R.SelectIntoStmt) -> None:
    """SELECT INTO: one row, or no data; 21000 for more."""
    targets = tuple(r.target for r in node.receives if r.target is not None)
    record(w, "set" if node.optional else "select into", node, targets)
    begin(w, node.query)
    rows = w.function.temp("rows")
    w.line(f"{rows} = {write_rows(w, node.query)}")
    w.line(f"if len({rows}) > 1: same_row_error({rows})")
    if not node.optional:
        w.line(f"s.diagnostics.row_count = len({rows})")
    with w.function.indented(f"if {rows}:"):
        write_unpack(w, node.receives, f"{rows}[0]")
    with w.function.indented("else:"):
        if node.optional:
            w.line(f"{' = '.join(t.local for t in targets)} = None")
        else:
            no_data(w, "SELECT INTO found no row")
    record_values(w, targets)


def begin(w: StatementWriter, query: R.Query) -> None:
    """A query that reads a table starts a transaction."""
    if holds(query, R.Scan):
        w.line("if not s.active: s.begin()")


def write_rows(w: StatementWriter, query: R.Query) -> str:
    """Text of a call that gives the rows of a query."""
    return w.query_call(query, "rows", query.span)


# -- changes


def insert(w: StatementWriter, node: R.InsertStmt) -> None:
    """INSERT within a routine."""
    _change(w, "insert", node, write_insert(w.unit, node))


def update(w: StatementWriter, node: R.UpdateStmt) -> None:
    """UPDATE within a routine."""
    _change(w, "update", node, write_update(w.unit, node))


def delete(w: StatementWriter, node: R.DeleteStmt) -> None:
    """DELETE within a routine."""
    _change(w, "delete", node, write_delete(w.unit, node))


def merge(w: StatementWriter, node: R.MergeStmt) -> None:
    """MERGE within a routine."""
    _change(w, "merge", node, write_merge(w.unit, node))


def instead(w: StatementWriter, node: R.InsteadStmt) -> None:
    """A change of a view: its triggers do it, row by row."""
    record(w, node.event, node, (), True)
    if w.recording:
        w.line("mark = len(s.log)")
    w.line("if not s.active: s.begin()")
    rows = write_rows(w, node.query)
    view = w.unit.constant(node.view, "VIEW")
    w.line(f"count = run_instead(s, d, {view}, {node.event!r}, {rows}, {node.width})")
    if w.recording:
        w.line("E(count); E(s.log[mark:])")


def truncate(w: StatementWriter, node: R.TruncateStmt) -> None:
    """TRUNCATE TABLE."""
    record(w, "truncate", node)
    w.line(f"truncate(s, d, {w.unit.table(node.table)}, {node.restart})")


def _change(w: StatementWriter, verb: str, node: R.Stmt, written: tuple[str, list[R.Expr]]) -> None:
    name, free = written
    call = f"{name}(s, d{''.join(f', {w.value(e)}' for e in free)})"
    record(w, verb, node, (), True)
    if w.recording:
        w.line("mark = len(s.log)")
    w.line(f"count = {call}")
    if w.recording:
        w.line("E(count); E(s.log[mark:])")
    certain = isinstance(node, R.InsertStmt) and (node.query is None or isinstance(node.query.body, R.Rows))
    if not certain and (w.diagnoses or handles_completion(w, "02000")):
        with w.function.indented("if not count:"):
            no_data(w, f"{verb.upper()} found no row")
