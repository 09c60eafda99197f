"""The three forms of the code that statements become: bare, recorded, covered."""

from __future__ import annotations

from glimb.engine.engine import Engine


def formed(form: int) -> Engine:
    """An engine that makes code of one form."""
    engine = Engine()
    engine.shared.recording = form == 1
    if form == 2:
        engine.cover()
    return engine
