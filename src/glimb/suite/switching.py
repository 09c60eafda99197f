"""Switching a finding off where it is: a comment with the reason, above the line."""

from __future__ import annotations

from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.suite.checking import codes


def switched_off(text: str, line: int, code: str, reason: str) -> str:
    """A text of SQL with a finding at a line (from 1) switched off. ProblemError for a code that there is not, a line
    that is not there, and where no reason is given."""
    lines = text.split("\n")
    if code not in codes():
        raise ProblemError(Problem("42704", f"there is no finding {code}", hint=nearest(code, codes())))
    if not 1 <= line <= len(lines):
        raise ProblemError(Problem("42704", f"there is no line {line}"))
    if not reason.strip():
        raise ProblemError(Problem("42601", f"{code} is switched off with a reason"))
    here = lines[line - 1]
    indent = here[: len(here) - len(here.lstrip())]
    return "\n".join([*lines[: line - 1], f"{indent}-- allow {code}: {' '.join(reason.split())}", *lines[line - 1 :]])
