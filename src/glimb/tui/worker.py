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
from glimb.lang.problem import Problem, ProblemError
from glimb.report.whole import write_script
from glimb.suite.letting import Lets
from glimb.suite.pins import blocks_of
from glimb.suite.project import read_text
from glimb.suite.replay import replay
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Script, read_script
from glimb.suite.workbench import View, Workbench, kept_in

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


class Worked(Message):
    """The ladder that is being worked on has changed; `text` is what was typed for that."""

    def __init__(self, case_id: CaseId, view: View, names: list[str]) -> None:
        super().__init__()
        self.case_id = case_id
        self.view = view
        self.names = names


class PinsFound(Message):
    """What could be said of a rung: blocks of a line with the rows below it."""

    def __init__(self, rung: int, blocks: list[list[str]]) -> None:
        super().__init__()
        self.rung = rung
        self.blocks = blocks


class CaseKept(Message):
    """What was worked on stands in a file."""

    def __init__(self, path: Path, title: str) -> None:
        super().__init__()
        self.path = path
        self.title = title


class Refused(Message):
    """What was typed cannot be run: why, and the text, so that it is not lost."""

    def __init__(self, message: str, text: str) -> None:
        super().__init__()
        self.message = message
        self.text = text


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
        self._bench: Workbench | None = None
        self._bench_of: CaseId | None = None
        self._thread = threading.Thread(target=self._loop, name="glimb-worker", daemon=True)
        self._thread.start()

    def read(self, paths: list[Path]) -> None:
        """Read scripts; what was loaded before is loaded anew."""
        self._work.put(lambda: self._read(paths))

    def run(self, cases: list[tuple[CaseId, Script]], recording: bool = False) -> None:
        """Run cases in order."""
        self._work.put(lambda: self._run(cases, recording))

    def work(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str = "") -> None:
        """Work on the ladder of a case; `text` is what is given back when it cannot be run."""
        self._work.put(lambda: self._on_bench(case_id, script, action, text))

    def find_pins(self, case_id: CaseId, script: Script, rung: int) -> None:
        """Ask what could be said of a rung."""

        def action(bench: Workbench) -> View:
            self._post(PinsFound(rung, blocks_of(bench.pins(rung))))
            return bench.view()

        self.work(case_id, script, action)

    def keep(self, case_id: CaseId, script: Script, path: Path, title: str) -> None:
        """Write what was worked on into a file, as a case of a title."""

        def action(bench: Workbench) -> View:
            before = read_text(path).text
            if before != script.source.text:
                raise ProblemError(Problem("58030", f"{path.name} has been changed meanwhile, and stays as it is"))
            write_script(path, kept_in(before, bench.text(title), title))
            bench.typed = False
            self._post(CaseKept(path, title))
            return bench.view()

        self.work(case_id, script, action)

    def stop(self) -> None:
        if self._bench is not None:
            self._bench.replay.engine.watch.stop()
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
        self._bench = self._bench_of = None
        self._post(ScriptsRead([read_script(path) for path in paths]))

    def _on_bench(self, case_id: CaseId, script: Script, action: Callable[[Workbench], View], text: str) -> None:
        try:
            if self._bench is None or self._bench_of != case_id:
                self._bench, self._bench_of = self._made(case_id, script), case_id
            view = action(self._bench)
        except ProblemError as error:
            self._post(Refused("\n".join(p.describe() for p in error.problems), text))
            return
        catalog = self._bench.replay.engine.catalog
        columns = (c.name for t in catalog.tables() for c in t.columns)
        hosts = (f":{name}" for name in self._bench.replay.engine.shared.hosts)
        self._post(Worked(case_id, view, [*catalog.relations, *catalog.routines, *columns, *hosts]))

    def _made(self, case_id: CaseId, script: Script) -> Workbench:
        """A workbench with the ladder of a case, all of it run."""
        assert self._runner is not None
        case = script.cases[case_id[1]]
        side = case.twin.values[0] if case.twin is not None else ""
        found = replay(self._runner.project(script.path), script, case, side, self._lets)
        found.engine.shared.recording = True
        found.at(found.length)
        return Workbench(found)

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
