"""Many rows at once: INSERT of many values, INSERT of a query, a CSV file; beside sqlite3 with executemany and csv."""

from __future__ import annotations

import csv
import io
import sqlite3
from collections.abc import Callable

from benchmarks.measure import Benchmark, Glimb
from glimb.lang.source import Source
from glimb.suite.csv_loading import load_csv

Pair = tuple[Callable[[], object], Callable[[], object]]
COLUMNS = "(id INTEGER PRIMARY KEY, hut INTEGER, nights INTEGER, price DECIMAL(8,2), who VARCHAR(20))"
ROWS = 100_000


def rows(count: int) -> list[tuple[int, int, int, str, str]]:
    return [(i, i % 97, i % 13, f"{i % 90}.50", f"guest {i}") for i in range(count)]


def peer() -> sqlite3.Connection:
    db = sqlite3.connect(":memory:", isolation_level=None)
    db.execute(f"CREATE TABLE stay {COLUMNS}")
    return db


def insert_values() -> Pair:
    """One statement of 100 rows each, parsed too; on the other side the rows as Python has them."""
    data = rows(ROWS)
    texts = []
    for first in range(0, ROWS, 100):
        shown = (f"({i}, {h}, {n}, {p}, '{w}')" for i, h, n, p, w in data[first : first + 100])
        texts.append(f"INSERT INTO stay VALUES {', '.join(shown)}")

    def ours() -> None:
        glimb = Glimb(f"CREATE TABLE stay {COLUMNS}")
        for text in texts:
            glimb.run(text)
        glimb.run("COMMIT")

    def theirs() -> None:
        db = peer()
        db.execute("BEGIN")
        for text in texts:
            db.execute(text)
        db.execute("COMMIT")

    return ours, theirs


def insert_query() -> Pair:
    glimb, db = Glimb(f"CREATE TABLE stay {COLUMNS}; CREATE TABLE copy {COLUMNS}"), peer()
    db.execute(f"CREATE TABLE copy {COLUMNS}")
    glimb.fill("stay", ((i, h, n, int(float(p) * 100), w) for i, h, n, p, w in rows(ROWS)))
    glimb.run("COMMIT")
    db.executemany("INSERT INTO stay VALUES (?, ?, ?, ?, ?)", rows(ROWS))
    text = "INSERT INTO copy SELECT id, hut, nights, price, who FROM stay"
    run, undo = glimb.prepared(text), glimb.prepared("ROLLBACK")

    def ours() -> None:
        run()
        undo()

    def theirs() -> None:
        db.execute("BEGIN")
        db.execute(text)
        db.execute("ROLLBACK")

    return ours, theirs


def csv_file(count: int) -> Pair:
    text = "id,hut,nights,price,who\n" + "".join(",".join(map(str, row)) + "\n" for row in rows(count))

    def ours() -> None:
        glimb = Glimb(f"CREATE TABLE stay {COLUMNS}")
        glimb.engine.catalog.relations["stay"].compiled.triggers = []  # type: ignore[union-attr]
        load_csv(glimb.engine, Source(text), "stay", "bench")

    def theirs() -> None:
        db = peer()
        lines = csv.reader(io.StringIO(text))
        next(lines)
        db.execute("BEGIN")
        db.executemany("INSERT INTO stay VALUES (?, ?, ?, ?, ?)", lines)
        db.execute("COMMIT")

    return ours, theirs


ALL = [
    Benchmark(f"INSERT of {ROWS:,} rows, 100 to a statement", "sqlite3", 3, insert_values, 3),
    Benchmark(f"INSERT ... SELECT of {ROWS:,} rows, rolled back", "sqlite3", 3, insert_query, 3),
    Benchmark(f"CSV of {ROWS:,} rows", "sqlite3 with csv", 3, lambda: csv_file(ROWS), 3),
    Benchmark("CSV of 1,000,000 rows", "sqlite3 with csv", 3, lambda: csv_file(1_000_000), 1),
]
