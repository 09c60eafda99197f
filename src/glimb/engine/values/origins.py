"""From a line of generated Python back to SQL: where a condition came from, and what a traceback shows."""

from __future__ import annotations

from collections.abc import Iterator
from types import FrameType, TracebackType
from typing import Any
from zlib import crc32

from glimb.engine.values.conditions import Origin
from glimb.lang.source import Source, Span

MOST_CALLS = 10


class GeneratedCode:
    """A piece of generated source: which routine it is (empty: a statement outside one), and a span for each line."""

    __slots__ = ("constants", "filename", "routine", "source", "spans", "text", "title", "waymarks")

    def __init__(
        self, title: str, routine: str, source: Source, text: str, spans: list[Span], constants: dict[str, Any]
    ) -> None:
        self.constants = constants
        """The objects that the text names."""
        self.title = title
        self.routine = routine
        self.source = source
        self.text = text
        self.spans = spans
        self.waymarks: list[tuple[Span, str]] = []
        """The stretches of the text that stand behind a waymark, with its name, the inner ones last."""
        self.filename = f"glimb: {title} #{crc32(text.encode()):08x}"
        """The same for the same text: its code may be that of another engine, or of another run."""

    def register(self, namespace: dict[str, Any]) -> None:
        """Make tracebacks and debuggers show the generated lines: they ask the `__loader__` of the namespace."""
        namespace["__name__"] = self.filename
        namespace["__loader__"] = self

    def get_source(self, name: str) -> str:
        """The text, as `linecache` asks for it."""
        return self.text

    def waymark(self, number: int) -> str:
        """The waymark that a line of the generated text stands behind; empty for none."""
        start = self.spans[number - 1].start
        return next((name for span, name in reversed(self.waymarks) if span.start <= start < span.end), "")

    def line(self, number: int) -> int:
        """Line of the SQL text for a line of the generated one."""
        return self.source.line(self.spans[number - 1].start)


def _unit_of(frame: FrameType) -> GeneratedCode | None:
    """The generated code that a frame runs; None for any other frame."""
    found = frame.f_globals.get("__loader__")
    return found if isinstance(found, GeneratedCode) else None


def _frames(traceback: TracebackType | None) -> Iterator[tuple[GeneratedCode, int]]:
    while traceback is not None:
        unit = _unit_of(traceback.tb_frame)
        if unit is not None:
            yield unit, traceback.tb_lineno
        traceback = traceback.tb_next


def place_of(frame: FrameType) -> Origin | None:
    """The routine, and the line of its text, that a frame of generated code is at; None for any other frame."""
    unit = _unit_of(frame)
    if unit is None or not unit.routine:
        return None
    return Origin(unit.routine, unit.line(frame.f_lineno), unit.source.name)


def origin(error: BaseException) -> Origin | None:
    """The innermost routine, and the line in the text that made it, from which an exception came, and its callers."""
    found: list[Origin] = []
    last = None
    for unit, line in _frames(error.__traceback__):
        if unit.routine:
            place = Origin(unit.routine, unit.line(line), unit.source.name, (), unit.waymark(line))
            if unit is last and found[-1].line == place.line:
                continue
            if unit is last and not _is_recursion(error.__traceback__, unit):
                found.pop()
            found.append(place)
        last = unit
    if not found:
        return None
    *callers, innermost = found
    return innermost._replace(calls=tuple(reversed(callers[-MOST_CALLS:])))


def _is_recursion(traceback: TracebackType | None, unit: GeneratedCode) -> bool:
    """Whether a routine has called itself: its own function is there several times."""
    frames = set()  # what is raised again in a frame goes through it twice
    while traceback is not None:
        if _unit_of(traceback.tb_frame) is unit and traceback.tb_frame.f_code.co_name == "routine_1":
            frames.add(id(traceback.tb_frame))
        traceback = traceback.tb_next
    return len(frames) > 1
