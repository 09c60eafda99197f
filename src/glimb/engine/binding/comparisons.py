"""Binding of predicates: comparisons of values and rows, BETWEEN, IN, LIKE, quantifiers (ISO/IEC 9075-2 clause 8)."""

from __future__ import annotations

from collections.abc import Callable

from glimb.engine import resolved as R
from glimb.engine.binding.arithmetic import datetime_arithmetic
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import constant, derived, represent, scale_of, shared, unified
from glimb.engine.binding.dispatch import expression
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace


def compare(b: Binding, sign: str, left: R.Expr, right: R.Expr, node: tree.Node) -> R.Expr:
    """A comparison over one representation; what cannot be compared is refused. Rows are compared part by part."""
    if left.type.kind == right.type.kind == "row":
        (left, whole_left), (right, whole_right) = _row_once(b, left), _row_once(b, right)
        return whole_left(whole_right(_compare_rows(b, sign, bind_fields(b, left), bind_fields(b, right), node)))
    padded = _has_char(left.type) or _has_char(right.type)
    left, right = comparable(b, left, right, node)
    nullable = left.nullable or right.nullable
    if left.type.kind == "array":
        if sign not in ("=", "<>"):
            b.fail("42804", f"arrays have no {sign}", node)
        equal = R.Loose(T.BOOLEAN, True, "equal_parts", (left, right), (padded,))
        return equal if sign == "=" else R.Not(T.BOOLEAN, True, equal)
    return R.Compare(T.BOOLEAN, nullable, sign, left, right)


def _row_once(b: Binding, row: R.Expr) -> tuple[R.Expr, Callable[[R.Expr], R.Expr]]:
    """A row whose fields are used one by one, computed once."""
    return (row, lambda body: body) if isinstance(row, R.Tuple) else shared(b, row)


def comparable(b: Binding, left: R.Expr, right: R.Expr, node: tree.Node) -> tuple[R.Expr, R.Expr]:
    """Both sides brought to a type in which they can be compared."""
    type_ = T.common(left.type, right.type)
    if type_ is None:
        b.fail("42804", f"{left.type} cannot be compared with {right.type}", node)
    if type_.family == "text" and "char" in (left.type.kind, right.type.kind):
        return _padded(b, left, right)
    if type_.is_number and type_.family == "exact":
        scale = max(scale_of(left.type), scale_of(right.type))
        type_ = Type("decimal", T.MAX_PRECISION, scale) if scale else type_
        if not scale:
            return left, right
    return represent(b, left, type_), represent(b, right, type_)


def _padded(b: Binding, left: R.Expr, right: R.Expr) -> tuple[R.Expr, R.Expr]:
    """CHAR compares with blanks at the end ignored. A CHAR column stays bare, so that an index can serve it."""
    for first, second, swap in ((left, right, False), (right, left, True)):
        if first.type.kind == "char" and isinstance(first, R.Column):
            size = first.type.size
            if isinstance(second, R.Const) and isinstance(second.value, str):
                other: R.Expr = R.Const(second.type, False, second.value.rstrip(" ").ljust(size))
            elif second.type.kind == "char" and second.type.size == size:
                other = second
            else:
                other = derived(b, second, R.Strict(second.type, second.nullable, "padded_to", (second,), (size,)))
            return (other, first) if swap else (first, other)
    return _stripped(b, left), _stripped(b, right)


def _stripped(b: Binding, bound: R.Expr) -> R.Expr:
    if isinstance(bound, R.Const):
        value = bound.value.rstrip(" ") if bound.value is not None else None
        return R.Const(bound.type, bound.nullable, value)
    return derived(b, bound, R.Strict(bound.type, bound.nullable, "without_padding", (bound,)))


def comparison(b: Binding, node: tree.Comparison) -> R.Expr:
    """A comparison of values or rows (clause 8.2)."""
    if isinstance(node.left, tree.RowValue) or isinstance(node.right, tree.RowValue):
        return _compare_rows(b, node.sign, row_items(b, node.left), row_items(b, node.right), node)
    return compare(b, node.sign, expression(b, node.left), expression(b, node.right), node)


def _compare_rows(b: Binding, sign: str, left: list[R.Expr], right: list[R.Expr], node: tree.Node) -> R.Expr:
    """Row comparison (clause 8.2), as comparisons of their parts."""
    if len(left) != len(right):
        b.fail("42804", f"a row of {len(left)} cannot be compared with a row of {len(right)}", node)
    if sign in ("=", "<>"):
        equal = conjunction(b, [compare(b, "=", a, second, node) for a, second in zip(left, right, strict=True)])
        return equal if sign == "=" else R.Not(T.BOOLEAN, equal.nullable, equal)
    strict = sign[0]
    result = compare(b, sign, left[-1], right[-1], node)
    for a, second in reversed(list(zip(left[:-1], right[:-1], strict=True))):
        below = compare(b, strict, a, second, node)
        same = conjunction(b, [compare(b, "=", a, second, node), result])
        result = R.Or(T.BOOLEAN, below.nullable or same.nullable, (below, same))
    return result


def row_items(b: Binding, node: tree.Expression) -> list[R.Expr]:
    """The values of a row: of a row value, of a subquery that gives one row, or one value alone."""
    if isinstance(node, tree.RowValue):
        return [expression(b, item) for item in node.items]
    if isinstance(node, tree.Subquery):
        query = b.later.bind_query(b, node.query)
        if len(query.columns) == 1:
            return [R.ScalarQuery(query.columns[0].type, True, query)]
        type_ = T.row((c.name, c.type) for c in query.columns)
        return bind_fields(b, R.ScalarQuery(type_, True, query))
    bound = expression(b, node)
    return bind_fields(b, bound) if bound.type.kind == "row" else [bound]


def bind_fields(b: Binding, row: R.Expr) -> list[R.Expr]:
    """The fields of a row value."""
    if isinstance(row, R.Tuple):
        return list(row.items)
    return [R.Strict(t, True, "part", (row,), (n,)) for n, t in enumerate(row.type.parts)]


def conjunction(b: Binding, items: list[R.Expr]) -> R.Expr:
    """AND of several conditions, flat."""
    flat: list[R.Expr] = []
    for item in items:
        flat.extend(item.items if isinstance(item, R.And) else (item,))
    if len(flat) == 1:
        return flat[0]
    return R.And(T.BOOLEAN, any(i.nullable for i in flat), tuple(flat))


def is_distinct(b: Binding, node: tree.IsDistinct) -> R.Expr:
    """IS [NOT] DISTINCT FROM (clause 8.15)."""
    lefts, rights = row_items(b, node.left), row_items(b, node.right)
    if len(lefts) != len(rights):
        b.fail("42804", f"a row of {len(lefts)} cannot be compared with a row of {len(rights)}", node)
    pairs = [comparable(b, a, right, node) for a, right in zip(lefts, rights, strict=True)]
    same = conjunction(b, [R.IsDistinct(T.BOOLEAN, False, a, right, True) for a, right in pairs])
    return same if node.negated else R.Not(T.BOOLEAN, False, same)


def between(b: Binding, node: tree.Between) -> R.Expr:
    """[NOT] BETWEEN [SYMMETRIC] (clause 8.3)."""
    operand, whole = shared(b, expression(b, node.operand))
    low, high = expression(b, node.low), expression(b, node.high)

    def inside(a: R.Expr, right: R.Expr) -> R.Expr:
        return conjunction(b, [compare(b, ">=", operand, a, node), compare(b, "<=", operand, right, node)])

    bound = inside(low, high)
    if node.symmetric:
        other = inside(high, low)
        bound = R.Or(T.BOOLEAN, bound.nullable, (bound, other))
    return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)


def in_list(b: Binding, node: tree.InList) -> R.Expr:
    """[NOT] IN over a list (clause 8.4)."""
    if isinstance(node.operand, tree.RowValue):
        tests = tuple(expression(b, tree.Comparison("=", node.operand, i, span=node.span)) for i in node.items)
        bound: R.Expr = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
        return R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound
    operand, whole = shared(b, expression(b, node.operand))
    items = [expression(b, item) for item in node.items]
    if operand.type.kind in ("row", "array"):
        tests = tuple(compare(b, "=", operand, i, n) for i, n in zip(items, node.items, strict=True))
        bound = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
        return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)
    pairs = [comparable(b, operand, i, n) for i, n in zip(items, node.items, strict=True)]
    if any(left != pairs[0][0] for left, _ in pairs):
        tests = tuple(R.Compare(T.BOOLEAN, a.nullable or second.nullable, "=", a, second) for a, second in pairs)
        bound = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
        return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)
    values = tuple(right for _, right in pairs)
    nullable = operand.nullable or any(v.nullable for v in values)
    return whole(R.InList(T.BOOLEAN, nullable, pairs[0][0], values, node.negated))


def like(b: Binding, node: tree.Like) -> R.Expr:
    """[NOT] LIKE over texts or bytes (clause 8.5)."""
    parts = [expression(b, p) for p in (node.operand, node.pattern)]
    if node.escape is not None:
        parts.append(expression(b, node.escape))
    if {p.type.family for p in parts} <= {"bytes", "null"}:  # clause 8.5, the octet like predicate
        parts = [R.Strict(T.CLOB, p.nullable, "bytes_as_text", (p,)) for p in parts]
    for part in parts:
        if part.type.family not in ("text", "null"):
            b.fail("42804", f"LIKE compares texts, this is {part.type}", node)
    nullable = any(p.nullable for p in parts)
    return R.Like(T.BOOLEAN, nullable, parts[0], parts[1], parts[2] if len(parts) > 2 else None, node.negated)


def similar(b: Binding, node: tree.Similar) -> R.Expr:
    """SIMILAR TO (clause 8.6)."""
    parts = [expression(b, p) for p in (node.operand, node.pattern)]
    parts.append(expression(b, node.escape) if node.escape is not None else constant(b, "", T.varchar(1)))
    for part in parts:
        if part.type.family not in ("text", "null"):
            b.fail("42804", f"SIMILAR TO compares texts, this is {part.type}", node)
    nullable = any(p.nullable for p in parts)
    found = R.Strict(T.BOOLEAN, nullable, "similar", tuple(parts))
    return R.Not(T.BOOLEAN, nullable, found) if node.negated else found


def overlaps(b: Binding, node: tree.Overlaps) -> R.Expr:
    """(start, end) OVERLAPS (start, end), an end perhaps given as a length (clause 8.14)."""
    ends: list[R.Expr] = []
    for side in (node.left, node.right):
        items = row_items(b, side)
        if len(items) != 2:
            b.fail("42601", "OVERLAPS compares two periods: (start, end) OVERLAPS (start, end)", side)
        start, end = items
        if end.type.kind in ("months", "micros"):
            end = datetime_arithmetic(b, tree.Binary("+", side, side, span=side.span), start, end)
        ends += [start, end]
    moments = unified(b, ends, node, "OVERLAPS")
    if moments[0].type.family not in ("date", "time", "timestamp"):
        b.fail("42804", f"OVERLAPS compares periods, not {moments[0].type}", node)
    return R.Loose(T.BOOLEAN, True, "overlaps", tuple(moments))


def one_column(b: Binding, query: R.Query, node: tree.Node, what: str) -> None:
    """42601 unless a subquery gives one column."""
    if len(query.columns) != 1:
        b.fail("42601", f"{what} has one column, this has {len(query.columns)}", node)


def in_query(b: Binding, node: tree.InQuery) -> R.Expr:
    """[NOT] IN over a subquery (clause 8.4), of values or of rows."""
    operands, query = _against(b, node.operand, node.query, "IN", node)
    return _in_rows(b, operands, query, node.negated)


def _in_rows(b: Binding, operands: tuple[R.Expr, ...], query: R.Query, negated: bool) -> R.Expr:
    nullable = any(o.nullable for o in operands) or any(c.nullable for c in query.columns)
    return R.InQuery(T.BOOLEAN, nullable, operands, query, negated)


def _against(
    b: Binding, operand: tree.Expression, node: tree.Query, what: str, place: tree.Node
) -> tuple[tuple[R.Expr, ...], R.Query]:
    """An operand, or the fields of a row, and the columns of a query, pair by pair in one representation."""
    operands, query = row_items(b, operand), b.later.bind_query(b, node)
    over = b.later.bind_over(b, query)
    items = list(over.items)
    if len(items) == 1 and items[0].type.kind == "row":
        items = bind_fields(b, items[0])
    if len(operands) != len(items):
        wanted = f"{len(operands)} value{'s' * (len(operands) != 1)}"
        b.fail("42601", f"{what} compares {wanted} with {len(items)} columns", place)
    pairs = [comparable(b, o, i, place) for o, i in zip(operands, items, strict=True)]
    converted = tuple(right for _, right in pairs)
    if converted != over.items:
        columns = tuple(R.Output("", i.type, i.nullable) for i in converted)
        query = R.Query(replace(over, items=converted), columns, (), (), 0, None, None, False, ())
    return tuple(left for left, _ in pairs), query


def quantified(b: Binding, node: tree.Quantified) -> R.Expr:
    """Clause 8.9. `= ANY` is IN, `<> ALL` is NOT IN."""
    operands, query = _against(b, node.operand, node.query, "a quantified comparison", node)
    if node.sign not in ("=", "<>") and any(o.type.kind == "array" for o in operands):
        b.fail("42804", f"arrays have no {node.sign}", node)
    if (node.sign, node.every) in (("=", False), ("<>", True)):
        return _in_rows(b, operands, query, node.every)
    return R.QuantifiedQuery(T.BOOLEAN, True, node.sign, node.every, operands, query)


def _has_char(type_: Type) -> bool:
    """Whether a type is CHAR, or an array of it."""
    return type_.kind == "char" or (type_.kind == "array" and _has_char(type_.parts[0]))
