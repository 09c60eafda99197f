"""Host variables, `:name` (9075-2 clauses 5.4 and 6.4): values from outside that a statement is given and gives back.

They stand only in a statement by itself, not in what is kept (a routine, a view, a default). A target gets the type of
what it is given; within a block it keeps the type that it has, so that what is read behind it fits.
"""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.outside import Outside
from glimb.engine.values.types import CLOB, Type
from glimb.lang import tree
from glimb.lang.problem import nearest


def named_value(b: Binding, name: str) -> R.Expr | None:
    """A value from outside that is named plainly."""
    outside = b.outside
    if outside is None or name not in outside.named:
        return None
    return R.Variable(outside.named[name], True, _local(b, outside, name), name)


def is_unknown(b: Binding, node: tree.Node) -> bool:
    """Whether this is a host variable that has no value yet: it can only be given one."""
    return isinstance(node, tree.HostVariable) and b.outside is not None and node.name not in b.outside.types


def host_variable(b: Binding, node: tree.HostVariable) -> R.Expr:
    """The value of a host variable; 42703 for one that has been given none."""
    outside = _outside(b, node)
    type_ = outside.types.get(node.name)
    if type_ is None:
        known = [f":{name}" for name in outside.types]
        hint = nearest(f":{node.name}", known) or f"--# let {node.name} = ... gives it one"
        b.fail("42703", f"the host variable :{node.name} has no value", node, hint)
    return R.Variable(type_, True, _local(b, outside, node.name), f":{node.name}")


def host_target(b: Binding, node: tree.HostVariable, type_: Type | None) -> R.Target:
    """A host variable that is given a value of a type (None: not known before it runs)."""
    outside = _outside(b, node)
    known = outside.types.get(node.name)
    in_block = b.scope is not None
    if type_ is None or type_.kind == "null" or (in_block and known is not None):
        type_ = known or type_
    if in_block and type_ is not None and type_.kind in ("char", "varchar"):
        type_ = CLOB  # a text may become longer
    if type_ is None:
        b.fail("42703", f"what type :{node.name} has is not known here", node, f"--# let {node.name} = ... tells it")
    outside.types[node.name] = type_
    # Of a single statement what is read has the old type, and stays when nothing arrives: that is another local.
    local = _local(b, outside, node.name) if in_block else b.local(node.name, "g")
    target = outside.given[node.name] = R.Target(local, f":{node.name}", type_)
    return target


def _outside(b: Binding, node: tree.HostVariable) -> Outside:
    if b.outside is None:
        hint = "a parameter or a variable can" if b.routine is not None else ""
        b.fail("42601", f"a host variable (:{node.name}) cannot stand in what is kept", node, hint)
    return b.outside


def _local(b: Binding, outside: Outside, name: str) -> str:
    """The local in which a variable is, or comes back."""
    found = outside.locals.get(name)
    if found is None:
        found = outside.locals[name] = b.local(name, "h")
        b.may_be_null.add(found)
    return found
