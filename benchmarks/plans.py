"""Queries that a plain nested loop would answer in the square of the rows: beside sqlite3 where it has a way, and
beside themselves with half of the rows, since the time has to grow as the rows do."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from benchmarks.measure import Benchmark
from benchmarks.queries import both

Pair = tuple[Callable[[], object], Callable[[], object]]
OR_KEYS = "SELECT COUNT(*) FROM big a JOIN big b ON a.id = b.v OR a.v = b.id"
LATERAL = "SELECT SUM(d.n) FROM big a, LATERAL (SELECT COUNT(*) AS n FROM big b WHERE b.v = a.v) d"
CORRELATED = "SELECT SUM((SELECT COUNT(*) FROM big b WHERE b.v = a.v)) FROM big a"
ALL_OF = "SELECT COUNT(*) FROM big a WHERE v > ALL (SELECT v FROM big b WHERE b.grp = 3 AND b.v < 500)"
ALL_OF_PEER = "SELECT COUNT(*) FROM big a WHERE v > (SELECT MAX(v) FROM big b WHERE b.grp = 3 AND b.v < 500)"
FRAME = "SELECT SUM(x) FROM (SELECT {f}(v) OVER (ORDER BY id ROWS BETWEEN 999 PRECEDING AND CURRENT ROW{e}) AS x FROM big) d"


def against_sqlite(count: int, text: str, theirs: str = "") -> Pair:
    glimb, peer = both(count)
    peer.execute("CREATE INDEX big_v ON big (v)")
    return glimb.prepared(text), lambda: peer.execute(theirs or text).fetchall()


def against_maximum(count: int) -> Pair:
    """sqlite3 has no ALL: the greatest value says the same."""
    glimb, peer = both(count)
    return glimb.prepared(ALL_OF), lambda: peer.execute(ALL_OF_PEER).fetchall()


def against_half(count: int, text: str) -> Pair:
    return both(count)[0].prepared(text), both(count // 2)[0].prepared(text)


def frame(function: str, exclude: str = "") -> str:
    return FRAME.format(f=function, e=exclude)


ALL = [
    Benchmark("ON with OR of two keys, 5,000 rows", "sqlite3", 1.5, partial(against_sqlite, 5_000, OR_KEYS)),
    Benchmark(
        "LATERAL with an equality, 5,000 rows", "sqlite3", 1.5, partial(against_sqlite, 5_000, LATERAL, CORRELATED)
    ),
    Benchmark(
        "> ALL, uncorrelated, 100,000 rows",
        "sqlite3 with MAX",
        1.5,
        partial(against_maximum, 100_000),
    ),
    *(
        Benchmark(
            f"{name} over moving frames of 1,000, 20,000 rows",
            "sqlite3",
            1.5,
            partial(against_sqlite, 20_000, frame(name)),
            3,
        )
        for name in ("SUM", "MIN", "MAX")
    ),
    Benchmark(
        "the same with EXCLUDE TIES", "sqlite3", 1.5, partial(against_sqlite, 20_000, frame("MAX", " EXCLUDE TIES")), 3
    ),
    Benchmark("ON with OR, 20,000 rows", "10,000 rows", 4.4, partial(against_half, 20_000, OR_KEYS), 3),
    Benchmark(
        "MAX over moving frames, 100,000 rows", "50,000 rows", 2.5, partial(against_half, 100_000, frame("MAX")), 3
    ),
]
"""OR of two keys gives rows in the square of those of `v`, which repeats: hence 4."""
