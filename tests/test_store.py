"""What is kept between runs: never another answer than without it, whatever has become of its files."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from functools import partial
from pathlib import Path

import pytest

from glimb import store
from glimb.engine.binding import bind_routine
from glimb.engine.binding.entry import Facts
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine
from glimb.engine.compiling import routines
from glimb.lang.node import walk
from glimb.suite.runner import Runner
from glimb.suite.script import StatementStep, read_script

ROOT = Path(__file__).parent.parent
SCRIPTS = sorted((*(ROOT / "demo").rglob("*.sql"), *(ROOT / "tests").rglob("*.sql")))


def told(folder: Path, kept: Path | None, *arguments: str) -> str:
    """What a command prints, without times."""
    environment = {**os.environ, "GLIMB_CACHE": "off" if kept is None else "on", "XDG_CACHE_HOME": str(kept or "")}
    done = subprocess.run(
        [sys.executable, "-m", "glimb", *arguments], cwd=folder, env=environment, capture_output=True, text=True
    )
    return re.sub(r"\d+(\.\d+)? m?s\b", "", done.stdout + done.stderr)


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    return Path(shutil.copytree(ROOT / "demo", tmp_path / "demo", ignore=shutil.ignore_patterns(".glimb")))


def test_the_same_with_and_without(demo: Path, tmp_path: Path) -> None:
    kept = tmp_path / "kept"
    for arguments in (("run", "slips", "-v"), ("cover", "--jsonl")):
        plain = told(demo, None, *arguments)
        assert plain == told(demo, kept, *arguments) == told(demo, kept, *arguments), arguments
    assert told(demo, kept, "run", "-v", "-j", "2") == told(demo, kept, "run", "-v")
    assert list((kept / "glimb").glob("*.cache"))


def test_what_has_changed_is_read_anew(demo: Path, tmp_path: Path) -> None:
    kept, script = tmp_path / "kept", demo / "cases" / "more.sql"
    script.write_text("--# case one\nVALUES 1;\n--> value 1\n")
    assert "1 met" in told(demo, kept, "run", "cases/more.sql")
    script.write_text("--# case one\nVALUES 1;\n--> value 2\n")
    assert "1 slipped" in told(demo, kept, "run", "cases/more.sql")


WORLD = {
    "schema/stay.sql": "CREATE TABLE stay (id INTEGER PRIMARY KEY, nights INTEGER DEFAULT 1, price DECIMAL(6,2));\n"
    "CREATE SEQUENCE stay_no START WITH 7;\n",
    "fixtures/base/stay.csv": "id,nights,price\n1,2,40.00\n2,,55.50\n",
    "routines/a.sql": "CREATE FUNCTION fee(n INTEGER) RETURNS DECIMAL(6,2) RETURN n * 10;\n"
    "CREATE FUNCTION fee(s VARCHAR(9)) RETURNS VARCHAR(9) RETURN s || '!';\n"
    "CREATE PROCEDURE book(IN n INTEGER, OUT no INTEGER)\nBEGIN\n  SET no = NEXT VALUE FOR stay_no;\n"
    "  INSERT INTO stay (id, price) VALUES (no, fee(n));\n  --@ after the row\n"
    "  IF n > 5 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'too long'; END IF;\nEND;\n",
    "cases/a.sql": """--# case calls
CALL book(2, ?);
--> value no = 7
CALL book(8, ?);
--> fails 45000
SELECT fee(2), fee('x'), SUM(price), COUNT(*) FROM stay;
--> rows
-->   20.00 | 'x!' | 195.50 | 4
--# case the catalog changes
CALL book(2, ?);
ALTER TABLE stay ALTER COLUMN nights SET DEFAULT 4;
CALL book(3, ?);
SELECT nights FROM stay WHERE id > 2 ORDER BY id;
--> rows
-->   1
-->   4
CREATE OR REPLACE FUNCTION fee(n INTEGER) RETURNS DECIMAL(6,2) RETURN n * 100;
CALL book(4, ?);
SELECT MAX(price) FROM stay;
--> value 400.00
--# case under the other model
--# model locking
CALL book(2, ?);
--> value no = 7
SELECT fee(1), fee('y') FROM stay WHERE id = 7;
--> rows
-->   10.00 | 'y!'
--# case and is as it was
SELECT fee(2), nights FROM stay WHERE id = 1;
--> rows
-->   20.00 | 2
CALL book(4, ?);
SELECT price, nights FROM stay WHERE id = 7;
--> rows
-->   40.00 | 1
""",
}


@pytest.fixture
def world(tmp_path: Path) -> Path:
    for name, text in {**WORLD, "glimb.toml": 'fixture = "base"\n'}.items():
        (tmp_path / "world" / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / "world" / name).write_text(text)
    return tmp_path / "world"


def test_code_that_is_kept_ends_with_its_catalog(world: Path, tmp_path: Path) -> None:
    plain = told(world, None, "run", "-v")
    assert "4 met" in plain, plain
    for _ in range(3):
        assert told(world, tmp_path / "kept", "run", "-v") == plain
    routines = world / "routines" / "a.sql"
    routines.write_text("-- one line more\n" + routines.read_text().replace("n * 10", "n * 11"))
    other = told(world, None, "run", "-v")
    assert "3 slipped" in other
    assert told(world, tmp_path / "kept", "run", "-v") == other


def test_nothing_is_written_twice(world: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """An unchanged suite binds no routine, but where a case changes the catalog."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "kept"))
    monkeypatch.delenv(store.OFF, raising=False)
    script = read_script(world / "cases" / "a.sql")
    bound: list[str] = []

    def binding(catalog: Catalog, routine: Routine) -> Facts:
        bound.append(routine.name)
        return bind_routine(catalog, routine)

    monkeypatch.setattr(routines, "bind_routine", binding)
    for expected in (True, False):
        with store.keeping(world):
            bound.clear()
            runner = Runner()
            assert [runner.run_case(script, script.cases[n]).verdict for n in (0, 3)] == ["met", "met"]
            assert bool(bound) is expected, bound


@pytest.mark.parametrize("harm", ["cut", "foreign", "empty", "folder"])
def test_harmed_files(demo: Path, tmp_path: Path, harm: str) -> None:
    kept = tmp_path / "kept"
    plain = told(demo, kept, "run")
    (file,) = (kept / "glimb").iterdir()
    content = file.read_bytes()
    file.unlink()
    if harm == "folder":
        file.mkdir()
    else:
        file.write_bytes({"cut": content[:-9], "foreign": b"x" * 99 + content, "empty": b""}[harm])
    assert told(demo, kept, "run") == plain
    assert list((kept / "glimb").iterdir()) == [file], "nothing half-written is left"


def test_a_store_is_bounded(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store, "MOST", 10_000)
    for number in range(30):
        one = store.Store(tmp_path / "one.cache")
        assert one.parsed("text", f"{number}" * 600, partial(str, f"{number}" * 600)) == f"{number}" * 600
        one.save()
    assert 5_000 < (tmp_path / "one.cache").stat().st_size < 13_000
    last = store.Store(tmp_path / "one.cache")
    assert last.parsed("text", "29" * 600, lambda: "made anew") == "29" * 600
    assert last.parsed("text", "0" * 600, lambda: "made anew") == "made anew"


def test_clearing(demo: Path, tmp_path: Path) -> None:
    kept = tmp_path / "kept"
    told(demo, kept, "run", "-q")
    assert not told(demo, kept, "cache").endswith(" 0 bytes\n")
    told(demo, kept, "cache", "clear")
    assert told(demo, kept, "cache").endswith(" 0 bytes\n")


def test_trees_come_back_as_they_were(tmp_path: Path) -> None:
    """Places, problems and marks too, of everything that the tests and the demo hold."""
    first = store.Store(tmp_path / "trees.cache")
    for path in SCRIPTS:
        first.parsed("script", str(path), partial(read_script, path))
    first.save()
    again = store.Store(tmp_path / "trees.cache")
    for path in SCRIPTS:
        made, kept = read_script(path), again.parsed("script", str(path), lambda: None)
        assert made.source.text == kept.source.text
        assert [c.title for c in made.cases] == [c.title for c in kept.cases]
        assert [p.describe() for p in made.problems] == [p.describe() for p in kept.problems]
        here, there = ([s for c in script.cases for s in (*c.setup, *c.steps)] for script in (made, kept))
        assert [vars(s) if hasattr(s, "__dict__") else repr(s) for s in here] == [
            vars(s) if hasattr(s, "__dict__") else repr(s) for s in there
        ]
        for mine, other in zip(here, there, strict=True):
            if isinstance(mine, StatementStep) and isinstance(other, StatementStep):
                pairs = list(zip(walk(mine.statement), walk(other.statement), strict=True))
                assert [a.span for a, _ in pairs] == [b.span for _, b in pairs]


def test_what_cannot_be_kept(demo: Path, tmp_path: Path) -> None:
    """A tree of too many levels for pickle is read each time, and the others are run as ever."""
    kept, script = tmp_path / "kept", demo / "cases" / "deep.sql"
    script.write_text(f"--# case deep\nVALUES {'+'.join(['1'] * 20_000)};\n--# case flat\nVALUES 2;\n--> value 2\n")
    plain = told(demo, None, "run", "cases/deep.sql")
    assert "1 met" in plain
    assert plain == told(demo, kept, "run", "cases/deep.sql") == told(demo, kept, "run", "cases/deep.sql")
