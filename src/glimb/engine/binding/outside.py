"""What a statement finds outside itself: host variables, and values and rows that are given to it by name."""

from __future__ import annotations

from collections.abc import Mapping

from glimb.engine import resolved as R
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type


class Outside:
    """The types of host variables, and of values that the statement may name plainly; tables whose rows it is given."""

    def __init__(
        self,
        types: Mapping[str, Type],
        named: Mapping[str, Type] | None = None,
        tables: Mapping[str, Table] | None = None,
        parameters: list[Type] | None = None,
    ) -> None:
        self.types = dict(types)
        self.named = named or {}
        self.tables = tables or {}
        self.parameters = parameters
        """Types of the dynamic parameters, in order; None where there cannot be any."""
        self.placeholders = 0
        """How many there have been."""
        self.locals: dict[str, str] = {}
        """The Python locals of the variables that the statement uses, by name."""
        self.given: dict[str, R.Target] = {}
        """Those that it gives a value, by name."""
