"""Literals that may differ between statements that have the same code.

A suite says the same thing many times with other numbers: `CALL settle(3, 1)`, `CALL settle(4, 1)`. Where a literal is
only compared, stored or handed on, the code takes it as a value that it is given, and one compilation serves all. Its
type stays part of what the code is for. Where more hangs on a literal than that (a pattern, a number of a column, an
argument of what is built in, what a query is grouped by) it stays in the code.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from glimb.engine.binding.expressions import literal_value
from glimb.engine.binding.outside import LITERAL
from glimb.engine.values.conditions import Condition
from glimb.engine.values.signatures import BUILTINS
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.source import Source

MOST = 40
"""A statement with more of them is an own one."""
_KINDS = ("integer", "decimal", "float", "string", "date", "time", "timestamp")


class Shape(NamedTuple):
    """A statement without such literals: the text between them, their types and values, and their nodes."""

    text: tuple[str, ...]
    types: tuple[Type, ...]
    values: dict[str, Any]
    nodes: dict[int, tuple[str, Type]]
    """By identity of the node: the Python local of its value, and its type."""


def shape_of(statement: tree.Statement, source: Source, routines: frozenset[str]) -> Shape | None:
    """What a statement is apart from its literals, if it has some; `routines` are the names of all that are stored."""
    found = sorted(_literals(statement, routines), key=lambda node: node.span.start)
    if not 0 < len(found) <= MOST:
        return None
    text, types = [], []
    values: dict[str, Any] = {}
    nodes: dict[int, tuple[str, Type]] = {}
    at = statement.span.start
    for number, node in enumerate(found, 1):
        try:
            constant = literal_value(node)
        except Condition:
            return None
        local = f"{LITERAL}{number}"
        text.append(source.text[at : node.span.start])
        types.append(constant.type)
        values[local] = constant.value
        nodes[id(node)] = local, constant.type
        at = node.span.end
    text.append(source.text[at : statement.span.end])
    return Shape(tuple(text), tuple(types), values, nodes)


def _literals(statement: tree.Statement, routines: frozenset[str]) -> Iterator[tree.Literal]:
    if isinstance(statement, tree.Call):
        yield from _plain(*(argument.value for argument in statement.arguments))
    elif isinstance(statement, tree.QueryStatement):
        yield from _of_query(statement.query, routines)
    elif isinstance(statement, tree.Insert):
        body = statement.query.body if statement.query is not None else None
        if isinstance(body, tree.Values) and isinstance(body.rows, tuple) and len(body.rows) <= MOST:
            yield from _plain(*(item for row in body.rows for item in row))
    elif isinstance(statement, tree.Update):
        for assignment in statement.assignments:
            yield from _plain(assignment.value)
        yield from _of_condition(statement.where)
    elif isinstance(statement, tree.Delete):
        yield from _of_condition(statement.where)


def _plain(*values: object) -> Iterator[tree.Literal]:
    """Those of some values that are literals themselves."""
    for value in values:
        if isinstance(value, tree.Literal) and value.kind in _KINDS:
            yield value


def _of_query(query: tree.Query, routines: frozenset[str]) -> Iterator[tree.Literal]:
    body = query.body
    if isinstance(body, tree.Select):
        yield from _of_condition(body.where)
        if body.group is None and not body.distinct and not query.order:
            for item in body.items:
                yield from _of_call(item.value, routines)
    elif isinstance(body, tree.Values) and isinstance(body.rows, tuple) and len(body.rows) == 1:
        for value in body.rows[0]:
            yield from _of_call(value, routines)


def _of_call(value: tree.Expression, routines: frozenset[str]) -> Iterator[tree.Literal]:
    """The arguments of a call of a stored function."""
    if isinstance(value, tree.FunctionCall) and value.name[-1] in routines and value.name[-1] not in BUILTINS:
        if value.over is None and not (value.distinct or value.order or value.where):
            yield from _plain(*(argument.value for argument in value.arguments))


def _of_condition(condition: tree.Expression | None) -> Iterator[tree.Literal]:
    """Literals that something else is compared with."""
    if isinstance(condition, tree.Logical):
        yield from _of_condition(condition.left)
        yield from _of_condition(condition.right)
    elif isinstance(condition, tree.Not):
        yield from _of_condition(condition.operand)
    elif isinstance(condition, tree.Comparison):
        if not isinstance(condition.left, tree.Literal) or not isinstance(condition.right, tree.Literal):
            yield from _plain(condition.left, condition.right)
    elif isinstance(condition, tree.Between) and not isinstance(condition.operand, tree.Literal):
        yield from _plain(condition.low, condition.high)
