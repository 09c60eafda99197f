"""What carrying out one schema statement knows: the session, the text, the catalog, what has been made."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from glimb.engine.binding.areas import binding_for
from glimb.engine.catalog.objects import (
    SYSTEM_SCHEMAS,
    Routine,
    Trigger,
)
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail
from glimb.lang import tree
from glimb.lang.source import Source

Verbs = Mapping[type, Callable[["Definition", Any], None]]
"""What carries out each kind of statement."""
Texts = dict[str, tuple[str, Source]]
"""Of CHECKs, by the name of the constraint: how they were written, and the text in which their places are."""


class Definition:
    """One schema statement at work."""

    def __init__(self, verbs: Verbs, session: Session, source: Source) -> None:
        self.verbs = verbs
        self.session = session
        self.source = source
        self.catalog = session.shared.catalog
        self.binder = binding_for(self.catalog, source, schema=session.schema)
        self.made: list[Routine | Trigger] = []
        self.texts: Texts = {}
        """Texts of the CHECKs that come from domains, by constraint."""

    def carry_out(self, node: tree.Statement) -> list[Routine | Trigger]:
        """Do it; gives the routines and triggers that have been made, whose bodies are to be looked at."""
        self.session.begin()
        self.session.must_write()
        self.define(node)
        return self.made

    def define(self, node: tree.Statement) -> None:
        """Do what a statement says, which may be a part of another one."""
        self.verbs[type(node)](self, node)

    def new_key(self, space: str, name: tree.Parts, node: tree.Node) -> str:
        """The key of an object to be made: in the schema that it names, or the current one."""
        if len(name) > 1:
            if name[-2] in SYSTEM_SCHEMAS:
                self.binder.fail("42807", f"schema {name[-2]} cannot be changed", node)
            return self.binder.key(space, name, node)
        return f"{self.binder.schema}.{name[0]}" if self.binder.schema else name[0]

    def _wait_for_dropped(self, name: str) -> None:
        """A table of this name that another session has dropped and not yet committed may come back: wait for it."""
        for other in self.session.shared.sessions.values():
            for where, key, before, _ in list(other.log) if other is not self.session else ():
                if where is self.catalog and key == ("relations", name) and isinstance(before[0], Table):
                    self.session.claims.lock_table(before[0], "X")
                    if name in self.catalog.relations:
                        fail("42710", f"{self.catalog.relations[name].kind} {name} exists already")

    def change(self, space: str, name: str, value: object) -> None:
        if space == "relations":
            if isinstance(value, Table):
                self._wait_for_dropped(name)
            for table in (self.catalog.relations.get(name), value):
                if isinstance(table, Table):
                    self.session.claims.own(table)
        if space == "triggers":
            for trigger in (self.catalog.triggers.get(name), value):
                if isinstance(trigger, Trigger) and trigger.view is None:
                    self.session.claims.lock_table(trigger.table, "X")
        self.catalog.change(self.session.log, space, name, value)
