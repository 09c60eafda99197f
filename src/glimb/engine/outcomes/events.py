"""What a recorded run leaves: a flat list of events, written by generated code.

A statement appends its StatementInfo before it runs, and behind it the values it assigned. A routine appends its
FrameInfo, its depth and its arguments when it is entered, and END when it is left; a loop appends ROUND for every
round and END behind the last. A handler appends its HandlerInfo, the depth of its frame and the condition. So an
exception needs no event of its own: what it skipped is known from what comes next. NO_DATA says that a statement found
no row.
"""

from __future__ import annotations

import sys
from typing import Any

from glimb.engine.catalog.objects import Routine
from glimb.engine.values.types import Type
from glimb.lang.source import Source, Span

KEPT_EVENTS = 3_000
MOST_EVENTS = 300_000
"""Behind so many events routines go on bare."""
MOST_OF_ALL = 20_000_000
"""The same where all rounds of loops are kept."""


class Marker:
    """Whatever in the list is not a value."""

    __slots__ = ("name",)

    def __init__(self, name: str) -> None:
        self.name = name


ROUND, END, NO_DATA = Marker("round"), Marker("end"), Marker("no data")


class HandlerInfo(Marker):
    """A handler has taken a condition: its kind, and the place of its declaration."""

    __slots__ = ("source", "span")

    def __init__(self, kind: str, source: Source, span: Span) -> None:
        super().__init__(kind)
        self.source = source
        self.span = span


class Gap(Marker):
    """Rounds that were folded: the loop is now in its `round`-th."""

    __slots__ = ("round",)

    def __init__(self, number: int) -> None:
        super().__init__("gap")
        self.round = number


class StatementInfo(Marker):
    """A statement of generated code: kind, place, and the variables whose values follow. A change (INSERT, UPDATE,
    DELETE) is followed by its row count and its log entries.

    What is certain is not written: `following` is an assignment that comes at once, without a marker of its own;
    a statement that `starts_round` is the first of a loop's body, and says so for ROUND."""

    __slots__ = ("following", "is_change", "is_loop", "source", "span", "starts_round", "types", "variables")

    def __init__(
        self,
        name: str,
        source: Source,
        span: Span,
        variables: tuple[str, ...],
        types: tuple[Type, ...],
        is_change: bool,
    ) -> None:
        super().__init__(name)
        self.source = source
        self.span = span
        self.variables = variables
        self.types = types
        self.is_change = is_change
        self.is_loop = name in ("while", "loop", "repeat", "for")
        self.following: StatementInfo | None = None
        self.starts_round = False

    @property
    def count(self) -> int:
        """How many values follow."""
        return len(self.variables) + (2 if self.is_change else 0)


class FrameInfo(Marker):
    """A routine that is entered: its depth and its arguments follow."""

    __slots__ = ("routine", "types", "variables")

    def __init__(self, routine: Routine, variables: tuple[str, ...], types: tuple[Type, ...]) -> None:
        super().__init__(routine.name)
        self.routine = routine
        self.variables = variables
        self.types = types


class LoopFold:
    """Keeps the first events of a loop and the latest, and drops whole rounds between them, unless all are wanted."""

    __slots__ = ("cut", "keeps_all")

    def __init__(self, keeps_all: bool) -> None:
        self.cut = 0
        self.keeps_all = keeps_all

    def __call__(self, events: list[Any], number: int) -> int:
        """Called at the start of round `number` when much has been written; gives the next length to be called at."""
        if self.keeps_all:
            return sys.maxsize
        if self.cut:
            del events[self.cut :]
            events.append(Gap(number))
        else:
            self.cut = len(events)
        return len(events) + KEPT_EVENTS
