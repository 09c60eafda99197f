"""The worker: one thread that owns all engines. Screens ask it to run cases; it answers with messages."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from textual.message import Message
from textual.message_pump import MessagePump

from glimb.engine.values.conditions import condition_of
from glimb.suite.letting import Lets
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Script, read_script

CaseId = tuple[Path, int]


class ScriptsRead(Message):
    """The scripts have been read."""

    def __init__(self, scripts: list[Script]) -> None:
        super().__init__()
        self.scripts = scripts


class CaseDone(Message):
    """A case has been run; `recorded` when its ladder was asked for."""

    def __init__(self, case_id: CaseId, result: CaseResult, recorded: bool) -> None:
        super().__init__()
        self.case_id = case_id
        self.result = result
        self.recorded = recorded


class RunEnded(Message):
    """All cases that were asked for have been run, or the run was stopped."""

    def __init__(self, count: int, stopped: bool) -> None:
        super().__init__()
        self.count = count
        self.stopped = stopped


class WorkFailed(Message):
    """What was asked for could not be done."""

    def __init__(self, message: str) -> None:
        super().__init__()
        self.message = message


class Worker:
    """Takes work in order. `stop` ends what is being done and drops what was asked for."""

    def __init__(self, owner: MessagePump, lets: Lets | None = None) -> None:
        self._lets = lets or {}
        self._owner = owner
        self._work: queue.Queue[Callable[[], None] | None] = queue.Queue()
        self._runner: Runner | None = None
        self._thread = threading.Thread(target=self._loop, name="glimb-worker", daemon=True)
        self._thread.start()

    def read(self, paths: list[Path]) -> None:
        """Read scripts; what was loaded before is loaded anew."""
        self._work.put(lambda: self._read(paths))

    def run(self, cases: list[tuple[CaseId, Script]], recording: bool = False) -> None:
        """Run cases in order."""
        self._work.put(lambda: self._run(cases, recording))

    def stop(self) -> None:
        runner = self._runner
        if runner is not None:
            runner.stop()

    def close(self) -> None:
        self.stop()
        self._work.put(None)

    def _loop(self) -> None:
        self._runner = Runner(self._lets)
        while True:
            work = self._work.get()
            if work is None:
                return
            try:
                work()
            except Exception as error:  # a fault of ours: the worker goes on with what it is asked for next
                self._post(WorkFailed(condition_of(error).message))
                self._post(RunEnded(0, True))

    def _post(self, message: Any) -> None:
        self._owner.post_message(message)

    def _read(self, paths: list[Path]) -> None:
        assert self._runner is not None
        self._runner.forget()
        self._post(ScriptsRead([read_script(path) for path in paths]))

    def _run(self, cases: list[tuple[CaseId, Script]], recording: bool) -> None:
        runner = self._runner
        assert runner is not None
        runner.stopped = False
        count = 0
        for case_id, script in cases:
            if runner.stopped:
                break
            if script.problems:
                result = next(iter(runner.run_script(script)))
            else:
                result = runner.run_case(script, script.cases[case_id[1]], recording)
            count += 1
            self._post(CaseDone(case_id, result, recording))
        self._post(RunEnded(count, runner.stopped))
