"""The time budget: one sleeping thread that sets a flag in a session whose statement takes too long."""

from __future__ import annotations

import threading
import time
from typing import TYPE_CHECKING

from glimb.engine.conditions import Condition

if TYPE_CHECKING:
    from glimb.engine.session import Session


class Watch:
    """Watches at most one statement at a time, since an engine runs one at a time. `stop` may come from any thread."""

    def __init__(self) -> None:
        self.session: Session | None = None
        self._deadline = 0.0
        self._seconds = 0.0
        self._thread: threading.Thread | None = None

    def begin(self, session: Session, seconds: float) -> Session | None:
        """Watch the statement that a session starts or goes on with; gives who was watched before, to be set again
        in `session` when it has ended."""
        outer = self.session
        self._seconds = seconds
        self._deadline = time.monotonic() + seconds
        self.session = session
        if self._thread is None:
            self._thread = threading.Thread(target=self._run, name="glimb-watch", daemon=True)
            self._thread.start()
        return outer

    def stop(self) -> None:
        """End the running statement, from another thread."""
        session = self.session
        if session is not None:
            session.stop = Condition("57014", "the run was stopped")

    def _run(self) -> None:
        while True:
            time.sleep(0.25)
            session = self.session
            if session is not None and time.monotonic() > self._deadline and session.stop is None:
                session.stop = Condition("5B002", f"the statement ran for more than {self._seconds:g} seconds")
