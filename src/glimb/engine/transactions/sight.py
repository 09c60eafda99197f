"""What a transaction sees: its snapshot, and what it has read."""

from __future__ import annotations

from typing import Any

FOREVER = 1 << 62


class Sight:
    """Set by the model when a transaction begins."""

    __slots__ = ("began", "reads", "snapshot", "version")

    def __init__(self) -> None:
        self.snapshot = FOREVER
        """The last commit that is seen; FOREVER: all of them, as they come."""
        self.reads: dict[Any, Any] | None = None
        """What a SERIALIZABLE transaction has read, by table: True, or keys by index; None: it need not be known."""
        self.began = 0
        """When a SERIALIZABLE transaction began, in ticks of the model."""
        self.version: int | None = None
        """How many commits the statement can see, where there is more than it can see."""

    def clear(self) -> None:
        """The transaction has ended."""
        self.snapshot, self.reads = FOREVER, None
