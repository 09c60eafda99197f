"""Call sheets: rows as cases, what is wrong in them, and new ones."""

from __future__ import annotations

import csv
import subprocess
import sys
from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.choosing import read_any
from glimb.suite.runner import Runner
from glimb.suite.sheet_table import seen_in

ROUTINES = """
CREATE FUNCTION fare (zone INTEGER, kind VARCHAR(8) DEFAULT 'adult', day DATE DEFAULT DATE '2031-05-01') RETURNS DECIMAL(6,2)
BEGIN
  IF zone < 1 THEN SIGNAL SQLSTATE 'TF001' SET MESSAGE_TEXT = 'no such zone'; END IF;
  RETURN zone * CASE kind WHEN 'child' THEN 1.25 ELSE 2.5 END + CASE WHEN EXTRACT(MONTH FROM day) = 12 THEN 1 ELSE 0 END;
END;
CREATE PROCEDURE board (IN trip_id INTEGER, OUT seats_left INTEGER, OUT told VARCHAR(20)) BEGIN
  UPDATE trip SET sold = sold + 1 WHERE id = trip_id;
  SELECT seats - sold, 'trip ' || day INTO seats_left, told FROM trip WHERE id = trip_id;
END;
CREATE FUNCTION hour_of (at TIME) RETURNS INTEGER RETURN EXTRACT(HOUR FROM at);
CREATE FUNCTION trips_of (which VARCHAR(9)) RETURNS TABLE (id INTEGER) RETURN TABLE (SELECT t.id FROM trip t WHERE t.day = which);
"""
FARE = """case,zone,kind,day,value,fails,holds,check
plain,2,,,5.00,,value > 4,SELECT 2 * 2.5
child,2,child,,2.5,,,
a text with quotes,2,'child',,2.5,,,
null,NULL,,,NULL,,,
december,1,adult,2031-12-24,3.50,,,
early in the day,1,adult,,2.50,,,
none,0,,,,TF001 like '%zone%',,
wrong,2,,,6,,,
unchecked,2,,,,,,SELECT 7
"""
BOARD = """trip_id,value seats_left,value told,change trip,no
1,9,trip may,~1,
7,NULL,NULL,,change
"""


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name in ("schema", "routines", "sheets", "fixtures/f"):
        (tmp_path / name).mkdir(parents=True)
    schema = "CREATE TABLE trip (id INTEGER PRIMARY KEY, day VARCHAR(9), seats INTEGER, sold INTEGER);"
    (tmp_path / "schema" / "s.sql").write_text(schema)
    (tmp_path / "routines" / "r.sql").write_text(ROUTINES)
    (tmp_path / "fixtures" / "f" / "trip.csv").write_text("id,day,seats,sold\n1,may,10,0\n2,may,5,5\n3,june,4,1\n")
    (tmp_path / "glimb.toml").write_text('fixture = "f"\n')
    return tmp_path


def verdicts(path: Path, text: str) -> list[tuple[str, str]]:
    path.write_text(text)
    return [(result.title, result.verdict) for result in Runner().run_script(read_any(path))]


def test_rows_are_cases(folder: Path) -> None:
    found = verdicts(folder / "sheets" / "fare.csv", FARE)
    slipped = {"wrong", "unchecked"}
    assert found == [
        (title, "slipped" if title in slipped else "met") for title, *_ in list(csv.reader(FARE.splitlines()))[1:]
    ]
    board = verdicts(folder / "sheets" / "board.first.csv", BOARD)
    assert board == [("board.first row 1", "met"), ("board.first row 2", "met")]
    listed = "which,count,check\nmay,2,SELECT id FROM trip WHERE day = 'may'\njune,1,SELECT 9\n"
    assert [verdict for _, verdict in verdicts(folder / "sheets" / "trips_of.csv", listed)] == ["met", "slipped"]
    hours = "at,value\n7:05:00,7\n12:00:00,12\nTIME '23:00:00',23\n"
    assert {verdict for _, verdict in verdicts(folder / "sheets" / "hour_of.csv", hours)} == {"met"}


def test_places_are_those_of_the_sheet(folder: Path) -> None:
    path = folder / "sheets" / "fare.csv"
    path.write_text('case,zone,value\n"two\nlines",1,2.5\nwrong,2,1\n')
    results = list(Runner().run_script(read_any(path)))
    assert [r.script.source.line(r.case.span.start) for r in results if r.case is not None] == [2, 4]
    assert [rung.line for r in results if r.ladder is not None for rung in r.ladder.rungs] == [2, 4]


WRONG = [
    ("fare.csv", "zone,knd\n1,x\n", 1, "fare has no parameter knd"),
    ("fare.csv", "zone,zone\n1,2\n", 1, "column zone stands twice"),
    ("fare.csv", "zone,value\n1,2.5\n1\n", 3, "1 fields, the header has 2"),
    ("fare.csv", "", 1, "a sheet begins with the names of its columns"),
    ("fares.csv", "zone\n1\n", 1, "there is no routine fares for this sheet"),
    ("fare.csv", 'zone\n"1\n', 2, "this quote is not closed"),
]


@pytest.mark.parametrize(("name", "text", "line", "message"), WRONG)
def test_wrong_sheets(folder: Path, name: str, text: str, line: int, message: str) -> None:
    path = folder / "sheets" / name
    path.write_text(text)
    (problem,) = read_any(path).problems
    assert problem.source is not None
    assert (problem.source.line(problem.span.start), problem.message) == (line, message)


def glimb(folder: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "glimb", *arguments]
    return subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60)


def test_new_sheets(folder: Path) -> None:
    """What is written with what was seen is met; a sheet that is there stays."""
    assert glimb(folder, "sheet", "fare", "--edges", "--take").returncode == 0
    query = "SELECT id AS trip_id FROM trip"
    assert glimb(folder, "sheet", "board", "--from", query, "--take", "--name", "all").returncode == 0
    rows = list(csv.reader((folder / "sheets" / "board.all.csv").open()))
    assert rows == [
        ["trip_id", "value seats_left", "value told", "fails"],
        ["1", "9", "trip may", ""],
        ["2", "-1", "trip may", ""],
        ["3", "2", "trip june", ""],
    ]
    fares = list(csv.reader((folder / "sheets" / "fare.csv").open()))
    assert {"0", "1", "2", "-1", "NULL"} <= {row[0] for row in fares}
    assert ["0", "child", "2031-07-14", "", "TF001"] in fares
    done = glimb(folder, "run", ".")
    assert done.returncode == 0, done.stdout
    again = glimb(folder, "sheet", "fare")
    assert (again.returncode, "is there already" in again.stderr) == (2, True)
    assert "did you mean fare?" in glimb(folder, "sheet", "far").stderr


ODD = (
    "NULL",
    "",
    " ",
    "a ",
    "it's",
    "'x'",
    '5"',
    "a, b",
    "a|b",
    "--> x",
    "--# y",
    "new\nline",
    "\n",
    "tab\t",
    "U&'x'",
    "DATE '2031-01-01'",
)


def test_texts_come_back_as_they_are(folder: Path) -> None:
    """From a query into cells, from cells into calls and expecting lines, met."""
    with (folder / "routines" / "r.sql").open("a") as file:
        file.write("CREATE FUNCTION same (t VARCHAR(40)) RETURNS VARCHAR(40) RETURN t;")
    rows = ", ".join("('" + text.replace("'", "''") + "')" for text in ODD if text[:1] != "-")
    rows = rows.replace("tab\t", "tab' || U&'\\0009")
    query = f"SELECT t FROM (VALUES {rows}, (U&'\\002D-> x'), (U&'\\002D-# y'), (NULL)) AS s(t)"
    done = glimb(folder, "sheet", "same", "--from", query, "--take")
    assert done.returncode == 0, done.stderr
    with (folder / "sheets" / "same.csv").open(newline="") as file:
        assert len(list(csv.reader(file))) == len(ODD) + 2
    results = list(Runner().run_script(read_any(folder / "sheets" / "same.csv")))
    assert [result.verdict for result in results] == ["met"] * (len(ODD) + 1)
    seen = [result.ladder.rungs[-1].last.rows for result in results if result.ladder is not None]
    assert sorted(str(rows[0][0]) for rows in seen if rows) == sorted((*ODD, "None"))


def test_cells_of_several_lines(folder: Path) -> None:
    with (folder / "routines" / "r.sql").open("a") as file:
        file.write("CREATE FUNCTION same (t VARCHAR(40)) RETURNS VARCHAR(40) RETURN t;")
    cells = ("'two\nlines'", "U&'two\n\\0041'", "'it''s\ntwo'")
    (folder / "sheets" / "same.csv").write_text("t,value\n" + "".join(f'"{cell}","{cell}"\n' for cell in cells))
    results = list(Runner().run_script(read_any(folder / "sheets" / "same.csv")))
    assert [result.verdict for result in results] == ["met"] * 3
    seen = [result.ladder.rungs[-1].last.rows for result in results if result.ladder is not None]
    assert seen == [[("two\nlines",)], [("two\nA",)], [("it's\ntwo",)]]


@pytest.mark.parametrize(
    ("text", "note"), [("CALL note('a')", "'a'"), ("BEGIN CALL note('a'); CALL note('b'); END", None), ("COMMIT", None)]
)
def test_a_note_that_was_seen(text: str, note: str | None) -> None:
    engine, source = Engine(), Source(text)
    (outcome,) = engine.execute(engine.session("main"), parse(source).statements[0], source)
    assert seen_in(outcome, "note") == note


@pytest.mark.parametrize(
    ("text", "seen"),
    [
        (
            "CALL p(1, ?, ?)",
            {"value b": "2", "value c": "x", "value": None, "count": None, "fails": "", "value d": None},
        ),
        ("CALL p(0, ?, ?)", {"value b": "", "value": "", "count": "", "note": None, "fails": "22012"}),
        ("VALUES 7, 8", {"value": "7", "count": "2", "value b": None, "count b": None, "note": None}),
        ("CREATE TABLE t (n INTEGER)", {"value": None, "count": None, "fails": ""}),
    ],
)
def test_what_a_call_gave_in_each_column(text: str, seen: dict[str, str | None]) -> None:
    made = "CREATE PROCEDURE p(a INTEGER, OUT b INTEGER, OUT c VARCHAR(5)) BEGIN SET b = 2 / a; SET c = 'x'; END;"
    engine, source = Engine(), Source(f"{made} {text};")
    outcomes = [engine.execute(engine.session("main"), one, source)[0] for one in parse(source).statements]
    assert {column: seen_in(outcomes[-1], column) for column in seen} == seen
