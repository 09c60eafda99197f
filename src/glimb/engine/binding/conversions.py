"""Types that meet: assignment, representation, the type that several values have in common."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.outside import LITERAL
from glimb.engine.values import conversion as V
from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace

# -- representation


def constant(b: Binding, value: Any, type_: Type) -> R.Const:
    """A constant of a type."""
    return R.Const(type_, value is None, value)


def represent(b: Binding, bound: R.Expr, target: Type) -> R.Expr:
    """The same value in the representation of a type that can hold it exactly (or as a double)."""
    return derived(b, bound, _represent(b, bound, target))


def derived(b: Binding, bound: R.Expr, made: R.Expr) -> R.Expr:
    """`made` of a value; of that of a literal it is made once, before the statement begins."""
    if made is bound or b.outside is None or not b.outside.literals or not isinstance(bound, R.Variable):
        return made
    if not bound.local.startswith(LITERAL) or isinstance(made, R.Variable):
        return made
    variable = R.Variable(made.type, made.nullable, f"{LITERAL}_made{len(b.outside.derived) + 1}", "")
    b.outside.derived.append((variable, made))
    return variable


def _represent(b: Binding, bound: R.Expr, target: Type) -> R.Expr:
    source = bound.type
    if source.kind == "null" or (isinstance(bound, R.Const) and bound.value is None):
        return R.Const(target, True, None)
    if source == target:
        return bound
    if target.kind in ("array", "row"):
        return R.Convert(target, bound.nullable, bound, False)
    if isinstance(bound, R.Const) and source.is_number and target.is_number:
        if target.family == "approximate":
            return R.Const(target, bound.nullable, V.convert(bound.value, source, target))
        return R.Const(target, bound.nullable, V.rescale(bound.value, scale_of(source) - scale_of(target)))
    if target.kind == "real":
        return R.Convert(target, bound.nullable, bound, False)
    if target.family == "approximate" and source.family == "exact":
        if scale_of(source) == 0:
            return R.Strict(target, bound.nullable, "to_float", (bound,))
        return R.Strict(target, bound.nullable, "scaled_to_float", (bound,), (10 ** scale_of(source),))
    if target.family == source.family == "exact":
        by = scale_of(target) - scale_of(source)
        if by == 0:
            return typed(bound, target)
        factor = R.Const(target, False, 10**by)
        return R.Arith(target, bound.nullable, "*", bound, factor)
    if source.family == "date" and target.family == "timestamp":
        return R.Convert(target, bound.nullable, bound, False)
    if target.kind in ("char", "binary"):
        return bind_converted(b, bound, target, explicit=False)
    return typed(bound, target)


def assign(b: Binding, bound: R.Expr, target: Type, node: tree.Node, what: str) -> R.Expr:
    """A value stored into a target of a type (clause 9.2): converted and checked, or refused."""
    source = bound.type
    if source.kind == "null":
        return R.Const(target, True, None)
    if source == target and isinstance(bound, R.Const):
        return bound
    if not T.assignable(source, target):
        hint = f"CAST(... AS {target})" if T.castable(source, target) else ""
        b.fail("42804", f"{what} is {target}, the value is {source}", node, hint)
    if isinstance(bound, R.Const) and bound.value is not None:
        try:
            return R.Const(target, False, V.convert(bound.value, source, target, explicit=False))
        except Condition:
            return R.Convert(target, False, bound, False, what)  # raised when it runs: a handler may wait for it
    found = bind_converted(b, bound, target, explicit=False)
    return replace(found, what=what) if isinstance(found, R.Convert | R.Checked) else found


def bind_converted(b: Binding, bound: R.Expr, target: Type, explicit: bool) -> R.Expr:
    """The cheapest node that converts: none, a range check, or a call."""
    source = bound.type
    if source.family == target.family == "exact":
        if scale_of(source) <= scale_of(target):
            if _fits_exact(source, target):
                return represent(b, bound, target)
            return R.Checked(target, bound.nullable, represent(b, unchecked(bound), target))
    if source == target:
        return bound
    if source.family == target.family == "text" and _fits_text(source, target):
        return typed(bound, target)
    if source.family == "exact" and target.kind == "double":
        return represent(b, bound, target)
    if (source.kind, target.kind) == ("real", "double"):
        return typed(bound, target)
    if source.kind == target.kind and source.kind in T.SECOND_DIGITS and source.scale <= target.scale:
        return typed(bound, target)
    return R.Convert(target, bound.nullable, bound, explicit)


# -- predicates


def shared(b: Binding, bound: R.Expr) -> tuple[R.Expr, Callable[[R.Expr], R.Expr]]:
    """A value to use several times, and what to do with the whole so that it is computed once."""
    if isinstance(bound, R.Const | R.Column | R.Variable | R.Shared):
        return bound, lambda body: body
    number = b.new_source()
    reference = R.Shared(bound.type, bound.nullable, number)
    return reference, lambda body: R.Let(body.type, body.nullable, number, bound, body)


def unified(b: Binding, items: list[R.Expr], node: tree.Node, what: str) -> list[R.Expr]:
    """Values of one result type (clause 9.5)."""
    type_ = T.NULL
    for item in items:
        joined = T.common(type_, item.type)
        if joined is None:
            b.fail("42804", f"{what} mixes {type_} and {item.type}", node)
        type_ = joined
    return [represent(b, item, type_) for item in items]


def scale_of(type_: Type) -> int:
    """Digits behind the point of an exact number."""
    return type_.scale if type_.kind == "decimal" else 0


def unchecked(bound: R.Expr) -> R.Expr:
    """An operand of arithmetic need not be checked by itself."""
    return bound.operand if isinstance(bound, R.Checked) else bound


def typed(bound: R.Expr, type_: Type) -> R.Expr:
    """The same value and representation under another type."""
    if isinstance(bound, R.Const):
        return R.Const(type_, bound.nullable, bound.value)
    return R.Strict(type_, bound.nullable, "as_is", (bound,)) if bound.type != type_ else bound


def _fits_exact(source: Type, target: Type) -> bool:
    """Whether every value of one exact type is one of the other, at its scale."""
    if source.is_integer and target.is_integer:
        return source.limit <= target.limit
    (p1, s1), (p2, s2) = T.digits(source), T.digits(target)
    return target.kind == "decimal" and p1 - s1 <= p2 - s2 and s1 <= s2


def _fits_text(source: Type, target: Type) -> bool:
    if target.kind == "char":
        return source == target
    return not target.size or 0 < source.size <= target.size
