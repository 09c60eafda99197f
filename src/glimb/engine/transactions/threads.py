"""Greenlets in which the statements of sessions run: a wait switches back to the hub from wherever it starts."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from greenlet import getcurrent, greenlet

from glimb.engine.transactions.shared import Shared
from glimb.engine.values.conditions import Condition


class Thread:
    """Runs one statement after another, each to its end or to its next wait."""

    __slots__ = ("_green", "_shared")

    def __init__(self, shared: Shared) -> None:
        self._shared = shared
        self._green: greenlet = shared.idle.pop() if shared.idle else _worker()

    def start(self, session: Any, work: Callable[[Any], Any]) -> Any:
        """Run `work(session)`; gives its result, the exception that ended it, or the Wait it is now in."""
        return self._switch((self._shared, session, work))

    def go_on(self, condition: Condition | None) -> Any:
        """Go on after a wait, with the condition that ended it if one did; gives the same."""
        return self._switch(condition)

    def _switch(self, given: Any) -> Any:
        got = self._green.switch(given)
        return got.pop() if isinstance(got, list) else got  # the greenlet goes on holding what it has given

    def leave(self) -> None:
        """Give up the statement that it is in the middle of."""
        self._green.throw()

    @property
    def idle(self) -> greenlet | None:
        """The greenlet, when it has not ended, for another session to use."""
        return self._green or None


def _worker() -> greenlet:
    green = greenlet(_loop)
    green.switch(getcurrent())
    return green


def _loop(starter: greenlet) -> None:
    """What a greenlet does: run the statements that it is given, of one session after another. While it is idle it
    holds nothing of them: frames of a greenlet are not seen by the garbage collector, nor are the arguments that it
    was started with, so that those are no job."""
    job: tuple[Shared, Any, Callable[[Any], Any]] = starter.switch()
    while True:
        shared, session, work = job
        del job
        try:
            results = [work(session)]
        except Exception as error:
            results = [error]
        hub = shared.waits.hub
        del shared, session, work
        job = hub.switch(results)
