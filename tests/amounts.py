"""How much random tests do: a twelfth in the test command, all of it by `make thorough`."""

from __future__ import annotations

import os

IS_THOROUGH = bool(os.environ.get("THOROUGH"))
MINUTES = float(os.environ.get("MINUTES", 0))
"""How long the screens are driven by random keys; 0: as long as it takes to press some."""


def amount(count: int) -> int:
    """So many, or a twelfth of it."""
    return count if IS_THOROUGH else max(1, count // 12)
