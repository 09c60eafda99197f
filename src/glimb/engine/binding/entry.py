"""Binding of whole texts: a statement that stands alone, a routine, a trigger."""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.calls import output_markers
from glimb.engine.binding.context import Binding
from glimb.engine.binding.dispatch import bind_condition, bind_statement
from glimb.engine.binding.nullability import settled, settled_condition
from glimb.engine.binding.outside import Outside
from glimb.engine.binding.scope import RowScope, VariableScope
from glimb.engine.binding.targets import declare
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine, Trigger
from glimb.lang import tree
from glimb.lang.node import Record, walk
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source


class Facts(Record):
    """What binding a routine has shown. Who works out more of it may keep that in `nature`, for as long as it is so."""

    _kept = ("nature",)
    body: R.Stmt
    parameters: tuple[R.Target, ...]
    writes: bool
    level: int
    """What it does with SQL data: a position in tree.ACCESS."""


class AloneFacts(NamedTuple):
    """A statement that stands alone, bound: what it does with SQL data (see ACCESS), and its dynamic parameters."""

    statement: R.Stmt
    level: int
    parameters: int


def bind_alone(catalog: Catalog, node: tree.Statement, source: Source, schema: str, outside: Outside) -> AloneFacts:
    """Bind a statement that stands alone, with what it finds outside itself; raises ProblemError."""
    binder = binding_for(catalog, source, schema=schema)
    binder.outside = outside
    if outside.parameters is not None:
        # They count as they are read, whatever clause is bound first (9075-2 clause 20.10). Those that only take a
        # value are given none, but may be: Python's database interface has one value for each.
        starts = sorted(n.span.start for n in walk(node) if isinstance(n, tree.Placeholder))
        if isinstance(node, tree.Call) and len(starts) != len(outside.parameters):
            taking = output_markers(binder, node)
            starts = [start for start in starts if start not in taking]
        outside.numbers = {start: number for number, start in enumerate(starts)}
    binder.transition_tables.update({name: (f"given_rows_{name}", table) for name, table in outside.tables.items()})
    bound = _settled(bind_statement(binder, node), binder)
    return AloneFacts(bound, binder.effects.level, len(outside.numbers))


def _check_access(routine: Routine, binder: Binding) -> None:
    """A routine does no more than it promises (9075-2 clause 11.60): 42985."""
    if not routine.access:
        return
    allowed = tree.ACCESS.index(routine.access)
    called = [(r.level, span) for r, span in binder.effects.called if r is not routine]
    for level, span in sorted([*binder.effects.levels.items(), *called], reverse=True):
        if level > max(allowed, 1):
            what = "changes data" if level == 3 else "reads tables"
            message = f"{routine.name} says {routine.access.upper()}, but this {what}"
            raise ProblemError(Problem("42985", message, span, "", routine.source))


def bind_routine(catalog: Catalog, routine: Routine) -> Facts:
    """Bind the body of a routine; raises ProblemError with everything that is wrong in it."""
    binder = binding_for(catalog, routine.source, routine, routine.schema)
    scope = binder.scope = VariableScope(None, routine.short)
    targets = []
    for parameter, node in zip(routine.parameters, routine.definition.parameters, strict=True):
        target = declare(binder, scope, parameter.name, parameter.type, node)
        targets.append(target)
        binder.may_be_null.add(target.local)
        if parameter.mode == "in" and routine.kind == "procedure":
            scope.readonly.add(parameter.name)
    bound = _settled(bind_statement(binder, routine.definition.body), binder)
    _check_access(routine, binder)
    return Facts(bound, tuple(targets), binder.effects.writes, binder.effects.level)


class TriggerFacts(Record):
    """A bound trigger: locals for the columns of the old and new row, its condition and its body."""

    old: tuple[str, ...]
    new: tuple[str, ...]
    condition: R.Expr | None
    body: R.Stmt
    tables: tuple[str, ...]
    """Which transition tables it looks at: `old`, `new`."""


def bind_trigger(catalog: Catalog, trigger: Trigger) -> TriggerFacts:
    """Bind a trigger; raises ProblemError. Only a BEFORE trigger may assign to the new row."""
    node, table = trigger.definition, trigger.table
    binder = binding_for(catalog, trigger.source, schema=trigger.schema)
    tables = []
    for which, name, missing in (("old", node.old_table, "insert"), ("new", node.new_table, "delete")):
        if name:
            if node.timing != "after" or node.event == missing:
                binder.fail("42601", f"only an AFTER trigger of rows that are there has a {which.upper()} TABLE", node)
            binder.transition_tables[name] = (f"{which}_rows", table)
            tables.append(which)
    locals_: dict[str, tuple[str, ...]] = {"old": (), "new": ()}
    for which, name, missing in (("old", node.old, "insert"), ("new", node.new, "delete")):
        if name and (not node.each_row or node.event == missing):
            why = "needs FOR EACH ROW" if not node.each_row else f"has no {which.upper()} row"
            binder.fail("42601", f"a trigger of {node.event.upper()} {why}", node)
        if node.each_row and node.event != missing:
            scope = binder.scope = RowScope(binder.scope, name or which)
            targets = [declare(binder, scope, c.name, c.type, node) for c in table.columns]
            locals_[which] = tuple(t.local for t in targets)
            if which == "old" or node.timing != "before":
                scope.readonly |= {c.name for c in table.columns}
    condition = None
    if node.condition is not None:
        with binder.clause("in WHEN"), binder.only_reading("WHEN of a trigger", node.condition):
            condition = bind_condition(binder, node.condition, "WHEN")
    binder.atomic_depth = 1
    body = bind_statement(binder, node.body)
    known = frozenset(
        local
        for which in ("old", "new")
        if which == "old" or node.timing == "after"
        for local, column in zip(locals_[which], table.columns, strict=False)
        if column.not_null
    )
    body = _settled(body, binder, known)
    if condition is not None:
        condition = settled_condition(condition, known)
    return TriggerFacts(locals_["old"], locals_["new"], condition, body, tuple(tables))


def _settled(bound: R.Stmt, binder: Binding, known: frozenset[str] = frozenset()) -> R.Stmt:
    """What was bound, when nothing in it is wrong, with what is known of NULLs."""
    if binder.problems:
        raise ProblemError(*binder.problems)
    return settled(bound, binder.assignments, binder.may_be_null, known)
