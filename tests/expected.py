"""Every expectation behind every kind of statement, each in a case of its own: met, slipped or refused, and as what it
would be pinned. A script for each statement, in a project that has only a schema and routines."""

from __future__ import annotations

from pathlib import Path

SCHEMA = """CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER, d DECIMAL(6,2), note VARCHAR(20));
CREATE TABLE log (what VARCHAR(20));
CREATE TRIGGER told AFTER DELETE ON t REFERENCING OLD AS o FOR EACH ROW INSERT INTO log VALUES (o.note);
"""
ROUTINES = """CREATE FUNCTION half(n INTEGER) RETURNS INTEGER RETURN 10 / n;
CREATE FUNCTION seen(n INTEGER) RETURNS INTEGER
BEGIN
  DECLARE m INTEGER DEFAULT 0;
  WHILE m < n DO
    SET m = m + 1; --@ round
    CALL note('m ' || CAST(m AS VARCHAR(5)));
  END WHILE;
  RETURN m;
END;
CREATE PROCEDURE change(n INTEGER, OUT d INTEGER, INOUT told VARCHAR(20))
MODIFIES SQL DATA
BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET d = -1;
  SET d = half(n);
  UPDATE t SET n = d WHERE id = 1; --@ changed
  IF n = 9 THEN SIGNAL SQLSTATE 'UX001' SET MESSAGE_TEXT = 'nine is too many'; END IF;
  SET told = told || ' 1';
END;
CREATE PROCEDURE two_results() READS SQL DATA DYNAMIC RESULT SETS 2
BEGIN
  DECLARE one CURSOR WITH RETURN FOR SELECT id, note FROM t ORDER BY id;
  DECLARE two CURSOR WITH RETURN FOR SELECT COUNT(*) FROM t;
  OPEN one;
  OPEN two;
END;
"""
BEFORE = """INSERT INTO t VALUES (1, 7, 1.50, 'a'), (2, NULL, 2.25, 'it''s'), (3, 0, NULL, NULL);
COMMIT;
"""
STATEMENTS = {  # and, behind `@`, what is run after it
    "value": "SELECT n FROM t WHERE id = 1;",
    "decimal": "SELECT d FROM t WHERE id = 2;",
    "null": "SELECT n FROM t WHERE id = 2;",
    "row": "SELECT id, n, note FROM t WHERE id = 1;",
    "rows": "SELECT id, d, note FROM t ORDER BY id;",
    "none": "SELECT * FROM t WHERE n > 100;",
    "notes": "SELECT seen(3) FROM t WHERE id < 3;",
    "insert": "INSERT INTO t VALUES (4, 4, 4, 'd');",
    "update": "UPDATE t SET n = 1, note = 'b' WHERE id < 3;",
    "delete": "DELETE FROM t WHERE id > 1;",
    "nobody": "UPDATE t SET n = 1 WHERE id > 100;",
    "double": "INSERT INTO t VALUES (4, 0, 0, 'x'), (1, 0, 0, 'y');",
    "division": "SELECT half(id - 1) FROM t;",
    "refused": "SELECT nothing FROM t;",
    "unread": "SELECT FROM;",
    "call": "CALL change(2, ?, 'so');",
    "handled": "CALL change(0, ?, 'so');",
    "signal": "CALL change(9, ?, 'so');",
    "into": "SELECT n, note INTO :n, :s FROM t WHERE id = 1;",
    "host": "CALL change(2, :d, :s);",
    "results": "CALL two_results();",
    "block": "BEGIN ATOMIC DECLARE x INTEGER; SET x = seen(1); DELETE FROM log; END;",
    "commit": "UPDATE t SET n = 5 WHERE id = 3;\nCOMMIT;",
    "rollback": "UPDATE t SET n = 5 WHERE id = 3;\nROLLBACK;",
    "savepoint": "SAVEPOINT s;\nUPDATE t SET n = 5 WHERE id = 3;\nROLLBACK TO SAVEPOINT s;",
    "table": "CREATE TABLE more (n INTEGER);",
    "lock": "LOCK TABLE t IN SHARE MODE;",
    "for update": "SELECT id FROM t WHERE id = 2 FOR UPDATE;",
    "waits": "UPDATE t SET n = 2 WHERE id = 1;\n--# session b\nUPDATE t SET n = 3 WHERE id = 1;"
    "@--# session main\nCOMMIT;\n--# session b\nCOMMIT;\n",
    "woken": "UPDATE t SET n = 2 WHERE id = 1;\n--# session b\nUPDATE t SET n = 3 WHERE id = 1;\n--# session main\nCOMMIT;"
    "@--# session b\nCOMMIT;\n",
    "gone on": "UPDATE t SET n = 2 WHERE id = 1;\n--# session b\nUPDATE t SET n = n + 1 WHERE id = 1;\n--# session main\n"
    "COMMIT;\n--# session b\n@COMMIT;\n",
    "circle": "UPDATE t SET n = 2 WHERE id = 1;\n--# session b\nUPDATE t SET n = 3 WHERE id = 2;\n--# session main\n"
    "UPDATE t SET n = 2 WHERE id = 2;\n--# session b\nUPDATE t SET n = 3 WHERE id = 1;",
}
EXPECTATIONS = """value 7|value 7.0|value 6 within 1|value 2.25|value 2.3 within 0.1|value NULL|value 'a'|value 1 + 6|value nothing|value
value d = 5|value d = -1|value told = 'so 1'|value told = NULL|value x = 1|value :d
count 1|count 2|count 0|count 3 of result 2|count 3 of result 1|count 1 of result 3|no rows|no rows of result 2|count x
note 'm 1'|note 'm 9'|note 'm%'|no notes|no other notes|note
at round m=3|at round m = 1|at round 1 m = 1|at round 99 m = 1|at changed d = 5|at change.changed n = 2|at nowhere n = 1|at round nothing = 1
never at round|never at changed|never at nowhere
fails 22012|fails 23505|fails 42703|fails 42601|fails UX001|fails 22012 in half|fails 22012 in change|fails 22012 line 1
fails UX001 like '%nine%' in change at changed line 17|fails like '%division%'|fails 02000|fails NOT FOUND|fails 02000 like '%no row%'|fails NOT FOUND in change|fails 02000 at round|fails 02000 line 17|fails SQLEXCEPTION|fails 2201|fails
handled 22012|handled 22012 in change|handled 22012 in half|handled UX001|handled like '%zero%'|handled SQLEXCEPTION
change t +1|change t ~1|change t ~2|change t -2|change log +2|change t +1 ~1 -1|change t|change nothing +1|no change|no other change
change t (1) n 7 -> 5|change t (1) n 7 -> 1|change t (1) note 'a' -> 'b'|change t (9) n 1 -> 2|change t (1) x 1 -> 2|change t (1) n 7
lock row t (1) X|lock row t (2) U|lock row t (2) X|lock table t S|lock table t IX|lock row nothing (1) X|lock table t ZZ|no locks|no other locks
waits for main on t (1)|waits for main|waits for main on t (2)|waits for b|waits for nobody|waits|wakes b|wakes main|deadlock
open|committed|rolled back|to savepoint s|to savepoint x|under versions: open
holds (SELECT COUNT(*) FROM t) = 3|holds (SELECT COUNT(*) FROM RESULT) = 1|holds EXISTS (SELECT * FROM log)|holds :n = 7|holds :d = 5|holds NULL|holds 1|holds
rows;1 | 7 | 'a'|rows;1 | ... | 'a'|rows include;...|rows;7|rows;NULL|rows|rows;1 | 1.50 | 'a';2 | 2.25 | 'it''s';3 | NULL | NULL
rows in any order;3 | NULL | NULL;1 | 1.5 | 'a';2 | 2.25 | 'it''s'|rows include;2 | 2.25 | ...|rows include within 0.1;1 | 1.45 | ...;2 | ... | ...
rows;id | note;1 | 'a'|rows of result 2;3|rows of result 1;1 | 'a';2 | 'it''s';3 | NULL|rows of result 3;3|rows of result 2 in any order;4
rows;3;3|rows;2|valu 7|value 7 8|open open"""


def write(folder: Path) -> None:
    """Write the project there."""
    for name, text in (("schema/t.sql", SCHEMA), ("routines/r.sql", ROUTINES), ("glimb.toml", "")):
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_text(text)
    (folder / "cases").mkdir()
    wanted = [one for line in EXPECTATIONS.splitlines() for one in _cells(line)]
    for name, text in STATEMENTS.items():
        statement, _, after = text.partition("@")
        cases = (f"--# case {one}\n{BEFORE}{statement.rstrip()}\n{_lines(one)}{after}" for one in wanted)
        (folder / "cases" / f"{name}.sql").write_text("".join(cases))


def _cells(line: str) -> list[str]:
    """Expectations are parted by `|`, their rows by `;`, the cells of rows by ` | `."""
    return [one.replace("\0", " | ") for one in line.replace(" | ", "\0").split("|")]


def _lines(expectation: str) -> str:
    head, *rows = expectation.split(";")
    return f"--> {head}\n" + "".join(f"-->  {row}\n" for row in rows)
