"""The engine: sessions by name, and the turn by which their statements run.

One thread, no real time: a session runs until its statement ends or must wait; whoever it has woken runs next, in
the order in which they were woken. So the same statements give the same outcomes, always.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from greenlet import getcurrent

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.compiling.compiler import Compiler
from glimb.engine.compiling.statements import Compiled
from glimb.engine.outcomes.coverage import Coverage
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.table import Table
from glimb.engine.transactions import telling
from glimb.engine.transactions.bases import Bases
from glimb.engine.transactions.budget import Watch
from glimb.engine.transactions.claims import Claims, DefinitionChanged, told_wait
from glimb.engine.transactions.hosts import Hosts
from glimb.engine.transactions.isolation import MODELS
from glimb.engine.transactions.limits import Limits as Limits
from glimb.engine.transactions.locks import LockTable, Wait
from glimb.engine.transactions.session import Session
from glimb.engine.transactions.shared import Shared
from glimb.engine.values.conditions import Condition, condition_of
from glimb.engine.values.problems import problem_condition
from glimb.engine.values.types import Type
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import Statement

PYTHON_FRAMES = 30_000
DEFAULT_MODEL = "versions"


class Engine:
    """An embedded SQL engine. It belongs to the thread that made it."""

    def __init__(self, limits: Limits = Limits()) -> None:
        sys.setrecursionlimit(max(PYTHON_FRAMES, sys.getrecursionlimit()))
        self.sessions: dict[str, Session] = {}
        self.shared = Shared(limits)
        self.shared.sessions = self.sessions
        self.compiler = self.shared.compiler = Compiler(self.shared)
        self.default_model = DEFAULT_MODEL
        self.use_model(DEFAULT_MODEL)
        self.watch = Watch()
        self.shared.catalog.watch = self._look_at_watch
        self.rollback_unhandled = False
        """Whether a condition that leaves a statement rolls its transaction back (hosts differ)."""
        self.problems: Callable[[], list[Problem]] = list
        """What is wrong in the texts that it was loaded from, where that is met only by who needs them; to be asked
        when the catalog is as it was loaded."""
        self._running: dict[Session, Outcome] = {}
        self._bases = Bases(self.shared)

    # -- what others ask for

    @property
    def catalog(self) -> Catalog:
        return self.shared.catalog

    @property
    def clock(self) -> datetime:
        """The virtual time."""
        return self.shared.clock

    @clock.setter
    def clock(self, moment: datetime) -> None:
        self.shared.clock = moment

    def session(self, name: str) -> Session:
        """The session of this name, made when first named."""
        found = self.sessions.get(name)
        if found is None:
            found = self.sessions[name] = self.new_session(name)
        return found

    def new_session(self, name: str) -> Session:
        """A session that nobody else knows of."""
        made = Session(self.shared, name)
        made.private_tables.update(self._bases.private_tables(name))
        return made

    def use_model(self, name: str) -> None:
        """Choose the concurrency model, `versions` or `locking`; no transaction may be active."""
        self.shared.model = MODELS[name](self.shared)

    def cover(self) -> Coverage:
        """Count from now on what is tried of all that is stored; gives where that is counted."""
        from glimb.engine.compiling.points import register_points  # for the start: few runs count

        coverage = self.shared.coverage = Coverage()
        self.compiler.forget()
        register_points(self.compiler)
        return coverage

    # -- statements

    def execute_with(
        self, session: Session, statement: Statement, source: Source, parameters: list[tuple[Any, Type]]
    ) -> Outcome:
        """Run one statement with values, each with its type, for its `?`; gives its outcome."""
        values, types = tuple(v for v, _ in parameters), tuple(t for _, t in parameters)
        return self.execute(session, statement, source, values, types if parameters else None)[0]

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
        if session.claims.waiting is not None:
            return [telling.refused(session, "5L003", f"session {session.name} is still waiting for a lock")]
        self.shared.waits.hub = getcurrent()
        session.stop, session.source = None, source
        compiled = self._compiled(session, statement, source, values, types)
        if isinstance(compiled, Outcome):
            return [compiled]
        hosts = dict(self.shared.hosts) if compiled.outside else {}
        outcome = self._running[session] = Outcome(session.name, compiled.kind)
        session.start_statement()

        def work(s: Session) -> Any:
            """Run it; again, as it then is, when a definition has changed while it waited and it had done nothing."""
            current, mark = compiled, len(s.log)
            while True:
                try:
                    return current.run(s, 0, *values, *host_values(hosts, current.outside))
                except DefinitionChanged:
                    if len(s.log) != mark or not s.active:
                        raise
                    try:
                        current = self.compiler.statement(statement, source, s, types)
                    except ProblemError as error:
                        raise problem_condition(error) from None

        outcomes = [self._turn(session, work)]
        outcomes += self._run_woken(outcome)
        outcomes[0].holding = session.claims.holding()
        return outcomes

    def _compiled(
        self,
        session: Session,
        statement: Statement,
        source: Source,
        values: tuple[Any, ...],
        types: tuple[Type, ...] | None,
    ) -> Compiled | Outcome:
        """The statement, compiled; or the outcome that says why it cannot be."""
        limits = self.shared.limits
        outer = self.watch.begin(session, limits.seconds, limits.memory)
        try:
            compiled = self.compiler.statement(statement, source, session, types)
            if len(values) > compiled.parameters:
                raise Condition("07001", f"{len(values)} values for {compiled.parameters} parameters")
            return compiled
        except ProblemError as error:
            return telling.invalid(session, error)
        except RecursionError:
            return telling.refused(session, "54001", "the statement is too complex")
        except Exception as error:  # a fault of ours must not end the session
            return self.failed(session, error, source)
        finally:
            self.watch.session = outer

    def refuse(self, session: Session, error: ProblemError) -> Outcome:
        """Outcome of a text that is no statement."""
        return telling.invalid(session, error)

    def failed(self, session: Session, error: BaseException, source: Source) -> Outcome:
        """Outcome of a statement that ran into a fault of ours."""
        condition = condition_of(error, source)
        return telling.refused(session, condition.sqlstate, condition.message)

    def _look_at_watch(self) -> None:
        """Called by what compiles: raises when the running statement is to end."""
        session = self.watch.session
        if isinstance(session, Session):
            session.watch()

    # -- turns

    def _run_woken(self, waker: Outcome) -> list[Outcome]:
        """Let everybody go on who can; those that end give their outcomes."""
        outcomes: list[Outcome] = []
        ready = self.shared.waits.ready
        while ready:
            woken = ready.popleft()
            session = self.sessions[woken.session.name]
            waker.wakes.append(session.name)
            outcome = self._turn(session, woken.condition)
            if outcome.waiting is None:
                outcome.holding = session.claims.holding()
                outcomes.append(outcome)
        return outcomes

    def _turn(self, session: Session, work: Callable[[Session], Any] | Condition | None) -> Outcome:
        """One turn of a session: to the end of its statement, or to its next wait."""
        limits = self.shared.limits
        outer = self.watch.begin(session, limits.seconds, limits.memory)
        result = session.resume(work)
        self.watch.session = outer
        outcome = self._running[session]
        if isinstance(result, Wait):
            outcome.waited = told_wait(result)
            return telling.waits(session, outcome.kind, outcome.waited)
        del self._running[session]
        telling.complete(session, outcome, result, self.rollback_unhandled)
        return outcome

    def give_up(self, session: Session) -> None:
        """End the statement in which a session waits, as if the lock had not been to be had."""
        self.shared.waits.end(session.claims, Condition("5L001", "the lock is not available"))
        self._run_woken(Outcome("", "wait"))

    def advance(self, seconds: float) -> list[Outcome]:
        """Move the virtual clock; waits whose patience has run out end, in the order in which it does. Raises 22008
        beyond the calendar."""
        waits = self.shared.waits
        waits.elapsed += seconds
        try:
            self.clock += timedelta(seconds=seconds)
        except OverflowError:
            raise Condition("22008", "the clock cannot go beyond the year 9999") from None
        outcomes: list[Outcome] = []
        while (claims := self._first_due()) is not None and (wait := claims.waiting) is not None:
            waits.end(claims, Condition("5L002", f"waited {wait.seconds:g}s for {', '.join(wait.blockers)}"))
            outcomes += self._run_woken(Outcome("", "wait"))  # somebody whose patience ends later may have got the lock
        return outcomes

    def _first_due(self) -> Claims | None:
        """Of those whose patience has run out: the one whose did first."""
        waiting = ((s.claims.waiting, s.claims) for s in self.sessions.values())
        due = [(w.until, claims) for w, claims in waiting if w is not None and w.until is not None]
        until, claims = min(due, key=lambda d: d[0], default=(0.0, None))
        return claims if until <= self.shared.waits.elapsed else None

    # -- going back

    def set_base(self) -> None:
        """What is committed now is what `reset` goes back to."""
        self._bases.set_only()

    def push_base(self) -> None:
        """What is committed now is what `reset` goes back to, until `pop_base`."""
        self._bases.push()

    def pop_base(self) -> None:
        """Go back to the base before the last `push_base`."""
        self._bases.pop()
        self.reset()

    def first_new_id(self, table: Table) -> int:
        """Row ids from this one on came after the base."""
        return self._bases.first_new_id(table)

    def reset(self) -> None:
        """Drop all sessions and take back everything since the base, committed or not."""
        idle = [session.end() for session in self.sessions.values()]
        self.shared.idle += [green for green in idle if green is not None]
        self._drop_sessions()
        self._bases.restore()
        self.use_model(self.default_model)

    def close(self) -> None:
        """End all sessions, in the middle of statements too, and let their greenlets go: nothing holds the engine then
        but those who know it."""
        for session in self.sessions.values():
            session.end()
        self.shared.idle = []
        self._drop_sessions()

    def _drop_sessions(self) -> None:
        self.sessions.clear()
        self._running.clear()
        self.shared.hosts.clear()
        self.shared.waits.clear()
        self.shared.locks = LockTable()


def host_values(hosts: Hosts, names: tuple[str, ...]) -> list[Any]:
    """The values of host variables, NULL for one that has none yet."""
    return [hosts[name].value if name in hosts else None for name in names]
