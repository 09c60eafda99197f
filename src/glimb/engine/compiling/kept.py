"""Units of generated code as an earlier run wrote them, for a catalog that was made of the same texts.

What a unit names is kept by value where it is one (texts, numbers, types), and by name where it belongs to the catalog
(tables, routines). A unit that names anything else is not kept, and written anew in each run.
"""

from __future__ import annotations

import pickle
from collections.abc import Callable
from datetime import date, datetime, time
from decimal import Decimal
from io import BytesIO
from typing import Any

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine
from glimb.engine.outcomes.outcome import Result, ResultColumn
from glimb.engine.storage.table import Sequence, Table
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.types import Type
from glimb.lang.source import Source, Span
from glimb.store import in_use

VALUES = frozenset((Type, Result, ResultColumn, Decimal, date, time, datetime))
"""Classes, besides those that pickle knows by itself, whose objects are nothing but values."""
Loaded = tuple[GeneratedCode, Any]
"""A unit, and what was kept beside it."""


class KeptUnits:
    """Units by what they are made for, as long as the catalog is the one that the texts of a world make."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self.texts = ""
        self.version: int | None = None

    def stand_for(self, texts: str) -> None:
        """The catalog is now what these texts make (a digest of them)."""
        self.texts, self.version = texts, self.catalog.version

    @property
    def _is_so(self) -> bool:
        return self.version == self.catalog.version and in_use() is not None

    def unit(self, of: str, source: Source, start: int, make: Callable[[], Loaded]) -> Loaded:
        """The unit for something that stands at a place, as it was kept, or made now and kept: `of` says what it is."""
        store = in_use() if self._is_so else None
        if store is None:
            return make()
        name = f"{self.texts} {of}"
        known = store.value("unit", name)
        if known is not None:
            return self._read(known, source, start)
        code, beside = make()
        told = self._written(code, start, beside)
        if told is not None:
            store.keep("unit", name, told)
        return code, beside

    def _written(self, code: GeneratedCode, start: int, beside: Any) -> bytes | None:
        spans = [place - start for span in code.spans for place in span]
        waymarks = [(span.start - start, span.end - start, name) for span, name in code.waymarks]
        constants = {str(name): value for name, value in code.constants.items()}
        into = BytesIO()
        try:
            _Writer(into, self.catalog).dump((code.title, code.routine, code.text, spans, waymarks, constants, beside))
        except pickle.PicklingError:
            return None
        return into.getvalue()

    def _read(self, told: bytes, source: Source, start: int) -> Loaded:
        title, routine, text, places, waymarks, constants, beside = _Reader(BytesIO(told), self.catalog).load()
        moved = [place + start for place in places]
        spans = [*map(Span._make, zip(moved[::2], moved[1::2], strict=True))]
        code = GeneratedCode(title, routine, source, text, spans, constants)
        code.waymarks = [(Span(a + start, b + start), name) for a, b, name in waymarks]
        return code, beside


class _Writer(pickle.Pickler):
    """Writes values, and what belongs to the catalog by name; PicklingError for anything else."""

    def __init__(self, file: BytesIO, catalog: Catalog) -> None:
        super().__init__(file, pickle.HIGHEST_PROTOCOL)
        self.catalog = catalog

    def persistent_id(self, thing: Any) -> tuple[str, str, int] | None:
        if isinstance(thing, Table) and self.catalog.relations.get(thing.name) is thing:
            return "relations", thing.name, 0
        if isinstance(thing, Sequence) and self.catalog.sequences.get(thing.name) is thing:
            return "sequences", thing.name, 0
        if isinstance(thing, Routine):
            for number, one in enumerate(self.catalog.routines.get(thing.key, ())):
                if one is thing:
                    return "routines", thing.key, number
        return None

    def reducer_override(self, thing: Any) -> Any:
        if type(thing) in VALUES or (isinstance(thing, type) and thing in VALUES):
            return NotImplemented
        raise pickle.PicklingError(f"a {type(thing).__name__} is no value")


class _Reader(pickle.Unpickler):
    def __init__(self, file: BytesIO, catalog: Catalog) -> None:
        super().__init__(file)
        self.catalog = catalog

    def persistent_load(self, name: tuple[str, str, int]) -> Any:
        space, key, number = name
        found = getattr(self.catalog, space)[key]
        return found[number] if space == "routines" else found
