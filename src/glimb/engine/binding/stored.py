"""What rows are stored as: the columns of a table as a scope, its defaults, the values that a change assigns."""

from __future__ import annotations

from glimb.engine.binding.context import Binding
from glimb.engine.binding.scope import ColumnScope, QueryScope, SourceScope
from glimb.engine.catalog.objects import schema_of
from glimb.engine.storage.table import Table
from glimb.engine.values.signatures import AGGREGATES
from glimb.lang import tree


def gathers(call: tree.FunctionCall) -> bool:
    """Whether a call is of a set function or over a window."""
    return call.over is not None or call.name[-1] in AGGREGATES


def row_scope(b: Binding, table: Table, alias: str, unchecked: bool = False) -> tuple[QueryScope, int]:
    """A scope with the columns of one table, as UPDATE, DELETE and CHECK see them; `unchecked` rows have not yet
    been looked at by constraints, so that a NULL may be in any column."""
    scope = QueryScope(b.scope)
    number = b.new_source()
    columns = [ColumnScope(c.name, c.type, unchecked or not c.not_null, i) for i, c in enumerate(table.columns)]
    schema = "" if alias else schema_of(table.name)
    scope.sources.append(SourceScope(number, alias or table.short, columns, schema))
    return scope, number


# -- assignments of UPDATE and MERGE


def pairs(b: Binding, node: tree.Assignment, parent: tree.Node) -> list[tuple[str, tree.Expression]]:
    """Columns with their values: those of a row, or of a query that gives one row, are taken apart (T641)."""
    if len(node.columns) == 1:
        return [(node.columns[0], node.value)]
    if isinstance(node.value, tree.RowValue):
        if len(node.value.items) != len(node.columns):
            b.fail("42601", f"{len(node.value.items)} values for {len(node.columns)} columns", node)
        return list(zip(node.columns, node.value.items, strict=True))
    b.fail("42601", f"{len(node.columns)} columns need a row of as many values", node)
