"""What a statement did, in words: for verdicts, printed outcomes and screens."""

from __future__ import annotations

from glimb.engine.outcome import Outcome, Waiting


def failure_text(outcome: Outcome) -> str:
    """A condition that left a statement, in one line."""
    failure = outcome.failure
    if failure is None:
        return "no condition"
    origin = f" (in {failure.origin.routine} line {failure.origin.line})" if failure.origin else ""
    name = f" {failure.name}" if failure.name else ""
    return f"{failure.sqlstate}{name}: {failure.message}{origin}"


def counts_text(counts: list[int] | tuple[int, ...]) -> str:
    """+inserted ~updated -deleted, without what is nought."""
    return " ".join(f"{sign}{n}" for sign, n in zip("+~-", counts, strict=True) if n) or "no change"


def changes_text(outcome: Outcome) -> str:
    """All changes by table."""
    return ", ".join(f"{table} {counts_text(c)}" for table, c in outcome.counts().items()) or "no change"


def locks_text(outcome: Outcome) -> str:
    """All locks held after the statement."""
    return ", ".join(f"{k} {t} {key} {m}".replace("  ", " ") for k, t, key, m in outcome.locks) or "no locks"


def waiting_text(waiting: Waiting | None) -> str:
    """A wait in words."""
    if waiting is None:
        return "it does not wait"
    return f"waits for {', '.join(waiting.sessions)} on {waiting.table} {waiting.key}".rstrip()
