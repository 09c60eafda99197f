"""Foreign keys at work: the rows that refer, and the rows referred to (ISO/IEC 9075-2 clause 11.8)."""

from __future__ import annotations

from typing import Any

from glimb.engine.runtime.keys import relied_on, shown_columns
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.resources import key_of
from glimb.engine.storage.table import ForeignKey, Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.engine.values.conversion import convert


def check_parent(session: Session, key: ForeignKey, row: Row) -> None:
    now = key.table.rows.get(row[-1])
    if now is None:
        return
    row = now
    values = tuple(row[c] for c in key.columns)
    if None in values:
        check_match(session, key, row, values)
        return
    values = key.as_target(values)
    wanted = values[0] if key.target_index.single else values
    if None not in values:
        protect(session, key.target, wanted, key)
    if None in values or wanted not in relied_on(session, key.target, key.target_index, wanted):
        shown = shown_columns(key.table, key.columns, row)
        refuse_violation(key, f"{key.target.name} has no row for {shown} of {key.table.name}", row_id=row[-1])


def check_match(session: Session, key: ForeignKey, row: Row, values: tuple[Any, ...]) -> None:
    """A foreign key with a NULL in it: MATCH FULL wants all of it NULL, PARTIAL a row that fits the rest."""
    if key.match == "simple" or all(v is None for v in values):
        return
    shown = shown_columns(key.table, key.columns, row)
    if key.match == "full":
        refuse_violation(key, f"MATCH FULL takes all or nothing, not {shown} of {key.table.name}")
    if not _has_fitting(session, key, values):
        refuse_violation(key, f"{key.target.name} has no row that fits {shown} of {key.table.name}")


def _has_fitting(session: Session, key: ForeignKey, values: tuple[Any, ...]) -> bool:
    """Whether there is a row to refer to with these values, NULLs aside; it is protected."""
    while True:
        parent = next((p for p in key.target.scan() if _fits(key, values, p)), None)
        if parent is None:
            return False
        if not protect(session, key.target, key.target_index.get_key(parent), key):
            return True


def protect(session: Session, table: Table, key: Any, foreign: ForeignKey) -> bool:
    """Protect a parent row while it is referred to; whether somebody else had to be waited for, who was changing it."""
    index = foreign.target_index
    if table is not foreign.table:
        session.claims.intend(table, "IS")
    return session.claims.lock((table, key_of(table, index, key)), "S")


def children_of(session: Session, key: ForeignKey, row: Row) -> list[Row]:
    """Rows that refer to `row`, locked."""
    values = tuple(row[c] for c in key.target_index.columns)
    wanted = values[0] if key.target_index.single else values
    while True:
        if key.converts:
            rows = [r for r in key.table.scan() if key.as_target(tuple(r[c] for c in key.columns)) == values]
        else:
            found = relied_on(session, key.table, key.child_index, wanted).get(wanted)
            rows = list(found.values()) if found and not key.child_index.unique else [found] if found else []
        if key.match == "partial":
            rows += children_in_part(session, key, row)
        if all(not session.claims.lock_row(key.table, child) for child in [*rows, *_taken_away(session, key, row)]):
            return rows


def _taken_away(session: Session, key: ForeignKey, parent: Row) -> list[Row]:
    """Rows that referred to this one until others, who have not committed that, removed or changed them: who knows
    whether they will not be there again."""

    def refers(child: Row | None) -> bool:
        if child is None:
            return False
        values = tuple(child[c] for c in key.columns)
        return (key.match == "partial" or None not in values) and _fits(key, values, parent)

    return [
        before
        for other in key.table.writers
        if other is not session
        for table, row_id, before, _ in other.log
        if table is key.table and refers(before) and not refers(table.rows.get(row_id))
    ]


def children_in_part(session: Session, key: ForeignKey, row: Row) -> list[Row]:
    """MATCH PARTIAL: rows with a NULL in their key that fitted this row, and fit none that is there now."""
    found = []
    for child in key.table.scan():
        values = tuple(child[c] for c in key.columns)
        if None in values and any(v is not None for v in values) and _fits(key, values, row):
            if not _has_fitting(session, key, values):
                found.append(child)
    return found


def check_children(session: Session, key: ForeignKey, row: Row) -> None:
    values = tuple(row[c] for c in key.target_index.columns)
    wanted = values[0] if key.target_index.single else values
    is_there = None in values or wanted in key.target_index.map
    if is_there and key.match != "partial":
        return
    if children_in_part(session, key, row) if is_there else children_of(session, key, row):
        shown = shown_columns(key.target, key.target_index.columns, row)
        refuse_violation(key, f"{key.table.name} still refers to {shown} of {key.target.name}")


def refuse_violation(key: ForeignKey, message: str, sqlstate: str = "23503", row_id: int = 0) -> None:
    items: dict[str, Any] = {"table_name": key.table.name, "constraint_name": key.name, "row_id": row_id}
    raise Condition(sqlstate, f"{message} ({key.name})", items)


def check_restrict(session: Session, key: ForeignKey, row: Row) -> None:
    """RESTRICT: at once, whatever the statement does later (clause 11.8)."""
    if children_of(session, key, row):
        shown = shown_columns(key.target, key.target_index.columns, row)
        refuse_violation(key, f"{key.table.name} refers to {shown} of {key.target.name}", "23001")


def _fits(key: ForeignKey, values: tuple[Any, ...], parent: Row) -> bool:
    """Whether a row of the table referred to has these values, where they are not NULL."""
    converted = key.as_target(values)
    pairs = zip(key.target_index.columns, values, converted, strict=True)
    return all(v is None or (w is not None and parent[c] == w) for c, v, w in pairs)


def followed(
    session: Session, depth: int, key: ForeignKey, moved: list[tuple[Row, Row]], action: str
) -> list[tuple[Row, Row]]:
    """The rows that refer to old ones, each with itself as an action makes it: with the key of the new one, NULL, or
    defaults. All are found before one is changed (11.8: the matching rows): a key that moves to where another was takes
    only its own along."""
    found: dict[int, tuple[Row, Row]] = {}
    for old, new in moved:
        for child in children_of(session, key, old):
            found.setdefault(child[-1], (child, new))
    if action == "cascade":
        return [(child, _referring(key, child, new)) for child, new in found.values()]
    values: tuple[Any, ...] = (None,) * len(key.columns)
    if found and action == "set default":
        values = session.shared.compiler.tables.defaults(key.table, key.columns)(session, depth)
    return [(child, _given(key, child, values)) for child, _ in found.values()]


def _given(key: ForeignKey, child: Row, values: tuple[Any, ...]) -> Row:
    """A row with values in the columns of a foreign key."""
    row = list(child)
    for column, value in zip(key.columns, values, strict=True):
        row[column] = value
    return tuple(row)


def _referring(key: ForeignKey, child: Row, parent: Row) -> Row:
    """A row that refers, with the key of the row it refers to as that now is."""
    row = list(child)
    for column, target in zip(key.columns, key.target_index.columns, strict=True):
        if key.match != "partial" or row[column] is not None:
            types = key.target.columns[target].type, key.table.columns[column].type
            row[column] = convert(parent[target], *types, explicit=False) if key.converts else parent[target]
    return tuple(row)
