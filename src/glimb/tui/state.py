"""What the screen is like when one comes back: theme, screen, chosen case. Kept in `.glimb/screen.json`."""

from __future__ import annotations

import json
from contextlib import suppress
from pathlib import Path
from typing import Any

from glimb.suite.project import make_own_folder, own_folder

FILE = "screen.json"


def read_state(root: Path | None) -> dict[str, Any]:
    """What was kept; nothing where there is none, or it cannot be read."""
    with suppress(OSError, ValueError):
        found = json.loads((own_folder(root) / FILE).read_text(encoding="utf-8"))
        if root is not None and isinstance(found, dict):
            return found
    return {}


def write_state(root: Path | None, state: dict[str, Any]) -> None:
    """Keep it; outside a project there is no place for it."""
    if root is None:
        return
    with suppress(OSError):
        place = make_own_folder(root) / FILE
        part = place.with_suffix(".part")
        part.write_text(json.dumps(state, ensure_ascii=False, indent=1), encoding="utf-8")
        part.replace(place)
