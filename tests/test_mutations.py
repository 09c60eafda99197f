"""A smaller, seeded form of the mutated scripts, statements and projects: no internal error, no hang, always a place."""

from __future__ import annotations

import pytest

from amounts import amount
from mutations import KINDS


@pytest.mark.parametrize(
    ("kind", "count", "verdicts"),
    [
        ("scripts", 300, {"met", "slipped", "broken"}),
        ("statements", amount(4_000), {"ran", "failed", "refused"}),
        ("projects", 25, {"met", "broken"}),
    ],
)
def test_mutants(kind: str, count: int, verdicts: set[str]) -> None:
    seen = set()
    for verdict, wrong, text in KINDS[kind](count, 20311):
        seen.add(verdict)
        assert wrong == "", text
    assert seen >= verdicts
