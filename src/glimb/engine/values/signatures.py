"""Built-in functions: their names, parameters, results and operations."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from glimb.engine.values import types as T
from glimb.engine.values.conversion import MICROS
from glimb.engine.values.types import Type
from glimb.lang.node import Record

F = TypeVar("F", bound=Callable[..., Any])


class Builtin(Record):
    """One way to call a built-in function: families of the arguments (`...` repeats the last, `?` makes optional)."""

    families: tuple[str, ...]
    result: Callable[[list[Type]], Type]
    operation: str
    """See `codegen.operations`."""
    optional: int = 0
    as_double: bool = False
    aligned: int = 0
    """So many first arguments, exact numbers, are brought to one scale."""
    gives_null: bool = False
    constants: tuple[str, ...] = ()
    """What the operation must know of the first argument: its `digits` behind the point, or the `scale` they make."""


def same(types: list[Type]) -> Type:
    return types[0]


def fixed(type_: Type) -> Callable[[list[Type]], Type]:
    return lambda types: type_


def text_like(types: list[Type]) -> Type:
    return T.CLOB if types[0].kind == "clob" else T.varchar(T.length(types[0]))


def whole(types: list[Type]) -> Type:
    """Type of FLOOR, CEILING: same digits, none behind the point."""
    if types[0].kind == "decimal":
        return T.decimal(types[0].size - types[0].scale + 1, 0)
    return types[0]


WHOLE, REAL, TRUTH = fixed(T.INTEGER), fixed(T.DOUBLE), fixed(T.BOOLEAN)
_MATH = {
    "sqrt": "sql_sqrt",
    "exp": "exp",
    "ln": "sql_ln",
    "log10": "sql_log10",
    "sin": "sin",
    "cos": "cos",
    "tan": "tan",
    "asin": "asin",
    "acos": "acos",
    "atan": "atan",
    "sinh": "sinh",
    "cosh": "cosh",
    "tanh": "tanh",
}

BUILTINS: dict[str, tuple[Builtin, ...]] = {
    "abs": (
        Builtin(("number",), same, "absolute"),
        Builtin(("months",), same, "absolute"),
        Builtin(("micros",), same, "absolute"),
    ),
    "sign": (Builtin(("number",), WHOLE, "sign"),),
    "floor": (
        Builtin(("exact",), whole, "floor_scaled", constants=("scale",)),
        Builtin(("approximate",), REAL, "floor_float"),
    ),
    "ceiling": (
        Builtin(("exact",), whole, "ceiling_scaled", constants=("scale",)),
        Builtin(("approximate",), REAL, "ceiling_float"),
    ),
    "round": (
        Builtin(("exact", "integer"), same, "sql_round", optional=1, constants=("digits",)),
        Builtin(("approximate", "integer"), REAL, "sql_round_float", optional=1),
    ),
    **{name: (Builtin(("number",), REAL, code, as_double=True),) for name, code in _MATH.items()},
    "char_length": (Builtin(("text",), WHOLE, "length"),),
    "octet_length": (Builtin(("text",), WHOLE, "octets"), Builtin(("bytes",), WHOLE, "length")),
    "upper": (Builtin(("text",), text_like, "upper"),),
    "lower": (Builtin(("text",), text_like, "lower"),),
    "position": (
        Builtin(("text", "text"), WHOLE, "position"),
        Builtin(("bytes", "bytes"), WHOLE, "position"),
    ),
    **{
        f"trim_{side}": (
            Builtin(("text", "text"), text_like, f"trim_{side}"),
            Builtin(("bytes", "bytes"), same, f"trim_{side}"),
        )
        for side in ("both", "leading", "trailing")
    },
    "reverse": (Builtin(("text",), text_like, "reversed_text"),),
    "cardinality": (Builtin(("array",), WHOLE, "length"),),
    "substring_similar": (Builtin(("text", "text", "text"), text_like, "substring_similar", gives_null=True),),
    "left": (Builtin(("text", "integer"), text_like, "left_part"),),
    "extract_year": (*tuple(Builtin((f,), WHOLE, "year_of") for f in ("date", "timestamp")),),
    "extract_month": (*tuple(Builtin((f,), WHOLE, "month_of") for f in ("date", "timestamp")),),
    "extract_day": (*tuple(Builtin((f,), WHOLE, "day_of") for f in ("date", "timestamp")),),
    "extract_hour": (*tuple(Builtin((f,), WHOLE, "hour_of") for f in ("time", "timestamp")),),
    "extract_minute": (*tuple(Builtin((f,), WHOLE, "minute_of") for f in ("time", "timestamp")),),
    "extract_second": (*tuple(Builtin((f,), fixed(T.decimal(8, 6)), "second_of") for f in ("time", "timestamp")),),
}


def builtin(name: str, families: tuple[str, ...], result: Callable[[list[Type]], Type], **how: Any) -> Callable[[F], F]:
    """A function of `library` is a built-in function: one way to call it (see Builtin), the first above the others."""

    def register(function: F) -> F:
        form = Builtin(families, result, function.__name__, **how)
        BUILTINS[name] = (form, *BUILTINS.get(name, ()))
        return function

    return register


ALIASES = {
    "character_length": "char_length",
    "length": "char_length",
    "ceil": "ceiling",
    "pow": "power",
    "substr": "substring",
    "ltrim": "trim_leading",
    "rtrim": "trim_trailing",
    "btrim": "trim_both",
    "ucase": "upper",
    "lcase": "lower",
    "trunc": "truncate",
    "year": "extract_year",
    "month": "extract_month",
    "day": "extract_day",
    "hour": "extract_hour",
    "minute": "extract_minute",
    "second": "extract_second",
}
CLOCK: dict[str, tuple[Type, str]] = {
    "current_date": (T.DATE, "current_date"),
    "current_time": (T.TIME, "current_time"),
    "localtime": (T.TIME, "current_time"),
    "current_timestamp": (T.TIMESTAMP, "current_timestamp"),
    "localtimestamp": (T.TIMESTAMP, "current_timestamp"),
}
INTERVAL_UNITS = {"year": 12, "month": 1, **MICROS}
"""How many months or microseconds the fields of intervals are."""
STATISTICS = frozenset(("stddev_pop", "stddev_samp", "var_pop", "var_samp"))
BINARY_AGGREGATES = frozenset(
    (
        "covar_pop covar_samp corr regr_slope regr_intercept regr_count regr_r2 regr_avgx regr_avgy regr_sxx regr_syy "
        "regr_sxy"
    ).split()
)
ORDERED = frozenset(("listagg", "array_agg", "percentile_cont", "percentile_disc"))
AGGREGATES = (
    frozenset(("count", "sum", "avg", "min", "max", "every", "any", "some", "any_value"))
    | STATISTICS
    | BINARY_AGGREGATES
    | ORDERED
)


HYPOTHETICAL = frozenset(("rank", "dense_rank", "percent_rank", "cume_dist"))
"""Window functions that are set functions too, with WITHIN GROUP."""
RANKS = frozenset(("row_number", "rank", "dense_rank", "percent_rank", "cume_dist"))
PICKS = frozenset(("lag", "lead", "first_value", "last_value", "nth_value"))
WINDOW_FUNCTIONS = RANKS | PICKS | {"ntile"}


def fits(family: str, type_: Type) -> bool:
    """Whether a type may be an argument of this family."""
    if type_.kind == "null" or type_.family == family:
        return True
    if family == "number":
        return type_.is_number
    return family == "integer" and type_.is_integer


def aggregate_type(function: str, argument: Type) -> Type | None:
    """Result type of a set function (clause 10.9); None when it does not take such an argument."""
    if function in ("min", "max", "any_value"):
        return argument if function == "any_value" or argument.kind not in ("array", "row") else None
    if function in ("every", "any", "some"):
        return T.BOOLEAN if argument.kind in ("boolean", "null") else None
    if argument.family in ("months", "micros", "null"):
        return argument
    if argument.family == "approximate":
        return T.DOUBLE
    if argument.family != "exact":
        return None
    if function == "avg":
        return T.decimal(T.MAX_PRECISION, max(6, argument.scale if argument.kind == "decimal" else 0))
    if argument.kind in ("smallint", "integer"):
        return T.BIGINT
    return T.decimal(T.MAX_PRECISION, argument.scale if argument.kind == "decimal" else 0)
