"""What is assigned to: variables, their fields and elements (ISO/IEC 9075-4 clause 13.5)."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.hosts import host_target
from glimb.engine.binding.queries import bind_query
from glimb.engine.binding.scope import Scope, VariableScope, suggest
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest


class Place(NamedTuple):
    """What a value is assigned to: the variable, the type that the value takes on its way, what to call it, and what
    then goes to the variable."""

    target: R.Target
    type: Type
    name: str
    whole: Callable[[R.Expr], R.Expr]

    def inside(self, type_: Type, name: str, within: Callable[[R.Expr], R.Expr]) -> Place:
        """A part of what is here: `within` gives what is here with a value as this part."""
        return Place(self.target, type_, name, lambda value: self.whole(within(value)))


NULL = tree.Literal("null", "")


# -- variables as targets


def bind_target(b: Binding, node: tree.Reference, type_: Type | None = None) -> R.Target:
    """What is assigned to; `type_` is that of what it will be given, where that is known."""
    if isinstance(node, tree.HostVariable):
        return host_target(b, node, type_)
    scope: Scope | None = b.scope
    while scope is not None:
        found = scope.find(node.parts)
        if found and isinstance(found[0], R.Variable):
            variable = found[0]
            if isinstance(scope, VariableScope) and variable.name in scope.readonly:
                hint = "" if variable.type.kind == "row" else "declare a variable, and set that"
                b.fail("42807", f"{variable.name} can only be read here", node, hint)
            return R.Target(variable.local, variable.name, variable.type)
        scope = scope.parent
    name = ".".join(node.parts)
    b.fail("42703", f"there is no variable {name} to assign to", node, suggest(b.scope, node.parts))


def assigned(b: Binding, target: R.Target, value: R.Expr) -> None:
    """Note that a variable may become NULL."""
    b.assignments.append((target.local, value))


def bind_place(b: Binding, node: tree.Expression, given: Type | None = None) -> Place:
    """A variable, a field or an element to assign to (clause 14.15), or one within another, which is given a value of a
    type."""
    if isinstance(node, tree.Element):
        outer, array = bind_place(b, node.array), expression(b, node.array)
        if outer.type.kind != "array":
            b.fail("42804", f"{outer.name} is {outer.type}, it has no elements", node)
        at = assign(b, expression(b, node.position), T.INTEGER, node.position, "the position")
        type_, size = outer.type, (outer.type.size,)
        return outer.inside(
            type_.parts[0], "the element", lambda v: R.Loose(type_, False, "with_element", (array, at, v), size)
        )
    if not isinstance(node, tree.Field):
        if not isinstance(node, tree.Reference):
            b.fail("42804", "only variables and parts of them can be assigned to", node)
        prefixes = (node.parts[:length] for length in range(1, len(node.parts)))
        if _variable_named(b, node.parts) is not None or not any(_variable_named(b, parts) for parts in prefixes):
            target = bind_target(b, node, given)
            return Place(target, target.type, target.name, lambda v: v)
        node = tree.Field(replace(node, parts=node.parts[:-1]), node.parts[-1], span=node.span)
    outer, row, name = bind_place(b, node.operand), expression(b, node.operand), node.name
    type_ = outer.type
    if type_.kind != "row":
        b.fail("42804", f"{outer.name} is {type_}, it has no fields", node)
    if name not in type_.names:
        b.fail("42703", f"this row has no field {name}", node, nearest(name, type_.names))
    number = type_.names.index(name)
    where = (number, len(type_.parts))
    return outer.inside(type_.parts[number], name, lambda v: R.Loose(type_, False, "with_field", (row, v), where))


def receive(b: Binding, node: tree.Target, type_: Type, nullable: bool) -> R.Receive:
    """A target that takes a value which arrives in a local."""
    place, arriving = bind_place(b, node, type_), _arriving(b, type_, nullable)
    value = place.whole(assign(b, arriving, place.type, node, place.name))
    assigned(b, place.target, value)
    return R.Receive(arriving.local, place.target, value)


def _arriving(b: Binding, type_: Type, nullable: bool) -> R.Variable:
    """A local in which a value arrives."""
    b.locals += 1
    return R.Variable(type_, nullable, f"in{b.locals}", "")


def bind_receives(
    b: Binding, targets: tuple[tree.Target, ...], query: R.Query, node: tree.Node
) -> tuple[R.Receive, ...]:
    """How the columns of a query are assigned; those that are not a row themselves may go to a row together."""
    if len(targets) == 1 and [c.type.kind for c in query.columns] != ["row"]:
        place = bind_place(b, targets[0], query.columns[0].type)
        if place.type.kind == "row":
            return _receive_row(b, place, query, targets[0])
    if len(targets) != len(query.columns):
        b.fail("42601", f"{len(query.columns)} columns for {len(targets)} variables", node)
    return tuple(receive(b, t, c.type, c.nullable) for t, c in zip(targets, query.columns, strict=True))


def _receive_row(b: Binding, place: Place, query: R.Query, node: tree.Node) -> tuple[R.Receive, ...]:
    parts = place.type.parts
    if len(parts) != len(query.columns):
        b.fail("42601", f"{len(query.columns)} columns for a row of {len(parts)} fields", node)
    arriving = [_arriving(b, c.type, c.nullable) for c in query.columns]
    fields = zip(arriving, parts, place.type.names, strict=True)
    row = R.Tuple(place.type, False, tuple(assign(b, a, t, node, n) for a, t, n in fields))
    value = place.whole(row)
    assigned(b, place.target, value)
    return (
        *(R.Receive(a.local, None, a) for a in arriving[:-1]),
        R.Receive(arriving[-1].local, place.target, value),
    )


def select_into(b: Binding, node: tree.SelectInto) -> R.Stmt:
    query = bind_query(b, node.query)
    return R.SelectIntoStmt(query, bind_receives(b, node.targets, query, node), False, span=node.span)


def _variable_named(b: Binding, parts: tree.Parts) -> R.Variable | None:
    scope = b.scope
    while scope is not None:
        found = scope.find(parts)
        if found and isinstance(found[0], R.Variable):
            return found[0]
        scope = scope.parent
    return None


def set_variable(b: Binding, node: tree.SetVariable) -> R.Stmt:
    if isinstance(node.value, tree.Subquery):
        query = bind_query(b, node.value.query)
        if len(node.targets) > 1 or len(query.columns) > 1:
            nullable = tuple(R.Output(c.name, c.type, True) for c in query.columns)
            received = bind_receives(b, node.targets, replace(query, columns=nullable), node)
            return R.SelectIntoStmt(query, received, True, span=node.span)
    if len(node.targets) > 1:
        if not isinstance(node.value, tree.RowValue) or len(node.value.items) != len(node.targets):
            b.fail("42601", f"{len(node.targets)} variables need as many values", node)
        nodes = node.value.items
    else:
        nodes = (node.value,)
    given = [_given_first(b, t, v) for t, v in zip(node.targets, nodes, strict=True)]
    places = tuple(
        bind_place(b, t, g.type if g is not None else None) for t, g in zip(node.targets, given, strict=True)
    )
    targets = tuple(p.target for p in places)
    if len(set(targets)) < len(targets):  # parts of one variable: all values are there before the first is put in
        row = tree.Query(tree.Values((nodes,), span=node.span), span=node.span)
        return set_variable(b, replace(node, value=tree.Subquery(row, span=node.span)))
    values = []
    for place, value_node, first in zip(places, nodes, given, strict=True):
        with b.clause("in SET"):
            bound = first or expression(b, value_node)
            value = place.whole(assign(b, bound, place.type, value_node, place.name))
        assigned(b, place.target, value)
        values.append(value)
    return R.SetStmt(targets, tuple(values), span=node.span)


def _given_first(b: Binding, target: tree.Target, value: tree.Expression) -> R.Expr | None:
    """What a host variable is set to: its type is wanted before the variable takes it."""
    if not isinstance(target, tree.HostVariable):
        return None
    with b.clause("in SET"):
        return expression(b, value)


def declare(
    b: Binding, scope: VariableScope, name: str, type_: Type, node: tree.Node, nullable: bool = True
) -> R.Target:
    if name in scope.variables:
        b.fail("42701", f"{name} is declared twice here", node)
    local = b.local(name)
    scope.variables[name] = R.Variable(type_, nullable, local, name)
    return R.Target(local, name, type_)
