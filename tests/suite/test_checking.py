"""Checking: each finding where it is meant, none where something only looks like it; problems once, where they are;
what is switched off; the formats."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from itertools import cycle
from pathlib import Path

import pytest
from tools import findings
from tools.conformance import lay_out

from glimb.suite.checking import check, codes
from glimb.suite.findings import rerun
from glimb.suite.findings.finding import RULES
from glimb.suite.project import open_project, script_paths

HERE = Path(__file__).parent / "findings"
ROOT = Path(__file__).parents[2]


def project(folder: Path, **files: str) -> Path:
    """A project of these files, whose names have two underscores for each slash."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "glimb.toml").write_text(files.pop("toml", 'title = "ferries"\n'))
    for name, text in files.items():
        path = folder / (name.replace("__", "/") + ("" if name.endswith("csv") else ".sql"))
        path = path.with_name(re.sub("_csv$", ".csv", path.name))
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
    return folder


def glimb(*arguments: object, folder: Path) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "glimb", "check", *map(str, arguments)]
    return subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60)


def test_dubious_routines_and_their_lookalikes(tmp_path: Path) -> None:
    text = (HERE / "routines.sql").read_text()
    folder = project(tmp_path, schema__s=(HERE / "schema.sql").read_text(), routines__r=text)
    lines = text.split("\n")
    expected = {}
    for number, line in enumerate(lines, 1):
        if line.startswith("-- finds"):
            head = lines[number]
            expected[number + 1, head.split("(")[0]] = sorted(line.split()[2:])
    starts = sorted(expected)
    found: dict[tuple[int, str], list[str]] = {start: [] for start in starts}
    for one in check(open_project(folder), []):
        assert one.severity == "warning", one
        found[max(start for start in starts if start[0] <= one.line)].append(one.code)
    assert {start: sorted(some) for start, some in found.items()} == expected
    assert {code for some in expected.values() for code in some} == set(RULES)


@pytest.mark.parametrize("folder", ["demo", "tests/conformance"])
def test_no_false_alarm(folder: str, tmp_path: Path) -> None:
    root = ROOT / folder
    if folder != "demo":
        root = tmp_path / "rules"
        lay_out(root)
    assert check(open_project(root), script_paths([root])) == []


CASES = """--# case calls
CALL told(1, 2);
CALL told(1);
--> fails 42884
SELECT seats FROM ferries;
SELECT 1 WHERE :x = 1;
--# case drops
DROP TABLE ferry CASCADE;
--# case begins
START TRANSACTION;
UPDATE ferry SET seats = 1 WHERE id = 1;
--# case ends
START TRANSACTION;
COMMIT;
--# case goes back a little
START TRANSACTION;
SAVEPOINT s;
ROLLBACK TO SAVEPOINT s;
--# case goes back
START TRANSACTION;
ROLLBACK;
--# case is open
START TRANSACTION;
--> open
--# case makes its own
CREATE TABLE mine (a INTEGER);
SELECT b FROM mine;
--# case wrong
SELEC 1;
"""


def test_problems_once_where_they_are(tmp_path: Path) -> None:
    folder = project(
        tmp_path,
        schema__s="CREATE TABLE ferry (id INTEGER PRIMARY KEY, seats INTEGER);",
        routines__r="CREATE PROCEDURE told (IN a INTEGER) BEGIN CALL note(CAST(a AS VARCHAR(9))); END;\n"
        "CREATE PROCEDURE wrong () BEGIN CALL told(1, 2); UPDATE ferry SET sets = 1; END;\n"
        "CREATE VIEW seen AS SELECT id FROM ferry;\nCREATE PROCEDURE broken () BEGIN SET; END;\n",
        fixtures__f__ferry_csv="id,seats\n1,x\n",
        cases__c=CASES,
    )
    told = [
        (Path(one.file).name, one.line, one.code) for one in check(open_project(folder), [folder / "cases" / "c.sql"])
    ]
    (drop,) = (
        one for one in check(open_project(folder), [folder / "cases" / "c.sql"]) if one.code == "drop-under-users"
    )
    assert drop.message == "seen, wrong still use it"
    assert told == [
        ("c.sql", 2, "42884"),
        ("c.sql", 5, "42704"),
        ("c.sql", 8, "drop-under-users"),
        ("c.sql", 10, "open-transaction"),
        ("c.sql", 16, "open-transaction"),
        ("c.sql", 29, "42601"),
        ("ferry.csv", 2, "22018"),
        ("r.sql", 2, "42884"),
        ("r.sql", 2, "42703"),
        ("r.sql", 4, "42601"),
    ]


def test_table_in_the_docs() -> None:
    """`python -m tools.findings` writes it."""
    assert findings.DOCS.read_text() == findings.text()


def test_every_wrong_statement_of_a_schema(tmp_path: Path) -> None:
    """All of them once, what only misses an earlier one aside; routines are at least read."""
    schema = "CREATE TABLE a (n INTEGR);\nCREATE TABLE b (n INTEGER);\nCREATE VIEW c AS SELECT m FROM b;\nCREATE VIEW d AS SELECT n FROM a;\nCREATE;\n"
    folder = project(tmp_path, schema__s=schema, routines__r="CREATE PROCEDURE p () BEGIN SET; END;\n")
    told = [(Path(one.file).name, one.line) for one in check(open_project(folder), [])]
    assert told == [("r.sql", 1), ("s.sql", 1), ("s.sql", 3), ("s.sql", 5)]


def test_triggers_that_do_not_fire_are_told(tmp_path: Path) -> None:
    schema = (
        "CREATE TABLE t (n INTEGER); CREATE TABLE u (n INTEGER);"
        "CREATE TRIGGER x AFTER INSERT ON t FOR EACH STATEMENT INSERT INTO u VALUES (1);"
    )
    folder = project(tmp_path, schema__s=schema, fixtures__f__t_csv="n\n1\n", fixtures__f__u_csv="n\n1\n")
    told = check(open_project(folder), [])
    assert [(Path(one.file).name, one.line, one.code) for one in told] == [("t.csv", 1, "triggers-off")]
    (folder / "glimb.toml").write_text('fixture_triggers = "off"\n')
    assert check(open_project(folder), []) == []


SCHEMA = "CREATE TABLE ferry (id INTEGER PRIMARY KEY, seats INTEGER);"


def test_switched_off(tmp_path: Path) -> None:
    """By a comment with a reason on the line or above it, or in glimb.toml; a wrong switch is told."""
    routine = "CREATE PROCEDURE p () BEGIN{}\n  DELETE FROM ferry;{}\nEND;\n"
    above = project(
        tmp_path / "a", schema__s=SCHEMA, routines__r=routine.format("\n  -- allow change-by-no-key: all", "")
    )
    beside = project(
        tmp_path / "b", schema__s=SCHEMA, routines__r=routine.format("", " -- allow change-by-no-key: all")
    )
    assert check(open_project(above), []) == check(open_project(beside), []) == []
    toml = 'title = "x"\n[allow]\nchange-by-no-key = "small tables"\n'
    everywhere = project(tmp_path / "c", toml=toml, schema__s=SCHEMA, routines__r=routine.format("", ""))
    assert check(open_project(everywhere), []) == []
    wrong = project(tmp_path / "d", schema__s=SCHEMA, routines__r=routine.format("", " -- allow change-by-key: all"))
    assert [(o.code, o.severity) for o in check(open_project(wrong), [])] == [
        ("change-by-no-key", "warning"),
        ("42704", "error"),
    ]
    bare = project(tmp_path / "e", schema__s=SCHEMA, routines__r=routine.format("", " -- allow change-by-no-key"))
    assert [o.message for o in check(open_project(bare), [])] == ["change-by-no-key is switched off without a reason"]
    reasonless = project(tmp_path / "f", toml='[allow]\nchange-by-no-key = ""\n', schema__s=SCHEMA)
    done = glimb(folder=reasonless)
    assert (done.returncode, "is switched off with a reason" in done.stdout) == (2, True)


def test_formats(tmp_path: Path) -> None:
    routine = "CREATE PROCEDURE p () BEGIN DELETE FROM ferry; END;"
    folder = project(tmp_path, schema__s=SCHEMA, routines__r=routine)
    plain = glimb(folder=folder)
    assert plain.returncode == 1
    assert plain.stdout.startswith(
        "routines/r.sql:1:29: warning change-by-no-key: DELETE of all rows of ferry (name all"
    )
    assert plain.stdout.endswith("1 finding\n")
    (line,) = glimb("--format", "jsonl", folder=folder).stdout.splitlines()
    assert json.loads(line) == {
        "file": "routines/r.sql",
        "line": 1,
        "column": 29,
        "code": "change-by-no-key",
        "severity": "warning",
        "message": "DELETE of all rows of ferry",
        "hint": codes()["change-by-no-key"],
    }
    (annotation,) = glimb("--format", "github", folder=folder).stdout.splitlines()
    assert annotation.startswith("::warning file=routines/r.sql,line=1,col=29,title=change-by-no-key::DELETE of all")
    log = json.loads(glimb("--format", "sarif", folder=folder).stdout)
    result = log["runs"][0]["results"][0]
    assert (log["version"], result["ruleId"], result["level"]) == ("2.1.0", "change-by-no-key", "warning")
    assert result["locations"][0]["physicalLocation"]["region"] == {"startLine": 1, "startColumn": 29}
    (folder / "routines" / "r.sql").write_text("")
    assert glimb(folder=folder).returncode == 0
    (folder / "schema" / "s.sql").write_text("CREATE TABL;")
    assert glimb(folder=folder).returncode == 2


def test_a_call_whose_time_is_up_breaks_no_promise(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    routine = "CREATE FUNCTION f (a INTEGER) RETURNS INTEGER DETERMINISTIC BEGIN DECLARE n INTEGER; "
    routine += "PREPARE q FROM 'VALUES 2 * ?'; EXECUTE q INTO n USING a; RETURN n; END;"
    root = project(tmp_path, routines__f=routine)
    for second, expected in ((rerun.TOO_LONG, False), ("3", True)):
        answers = cycle(("2", second))
        monkeypatch.setattr(rerun, "_given", lambda engine, call, answers=answers: next(answers))
        assert any(told.code == rerun.CODE for told in check(open_project(root), [])) is expected
