"""Triggers of a statement: which fire, when, for what (ISO/IEC 9075-2 clauses 4.39 and 15.19)."""

from __future__ import annotations

from typing import Any

from glimb.engine.catalog.objects import Trigger
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session


class Firing:
    """Made for one statement on one table; cascades reach others."""

    __slots__ = ("begun", "depth", "fired", "session", "set", "table")

    def __init__(self, session: Session, depth: int, table: Table, assigned: frozenset[int]) -> None:
        self.session = session
        self.depth = depth
        self.table = table
        self.fired: list[tuple[Table, str, Row | None, Row | None, frozenset[int] | None]] = []
        """Rows for AFTER triggers, in the order in which they changed, with the columns that were set (None: those that
        have changed)."""
        self.set: dict[Table, frozenset[int]] = {table: assigned}
        """By table the columns that UPDATE, and foreign keys, set."""
        self.begun: set[tuple[Table, str]] = set()

    def _triggers(self, table: Table, timing: str, event: str, each_row: bool) -> list[Trigger]:
        """The triggers of a table that an event fires, in the order in which they were made."""
        if table.compiled.triggers is None:
            table.compiled.triggers = self.session.shared.catalog.triggers_of(table)
        return [
            t
            for t in table.compiled.triggers
            if (t.definition.timing, t.definition.event, t.definition.each_row) == (timing, event, each_row)
        ]

    def _run(self, trigger: Trigger, old: Row | None, new: Row | None, *tables: list[Row]) -> Any:
        session = self.session
        code = session.shared.compiler.tables.trigger(trigger, len(session.trace))
        return code(session, self.depth + 1, old, new, *tables)

    def begin(self, table: Table, event: str) -> None:
        """Fire BEFORE triggers of the statement, once; those of a table that a cascade reaches, with its first row."""
        if (table, event) not in self.begun:
            self.begun.add((table, event))
            for trigger in self._triggers(table, "before", event, False):
                if self._is_set(trigger):
                    self._run(trigger, None, None)

    def _is_set(self, trigger: Trigger) -> bool:
        """Whether UPDATE OF names a column that the statement sets, itself or by a foreign key."""
        return not trigger.columns or bool(trigger.columns & self.set.get(trigger.table, frozenset()))

    def before(
        self, table: Table, event: str, old: Row | None, new: Row | None, assigned: frozenset[int] | None
    ) -> Row | None:
        """Fire BEFORE triggers of a row; gives the row as they leave it."""
        self.begin(table, event)
        for trigger in self._triggers(table, "before", event, True):
            if _concerns(trigger, old, new, assigned):
                new = self._run(trigger, old, new)
        return new

    def after(self) -> None:
        """Fire AFTER triggers: each for all its rows, then for the statement."""
        fired, self.fired = self.fired, []
        events = dict.fromkeys([one[:2] for one in fired] + sorted(self.begun, key=lambda b: (b[0].name, b[1])))
        for table, event in events:
            rows = [one[2:] for one in fired if one[:2] == (table, event)]
            tables = [r for r, _, _ in rows if r is not None], [r for _, r, _ in rows if r is not None]
            for trigger in self._triggers(table, "after", event, True):
                for old, new, assigned in rows:
                    if _concerns(trigger, old, new, assigned):
                        self._run(trigger, old, new, *tables)
            for trigger in self._triggers(table, "after", event, False):
                if self._is_set(trigger):
                    self._run(trigger, None, None, *tables)


def _concerns(trigger: Trigger, old: Row | None, new: Row | None, assigned: frozenset[int] | None) -> bool:
    """Whether UPDATE OF names a column that is set in a row; of None, that has changed."""
    if not trigger.columns:
        return True
    if assigned is not None:
        return bool(trigger.columns & assigned)
    return old is None or new is None or any(old[c] != new[c] for c in trigger.columns)
