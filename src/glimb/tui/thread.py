"""One thread that owns all engines: it takes work in order, and steps of what is done behind it while there is none."""

from __future__ import annotations

import queue
import threading
from collections import deque
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, TypeVar

from textual.message_pump import MessagePump

from glimb.engine.values.conditions import condition_of
from glimb.lang.problem import ProblemError
from glimb.suite.desk import Desk
from glimb.suite.letting import Lets
from glimb.suite.project import Project, read_text
from glimb.suite.runner import Runner
from glimb.tui.messages import (
    Answered,
    RunEnded,
    WorkFailed,
)
from glimb.whole import write_script

T = TypeVar("T")


class WorkThread:
    """Takes work in order; `stop` ends what is being done. It has the desk of the project."""

    def __init__(self, owner: MessagePump, project: Project, lets: Lets | None = None) -> None:
        self._lets = lets or {}
        self._owner = owner
        self._project_there = project
        self._desk: Desk | None = None
        self._behind: deque[Iterator[None]] = deque()
        """What is done step by step while nothing else is asked for."""
        self._is_stopped = False
        self._work: queue.Queue[Callable[[], None] | None] = queue.Queue()
        self._runner: Runner | None = None
        self._thread = threading.Thread(target=self._loop, name="glimb-worker", daemon=True)

    def ask(self, question: Callable[[Desk], T], then: Callable[[T], None]) -> None:
        """Ask the desk; the answer comes as a message."""

        self._answer(lambda: question(self.desk), then)

    def _answer(self, question: Callable[[], T], then: Callable[[T], None]) -> None:
        """Ask something in the worker's thread; what is wrong with the question is told."""

        def work() -> None:
            try:
                answer = question()
            except ProblemError as error:
                self._post(WorkFailed("\n".join(p.describe() for p in error.problems)))
                return
            self._post(Answered(lambda: then(answer)))

        self._work.put(work)

    def save(self, path: Path, text: str, before: str, then: Callable[[], None]) -> None:
        """Write a file whole, unless somebody else has written it since it was read as `before`."""

        def work() -> None:
            try:
                if path.exists() and read_text(path).text != before:
                    self._post(WorkFailed(f"{path.name} has been changed meanwhile, and stays as it is"))
                    return
                path.parent.mkdir(parents=True, exist_ok=True)
                write_script(path, text)
            except OSError as error:
                self._post(WorkFailed(f"{path.name} cannot be written: {error.strerror}"))
                return
            except ProblemError as error:
                self._post(WorkFailed(error.problems[0].message))
                return
            self._post(Answered(then))

        self._work.put(work)

    def stop(self) -> None:
        """End what is being done, and drop what is done behind it."""
        self._is_stopped = True
        runner = self._runner
        if runner is not None:
            runner.stop()

    def close(self) -> None:
        self.stop()
        self._work.put(None)

    def join(self, seconds: float) -> None:
        """Wait so long for what is still to be written."""
        self._thread.join(seconds)

    @property
    def desk(self) -> Desk:
        """The desk, in the worker's thread."""
        assert self._runner is not None
        if self._desk is None:
            self._desk = Desk(self._project_there, self._runner, self._lets)
        return self._desk

    def _loop(self) -> None:
        self._runner = Runner(self._lets)
        while True:
            try:
                work = self._work.get(block=not self._behind)
            except queue.Empty:
                work = self._step
            if work is None:
                return
            try:
                work()
            except Exception as error:  # a fault of ours: the worker goes on with what it is asked for next
                self._post(WorkFailed(condition_of(error).message))
                self._post(RunEnded(True))

    def _step(self) -> None:
        """A step of what is done behind all else."""
        steps = self._behind[0]
        try:
            next(steps)
        except StopIteration:
            self._behind.popleft()
        except BaseException:
            self._behind.popleft()
            raise

    def _post(self, message: Any) -> None:
        self._owner.post_message(message)
