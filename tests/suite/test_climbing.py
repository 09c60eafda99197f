"""Climbing into a rung: why a value is NULL, who set a variable, which round; the state behind a rung."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from glimb.cli import main
from glimb.engine.engine import Engine
from glimb.report.climbed import as_object
from glimb.suite import climber
from glimb.suite.climbing import Line, Wanted, chosen
from glimb.suite.replay import Replay
from glimb.suite.script import read_script

ROUTINES = """
--# setup
CREATE TABLE trip (id INTEGER PRIMARY KEY, price DECIMAL(6,2));
INSERT INTO trip VALUES (1, 12.50), (2, NULL);
CREATE FUNCTION share (n INTEGER) RETURNS DECIMAL(4,2)
BEGIN
  IF n >= 10 THEN RETURN 0.80;
  ELSEIF n >= 4 THEN RETURN 0.90;
  END IF;
  RETURN CASE WHEN n > 0 THEN 1.00 END;
END;
CREATE FUNCTION fare (trip_id INTEGER, n INTEGER) RETURNS DECIMAL(9,2)
BEGIN
  DECLARE p DECIMAL(6,2);
  DECLARE total DECIMAL(9,2);
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET total = NULL;
  SELECT price INTO p FROM trip WHERE id = trip_id;
  SET total = p * n * share(n);
  SET total = total + 10 / n;
  RETURN total;
END;
CREATE PROCEDURE drift (IN rounds INTEGER, OUT level INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET level = 0;
  WHILE i < rounds DO
    SET i = i + 1;
    SET level = level + CASE WHEN i = 7777 THEN NULL ELSE 1 END;
  END WHILE;
  DELETE FROM trip WHERE id = 2;
END;
COMMIT;
--# case why
SELECT fare(2, 2);
SELECT fare(99, 2);
SELECT fare(1, 0);
SELECT fare(1, 4);
CALL drift(20000, ?);
BEGIN DECLARE x INTEGER; SET x = 1; IF x = 2 THEN SET x = 3; ELSE SET x = 4; END IF; END;
SELECT 1;
"""
FIRST = 7
"""The number of the first rung behind the setup."""


@pytest.fixture(scope="module")
def replay() -> Replay:
    script = read_script("why.sql", ROUTINES)
    return Replay(Engine(), script.cases[0], script.source)


def climbed(replay: Replay, number: int) -> list[Line]:
    return climber.climbed(replay, FIRST + number - 1).lines


def step(lines: list[Line], text: str) -> Line:
    """The only step of this text."""
    (found,) = [line for line in lines if line.text.startswith(text)]
    return found


def test_three_reasons_of_a_null_are_told_apart(replay: Replay) -> None:
    in_the_row, no_row, in_a_handler = (climbed(replay, n) for n in (1, 2, 3))
    for lines in (in_the_row, no_row, in_a_handler):
        assert [v.value for v in step(lines, "RETURN total").step.assigned] == [None]
    assert not step(in_the_row, "SELECT price").step.found_none
    assert [v.name for v in step(in_the_row, "SELECT price").kept] == ["p"]
    assert step(no_row, "SELECT price").step.found_none
    raised = step(in_a_handler, "SET total = total + 10 / n")
    assert raised.step.condition is not None
    assert raised.step.condition.sqlstate == "22012"
    assert raised.step.handler is not None
    assert raised.source is not None
    assert raised.source[raised.step.handler.span].startswith("DECLARE CONTINUE HANDLER")


def test_calls_branches_and_variables(replay: Replay) -> None:
    lines = climbed(replay, 4)
    assert [(line.depth, line.routine) for line in lines if line.kind == "enter"] == [(0, "fare"), (2, "share")]
    assert step(lines, "IF n >= 10").branch == "arm 2 of 2"
    assert step(climbed(replay, 1), "IF n >= 10").branch == "no arm"
    assert [line.branch for line in climbed(replay, 6) if line.kind == "if"] == ["ELSE"]
    total = step(lines, "SET total = p * n")
    assert [v.name for v in total.read] == ["n", "p"]
    assert [(old and old.value, now.value) for old, now in total.changed] == [(None, 4500)]


def test_the_round_in_which_a_variable_becomes_null(replay: Replay) -> None:
    """All rounds are kept; the steps of the one that is asked for are given, and no others."""
    lines = climbed(replay, 5)
    assert sum(line.kind == "while" for line in lines) == 1
    assert step(lines, "WHILE").step.rounds == 20_000
    found = chosen(lines, Wanted(variable="level", value="NULL"))
    assert {line.round for line in found if line.kind == "set"} == {7777}
    assert [line.text[:9] for line in found if line.round] == ["SET i = i", "SET level"]
    assert len(chosen(lines, Wanted(round=20_000))) == 2
    assert len(chosen(lines, Wanted(variable="i"))) == 20_001
    assert [c.key for c in step(lines, "DELETE").step.changes] == [(2,)]


def test_within_a_routine_only(replay: Replay) -> None:
    lines = climbed(replay, 4)
    assert {line.routine for line in chosen(lines, Wanted(routine="share"))} == {"share"}
    assert chosen(lines, Wanted(routine="drift")) == []
    assert climbed(replay, 7) == []


KEYS = (
    "step depth routine file line kind text round rounds branch before after row_count changes condition handler"
).split()


def test_the_objects_of_steps(replay: Replay) -> None:
    for number in range(1, 7):
        for line in climbed(replay, number)[:100]:
            found = as_object(line)
            assert list(found) == KEYS
            assert json.loads(json.dumps(found, allow_nan=False)) == found


def test_commands(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "why.sql"
    path.write_text(ROUTINES)
    rung = str(FIRST + 2)
    assert main(["climb", str(path), "--rung", rung]) == 0
    assert "taken by the CONTINUE handler of line 16" in capsys.readouterr().out
    assert main(["climb", str(path), "--rung", rung, "--into", "share", "--format", "jsonl"]) == 0
    objects = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [o["kind"] for o in objects] == ["enter", "if", "return"]
    assert main(["climb", str(path), "--rung", "99"]) == 2
    assert main(["climb", str(path), "--rung", rung, "--changes-of", "nothing"]) == 0
    assert "variables" in capsys.readouterr().out
    assert main(["climb", str(path), "-k", "nowhere"]) == 2
    assert main(["climb", str(tmp_path / "gone.sql")]) == 2


WAITING = """
CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO t VALUES (1, 10);
COMMIT;
--# session one
UPDATE t SET n = 11 WHERE id = 1;
SAVEPOINT here;
--# session two autocommit on
UPDATE t SET n = n + 1 WHERE id = 1;
--# session one
COMMIT;
"""


def test_the_state_behind_each_rung(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "waiting.sql"
    path.write_text(WAITING)

    def at(*options: str) -> str:
        assert main(["at", str(path), *options]) == 0
        return capsys.readouterr().out

    assert "nothing is committed" in at("--rung", "0")
    found = json.loads(at("--rung", "6", "--format", "jsonl"))
    one, two = found["sessions"][1:]
    assert (one["transaction"], one["savepoints"]) == ("open", ["here"])
    assert one["changes"] == [{"table": "t", "key": {"id": 1}, "before": {"n": 10}, "after": {"n": 11}}]
    assert (two["transaction"], two["waiting"]["for"], two["changes"]) == ("waiting", "one", [])
    assert {"kind": "row", "table": "t", "key": "(1)", "mode": "X"} in one["locks"]
    assert found["committed"][-1] == {"table": "t", "key": {"id": 1}, "before": None, "after": {"id": 1, "n": 10}}
    assert json.loads(at("--format", "jsonl"))["committed"][-1]["after"] == {"id": 1, "n": 12}
    query = "SELECT n FROM t"
    assert at("--rung", "6", "--ask", query, "--session", "one").split("\n")[2] == "11"
    assert at("--rung", "6", "--ask", query, "--session", "two").split("\n")[2] == "10"
    assert main(["at", str(path), "--rung", "6", "--ask", "DELETE FROM t"]) == 2
    assert main(["at", str(path), "--rung", "6", "--ask", "SELECT n FROM nowhere"]) == 2
    assert main(["at", str(path), "--rung", "8"]) == 2
