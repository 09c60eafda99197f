"""RANK, DENSE_RANK, PERCENT_RANK and CUME_DIST with WITHIN GROUP: the place that a row which is not there would have.

Each is told by COUNT over the rows that would come before it (ISO/IEC 9075-2 clause 10.9).
"""

from __future__ import annotations

from functools import partial, reduce

from glimb.lang import tree

DOUBLE = tree.TypeName("double")


def place_of(name: str, node: tree.FunctionCall) -> tree.Expression:
    """The call of `name` as an expression of COUNTs; it has as many arguments as sort keys."""
    span = node.span
    row = tree.RowValue(tuple(k.value for k in node.order), span=span)
    pairs = list(zip(node.order, (a.value for a in node.arguments), strict=True))
    before = _before(pairs)
    all_rows = _count(node, None)
    number = partial(tree.Literal, "integer", span=span)
    if name == "rank":
        return _binary("+", _count(node, before), number("1"))
    if name == "dense_rank":
        return _binary("+", _count(node, before, row), number("1"))
    if name == "percent_rank":
        rows = tree.FunctionCall(("nullif",), (_argument(all_rows), _argument(number("0"))), span=span)
        share = _binary("/", tree.Cast(_count(node, before), DOUBLE, span=span), rows)
        return tree.FunctionCall(("coalesce",), (_argument(share), _argument(number("0"))), span=span)
    same = [_same(key, value) for key, value in pairs]
    up_to = tree.Logical("or", before, reduce(partial(_logical, "and"), same), span=span)
    places = tree.Cast(_binary("+", _count(node, up_to), number("1")), DOUBLE, span=span)
    return _binary("/", places, _binary("+", all_rows, number("1")))


def _before(pairs: list[tuple[tree.SortKey, tree.Expression]]) -> tree.Expression:
    """Whether a row of the group comes before the row of the arguments: by its first key, or by a later one."""
    key, value = pairs[0]
    left, span = key.value, value.span
    first: tree.Expression = tree.Comparison(">" if key.descending else "<", left, value, span=span)
    nulls_first = key.nulls == "first" if key.nulls else key.descending
    one_is_null = (tree.IsNull(left, not nulls_first, span=span), tree.IsNull(value, nulls_first, span=span))
    first = _logical("or", first, _logical("and", *one_is_null))
    return first if len(pairs) == 1 else _logical("or", first, _logical("and", _same(key, value), _before(pairs[1:])))


def _same(key: tree.SortKey, value: tree.Expression) -> tree.Expression:
    return tree.IsDistinct(key.value, value, True, span=value.span)


def _count(
    node: tree.FunctionCall, condition: tree.Expression | None, of: tree.Expression | None = None
) -> tree.Expression:
    """COUNT(*), or COUNT(DISTINCT of), of the rows that meet the condition and the call's own FILTER."""
    conditions = [c for c in (node.where, condition) if c is not None]
    where = reduce(partial(_logical, "and"), conditions) if conditions else None
    counted = _argument(of or tree.Star(span=node.span))
    return tree.FunctionCall(("count",), (counted,), of is not None, where, span=node.span)


def _argument(value: tree.Expression) -> tree.Argument:
    return tree.Argument(value, span=value.span)


def _binary(sign: str, left: tree.Expression, right: tree.Expression) -> tree.Expression:
    return tree.Binary(sign, left, right, span=left.span)


def _logical(sign: str, left: tree.Expression, right: tree.Expression) -> tree.Expression:
    return tree.Logical(sign, left, right, span=left.span)
