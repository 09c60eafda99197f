"""Reports of a run that go to files: one module a format, and `glimb run --NAME FILE` writes it.

A module gives `document(results)`, the bytes of the file, and `is_report(path)`, whether it can take the place
of what is there.
"""

from __future__ import annotations

from importlib import import_module
from pathlib import Path
from typing import Protocol, cast

from glimb.report.reported import Reported


class Format(Protocol):
    """A module of this package."""

    def document(self, results: list[Reported]) -> bytes:
        """The whole file."""

    def is_report(self, path: Path) -> bool:
        """Whether nothing is lost when a report takes this file's place."""


def format_named(name: str) -> Format:
    return cast(Format, import_module(f"{__name__}.{name}"))
