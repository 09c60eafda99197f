"""The log of changes: statement undo, savepoints, rollback and the reset after a case read it backwards."""

from __future__ import annotations

from typing import Any

Entry = tuple[Any, Any, Any, Any]
"""One change in a log: where (a Table or the Catalog), its key, before, after."""
