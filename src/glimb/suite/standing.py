"""The state behind a rung: rows changed since the fixture, what every session stands in, host variables, the clock."""

from __future__ import annotations

from datetime import datetime
from typing import NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import HeldLock, Waiting, locks_of
from glimb.engine.storage.changes import Change, net_changes
from glimb.engine.storage.table import Table
from glimb.engine.transactions.claims import told_wait
from glimb.engine.transactions.hosts import HostValue
from glimb.suite.ladder import Rung
from glimb.suite.replay import Replay


class SessionStanding(NamedTuple):
    """A session: its transaction (`none`, `open` or `waiting`), isolation level, savepoints, locks, what it waits for,
    and its changes that are not yet committed."""

    name: str
    state: str
    isolation: str
    autocommit: bool
    savepoints: tuple[str, ...]
    locks: list[HeldLock]
    waiting: Waiting | None
    changes: list[Change]


class Standing(NamedTuple):
    """The state behind a rung (None: at the fixture): changes that are committed, sessions, host variables, clock."""

    rung: Rung | None
    committed: list[Change]
    sessions: list[SessionStanding]
    hosts: dict[str, HostValue]
    clock: datetime


def standing(replay: Replay) -> Standing:
    """The state in which a replay stands."""
    engine = replay.engine
    rungs = replay.ladder.rungs
    sessions = [_session(engine, name) for name in engine.sessions]
    return Standing(rungs[-1] if rungs else None, committed(replay), sessions, dict(engine.shared.hosts), engine.clock)


def committed(replay: Replay) -> list[Change]:
    """What has been committed since the fixture, net, a change a row."""
    commits = replay.engine.shared.history.commits
    return net_changes([e for _, entries in commits for e in entries if isinstance(e[0], Table)])


def _session(engine: Engine, name: str) -> SessionStanding:
    session = engine.sessions[name]
    wait = session.claims.waiting
    return SessionStanding(
        name,
        "waiting" if wait is not None else "open" if session.active else "none",
        (session.current if session.active else session.usual).isolation,
        session.autocommit,
        tuple(point.name for point in session.savepoints.points),
        locks_of(session.claims.holding()),
        told_wait(wait) if wait is not None else None,
        net_changes([e for e in session.log if isinstance(e[0], Table)]),
    )
