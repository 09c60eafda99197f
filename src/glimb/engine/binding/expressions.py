"""Binding of expressions: names to columns and variables, operators and calls to typed operations.

Numbers are brought to one scale here, so that the code for `+` or `<` is Python's own. An arithmetic result is
Checked once, at the root of its expression: what lies between may leave the range, since Python's ints are exact.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding.base import BinderBase
from glimb.engine.binding.scope import Scope, ValueScope, suggest
from glimb.engine.catalog.objects import Domain
from glimb.engine.values import conversion as V
from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest

NO_NEXT_VALUE = ("in WHERE", "in ON", "in GROUP BY", "in CHECK", "in WHEN", "inside another one")
"""Where a value of a sequence cannot be drawn: it would depend on how often that is looked at (clause 6.14)."""


class ExpressionBinder(BinderBase):
    """Binds value expressions, predicates and calls."""

    def expression(self, node: tree.Expression) -> R.Expr:
        handler = _HANDLERS.get(type(node))
        if handler is None:
            self.fail("42601", f"{type(node).__name__} cannot stand here", node)
        bound: R.Expr = getattr(self, handler)(node)
        return self.group_key(bound) if self.groups else bound

    def group_key(self, bound: R.Expr) -> R.Expr:
        """An expression that a query is grouped by as what it is in the grouped rows; in a set function it is what it
        is in a single row."""
        for group in reversed(self.groups):
            at = group.place(bound)
            if at >= 0:
                key = group.keys[at]
                if group.hidden:
                    return replace(bound, nullable=key.nullable)
                return R.Column(key.type, key.nullable, group.number, at, "")
        return bound

    def condition(self, node: tree.Expression, where: str) -> R.Expr:
        """A search condition: an expression of type BOOLEAN."""
        bound = self.expression(node)
        if bound.type.kind not in ("boolean", "null"):
            self.fail("42804", f"{where} needs a condition, this is {bound.type}", node)
        return bound

    # -- literals and names

    def literal(self, node: tree.Literal) -> R.Expr:
        try:
            return self._literal(node)
        except Condition as condition:
            self.fail(condition.sqlstate, condition.message, node)

    def _literal(self, node: tree.Literal) -> R.Expr:
        kind, text = node.kind, node.value
        if kind == "integer":
            return self._integer(text, node)
        if kind == "decimal":
            whole, _, fraction = text.lstrip("-").partition(".")
            precision, scale = len((whole + fraction).lstrip("0")) or 1, len(fraction)
            if max(precision, scale) > T.MAX_PRECISION:
                self.fail("22003", f"more than {T.MAX_PRECISION} digits", node)
            return R.Const(T.decimal(max(precision, scale), scale), False, V.text_to_scaled(text, scale, "number"))
        if kind == "float":
            return R.Const(T.DOUBLE, False, V.text_to_float(text))
        if kind == "string":
            return R.Const(T.varchar(len(text)), False, text)
        if kind == "bytes":
            value = bytes.fromhex(text)
            return R.Const(Type("varbinary", max(1, len(value))), False, value)
        if kind == "boolean":
            return R.Const(T.BOOLEAN, text == "unknown", None if text == "unknown" else text == "true")
        if kind == "null":
            return R.Const(T.NULL, True, None)
        digits = min(len(text.rpartition(".")[2]) if "." in text else 0, T.MOST_SECOND_DIGITS)
        type_ = Type(kind, 0, digits) if kind in T.SECOND_DIGITS else T.DATE
        return R.Const(type_, False, V.convert(text, T.CLOB, type_))

    def _integer(self, text: str, node: tree.Literal) -> R.Expr:
        if len(text) > T.MAX_PRECISION + 1:
            self.fail("22003", f"more than {T.MAX_PRECISION} digits", node)
        value = int(text)
        for type_ in (T.INTEGER, T.BIGINT):
            if -type_.limit <= value < type_.limit:
                return R.Const(type_, False, value)
        return R.Const(T.decimal(len(str(abs(value))), 0), False, value)

    def interval(self, node: tree.IntervalLiteral) -> R.Expr:
        fields = [T.INTERVAL_FIELDS.index(f) for f in (node.first, node.last)]
        type_ = Type("months" if fields[0] < 2 else "micros", fields[0], fields[1])
        if (fields[0] < 2) != (fields[1] < 2) or fields[0] > fields[1]:
            self.fail("42601", "an interval is of years and months, or of days to seconds", node)
        try:
            value = V.text_to_interval(node.value, type_)
        except Condition as condition:
            self.fail(condition.sqlstate, condition.message, node)
        return R.Const(type_, False, -value if node.negative else value)

    def reference(self, node: tree.Reference) -> R.Expr:
        scope = self.scope
        if len(node.parts) > 2 and node.parts[-3] == "module" and self.catalog.is_module(self.schema):
            node = replace(node, parts=(self.schema, *node.parts[-2:]))
        while scope is not None:
            found = scope.find(node.parts) or self._field_found(scope, node)
            if len(found) > 1:
                self.fail("42702", f"{'.'.join(node.parts)} is ambiguous: it is in several tables", node, "qualify it")
            if found:
                return found[0]
            scope = scope.parent
        name = ".".join(node.parts)
        hint = suggest(self.scope, node.parts)
        if name in self.catalog.routines:
            hint = f"{name} is a {self.catalog.routines[name][0].kind_word}: write {name}(...)"
        what = "column" if self.scope is None or self.scope.names() else "column or variable"
        self.fail("42703", f"there is no {what} {name} here", node, hint)

    def _field_found(self, scope: Scope, node: tree.Reference) -> list[R.Expr]:
        """A name with a field of a row behind it: `r.a`, `t.r.a`."""
        if len(node.parts) < 2:
            return []
        found = scope.find(node.parts[:-1])
        if len(found) == 1 and found[0].type.kind == "row":
            return [self.field_of(found[0], node.parts[-1], node)]
        return []

    # -- representation

    def constant(self, value: Any, type_: Type) -> R.Const:
        return R.Const(type_, value is None, value)

    def represent(self, bound: R.Expr, target: Type) -> R.Expr:
        """The same value in the representation of a type that can hold it exactly (or as a double)."""
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
        if target.family == "approximate" and source.family == "exact":
            code = "float({0})" if scale_of(source) == 0 else f"({{0}} / {10 ** scale_of(source)})"
            return R.Strict(target, bound.nullable, code, (bound,))
        if target.family == source.family == "exact":
            by = scale_of(target) - scale_of(source)
            inner = unchecked(bound)
            if by == 0:
                return typed(inner, target) if inner is bound else inner
            factor = R.Const(target, False, 10**by)
            return R.Arith(target, bound.nullable, "*", inner, factor)
        if source.family == "date" and target.family == "timestamp":
            return R.Convert(target, bound.nullable, bound, False)
        if target.kind in ("char", "binary"):
            return self.converted(bound, target, explicit=False)
        return typed(bound, target)

    def assign(self, bound: R.Expr, target: Type, node: tree.Node, what: str) -> R.Expr:
        """A value stored into a target of a type (clause 9.2): converted and checked, or refused."""
        source = bound.type
        if source.kind == "null":
            return R.Const(target, True, None)
        if not T.assignable(source, target):
            hint = f"CAST(... AS {target})" if T.castable(source, target) else ""
            self.fail("42804", f"{what} is {target}, the value is {source}", node, hint)
        if isinstance(bound, R.Const) and bound.value is not None:
            try:
                return R.Const(target, False, V.convert(bound.value, source, target, explicit=False))
            except Condition:
                return R.Convert(target, False, bound, False, what)  # raised when it runs: a handler may wait for it
        found = self.converted(bound, target, explicit=False)
        return replace(found, what=what) if isinstance(found, R.Convert | R.Checked) else found

    def converted(self, bound: R.Expr, target: Type, explicit: bool) -> R.Expr:
        """The cheapest node that converts: none, a range check, or a call."""
        source = bound.type
        if source.family == target.family == "exact":
            inner = unchecked(bound)
            if scale_of(source) <= scale_of(target):
                if inner is bound and _fits_exact(source, target):
                    return self.represent(bound, target)
                return R.Checked(target, bound.nullable, self.represent(inner, target))
        if source == target and target.kind != "real":
            return bound
        if source.family == target.family == "text" and _fits_text(source, target):
            return typed(bound, target)
        if source.family == "exact" and target.kind == "double":
            return self.represent(bound, target)
        if {source.kind, target.kind} <= {"real", "double"}:
            return typed(bound, target)
        if source.kind == target.kind and source.kind in T.SECOND_DIGITS and source.scale <= target.scale:
            return typed(bound, target)
        return R.Convert(target, bound.nullable, bound, explicit)

    # -- arithmetic

    def unary(self, node: tree.Unary) -> R.Expr:
        operand = self.expression(node.operand)
        if not operand.type.is_number and operand.type.family not in ("months", "micros", "null"):
            self.fail("42804", f"{node.sign} needs a number, this is {operand.type}", node)
        if node.sign == "+":
            return operand
        if isinstance(operand, R.Const) and operand.value is not None:
            return R.Const(operand.type, False, -operand.value)
        negated = R.Strict(operand.type, operand.nullable, "(-{0})", (unchecked(operand),))
        return R.Checked(operand.type, operand.nullable, negated) if operand.type.family == "exact" else negated

    def binary(self, node: tree.Binary) -> R.Expr:
        left, right = self.expression(node.left), self.expression(node.right)
        if node.sign == "||":
            return self._concatenate(left, right, node)
        if left.type.is_number and right.type.is_number:
            return self.arithmetic(node.sign, left, right)
        for side in (left, right):
            if side.type.kind == "distinct":
                hint = f"CAST(... AS {side.type.parts[0]})"
                self.fail("42804", f"{side.type} is a distinct type, it has no {node.sign}", node, hint)
        if left.type.kind == "null" and right.type.kind == "null":
            return self.constant(None, T.INTEGER)
        if left.type.is_number and right.type.kind == "null":
            return self.arithmetic(node.sign, left, self.constant(None, left.type))
        if right.type.is_number and left.type.kind == "null":
            return self.arithmetic(node.sign, self.constant(None, right.type), right)
        for side, other in ((left, right), (right, left)):
            if other.type.kind == "null" and side.type.family in ("months", "micros", "date", "time", "timestamp"):
                return self.constant(None, side.type)
        return self._datetime_arithmetic(node, left, right)

    def arithmetic(self, sign: str, left: R.Expr, right: R.Expr) -> R.Expr:
        """`+ - * /` over numbers (clause 6.27)."""
        type_ = T.arithmetic(sign, left.type, right.type)
        nullable = left.nullable or right.nullable
        if type_.family == "approximate":
            left, right = self.represent(left, type_), self.represent(right, type_)
            return R.Strict(type_, nullable, f"check_float({{0}} {sign} {{1}})", (left, right))
        left, right = unchecked(left), unchecked(right)
        if sign == "/":
            if type_.is_integer:
                divided: R.Expr = R.Arith(type_, nullable, "/", left, right)
            else:
                shift = type_.scale - scale_of(left.type) + scale_of(right.type)
                divided = R.Strict(type_, nullable, f"divide_scaled({{0}}, {{1}}, {shift})", (left, right))
            return R.Checked(type_, nullable, divided)
        if sign != "*":
            left, right = self.represent(left, type_), self.represent(right, type_)
        return R.Checked(type_, nullable, R.Arith(type_, nullable, sign, left, right))

    def _concatenate(self, left: R.Expr, right: R.Expr, node: tree.Binary) -> R.Expr:
        families = {left.type.family, right.type.family} - {"null"}
        if families == {"array"}:
            return self._joined_arrays(left, right, node)
        if families - {"text"} and families - {"bytes"}:
            other = left.type if left.type.family not in ("text", "null") else right.type
            self.fail("42804", f"|| joins texts, one side is {other}", node, "CAST(... AS VARCHAR(40))")
        nullable = left.nullable or right.nullable
        type_ = T.CLOB
        if families == {"bytes"}:
            type_ = Type("varbinary", min(T.MAX_LENGTH, T.length(left.type) + T.length(right.type)))
        elif "clob" not in (left.type.kind, right.type.kind):
            type_ = T.varchar(T.length(left.type) + T.length(right.type))
        code = "({0} + {1})" if type_.size else "s.budget.join({0}, {1})"
        return R.Strict(type_, nullable, code, (left, right))

    def _joined_arrays(self, left: R.Expr, right: R.Expr, node: tree.Node) -> R.Expr:
        """array || array (clause 6.35)."""
        left, right = self.unified([left, right], node, "||")
        type_ = T.array(left.type.parts[0], T.MAX_CARDINALITY)
        return R.Strict(type_, left.nullable or right.nullable, "joined_arrays({0}, {1})", (left, right))

    def difference(self, node: tree.Difference) -> R.Expr:
        """(left - right) with an interval qualifier (clause 6.33)."""
        left, right, type_ = self.expression(node.left), self.expression(node.right), self.type(node.type)
        families = {left.type.family, right.type.family}
        if families - {"date", "timestamp", "time", "null"} or ("time" in families and len(families) > 1):
            self.fail("42804", f"there is no interval between {left.type} and {right.type}", node)
        nullable = left.nullable or right.nullable
        if type_.kind == "months":
            if "time" in families:
                self.fail("42804", "there are no months between times", node)
            return R.Strict(type_, nullable, f"months_between({{0}}, {{1}}, {type_.scale == 0})", (left, right))
        if "timestamp" in families or "date" in families:
            left, right = self.represent(left, T.TIMESTAMP), self.represent(right, T.TIMESTAMP)
        unit = V.MICROS[T.INTERVAL_FIELDS[type_.scale]] if type_.scale < 5 else 1
        return R.Strict(type_, nullable, f"(divide(micros_between({{0}}, {{1}}), {unit}) * {unit})", (left, right))

    def _datetime_arithmetic(self, node: tree.Binary, left: R.Expr, right: R.Expr) -> R.Expr:
        """Dates, times and intervals (clauses 6.31, 6.33)."""
        sign, (a, b) = node.sign, (left.type.family, right.type.family)
        nullable = left.nullable or right.nullable
        moments = ("date", "time", "timestamp")
        if sign == "+" and a in ("months", "micros") and b in moments:
            left, right, a, b = right, left, b, a
        if sign in "+-" and a in moments and b in ("months", "micros") and (a, b) != ("time", "months"):
            if a == "date" and b == "micros" and T.INTERVAL_FIELDS[right.type.scale] != "day":
                hint = "CAST(... AS TIMESTAMP), or an INTERVAL DAY"
                self.fail("42804", f"a DATE has no hours: {right.type} cannot be added to it", node, hint)
            if a == "time" and T.INTERVAL_FIELDS[right.type.size] == "day":
                self.fail("42804", f"a TIME has no days: {right.type} cannot be added to it", node, "an INTERVAL HOUR")
            call = "moved_months" if b == "months" else "moved"
            minus = "-" if sign == "-" else ""
            type_ = left.type
            if a != "date" and b == "micros" and T.INTERVAL_FIELDS[right.type.scale] == "second":
                type_ = Type(a, 0, T.MOST_SECOND_DIGITS)
            return R.Strict(type_, nullable, f"{call}({{0}}, {minus}{{1}})", (left, right))
        if sign == "-" and a == b and a in moments:
            if a == "date":
                return R.Strict(T.INTEGER, nullable, "days_between({0}, {1})", (left, right))
            return R.Strict(T.DAY_TO_SECOND, nullable, "micros_between({0}, {1})", (left, right))
        if sign in "+-" and a == b and a in ("months", "micros"):
            joined = T.common(left.type, right.type)
            assert joined is not None
            return R.Strict(joined, nullable, f"({{0}} {sign} {{1}})", (left, right))
        if sign == "*" and b in ("months", "micros") and a == "exact":
            left, right, a, b = right, left, b, a
        if sign in "*/" and a in ("months", "micros") and b == "exact":
            scale = scale_of(right.type)
            code = (
                f"divide_scaled({{0}} * {{1}}, {10**scale}, 0)"
                if sign == "*"
                else f"divide({{0}} * {10**scale}, {{1}})"
            )
            return R.Strict(left.type, nullable, code, (left, unchecked(right)))
        self.fail("42804", f"there is no {sign} between {left.type} and {right.type}", node)

    # -- predicates

    def shared(self, bound: R.Expr) -> tuple[R.Expr, Callable[[R.Expr], R.Expr]]:
        """A value to use several times, and what to do with the whole so that it is computed once."""
        if isinstance(bound, R.Const | R.Column | R.Variable | R.Shared):
            return bound, lambda body: body
        number = self.new_source()
        reference = R.Shared(bound.type, bound.nullable, number)
        return reference, lambda body: R.Let(body.type, body.nullable, number, bound, body)

    def compare(self, sign: str, left: R.Expr, right: R.Expr, node: tree.Node) -> R.Expr:
        """A comparison over one representation; what cannot be compared is refused. Rows are compared part by part."""
        if left.type.kind == right.type.kind == "row":
            (left, whole_left), (right, whole_right) = self._row_once(left), self._row_once(right)
            return whole_left(whole_right(self._compare_rows(sign, self.fields(left), self.fields(right), node)))
        padded = _has_char(left.type) or _has_char(right.type)
        left, right = self.comparable(left, right, node)
        nullable = left.nullable or right.nullable
        if left.type.kind == "array":
            if sign not in ("=", "<>"):
                self.fail("42804", f"arrays have no {sign}", node)
            equal = R.Loose(T.BOOLEAN, True, f"equal_parts({{0}}, {{1}}, {padded})", (left, right))
            return equal if sign == "=" else R.Not(T.BOOLEAN, True, equal)
        return R.Compare(T.BOOLEAN, nullable, sign, left, right)

    def _row_once(self, row: R.Expr) -> tuple[R.Expr, Callable[[R.Expr], R.Expr]]:
        """A row whose fields are used one by one, computed once."""
        return (row, lambda body: body) if isinstance(row, R.Tuple) else self.shared(row)

    def comparable(self, left: R.Expr, right: R.Expr, node: tree.Node) -> tuple[R.Expr, R.Expr]:
        """Both sides brought to a type in which they can be compared."""
        type_ = T.common(left.type, right.type)
        if type_ is None:
            self.fail("42804", f"{left.type} cannot be compared with {right.type}", node)
        if type_.family == "text" and "char" in (left.type.kind, right.type.kind):
            return self._padded(left, right)
        if type_.is_number and type_.family == "exact":
            scale = max(scale_of(left.type), scale_of(right.type))
            type_ = Type("decimal", T.MAX_PRECISION, scale) if scale else type_
            if not scale:
                return left, right
        return self.represent(left, type_), self.represent(right, type_)

    def _padded(self, left: R.Expr, right: R.Expr) -> tuple[R.Expr, R.Expr]:
        """CHAR compares with blanks at the end ignored. A CHAR column stays bare, so that an index can serve it."""
        for first, second, swap in ((left, right, False), (right, left, True)):
            if first.type.kind == "char" and isinstance(first, R.Column):
                size = first.type.size
                if isinstance(second, R.Const) and isinstance(second.value, str):
                    other: R.Expr = R.Const(second.type, False, second.value.rstrip(" ").ljust(size))
                elif second.type.kind == "char" and second.type.size == size:
                    other = second
                else:
                    other = R.Strict(second.type, second.nullable, f"{{0}}.rstrip(' ').ljust({size})", (second,))
                return (other, first) if swap else (first, other)
        return self._stripped(left), self._stripped(right)

    def _stripped(self, bound: R.Expr) -> R.Expr:
        if isinstance(bound, R.Const):
            value = bound.value.rstrip(" ") if bound.value is not None else None
            return R.Const(bound.type, bound.nullable, value)
        return R.Strict(bound.type, bound.nullable, "{0}.rstrip(' ')", (bound,))

    def comparison(self, node: tree.Comparison) -> R.Expr:
        if isinstance(node.left, tree.RowValue) or isinstance(node.right, tree.RowValue):
            return self._compare_rows(node.sign, self._row_items(node.left), self._row_items(node.right), node)
        return self.compare(node.sign, self.expression(node.left), self.expression(node.right), node)

    def _compare_rows(self, sign: str, left: list[R.Expr], right: list[R.Expr], node: tree.Node) -> R.Expr:
        """Row comparison (clause 8.2), as comparisons of their parts."""
        if len(left) != len(right):
            self.fail("42804", f"a row of {len(left)} cannot be compared with a row of {len(right)}", node)
        if sign in ("=", "<>"):
            equal = self.conjunction([self.compare("=", a, b, node) for a, b in zip(left, right, strict=True)])
            return equal if sign == "=" else R.Not(T.BOOLEAN, equal.nullable, equal)
        strict = sign[0]
        result = self.compare(sign, left[-1], right[-1], node)
        for a, b in reversed(list(zip(left[:-1], right[:-1], strict=True))):
            below = self.compare(strict, a, b, node)
            same = self.conjunction([self.compare("=", a, b, node), result])
            result = R.Or(T.BOOLEAN, below.nullable or same.nullable, (below, same))
        return result

    def _row_items(self, node: tree.Expression) -> list[R.Expr]:
        if isinstance(node, tree.RowValue):
            return [self.expression(item) for item in node.items]
        if isinstance(node, tree.Subquery):
            query = self.query(node.query)
            if len(query.columns) == 1:
                return [R.ScalarQuery(query.columns[0].type, True, query)]
            type_ = Type("row", 0, 0, tuple(c.type for c in query.columns), tuple(c.name for c in query.columns))
            return self.fields(R.ScalarQuery(type_, True, query))
        bound = self.expression(node)
        return self.fields(bound) if bound.type.kind == "row" else [bound]

    def fields(self, row: R.Expr) -> list[R.Expr]:
        """The fields of a row value."""
        if isinstance(row, R.Tuple):
            return list(row.items)
        return [R.Strict(t, True, f"{{0}}[{n}]", (row,)) for n, t in enumerate(row.type.parts)]

    def conjunction(self, items: list[R.Expr]) -> R.Expr:
        """AND of several conditions, flat."""
        flat: list[R.Expr] = []
        for item in items:
            flat.extend(item.items if isinstance(item, R.And) else (item,))
        if len(flat) == 1:
            return flat[0]
        return R.And(T.BOOLEAN, any(i.nullable for i in flat), tuple(flat))

    def logical(self, node: tree.Logical) -> R.Expr:
        operands: list[tree.Expression] = []
        at: tree.Expression = node
        while isinstance(at, tree.Logical) and at.sign == node.sign:
            operands.append(at.right)
            at = at.left
        operands.append(at)
        bound = [self.condition(operand, node.sign.upper()) for operand in reversed(operands)]
        if node.sign == "and":
            return self.conjunction(bound)
        return R.Or(T.BOOLEAN, any(b.nullable for b in bound), tuple(bound))

    def negation(self, node: tree.Not) -> R.Expr:
        operand = self.condition(node.operand, "NOT")
        return R.Not(T.BOOLEAN, operand.nullable, operand)

    def is_null(self, node: tree.IsNull) -> R.Expr:
        items = self._row_items(node.operand) if isinstance(node.operand, tree.RowValue) else None
        if items is None:
            operand = self.expression(node.operand)
            items = self.fields(operand) if operand.type.kind == "row" else [operand]
        return self.conjunction([R.IsNull(T.BOOLEAN, False, i, node.negated) for i in items])

    def is_truth(self, node: tree.IsTruth) -> R.Expr:
        value = {"true": True, "false": False, "unknown": None}[node.value]
        return R.IsTruth(T.BOOLEAN, False, self.condition(node.operand, "IS"), value, node.negated)

    def is_distinct(self, node: tree.IsDistinct) -> R.Expr:
        lefts, rights = self._row_items(node.left), self._row_items(node.right)
        if len(lefts) != len(rights):
            self.fail("42804", f"a row of {len(lefts)} cannot be compared with a row of {len(rights)}", node)
        pairs = [self.comparable(a, b, node) for a, b in zip(lefts, rights, strict=True)]
        same = self.conjunction([R.IsDistinct(T.BOOLEAN, False, a, b, True) for a, b in pairs])
        return same if node.negated else R.Not(T.BOOLEAN, False, same)

    def between(self, node: tree.Between) -> R.Expr:
        operand, whole = self.shared(self.expression(node.operand))
        low, high = self.expression(node.low), self.expression(node.high)

        def inside(a: R.Expr, b: R.Expr) -> R.Expr:
            return self.conjunction([self.compare(">=", operand, a, node), self.compare("<=", operand, b, node)])

        bound = inside(low, high)
        if node.symmetric:
            other = inside(high, low)
            bound = R.Or(T.BOOLEAN, bound.nullable or other.nullable, (bound, other))
        return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)

    def in_list(self, node: tree.InList) -> R.Expr:
        if isinstance(node.operand, tree.RowValue):
            tests = tuple(self.expression(tree.Comparison("=", node.operand, i, span=node.span)) for i in node.items)
            bound: R.Expr = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
            return R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound
        operand, whole = self.shared(self.expression(node.operand))
        items = [self.expression(item) for item in node.items]
        if operand.type.kind in ("row", "array"):
            tests = tuple(self.compare("=", operand, i, n) for i, n in zip(items, node.items, strict=True))
            bound = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
            return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)
        pairs = [self.comparable(operand, i, n) for i, n in zip(items, node.items, strict=True)]
        if any(left != pairs[0][0] for left, _ in pairs):
            tests = tuple(R.Compare(T.BOOLEAN, a.nullable or b.nullable, "=", a, b) for a, b in pairs)
            bound = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
            return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)
        values = tuple(right for _, right in pairs)
        nullable = operand.nullable or any(v.nullable for v in values)
        return whole(R.InList(T.BOOLEAN, nullable, pairs[0][0], values, node.negated))

    def like(self, node: tree.Like) -> R.Expr:
        parts = [self.expression(p) for p in (node.operand, node.pattern)]
        if node.escape is not None:
            parts.append(self.expression(node.escape))
        if {p.type.family for p in parts} <= {"bytes", "null"}:  # clause 8.5, the octet like predicate
            parts = [R.Strict(T.CLOB, p.nullable, "{0}.decode('latin-1')", (p,)) for p in parts]
        for part in parts:
            if part.type.family not in ("text", "null"):
                self.fail("42804", f"LIKE compares texts, this is {part.type}", node)
        nullable = any(p.nullable for p in parts)
        return R.Like(T.BOOLEAN, nullable, parts[0], parts[1], parts[2] if len(parts) > 2 else None, node.negated)

    def similar(self, node: tree.Similar) -> R.Expr:
        """SIMILAR TO (clause 8.6)."""
        parts = [self.expression(p) for p in (node.operand, node.pattern)]
        parts.append(self.expression(node.escape) if node.escape is not None else self.constant("", T.varchar(1)))
        for part in parts:
            if part.type.family not in ("text", "null"):
                self.fail("42804", f"SIMILAR TO compares texts, this is {part.type}", node)
        nullable = any(p.nullable for p in parts)
        found = R.Strict(T.BOOLEAN, nullable, "similar({0}, {1}, {2})", tuple(parts))
        return R.Not(T.BOOLEAN, nullable, found) if node.negated else found

    def overlaps(self, node: tree.Overlaps) -> R.Expr:
        """(start, end) OVERLAPS (start, end), an end perhaps given as a length (clause 8.14)."""
        ends: list[R.Expr] = []
        for side in (node.left, node.right):
            items = self._row_items(side)
            if len(items) != 2:
                self.fail("42601", "OVERLAPS compares two periods: (start, end) OVERLAPS (start, end)", side)
            start, end = items
            if end.type.kind in ("months", "micros"):
                end = self._datetime_arithmetic(tree.Binary("+", side, side, span=side.span), start, end)
            ends += [start, end]
        moments = self.unified(ends, node, "OVERLAPS")
        if moments[0].type.family not in ("date", "time", "timestamp"):
            self.fail("42804", f"OVERLAPS compares periods, not {moments[0].type}", node)
        return R.Loose(T.BOOLEAN, True, "overlaps({0}, {1}, {2}, {3})", tuple(moments))

    # -- arrays and rows

    def array(self, node: tree.ArrayValue) -> R.Expr:
        items = self.unified([self.expression(i) for i in node.items], node, "ARRAY") if node.items else []
        type_ = T.array(items[0].type if items else T.NULL, len(items))
        return R.Tuple(type_, False, tuple(items))

    def array_query(self, node: tree.ArrayQuery) -> R.Expr:
        query = self.query(node.query)
        self.one_column(query, node, "ARRAY(query)")
        return R.ArrayQuery(T.array(query.columns[0].type), False, query)

    def element(self, node: tree.Element) -> R.Expr:
        """array[position]: 2202E outside of it."""
        array, position = self.expression(node.array), self.expression(node.position)
        if array.type.kind not in ("array", "null"):
            self.fail("42804", f"only arrays have elements, this is {array.type}", node)
        if position.type.family != "exact":
            self.fail("42804", f"a position is a whole number, this is {position.type}", node)
        position = self.converted(position, T.INTEGER, explicit=False)
        type_ = array.type.parts[0] if array.type.parts else T.NULL
        return R.Strict(type_, True, "element({0}, {1})", (array, position))

    def field(self, node: tree.Field) -> R.Expr:
        row = self.expression(node.operand)
        if row.type.kind != "row":
            self.fail("42804", f"only rows have fields, this is {row.type}", node)
        return self.field_of(row, node.name, node)

    def field_of(self, row: R.Expr, name: str, node: tree.Node) -> R.Expr:
        if name not in row.type.names:
            self.fail("42703", f"this row has no field {name}", node, nearest(name, row.type.names))
        return self.fields(row)[row.type.names.index(name)]

    # -- CASE, CAST, COALESCE

    def case(self, node: tree.CaseExpression) -> R.Expr:
        operand, whole = None, None
        if node.operand is not None:
            operand, whole = self.shared(self.expression(node.operand))
        arms = [(self.when(operand, when.conditions), self.expression(when.result)) for when in node.whens]
        otherwise = self.expression(node.otherwise) if node.otherwise is not None else self.constant(None, T.NULL)
        results = self.unified([value for _, value in arms] + [otherwise], node, "CASE")
        bound = tuple((c, v) for (c, _), v in zip(arms, results[:-1], strict=True))
        case = R.Case(results[0].type, any(r.nullable for r in results), bound, results[-1])
        return whole(case) if whole is not None else case

    def when(self, operand: R.Expr | None, conditions: tuple[tree.Expression, ...]) -> R.Expr:
        """The condition of one arm of a CASE, with its operand or without."""
        if operand is None:
            return self.condition(conditions[0], "WHEN")
        tests = tuple(self._when_operand(operand, c) for c in conditions)
        return tests[0] if len(tests) == 1 else R.Or(T.BOOLEAN, True, tests)

    def _when_operand(self, operand: R.Expr, condition: tree.Expression) -> R.Expr:
        if not isinstance(condition, tree.OperandTest):
            return self.compare("=", operand, self.expression(condition), condition)
        outer, self.case_of = self.case_of, operand
        test = self.expression(condition.test)
        self.case_of = outer
        return test

    def case_operand(self, node: tree.CaseOperand) -> R.Expr:
        assert self.case_of is not None
        return self.case_of

    def unified(self, items: list[R.Expr], node: tree.Node, what: str) -> list[R.Expr]:
        """Values of one result type (clause 9.5)."""
        type_ = T.NULL
        for item in items:
            joined = T.common(type_, item.type)
            if joined is None:
                self.fail("42804", f"{what} mixes {type_} and {item.type}", node)
            type_ = joined
        return [self.represent(item, type_) for item in items]

    def cast(self, node: tree.Cast) -> R.Expr:
        operand, target = self.expression(node.operand), self.type(node.type)
        if operand.type.kind == "null":
            return self.constant(None, target)
        if not T.castable(operand.type, target):
            self.fail("42804", f"{operand.type} cannot be cast to {target}", node)
        cast = self.converted(operand, target, explicit=True)
        domain = self.domain(node.type) if node.type.element is None and not node.type.fields else None
        return self.in_domain(cast, domain) if domain is not None and domain.checks else cast

    def in_domain(self, value: R.Expr, domain: Domain) -> R.Expr:
        """A value that must meet the CHECKs of a domain."""
        number = self.new_source()
        outer = self.scope
        self.scope = ValueScope(R.Shared(value.type, value.nullable, number))
        checks = tuple((c.name, self.condition(c.condition, "CHECK")) for c in domain.checks)
        self.scope = outer
        return R.InDomain(value.type, value.nullable, number, value, checks)

    def row(self, node: tree.RowValue) -> R.Expr:
        items = tuple(self.expression(i) for i in node.items)
        type_ = Type("row", 0, 0, tuple(i.type for i in items), tuple(f"f{n + 1}" for n in range(len(items))))
        return R.Tuple(type_, False, items)

    def next_value(self, node: tree.NextValue) -> R.Expr:
        if self.aggregates is None and self.why_no_aggregate in NO_NEXT_VALUE:
            where = self.why_no_aggregate.replace("inside another one", "in a set function")
            self.fail("42601", f"NEXT VALUE cannot stand {where}", node)
        sequence = self.catalog.sequences.get(self.key("sequences", node.name, node))
        if sequence is None:
            name = node.name[-1]
            self.fail("42704", f"there is no sequence {name}", node, nearest(name, self.catalog.sequences))
        return R.NextValue(sequence.type, False, sequence)

    def default(self, node: tree.DefaultValue) -> R.Expr:
        self.fail("42601", "DEFAULT stands only for a column of INSERT or UPDATE", node)

    def placeholder(self, node: tree.Placeholder) -> R.Expr:
        self.fail("42601", "? stands only for an OUT argument of a CALL", node)

    def star(self, node: tree.Star) -> R.Expr:
        self.fail("42601", "* stands only in a select list or in COUNT(*)", node)

    # -- subqueries

    def scalar_query(self, node: tree.Subquery) -> R.Expr:
        query = self.query(node.query)
        self.one_column(query, node, "a subquery used as a value")
        return R.ScalarQuery(query.columns[0].type, True, query)

    def one_column(self, query: R.Query, node: tree.Node, what: str) -> None:
        if len(query.columns) != 1:
            self.fail("42601", f"{what} has one column, this has {len(query.columns)}", node)

    def exists(self, node: tree.Exists) -> R.Expr:
        return R.ExistsQuery(T.BOOLEAN, False, self.query(node.query))

    def unique(self, node: tree.Unique) -> R.Expr:
        return R.UniqueQuery(T.BOOLEAN, False, self.query(node.query), node.nulls_distinct)

    def grouping(self, node: tree.Grouping) -> R.Expr:
        self.fail("42601", f"{node.kind.upper()} stands only in GROUP BY", node)

    def in_query(self, node: tree.InQuery) -> R.Expr:
        operands, query = self._against(node.operand, node.query, "IN", node)
        return self._in_rows(operands, query, node.negated)

    def _in_rows(self, operands: tuple[R.Expr, ...], query: R.Query, negated: bool) -> R.Expr:
        nullable = any(o.nullable for o in operands) or any(c.nullable for c in query.columns)
        return R.InQuery(T.BOOLEAN, nullable, operands, query, negated)

    def _against(
        self, operand: tree.Expression, node: tree.Query, what: str, place: tree.Node
    ) -> tuple[tuple[R.Expr, ...], R.Query]:
        """An operand, or the fields of a row, and the columns of a query, pair by pair in one representation."""
        operands, query = self._row_items(operand), self.query(node)
        over = self.over(query)
        items = list(over.items)
        if len(items) == 1 and items[0].type.kind == "row":
            items = self.fields(items[0])
        if len(operands) != len(items):
            wanted = f"{len(operands)} value{'s' * (len(operands) != 1)}"
            self.fail("42601", f"{what} compares {wanted} with {len(items)} columns", place)
        pairs = [self.comparable(o, i, place) for o, i in zip(operands, items, strict=True)]
        converted = tuple(right for _, right in pairs)
        if converted != over.items:
            columns = tuple(R.Output("", i.type, i.nullable) for i in converted)
            query = R.Query(replace(over, items=converted), columns, (), (), 0, None, None, False, ())
        return tuple(left for left, _ in pairs), query

    def quantified(self, node: tree.Quantified) -> R.Expr:
        """Clause 8.9. `= ANY` is IN, `<> ALL` is NOT IN."""
        operands, query = self._against(node.operand, node.query, "a quantified comparison", node)
        if node.sign not in ("=", "<>") and any(o.type.kind == "array" for o in operands):
            self.fail("42804", f"arrays have no {node.sign}", node)
        if (node.sign, node.every) in (("=", False), ("<>", True)):
            return self._in_rows(operands, query, node.every)
        return R.QuantifiedQuery(T.BOOLEAN, True, node.sign, node.every, operands, query)


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
    return R.Strict(type_, bound.nullable, "{0}", (bound,)) if bound.type != type_ else bound


def _has_char(type_: Type) -> bool:
    """Whether a type is CHAR, or an array of it."""
    return type_.kind == "char" or (type_.kind == "array" and _has_char(type_.parts[0]))


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


_HANDLERS: dict[type, str] = {
    tree.Literal: "literal",
    tree.IntervalLiteral: "interval",
    tree.Reference: "reference",
    tree.Star: "star",
    tree.Placeholder: "placeholder",
    tree.DefaultValue: "default",
    tree.NextValue: "next_value",
    tree.Unary: "unary",
    tree.Binary: "binary",
    tree.Comparison: "comparison",
    tree.Logical: "logical",
    tree.Not: "negation",
    tree.IsNull: "is_null",
    tree.IsTruth: "is_truth",
    tree.IsDistinct: "is_distinct",
    tree.Between: "between",
    tree.InList: "in_list",
    tree.InQuery: "in_query",
    tree.Like: "like",
    tree.Similar: "similar",
    tree.Overlaps: "overlaps",
    tree.Difference: "difference",
    tree.Unique: "unique",
    tree.Grouping: "grouping",
    tree.ArrayValue: "array",
    tree.ArrayQuery: "array_query",
    tree.Element: "element",
    tree.Field: "field",
    tree.Exists: "exists",
    tree.Quantified: "quantified",
    tree.Subquery: "scalar_query",
    tree.RowValue: "row",
    tree.CaseExpression: "case",
    tree.CaseOperand: "case_operand",
    tree.Cast: "cast",
    tree.FunctionCall: "call",
}
