"""The worker: scripts are read, cases run, ladders recorded, what they try counted; screens are told by messages."""

from __future__ import annotations

import gc
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from textual.message_pump import MessagePump

from glimb.lang.problem import ProblemError
from glimb.report.since import Base, Difference, rungs_of
from glimb.suite.choosing import read_any
from glimb.suite.letting import Lets
from glimb.suite.project import FileState, Project, file_state, open_project
from glimb.suite.results import CaseResult
from glimb.suite.script import Script
from glimb.suite.sheets import is_sheet
from glimb.tui.benchwork import BenchWork
from glimb.tui.messages import (
    CaseDone,
    CaseId,
    CasesDone,
    Counted,
    RunEnded,
    ScriptsRead,
    WorkFailed,
)

TOLD_SECONDS, DONE_SECONDS = 0.4, 0.1
"""How often it is told which scripts have been read, and which cases have been run."""


class Worker(BenchWork):
    """Reads, runs and counts, whatever else is asked for meanwhile coming first."""

    def __init__(self, owner: MessagePump, project: Project, lets: Lets | None = None) -> None:
        super().__init__(owner, project, lets)
        self._known: dict[Path, tuple[FileState | None, Script]] = {}
        """Scripts that have been read, each with what its file was then."""
        self._base: Base | None = None
        """What the cases did in the run that was accepted; None until it is needed."""
        self._thread.start()

    def close(self) -> None:
        super().close()
        gc.unfreeze()

    def read(self, paths: list[Path]) -> None:
        """Read scripts; what was loaded before is loaded anew."""
        self._work.put(lambda: self._read(paths))

    def record(self, case_id: CaseId, script: Script) -> None:
        """Run a case for its ladder."""
        self._work.put(lambda: self._record(case_id, script))

    def run(self, cases: list[tuple[CaseId, Script]], counting: list[Script] | None = None) -> None:
        """Run cases in order, whatever else is asked for meanwhile coming first; then count what all the cases of some
        scripts try."""
        self._is_stopped = False
        self._work.put(lambda: self._behind.append(self._run(cases, counting)))

    def accept(self, results: list[CaseResult]) -> None:
        """Make what these runs did what later ones are compared with."""
        self._work.put(lambda: self._accept(results))

    def _read(self, paths: list[Path]) -> None:
        assert self._runner is not None
        gc.unfreeze()
        for steps in self._behind:
            steps.close()  # type: ignore[attr-defined]
        if self._behind:
            self._behind.clear()
            self._post(RunEnded(False))
        self._runner.refresh()
        self.desk.forget()
        with suppress(ProblemError):
            root = self._project_there.root
            self.desk.project = open_project(root) if root is not None else self._project_there
        for bench in self._benches.values():
            bench.sides.close()
        self._benches.clear()
        self._behind.append(self._reading(paths))

    def _reading(self, paths: list[Path]) -> Iterator[None]:
        """Read scripts one by one, telling from time to time which there are: of very many one sees the first soon."""
        scripts: list[Script] = []
        told, count = time.monotonic(), 0
        for path in paths:
            scripts.append(self._script(path))
            if time.monotonic() > told + TOLD_SECONDS:
                self._post(ScriptsRead(scripts[count:], None))
                told, count = time.monotonic(), len(scripts)
            yield
        there = set(paths)
        self._known = {path: one for path, one in self._known.items() if path in there}
        self.desk.study.keep_only((script.path, case.title) for script in scripts for case in script.cases)
        self.desk.scripts = scripts
        self._post(ScriptsRead(scripts[count:], paths))

    def _script(self, path: Path) -> Script:
        """A script, or a call sheet as one; a script whose file has not changed is the one of before."""
        state = file_state(path)
        known = self._known.get(path)
        if known is not None and known[0] == state is not None and not is_sheet(path):
            return known[1]
        script = read_any(path)
        self._known[path] = state, script
        return script

    def _run(self, cases: list[tuple[CaseId, Script]], counting: list[Script] | None) -> Iterator[None]:
        told = time.monotonic()
        done: list[CaseDone] = []
        for case_id, script in cases:
            if self._is_stopped:
                break
            done.append(self._run_one(case_id, script))
            if time.monotonic() > told + DONE_SECONDS:
                self._post(CasesDone(done))
                done, told = [], time.monotonic()
            yield
        self._post(CasesDone(done))
        self._post(RunEnded(self._is_stopped, self._base is None or self._base.is_there))
        self._post(Counted())
        if counting is not None and not self._is_stopped:
            yield from self._count(counting)

    def _count(self, scripts: list[Script]) -> Iterator[None]:
        for _ in self.desk.count((script, case) for script in scripts if not script.problems for case in script.cases):
            yield
            if self._is_stopped:
                return
        self._post(Counted())

    def _run_one(self, case_id: CaseId, script: Script) -> CaseDone:
        """A case for its verdict, and for what it shows."""
        assert self._runner is not None
        if script.problems:
            return CaseDone(case_id, next(iter(self._runner.run_script(script))), False)
        result = self.desk.run(script, script.cases[case_id[1]])
        differs = self._differences(result)
        self.desk.study.take(result)
        return CaseDone(case_id, result, False, differs)

    def _differences(self, result: CaseResult) -> tuple[Difference, ...]:
        """The rungs that do something else than in the run that was accepted."""
        if self._base is None:
            self._base = Base(self._project_there.root)
        assert result.case is not None
        found: list[Difference] = []
        if not self._base.is_there:
            return ()
        for side, ladder in enumerate(result.ladders):
            key = self._base.key(result.script.path, result.case.title, side)
            found += self._base.differences(key, rungs_of(ladder)) or ()
        return tuple(found)

    def _accept(self, results: list[CaseResult]) -> None:
        base, self._base = Base(self._project_there.root), None
        done = [(r, r.case.title, side, one) for r in results if r.case for side, one in enumerate(r.ladders)]
        try:
            base.accept({base.key(r.script.path, title, side): rungs_of(one) for r, title, side, one in done})
        except OSError as error:
            self._post(WorkFailed(f"what the cases did cannot be kept: {error.strerror}"))

    def _record(self, case_id: CaseId, script: Script) -> None:
        """A case for its ladder."""
        runner = self._runner
        assert runner is not None
        runner.stopped = False
        if script.problems:
            self._post(CaseDone(case_id, next(iter(runner.run_script(script))), True))
        else:
            self._post(CaseDone(case_id, runner.run_case(script, script.cases[case_id[1]], True), True))
            self._resume(case_id, script)
            # A long ladder is a million objects that stay: to look through them for garbage would take most of a second
            # while somebody types. What refers to itself among them goes when the files are read again.
            gc.freeze()
        if runner.stopped:  # with all that runs behind it, which otherwise goes on
            self._post(RunEnded(True))
