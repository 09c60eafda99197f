"""Measuring: two callables in turn, medians of several runs, and their ratio."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.runtime.writer import Writer
from glimb.engine.storage.table import Table
from glimb.lang.parser import parse
from glimb.lang.source import Source


class Benchmark(NamedTuple):
    """What is measured, beside what; `most` is the ratio that should not be passed. `make` prepares both sides: they are
    timed, or (`told`) tell seconds themselves."""

    name: str
    beside: str
    most: float
    make: Callable[[], tuple[Callable[[], Any], Callable[[], Any]]]
    runs: int = 5
    told: bool = False


def seconds(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def show(benchmark: Benchmark, runs: int = 0, room: float = 1) -> bool:
    """Measure and print one line; whether the ratio is at most what it should be, times `room`."""
    ours, theirs = benchmark.make()
    ours(), theirs()
    measure = (lambda work: work()) if benchmark.told else seconds
    pairs = [(measure(ours), measure(theirs)) for _ in range(runs or benchmark.runs)]
    mine, peer = statistics.median(a for a, _ in pairs), statistics.median(b for _, b in pairs)
    ratio = mine / peer
    is_met = ratio <= benchmark.most * room
    mark = " " if is_met else "!"
    print(
        f"{mark} {ratio:6.2f} (at most {benchmark.most:g})  {benchmark.name}: {mine * 1000:.2f} ms, "
        f"{benchmark.beside} {peer * 1000:.2f} ms",
        flush=True,
    )
    return is_met


class Glimb:
    """An engine with statements run in one session."""

    def __init__(self, text: str = "") -> None:
        self.engine = Engine()
        self.run(text)

    def run(self, text: str) -> Outcome | None:
        """Run statements; the outcome of the last one, which must have succeeded."""
        source = Source(text)
        parsed = parse(source)
        assert not parsed.problems, parsed.problems[0].describe()
        outcome = None
        for statement in parsed.statements:
            (outcome,) = self.engine.execute(self.engine.session("bench"), statement, source)
            assert outcome.failure is None, outcome.failure
        return outcome

    def fill(self, table: str, rows: Iterable[tuple[Any, ...]]) -> None:
        """Store rows without statements."""
        found = self.engine.catalog.relations[table]
        assert isinstance(found, Table)
        writer = Writer(self.engine.session("bench"), 0, found)
        for row in rows:
            writer.insert(row)
        writer.finish()

    def prepared(self, text: str) -> Callable[[], Outcome]:
        """A statement parsed once, to be executed again and again."""
        source = Source(text)
        (statement,) = parse(source).statements

        def execute() -> Outcome:
            (outcome,) = self.engine.execute(self.engine.session("bench"), statement, source)
            assert outcome.failure is None, outcome.failure
            return outcome

        return execute
