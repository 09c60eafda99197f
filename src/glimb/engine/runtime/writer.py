"""One change statement at work on one table: locks, constraints, foreign keys, the log. All or nothing.

Order of checks: NOT NULL and CHECK when a row is made, unique keys when it is stored (for UPDATE: when all rows are),
foreign keys at the end of the statement, cascades with the rows that cause them (ISO/IEC 9075-2 clauses 14 and 15.17).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from glimb.engine.runtime.firing import Firing
from glimb.engine.runtime.foreign_keys import check_restrict, children_of, followed
from glimb.engine.runtime.keys import claim, claim_all, lock_changed, lock_key
from glimb.engine.runtime.later import Later
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import ForeignKey, Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail


class Writer:
    """Made for one statement; `abort` takes back what it has done."""

    __slots__ = ("_firing", "assigned", "checker", "count", "depth", "later", "mark", "session", "table")

    def __init__(self, session: Session, depth: int, table: Table) -> None:
        session.begin()
        session.must_write()
        session.claims.intend(table, "IX")
        self.session = session
        self.depth = depth
        self.table = table
        self.mark = len(session.log)
        self.count = 0
        self.later = Later(session)
        self.assigned: frozenset[int] = frozenset()
        """Columns that UPDATE sets, or one of the clauses of MERGE."""
        self._firing: Firing | None = None
        self.checker: Callable[..., None] | None = None
        """WITH CHECK OPTION: looks at every row that the statement stores."""

    @property
    def firing(self) -> Firing:
        """The triggers of the statement: most statements have none."""
        if self._firing is None:
            self._firing = Firing(self.session, self.depth, self.table, self.assigned)
        return self._firing

    def begin(self, table: Table, event: str) -> None:
        """Fire BEFORE triggers of the statement."""
        if table.compiled.triggers != []:
            self.firing.begin(table, event)

    def abort(self) -> None:
        self.session.undo_to(self.mark)

    # -- statements

    def insert(self, values: tuple[Any, ...]) -> None:
        """Store one row."""
        table = self.table
        made: Row = (*values, table.next_id)
        table.next_id += 1
        if table.compiled.triggers is None or table.compiled.triggers:
            made = self.firing.before(table, "insert", None, made, None) or made
        row = _generated(self.session, self.depth, table, made)
        self._validate(table, row)
        if self.checker is not None:
            self.checker(self.session, self.depth + 1, row)
        for index in table.indexes:
            if index.unique:
                claim(self.session, table, index, row)
            elif index.key:
                lock_key(self.session, table, index, row)
                self.later.keyed.append((table, index, row))
        if table.primary is None:
            self.session.claims.lock_row(table, row)
        self.session.change(table, row[-1], None, row)
        if table.compiled.triggers:
            self.firing.fired.append((table, "insert", None, row, None))
        if table.foreign:
            self.later.added.append((table, row))
        self.count += 1

    def update(self, pairs: Iterable[tuple[Row, tuple[Any, ...]]]) -> int:
        """Replace rows, which are locked, by new ones (without row id)."""
        made = [(old, (*new, old[-1])) for old, new in pairs]
        self.count = len(made)
        self.begin(self.table, "update")
        _unchanged(self.table, [old for old, _ in made])
        if self.checker is None and _touches_no_key(self.table, self.assigned):
            for _, row in made:
                self._validate(self.table, row)
            for old, row in made:
                self.session.change(self.table, row[-1], old, row)
            self.session.diagnostics.row_count = self.count
            return self.count
        self._replace(self.table, made, self.assigned)
        return self.finish()

    def delete(self, rows: Iterable[Row]) -> int:
        """Remove rows, which are locked."""
        found = list(rows)
        self.begin(self.table, "delete")
        _unchanged(self.table, found)
        self._remove(self.table, found)
        self.count = len(found)
        return self.finish()

    def merge(
        self,
        updates: list[tuple[Row, tuple[Any, ...]]],
        deletes: list[Row],
        inserts: list[tuple[Any, ...]],
        events: tuple[str, ...],
        sets: tuple[frozenset[int], ...],
    ) -> int:
        """Do what MERGE has found to do: 21000 when a row of the target would be changed twice. Its `events` are those
        that it names: their triggers of the statement fire, even when no row is found. Its clauses set the columns of
        `sets`; where they differ, those count that have changed in a row."""
        self.assigned = frozenset[int]().union(*sets)
        touched = [old[-1] for old, _ in updates] + [row[-1] for row in deletes]
        if len(touched) != len(set(touched)):
            fail("21000", f"several rows of the source match one row of {self.table.name}")
        for event in events:
            self.begin(self.table, event)
        _unchanged(self.table, [*(old for old, _ in updates), *deletes])
        self._remove(self.table, deletes)
        pairs = [pair for old, new in updates for pair in _as_now(self.table, old, (*new, old[-1]))]
        self._replace(self.table, pairs, sets[0] if len(sets) == 1 else None)
        for values in inserts:
            self.insert(values)
        self.count = len(touched) + len(inserts)
        return self.finish()

    def finish(self) -> int:
        """Check foreign keys; gives the number of rows."""
        self.later.look()
        if self._firing is not None:
            self.firing.after()
        self.session.diagnostics.row_count = self.count
        return self.count

    # -- rows

    def _replace(self, table: Table, pairs: list[tuple[Row, Row]], assigned: frozenset[int] | None) -> None:
        session = self.session
        if table is not self.table and pairs:
            session.claims.intend(table, "IX")
        if table.compiled.triggers is None or table.compiled.triggers:
            pairs = [(old, self.firing.before(table, "update", old, new, assigned) or new) for old, new in pairs]
            _unchanged(table, [old for old, _ in pairs])
        if table.has_generated:
            pairs = [(old, _generated(self.session, self.depth, table, new)) for old, new in pairs]
        for _, new in pairs:
            self._validate(table, new)
            if self.checker is not None and table is self.table:
                self.checker(self.session, self.depth + 1, new)
        for index in table.indexes:
            if index.key and any(old[c] != new[c] for old, new in pairs for c in index.columns):
                if index.unique:
                    claim_all(self.session, table, index, pairs)
                else:
                    lock_changed(self.session, table, index, pairs)
                    self.later.keyed += [(table, index, new) for _, new in pairs]
        for old, new in pairs:
            session.watch()
            session.change(table, old[-1], old, new)
            if table.compiled.triggers:
                self.firing.fired.append((table, "update", old, new, assigned))
        for old, new in pairs:
            if any(old[c] != new[c] for key in table.foreign for c in key.columns):
                self.later.added.append((table, new))
            if table.referenced:
                self.later.removed.append((table, old, new))
        self._cascade_update(table, pairs)

    def _remove(self, table: Table, rows: list[Row]) -> None:
        """Delete rows, and those that go with them; a long chain of these must not become one of calls."""
        stack = [iter([(table, row) for row in rows])]
        while stack:
            found = next(stack[-1], None)
            if found is None:
                stack.pop()
            else:
                stack.append(iter(self._remove_one(*found)))

    def _remove_one(self, table: Table, row: Row) -> list[tuple[Table, Row]]:
        """Delete a row unless it is gone, as it is by now: another foreign key may have changed it meanwhile. Gives
        the rows that go with it."""
        self.session.watch()
        if table is not self.table:
            self.session.claims.intend(table, "IX")
        now = table.rows.get(row[-1])
        if now is None:
            return []
        row = now
        if table.compiled.triggers is None or table.compiled.triggers:
            self.firing.before(table, "delete", row, None, None)
            _unchanged(table, [row])
        for index in table.indexes:
            if index.key and index is not table.primary:
                lock_key(self.session, table, index, row)
        self.session.change(table, row[-1], row, None)
        if table.compiled.triggers:
            self.firing.fired.append((table, "delete", row, None, None))
        if table.referenced:
            self.later.removed.append((table, row, None))
            return self._cascade_delete(table, row)
        return []

    def _validate(self, table: Table, row: Row) -> None:
        validator_of(self.session, table)(self.session, self.depth + 1, row)
        for number, check in enumerate(table.checks):
            if check.deferrable:
                self.later.check(check, (row[-1],), partial(self._check_row, table, number, row[-1], row))

    def _check_row(self, table: Table, number: int, row_id: int, row: Row) -> None:
        """A deferrable CHECK over a row as it is when it is checked."""
        now = table.rows.get(row_id, row) if self.session.deferred.pending else row
        if now is not None:
            self.session.shared.compiler.tables.check_code(table, number)(self.session, self.depth + 1, now)

    def _cascade_delete(self, table: Table, row: Row) -> list[tuple[Table, Row]]:
        found: list[tuple[Table, Row]] = []
        for key in table.referenced:
            if not key.enforced:
                continue
            if key.on_delete == "cascade":
                found += [(key.table, child) for child in children_of(self.session, key, row)]
            elif key.on_delete in ("set null", "set default"):
                self._follow(key, [(row, row)], key.on_delete)
            elif key.on_delete == "restrict":
                check_restrict(self.session, key, row)
        return found

    def _cascade_update(self, table: Table, pairs: list[tuple[Row, Row]]) -> None:
        for key in table.referenced:
            index = key.target_index
            moved = [(old, new) for old, new in pairs if index.get_key(old) != index.get_key(new)]
            if not moved or not key.enforced:
                continue
            if key.on_update == "restrict":
                for old, _ in moved:
                    check_restrict(self.session, key, old)
            elif key.on_update != "no action":
                self._follow(key, moved, key.on_update)

    def _follow(self, key: ForeignKey, moved: list[tuple[Row, Row]], action: str) -> None:
        """Change the rows that refer to others as an action says."""
        pairs = followed(self.session, self.depth + 1, key, moved, action)
        if pairs and key.table.compiled.triggers != []:
            self.firing.set[key.table] = self.firing.set.get(key.table, frozenset()).union(key.columns)
        self._replace(key.table, pairs, None)


def _unchanged(table: Table, rows: list[Row]) -> None:
    """27000: what a statement calls or fires before it changes rows may not change them itself."""
    now = table.rows
    if any([now.get(row[-1]) is not row for row in rows]):  # noqa: C419, a list is quicker
        told = f"a row of {table.name} has been changed by what the statement that changes it calls or fires"
        fail("27000", told)


def _as_now(table: Table, old: Row, new: Row) -> list[tuple[Row, Row]]:
    """A row with what it becomes, where foreign keys may have changed it, or removed it, meanwhile."""
    now = table.rows.get(old[-1])
    if now is None or now is old:
        return [] if now is None else [(old, new)]
    return [(now, tuple(n if n != o else c for o, n, c in zip(old, new, now, strict=True)))]


def _touches_no_key(table: Table, assigned: frozenset[int]) -> bool:
    """Whether an update only has rows to validate and store: nothing to fire, to compute or to look up."""
    if table.compiled.triggers != [] or table.has_generated:
        return False
    return all(assigned.isdisjoint(index.columns) for index in table.indexes)


def _generated(session: Session, depth: int, table: Table, row: Row) -> Row:
    """A row with its generated columns computed."""
    if not table.has_generated:
        return row
    if table.compiled.generate is None:
        table.compiled.generate = session.shared.compiler.tables.generator(table)
    return table.compiled.generate(session, depth + 1, row)


def validator_of(session: Session, table: Table) -> Callable[..., None]:
    """NOT NULL and CHECK of a table, made when they are first needed."""
    if table.compiled.validate is None:
        table.compiled.validate = session.shared.compiler.tables.validator(table)
    return table.compiled.validate
