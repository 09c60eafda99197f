"""CREATE VIEW (ISO/IEC 9075-2 clause 11.32)."""

from __future__ import annotations

from glimb.engine.binding.changed_views import change_target
from glimb.engine.binding.sources import view_query
from glimb.engine.catalog.objects import (
    View,
)
from glimb.engine.definition.context import Definition
from glimb.lang import tree
from glimb.lang.node import Node, replace, rewrite
from glimb.lang.problem import ProblemError

# -- views and routines


def create_view(d: Definition, node: tree.CreateView) -> None:
    """CREATE VIEW, RECURSIVE too; its query must bind now, and is bound anew whenever it is used."""
    name = d.new_key("relations", node.name, node)
    existing = d.catalog.relations.get(name)
    if existing is not None and not (node.replace and isinstance(existing, View)):
        d.binder.fail("42710", f"{existing.kind} {name} exists already", node)
    view = View(name, node.columns, node.query, d.source, d.binder.schema, node.check)
    view.recursive = node.recursive
    stars: dict[int, tuple[tree.SelectItem, ...]] = {}
    with d.binder.having(stars=stars):
        names = [c.name for c in view_query(d.binder, view, node).columns]
    _write_out(d, view, node, stars, names)
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice is not None:
        d.binder.fail("42701", f"two columns of view {name} are called {twice}", node, "name its columns")
    if node.check:
        change_target(d.binder, (name,), "", node, view)
    d.change("relations", name, view)


def _write_out(
    d: Definition, view: View, node: tree.CreateView, stars: dict[int, tuple[tree.SelectItem, ...]], names: list[str]
) -> None:
    """Put the columns in the place of each star: a column that a table gets later is none of the view's (clause 11.11).
    A star over columns that cannot be named one by one stays."""

    def change(part: Node) -> Node | None:
        if isinstance(part, tree.Select) and any(id(item) in stars for item in part.items):
            items = tuple(new for item in part.items for new in stars.get(id(item), (item,)))
            inner = {name: rewrite(getattr(part, name), change) for name in part._fields if name != "items"}
            return replace(part, items=rewrite(items, change), **inner)
        return None

    starred = view.query
    view.query = rewrite(starred, change)
    try:
        same = view.query is starred or [c.name for c in view_query(d.binder, view, node).columns] == names
    except ProblemError:
        same = False
    if not same:
        view.query = starred
