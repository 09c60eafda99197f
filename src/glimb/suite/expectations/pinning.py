"""Pinning: what an outcome was, as expecting lines of a script."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import Outcome
from glimb.suite.expectations.kinds import KINDS


def pinned(outcome: Outcome) -> list[str]:
    """Expecting lines, without the sign, that this outcome meets."""
    kinds = [KINDS["waits"]] if outcome.waiting is not None else KINDS.values()
    return [line for kind in kinds for line in kind.pin(outcome)]
