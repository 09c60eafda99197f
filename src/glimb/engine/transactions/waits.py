"""Waiting sessions: who goes on when the running statement has ended or waits, in the order of waking."""

from __future__ import annotations

from collections import deque
from typing import NamedTuple

from greenlet import getcurrent, greenlet

from glimb.engine.storage.resources import Resource
from glimb.engine.transactions.locks import LockOwner, LockTable
from glimb.engine.values.conditions import Condition


class Woken(NamedTuple):
    """A session that can go on, with the condition that has ended its wait, if one has."""

    session: LockOwner
    condition: Condition | None = None


class Waits:
    """Those who can go on, the virtual time that has passed, and the greenlet to which a waiting session switches."""

    def __init__(self) -> None:
        self.hub: greenlet = getcurrent()
        self.ready: deque[Woken] = deque()
        self.elapsed = 0.0

    def wake(self, sessions: list[LockOwner]) -> None:
        """These have got their locks."""
        self.ready.extend(Woken(s) for s in sessions)

    def end(self, session: LockOwner, condition: Condition) -> None:
        """A wait ends with a condition."""
        self.ready.append(Woken(session, condition))

    def release(self, locks: LockTable, session: LockOwner, resources: list[Resource]) -> None:
        """Give locks up, and wake those who have got theirs by it."""
        self.wake(locks.release(session, resources))

    def clear(self) -> None:
        """Nobody goes on; time begins anew."""
        self.ready.clear()
        self.elapsed = 0.0
