"""Binding of plans, SIGNAL and GET DIAGNOSTICS, and of what ends transactions."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.dispatch import bind_statement, expression
from glimb.engine.binding.routines import named_condition
from glimb.engine.binding.statements import transaction
from glimb.engine.binding.targets import receive
from glimb.engine.values import types as T
from glimb.lang import tree

DIAGNOSTICS_TYPES = {
    "transactions_committed": T.INTEGER,
    "transactions_rolled_back": T.INTEGER,
    "transaction_active": T.INTEGER,
    "command_function_code": T.INTEGER,
    "row_count": T.BIGINT,
    "number": T.INTEGER,
    "condition_number": T.INTEGER,
    "message_length": T.INTEGER,
    "message_octet_length": T.INTEGER,
    "parameter_ordinal_position": T.INTEGER,
    "dynamic_function_code": T.INTEGER,
}
MESSAGE = T.varchar(4000)


def schema_statement(b: Binding, node: tree.Statement) -> R.Stmt:
    """CREATE, ALTER, DROP: bound when they are carried out."""
    b.effects.writes = True
    b.does(3, node)
    return R.SchemaStmt(node, b.source[node.span], span=node.span)


# -- plans


def explain(b: Binding, node: tree.Explain) -> R.Stmt:
    """EXPLAIN of a statement that stands alone: its steps with true counts."""
    if b.scope is not None:
        b.fail("42612", "EXPLAIN stands alone", node)
    bound = bind_statement(b, node.statement)
    if not isinstance(bound, R.QueryStmt | R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt):
        b.fail("42612", "EXPLAIN takes a query, INSERT, UPDATE, DELETE or MERGE", node)
    return R.ExplainStmt(bound, span=node.span)


# -- conditions


def signal(b: Binding, node: tree.Signal) -> R.Stmt:
    """SIGNAL and RESIGNAL (9075-4 clauses 16.1 and 16.2)."""
    state = node.sqlstate
    if node.condition:
        state = named_condition(b, node.condition, node) or "45000"
    items = []
    for name, value_node in node.items:
        value = expression(b, value_node)
        if value.type.family not in ("text", "null"):
            b.fail("42804", f"{name.upper()} is a text, this is {value.type}", value_node, "CAST(... AS VARCHAR(100))")
        items.append((name, value))
    return R.SignalStmt(node.again, state, node.condition, tuple(items), span=node.span)


def get_diagnostics(b: Binding, node: tree.GetDiagnostics) -> R.Stmt:
    """GET DIAGNOSTICS (9075-2 clause 23.1)."""
    if node.all is not None:
        everything = receive(b, node.all, MESSAGE, True)
        return R.DiagnosticsStmt((), _condition_number(b, node), node.stacked, everything, node.part, span=node.span)
    items = []
    for target, name in node.items:
        items.append((receive(b, target, DIAGNOSTICS_TYPES.get(name, MESSAGE), True), name))
    return R.DiagnosticsStmt(tuple(items), _condition_number(b, node), node.stacked, span=node.span)


def _condition_number(b: Binding, node: tree.GetDiagnostics) -> R.Expr | None:
    number = expression(b, node.condition) if node.condition is not None else None
    if number is not None and number.type.family not in ("exact", "null"):
        b.fail("42804", "the number of a condition is a whole number", node)
    return number


def commit_or_rollback(b: Binding, node: tree.Commit | tree.Rollback) -> R.Stmt:
    """COMMIT and ROLLBACK, which may stand in no function and no ATOMIC block (clauses 17.6 and 17.7)."""
    ends = not (isinstance(node, tree.Rollback) and node.savepoint)
    if ends and b.atomic_depth:
        b.fail("42612", "a transaction may not end inside an ATOMIC block", node)
    if ends and b.routine is not None and b.routine.kind == "function":
        b.fail("42612", "a function may not end a transaction", node)
    return transaction(b, node)
