"""GET DIAGNOSTICS: the items of a statement and of its conditions (ISO/IEC 9075-2 clause 23.1)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from glimb.engine.transactions.session import Session
from glimb.engine.values.command_codes import CODES
from glimb.engine.values.conditions import STANDARD, Condition
from glimb.lang.node import Record


class Area(Record):
    """The conditions of a statement, and the one that is looked at: None when there is none."""

    conditions: Sequence[Condition]
    number: int
    chosen: Condition | None


def chosen_condition(conditions: Sequence[Condition], number: int | None) -> Area:
    """GET DIAGNOSTICS CONDITION n: 35000 where there are not so many; the first is there always, as success."""
    if number is None or not 1 <= number <= max(1, len(conditions)):
        raise Condition("35000", f"there is no condition number {'NULL' if number is None else number}")
    return Area(conditions, number, conditions[number - 1] if conditions else None)


def diagnostics(session: Session, depth: int, area: Area, item: str) -> Any:
    """An item of the diagnostics area (clause 23.1)."""
    condition = area.chosen
    if item == "row_count":
        return session.diagnostics.row_count
    if item == "transaction_active":
        return 1 if session.active else 0
    if item == "more":
        return "Y" if depth in session.diagnostics.overfull else "N"
    if item == "number":
        return len(area.conditions)
    if item in ("transactions_committed", "transactions_rolled_back"):
        return session.diagnostics.ended["commit" if item.endswith("committed") else "rollback"]
    absent = 0 if item == "parameter_ordinal_position" else ""
    if condition is None:
        known = {"condition_number": 1, "message_length": 0, "message_octet_length": 0, "returned_sqlstate": "00000"}
        return known.get(item, absent)
    if item == "returned_sqlstate":
        return condition.sqlstate
    if item == "message_text":
        return condition.message
    if item == "message_length":
        return len(condition.message)
    if item == "message_octet_length":
        return len(condition.message.encode())
    if item == "condition_number":
        return area.number
    if item in ("class_origin", "subclass_origin"):
        return condition.items.get(item) or _origin(condition.sqlstate, item)
    return condition.items.get(item, absent)


def _origin(sqlstate: str, item: str) -> str:
    """Who has defined a class or a subclass (clause 24.1): the standard has those that begin with 0 to 4, A to H."""
    by_standard = sqlstate[0] in STANDARD and (item == "class_origin" or sqlstate[2] in STANDARD)
    return "ISO 9075" if by_standard else "Glimb"


def command_item(session: Session, command: str, item: str) -> str | int:
    """COMMAND_FUNCTION, DYNAMIC_FUNCTION and their codes: of the statement before, and of what it has executed."""
    if item.startswith("dynamic"):
        command = session.dynamic.command if command.startswith("EXECUTE") else ""
    return CODES.get(command, 0) if item.endswith("code") else command


def all_diagnostics(session: Session, depth: int, area: Area, command: str, part: str) -> str:
    """GET DIAGNOSTICS target = ALL (clause 23.1): items with their values, of the statement, the condition or both."""
    shown = {}
    if part != "condition":
        names = ("number", "more", "row_count", "transaction_active")
        shown = {n: diagnostics(session, depth, area, n) for n in names}
        shown |= {n: command_item(session, command, n) for n in ("command_function", "dynamic_function")}
    if part != "statement" and area.chosen is not None:
        names = ("returned_sqlstate", "class_origin", "subclass_origin", "message_text")
        shown |= {n: diagnostics(session, depth, area, n) for n in names}
        shown |= {n: v for n, v in area.chosen.items.items() if isinstance(v, str) and n != "details"}
    return "; ".join(f"{name.upper()}={value}" for name, value in shown.items())
