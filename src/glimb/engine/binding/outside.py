"""What a statement finds outside itself: host variables, and values and rows that are given to it by name."""

from __future__ import annotations

from collections.abc import Mapping

from glimb.engine import resolved as R
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type

LITERAL = "literal"
"""How the locals of literals that a statement is given begin, and of what is made of them."""


class Outside:
    """The types of host variables, and of values that the statement may name plainly; tables whose rows it is given."""

    def __init__(
        self,
        types: Mapping[str, Type],
        named: Mapping[str, Type] | None = None,
        tables: Mapping[str, Table] | None = None,
        parameters: list[Type] | None = None,
        literals: Mapping[int, tuple[str, Type]] | None = None,
    ) -> None:
        self.types = dict(types)
        self.named = named or {}
        self.tables = tables or {}
        self.parameters = parameters
        """Types of the dynamic parameters, in order; None where there cannot be any."""
        self.literals = literals or {}
        """Literals whose values the statement is given, by identity: the Python local and the type of each."""
        self.derived: list[tuple[R.Variable, R.Expr]] = []
        """What is made of such values before anything else: a variable for each."""
        self.numbers: dict[int, int] = {}
        """The numbers of the dynamic parameters, from nought, by the places at which they stand in the text."""
        self.locals: dict[str, str] = {}
        """The Python locals of the variables that the statement uses, by name."""
        self.given: dict[str, R.Target] = {}
        """Those that it gives a value, by name."""
