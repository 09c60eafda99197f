"""Working on a ladder in a real terminal, in a world that is not the demo: a ferry that sells places."""

from __future__ import annotations

import os
import random
import re
import signal
import subprocess
import sys
import time
from functools import partial
from pathlib import Path

import pytest

from terminals import Opener

FERRY = {
    "glimb.toml": "title = 'Ferry'\nfixture = 'base'\n",
    "schema/t.sql": (
        "CREATE TABLE trip (id INTEGER PRIMARY KEY, sold INTEGER CHECK (sold >= 0));\n"
        "CREATE TABLE log (line INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, trip INTEGER REFERENCES trip);\n"
    ),
    "fixtures/base/trip.csv": "id,sold\n1,0\n2,4\n",
    "routines/r.sql": (
        "CREATE FUNCTION share (n INTEGER) RETURNS INTEGER\n"
        "BEGIN\n"
        "  DECLARE s INTEGER;\n"
        "  IF n > 10 THEN SET s = NULL; ELSE SET s = n * 2; END IF;\n"
        "  RETURN s;\n"
        "END;\n"
        "CREATE PROCEDURE sell (IN t INTEGER, IN n INTEGER, OUT total INTEGER)\n"
        "BEGIN\n"
        "  DECLARE part INTEGER;\n"
        "  SET part = share(n);\n"
        "  UPDATE trip SET sold = sold + n WHERE id = t;\n"
        "  SELECT SUM(sold) INTO total FROM trip WHERE sold >= t;\n"
        "  CALL note('sold ' || CAST(n AS VARCHAR(5)));\n"
        "END;\n"
        "CREATE TRIGGER logs AFTER UPDATE ON trip REFERENCING NEW AS now FOR EACH ROW\n"
        "  INSERT INTO log (trip) VALUES (now.id);\n"
        "CREATE PROCEDURE drift (IN rounds INTEGER, OUT level INTEGER)\n"
        "BEGIN\n"
        "  DECLARE i INTEGER DEFAULT 0;\n"
        "  SET level = 0;\n"
        "  WHILE i < rounds DO\n"
        "    SET i = i + 1;\n"
        "    SET level = level + CASE WHEN i = 77777 THEN NULL ELSE 1 END;\n"
        "  END WHILE;\n"
        "END;\n"
    ),
    "cases/sales.sql": "--# case an empty day\nSELECT SUM(sold) FROM trip;\n--> value 4\n",
}


@pytest.fixture
def ferry(tmp_path: Path) -> Path:
    """The project, in a folder of its own."""
    for name, text in FERRY.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    return tmp_path


def glimb(*arguments: str) -> str:
    done = subprocess.run([sys.executable, "-m", "glimb", *arguments], capture_output=True, text=True, timeout=60)
    return done.stdout


def test_climbing(open_terminal: Opener, ferry: Path) -> None:
    """Source, values, variables by block; into a function, over it, up again; a trigger; take a query out, run it."""
    terminal = open_terminal(ferry / "cases" / "sales.sql")
    terminal.until("1 met")
    terminal.keys("o")
    terminal.type("CALL sell(1, 3, :total);")
    terminal.until("total = 7", "+1 log")
    terminal.keys("Escape", "Enter")
    terminal.until("Climb   rung 2 › sell", "▶   7 CREATE PROCEDURE sell", "step 1 of 13", "parameters")
    terminal.keys("Right", "Right", "Down")
    terminal.until("rung 2 › sell › share", "▶   1 CREATE FUNCTION share", "called by sell, line 10")
    terminal.keys("Right", "Right")
    terminal.until("block of line 2", "ELSE")
    terminal.keys("Up")
    terminal.until("▶  10   SET part = share(n);")
    terminal.keys("Space")
    terminal.until("▶  11   UPDATE trip", "~1 trip, +1 log", "ROW_COUNT 1", "~ trip (1)")
    terminal.keys("Down")
    terminal.until("› logs", "now.id")
    terminal.keys("BSpace", "Space")
    terminal.until("▶  12   SELECT SUM(sold)", "total = 7")
    terminal.keys("v", "v", "v")
    terminal.until("▸ total")
    terminal.keys("j")
    terminal.until("step 1 of 13", "▸  total")
    terminal.keys("Home", "/")
    terminal.until("Search the steps")
    terminal.type("s = 6")
    terminal.until("› share", "▶   4")
    terminal.keys("End", "b")
    terminal.until("this step is in no loop")
    terminal.keys("/")
    terminal.until("Search the steps")
    terminal.keys("C-u")
    terminal.type("SUM(sold)")
    terminal.until("is not found there")
    terminal.keys(",")
    terminal.until("▶  12   SELECT SUM(sold)")
    terminal.keys("o")
    terminal.until("Ladder", "--# let t = 1", "SELECT SUM(sold) FROM trip WHERE sold >= :t;")
    terminal.keys("Enter")
    terminal.until("3   SELECT SUM(sold) FROM trip WHERE sold >= :t", "= 7")


def test_the_round_in_which_it_became_null(open_terminal: Opener, ferry: Path) -> None:
    terminal = open_terminal(ferry / "cases" / "sales.sql")
    terminal.until("1 met")
    terminal.keys("o")
    terminal.type("CALL drift(100000, :level);")
    terminal.until(":level = NULL")
    terminal.keys("Escape", "Enter")
    terminal.until("› drift", "100,000    22", "some rounds are folded")
    terminal.keys("/")
    terminal.until("Search the steps")
    terminal.type("level = NULL")
    terminal.until("round 77,777 of 100,000", "▶  23     SET level", seconds=60)
    terminal.keys("n")
    terminal.until("round 77,778 of 100,000", "▶  22     SET i", "i = 77778")
    terminal.keys("b", "b")
    terminal.until("round 77,776 of 100,000", "i = 77776")
    terminal.keys("g")
    terminal.until("To which of the 100,000 rounds?")
    terminal.type("50000")
    terminal.until("round 50,000 of 100,000", "i = 50000")
    terminal.keys("Up", "Escape")
    terminal.until("Ladder", ":level = NULL")


def test_a_deadlock_typed_by_hand(open_terminal: Opener, ferry: Path) -> None:
    terminal = open_terminal(ferry)
    terminal.until("Survey", "Ferry", "an empty day")
    terminal.keys("o")
    terminal.until("Ladder", "scratch", "No statement yet")
    terminal.keys("o")
    terminal.type("UPDATE trip SET sold = 1 WHERE id = 1;")
    terminal.until("1   UPDATE trip")
    terminal.keys("Escape", "c")
    terminal.until("The session to type in")
    terminal.keys("Tab")
    terminal.type("pier isolation serializable")
    terminal.until("▸ pier isolation serializable")
    terminal.type("UPDATE trip SET sold = 2 WHERE id = 2;")
    terminal.until("main", "pier", "2", "▸ pier")
    terminal.type("UPDATE trip SET sold = 2 WHERE id = 1;")
    terminal.until("⧗ waits for main on trip (1)")
    terminal.keys("Escape", "c")
    terminal.until("The session to type in")
    terminal.keys("Enter")
    terminal.until("▸ main")
    terminal.type("UPDATE trip SET sold = 3 WHERE id = 2;")
    terminal.until("40001", "deadlock")
    terminal.keys("Escape", "u")
    terminal.until_gone("40001")
    terminal.until("4↺  UPDATE trip SET sold = 3 WHERE id = 2", "⧗ waits for main on trip (1)")
    terminal.keys("U")
    terminal.until("40001")


def watched(screen: str) -> list[str]:
    """The values of the watch beside rungs 2 to 4."""
    rungs = (line for line in screen.splitlines() if re.search(r" [2-4]   (CALL|SELECT)", line))
    return [line.split("▊")[0].split()[-1] for line in rungs]


def test_what_is_seen(open_terminal: Opener, ferry: Path) -> None:
    """Lenses, search, a watch, marks, leaving out, the shelf of tries."""
    terminal = open_terminal(ferry / "cases" / "sales.sql", more="--case empty")
    terminal.until("an empty day", "1 met")
    terminal.keys("w")
    terminal.until("A query whose value stands beside every rung")
    terminal.type("SELECT COUNT(*) FROM log")
    terminal.until("SELECT COUNT…")
    terminal.keys("o")
    terminal.type("CALL sell(1, 3, ?);", "CALL sell(2, 12, ?);", "SELECT id, sold FROM trip ORDER BY id;")
    terminal.until("4   SELECT id, sold", "id  sold", "1   3", "2   16")
    deadline = time.monotonic() + 20
    while watched(terminal.screen()) != ["1", "2", "2"]:
        assert time.monotonic() < deadline, terminal.screen()
        time.sleep(0.05)
    terminal.keys("Escape", "l", "l")
    terminal.until("lens: changes", "~ trip (1)", "sold 0 → 3", "no row changed")
    terminal.keys("l")
    terminal.until("lens: notes", "sold 12   sell line 13")
    terminal.keys("l")
    terminal.until("lens: locks", "X row trip (2)")
    terminal.keys("l")
    terminal.until("lens: time", " ms")
    terminal.keys("l")
    terminal.until_gone("lens:")
    terminal.keys("/")
    terminal.until("Search statements")
    terminal.type("sold 3")
    terminal.until("▊ main · rung 2")
    terminal.keys("m", "-")
    terminal.until_gone("CALL sell(1, 3, ?)")
    terminal.until("2≠  CALL sell(2, 12, ?)", "≠ was  ~1 trip")
    terminal.keys("u", "u", "o")
    terminal.until("2↺  CALL sell(2", "3↺  SELECT id")
    terminal.type("COMMIT;")
    terminal.until("2   COMMIT")
    terminal.keys("Escape", "z")
    terminal.until("Tries: what was taken back", "rungs 2 to 3: CALL sell(2, 12, ?)", "the case as its file has it")
    terminal.keys("Home", "Enter")
    terminal.until("lay its ladder beside")
    terminal.keys("Enter")
    terminal.until("2   CALL sell(2, 12, ?)", "3   SELECT id, sold")
    terminal.keys("z")
    terminal.until("rung 2: COMMIT")
    terminal.keys("Home", "Enter")
    terminal.until("lay its ladder beside")
    terminal.keys("Down", "Enter", "D")
    terminal.until("the try beside it", "2   COMMIT")
    terminal.keys("D", "z", "End", "Enter")
    terminal.until_gone("worked on")
    terminal.until("1 met")


def test_nothing_is_lost(open_terminal: Opener, ferry: Path) -> None:
    """What was typed is there after kill -9; the scratch ladder is kept as a case of a new file."""
    (ferry / "cases" / "sales.sql").unlink()
    terminal = open_terminal(ferry)
    terminal.until("Ladder", "scratch")
    terminal.keys("o")
    terminal.type(
        "UPDATE trip SET sold = 5 WHERE id = 1;", "SELEC 1;", "--# session pier", "SELECT sold FROM trip WHERE id = 1;"
    )
    terminal.until("4", "pier", "= 0", "mean select?")
    pane = terminal.tmux("list-panes", "-F", "#{pane_pid}").strip()
    found = subprocess.run(["pgrep", "-P", pane], capture_output=True, text=True, check=True)
    os.kill(int(found.stdout.split()[0]), signal.SIGKILL)
    terminal.until("ended=137")
    again = open_terminal(ferry)
    again.until("worked on, kept in no file", "SELEC 1", "= 0")
    again.keys("Up", "-")
    again.until_gone("SELEC 1")
    again.keys("k")
    again.until("In which file?", "cases/new.sql")
    again.keys("Enter")
    again.until("Keep this ladder in cases/new.sql")
    again.type("two look")
    again.until("kept in cases/new.sql: two look")
    again.until_gone("worked on")
    again.keys("q")
    again.until("ended=0")
    assert "--# session pier\nSELECT sold" in (ferry / "cases" / "new.sql").read_text()
    assert "two look  (expects nothing)" in glimb("run", str(ferry))


def test_a_kept_ladder_that_cannot_be_read(open_terminal: Opener, ferry: Path) -> None:
    """It is laid aside whole, that is told, and the case is as its file has it."""
    terminal = open_terminal(ferry / "cases" / "sales.sql")
    terminal.until("1 met")
    terminal.keys("o")
    terminal.type("SELECT 'not in a file';")
    terminal.until("= 'not in a file'")
    terminal.keys("Escape", "q")
    terminal.until("ended=0")
    (kept,) = (ferry / ".glimb" / "ladders").glob("*.sql")
    kept.write_text("--# case one\nSELECT 1;\n--# case two\nSELECT 2;\n")
    again = open_terminal(ferry / "cases" / "sales.sql")
    again.until("1 met", "what was typed here last cannot be read")
    again.keys("q")
    again.until("ended=0")
    assert kept.with_suffix(".unread").read_text().endswith("SELECT 2;\n")


def test_the_editor(open_terminal: Opener, ferry: Path) -> None:
    """The user's editor opens at the line, and the ladder comes back with the new text run."""
    editor = ferry / "editor"
    editor.write_text(f'#!/bin/sh\necho "$@" > {ferry}/given\nsed -i \'s/n [*] 2/n * 5/\' "$2"\n')
    editor.chmod(0o755)
    terminal = open_terminal(ferry / "cases" / "sales.sql", around=f"EDITOR={editor} VISUAL=")
    terminal.until("1 met")
    terminal.keys("o")
    terminal.type("SELECT share(4);")
    terminal.until("= 8")
    terminal.keys("Escape", "Enter")
    terminal.until("› share")
    terminal.keys("Right", "Right", "E")
    terminal.until("Ladder", "= 20")
    assert (ferry / "given").read_text() == f"+4 {ferry}/routines/r.sql\n"


def test_completion(open_terminal: Opener, ferry: Path) -> None:
    terminal = open_terminal(ferry)
    terminal.until("an empty day")
    terminal.keys("o")
    terminal.until("No statement yet")
    terminal.keys("o")
    terminal.keys("-l", "CALL se")
    terminal.until("sell(", "(t IN INTEGER, n IN INTEGER, total OUT INTEGER)")
    terminal.keys("Tab")
    terminal.until("CALL sell(")
    terminal.keys("-l", " ")
    terminal.until("t =>", "n =>")
    terminal.keys("C-a", "C-k")
    terminal.keys("-l", "SELECT * FROM log WHERE trip = ")
    terminal.until("1   2", "trip INTEGER → trip")
    terminal.keys("Tab", "Tab")
    terminal.keys("-l", "--", "\\;")
    terminal.keys("Enter")
    terminal.until("1   SELECT * FROM log WHERE trip = 2", "0 rows")


def test_a_fault_ends_nothing(open_terminal: Opener, ferry: Path) -> None:
    """A fault of ours in the drawing is told, with what was typed still there."""
    (ferry / "sitecustomize.py").write_text(
        "import sys, importlib.abc, importlib.util\n"
        "def spoil():\n"
        "    import glimb.tui.facets as facets\n"
        "    real = facets.rung_facets\n"
        "    def broken(rung, *rest):\n"
        "        if 'hullo' in rung.text: raise RuntimeError('planted')\n"
        "        return real(rung, *rest)\n"
        "    facets.rung_facets = broken\n"
        "spoil()\n"
    )
    terminal = open_terminal(ferry / "cases" / "sales.sql", around=f"PYTHONPATH={ferry}")
    terminal.until("1 met")
    terminal.keys("o")
    terminal.type("SELECT 'hullo';")
    terminal.until("A fault of the program", "planted")
    terminal.keys("Escape")
    terminal.until_gone("A fault of the program")
    terminal.type("SELECT 'fine';")
    terminal.until("= 'fine'", "= 'hullo'")
    terminal.keys("Escape", "q")
    terminal.until("ended=0")


def test_random_keys_in_a_terminal(open_terminal: Opener, ferry: Path) -> None:
    chance = random.Random(3)
    opened = partial(open_terminal, ferry, around=f"XDG_STATE_HOME={ferry}/state")
    terminal = opened()
    terminal.until("an empty day")
    some = "Enter Escape o e u d U z p k c w l / . , m a i r x n b f h D E Tab t S L Up Down Left Right Home End Space ? v g j C-p".split()
    for _ in range(40):
        terminal.tmux("send-keys", *chance.choices(some, k=10))
        screen = terminal.screen()
        assert "A fault of the program" not in screen
        if "ended=" in screen:  # the palette has a line that ends the program
            assert "ended=0" in screen
            terminal = opened()
            terminal.until("an empty day")
    for _ in range(6):
        terminal.keys("Escape")
        time.sleep(0.2)
    terminal.keys("C-c")
    terminal.until("ended=0")
    assert not list(ferry.glob("state/glimb/fault*"))  # a fault that was told has left a report


def test_the_setup_and_both_sides(open_terminal: Opener, ferry: Path) -> None:
    """A rung of the setup is changed, pinned and kept with its file; a case that runs twice is worked on at both sides."""
    path = ferry / "cases" / "twice.sql"
    path.write_text(
        "-- of two clerks\n--# setup\n-- one has begun\nUPDATE trip SET sold = 6 WHERE id = 1;\nCOMMIT;\n\n"
        "--# case two clerks\n--# twin model = versions | locking\n--# session desk\nUPDATE trip SET sold = 9 WHERE id = 1;\n"
        "--# session pier\nSELECT sold FROM trip WHERE id = 1;\n--> value 6\n--# session desk\nROLLBACK;\n\n--# case other\nSELECT 1;\n--> value 1\n"
    )
    terminal = open_terminal(path)
    terminal.until("model locking", "D: model versions", "1 slip")
    terminal.keys("D")
    terminal.until("model versions", "D: model locking, 1 slip", "1 met")
    terminal.keys("o")
    terminal.type("CALL sell(2, 1, ?);")
    terminal.until("worked on", "CALL sell(2, 1, ?)", "total = 11")
    terminal.keys("Escape", "Enter")
    terminal.until("Climb   rung 6 › sell")
    terminal.keys("Escape", "Home", "e")
    terminal.until("it belongs to the setup of all cases")
    terminal.keys("End", "C-u")
    terminal.type("UPDATE trip SET sold = 7 WHERE id = 1;")
    terminal.until("4≠", "= 7", "was", "1 slip")
    terminal.keys("Home", "Down", "Down", "Down", "p")
    terminal.until("Expect of rung 4", "under versions: value 7", "under locking: waits for desk")
    terminal.keys("Enter")
    terminal.until("model versions  (D: model locking)", "1 met")
    terminal.keys("D")
    terminal.until("model locking  (D: model versions)", "1 met", "waits for desk")
    terminal.keys("k")
    terminal.until("the setup of all its cases with it")
    terminal.keys("Enter")
    terminal.until("kept in cases/twice.sql")
    terminal.until_gone("worked on")
    text = path.read_text()
    assert text.startswith(
        "-- of two clerks\n--# setup\n-- one has begun\nUPDATE trip SET sold = 7 WHERE id = 1;\nCOMMIT;\n\n"
    )
    assert "--> under versions: value 7\n--> under locking: waits for desk" in text
    assert text.endswith("--# case other\nSELECT 1;\n--> value 1\n")
    assert "2 met" in glimb("run", str(path)), glimb("run", str(path))
