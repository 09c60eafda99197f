"""One change statement at work on one table: locks, constraints, foreign keys, the log. All or nothing.

Order of checks: NOT NULL and CHECK when a row is made, unique keys when it is stored (for UPDATE: when all rows are),
foreign keys at the end of the statement, cascades with the rows that cause them (ISO/IEC 9075-2 clauses 14 and 15.17).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from glimb.engine.catalog.objects import Trigger
from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.table import ForeignKey, Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition, fail
from glimb.engine.values.conversion import convert, literal_of


class Writer:
    """Made for one statement; `abort` takes back what it has done."""

    __slots__ = (
        *("added", "assigned", "begun", "checker", "count", "depth", "fired", "keyed", "mark", "removed", "session"),
        "table",
    )

    def __init__(self, session: Session, depth: int, table: Table) -> None:
        session.begin()
        session.must_write()
        session.claims.intend(table, "IX")
        self.session = session
        self.depth = depth
        self.table = table
        self.mark = len(session.log)
        self.count = 0
        self.added: list[tuple[Table, Row]] = []
        self.removed: list[tuple[Table, Row, Row | None]] = []
        self.keyed: list[tuple[Table, Index, Row]] = []
        """Rows whose keys are looked at when all rows have changed."""
        self.fired: list[tuple[Table, str, Row | None, Row | None]] = []
        """Rows for AFTER triggers, in the order in which they changed."""
        self.assigned: frozenset[int] | None = None
        """Columns that UPDATE sets; None: those that have changed count."""
        self.begun: set[tuple[Table, str]] = set()
        self.checker: Callable[..., None] | None = None
        """WITH CHECK OPTION: looks at every row that the statement stores."""

    # -- triggers

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
        return self.session.shared.compiler.tables.trigger(trigger)(self.session, self.depth + 1, old, new, *tables)

    def begin(self, table: Table, event: str) -> None:
        """Fire BEFORE triggers of the statement, once."""
        if table.compiled.triggers == []:
            return
        if (table, event) not in self.begun:
            self.begun.add((table, event))
            for trigger in self._triggers(table, "before", event, False):
                if self._concerns(trigger, None, None):
                    self._run(trigger, None, None)

    def _concerns(self, trigger: Trigger, old: Row | None, new: Row | None) -> bool:
        """Whether UPDATE OF names a column that is set (in a cascade: that has changed)."""
        if not trigger.columns:
            return True
        if self.assigned is not None and trigger.table is self.table:
            return bool(trigger.columns & self.assigned)
        return old is None or new is None or any(old[c] != new[c] for c in trigger.columns)

    def _before(self, table: Table, event: str, old: Row | None, new: Row | None) -> Row | None:
        """Fire BEFORE triggers of a row; gives the row as they leave it."""
        for trigger in self._triggers(table, "before", event, True):
            if self._concerns(trigger, old, new):
                new = self._run(trigger, old, new)
        return new

    def _after(self) -> None:
        """Fire AFTER triggers: each for all its rows, then for the statement."""
        fired, self.fired = self.fired, []
        events = dict.fromkeys([(t, e) for t, e, _, _ in fired] + sorted(self.begun, key=lambda b: (b[0].name, b[1])))
        for table, event in events:
            rows = [(old, new) for t, e, old, new in fired if (t, e) == (table, event)]
            tables = [r for r, _ in rows if r is not None], [r for _, r in rows if r is not None]
            for trigger in self._triggers(table, "after", event, True):
                for old, new in rows:
                    if self._concerns(trigger, old, new):
                        self._run(trigger, old, new, *tables)
            for trigger in self._triggers(table, "after", event, False):
                if self._concerns(trigger, None, None):
                    self._run(trigger, None, None, *tables)

    def abort(self) -> None:
        self.session.undo_to(self.mark)

    # -- statements

    def insert(self, values: tuple[Any, ...]) -> None:
        """Store one row."""
        table = self.table
        made: Row = (*values, table.next_id)
        table.next_id += 1
        if table.compiled.triggers is None or table.compiled.triggers:
            self.begin(table, "insert")
            made = self._before(table, "insert", None, made) or made
        row = self._generated(table, made)
        self._validate(table, row)
        if self.checker is not None:
            self.checker(self.session, self.depth + 1, row)
        for index in table.indexes:
            if index.unique:
                self._claim(table, index, row)
            elif index.key:
                self.keyed.append((table, index, row))
        if table.primary is None:
            self.session.claims.lock_row(table, row)
        self.session.change(table, row[-1], None, row)
        if table.compiled.triggers:
            self.fired.append((table, "insert", None, row))
        if table.foreign:
            self.added.append((table, row))
        self.count += 1

    def update(self, pairs: Iterable[tuple[Row, tuple[Any, ...]]]) -> int:
        """Replace rows, which are locked, by new ones (without row id)."""
        made = [(old, (*new, old[-1])) for old, new in pairs]
        self.count = len(made)
        if self._touches_no_key():
            for _, row in made:
                self._validate(self.table, row)
            for old, row in made:
                self.session.change(self.table, row[-1], old, row)
            self.session.row_count = self.count
            return self.count
        self.begin(self.table, "update")
        self._replace(self.table, made)
        return self.finish()

    def _touches_no_key(self) -> bool:
        """Whether an update only has rows to validate and store: nothing to fire, to compute or to look up."""
        table, assigned = self.table, self.assigned
        if table.compiled.triggers != [] or table.has_generated or self.checker is not None or assigned is None:
            return False
        return all(assigned.isdisjoint(index.columns) for index in table.indexes)

    def delete(self, rows: Iterable[Row]) -> int:
        """Remove rows, which are locked."""
        found = list(rows)
        self.begin(self.table, "delete")
        self._remove(self.table, found)
        self.count = len(found)
        return self.finish()

    def merge(
        self,
        updates: list[tuple[Row, tuple[Any, ...]]],
        deletes: list[Row],
        inserts: list[tuple[Any, ...]],
        events: tuple[str, ...],
    ) -> int:
        """Do what MERGE has found to do: 21000 when a row of the target would be changed twice. Its `events` are those
        that it names: their triggers of the statement fire, even when no row is found."""
        touched = [old[-1] for old, _ in updates] + [row[-1] for row in deletes]
        if len(touched) != len(set(touched)):
            fail("21000", f"several rows of the source match one row of {self.table.name}")
        for event in events:
            self.begin(self.table, event)
        self._remove(self.table, deletes)
        self._replace(self.table, [(old, (*new, old[-1])) for old, new in updates])
        for values in inserts:
            self.insert(values)
        self.count = len(touched) + len(inserts)
        return self.finish()

    def finish(self) -> int:
        """Check foreign keys; gives the number of rows."""
        for table, index, row in self.keyed:
            self._check(index, (row[-1],), partial(self._check_key, table, index, row))
        for table, row in self.added:
            for key in table.foreign:
                self._check(key, (row[-1],), partial(self._check_parent, key, row))
        for table, old, new in self.removed:
            for key in table.referenced:
                if new is None or key.target_index.get_key(old) != key.target_index.get_key(new):
                    self._check(key, ("old", old[-1]), partial(self._check_children, key, old))
        if self.fired or self.begun:
            self._after()
        self.session.row_count = self.count
        return self.count

    def _check(self, constraint: Any, about: tuple[Any, ...], check: Callable[[], None]) -> None:
        """Check a constraint now, or at the end of the transaction when it is deferred."""
        if not constraint.enforced:
            return
        if self.session.deferred.defers(constraint):
            self.session.deferred.pending[(constraint.name, constraint, *about)] = check
        else:
            check()

    # -- rows

    def _replace(self, table: Table, pairs: list[tuple[Row, Row]]) -> None:
        session = self.session
        if table is not self.table and pairs:
            session.claims.intend(table, "IX")
        if table.compiled.triggers is None or table.compiled.triggers:
            pairs = [(old, self._before(table, "update", old, new) or new) for old, new in pairs]
        if table.has_generated:
            pairs = [(old, self._generated(table, new)) for old, new in pairs]
        for _, new in pairs:
            self._validate(table, new)
            if self.checker is not None and table is self.table:
                self.checker(self.session, self.depth + 1, new)
        for index in table.indexes:
            if index.key and any(old[c] != new[c] for old, new in pairs for c in index.columns):
                if index.unique:
                    self._claim_all(table, index, pairs)
                else:
                    self.keyed += [(table, index, new) for _, new in pairs]
        for old, new in pairs:
            session.watch()
            session.change(table, old[-1], old, new)
            if table.compiled.triggers:
                self.fired.append((table, "update", old, new))
        for old, new in pairs:
            if any(old[c] != new[c] for key in table.foreign for c in key.columns):
                self.added.append((table, new))
            if table.referenced:
                self.removed.append((table, old, new))
                self._cascade_update(table, old, new)

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
        """Delete a row unless it is gone; gives the rows that go with it."""
        self.session.watch()
        if table is not self.table:
            self.session.claims.intend(table, "IX")
        if table.rows.get(row[-1]) is not row:
            return []
        if table.compiled.triggers is None or table.compiled.triggers:
            self._before(table, "delete", row, None)
        for index in table.indexes:
            if index.key and index is not table.primary:
                self._lock_key(table, index, row)
        self.session.change(table, row[-1], row, None)
        if table.compiled.triggers:
            self.fired.append((table, "delete", row, None))
        if table.referenced:
            self.removed.append((table, row, None))
            return self._cascade_delete(table, row)
        return []

    def _validate(self, table: Table, row: Row) -> None:
        if table.compiled.validate is None:
            table.compiled.validate = self.session.shared.compiler.tables.validator(table)
        table.compiled.validate(self.session, self.depth + 1, row)
        for number, check in enumerate(table.checks):
            if check.deferrable:
                self._check(check, (row[-1],), partial(self._check_row, table, number, row[-1], row))

    def _check_row(self, table: Table, number: int, row_id: int, row: Row) -> None:
        """A deferrable CHECK over a row as it is when it is checked."""
        now = table.rows.get(row_id, row) if self.session.deferred.pending else row
        if now is not None:
            self.session.shared.compiler.tables.check_code(table, number)(self.session, self.depth + 1, now)

    def _generated(self, table: Table, row: Row) -> Row:
        """A row with its generated columns computed."""
        if not table.has_generated:
            return row
        if table.compiled.generate is None:
            table.compiled.generate = self.session.shared.compiler.tables.generator(table)
        return table.compiled.generate(self.session, self.depth + 1, row)

    # -- unique keys

    def _check_key(self, table: Table, index: Index, row: Row) -> None:
        """A key that is deferrable, or in which NULLs are equal: no other row may have it."""
        now = table.rows.get(row[-1])
        if now is None or not index.enforced:
            return
        key = index.get_key(now)
        if index.has_null(key):
            return
        self._lock_key(table, index, now)
        if len(self._relied_on(table, index, key).get(key, ())) > 1:
            self._taken(table, index, now)

    def _lock_key(self, table: Table, index: Index, row: Row) -> None:
        """Hold the key of a row, so that nobody takes or frees it meanwhile."""
        key = index.get_key(row)
        if not index.has_null(key):
            self.session.claims.lock((table, key if index is table.primary else ("unique", index.name, key)), "X")

    def _claim(self, table: Table, index: Index, row: Row) -> None:
        """Take a key for a row, or fail when it is taken."""
        key = index.get_key(row)
        if index.has_null(key):
            return
        self._lock_key(table, index, row)
        if key in self._relied_on(table, index, key):
            self._taken(table, index, row)

    def _claim_all(self, table: Table, index: Index, pairs: list[tuple[Row, Row]]) -> None:
        """Keys of an UPDATE are compared when all rows have changed: what the statement itself frees is free."""
        changed = [(old, new) for old, new in pairs if index.get_key(old) != index.get_key(new)]
        if not changed:
            return
        freed = {index.get_key(old) for old, _ in changed}
        taken = set()
        for old, new in changed:
            self._lock_key(table, index, old)
            self._lock_key(table, index, new)
            key = index.get_key(new)
            if index.has_null(key):
                continue
            if key in taken or (key in self._relied_on(table, index, key) and key not in freed):
                self._taken(table, index, new)
            taken.add(key)

    def _relied_on(self, table: Table, index: Index, key: Any) -> dict[Any, Any]:
        """The map of an index, for a constraint to look a key up."""
        if self.session.sight.reads is not None:
            self.session.shared.model.rely(self.session, table, index, key)
        return index.map

    def _taken(self, table: Table, index: Index, row: Row) -> None:
        shown = _shown(table, index.columns, row)
        raise Condition(
            "23505",
            f"{table.name} has a row with {shown} already ({index.name})",
            {"table_name": table.name, "constraint_name": index.name},
        )

    # -- foreign keys

    def _check_parent(self, key: ForeignKey, row: Row) -> None:
        now = key.table.rows.get(row[-1])
        if now is None:
            return
        row = now
        values = tuple(row[c] for c in key.columns)
        if None in values:
            self._check_match(key, row, values)
            return
        values = key.as_target(values)
        wanted = values[0] if key.target_index.single else values
        if None not in values:
            self._await(key.target, wanted, key)
        if None in values or wanted not in self._relied_on(key.target, key.target_index, wanted):
            shown = _shown(key.table, key.columns, row)
            self._violated(key, f"{key.target.name} has no row for {shown} of {key.table.name}", row_id=row[-1])

    def _check_match(self, key: ForeignKey, row: Row, values: tuple[Any, ...]) -> None:
        """A foreign key with a NULL in it: MATCH FULL wants all of it NULL, PARTIAL a row that fits the rest."""
        if key.match == "simple" or all(v is None for v in values):
            return
        shown = _shown(key.table, key.columns, row)
        if key.match == "full":
            self._violated(key, f"MATCH FULL takes all or nothing, not {shown} of {key.table.name}")
        if not any(_fits(key, values, parent) for parent in key.target.scan()):
            self._violated(key, f"{key.target.name} has no row that fits {shown} of {key.table.name}")

    def _await(self, table: Table, key: Any, foreign: ForeignKey) -> None:
        """Protect a parent row while it is referred to; one that somebody else is changing is waited for."""
        index = foreign.target_index
        if table is not foreign.table:
            self.session.claims.intend(table, "IS")
        self.session.claims.lock((table, key if index is table.primary else ("unique", index.name, key)), "S")

    def _children(self, key: ForeignKey, row: Row) -> list[Row]:
        """Rows that refer to `row`, locked."""
        values = tuple(row[c] for c in key.target_index.columns)
        wanted = values[0] if key.target_index.single else values
        while True:
            if key.converts:
                rows = [r for r in key.table.scan() if key.as_target(tuple(r[c] for c in key.columns)) == values]
            else:
                found = self._relied_on(key.table, key.child_index, wanted).get(wanted)
                rows = list(found.values()) if found and not key.child_index.unique else [found] if found else []
            if key.match == "partial":
                rows += self._children_in_part(key, row)
            if all(not self.session.claims.lock_row(key.table, child) for child in rows):
                return rows

    @staticmethod
    def _children_in_part(key: ForeignKey, row: Row) -> list[Row]:
        """MATCH PARTIAL: rows with a NULL in their key that fitted this row, and fit none that is there now."""
        found = []
        for child in key.table.scan():
            values = tuple(child[c] for c in key.columns)
            if None in values and any(v is not None for v in values) and _fits(key, values, row):
                if not any(_fits(key, values, parent) for parent in key.target.scan()):
                    found.append(child)
        return found

    def _check_children(self, key: ForeignKey, row: Row) -> None:
        values = tuple(row[c] for c in key.target_index.columns)
        wanted = values[0] if key.target_index.single else values
        is_there = None in values or wanted in key.target_index.map
        if is_there and key.match != "partial":
            return
        if self._children_in_part(key, row) if is_there else self._children(key, row):
            shown = _shown(key.target, key.target_index.columns, row)
            self._violated(key, f"{key.table.name} still refers to {shown} of {key.target.name}")

    def _violated(self, key: ForeignKey, message: str, sqlstate: str = "23503", row_id: int = 0) -> None:
        items: dict[str, Any] = {"table_name": key.table.name, "constraint_name": key.name}
        if row_id:
            items["row_id"] = row_id
        raise Condition(sqlstate, f"{message} ({key.name})", items)

    def _restrict(self, key: ForeignKey, row: Row) -> None:
        """RESTRICT: at once, whatever the statement does later (clause 11.8)."""
        if self._children(key, row):
            shown = _shown(key.target, key.target_index.columns, row)
            self._violated(key, f"{key.table.name} refers to {shown} of {key.target.name}", "23001")

    def _cascade_delete(self, table: Table, row: Row) -> list[tuple[Table, Row]]:
        found: list[tuple[Table, Row]] = []
        for key in table.referenced:
            if not key.enforced:
                continue
            if key.on_delete == "cascade":
                found += [(key.table, child) for child in self._children(key, row)]
            elif key.on_delete in ("set null", "set default"):
                self._set_children(key, row, None, key.on_delete)
            elif key.on_delete == "restrict":
                self._restrict(key, row)
        return found

    def _cascade_update(self, table: Table, old: Row, new: Row) -> None:
        for key in table.referenced:
            before, after = key.target_index.get_key(old), key.target_index.get_key(new)
            if before == after or not key.enforced:
                continue
            if key.on_update == "restrict":
                self._restrict(key, old)
            elif key.on_update in ("cascade", "set null", "set default"):
                self._set_children(key, old, new if key.on_update == "cascade" else None, key.on_update)

    def _set_children(self, key: ForeignKey, old: Row, new: Row | None, action: str) -> None:
        """Give the rows that refer to `old` the key of `new`, or NULL, or their defaults."""
        defaults: tuple[Any, ...] = ()
        if action == "set default":
            defaults = self.session.shared.compiler.tables.defaults(key.table)(self.session, self.depth + 1)
        pairs = []
        for child in self._children(key, old):
            values = list(child)
            for column, target in zip(key.columns, key.target_index.columns, strict=True):
                if new is None:
                    values[column] = defaults[column] if defaults else None
                elif key.match != "partial" or values[column] is not None:
                    types = key.target.columns[target].type, key.table.columns[column].type
                    values[column] = convert(new[target], *types, explicit=False) if key.converts else new[target]
            pairs.append((child, tuple(values)))
        self._replace(key.table, pairs)


def _fits(key: ForeignKey, values: tuple[Any, ...], parent: Row) -> bool:
    """Whether a row of the table referred to has these values, where they are not NULL."""
    converted = key.as_target(values)
    pairs = zip(key.target_index.columns, values, converted, strict=True)
    return all(v is None or (w is not None and parent[c] == w) for c, v, w in pairs)


def _shown(table: Table, columns: tuple[int, ...], row: Row) -> str:
    """Columns with their values, for messages."""
    return ", ".join(f"{table.columns[c].name} {literal_of(row[c], table.columns[c].type)}" for c in columns)
