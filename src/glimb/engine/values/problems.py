"""Problems of a text as the condition that a statement raises."""

from __future__ import annotations

from glimb.engine.values.conditions import Condition
from glimb.lang.problem import ProblemError


def problem_condition(error: ProblemError) -> Condition:
    """Problems of a text as the condition that a statement raises."""
    first = error.problems[0]
    details = "\n".join(p.describe() for p in error.problems)
    return Condition(first.sqlstate, first.brief(), {"details": details, "problems": tuple(error.problems)})
