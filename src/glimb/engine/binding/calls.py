"""Binding of calls: built-in functions, stored functions with their arguments, set functions."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import NoReturn

from glimb.engine import resolved as R
from glimb.engine.binding.comparisons import comparable, compare
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign, bind_converted, constant, represent, scale_of, shared, unified
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.hosts import is_unknown
from glimb.engine.binding.hypothetical import place_of
from glimb.engine.binding.scope import QueryScope
from glimb.engine.catalog.objects import ParameterInfo, Routine
from glimb.engine.values import library as library
from glimb.engine.values import signatures as F
from glimb.engine.values import types as T
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import nearest
from glimb.lang.spellings import FUNCTIONS, spelled

INSIDE = "inside another one"
"""Where a set function cannot stand, though it may in the query around."""


def _taken(bound: R.Aggregate) -> tuple[object, ...]:
    """All that a set function looks at in a row."""
    return bound.argument, bound.more, bound.where, tuple(e for e, _, _ in bound.order)


# -- calls


def bind_call(b: Binding, node: tree.FunctionCall) -> R.Expr:
    name = F.ALIASES.get(node.name[-1], node.name[-1])
    stored = b.key("routines", node.name, node)
    if stored in b.catalog.routines and node.over is None:
        return _stored(b, stored, node)
    if name == "grouping":
        return _grouping_call(b, node)
    if node.over is not None:
        return b.later.bind_window(b, name, node, node.over)
    if name in F.HYPOTHETICAL and node.order:
        return _hypothetical(b, name, node)
    if name in F.WINDOW_FUNCTIONS:
        b.fail("42601", f"{name.upper()} needs a window", node, f"{name.upper()}(...) OVER (ORDER BY ...)")
    if name in F.AGGREGATES and len(node.name) == 1:
        return aggregate(b, name, node)
    if node.distinct or node.where is not None or node.order:
        b.fail("42601", f"{name} is no set function", node)
    if name in ("coalesce", "nullif") and len(node.name) == 1:
        return _coalesce(b, node) if name == "coalesce" else _nullif(b, node)
    if name in ("greatest", "least"):
        return _extreme(b, name, node)
    if node.bare:
        return _clock(b, name, node)
    if name in F.BUILTINS and len(node.name) == 1:
        return _builtin(b, name, node)
    if len(node.arguments) == 1 and b.key("types", node.name, node) in b.catalog.types:
        return _to_distinct(b, node)
    known = [
        *F.BUILTINS,
        *F.ALIASES,
        *F.AGGREGATES,
        *b.catalog.routines,
        "coalesce",
        "nullif",
        "greatest",
        "least",
    ]
    b.fail(
        "42883",
        f"there is no function {'.'.join(node.name)}",
        node,
        spelled(name, FUNCTIONS) or nearest(name, known),
    )


def _clock(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    if name in F.CLOCK:
        type_, operation = F.CLOCK[name]
        now = R.Strict(type_, False, operation, ())
        if type_.kind == "date":
            return now
        given = [a.value.value for a in node.arguments if isinstance(a.value, tree.Literal)]
        return bind_converted(b, now, b.moment_type(type_.kind, tuple(map(int, given)), node), explicit=True)
    if name in ("user", "current_user", "session_user", "system_user"):
        return R.Strict(T.varchar(128), False, "user_name", ())
    if name == "current_schema":
        return R.Strict(T.varchar(128), False, "current_schema", ())
    assert name == "current_catalog", name
    return R.Const(T.varchar(5), False, "glimb")


def _grouping_call(b: Binding, node: tree.FunctionCall) -> R.Expr:
    with set_function(b):
        arguments = tuple(plain_arguments(b, node))
    if not arguments:
        b.fail("42884", "GROUPING takes columns of GROUP BY", node)
    owner, aggregates = _owner(b, arguments) or (_own_number(b), b.aggregates)
    if aggregates is None:
        b.fail("42803", f"GROUPING cannot stand {b.why_no_aggregate or 'here'}", node)
    return R.GroupingCall(T.INTEGER, False, arguments, owner, span=node.span)


def plain_arguments(b: Binding, node: tree.FunctionCall) -> list[R.Expr]:
    for argument in node.arguments:
        if argument.name:
            b.fail("42601", f"{node.name[-1]} is built in: its arguments have no names", argument)
    return [expression(b, a.value) for a in node.arguments]


def _to_distinct(b: Binding, node: tree.FunctionCall) -> R.Expr:
    """The cast that every distinct type brings along, called by its name (clause 11.51)."""
    type_ = b.catalog.types[b.key("types", node.name, node)]
    value = plain_arguments(b, node)[0]
    if not T.castable(value.type, type_):
        b.fail("42804", f"{value.type} cannot be cast to {type_}", node)
    return bind_converted(b, value, type_, explicit=True)


def _coalesce(b: Binding, node: tree.FunctionCall) -> R.Expr:
    items = plain_arguments(b, node)
    if not items:
        b.fail("42884", "COALESCE needs arguments", node)
    items = unified(b, items, node, "COALESCE")
    return R.Coalesce(items[0].type, all(i.nullable for i in items), tuple(items))


def _extreme(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    """GREATEST, LEAST: NULL when an argument is."""
    items = plain_arguments(b, node)
    if len(items) < 2:
        b.fail("42884", f"{name.upper()} takes two arguments or more", node)
    items = [b.sort_value(i, node) for i in unified(b, items, node, name.upper())]
    return R.Strict(items[0].type, any(i.nullable for i in items), name, tuple(items))


def _nullif(b: Binding, node: tree.FunctionCall) -> R.Expr:
    items = plain_arguments(b, node)
    if len(items) != 2:
        b.fail("42884", "NULLIF takes two arguments", node)
    first, whole = shared(b, items[0])
    same = compare(b, "=", first, items[1], node)
    return whole(R.Case(first.type, True, ((same, constant(b, None, first.type)),), first))


def _builtin(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    arguments = plain_arguments(b, node)
    if name == "substring" and len(arguments) > 1:
        arguments = [arguments[0], *(_whole(b, a, node) for a in arguments[1:])]
    if name.startswith("trim_") and len(arguments) == 1:
        arguments.append(constant(b, " ", T.varchar(1)))
    if name.startswith("extract_"):
        if len(arguments) == 1 and arguments[0].type.kind in ("months", "micros"):
            return _interval_field(b, arguments[0], name.removeprefix("extract_"), node)
    for form in F.BUILTINS[name]:
        needed = len(form.families) - form.optional
        if needed <= len(arguments) <= len(form.families):
            if all(F.fits(f, a.type) for f, a in zip(form.families, arguments, strict=False)):
                return _apply(b, form, arguments)
    shown = ", ".join(str(a.type) for a in arguments)
    ways = " or ".join(f"{name}({', '.join(form.families)})" for form in F.BUILTINS[name])
    b.fail("42884", f"{name}({shown}) does not fit", node, f"there is {ways}")


def _interval_field(b: Binding, bound: R.Expr, field: str, node: tree.Node) -> R.Expr:
    """EXTRACT from an interval (clause 6.28): of its first field all, of a later one what those before it leave."""
    type_ = bound.type
    fields = T.INTERVAL_FIELDS[type_.size : type_.scale + 1]
    if field not in fields:
        b.fail("42804", f"{type_} has no field {field.upper()}", node, f"it has {', '.join(fields).upper()}")
    unit = F.INTERVAL_UNITS[field]
    above = F.INTERVAL_UNITS[T.INTERVAL_FIELDS[T.INTERVAL_FIELDS.index(field) - 1]] if field != fields[0] else 0
    unit, type_ = (1, T.decimal(20, 6)) if field == "second" else (unit, T.INTEGER)
    found = R.Strict(type_, bound.nullable, "interval_field", (bound,), (unit, above))
    return R.Checked(type_, bound.nullable, found)


def _whole(b: Binding, bound: R.Expr, node: tree.Node) -> R.Expr:
    return bind_converted(b, bound, T.INTEGER, explicit=True) if bound.type.family == "exact" else bound


def _apply(b: Binding, form: F.Builtin, arguments: list[R.Expr]) -> R.Expr:
    arguments = [
        represent(b, a, T.DOUBLE) if a.type.kind == "null" and f in ("number", "approximate") else a
        for f, a in zip(form.families, arguments, strict=False)
    ]
    type_ = form.result([a.type for a in arguments])
    if form.as_double:
        arguments = [represent(b, a, T.DOUBLE) for a in arguments]
    elif form.aligned:
        scale = max(scale_of(a.type) for a in arguments[: form.aligned])
        wide = T.decimal(T.MAX_PRECISION, scale)
        arguments = [represent(b, a, wide) for a in arguments[: form.aligned]] + arguments[form.aligned :]
    elif form.operation == "sql_mod":
        left, right = comparable(b, arguments[0], arguments[1], tree.Star())
        arguments, type_ = [left, right], left.type if left.type.kind == "decimal" else type_
    elif form.operation.startswith("sql_round"):
        return _round(b, form, [*arguments, constant(b, 0, T.INTEGER)][:2])
    nullable = form.gives_null or any(a.nullable for a in arguments)
    constants = _constants(form, arguments)
    bound: R.Expr = R.Strict(type_, nullable, form.operation, tuple(arguments), constants)
    if type_.family == "exact" and form.result is F.same:
        bound = R.Checked(type_, nullable, bound)
    return bound


def _constants(form: F.Builtin, arguments: list[R.Expr]) -> tuple[int, ...]:
    """What an operation must know of the digits of its first argument."""
    digits = scale_of(arguments[0].type) if arguments else 0
    return tuple({"digits": digits, "scale": 10**digits}[c] for c in form.constants)


def _round(b: Binding, form: F.Builtin, arguments: list[R.Expr]) -> R.Expr:
    """ROUND: to a known number of places it gives that many."""
    value, places = arguments
    digits = scale_of(value.type)
    nullable = value.nullable or places.nullable
    if value.type.kind == "decimal" and isinstance(places, R.Const) and places.value is not None:
        kept = max(0, min(digits, places.value))
        type_ = T.decimal(value.type.size - digits + kept + 1, kept)
        constants = (places.value, digits, digits - kept)
        return R.Checked(type_, nullable, R.Strict(type_, nullable, "round_to_places", (value,), constants))
    type_ = form.result([value.type])
    return R.Strict(type_, nullable, form.operation, (value, places), _constants(form, arguments))


# -- stored functions


def _stored(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    if all(r.kind == "procedure" for r in b.catalog.routines[name]):
        b.fail("42809", f"{name} is a procedure, not a function", node, f"CALL {name}(...)")
    routine, arguments = resolve(b, name, node.arguments, node, "function")
    if routine.table:
        b.fail("42809", f"{name} is a table function, not a value", node, f"FROM TABLE({name}(...))")
    assert routine.returns is not None
    return R.RoutineCall(routine.returns, True, routine, tuple(arguments))


def resolve(
    b: Binding, name: str, given: tuple[tree.Argument, ...], node: tree.Node, kind: str
) -> tuple[Routine, list[R.Expr]]:
    """The routine of this key that the arguments fit, and the arguments in the order of its parameters. One of the
    other kind is found only where there is none of this."""
    bound = [None if _is_open(b, a.value) else expression(b, a.value) for a in given]
    every = b.catalog.routines[name]
    group = tuple(r for r in every if r.kind == kind) or every
    fitting = [r for r in group if _fit(b, r, given, bound) == ""]
    if not fitting:
        shown = ", ".join("?" if right is None else str(right.type) for right in bound)
        name = group[0].name
        if len(group) == 1:
            why = _fit(b, group[0], given, bound)
            b.fail("42884", f"{name}({shown}) does not fit: {why}", node, f"there is {group[0].signature}")
        ways = ", ".join(r.signature for r in group)
        b.fail("42884", f"no {name} takes ({shown})", node, f"there are {ways}")
    best = max(fitting, key=lambda r: _closeness(b, r, given, bound))
    b.effects.called.append((best, node.span))
    return best, _arranged(b, best, given, bound, node)


def _is_open(b: Binding, value: tree.Expression) -> bool:
    """Whether an argument has no value of its own: DEFAULT, or what only takes the value of an OUT parameter."""
    is_default = isinstance(value, tree.DefaultValue)
    outside = b.outside
    takes_only = isinstance(value, tree.Placeholder) and (
        outside is None or outside.parameters is None or value.span.start not in outside.numbers
    )
    return is_default or takes_only or is_unknown(b, value)


def output_markers(b: Binding, node: tree.Call) -> set[int]:
    """Where the dynamic parameters of a CALL stand that only take a value: those for OUT parameters (clause 20.10)."""
    modes: dict[int, set[str]] = {}
    for routine in b.catalog.routines.get(b.key("routines", node.name, node), ()):
        positions = _argument_positions(b, routine, node.arguments)
        for position, argument in zip(positions, node.arguments, strict=False):
            if isinstance(position, int) and isinstance(argument.value, tree.Placeholder):
                modes.setdefault(argument.value.span.start, set()).add(routine.parameters[position].mode)
    return {start for start, found in modes.items() if found == {"out"}}


def _argument_positions(b: Binding, routine: Routine, given: tuple[tree.Argument, ...]) -> list[int] | str:
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


def _fit(b: Binding, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None]) -> str:
    """Empty when the arguments fit the routine, otherwise why not."""
    positions = _argument_positions(b, routine, given)
    if isinstance(positions, str):
        return positions
    for position, value in zip(positions, bound, strict=True):
        parameter = routine.parameters[position]
        if value is not None and parameter.mode != "out" and not T.assignable(value.type, parameter.type):
            return f"{parameter.name} is {parameter.type}, not {value.type}"
    for number, parameter in enumerate(routine.parameters):
        if number not in positions and parameter.default is None:
            told = f"{parameter.name} {parameter.type} is missing"
            return told if parameter.mode == "in" else f"{told}, give ? or a variable for it"
    return ""


def _closeness(
    b: Binding, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None]
) -> tuple[int, int]:
    positions = _argument_positions(b, routine, given)
    assert isinstance(positions, list)
    pairs = [
        (routine.parameters[p].type, right.type) for p, right in zip(positions, bound, strict=True) if right is not None
    ]
    exact = sum(a.kind == right.kind for a, right in pairs)
    return exact * 2 + sum(a.family == right.family for a, right in pairs), -len(routine.parameters)


def _arranged(
    b: Binding, routine: Routine, given: tuple[tree.Argument, ...], bound: list[R.Expr | None], node: tree.Node
) -> list[R.Expr]:
    """Arguments by parameter, converted; defaults where none is given."""
    positions = _argument_positions(b, routine, given)
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
            value = _default(b, routine, parameter)
        if value is None or parameter.mode == "out":
            if argument is not None and is_unknown(b, argument.value) and parameter.mode != "out":
                expression(b, argument.value)  # says that it has no value
            if value is None and parameter.mode == "in":
                b.fail("42601", f"? stands only for an OUT argument; {parameter.name} is IN", argument or node)
            arranged.append(R.Const(parameter.type, True, None))
            continue
        what = f"parameter {parameter.name} of {routine.name}"
        arranged.append(assign(b, value, parameter.type, argument or node, what))
    return arranged


def _default(b: Binding, routine: Routine, parameter: ParameterInfo) -> R.Expr:
    """The default of a parameter, bound without any names around it."""
    assert parameter.default is not None
    with b.later.elsewhere(b, routine.source, routine.schema):
        return expression(b, parameter.default)


# -- set functions


def aggregate(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    """A set function of this query, or of one around it when it is over columns of that one only."""
    star = len(node.arguments) == 1 and isinstance(node.arguments[0].value, tree.Star)
    if star and (name != "count" or node.distinct):
        b.fail("42884", f"{name.upper()} takes one argument", node)
    collected = b.aggregates
    with set_function(b):
        arguments = [] if star else plain_arguments(b, node)
        where = bind_condition(b, node.where, "FILTER") if node.where is not None else None
        order = sort_keys(b, node.order)
    bound = typed_set_function(b, name, arguments, star, node, where, order)
    owner = _owner(b, _taken(bound))
    if owner is not None and owner[1] is None:
        message = f"{name.upper()} is a set function of the query around, and cannot stand in its FROM, WHERE or ON"
        b.fail("42803", message, node, "it is over columns of that query only")
    number, collected = owner or (_own_number(b), collected)
    if any(isinstance(n, R.Aggregate | R.GroupingCall) and n.owner == number for n in walk(_taken(bound))):
        b.fail("42803", f"{name.upper()} is a set function of the same query as the one inside it", node)
    if collected is None:
        _misplaced(b, name, node)
    bound = replace(bound, owner=number)
    if bound not in collected:
        collected.append(bound)
    return bound


@contextmanager
def set_function(b: Binding) -> Iterator[None]:
    """Bind the arguments of a set function: they are of single rows, not of groups."""
    hidden = list(b.groups)
    for group in hidden:
        group.hidden += 1
    try:
        with b.having(aggregates=None, windows_allowed=False, why_no_aggregate=INSIDE):
            yield
    finally:
        for group in hidden:
            group.hidden -= 1


def _own_number(b: Binding) -> int:
    return b.scope.number if isinstance(b.scope, QueryScope) else 0


def _misplaced(b: Binding, name: str, node: tree.FunctionCall) -> NoReturn:
    where = b.why_no_aggregate or "here"
    b.fail("42803", f"{name.upper()} is a set function and cannot stand {where}", node)


def _hypothetical(b: Binding, name: str, node: tree.FunctionCall) -> R.Expr:
    """A rank of the row that the arguments make, among the rows of the group."""
    if len(node.arguments) != len(node.order):
        wanted = f"{len(node.order)} argument{'s' * (len(node.order) > 1)}"
        b.fail("42884", f"{name.upper()} takes {wanted}, one for each sort key", node)
    own = {s.number for s in b.scope.sources} if isinstance(b.scope, QueryScope) else set()
    for argument, value in zip(node.arguments, plain_arguments(b, node), strict=True):
        if any(n.source in own for n in walk(value) if isinstance(n, R.Column)):
            b.fail("42803", f"the arguments of {name.upper()} cannot be columns of the group", argument)
    return expression(b, place_of(name, node))


def sort_keys(b: Binding, keys: tuple[tree.SortKey, ...]) -> tuple[tuple[R.Expr, bool, bool], ...]:
    """Sort keys: the value, whether it descends, whether NULLs come first."""
    return tuple(
        (
            b.sort_value(expression(b, k.value), k),
            k.descending,
            k.nulls == "first" if k.nulls else k.descending,
        )
        for k in keys
    )


def _owner(b: Binding, taken: tuple[object, ...]) -> tuple[int, list[R.Aggregate] | None] | None:
    """A set function is that of the innermost query of whose columns it takes any (clause 10.9): of one around, its
    number, and what has been found for it. None: it is ours."""
    used = {n.source for n in walk(taken) if isinstance(n, R.Column)}
    own = {s.number for s in b.scope.sources} if isinstance(b.scope, QueryScope) else set()
    if not used or used & own:
        return None
    for scope, aggregates in reversed(b.outer_aggregates):
        if used & {s.number for s in scope.sources}:
            return scope.number, aggregates
    return None


def typed_set_function(
    b: Binding,
    name: str,
    arguments: list[R.Expr],
    star: bool,
    node: tree.FunctionCall,
    where: R.Expr | None,
    order: tuple[tuple[R.Expr, bool, bool], ...],
) -> R.Aggregate:
    """A set function with its type; refused when the arguments do not fit."""
    if name == "count" and len(arguments) + star == 1:
        return R.Aggregate(T.BIGINT, False, "count", arguments[0] if arguments else None, node.distinct, where)
    if name in F.ORDERED:
        return _ordered_function(b, name, arguments, node, where, order)
    if order:
        b.fail("42601", f"{name.upper()} takes no order", node)
    wanted = 2 if name in F.BINARY_AGGREGATES else 1
    if len(arguments) != wanted:
        b.fail("42884", f"{name.upper()} takes {wanted} argument{'s' * (wanted > 1)}", node)
    if name in F.STATISTICS or name in F.BINARY_AGGREGATES:
        for argument in arguments:
            if not argument.type.is_number and argument.type.kind != "null":
                b.fail("42804", f"{name.upper()} does not take {argument.type}", node)
        numbers = [represent(b, a, T.DOUBLE) for a in arguments]
        type_ = T.BIGINT if name == "regr_count" else T.DOUBLE
        return R.Aggregate(type_, name != "regr_count", name, numbers[0], node.distinct, where, tuple(numbers[1:]))
    found = F.aggregate_type(name, arguments[0].type)
    if found is None:
        b.fail("42804", f"{name.upper()} does not take {arguments[0].type}", node)
    return R.Aggregate(found, True, "any" if name == "some" else name, arguments[0], node.distinct, where)


def _ordered_function(
    b: Binding,
    name: str,
    arguments: list[R.Expr],
    node: tree.FunctionCall,
    where: R.Expr | None,
    order: tuple[tuple[R.Expr, bool, bool], ...],
) -> R.Aggregate:
    """LISTAGG, ARRAY_AGG, PERCENTILE_CONT and PERCENTILE_DISC."""
    if name == "array_agg":
        if len(arguments) != 1:
            b.fail("42884", "ARRAY_AGG takes one argument", node)
        type_ = T.array(arguments[0].type)
        return R.Aggregate(type_, True, name, arguments[0], node.distinct, where, (), order)
    if not order:
        b.fail("42601", f"{name.upper()} needs an order", node, "WITHIN GROUP (ORDER BY ...)")
    if name == "listagg":
        return _listagg(b, arguments, node, where, order)
    if len(arguments) != 1 or not isinstance(arguments[0], R.Const) or not arguments[0].type.is_number:
        b.fail("42884", f"{name.upper()} takes a fraction from 0 to 1", node)
    fraction = represent(b, arguments[0], T.DOUBLE)
    assert isinstance(fraction, R.Const)
    if len(order) != 1 or not 0 <= fraction.value <= 1:
        b.fail("42804", f"{name.upper()} takes a fraction from 0 to 1 and one sort key", node)
    key, descending, _ = order[0]
    value, result = key, key.type
    if name == "percentile_cont":
        if not key.type.is_number:
            b.fail("42804", f"PERCENTILE_CONT does not take {key.type}", node)
        value, result = represent(b, key, T.DOUBLE), T.DOUBLE
    fixed = (fraction.value,)
    return R.Aggregate(result, True, name, value, False, where, (), ((value, descending, False),), fixed)


def _listagg(
    b: Binding,
    arguments: list[R.Expr],
    node: tree.FunctionCall,
    where: R.Expr | None,
    order: tuple[tuple[R.Expr, bool, bool], ...],
) -> R.Aggregate:
    if not 1 <= len(arguments) <= 2 or any(a.type.family not in ("text", "null") for a in arguments):
        b.fail("42884", "LISTAGG takes a text and a separator", node, "CAST(... AS VARCHAR(100))")
    separator = arguments[1] if len(arguments) > 1 else constant(b, "", T.varchar(1))
    if not isinstance(separator, R.Const):
        b.fail("42601", "the separator of LISTAGG is a literal", node)
    overflow = (node.overflow.filler, node.overflow.count) if node.overflow is not None else None
    fixed = (separator.value or "", overflow)
    return R.Aggregate(T.varchar(4000), True, "listagg", arguments[0], node.distinct, where, (), order, fixed)
