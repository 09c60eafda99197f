"""What the runs of a project's cases have shown, kept by case: one that is run again replaces what it showed.

In: recorded results, one by one; the counts of a covered run. Out: the proof grid with the rungs behind each of its
cells, and which cases a changed file concerns.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import ARM, CONDITION
from glimb.engine.outcomes.steps import walk_steps
from glimb.suite.coverage import Counted, Counts, Share, share_of
from glimb.suite.evidence import Collector, Place, Row, Seen, Where, can_be, grid, handlers_of, shown_of
from glimb.suite.project import Project
from glimb.suite.results import CaseResult

Key = tuple[Path, str]
"""A case: its script and title."""


class Study:
    """What is known of a project by running it."""

    def __init__(self) -> None:
        self.counts: Counts = {}
        """What the last covered run of all cases has counted."""
        self._fixtures: dict[Key, str] = {}
        self._seen: dict[Key, dict[Place, Seen]] = {}
        self._files: dict[Key, frozenset[Path]] = {}
        self._all: dict[Place, Seen] | None = {}

    # -- what is taken in

    def take(self, result: CaseResult) -> None:
        """A recorded run of a case. Its steps are read and forgotten: they are large."""
        if result.case is None:
            return
        key = result.script.path, result.case.title
        collector, names = Collector(), set[str]()
        for ladder in result.ladders:
            collector.look(ladder)
            for rung in ladder.rungs:
                names |= {s.frame.source.name for s in walk_steps(rung.steps) if s.frame is not None}
                rung.forget_steps()
        files = {result.script.path, *map(Path, names)}
        if key in self._seen:
            self._all = None
        elif self._all is not None:
            _join(self._all, collector.seen)
        self._seen[key], self._files[key] = collector.seen, frozenset(files)
        self._fixtures[key] = result.case.fixture

    def keep_only(self, keys: Iterable[Key]) -> None:
        """Forget cases that are no longer there."""
        there = set(keys)
        self.drop([key for key in self._seen if key not in there])

    def drop(self, keys: Iterable[Key]) -> None:
        """Forget what these cases have shown."""
        for key in keys:
            del self._seen[key], self._files[key], self._fixtures[key]
            self._all = None

    # -- what is known

    @property
    def seen(self) -> dict[Place, Seen]:
        """What all cases together have shown, by routine."""
        if self._all is None:
            self._all = {}
            for one in self._seen.values():
                _join(self._all, one)
        return self._all

    def grid(self, engine: Engine) -> list[Row]:
        """A row for each routine."""
        return grid(engine, self.seen, self.counts.values())

    def fixture(self, project: Project) -> str:
        """The fixture to try calls with: that of the project, or where it names none the one that most cases have."""
        return project.usual_fixture(self._fixtures.values())

    def share(self) -> Share:
        """How much of all that is counted has been met."""
        return share_of(self.counts.values())

    def rungs(self, routine: Routine, kind: str) -> list[Where]:
        """The rungs that show a kind of evidence of a routine, those that assert it first."""
        seen = self._of(routine)
        found = [where for one in shown_of(kind, seen, routine) if one is not None for where in one.rungs]
        asserting = {w for one in shown_of(kind, seen, routine) if one is not None for w in one.asserting}
        return sorted(dict.fromkeys(found), key=lambda where: where not in asserting)

    def never_handled(self, routine: Routine) -> list[int]:
        """The lines of handlers that no case has come to."""
        seen = self._of(routine).handlers
        return [routine.source.line(h.span.start) for h in handlers_of(routine) if h.span not in seen]

    def missing(self, routine: Routine, kind: str) -> Iterator[Counted]:
        """The arms or conditions of a routine of which something was never met."""
        wanted = ARM if kind == "arms" else CONDITION
        for one in self.counts.values():
            mine = one.file == routine.source.name and one.owner in (routine.name, routine.signature)
            if mine and one.kind == wanted and one.missing():
                yield one

    def lacks(self, routine: Routine, kind: str) -> bool:
        """Whether something of a kind could be and was never shown."""
        if kind in ("arms", "conditions"):
            return any(self.missing(routine, kind))
        if kind == "handler":
            return bool(self.never_handled(routine))
        return can_be(kind, routine) and not self.rungs(routine, kind)

    def touched(self, files: Iterable[Path]) -> set[Key]:
        """The cases that a change of these files concerns: whose script or fixture they belong to, and those that ran
        something of them; of the schema and of settings, all."""
        changed = set(files)
        fixtures = {path.parent.name for path in changed if path.parent.parent.name == "fixtures"}
        if any(path.suffix == ".toml" or "schema" in path.parts for path in changed):
            return set(self._files)
        return {key for key, mine in self._files.items() if mine & changed or self._fixtures[key] in fixtures}

    def _of(self, routine: Routine) -> Seen:
        return self.seen.get((routine.source.name, routine.definition.span.start), Seen())


def _join(known: dict[Place, Seen], others: dict[Place, Seen]) -> None:
    for place, seen in others.items():
        known.setdefault(place, Seen()).add(seen)
