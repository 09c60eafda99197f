"""ORDER BY: sort keys as positions in the result (ISO/IEC 9075-2 clause 7.17).

A name alone in a sort key is a column of the result before it is one of the tables; within an expression the other way
round.
"""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.scope import QueryScope
from glimb.engine.binding.sources import natural_name
from glimb.engine.binding.stored import gathers
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite, walk


def with_result(
    keys: tuple[tree.SortKey, ...], items: tuple[tree.SelectItem, ...], scope: QueryScope
) -> tuple[tree.SortKey, ...]:
    """Sort keys that are expressions, with what the select list calls by a name in the place of a name that no table
    has: not within queries, which have names of their own, nor within set functions, which gather rows of tables."""
    if all(_is_plain(key.value) for key in keys):
        return keys
    named: dict[str, list[tree.Expression]] = {}
    for item in items:
        named.setdefault(item.alias or natural_name(item.value), []).append(item.value)
    for name in (column.name for source in scope.sources for column in source.columns):
        named.pop(name, None)

    def change(part: Node) -> Node | None:
        if isinstance(part, tree.Query) or (isinstance(part, tree.FunctionCall) and gathers(part)):
            return part
        if isinstance(part, tree.Reference) and len(part.parts) == 1:
            found = named.get(part.parts[0], ())
            return found[0] if len(found) == 1 else None
        return None

    return tuple(k if _is_plain(k.value) else replace(k, value=rewrite(k.value, change)) for k in keys)


def over_result(node: tree.Query) -> tree.Query:
    """Expressions over the columns of a result that is no plain list of rows (of a set operation, VALUES or DISTINCT)
    order what a query of all its columns gives."""
    expressions = [key.value for key in node.order if not _is_plain(key.value)]
    if not expressions or (isinstance(node.body, tree.Select) and not _is_of_result(node.body, expressions)):
        return node
    inside = tree.DerivedTable(tree.Query(node.body, span=node.body.span), "result", span=node.body.span)
    star = tree.SelectItem(tree.Star(span=node.body.span), span=node.body.span)
    return replace(node, body=tree.Select((star,), (inside,), span=node.body.span))


def _is_of_result(body: tree.Select, expressions: list[tree.Expression]) -> bool:
    """Whether expressions name columns of a DISTINCT result only, and are none of them themselves."""
    names = {item.alias or natural_name(item.value) for item in body.items}
    used = [n for n in walk(tuple(expressions)) if isinstance(n, tree.Reference)]
    if not body.distinct or any(item.value in expressions for item in body.items):
        return False
    return all(len(n.parts) == 1 and n.parts[0] in names for n in used)


def _is_plain(key: tree.Expression) -> bool:
    """A sort key that is a column by its name or number."""
    return isinstance(key, tree.Reference | tree.Literal)


def order_by_columns(
    b: Binding, keys: tuple[tree.SortKey, ...], columns: tuple[R.Output, ...]
) -> tuple[tuple[int, bool, bool], ...]:
    """ORDER BY of a set operation or VALUES: by the names or numbers of its columns."""
    order = []
    for key in keys:
        position = _output_position(b, key.value, columns)
        if position is None:
            b.fail("42703", "here ORDER BY takes columns of the result", key, ", ".join(c.name for c in columns))
        b.sort_value(R.Const(columns[position].type, True, None), key)
        order.append(_sort(b, key, position))
    return tuple(order)


def _sort(b: Binding, key: tree.SortKey, position: int) -> tuple[int, bool, bool]:
    """NULL sorts as if it were higher than every value, unless NULLS FIRST or LAST says otherwise."""
    nulls_first = key.nulls == "first" if key.nulls else key.descending
    return position, key.descending, nulls_first


def _output_position(b: Binding, node: tree.Expression, columns: tuple[R.Output, ...]) -> int | None:
    """Which column of the result a sort key names, by name or number."""
    if isinstance(node, tree.Literal) and node.kind == "integer":
        position = int(node.value) - 1 if len(node.value) < 9 else -1
        if not 0 <= position < len(columns):
            b.fail("42703", f"the result has columns 1 to {len(columns)}", node)
        return position
    if isinstance(node, tree.Reference) and len(node.parts) == 1:
        found = [i for i, c in enumerate(columns) if c.name == node.parts[0]]
        if len(found) > 1:
            b.fail("42702", f"{node.parts[0]} is ambiguous: several columns have this name", node)
        return found[0] if found else None
    return None


def order_by(
    b: Binding, keys: tuple[tree.SortKey, ...], columns: tuple[R.Output, ...], items: list[R.Expr], distinct: bool
) -> tuple[tuple[tuple[int, bool, bool], ...], list[R.Expr]]:
    """Sort keys as positions in the select list, which grows by what is not yet in it."""
    order = []
    widened = list(items)
    for key in keys:
        position = _output_position(b, key.value, columns)
        if position is None:
            value = expression(b, key.value)
            if value in widened:
                position = widened.index(value)
            else:
                if distinct:
                    b.fail("42601", "with DISTINCT, ORDER BY takes columns of the result", key)
                position = len(widened)
                widened.append(value)
        b.sort_value(widened[position], key)
        order.append(_sort(b, key, position))
    return tuple(order), widened
