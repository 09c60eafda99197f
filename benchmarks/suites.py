"""A suite of cases, whole processes: `glimb run` beside pytest with the same through sqlite3.

500 procedures over 20 tables of 1,000 rows, 2,000 cases of three statements with expectations; on the other side 500
Python functions that send the statements of the procedures, 2,000 test functions, each in a savepoint of one database
in memory. CPU seconds of the process and its children.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from functools import cache, partial
from pathlib import Path
from tempfile import mkdtemp

from benchmarks.measure import Benchmark

TABLES, ROWS, PROCEDURES, CASES, CASES_A_FILE = 20, 1_000, 500, 2_000, 50
Measured = tuple[Callable[[], float], Callable[[], float]]

TABLE = "CREATE TABLE stay_{t} (id INTEGER PRIMARY KEY, hut INTEGER, nights INTEGER, price DECIMAL(8,2), who VARCHAR(20));\n"
PROCEDURE = """CREATE PROCEDURE settle_{p} (IN wanted INTEGER, IN share INTEGER, OUT total INTEGER)
BEGIN
  DECLARE n INTEGER;
  SELECT nights INTO n FROM stay_{t} WHERE id = wanted;
  IF n IS NULL THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no such stay';
  END IF;
  IF n > {limit} THEN
    UPDATE stay_{t} SET nights = nights - share WHERE id = wanted;
  ELSE
    UPDATE stay_{t} SET nights = nights + share, price = price + 1 WHERE id = wanted;
  END IF;
  INSERT INTO stay_{t} VALUES (100000 + wanted, {p}, share, 12.50, 'late');
  SELECT SUM(nights) INTO total FROM stay_{t} WHERE hut = {p} OR id = wanted;
END;
"""
CASE = """--# case number {n} of settle_{p}
CALL settle_{p}({wanted}, {share}, ?);
--> value total = {total}
SELECT COUNT(*) FROM stay_{t};
--> value 1001
SELECT id, nights, who FROM stay_{t} WHERE id >= 100000 OR id = {wanted} ORDER BY id;
--> rows
-->   {wanted} | {nights} | 'guest {wanted}'
-->   {late} | {share} | 'late'
"""
FUNCTION = """def settle_{p}(db, wanted, share):
    found = db.execute("SELECT nights FROM stay_{t} WHERE id = ?", (wanted,)).fetchone()
    if found is None:
        raise LookupError("no such stay")
    if found[0] > {limit}:
        db.execute("UPDATE stay_{t} SET nights = nights - ? WHERE id = ?", (share, wanted))
    else:
        db.execute("UPDATE stay_{t} SET nights = nights + ?, price = price + 1 WHERE id = ?", (share, wanted))
    db.execute("INSERT INTO stay_{t} VALUES (100000 + ?, {p}, ?, 12.50, 'late')", (wanted, share))
    return db.execute("SELECT SUM(nights) FROM stay_{t} WHERE hut = {p} OR id = ?", (wanted,)).fetchone()[0]


"""
TEST = """def test_{n}(db):
    assert settle_{p}(db, {wanted}, {share}) == {total}
    assert db.execute("SELECT COUNT(*) FROM stay_{t}").fetchone()[0] == 1001
    rows = db.execute("SELECT id, nights, who FROM stay_{t} WHERE id >= 100000 OR id = {wanted} ORDER BY id").fetchall()
    assert rows == [({wanted}, {nights}, "guest {wanted}"), ({late}, {share}, "late")]


"""
CONFTEST = """import csv, pathlib, sqlite3
import pytest

HERE = pathlib.Path(__file__).parent


@pytest.fixture(scope="session")
def base():
    db = sqlite3.connect(":memory:", isolation_level=None)
    db.executescript((HERE / "schema.sql").read_text())
    for n in range({tables}):
        with open(HERE / f"stay_{{n}}.csv", newline="") as lines:
            rows = list(csv.reader(lines))[1:]
        db.executemany(f"INSERT INTO stay_{{n}} VALUES (?, ?, ?, ?, ?)", rows)
    return db


@pytest.fixture
def db(base):
    base.execute("SAVEPOINT one")
    yield base
    base.execute("ROLLBACK TO one")
    base.execute("RELEASE one")
"""


def numbers(n: int) -> dict[str, int]:
    """The figures of case `n`, reckoned apart from both sides."""
    p = n % PROCEDURES
    wanted, share, limit = n % ROWS + 1, n % 5 + 1, p % 9
    before = wanted % 13
    nights = before - share if before > limit else before + share
    return {
        "n": n, "p": p, "t": p % TABLES, "wanted": wanted, "share": share, "limit": limit,
        "nights": nights, "late": 100_000 + wanted, "total": nights + share,
    }  # fmt: skip


def rows() -> str:
    lines = [f"{i},{-i},{i % 13},{i % 90}.50,guest {i}\n" for i in range(1, ROWS + 1)]
    return "id,hut,nights,price,who\n" + "".join(lines)


@cache
def projects(cases: int = CASES) -> tuple[Path, Path]:
    """Both, in folders of their own."""
    ours, theirs = Path(mkdtemp()), Path(mkdtemp())
    for name in ("schema", "routines", "fixtures/base", "cases"):
        (ours / name).mkdir(parents=True)
    (ours / "glimb.toml").write_text('fixture = "base"\n')
    schema = "".join(TABLE.format(t=t) for t in range(TABLES))
    (ours / "schema/stay.sql").write_text(schema)
    (theirs / "schema.sql").write_text(schema)
    for t in range(TABLES):
        for folder in (ours / "fixtures/base", theirs):
            (folder / f"stay_{t}.csv").write_text(rows())
    for first in range(0, PROCEDURES, 10):
        some = [numbers(p) for p in range(first, first + 10)]
        (ours / f"routines/settle_{first:04}.sql").write_text("".join(PROCEDURE.format(**s) for s in some))
    functions = "".join(FUNCTION.format(**numbers(p)) for p in range(PROCEDURES))
    (theirs / "routines.py").write_text(functions)
    (theirs / "conftest.py").write_text(CONFTEST.format(tables=TABLES))
    for first in range(0, cases, CASES_A_FILE):
        some = [numbers(n) for n in range(first, first + CASES_A_FILE)]
        (ours / f"cases/settle_{first:04}.sql").write_text("\n".join(CASE.format(**s) for s in some))
        tests = "from routines import *\n\n\n" + "".join(TEST.format(**s) for s in some)
        (theirs / f"test_{first:04}.py").write_text(tests)
    return ours, theirs


def cpu(arguments: list[str], folder: Path, **environment: str) -> float:
    """CPU seconds of a process and what it started; it must end well."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    process(arguments, folder, **environment)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def wall(arguments: list[str], folder: Path, **environment: str) -> float:
    """Seconds that pass."""
    started = time.perf_counter()
    process(arguments, folder, **environment)
    return time.perf_counter() - started


def process(arguments: list[str], folder: Path, **more: str) -> None:
    environment = {**os.environ, "XDG_CACHE_HOME": str(folder / "cache"), **more}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    done = subprocess.run(
        [sys.executable, *arguments], cwd=folder, capture_output=True, text=True, env=environment, check=False
    )
    assert done.returncode == 0, done.stdout[-2000:] + done.stderr[-2000:]


RUN = ["-m", "glimb", "run", "-q"]


def against_pytest(cache: str) -> Measured:
    ours, theirs = projects()
    pytest = ["-m", "pytest", "-q", "-p", "no:cacheprovider"]
    return partial(cpu, RUN, ours, GLIMB_CACHE=cache), partial(cpu, pytest, theirs)


def two_processes() -> Measured:
    ours, _ = projects()
    return partial(wall, [*RUN, "-j", "2"], ours, GLIMB_CACHE="off"), partial(wall, RUN, ours, GLIMB_CACHE="off")


WORK = f"glimb run of {CASES:,} cases, {PROCEDURES} procedures"
ALL = [
    Benchmark(f"{WORK}, CPU", "pytest with sqlite3", 1.0, partial(against_pytest, "off"), 3, told=True),
    Benchmark(f"{WORK}, nothing changed, CPU", "pytest with sqlite3", 0.6, partial(against_pytest, "on"), 3, told=True),
    Benchmark(f"{WORK}, -j 2, wall", "-j 1", 0.6, two_processes, 3, told=True),
]
