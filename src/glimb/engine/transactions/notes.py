"""Notes: what routines tell by CALL note(...)."""

from __future__ import annotations

MOST_NOTES = 10_000
"""So many notes of a statement are kept; those behind them are only counted."""
MOST_TOLD = 1_000


class Notes:
    """The notes of the running statement, and the first of all that a session has told."""

    __slots__ = ("kept", "more", "told")

    def __init__(self) -> None:
        self.kept: list[str] = []
        self.more = 0
        """How many notes of the statement were not kept."""
        self.told: list[str] = []

    def start_statement(self) -> None:
        self.kept, self.more = [], 0

    def note(self, text: str) -> None:
        if len(self.kept) < MOST_NOTES:
            self.kept.append(text)
        else:
            self.more += 1
        if len(self.told) < MOST_TOLD:
            self.told.append(text)

    def of_statement(self) -> list[str]:
        """Those that are kept, and a word about the others; the list is the caller's own, as this one grows again."""
        return [*self.kept, f"... and {self.more:,} more notes"] if self.more else self.kept[:]
