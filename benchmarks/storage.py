"""A case's changes, committed, and the fixture restored; beside sqlite3 with a savepoint rolled back."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from datetime import date, timedelta

from benchmarks.measure import Benchmark, Glimb
from glimb.lang.source import Source
from glimb.suite.stamps import Stamp, define_stamps

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


HUTS = ("ELMA", "GRAT", "KESS")
STAMP = {
    "id": "n",
    "name": "'guest ' || CAST(n AS VARCHAR(10))",
    "born": "DATE '1990-01-01' + n * INTERVAL '1' DAY",
    "hut": "pick(SELECT code FROM hut ORDER BY code)",
}


def stamped() -> Pair:
    """100,000 rows of a stamp, beside a comprehension that makes the same tuples."""
    codes = ", ".join(f"('{code}')" for code in HUTS)
    glimb = Glimb(
        "CREATE TABLE hut (code CHAR(4) PRIMARY KEY);"
        "CREATE TABLE guest (id INTEGER PRIMARY KEY, name VARCHAR(40), born DATE, hut CHAR(4));"
        f"INSERT INTO hut VALUES {codes};"
    )
    define_stamps(glimb.engine, {"guest": Stamp("guest", 100_000, STAMP, Source("", "stamps.toml"))})

    def theirs() -> object:
        first, many = date(1990, 1, 1), range(1, 100_001)
        return [(n, f"guest {n}", first + timedelta(days=n), HUTS[(n - 1) % 3]) for n in many]

    return glimb.prepared("SELECT id, name, born, hut FROM TABLE(stamps.guest()) AS g"), theirs


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
        2.5,
        restore,
    ),
    Benchmark("the same with 20 tables of 100,000 rows", "of 1,000 rows", 1.1, restore_large),
    Benchmark("100,000 rows of a stamp", "the same tuples in plain Python", 4, stamped),
]
