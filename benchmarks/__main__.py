"""Run all benchmarks, or those whose names are given: `python -m benchmarks loop fib`."""

from __future__ import annotations

import gc
import sys

from benchmarks import bulk, checking, locking, parsing, plans, procedural, queries, replaying, starting, storage
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
]


def main() -> None:
    gc.set_threshold(*GARBAGE)  # as the program runs
    words = sys.argv[1:]
    for benchmark in ALL:
        if not words or any(word in benchmark.name for word in words):
            show(benchmark)


if __name__ == "__main__":
    main()
