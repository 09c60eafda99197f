"""Units of generated code, with what all of them may name."""

from __future__ import annotations

from glimb.engine.codegen.builder import Unit
from glimb.engine.codegen.changes import write_change
from glimb.engine.codegen.queries import write_query
from glimb.engine.codegen.verbs import RECORDING_NAMES
from glimb.engine.runtime.names import RUNTIME_NAMES
from glimb.engine.transactions.shared import Shared
from glimb.lang.source import Source


class Units:
    """Makes units for one engine."""

    def __init__(self, shared: Shared) -> None:
        self.shared = shared

    def make(self, title: str, source: Source, routine: str, recording: bool) -> Unit:
        unit = Unit(title, source, routine, write_query, write_change)
        unit.recording = recording
        unit.plain = self.shared.plain
        unit.names = {**RUNTIME_NAMES, **RECORDING_NAMES} if recording else RUNTIME_NAMES
        return unit
