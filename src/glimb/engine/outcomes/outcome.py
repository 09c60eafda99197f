"""Outcomes: everything one statement did, as data. Judging, ladders, reports and screens all read these objects."""

from __future__ import annotations

from typing import Any, NamedTuple

from glimb.engine.outcomes.passes import Passes
from glimb.engine.storage.changes import Change, net_changes
from glimb.engine.storage.resources import other_key, singly
from glimb.engine.values.conditions import Origin
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang.node import Record
from glimb.lang.problem import Problem


class ResultColumn(NamedTuple):
    """Name and type of a column of a result."""

    name: str
    type: Type


class TransactionEvent(NamedTuple):
    """What happened to a transaction: begin, commit, rollback, savepoint, to savepoint, release, wait; the name of the
    savepoint. As text it is what it was called and the name."""

    kind: str
    name: str = ""

    @property
    def ends(self) -> bool:
        """Whether the transaction ended by it."""
        return self.kind in ("commit", "rollback")

    def __str__(self) -> str:
        return f"{self.kind} {self.name}".rstrip()


class Blocked(NamedTuple):
    """One wait of a deadlock: who waits for whom, and the lock wanted."""

    session: str
    holder: str
    lock: HeldLock

    def __str__(self) -> str:
        return f"{self.session} waits for {self.holder} on {self.lock.table} {self.lock.key}".rstrip()


class Failure(Record):
    """A condition that left a statement; `hints` are what the binder or parser adds."""

    sqlstate: str
    message: str
    origin: Origin | None
    name: str = ""
    details: str = ""
    """Place and hint, as shown below the message; may have several lines."""
    circle: tuple[Blocked, ...] = ()
    """Of a deadlock: who waited for whom on what."""
    problems: tuple[Problem, ...] = ()
    """What the binder or parser found, with its places."""
    first: tuple[str, Origin | None] | None = None
    """Of a condition that RESIGNAL has changed: what it was at first, and where it came from."""
    again: tuple[Origin, ...] = ()
    """Where RESIGNAL has raised it again as it was."""


class HeldLock(NamedTuple):
    """A lock: kind `row` or `table`, table name, key as text (empty for a table), mode."""

    kind: str
    table: str
    key: str
    mode: str


class Waiting(Record):
    """What a statement waits for: the sessions in its way, and the lock it wants."""

    sessions: tuple[str, ...]
    kind: str
    table: str
    key: str
    mode: str


class HandledCondition(NamedTuple):
    """A condition that a handler of a routine (or block) has taken: the kind of handler, and what it took."""

    routine: str
    kind: str
    sqlstate: str
    name: str
    message: str


class Result(NamedTuple):
    """What running a compiled statement gives back to its session."""

    columns: tuple[ResultColumn, ...] = ()
    rows: list[tuple[Any, ...]] | None = None
    row_count: int | None = None
    out: tuple[tuple[str, Type, Any], ...] = ()


NOTHING = Result()


ResultSet = tuple[tuple[ResultColumn, ...], list[tuple[Any, ...]]]


NO_PASSES = Passes()


class Outcome:
    """One executed statement. With `waiting` set it has not finished: its final outcome follows later."""

    __slots__ = (
        "_changes",
        "_locks",
        "columns",
        "entries",
        "events",
        "failure",
        "given",
        "handled",
        "holding",
        "kind",
        "more",
        "notes",
        "out",
        "passes",
        "row_count",
        "rows",
        "session",
        "trace",
        "transaction",
        "version",
        "waited",
        "waiting",
        "wakes",
    )

    def __init__(self, session: str, kind: str) -> None:
        self.session = session
        self.kind = kind
        self.failure: Failure | None = None
        self.columns: tuple[ResultColumn, ...] = ()
        self.rows: list[tuple[Any, ...]] | None = None
        self.row_count: int | None = None
        self.out: tuple[tuple[str, Type, Any], ...] = ()
        self.given: list[tuple[str, Type, Any]] = []
        """Host variables to which it has given a value."""
        self.passes = NO_PASSES
        """Of waymarks in its routines."""
        self.more: list[ResultSet] = []
        """Further result sets of a CALL."""
        self.notes: list[str] = []
        self.handled: list[HandledCondition] = []
        """What handlers took, in order."""
        self.entries: list[Any] = []
        """Log entries of the statement; `changes` folds them."""
        self.holding: tuple[list[tuple[Any, str]], int] = ([], 0)
        """Locks after the statement, each a resource and a mode: the first so many of a list (see `locks`)."""
        self._changes: list[Change] | None = None
        self._locks: list[HeldLock] | None = None
        self.waiting: Waiting | None = None
        self.waited: Waiting | None = None
        self.wakes: list[str] = []
        self.events: list[TransactionEvent] = []
        """In order."""
        self.transaction = "none"
        self.version: int | None = None
        """How many commits a reader saw, where others had changed what it read."""
        self.trace: Any = None
        """Events of a recorded run (see `recorder`)."""

    @property
    def changes(self) -> list[Change]:
        """Net changes, one a row."""
        if self._changes is None:
            self._changes = net_changes(self.entries) if self.entries else []
        return self._changes

    @property
    def locks(self) -> list[HeldLock]:
        """Locks held after the statement, in the order in which they were taken."""
        if self._locks is None:
            self._locks = locks_of(self.holding)
        return self._locks

    @property
    def results(self) -> list[ResultSet]:
        """All result sets of the statement, each with its columns; the first is `columns` and `rows`."""
        return [(self.columns, self.rows), *self.more] if self.rows is not None else []

    @property
    def completion(self) -> str:
        """How it ended when nothing went wrong: 02000 for a change that found no row."""
        return "02000" if self.row_count == 0 and self.rows is None else "00000"

    @property
    def ok(self) -> bool:
        return self.failure is None and self.waiting is None

    def counts(self) -> dict[str, list[int]]:
        """Rows inserted, updated and deleted, by table name."""
        found: dict[str, list[int]] = {}
        for change in self.changes:
            kind = 0 if change.before is None else 2 if change.after is None else 1
            found.setdefault(change.table.name, [0, 0, 0])[kind] += 1
        return found


Holding = tuple[list[tuple[Any, str]], int]
"""What is held at a moment: the first so many of a list of locks as they were taken and converted."""


def locks_of(holding: Holding) -> list[HeldLock]:
    """The locks that are held, in the order in which they were taken."""
    taken, count = holding
    held = dict(singly(taken[:count]))
    return list(dict.fromkeys(describe_lock(r, m) for r, m in held.items() if other_key(r) is None))


def describe_lock(resource: tuple[Any, Any], mode: str) -> HeldLock:
    """A lock with its key in SQL notation: `(3)`, `('VARN', 3)`, or `#7` for the row id of a table without key."""
    table, key = resource
    if key is None:
        return HeldLock("table", table.name, "", mode)
    kind, index, other = "row", table.primary, other_key(resource)
    if other is not None:
        name, key = other
        kind, index = "key", next(i for i in table.indexes if i.name == name)
    elif index is None:
        return HeldLock("row", table.name, f"#{key}", mode)
    values = key if isinstance(key, tuple) else (key,)
    types = [table.columns[c].type for c in index.columns]
    shown = ", ".join(literal_of(v, t) for v, t in zip(values, types, strict=True))
    return HeldLock(kind, table.name, f"({shown})", mode)
