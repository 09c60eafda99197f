"""Questions: a query answered as a session sees the data, without a trace in what follows.

In: an engine, a session, a parsed query, values and rows that it may name. Out: an outcome with rows, or with the
condition that the query raised. No lock is taken, nobody is waited for, and sequences give again what they gave.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from glimb.engine.binding.outside import Outside
from glimb.engine.compiling.statements import Compiled, compile_statement
from glimb.engine.engine import Engine, host_values
from glimb.engine.outcomes.outcome import Outcome, ResultColumn
from glimb.engine.storage.table import ColumnInfo, Table
from glimb.engine.transactions import telling
from glimb.engine.transactions.hosts import HostValue
from glimb.engine.transactions.onlooker import Onlooker
from glimb.engine.transactions.session import Session
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import QueryStatement


class Rows(NamedTuple):
    """Rows that a question may read as a table, with their columns."""

    columns: tuple[ResultColumn, ...]
    rows: list[tuple[Any, ...]]


def ask(
    engine: Engine,
    session: Session,
    query: QueryStatement,
    source: Source,
    named: Mapping[str, HostValue] | None = None,
    tables: Mapping[str, Rows] | None = None,
) -> Outcome:
    """What a query gives, asked for a session; `named` are values and `tables` rows that stand for their names."""
    named, tables = named or {}, tables or {}
    onlooker = Onlooker(session)
    drawn = {sequence: sequence.next for sequence in engine.catalog.all_sequences()}
    limits = engine.shared.limits
    outer = engine.watch.begin(onlooker, limits.seconds, limits.memory)
    outcome = Outcome(session.name, "select")
    result: Any
    shared = engine.shared
    forms, shared.recording, shared.coverage = (shared.recording, shared.coverage), False, None
    try:
        compiled = _compiled(engine, onlooker, query, source, named, tables)
        values = host_values({**engine.shared.hosts, **named}, compiled.outside)
        # A row ends with its row id, here as in every table.
        result = compiled.run(onlooker, 0, *values, *([(*row, 0) for row in t.rows] for t in tables.values()))
    except ProblemError as error:
        return telling.invalid(session, error)
    except Exception as error:  # a condition, or a fault of ours
        result = error
    finally:
        shared.recording, shared.coverage = forms
        engine.watch.session = outer
        for sequence, value in drawn.items():
            sequence.next = value
    telling.complete(onlooker, outcome, result, False)
    return outcome


def _compiled(
    engine: Engine,
    onlooker: Onlooker,
    query: QueryStatement,
    source: Source,
    named: Mapping[str, HostValue],
    tables: Mapping[str, Rows],
) -> Compiled:
    """The query, compiled: kept by the compiler, unless it reads rows that it is given."""
    types = {name: value.type for name, value in named.items()}
    if not tables:
        return engine.compiler.statement(query, source, onlooker, named=types)
    hosts = {name: value.type for name, value in engine.shared.hosts.items()}
    outside = Outside(hosts, types, {name: _table(name, rows.columns) for name, rows in tables.items()})
    return compile_statement(engine.compiler.units, query, source, False, onlooker.schema, outside)


def _table(name: str, columns: tuple[ResultColumn, ...]) -> Table:
    """What a query is to know of rows that it is given."""
    return Table(name, [ColumnInfo(c.name, c.type, False, None) for c in columns])
