"""Stamps: rows that go in and rows that are only made, what is wrong in them, fixtures that stand on others."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.checking import check
from glimb.suite.project import open_project
from glimb.suite.replay import replay
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.suite.weave import make_loom
from glimb.suite.world import build

STAMPS = """[guest]
count = 7
id = "n + 100"
name = "'guest ' || CAST(n AS VARCHAR(9)) || '/' || CAST(count AS VARCHAR(9))"
hut = "pick(SELECT code FROM hut ORDER BY code)"
luck = "pick(SELECT code FROM hut ORDER BY code, 5)"
"""
SCHEMA = """CREATE TABLE hut (code CHAR(2) PRIMARY KEY);
CREATE TABLE guest (id INTEGER PRIMARY KEY, name VARCHAR(40), hut CHAR(2) REFERENCES hut, luck CHAR(2), born DATE);
"""


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name in ("schema", "fixtures/f", "fixtures/many", "cases"):
        (tmp_path / name).mkdir(parents=True)
    (tmp_path / "glimb.toml").write_text('fixture = "f"\n')
    (tmp_path / "stamps.toml").write_text(STAMPS)
    (tmp_path / "schema" / "s.sql").write_text(SCHEMA)
    (tmp_path / "fixtures" / "f" / "hut.csv").write_text("code\nAA\nBB\nCC\n")
    many = "--# on f\n--# stamp guest 30 born = DATE '2031-01-01' + n * INTERVAL '1' DAY\nDELETE FROM guest WHERE id > 125;\n"
    (tmp_path / "fixtures" / "many" / "rows.sql").write_text(many)
    return tmp_path


def asked(engine: Engine, query: str) -> list[tuple[object, ...]]:
    source = Source(f"{query};", "asked")
    outcome = engine.execute(engine.session("main"), parse(source).statements[0], source)[0]
    assert outcome.failure is None, outcome.failure
    return outcome.rows or []


def test_rows_only_made(folder: Path) -> None:
    engine = build(open_project(folder), "f")
    rows = asked(engine, "SELECT id, name, hut FROM TABLE(stamps.guest(4)) AS s ORDER BY id")
    assert rows == [(100 + n, f"guest {n}/4", ("AA", "BB", "CC", "AA")[n - 1]) for n in range(1, 5)]
    assert asked(engine, "SELECT COUNT(*) FROM TABLE(stamps.guest()) AS s") == [(7,)]
    assert asked(engine, "SELECT COUNT(*) FROM TABLE(stamps.guest(0)) AS s") == [(0,)]
    lucky = asked(engine, "SELECT luck FROM TABLE(stamps.guest(3000)) AS s")
    assert lucky == asked(engine, "SELECT luck FROM TABLE(stamps.guest(3000)) AS s")
    assert all(850 < count < 1150 for count in Counter(lucky).values()), Counter(lucky)
    assert asked(engine, "SELECT COUNT(*) FROM guest") == [(0,)]


CASES = """--# case put in
--# let day = DATE '1990-05-01'
--# stamp guest 5 born = :day, name = UPPER('x')
SELECT COUNT(*), MIN(name), MAX(born), MAX(id) FROM guest;
--> rows
-->   count | min | max | max
-->   5 | 'X' | DATE '1990-05-01' | 105
ROLLBACK;
SELECT COUNT(*) FROM guest;
--> value 5
--# case as many as it says
--# stamp guest
SELECT COUNT(*) FROM guest;
--> value 7
--# case of another fixture
--# fixture many
SELECT COUNT(*), MAX(born) FROM guest;
--> rows
-->   count | max
-->   25 | DATE '2031-01-26'
--# case two sessions
--# session a
UPDATE guest SET name = 'a' WHERE id = 101;
--# session b
--# stamp guest 2
UPDATE guest SET name = 'b' WHERE id = 102;
"""


def test_rows_that_go_in(folder: Path) -> None:
    path = folder / "cases" / "c.sql"
    path.write_text(CASES)
    for covering in (False, True):
        results = list(Runner(covering=covering).run_script(read_script(path)))
        assert [r.verdict for r in results] == ["met"] * 4, [
            (v.expected, v.seen, v.comparison) for r in results if r.ladder for g in r.ladder.rungs for v in g.slips
        ]
    counting = Runner(covering=True)
    list(counting.run_script(read_script(path)))
    assert not [one for one in counting.counts.values() if one.file.endswith(".toml")]
    script = read_script(path)
    again = replay(open_project(folder), script, script.cases[0])
    again.at(again.length)
    again.at(1)
    assert asked(again.engine, "SELECT COUNT(*) FROM guest") == [(5,)]
    loom = make_loom(path, "two sessions")
    assert asked(loom.engine, "SELECT COUNT(*) FROM guest") == [(2,)]


LINES = [
    ("stamp guests 5", "there is no table guests"),
    ("stamp hut 5", "there is no stamp for hut"),
    ("stamp guest 5 bron = 3", "guest has no column bron"),
    ("stamp guest 5 id = 7", "has a row with id 7 already"),
    ("stamp guest 5 id = nope", "there is no column"),
    ("stamp", "a table is missing"),
    ("stamp guest 5 id", "is no column = expression"),
    ("stamp guest 5 id = (", "found"),
]


@pytest.mark.parametrize(("line", "message"), LINES)
def test_wrong_lines(folder: Path, line: str, message: str) -> None:
    path = folder / "cases" / "c.sql"
    path.write_text(f"--# case wrong\n--# {line}\nSELECT 1;\n--> value 1\n")
    (result,) = Runner().run_script(read_script(path))
    (problem,) = result.problems
    assert problem.source is not None
    assert (message in problem.message, problem.source.line(problem.span.start)) == (True, 2), problem.message


FILES = [
    ("[guests]\nid = 'n'\n", 1, "there is no table guests"),
    ("[guest]\nid = 'n'\nnmae = 'n'\n", 3, "guest has no column nmae"),
    ("[guest]\nid = 'n'\nname = 'n +'\n", 3, "found the end"),
    ("[guest]\nid = 'n'\nname = 'nope'\n", 3, "there is no column"),
    ("[guest]\nid = 'n'\ncount = 'x'\n", 3, "count is a number of rows"),
    ("[guest]\nid = 5\n", 2, "id is an SQL expression"),
    ("[guest]\nhut = 'pick(SELECT kode FROM hut)'\n", 2, "there is no column"),
]


@pytest.mark.parametrize(("text", "line", "message"), FILES)
def test_wrong_files(folder: Path, text: str, line: int, message: str) -> None:
    (folder / "stamps.toml").write_text(text)
    with pytest.raises(ProblemError) as raised:
        build(open_project(folder), "f")
    problem = raised.value.problems[0]
    assert problem.source is not None
    assert (message in problem.message, problem.source.line(problem.span.start)) == (True, line), problem.describe()
    assert problem.source.name.endswith("stamps.toml")


def test_triggers_and_rows_of_files(tmp_path: Path) -> None:
    """Triggers do not fire for the rows of CSV files unless that is asked for; they do for statements."""
    for name in ("schema", "fixtures/f"):
        (tmp_path / name).mkdir(parents=True)
    schema = (
        "CREATE TABLE t (n INTEGER); CREATE TABLE seen (n INTEGER);"
        "CREATE TRIGGER told AFTER INSERT ON t REFERENCING NEW ROW AS r FOR EACH ROW INSERT INTO seen VALUES (r.n);"
    )
    (tmp_path / "schema" / "s.sql").write_text(schema)
    (tmp_path / "fixtures" / "f" / "t.csv").write_text("n\n1\n2\n")
    (tmp_path / "fixtures" / "f" / "more.sql").write_text("INSERT INTO t VALUES (3);\n")
    for setting, seen in (("", [(3,)]), ('fixture_triggers = "on"\n', [(1,), (2,), (3,)])):
        (tmp_path / "glimb.toml").write_text(f'fixture = "f"\n{setting}')
        engine = build(open_project(tmp_path), "f")
        assert asked(engine, "SELECT n FROM seen ORDER BY n") == seen
        asked(engine, "INSERT INTO t VALUES (9)")
        assert asked(engine, "SELECT MAX(n) FROM seen") == [(9,)]


def test_all_wrong_rows_are_told(folder: Path) -> None:
    text = "code\nAA\nAAA\nBB,1\nAA\nCC\n"
    (folder / "fixtures" / "f" / "hut.csv").write_text(text)
    with pytest.raises(ProblemError) as raised:
        build(open_project(folder), "f")
    lines = [p.source.line(p.span.start) for p in raised.value.problems if p.source is not None]
    assert lines == [3, 4, 5]


def test_fixtures_in_a_circle(folder: Path) -> None:
    (folder / "fixtures" / "f" / "on.sql").write_text("--# on many\n")
    with pytest.raises(ProblemError, match="stands on itself"):
        build(open_project(folder), "many")


def test_delimited_names_and_stamps_of_a_fixture(folder: Path) -> None:
    """Names as SQL writes them, in the file and in lines; a check knows the stamps that a fixture has of its own."""
    (folder / "schema" / "t.sql").write_text('CREATE TABLE "Red Bunk" (id INTEGER, "bunk no" INTEGER, "N" VARCHAR(9));')
    toml = """["Red Bunk"]\nID = "n"\n"bunk no" = "n * 10"\nN = "'a, \\"='"\n"""
    (folder / "fixtures" / "f" / "stamps.toml").write_text(
        f'{toml}[GUEST]\nId = "n + 900"\n'
    )  # for that of the project
    (folder / "fixtures" / "f" / "a.sql").write_text(
        '--# stamp "Red Bunk" 2 "N" = \'"x\', "bunk no" = s."bunk no" + 1\n'
    )
    path = folder / "cases" / "c.sql"
    path.write_text(
        '--# case one\n--# stamp "Red Bunk" 1\nSELECT * FROM "Red Bunk";\n'
        "--> rows\n-->   1 | 11 | '\"x'\n-->   2 | 21 | '\"x'\n-->   1 | 10 | 'a, \"='\n"
    )
    (result,) = Runner().run_script(read_script(path))
    assert result.verdict == "met", result.problems
    assert asked(build(open_project(folder), "f"), "SELECT * FROM TABLE(stamps.guest(1)) AS g") == [(901, 1)]
    assert check(open_project(folder), [path]) == []
    (folder / "fixtures" / "f" / "a.sql").write_text('SELECT 1;\n--# stamp "Red Bunk" 2 [id = 1]\n')
    assert [(told.file[-5:], told.line) for told in check(open_project(folder), [path])] == [("a.sql", 2)]
