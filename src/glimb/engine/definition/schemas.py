"""CREATE SCHEMA and CREATE MODULE, with the objects in them."""

from __future__ import annotations

from glimb.engine.catalog.objects import (
    Schema,
)
from glimb.engine.definition.context import Definition
from glimb.lang import tree

# -- schemas, modules, domains, types


def create_schema(d: Definition, node: tree.CreateSchema) -> None:
    """CREATE SCHEMA (clause 11.1), with the objects in it."""
    name = node.name[-1]
    if d.catalog.has_schema(name):
        d.binder.fail("42710", f"schema {name} exists already", node)
    d.change("schemas", name, Schema(name, "schema"))
    with d.binder.having(schema=name):
        for element in node.elements:
            d.define(element)


def create_module(d: Definition, node: tree.CreateModule) -> None:
    """CREATE MODULE (9075-4 clause 9.1): routines called by module.routine, and by name among each other; temporary
    tables of theirs, MODULE.table."""
    name = node.name[-1]
    if d.catalog.has_schema(name):
        kind = "module" if d.catalog.is_module(name) else "schema"
        d.binder.fail("42710", f"{kind} {name} exists already", node)
    d.change("schemas", name, Schema(name, "module"))
    with d.binder.having(schema=name):
        for element in node.elements:
            d.define(element)
