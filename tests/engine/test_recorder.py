"""Recorded runs: the steps inside a call, rounds of loops, handlers, and bounded memory."""

from __future__ import annotations

from test_properties import execute

from glimb.engine.engine import Engine
from glimb.engine.recorder import Step, read_steps, walk_steps

SETUP = """
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
CREATE FUNCTION twice(n INTEGER) RETURNS INTEGER BEGIN DECLARE r INTEGER; SET r = n * 2; RETURN r; END;
CREATE PROCEDURE p(n INTEGER, OUT total INTEGER) BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET total = total + 1000;
  SET total = 0;
  WHILE i < n DO
    SET i = i + 1;
    SET total = total + 12 / MOD(i, 3);
    INSERT INTO t VALUES (i, twice(i));
  END WHILE;
  SET total = twice(total);
END;
CREATE FUNCTION fib(n INTEGER) RETURNS INTEGER BEGIN IF n < 2 THEN RETURN n; END IF; RETURN fib(n - 1) + fib(n - 2); END;
"""


def recorded(text: str) -> list[Step]:
    engine = Engine()
    execute(engine, "main", SETUP)
    engine.recording = True
    (outcome,) = execute(engine, "main", text)
    assert outcome.failure is None
    return read_steps(outcome.trace)


def names(steps: list[Step]) -> list[str]:
    return [s.frame.name if s.frame is not None else s.info.name if s.info is not None else "" for s in steps]


def test_steps_of_a_call() -> None:
    (frame,) = recorded("CALL p(4, ?)")
    assert names(frame.steps) == ["declare", "set", "while", "set"]
    loop = frame.steps[2]
    assert loop.rounds == 4
    assert names([s for s in loop.steps if s.round == 1]) == ["set", "set", "insert"]
    third = [s for s in loop.steps if s.round == 3]
    assert names(third) == ["set", "set", "set", "insert"]
    assert third[1].condition is not None
    assert third[1].condition.sqlstate == "22012"
    assert third[2].assigned[0].value == 12 + 6 + 1000
    insert = third[3]
    assert (insert.row_count, insert.changes[0].after) == (1, (3, 6))
    assert names(insert.steps) == ["twice"]
    last = frame.steps[3]
    assert (last.before["total"].value, last.after["total"].value) == (1030, 2060)
    assert names(last.steps[0].steps) == ["declare", "set", "return"]


def test_long_loops_are_folded() -> None:
    (frame,) = recorded("CALL p(5000, ?)")
    loop = frame.steps[2]
    assert loop.rounds == 5000
    assert 500 < len(loop.steps) < 5000
    assert loop.steps[-1].round == 5000
    assert loop.after["i"].value == 5000


def test_deep_recursion_is_bounded() -> None:
    engine = Engine()
    execute(engine, "main", SETUP)
    engine.recording = True
    (outcome,) = execute(engine, "main", "SELECT fib(22)")
    assert outcome.rows == [(17711,)]
    assert len(outcome.trace) < 310_000
    assert sum(1 for _ in walk_steps(read_steps(outcome.trace))) > 1000
