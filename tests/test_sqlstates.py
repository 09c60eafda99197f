"""Every SQLSTATE that the code raises is in the one list, has an example, and is in the docs."""

from __future__ import annotations

import re
from pathlib import Path

from tools import sqlstates

from glimb.engine.values.command_codes import CODES
from glimb.engine.values.conditions import STATES

SOURCES = Path(__file__).parent.parent / "src" / "glimb"
RAISED = re.compile(r"""(?:fail|Condition|Problem|_refused|_refuse)\(\s*(?:session, )?["']([0-9A-Z]{5})["']""")


def test_the_list_is_whole() -> None:
    raised = {s for path in SOURCES.rglob("*.py") for s in RAISED.findall(path.read_text())}
    assert len(raised) > 60
    assert raised <= set(STATES)


def test_the_docs() -> None:
    assert set(STATES) == set(sqlstates.examples()) | set(sqlstates.WITHOUT_EXAMPLE)
    assert sqlstates.TABLE.read_text() == sqlstates.table()


STATEMENTS = """
1 ALLOCATE CURSOR/2 ALLOCATE DESCRIPTOR/3 ALTER DOMAIN/4 ALTER TABLE/5 ASSIGNMENT/7 CALL/9 CLOSE CURSOR/11 COMMIT WORK/
12 BEGIN END/14 CREATE ROUTINE/15 DEALLOCATE DESCRIPTOR/16 DEALLOCATE PREPARE/17 ALTER ROUTINE/18 DELETE CURSOR/
19 DELETE WHERE/20 DESCRIBE/23 CREATE DOMAIN/27 DROP DOMAIN/30 DROP ROUTINE/31 DROP SCHEMA/32 DROP TABLE/34 DROP TRIGGER/
35 DROP TYPE/36 DROP VIEW/43 EXECUTE IMMEDIATE/44 EXECUTE/45 FETCH/46 FOR/47 GET DESCRIPTOR/50 INSERT/53 OPEN/56 PREPARE/
57 RELEASE SAVEPOINT/58 RETURN/62 ROLLBACK WORK/63 SAVEPOINT/64 CREATE SCHEMA/65 SELECT/68 SET CONSTRAINT/
70 SET DESCRIPTOR/74 SET SCHEMA/75 SET TRANSACTION/77 CREATE TABLE/80 CREATE TRIGGER/81 UPDATE CURSOR/82 UPDATE WHERE/
83 CREATE TYPE/84 CREATE VIEW/86 CASE/88 IF/89 LEAVE/90 LOOP/91 RESIGNAL/92 SIGNAL/95 REPEAT/97 WHILE/102 ITERATE/
109 SET SESSION CHARACTERISTICS/111 START TRANSACTION/128 MERGE/51 CREATE MODULE/116 DROP MODULE/
133 CREATE SEQUENCE GENERATOR/134 ALTER SEQUENCE GENERATOR/135 DROP SEQUENCE GENERATOR/136 TRUNCATE TABLE/-1 LOCK TABLE
"""


def test_codes_of_statements() -> None:
    """As the table of the standard has them."""
    told = (one.strip().split(" ", 1) for one in STATEMENTS.strip().split("/"))
    assert {name: int(code) for code, name in told} == CODES
