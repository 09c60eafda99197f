"""Which variables can never be NULL, and what follows for the expressions over them.

A routine is bound with every variable as one that may be NULL. Then it is assumed of all that start with a value that
they never are, and those are left out to which something that may be NULL is assigned, until nothing changes; what
remains is written into the resolved tree.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from glimb.engine import resolved as R
from glimb.lang.node import Node, replace, walk

GIVES_NULL = frozenset(("part", "element", "substring_similar"))
"""Operations that may give NULL for arguments that are not."""
Assignment = tuple[str, R.Expr]
"""The local of a variable, and what is assigned to it."""


def settled(
    bound: R.Stmt, assignments: list[Assignment], nullable: set[str], known: frozenset[str] = frozenset()
) -> R.Stmt:
    """The same statement, its expressions told which variables are never NULL: those `known`, and of the others none of
    `nullable`, and none to which something that may be NULL is assigned."""
    sure = (_declared(bound) - nullable) | known
    while sure:
        broken = {local for local, value in assignments if local in sure and _settle(value, sure).nullable}
        if not broken:
            break
        sure -= broken
    settled: R.Stmt = _settle(bound, sure) if sure else bound
    return settled


def settled_condition(condition: R.Expr, known: frozenset[str]) -> R.Expr:
    """A condition outside any statement, told which variables are never NULL."""
    settled: R.Expr = _settle(condition, set(known))
    return settled


_INNER = (Node, tuple)


def _declared(bound: R.Stmt) -> set[str]:
    """Variables that start with a value."""
    declares = [n for n in walk(bound, (R.Expr, R.Query)) if isinstance(n, R.Declare)]
    starting = {d.target.local for d in declares}
    return starting - {d.target.local for d in declares if isinstance(d.value, R.Const) and d.value.value is None}


def _settle(thing: Any, sure: set[str]) -> Any:
    """A part of the tree with what follows from the variables that are never NULL, from the leaves up."""
    if isinstance(thing, Node):
        changes = {}
        for name in thing._inner:
            value = getattr(thing, name)
            if isinstance(value, _INNER):
                new = _settle(value, sure)
                if new is not value:
                    changes[name] = new
        node = replace(thing, **changes) if changes else thing
        return replace(node, nullable=False) if _never_null(node, sure, bool(changes)) else node
    if isinstance(thing, tuple):
        items = [_settle(item, sure) for item in thing]
        if any(new is not old for new, old in zip(items, thing, strict=True)):
            return tuple(items) if type(thing) is tuple else type(thing)(*items)
    return thing


def _never_null(node: Node, sure: set[str], has_changed: bool) -> bool:
    """Whether an expression that might have been NULL cannot be: it is a sure variable, or its parts have changed."""
    if not isinstance(node, R.Expr) or not node.nullable:
        return False
    if isinstance(node, R.Variable):
        return node.local in sure
    rule = _RULES.get(type(node)) if has_changed else None
    return rule is not None and not rule(node)


def _any(items: Iterable[R.Expr]) -> bool:
    return any(item.nullable for item in items)


_RULES: dict[type, Callable[[Any], bool]] = {
    R.Arith: lambda e: _any((e.left, e.right)),
    R.Compare: lambda e: _any((e.left, e.right)),
    R.Strict: lambda e: e.operation in GIVES_NULL or _any(e.arguments),
    R.Checked: lambda e: e.operand.nullable,
    R.Convert: lambda e: e.operand.nullable,
    R.And: lambda e: _any(e.items),
    R.Or: lambda e: _any(e.items),
    R.Not: lambda e: e.operand.nullable,
    R.Case: lambda e: e.otherwise is None or e.otherwise.nullable or _any(value for _, value in e.arms),
    R.InList: lambda e: e.operand.nullable or _any(e.items),
    R.Like: lambda e: _any((e.operand, e.pattern)) or (e.escape is not None and e.escape.nullable),
    R.InDomain: lambda e: e.operand.nullable,
    R.Coalesce: lambda e: all(item.nullable for item in e.items),
}
"""Whether an expression may be NULL, by what it is made of."""
