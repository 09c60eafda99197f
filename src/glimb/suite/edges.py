"""Arguments that are worth trying with a routine: NULL, the ends of a type, both sides of every constant that the
routine compares a parameter with, and values that are there in the columns it compares it with.

In: an engine with its fixture, and a routine. Out: SQL texts for each parameter, the likeliest first; argument lists
made of them; the statement that calls the routine with one.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from itertools import islice, product

from glimb.engine.catalog.objects import ParameterInfo, Routine
from glimb.engine.engine import Engine
from glimb.engine.storage.table import Table
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type, source_of
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.printer import names
from glimb.suite.declared import compared

MOST_FROM_ROWS = 3
"""Values of a column that are tried."""
LONGEST = 200
"""Characters of a longest text that is tried."""


def edges(engine: Engine, routine: Routine) -> dict[str, list[str]]:
    """For each parameter that is given a value, SQL texts of values, the likeliest first."""
    wanted = [p for p in routine.parameters if p.mode != "out"]
    return {p.name: list(dict.fromkeys(_values(engine, routine, p))) for p in wanted}


def _values(engine: Engine, routine: Routine, parameter: ParameterInfo) -> Iterator[str]:
    type_ = source_of(parameter.type)
    yield from _from_rows(engine, routine, parameter)
    for constant in _constants(routine, parameter.name):
        yield from _sides(constant, type_)
    several = engine.catalog.is_overloaded(routine)  # NULL alone fits all of them
    yield from (f"CAST(NULL AS {type_})" if several and text == "NULL" else text for text in _plain(type_))


def _from_rows(engine: Engine, routine: Routine, parameter: ParameterInfo) -> Iterator[str]:
    """Values of the columns to which the routine compares a parameter, in the tables that it names."""
    text = routine.source[routine.definition.span]
    columns = [parameter.name, *compared(text, parameter.name)]
    named = {
        name[-1] for n in walk(routine.definition.body) if (name := getattr(n, "name", ())) and type(name) is tuple
    }
    tables = [t for t in engine.catalog.tables() if t.short in named]
    for table in tables:
        for column in columns:
            if (
                column in table.positions
                and table.columns[table.positions[column]].type.family == parameter.type.family
            ):
                yield from islice(_column_values(table, table.positions[column]), MOST_FROM_ROWS)


def _column_values(table: Table, position: int) -> Iterator[str]:
    seen = set()
    for row in islice(table.rows.values(), 1000):
        value = row[position] if row is not None else None
        if value is not None and value not in seen:
            seen.add(value)
            yield literal_of(value, table.columns[position].type)


def _constants(routine: Routine, name: str) -> Iterator[tree.Expression]:
    """The literals that a routine compares a parameter with."""
    for node in walk(routine.definition.body):
        match node:
            case tree.Comparison(left=left, right=right):
                pair = (left, right)
            case tree.Between(operand=left, low=low, high=high):
                yield from (end for end in (low, high) if _is_constant(end) and _names(left, name))
                continue
            case tree.InList(operand=left, items=items):
                yield from (item for item in items if _is_constant(item) and _names(left, name))
                continue
            case tree.CaseExpression(operand=left, whens=whens) if left is not None and _names(left, name):
                yield from (c for when in whens for c in when.conditions if _is_constant(c))
                continue
            case tree.Like(operand=left, pattern=pattern) if _is_constant(pattern) and _names(left, name):
                yield pattern
                continue
            case _:
                continue
        for one, other in (pair, pair[::-1]):
            if _names(one, name) and _is_constant(other):
                yield other


def _names(node: Node, name: str) -> bool:
    """Whether an expression names a parameter, alone or within an operation."""
    return any(isinstance(n, tree.Reference) and n.parts[-1] == name for n in walk(node))


def _is_constant(node: Node) -> bool:
    return isinstance(node, tree.Literal) or (isinstance(node, tree.Unary) and isinstance(node.operand, tree.Literal))


def _sides(constant: tree.Expression, type_: Type) -> Iterator[str]:
    """A constant, and its neighbours."""
    sign = "-" if isinstance(constant, tree.Unary) and constant.sign == "-" else ""
    literal = constant.operand if isinstance(constant, tree.Unary) else constant
    assert isinstance(literal, tree.Literal)
    text = literal.value
    if literal.kind in ("integer", "decimal") and type_.is_number:
        whole, _, fraction = text.partition(".")
        scaled, digits = int(sign + whole + fraction), len(fraction)
        yield from (_scaled(scaled + step, digits) for step in (0, -1, 1))
    elif literal.kind == "string":
        quoted = text.replace("'", "''")
        yield from (f"'{quoted.replace('%', '').replace('_', 'x')}'", f"'{quoted[:-1]}'")
    elif literal.kind in ("date", "timestamp", "time"):
        yield f"{literal.kind.upper()} '{text}'"
        if literal.kind == "date":
            yield from (f"(DATE '{text}' {step} INTERVAL '1' DAY)" for step in "-+")


def _scaled(value: int, digits: int) -> str:
    if not digits:
        return str(value)
    sign, text = "-" * (value < 0), str(abs(value)).rjust(digits + 1, "0")
    return f"{sign}{text[:-digits]}.{text[-digits:]}"


def _plain(type_: Type) -> Iterator[str]:
    """What is worth trying with every value of a type."""
    family = type_.family
    if type_.is_integer:
        yield from ("1", "2", "0", "-1", "NULL", str(type_.limit - 1), str(-type_.limit))
    elif family == "exact":
        most = _scaled(10**type_.size - 1, type_.scale)
        yield from ("1", "0", "-1", "NULL", most, f"-{most}")
    elif family == "approximate":
        yield from ("1E0", "0E0", "-1E0", "NULL")
    elif family == "text":
        yield from ("'a'", "''", "NULL", f"'{'x' * min(type_.size or LONGEST, LONGEST)}'")
    elif family == "boolean":
        yield from ("TRUE", "FALSE", "NULL")
    elif family == "date":
        yield from ("DATE '2031-07-14'", "NULL", "DATE '0001-01-01'", "DATE '9999-12-31'", "DATE '2032-02-29'")
    elif family == "timestamp":
        yield from ("TIMESTAMP '2031-07-14 12:00:00'", "NULL")
    elif family == "time":
        yield from ("TIME '12:00:00'", "NULL", "TIME '00:00:00'")
    elif type_.kind == "array":
        yield from (f"CAST(ARRAY[] AS {type_})", "NULL")
    else:
        yield "NULL"


def argument_lists(values: Sequence[Sequence[str]], most: int) -> Iterator[tuple[str, ...]]:
    """Argument lists, at most so many: the likeliest, then each with one other value, then others by chance (the same
    ones every time)."""
    likeliest = tuple(v[0] for v in values)
    lists = [likeliest]
    lists += [(*likeliest[:at], value, *likeliest[at + 1 :]) for at, some in enumerate(values) for value in some[1:]]
    count = 1
    for some in values:
        count *= len(some)
    if count <= most:
        lists += list(product(*values))
    elif values:
        chance = random.Random(1)
        lists += [tuple(chance.choice(some) for some in values) for _ in range(most)]
    yield from islice(dict.fromkeys(lists), most)


def call_of(routine: Routine, arguments: Sequence[str]) -> str:
    """The statement that calls a routine with these arguments for the parameters that are given a value."""
    given = iter(arguments)
    texts = ", ".join("?" if p.mode == "out" else next(given) for p in routine.parameters)
    name = names((*filter(None, [routine.schema]), routine.short))
    if routine.kind == "procedure":
        return f"CALL {name}({texts})"
    return f"SELECT * FROM TABLE({name}({texts}))" if routine.table else f"VALUES {name}({texts})"
