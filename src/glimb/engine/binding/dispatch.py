"""The entry for every kind of expression and statement: what binds it is looked up by its class."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.lang import tree
from glimb.lang.node import replace

PREDICATES = (
    tree.Comparison,
    tree.IsNull,
    tree.IsDistinct,
    tree.Between,
    tree.InList,
    tree.InQuery,
    tree.Quantified,
    tree.Like,
    tree.Similar,
    tree.Overlaps,
    tree.Exists,
    tree.Unique,
)
"""Conditions that are made of no others (ISO/IEC 9075-2 clause 8)."""
CONNECTIVES = (tree.Logical, tree.Not, tree.IsTruth)
"""What makes conditions of others (clause 6.39)."""


def expression(b: Binding, node: tree.Expression) -> R.Expr:
    handler = b.later.expressions.get(type(node))
    if handler is None:
        b.fail("42601", f"{type(node).__name__} cannot stand here", node)
    bound = handler(b, node)
    if isinstance(node, PREDICATES):
        bound = placed(b, bound, node)
    return group_key(b, bound) if b.groups else bound


def group_key(b: Binding, bound: R.Expr) -> R.Expr:
    """An expression that a query is grouped by as what it is in the grouped rows; in a set function it is what it
    is in a single row."""
    for group in reversed(b.groups):
        at = group.place(bound)
        if at >= 0:
            key = group.keys[at]
            if group.hidden:
                return replace(bound, nullable=key.nullable)
            return R.Column(key.type, key.nullable, group.number, at, "")
    return bound


def bind_condition(b: Binding, node: tree.Expression, where: str) -> R.Expr:
    """A search condition: an expression of type BOOLEAN."""
    bound = expression(b, node)
    if bound.type.kind not in ("boolean", "null"):
        b.fail("42804", f"{where} needs a condition, this is {bound.type}", node)
    is_atom = not isinstance(node, CONNECTIVES) and not isinstance(bound, R.Const) and bound.place is None
    return placed(b, bound, node) if is_atom else bound


def placed(b: Binding, bound: R.Expr, node: tree.Expression) -> R.Expr:
    """A condition that knows where it stands; of one that is a conjunction, its parts do."""
    place = R.Place(b.source, node.span)
    if not isinstance(bound, R.And):
        return replace(bound, place=place)
    *parts, last = bound.items
    items = (*(replace(part, place=place._replace(part=True)) for part in parts), replace(last, place=place))
    return replace(bound, items=items)


# -- entry points


def bind_statement(b: Binding, node: tree.Statement) -> R.Stmt:
    """Any statement."""
    return b.later.statements[type(node)](b, node)


def statements(b: Binding, nodes: tuple[tree.Statement, ...]) -> tuple[R.Stmt, ...]:
    """Bind each by itself, so that one wrong statement does not hide what is wrong in the others."""
    bound = []
    for node in nodes:
        with b.attempt():
            bound.append(bind_statement(b, node))
    return tuple(bound)
