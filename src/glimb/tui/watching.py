"""Which files of a project are written while the program runs."""

from __future__ import annotations

from collections.abc import AsyncIterator
from pathlib import Path

SUFFIXES = (".sql", ".csv", ".toml")
SETTLE_MS, STEP_MS = 250, 50
"""Files that are written within so many milliseconds are told of together."""


async def written(folder: Path, deep: bool) -> AsyncIterator[set[Path]]:
    """The files below a folder that are written, as they are; OSError where the system cannot tell."""
    from watchfiles import awatch  # slow to import, and needed when the screen is there

    async for changes in awatch(folder, recursive=deep, debounce=SETTLE_MS, step=STEP_MS):
        found = {Path(name) for _, name in changes}
        found = {path for path in found if path.suffix in SUFFIXES and ".glimb" not in path.parts}
        if found:
            yield found
