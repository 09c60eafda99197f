"""Lists of foreign keys, changed through the log: so they are rolled back as rows are."""

from __future__ import annotations

from glimb.engine.definition.context import Definition
from glimb.engine.storage.table import ForeignKey


def listed(d: Definition, keys: list[ForeignKey], foreign: ForeignKey) -> None:
    """Put a foreign key into a list of them; a logged change, like everything here."""
    d.session.log.append((_Listed(keys, foreign), None, None, None))
    keys.append(foreign)


def unrefer(d: Definition, keys: list[ForeignKey], key: ForeignKey) -> None:
    """Take a foreign key out of a list of them."""
    d.session.log.append((_Unreference(keys, key, keys.index(key)), None, None, None))
    keys.remove(key)


class _Listed:
    """A log entry: a foreign key has been put into a list of them."""

    def __init__(self, keys: list[ForeignKey], foreign: ForeignKey) -> None:
        self.keys = keys
        self.foreign = foreign

    def undo(self, key: object, before: object, after: object) -> None:
        self.keys.remove(self.foreign)


class _Unreference:
    """A log entry: a foreign key has been taken from a list of them."""

    def __init__(self, keys: list[ForeignKey], key: ForeignKey, position: int) -> None:
        self.keys = keys
        self.key = key
        self.position = position

    def undo(self, key: object, before: object, after: object) -> None:
        self.keys.insert(self.position, self.key)
