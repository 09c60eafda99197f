"""What all sessions of an engine share: catalog, committed work, locks, waits, clock, model, budgets.

A session knows this and no engine. What it asks of the compiler at run time stands here as a protocol.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from itertools import islice
from typing import Any, Protocol

from greenlet import greenlet

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Trigger, View
from glimb.engine.outcomes.coverage import Coverage
from glimb.engine.outcomes.events import FOLDED, MOST_EVENTS, MOST_OF_ALL, Rounds
from glimb.engine.resolved.statements import SchemaStmt
from glimb.engine.storage.history import History
from glimb.engine.storage.indexes import Index
from glimb.engine.storage.log import Entry
from glimb.engine.storage.resources import Resource
from glimb.engine.storage.table import Table
from glimb.engine.transactions.asides import Asides
from glimb.engine.transactions.hosts import Hosts
from glimb.engine.transactions.limits import Budget, Limits, size_of
from glimb.engine.transactions.locks import LockOwner, LockTable
from glimb.engine.transactions.sight import Sight
from glimb.engine.transactions.waits import Waits
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import Type
from glimb.lang.source import Source
from glimb.lang.tree import Statement

EPOCH = datetime(2030, 1, 1, 9, 0, 0)


class Participant(Protocol):
    """A session, as the others see it."""

    @property
    def log(self) -> list[Entry]: ...
    @property
    def asides(self) -> Asides: ...
    @property
    def sight(self) -> Sight: ...
    @property
    def private_tables(self) -> dict[Table, Table]: ...


class Model(Protocol):
    """How sessions are kept apart (see `isolation`): what one sees of a table, and what it locks to see it."""

    name: str

    def begin(self, session: Any) -> None:
        """A transaction starts."""

    def view(self, session: Any, table: Table) -> Any:
        """A table as a session may see it now."""

    def view_to_change(self, session: Any, table: Table, mode: str, wait: float | None, skip: bool) -> Any:
        """A table in which a session looks for rows to change or lock. `mode` is what readers lock them in meanwhile,
        `wait` how many seconds they wait at most, `skip` says that what is locked is left out."""

    def rely(self, session: Any, table: Table, index: Index, key: Any) -> None:
        """A constraint is about to look whether a key is there; raises 40001 when this session may not know."""

    def validate(self, session: Any) -> None:
        """A transaction is about to be committed; raises 40001 when it must not be."""


class TableCompiler(Protocol):
    """What makes functions of the definitions of tables."""

    def trigger(self, trigger: Trigger, written: int) -> Callable[..., Any]: ...
    def validator(self, table: Table) -> Callable[..., None]: ...
    def check_code(self, table: Table, number: int) -> Callable[..., None]: ...
    def generator(self, table: Table) -> Callable[..., Any]: ...
    def defaults(self, table: Table, columns: tuple[int, ...]) -> Callable[..., tuple[Any, ...]]: ...


class RuntimeCompiler(Protocol):
    """What is asked of the compiler while statements run."""

    @property
    def tables(self) -> TableCompiler: ...
    def statement(
        self,
        node: Statement,
        source: Source,
        session: Any,
        types: tuple[Type, ...] | None = None,
        for_cursor: bool = False,
        named: Mapping[str, Type] | None = None,
    ) -> Any: ...
    def statement_now(self, session: Any, node: Statement, source: Source) -> None: ...
    def described_columns(self, node: Statement, source: Source, session: Any, types: list[Type]) -> Any: ...
    def define(self, session: Any, statement: SchemaStmt, source: Source) -> None: ...
    def private_copy(self, session: Any, table: Table) -> Table: ...
    def view_columns(self, view: View) -> Any: ...
    def is_updatable(self, view: View) -> bool: ...


class Shared:
    """See above. `compiler` and `model` are set by who makes it."""

    compiler: RuntimeCompiler
    model: Model

    def __init__(self, limits: Limits) -> None:
        self.limits = limits
        self.budget = Budget(limits)
        self.catalog = Catalog()
        self.history = History()
        self.locks = LockTable()
        self.waits = Waits()
        self.clock = EPOCH
        self.hosts: Hosts = {}
        self.sessions: Mapping[str, Participant] = {}
        self.idle: list[greenlet] = []
        """Greenlets that are free: making one costs more than running a statement in it."""
        self.recording = False
        self.coverage: Coverage | None = None
        """Where it is counted what is tried, when that is asked for."""
        self.keep_rounds(None)
        self.plain = False
        """Whether queries are run as they stand, without planning: to compare with."""

    def keep_rounds(self, wanted: Rounds | None) -> None:
        """Which rounds of loops a recorded run keeps beside the first and last ones; None: nobody will look."""
        self.rounds = wanted
        self.most_events = MOST_EVENTS if wanted in (None, FOLDED) else MOST_OF_ALL

    def release(self, session: LockOwner, resources: list[Resource]) -> None:
        self.waits.release(self.locks, session, resources)

    def count_rows(self) -> None:
        """Called when a transaction has changed many rows: 5B005 when all tables together hold too much."""
        total = 0
        for table in self.catalog.tables():
            rows = table.rows
            sample = [row for row in islice(rows.values(), 20) if row is not None]
            total += len(rows) * (100 + sum(map(size_of, sample)) // max(1, len(sample)))
        if total > self.limits.memory:
            raise Condition("5B005", f"the tables hold more than {self.limits.memory:,} bytes")
