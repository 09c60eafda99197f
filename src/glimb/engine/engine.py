"""The engine: catalog, storage, locks, clock and sessions, and the turn by which sessions run.

One thread, no real time: a session runs until its statement ends or must wait; whoever it has woken runs next, in
the order in which they were woken. So the same statements give the same outcomes, always.
"""

from __future__ import annotations

import sys
from collections import deque
from collections.abc import Callable
from datetime import datetime, timedelta
from itertools import islice
from typing import Any, NamedTuple

from greenlet import getcurrent, greenlet

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.compiler import Compiler
from glimb.engine.outcomes.outcome import Failure, Outcome, Waiting, describe_lock
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.log import Entry
from glimb.engine.storage.table import SHARED, Sequence, Table
from glimb.engine.transactions.budget import Watch
from glimb.engine.transactions.isolation import MODELS, Model, Versions
from glimb.engine.transactions.locks import LockTable, Resource, Wait
from glimb.engine.transactions.session import DefinitionChanged, Session, size_of
from glimb.engine.values import origins as trace
from glimb.engine.values.conditions import Condition, condition_of
from glimb.engine.values.problems import problem_condition
from glimb.engine.values.types import Type
from glimb.lang.node import Record, replace
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import Statement

EPOCH = datetime(2030, 1, 1, 9, 0, 0)
PYTHON_FRAMES = 30_000


class Limits(NamedTuple):
    """Budgets that no honest case meets: rounds of one loop, rows of a recursive common table, depth of calls,
    seconds of real time a statement, bytes of memory for a statement and for the rows of a world."""

    rounds: int = 10_000_000
    rows: int = 1_000_000
    depth: int = 500
    seconds: float = 10.0
    memory: int = 1_000_000_000


class Base(Record):
    """The state to which a reset goes back."""

    history: int
    next_ids: dict[Table, int]
    clock: datetime
    drawn: dict[Sequence, int]
    private: dict[str, dict[Table, Table]]
    """By session: its rows of temporary tables, by table."""


class Engine:
    """An embedded SQL engine. It belongs to the thread that made it."""

    def __init__(self, limits: Limits = Limits()) -> None:
        if sys.getrecursionlimit() < PYTHON_FRAMES:
            sys.setrecursionlimit(PYTHON_FRAMES)
        self.limits = limits
        self.hub = getcurrent()
        self.catalog = Catalog()
        self.catalog.watch = self._look_at_watch
        self.watch = Watch()
        self.compiler = Compiler(self)
        self.locks = LockTable()
        self.default_model = "versions"
        self.model: Model = Versions(self)
        self.sessions: dict[str, Session] = {}
        self.idle: list[greenlet] = []
        self.history: list[tuple[int, list[Entry]]] = []
        self.sequence = 0
        self.clock = EPOCH
        self.now = EPOCH
        self.elapsed = 0.0
        self.recording = False
        self.plain = False
        """Whether queries are run as they stand, without planning: to compare with."""
        self.rollback_unhandled = False
        """Whether a condition that leaves a statement rolls its transaction back (hosts differ)."""
        self.problems: list[Problem] = []
        """What is wrong in the texts that it was loaded from, where that is met only by who needs them."""
        self._running: dict[Session, Outcome] = {}
        self._ready: deque[tuple[Session, Condition | None]] = deque()
        self._base = Base(0, {}, EPOCH, {}, {})
        self._bases: list[Base] = []

    # -- sessions and statements

    def session(self, name: str) -> Session:
        """The session of this name, made when first named."""
        found = self.sessions.get(name)
        if found is None:
            found = self.sessions[name] = Session(self, name)
            found.private_tables.update(self._base.private.get(name, {}))
        return found

    def execute_with(
        self, session: Session, statement: Statement, source: Source, parameters: list[tuple[Any, Type]]
    ) -> Outcome:
        """Run one statement with values, each with its type, for its `?`; gives its outcome."""
        values, types = tuple(v for v, _ in parameters), tuple(t for _, t in parameters)
        return self.execute(session, statement, source, values, types if parameters else None)[0]

    def _look_at_watch(self) -> None:
        session = self.watch.session
        if session is not None:
            session.watch()

    def give_up(self, session: Session) -> None:
        """End the statement in which a session waits, as if the lock had not been to be had."""
        self._ready.append((session, Condition("5L001", "the lock is not available")))
        self._run_woken(Outcome("", "wait"))

    def execute(
        self,
        session: Session,
        statement: Statement,
        source: Source,
        values: tuple[Any, ...] = (),
        types: tuple[Type, ...] | None = None,
    ) -> list[Outcome]:
        """Run one statement of a session, and whoever it wakes. First its own outcome (perhaps one that waits), then
        the final outcomes of the statements of the others, in the order in which they ended."""
        if session.waiting is not None:
            return [self._refused(session, "5L003", f"session {session.name} is still waiting for a lock")]
        self.hub = getcurrent()
        outer = self.watch.begin(session, self.limits.seconds, self.limits.memory)
        session.stop, session.source = None, source
        try:
            compiled = self.compiler.statement(statement, source, session, types)
            if len(values) > compiled.parameters:
                raise Condition("07001", f"{len(values)} values for {compiled.parameters} parameters")
        except ProblemError as error:
            return [self._invalid(session, error)]
        except RecursionError:
            return [self._refused(session, "54001", "the statement is too complex")]
        except Exception as error:  # a fault of ours must not end the session
            return [self.failed(session, error, source)]
        finally:
            self.watch.session = outer
        outcome = Outcome(session.name, compiled.kind)
        session.start_statement()
        session.trace = []
        self._running[session] = outcome

        def work(s: Session) -> Any:
            """Run it; again, as it then is, when a definition has changed while it waited and it had done nothing."""
            current, mark = compiled, len(s.log)
            while True:
                try:
                    return current.run(s, 0, *values)
                except DefinitionChanged:
                    if len(s.log) != mark or not s.active:
                        raise
                    try:
                        current = self.compiler.statement(statement, source, s, types)
                    except ProblemError as error:
                        raise problem_condition(error) from None

        outcomes = [self._turn(session, work)]
        outcomes += self._run_woken(outcomes[0])
        outcomes[0].holding = session.holding()
        return outcomes

    def _run_woken(self, waker: Outcome) -> list[Outcome]:
        """Let everybody go on who can; those that end give their outcomes."""
        outcomes: list[Outcome] = []
        while self._ready:
            session, condition = self._ready.popleft()
            waker.wakes.append(session.name)
            outcome = self._turn(session, condition)
            if outcome.waiting is None:
                outcome.holding = session.holding()
                outcomes.append(outcome)
        return outcomes

    def _turn(self, session: Session, work: Callable[[Session], Any] | Condition | None) -> Outcome:
        """One turn of a session: to the end of its statement, or to its next wait."""
        outer = self.watch.begin(session, self.limits.seconds, self.limits.memory)
        result = session.resume(work)
        self.watch.session = outer
        outcome = self._running[session]
        if isinstance(result, Wait):
            waiting = self._waiting(result)
            told = Outcome(session.name, outcome.kind)
            told.waiting = outcome.waited = waiting
            told.transaction = self._state(session, [])
            told.holding = session.holding()
            return told
        del self._running[session]
        self._complete(session, outcome, result)
        return outcome

    def _complete(self, session: Session, outcome: Outcome, result: Any) -> None:
        if isinstance(result, BaseException):
            outcome.failure = self._failure(result, session)
            if self.rollback_unhandled and session.active:
                session.rollback()
        else:
            outcome.columns, outcome.rows, outcome.row_count, outcome.out = result
            outcome.more = session.more_results
        if session.autocommit and session.active and not session.explicit:
            try:
                self._autocommit(session, outcome)
            except Condition as condition:
                outcome.failure = self._failure(condition, session)
        session.end_statement()
        outcome.version = session.version
        outcome.notes = session.notes
        if session.more_notes:
            outcome.notes = [*session.notes, f"... and {session.more_notes:,} more notes"]
        outcome.entries = session.entries()
        outcome.events = session.events
        outcome.transaction = self._state(session, session.events)
        outcome.trace = session.trace or None

    def _autocommit(self, session: Session, outcome: Outcome) -> None:
        if outcome.failure is None:
            session.commit()
        else:
            session.rollback()

    def _state(self, session: Session, events: list[str]) -> str:
        """none, open, committed or rolled back."""
        if session.active:
            return "open"
        ends = [e for e in events if e in ("commit", "rollback")]
        if not ends:
            return "none"
        return "committed" if ends[-1] == "commit" else "rolled back"

    def _failure(self, error: BaseException, session: Session) -> Failure:
        condition = condition_of(error, session.source)
        if not condition.located:
            condition.origin = trace.origin(error)
            condition.located = True
        circle = condition.items.get("circle", ())
        details = condition.items.get("details", "")
        failure = Failure(condition.sqlstate, condition.message, condition.origin, condition.name, details, circle)
        problems, first = condition.items.get("problems", ()), condition.items.get("first")
        return replace(failure, problems=problems, first=first) if problems or first else failure

    def _invalid(self, session: Session, error: ProblemError) -> Outcome:
        """Outcome of a statement that the binder or parser has refused."""
        first = error.problems[0]
        outcome = self._refused(session, first.sqlstate, first.message)
        details = "\n".join(p.describe() for p in error.problems)
        outcome.failure = Failure(first.sqlstate, first.brief(), None, "", details, (), tuple(error.problems))
        return outcome

    def refuse(self, session: Session, error: ProblemError) -> Outcome:
        """Outcome of a text that is no statement."""
        return self._invalid(session, error)

    def failed(self, session: Session, error: BaseException, source: Source) -> Outcome:
        """Outcome of a statement that ran into a fault of ours."""
        condition = condition_of(error, source)
        return self._refused(session, condition.sqlstate, condition.message)

    def _refused(self, session: Session, sqlstate: str, message: str) -> Outcome:
        outcome = Outcome(session.name, "invalid")
        outcome.failure = Failure(sqlstate, message, None)
        outcome.transaction = self._state(session, [])
        outcome.holding = session.holding()
        return outcome

    # -- waiting

    def use_model(self, name: str) -> None:
        """Choose the concurrency model; no transaction may be active."""
        self.model = MODELS[name](self)

    def describe(self, resource: Resource, mode: str) -> str:
        """A resource in words."""
        lock = describe_lock(resource, mode)
        return f"{lock.table} {lock.key}".rstrip()

    def wake(self, sessions: list[Session]) -> None:
        """These have got their locks and go on when the running statement has ended or waits."""
        self._ready.extend((s, None) for s in sessions)

    def release(self, session: Session, resources: list[Resource]) -> None:
        self.wake(self.locks.release(session, resources))

    def advance(self, seconds: float) -> list[Outcome]:
        """Move the virtual clock; waits whose patience has run out end, in the order in which it does."""
        self.elapsed += seconds
        try:
            self.clock += timedelta(seconds=seconds)
        except OverflowError:
            raise Condition("22008", "the clock cannot go beyond the year 9999") from None
        out = Outcome("", "wait")
        waiting = [s for s in self.sessions.values() if s.waiting is not None]
        due = [s for s in waiting if s.waiting and s.waiting.until is not None and s.waiting.until <= self.elapsed]
        due.sort(key=lambda s: (s.waiting.until or 0.0) if s.waiting else 0.0)
        for session in due:
            wait = session.waiting
            if wait is not None and not any(s is session for s, _ in self._ready):
                message = f"waited {wait.seconds:g}s for {', '.join(wait.blockers)}"
                self._ready.append((session, Condition("5L002", message)))
        return self._run_woken(out)

    def tell_circle(self, circle: list[Session]) -> tuple[str, tuple[str, ...]]:
        """A deadlock in words: who waits for whom on what."""
        told = []
        for number, session in enumerate(circle):
            wait = session.waiting
            holder = circle[(number + 1) % len(circle)]
            if wait is not None:
                lock = self._waiting(wait)
                told.append(f"{session.name} waits for {holder.name} on {lock.table} {lock.key}".rstrip())
        return f"deadlock: {'; '.join(told)}; {circle[0].name} was rolled back", tuple(told)

    def _waiting(self, wait: Wait) -> Waiting:
        held = describe_lock(wait.resource, wait.mode)
        return Waiting(wait.blockers, held.kind, held.table, held.key, wait.mode)

    # -- committed work

    def keep(self, session: Session) -> None:
        """Make the changes of a session visible to all."""
        if session.log:
            self.sequence += 1
            self.history.append((self.sequence, session.log))
            for table in {e[0] for e in session.log if isinstance(e[0], Table)}:
                table.changed_at = self.sequence
            self.unmark(session)

    def unmark(self, session: Session) -> None:
        """A session has no uncommitted changes any more."""
        for table in session.written:
            table.writers.discard(session)
            rest = table.writers
            table.writer = None if not rest else next(iter(rest)) if len(rest) == 1 else SHARED
        session.written = set()

    def patch(self, session: Session, table: Table) -> dict[int, Row | None]:
        """Rows that a session must see otherwise than they stand in the table: not the uncommitted changes of
        others, nor what was committed after its snapshot; its own always."""
        own = {e[1] for e in session.log if e[0] is table}
        patch: dict[int, Row | None] = {}
        for other in table.writers:
            if other is not session:
                for entry in reversed(other.log):
                    if entry[0] is table:
                        patch[entry[1]] = entry[2]
        for sequence, entries in reversed(self.history):
            if sequence <= session.snapshot:
                break
            for entry in reversed(entries):
                if entry[0] is table and entry[1] not in own:
                    patch[entry[1]] = entry[2]
        return patch

    # -- going back

    def set_base(self) -> None:
        """What is committed now is what `reset` goes back to."""
        self.history.clear()
        self._bases.clear()
        self._base = self._now()

    def _now(self) -> Base:
        private = {name: dict(s.private_tables) for name, s in self.sessions.items() if s.private_tables}
        tables = [*self.catalog.tables(), *(t for own in private.values() for t in own.values())]
        drawn = {q: q.next for q in self.catalog.all_sequences()}
        return Base(len(self.history), {t: t.next_id for t in tables}, self.clock, drawn, private)

    def push_base(self) -> None:
        """What is committed now is what `reset` goes back to, until `pop_base`."""
        self._bases.append(self._base)
        self._base = self._now()

    def pop_base(self) -> None:
        """Go back to the base before the last `push_base`."""
        self._base = self._bases.pop()
        self.reset()

    def count_rows(self) -> None:
        """Called when a transaction has changed many rows: 5B005 when all tables together hold too much."""
        total = 0
        for table in self.catalog.tables():
            rows = table.rows
            sample = [row for row in islice(rows.values(), 20) if row is not None]
            total += len(rows) * (100 + sum(map(size_of, sample)) // max(1, len(sample)))
        if total > self.limits.memory:
            raise Condition("5B005", f"the tables hold more than {self.limits.memory:,} bytes")

    def first_new_id(self, table: Table) -> int:
        """Row ids from this one on came after the base."""
        return self._base.next_ids.get(table, 1)

    def close(self) -> None:
        """End all sessions, in the middle of statements too, and let their greenlets go: nothing holds the engine then
        but those who know it."""
        for session in self.sessions.values():
            session.end()
        self.sessions, self.idle = {}, []
        self._ready.clear()
        self._running.clear()

    def reset(self) -> None:
        """Drop all sessions and take back everything since the base, committed or not. Costs what was changed."""
        self._ready.clear()
        self._running.clear()
        for session in self.sessions.values():
            green = session.end()
            if green is not None:
                self.idle.append(green)
        self.locks = LockTable()
        self.sessions = {}
        while len(self.history) > self._base.history:
            _, entries = self.history.pop()
            for where, key, before, after in reversed(entries):
                where.undo(key, before, after)
        for table, next_id in self._base.next_ids.items():
            table.next_id = next_id
            table.changed_at = 0
        for sequence, value in self._base.drawn.items():
            sequence.next = value
        self.clock = self._base.clock
        self.elapsed = 0.0
        self.use_model(self.default_model)
