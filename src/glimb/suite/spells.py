"""What a session of a ladder holds and how long: read rung by rung, and gone on with where the ladder has grown.

In: the rungs of a ladder, in their order. Out: `Spell`s of locks, in groups that do not overlap."""

from __future__ import annotations

import sys
from bisect import bisect_right
from collections.abc import Callable
from threading import Lock
from typing import NamedTuple

from glimb.engine.outcomes.outcome import HeldLock, Holding, describe_lock
from glimb.engine.storage.resources import other_key, singly

OPEN = sys.maxsize
"""The end of what is still held."""


class Spell:
    """How long a session holds a lock: from the rung at which it is taken to the one before `end`, from 0."""

    def __init__(self, lock: HeldLock, start: int) -> None:
        self.lock = lock
        self.start = start
        self.end = OPEN
        self.modes = [(start, lock.mode)]
        """Its modes, each with the rung from which on it is held so."""

    def at(self, rung: int) -> HeldLock:
        """The lock as it is held after a rung (from 0)."""
        mode = next(mode for start, mode in reversed(self.modes) if start <= rung)
        return self.lock._replace(mode=mode)

    def until(self, rung: int) -> Spell:
        """The same where what happened from a rung on is not known."""
        if self.end < rung:
            return self
        known = Spell(self.lock, self.start)
        known.end = self.end if self.end == rung - 1 else OPEN
        known.modes = [(start, mode) for start, mode in self.modes if start < rung]
        return known


class Group(NamedTuple):
    """Locks that may be held at the same time: from a rung before which the session holds none to the next such one."""

    start: int
    spells: list[Spell]


class Holdings:
    """What one session holds. It may be shared by ladders of which one is the beginning of the other: nothing that is
    read later changes what is known of the rungs before."""

    def __init__(self, of: Holdings | None = None, rungs: int = 0) -> None:
        self.groups: list[Group] = []
        self._from = (of, rungs) if of is not None else None
        """What is to be taken over of another one before anything is read: so many rungs of it."""
        self._held: dict[tuple[str, str, str], Spell] = {}
        self._before: Holding = ([], 0)
        self._read = 0
        self._lock = Lock()

    def read(self, rungs: int, holding: Callable[[int], Holding]) -> None:
        """Go on to so many rungs; `holding` tells what is held behind one of them, from 0."""
        with self._lock:
            if self._from is not None:
                other, known = self._from
                self._take_over(other, min(known, rungs), holding)
                self._from = None
            for number in range(self._read, rungs):
                self._rung(number, holding(number))
            self._read = max(self._read, rungs)

    def _rung(self, number: int, now: Holding) -> None:
        """What a rung has added, and what it has let go."""
        before, held = self._before, self._held
        if now[0] is before[0]:
            fresh = list(singly(now[0][before[1] : now[1]]))
        else:
            fresh = list(dict(singly(now[0][: now[1]])).items())
            kept = {describe_lock(r, m)[:3] for r, m in fresh}
            for what in [w for w in held if w not in kept]:
                held.pop(what).end = number
        self._before = now
        for lock in (describe_lock(r, m) for r, m in fresh if other_key(r) is None):
            spell = held.get(lock[:3])
            if spell is None:
                if not held:
                    self.groups.append(Group(number, []))
                spell = held[lock[:3]] = Spell(lock, number)
                self.groups[-1].spells.append(spell)
            elif spell.modes[-1][1] != lock.mode:
                spell.modes.append((number, lock.mode))

    def _take_over(self, other: Holdings, count: int, holding: Callable[[int], Holding]) -> None:
        """Have what another one knows of so many rungs, which are the first of these too."""
        with other._lock:
            self._read = count = min(count, other._read)
            self.groups = other.groups[: bisect_right(other.groups, count - 1, key=lambda group: group.start)]
            if self.groups:
                start, spells = self.groups.pop()
                self.groups.append(Group(start, [spell.until(count) for spell in spells if spell.start < count]))
                self._held = {spell.lock[:3]: spell for spell in self.groups[-1].spells if spell.end == OPEN}
        if count:
            self._before = holding(count - 1)

    def at(self, rung: int) -> Group | None:
        """The locks of which some may be held after a rung (from 0)."""
        at = bisect_right(self.groups, rung, key=lambda group: group.start) - 1
        return self.groups[at] if at >= 0 else None
