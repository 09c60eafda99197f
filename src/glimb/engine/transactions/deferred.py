"""Constraints whose check waits for the end of the transaction (ISO/IEC 9075-2 clauses 4.21.1 and 17.4)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


class Deferred:
    """What SET CONSTRAINTS has said, and the checks that are still to be made."""

    __slots__ = ("modes", "pending")

    def __init__(self) -> None:
        self.modes: dict[str, bool] = {}
        """Whether the check of a constraint is deferred, by its name; empty key: of all others."""
        self.pending: dict[tuple[Any, ...], Callable[[], None]] = {}
        """Checks by what they are about: the name of the constraint first."""

    def clear(self) -> None:
        """The transaction has ended."""
        self.modes, self.pending = {}, {}

    def defers(self, constraint: Any) -> bool:
        """Whether a constraint is checked at the end of the transaction only."""
        if not constraint.deferrable:
            return False
        chosen: bool = self.modes.get(constraint.name, self.modes.get("", constraint.deferred))
        return chosen

    def set(self, names: tuple[str, ...], deferred: bool) -> None:
        """SET CONSTRAINTS: of these, or of all. What becomes immediate is checked at once."""
        if not deferred:
            self.check(names)
        if not names:
            self.modes.clear()
        self.modes.update(dict.fromkeys(names or ("",), deferred))

    def check(self, names: tuple[str, ...] = ()) -> None:
        """Make the checks of these constraints, or of all."""
        due = [key for key in self.pending if not names or key[0] in names]
        for key in due:
            self.pending[key]()
        for key in due:
            self.pending.pop(key, None)
