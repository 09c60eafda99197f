"""Units of generated code as an earlier run wrote them, for a catalog that was made of the same texts.

What a unit names is kept by value where it is one (texts, numbers, types), and by name where it belongs to the catalog
(tables, routines). A unit that names anything else is not kept, and written anew in each run.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.values.origins import GeneratedCode
from glimb.lang.source import Source, Span
from glimb.store import in_use

MOST = 4_000
"""Characters of what a unit is made for: a longer statement is mostly the rows that it stores."""
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
        store = in_use() if self._is_so and len(of) < MOST else None
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
        from glimb.engine.compiling.values import written  # for the start: most commands keep nothing

        marked = [span for span, _ in code.waymarks]
        places = [place - start for span in (*code.spans, *marked) for place in span]
        names = [name for _, name in code.waymarks]
        constants = {str(name): value for name, value in code.constants.items()}
        told = code.title, code.routine, code.text, places, names, constants, beside
        return written(told, self.catalog)

    def _read(self, told: bytes, source: Source, start: int) -> Loaded:
        from glimb.engine.compiling.values import read

        title, routine, text, places, names, constants, beside = read(told, self.catalog)
        moved = [place + start for place in places]
        spans = [*map(Span._make, zip(moved[::2], moved[1::2], strict=True))]
        first = len(spans) - len(names)
        code = GeneratedCode(title, routine, source, text, spans[:first], constants)
        code.waymarks = [*zip(spans[first:], names, strict=True)]
        return code, beside
