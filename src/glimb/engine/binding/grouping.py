"""Binding of GROUP BY and of what stands over its groups (ISO/IEC 9075-2 clause 7.13)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.dependencies import determined
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.scope import GroupKeys, QueryScope
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite, walk
from glimb.lang.problem import Problem, ProblemError


def no_grouping(b: Binding, items: list[R.Expr], scope: QueryScope) -> None:
    """GROUPING where nothing is grouped."""
    for call in walk(tuple(items)):
        if isinstance(call, R.GroupingCall) and call.owner == scope.number:
            b.fail("42803", "GROUPING takes columns of GROUP BY", call)


# -- grouping


def bind_grouping(
    b: Binding, node: tree.Select, scope: QueryScope
) -> tuple[GroupKeys | None, tuple[tuple[int, ...], ...]]:
    """The keys of GROUP BY, and its grouping sets as positions of keys (clause 7.13); no sets when there is but
    the one of all keys. From here on what is bound is over the groups."""
    if node.group is None:
        return None, ()
    bound, sets = _keys_and_sets(b, node)
    missing = {n for n in range(len(bound)) if any(n not in s for s in sets)} if sets else set()
    if missing:
        places = {(k.source, k.index) for n, k in enumerate(bound) if n in missing and isinstance(k, R.Column)}
        for source in scope.sources:
            for column in source.columns:
                column.nullable = column.nullable or (source.number, column.index) in places
        bound, sets = _keys_and_sets(b, node)
    keys = [replace(k, nullable=True) if n in missing else k for n, k in enumerate(bound)]
    if sets:
        keys.append(R.SetNumber(T.INTEGER, False))
    group = GroupKeys(b.new_source(), bound, keys)
    b.groups.append(group)
    return group, sets


def _keys_and_sets(b: Binding, node: tree.Select) -> tuple[list[R.Expr], tuple[tuple[int, ...], ...]]:
    keys: list[R.Expr] = []
    sets: list[tuple[int, ...]] = [()]
    assert node.group is not None
    for element in node.group:
        sets = [tuple(dict.fromkeys(a + right)) for a in sets for right in _grouping_sets(b, element, keys)]
        if len(sets) > 512:
            b.fail("54001", "more than 512 grouping sets", element)
    if node.distinct_groups:
        sets = list({frozenset(s): s for s in sets}.values())
    if len(sets) == 1 and len(sets[0]) == len(keys):
        return keys, ()
    return keys, tuple(sets)


def _grouping_sets(b: Binding, node: tree.Expression, keys: list[R.Expr]) -> list[tuple[int, ...]]:
    """The sets that one element of GROUP BY stands for; its keys are put into `keys`."""
    if not isinstance(node, tree.Grouping):
        parts = node.items if isinstance(node, tree.RowValue) else (node,)
        return [tuple(_grouping_key(b, p, keys) for p in parts)]
    inner = [_grouping_sets(b, item, keys) for item in node.items]
    if node.kind == "sets":
        return [s for sets in inner for s in sets]
    parts_ = [sets[0] for sets in inner]
    if node.kind == "rollup":
        return [sum(parts_[:n], ()) for n in range(len(parts_), -1, -1)]
    if len(parts_) > 9:
        b.fail("54001", "CUBE of more than 9 columns", node)
    chosen = [[p for n, p in enumerate(parts_) if not mask >> n & 1] for mask in range(1 << len(parts_))]
    return [sum(c, ()) for c in chosen]


def _grouping_key(b: Binding, node: tree.Expression, keys: list[R.Expr]) -> int:
    bound = expression(b, node)
    if isinstance(bound, R.Const):
        b.fail("42803", "a constant is no column to group by", node, "name the column")
    if bound not in keys:
        keys.append(bound)
    return keys.index(bound)


def bind_grouped(b: Binding, select: R.Select, node: tree.Select, scope: QueryScope, group: GroupKeys) -> R.Select:
    """Replace group keys and set functions by columns of the grouped rows; everything else must be one of them.
    A column that depends on grouped ones goes along (T301)."""
    number, keys = group.number, group.keys
    aggregates = list(select.aggregates)
    own = {s.number for s in scope.sources}
    dependent = determined(select, keys) if not select.sets else set()

    def change(part: Node) -> Node | None:
        at = group.place(part) if isinstance(part, R.Expr) else -1
        if isinstance(part, R.Expr) and at >= 0:
            return R.Column(part.type, keys[at].nullable, number, at, "")
        if isinstance(part, R.GroupingCall):
            return _grouping_value(b, part, group, select.sets) if part.owner == scope.number else part
        if isinstance(part, R.Aggregate) and part in aggregates:
            return R.Column(part.type, part.nullable, number, len(keys) + aggregates.index(part), "")
        if isinstance(part, R.Column) and part.source in own:
            if (part.source, part.index) not in dependent:
                raise _NotGrouped(part)
            any_value = R.Aggregate(part.type, part.nullable, "any_value", part, False, None, owner=scope.number)
            if any_value not in aggregates:
                aggregates.append(any_value)
            return R.Column(part.type, part.nullable, number, len(keys) + aggregates.index(any_value), "")
        return None

    try:
        items = rewrite(select.items, change)
        having = rewrite(select.having, change) if select.having is not None else None
    except _NotGrouped as problem:
        name = problem.column.name
        at = next(
            (r for r in walk((node.items, node.having)) if isinstance(r, tree.Reference) and r.parts[-1] == name),
            node,
        )
        what = "is not in GROUP BY" if node.group is not None else "stands beside a set function, without GROUP BY"
        b.fail("42803", f"{name} {what}", at, f"group by {name}, or use a set function of it")
    return replace(select, items=items, having=having, aggregates=tuple(aggregates), group_source=number)


def _grouping_value(b: Binding, call: R.GroupingCall, group: GroupKeys, sets: tuple[tuple[int, ...], ...]) -> R.Expr:
    """GROUPING(a, b): for each argument 1 where it is not grouped, read as binary digits; looked up by set."""
    places = [group.place(a) for a in call.arguments]
    if min(places) < 0:
        raise ProblemError(Problem("42803", "GROUPING takes columns of GROUP BY", call.span, "", b.source))
    values = [sum((p not in s) << n for n, p in enumerate(reversed(places))) for s in sets] or [0]
    which = R.Column(T.INTEGER, False, group.number, len(group.keys) - 1, "") if sets else R.Const(T.INTEGER, False, 0)
    return R.Strict(T.INTEGER, False, "picked", (which,), (tuple(values),))


class _NotGrouped(Exception):
    def __init__(self, column: R.Column) -> None:
        self.column = column
