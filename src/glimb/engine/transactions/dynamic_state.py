"""What dynamic SQL keeps in a session: prepared statements, descriptors, cursors by name."""

from __future__ import annotations

from typing import Any

from glimb.engine.transactions.descriptor import Descriptor
from glimb.lang.source import Source
from glimb.lang.tree import Statement

ANY_ACCESS = 3


class DynamicState:
    """See above."""

    __slots__ = ("access", "command", "cursors", "descriptors", "prepared")

    def __init__(self) -> None:
        self.prepared: dict[str | None, tuple[Statement, Source]] = {}
        self.descriptors: dict[str, Descriptor] = {}
        self.cursors: dict[str, Any] = {}
        """Cursors that ALLOCATE has made."""
        self.command = ""
        """What the latest dynamic statement was."""
        self.access = ANY_ACCESS
        """What the routine that runs may do, for dynamic statements (a position in tree.ACCESS)."""
