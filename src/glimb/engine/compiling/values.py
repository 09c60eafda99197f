"""Values as bytes, and what belongs to the catalog by its name: how units are kept between runs."""

from __future__ import annotations

import pickle
from datetime import date, datetime, time
from decimal import Decimal
from io import BytesIO
from typing import Any

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine
from glimb.engine.outcomes.outcome import Result, ResultColumn
from glimb.engine.storage.table import Sequence, Table
from glimb.engine.values.types import Type

VALUES = frozenset((Type, Result, ResultColumn, Decimal, date, time, datetime))
"""Classes, besides those that pickle knows by itself, whose objects are nothing but values."""


def written(thing: Any, catalog: Catalog) -> bytes | None:
    """Something as bytes; None where it holds what is neither a value nor of the catalog."""
    into = BytesIO()
    try:
        _Writer(into, catalog).dump(thing)
    except pickle.PicklingError:
        return None
    return into.getvalue()


def read(told: bytes, catalog: Catalog) -> Any:
    """What was written, with the things of this catalog."""
    return _Reader(BytesIO(told), catalog).load()


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
            for number, one in enumerate(self.catalog.routines.get(thing.name, ())):
                if one is thing:
                    return "routines", thing.name, number
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
