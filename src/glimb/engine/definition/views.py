"""CREATE VIEW (ISO/IEC 9075-2 clause 11.32)."""

from __future__ import annotations

from glimb.engine.binding.changed_views import change_target
from glimb.engine.binding.sources import view_query
from glimb.engine.catalog.objects import (
    View,
)
from glimb.engine.definition.context import Definition
from glimb.lang import tree

# -- views and routines


def create_view(d: Definition, node: tree.CreateView) -> None:
    """CREATE VIEW, RECURSIVE too; its query must bind now, and is bound anew whenever it is used."""
    name = d.new_key("relations", node.name, node)
    existing = d.catalog.relations.get(name)
    if existing is not None and not (node.replace and isinstance(existing, View)):
        d.binder.fail("42710", f"{existing.kind} {name} exists already", node)
    view = View(name, node.columns, node.query, d.source, d.binder.schema, node.check)
    view.recursive = node.recursive
    names = [c.name for c in view_query(d.binder, view, node).columns]
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice is not None:
        d.binder.fail("42701", f"two columns of view {name} are called {twice}", node, "name its columns")
    if node.check:
        change_target(d.binder, (name,), "", node, view)
    d.change("relations", name, view)
