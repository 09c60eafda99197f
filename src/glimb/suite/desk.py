"""The desk: what the screens ask of a project beside its ladders, and what commands could ask too.

In: a project and its scripts. It runs cases for what they show, counts what they try, and keeps both (`Study`), with an
engine for each fixture; a new one is made when files have changed.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source
from glimb.suite.about import About, about
from glimb.suite.checking import Told, check
from glimb.suite.completing import Words, words_of
from glimb.suite.coverage import Share
from glimb.suite.drafts import Remark, remarks
from glimb.suite.edges import argument_lists, call_of, edges
from glimb.suite.evidence import EVIDENCE, Row, Where
from glimb.suite.letting import Lets
from glimb.suite.project import Project
from glimb.suite.reaching import quick_engine
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Script, StatementStep
from glimb.suite.sheet_making import cell_of, edge_rows, query_rows, routine_named
from glimb.suite.sheet_table import Ran, SheetTable, run_rows
from glimb.suite.sheets import script_of_sheet
from glimb.suite.study import Study
from glimb.suite.trying import Tried, call_for


class Proof(NamedTuple):
    """The proof grid, and how much has been met of all that is counted; `is_counted` once all cases were counted."""

    rows: list[Row]
    share: Share
    is_counted: bool
    tables: list[str]
    """Names of the tables."""


class Cell(NamedTuple):
    """The rungs that show a kind of evidence of a routine, and a call for what is missing of it."""

    rungs: list[Where]
    tried: Tried | None
    fixture: str
    """What the call was tried with."""


class Named(NamedTuple):
    """A routine by name, with where it stands."""

    name: str
    kind: str
    signature: str
    file: str
    line: int


class Installed(NamedTuple):
    """What an engine has in the place of a routine of the files: where it was made, and its text."""

    file: str
    line: int
    text: str


class Desk:
    """Answers for one project. It belongs to the thread that made it."""

    def __init__(self, project: Project, runner: Runner, lets: Lets | None = None) -> None:
        self.project = project
        self.runner = runner
        self.study = Study()
        self.scripts: list[Script] = []
        self.is_counted = False
        self._stamps: set[tuple[Path, float]] = set()
        """The files of schema and routines, each with when it was written."""
        self._counter = Runner(lets, covering=True)

    def forget(self) -> None:
        """Files may have changed: worlds are made anew. What cases have shown of a file that has changed is known no
        longer, since it is known by its places there; of others it stays."""
        before, self._stamps = self._stamps, self._stamps_now()
        changed = {path for path, _ in before ^ self._stamps} if before else set()
        self.study.drop(self.study.touched(changed) if changed else ())
        if self._counter.refresh():
            self._counter = Runner(self._counter.lets, covering=True)
        self.is_counted = False

    def _stamps_now(self) -> set[tuple[Path, float]]:
        """The files that routines and their tables come of; one that is gone meanwhile has changed."""
        found = set()
        for path in (*self.project.files("schema"), *self.project.files("routines")):
            with suppress(OSError):
                found.add((path, path.stat().st_mtime))
        return found

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
        before = self._counter.counts
        for script, case in cases:
            self._counter.run_case(script, case)
            yield
        self.study.counts = {place: one.since(before.get(place)) for place, one in self._counter.counts.items()}
        self.is_counted = True

    # -- what was shown

    def proof(self) -> Proof:
        """The proof grid as it is known now."""
        engine = self.engine()
        names = sorted(table.name for table in engine.catalog.tables())
        return Proof(self.study.grid(engine), self.study.share(), self.is_counted, names)

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

    def rungs(self, row: Row, kind: str) -> list[Where]:
        """The rungs behind a cell of the grid, without trying calls."""
        routine = self.routine(row.file, row.line) if kind in EVIDENCE else None
        return self.study.rungs(routine, kind) if routine is not None else []

    # -- tables

    def fixture_of(self, case: Case) -> str:
        """The fixture of a case."""
        return case.fixture or self.project.settings.default_fixture

    def fixtures(self) -> list[str]:
        """The fixtures of the project, that with which most is tried first."""
        first = self.study.fixture(self.project)
        return sorted(self.project.fixtures(), key=lambda name: (name != first, name))

    # -- findings

    def findings(self) -> list[Told]:
        """All that is wrong or dubious in the project, without running it."""
        return check(self.project, [Path(script.path) for script in self.scripts])

    # -- call sheets

    def sheets(self) -> list[Path]:
        """The sheets of the project, by name."""
        root = self.project.root
        return sorted((root / "sheets").glob("*.csv")) if root is not None else []

    def run_sheet(self, path: Path, table: SheetTable, rows: Iterable[int]) -> dict[int, Ran]:
        """Run rows of a sheet as they are typed."""
        return run_rows(self.runner, path, table, rows)

    def call_of_row(self, path: Path, table: SheetTable, row: int) -> tuple[str, str]:
        """The statement that a row makes, and its fixture. ProblemError for a row that makes none."""
        script = script_of_sheet(path, Source(table.text(), str(path)))
        if script.problems or row not in table.calls:
            raise ProblemError(*(script.problems or [Problem("02000", "nothing stands in this row")]))
        case = script.cases[table.calls.index(row)]
        step = next(step for step in case.steps if isinstance(step, StatementStep))
        return script.source[step.span].rstrip("; \n"), self.fixture_of(case)

    def rows_from(self, name: str, query: str) -> list[list[str]]:
        """Rows for a sheet of a routine: one for each row of a query, or without one of arguments worth trying."""
        engine = quick_engine(self.project, self.study.fixture(self.project))  # what runs on for long is left out
        try:
            routine = routine_named(engine, name)
            rows = query_rows(engine, routine, query) if query else edge_rows(engine, routine)
        finally:
            engine.close()
        return [[cell_of(text) for text in row] for row in rows]

    # -- routines

    def routines(self) -> list[Named]:
        """All routines of the files, in their order."""
        found = [
            Named(r.name, r.kind_word, r.signature, r.source.name, r.source.line(r.definition.span.start))
            for r in self.engine().catalog.written_routines()
        ]
        return sorted(found, key=lambda one: (one.file, one.line))

    def about(self, file: str, line: int) -> About | None:
        """A routine from all sides; None when there is none at this place (any more)."""
        routine = self.routine(file, line)
        if routine is None:
            return None
        counts = self.study.counts.values() if self.is_counted else ()  # others are of lines that may have moved
        return about(self.engine(), routine, self.scripts, counts)

    def remarks(self, source: Source) -> list[Remark]:
        """What is to be said of a text with routines that is being written."""
        return remarks(self.engine(), source)

    def words(self) -> Words:
        """The names that can stand in a statement."""
        return words_of(self.engine(), "")

    def call(self, file: str, line: int) -> str:
        """A call of a routine with likely arguments."""
        routine = self.routine(file, line)
        if routine is None:
            return ""
        engine = self.engine(self.study.fixture(self.project))
        mine = next((r for r in engine.catalog.written_routines() if r.signature == routine.signature), routine)
        return call_of(mine, next(argument_lists(list(edges(engine, mine).values()), 1)))


def installed(engine: Engine, about_: About) -> Installed | None:
    """What an engine has in the place of a routine, where that is another one than that of the files."""
    for routine in engine.catalog.routines.get(about_.name, ()):
        if routine.signature == about_.signature or len(engine.catalog.routines[about_.name]) == 1:
            text = routine.source[routine.definition.span]
            if text != "\n".join(about_.lines):
                return Installed(routine.source.name, routine.source.line(routine.definition.span.start), text)
            return None
    return Installed("", 0, "")
