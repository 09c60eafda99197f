"""What generated changes call beside the Writer: INSTEAD OF triggers, TRUNCATE, refusals."""

from __future__ import annotations

from typing import Any, NoReturn

from glimb.engine.catalog.objects import View
from glimb.engine.runtime.writer import Writer
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition

# ---- changes --------------------------------------------------------------------------------------------------------


def changed_rows(session: Session, table: Table, mark: int, kind: str) -> list[Row]:
    """Rows that a change has found or made, from the log behind `mark`, in the order in which they were touched."""
    first: dict[int, Row | None] = {}
    last: dict[int, Row | None] = {}
    for where, key, before, after in session.log[mark:]:
        if where is table:
            first.setdefault(key, before)
            last[key] = after
    chosen = first if kind == "old" else last
    return [row for row in chosen.values() if row is not None]


def run_instead(session: Session, depth: int, view: View, event: str, rows: list[Any], width: int) -> int:
    """INSTEAD OF triggers, for every row of a change of a view."""
    session.must_write()
    mark = len(session.log)
    try:
        for trigger in session.shared.catalog.triggers_of(view):
            if trigger.definition.event == event:
                code = session.shared.compiler.tables.trigger(trigger, len(session.trace))
                for number, row in enumerate(rows):
                    old = (*row[:width], number) if event != "insert" else None
                    new = (*row[-width:], number) if event != "delete" else None
                    code(session, depth + 1, old, new)
    except BaseException:
        session.undo_to(mark)
        raise
    session.diagnostics.row_count = len(rows)
    return len(rows)


def outside_view(name: str) -> NoReturn:
    """WITH CHECK OPTION (clause 4.14.2)."""
    raise Condition("44000", f"the row would not be in view {name} (CHECK OPTION)", {"table_name": name})


def truncate(session: Session, depth: int, table: Table, restart: bool) -> None:
    """TRUNCATE TABLE (clause 14.10): all rows go, without triggers, and without a look at keys, as no other table
    refers to them; identities may start again. It has the table for itself, so no row is another one's."""
    writer = Writer(session, depth, table)
    try:
        session.claims.lock_whole(table)
        for row in list(table.scan()):
            session.watch()
            session.change(table, row[-1], row, None)
            writer.count += 1
        writer.finish()
    except BaseException:
        writer.abort()
        raise
    for column in table.columns:
        if restart and column.identity is not None:
            column.identity.next = column.identity.start


def null_in(table: Table, column: int) -> None:
    """23502: a column that may not be NULL is."""
    name = table.columns[column].name
    raise Condition("23502", f"{table.name}.{name} may not be NULL", {"table_name": table.name, "column_name": name})


def check_failed(table: Table, number: int) -> None:
    """23514: a row does not meet a CHECK."""
    check = table.checks[number]
    items = {"table_name": table.name, "constraint_name": check.name}
    raise Condition("23514", f"{table.name} does not meet CHECK ({check.text}) ({check.name})", items)
