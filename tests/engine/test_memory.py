"""What is no longer used is given back: engines with all their sessions, whatever those were in the middle of."""

from __future__ import annotations

import gc
import weakref
from collections.abc import Callable
from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.project import open_project
from glimb.suite.runner import Runner
from glimb.suite.script import read_script


def run(engine: Engine, session: str, text: str) -> None:
    source = Source(text)
    for statement in parse(source).statements:
        engine.execute(engine.session(session), statement, source)


def nothing(engine: Engine) -> None:
    pass


def routines(engine: Engine) -> None:
    run(engine, "main", "CREATE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN n + 1; SELECT f(1); SELECT nosuch")


def waiting(engine: Engine) -> None:
    engine.use_model("locking")
    run(engine, "main", "CREATE TABLE t (id INTEGER PRIMARY KEY); INSERT INTO t VALUES (1); COMMIT; DELETE FROM t")
    run(engine, "other", "UPDATE t SET id = 2")
    assert engine.session("other").claims.waiting is not None


def open_cursor(engine: Engine) -> None:
    run(engine, "main", "CREATE TABLE t (id INTEGER); ALLOCATE 'c' CURSOR FOR s; DECLARE c CURSOR FOR SELECT id FROM t")


@pytest.mark.parametrize("closed", [False, True])
@pytest.mark.parametrize("work", [nothing, routines, waiting, open_cursor])
def test_an_engine_is_given_back(work: Callable[[Engine], None], closed: bool) -> None:
    engine = Engine()
    work(engine)
    if closed or work is waiting:  # the middle of a statement is on a stack that only `close` can end
        engine.close()
    gone = weakref.ref(engine)
    del engine
    gc.collect()
    assert gone() is None


def test_a_forgotten_world_is_given_back(tmp_path: Path) -> None:
    (tmp_path / "glimb.toml").write_text("")
    text = "--# case a\nSELECT 1;\n--> value 1\n"
    runner, worlds = Runner(), list[weakref.ref[Engine]]()
    for _ in range(3):
        runner.use(open_project(tmp_path), tmp_path)
        script = read_script(tmp_path / "a.sql", text)
        assert [r.verdict for r in runner.run_script(script)] == ["met"]
        worlds.append(weakref.ref(runner.world(runner.project(script.path), "")))
        runner.forget()
    gc.collect()
    assert [world() for world in worlds] == [None] * 3
