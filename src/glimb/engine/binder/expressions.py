"""Binding of expressions: names to columns and variables, operators and calls to typed operations.

Numbers are brought to one scale here, so that the code for `+` or `<` is Python's own. An arithmetic result is
Checked once, at the root of its expression: what lies between may leave the range, since Python's ints are exact.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import functions as F
from glimb.engine import resolved as R
from glimb.engine import types as T
from glimb.engine import values as V
from glimb.engine.binder.base import BinderBase
from glimb.engine.binder.scope import suggest
from glimb.engine.catalog import ParameterInfo, Routine
from glimb.engine.conditions import Condition
from glimb.engine.types import Type
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.problem import nearest


class ExpressionBinder(BinderBase):
    """Binds value expressions, predicates and calls."""

    def expression(self, node: tree.Expression) -> R.Expr:
        handler = _HANDLERS.get(type(node))
        if handler is None:
            self.fail("42601", f"{type(node).__name__} cannot stand here", node)
        bound: R.Expr = handler(self, node)
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
        return R.Const(Type(kind), False, V.convert(text, T.CLOB, Type(kind)))

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
        while scope is not None:
            found = scope.find(node.parts)
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

    # -- representation

    def constant(self, value: Any, type_: Type) -> R.Const:
        return R.Const(type_, value is None, value)

    def represent(self, bound: R.Expr, target: Type) -> R.Expr:
        """The same value in the representation of a type that can hold it exactly (or as a double)."""
        source = bound.type
        if source.kind == "null":
            return R.Const(target, True, None)
        if source == target:
            return bound
        if isinstance(bound, R.Const) and source.is_number and target.is_number:
            if target.family == "approximate":
                return R.Const(target, False, V.convert(bound.value, source, target))
            return R.Const(target, bound.nullable, V.rescale(bound.value, _scale(source) - _scale(target)))
        if target.family == "approximate" and source.family == "exact":
            code = "float({0})" if _scale(source) == 0 else f"({{0}} / {10 ** _scale(source)})"
            return R.Strict(target, bound.nullable, code, (bound,))
        if target.family == source.family == "exact":
            by = _scale(target) - _scale(source)
            inner = _unchecked(bound)
            if by == 0:
                return _typed(inner, target) if inner is bound else inner
            factor = R.Const(target, False, 10**by)
            return R.Arith(target, bound.nullable, "*", inner, factor)
        if source.family == "date" and target.family == "timestamp":
            return R.Convert(target, bound.nullable, bound, False)
        return _typed(bound, target)

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
                return R.Convert(target, False, bound, False)  # raised when it runs, where a handler may wait for it
        return self.converted(bound, target, explicit=False)

    def converted(self, bound: R.Expr, target: Type, explicit: bool) -> R.Expr:
        """The cheapest node that converts: none, a range check, or a call."""
        source = bound.type
        if source.family == target.family == "exact":
            inner = _unchecked(bound)
            if _scale(source) <= _scale(target):
                if inner is bound and _fits_exact(source, target):
                    return self.represent(bound, target)
                return R.Checked(target, bound.nullable, self.represent(inner, target))
        if source == target and target.kind != "real":
            return bound
        if source.family == target.family == "text" and _fits_text(source, target):
            return _typed(bound, target)
        if source.family == "exact" and target.kind == "double":
            return self.represent(bound, target)
        if {source.kind, target.kind} <= {"real", "double"}:
            return _typed(bound, target)
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
        negated = R.Strict(operand.type, operand.nullable, "(-{0})", (_unchecked(operand),))
        return R.Checked(operand.type, operand.nullable, negated) if operand.type.family == "exact" else negated

    def binary(self, node: tree.Binary) -> R.Expr:
        left, right = self.expression(node.left), self.expression(node.right)
        if node.sign == "||":
            return self._concatenate(left, right, node)
        if left.type.is_number and right.type.is_number:
            return self.arithmetic(node.sign, left, right)
        if left.type.kind == "null" and right.type.kind == "null":
            return self.constant(None, T.INTEGER)
        if left.type.is_number and right.type.kind == "null":
            return self.constant(None, left.type)
        if right.type.is_number and left.type.kind == "null":
            return self.constant(None, right.type)
        return self._datetime_arithmetic(node, left, right)

    def arithmetic(self, sign: str, left: R.Expr, right: R.Expr) -> R.Expr:
        """`+ - * /` over numbers (clause 6.27)."""
        type_ = T.arithmetic(sign, left.type, right.type)
        nullable = left.nullable or right.nullable
        if type_.family == "approximate":
            left, right = self.represent(left, type_), self.represent(right, type_)
            return R.Strict(type_, nullable, f"check_float({{0}} {sign} {{1}})", (left, right))
        left, right = _unchecked(left), _unchecked(right)
        if sign == "/":
            if type_.is_integer:
                divided: R.Expr = R.Arith(type_, nullable, "/", left, right)
            else:
                shift = type_.scale - _scale(left.type) + _scale(right.type)
                divided = R.Strict(type_, nullable, f"divide_scaled({{0}}, {{1}}, {shift})", (left, right))
            return R.Checked(type_, nullable, divided)
        if sign != "*":
            left, right = self.represent(left, type_), self.represent(right, type_)
        return R.Checked(type_, nullable, R.Arith(type_, nullable, sign, left, right))

    def _concatenate(self, left: R.Expr, right: R.Expr, node: tree.Binary) -> R.Expr:
        families = {left.type.family, right.type.family} - {"null"}
        if families - {"text"} and families - {"bytes"}:
            other = left.type if left.type.family not in ("text", "null") else right.type
            self.fail("42804", f"|| joins texts, one side is {other}", node, "CAST(... AS VARCHAR(40))")
        nullable = left.nullable or right.nullable
        type_ = T.CLOB
        if families == {"bytes"}:
            type_ = Type("varbinary", min(T.MAX_LENGTH, T.length(left.type) + T.length(right.type)))
        elif "clob" not in (left.type.kind, right.type.kind):
            type_ = T.varchar(T.length(left.type) + T.length(right.type))
        return R.Strict(type_, nullable, "({0} + {1})", (left, right))

    def _datetime_arithmetic(self, node: tree.Binary, left: R.Expr, right: R.Expr) -> R.Expr:
        """Dates, times and intervals (clauses 6.31, 6.33)."""
        sign, (a, b) = node.sign, (left.type.family, right.type.family)
        nullable = left.nullable or right.nullable
        moments = ("date", "time", "timestamp")
        if sign == "+" and a in ("months", "micros") and b in moments:
            left, right, a, b = right, left, b, a
        if sign in "+-" and a in moments and b in ("months", "micros") and (a, b) != ("time", "months"):
            call = "moved_months" if b == "months" else "moved"
            minus = "-" if sign == "-" else ""
            return R.Strict(left.type, nullable, f"{call}({{0}}, {minus}{{1}})", (left, right))
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
            scale = _scale(right.type)
            code = (
                f"divide_scaled({{0}} * {{1}}, {10**scale}, 0)"
                if sign == "*"
                else f"divide({{0}} * {10**scale}, {{1}})"
            )
            return R.Strict(left.type, nullable, code, (left, _unchecked(right)))
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
        """A comparison over one representation; what cannot be compared is refused."""
        left, right = self.comparable(left, right, node)
        nullable = left.nullable or right.nullable
        return R.Compare(T.BOOLEAN, nullable, sign, left, right)

    def comparable(self, left: R.Expr, right: R.Expr, node: tree.Node) -> tuple[R.Expr, R.Expr]:
        """Both sides brought to a type in which they can be compared."""
        type_ = T.common(left.type, right.type)
        if type_ is None:
            self.fail("42804", f"{left.type} cannot be compared with {right.type}", node)
        if type_.family == "text" and "char" in (left.type.kind, right.type.kind):
            return self._padded(left, right)
        if type_.is_number and type_.family == "exact":
            scale = max(_scale(left.type), _scale(right.type))
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
            return self._compare_rows(node)
        left, right = self.expression(node.left), self.expression(node.right)
        return self.compare(node.sign, left, right, node)

    def _compare_rows(self, node: tree.Comparison) -> R.Expr:
        """Row comparison (clause 8.2), as comparisons of their parts."""
        left, right = self._row_items(node.left), self._row_items(node.right)
        if len(left) != len(right):
            self.fail("42804", f"a row of {len(left)} cannot be compared with a row of {len(right)}", node)
        if node.sign in ("=", "<>"):
            equal = self.conjunction([self.compare("=", a, b, node) for a, b in zip(left, right, strict=True)])
            return equal if node.sign == "=" else R.Not(T.BOOLEAN, equal.nullable, equal)
        strict = node.sign[0]
        result = self.compare(node.sign, left[-1], right[-1], node)
        for a, b in reversed(list(zip(left[:-1], right[:-1], strict=True))):
            below = self.compare(strict, a, b, node)
            same = self.conjunction([self.compare("=", a, b, node), result])
            result = R.Or(T.BOOLEAN, below.nullable or same.nullable, (below, same))
        return result

    def _row_items(self, node: tree.Expression) -> list[R.Expr]:
        items = node.items if isinstance(node, tree.RowValue) else (node,)
        return [self.expression(item) for item in items]

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
        if isinstance(node.operand, tree.RowValue):
            tests: list[R.Expr] = [
                R.IsNull(T.BOOLEAN, False, self.expression(i), node.negated) for i in node.operand.items
            ]
            return self.conjunction(tests)
        return R.IsNull(T.BOOLEAN, False, self.expression(node.operand), node.negated)

    def is_truth(self, node: tree.IsTruth) -> R.Expr:
        value = {"true": True, "false": False, "unknown": None}[node.value]
        return R.IsTruth(T.BOOLEAN, False, self.condition(node.operand, "IS"), value, node.negated)

    def is_distinct(self, node: tree.IsDistinct) -> R.Expr:
        left, right = self.comparable(self.expression(node.left), self.expression(node.right), node)
        return R.IsDistinct(T.BOOLEAN, False, left, right, node.negated)

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
        pairs = [self.comparable(operand, self.expression(item), item) for item in node.items]
        if any(left != pairs[0][0] for left, _ in pairs):
            tests = tuple(R.Compare(T.BOOLEAN, a.nullable or b.nullable, "=", a, b) for a, b in pairs)
            bound = R.Or(T.BOOLEAN, any(t.nullable for t in tests), tests)
            return whole(R.Not(T.BOOLEAN, bound.nullable, bound) if node.negated else bound)
        items = tuple(right for _, right in pairs)
        nullable = operand.nullable or any(i.nullable for i in items)
        return whole(R.InList(T.BOOLEAN, nullable, pairs[0][0], items, node.negated))

    def like(self, node: tree.Like) -> R.Expr:
        parts = [self.expression(p) for p in (node.operand, node.pattern)]
        if node.escape is not None:
            parts.append(self.expression(node.escape))
        for part in parts:
            if part.type.family not in ("text", "null"):
                self.fail("42804", f"LIKE compares texts, this is {part.type}", node)
        nullable = any(p.nullable for p in parts)
        return R.Like(T.BOOLEAN, nullable, parts[0], parts[1], parts[2] if len(parts) > 2 else None, node.negated)

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
        tests = tuple(self.compare("=", operand, self.expression(c), c) for c in conditions)
        return tests[0] if len(tests) == 1 else R.Or(T.BOOLEAN, True, tests)

    def unified(self, items: list[R.Expr], node: tree.Node, what: str) -> list[R.Expr]:
        """Values of one result type (clause 9.5)."""
        type_ = T.NULL
        for item in items:
            joined = T.common(type_, item.type)
            if joined is None:
                self.fail("42804", f"{what} mixes {type_} and {item.type}", node)
            type_ = joined
        if type_.kind == "char":
            type_ = Type("varchar", type_.size) if len({i.type for i in items if i.type.kind != "null"}) > 1 else type_
        return [self.represent(item, type_) for item in items]

    def cast(self, node: tree.Cast) -> R.Expr:
        operand, target = self.expression(node.operand), self.type(node.type)
        if operand.type.kind == "null":
            return self.constant(None, target)
        if not T.castable(operand.type, target):
            self.fail("42804", f"{operand.type} cannot be cast to {target}", node)
        return self.converted(operand, target, explicit=True)

    def row(self, node: tree.RowValue) -> R.Expr:
        self.fail("42601", "a row value can only be compared or assigned", node)

    def next_value(self, node: tree.NextValue) -> R.Expr:
        sequence = self.catalog.sequences.get(node.name[-1])
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

    # -- calls

    def call(self, node: tree.FunctionCall) -> R.Expr:
        name = F.ALIASES.get(node.name[-1], node.name[-1])
        if node.over is not None:
            return self.window(name, node, node.over)
        if name in F.WINDOW_FUNCTIONS and name not in self.catalog.routines:
            self.fail("42601", f"{name.upper()} needs a window", node, f"{name.upper()}(...) OVER (ORDER BY ...)")
        if name in F.AGGREGATES and len(node.name) == 1 and name not in self.catalog.routines:
            return self.aggregate(name, node)
        if node.distinct or node.where is not None:
            self.fail("42601", f"{name} is no set function", node)
        if name in ("coalesce", "nullif") and len(node.name) == 1:
            return self._coalesce(node) if name == "coalesce" else self._nullif(node)
        if name in ("greatest", "least") and name not in self.catalog.routines:
            return self._extreme(name, node)
        if node.bare:
            return self._clock(name, node)
        if name in self.catalog.routines:
            return self._stored(name, node)
        if name in F.BUILTINS and len(node.name) == 1:
            return self._builtin(name, node)
        known = [
            *F.BUILTINS,
            *F.ALIASES,
            *F.AGGREGATES,
            *self.catalog.routines,
            "coalesce",
            "nullif",
            "greatest",
            "least",
        ]
        self.fail("42883", f"there is no function {'.'.join(node.name)}", node, nearest(name, known))

    def _clock(self, name: str, node: tree.FunctionCall) -> R.Expr:
        if name in F.CLOCK:
            type_, code = F.CLOCK[name]
            return R.Strict(type_, False, code, ())
        if name in ("user", "current_user", "session_user", "system_user"):
            return R.Strict(T.varchar(128), False, "s.name", ())
        self.fail("0A000", f"{name.upper()} is not supported yet", node)

    def _plain_arguments(self, node: tree.FunctionCall) -> list[R.Expr]:
        for argument in node.arguments:
            if argument.name:
                self.fail("42601", f"{node.name[-1]} is built in: its arguments have no names", argument)
        return [self.expression(a.value) for a in node.arguments]

    def _coalesce(self, node: tree.FunctionCall) -> R.Expr:
        items = self._plain_arguments(node)
        if not items:
            self.fail("42884", "COALESCE needs arguments", node)
        items = self.unified(items, node, "COALESCE")
        return R.Coalesce(items[0].type, all(i.nullable for i in items), tuple(items))

    def _extreme(self, name: str, node: tree.FunctionCall) -> R.Expr:
        """GREATEST, LEAST: NULL when an argument is."""
        items = self._plain_arguments(node)
        if len(items) < 2:
            self.fail("42884", f"{name.upper()} takes two arguments or more", node)
        items = self.unified(items, node, name.upper())
        shown = ", ".join(f"{{{i}}}" for i in range(len(items)))
        code = f"{'max' if name == 'greatest' else 'min'}({shown})"
        return R.Strict(items[0].type, any(i.nullable for i in items), code, tuple(items))

    def _nullif(self, node: tree.FunctionCall) -> R.Expr:
        items = self._plain_arguments(node)
        if len(items) != 2:
            self.fail("42884", "NULLIF takes two arguments", node)
        first, whole = self.shared(items[0])
        same = self.compare("=", first, items[1], node)
        return whole(R.Case(first.type, True, ((same, self.constant(None, first.type)),), first))

    def _builtin(self, name: str, node: tree.FunctionCall) -> R.Expr:
        arguments = self._plain_arguments(node)
        if name == "substring" and len(arguments) > 1:
            arguments = [arguments[0], *(self._whole(a, node) for a in arguments[1:])]
        if name.startswith("trim_") and len(arguments) == 1:
            arguments.append(self.constant(" ", T.varchar(1)))
        for form in F.BUILTINS[name]:
            needed = len(form.families) - form.optional
            if needed <= len(arguments) <= len(form.families):
                if all(F.fits(f, a.type) for f, a in zip(form.families, arguments, strict=False)):
                    return self._apply(form, arguments)
        shown = ", ".join(str(a.type) for a in arguments)
        ways = " or ".join(f"{name}({', '.join(form.families)})" for form in F.BUILTINS[name])
        self.fail("42884", f"{name}({shown}) does not fit", node, f"there is {ways}")

    def _whole(self, bound: R.Expr, node: tree.Node) -> R.Expr:
        return self.converted(bound, T.INTEGER, explicit=True) if bound.type.family == "exact" else bound

    def _apply(self, form: F.Builtin, arguments: list[R.Expr]) -> R.Expr:
        arguments = [
            self.represent(a, T.DOUBLE) if a.type.kind == "null" and f in ("number", "approximate") else a
            for f, a in zip(form.families, arguments, strict=False)
        ]
        type_ = form.result([a.type for a in arguments])
        if form.as_double:
            arguments = [self.represent(a, T.DOUBLE) for a in arguments]
        elif form.code.startswith("sql_mod"):
            left, right = self.comparable(arguments[0], arguments[1], tree.Star())
            arguments, type_ = [left, right], left.type if left.type.kind == "decimal" else type_
        elif form.code.startswith("sql_round"):
            return self._round(form, [*arguments, self.constant(0, T.INTEGER)][:2])
        digits = _scale(arguments[0].type) if arguments else 0
        code = form.code.replace("{scale}", str(10**digits)).replace("{digits}", str(digits))
        for number in range(len(arguments), len(form.families)):
            code = code.replace(f", {{{number}}}", "")
        nullable = any(a.nullable for a in arguments)
        bound: R.Expr = R.Strict(type_, nullable, code, tuple(arguments))
        if type_.family == "exact" and form.result is F._same:
            bound = R.Checked(type_, nullable, bound)
        return bound

    def _round(self, form: F.Builtin, arguments: list[R.Expr]) -> R.Expr:
        """ROUND: to a known number of places it gives that many."""
        value, places = arguments
        digits = _scale(value.type)
        nullable = value.nullable or places.nullable
        if value.type.kind == "decimal" and isinstance(places, R.Const) and places.value is not None:
            kept = max(0, min(digits, places.value))
            type_ = T.decimal(value.type.size - digits + kept + 1, kept)
            code = f"rescale(sql_round({{0}}, {places.value}, {digits}), {digits - kept})"
            return R.Checked(type_, nullable, R.Strict(type_, nullable, code, (value,)))
        type_ = form.result([value.type])
        code = form.code.replace("{digits}", str(digits))
        return R.Strict(type_, nullable, code, (value, places))

    # -- stored functions

    def _stored(self, name: str, node: tree.FunctionCall) -> R.Expr:
        routine, arguments = self.resolve(name, node.arguments, node)
        if routine.kind == "procedure":
            self.fail("42809", f"{name} is a procedure", node, f"CALL {name}(...)")
        if routine.table:
            self.fail("42809", f"{name} is a table function, not a value", node, f"FROM TABLE({name}(...))")
        assert routine.returns is not None
        return R.RoutineCall(routine.returns, True, routine, tuple(arguments))

    def resolve(self, name: str, given: tuple[tree.Argument, ...], node: tree.Node) -> tuple[Routine, list[R.Expr]]:
        """The routine that the arguments fit, and the arguments in the order of its parameters."""
        bound = [
            None if isinstance(a.value, tree.Placeholder | tree.DefaultValue) else self.expression(a.value)
            for a in given
        ]
        group = self.catalog.routines[name]
        fitting = [r for r in group if self._fit(r, given, bound) == ""]
        if not fitting:
            shown = ", ".join("?" if b is None else str(b.type) for b in bound)
            if len(group) == 1:
                why = self._fit(group[0], given, bound)
                self.fail("42884", f"{name}({shown}) does not fit: {why}", node, f"there is {group[0].signature}")
            ways = ", ".join(r.signature for r in group)
            self.fail("42884", f"no {name} takes ({shown})", node, f"there are {ways}")
        best = max(fitting, key=lambda r: self._closeness(r, given, bound))
        return best, self._arranged(best, given, bound, node)

    def _argument_positions(self, routine: Routine, given: tuple[tree.Argument, ...]) -> list[int] | str:
        """Which parameter each argument is for, or why it is for none."""
        names = [p.name for p in routine.parameters]
        positions: list[int] = []
        for number, argument in enumerate(given):
            if argument.name:
                if argument.name not in names:
                    return f"it has no parameter {argument.name}"
                position = names.index(argument.name)
            elif number and given[number - 1].name:
                return "an argument without a name follows one with a name"
            else:
                position = number
            if position >= len(names):
                return f"it takes {len(names)} argument{'s' * (len(names) != 1)}, not {len(given)}"
            if position in positions:
                return f"{names[position]} is given twice"
            positions.append(position)
        return positions

    def _fit(self, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None]) -> str:
        """Empty when the arguments fit the routine, otherwise why not."""
        positions = self._argument_positions(routine, given)
        if isinstance(positions, str):
            return positions
        for position, value in zip(positions, bound, strict=True):
            parameter = routine.parameters[position]
            if value is not None and parameter.mode != "out" and not T.assignable(value.type, parameter.type):
                return f"{parameter.name} is {parameter.type}, not {value.type}"
        for number, parameter in enumerate(routine.parameters):
            if number not in positions and parameter.default is None:
                return f"{parameter.name} {parameter.type} is missing"
        return ""

    def _closeness(
        self, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None]
    ) -> tuple[int, int]:
        positions = self._argument_positions(routine, given)
        assert isinstance(positions, list)
        pairs = [(routine.parameters[p].type, b.type) for p, b in zip(positions, bound, strict=True) if b is not None]
        exact = sum(a.kind == b.kind for a, b in pairs)
        return exact * 2 + sum(a.family == b.family for a, b in pairs), -len(routine.parameters)

    def _arranged(
        self, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None], node: tree.Node
    ) -> list[R.Expr]:
        """Arguments by parameter, converted; defaults where none is given."""
        positions = self._argument_positions(routine, given)
        assert isinstance(positions, list)
        values = dict(zip(positions, zip(bound, given, strict=True), strict=True))
        arranged: list[R.Expr] = []
        for number, parameter in enumerate(routine.parameters):
            value, argument = values.get(number, (None, None))
            if (
                value is None
                and parameter.default is not None
                and not (argument and isinstance(argument.value, tree.Placeholder))
            ):
                value = self._default(routine, parameter)
            if value is None or parameter.mode == "out":
                if value is None and parameter.mode == "in":
                    self.fail("42601", f"? stands only for an OUT argument; {parameter.name} is IN", argument or node)
                arranged.append(R.Const(parameter.type, True, None))
                continue
            arranged.append(self.assign(value, parameter.type, argument or node, parameter.name))
        return arranged

    def _default(self, routine: Routine, parameter: ParameterInfo) -> R.Expr:
        """The default of a parameter, bound without any names around it."""
        assert parameter.default is not None
        scope, source = self.scope, self.source
        self.scope, self.source = None, routine.source
        try:
            return self.expression(parameter.default)
        finally:
            self.scope, self.source = scope, source

    # -- set functions

    def aggregate(self, name: str, node: tree.FunctionCall) -> R.Expr:
        if self.aggregates is None:
            self.fail(
                "42803", f"{name.upper()} is a set function and cannot stand {self.why_no_aggregate or 'here'}", node
            )
        star = len(node.arguments) == 1 and isinstance(node.arguments[0].value, tree.Star)
        if len(node.arguments) != 1 or (star and (name != "count" or node.distinct)):
            self.fail("42884", f"{name.upper()} takes one argument", node)
        collected, self.aggregates = self.aggregates, None
        windows_allowed, self.windows_allowed = self.windows_allowed, False
        why, self.why_no_aggregate = self.why_no_aggregate, "inside another one"
        argument = None if star else self.expression(node.arguments[0].value)
        where = self.condition(node.where, "FILTER") if node.where is not None else None
        self.aggregates, self.why_no_aggregate = collected, why
        self.windows_allowed = windows_allowed
        if name == "count":
            bound = R.Aggregate(T.BIGINT, False, "count", argument, node.distinct, where)
        else:
            assert argument is not None
            type_ = F.aggregate_type(name, argument.type)
            if type_ is None:
                self.fail("42804", f"{name.upper()} does not take {argument.type}", node)
            name = "any" if name == "some" else name
            bound = R.Aggregate(type_, True, name, argument, node.distinct, where)
        if bound not in collected:
            collected.append(bound)
        return bound

    # -- windows

    def window(self, name: str, node: tree.FunctionCall, over: tree.Window) -> R.Expr:
        """A function with OVER (clauses 6.10 and 7.15)."""
        if not self.windows_allowed:
            self.fail("42601", "a window function stands only in a select list or ORDER BY", node)
        self.windows_allowed = False
        star = len(node.arguments) == 1 and isinstance(node.arguments[0].value, tree.Star)
        arguments = [] if star else self._plain_arguments(node)
        where = self.condition(node.where, "FILTER") if node.where is not None else None
        partition = tuple(self.expression(e) for e in over.partition)
        order = tuple(
            (self.expression(k.value), k.descending, k.nulls == "first" if k.nulls else k.descending)
            for k in over.order
        )
        unit, start, end = self._frame(over, order)
        self.windows_allowed = True
        arguments, type_ = self._window_arguments(name, arguments, star, node)
        if (
            name in F.WINDOW_FUNCTIONS
            and name not in ("row_number", "first_value", "last_value", "nth_value")
            and not order
        ):
            self.fail("42601", f"{name.upper()} needs an order", node, "OVER (ORDER BY ...)")
        if node.distinct or (where is not None and name in F.WINDOW_FUNCTIONS):
            self.fail("0A000", "DISTINCT and FILTER are not supported in this window function", node)
        nullable = name not in F.RANKS | {"count", "ntile"}
        return R.WindowCall(type_, nullable, name, tuple(arguments), where, partition, order, unit, start, end)

    def _window_arguments(
        self, name: str, arguments: list[R.Expr], star: bool, node: tree.FunctionCall
    ) -> tuple[list[R.Expr], Type]:
        """Arguments of a window function, and its result type."""
        count = len(arguments)
        if name in F.RANKS and count == 0:
            return arguments, T.DOUBLE if name in ("percent_rank", "cume_dist") else T.BIGINT
        if name == "count" and count + star == 1:
            return arguments, T.BIGINT
        if name in F.AGGREGATES and count == 1:
            type_ = F.aggregate_type(name, arguments[0].type)
            if type_ is not None:
                return arguments, type_
        if name == "ntile" and count == 1 and arguments[0].type.family == "exact":
            return arguments, T.BIGINT
        if name in ("first_value", "last_value") and count == 1:
            return arguments, arguments[0].type
        if name == "nth_value" and count == 2 and arguments[1].type.family == "exact":
            return arguments, arguments[0].type
        if name in ("lag", "lead") and 1 <= count <= 3 and (count < 2 or arguments[1].type.family == "exact"):
            if count == 3:
                first, default = self.unified([arguments[0], arguments[2]], node, name.upper())
                return [first, arguments[1], default], first.type
            return arguments, arguments[0].type
        shown = ", ".join(str(a.type) for a in arguments)
        self.fail("42884", f"there is no window function {name}({shown})", node)

    def _frame(
        self, over: tree.Window, order: tuple[tuple[R.Expr, bool, bool], ...]
    ) -> tuple[str, tuple[str, R.Expr | None], tuple[str, R.Expr | None]]:
        """Unit and ends of a frame. The default is up to the peers of the current row; without an order, everything."""
        if not over.unit or over.start is None:
            return "range", ("unbounded preceding", None), ("current row" if order else "unbounded following", None)
        end = over.end or tree.Bound("current row", span=over.start.span)
        kinds = ["unbounded preceding", "preceding", "current row", "following", "unbounded following"]
        if over.start.kind == kinds[4] or end.kind == kinds[0] or kinds.index(over.start.kind) > kinds.index(end.kind):
            self.fail("42601", f"a frame cannot go from {over.start.kind} to {end.kind}", over.start)
        if over.unit == "groups" and not order:
            self.fail("42601", "GROUPS needs an order", over.start)
        return over.unit, self._frame_end(over.start, over.unit, order), self._frame_end(end, over.unit, order)

    def _frame_end(
        self, bound: tree.Bound, unit: str, order: tuple[tuple[R.Expr, bool, bool], ...]
    ) -> tuple[str, R.Expr | None]:
        if bound.value is None:
            return bound.kind, None
        value = self.expression(bound.value)
        if unit != "range":
            if not value.type.is_integer:
                self.fail("42804", f"{unit.upper()} takes a whole number, this is {value.type}", bound)
            return bound.kind, value
        key = order[0][0] if len(order) == 1 else None
        if key is None or key.type.family not in ("exact", "date", "timestamp", "time"):
            self.fail("42804", "RANGE with an offset needs one sort key, an exact number, a date or a time", bound)
        if key.type.family == "exact":
            return bound.kind, self.assign(value, key.type, bound, "the offset")
        if value.type.family != "micros":
            self.fail("42804", f"the offset of a {key.type} is an interval of days to seconds", bound)
        return bound.kind, value

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

    def in_query(self, node: tree.InQuery) -> R.Expr:
        operands = self._row_items(node.operand)
        query = self.query(node.query)
        if len(operands) != len(query.columns):
            self.fail("42601", f"IN compares {len(operands)} with {len(query.columns)} columns", node)
        pairs = [self._against(o, c, node) for o, c in zip(operands, query.columns, strict=True)]
        nullable = any(o.nullable for o in operands) or any(c.nullable for c in query.columns)
        return R.InQuery(T.BOOLEAN, nullable, tuple(pairs), query, node.negated)

    def _against(self, operand: R.Expr, column: R.Output, node: tree.Node) -> R.Expr:
        """An operand brought to the representation of a query's column, when that is possible."""
        probe = R.Column(column.type, True, -1, 0, column.name)
        left, right = self.comparable(operand, probe, node)
        if right != probe and not (column.type.is_integer and right.type.is_integer):
            self.fail("42804", f"{operand.type} and {column.type} need a CAST to be compared here", node)
        return left

    def quantified(self, node: tree.Quantified) -> R.Expr:
        operand, query = self.expression(node.operand), self.query(node.query)
        self.one_column(query, node, "a quantified comparison")
        operand = self._against(operand, query.columns[0], node)
        return R.QuantifiedQuery(T.BOOLEAN, True, node.sign, node.every, operand, query)


def _scale(type_: Type) -> int:
    """Digits behind the point of an exact number."""
    return type_.scale if type_.kind == "decimal" else 0


def _unchecked(bound: R.Expr) -> R.Expr:
    """An operand of arithmetic need not be checked by itself."""
    return bound.operand if isinstance(bound, R.Checked) else bound


def _typed(bound: R.Expr, type_: Type) -> R.Expr:
    """The same value and representation under another type."""
    if isinstance(bound, R.Const):
        return R.Const(type_, bound.nullable, bound.value)
    return R.Strict(type_, bound.nullable, "{0}", (bound,)) if bound.type != type_ else bound


def _fits_exact(source: Type, target: Type) -> bool:
    """Whether every value of one exact type is one of the other, at its scale."""
    if source.is_integer and target.is_integer:
        return source.limit <= target.limit
    (p1, s1), (p2, s2) = T.digits(source), T.digits(target)
    return target.kind == "decimal" and p1 - s1 <= p2 - s2 and s1 <= s2


def _fits_text(source: Type, target: Type) -> bool:
    if target.kind == "char":
        return source == target
    return target.kind == "clob" or (source.kind != "clob" and source.size <= target.size)


def contains_aggregate(node: R.Node) -> bool:
    """Whether a set function stands in a bound expression."""
    return any(isinstance(n, R.Aggregate) for n in walk(node))


_HANDLERS: dict[type, Any] = {
    tree.Literal: ExpressionBinder.literal,
    tree.IntervalLiteral: ExpressionBinder.interval,
    tree.Reference: ExpressionBinder.reference,
    tree.Star: ExpressionBinder.star,
    tree.Placeholder: ExpressionBinder.placeholder,
    tree.DefaultValue: ExpressionBinder.default,
    tree.NextValue: ExpressionBinder.next_value,
    tree.Unary: ExpressionBinder.unary,
    tree.Binary: ExpressionBinder.binary,
    tree.Comparison: ExpressionBinder.comparison,
    tree.Logical: ExpressionBinder.logical,
    tree.Not: ExpressionBinder.negation,
    tree.IsNull: ExpressionBinder.is_null,
    tree.IsTruth: ExpressionBinder.is_truth,
    tree.IsDistinct: ExpressionBinder.is_distinct,
    tree.Between: ExpressionBinder.between,
    tree.InList: ExpressionBinder.in_list,
    tree.InQuery: ExpressionBinder.in_query,
    tree.Like: ExpressionBinder.like,
    tree.Exists: ExpressionBinder.exists,
    tree.Quantified: ExpressionBinder.quantified,
    tree.Subquery: ExpressionBinder.scalar_query,
    tree.RowValue: ExpressionBinder.row,
    tree.CaseExpression: ExpressionBinder.case,
    tree.Cast: ExpressionBinder.cast,
    tree.FunctionCall: ExpressionBinder.call,
}
