"""Queries whose values are asked behind every rung of a ladder."""

from __future__ import annotations

from typing import NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conversion import literal_of
from glimb.suite.asking import parsed_query
from glimb.suite.replay import Replay


class Watch(NamedTuple):
    """A query whose value is asked behind every rung: texts, one for each rung, behind the one before all of them."""

    query: str
    values: list[str]


class Watches:
    """The values that are known, up to the rung behind which nothing has changed since they were asked."""

    def __init__(self) -> None:
        self._values: dict[str, list[str]] = {}
        self._known = 0

    def all(self) -> list[Watch]:
        return [Watch(query, values[:]) for query, values in self._values.items()]

    def watch(self, query: str) -> None:
        """Keep a query, or no longer. ProblemError for a text that is no query."""
        if query in self._values:
            del self._values[query]
        else:
            parsed_query(query)
            self._values[query] = []
            self._known = 0

    def changed(self, rung: int) -> None:
        """What comes behind a rung is to be asked again."""
        self._known = min(self._known, rung)

    def forget(self) -> None:
        """Ask everything again."""
        self._known = 0
        self._values = {query: [] for query in self._values}

    def is_behind(self, rungs: int) -> bool:
        """Whether there are rungs behind which nothing has been asked."""
        return any(len(values) != rungs + 1 for values in self._values.values())

    def look(self, replay: Replay) -> None:
        """Ask behind the rungs behind which nothing has been asked."""
        end = replay.length
        for values in self._values.values():
            del values[self._known + 1 :]
        first = min((len(values) for values in self._values.values()), default=end + 1)
        for rung in range(first, end + 1):
            replay.at(rung)
            for query, values in self._values.items():
                if len(values) == rung:
                    values.append(_value(replay.ask(query)))
        replay.at(end)
        self._known = end


def _value(outcome: Outcome) -> str:
    """What a watch shows: the value of its first row and column, and how many rows more there are."""
    if outcome.failure is not None:
        return outcome.failure.sqlstate
    rows = outcome.rows or []
    if not rows or outcome.columns is None:
        return "no row"
    value = literal_of(rows[0][0], outcome.columns[0].type)
    return value if len(rows) == 1 else f"{value} +{len(rows) - 1}"
