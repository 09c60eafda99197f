"""Run all benchmarks, or those whose names are given: `python -m benchmarks loop fib`; `--short` runs a few, once, with
wide bounds. Ends with 1 when a ratio is beyond what is to be reached."""

from __future__ import annotations

import gc
import sys

from benchmarks import (
    bulk,
    checking,
    locking,
    parsing,
    plans,
    procedural,
    queries,
    replaying,
    starting,
    storage,
    suites,
)
from benchmarks.measure import Benchmark, show
from glimb.cli import GARBAGE

ALL: list[Benchmark] = [
    *procedural.ALL,
    *queries.ALL,
    *plans.ALL,
    *bulk.ALL,
    *storage.ALL,
    *locking.ALL,
    *parsing.ALL,
    *checking.ALL,
    *replaying.ALL,
    *starting.ALL,
    *suites.ALL,
]
SHORT = ("loop of", "fib", "100,000 rows: ", "LATERAL", "> ALL", "parsed", "CSV of 100", "woven", "--help")
ROOM = 4.0
"""How much wider bounds are in the short form: it is to notice what has become slow by its kind, on any machine."""


def main() -> int:
    gc.set_threshold(*GARBAGE)  # as the program runs
    words = sys.argv[1:]
    if words == ["--short"]:
        some = [b for b in ALL if any(word in f"{b.name}: " for word in SHORT)]
        met = [show(benchmark, 1, ROOM) for benchmark in some]
        return int(not all(met))
    some = [b for b in ALL if not words or any(word in b.name for word in words)]
    met = [show(benchmark) for benchmark in some]
    return int(not all(met))


if __name__ == "__main__":
    sys.exit(main())
