"""The proof grid against one worked out by hand."""

from __future__ import annotations

import gc
import json
import subprocess
import sys
from pathlib import Path
from weakref import ref

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.evidence import NEVER, grid

SCHEMA = "CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER, k INTEGER);"
ROUTINES = """
CREATE FUNCTION pure (a INTEGER) RETURNS BOOLEAN RETURN a IS NULL;
CREATE FUNCTION looked (a INTEGER) RETURNS INTEGER BEGIN
  DECLARE r INTEGER;
  SELECT n INTO r FROM t WHERE k = a;
  RETURN r;
END;
CREATE PROCEDURE change (IN a INTEGER) BEGIN
  IF a > 5 THEN SIGNAL SQLSTATE 'TE001'; END IF;
  UPDATE t SET n = a WHERE id = a;
END;
CREATE PROCEDURE careful (IN a INTEGER, OUT o INTEGER) BEGIN
  DECLARE both ROW(x INTEGER, y INTEGER);
  DECLARE EXIT HANDLER FOR SQLSTATE 'TE001' SET o = -1;
  SET o = 0;
  SET (both.x, both.y) = (1, 2);
  CALL change(a);
  SET o = 1;
END;
CREATE FUNCTION listed (a INTEGER) RETURNS TABLE (n INTEGER) RETURN TABLE (SELECT t.n FROM t WHERE t.k = a);
CREATE PROCEDURE idle () BEGIN CALL note('x'); END;
"""
CASES = """--# case pure
SELECT pure(1);
--> value FALSE
SELECT pure(NULL);
--# case looked
SELECT looked(1);
--> value 10
SELECT looked(9);
SELECT looked(2);
--> fails 21000
--# case change
CALL change(1);
--> change t (1) n 10 -> 1
ROLLBACK;
CALL change(9);
--> fails TE001
CALL change(4);
--# case careful
CALL careful(9, ?);
--> value -1
CALL careful(2, ?);
ROLLBACK;
--> rolled back
--# case listed
SELECT * FROM TABLE(listed(7));
--> no rows
--# case waits
--# session a
UPDATE t SET n = 1 WHERE id = 1;
--# session b
CALL change(1);
--> waits for a on t (1)
--# session a
COMMIT;
"""
GRID = {
    "pure": "asserted asserted seen cannot cannot cannot cannot cannot cannot",
    "looked": "asserted asserted never seen asserted asserted cannot cannot never",
    "change": "asserted asserted never seen cannot asserted cannot asserted asserted",
    "careful": "asserted asserted never cannot cannot never asserted asserted never",
    "listed": "asserted asserted never asserted cannot cannot cannot cannot never",
    "idle": "never never cannot cannot cannot cannot cannot cannot cannot",
}


def survey(folder: Path, *arguments: str) -> str:
    command = [sys.executable, "-m", "glimb", "survey", *arguments]
    done = subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60)
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_grid(tmp_path: Path) -> None:
    for name, text in (("schema", SCHEMA), ("routines", ROUTINES), ("cases", CASES)):
        (tmp_path / name).mkdir()
        (tmp_path / name / "x.sql").write_text(text)
    (tmp_path / "fixtures" / "f").mkdir(parents=True)
    (tmp_path / "fixtures" / "f" / "t.csv").write_text("id,n,k\n1,10,1\n2,20,2\n3,30,2\n")
    (tmp_path / "glimb.toml").write_text('fixture = "f"\n')
    rows = {row["routine"]: row for row in map(json.loads, survey(tmp_path, "--format", "jsonl").splitlines())}
    assert {name: " ".join(row["evidence"].values()) for name, row in rows.items()} == GRID
    assert rows["change"]["arms"] == {"taken": 1, "all": 1}
    assert rows["change"]["conditions"] == {"taken": 4, "all": 6}  # a > 5 was never unknown, id = a neither
    grid = survey(tmp_path).splitlines()
    assert grid[0].split(" | ")[3:6] == ["called", "result", "NULL"]
    assert "■ asserted   □ only seen" in grid[-1]


def test_what_can_be_of_a_routine_holds_no_engine() -> None:
    engine = Engine()
    source = Source(SCHEMA + ROUTINES)
    assert not any(engine.execute(engine.session("main"), s, source)[0].failure for s in parse(source).statements)
    rows = grid(engine, {}, [])
    assert {row.name: row.evidence["waits"] for row in rows}["change"] == NEVER
    engine.close()
    known = ref(engine)
    del engine
    gc.collect()
    assert known() is None
