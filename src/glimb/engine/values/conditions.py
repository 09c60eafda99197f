"""Conditions: what a statement can raise, by SQLSTATE (ISO/IEC 9075-2 clause 24), with its message and its origin.

Subclasses where the standard has none, and class 5B and 5L, are Glimb's own; the table below is the one list of
every state the engine raises.
"""

from __future__ import annotations

from typing import Any, NamedTuple, NoReturn

from glimb.lang.source import Source

STATES = {
    "00000": "successful completion",
    "01000": "warning",
    "01003": "NULL left out by a set function",
    "01004": "text cut",
    "0100C": "the procedure has returned result sets",
    "02000": "no data",
    "07001": "values do not fit the dynamic parameters",
    "07005": "a dynamic cursor needs a query",
    "07009": "no such item of a descriptor",
    "07008": "columns do not fit the variables",
    "0Z002": "stacked diagnostics outside a handler",
    "0K000": "RESIGNAL outside a handler",
    "20000": "no arm of a CASE statement applies",
    "21000": "more than one row where one may be",
    "22001": "text too long",
    "22003": "number out of range",
    "22004": "NULL where it may not be",
    "22007": "not in the form of a date, time or interval",
    "22008": "date or time out of range",
    "22011": "SUBSTRING of a negative length",
    "22012": "division by zero",
    "22013": "negative offset of a window frame",
    "22014": "NTILE of less than one bucket",
    "22015": "interval out of range",
    "22016": "row number out of range for LAG, LEAD or NTH_VALUE",
    "22018": "text is no such value",
    "22019": "escape is not one character",
    "2200E": "array to set an element of is NULL",
    "2200H": "sequence has no values left",
    "2200C": "pattern of SUBSTRING without its part in escapes",
    "2201B": "text is no regular expression",
    "2201G": "WIDTH_BUCKET without buckets",
    "2202E": "array has no such element",
    "2202F": "array has too many elements",
    "2201E": "logarithm of a number that has none",
    "2201F": "power that has no value",
    "2201W": "FETCH FIRST of less than one row",
    "2201X": "OFFSET of less than no rows",
    "22025": "nothing to escape behind the escape character",
    "22027": "TRIM by more than one character",
    "23001": "a row is still referred to, ON DELETE or ON UPDATE RESTRICT",
    "23502": "NULL in a column that is NOT NULL",
    "23503": "foreign key not met",
    "23505": "key is taken",
    "23514": "CHECK not met",
    "24000": "cursor is in the wrong state",
    "0A000": "feature not supported",
    "26000": "no such prepared statement",
    "27000": "a function or BEFORE trigger has changed a row that its statement changes",
    "34000": "no such cursor, or one that is there already",
    "33000": "no such descriptor, or one that is there already",
    "25001": "a transaction is active",
    "25006": "the transaction is READ ONLY",
    "2D000": "transaction may not end here",
    "2F002": "routine may not change data",
    "2F004": "routine may not read data",
    "2F005": "function ended without RETURN",
    "3F000": "no such schema",
    "35000": "no such condition number",
    "3B001": "no such savepoint",
    "40001": "the transaction was rolled back: deadlock or serialization failure",
    "40002": "the transaction was rolled back: a constraint was not met",
    "42601": "syntax error",
    "42612": "statement does not belong here",
    "42701": "name given twice",
    "42702": "name is ambiguous",
    "42703": "no such column or variable",
    "42704": "no such object",
    "42710": "object exists already",
    "42725": "several routines have this name",
    "42803": "column is neither grouped nor in a set function",
    "42804": "types do not fit",
    "42807": "object cannot be changed",
    "42809": "object is of the wrong kind",
    "42828": "cursor cannot change rows",
    "42829": "cursor is not for update of this column",
    "42985": "routine does more than it promises",
    "42830": "foreign key does not fit its target",
    "42883": "no such routine",
    "42884": "arguments do not fit the routine",
    "428C9": "column is always generated",
    "42893": "object is in use by others",
    "44000": "row is outside the view (CHECK OPTION)",
    "45000": "condition raised by a routine",
    "54001": "statement too complex",
    "57014": "stopped",
    "58030": "file cannot be read",
    "5B001": "too many rounds of one loop",
    "5B002": "too much time for one statement",
    "5B003": "calls nested too deep",
    "5B004": "too many rows of a recursive common table",
    "5B005": "too much memory for one statement or for a world",
    "5L001": "lock not available",
    "5L002": "patience ran out while waiting for a lock",
    "5L003": "session is waiting",
    "XX000": "internal error",
}


class Origin(NamedTuple):
    """Where a condition came from: the routine, the line, from 1, in the text that created it, the name of that text;
    and the calls that led there, the innermost first."""

    routine: str
    line: int
    file: str = ""
    calls: tuple[Origin, ...] = ()
    waymark: str = ""
    """The waymark behind which it was raised, in the list of statements that this one is in or within."""


class Condition(Exception):
    """An SQL condition on its way. `items` hold what SIGNAL and the engine add, by diagnostics item name."""

    def __init__(self, sqlstate: str, message: str = "", items: dict[str, Any] | None = None) -> None:
        super().__init__(sqlstate, message)
        self.sqlstate = sqlstate
        self.message = message or STATES.get(sqlstate, "")
        self.items = items or {}
        self.origin: Origin | None = None
        self.located = False
        self.below: tuple[Condition, ...] = ()
        """Those that RESIGNAL has put this one on top of, the latest first (9075-4 clause 16.3)."""
        self.bypass = 1_000_000
        """Blocks this deep or deeper have had their say: a handler of theirs raised the condition."""

    def again(self) -> NoReturn:
        """Raise it once more."""
        raise self

    @property
    def name(self) -> str:
        """Condition name, when the condition was declared without a state."""
        return str(self.items.get("condition_identifier", ""))


def fail(sqlstate: str, message: str, **items: Any) -> NoReturn:
    """Raise a condition from an expression."""
    raise Condition(sqlstate, message, items)


def from_python(error: BaseException) -> Condition:
    """The condition that a Python exception in generated code stands for."""
    if isinstance(error, Condition):
        return error
    if isinstance(error, ZeroDivisionError):
        return Condition("22012", "division by zero")
    if isinstance(error, OverflowError):
        return Condition("22003", "number out of range")
    if isinstance(error, RecursionError):
        return Condition("5B003", "calls nested too deep")
    if isinstance(error, MemoryError):
        return Condition("5B005", "there is no memory left")
    place = ""
    traceback = error.__traceback__
    while traceback is not None:
        code = traceback.tb_frame.f_code
        place = f" at {code.co_name} line {traceback.tb_lineno} of {code.co_filename.rsplit('/', 1)[-1]}"
        traceback = traceback.tb_next
    return Condition("XX000", f"internal error, please report it: {type(error).__name__}: {error}{place}")


def condition_of(error: BaseException, source: Source | None = None) -> Condition:
    """The condition that an exception stands for; a fault of ours is kept with the script, and says where."""
    condition = from_python(error)
    if condition.sqlstate == "XX000" and condition is not error:
        from glimb.engine.values.faults import keep

        condition.message += f" (kept with the script in {keep(error, source)})"
    return condition


def is_exception(sqlstate: str) -> bool:
    """Whether this class is an exception, not a completion (success, warning, no data)."""
    return sqlstate[:2] not in ("00", "01", "02")


STANDARD = "01234ABCDEFGH"
"""With one of these the standard's own classes begin, and its subclasses (clause 24.1)."""


def is_own(sqlstate: str) -> bool:
    """Whether this is a state of Glimb's own: standard code can only know its class."""
    return sqlstate in STATES and not (sqlstate[0] in STANDARD and sqlstate[2] in STANDARD)


def can_be_handled(sqlstate: str) -> bool:
    """Budgets, stops and internal errors pass every handler."""
    return sqlstate[:2] not in ("5B", "57", "XX")
