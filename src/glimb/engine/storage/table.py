"""Tables: columns, constraints, indexes, rows by row id. Their changes go through the log of a session."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from operator import itemgetter
from typing import Any, Protocol

from glimb.engine.storage.indexes import Bounds, Index, Row, exhaust
from glimb.engine.storage.log import Entry
from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import equal_value
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.source import Source

EMPTY: dict[int, Row] = {}
SHARED = object()
"""Stands for the writer of a table that several sessions have changed and not yet committed."""


class ColumnInfo:
    """A column of a table; `default` is the parsed expression, None for NULL. An identity column has a sequence, a
    generated one an expression over its row; `always` refuses other values."""

    __slots__ = ("always", "default", "generated", "identity", "name", "not_null", "type")

    def __init__(self, name: str, type_: Type, not_null: bool, default: tree.Expression | None) -> None:
        self.name = name
        self.type = type_
        self.not_null = not_null
        self.default = default
        self.identity: Sequence | None = None
        self.generated: tree.Expression | None = None
        self.always = False


class Sequence:
    """A sequence generator (ISO/IEC 9075-2 4.24). Values that have been drawn stay drawn when a transaction is rolled
    back; the reset after a case gives them back."""

    kind = "sequence"

    def __init__(
        self, name: str, type_: Type, start: int, increment: int, bounds: tuple[int, int], cycle: bool
    ) -> None:
        self.name = name
        self.type = type_
        self.start = start
        self.increment = increment
        self.bounds = bounds
        self.cycle = cycle
        self.next: int = start

    def draw(self) -> int:
        """The next value: 2200H when there is none left."""
        value = self.next
        low, high = self.bounds
        if not low <= value <= high:
            if not self.cycle:
                fail("2200H", f"sequence {self.name} has no values left")
            value = low if self.increment > 0 else high
        self.next = value + self.increment
        return value


class CheckInfo:
    """A CHECK constraint, as parsed, with the text it was written in."""

    __slots__ = ("condition", "deferrable", "deferred", "enforced", "name", "source", "text")

    def __init__(self, name: str, condition: tree.Expression, text: str, source: Source) -> None:
        self.name = name
        self.source = source
        self.condition = condition
        self.text = text
        self.deferrable = self.deferred = False
        self.enforced = True


class ForeignKey:
    """Columns of `table` that must be found among the key columns of `target`, unless one of them is NULL (MATCH
    SIMPLE), all are (FULL), or what is not NULL fits some row (PARTIAL)."""

    __slots__ = (
        "child_index",
        "columns",
        "deferrable",
        "deferred",
        "enforced",
        "match",
        "name",
        "on_delete",
        "on_update",
        "table",
        "target",
        "target_index",
    )

    def __init__(
        self, name: str, table: Table, columns: tuple[int, ...], target: Table, actions: tuple[str, str]
    ) -> None:
        self.name = name
        self.table = table
        self.columns = columns
        self.target = target
        self.on_delete, self.on_update = actions
        self.match = "simple"
        self.deferrable = self.deferred = False
        self.enforced = True
        self.target_index: Index
        self.child_index: Index

    @property
    def converts(self) -> bool:
        """Whether the columns are of another type than those of the key, so that their values stand otherwise."""
        return any(a != b for a, b in self._types())

    def _types(self) -> list[tuple[Type, Type]]:
        pairs = zip(self.columns, self.target_index.columns, strict=True)
        return [(self.table.columns[a].type, self.target.columns[b].type) for a, b in pairs]

    def as_target(self, values: tuple[Any, ...]) -> tuple[Any, ...]:
        """The values of a row as those of the key would stand that they are equal to; None where none is."""
        return tuple(
            v if v is None or a == b else equal_value(v, a, b) for v, (a, b) in zip(values, self._types(), strict=True)
        )


class Holder(Protocol):
    """Who changes tables: a session, with the log of its transaction."""

    @property
    def name(self) -> str: ...
    @property
    def log(self) -> list[Entry]: ...


class TableCode:
    """What the compiler has made of a table's definition, each part when it was first needed. Another one takes its
    place when the catalog changes."""

    __slots__ = ("checks", "defaults", "generate", "triggers", "validate")

    def __init__(self) -> None:
        self.validate: Callable[..., None] | None = None
        """NOT NULL and CHECK: validate(session, depth, row)."""
        self.checks: dict[int, Callable[..., None]] = {}
        """Deferrable CHECKs by number: check(session, depth, row)."""
        self.defaults: dict[tuple[int, ...], Callable[..., tuple[Any, ...]]] = {}
        """Defaults by the columns that they are of: defaults(session, depth)."""
        self.generate: Callable[..., Row] | None = None
        """Generated columns: generate(session, depth, row) gives the row with them."""
        self.triggers: list[Any] | None = None
        """The table's triggers (`catalog.objects.Trigger`), in the order in which they were made."""


class Table:
    """A base table: definition, rows by row id, indexes. A row's last element is its row id.

    A deleted row leaves a tombstone (None), so that a row that comes back stands where it stood.
    """

    kind = "table"

    def __init__(self, name: str, columns: Iterable[ColumnInfo]) -> None:
        self.name = name
        self.columns = tuple(columns)
        self.positions = {c.name: i for i, c in enumerate(self.columns)}
        self.primary: Index | None = None
        self.indexes: list[Index] = []
        self.checks: list[CheckInfo] = []
        self.foreign: list[ForeignKey] = []
        self.referenced: list[ForeignKey] = []
        self.constraint_names: set[str] = set()
        self.rows: dict[int, Row | None] = {}
        self.dead = 0
        self.next_id = 1
        self.writers: dict[Holder, None] = {}
        """Who has uncommitted changes, in the order in which they began: that is the order of rows that others see."""
        self.writer: Any = None
        self.changed_at = 0
        self.owner: Holder | None = None
        """The session that has made, changed or dropped the table and not yet committed that."""
        self.temporary = ""
        """Of a temporary table: what becomes of its rows at COMMIT, `delete` or `preserve`."""
        self.source: Source | None = None
        """Of a temporary table: the text of its definition."""
        self.shared: Table | None = None
        """Of the rows that one session has in a temporary table: the table that all know."""
        self.private_to = ""
        """The name of that session."""
        self.compiled = TableCode()
        self.definition: tree.CreateTable | None = None
        """How it would be created now: columns without constraints, and all constraints with their names."""
        self.has_generated = any(c.generated is not None for c in self.columns)

    @property
    def short(self) -> str:
        """The name without its schema."""
        return self.name.rpartition(".")[2]

    def constraints(self) -> Iterator[tuple[str, Index | ForeignKey | CheckInfo]]:
        """All with a name: keys, foreign keys, CHECKs."""
        yield from ((index.name, index) for index in self.indexes if index.key)
        yield from ((foreign.name, foreign) for foreign in self.foreign)
        yield from ((check.name, check) for check in self.checks)

    # -- reading

    def scan(self) -> Iterable[Row]:
        """All rows, in the order in which they came."""
        if self.dead:
            return [row for row in self.rows.values() if row is not None]
        return self.rows.values()  # type: ignore[return-value]

    def lookup(self, number: int) -> Callable[..., Any]:
        """`get` of index `number`: key -> row (unique) or rows by id."""
        return self.indexes[number].map.get

    def ranges(self, number: int) -> Callable[[Bounds], Iterable[Row]]:
        """Rows by a range of index `number`, or more rows than that: who asks tests them all."""
        between = self.indexes[number].between

        def find(bounds: Bounds) -> Iterable[Row]:
            found = between(bounds)
            return list(self.scan()) if found is None else found

        return find

    def key_text(self, row: Row) -> Any:
        """What names a row: its primary key, or its row id."""
        return self.primary.get_key(row) if self.primary else row[-1]

    # -- changing, always through a session's log

    def put(self, row_id: int, before: Row | None, after: Row | None) -> None:
        """Replace one row: insert when `before` is None, delete when `after` is."""
        for index in self.indexes:
            index.replace(before, after)
        if after is not None:
            if before is None and row_id in self.rows:
                self.dead -= 1
        else:
            self.dead += 1
        self.rows[row_id] = after

    def put_new(self, rows: list[Row], keys: list[tuple[list[Any], list[Row]]]) -> None:
        """Store rows with new ids; for each index, the keys that are not NULL and their rows."""
        for index, (known, keyed) in zip(self.indexes, keys, strict=True):
            index.add_new(known, keyed)
        self.rows.update(zip(map(itemgetter(-1), rows), rows, strict=True))

    def take_back(self, rows: list[Row]) -> None:
        """Rows that were put in, and have not changed since, are gone again."""
        for index in self.indexes:
            index.take_back(rows)
        exhaust(map(self.rows.pop, map(itemgetter(-1), rows)))

    def undo(self, row_id: int, before: Row | None, after: Row | None) -> None:
        """Take one change back: the entry was (row_id, before, after)."""
        if before is None and after is not None:
            for index in self.indexes:
                index.remove(after)
            del self.rows[row_id]
        else:
            self.put(row_id, after, before)
