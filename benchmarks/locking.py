"""Locks, waits and weaving."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from benchmarks.measure import Benchmark, Glimb
from glimb.engine.transactions.claims import Claims
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.script import read_script
from glimb.suite.weave import Loom, weave, weave_plainly

Pair = tuple[Callable[[], object], Callable[[], object]]
CASE = """--# case three
--# session a
UPDATE t SET v = 1 WHERE id = 1; UPDATE t SET v = 2 WHERE id = 2; COMMIT;
--# session b
UPDATE t SET v = 3 WHERE id = 3; UPDATE t SET v = 4 WHERE id = 2; COMMIT;
--# session c
SELECT v FROM t WHERE id = 2; COMMIT;
"""


def table() -> Glimb:
    glimb = Glimb("CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER)")
    glimb.fill("t", ((i, i) for i in range(1000)))
    glimb.run("COMMIT")
    glimb.engine.sessions.clear()
    glimb.engine.set_base()
    return glimb


def updates() -> Pair:
    """1,000 uncontended updates by key in one transaction; locks switched off for the other side."""
    glimb = table()
    run = [glimb.prepared(f"UPDATE t SET v = v + 1 WHERE id = {n}") for n in range(1000)]
    lock = Claims.lock

    def ours() -> None:
        for one in run:
            one()
        glimb.engine.reset()

    def free() -> None:
        Claims.lock = lambda *_: False  # type: ignore[method-assign]
        try:
            ours()
        finally:
            Claims.lock = lock  # type: ignore[method-assign]

    return ours, free


def waits() -> Pair:
    """1,000 times: a session waits for a row, and is woken; beside the same statements one after the other."""
    glimb = table()
    source = Source("UPDATE t SET v = v + 1 WHERE id = 5; COMMIT")
    update, commit = parse(source).statements
    engine = glimb.engine

    def run(order: str) -> None:
        for _ in range(1000):
            for name, what in zip(order[::2], order[1::2], strict=True):
                engine.execute(engine.session(name), update if what == "u" else commit, source)
        engine.reset()

    return lambda: run("aubuacbc"), lambda: run("auacbubc")


def weaving() -> Pair:
    """All 560 orders of three sessions, merged by their states; beside all of them one by one."""
    glimb = table()
    script = read_script(Path("three.sql"), CASE)

    def loom() -> Loom:
        return Loom(glimb.engine, script.source, script.cases[0])

    return lambda: list(weave(loom())), lambda: weave_plainly(loom())


ALL = [
    Benchmark("1,000 uncontended updates by key", "with locks switched off", 2, updates),
    Benchmark("a wait and a wake, 1,000 times", "the same without waiting", 2, waits),
    Benchmark("560 orders woven", "one by one", 1, weaving),
]
