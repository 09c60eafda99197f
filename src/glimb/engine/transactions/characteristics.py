"""What a transaction is like: isolation level, access mode, room for conditions (clauses 17.1 to 17.3, 19.1)."""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine.values.conditions import fail

MOST_CONDITIONS = 1000
"""As many conditions of a statement are kept, unless DIAGNOSTICS SIZE says otherwise."""


class Characteristics(NamedTuple):
    """Of one transaction, or of all that a session will begin."""

    isolation: str = "read committed"
    read_only: bool = False
    room: int = MOST_CONDITIONS

    def with_modes(self, modes: tuple[str, ...]) -> Characteristics:
        """As START TRANSACTION, SET TRANSACTION or SET SESSION CHARACTERISTICS say them. READ UNCOMMITTED is READ ONLY
        unless READ WRITE is said too."""
        isolation, read_only, room = self
        access = None
        for mode in modes:
            if mode in ("read only", "read write"):
                access = mode == "read only"
            elif mode.startswith("diagnostics"):
                room = int(mode.split()[1])
                if not 1 <= room <= MOST_CONDITIONS:
                    fail("35000", f"the diagnostics area holds 1 to {MOST_CONDITIONS} conditions")
            else:
                read_only = mode == "read uncommitted" or (read_only and isolation != "read uncommitted")
                isolation = mode
        return Characteristics(isolation, read_only if access is None else access, room)
