"""Locks: modes, holders, a first-come queue for each resource, and the search for deadlocks.

Sources: Gray, "Granularity of locks in a shared data base" (1975), for the modes; the wait-for graph is searched at
every new wait.
"""

from __future__ import annotations

from itertools import repeat
from typing import Any, NamedTuple, Protocol

from glimb.engine.storage.resources import NewKeys, Resource
from glimb.engine.storage.table import Table

_COMPATIBLE = {
    "IS": {"IS", "IX", "S", "SIX", "U"},
    "IX": {"IS", "IX"},
    "S": {"IS", "S", "U"},
    "SIX": {"IS"},
    "U": {"IS", "S"},
    "X": set(),
}
_JOINED = {
    frozenset(("IS", "IX")): "IX",
    frozenset(("IS", "S")): "S",
    frozenset(("IS", "SIX")): "SIX",
    frozenset(("IX", "S")): "SIX",
    frozenset(("IX", "SIX")): "SIX",
    frozenset(("S", "SIX")): "SIX",
    frozenset(("S", "U")): "U",
}


def compatible(held: str, wanted: str) -> bool:
    """Whether two sessions may hold these modes on one resource."""
    return wanted in _COMPATIBLE[held]


def joined(held: str, wanted: str) -> str:
    """The weakest mode that gives both."""
    return held if held == wanted else _JOINED.get(frozenset((held, wanted)), "X")


class LockOwner(Protocol):
    """A session, as the lock table knows it."""

    waiting: Wait | None

    @property
    def name(self) -> str: ...
    @property
    def held(self) -> dict[Resource, str]: ...
    def hold(self, resource: Resource, mode: str) -> None:
        """A lock has been granted."""

    def hold_only(self, held: dict[Resource, str]) -> None:
        """These are all locks that are held now."""


class Request(NamedTuple):
    """A session that waits for a mode on a resource."""

    session: LockOwner
    mode: str


class Lock:
    """Who holds one resource, and who waits for it, first come first."""

    __slots__ = ("holders", "queue")

    def __init__(self) -> None:
        self.holders: dict[LockOwner, str] = {}
        self.queue: tuple[Request, ...] = ()

    def blockers(self, session: LockOwner, mode: str) -> list[LockOwner]:
        """Sessions that keep `session` from `mode`: holders, and those who came before it and want what conflicts."""
        holders = self.holders.items()
        found = {s: None for s, held in holders if s is not session and not compatible(held, mode)}
        if session not in self.holders:
            for request in self.queue:
                if request.session is session:
                    break
                if not compatible(request.mode, mode):
                    found[request.session] = None
        return list(found)


class LockTable:
    """All locks of an engine."""

    def __init__(self) -> None:
        self.locks: dict[Resource, Lock] = {}
        self._new: dict[Table, dict[LockOwner, set[Any]]] = {}
        """Keys of new rows, of which nobody else has wanted one yet: they belong to a session as if it held X."""

    def acquire(self, session: LockOwner, resource: Resource, mode: str) -> bool:
        """Take a lock if that is possible at once; otherwise queue the request and say False."""
        lock = self.locks.get(resource)
        if lock is None and self._new:
            owner = self._owner(resource)
            if owner is session:
                return True
            lock = self._set_apart(resource, owner) if owner is not None else None
        if lock is None:
            lock = self.locks[resource] = Lock()
            lock.holders[session] = mode
            session.hold(resource, mode)
            return True
        held = lock.holders.get(session)
        if held is not None:
            mode = joined(held, mode)
            if mode == held:
                return True
        if lock.blockers(session, mode):
            request = Request(session, mode)
            lock.queue = (request, *lock.queue) if held is not None else (*lock.queue, request)
            return False
        lock.holders[session] = mode
        session.hold(resource, mode)
        return True

    def acquire_new(self, session: LockOwner, table: Table, keys: list[Any]) -> bool:
        """Take X on keys of a table of which nobody has one; whether that is so."""
        if len(self.locks) < len(keys):
            is_free = {key for where, key in self.locks if where is table}.isdisjoint(keys)
        else:
            is_free = self.locks.keys().isdisjoint(zip(repeat(table), keys, strict=False))
        if not is_free or not all(known.isdisjoint(keys) for known in self._new.get(table, {}).values()):
            return False
        self._new.setdefault(table, {}).setdefault(session, set()).update(keys)
        return self.acquire(session, (table, NewKeys(keys)), "X")

    def _owner(self, resource: Resource) -> LockOwner | None:
        """To whom a key of a new row belongs."""
        table, key = resource
        return next((owner for owner, keys in self._new.get(table, {}).items() if key in keys), None)

    def _set_apart(self, resource: Resource, owner: LockOwner) -> Lock:
        """Somebody else wants the key of a new row: it has a lock of its own from now on."""
        table, key = resource
        self._new[table][owner].remove(key)
        lock = self.locks[resource] = Lock()
        lock.holders[owner] = owner.held[resource] = "X"
        return lock

    def wanted(self, session: LockOwner, resource: Resource, mode: str) -> str:
        """The mode that a request leads to: what is held already and what is asked for together."""
        held = self.locks[resource].holders.get(session)
        return mode if held is None else joined(held, mode)

    def is_free(self, session: LockOwner, resource: Resource, mode: str) -> bool:
        """Whether a lock could be had at once."""
        lock = self.locks.get(resource)
        if lock is None:
            return self._owner(resource) in (None, session)
        return not lock.blockers(session, joined(lock.holders.get(session, mode), mode))

    def rename(self, old: Table, new: Table) -> None:
        """A table has been built anew: locks on its rows are now on the rows of the new one."""
        if old in self._new:
            self._new[new] = self._new.pop(old)
        for resource in [r for r in self.locks if r[0] is old and r[1] is not None]:
            moved = (new, resource[1])
            lock = self.locks[moved] = self.locks.pop(resource)
            for session in lock.holders:
                session.hold_only({moved if r == resource else r: mode for r, mode in session.held.items()})
            for request in lock.queue:
                wait = request.session.waiting
                if wait is not None:
                    request.session.waiting = wait._replace(resource=moved)

    def circle(self, session: LockOwner) -> list[LockOwner]:
        """The sessions of a circle of waits through `session`, itself first; empty when there is none."""
        before: dict[LockOwner, LockOwner] = {}
        waiting, looked_at = [session], set[Lock]()
        for at in waiting:
            wait = at.waiting
            if wait is None:
                continue
            lock = self.locks[wait.resource]
            if lock in looked_at:
                continue  # who waits for X before another one that does is blocked by nobody else than that one
            if wait.mode == "X" and at is not session and at not in lock.holders:
                looked_at.add(lock)
            for blocker in self.blockers(at):
                if blocker is session:
                    path = [at]
                    while path[-1] is not session:
                        path.append(before[path[-1]])
                    return path[::-1]
                if blocker not in before:
                    before[blocker] = at
                    waiting.append(blocker)
        return []

    def blockers(self, session: LockOwner) -> list[LockOwner]:
        """For whom a session waits."""
        wait = session.waiting
        if wait is None:
            return []
        return self.locks[wait.resource].blockers(session, wait.mode)

    def withdraw(self, session: LockOwner, resource: Resource) -> list[LockOwner]:
        """Take a request back; others behind it may now go on."""
        lock = self.locks[resource]
        lock.queue = tuple(r for r in lock.queue if r.session is not session)
        return self._grant(resource, lock)

    def release(self, session: LockOwner, resources: list[Resource]) -> list[LockOwner]:
        """Give locks up; gives the sessions that have got theirs by it, in order."""
        woken: list[LockOwner] = []
        locks, held = self.locks, session.held
        if len(resources) == len(held):
            held = {}
        else:
            for resource in resources:
                held.pop(resource, None)
        session.hold_only(held)
        for resource in resources:
            lock = locks[resource]
            lock.holders.pop(session, None)
            if isinstance(resource[1], NewKeys):
                self._forget(session, *resource)
            if not (lock.queue or lock.holders):
                del locks[resource]
            else:
                woken += self._grant(resource, lock)
        return woken

    def _forget(self, session: LockOwner, table: Table, new: NewKeys) -> None:
        """The keys of some new rows do not belong to a session any more."""
        owners = self._new.get(table, {})
        keys = owners.get(session, set())
        keys.difference_update(new.keys)
        if not keys:
            owners.pop(session, None)
        if not owners:
            self._new.pop(table, None)

    def _grant(self, resource: Resource, lock: Lock) -> list[LockOwner]:
        """Serve the queue in order: whoever is kept neither by a holder nor by one before that goes on waiting."""
        woken: list[LockOwner] = []
        left: list[Request] = []
        ahead: set[str] = set()
        for session, mode in lock.queue:
            is_kept = any(s is not session and not compatible(held, mode) for s, held in lock.holders.items())
            if is_kept or (session not in lock.holders and not all(compatible(other, mode) for other in ahead)):
                left.append(Request(session, mode))
                ahead.add(mode)
                continue
            lock.holders[session] = mode
            session.hold(resource, mode)
            woken.append(session)
        lock.queue = tuple(left)
        if not lock.holders and not lock.queue:
            del self.locks[resource]
        return woken


class Wait(NamedTuple):
    """What a session waits for: the sessions in its way, the resource and the mode; until when on the virtual clock,
    and for how many seconds at most."""

    blockers: tuple[str, ...]
    resource: Resource
    mode: str
    until: float | None
    seconds: float | None = None

    @property
    def table(self) -> Table:
        table: Table = self.resource[0]
        return table
