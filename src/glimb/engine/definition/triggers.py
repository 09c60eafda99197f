"""CREATE TRIGGER (ISO/IEC 9075-2 clause 11.49)."""

from __future__ import annotations

from glimb.engine.binding.sources import view_query
from glimb.engine.binding.statements import bind_column
from glimb.engine.catalog.objects import (
    Trigger,
    View,
)
from glimb.engine.definition.context import Definition
from glimb.engine.storage.table import ColumnInfo, Table
from glimb.lang import tree

# -- triggers


def create_trigger(d: Definition, node: tree.CreateTrigger) -> None:
    """CREATE TRIGGER; its body is looked at when all of the statement has been done."""
    name = d.new_key("triggers", node.name, node)
    if name in d.catalog.triggers:
        d.binder.fail("42710", f"trigger {name} exists already", node)
    number = max((t.number for t in d.catalog.triggers.values()), default=0) + 1
    if node.timing == "instead":
        trigger = _instead_trigger(d, node, number)
    else:
        table = d.binder.base_table(node.table, node)
        for column in node.columns:
            bind_column(d.binder, table, column, node)
        trigger = Trigger(node, d.source, table, number)
    trigger.name, trigger.schema = name, d.binder.schema
    d.change("triggers", name, trigger)
    d.made.append(trigger)


def _instead_trigger(d: Definition, node: tree.CreateTrigger, number: int) -> Trigger:
    """A trigger of a view, whose columns it sees as those of a table."""
    view = d.binder.relation(node.table, node)
    if not isinstance(view, View):
        d.binder.fail("42809", f"{view.name} is no view", node, "BEFORE or AFTER")
    if not node.each_row or node.columns:
        d.binder.fail("42601", "an INSTEAD OF trigger is FOR EACH ROW, of all columns", node)
    columns = [ColumnInfo(c.name, c.type, False, None) for c in view_query(d.binder, view, node).columns]
    trigger = Trigger(node, d.source, Table(view.name, columns), number)
    trigger.view = view
    return trigger
