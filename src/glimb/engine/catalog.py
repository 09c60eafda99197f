"""The catalog: tables with their constraints, views and routines, by name. Its changes are undone as rows' are."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import TYPE_CHECKING, Any

from glimb.engine.conditions import fail
from glimb.engine.indexes import Bounds, Index, Row
from glimb.engine.types import Type
from glimb.engine.values import equal_value
from glimb.lang import tree
from glimb.lang.source import Source

if TYPE_CHECKING:
    from glimb.engine.session import Session

Entry = tuple[Any, Any, Any, Any]
"""One change in a log: where (a Table or the Catalog), its key, before, after."""

EMPTY: dict[int, Row] = {}
DEFAULT_SCHEMA = "project"
"""The schema of everything that is made without naming one."""
SYSTEM_SCHEMAS = ("information_schema", "glimb")
SHARED = object()
"""Stands for the writer of a table that several sessions have changed and not yet committed."""


def schema_of(key: str) -> str:
    """The schema of an object, by its key in the catalog."""
    return key.rpartition(".")[0] or DEFAULT_SCHEMA


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

    __slots__ = ("condition", "deferrable", "deferred", "enforced", "name", "text")

    def __init__(self, name: str, condition: tree.Expression, text: str) -> None:
        self.name = name
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
        self.writers: set[Session] = set()
        self.writer: Any = None
        self.changed_at = 0
        self.owner: Session | None = None
        """The session that has made, changed or dropped the table and not yet committed that."""
        self.validate: Callable[..., None] | None = None
        """Compiled NOT NULL and CHECK constraints, made when first needed: validate(session, depth, row)."""
        self.default_code: Callable[..., tuple[Any, ...]] | None = None
        self.generate: Callable[..., Row] | None = None
        """Compiled generated columns: generate(session, depth, row) gives the row with them."""
        self.temporary = ""
        """Of a temporary table: what becomes of its rows at COMMIT, `delete` or `preserve`."""
        self.source: Source | None = None
        """Of a temporary table: the text of its definition."""
        self.shared: Table | None = None
        """Of the rows that one session has in a temporary table: the table that all know."""
        self.private_to = ""
        """The name of that session."""
        self.check_codes: dict[int, Callable[..., None]] = {}
        """Compiled deferrable CHECKs by number."""
        self.definition: tree.CreateTable | None = None
        """How it would be created now: columns without constraints, and all constraints with their names."""
        self.triggers: list[Trigger] | None = None
        """Its triggers, looked up when first needed."""
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

    def undo(self, row_id: int, before: Row | None, after: Row | None) -> None:
        """Take one change back: the entry was (row_id, before, after)."""
        if before is None and after is not None:
            for index in self.indexes:
                index.remove(after)
            del self.rows[row_id]
        else:
            self.put(row_id, after, before)


class View:
    """A stored query, bound anew whenever it is used; `check` is empty, local or cascaded (WITH CHECK OPTION)."""

    kind = "view"

    def __init__(
        self, name: str, columns: tuple[str, ...], query: tree.Query, source: Source, schema: str, check: str = ""
    ) -> None:
        self.name = name
        self.columns = columns
        self.query = query
        self.source = source
        self.schema = schema
        self.check = check
        self.recursive = False
        self.triggers: list[Trigger] | None = None

    @property
    def short(self) -> str:
        """The name without its schema."""
        return self.name.rpartition(".")[2]

    @property
    def bindable(self) -> tree.Query:
        """The query to bind: of a recursive view, one with a common table of its name."""
        if not self.recursive:
            return self.query
        common = tree.CommonTable(self.short, self.columns, self.query, span=self.query.span)
        star = (tree.SelectItem(tree.Star()),)
        body = tree.Select(star, (tree.TableName((self.short,)),))
        return tree.Query(body, (common,), True, span=self.query.span)


class SystemView:
    """A view of the information schema, or of our own, whose rows are made when they are asked for."""

    kind = "system view"

    def __init__(self, name: str, columns: tuple[tuple[str, Type], ...], rows: Callable[[Session], list[Row]]) -> None:
        self.name = name
        self.columns = columns
        self.rows = rows


class Domain:
    """A type with a default and CHECK constraints over VALUE."""

    def __init__(
        self,
        name: str,
        type_: Type,
        default: tree.Expression | None,
        checks: tuple[CheckInfo, ...],
    ) -> None:
        self.name = name
        self.type = type_
        self.default = default
        self.checks = checks


class Schema:
    """A schema, or an SQL-server module (`kind`), which holds routines only."""

    def __init__(self, name: str, kind: str) -> None:
        self.name = name
        self.kind = kind


class ParameterInfo:
    """A parameter of a routine."""

    __slots__ = ("default", "mode", "name", "type")

    def __init__(self, name: str, type_: Type, mode: str, default: tree.Expression | None) -> None:
        self.name = name
        self.type = type_
        self.mode = mode
        self.default = default


class Routine:
    """A stored function or procedure. `code` and `recorded` are its two compiled forms, made at the first call."""

    def __init__(
        self,
        definition: tree.CreateRoutine,
        source: Source,
        parameters: tuple[ParameterInfo, ...],
        returns: Type | None,
        table: tuple[tuple[str, Type], ...],
    ) -> None:
        self.name = definition.name[-1]
        self.schema = ""
        self.key = self.name
        self.kind = definition.kind
        self.access = definition.access
        """What it promises to do with SQL data; empty when it promises nothing."""
        self.deterministic = definition.deterministic
        self.definition = definition
        self.source = source
        self.parameters = parameters
        self.returns = returns
        self.table = table
        self.code: Callable[..., Any]
        self.recorded: Callable[..., Any]
        self.facts: Any = None
        """What the binder found out about the body (see binder.routines.Facts); None until it is bound."""
        self.is_bound = True
        """Whether something may have been made of it that a change of the catalog makes wrong."""
        self.bind: Callable[[], Any] = lambda: None

    @property
    def signature(self) -> str:
        """Name and parameter types, as shown in messages."""
        return f"{self.name}({', '.join(str(p.type) for p in self.parameters)})"

    @property
    def kind_word(self) -> str:
        """scalar function, table function or procedure."""
        if self.kind == "procedure":
            return "procedure"
        return "table function" if self.table else "scalar function"


class Trigger:
    """A trigger of a table; `code` is made when it first fires: code(session, depth, old row, new row)."""

    def __init__(self, definition: tree.CreateTrigger, source: Source, table: Table, number: int) -> None:
        self.name = definition.name[-1]
        self.definition = definition
        self.source = source
        self.table = table
        self.number = number
        """Triggers fire in the order in which they were made."""
        self.view: View | None = None
        """Of an INSTEAD OF trigger; `table` then only tells the columns."""
        self.schema = ""
        self.columns = frozenset(table.positions[c] for c in definition.columns)
        self.code: Callable[..., Any] | None = None


class Catalog:
    """All objects by name. `version` changes with every change, so that what was compiled before is compiled anew."""

    def __init__(self) -> None:
        self.relations: dict[str, Table | View] = {}
        self.routines: dict[str, tuple[Routine, ...]] = {}
        self.sequences: dict[str, Sequence] = {}
        self.domains: dict[str, Domain] = {}
        self.types: dict[str, Type] = {}
        self.schemas: dict[str, Schema] = {}
        self.triggers: dict[str, Trigger] = {}
        self.version = 0
        self.last_version = 0
        self.on_change: Callable[[], None] = lambda: None
        self.watch: Callable[[], None] = lambda: None
        """Called by what binds and compiles: raises when somebody wants the running statement to end."""

    def has_schema(self, name: str) -> bool:
        return name in self.schemas or name in (DEFAULT_SCHEMA, *SYSTEM_SCHEMAS)

    def is_module(self, name: str) -> bool:
        return name in self.schemas and self.schemas[name].kind == "module"

    def key(self, space: str, name: tuple[str, ...], current: str) -> str:
        """The key of an object: its name, with that of its schema unless that is the project's own. A name alone is
        looked for in the current schema, then in the project's."""
        if len(name) > 1:
            return name[-1] if name[-2] == DEFAULT_SCHEMA else f"{name[-2]}.{name[-1]}"
        if not current:
            return name[0]
        key = f"{current}.{name[0]}"
        return name[0] if name[0] in getattr(self, space) and key not in getattr(self, space) else key

    def change(self, log: list[Entry], space: str, name: str, after: Any) -> None:
        """Set `name` in `relations`, `routines`, `sequences`, `triggers`, `domains`, `types` or `schemas` to `after`
        (None removes it), logged."""
        before = getattr(self, space).get(name)
        self.last_version += 1
        log.append((self, (space, name), (before, self.version), (after, self.last_version)))
        self._set(space, name, after, self.last_version)

    def undo(self, key: tuple[str, str], before: tuple[Any, int], after: tuple[Any, int]) -> None:
        self._set(*key, *before)

    def _set(self, space: str, name: str, value: Any, version: int) -> None:
        objects = getattr(self, space)
        if value is None:
            objects.pop(name, None)
        else:
            objects[name] = value
        self.version = version
        self.on_change()

    def tables(self) -> list[Table]:
        """Base tables, by name."""
        return [r for _, r in sorted(self.relations.items()) if isinstance(r, Table)]

    def all_sequences(self) -> list[Sequence]:
        """Sequences, those of identity columns too."""
        own = [c.identity for t in self.tables() for c in t.columns if c.identity is not None]
        return [*self.sequences.values(), *own]

    def triggers_of(self, table: Table | View) -> list[Trigger]:
        """Triggers of a table or view in the order in which they were made."""
        known = table.shared if isinstance(table, Table) and table.shared is not None else table
        return sorted((t for t in self.triggers.values() if known in (t.table, t.view)), key=lambda t: t.number)

    def all_routines(self) -> list[Routine]:
        """Routines, by name."""
        return [r for _, group in sorted(self.routines.items()) for r in group]
