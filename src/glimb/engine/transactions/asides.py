"""What a statement tells beside its result: notes, waymarks that were passed, conditions that handlers took, host
variables that it gave a value."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import NO_PASSES, HandledCondition, Outcome
from glimb.engine.outcomes.passes import Passes
from glimb.engine.transactions.hosts import GivenHosts, Hosts
from glimb.engine.transactions.notes import Notes
from glimb.engine.values.conditions import Condition

MOST_HANDLED = 1_000
"""So many conditions of a statement that handlers took are told."""


class Asides:
    """Of the running statement of one session."""

    __slots__ = ("handled", "hosts", "notes", "passes")

    def __init__(self, hosts: Hosts) -> None:
        self.notes = Notes()
        self.passes = Passes()
        self.handled: list[HandledCondition] = []
        self.hosts = GivenHosts(hosts)

    def start_statement(self) -> None:
        """Another statement begins. Most tell nothing: to look costs less than to make everything anew."""
        if self.notes.kept:
            self.notes.start_statement()
        if self.passes.kept:
            self.passes = Passes()
        if self.handled:
            self.handled = []
        if self.hosts.values:
            self.hosts.values = []

    def handle(self, handler: tuple[str, str], condition: Condition) -> None:
        """A handler (its routine, and its kind) takes a condition."""
        if len(self.handled) < MOST_HANDLED:
            self.handled.append(HandledCondition(*handler, condition.sqlstate, condition.name, condition.message))

    def tell(self, outcome: Outcome) -> None:
        """Give an outcome what there is; never what a later statement may still add to."""
        outcome.notes = self.notes.of_statement()
        outcome.passes = self.passes if self.passes.kept else NO_PASSES
        outcome.handled = self.handled if self.handled else []
        outcome.given = self.hosts.values if self.hosts.values else []
