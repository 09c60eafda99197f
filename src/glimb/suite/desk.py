"""The desk: what the screens ask of a project beside its ladders, and what commands could ask too.

In: a project and its scripts. It runs cases for what they show, counts what they try, and keeps both (`Study`), with an
engine for each fixture; a new one is made when files have changed.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.suite.coverage import Share
from glimb.suite.evidence import EVIDENCE, Row, Where
from glimb.suite.letting import Lets
from glimb.suite.project import Project
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Script
from glimb.suite.study import Study
from glimb.suite.trying import Tried, call_for


class Proof(NamedTuple):
    """The proof grid, and how much has been met of all that is counted; `is_counted` once all cases were counted."""

    rows: list[Row]
    share: Share
    is_counted: bool


class Cell(NamedTuple):
    """The rungs that show a kind of evidence of a routine, and a call for what is missing of it."""

    rungs: list[Where]
    tried: Tried | None
    fixture: str
    """What the call was tried with."""


class Desk:
    """Answers for one project. It belongs to the thread that made it."""

    def __init__(self, project: Project, runner: Runner, lets: Lets | None = None) -> None:
        self.project = project
        self.runner = runner
        self.study = Study()
        self.is_counted = False
        self._counter = Runner(lets, covering=True)

    def forget(self) -> None:
        """Files have changed: worlds are made anew. (What runs have shown stays until they are run again.)"""
        self._counter.forget()
        self._counter = Runner(self._counter.lets, covering=True)
        self.is_counted = False

    def close(self) -> None:
        """Give back the engines of its own."""
        self._counter.forget()

    def engine(self, fixture: str = "") -> Engine:
        """The project as loaded, with the rows of a fixture. ProblemError when it cannot be."""
        return self.runner.world(self.project, fixture)

    # -- running

    def run(self, script: Script, case: Case) -> CaseResult:
        """Run a case, and take note of what it shows."""
        return self.runner.run_case(script, case, recording=True)

    def count(self, cases: Iterable[tuple[Script, Case]]) -> Iterator[None]:
        """Run cases once more and count what they try, one at each step; known when all have been run."""
        for script, case in cases:
            self._counter.run_case(script, case)
            yield
        self.study.counts = self._counter.counts
        self.is_counted = True

    # -- what was shown

    def proof(self) -> Proof:
        """The proof grid as it is known now."""
        return Proof(self.study.grid(self.engine()), self.study.share(), self.is_counted)

    def routine(self, file: str, line: int) -> Routine | None:
        """The routine that begins at a line of a file."""
        for routine in self.engine().catalog.written_routines():
            if routine.source.name == file and routine.source.line(routine.definition.span.start) == line:
                return routine
        return None

    def cell(self, row: Row, kind: str) -> Cell:
        """What stands behind a cell of the grid; where something is missing, a call for it."""
        routine = self.routine(row.file, row.line)
        if routine is None:
            return Cell([], None, "")
        rungs = self.study.rungs(routine, kind) if kind in EVIDENCE else []
        lacks = self.study.lacks(routine, kind)
        tried = call_for(self.project, self.study, routine, kind) if lacks else None
        return Cell(rungs, tried, self.study.fixture(self.project))
