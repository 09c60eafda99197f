"""What a recorded run leaves: a flat list of events, written by generated code.

A statement appends its StatementInfo before it runs, and behind it the values it assigned. A routine, a trigger or a
dynamic statement appends its FrameInfo, its depth and its arguments when it is entered, and END when it is left; a
loop appends ROUND for every round and END behind the last. A handler appends its HandlerInfo, the depth of its frame
and the condition. So an exception needs no event of its own: what it skipped is known from what comes next. NO_DATA
says that a statement found no row.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from glimb.engine.values.types import Type
from glimb.lang.node import Node
from glimb.lang.source import Source, Span

KEPT_EVENTS = 3_000
MOST_EVENTS = 300_000
"""Behind so many events routines go on bare."""
MOST_OF_ALL = 20_000_000
"""The same where all rounds of loops are kept."""

NOBODY: Mapping[str, str] = MappingProxyType({})

Rounds = tuple[int, int]
"""Rounds of loops that are kept beside the first and the last ones: from one to another. What is folded is counted
then, which takes longer than recording it; where nobody looks inside (None) it is not."""
FOLDED, UNFOLDED = (0, 0), (0, MOST_OF_ALL)


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
    """Rounds that were folded: the loop is now in its `round`-th; `counts` tell how often each marker was in them."""

    __slots__ = ("counts", "round")

    def __init__(self, number: int, counts: Counter[Marker]) -> None:
        super().__init__("gap")
        self.round = number
        self.counts = counts


class StatementInfo(Marker):
    """A statement of generated code: kind, place, and the variables whose values follow, with the locals that hold them
    (one to a variable: two variables may have one name). `reach` tells by name the locals of the variables that it can
    see. A change (INSERT, UPDATE, DELETE) is followed by its row count and its log entries.

    What is certain is not written: `following` is an assignment that comes at once, without a marker of its own;
    a statement that `starts_round` is the first of a loop's body, and says so for ROUND."""

    __slots__ = (
        "following",
        "is_change",
        "is_loop",
        "locals",
        "reach",
        "source",
        "span",
        "starts_round",
        "types",
        "variables",
    )

    def __init__(
        self,
        name: str,
        source: Source,
        span: Span,
        variables: tuple[str, ...],
        types: tuple[Type, ...],
        is_change: bool,
        locals: tuple[str, ...] = (),
        reach: Mapping[str, str] = NOBODY,
    ) -> None:
        super().__init__(name)
        self.locals = locals
        self.reach = reach
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
    """A routine, trigger or dynamic statement that is entered: its depth and its arguments follow. `span` is all of its
    text, `body` what runs of it, `bound` the same as it was bound."""

    __slots__ = ("body", "bound", "locals", "source", "span", "types", "variables")

    def __init__(
        self,
        name: str,
        source: Source,
        span: Span,
        body: Node,
        variables: tuple[str, ...],
        types: tuple[Type, ...],
        locals: tuple[str, ...] = (),
        bound: Node | None = None,
    ) -> None:
        super().__init__(name)
        self.source = source
        self.span = span
        self.body = body
        self.bound = bound
        self.locals = locals or variables
        self.variables = variables
        self.types = types

    @property
    def head(self) -> Span:
        """Its text up to the body."""
        return Span(self.span.start, self.body.span.start)


class LoopFold:
    """Keeps the first events of a loop, those of the rounds that are wanted, and the latest, and drops whole rounds
    between them."""

    __slots__ = ("counts", "cut", "seen", "wanted")

    def __init__(self, wanted: Rounds | None) -> None:
        self.wanted = wanted
        self.cut = self.seen = 0
        self.counts: Counter[Marker] = Counter()

    def __call__(self, events: list[Any], number: int) -> int:
        """Called at the start of round `number` when much has been written; gives the next length to be called at."""
        if self.cut and (self.wanted is None or number <= self.wanted[0] or self.seen > self.wanted[1]):
            if self.wanted is not None:
                self._count([e for e in events[self.cut :] if isinstance(e, Marker)])
            del events[self.cut :]
            events.append(Gap(number, self.counts))
        else:
            self.cut, self.counts = len(events), Counter()
        self.seen = number
        return len(events) + KEPT_EVENTS

    def _count(self, dropped: list[Marker]) -> None:
        self.counts.update(dropped)
        for gap in dropped:
            if isinstance(gap, Gap) and gap.counts is not self.counts:  # of a loop within
                self.counts.update(gap.counts)
