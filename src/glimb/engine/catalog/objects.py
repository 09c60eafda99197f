"""What the catalog holds beside tables: views, domains, schemas, routines, triggers."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any

from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import CheckInfo, Table
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.source import Source

STAMPS = "stamps"
"""The schema of routines that nobody has written: templates of rows (see `suite.stamps`)."""
DEFAULT_SCHEMA = "project"
"""The schema of everything that is made without naming one."""
SYSTEM_SCHEMAS = ("information_schema", "glimb")


def schema_of(key: str) -> str:
    """The schema of an object, by its key in the catalog."""
    return key.rpartition(".")[0] or DEFAULT_SCHEMA


def is_meant(said: str, name: str) -> bool:
    """Whether what somebody says means the object of this name: its schema may be left out."""
    return said == name or said == name.rpartition(".")[2]


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
    """A view of the information schema, or of our own, whose rows are made when a session asks for them."""

    kind = "system view"

    def __init__(self, name: str, columns: tuple[tuple[str, Type], ...], rows: Callable[[Any], list[Row]]) -> None:
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
    """A stored function or procedure. `code`, `recorded` and `covered` are its compiled forms."""

    def __init__(
        self,
        definition: tree.CreateRoutine,
        source: Source,
        parameters: tuple[ParameterInfo, ...],
        returns: Type | None,
        table: tuple[tuple[str, Type], ...],
    ) -> None:
        self.name = self.short = definition.name[-1]
        """`name` has that of its schema or module before it, unless that is the project's own."""
        self.schema = ""
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
        self.covered: Callable[..., Any]
        self.installed_at: datetime | None = None
        """The virtual time at which it was made."""
        self.native: Callable[..., Any] | None = None
        """What runs in the place of its body, of one that is not made of SQL."""
        self.facts: Any = None
        """What the binder found out about the body (see binder.routines.Facts); None until it is bound."""
        self.is_bound = True
        """Whether something may have been made of it that a change of the catalog makes wrong."""
        self.bind: Callable[[], Any] = lambda: None

    @property
    def does(self) -> int | None:
        """What its body does with SQL data (a position in tree.ACCESS); None when the body cannot be bound."""
        facts = self.facts or self.bind()
        return facts.level if facts is not None else None

    @property
    def level(self) -> int:
        """What it may do with SQL data: what it promises, or what its body does."""
        return tree.ACCESS.index(self.access) if self.access else self.does or 0

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
    """A trigger of a table; `code` (bare or covered) and `recorded` are made when it first fires: functions of session,
    depth, old row and new row."""

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
        self.recorded: Callable[..., Any] | None = None
