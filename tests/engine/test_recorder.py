"""Recorded runs: the steps inside a call, rounds of loops, handlers, and bounded memory."""

from __future__ import annotations

from collections import Counter
from typing import Any

from test_properties import execute

from glimb.engine.engine import Engine
from glimb.engine.outcomes.events import FOLDED
from glimb.engine.outcomes.steps import Step, read_steps, walk_steps

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
CREATE PROCEDURE runs(n INTEGER, OUT a INTEGER) BEGIN
  DECLARE b, c INTEGER;
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET a = -1;
  SET a = 0; SET b = 8; SET (b, c) = (b + 1, 3);
  WHILE a < 5 DO
    SET a = a + 1;
    SET b = 12 / (n - a);
    SET c = twice(b);
    SET b = c;
  END WHILE;
  SET c = 1; SET b = 2;
END;
CREATE FUNCTION fib(n INTEGER) RETURNS INTEGER BEGIN IF n < 2 THEN RETURN n; END IF; RETURN fib(n - 1) + fib(n - 2); END;
"""


def recorded(text: str, sqlstate: str = "") -> list[Step]:
    engine = Engine()
    execute(engine, "main", SETUP)
    engine.shared.recording = True
    engine.shared.keep_rounds(FOLDED)
    (outcome,) = execute(engine, "main", text)
    assert (outcome.failure.sqlstate if outcome.failure else "") == sqlstate
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
    assert (last.before["total"].value, last.assigned[0].value) == (1030, 2060)
    assert names(last.steps[0].steps) == ["declare", "set", "return"]


def told(steps: list[Step]) -> list[tuple[int, list[tuple[str, object]]]]:
    return [(s.round, [(v.name, v.value) for v in s.assigned]) for s in steps]


def test_assignments_in_a_row() -> None:
    (frame,) = recorded("CALL runs(9, ?)")
    assert names(frame.steps) == ["declare", "declare", "set", "set", "set", "while", "set", "set"]
    assert told(frame.steps[2:5]) == [(0, [("a", 0)]), (0, [("b", 8)]), (0, [("b", 9), ("c", 3)])]
    loop = frame.steps[5]
    assert loop.rounds == 5
    second = [(2, [("a", 2)]), (2, [("b", 1)]), (2, [("c", 2)]), (2, [("b", 2)])]
    assert told([s for s in loop.steps if s.round == 2]) == second
    assert (loop.steps[1].before["a"].value, loop.steps[4].assigned[0].value) == (1, 2)
    assert told(frame.steps[6:]) == [(0, [("c", 1)]), (0, [("b", 2)])]


def test_the_assignment_that_raises() -> None:
    (frame,) = recorded("CALL runs(2, ?)")
    loop = frame.steps[5]
    assert told(loop.steps[4:6]) == [(2, [("a", 2)]), (2, [])]
    assert loop.steps[5].condition is not None
    assert loop.steps[5].handled
    steps = recorded("BEGIN DECLARE x, y INTEGER; SET x = 1; SET y = 1 / (x - 1); SET x = 2; END", "22012")
    assert told(steps)[-2:] == [(0, [("x", 1)]), (0, [])]


def test_long_loops_are_folded() -> None:
    (frame,) = recorded("CALL p(5000, ?)")
    loop = frame.steps[2]
    assert loop.rounds == 5000
    assert 500 < len(loop.steps) < 5000
    assert loop.steps[-1].round == 5000
    recorded_, folded = Counter(s.info for s in loop.steps), Counter[Any]()
    for gap in loop.gaps:
        folded += gap.counts
    first = loop.steps[0].info
    assert first is not None
    assert recorded_[first] + folded[first] == 5000


def test_what_is_in_reach() -> None:
    """Two variables of one name are two; a handler sees those of its block."""
    steps = recorded(
        "BEGIN DECLARE x INTEGER DEFAULT 1; DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET x = x + 100;"
        " BEGIN DECLARE x INTEGER DEFAULT 5; SET x = x / 0; END; SET x = x + 1; END"
    )
    assert [(s.before["x"].value if "x" in s.before else None, told([s])[0][1]) for s in steps] == [
        (None, [("x", 1)]),
        (None, [("x", 5)]),
        (5, []),
        (1, [("x", 101)]),
        (101, [("x", 102)]),
    ]


def test_triggers_and_dynamic_statements() -> None:
    engine = Engine()
    more = """
CREATE TABLE kept (id INTEGER, was INTEGER);
CREATE TABLE seen (id INTEGER PRIMARY KEY, n INTEGER);
CREATE TRIGGER rises BEFORE UPDATE ON seen REFERENCING OLD AS o NEW AS w FOR EACH ROW WHEN (w.n IS NOT NULL)
  SET w.n = o.n + twice(w.n);
CREATE TRIGGER keeps AFTER UPDATE ON seen REFERENCING OLD AS o FOR EACH ROW INSERT INTO kept VALUES (o.id, o.n);
INSERT INTO seen VALUES (1, 10);
CREATE PROCEDURE runs_text (IN text VARCHAR(200)) BEGIN EXECUTE IMMEDIATE text; END;
"""
    execute(engine, "main", SETUP + more)
    engine.shared.recording = True
    (outcome,) = execute(engine, "main", "CALL runs_text('UPDATE seen SET n = 5 WHERE id = 1');")
    (call,) = read_steps(outcome.trace)
    (dynamic,) = call.steps[0].steps
    assert dynamic.frame is not None
    assert dynamic.frame.name == "dynamic statement"
    (update,) = dynamic.steps
    assert (update.row_count, len(update.changes)) == (1, 2)
    before, after = update.steps
    assert told(before.steps) == [(0, [("w.n", 20)])]
    assert [(v.name, v.value) for v in after.assigned] == [("o.id", 1), ("o.n", 10), ("new.id", 1), ("new.n", 20)]
    assert names(before.steps[0].steps) == ["twice"]
    (outcome,) = execute(engine, "main", "UPDATE seen SET n = NULL;")
    assert names(read_steps(outcome.trace)) == ["rises", "keeps"]


def test_deep_recursion_is_bounded() -> None:
    engine = Engine()
    execute(engine, "main", SETUP)
    engine.shared.recording = True
    (outcome,) = execute(engine, "main", "SELECT fib(22)")
    assert outcome.rows == [(17711,)]
    assert len(outcome.trace) < 310_000
    assert sum(1 for _ in walk_steps(read_steps(outcome.trace))) > 1000


def test_triggers_are_bounded() -> None:
    """Of very many rows the first are recorded, the others change as ever."""
    engine = Engine()
    execute(engine, "main", "CREATE TABLE many (id INTEGER, n INTEGER); CREATE TABLE kept (id INTEGER);")
    execute(engine, "main", "CREATE TRIGGER k AFTER UPDATE ON many FOR EACH ROW INSERT INTO kept VALUES (new.id);")
    execute(engine, "main", f"INSERT INTO many VALUES {', '.join(f'({n}, 0)' for n in range(900))};")
    engine.shared.recording, engine.shared.most_events = True, 1_000
    (outcome,) = execute(engine, "main", "UPDATE many SET n = 1;")
    assert 1_000 < len(outcome.trace) < 1_100
    engine.shared.recording = False
    (counted,) = execute(engine, "main", "SELECT COUNT(*) FROM kept;")
    assert counted.rows == [(900,)]
