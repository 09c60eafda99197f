"""All objects by name. Changes of the catalog are undone as those of rows are."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine.catalog.objects import (
    DEFAULT_SCHEMA,
    STAMPS,
    SYSTEM_SCHEMAS,
    Domain,
    Routine,
    Schema,
    Trigger,
    View,
)
from glimb.engine.storage.log import Entry
from glimb.engine.storage.table import Sequence, Table
from glimb.engine.values.types import Type


class Catalog:
    """All objects by name. `version` changes with every change, so that what was compiled before is compiled anew."""

    def __init__(self) -> None:
        self.relations: dict[str, Table | View] = {}
        self.routines: dict[str, tuple[Routine, ...]] = {}
        self._names: tuple[int, frozenset[str]] = (-1, frozenset())
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

    def written_routines(self) -> list[Routine]:
        """Routines that somebody has written in SQL, by name: those made of stamps are not."""
        return [r for r in self.all_routines() if r.schema != STAMPS]

    def told(self, routine: Routine) -> str:
        """The name of a routine; of several with one name, with the types of the parameters."""
        return routine.signature if self.is_overloaded(routine) else routine.name

    def is_overloaded(self, routine: Routine) -> bool:
        """Whether others have its name, with other parameters."""
        return len(self.routines.get(routine.name, ())) > 1

    def meant(self, said: str) -> list[Routine]:
        """The routines that somebody means by a name, perhaps without its schema, or by a signature: those that are
        spelled so, or if there are none, whatever their capitals."""

        def spelled(how: Callable[[str], str]) -> list[Routine]:
            every = self.written_routines()
            return [r for r in every if how(said) in (how(r.name), how(r.short), how(r.signature))]

        return spelled(str) or spelled(str.lower)

    def routine_names(self) -> frozenset[str]:
        """The names of all routines without their schemas."""
        version, names = self._names
        if version != self.version:
            names = frozenset(name.rpartition(".")[2] for name in self.routines)
            self._names = self.version, names
        return names

    def all_routines(self) -> list[Routine]:
        """Routines, by name."""
        return [r for _, group in sorted(self.routines.items()) for r in group]
