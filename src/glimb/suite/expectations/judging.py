"""One expectation against one outcome: whether it is met, and both sides when it is not."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import Outcome
from glimb.suite.expectations.kind import Expectation, Holds, Verdict
from glimb.suite.expectations.kinds import KINDS
from glimb.suite.wording import failure_text, waiting_text


def judge(expectation: Expectation, outcome: Outcome, holds: Holds) -> Verdict:
    """Compare one expectation with what the statement did."""
    kind = KINDS[expectation.kind]
    if kind.asks == "result" and (outcome.failure is not None or outcome.waiting is not None):
        return Verdict(expectation, False, expectation.text, _what_instead(outcome))
    if kind.asks == "absence" and (outcome.kind == "invalid" or outcome.waiting is not None):
        return Verdict(expectation, False, expectation.text, f"the statement has not run: {_what_instead(outcome)}")
    return kind.judge(expectation, outcome, holds)


def _what_instead(outcome: Outcome) -> str:
    return failure_text(outcome.failure) if outcome.failure is not None else f"it {waiting_text(outcome.waiting)}"
