"""Scopes: which columns and variables a name can mean, innermost first (ISO/IEC 9075-2 6.6, 9075-4 6.2)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.types import Type
from glimb.lang.problem import ToldError, nearest


class ColumnScope:
    """A column of a row source as a name can reach it; a hidden one only with its qualifier (USING, NATURAL)."""

    __slots__ = ("hidden", "index", "name", "nullable", "type")

    def __init__(self, name: str, type_: Type, nullable: bool, index: int) -> None:
        self.name = name
        self.type = type_
        self.nullable = nullable
        self.index = index
        self.hidden = False


class SourceScope:
    """A row source in FROM, with its correlation name."""

    def __init__(self, number: int, alias: str, columns: list[ColumnScope]) -> None:
        self.number = number
        self.alias = alias
        self.columns = columns

    def column(self, column: ColumnScope) -> R.Column:
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

    def __init__(self, parent: Scope | None) -> None:
        super().__init__(parent)
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
        if parts[-2] in self.merged_aliases:
            found = self.merged_aliases[parts[-2]].get(parts[-1])
            return [found] if found is not None else []
        return [
            source.column(column)
            for source in self.sources
            if source.alias == parts[-2]
            for column in source.columns
            if column.name == parts[-1]
        ]

    def names(self) -> list[str]:
        return [c.name for s in self.sources for c in s.columns]


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
        at = at.parent
    if len(parts) > 1 and parts[-2] not in qualifiers:
        return nearest(parts[-2], qualifiers) or (f"known here: {', '.join(qualifiers)}" if qualifiers else "")
    return nearest(parts[-1], names)
