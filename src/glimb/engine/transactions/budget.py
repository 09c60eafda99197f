"""The budgets of time and memory: one sleeping thread for all engines, which sets a flag where one takes too much.

Whatever can take long looks at the flag. Time and memory are measured from outside, so that nothing is counted on the
way: what the process has taken since the statement began is put down to it.
"""

from __future__ import annotations

import os
import threading
import time
from typing import ClassVar, Protocol
from weakref import WeakSet

from glimb.engine.values.conditions import Condition

PAUSE = 0.05
PAGE = os.sysconf("SC_PAGE_SIZE") if hasattr(os, "sysconf") else 4096


def memory_taken() -> int:
    """Bytes of memory that the process holds; 0 where the system does not say."""
    try:
        with open("/proc/self/statm", "rb") as file:
            return int(file.read().split()[1]) * PAGE
    except (OSError, IndexError, ValueError):
        return 0


class Stoppable(Protocol):
    """A session, so far as it can be ended."""

    stop: Condition | None


class Watch:
    """Watches at most one statement at a time, since an engine runs one at a time. `stop` may come from any thread."""

    _all: ClassVar[WeakSet[Watch]] = WeakSet()
    _changing: ClassVar[threading.Lock] = threading.Lock()
    _thread: ClassVar[threading.Thread | None] = None
    _resting: ClassVar[threading.Event] = threading.Event()

    def __init__(self) -> None:
        self.session: Stoppable | None = None
        self._deadline = 0.0
        self._seconds = 0.0
        self._memory = 0
        self._most = 0
        """Bytes that the process may hold before the statement is stopped; 0: not yet looked at."""
        self._known = False

    def begin(self, session: Stoppable, seconds: float, memory: int) -> Stoppable | None:
        """Watch the statement that a session starts or goes on with; gives who was watched before, to be set again
        in `session` when it has ended."""
        outer = self.session
        self._seconds, self._memory, self._most = seconds, memory, 0
        self._deadline = time.monotonic() + seconds
        self.session = session
        if not self._known:
            self._join()
        return outer

    def stop(self) -> None:
        """End the running statement, from another thread."""
        session = self.session
        if session is not None:
            session.stop = Condition("57014", "the run was stopped")

    def _join(self) -> None:
        """Be looked at by the thread, which the first one starts (anew after a rest)."""
        self._known = True
        with Watch._changing:
            Watch._all.add(self)
            if Watch._thread is None or not Watch._thread.is_alive():
                Watch._resting.clear()
                Watch._thread = threading.Thread(target=_look_around, name="glimb-watch", daemon=True)
                Watch._thread.start()

    @classmethod
    def rest(cls) -> None:
        """End the thread until the next statement begins, so that the process can be forked."""
        thread, cls._thread = cls._thread, None
        if thread is not None:
            cls._resting.set()
            thread.join()
        for watch in list(cls._all):
            watch._known = False

    def _look(self, taken: int) -> None:
        session = self.session
        if session is None or session.stop is not None:
            return
        if time.monotonic() > self._deadline:
            session.stop = Condition("5B002", f"the statement ran for more than {self._seconds:g} seconds")
        elif not self._most:
            self._most = taken + self._memory
        elif taken > self._most:
            session.stop = Condition("5B005", f"the statement has taken more than {self._memory:,} bytes of memory")


def _look_around() -> None:
    while not Watch._resting.wait(PAUSE):
        with Watch._changing:
            watches = [w for w in Watch._all if w.session is not None]
        if watches:
            taken = memory_taken()
            for watch in watches:
                watch._look(taken)
