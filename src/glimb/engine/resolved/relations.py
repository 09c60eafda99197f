"""Questions to bound relations and conditions: which sources, which names, which conjuncts."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.lang.node import Node, holds, walk


def conjuncts(condition: R.Expr | None) -> list[R.Expr]:
    """A condition as a list of conditions that must all be true."""
    if condition is None:
        return []
    return [c for i in condition.items for c in conjuncts(i)] if isinstance(condition, R.And) else [condition]


def sources_of(relation: R.Relation) -> set[int]:
    """Row sources that a relation binds."""
    if isinstance(relation, R.JoinRows):
        return sources_of(relation.left) | sources_of(relation.right)
    return {relation.source}  # type: ignore[attr-defined]


def names(e: Node) -> set[int]:
    """Row sources that an expression names, in its subqueries too."""
    return {n.source for n in walk(e) if isinstance(n, R.Column)}


def is_volatile(node: Node) -> bool:
    """Whether running this may change data or wait, so that it must not be remembered nor run beside a live scan."""
    if holds(node, R.ChangedRows, R.NextValue):
        return True
    calls = walk(node) if holds(node, R.RoutineCall, R.CallRows) else ()
    return any(isinstance(n, R.RoutineCall | R.CallRows) and _may_write(n.routine) for n in calls)


def _may_write(routine: Routine) -> bool:
    facts = routine.facts or routine.bind()
    return facts is None or bool(facts.writes)
