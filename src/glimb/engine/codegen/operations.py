"""Operations of the resolved tree as Python: a template where one is better than a call, else a call of the function of
that name (in `values.library` or `values.conversion`)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

TEMPLATES: dict[str, str] = {
    "as_is": "{0}",
    "negate": "(-{0})",
    "add_floats": "check_float({0} + {1})",
    "subtract_floats": "check_float({0} - {1})",
    "multiply_floats": "check_float({0} * {1})",
    "divide_floats": "check_float({0} / {1})",
    "concatenate": "({0} + {1})",
    "concatenate_unbounded": "s.budget.join({0}, {1})",
    "units_between": "(divide(micros_between({0}, {1}), {a}) * {a})",
    "moved_back": "moved({0}, -{1})",
    "moved_months_back": "moved_months({0}, -{1})",
    "add_intervals": "({0} + {1})",
    "subtract_intervals": "({0} - {1})",
    "multiply_interval": "(divide({0} * {1}, {a}) * {b})",
    "divide_interval": "(divide({0} * {a}, {1} * {b}) * {b})",
    "day_at_time": "s.now().combine({0}, {1})",
    "current_date": "s.now().date()",
    "current_time": "s.now().time()",
    "current_timestamp": "s.now()",
    "user_name": "s.name",
    "current_schema": "s.current_schema()",
    "round_to_places": "rescale(sql_round({0}, {a}, {b}), {c})",
    "padded_to": "{0}.rstrip(' ').ljust({a})",
    "without_padding": "{0}.rstrip(' ')",
    "part": "{0}[{a}]",
    "bytes_as_text": "{0}.decode('latin-1')",
    "to_float": "float({0})",
    "scaled_to_float": "({0} / {a})",
    "picked": "{a}[{0}]",
    "with_field": "with_field({0}, {a}, {1}, {b})",
    "exp": "check_float(safe_float(math.exp, {0}))",
    "sin": "math.sin({0})",
    "cos": "math.cos({0})",
    "tan": "math.tan({0})",
    "asin": "arc(math.asin, {0})",
    "acos": "arc(math.acos, {0})",
    "atan": "math.atan({0})",
    "sinh": "check_float(safe_float(math.sinh, {0}))",
    "cosh": "check_float(safe_float(math.cosh, {0}))",
    "tanh": "math.tanh({0})",
    "sign": "(({0} > 0) - ({0} < 0))",
    "floor_scaled": "({0} // {a})",
    "floor_float": "float(math.floor({0}))",
    "ceiling_scaled": "(-(-{0} // {a}))",
    "ceiling_float": "float(math.ceil({0}))",
    "length": "len({0})",
    "octets": "len({0}.encode())",
    "upper": "{0}.upper()",
    "lower": "{0}.lower()",
    "position": "({1}.find({0}) + 1)",
    "reversed_text": "{0}[::-1]",
    "left_part": "{0}[:max(0, {1})]",
    "year_of": "{0}.year",
    "month_of": "{0}.month",
    "day_of": "{0}.day",
    "hour_of": "{0}.hour",
    "minute_of": "{0}.minute",
    "second_of": "({0}.second * 1_000_000 + {0}.microsecond)",
    "trim_both": "{0}.strip(trim_character({1}))",
    "trim_leading": "{0}.lstrip(trim_character({1}))",
    "trim_trailing": "{0}.rstrip(trim_character({1}))",
}
"""`{0}`, `{1}` stand for arguments, `{a}`, `{b}`, `{c}` for constants."""
CALLED = {"greatest": "max", "least": "min", "absolute": "abs"}
"""Operations whose function has another name."""
WITH_SESSION = frozenset(("sql_replace",))
"""Functions that take the session first."""
QUIET = frozenset(("as_is", "without_padding", "negate", "to_float"))
"""Operations that raise no condition."""


def template_of(operation: str, count: int, constants: Sequence[Any] = ()) -> str:
    """Python text of an operation over so many arguments, with `{0}`, `{1}`, ... for these."""
    if operation == "multiply_interval" and constants and constants[0] == constants[1]:
        return "({0} * {1})"
    template = TEMPLATES.get(operation)
    if template is None:
        first = ["s"] if operation in WITH_SESSION else []
        given = [*first, *(f"{{{n}}}" for n in range(count)), *map(repr, constants)]
        return f"{CALLED.get(operation, operation)}({', '.join(given)})"
    for letter, constant in zip("abc", constants, strict=False):
        template = template.replace(f"{{{letter}}}", repr(constant))
    return template
