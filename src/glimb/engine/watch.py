"""The time budget: one sleeping thread for all engines, which sets a flag where a statement takes too long."""

from __future__ import annotations

import threading
import time
from typing import TYPE_CHECKING, ClassVar
from weakref import WeakSet

from glimb.engine.conditions import Condition

if TYPE_CHECKING:
    from glimb.engine.session import Session

PAUSE = 0.25


class Watch:
    """Watches at most one statement at a time, since an engine runs one at a time. `stop` may come from any thread."""

    _all: ClassVar[WeakSet[Watch]] = WeakSet()
    _changing: ClassVar[threading.Lock] = threading.Lock()
    _thread: ClassVar[threading.Thread | None] = None

    def __init__(self) -> None:
        self.session: Session | None = None
        self._deadline = 0.0
        self._seconds = 0.0
        self._known = False

    def begin(self, session: Session, seconds: float) -> Session | None:
        """Watch the statement that a session starts or goes on with; gives who was watched before, to be set again
        in `session` when it has ended."""
        outer = self.session
        self._seconds = seconds
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
        """Be looked at by the thread, which the first one starts (anew in a process that was forked)."""
        self._known = True
        with Watch._changing:
            Watch._all.add(self)
            if Watch._thread is None or not Watch._thread.is_alive():
                Watch._thread = threading.Thread(target=_look_around, name="glimb-watch", daemon=True)
                Watch._thread.start()

    def _look(self) -> None:
        session = self.session
        if session is not None and time.monotonic() > self._deadline and session.stop is None:
            session.stop = Condition("5B002", f"the statement ran for more than {self._seconds:g} seconds")


def _look_around() -> None:
    while True:
        time.sleep(PAUSE)
        with Watch._changing:
            watches = list(Watch._all)
        for watch in watches:
            watch._look()
