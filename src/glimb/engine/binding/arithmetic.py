"""Binding of operators on numbers, texts, arrays, dates and intervals (ISO/IEC 9075-2 clause 6.27 to 6.33)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import constant, represent, scale_of, unchecked, unified
from glimb.engine.binding.dispatch import expression
from glimb.engine.values import conversion as V
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree

# -- arithmetic


FLOATING = {"+": "add_floats", "-": "subtract_floats", "*": "multiply_floats", "/": "divide_floats"}


def unary(b: Binding, node: tree.Unary) -> R.Expr:
    """A sign before a number or an interval (clause 6.27)."""
    operand = expression(b, node.operand)
    if not operand.type.is_number and operand.type.family not in ("months", "micros", "null"):
        b.fail("42804", f"{node.sign} needs a number, this is {operand.type}", node)
    if node.sign == "+":
        return operand
    # The least integer has no opposite of its type: that is told when it runs.
    is_least = isinstance(operand, R.Const) and operand.type.is_integer and operand.value == -operand.type.limit
    if isinstance(operand, R.Const) and operand.value is not None and not is_least:
        return R.Const(operand.type, False, -operand.value)
    negated = R.Strict(operand.type, operand.nullable, "negate", (unchecked(operand),))
    return R.Checked(operand.type, operand.nullable, negated) if operand.type.family == "exact" else negated


def binary(b: Binding, node: tree.Binary) -> R.Expr:
    """An operator between two values: numbers, texts, arrays, moments and intervals."""
    left, right = expression(b, node.left), expression(b, node.right)
    if node.sign == "||":
        return _concatenate(b, left, right, node)
    if left.type.is_number and right.type.is_number:
        return arithmetic(b, node.sign, left, right)
    for side in (left, right):
        if side.type.kind == "distinct":
            hint = f"CAST(... AS {side.type.parts[0]})"
            b.fail("42804", f"{side.type} is a distinct type, it has no {node.sign}", node, hint)
    if left.type.kind == "null" and right.type.kind == "null":
        return constant(b, None, T.INTEGER)
    if left.type.is_number and right.type.kind == "null":
        return arithmetic(b, node.sign, left, constant(b, None, left.type))
    if right.type.is_number and left.type.kind == "null":
        return arithmetic(b, node.sign, constant(b, None, right.type), right)
    for side, other in ((left, right), (right, left)):
        if other.type.kind == "null" and side.type.family in ("months", "micros", "date", "time", "timestamp"):
            return constant(b, None, side.type)
    return datetime_arithmetic(b, node, left, right)


def arithmetic(b: Binding, sign: str, left: R.Expr, right: R.Expr) -> R.Expr:
    """`+ - * /` over numbers (clause 6.27)."""
    type_ = T.arithmetic(sign, left.type, right.type)
    nullable = left.nullable or right.nullable
    if type_.family == "approximate":
        left, right = represent(b, left, type_), represent(b, right, type_)
        return R.Strict(type_, nullable, FLOATING[sign], (left, right))
    left, right = unchecked(left), unchecked(right)
    if sign == "/":
        if type_.is_integer:
            divided: R.Expr = R.Arith(type_, nullable, "/", left, right)
        else:
            shift = type_.scale - scale_of(left.type) + scale_of(right.type)
            divided = R.Strict(type_, nullable, "divide_scaled", (left, right), (shift,))
        return R.Checked(type_, nullable, divided)
    if sign != "*":
        left, right = represent(b, left, type_), represent(b, right, type_)
    return R.Checked(type_, nullable, R.Arith(type_, nullable, sign, left, right))


def _concatenate(b: Binding, left: R.Expr, right: R.Expr, node: tree.Binary) -> R.Expr:
    families = {left.type.family, right.type.family} - {"null"}
    if families == {"array"}:
        return _joined_arrays(b, left, right, node)
    if families - {"text"} and families - {"bytes"}:
        other = left.type if left.type.family not in ("text", "null") else right.type
        b.fail("42804", f"|| joins texts, one side is {other}", node, "CAST(... AS VARCHAR(40))")
    nullable = left.nullable or right.nullable
    type_ = T.CLOB
    if families == {"bytes"}:
        type_ = Type("varbinary", min(T.MAX_LENGTH, T.length(left.type) + T.length(right.type)))
    elif "clob" not in (left.type.kind, right.type.kind):
        type_ = T.varchar(T.length(left.type) + T.length(right.type))
    operation = "concatenate" if type_.size else "concatenate_unbounded"
    return R.Strict(type_, nullable, operation, (left, right))


def _joined_arrays(b: Binding, left: R.Expr, right: R.Expr, node: tree.Node) -> R.Expr:
    """array || array (clause 6.35)."""
    left, right = unified(b, [left, right], node, "||")
    type_ = T.array(left.type.parts[0], T.MAX_CARDINALITY)
    return R.Strict(type_, left.nullable or right.nullable, "joined_arrays", (left, right))


def difference(b: Binding, node: tree.Difference) -> R.Expr:
    """(left - right) with an interval qualifier (clause 6.33)."""
    left, right, type_ = expression(b, node.left), expression(b, node.right), b.type(node.type)
    families = {left.type.family, right.type.family}
    if families - {"date", "timestamp", "time", "null"} or ("time" in families and len(families) > 1):
        b.fail("42804", f"there is no interval between {left.type} and {right.type}", node)
    nullable = left.nullable or right.nullable
    if type_.kind == "months":
        if "time" in families:
            b.fail("42804", "there are no months between times", node)
        return R.Strict(type_, nullable, "months_between", (left, right), (type_.scale == 0,))
    if "timestamp" in families or "date" in families:
        left, right = represent(b, left, T.TIMESTAMP), represent(b, right, T.TIMESTAMP)
    return R.Strict(type_, nullable, "units_between", (left, right), (V.interval_unit(type_),))


def datetime_arithmetic(b: Binding, node: tree.Binary, left: R.Expr, right: R.Expr) -> R.Expr:
    """Dates, times and intervals (clauses 6.31, 6.33)."""
    sign, (a, second) = node.sign, (left.type.family, right.type.family)
    nullable = left.nullable or right.nullable
    moments = ("date", "time", "timestamp")
    if sign == "+" and a in ("months", "micros") and second in moments:
        left, right, a, second = right, left, second, a
    if sign in "+-" and a in moments and second in ("months", "micros") and (a, second) != ("time", "months"):
        if a == "date" and second == "micros" and T.INTERVAL_FIELDS[right.type.scale] != "day":
            hint = "CAST(... AS TIMESTAMP), or an INTERVAL DAY"
            b.fail("42804", f"a DATE has no hours: {right.type} cannot be added to it", node, hint)
        if a == "time" and T.INTERVAL_FIELDS[right.type.size] == "day":
            b.fail("42804", f"a TIME has no days: {right.type} cannot be added to it", node, "an INTERVAL HOUR")
        operation = ("moved_months" if second == "months" else "moved") + ("_back" if sign == "-" else "")
        type_ = left.type
        if a != "date" and second == "micros" and T.INTERVAL_FIELDS[right.type.scale] == "second":
            type_ = Type(a, 0, T.MOST_SECOND_DIGITS)
        return R.Strict(type_, nullable, operation, (left, right))
    if sign == "-" and a == second and a in moments:
        if a == "date":
            return R.Strict(T.INTEGER, nullable, "days_between", (left, right))
        return R.Strict(T.DAY_TO_SECOND, nullable, "micros_between", (left, right))
    if sign in "+-" and a == second and a in ("months", "micros"):
        joined = T.common(left.type, right.type)
        assert joined is not None
        return R.Strict(joined, nullable, "add_intervals" if sign == "+" else "subtract_intervals", (left, right))
    if sign == "*" and second in ("months", "micros") and a == "exact":
        left, right, a, second = right, left, second, a
    if sign in "*/" and a in ("months", "micros") and second == "exact":
        scale = 10 ** scale_of(right.type)
        unit = V.interval_unit(left.type)
        constants = (scale * unit, unit) if sign == "*" else (scale, unit)
        operation = "multiply_interval" if sign == "*" else "divide_interval"
        return R.Strict(left.type, nullable, operation, (left, unchecked(right)), constants)
    b.fail("42804", f"there is no {sign} between {left.type} and {right.type}", node)
