"""Binding of expressions: names to columns and variables, operators and calls to typed operations.

Numbers are brought to one scale here, so that the code for `+` or `<` is Python's own. An arithmetic result is
Checked once, at the root of its expression: what lies between may leave the range, since Python's ints are exact."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.comparisons import bind_fields, compare, conjunction, one_column, row_items
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import bind_converted, constant, shared, unified
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.hosts import named_value
from glimb.engine.binding.scope import Scope, ValueScope, suggest
from glimb.engine.catalog.objects import Domain
from glimb.engine.values import conversion as V
from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest
from glimb.lang.source import Span

NO_NEXT_VALUE = ("in WHERE", "in ON", "in GROUP BY", "in CHECK", "in WHEN", "inside another one")
"""Where a value of a sequence cannot be drawn: it would depend on how often that is looked at (clause 6.14)."""


# -- literals and names


def literal(b: Binding, node: tree.Literal) -> R.Expr:
    """A literal (clause 5.3); 22003 when it has more digits than a DECIMAL may have, 22007 or 22008 for a moment that
    there is not."""
    given = b.outside.literals.get(id(node)) if b.outside is not None else None
    if given is not None:
        local, type_ = given
        return R.Variable(type_, False, local, "")
    try:
        return literal_value(node)
    except Condition as condition:
        b.fail(condition.sqlstate, condition.message, node)


def literal_value(node: tree.Literal) -> R.Const:
    """The type and value of a literal; raises the Condition that says what is wrong with it."""
    kind, text = node.kind, node.value
    if kind == "integer":
        return _integer(text)
    if kind == "decimal":
        whole, _, fraction = text.lstrip("-").partition(".")
        precision, scale = len((whole + fraction).lstrip("0")) or 1, len(fraction)
        if max(precision, scale) > T.MAX_PRECISION:
            fail("22003", f"more than {T.MAX_PRECISION} digits")
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


def _integer(text: str) -> R.Const:
    if len(text) > T.MAX_PRECISION + 1:
        fail("22003", f"more than {T.MAX_PRECISION} digits")
    value = int(text)
    for type_ in (T.INTEGER, T.BIGINT):
        if -type_.limit <= value < type_.limit:
            return R.Const(type_, False, value)
    return R.Const(T.decimal(len(str(abs(value))), 0), False, value)


def interval(b: Binding, node: tree.IntervalLiteral) -> R.Expr:
    """An interval literal (clause 5.3): its value in months or microseconds."""
    fields = [T.INTERVAL_FIELDS.index(f) for f in (node.first, node.last)]
    type_ = Type("months" if fields[0] < 2 else "micros", fields[0], fields[1])
    if (fields[0] < 2) != (fields[1] < 2) or fields[0] > fields[1]:
        b.fail("42601", "an interval is of years and months, or of days to seconds", node)
    try:
        value = V.text_to_interval(node.value, type_)
    except Condition as condition:
        b.fail(condition.sqlstate, condition.message, node)
    return R.Const(type_, False, -value if node.negative else value)


def bind_reference(b: Binding, node: tree.Reference) -> R.Expr:
    """A name: of a column, a variable, a parameter, a field, qualified or not (clause 6.6); 42703 when there is none,
    42702 when there are several."""
    scope = b.scope
    if len(node.parts) > 2 and node.parts[-3] == "module" and b.catalog.is_module(b.schema):
        node = replace(node, parts=(b.schema, *node.parts[-2:]))
    while scope is not None:
        found = scope.find(node.parts) or _field_found(b, scope, node)
        if len(found) > 1:
            b.fail("42702", f"{'.'.join(node.parts)} is ambiguous: it is in several tables", node, "qualify it")
        if found:
            return replace(found[0], span=node.span) if isinstance(found[0], R.Variable) else found[0]
        scope = scope.parent
    name = ".".join(node.parts)
    outside = named_value(b, name)
    if outside is not None:
        return outside
    hint = suggest(b.scope, node.parts)
    if name in b.catalog.routines:
        hint = f"{name} is a {b.catalog.routines[name][0].kind_word}: write {name}(...)"
    what = "column" if b.scope is None or b.scope.names() else "column or variable"
    b.fail("42703", f"there is no {what} {name} here", node, hint)


def _field_found(b: Binding, scope: Scope, node: tree.Reference) -> list[R.Expr]:
    """A name with fields of a row, and of rows in it, behind it: `r.a`, `t.r.a.b`."""
    for length in range(len(node.parts) - 1, 0, -1):
        found = scope.find(node.parts[:length])
        if len(found) == 1 and found[0].type.kind == "row":
            value = found[0]
            for name in node.parts[length:]:
                if value.type.kind != "row":
                    b.fail("42804", f"only rows have fields, this is {value.type}", node)
                value = field_of(b, value, name, node)
            return [value]
    return []


def logical(b: Binding, node: tree.Logical) -> R.Expr:
    """AND and OR (clause 6.39), over conditions only."""
    operands: list[tree.Expression] = []
    at: tree.Expression = node
    while isinstance(at, tree.Logical) and at.sign == node.sign:
        operands.append(at.right)
        at = at.left
    operands.append(at)
    bound = [bind_condition(b, operand, node.sign.upper()) for operand in reversed(operands)]
    if node.sign == "and":
        return conjunction(b, bound)
    return R.Or(T.BOOLEAN, any(right.nullable for right in bound), tuple(bound))


def negation(b: Binding, node: tree.Not) -> R.Expr:
    """NOT (clause 6.39)."""
    operand = bind_condition(b, node.operand, "NOT")
    return R.Not(T.BOOLEAN, operand.nullable, operand)


def is_null(b: Binding, node: tree.IsNull) -> R.Expr:
    """IS [NOT] NULL (clause 8.8); of a row, whether all its fields are."""
    items = row_items(b, node.operand) if isinstance(node.operand, tree.RowValue) else None
    if items is None:
        operand = expression(b, node.operand)
        items = bind_fields(b, operand) if operand.type.kind == "row" else [operand]
    return conjunction(b, [R.IsNull(T.BOOLEAN, False, i, node.negated) for i in items])


def is_truth(b: Binding, node: tree.IsTruth) -> R.Expr:
    """IS [NOT] TRUE, FALSE, UNKNOWN (clause 6.39)."""
    value = {"true": True, "false": False, "unknown": None}[node.value]
    return R.IsTruth(T.BOOLEAN, False, bind_condition(b, node.operand, "IS"), value, node.negated)


# -- arrays and rows


def bind_array(b: Binding, node: tree.ArrayValue) -> R.Expr:
    """ARRAY[...] (clause 6.41): its elements take the type that they have in common."""
    items = unified(b, [expression(b, i) for i in node.items], node, "ARRAY") if node.items else []
    type_ = T.array(items[0].type if items else T.NULL, len(items))
    return R.Tuple(type_, False, tuple(items))


def array_query(b: Binding, node: tree.ArrayQuery) -> R.Expr:
    """ARRAY(query) (clause 6.42)."""
    query = b.later.bind_query(b, node.query)
    one_column(b, query, node, "ARRAY(query)")
    return R.ArrayQuery(T.array(query.columns[0].type), False, query)


def bind_element(b: Binding, node: tree.Element) -> R.Expr:
    """array[position]: 2202E outside of it."""
    array, position = expression(b, node.array), expression(b, node.position)
    if array.type.kind not in ("array", "null"):
        b.fail("42804", f"only arrays have elements, this is {array.type}", node)
    if position.type.family != "exact":
        b.fail("42804", f"a position is a whole number, this is {position.type}", node)
    position = bind_converted(b, position, T.INTEGER, explicit=False)
    type_ = array.type.parts[0] if array.type.parts else T.NULL
    return R.Strict(type_, True, "element", (array, position))


def bind_field(b: Binding, node: tree.Field) -> R.Expr:
    """A field of a row (clause 6.15)."""
    row = expression(b, node.operand)
    if row.type.kind != "row":
        b.fail("42804", f"only rows have fields, this is {row.type}", node)
    return field_of(b, row, node.name, node)


def field_of(b: Binding, row: R.Expr, name: str, node: tree.Node) -> R.Expr:
    """A field of a bound row by its name; 42703 when it has none of that name."""
    if name not in row.type.names:
        b.fail("42703", f"this row has no field {name}", node, nearest(name, row.type.names))
    return bind_fields(b, row)[row.type.names.index(name)]


# -- CASE, CAST, COALESCE


def bind_case(b: Binding, node: tree.CaseExpression) -> R.Expr:
    """CASE, simple or searched (clause 6.12)."""
    operand, whole = None, None
    if node.operand is not None:
        operand, whole = shared(b, expression(b, node.operand))
    arms = [(bind_when(b, operand, when.conditions), expression(b, when.result)) for when in node.whens]
    otherwise = expression(b, node.otherwise) if node.otherwise is not None else constant(b, None, T.NULL)
    results = unified(b, [value for _, value in arms] + [otherwise], node, "CASE")
    bound = tuple((c, v) for (c, _), v in zip(arms, results[:-1], strict=True))
    spans = tuple(Span(w.conditions[0].span.start, w.result.span.end) for w in node.whens)
    last = (node.otherwise.span,) if node.otherwise is not None else ()
    place = R.Place(b.source, node.span, arms=(*spans, *last))
    case = R.Case(results[0].type, any(r.nullable for r in results), bound, results[-1], place=place)
    return whole(case) if whole is not None else case


def bind_when(b: Binding, operand: R.Expr | None, conditions: tuple[tree.Expression, ...]) -> R.Expr:
    """The condition of one arm of a CASE, with its operand or without."""
    if operand is None:
        return bind_condition(b, conditions[0], "WHEN")
    tests = tuple(_when_operand(b, operand, c) for c in conditions)
    return tests[0] if len(tests) == 1 else R.Or(T.BOOLEAN, True, tests)


def _when_operand(b: Binding, operand: R.Expr, condition: tree.Expression) -> R.Expr:
    if not isinstance(condition, tree.OperandTest):
        return compare(b, "=", operand, expression(b, condition), condition)
    with b.having(case_of=operand):
        return expression(b, condition.test)


def case_operand(b: Binding, node: tree.CaseOperand) -> R.Expr:
    """The operand of the simple CASE around, where a test names it."""
    assert b.case_of is not None
    return b.case_of


def bind_cast(b: Binding, node: tree.Cast) -> R.Expr:
    """CAST (clause 6.13); 42804 between types that do not convert."""
    operand, target = expression(b, node.operand), b.type(node.type)
    if operand.type.kind == "null":
        return constant(b, None, target)
    if not T.castable(operand.type, target):
        b.fail("42804", f"{operand.type} cannot be cast to {target}", node)
    if (operand.type.family, target.family) == ("time", "timestamp"):  # of today
        today = R.Strict(T.DATE, False, "current_date", ())
        operand = R.Strict(T.TIMESTAMP, operand.nullable, "day_at_time", (today, operand))
    cast = bind_converted(b, operand, target, explicit=True)
    domain = b.domain(node.type) if node.type.element is None and not node.type.fields else None
    return in_domain(b, cast, domain) if domain is not None and domain.checks else cast


def in_domain(b: Binding, value: R.Expr, domain: Domain) -> R.Expr:
    """A value that must meet the CHECKs of a domain."""
    number = b.new_source()
    checks = []
    with b.scoped(ValueScope(R.Shared(value.type, value.nullable, number)), "in CHECK"):
        for check in domain.checks:
            with b.having(source=check.source), b.only_reading("a CHECK", check.condition):
                checks.append((check.name, bind_condition(b, check.condition, "CHECK")))
    return R.InDomain(value.type, value.nullable, number, value, tuple(checks))


def bind_row(b: Binding, node: tree.RowValue) -> R.Expr:
    """A row value (clause 7.1)."""
    items = tuple(expression(b, i) for i in node.items)
    type_ = T.row((f"f{n}", i.type) for n, i in enumerate(items, 1))
    return R.Tuple(type_, False, items)


def next_value(b: Binding, node: tree.NextValue) -> R.Expr:
    """NEXT VALUE FOR (clause 6.14); 42601 where it would depend on how often it is looked at."""
    if b.aggregates is None and b.why_no_aggregate in NO_NEXT_VALUE:
        where = b.why_no_aggregate.replace("inside another one", "in a set function")
        b.fail("42601", f"NEXT VALUE cannot stand {where}", node)
    sequence = b.catalog.sequences.get(b.key("sequences", node.name, node))
    if sequence is None:
        name = node.name[-1]
        b.fail("42704", f"there is no sequence {name}", node, nearest(name, b.catalog.sequences))
    return R.NextValue(sequence.type, False, sequence)


def bind_default(b: Binding, node: tree.DefaultValue) -> R.Expr:
    """DEFAULT, which stands only where a column is given a value."""
    b.fail("42601", "DEFAULT stands only for a column of INSERT or UPDATE", node)


def placeholder(b: Binding, node: tree.Placeholder) -> R.Expr:
    """A dynamic parameter: its type is that of the value it is given."""
    outside = b.outside
    if outside is None or outside.parameters is None:
        b.fail("42601", "? stands only for an OUT argument of a CALL", node)
    number = outside.numbers[node.span.start]
    if number >= len(outside.parameters):
        b.fail("07001", f"there are {len(outside.parameters)} values for more parameters", node, "USING ...")
    return R.Variable(outside.parameters[number], True, f"p{number + 1}", "")


def bind_star(b: Binding, node: tree.Star) -> R.Expr:
    """A star, which stands only in a select list or in COUNT(*)."""
    b.fail("42601", "* stands only in a select list or in COUNT(*)", node)


# -- subqueries


def scalar_query(b: Binding, node: tree.Subquery) -> R.Expr:
    """A subquery as a value (clause 7.19): one column, one row at most (21000 at run time)."""
    query = b.later.bind_query(b, node.query)
    one_column(b, query, node, "a subquery used as a value")
    return R.ScalarQuery(query.columns[0].type, True, query)


def exists(b: Binding, node: tree.Exists) -> R.Expr:
    """EXISTS (clause 8.10)."""
    return R.ExistsQuery(T.BOOLEAN, False, b.later.bind_query(b, node.query))


def unique(b: Binding, node: tree.Unique) -> R.Expr:
    """UNIQUE (clause 8.11)."""
    return R.UniqueQuery(T.BOOLEAN, False, b.later.bind_query(b, node.query), node.nulls_distinct)


def grouping(b: Binding, node: tree.Grouping) -> R.Expr:
    """GROUPING, where it is not that of a grouped query (clause 6.9)."""
    b.fail("42601", f"{node.kind.upper()} stands only in GROUP BY", node)
