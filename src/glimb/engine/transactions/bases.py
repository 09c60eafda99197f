"""Going back: the state of all tables, sequences and the clock to which a reset returns. It costs what was changed."""

from __future__ import annotations

from datetime import datetime

from glimb.engine.storage.table import Sequence, Table
from glimb.engine.transactions.shared import Shared
from glimb.lang.node import Record


class Base(Record):
    """A state: how many commits there were, the next row ids, the clock, what sequences would give next."""

    history: int
    next_ids: dict[Table, int]
    clock: datetime
    drawn: dict[Sequence, int]
    private: dict[str, dict[Table, Table]]
    """By session: its rows of temporary tables, by table."""


class Bases:
    """A stack of such states; the last one counts."""

    def __init__(self, shared: Shared) -> None:
        self.shared = shared
        self._bases = [Base(0, {}, shared.clock, {}, {})]

    @property
    def last(self) -> Base:
        return self._bases[-1]

    def set_only(self) -> None:
        """What is committed now is the one to go back to, for ever."""
        self.shared.history.commits.clear()
        self._bases = [self._now()]

    def push(self) -> None:
        """What is committed now is the one to go back to, until `pop`."""
        self._bases.append(self._now())

    def pop(self) -> None:
        del self._bases[-1]

    def _now(self) -> Base:
        shared = self.shared
        private = {name: dict(s.private_tables) for name, s in shared.sessions.items() if s.private_tables}
        tables = [*shared.catalog.tables(), *(t for own in private.values() for t in own.values())]
        drawn = {q: q.next for q in shared.catalog.all_sequences()}
        return Base(len(shared.history.commits), {t: t.next_id for t in tables}, shared.clock, drawn, private)

    def restore(self) -> None:
        """Take back what has been committed since, and set what is no part of any log."""
        base = self.last
        self.shared.history.undo_to(base.history)
        for table, next_id in base.next_ids.items():
            table.next_id = next_id
            table.changed_at = 0
        for sequence, value in base.drawn.items():
            sequence.next = value
        self.shared.clock = base.clock

    def first_new_id(self, table: Table) -> int:
        """Row ids from this one on came after the base."""
        return self.last.next_ids.get(table, 1)

    def private_tables(self, session: str) -> dict[Table, Table]:
        """The rows of temporary tables that a session had at the base."""
        return self.last.private.get(session, {})
