"""Binding of blocks, control statements and routine bodies (ISO/IEC 9075-4 clauses 13 and 14)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.calls import resolve
from glimb.engine.binding.context import Binding
from glimb.engine.binding.control import (
    enclosed,
)
from glimb.engine.binding.conversions import assign, bind_converted
from glimb.engine.binding.dispatch import bind_statement, expression, statements
from glimb.engine.binding.dynamic import (
    cursor_definition,
)
from glimb.engine.binding.queries import bind_query
from glimb.engine.binding.scope import Label, Names, RowScope, VariableScope
from glimb.engine.binding.targets import NULL, assigned, declare, receive
from glimb.engine.catalog.objects import ParameterInfo, Routine
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.problem import nearest
from glimb.lang.spellings import PROCEDURES, spelled


def change_statement(b: Binding, node: tree.Statement) -> R.Stmt:
    """A change within FINAL TABLE, NEW TABLE, OLD TABLE; 42807 for one that an INSTEAD OF trigger does."""
    bound = bind_statement(b, node)
    if not isinstance(bound, R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt):
        b.fail("42807", "a view with an INSTEAD OF trigger gives no changed rows", node)
    return bound


# -- simple statements


def query_statement(b: Binding, node: tree.QueryStatement) -> R.Stmt:
    """A query that stands alone."""
    if b.routine is not None or b.scope is not None:
        b.fail("42612", "a query inside a routine or block needs INTO, a cursor or FOR", node)
    return R.QueryStmt(bind_query(b, node.query), span=node.span)


def call_statement(b: Binding, node: tree.Call) -> R.Stmt:
    """CALL (9075-2 clause 15.1): arguments by position or name, OUT values into variables."""
    name = node.name[-1]
    key = b.key("routines", node.name, node)
    if key not in b.catalog.routines:
        if name == "note" and len(node.arguments) == 1:
            return _note(b, node)
        if name == "note":
            told = f"it takes 1 argument, not {len(node.arguments)}"
            b.fail("42884", f"note does not fit: {told}", node, "CALL note(a || ' ' || b)")
        known = [n for n, g in b.catalog.routines.items() if g[0].kind == "procedure"]
        b.fail(
            "42883",
            f"there is no procedure {name}",
            node,
            spelled(name, PROCEDURES) or nearest(name, [*known, "note"]),
        )
    if all(r.kind != "procedure" for r in b.catalog.routines[key]):
        routine = b.catalog.routines[key][0]
        how = f"SELECT * FROM TABLE({name}(...))" if routine.table else f"SELECT {name}(...)"
        b.fail("42809", f"{name} is a {routine.kind_word}, not a procedure", node, how)
    routine, arguments = resolve(b, key, node.arguments, node, "procedure")
    b.effects.writes = True
    positions = _positions_of(b, routine, node)
    receives: list[R.Receive | None] = []
    for number, parameter in enumerate(routine.parameters):
        if parameter.mode == "in":
            continue
        given = positions.get(number)
        receives.append(_out(b, given, parameter, node))
    return R.CallStmt(routine, tuple(arguments), tuple(receives), span=node.span)


def _positions_of(b: Binding, routine: Routine, node: tree.Call) -> dict[int, tree.Argument]:
    """Arguments by the number of their parameter."""
    names = [p.name for p in routine.parameters]
    return {names.index(a.name) if a.name else i: a for i, a in enumerate(node.arguments)}


def _out(b: Binding, given: tree.Argument | None, parameter: ParameterInfo, node: tree.Node) -> R.Receive | None:
    """Where the value of an OUT or INOUT parameter goes: to a variable, or, outside a routine, into the outcome:
    then `?` (or NULL) stands for it, and the value that an INOUT parameter begins with."""
    value, name, type_ = given.value if given else None, parameter.name, parameter.type
    if isinstance(value, tree.HostVariable) or (isinstance(value, tree.Target) and b.scope is not None):
        return receive(b, value, type_, True)
    plain = (
        value is None
        or isinstance(value, tree.Placeholder | tree.DefaultValue)
        or value == NULL
        or parameter.mode == "inout"
    )
    if b.scope is None and plain and not isinstance(value, tree.Reference):
        return None
    hint = "declare a variable for it" if b.scope is not None else "write ? or :name for it"
    b.fail("42804", f"{name} is an OUT parameter and needs a variable", given or node, hint)


def _note(b: Binding, node: tree.Call) -> R.Stmt:
    value = expression(b, node.arguments[0].value)
    if value.type.kind != "null" and value.type.family != "text":
        value = bind_converted(b, value, T.CLOB, explicit=True)
    return R.NoteStmt(value, span=node.span)


def waymark(b: Binding, node: tree.Waymark) -> R.Stmt:
    """A waymark looks at the variables in reach, of each name the innermost; the rows of a trigger have their names."""
    seen: dict[str, R.Variable] = {}
    scope = b.scope
    while scope is not None:
        if isinstance(scope, VariableScope):
            row = f"{scope.label}." if isinstance(scope, RowScope) else ""
            seen = {**{f"{row}{name}": variable for name, variable in scope.variables.items()}, **seen}
        scope = scope.parent
    return R.WaymarkStmt(node.name, tuple(seen), tuple(seen.values()), span=node.span)


# -- blocks


def block(b: Binding, node: tree.Block) -> R.Stmt:
    """BEGIN ... END (9075-4 clause 13.1): declarations, handlers, statements."""
    scope, names, depth = VariableScope(b.scope, node.label), Names(b.names), b.block_depth + 1
    label = Label(node.label, "block", b.local(node.label, "left"))
    declares: list[R.Declare] = []
    handlers: list[tree.DeclareHandler] = []
    inside = b.having(scope=scope, names=names, block_depth=depth, atomic_depth=b.atomic_depth + node.atomic)
    with inside, enclosed(b, label, node):
        for declaration in node.declarations:
            with b.attempt():
                _declaration(b, declaration, scope, names, declares, handlers)
        bound_handlers = _handlers(b, handlers, depth, node.atomic)
        body = statements(b, node.body)
    cursors = tuple(c for c in names.cursors.values() if c is not None)
    return R.BlockStmt(tuple(declares), cursors, bound_handlers, body, node.atomic, label.local, depth, span=node.span)


def _declaration(
    b: Binding,
    node: tree.Node,
    scope: VariableScope,
    names: Names,
    declares: list[R.Declare],
    handlers: list[tree.DeclareHandler],
) -> None:
    if isinstance(node, tree.DeclareVariable):
        scope.broken.update(n for n in node.names if n not in scope.variables)
        type_ = b.type(node.type)
        for name in node.names:
            value: R.Expr = R.Const(type_, True, None)
            if node.default is not None:
                value = assign(b, expression(b, node.default), type_, node.default, name)
            scope.broken.discard(name)
            target = declare(b, scope, name, type_, node)
            assigned(b, target, value)
            declares.append(R.Declare(target, value, span=node.span))
    elif isinstance(node, tree.DeclareCondition):
        if node.name in names.conditions:
            b.fail("42701", f"condition {node.name} is declared twice here", node)
        names.conditions[node.name] = node.sqlstate
    elif isinstance(node, tree.DeclareCursor):
        if node.name in names.cursors:
            b.fail("42701", f"cursor {node.name} is declared twice here", node)
        names.cursors[node.name] = None
        names.cursors[node.name] = cursor_definition(b, node)
    else:
        assert isinstance(node, tree.DeclareHandler)
        handlers.append(node)


def _handlers(b: Binding, nodes: list[tree.DeclareHandler], depth: int, atomic: bool) -> tuple[R.Handler, ...]:
    handlers = []
    taken: set[str] = set()
    for number, node in enumerate(nodes):
        with b.attempt():
            states = tuple(_handled(b, c, node) for c in node.conditions)
            if node.kind == "undo" and not atomic:
                b.fail("42612", "an UNDO handler needs an ATOMIC block", node, "BEGIN ATOMIC")
            if len(set(states)) < len(states):
                b.fail("42710", "this handler names a condition twice", node)
            double = taken & set(states)
            if double:
                b.fail("42710", f"two handlers of this block handle {', '.join(sorted(double))}", node)
            taken |= set(states)
            action = bind_statement(b, node.action)
            handlers.append(R.Handler(node.kind, states, action, depth * 10_000 + number, span=node.span))
    return tuple(handlers)


def _handled(b: Binding, condition: str, node: tree.Node) -> str:
    """What a handler handles, as matched at run time."""
    general = {"sqlexception": "exception", "sqlwarning": "warning", "not found": "02"}
    if condition in general:
        return general[condition]
    if len(condition) == 5 and (condition.isupper() or condition.isdigit()) and condition == condition.upper():
        return condition
    return named_condition(b, condition, node) or f"name:{condition}"


def named_condition(b: Binding, name: str, node: tree.Node) -> str:
    """The state of a declared condition, empty when it has none; 42704 when it is not declared."""
    state = b.names.condition(name) if b.names is not None else None
    if state is None:
        known = [n for names in (b.names.around() if b.names is not None else ()) for n in names.conditions]
        b.fail("42704", f"there is no condition {name}", node, nearest(name, known) or f"DECLARE {name} CONDITION")
    return state
