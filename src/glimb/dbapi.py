"""Python's standard database interface (PEP 249) to the embedded engine.

    import glimb.dbapi
    connection = glimb.dbapi.connect(project="demo", fixture="valley")
    cursor = connection.cursor()
    cursor.execute("SELECT name FROM hut WHERE height > ?", [2000])

Values come and go as Python's own: DECIMAL as decimal.Decimal, dates and times as those of datetime, an INTERVAL of
days to seconds as timedelta, one of months as its text, BINARY as bytes, an array as a list, a row as a tuple. A
connection is a session: transactions start by themselves and end with commit() or rollback().
"""

from __future__ import annotations

import datetime
import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from decimal import Decimal
from pathlib import Path
from typing import Any, NoReturn

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.hosts import HostValue
from glimb.engine.values import conversion as V
from glimb.engine.values import types as T
from glimb.engine.values.conditions import Condition, Origin, condition_of
from glimb.engine.values.types import Type
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.project import open_project
from glimb.suite.world import build

apilevel = "2.0"
threadsafety = 0
paramstyle = "qmark"

Date, Time, Timestamp, Binary = datetime.date, datetime.time, datetime.datetime, bytes


def DateFromTicks(ticks: float) -> datetime.date:
    return Date(*time.localtime(ticks)[:3])


def TimeFromTicks(ticks: float) -> datetime.time:
    return Time(*time.localtime(ticks)[3:6])


def TimestampFromTicks(ticks: float) -> datetime.datetime:
    return Timestamp(*time.localtime(ticks)[:6])


# ---- exceptions (PEP 249), by SQLSTATE class -------------------------------------------------------------------------


class Warning(Exception):
    """Something important that is no error."""


class Error(Exception):
    """Whatever goes wrong; `sqlstate` tells what, `routine`, `line` and `file` where, if it was inside a routine, and
    `calls` by which calls, each a routine, line and file, the innermost first. `first` is what RESIGNAL has changed:
    the SQLSTATE, routine, line and file of before."""

    sqlstate = ""
    routine = ""
    line = 0
    file = ""
    calls: tuple[tuple[str, int, str], ...] = ()
    first: tuple[str, str, int, str] | None = None


class InterfaceError(Error):
    """The interface is used in a wrong way."""


class DatabaseError(Error):
    """The engine has raised a condition."""


class DataError(DatabaseError):
    """Class 22: a value."""


class OperationalError(DatabaseError):
    """Classes 40, 53 to 58, 5B, 5L: locks, limits, rolled back."""


class IntegrityError(DatabaseError):
    """Classes 23 and 44: a constraint."""


class InternalError(DatabaseError):
    """Classes 24, 25, 2D, 3B, XX: a wrong state."""


class ProgrammingError(DatabaseError):
    """Classes 07, 21, 26, 2F, 3F, 42: the statement."""


class NotSupportedError(DatabaseError):
    """Class 0A."""


_CLASSES: dict[str, type[DatabaseError]] = {
    **dict.fromkeys(("22",), DataError),
    **dict.fromkeys(("23", "44"), IntegrityError),
    **dict.fromkeys(("40", "53", "54", "57", "58", "5B", "5L"), OperationalError),
    **dict.fromkeys(("24", "25", "2D", "3B", "XX"), InternalError),
    **dict.fromkeys(("07", "21", "26", "2F", "3F", "42"), ProgrammingError),
    "0A": NotSupportedError,
}


def _raise(
    sqlstate: str, message: str, origin: Origin | None = None, first: tuple[str, Origin | None] | None = None
) -> NoReturn:
    error = _CLASSES.get(sqlstate[:2], DatabaseError)(f"{sqlstate}: {message}")
    error.sqlstate = sqlstate
    if origin is not None:
        error.routine, error.line, error.file = origin.routine, origin.line, origin.file
        error.calls = tuple((call.routine, call.line, call.file) for call in origin.calls)
    if first is not None:
        state, place = first
        error.first = (state, *(place[:3] if place is not None else ("", 0, "")))
    raise error


# ---- types ----------------------------------------------------------------------------------------------------------


class _TypeObject:
    """Equal to the type codes of a kind of column."""

    def __init__(self, *families: str) -> None:
        self.families = families

    def __eq__(self, other: object) -> bool:
        return other in self.families if isinstance(other, str) else self is other

    def __hash__(self) -> int:
        return hash(self.families)


STRING = _TypeObject("text")
BINARY = _TypeObject("bytes")
NUMBER = _TypeObject("exact", "approximate")
DATETIME = _TypeObject("date", "time", "timestamp", "micros", "months")
ROWID = _TypeObject("rowid")


def _to_python(value: Any, type_: Type) -> Any:
    """A value of the engine as Python's own."""
    type_ = T.source_of(type_)
    if value is None:
        return None
    if type_.kind == "decimal":
        return Decimal(V.scaled_to_text(value, type_.scale))
    if type_.kind == "micros":
        try:
            return datetime.timedelta(microseconds=value)
        except OverflowError:
            _raise("22015", f"{V.interval_text(value, type_)} is too long for a timedelta")
    if type_.kind == "months":
        return V.interval_text(value, type_)
    if type_.kind == "array":
        return [_to_python(v, type_.parts[0]) for v in value]
    if type_.kind == "row":
        return tuple(_to_python(v, t) for v, t in zip(value, type_.parts, strict=True))
    return value


def _from_python(value: Any) -> tuple[Any, Type]:
    """A Python value as one of the engine, with its type."""
    match value:
        case None:
            return None, T.NULL
        case bool():
            return value, T.BOOLEAN
        case int():
            kind = T.INTEGER if -(2**31) <= value < 2**31 else T.BIGINT if -(2**63) <= value < 2**63 else None
            return value, kind or T.decimal(len(str(abs(value))), 0)
        case float():
            return value, T.DOUBLE
        case Decimal():
            return _from_decimal(value)
        case str():
            return value, T.varchar(len(value))
        case bytes() | bytearray():
            return bytes(value), Type("varbinary", max(1, len(value)))
        case datetime.datetime():
            return value, T.TIMESTAMP
        case datetime.date():
            return value, T.DATE
        case datetime.time():
            return value, T.TIME
        case datetime.timedelta():
            return value // datetime.timedelta(microseconds=1), T.DAY_TO_SECOND
        case list():
            return _from_list(value)
    raise InterfaceError(f"a {type(value).__name__} is no value of SQL")


def _from_decimal(value: Decimal) -> tuple[int, Type]:
    if not value.is_finite():
        raise InterfaceError(f"{value} is no value of SQL")
    _, digits, exponent = value.as_tuple()
    scale = max(0, -int(exponent))
    return int(value.scaleb(scale)), T.decimal(max(len(digits) + max(0, int(exponent)), scale), scale)


def _from_list(values: list[Any]) -> tuple[tuple[Any, ...], Type]:
    """An array; its elements must be of types that can be combined."""
    pairs = [_from_python(v) for v in values]
    type_ = T.NULL
    for _, other in pairs:
        joined = T.common(type_, other)
        if joined is None:
            raise InterfaceError(f"an array cannot mix {type_} and {other}")
        type_ = joined
    return tuple(V.convert(v, t, type_) for v, t in pairs), T.array(type_, max(1, len(values)))


# ---- connection and cursor ------------------------------------------------------------------------------------------


def connect(
    project: str | Path | None = None, fixture: str = "", engine: Engine | None = None, session: str = "main"
) -> Connection:
    """Open a session: in an engine that is there, or in a new one with a project and one of its fixtures."""
    if engine is None:
        if project is None:
            engine = Engine()
        else:
            found = open_project(Path(project))
            if found.root is None:
                raise InterfaceError(f"{project} is no project: there is no glimb.toml")
            try:
                engine = build(found, fixture or found.settings.default_fixture)
            except ProblemError as error:
                first = error.problems[0]
                _raise(first.sqlstate, first.brief())
    return Connection(engine, session)


class Connection:
    """A session of an engine."""

    Warning = Warning
    Error = Error
    InterfaceError = InterfaceError
    DatabaseError = DatabaseError
    DataError = DataError
    OperationalError = OperationalError
    IntegrityError = IntegrityError
    InternalError = InternalError
    ProgrammingError = ProgrammingError
    NotSupportedError = NotSupportedError

    def __init__(self, engine: Engine, name: str) -> None:
        self.engine = engine
        self._session = engine.session(name)
        self._closed = False

    @property
    def autocommit(self) -> bool:
        """Whether every statement is a transaction of its own."""
        return self._session.autocommit

    @autocommit.setter
    def autocommit(self, value: bool) -> None:
        self._session.autocommit = value

    def cursor(self) -> Cursor:
        self._check()
        return Cursor(self)

    @property
    def hosts(self) -> dict[str, Any]:
        """The values of all host variables of the engine, by name."""
        return {name: _to_python(host.value, host.type) for name, host in self.engine.shared.hosts.items()}

    def set_hosts(self, values: Mapping[str, Any]) -> None:
        """Give host variables their values."""
        for name, value in values.items():
            given, type_ = _from_python(value)
            self.engine.shared.hosts[name.lower()] = HostValue(type_, given)

    def connect(self, session: str) -> Connection:
        """Another session of the same engine."""
        return Connection(self.engine, session)

    def commit(self) -> None:
        self._check()
        self._run("COMMIT", [])

    def rollback(self) -> None:
        self._check()
        self._run("ROLLBACK", [])

    def close(self) -> None:
        """End the session; what is not committed is taken back."""
        if not self._closed:
            self._run("ROLLBACK", [])
            self._closed = True

    def __enter__(self) -> Connection:
        return self

    def __exit__(self, kind: object, error: object, traceback: object) -> None:
        if not self._closed:
            self.commit() if error is None else self.rollback()

    def _check(self) -> None:
        if self._closed:
            raise InterfaceError("the connection is closed")

    def _run(self, text: str, parameters: Sequence[Any]) -> Outcome:
        self._check()
        source = Source(text, "statement")
        parsed = parse(source)
        if parsed.problems:
            _raise(parsed.problems[0].sqlstate, parsed.problems[0].brief())
        if len(parsed.statements) != 1:
            raise ProgrammingError(f"one statement is wanted, not {len(parsed.statements)}")
        pairs = [_from_python(p) for p in parameters]
        try:
            outcome = self.engine.execute_with(self._session, parsed.statements[0], source, pairs)
        except Condition as condition:
            _raise(condition.sqlstate, condition.message)
        except Exception as error:
            internal = condition_of(error, source)
            _raise(internal.sqlstate, internal.message)
        if outcome.waiting is not None:
            names = ", ".join(outcome.waiting.sessions)
            self.engine.give_up(self._session)
            _raise("5L001", f"{outcome.waiting.table} {outcome.waiting.key} is locked by {names}")
        if outcome.failure is not None:
            failure = outcome.failure
            _raise(failure.sqlstate, failure.message, failure.origin, failure.first)
        return outcome


Description = tuple[str, str, None, None, int | None, int | None, bool | None]


class Cursor:
    """Runs statements, and holds the rows of the last one."""

    def __init__(self, connection: Connection) -> None:
        self.connection = connection
        self.arraysize = 1
        self.description: list[Description] | None = None
        self.rowcount = -1
        self.notes: list[str] = []
        """What the statement said with CALL note."""
        self._sets: list[tuple[list[Description], list[Any]]] = []
        self._rows: list[Any] | None = None
        self._at = 0
        self._closed = False

    def execute(self, operation: str, parameters: Sequence[Any] | Mapping[str, Any] = ()) -> Cursor:
        """Run one statement; `?` stands for a parameter. With a mapping, its values are given to host variables,
        `:name`, which keep them (see `Connection.hosts`)."""
        self._check()
        self.rowcount, self._sets = -1, []
        self._take()  # what was there before is not the result of a statement that fails
        if isinstance(parameters, Mapping):
            self.connection.set_hosts(parameters)
            parameters = ()
        outcome = self.connection._run(operation, parameters)
        self.notes = outcome.notes
        self.rowcount = -1 if outcome.row_count is None else outcome.row_count
        if outcome.rows is not None:
            self._sets = [_result(outcome.columns, outcome.rows), *(_result(c, r) for c, r in outcome.more)]
        elif outcome.out:
            columns = tuple((name, type_) for name, type_, _ in outcome.out)
            self._sets = [_result(columns, [tuple(value for _, _, value in outcome.out)])]
        self._take()
        return self

    def executemany(self, operation: str, parameters: Iterable[Sequence[Any]]) -> Cursor:
        """Run a statement for each set of parameters; `rowcount` counts all of them."""
        total = 0
        for one in parameters:
            self.execute(operation, one)
            if self._rows is not None:
                raise ProgrammingError("executemany is for statements that give no rows")
            total += max(0, self.rowcount)
        self.rowcount = total
        return self

    def callproc(self, name: str, parameters: Sequence[Any] = ()) -> list[Any]:
        """CALL a procedure; gives the parameters, OUT and INOUT ones as they came back."""
        marks = ", ".join("?" * len(parameters))
        group = self.connection.engine.catalog.routines.get(name.lower(), ())
        modes = [p.mode for p in group[0].parameters] if len(group) == 1 else []
        given = [p for p, mode in zip(parameters, modes, strict=False) if mode != "out"] if modes else list(parameters)
        if modes:
            shown = ["DEFAULT" if m == "out" else "?" for m in modes[: len(parameters)]]
            marks = ", ".join(shown)
        self.execute(f"CALL {name}({marks})", given)
        back = list(parameters)
        places = [n for n, mode in enumerate(modes) if mode != "in"]
        if places and self._rows:
            for place, value in zip(places, self._rows[0], strict=False):
                if place < len(back):
                    back[place] = value
        return back

    def _take(self) -> None:
        self.description, self._rows = self._sets.pop(0) if self._sets else (None, None)
        self._at = 0

    def nextset(self) -> bool | None:
        """Go to the next result set of a CALL; None when there is none."""
        self._check()
        if not self._sets:
            return None
        self._take()
        return True

    def fetchone(self) -> tuple[Any, ...] | None:
        rows = self._need()
        if self._at >= len(rows):
            return None
        self._at += 1
        row: tuple[Any, ...] = rows[self._at - 1]
        return row

    def fetchmany(self, size: int | None = None) -> list[tuple[Any, ...]]:
        rows = self._need()
        count = self.arraysize if size is None else size
        taken = rows[self._at : self._at + count]
        self._at += len(taken)
        return taken

    def fetchall(self) -> list[tuple[Any, ...]]:
        taken = self._need()[self._at :]
        self._at += len(taken)
        return taken

    def __iter__(self) -> Iterator[tuple[Any, ...]]:
        while (row := self.fetchone()) is not None:
            yield row

    def close(self) -> None:
        self._closed, self._rows = True, None

    def setinputsizes(self, sizes: Sequence[Any]) -> None:
        """Nothing needs to be known beforehand."""

    def setoutputsize(self, size: int, column: int | None = None) -> None:
        """Values come whole."""

    def _check(self) -> None:
        if self._closed:
            raise InterfaceError("the cursor is closed")

    def _need(self) -> list[Any]:
        self._check()
        if self._rows is None:
            raise ProgrammingError("the last statement gave no rows")
        return self._rows


def _result(columns: Sequence[tuple[str, Type]], rows: list[Any]) -> tuple[list[Description], list[Any]]:
    """Description and rows of a result, as Python's own values."""
    description: list[Description] = []
    for name, type_ in columns:
        plain = T.source_of(type_)
        precision, scale = T.digits(plain) if plain.family == "exact" else (None, None)
        description.append((name, plain.family, None, None, precision, scale, None))
    types = [type_ for _, type_ in columns]
    return description, [tuple(_to_python(v, t) for v, t in zip(row, types, strict=False)) for row in rows]
