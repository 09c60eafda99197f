"""Locks, waits and what becomes of the transaction: `lock`, `waits`, `wakes`, `open`, `committed`, ..."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from glimb.engine.outcomes.outcome import HeldLock, Outcome, TransactionEvent
from glimb.engine.values.conversion import literal_of
from glimb.lang.node import Record
from glimb.suite.expectations.kind import Around, Expectation, Kind, Verdict
from glimb.suite.expectations.line import Line, Value, table_text
from glimb.suite.wording import failure_text, locks_text, waiting_text

LOCK_MODES = ("IS", "IX", "S", "U", "SIX", "X")


class Held(Record):
    """A lock: kind row or table, the table, the key of a row, the mode."""

    kind: str
    table: str
    key: tuple[Value, ...]
    mode: str


def _read_lock(line: Line) -> Held:
    kind = line.word("row or table")
    if kind not in ("row", "table"):
        line.at -= len(kind)
        line.fail(f"a lock is on a row or a table, not `{kind}`")
    table = line.table()
    key = line.key() if kind == "row" else ()
    mode = line.word("a lock mode").upper()
    if mode not in LOCK_MODES:
        line.at -= len(mode)
        line.fail(f"`{mode}` is no lock mode", ", ".join(LOCK_MODES))
    return Held(kind, table, key, mode)


def key_text(key: tuple[Value, ...]) -> str:
    """A key as locks show it."""
    return f"({', '.join(literal_of(v.value, v.type) for v in key)})"


def _same_key(shown: str, key: tuple[Value, ...]) -> bool:
    """Whether a lock's key is the expected one; CHAR is shown padded."""
    wanted = key_text(key)
    return shown.replace(" ", "") == wanted.replace(" ", "")


def _is_held(says: Held, held: HeldLock) -> bool:
    """Whether this is the lock that is spoken of."""
    if (held.kind, held.table, held.mode) != (says.kind, says.table, says.mode):
        return False
    return says.kind == "table" or _same_key(held.key, says.key)


def _judge_lock(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Held = e.says
    met = any(_is_held(says, held) for held in outcome.locks)
    return Verdict(e, met, e.text, locks_text(outcome.locks))


def _judge_no_locks(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    return Verdict(e, not outcome.locks, "no locks", locks_text(outcome.locks))


def _judge_no_other_locks(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    named: list[Held] = [s.says for s in around.siblings if s.kind == "lock"]
    others = [held for held in outcome.locks if not any(_is_held(says, held) for says in named)]
    return Verdict(e, not others, e.text, locks_text(others) if others else "no other locks")


class Awaited(Record):
    """For whom a statement waits, and on which table and row if that is said."""

    session: str
    table: str
    key: tuple[Value, ...]


def _read_waits(line: Line) -> Awaited:
    if not line.accept("for"):
        line.fail("FOR and a session are missing", "waits for desk on bunk (3)")
    session, table = line.name("the name of a session"), ""
    key: tuple[Value, ...] = ()
    if line.accept("on"):
        line.accept("row")
        table = line.table()
        key = line.key() if line.rest else ()
    return Awaited(session, table, key)


def _judge_waits(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    says: Awaited = e.says
    waiting = outcome.waiting or outcome.waited
    met = waiting is not None and says.session in waiting.sessions
    if met and waiting is not None and says.table:
        met = waiting.table == says.table and (not says.key or _same_key(waiting.key, says.key))
    seen = waiting_text(waiting) if outcome.failure is None or waiting else failure_text(outcome.failure)
    return Verdict(e, met, e.text, seen)


def _pin_waits(outcome: Outcome) -> Iterator[str]:
    lock = outcome.waiting
    if lock is not None:
        table = table_text(lock.table)
        on = f" on {table} {lock.key}".rstrip() if not lock.key.startswith("#") else f" on {table}"
        yield f"waits for {lock.sessions[0]}{on}"


class Woken(Record):
    """A session that goes on by it."""

    session: str


def _read_wakes(line: Line) -> Woken:
    return Woken(line.name("the name of a session"))


def _judge_wakes(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    seen = f"wakes {', '.join(outcome.wakes)}" if outcome.wakes else "wakes nobody"
    return Verdict(e, e.says.session in outcome.wakes, e.text, seen)


def _pin_wakes(outcome: Outcome) -> Iterator[str]:
    return (f"wakes {name}" for name in outcome.wakes)


def _judge_state(wanted: str) -> Callable[[Expectation, Outcome, Around], Verdict]:
    shown = {"none": "no transaction", "open": "open", "committed": "committed", "rolled back": "rolled back"}
    return lambda e, outcome, around: Verdict(e, outcome.transaction == wanted, wanted, shown[outcome.transaction])


def _pin_end(outcome: Outcome) -> Iterator[str]:
    """How the transaction ended, unless it began and ended with the statement, as under autocommit."""
    ended = any(e.ends for e in outcome.events)
    of_itself = outcome.kind in ("select", "insert", "update", "delete", "merge") and outcome.failure is None
    if ended and not of_itself:
        yield outcome.transaction


def _state_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    return iter((outcome.transaction,) if outcome.transaction != "none" else ())


def _locks_seen(e: Expectation, outcome: Outcome) -> Iterator[str]:
    if not outcome.locks:
        yield "no locks"
    for kind, table, key, mode in outcome.locks:
        yield f"lock {kind} {table_text(table)}{f' {key}' if key and not key.startswith('#') else ''} {mode}"


class Back(Record):
    """The savepoint to which it was rolled back."""

    name: str


def _read_savepoint(line: Line) -> Back:
    return Back(line.name("the name of a savepoint"))


def _judge_savepoint(e: Expectation, outcome: Outcome, around: Around) -> Verdict:
    met = TransactionEvent("to savepoint", e.says.name) in outcome.events
    seen = [str(x) for x in outcome.events if x.kind == "to savepoint"]
    return Verdict(e, met, e.text, ", ".join(seen) or "not rolled back to a savepoint")


KINDS = (
    Kind("no other locks", _judge_no_other_locks, covers="locks", looks_around=True),
    Kind("no locks", _judge_no_locks, covers="locks", seen=_locks_seen),
    Kind("lock", _judge_lock, _read_lock, covers="locks", seen=_locks_seen),
    Kind("waits", _judge_waits, _read_waits, _pin_waits, covers="waits"),
    Kind("wakes", _judge_wakes, _read_wakes, _pin_wakes, covers="waits"),
    Kind("open", _judge_state("open"), covers="transaction", seen=_state_seen),
    Kind("committed", _judge_state("committed"), pin=_pin_end, covers="transaction", seen=_state_seen),
    Kind("rolled back", _judge_state("rolled back"), covers="transaction", seen=_state_seen),
    Kind("to savepoint", _judge_savepoint, _read_savepoint, covers="transaction"),
)
