"""Going through a ladder of 1,000 rungs: forward, back, and with a watch; beside running the statements themselves."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count

from benchmarks.measure import Benchmark
from glimb.engine.engine import Engine
from glimb.suite.replay import Replay
from glimb.suite.runner import Runner
from glimb.suite.script import Script, read_script

Pair = tuple[Callable[[], object], Callable[[], object]]
RUNGS = 1_000
WATCHED = "SELECT SUM(n) FROM t WHERE id < 50"


def script(extra: str = "") -> Script:
    """A table of 100 rows, and rungs that change one row, look at one, and commit now and then."""
    lines = ["CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);"]
    rows = ", ".join(f"({n}, 0)" for n in range(100))
    lines += [f"INSERT INTO t VALUES {rows};", "COMMIT;"]
    for number in range(RUNGS - 3):
        text = ("UPDATE t SET n = n + 1 WHERE id = {};", "SELECT n FROM t WHERE id = {};", "COMMIT;")[number % 3]
        lines.append(text.format(number % 100))
        lines += [extra] * bool(extra)
    return read_script("bench.sql", "\n".join(lines))


def replayed(text: Script) -> Replay:
    return Replay(Engine(), text.cases[0], text.source)


def run_of(text: Script) -> Callable[[], object]:
    runner = Runner()
    return lambda: runner.run_case(text, text.cases[0])


def forward() -> Pair:
    replay = replayed(script())

    def all_rungs() -> None:
        replay.at(0)
        for rung in range(1, RUNGS + 1):
            replay.at(rung)

    return all_rungs, run_of(script())


def back() -> Pair:
    replay = replayed(script())
    replay.at(RUNGS)
    targets = (RUNGS - 100 - 7 * n for n in count())

    def a_hundred_back() -> None:
        replay.at(RUNGS)
        replay.at(next(targets))

    return a_hundred_back, run_of(script())


def watch() -> Pair:
    replay = replayed(script())
    return lambda: list(replay.watch(WATCHED)), run_of(script(f"{WATCHED};"))


ALL = [
    Benchmark("1,000 rungs forward, one by one", "running them", 1.3, forward),
    Benchmark("from rung 1,000 a hundred back, and to the end again", "running 1,000", 1.5, back),
    Benchmark("a watch over 1,000 rungs", "running 1,000 rungs and 1,000 queries", 2.0, watch),
]
