"""Binding of functions over windows (ISO/IEC 9075-2 clauses 6.10 and 7.15)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.calls import plain_arguments, sort_keys, typed_set_function
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import represent, unified
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.scope import QueryScope
from glimb.engine.values import signatures as F
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest

OFFSETS = {
    **dict.fromkeys(("exact", "approximate"), ("exact", "approximate")),
    **dict.fromkeys(("date", "timestamp"), ("months", "micros")),
    "time": ("micros",),
    "months": ("months",),
    "micros": ("micros",),
}
"""What may be added to a sort key of each family, as the offset of RANGE (clause 7.15)."""


# -- windows


def bind_window(b: Binding, name: str, node: tree.FunctionCall, over: tree.Window) -> R.Expr:
    """A function with OVER (clauses 6.10 and 7.15)."""
    if not b.windows_allowed:
        b.fail("42601", "a window function stands only in a select list or ORDER BY", node)
    number = b.scope.number if isinstance(b.scope, QueryScope) else 0
    star = len(node.arguments) == 1 and isinstance(node.arguments[0].value, tree.Star)
    with b.having(windows_allowed=False):
        arguments = [] if star else plain_arguments(b, node)
        where = bind_condition(b, node.where, "FILTER") if node.where is not None else None
        over = merged_window(b, over)
        partition = tuple(expression(b, e) for e in over.partition)
        order = sort_keys(b, over.order)
        unit, start, end = _frame(b, over, order)
        if unit == "range" and (start[1] is not None or end[1] is not None):
            order, (start, end) = _aligned(b, order, (start, end), node)
    arguments, type_ = _window_arguments(b, name, arguments, star, node)
    if (
        name in F.WINDOW_FUNCTIONS
        and name not in ("row_number", "first_value", "last_value", "nth_value")
        and not order
    ):
        b.fail("42601", f"{name.upper()} needs an order", node, "OVER (ORDER BY ...)")
    if node.order:
        b.fail("0A000", f"{name.upper()} with an order of its own takes no window", node)
    if node.distinct or (where is not None and name in F.WINDOW_FUNCTIONS):
        b.fail("0A000", "DISTINCT and FILTER are not supported in this window function", node)
    if over.exclude and name in F.RANKS | {"ntile", "lag", "lead"}:
        b.fail("42601", f"{name.upper()} takes no frame", node)
    nullable = name not in F.RANKS | {"count", "ntile", "regr_count"}
    return R.WindowCall(
        type_,
        nullable,
        name,
        tuple(arguments),
        where,
        partition,
        order,
        unit,
        start,
        end,
        over.exclude,
        node.nulls == "ignore",
        node.from_last,
        number,
    )


def merged_window(b: Binding, window: tree.Window) -> tree.Window:
    """A window with what it takes from the one it names (clause 7.15): partition always, an order it has not."""
    if not window.name:
        return window
    base = b.named_windows.get(window.name)
    if base is None:
        hint = nearest(window.name, b.named_windows)
        b.fail("42704", f"there is no window {window.name}", window, hint)
    if window.partition or (window.order and base.order):
        what = "PARTITION BY" if window.partition else "an order"
        b.fail("42601", f"{window.name} is defined already, it cannot be given {what}", window)
    if not window.unit and not window.order:
        return base
    if base.unit:
        b.fail("42601", f"{window.name} has a frame, it cannot be changed", window)
    return replace(window, partition=base.partition, order=window.order or base.order, name="")


def _window_arguments(
    b: Binding, name: str, arguments: list[R.Expr], star: bool, node: tree.FunctionCall
) -> tuple[list[R.Expr], Type]:
    """Arguments of a window function, and its result type."""
    count = len(arguments)
    if name in F.RANKS and count == 0:
        return arguments, T.DOUBLE if name in ("percent_rank", "cume_dist") else T.BIGINT
    if name == "array_agg" and count == 1:
        return arguments, T.array(arguments[0].type)
    if name in F.AGGREGATES - F.ORDERED:
        bound = typed_set_function(b, name, arguments, star, node, None, ())
        return [bound.argument, *bound.more] if bound.argument is not None else [], bound.type
    if name == "ntile" and count == 1 and arguments[0].type.family in ("exact", "null"):
        return arguments, T.BIGINT
    if name in ("first_value", "last_value") and count == 1:
        return arguments, arguments[0].type
    if name == "nth_value" and count == 2 and arguments[1].type.family == "exact":
        return arguments, arguments[0].type
    if name in ("lag", "lead") and 1 <= count <= 3 and (count < 2 or arguments[1].type.family == "exact"):
        if count == 3:
            first, default = unified(b, [arguments[0], arguments[2]], node, name.upper())
            return [first, arguments[1], default], first.type
        return arguments, arguments[0].type
    shown = ", ".join(str(a.type) for a in arguments)
    b.fail("42884", f"there is no window function {name}({shown})", node)


def _frame(
    b: Binding, over: tree.Window, order: tuple[tuple[R.Expr, bool, bool], ...]
) -> tuple[str, tuple[str, R.Expr | None], tuple[str, R.Expr | None]]:
    """Unit and ends of a frame. The default is up to the peers of the current row; without an order, everything."""
    if not over.unit or over.start is None:
        return "range", ("unbounded preceding", None), ("current row" if order else "unbounded following", None)
    end = over.end or tree.Bound("current row", span=over.start.span)
    kinds = ["unbounded preceding", "preceding", "current row", "following", "unbounded following"]
    if over.start.kind == kinds[4] or end.kind == kinds[0] or kinds.index(over.start.kind) > kinds.index(end.kind):
        b.fail("42601", f"a frame cannot go from {over.start.kind} to {end.kind}", over.start)
    if over.unit == "groups" and not order:
        b.fail("42601", "GROUPS needs an order", over.start)
    return over.unit, _frame_end(b, over.start, over.unit, order), _frame_end(b, end, over.unit, order)


def _frame_end(
    b: Binding, bound: tree.Bound, unit: str, order: tuple[tuple[R.Expr, bool, bool], ...]
) -> tuple[str, R.Expr | None]:
    if bound.value is None:
        return bound.kind, None
    value = expression(b, bound.value)
    if unit != "range":
        if not value.type.is_integer:
            b.fail("42804", f"{unit.upper()} takes a whole number, this is {value.type}", bound)
        return bound.kind, value
    key = order[0][0] if len(order) == 1 else None
    if key is None:
        b.fail("42804", "RANGE with an offset needs one sort key", bound)
    wanted = OFFSETS.get(key.type.family, ())
    if value.type.family not in wanted:
        names = {"exact": "a number", "months": "an interval of months", "micros": "an interval of days to seconds"}
        what = " or ".join(names[w] for w in wanted if w in names) or "none"
        b.fail("42804", f"the offset of a {key.type} is {what}, not {value.type}", bound)
    return bound.kind, value


def _aligned(
    b: Binding,
    order: tuple[tuple[R.Expr, bool, bool], ...],
    ends: tuple[tuple[str, R.Expr | None], ...],
    node: tree.Node,
) -> tuple[tuple[tuple[R.Expr, bool, bool], ...], list[tuple[str, R.Expr | None]]]:
    """The sort key of a RANGE with offsets, and the offsets, in one representation, so that they can be added."""
    offsets = [e for _, e in ends if e is not None]
    key, descending, first = order[0]
    if not key.type.is_number:
        if len({o.type.kind for o in offsets}) > 1:
            b.fail("42804", "one offset is of months, the other of days to seconds", node)
        return order, list(ends)
    type_ = key.type
    for offset in offsets:
        joined = T.common(type_, offset.type)
        assert joined is not None
        type_ = Type("decimal", T.MAX_PRECISION, joined.scale) if joined.kind == "decimal" else joined
    aligned = [(kind, represent(b, e, type_) if e is not None else None) for kind, e in ends]
    return ((represent(b, key, type_), descending, first),), aligned
