"""What became of a case."""

from __future__ import annotations

from glimb.lang.problem import Problem
from glimb.suite.ladder import Ladder
from glimb.suite.script import Case, Script


class CaseResult:
    """What became of a case: `met`, `slipped`, `broken` (its text or fixture is wrong) or `skipped`."""

    def __init__(self, script: Script, case: Case | None, verdict: str, seconds: float = 0.0) -> None:
        self.script = script
        self.case = case
        self.verdict = verdict
        self.seconds = seconds
        self.ladder: Ladder | None = None
        self.twin: Ladder | None = None
        """Of a case that runs under two settings: the ladder under the second one."""
        self.problems: list[Problem] = []

    @property
    def ladders(self) -> list[Ladder]:
        """The ladder, or the two of a twin; none when it was not run."""
        return [ladder for ladder in (self.ladder, self.twin) if ladder is not None]

    @property
    def met_count(self) -> int:
        """Expectations met, on both sides of a twin."""
        return sum(ladder.met_count for ladder in self.ladders)

    @property
    def total_count(self) -> int:
        """Expectations, on both sides of a twin."""
        return sum(ladder.met_count + ladder.slip_count for ladder in self.ladders)

    @property
    def expects_nothing(self) -> bool:
        """Whether it is met because there was nothing that could have slipped."""
        return self.verdict == "met" and not self.total_count

    @property
    def title(self) -> str:
        """Of the case; of a script that cannot be read, its name."""
        return self.case.title if self.case is not None else self.script.path.name
