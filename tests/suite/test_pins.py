"""Pins: a script that has lost its expectations, or has wrong ones, is met again when it has been pinned."""

from __future__ import annotations

import random
import re
import shutil
from collections import Counter
from pathlib import Path

import pytest
from tools.conformance import lay_out

from glimb.cli import main
from glimb.suite.project import script_paths
from glimb.suite.runner import Runner
from glimb.suite.script import read_script

ROOT = Path(__file__).parent.parent.parent
PROJECTS = (ROOT / "demo", ROOT / "tests" / "conformance")
MARK = re.compile(r"(?m)^[ \t]*-->.*\n?")
WRONG = (
    (r"(?m)^--> value ([0-9])", r"--> value 7\1"),
    (r"(?m)^--> count 2", "--> count 5"),
    (r"(?m)^--> fails 2", "--> fails 4"),
    (r"(?m)^-->   ([0-9]+) ", r"-->   9\1 "),
    (r"(?m)^--> change ([a-z]+) \+1", r"--> change \1 +2"),
    (r"(?m)^--> committed", "--> rolled back"),
    (r"(?m)^--> note ", "--> note 'x' || "),
    (r"(?m)^--> open", "--> committed"),
    (r"(?m)^(--> lock row .*) X", r"\1 S"),
    (r"(?m)^(--> change [a-z]+ \([0-9]+\) [a-z]+ .* -> ).*", r"\1NULL"),
)


def some_of(folder: Path, seed: int) -> list[Path]:
    """The demo's scripts, and a choice of the others; in a copy of their project."""
    found = []
    for project in PROJECTS:
        copy = folder / project.name
        if project.name == "demo":
            shutil.copytree(project, copy)
        else:
            lay_out(copy)
        paths = [path for path in script_paths([copy]) if path.suffix == ".sql"]
        found += paths if project.name == "demo" else random.Random(seed).sample(paths, 45)
    return found


def verdicts(paths: list[Path]) -> Counter[str]:
    runner = Runner()
    return Counter(result.verdict for path in paths for result in runner.run_script(read_script(path)))


def test_what_was_taken_away_is_pinned_again(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """As short as a person has written it: no more lines than there were."""
    paths = some_of(tmp_path, 1)
    before = sum(len(MARK.findall(path.read_text())) for path in paths)
    for path in paths:
        path.write_text(MARK.sub("", path.read_text()))
    assert main(["pin", *map(str, paths), "--all"]) == 0
    assert set(verdicts(paths)) == {"met"}
    assert sum(len(MARK.findall(path.read_text())) for path in paths) <= before * 1.05
    capsys.readouterr()
    assert main(["pin", *map(str, paths), "--slips"]) == 0
    assert set(capsys.readouterr().out.splitlines()) == {f"{path}: nothing to pin" for path in paths}


def test_what_was_seen_takes_the_place_of_what_slipped(tmp_path: Path) -> None:
    paths = [p for p in some_of(tmp_path, 2) if "1.25E308" not in p.read_text()]
    for path in paths:
        text = path.read_text()
        for pattern, wrong in WRONG:
            text = re.sub(pattern, wrong, text)
        path.write_text(text)
    assert verdicts(paths)["slipped"] > 20
    main(["pin", *map(str, paths), "--slips"])
    assert set(verdicts(paths)) == {"met"}


SCRIPT = """--# case one
CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO t VALUES (1, 10), (2, 20);
--> holds (SELECT COUNT(*) FROM t) = 3
--> change t +2
UPDATE t SET n = 11 WHERE id = 1; UPDATE t SET n = 12 WHERE id = 1;
--# case two
SELECT 1;
"""
PINNED = """--# case one
CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO t VALUES (1, 10), (2, 20);
--> holds (SELECT COUNT(*) FROM t) = 3
--> change t +2
UPDATE t SET n = 11 WHERE id = 1; UPDATE t SET n = 12 WHERE id = 1;
--> change t (1) n 11 -> 12
--# case two
SELECT 1;
"""


@pytest.mark.parametrize("end", ["\n", "\r\n"])
def test_one_case_and_what_cannot_be_pinned(tmp_path: Path, capsys: pytest.CaptureFixture[str], end: str) -> None:
    path = tmp_path / "t.sql"
    path.write_bytes(SCRIPT.replace("\n", end).encode())
    assert main(["pin", str(path), "-k", "one", "--dry-run"]) == 0
    assert path.read_bytes() == SCRIPT.replace("\n", end).encode()
    assert main(["pin", str(path), "-k", "one", "--all"]) == 0
    assert path.read_bytes() == PINNED.replace("\n", end).encode()
    said = capsys.readouterr()
    assert "+--> change t (1) n 11 -> 12" in said.out
    assert "not pinned: its line goes on" in said.err
    assert "slipped and stays" in said.err
    assert main(["pin", str(path), "-k", "nowhere"]) == 2
