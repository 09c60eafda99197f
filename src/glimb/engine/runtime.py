"""What generated statements call: cursors, handlers, diagnostics, transaction verbs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NoReturn

from glimb.engine.binder.base import ACCESS
from glimb.engine.catalog import DEFAULT_SCHEMA
from glimb.engine.characteristics import Characteristics
from glimb.engine.commands import CODES
from glimb.engine.conditions import STANDARD, Condition, can_be_handled, fail, from_python, is_exception, is_own
from glimb.engine.descriptors import (
    allocate_descriptor,
    deallocate_descriptor,
    described_values,
    descriptor_items,
    fill_descriptor,
    set_descriptor,
    set_descriptor_count,
)
from glimb.engine.indexes import Row
from glimb.engine.outcome import Result, ResultColumn
from glimb.engine.resolved import QueryStmt
from glimb.engine.trace import origin
from glimb.engine.trails import finished, first_rows, next_rows, to_follow
from glimb.engine.types import NULL, Type, assignable
from glimb.engine.values import convert
from glimb.engine.writer import Writer
from glimb.lang.node import Record, replace, walk
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import Placeholder, Statement

if TYPE_CHECKING:
    from glimb.engine.catalog import Table, View
    from glimb.engine.session import Session

MOST_NOTES = 10_000
"""So many notes of a statement are kept; those behind them are only counted."""
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
    """How well a handler fits: 4 a state or name, 3 the state of a class in which Glimb has subclasses of its own, 2 a
    class, 1 a general word, 0 not at all."""
    state = condition.sqlstate
    best = 0
    for wanted in states:
        if wanted == state or (condition.name and wanted == f"name:{condition.name}"):
            return 4
        if wanted == f"{state[:2]}000" and is_own(state):
            best = max(best, 3)
        elif wanted == "02" and state[:2] == "02":
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
    if not condition.located:
        condition.origin, condition.located = origin(condition), True
    if not state and not name:
        again.origin, again.located = condition.origin, True
        again.__traceback__ = condition.__traceback__
    elif again.sqlstate != condition.sqlstate:
        again.items.setdefault("first", (condition.sqlstate, condition.origin))
    return again


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
        return session.row_count
    if item == "transaction_active":
        return 1 if session.active else 0
    if item == "more":
        return "Y" if depth in session.overfull else "N"
    if item == "number":
        return len(area.conditions)
    if item in ("transactions_committed", "transactions_rolled_back"):
        return session.committed if item.endswith("committed") else session.rolled_back
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
        command = session.dynamic_command if command.startswith("EXECUTE") else ""
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


class CursorKind(Record):
    """What is known of a cursor where it is declared."""

    name: str
    columns: tuple[ResultColumn, ...]
    hold: bool
    returns: bool
    by_row: bool = False
    """Whether each of its rows comes with a row of a table behind its columns."""
    over: Table | None = None
    """Of a dynamic cursor: that table."""
    scroll: bool = True
    """False for one that ALLOCATE has made without SCROLL; of others it is known before."""


class Cursor:
    """A cursor: its rows are those at OPEN, whatever changes later, unless it is SENSITIVE: then `again` gives them
    anew for every FETCH. One that can change rows has behind the columns of each row the row of its table.

    Rows are counted from 1. The cursor stands at row `above`, which is row `below` too, or between the two: before the
    first, behind the last, or where a row was that a sensitive cursor no longer finds."""

    __slots__ = ("above", "again", "below", "is_open", "kind", "rows", "statement")

    def __init__(self, kind: CursorKind) -> None:
        self.kind = kind
        self.is_open = False
        self.rows: list[Any] = []
        self.again: Callable[[], list[Any]] | None = None
        self.below, self.above = 0, 1
        self.statement = ""
        """Of one that ALLOCATE has made: the name of its statement."""

    def open(self, session: Session, rows: list[Any], again: Callable[[], list[Any]] | None = None) -> None:
        if self.is_open:
            fail("24000", f"cursor {self.kind.name} is open already")
        self.is_open, self.rows, self.again = True, rows, again
        self.below, self.above = 0, 1
        session.cursors.append(self)
        if self.kind.returns:
            session.returning.append(self)

    def fetch(self, orientation: str = "next", position: int | None = 0) -> Any:
        """The row to which the cursor is moved (clause 14.5); None before the first or behind the last."""
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        if orientation != "next" and not self.kind.scroll:
            fail("42601", f"cursor {self.kind.name} only goes forward")
        if self.again is not None:
            self._look_again(self.again())
        if position is None:
            fail("22004", "the position of FETCH is NULL")
        return self._move(orientation, position)

    def _move(self, orientation: str, position: int) -> Any:
        count = len(self.rows)
        at = {
            "next": self.below + 1,
            "prior": self.above - 1,
            "first": 1,
            "last": count,
            "relative": (self.above if position < 0 else self.below) + position,
            "absolute": position if position >= 0 else count + 1 + position,
        }[orientation]
        if 1 <= at <= count and not (orientation == "relative" and position == 0 and self.below != self.above):
            self.below = self.above = at
            return self.rows[at - 1]
        if orientation != "relative" or position != 0:
            self.below, self.above = (0, 1) if at < 1 else (count, count + 1)
        return None

    def _look_again(self, rows: list[Any]) -> None:
        """Take the rows as they are now, and stand where the same row is, or where it was. Rows that are no rows of a
        table have no identity but their number."""
        before, self.rows = self.rows, rows
        if self.above > len(before) or (not self.kind.by_row and self.above > len(rows)):
            self.below, self.above = len(rows), len(rows) + 1
        elif self.below > 0 and self.kind.by_row:
            places = {row[-1][-1]: n for n, row in enumerate(rows, 1)}
            standing = self.below == self.above
            here = places.get(before[self.below - 1][-1][-1]) if standing else None
            behind = (places.get(row[-1][-1]) for row in before[self.below :])
            following = next((place for place in behind if place is not None), len(rows) + 1)
            self.below, self.above = (here, here) if here is not None else (following - 1, following)

    def current(self, session: Session, table: Table) -> list[Row]:
        """The row of the table at which the cursor stands, locked (clauses 14.6, 14.13)."""
        if not self.is_open or self.below != self.above:
            fail("24000", f"cursor {self.kind.name} stands at no row")
        if not self.kind.by_row:
            fail("42828", f"cursor {self.kind.name} cannot change rows: it is not over plain rows of one table")
        if self.kind.over is not None and self.kind.over is not (table.shared or table):
            fail("42828", f"cursor {self.kind.name} is over {self.kind.over.name}, not {table.name}")
        seen = self.rows[self.below - 1][-1]
        session.lock_rows(table, [seen])
        row = table.rows.get(seen[-1])
        if row is None:
            fail("24000", f"the row at which cursor {self.kind.name} stands has been deleted")
        return [row]

    def structure(self) -> tuple[ResultColumn, ...]:
        """DESCRIBE CURSOR: the columns of an open cursor."""
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        return self.kind.columns

    def close(self) -> None:
        if not self.is_open:
            fail("24000", f"cursor {self.kind.name} is not open")
        self.is_open, self.rows = False, []


# ---- dynamic SQL ----------------------------------------------------------------------------------------------------


def prepare(session: Session, name: str | None, text: str | None) -> None:
    """PREPARE (clause 20.7): the statement is parsed now, and bound when the types of its parameters are known."""
    if text is None:
        fail("22004", "the text of a statement is NULL")
    source = Source(text, "dynamic statement")
    parsed = parse(source)
    if parsed.problems:
        raise problem_condition(ProblemError(*parsed.problems))
    if len(parsed.statements) != 1:
        fail("42601", f"a dynamic statement is one statement, not {len(parsed.statements)}")
    session.prepared[name] = (parsed.statements[0], source)


def _prepared(session: Session, name: str | None) -> tuple[Statement, Source]:
    found = session.prepared.get(name)
    if found is None:
        known = ", ".join(n for n in session.prepared if n)
        fail("26000", f"there is no prepared statement {name}" + (f"; there are: {known}" if known else ""))
    return found


def execute_dynamic(
    session: Session, depth: int, name: str | None, values: tuple[Any, ...], types: tuple[Type, ...]
) -> Result:
    """EXECUTE (clause 20.13)."""
    return _run_prepared(session, depth, name, values, types)[0]


def _run_prepared(
    session: Session,
    depth: int,
    name: str | None,
    values: tuple[Any, ...],
    types: tuple[Type, ...],
    for_cursor: bool = False,
) -> tuple[Result, Table | None]:
    """The result of a prepared statement; for a cursor, with the table whose rows stand behind its columns."""
    node, source = _prepared(session, name)
    if session.stop or depth > session.depth_limit:
        session.enter(depth)
    try:
        compiled = session.engine.compiler.statement(node, source, session, types, for_cursor)
    except ProblemError as error:
        raise problem_condition(error) from None
    if len(values) > compiled.parameters:
        fail("07001", f"{len(values)} values for {compiled.parameters} parameters")
    if compiled.level > session.access:
        state = "2F002" if compiled.level == 3 else "2F004"
        fail(state, f"the routine says {ACCESS[session.access].upper()}")
    session.dynamic_command = compiled.command
    trace, session.trace = session.trace, []
    try:
        result = Result(*compiled.run(session, depth + 1, *values))
    finally:
        session.trace = trace
    if result.rows is not None and compiled.kind == "select":
        session.row_count = len(result.rows)
    return result, compiled.table


def open_dynamic(
    session: Session, depth: int, cursor: Cursor, name: str, values: tuple[Any, ...], types: tuple[Type, ...]
) -> None:
    """OPEN of a cursor over a prepared statement."""
    result, table = _run_prepared(session, depth, name, values, types, True)
    if result.rows is None:
        fail("07005", f"{name} is no query")
    cursor.kind = replace(cursor.kind, columns=result.columns, by_row=table is not None, over=table)
    cursor.open(session, result.rows)


def described(session: Session, name: str, is_input: bool) -> tuple[ResultColumn, ...]:
    """DESCRIBE (clause 20.9): the columns of a prepared query, or its dynamic parameters, whose types come with their
    values."""
    from glimb.engine.binder import bind_statement  # few programs describe

    node, source = _prepared(session, name)
    unknown = [NULL for n in walk(node) if isinstance(n, Placeholder)]
    if is_input:
        return tuple(ResultColumn("", NULL) for _ in unknown)
    try:
        bound = bind_statement(session.engine.catalog, node, source, session.schema, list(unknown)).statement
    except ProblemError as error:
        raise problem_condition(error) from None
    if not isinstance(bound, QueryStmt):
        return ()
    return tuple(ResultColumn(c.name, c.type) for c in bound.query.columns)


def one_row(result: Result) -> Any:
    """The row of EXECUTE ... INTO."""
    if result.rows is None or len(result.rows) != 1:
        fail("21000", f"the statement gives {len(result.rows or ())} rows where one may be")
    return result.rows[0]


def taken(row: tuple[Any, ...], columns: tuple[ResultColumn, ...], types: tuple[Type, ...]) -> tuple[Any, ...]:
    """The values of a row as they are assigned to variables of these types."""
    if len(columns) != len(types):
        fail("07008", f"{len(columns)} columns for {len(types)} variables")
    for column, type_ in zip(columns, types, strict=True):
        if not assignable(column.type, type_):
            fail("42804", f"column {column.name} is {column.type}, the variable is {type_}")
    return tuple(convert(v, c.type, t, explicit=False) for v, c, t in zip(row, columns, types, strict=False))


def call_result(session: Session, out: tuple[Any, ...]) -> Result:
    """What a CALL gives: its OUT values, and the rows left in the cursors WITH RETURN that are open, in the order in
    which they were opened; those of the first one are the rows of the CALL."""
    sets = [(c.kind.columns, c.rows[c.below :]) for c in session.returning if c.is_open]
    for cursor in session.returning:
        cursor.is_open = False
    session.returning = []
    if not sets:
        return Result(out=out)
    cut = [(columns, [r[: len(columns)] for r in rows]) for columns, rows in sets]
    session.more_results = cut[1:]
    return Result(cut[0][0], cut[0][1], len(cut[0][1]), out)


def extended(name: str | None) -> str:
    """The name of a statement that a value gives: it is none of those that are identifiers."""
    if not name:
        fail("26000", "the name of a statement is empty")
    return f"'{name}'"


def allocate_cursor(
    session: Session, name: str | None, statement: str, scroll: bool, hold: bool, returns: bool
) -> None:
    """ALLOCATE ... CURSOR (clause 20.17): the statement must be prepared already."""
    if not name or name in session.named_cursors:
        fail("34000", f"cursor {name} is there already" if name else "the name of a cursor is empty")
    _prepared(session, statement)
    cursor = session.named_cursors[name] = Cursor(CursorKind(name, (), hold, returns, scroll=scroll))
    cursor.statement = statement


def named_cursor(session: Session, name: str | None) -> Cursor:
    found = session.named_cursors.get(name or "")
    if found is None:
        known = ", ".join(session.named_cursors)
        fail("34000", f"there is no cursor {name}" + (f"; there are: {known}" if known else ""))
    cursor: Cursor = found
    return cursor


def deallocate(session: Session, name: str) -> None:
    _prepared(session, name)
    del session.prepared[name]


def problem_condition(error: ProblemError) -> Condition:
    """Problems of a text as the condition that a statement raises."""
    first = error.problems[0]
    details = "\n".join(p.describe() for p in error.problems)
    return Condition(first.sqlstate, first.brief(), {"details": details, "problems": tuple(error.problems)})


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
    if session.read_only:
        fail("25006", "the transaction is READ ONLY")
    mark = len(session.log)
    try:
        for trigger in session.engine.catalog.triggers_of(view):
            if trigger.definition.event == event:
                code = session.engine.compiler.trigger(trigger)
                for number, row in enumerate(rows):
                    old = (*row[:width], number) if event != "insert" else None
                    new = (*row[-width:], number) if event != "delete" else None
                    code(session, depth + 1, old, new)
    except BaseException:
        session.undo_to(mark)
        raise
    session.row_count = len(rows)
    return len(rows)


def outside_view(name: str) -> NoReturn:
    """WITH CHECK OPTION (clause 4.14.2)."""
    raise Condition("44000", f"the row would not be in view {name} (CHECK OPTION)", {"table_name": name})


# ---- settings -------------------------------------------------------------------------------------------------------


def set_schema(session: Session, name: str | None) -> None:
    known = session.engine.catalog.schemas
    name = "" if name is None else name.strip()
    if name != DEFAULT_SCHEMA and name not in known:
        fail("3F000", f"there is no schema {name}")
    session.schema = "" if name == DEFAULT_SCHEMA else name


def set_autocommit(session: Session, value: str) -> None:
    if session.active:
        fail("25001", "autocommit is set before the transaction")
    session.autocommit = value == "on"


def set_characteristics(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "what transactions are like is set before the transaction")
    session.usual = session.usual.with_modes(modes)


def set_constraints(session: Session, value: tuple[tuple[str, ...], bool]) -> None:
    """SET CONSTRAINTS (clause 17.4): what becomes immediate is checked at once."""
    session.begin()
    names, deferred = value
    session.set_constraints(names, deferred)


# ---- blocks and transactions ----------------------------------------------------------------------------------------


def enter_atomic(session: Session) -> tuple[int, int]:
    """Start of an atomic context; gives the place in the log to go back to, and the savepoint level around."""
    session.atomic += 1
    return len(session.log), session.open_level()


def leave_atomic(session: Session, around: int) -> None:
    session.atomic -= 1
    session.close_level(around)


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
    told = "NULL" if text is None else text
    if len(session.notes) < MOST_NOTES:
        session.notes.append(told)
    else:
        session.more_notes += 1
    if len(session.told) < 1000:
        session.told.append(told)


def start_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "a transaction is active already")
    session.coming = (session.coming or session.usual).with_modes(modes)
    session.begin()
    session.explicit = True


def set_transaction(session: Session, modes: tuple[str, ...]) -> None:
    if session.active:
        fail("25001", "SET TRANSACTION comes before the transaction")
    session.coming = (session.coming or session.usual).with_modes(modes)


def commit(session: Session, chain: bool) -> None:
    session.forbid_end()
    _end(session, session.commit, chain)


def rollback(session: Session, chain: bool) -> None:
    session.forbid_end()
    _end(session, session.rollback, chain)


def _end(session: Session, end: Callable[[], None], chain: bool) -> None:
    """AND CHAIN: a new transaction of the same characteristics."""
    kept = Characteristics(session.isolation, session.read_only, session.room)
    end()
    if chain:
        session.coming = kept
        session.begin()


RUNTIME_NAMES: dict[str, Any] = {
    "CAUGHT": CAUGHT,
    "Cursor": Cursor,
    "Writer": Writer,
    **{
        f.__name__: f
        for f in (
            prepare,
            execute_dynamic,
            open_dynamic,
            one_row,
            call_result,
            taken,
            described,
            extended,
            allocate_cursor,
            named_cursor,
            described_values,
            allocate_descriptor,
            deallocate_descriptor,
            set_descriptor,
            set_descriptor_count,
            descriptor_items,
            fill_descriptor,
            first_rows,
            next_rows,
            to_follow,
            finished,
            deallocate,
            changed_rows,
            run_instead,
            outside_view,
            set_schema,
            set_autocommit,
            set_characteristics,
            set_constraints,
            all_diagnostics,
            command_item,
            caught,
            find_handler,
            escaped,
            leave_routine,
            signal,
            resignal,
            diagnostics,
            chosen_condition,
            enter_atomic,
            leave_atomic,
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
