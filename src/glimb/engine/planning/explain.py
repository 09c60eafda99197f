"""What EXPLAIN tells: the steps of a plan in words, in the order in which they nest, with the rows that came out of
each. The writer of queries adds a line for every step it writes, and code that counts."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.planning.planner import Step


class Plan:
    """The lines of one plan. The running code counts in the list that `start` gives."""

    def __init__(self) -> None:
        self.depth = 0
        self.texts: list[str] = []
        self.counts: list[int] = []

    def add(self, text: str) -> int:
        """A line at the current depth; gives its number."""
        self.texts.append("  " * self.depth + text)
        return len(self.texts) - 1

    def start(self) -> list[int]:
        self.counts = [0] * len(self.texts)
        return self.counts

    def lines(self, result: int) -> list[tuple[str, int]]:
        """Steps with their rows, the result first."""
        return [("result", result), *zip(self.texts, self.counts, strict=True)]


def describe(step: Step) -> str:
    """A step in words: how it reaches its rows."""
    what = describe_relation(step.relation)
    access = step.access
    if access.kind == "index":
        index = step.relation.table.indexes[access.number]  # type: ignore[attr-defined]
        text = f"{what} by index {index.name}"
    elif access.kind == "range":
        index = step.relation.table.indexes[access.number]  # type: ignore[attr-defined]
        text = f"{what} by range of index {index.name}"
    elif access.kind == "hash":
        text = f"{what} by hash of {len(access.own)} value{'s' * (len(access.own) > 1)}"
    elif access.kind == "either":
        text = f"{what} by {len(access.ways)} sides of OR"
    else:
        text = f"scan of {what}"
    filters = len(step.local) + len(step.match) + len(step.after)
    text += f", {filters} condition{'s' * (filters > 1)}" if filters else ""
    return f"outer join: {text}" if step.kind == "left" else text


def describe_relation(relation: R.Relation) -> str:
    """A row source in words."""
    match relation:
        case R.Scan():
            return relation.table.name
        case R.Derived():
            return f"query {relation.label}".rstrip()
        case R.CallRows():
            return f"function {relation.routine.name}"
        case R.CommonRows():
            return f"common table {relation.number}"
        case R.SystemRows():
            return relation.view.name
        case R.JoinRows():
            return f"{relation.kind} join of {describe_relation(relation.left)} and {describe_relation(relation.right)}"
        case R.UnnestRows():
            return "UNNEST"
        case R.ChangedRows():
            return f"{relation.kind.upper()} TABLE of {relation.table.name}"
        case R.TransitionRows():
            return "transition table"
    raise AssertionError(relation)
