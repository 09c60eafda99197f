"""A case's changes, committed, and the fixture restored; beside sqlite3 with a savepoint rolled back."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable

from benchmarks.measure import Benchmark, Glimb

Pair = tuple[Callable[[], object], Callable[[], object]]
TABLES, CHANGES, CASES = 20, 10, 50


def filled(rows: int) -> Glimb:
    glimb = Glimb("".join(f"CREATE TABLE t{n} (id INTEGER PRIMARY KEY, v INTEGER);" for n in range(TABLES)))
    for n in range(TABLES):
        glimb.fill(f"t{n}", ((i, i) for i in range(rows)))
    glimb.run("COMMIT")
    glimb.engine.sessions.clear()
    glimb.engine.set_base()
    return glimb


def case(glimb: Glimb) -> Callable[[], object]:
    """Ten changes, committed, and the fixture restored, many times."""
    changes = [f"UPDATE t{n} SET v = v + 1 WHERE id = {n * 7}" for n in range(CHANGES - 2)]
    changes += ["INSERT INTO t1 VALUES (-1, 0)", "DELETE FROM t2 WHERE id = 9", "COMMIT"]
    prepared = [glimb.prepared(text) for text in changes]

    def ours() -> None:
        for _ in range(CASES):
            for run in prepared:
                run()
            glimb.engine.reset()

    return ours


def restore() -> Pair:
    glimb = filled(1000)
    peer = sqlite3.connect(":memory:", isolation_level=None)
    for n in range(TABLES):
        peer.execute(f"CREATE TABLE t{n} (id INTEGER PRIMARY KEY, v INTEGER)")
        peer.executemany(f"INSERT INTO t{n} VALUES (?, ?)", [(i, i) for i in range(1000)])

    def theirs() -> None:
        for _ in range(CASES):
            peer.execute("SAVEPOINT base")
            for n in range(CHANGES - 2):
                peer.execute(f"UPDATE t{n} SET v = v + 1 WHERE id = {n * 7}")
            peer.execute("INSERT INTO t1 VALUES (-1, 0)")
            peer.execute("DELETE FROM t2 WHERE id = 9")
            peer.execute("ROLLBACK TO base")
            peer.execute("RELEASE base")

    return case(glimb), theirs


def restore_large() -> Pair:
    return case(filled(100_000)), case(filled(1000))


ALL = [
    Benchmark(
        f"{CASES} cases of ten changes, committed, fixture restored (20 tables of 1,000 rows)",
        "sqlite3 savepoint",
        0.5,
        restore,
    ),
    Benchmark("the same with 20 tables of 100,000 rows", "of 1,000 rows", 1.1, restore_large),
]
