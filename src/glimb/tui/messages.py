"""What the worker tells the screens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from textual.message import Message

from glimb.report.since import Difference
from glimb.suite.completing import Words
from glimb.suite.course import Course
from glimb.suite.results import CaseResult
from glimb.suite.script import Script
from glimb.suite.workbench import View

CaseId = tuple[Path, int]


class ScriptsRead(Message):
    """Scripts have been read, those that were told before aside; the last time with the paths of all there are."""

    def __init__(self, scripts: list[Script], paths: list[Path] | None) -> None:
        super().__init__()
        self.scripts = scripts
        self.paths = paths


class CaseDone(Message):
    """A case has been run; `recorded` when its ladder was asked for. `differs`: rungs that do something else than
    in the run that was accepted."""

    def __init__(
        self, case_id: CaseId, result: CaseResult, recorded: bool, differs: tuple[Difference, ...] = ()
    ) -> None:
        super().__init__()
        self.case_id = case_id
        self.result = result
        self.recorded = recorded
        self.differs = differs


class CasesDone(Message):
    """Cases that have been run since it was told last."""

    def __init__(self, cases: list[CaseDone]) -> None:
        super().__init__()
        self.cases = cases


class Answered(Message):
    """What was asked of the desk, and who waits for it."""

    def __init__(self, tell: Callable[[], None]) -> None:
        super().__init__()
        self.tell = tell


class Counted(Message):
    """More is known of what cases show and try."""


class RunEnded(Message):
    """All cases that were asked for have been run, or the run was stopped; whether there was a run to compare with."""

    def __init__(self, stopped: bool, has_base: bool = True) -> None:
        super().__init__()
        self.stopped = stopped
        self.has_base = has_base


class Worked(Message):
    """The ladder that is being worked on has changed; `words` are the names that can stand in a statement."""

    def __init__(self, case_id: CaseId, view: View, words: Words) -> None:
        super().__init__()
        self.case_id = case_id
        self.view = view
        self.words = words


class Known(Message):
    """The names that can stand in a statement of a case."""

    def __init__(self, words: Words) -> None:
        super().__init__()
        self.words = words


class Climbed(Message):
    """What happened inside a rung, and at which step one stands; without a course nothing was found: why."""

    def __init__(self, case_id: CaseId, course: Course | None, at: int, nothing: str = "") -> None:
        super().__init__()
        self.case_id = case_id
        self.course = course
        self.at = at
        self.nothing = nothing


class TakenOut(Message):
    """A statement from within a routine, to be run alone."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.text = text


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
