"""What there is to say of an outcome, part by part: text, JSON lines and screens each write these parts in their way.

A part that is added here is missed by none of them: they tell the parts apart by type, and the type checker asks for
the new one."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from glimb.engine.outcomes.outcome import Failure, HeldLock, Outcome, ResultColumn, TransactionEvent, Waiting
from glimb.engine.outcomes.passes import Passes
from glimb.engine.storage.changes import Change
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang.node import Record
from glimb.suite.wording import row_texts


class Waits(Record):
    """It has not ended: what it waits for."""

    waiting: Waiting


class Condition(Record):
    """The condition that left it."""

    failure: Failure


class Rows(Record):
    """A result set: which one, of how many, its columns and rows."""

    number: int
    of: int
    columns: tuple[ResultColumn, ...]
    rows: list[tuple[Any, ...]]

    def texts(self, limit: int | None = None) -> list[list[str]]:
        """The rows as written in SQL, the first `limit` of them."""
        return row_texts(self.columns, self.rows[:limit])


class Values(Record):
    """The values of OUT parameters: name, type, value."""

    values: tuple[tuple[str, Type, Any], ...]

    def texts(self) -> list[tuple[str, str]]:
        """Names and values as written in SQL."""
        return [(name, literal_of(value, type_)) for name, type_, value in self.values]


class Given(Record):
    """Host variables that it gave a value: name, type, value."""

    values: list[tuple[str, Type, Any]]

    def texts(self) -> list[tuple[str, str]]:
        """Names with their colon, and values as written in SQL."""
        return [(f":{name}", literal_of(value, type_)) for name, type_, value in self.values]


class Passed(Record):
    """Waymarks that were passed, and what the variables were there."""

    passes: Passes

    def texts(self) -> list[tuple[str, str]]:
        """Of each waymark: its name with the number of passes, and its variables, those that changed from pass to pass
        with their first values."""
        found = []
        for mark, last in self.passes.last.items():
            every = [*(p for p in self.passes.kept if p.waymark == mark and p.number < last.number), last]
            cells = (
                f"{name} = {_course([p.values[at] for p in every], type_)}"
                for at, (name, type_) in enumerate(zip(mark.names, mark.types, strict=True))
            )
            times = f" ×{last.number:,}" if last.number > 1 else ""
            found.append((f"{mark.full_name}{times}", ", ".join(cells)))
        return found


MOST_SHOWN = 4


def _course(values: list[Any], type_: Type) -> str:
    """The values that a variable had one after the other, each once in a row: the first of them, and the last."""
    course = [v for v, before in zip(values, [object(), *values], strict=False) if v != before]
    texts = [literal_of(v, type_) for v in course]
    if len(texts) > MOST_SHOWN:
        texts = [*texts[: MOST_SHOWN - 1], "…", texts[-1]]
    return " → ".join(texts)


class Notes(Record):
    """What it said by the way."""

    notes: list[str]


class Count(Record):
    """How many rows it gave or changed."""

    rows: int
    found_none: bool
    """Of a change: no row was there to be changed (completion condition 02000)."""


class Changes(Record):
    """Net changes of rows, and rows inserted, updated and deleted by table."""

    changes: list[Change]
    counts: dict[str, list[int]]


class Locks(Record):
    """The locks that its session holds after it; described when asked, as most readers do not."""

    outcome: Outcome

    @property
    def held(self) -> list[HeldLock]:
        return self.outcome.locks


class Wakes(Record):
    """The sessions that go on because of it."""

    sessions: list[str]


class Transaction(Record):
    """How its transaction stands, and what happened to it."""

    state: str
    events: list[TransactionEvent]


Part = Waits | Condition | Rows | Values | Given | Passed | Notes | Count | Changes | Locks | Wakes | Transaction


def parts(outcome: Outcome) -> Iterator[Part]:
    """What there is to say, in the order in which it is told; nothing of what has not happened, but locks and
    transaction of each."""
    if outcome.waiting is not None:
        yield Waits(outcome.waiting)
    if outcome.failure is not None:
        yield Condition(outcome.failure)
    results = outcome.results
    for number, (columns, rows) in enumerate(results, 1):
        yield Rows(number, len(results), columns, rows)
    if outcome.out:
        yield Values(outcome.out)
    if outcome.given:
        yield Given(outcome.given)
    if outcome.passes.last:
        yield Passed(outcome.passes)
    if outcome.notes:
        yield Notes(outcome.notes)
    if outcome.row_count is not None:
        yield Count(outcome.row_count, outcome.completion == "02000")
    if outcome.changes:
        yield Changes(outcome.changes, outcome.counts())
    yield Locks(outcome)
    if outcome.wakes:
        yield Wakes(outcome.wakes)
    yield Transaction(outcome.transaction, outcome.events)


class ChangeTold(NamedTuple):
    """A change of one row, told: its sign (+ inserted, ~ updated, - deleted), table, key in parentheses (empty without
    one, and of a whole row), and columns with the values before and after as written in SQL; None where there is
    none."""

    sign: str
    table: str
    key: str
    cells: list[tuple[str, str | None, str | None]]


def told(change: Change) -> ChangeTold:
    """A change in texts: the whole row that came or went, or what of a row was changed."""
    table = change.table
    types = [c.type for c in table.columns]
    before, after = (
        [literal_of(v, t) for v, t in zip(row, types, strict=True)] if row is not None else [None] * len(types)
        for row in (change.before, change.after)
    )
    cells = list(zip([c.name for c in table.columns], before, after, strict=True))
    if change.before is None or change.after is None:
        return ChangeTold("+" if change.before is None else "-", table.name, "", cells)
    changed = [c for c, old, new in zip(cells, change.before, change.after, strict=True) if old != new]
    if table.primary is None:
        return ChangeTold("~", table.name, "", changed)
    key = ", ".join(literal_of(v, types[c]) for v, c in zip(change.key, table.primary.columns, strict=True))
    return ChangeTold("~", table.name, f"({key})", changed)
