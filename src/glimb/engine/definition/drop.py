"""DROP with RESTRICT or CASCADE."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.entry import bind_routine, bind_trigger
from glimb.engine.binding.expressions import in_domain
from glimb.engine.binding.sources import view_query
from glimb.engine.catalog.dependents import Dependent, dependents, names
from glimb.engine.catalog.objects import (
    Domain,
    Routine,
    Trigger,
    View,
)
from glimb.engine.definition.context import Definition
from glimb.engine.definition.domains import leave_domain
from glimb.engine.definition.references import unrefer
from glimb.engine.definition.routines import routine_named
from glimb.engine.definition.tables import build_table
from glimb.engine.definition.type_names import type_name
from glimb.engine.storage.table import ForeignKey, Table
from glimb.lang import tree
from glimb.lang.problem import ProblemError, nearest

# -- DROP


def drop(d: Definition, node: tree.Drop) -> None:
    """DROP of anything."""
    if node.kind in ("table", "view"):
        _drop_relation(d, node, d.binder.key("relations", node.name, node))
    elif node.kind in ("function", "procedure", "routine"):
        _drop_routine(d, node)
    elif node.kind in ("schema", "module"):
        _drop_schema(d, node)
    else:
        _drop_plain(d, node)


def _drop_plain(d: Definition, node: tree.Drop) -> None:
    """DROP of a sequence, trigger, domain or type."""
    space = f"{node.kind}s"
    key = d.binder.key(space, node.name, node)
    objects = getattr(d.catalog, space)
    if key not in objects:
        if node.if_exists:
            return
        d.binder.fail("42704", f"there is no {node.kind} {key}", node, nearest(key, objects))
    if node.kind in ("domain", "type"):  # routines too cannot be without them
        node = tree.Drop(node.kind, node.name, cascade=node.cascade, restrict=not node.cascade, span=node.span)
    if node.kind != "trigger":
        drop_users(d, _users_of(d, space, key, node), key, node)
    if node.kind == "domain":
        leave_domain(d, objects[key], node)
    d.change(space, key, None)


def drop_users(d: Definition, users: list[Dependent], name: str, node: tree.Drop | tree.AlterTable) -> None:
    """RESTRICT: refuse while somebody uses the object; CASCADE: drop the users too. With neither word, routines may
    stay: they are looked at when they run, so that one can be dropped and made again under those that call it."""
    if not (node.restrict or node.cascade):
        users = [u for u in users if not isinstance(u.object, Routine)]
    fixed = [u for u in users if isinstance(u.object, Table | Domain)]
    if users and (fixed or not node.cascade):
        names = ", ".join(dict.fromkeys(u.name for u in (fixed if node.cascade else users)))
        hint = "" if node.cascade else "DROP ... CASCADE drops them too"
        d.binder.fail("42893", f"{name} is used by {names}", node, hint)
    for user in users:
        _drop_user(d, user, node)


def _users_of(d: Definition, space: str, key: str, node: tree.Drop) -> list[Dependent]:
    """Who uses an object that is to be dropped. CASCADE: tables and domains stay, without what names it (clauses 11.21,
    11.61, 11.72)."""
    # Domains first: their columns get the default that they lose (clause 11.37).
    for kind in (Domain, Table) if node.cascade else ():
        for user in dependents(d.catalog, space, key):
            if isinstance(user.object, kind):
                _lose_parts(d, user, space, key, node)
    users = dependents(d.catalog, space, key)
    return [user for user in users if not (node.cascade and isinstance(user.object, Table | Domain))]


def _lose_parts(d: Definition, user: Dependent, space: str, key: str, node: tree.Drop) -> None:
    """A table or domain loses what names an object: columns of a type too; one that is nothing else is dropped."""
    if space == "types":
        found = getattr(d.catalog, user.space)[user.key]
        of_type = [column for column, type_, _ in _types_of(found) if names(d.catalog, type_, "", space, key)]
        if all(is_computed or column in of_type for column, _, is_computed in _types_of(found)):
            kind = "table" if isinstance(found, Table) else "domain"
            drop(d, tree.Drop(kind, (user.key,), cascade=True, span=node.span))
            return
        for column in of_type:
            d.define(tree.AlterTable((user.key,), "drop column", column, cascade=True, span=node.span))
    for verb, part, text in _parts(getattr(d.catalog, user.space)[user.key]):
        if names(d.catalog, text, "", space, key):
            if isinstance(user.object, Table):
                d.define(tree.AlterTable((user.key,), verb, part, cascade=True, span=node.span))
            else:
                d.define(tree.AlterDomain((user.key,), verb, dropped=part, span=node.span))


def _types_of(found: object) -> list[tuple[str, tree.Node, bool]]:
    """The types of a table's columns, with their names and whether they are computed from others; that of a domain."""
    if isinstance(found, Domain):
        return [("", type_name(found.type), False)]
    assert isinstance(found, Table)
    columns = found.definition.columns if found.definition is not None else ()
    return [(column.name, column.type, column.generated is not None) for column in columns]


def _parts(found: object) -> list[tuple[str, str, tree.Node]]:
    """What a table or a domain has that may name others: how it is dropped, its name, its text."""
    parts: list[tuple[str, str, tree.Node]] = []
    if isinstance(found, Domain):
        parts += [("drop constraint", c.name, c.condition) for c in found.checks]
        return [*parts, ("drop default", "", found.default)] if found.default is not None else parts
    if not isinstance(found, Table) or found.definition is None:
        return parts
    for constraint in found.definition.constraints:
        if constraint.condition is not None:
            parts.append(("drop constraint", constraint.name, constraint.condition))
    for column in found.definition.columns:
        if column.default is not None:
            parts.append(("drop default", column.name, column.default))
        if column.generated is not None:
            parts.append(("drop column", column.name, column.generated))
    return parts


def _drop_user(d: Definition, user: Dependent, node: tree.Node) -> None:
    """Drop a dependent, with its own dependents, unless that has been done."""
    there = getattr(d.catalog, user.space).get(user.key)
    if isinstance(user.object, Routine):
        if there is not None and user.object in there:
            _remove_routine(d, user.object, tree.Drop("routine", (user.key,), cascade=True, span=node.span))
    elif there is user.object and isinstance(user.object, View):
        _drop_relation(d, tree.Drop("view", (user.key,), cascade=True, span=node.span), user.key)
    elif there is user.object:
        d.change(user.space, user.key, None)


def _drop_routine(d: Definition, node: tree.Drop) -> None:
    try:
        found = routine_named(d, node.kind, node.name, node.types, node.specific, node)
    except ProblemError as error:
        if node.if_exists and error.problems[0].sqlstate == "42704":
            return
        raise
    _remove_routine(d, found, node)


def _remove_routine(d: Definition, routine: Routine, node: tree.Drop) -> None:
    """Drop one routine; who calls it is known by name, and where several have the name, by trying without it."""
    group = d.catalog.routines[routine.name]
    rest = tuple(r for r in group if r is not routine) or None
    users = dependents(d.catalog, "routines", routine.name) if rest else _users_of(d, "routines", routine.name, node)
    if rest is not None:
        fitting = [u for u in users if fits(d, u)]
        d.change("routines", routine.name, rest)
        drop_users(d, [u for u in fitting if not fits(d, u)], routine.name, node)
        return
    d.change("routines", routine.name, None)
    drop_users(d, users, routine.name, node)


def fits(d: Definition, user: Dependent) -> bool:
    """Whether the text of an object can be bound as things are now."""
    found = user.object
    try:
        if isinstance(found, View):
            view_query(binding_for(d.catalog, found.source), found, found.query)
        elif isinstance(found, Routine):
            bind_routine(d.catalog, found)
        elif isinstance(found, Trigger):
            bind_trigger(d.catalog, found)
        elif isinstance(found, Table) and found.definition is not None:
            build_table(d, found.definition, {c.name: (c.text, c.source) for c in found.checks})
        elif isinstance(found, Domain):
            in_domain(d.binder, R.Const(found.type, True, None), found)
    except ProblemError:
        return False
    return True


def _drop_schema(d: Definition, node: tree.Drop) -> None:
    """DROP SCHEMA name CASCADE | RESTRICT, DROP MODULE."""
    name = node.name[-1]
    found = d.catalog.schemas.get(name)
    if found is None or found.kind != node.kind:
        if node.if_exists and found is None:
            return
        known = [n for n, s in d.catalog.schemas.items() if s.kind == node.kind]
        d.binder.fail("42704", f"there is no {node.kind} {name}", node, nearest(name, known))
    inside = [
        (space, key)
        for space in ("triggers", "relations", "routines", "sequences", "domains", "types")
        for key in getattr(d.catalog, space)
        if key.startswith(f"{name}.")
    ]
    if inside and not node.cascade and node.kind == "schema":
        shown = ", ".join(key for _, key in inside[:5])
        d.binder.fail("42893", f"schema {name} holds {shown}", node, "DROP SCHEMA ... CASCADE")
    for space, key in inside:
        existing = getattr(d.catalog, space).get(key)
        if space == "routines" and existing is not None:
            users = [u for u in _users_of(d, space, key, node) if (u.space, u.key) not in inside]
            d.change(space, key, None)
            drop_users(d, users, key, node)
        elif existing is not None:
            kind = existing.kind if space == "relations" else space[:-1]
            drop(d, tree.Drop(kind, (key,), cascade=True, span=node.span))
    if d.session.schema == name:
        d.session.schema = ""
    d.change("schemas", name, None)


def _drop_relation(d: Definition, node: tree.Drop, name: str) -> None:
    existing = d.catalog.relations.get(name)
    if existing is None or existing.kind != node.kind:
        if existing is None and node.if_exists:
            return
        hint = f"{name} is a {existing.kind}" if existing is not None else ""
        d.binder.fail("42704", f"there is no {node.kind} {name}", node, hint)
    children = [f for f in existing.referenced if f.table is not existing] if isinstance(existing, Table) else []
    if children and not node.cascade:
        names = ", ".join(dict.fromkeys(f.table.name for f in children))
        d.binder.fail("42893", f"{name} is used by {names}", node, "DROP ... CASCADE drops them too")
    own = [t for t in d.catalog.triggers.values() if existing in (t.view, t.table)]
    users = _users_of(d, "relations", name, node)
    drop_users(d, [u for u in users if u.object not in own], name, node)
    for trigger in own:
        d.change("triggers", trigger.name, None)
    for child in children:
        drop_reference(d, child, node)
    if isinstance(existing, Table):
        for foreign in existing.foreign:
            unrefer(d, foreign.target.referenced, foreign)
    d.change("relations", name, None)


def drop_reference(d: Definition, foreign: ForeignKey, node: tree.Node) -> None:
    """Drop the constraint of a foreign key from its table."""
    d.define(tree.AlterTable((foreign.table.name,), "drop constraint", foreign.name, span=node.span))
