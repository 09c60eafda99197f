"""What a statement has changed: `change`, `no change`."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.changes import Change
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang.node import Record
from glimb.suite.expectations.comparing import same
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value, name_text, table_text
from glimb.suite.telling import told
from glimb.suite.wording import changes_text, counts_text


class Counts(Record):
    """How many rows of a table were inserted, updated, deleted."""

    table: str
    counts: tuple[int, int, int]


class CellChange(Record):
    """What a column of one row was and is."""

    table: str
    key: tuple[Value, ...]
    column: str
    old: Value
    new: Value


def _read_change(line: Line) -> Counts | CellChange:
    table = line.table()
    if line.rest.startswith("("):
        return _read_cell(line, table)
    counts = {"+": 0, "~": 0, "-": 0}
    if not line.rest:
        line.fail("what changed is missing", "+1 for inserted, ~1 for updated, -1 for deleted rows")
    while line.rest:
        word = line.peek()
        if word[0] not in counts or not word[1:].isdecimal():
            line.fail(f"`{word}` is no change", "+1 for inserted, ~1 for updated, -1 for deleted rows")
        counts[word[0]] = int(word[1:])
        line.at += len(word)
    return Counts(table, (counts["+"], counts["~"], counts["-"]))


def _read_cell(line: Line, table: str) -> CellChange:
    """(key) column old -> new."""
    key, column = line.key(), line.name("the name of a column")
    start = line.at
    line.until("->")
    if not line.rest.startswith("->"):
        line.fail("-> is missing", "change bunk (3) state 'free' -> 'held'")
    line.at = start
    old = line.literal("->")
    line.at += 2
    return CellChange(table, key, column, old, line.literal("\n"))


def _judge_change(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Counts | CellChange = e.says
    if isinstance(says, CellChange):
        return _judge_cell(e, says, outcome)
    seen = tuple(outcome.counts().get(says.table, [0, 0, 0]))
    return Verdict(e, seen == says.counts, f"{says.table} {counts_text(says.counts)}", changes_text(outcome.counts()))


def _judge_cell(e: Expectation, says: CellChange, outcome: Outcome) -> Verdict:
    mine = [c for c in outcome.changes if c.table.name == says.table]
    column = says.column
    for change in mine:
        if _is_key(change, says.key):
            position = change.table.positions.get(column)
            if position is None:
                return Verdict(e, False, e.text, f"{change.table.name} has no column {column}")
            type_ = change.table.columns[position].type
            old = change.before[position] if change.before is not None else None
            new = change.after[position] if change.after is not None else None
            met = same(says.old, old, type_) and same(says.new, new, type_)
            return Verdict(e, met, e.text, f"{column} {literal_of(old, type_)} -> {literal_of(new, type_)}")
    keys = [f"({', '.join(map(literal_of, c.key, _key_types(c)))})" for c in mine if c.table.primary is not None]
    shown = f"{says.table} {', '.join(keys[:5])} changed" if keys else changes_text(outcome.counts())
    return Verdict(e, False, e.text, shown + (f", and {len(keys) - 5} more" if len(keys) > 5 else ""))


def _key_types(change: Change) -> list[Type]:
    assert change.table.primary is not None
    return [change.table.columns[c].type for c in change.table.primary.columns]


def _is_key(change: Change, key: tuple[Value, ...]) -> bool:
    table = change.table
    if table.primary is None or len(key) != len(change.key):
        return False
    return all(same(k, v, t) for k, v, t in zip(key, change.key, _key_types(change), strict=True))


def _judge_no_change(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    return Verdict(e, not outcome.changes, "no change", changes_text(outcome.counts()))


def _judge_no_other(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    spoken = [s.says for s in around.siblings if s.kind == "change"]
    others = [c for c in outcome.changes if not _is_spoken(c, spoken)]
    return Verdict(e, not others, e.text, ", ".join(_shown(c) for c in others[:5]) or "no other change")


def _is_spoken(change: Change, spoken: list[Counts | CellChange]) -> bool:
    """Whether a change is among those that a table's counts count, or all that changed in the row is named."""
    mine = [s for s in spoken if s.table == change.table.name]
    if any(isinstance(s, Counts) for s in mine):
        return True
    if change.before is None or change.after is None:
        return False
    named = {s.column for s in mine if isinstance(s, CellChange) and _is_key(change, s.key)}
    columns = zip(change.table.columns, change.before, change.after, strict=False)
    return all(c.name in named for c, old, new in columns if old != new)


def _shown(change: Change) -> str:
    """A change in a few words."""
    row = told(change)
    cells = ", ".join(
        f"{name} {old or ''} -> {new}" if old and new else f"{new or old}" for name, old, new in row.cells
    )
    return f"{row.sign} {row.table} {row.key} {cells}".replace("  ", " ")


def _pin_changes(outcome: Outcome) -> Iterator[str]:
    """By table how many rows; of a single cell that changed, what it was and is; of a change that did nothing, that."""
    for table, (added, changed, removed) in sorted(outcome.counts().items()):
        cell = _single_cell(outcome, table) if (added, changed, removed) == (0, 1, 0) else ""
        signs = (f"{sign}{n}" for sign, n in (("+", added), ("~", changed), ("-", removed)) if n)
        yield f"change {table_text(table)} {cell or ' '.join(signs)}"
    if not outcome.changes and outcome.kind in ("insert", "update", "delete", "merge"):
        yield "no change"


def _single_cell(outcome: Outcome, table: str) -> str:
    """The one cell of the one row of a table that was changed; empty when there are several, or no key."""
    row = told(next(c for c in outcome.changes if c.table.name == table))
    name, old, new = row.cells[0]
    text = f"{row.key} {name_text(name)} {old} -> {new}"
    return text if row.key and len(row.cells) == 1 and len(text) <= MOST_OF_A_CELL else ""


MOST_OF_A_CELL = 80


def _changes_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    """The changes of the table that it is about; of a cell of a row, that cell."""
    says = e.says
    if isinstance(says, CellChange):
        change = next((c for c in outcome.changes if c.table.name == says.table and _is_key(c, says.key)), None)
        cells = {name: (old, new) for name, old, new in told(change).cells} if change is not None else {}
        if says.column in cells and change is not None and told(change).key:
            old, new = cells[says.column]
            yield f"change {table_text(says.table)} {told(change).key} {name_text(says.column)} {old} -> {new}"
            return
    counted = [
        line for line in _pin_changes(outcome) if not e.table or line.startswith(f"change {table_text(e.table)} ")
    ]
    yield from counted or ["no change"] * (not outcome.changes)


KINDS = (
    Kind("no other change", _judge_no_other, asks="absence", covers="changes", looks_around=True),
    Kind("no change", _judge_no_change, asks="absence", covers="changes", seen=_changes_seen),
    Kind("change", _judge_change, _read_change, _pin_changes, covers="changes", seen=_changes_seen),
)
