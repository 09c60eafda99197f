"""All kinds of expectations, by their words. The order is that in which an outcome is pinned."""

from __future__ import annotations

from glimb.suite.expectations import changes, conditions, notes, results, sessions, waymarks
from glimb.suite.expectations.kind import Kind

KINDS: dict[str, Kind] = {
    kind.words: kind for subject in (conditions, results, notes, waymarks, changes, sessions) for kind in subject.KINDS
}
