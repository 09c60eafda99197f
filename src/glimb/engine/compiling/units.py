"""Units of generated code, with what all of them may name."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from glimb.engine.codegen.builder import Unit
from glimb.engine.codegen.changes import write_change
from glimb.engine.codegen.queries import write_query
from glimb.engine.codegen.verbs import RECORDING_NAMES
from glimb.engine.compiling.kept import KeptUnits
from glimb.engine.runtime.names import RUNTIME_NAMES
from glimb.engine.transactions.shared import Shared
from glimb.lang import tree
from glimb.lang.node import Node
from glimb.lang.source import Source, Span


class Units:
    """Makes units for one engine."""

    def __init__(self, shared: Shared) -> None:
        self.shared = shared
        self.kept = KeptUnits(shared.catalog)

    def make(self, title: str, source: Source, routine: str, recording: bool) -> Unit:
        """A unit in one of the three forms: recorded, covered when coverage is asked for, otherwise bare."""
        unit = Unit(title, source, routine, write_query, write_change)
        unit.recording = recording
        unit.coverage = None if recording else self.shared.coverage
        unit.plain = self.shared.plain
        unit.names = self.names(recording)
        return unit

    def names(self, recording: bool) -> dict[str, Any]:
        """What every unit may name at run time."""
        return {**RUNTIME_NAMES, **RECORDING_NAMES} if recording else RUNTIME_NAMES

    def may_be_kept(self, recording: bool) -> bool:
        """Whether the form that is wanted is the one that is kept between runs: the bare one."""
        return not (recording or self.shared.plain or self.shared.coverage is not None)


def waymarks_of(body: tree.Statement, source: Source) -> list[tuple[Span, str]]:
    """The stretches of a body that stand behind its waymarks, the inner ones last: in each list of statements from a
    waymark to the next one, or to the end of the list."""
    found: list[tuple[Span, str]] = []
    if "--@" not in source[body.span]:
        return found
    for statements in _lists(body):
        marks = [s for s in statements if isinstance(s, tree.Waymark)]
        end = statements[-1].span.end
        ends = [*(m.span.start for m in marks[1:]), end]
        found += [(Span(m.span.start, e), m.name) for m, e in zip(marks, ends, strict=True)]
    return sorted(found, key=lambda s: s[0].start - s[0].end)


def _lists(thing: Any) -> Iterator[tuple[tree.Statement, ...]]:
    """All lists of statements within a node that have waymarks."""
    if isinstance(thing, Node):
        for name in thing._fields:
            yield from _lists(getattr(thing, name))
    elif type(thing) is tuple:
        if any(isinstance(part, tree.Waymark) for part in thing):
            yield thing
        for part in thing:
            yield from _lists(part)
