"""A smaller, seeded form of the mutated scripts: errors with places, no internal error, no hang."""

from __future__ import annotations

from mutations import complaint, run_mutated


def test_mutated_scripts() -> None:
    verdicts = set()
    for text, result in run_mutated(400, 20311):
        verdicts.add(result.verdict)
        assert complaint(result) == "", text
    assert verdicts >= {"met", "slipped", "broken"}
