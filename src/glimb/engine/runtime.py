"""What generated statements call: cursors, handlers, diagnostics, transaction verbs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from glimb.engine.conditions import Condition, can_be_handled, fail, from_python, is_exception
from glimb.engine.writer import Writer

if TYPE_CHECKING:
    from glimb.engine.catalog import Table
    from glimb.engine.session import Session

CAUGHT = (Condition, ArithmeticError, RecursionError)
"""Python exceptions in generated code that stand for SQL conditions."""

HandlerEntry = tuple[int, tuple[str, ...]]
Chain = tuple[tuple[int, tuple[HandlerEntry, ...]], ...]
"""Blocks from the innermost outwards: their depth, and their handlers with what they handle."""


def caught(error: BaseException) -> Condition:
    """The SQL condition that a Python exception stands for, with its place."""
    condition = from_python(error)
    if condition is not error:
        condition.__traceback__ = error.__traceback__
    return condition


def _specificity(states: tuple[str, ...], condition: Condition) -> int:
    """How well a handler fits: 3 a state or name, 2 a class, 1 a general word, 0 not at all."""
    state = condition.sqlstate
    best = 0
    for wanted in states:
        if wanted == state or (condition.name and wanted == f"name:{condition.name}"):
            return 3
        if wanted == "02" and state[:2] == "02":
            best = max(best, 2)
        elif (wanted == "warning" and state[:2] == "01") or (wanted == "exception" and is_exception(state)):
            best = max(best, 1)
    return best


def find_handler(condition: Condition, chain: Chain) -> int:
    """Number of the handler that takes the condition: the most specific one of the innermost block that has any."""
    if not can_be_handled(condition.sqlstate):
        return 0
    for depth, handlers in chain:
        if depth >= condition.bypass:
            continue
        best, chosen = 0, 0
        for number, states in handlers:
            fit = _specificity(states, condition)
            if fit > best:
                best, chosen = fit, number
        if chosen:
            return chosen
    return 0


def escaped(error: BaseException, depth: int) -> Condition:
    """A condition that a handler of the block at `depth` raises: that block and those inside it do not handle it."""
    condition = caught(error)
    condition.bypass = min(condition.bypass, depth)
    return condition


def leave_routine(condition: Condition) -> None:
    """In the routine that called, all handlers count again."""
    condition.bypass = 1_000_000


def signal(session: Session, state: str, name: str, items: dict[str, Any]) -> Condition:
    """The condition that SIGNAL raises."""
    for item, value in items.items():
        if value is None:
            fail("22004", f"{item.upper()} may not be NULL")
    message = items.get("message_text", "")
    if name:
        items["condition_identifier"] = name
        message = message or f"condition {name}"
    return Condition(state, message, items)


def resignal(condition: Condition | None, state: str, name: str, items: dict[str, Any]) -> Condition:
    """The handled condition again, with what RESIGNAL changes."""
    if condition is None:
        fail("0K000", "RESIGNAL needs a handler that is active")
    changed = {**condition.items, **items}
    if name:
        changed["condition_identifier"] = name
    again = Condition(state or condition.sqlstate, changed.get("message_text") or condition.message, changed)
    if not state and not name:
        again.origin, again.located = condition.origin, condition.located
        again.__traceback__ = condition.__traceback__
    return again


def completed(session: Session, sqlstate: str, message: str) -> None:
    """A completion condition that nobody handles: it is only there for GET DIAGNOSTICS."""
    session.last_condition = Condition(sqlstate, message)


def diagnostics(session: Session, condition: Condition | None, item: str) -> Any:
    """An item of the diagnostics area (clause 23.1)."""
    if item == "row_count":
        return session.row_count
    if item == "transaction_active":
        return "1" if session.active else "0"
    if item == "more":
        return "N"
    if item == "number":
        return 1 if condition is not None else 0
    if condition is None:
        return {"condition_number": 1, "message_length": 0, "returned_sqlstate": "00000"}.get(item, "")
    if item == "returned_sqlstate":
        return condition.sqlstate
    if item == "message_text":
        return condition.message
    if item == "message_length":
        return len(condition.message)
    if item == "condition_number":
        return 1
    if item in ("class_origin", "subclass_origin"):
        return condition.items.get(item, "ISO 9075")
    return condition.items.get(item, "")


def condition_number(value: int | None) -> None:
    """GET DIAGNOSTICS CONDITION n: there is one condition at a time."""
    if value != 1:
        raise Condition("35000", f"there is no condition number {value}")


class Cursor:
    """A cursor: its rows are those at OPEN, whatever changes later."""

    __slots__ = ("at", "is_open", "name", "rows")

    def __init__(self, name: str) -> None:
        self.name = name
        self.is_open = False
        self.rows: list[Any] = []
        self.at = 0

    def open(self, session: Session, rows: list[Any]) -> None:
        if self.is_open:
            fail("24000", f"cursor {self.name} is open already")
        self.is_open, self.rows, self.at = True, rows, 0
        session.cursors.append(self)

    def fetch(self) -> Any:
        """The next row; None behind the last."""
        if not self.is_open:
            fail("24000", f"cursor {self.name} is not open")
        if self.at >= len(self.rows):
            return None
        self.at += 1
        return self.rows[self.at - 1]

    def close(self) -> None:
        if not self.is_open:
            fail("24000", f"cursor {self.name} is not open")
        self.is_open, self.rows = False, []


def enter_atomic(session: Session) -> int:
    """Start of an atomic context; gives the place in the log to go back to."""
    session.atomic += 1
    return len(session.log)


def case_not_found() -> None:
    raise Condition("20000", "no WHEN of this CASE statement applies, and there is no ELSE")


def no_return(name: str) -> None:
    raise Condition("2F005", f"{name} ended without RETURN")


def truncate(session: Session, depth: int, table: Table, restart: bool) -> None:
    """TRUNCATE TABLE (clause 14.11): all rows go; identities may start again."""
    writer = Writer(session, depth, table)
    try:
        while not session.lock_rows(table, list(table.scan())):
            pass
        writer.delete(table.scan())
    except BaseException:
        writer.abort()
        raise
    for column in table.columns:
        if restart and column.identity is not None:
            column.identity.next = column.identity.start


def null_in(table: Table, column: int) -> None:
    name = table.columns[column].name
    raise Condition("23502", f"{table.name}.{name} may not be NULL", {"table_name": table.name, "column_name": name})


def check_failed(table: Table, number: int) -> None:
    check = table.checks[number]
    items = {"table_name": table.name, "constraint_name": check.name}
    raise Condition("23514", f"{table.name} does not meet CHECK ({check.text}) ({check.name})", items)


def note(session: Session, text: str | None) -> None:
    """CALL note(...)."""
    session.notes.append("NULL" if text is None else text)


def start_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "a transaction is active already")
    _characteristics(session, modes)
    session.begin()
    session.explicit = True


def set_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "SET TRANSACTION comes before the transaction")
    _characteristics(session, modes)


def _characteristics(session: Session, modes: tuple[str, ...]) -> None:
    for mode in modes:
        if mode in ("read only", "read write"):
            session.next_read_only = mode == "read only"
        else:
            session.next_isolation = mode


def commit(session: Session, chain: bool) -> None:
    session.forbid_end()
    session.commit()
    if chain:
        session.begin()


def rollback(session: Session, chain: bool) -> None:
    session.forbid_end()
    session.rollback()
    if chain:
        session.begin()


RUNTIME_NAMES: dict[str, Any] = {
    "CAUGHT": CAUGHT,
    "Cursor": Cursor,
    "Writer": Writer,
    **{
        f.__name__: f
        for f in (
            caught,
            find_handler,
            escaped,
            leave_routine,
            signal,
            resignal,
            completed,
            diagnostics,
            condition_number,
            enter_atomic,
            case_not_found,
            no_return,
            note,
            truncate,
            null_in,
            check_failed,
            start_transaction,
            set_transaction,
            commit,
            rollback,
        )
    },
}
