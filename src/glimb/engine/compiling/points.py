"""All that can be counted in a catalog: the covered form of everything that is stored is written, and not run."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from glimb.engine import resolved as R
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.expressions import in_domain
from glimb.engine.binding.sources import view_query
from glimb.engine.catalog.objects import Domain, View
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.codegen.queries import write_query
from glimb.engine.compiling.compiler import Compiler
from glimb.engine.compiling.tables import OUR_TABLE, OUR_TABLE_SPAN
from glimb.engine.storage.table import Table
from glimb.engine.values.conditions import Condition
from glimb.lang.problem import ProblemError
from glimb.lang.source import Span


def register_points(compiler: Compiler) -> None:
    """Have a point for every place, also those that no run has come to; what is wrong in itself has none."""
    catalog = compiler.catalog
    for routine in catalog.written_routines():
        if routine.bind() is not None:
            with suppress(Condition):
                compiler.routines.routine_unit(routine, False)
    for trigger in catalog.triggers.values():
        with suppress(Condition):
            compiler.tables.trigger(trigger, 0)
    for relation in catalog.relations.values():
        with suppress(Condition, ProblemError):
            if isinstance(relation, View):
                _view(compiler, relation)
            else:
                _checks(compiler, relation)
    for domain in catalog.domains.values():
        with suppress(Condition, ProblemError):
            _domain(compiler, domain)


def _view(compiler: Compiler, view: View) -> None:
    unit = compiler.units.make(f"view {view.name}", OUR_TABLE, "", False)
    write_query(unit, view_query(binding_for(compiler.catalog, view.source), view, view.query), "rows")


def _checks(compiler: Compiler, table: Table) -> None:
    if table.checks:
        compiler.tables.validator(table)
    for number, check in enumerate(table.checks):
        if check.deferrable:
            compiler.tables.check_code(table, number)


def _domain(compiler: Compiler, domain: Domain) -> None:
    unit = compiler.units.make(f"domain {domain.name}", OUR_TABLE, "", False)
    value = R.Variable(domain.type, True, "value", "value")
    function = unit.function("domain_", ["s", "d", "value"], OUR_TABLE_SPAN)
    ExpressionWriter(function, False).value(in_domain(binding_for(compiler.catalog, OUR_TABLE), value, domain))


def owners(compiler: Compiler) -> Iterator[tuple[str, Span, str]]:
    """What stands where: the name of a text, a stretch of it, and whose it is."""
    catalog = compiler.catalog
    for routine in catalog.written_routines():
        yield routine.source.name, routine.definition.span, catalog.told(routine)
    for trigger in catalog.triggers.values():
        yield trigger.source.name, trigger.definition.span, trigger.name
    for relation in catalog.relations.values():
        if isinstance(relation, View):
            yield relation.source.name, relation.query.span, relation.name
        else:
            yield from ((c.source.name, c.condition.span, relation.name) for c in relation.checks)
    for domain in catalog.domains.values():
        yield from ((c.source.name, c.condition.span, domain.name) for c in domain.checks)
