"""Queries, beside Python's sqlite3 in memory, statements prepared on both sides."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from functools import partial

from benchmarks.measure import Benchmark, Glimb

Pair = tuple[Callable[[], object], Callable[[], object]]
QUERIES = {
    "filter and count": "SELECT COUNT(*) FROM big WHERE v > 500 AND grp <> 3",
    "join": "SELECT COUNT(*) FROM big JOIN small ON small.id = big.grp WHERE small.name <> 'n5'",
    "group": "SELECT grp, COUNT(*), SUM(v) FROM big GROUP BY grp",
    "ORDER BY, FETCH FIRST 10": "SELECT id, v FROM big ORDER BY v DESC, id FETCH FIRST 10 ROWS ONLY",
}
OTHERS = {
    "recursive common table, 10,000 rows": "WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM r WHERE n < 10000) SELECT COUNT(*) FROM r",
    "window function, 10,000 rows": "SELECT SUM(r) FROM (SELECT RANK() OVER (PARTITION BY grp ORDER BY v) AS r FROM big) d",
    "correlated EXISTS, 10,000 rows": "SELECT COUNT(*) FROM big b WHERE EXISTS (SELECT 1 FROM small s WHERE s.id = b.grp AND s.id < 5)",
}


def rows(count: int) -> list[tuple[int, int, int]]:
    return [(i, i % 10, i * 7919 % 1000) for i in range(count)]


def both(count: int) -> tuple[Glimb, sqlite3.Connection]:
    glimb = Glimb(
        "CREATE TABLE small (id INTEGER PRIMARY KEY, name VARCHAR(10));"
        "CREATE TABLE big (id INTEGER PRIMARY KEY, grp INTEGER NOT NULL, v INTEGER NOT NULL);"
    )
    peer = sqlite3.connect(":memory:")
    peer.execute("CREATE TABLE small (id INTEGER PRIMARY KEY, name TEXT)")
    peer.execute("CREATE TABLE big (id INTEGER PRIMARY KEY, grp INTEGER, v INTEGER)")
    for i in range(10):
        glimb.run(f"INSERT INTO small VALUES ({i}, 'n{i}')")
        peer.execute("INSERT INTO small VALUES (?, ?)", (i, f"n{i}"))
    data = rows(count)
    glimb.fill("big", data)
    glimb.run("COMMIT")
    peer.executemany("INSERT INTO big VALUES (?, ?, ?)", data)
    peer.commit()
    return glimb, peer


def query(text: str, count: int) -> Pair:
    glimb, peer = both(count)
    run = glimb.prepared(text)
    sqlite_text = text.replace("FETCH FIRST 10 ROWS ONLY", "LIMIT 10")
    times = 20 if count <= 1000 else 1

    def ours() -> None:
        for _ in range(times):
            run()

    def theirs() -> None:
        for _ in range(times):
            peer.execute(sqlite_text).fetchall()

    return ours, theirs


def function_calls() -> Pair:
    glimb, peer = both(100_000)
    glimb.run(
        "CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN IF n > 500 THEN RETURN n - 500; END IF; RETURN n; END"
    )
    peer.create_function("f", 1, lambda n: n - 500 if n > 500 else n)
    text = "SELECT SUM(f(v)) FROM big"
    return glimb.prepared(text), lambda: peer.execute(text).fetchall()


def look_ups() -> Pair:
    glimb, peer = both(1000)
    glimb.run(
        "CREATE PROCEDURE look(OUT total INTEGER) BEGIN DECLARE i, x INTEGER DEFAULT 0; SET total = 0;"
        " WHILE i < 1000 DO SELECT v INTO x FROM big WHERE id = i; SET total = total + x; SET i = i + 1; END WHILE; END"
    )

    def theirs() -> int:
        total = 0
        for i in range(1000):
            total += peer.execute("SELECT v FROM big WHERE id = ?", (i,)).fetchone()[0]
        return total

    return glimb.prepared("CALL look(?)"), theirs


ALL = [
    *(
        Benchmark(f"{name}, {count:,} rows", "sqlite3", 0.9, partial(query, text, count))
        for count in (1000, 100_000)
        for name, text in QUERIES.items()
    ),
    Benchmark("stored function with an IF over 100,000 rows", "sqlite3 calling Python", 0.6, function_calls),
    Benchmark("look-up by primary key from a procedure, 1,000 times", "sqlite3", 0.5, look_ups),
    *(Benchmark(name, "sqlite3", 2, partial(query, text, 10_000)) for name, text in OTHERS.items()),
]
