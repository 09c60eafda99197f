"""What a session that is in the middle of nothing is beside its data: enough to have one like it again later."""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine.transactions.characteristics import Characteristics
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import Condition
from glimb.lang.source import Source
from glimb.lang.tree import Statement


class Kept(NamedTuple):
    """Settings, prepared statements, and what it could be asked about its past."""

    autocommit: bool
    usual: Characteristics
    coming: Characteristics | None
    current: Characteristics
    schema: str
    patience: float | None
    prepared: dict[str | None, tuple[Statement, Source]]
    command: str
    areas: dict[int, list[Condition]]
    overfull: set[int]
    room: int
    row_count: int
    ended: dict[str, int]
    told: list[str]


def keep(session: Session) -> Kept | None:
    """A session as it is now; None for one that is in a transaction or a wait, or has open cursors or descriptors."""
    dynamic, areas = session.dynamic, session.diagnostics
    in_the_middle = session.active or session.claims.waiting is not None or session.deferred.modes
    if in_the_middle or session.cursors.opened or dynamic.cursors or dynamic.descriptors:
        return None
    return Kept(
        session.autocommit,
        session.usual,
        session.coming,
        session.current,
        session.schema,
        session.claims.patience,
        dict(dynamic.prepared),
        dynamic.command,
        {depth: list(area) for depth, area in areas.areas.items()},
        set(areas.overfull),
        areas.room,
        areas.row_count,
        dict(areas.ended),
        list(session.asides.notes.told),
    )


def put_back(session: Session, kept: Kept) -> None:
    """Make a new session one like that which was kept."""
    dynamic, areas = session.dynamic, session.diagnostics
    session.autocommit, session.usual, session.coming = kept.autocommit, kept.usual, kept.coming
    session.current, session.schema, session.claims.patience = kept.current, kept.schema, kept.patience
    dynamic.prepared, dynamic.command = dict(kept.prepared), kept.command
    areas.areas = {depth: list(area) for depth, area in kept.areas.items()}
    areas.overfull, areas.room, areas.row_count = set(kept.overfull), kept.room, kept.row_count
    areas.ended = dict(kept.ended)
    session.asides.notes.told = list(kept.told)
