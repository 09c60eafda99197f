"""`glimb run` as a runner: which cases, in how many processes, what is told of them and where."""

from __future__ import annotations

import re
import shutil
import signal
import subprocess
import sys
import time
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest

from glimb.lang.problem import ProblemError
from glimb.suite.choosing import word_test

ROOT = Path(__file__).parent.parent
SOME = """--# case one of two
--# tags slow
SELECT 1;
--> value 1
--# case two of two
SELECT 2;
--> value 3
--# case third
SELEC;
--# case fourth
--# skip later
SELECT 4;
"""


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "cases").mkdir()
    (tmp_path / "glimb.toml").write_text('title = "some"\n')
    (tmp_path / "cases" / "a.sql").write_text(SOME)
    (tmp_path / "cases" / "b.sql").write_text("--# case fifth\nSELECT 5;\n--> value 5\n")
    return tmp_path


def run(folder: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "glimb", "run", *arguments]
    return subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60)


def titles(done: subprocess.CompletedProcess[str]) -> list[str]:
    return re.findall(r"^(?:met|slipped|broken|skipped) +[\w/]+\.sql: ([\w ]+?)(?:  |$)", done.stdout, re.M)


WORDS = [
    ("last bunk", "the last bunk", True),
    ("last bunk", "the last free bunk", False),
    ("last and bunk", "the last free bunk", True),
    ("not last", "the last", False),
    ("not first and (hut or bunk)", "a bunk", True),
    ("first or hut and bunk", "first", True),
    ("(first or hut) and bunk", "first", False),
    ("", "anything", True),
]


@pytest.mark.parametrize(("word", "words", "is_meant"), WORDS)
def test_words(word: str, words: str, is_meant: bool) -> None:
    assert word_test(word)(words) is is_meant


@pytest.mark.parametrize("word", ["and", "a or", "(a", "a)", "not", "a and or b"])
def test_words_that_say_nothing(word: str) -> None:
    with pytest.raises(ProblemError):
        word_test(word)


CHOICES = [
    (("-k", "two and not slow"), ["two of two"]),
    (("cases/a.sql:6",), ["two of two"]),
    (("cases/a.sql:1", "cases/b.sql"), ["one of two", "fifth"]),
    (("-x",), ["one of two", "two of two"]),
    (("-q",), ["two of two", "third"]),
    (("-j", "2"), ["one of two", "two of two", "third", "fourth", "fifth"]),
]


@pytest.mark.parametrize(("options", "expected"), CHOICES)
def test_choices(folder: Path, options: tuple[str, ...], expected: list[str]) -> None:
    assert titles(run(folder, *options))[: len(expected)] == expected


def test_several_processes_tell_the_same(folder: Path) -> None:
    one, several = (run(folder, "-j", jobs) for jobs in ("1", "3"))
    assert (one.returncode, several.returncode) == (2, 2)
    assert re.sub(r"[\d.]+ s", "", one.stdout) == re.sub(r"[\d.]+ s", "", several.stdout)


def test_last_failed(folder: Path) -> None:
    assert "nothing that was not met" in run(folder, "--last-failed").stdout
    run(folder)
    assert titles(run(folder, "--last-failed"))[:2] == ["two of two", "third"]
    path = folder / "cases" / "a.sql"
    path.write_text(path.read_text().replace("value 3", "value 2"))
    assert titles(run(folder, "--last-failed"))[:2] == ["two of two", "third"]
    assert titles(run(folder, "--last-failed"))[:1] == ["third"]


def test_list_and_behind(folder: Path) -> None:
    listed = run(folder, "--list")
    assert (listed.returncode, listed.stdout.splitlines()[0]) == (0, "cases/a.sql:1: one of two  [slow]")
    assert len(listed.stdout.splitlines()) == 5
    told = run(folder, "--slowest", "2", "-v").stdout.splitlines()
    assert "    1 main> SELECT 1  1 met" in told
    assert sum(" ms  cases/" in line for line in told) == 2
    assert told[-4:-2] == ["slipped  cases/a.sql:7: two of two", "broken   cases/a.sql:9: third"]


def test_where_nothing_is_meant(folder: Path) -> None:
    for options, told in (
        (("-k", "sixth"), "no case has `sixth`"),
        (("cases/a.sql:99",), "no case stands at line 99"),
        (("-k", "(one"), "`)` is missing"),
        (("nowhere.sql",), "there is no file or folder"),
    ):
        done = run(folder, *options)
        assert (done.returncode, told in done.stderr) == (2, True), done.stderr


def test_junit_and_annotations(folder: Path) -> None:
    done = run(folder, "--junit", "-", "--github")
    root = ET.fromstring(done.stdout.strip())
    cases = {case.get("name"): case for case in root.iter("testcase")}
    assert len(cases) == 5
    two = cases["two of two"]
    assert (two.get("file"), two.get("line")) == ("cases/a.sql", "5")
    assert [(e.tag, e.get("message")) for e in two] == [("failure", "line 7: expected 3; seen: 2")]
    assert [e.tag for e in cases["fourth"]] == ["skipped"]
    assert "::error file=cases/a.sql,line=7,col=1,title=two of two::expected 3; seen: 2" in done.stderr


@pytest.mark.parametrize("elsewhere", [False, True])
def test_watch(folder: Path, elsewhere: bool) -> None:
    """A file that is written is run again, wherever one is; an interrupt ends it with the last status."""
    command = [sys.executable, "-u", "-m", "glimb", "run", "--watch", *([str(folder)] if elsewhere else [])]
    told, path = folder / "told.txt", folder / "cases" / "b.sql"
    (folder / "cases" / "a.sql").unlink()
    (folder / "away").mkdir()
    with told.open("w") as out:
        process = subprocess.Popen(command, stdout=out, cwd=folder / "away" if elsewhere else folder)
    end = time.monotonic() + 30
    while "1 slipped" not in told.read_text() and time.monotonic() < end:
        time.sleep(0.3)
        if "1 met" in told.read_text():
            path.write_text("--# case fifth\nSELECT 5;\n--> value 6\n")
    process.send_signal(signal.SIGINT)
    assert process.wait(20) == 1
    assert "1 slipped" in told.read_text()


def test_since(folder: Path) -> None:
    """A run that was accepted is compared with: rungs that do something else are told though all expectations hold; the
    same run makes the same bytes."""
    path = folder / "cases" / "b.sql"
    text = (
        "--# case fifth\nCREATE TABLE t (n INTEGER);\nINSERT INTO t VALUES ({});\n--> change t +1\nSELECT n FROM t;\n"
    )
    path.write_text(text.format(1))
    assert "there is nothing to compare with yet" in run(folder, "--since", "cases/b.sql").stdout
    run(folder, "--accept", "cases")
    base = folder / ".glimb" / "base.json.gz"
    kept = base.read_bytes()
    assert "0 rungs do something else" in run(folder, "--since", "-j", "2").stdout
    run(folder, "--accept", "cases")
    assert base.read_bytes() == kept
    assert (folder / ".glimb" / ".gitignore").read_text() == "*\n"
    path.write_text(text.format(2) + "SELECT 9;\n")
    told = run(folder, "--since", "cases/b.sql")
    assert told.returncode == 0
    lines = [line.strip() for line in told.stdout.splitlines()]
    assert "3 main> SELECT n FROM t" in lines
    assert "rows          was  [[1]]" in lines
    assert "is   [[2]]" in lines
    assert "4 main> SELECT 9" in lines
    assert "3 rungs do something else than in the run that was accepted" in lines
    run(folder, "--accept", "cases/b.sql")
    assert "0 rungs do something else" in run(folder, "--since").stdout
    base.write_bytes(b"spoiled")
    assert "nothing to compare with yet" in run(folder, "--since").stdout


COMPLETED = [
    ("glimb ru", "run"),
    ("glimb run --la", "--last-failed"),
    ("glimb check --format sa", "sarif"),
    ("glimb new rou", "routine"),
    ("glimb run gli", "glimb.toml"),
]


@pytest.mark.parametrize(("line", "expected"), COMPLETED)
def test_completion_in_bash(folder: Path, line: str, expected: str) -> None:
    words = line.split()
    script = (
        f'eval "$({sys.executable} -m glimb completion bash)"\n'
        f"COMP_WORDS=({' '.join(words)}); COMP_CWORD={len(words) - 1}; _glimb; echo ${{COMPREPLY[@]}}"
    )
    done = subprocess.run(["bash", "-c", script], capture_output=True, text=True, cwd=folder, timeout=60)
    assert done.stdout.split() == [expected], done.stderr


def test_completion_of_other_shells(folder: Path) -> None:
    """Every command and option is there; where the shell is, it takes the script."""
    for shell in ("zsh", "fish"):
        command = [sys.executable, "-m", "glimb", "completion", shell]
        script = subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60).stdout
        assert {"survey", "last-failed", "sarif", "routine"} <= set(re.findall(r"[\w-]+", script.replace("--", " ")))
        if shutil.which(shell):
            checked = subprocess.run([shell, "-n", "/dev/stdin"], input=script, capture_output=True, text=True)
            assert checked.returncode == 0, checked.stderr
