"""Pinning: what an outcome was, as expecting lines of a script."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import Outcome
from glimb.suite.expectations.kinds import KINDS


def pinned(outcome: Outcome) -> list[str]:
    """Expecting lines, without the sign, that this outcome meets: of one that waits, for whom; of one that was raised,
    what, and whether its transaction was rolled back; of any other all that it did."""
    if outcome.waiting is not None:
        kinds = ["waits"]
    elif outcome.failure is not None:
        kinds = ["fails", "committed"]
    else:
        kinds = list(KINDS)
    return [line for kind in kinds for line in KINDS[kind].pin(outcome)]
