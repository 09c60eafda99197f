"""Functional dependencies: which columns have one value in each group of rows, given that others have (T301).

The rules are those of ISO/IEC 9075-2 clause 4.26: keys of base tables determine their rows, equalities carry over, a
query hands on what holds inside it.
"""

from __future__ import annotations

from collections.abc import Iterable

from glimb.engine import resolved as R
from glimb.engine.resolved.relations import conjuncts, names, sources_of
from glimb.lang.node import walk

Column = tuple[int, int]
"""A row source and the position of a column in it."""


def determined(select: R.Select, keys: Iterable[R.Expr]) -> set[Column]:
    """Columns of a query's FROM that have one value wherever the keys have. Without keys there may be no row at all."""
    known = {(k.source, k.index) for k in keys if isinstance(k, R.Column)}
    if not known:
        return known
    conditions = conjuncts(select.where) + _always_true(select.relation)
    size = -1
    while size < len(known):
        size = len(known)
        for condition in conditions:
            known |= _by_equality(condition, known)
        known |= _by_relation(select.relation, known)
    return known


def _always_true(relation: R.Relation | None) -> list[R.Expr]:
    """The conditions of joins that every row meets."""
    if not isinstance(relation, R.JoinRows) or relation.kind == "full":
        return []
    if relation.kind == "left":
        return _always_true(relation.left)
    return conjuncts(relation.condition) + _always_true(relation.left) + _always_true(relation.right)


def _by_equality(condition: R.Expr, known: set[Column]) -> set[Column]:
    """What `column = value` adds: the value is fixed, or a column that is known."""
    found = set()
    if isinstance(condition, R.Compare) and condition.sign == "=":
        for column, value in ((condition.left, condition.right), (condition.right, condition.left)):
            if isinstance(column, R.Column) and _is_known(value, known):
                found.add((column.source, column.index))
    return found


def _is_known(value: R.Expr, known: set[Column]) -> bool:
    """Whether a value is the same wherever the known columns are."""
    if isinstance(value, R.Column):
        return (value.source, value.index) in known
    return isinstance(value, R.Const | R.Variable)


def _by_relation(relation: R.Relation | None, known: set[Column]) -> set[Column]:
    if isinstance(relation, R.JoinRows):
        found = _by_relation(relation.left, known) | _by_relation(relation.right, known)
        return found | (_by_left_join(relation, known) if relation.kind == "left" else set())
    if isinstance(relation, R.Scan):
        table, columns = relation.table, {i for s, i in known if s == relation.source}
        for index in table.indexes:
            if index.unique and columns.issuperset(index.columns):
                if all(table.columns[c].not_null for c in index.columns):
                    return {(relation.source, i) for i in range(len(table.columns))}
        return set()
    if isinstance(relation, R.Derived) and not relation.lateral:
        columns = {i for s, i in known if s == relation.source}
        return {(relation.source, i) for i in _by_query(relation.query, columns)}
    return set()


def _by_left_join(join: R.JoinRows, known: set[Column]) -> set[Column]:
    """When all that the condition names of the left side is known, so is whether a row of the right side fits: what it
    is equal to is that, or NULL in all rows alike."""
    left, right = sources_of(join.left), sources_of(join.right)
    parts = conjuncts(join.condition)
    named = {(n.source, n.index) for p in parts for n in walk(p) if isinstance(n, R.Column) and n.source in left}
    outside = any(names(p) - left - right for p in parts)
    if outside or not named <= known:
        return set()
    return {c for p in parts for c in _by_equality(p, known) if c[0] in right}


def _by_query(query: R.Query, columns: set[int]) -> set[int]:
    """Columns of a query's result that the given ones determine."""
    body = query.body
    if not isinstance(body, R.Select) or body.windows or body.sets:
        return set()
    items = body.items[: len(query.columns)]
    if body.grouped:
        chosen = (item for n, item in enumerate(items) if n in columns)
        positions = {i.index for i in chosen if isinstance(i, R.Column) and i.source == body.group_source}
        return set(range(len(items))) if positions.issuperset(range(len(body.keys))) else set()
    inner = determined(body, [item for n, item in enumerate(items) if n in columns])
    return {n for n, item in enumerate(items) if isinstance(item, R.Column) and (item.source, item.index) in inner}
