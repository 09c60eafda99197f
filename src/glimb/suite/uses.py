"""What uses what in a project: routines, triggers, views and tables, and which of them calls, reads, changes or fires
which.

In: an engine with the project, bound bodies. Out: `Thing`s and `Link`s between them. A view that a routine reads is a
link of its own beside those to the tables below it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone, bind_trigger
from glimb.engine.binding.outside import Outside
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine, View
from glimb.engine.storage.table import Table
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.tables import written

CALLS, READS, CHANGES, FIRES = "calls", "reads", "changes", "fires"
VERBS = (CALLS, READS, CHANGES, FIRES)
CHANGING = R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt | R.TruncateStmt
CALLING = R.RoutineCall | R.CallStmt | R.CallRows


class Thing(NamedTuple):
    """What can be used: `kind` is scalar function, table function, procedure, trigger, view or table."""

    kind: str
    name: str


class Link(NamedTuple):
    """One thing uses another: `verb` is one of `VERBS`."""

    user: Thing
    verb: str
    used: Thing


class Uses(NamedTuple):
    """All things of a project with their links, and those whose body cannot be bound, of which nothing is known."""

    things: list[Thing]
    links: list[Link]
    unbound: list[Thing]


def uses(catalog: Catalog) -> Uses:
    """Everything that somebody has written, in the order of names, and what of it uses what."""
    tables = {t: Thing("table", t.name) for t in catalog.tables() if not t.private_to and not t.temporary}
    queries = {v.name: v.query for v in catalog.relations.values() if isinstance(v, View)}
    views = {name: Thing("view", name) for name in queries}
    routines = {id(r): Thing(r.kind_word, catalog.told(r)) for r in catalog.written_routines()}
    triggers = {name: Thing("trigger", name) for name in catalog.triggers}
    found: dict[Link, None] = {}
    unbound = []

    def look(user: Thing, bound: Iterable[Node], body: Node) -> None:
        nodes = list(bound)
        for routine in called(nodes):
            if id(routine) in routines:
                found[Link(user, CALLS, routines[id(routine)])] = None
        seen = view_names(body, views)
        found.update(dict.fromkeys(Link(user, READS, views[name]) for name in seen if views[name] != user))
        for verb, some in ((READS, read(nodes)), (CHANGES, changed(nodes))):
            found.update(dict.fromkeys(Link(user, verb, tables[t]) for t in some if t in tables))

    for routine in catalog.written_routines():
        facts, thing = routine.bind(), routines[id(routine)]
        if facts is None:
            unbound.append(thing)
        else:
            look(thing, walk(facts.body), routine.definition.body)
    for name, trigger in catalog.triggers.items():
        thing = triggers[name]
        target = views.get(trigger.view.name) if trigger.view is not None else tables.get(trigger.table)
        if target is not None:
            found[Link(target, FIRES, thing)] = None
        try:
            facts = bind_trigger(catalog, trigger)
        except ProblemError:
            unbound.append(thing)
            continue
        condition = walk(facts.condition) if facts.condition is not None else ()
        look(thing, [*walk(facts.body), *condition], trigger.definition.body)
    for name, thing in views.items():
        try:
            look(thing, _of_view(catalog, name), queries[name])
        except ProblemError:
            unbound.append(thing)
    things = [*routines.values(), *triggers.values(), *views.values(), *tables.values()]
    return Uses(sorted(things), sorted(found), sorted(unbound))


def _of_view(catalog: Catalog, name: str) -> Iterator[Node]:
    source = Source(f"SELECT * FROM {written(name)}")
    statement = parse(source).statements[0]
    return walk(bind_alone(catalog, statement, source, "", Outside({})).statement)


def called(nodes: Iterable[Node]) -> Iterator[Routine]:
    """The routines that bound nodes call."""
    return (node.routine for node in nodes if isinstance(node, CALLING))


def read(nodes: Iterable[Node]) -> Iterator[Table]:
    """The tables whose rows bound nodes read."""
    return (node.table for node in nodes if isinstance(node, R.Scan))


def changed(nodes: Iterable[Node]) -> Iterator[Table]:
    """The tables whose rows bound nodes change."""
    return (node.table for node in nodes if isinstance(node, CHANGING))


def view_names(body: Node, views: Iterable[str]) -> list[str]:
    """The views that a text names, its own common tables aside."""
    nodes = list(walk(body))
    own = {node.name for node in nodes if isinstance(node, tree.CommonTable)}
    named = {".".join(node.name) for node in nodes if isinstance(node, tree.TableName)}
    return sorted(name for name in views if name in named and name not in own)
