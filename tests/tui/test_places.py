"""Survey, routine, call sheet, tables and findings in a real terminal, in a world that is not the demo: a seed bank."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

import pytest

from amounts import amount
from terminals import Opener, Terminal

SEEDS = {
    "glimb.toml": "title = 'Seed bank'\nfixture = 'base'\n",
    "schema/t.sql": (
        "CREATE TABLE family (code CHAR(3) PRIMARY KEY, title VARCHAR(20) NOT NULL);\n"
        "CREATE TABLE crop (id INTEGER PRIMARY KEY, name VARCHAR(20) NOT NULL, family CHAR(3) REFERENCES family);\n"
        "CREATE TABLE lot (id INTEGER PRIMARY KEY, crop INTEGER NOT NULL REFERENCES crop, grams INTEGER CHECK (grams >= 0));\n"
    ),
    "fixtures/base/family.csv": "code,title\nPOA,grasses\nFAB,legumes\n",
    "fixtures/base/crop.csv": 'id,name,family\n1,"rye ",POA\n2,pea,FAB\n3,"",\n',
    "fixtures/base/lot.csv": "id,crop,grams\n" + "".join(f"{n},{1 + n % 3},{n * 10}\n" for n in range(1, 21)),
    "routines/lots.sql": (
        "CREATE FUNCTION grams_of (lot_id INTEGER) RETURNS INTEGER\n"
        "READS SQL DATA\n"
        "BEGIN\n"
        "  DECLARE found INTEGER;\n"
        "  SELECT grams INTO found FROM lot WHERE id = lot_id;\n"
        "  RETURN found;\n"
        "END;\n"
        "CREATE PROCEDURE take (\n"
        "  IN lot_id INTEGER, IN wanted INTEGER\n"
        ")\n"
        "MODIFIES SQL DATA\n"
        "BEGIN\n"
        "  IF grams_of(lot_id) < wanted THEN SIGNAL SQLSTATE 'UE001' SET MESSAGE_TEXT = 'too little'; END IF;\n"
        "  UPDATE lot SET grams = grams - wanted WHERE id = lot_id;\n"
        "END;\n"
        "CREATE PROCEDURE forget () MODIFIES SQL DATA DELETE FROM lot WHERE grams = NULL;\n"
    ),
    "cases/lots.sql": (
        "--# case some is taken\nSELECT grams_of(3);\n--> value 30\nSELECT grams_of(4);\nSELECT name FROM crop WHERE id = 1;\n"
        "SELECT 1;\nCALL take(3, 10);\n--> change lot (3) grams 30 -> 20\nROLLBACK;\n--> rolled back\n"
    ),
}


@pytest.fixture
def seeds(tmp_path: Path) -> Path:
    """The project, in a folder of its own."""
    root = tmp_path / "seeds"
    for name, text in SEEDS.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(text)
    return root


def glimb(root: Path, *arguments: str) -> str:
    command = [sys.executable, "-m", "glimb", *arguments]
    return subprocess.run(command, cwd=root, capture_output=True, text=True, timeout=60).stdout


def opened(open_terminal: Opener, root: Path) -> Terminal:
    terminal = open_terminal(root)
    terminal.until("Survey", "not run", "grams_of")
    return terminal


def row(screen: str, name: str) -> list[str]:
    """The cells of a routine in the proof grid."""
    line = next(line for line in screen.split("\n") if f" {name} " in line.rpartition("▊")[2])
    return line.rpartition("▊")[2].replace("▌", " ").split()[1:]


def test_from_never_to_asserted(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("a")
    terminal.until("1 met", "coverage")
    assert row(terminal.screen(), "grams_of")[:4] == ["■", "■", "·", "·"]
    terminal.keys("Tab", "v")
    terminal.until("an argument was NULL", "never")
    terminal.keys("v")
    terminal.until("a query in it found no row")
    terminal.keys("Enter")
    terminal.until("Ladder", "scratch", "VALUES grams_of(")
    terminal.keys("Enter")
    terminal.until("= NULL")
    terminal.keys("Escape")
    time.sleep(0.3)
    terminal.keys("p")
    terminal.until("Expect of rung 1", "value NULL")
    terminal.keys("Enter")
    terminal.until("✓1")
    terminal.keys("k")
    terminal.until("In which file?")
    terminal.keys("Enter")
    terminal.until("as the case:")
    terminal.keys(*"nothing there".replace(" ", "_"), "Enter")
    terminal.until("kept in cases/new.sql")
    terminal.keys("S", "a")
    terminal.until("2 met", "nothing_there")
    deadline = time.monotonic() + 15
    while row(terminal.screen(), "grams_of")[3] != "■":
        assert time.monotonic() < deadline, terminal.screen()
        time.sleep(0.1)
    assert "2 met" in glimb(seeds, "run")


def test_a_signature_is_changed_and_its_calls_mended(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("a")
    terminal.until("1 met", "coverage")
    terminal.keys("R")
    terminal.until("Routine", "grams_of")
    terminal.keys("n")
    terminal.until("take", "MODIFIES SQL DATA")
    terminal.keys("e")
    terminal.until("null-comparison")
    terminal.keys("Down", "End")
    terminal.tmux("send-keys", "-l", "--", ", IN who INTEGER")
    terminal.until("not saved", "unused-parameter")
    terminal.keys("C-s")
    terminal.until("saved routines/lots.sql")
    terminal.keys("Escape")
    terminal.until("1 calls no longer fit")
    assert "IN wanted INTEGER, IN who INTEGER" in (seeds / "routines/lots.sql").read_text()
    terminal.keys("m", "Enter")
    terminal.until("Ladder", "42884")
    terminal.keys("e")
    terminal.until("CALL take(3, 10);")
    terminal.keys("End", "BSpace", "BSpace")
    terminal.tmux("send-keys", "-l", "--", ", 7)")
    terminal.keys("C-r")
    terminal.until("~1 lot")
    terminal.keys("k")
    terminal.until("as the case:")
    terminal.keys("Enter")
    terminal.until("kept in cases/lots.sql")
    terminal.keys("R")
    terminal.until("Routine", "take")
    terminal.until_gone("no longer fit")
    assert "CALL take(3, 10, 7);" in (seeds / "cases/lots.sql").read_text()
    assert "1 met" in glimb(seeds, "run")


def test_a_sheet_from_a_query(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("C")
    terminal.until("There is no call sheet yet")
    terminal.keys("c")
    terminal.until("a new one for grams_of")
    terminal.keys("Enter")
    terminal.until("sheets/grams_of.csv", "lot_id")
    terminal.keys("w")
    terminal.until("A row for each row of this query")
    terminal.tmux("send-keys", "-l", "--", "SELECT id FROM lot ORDER BY id")
    terminal.keys("Enter")
    terminal.until("20 calls", "20 met")
    terminal.keys("l")
    terminal.until("taken in 20 rows")
    terminal.until("✓ 20 met")
    terminal.keys("Right", "Enter")
    time.sleep(0.3)
    terminal.keys(*"999", "Enter")
    terminal.until("19 met", "1 slipped")
    terminal.keys("Escape", "u")
    terminal.until("✓ 20 met")
    lines = (seeds / "sheets/grams_of.csv").read_text().split("\n")
    assert lines[:3] == ["lot_id,value,fails", "1,10,", "2,20,"]
    assert "21 met" in glimb(seeds, "run")


def test_rows_are_followed(open_terminal: Opener, seeds: Path) -> None:
    count = amount(100_000)
    many = "".join(f"{n},{1 + n % 3},{n * 10}\n" for n in range(1, count + 1))
    (seeds / "fixtures/base/lot.csv").write_text("id,crop,grams\n" + many)
    terminal = opened(open_terminal, seeds)
    terminal.keys("T")
    terminal.until("Tables", "crop 3", "rye␣", "''", seconds=60)
    terminal.keys("n", "n")
    terminal.until(f"{count:,} rows")
    terminal.keys("/")
    terminal.until("for which this is true")
    terminal.tmux("send-keys", "-l", "--", f"grams > {count * 10 - 100} OR id = 3")
    terminal.keys("Enter")
    terminal.until("11 rows", "where grams > ")
    terminal.keys("Right", "Enter")
    terminal.until("where id = 1", "rye␣")
    terminal.keys("Escape")
    terminal.until("11 rows")
    terminal.keys("S", "Enter")
    terminal.until("Ladder", "= 30", seconds=60)
    terminal.keys("T")
    terminal.until("behind rung 1", seconds=60)
    terminal.keys("y")
    terminal.until("behind rung 5", "~", "was 30", seconds=60)
    terminal.keys("i")
    terminal.until("Ladder", "20")


def test_a_finding_is_switched_off(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("F")
    terminal.until("null-comparison", "1 dubious")
    terminal.keys("Enter")
    terminal.until("Routine", "forget")
    terminal.keys("Escape")
    terminal.until("Findings")
    terminal.keys("k")
    terminal.until("Why may null-comparison stand here?")
    terminal.tmux("send-keys", "-l", "--", "nothing is forgotten")
    terminal.keys("Enter")
    terminal.until("0 dubious", "nothing dubious")
    assert "-- allow null-comparison: nothing is forgotten\n" in (seeds / "routines/lots.sql").read_text()
    assert glimb(seeds, "check") == "nothing is wrong, nothing is dubious\n"


def test_what_a_change_concerns_runs_by_itself(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("a")
    terminal.until("1 met", "coverage")
    file = seeds / "routines/lots.sql"
    right = file.read_text()
    file.write_text(right.replace("RETURN found;", "RETURN found + 1;"))
    terminal.until("files have changed")
    terminal.keys("A")
    terminal.until("runs by itself")
    assert (seeds / ".glimb/base.json.gz").exists()  # the first run of all
    file.write_text(right.replace("RETURN found;", "RETURN found + 2;"))
    terminal.until("1 slipped", "≠ 1 differ")
    terminal.keys("x")
    terminal.until("× slipped", "was  [[30]]", "is   [[32]]")
    file.write_text(right)
    terminal.until("1 met", "0 slipped")


def test_new_routines(open_terminal: Opener, seeds: Path) -> None:
    terminal = opened(open_terminal, seeds)
    terminal.keys("R")
    terminal.until("Routine", "grams_of")
    terminal.keys("o")
    terminal.until("A new routine", "a query wrapped")
    terminal.keys("Enter")
    terminal.until("Its name:")
    terminal.type("fresh")
    terminal.until("routines/fresh.sql", "CREATE FUNCTION fresh (a INTEGER)", "nothing wrong")
    terminal.keys("Escape", "o")
    terminal.until("A new routine")
    terminal.keys("Down", "Down", "Down", "Down", "Enter")
    terminal.until("Its name:")
    terminal.type("lots_of")
    terminal.until("its constants become parameters")
    terminal.type("SELECT id, grams FROM lot WHERE crop = 2")
    terminal.until("routines/lots_of.sql", "CREATE FUNCTION lots_of")
    assert "lots_of" in glimb(seeds, "survey")


def test_cells_are_pasted_and_written(open_terminal: Opener, seeds: Path) -> None:
    """Cells of a spreadsheet into a sheet; a cell of a fixture's file; what was there is there at the next start."""
    (seeds / "sheets").mkdir()
    (seeds / "sheets/grams_of.csv").write_text("lot_id,value\n1,10\n")
    terminal = opened(open_terminal, seeds)
    terminal.keys("C")
    terminal.until("sheets/grams_of.csv", "1 met")
    terminal.keys("a")
    terminal.until("2 calls")
    terminal.tmux("set-buffer", "2\t20\n3\t31\n")
    terminal.tmux("paste-buffer", "-p")
    terminal.until("3 calls", "2 met", "1 slipped", "31 × 30")
    terminal.keys("x", "k")
    terminal.until("3 met")
    assert (seeds / "sheets/grams_of.csv").read_text() == "lot_id,value\n1,10\n2,20\n3,30\n"
    terminal.keys("T")
    terminal.until("Tables", "rye␣")
    terminal.keys("Right", "e")
    terminal.until("name of this row in fixtures/base/crop.csv")
    terminal.type("oats, black")
    terminal.until("saved fixtures/base/crop.csv", "oats, black")
    assert (seeds / "fixtures/base/crop.csv").read_text().split("\n")[1] == '1,"oats, black",POA'
    terminal.keys("S")
    terminal.until("Survey")
    terminal.keys("Z")
    terminal.until("▸ ")
    terminal.keys("T")
    terminal.until("Tables")
    terminal.keys("t", "q")
    terminal.until("ended=0")
    again = open_terminal(seeds)
    again.until("Tables", "oats, black")
    again.keys("S")
    again.until("Survey", "▸ ")
    assert '"theme": "glimb-noon"' in (seeds / ".glimb/screen.json").read_text()
