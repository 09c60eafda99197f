"""Schema statements at work: they make and drop objects of the catalog, and all they do is in the session's log."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine.catalog.objects import Routine, Trigger
from glimb.engine.definition.alter import alter_table
from glimb.engine.definition.context import Definition
from glimb.engine.definition.domains import alter_domain, create_domain, create_type
from glimb.engine.definition.drop import drop
from glimb.engine.definition.routines import alter_routine, create_routine
from glimb.engine.definition.schemas import create_module, create_schema
from glimb.engine.definition.sequences import create_sequence, restart
from glimb.engine.definition.tables import build_table, create_table
from glimb.engine.definition.triggers import create_trigger
from glimb.engine.definition.views import create_view
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.lang import tree
from glimb.lang.source import Source

VERBS: dict[type, Callable[[Definition, Any], None]] = {
    tree.CreateTable: create_table,
    tree.CreateView: create_view,
    tree.CreateRoutine: create_routine,
    tree.AlterRoutine: alter_routine,
    tree.AlterTable: alter_table,
    tree.CreateTrigger: create_trigger,
    tree.CreateSequence: create_sequence,
    tree.AlterSequence: restart,
    tree.CreateSchema: create_schema,
    tree.CreateModule: create_module,
    tree.CreateDomain: create_domain,
    tree.AlterDomain: alter_domain,
    tree.CreateType: create_type,
    tree.Drop: drop,
}


def define(session: Session, source: Source, statement: tree.Statement) -> list[Routine | Trigger]:
    """Carry out a schema statement; gives the routines and triggers that it has made, whose bodies are to be looked at.
    Raises ProblemError, and Condition where rows are in the way."""
    return Definition(VERBS, session, source).carry_out(statement)


def private_copy(session: Session, table: Table) -> Table:
    """A table like a temporary one, empty, for the rows of one session."""
    assert table.definition is not None
    assert table.source is not None
    texts = {c.name: (c.text, c.source) for c in table.checks}
    made = build_table(Definition(VERBS, session, table.source), table.definition, texts)
    made.name, made.temporary = table.name, table.temporary
    made.shared, made.private_to = table, session.name
    return made
