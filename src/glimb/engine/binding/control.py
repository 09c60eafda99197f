"""Binding of control statements (ISO/IEC 9075-4 clauses 14.5 to 14.11)."""

from __future__ import annotations

from contextlib import AbstractContextManager

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import bind_condition, expression, statements
from glimb.engine.binding.dynamic import (
    cursor_definition,
)
from glimb.engine.binding.expressions import (
    bind_when,
)
from glimb.engine.binding.queries import bind_over, bind_query
from glimb.engine.binding.scope import Label, Names, VariableScope
from glimb.engine.binding.targets import declare
from glimb.engine.catalog.objects import Routine
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest

# -- control


def if_statement(b: Binding, node: tree.If) -> R.Stmt:
    """IF (9075-4 clause 14.6)."""
    arms = []
    for condition, body in node.arms:
        bound = _guarded_condition(b, condition, "IF")
        arms.append((bound, statements(b, body)))
    return R.IfStmt(tuple(arms), statements(b, node.otherwise or ()), span=node.span)


def _guarded_condition(b: Binding, node: tree.Expression, where: str) -> R.Expr:
    """A condition; when it is wrong, its problem is kept and binding goes on with what follows."""
    with b.attempt(), b.clause(f"in {where}"):
        return bind_condition(b, node, where)
    return R.Const(T.BOOLEAN, True, None)


def case_statement(b: Binding, node: tree.CaseStatement) -> R.Stmt:
    """CASE as a statement (9075-4 clause 14.5); 20000 at run time when no arm applies."""
    operand: R.Expr | None = None
    reference: R.Expr | None = None
    local = ""
    if node.operand is not None:
        operand = expression(b, node.operand)
        local = b.local("case", "k")
        reference = R.Variable(operand.type, operand.nullable, local, "")
    arms = [(bind_when(b, reference, conditions), statements(b, body)) for conditions, body in node.arms]
    otherwise = statements(b, node.otherwise) if node.otherwise is not None else None
    return R.CaseStmt(tuple(arms), otherwise, operand, local, span=node.span)


def enclosed(b: Binding, label: Label, node: tree.Node) -> AbstractContextManager[None]:
    """The statements that are bound in it stand in a block or loop with this label (clause 13.1 of part 4)."""
    if label.name and any(outer.name == label.name for outer in b.labels):
        b.fail("42710", f"a statement around this one has the label {label.name} too", node)
    return b.having(labels=[*b.labels, label])


def loop(b: Binding, node: tree.While | tree.Loop | tree.Repeat) -> R.Stmt:
    """LOOP, WHILE, REPEAT (9075-4 clauses 14.8 to 14.10)."""
    local = b.local(node.label, "again")
    before = _guarded_condition(b, node.condition, "WHILE") if isinstance(node, tree.While) else None
    with enclosed(b, Label(node.label, "loop", local), node):
        body = statements(b, node.body)
    after = _guarded_condition(b, node.until, "UNTIL") if isinstance(node, tree.Repeat) else None
    return R.LoopStmt(before, body, after, node.label, local, span=node.span)


def for_statement(b: Binding, node: tree.For) -> R.Stmt:
    """FOR over a query (9075-4 clause 14.11): its columns are variables that can only be read."""
    cursor, names = None, b.names
    if node.cursor:
        declared = tree.DeclareCursor(node.cursor, node.query, "", node.sensitivity, span=node.span)
        cursor, names = cursor_definition(b, declared), Names(names)
        names.cursors[node.cursor] = cursor
    query = cursor.query if cursor is not None and cursor.query is not None else bind_query(b, node.query)
    scope = VariableScope(b.scope, node.name or node.label)
    targets = tuple(declare(b, scope, c.name, c.type, node, c.nullable) for c in query.columns)
    for column, target in zip(query.columns, targets, strict=True):
        if column.nullable:
            b.may_be_null.add(target.local)
    scope.readonly |= {c.name for c in query.columns}
    local = b.local(node.label, "again")
    with b.having(scope=scope, names=names), enclosed(b, Label(node.label, "loop", local), node):
        body = statements(b, node.body)
    return R.ForStmt(query, targets, body, node.label, local, cursor, span=node.span)


def leave(b: Binding, node: tree.Leave) -> R.Stmt:
    """LEAVE of a block or loop (9075-4 clause 14.7)."""
    label = _label(b, node.label, node)
    return R.LeaveStmt(node.label, label.local, span=node.span)


def iterate(b: Binding, node: tree.Iterate) -> R.Stmt:
    """ITERATE of a loop (9075-4 clause 14.7); 42704 when the label is none of a loop."""
    label = _label(b, node.label, node)
    if label.kind != "loop":
        b.fail("42612", f"ITERATE {node.label} needs a loop, {node.label} is a block", node)
    return R.IterateStmt(node.label, label.local, span=node.span)


def _label(b: Binding, name: str, node: tree.Node) -> Label:
    known = [label.name for label in b.labels if label.name]
    for label in reversed(b.labels):
        if label.name == name:
            return label
    b.fail("42704", f"no enclosing statement has the label {name}", node, nearest(name, known))


def return_statement(b: Binding, node: tree.Return) -> R.Stmt:
    """RETURN (9075-2 clause 15.2): of a value, or of the rows of a table function."""
    routine = b.routine
    if routine is None:
        b.fail("42612", "RETURN stands in a routine", node)
    if routine.kind == "procedure":
        if node.value is not None or node.query is not None:
            b.fail("42601", "a procedure returns no value", node, "use an OUT parameter")
        return R.ReturnStmt(None, None, span=node.span)
    if routine.table:
        return R.ReturnStmt(None, _returned_rows(b, routine, node), span=node.span)
    assert routine.returns is not None
    if node.value is None:
        if node.query is not None:
            value: tree.Expression = tree.Subquery(node.query, span=node.query.span)
        else:
            b.fail("42601", f"RETURN needs a value of type {routine.returns}", node)
    else:
        value = node.value
    bound = assign(b, expression(b, value), routine.returns, value, f"the result of {routine.name}")
    return R.ReturnStmt(bound, None, span=node.span)


def _returned_rows(b: Binding, routine: Routine, node: tree.Return) -> R.Query:
    if node.query is None:
        b.fail("42601", f"{routine.name} returns a table", node, "RETURN TABLE (SELECT ...)")
    query = bind_query(b, node.query, tuple(t for _, t in routine.table))
    if len(query.columns) != len(routine.table):
        b.fail("42601", f"{len(query.columns)} columns returned, {routine.name} has {len(routine.table)}", node)
    over = bind_over(b, query)
    items = tuple(assign(b, i, t, node, f"column {n}") for i, (n, t) in zip(over.items, routine.table, strict=True))
    if items == over.items:
        return query
    columns = tuple(R.Output(n, t, True) for n, t in routine.table)
    return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())
