"""Domains and distinct types (ISO/IEC 9075-2 clauses 11.34 to 11.40 and 11.51)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.expressions import in_domain
from glimb.engine.catalog.dependents import dependents
from glimb.engine.catalog.objects import Domain
from glimb.engine.definition.context import Definition
from glimb.engine.definition.settling import settled
from glimb.engine.definition.type_names import type_name
from glimb.engine.storage.table import CheckInfo, Table
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Node, rewrite
from glimb.lang.problem import nearest


def create_domain(d: Definition, node: tree.CreateDomain) -> None:
    """CREATE DOMAIN (clause 11.34)."""
    key = d.new_key("domains", node.name, node)
    if key in d.catalog.domains or key in d.catalog.types:
        d.binder.fail("42710", f"{key} exists already", node)
    type_ = d.binder.type(node.type)
    if node.default is not None:
        assign(d.binder, expression(d.binder, node.default), type_, node.default, "the default")
    domain = Domain(key, type_, settled(d, node.default), ())
    for constraint in node.constraints:
        domain = _with_check(d, domain, constraint)
    d.change("domains", key, domain)


def _with_check(d: Definition, domain: Domain, node: tree.Constraint) -> Domain:
    """A domain with one more CHECK."""
    assert node.condition is not None
    name = node.name or f"{domain.name}_check{len(domain.checks) + 1 if domain.checks else ''}"
    if any(c.name == name for c in domain.checks):
        d.binder.fail("42710", f"constraint {name} is defined twice", node)
    check = CheckInfo(name, settled(d, node.condition), " ".join(d.source[node.condition.span].split()), d.source)
    found = Domain(domain.name, domain.type, domain.default, (*domain.checks, check))
    in_domain(d.binder, R.Const(domain.type, True, None), found)
    return found


def _domain(d: Definition, name: tree.Parts, node: tree.Node) -> Domain:
    key = d.binder.key("domains", name, node)
    found = d.catalog.domains.get(key)
    if found is None:
        d.binder.fail("42704", f"there is no domain {key}", node, nearest(key, d.catalog.domains))
    return found


def alter_domain(d: Definition, node: tree.AlterDomain) -> None:
    """ALTER DOMAIN (clause 11.36): columns of the domain get its new default and its new constraints, and lose the
    dropped ones; a dropped default becomes their own (clause 11.37)."""
    domain = _domain(d, node.name, node)
    if node.verb == "drop default":
        _leave_default(d, domain, node)
    if node.constraint is not None:
        domain = _with_check(d, domain, node.constraint)
    elif node.dropped:
        kept = tuple(c for c in domain.checks if c.name != node.dropped)
        if len(kept) == len(domain.checks):
            hint = nearest(node.dropped, [c.name for c in domain.checks])
            d.binder.fail("42704", f"domain {domain.name} has no constraint {node.dropped}", node, hint)
        domain = Domain(domain.name, domain.type, domain.default, kept)
    else:
        if node.value is not None:
            assign(d.binder, expression(d.binder, node.value), domain.type, node.value, "the default")
        domain = Domain(domain.name, domain.type, settled(d, node.value), domain.checks)
    d.change("domains", domain.name, domain)
    if node.verb != "drop default":
        for table, column in _columns_of(d, domain):
            _follow_domain(d, table, f"{column.name}_{node.dropped}" if node.dropped else "", node)


def _leave_default(d: Definition, domain: Domain, node: tree.Node) -> None:
    """The columns of a domain that have no default of their own get that of the domain."""
    for table, column in _columns_of(d, domain) if domain.default is not None else ():
        if column.default is None and column.identity is None and column.generated is None:
            d.define(tree.AlterTable((table,), "set default", column.name, value=domain.default, span=node.span))


def leave_domain(d: Definition, domain: Domain, node: tree.Node) -> None:
    """Columns are of the type of a domain that is to be dropped, and keep its default and its constraints (11.40)."""
    _leave_default(d, domain, node)
    plain = type_name(domain.type)

    def without(node: Node) -> Node | None:
        return plain if isinstance(node, tree.TypeName) and _key(d, node) == domain.name else None

    for user in dependents(d.catalog, "domains", domain.name):
        definition = user.object.definition if isinstance(user.object, Table) else None
        for column in definition.columns if definition is not None else ():
            type_ = rewrite(column.type, without)
            if type_ != column.type:
                d.define(tree.AlterTable((user.key,), "set type", column.name, type=type_, span=node.span))


def _columns_of(d: Definition, domain: Domain) -> list[tuple[str, tree.ColumnDefinition]]:
    """The columns of a domain, each with the name of its table."""
    tables = [(table.name, table.definition) for table in d.catalog.tables() if table.definition is not None]
    return [(name, c) for name, made in tables for c in made.columns if _key(d, c.type) == domain.name]


def _key(d: Definition, type_: tree.TypeName) -> str:
    """Of a domain that a definition names (see `settled`)."""
    return d.catalog.key("domains", type_.parts, "")


def _follow_domain(d: Definition, table: str, dropped: str, node: tree.Node) -> None:
    """Give a table what has changed in the domain of a column."""
    verb = "drop constraint" if dropped else "rebuild"
    d.define(tree.AlterTable((table,), verb, dropped, span=node.span))


def create_type(d: Definition, node: tree.CreateType) -> None:
    """A distinct type (clause 11.51): its values are compared among themselves only."""
    key = d.new_key("types", node.name, node)
    if key in d.catalog.types or key in d.catalog.domains:
        d.binder.fail("42710", f"type {key} exists already", node)
    source = d.binder.type(node.type)
    if source.kind in ("distinct", "array", "row"):
        d.binder.fail("42601", f"a distinct type is made of a built-in type, not of {source}", node)
    d.change("types", key, Type("distinct", 0, 0, (source,), (key,)))
