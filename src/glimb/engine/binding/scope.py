"""Scopes: which columns and variables a name can mean, innermost first (ISO/IEC 9075-2 6.6, 9075-4 6.2)."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine import resolved as R
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type
from glimb.lang.node import Record
from glimb.lang.problem import ToldError, nearest
from glimb.lang.spellings import NAMES, spelled

CATALOG = "glimb"
"""The name of the one catalog (CURRENT_CATALOG)."""


class ColumnScope:
    """A column of a row source as a name can reach it; a hidden one only with its qualifier (USING, NATURAL)."""

    __slots__ = ("hidden", "index", "name", "nullable", "type", "value")

    def __init__(self, name: str, type_: Type, nullable: bool, index: int, value: R.Expr | None = None) -> None:
        self.name = name
        self.type = type_
        self.nullable = nullable
        self.index = index
        self.hidden = False
        self.value = value
        """Of a view that is seen through: what it computes of the row of its table."""


class SourceScope:
    """A row source in FROM: its correlation name, or the name of a table with that of its schema."""

    def __init__(self, number: int, alias: str, columns: list[ColumnScope], schema: str = "") -> None:
        self.number = number
        self.alias = alias
        self.columns = columns
        self.schema = schema
        """Empty for what has a correlation name, or is no table: that is not to be named with a schema."""

    def is_named(self, qualifier: tuple[str, ...]) -> bool:
        """Whether a qualifier means this source (clause 6.7): its name, perhaps behind that of its schema."""
        if qualifier[-1] != self.alias:
            return False
        if len(qualifier) > 2 and qualifier[:-2] != (CATALOG,):
            return False
        return len(qualifier) == 1 or (self.schema != "" and qualifier[-2] == self.schema)

    def column(self, column: ColumnScope) -> R.Expr:
        if column.value is not None:
            return column.value
        return R.Column(column.type, column.nullable, self.number, column.index, column.name)


class Scope:
    """One level of names; the next one outwards is `parent`."""

    def __init__(self, parent: Scope | None) -> None:
        self.parent = parent

    def find(self, parts: tuple[str, ...]) -> list[R.Expr]:
        """What the name can mean at this level."""
        raise NotImplementedError

    def names(self) -> list[str]:
        """Names known at this level, for hints."""
        raise NotImplementedError


class QueryScope(Scope):
    """The row sources of one query, and columns merged by USING or NATURAL."""

    def __init__(self, parent: Scope | None, number: int = 0) -> None:
        super().__init__(parent)
        self.number = number
        """Tells the set functions and windows of this query from those of others."""
        self.sources: list[SourceScope] = []
        self.merged: dict[str, R.Expr] = {}
        self.merged_aliases: dict[str, dict[str, R.Expr]] = {}
        """Names of the columns of USING (... ) AS name (F404)."""

    def find(self, parts: tuple[str, ...]) -> list[R.Expr]:
        if len(parts) == 1:
            merged = self.merged.get(parts[0])
            if merged is not None:
                return [merged]
            return [
                source.column(column)
                for source in self.sources
                for column in source.columns
                if column.name == parts[0] and not column.hidden
            ]
        if len(parts) == 2 and parts[-2] in self.merged_aliases:
            found = self.merged_aliases[parts[-2]].get(parts[-1])
            return [found] if found is not None else []
        return [
            source.column(column)
            for source in self.sources
            if source.is_named(parts[:-1])
            for column in source.columns
            if column.name == parts[-1]
        ]

    def names(self) -> list[str]:
        return [c.name for s in self.sources for c in s.columns]


class ChangeTarget(Record):
    """What INSERT, UPDATE, DELETE or MERGE changes: a base table, its row source with the columns in reach, positions
    by name, the conditions of views (those a row must meet to be seen, those it must meet afterwards), and what to call
    it."""

    table: Table
    scope: QueryScope
    number: int
    names: dict[str, int]
    conditions: tuple[R.Expr, ...]
    checks: tuple[tuple[str, R.Expr], ...]
    label: str

    def rename(self, names: tuple[str, ...]) -> None:
        """Give the columns other names: FROM t AS u (a, b)."""
        positions = list(self.names.values())
        self.names.clear()
        self.names.update(zip(names, positions, strict=False))
        for column, name in zip(self.scope.sources[0].columns, names, strict=False):
            column.name = name


class GroupKeys:
    """What a query is grouped by: the keys as they are bound, and as columns of the grouped rows, which are source
    `number`."""

    def __init__(self, number: int, bound: list[R.Expr], keys: list[R.Expr]) -> None:
        self.number = number
        self.bound = bound
        self.keys = keys
        self.hidden = 0
        """How many set functions, in whose arguments groups are not known, are being bound."""
        self._kinds = {type(right) for right in bound}
        self._shapes = [self._shape(right) for right in bound]

    def place(self, e: R.Expr) -> int:
        """Which key an expression is, also one of whose parts some have been recognised as keys; -1: none."""
        if type(e) not in self._kinds:
            return -1
        shape = self._shape(e)
        return self._shapes.index(shape) if shape in self._shapes else -1

    def _shape(self, thing: object) -> object:
        """What makes an expression the same as another: neither whether it may be NULL, nor where it is checked."""
        if isinstance(thing, R.Checked):
            return self._shape(thing.operand)
        if isinstance(thing, R.Column) and thing.source == self.number:
            return self._shape(self.bound[thing.index]) if thing.index < len(self.bound) else None
        if isinstance(thing, R.Expr):
            parts = (self._shape(getattr(thing, n)) for n in thing._fields if n not in ("nullable", "name"))
            return (type(thing), *parts)
        return tuple(map(self._shape, thing)) if type(thing) is tuple else thing


class VariableScope(Scope):
    """Variables of a block, parameters of a routine (qualified by the label or the routine's name)."""

    def __init__(self, parent: Scope | None, label: str) -> None:
        super().__init__(parent)
        self.label = label
        self.variables: dict[str, R.Variable] = {}
        self.broken: set[str] = set()
        """Variables whose declarations are wrong."""
        self.readonly: set[str] = set()

    def find(self, parts: tuple[str, ...]) -> list[R.Expr]:
        if len(parts) == 2 and parts[0] != self.label:
            return []
        if len(parts) <= 2 and parts[-1] in self.broken:
            raise ToldError
        found = self.variables.get(parts[-1]) if len(parts) <= 2 else None
        return [found] if found is not None else []

    def names(self) -> list[str]:
        return list(self.variables)


class ValueScope(Scope):
    """VALUE in the CHECK of a domain."""

    def __init__(self, value: R.Expr) -> None:
        super().__init__(None)
        self.value = value

    def find(self, parts: tuple[str, ...]) -> list[R.Expr]:
        return [self.value] if parts == ("value",) else []

    def names(self) -> list[str]:
        return ["value"]


class RowScope(VariableScope):
    """The columns of a row that a trigger sees, by its name for the row only."""

    def find(self, parts: tuple[str, ...]) -> list[R.Expr]:
        return super().find(parts) if len(parts) == 2 else []


def suggest(scope: Scope | None, parts: tuple[str, ...]) -> str:
    """Hint for a name that is not known."""
    names: list[str] = []
    qualifiers: list[str] = []
    at = scope
    while at is not None:
        names += at.names()
        if isinstance(at, QueryScope):
            qualifiers += [s.alias for s in at.sources]
        elif isinstance(at, VariableScope) and at.label:
            qualifiers.append(at.label)
        at = at.parent
    if len(parts) > 1 and parts[-2] not in qualifiers:
        return nearest(parts[-2], qualifiers) or (f"known here: {', '.join(qualifiers)}" if qualifiers else "")
    return spelled(parts[-1], NAMES) or nearest(parts[-1], names)


class Names:
    """Conditions and cursors declared in a block."""

    def __init__(self, parent: Names | None) -> None:
        self.parent = parent
        self.conditions: dict[str, str] = {}
        self.cursors: dict[str, R.CursorDef | None] = {}
        """None for one whose declaration is wrong."""

    def condition(self, name: str) -> str | None:
        """The SQLSTATE of a declared condition, empty when it has none; None when it is not declared."""
        if name in self.conditions:
            return self.conditions[name]
        return self.parent.condition(name) if self.parent else None

    def cursor(self, name: str) -> R.CursorDef | None:
        if name in self.cursors:
            found = self.cursors[name]
            if found is None:
                raise ToldError
            return found
        return self.parent.cursor(name) if self.parent else None

    def around(self) -> Iterator[Names]:
        """These, and those of the blocks around, outwards."""
        yield self
        if self.parent is not None:
            yield from self.parent.around()


class Label(Record):
    """A label that encloses: kind is `block` or `loop`, `local` names its flag."""

    name: str
    kind: str
    local: str
