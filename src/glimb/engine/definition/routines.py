"""CREATE and ALTER of functions and procedures (ISO/IEC 9075-2 clauses 11.60 and 11.61)."""

from __future__ import annotations

from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import expression
from glimb.engine.catalog.objects import (
    DEFAULT_SCHEMA,
    ParameterInfo,
    Routine,
)
from glimb.engine.definition.context import Definition
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import nearest


def create_routine(d: Definition, node: tree.CreateRoutine) -> None:
    """CREATE [OR REPLACE] FUNCTION, PROCEDURE; 42710 when there is one with the same parameters."""
    routine = make_routine(d, node)
    routine.installed_at = d.session.shared.clock
    routine.schema = d.binder.schema if len(node.name) == 1 else node.name[-2]
    routine.schema = "" if routine.schema == DEFAULT_SCHEMA else routine.schema
    routine.name = d.new_key("routines", node.name, node)
    group = d.catalog.routines.get(routine.name, ())
    types = [p.type for p in routine.parameters]
    same = [r for r in group if r.kind == routine.kind and [p.type for p in r.parameters] == types]
    if same and not node.replace:
        d.binder.fail("42710", f"{same[0].kind_word} {same[0].signature} exists already", node, "CREATE OR REPLACE")
    kept = tuple(r for r in group if r not in same)
    d.change("routines", routine.name, (*kept, routine))
    d.made.append(routine)


def alter_routine(d: Definition, node: tree.AlterRoutine) -> None:
    """ALTER FUNCTION, PROCEDURE, ROUTINE (clause 11.61): other characteristics."""
    old = routine_named(d, node.kind, node.name, node.types, False, node)
    said = {
        "deterministic": node.deterministic,
        "access": node.access or None,
        "result_sets": node.result_sets,
        "null_call": node.null_call,
    }
    definition = replace(old.definition, replace=True, **{k: v for k, v in said.items() if v is not None})
    new = Routine(definition, old.source, old.parameters, old.returns, old.table)
    new.schema, new.name, new.installed_at = old.schema, old.name, d.session.shared.clock
    group = tuple(new if r is old else r for r in d.catalog.routines[old.name])
    d.change("routines", old.name, group)
    d.made.append(new)


def routine_named(
    d: Definition, kind: str, name: tree.Parts, types: tuple[tree.TypeName, ...] | None, specific: bool, node: tree.Node
) -> Routine:
    """The one routine that a name means, with the types of its parameters where there are several."""
    if specific:
        found = [r for r in d.catalog.all_routines() if r.definition.specific == name[-1]]
    else:
        found = list(d.catalog.routines.get(d.binder.key("routines", name, node), ()))
    found = [r for r in found if kind in ("routine", r.kind)]
    if types is not None:
        wanted = [d.binder.type(t) for t in types]
        found = [r for r in found if [p.type for p in r.parameters] == wanted]
    if not found:
        known = [n for n, g in d.catalog.routines.items() if kind in ("routine", g[0].kind)]
        d.binder.fail("42704", f"there is no {kind} {name[-1]}", node, nearest(name[-1], known))
    if len(found) > 1:
        ways = ", ".join(r.signature for r in found)
        d.binder.fail("42725", f"there are several: {ways}", node, "name the types of the parameters")
    return found[0]


def make_routine(d: Definition, node: tree.CreateRoutine) -> Routine:
    """The routine of a definition, with the types of its parameters; its body is not yet looked at."""
    parameters = []
    for number, parameter in enumerate(node.parameters):
        if any(p.name == parameter.name for p in node.parameters[:number]):
            d.binder.fail("42701", f"parameter {parameter.name} is defined twice", parameter)
        type_ = d.binder.type(parameter.type)
        if parameter.default is not None:
            assign(d.binder, expression(d.binder, parameter.default), type_, parameter.default, parameter.name)
        parameters.append(ParameterInfo(parameter.name, type_, parameter.mode, parameter.default))
    returns = d.binder.type(node.returns) if node.returns is not None else None
    parts = walk(node.body, (tree.Expression,)) if node.returns or node.table else ()
    if parts and not any(isinstance(part, tree.Return) for part in parts):
        d.binder.fail("42601", f"the body of {node.name[-1]} has no RETURN", node)
    table = tuple((c.name, d.binder.type(c.type)) for c in node.table)
    return Routine(node, d.source, tuple(parameters), returns, table)
