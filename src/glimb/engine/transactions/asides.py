"""What a statement tells beside its result: notes, waymarks that were passed, host variables that it gave a value."""

from __future__ import annotations

from glimb.engine.outcomes.outcome import NO_PASSES, Outcome
from glimb.engine.outcomes.passes import Passes
from glimb.engine.transactions.hosts import GivenHosts, Hosts
from glimb.engine.transactions.notes import Notes


class Asides:
    """Of the running statement of one session."""

    __slots__ = ("hosts", "notes", "passes")

    def __init__(self, hosts: Hosts) -> None:
        self.notes = Notes()
        self.passes = Passes()
        self.hosts = GivenHosts(hosts)

    def start_statement(self) -> None:
        """Another statement begins. Most tell nothing: to look costs less than to make everything anew."""
        if self.notes.kept:
            self.notes.start_statement()
        if self.passes.kept:
            self.passes = Passes()
        if self.hosts.values:
            self.hosts.values = []

    def tell(self, outcome: Outcome) -> None:
        """Give an outcome what there is; never what a later statement may still add to."""
        outcome.notes = self.notes.of_statement()
        outcome.passes = self.passes if self.passes.kept else NO_PASSES
        outcome.given = self.hosts.values if self.hosts.values else []
