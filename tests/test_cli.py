"""The command line: exit statuses, what is printed, JSON lines and JUnit XML."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest

from glimb.cli import _formatter, main

ROOT = Path(__file__).parent.parent
DEMO = ROOT / "demo"
KEYS = (
    "n line session sql kind ok sqlstate message origin columns rows more row_count out notes changes locks waiting "
    "transaction given waymarks"
).split()


def exec_lines(text: str, *options: str) -> list[dict[str, object]]:
    """Run `glimb exec` in a process of its own; gives its JSON objects."""
    done = subprocess.run(
        [sys.executable, "-m", "glimb", "exec", "-", "--format", "jsonl", *options],
        input=text,
        capture_output=True,
        text=True,
        timeout=60,
    )
    assert done.returncode == 0, done.stderr
    return [json.loads(line) for line in done.stdout.splitlines()]


def test_run_demo_is_met(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["run", str(DEMO)]) == 0
    out = capsys.readouterr().out
    assert "slipped" not in out
    assert out.splitlines()[-1].startswith("30 cases: 30 met")


def test_run_slips(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    report = tmp_path / "verdicts.xml"
    assert main(["run", str(DEMO / "slips"), "--junit", str(report)]) == 1
    out = capsys.readouterr().out
    assert "- | 3  | 'soup'    | [10]" in out
    root = ET.parse(report).getroot()
    assert (root.get("tests"), root.get("failures"), root.get("errors")) == ("2", "1", "0")
    failure = root.find(".//failure")
    assert failure is not None
    assert "expected  10" in (failure.text or "")


def test_run_filter(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["run", str(DEMO), "-k", "last free bunk"]) == 0
    assert "1 case: 1 met" in capsys.readouterr().out
    assert main(["run", str(DEMO), "-k", "no such case"]) == 2


def test_could_not_run(tmp_path: Path) -> None:
    assert main(["run", str(tmp_path / "nowhere")]) == 2
    assert main(["run", str(tmp_path)]) == 2
    bad = tmp_path / "bad.sql"
    bad.write_bytes(b"--# case a\nSELECT '\xff';\n")
    assert main(["run", str(bad)]) == 2
    assert main(["exec", str(tmp_path / "nowhere.sql")]) == 2
    assert main(["exec", str(bad), "--fixture", "x"]) == 2
    assert main(["exec", str(bad), "--project", str(tmp_path)]) == 2


def test_demo_is_written(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    folder = tmp_path / "huts"
    assert main(["demo", str(folder)]) == 0
    assert main(["run", str(folder)]) == 0
    assert main(["demo", str(folder)]) == 2
    assert not list(folder.rglob("*.py"))


def test_jsonl_objects() -> None:
    first, second, third, call = exec_lines(
        "CREATE TABLE t (id INTEGER PRIMARY KEY, d DECIMAL(6,2), day DATE, ok BOOLEAN, x DOUBLE PRECISION, s CHAR(3));\n"
        "INSERT INTO t VALUES (1, 2.5, DATE '2031-01-02', TRUE, 0.5, 'ab'), (2, NULL, NULL, NULL, NULL, NULL);\n"
        "SELECT * FROM t ORDER BY id;\n"
        "BEGIN CALL note('hello'); DELETE FROM t WHERE id = 2; END;\n"
    )
    assert list(first) == KEYS
    assert second["changes"] == {"t": {"inserted": 2, "updated": 0, "deleted": 0}}
    table = {"kind": "table", "table": "t", "key": "", "mode": "X"}
    rows = [{"kind": "row", "table": "t", "key": k, "mode": "X"} for k in ("(1)", "(2)")]
    assert second["locks"] == [table, *rows]
    assert third["columns"] == [
        {"name": n, "type": t}
        for n, t in (
            ("id", "INTEGER"),
            ("d", "DECIMAL(6,2)"),
            ("day", "DATE"),
            ("ok", "BOOLEAN"),
            ("x", "DOUBLE PRECISION"),
            ("s", "CHAR(3)"),
        )
    ]
    assert third["rows"] == [[1, "2.50", "2031-01-02", True, 0.5, "ab "], [2, None, None, None, None, None]]
    assert (call["notes"], call["kind"], call["line"]) == (["hello"], "block", 4)


def test_jsonl_waits_and_failures() -> None:
    lines = exec_lines(
        "CREATE TABLE t (id INTEGER PRIMARY KEY);\nINSERT INTO t VALUES (1);\nCOMMIT;\n"
        "CREATE PROCEDURE p(OUT n INTEGER) BEGIN\n  SET n = 1;\n  SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'no';\nEND;\n"
        "COMMIT;\n--# session a\nDELETE FROM t;\n--# session b\nDELETE FROM t;\n--# session a\nROLLBACK;\nCALL p(?);\nSELEC 1;\n"
    )
    waiting = next(x for x in lines if x["waiting"])
    assert waiting["waiting"] == {"for": "a", "kind": "row", "table": "t", "key": "(1)"}
    assert waiting["ok"] is False
    done = next(x for x in lines if x["n"] == waiting["n"] and x is not waiting)
    assert (done["row_count"], done["session"], done["waiting"]) == (1, "b", None)
    failed = next(x for x in lines if x["kind"] == "call")
    assert (failed["sqlstate"], failed["message"]) == ("45001", "no")
    assert failed["origin"] == {"routine": "p", "line": 6}
    assert lines[-1]["sqlstate"] == "42601"


def test_exec_in_the_demo() -> None:
    (line,) = exec_lines(
        "SELECT night_rate('VARN', DATE '2031-07-14', 104);", "--project", str(DEMO), "--fixture", "valley"
    )
    assert line["rows"] == [["31.50"]]


def test_show_code(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    path = tmp_path / "code.sql"
    path.write_text(
        "CREATE FUNCTION twice(n INTEGER) RETURNS INTEGER RETURN n * 2;\nSELECT twice(4) || 'x';\nSELECT 'secret' || 'text';\n"
    )
    assert main(["exec", str(path), "--show-code"]) == 0
    out = capsys.readouterr().out
    assert "def routine_1(s, d, v1_n):" in out
    assert out.count("# RETURN n * 2  (line 1)") == 1
    code = "\n".join(line for line in out.splitlines() if line.startswith("   | "))
    assert "secret" not in code


def test_version_and_help(capsys: pytest.CaptureFixture[str]) -> None:
    for arguments in (["--version"], ["--help"], ["run", "--help"]):
        with pytest.raises(SystemExit) as ended:
            main(arguments)
        assert ended.value.code == 0
    assert "example" in capsys.readouterr().out


def test_start_needs_no_screen() -> None:
    """Commands that draw nothing import nothing that draws."""
    code = "import sys; from glimb.cli import main; main(['run', sys.argv[1]]); print('textual' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code, str(DEMO)], capture_output=True, text=True, timeout=60)
    assert done.stdout.splitlines()[-1] == "False"


def test_the_demo_warns_of_nothing(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["run", str(DEMO)]) == 0
    assert "warning" not in capsys.readouterr().out


STOPPING = """CREATE TABLE t (a INTEGER PRIMARY KEY, b VARCHAR(200));
INSERT INTO t VALUES (1, RPAD('x', 90, 'y'));
--> change t +2
SELECT b FROM t;
CALL note('said');
SELECT 1 / 0;
SELECT :n + 1;
"""


@pytest.mark.parametrize(
    ("options", "status", "there", "not_there"),
    [
        ((), 0, ["1 row, t +1", "division by zero", "42703", "note: said"], ["yyy'", "expected"]),
        (("--strict",), 1, ["42703"], []),
        (("--stop", "--strict"), 1, ["division by zero"], ["42703"]),
        (("--full",), 0, ["yyy'"], []),
        (("--notes",), 0, ["said"], ["note", "row", ">"]),
        (("--lines", "2-4", "--strict"), 1, ["2 main> SELECT b"], ["note", "division"]),
        (("--lines", "5", "--strict"), 0, ["1 main> CALL note"], ["division"]),
        (("--let", "n=41", "--lines", "6-7"), 0, ["42"], ["has no value"]),
        (("--check-expectations",), 1, ["expected  t +2", "seen      t +1", "0 of 3 expectations met"], []),
        (("--let", "m=41"), 2, [], [">"]),
        (("--lines", "7-2"), 2, [], [">"]),
    ],
)
def test_exec_options(
    options: tuple[str, ...],
    status: int,
    there: list[str],
    not_there: list[str],
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
) -> None:
    path = tmp_path / "stopping.sql"
    path.write_text(STOPPING)
    try:
        seen = main(["exec", str(path), *options])
    except SystemExit as end:
        seen = int(str(end.code))
    out = capsys.readouterr().out
    assert seen == status
    assert [text for text in there if text not in out] == []
    assert [text for text in not_there if text in out] == []


def test_exec_takes_the_project_of_its_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for name, text in {
        "glimb.toml": "fixture = 'one'\n",
        "schema/t.sql": "CREATE TABLE t (a INTEGER);",
        "fixtures/one/t.csv": "a\n7\n",
        "fixtures/two/t.csv": "a\n8\n",
        "tries/try.sql": "SELECT a FROM t;\n",
    }.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    path = str(tmp_path / "tries" / "try.sql")
    assert main(["exec", path]) == 0
    assert "\n   7\n" in capsys.readouterr().out
    assert main(["exec", path, "--fixture", "two"]) == 0
    assert "\n   8\n" in capsys.readouterr().out
    assert main(["exec", path, "--no-project"]) == 0
    assert "there is no table t" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("value", "verdict"),
    [("n=2", "met"), ("n='2'", "met"), ("n=3", "slipped"), ("d=2031-07-14", "met"), ("d=never", "broken")],
)
def test_values_from_outside(value: str, verdict: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """They stand in the place of what the script sets, as values of its types."""
    path = tmp_path / "let.sql"
    path.write_text(
        "--# let n = 1 + 0\n--# let d = DATE '2031-07-13'\n"
        "SELECT :n * 2 - :n, :d + INTERVAL '1' DAY > DATE '2031-07-13';\n--> rows\n-->   :n | TRUE\n--> holds :n < 3\n"
    )
    main(["run", str(path), "--let", value])
    assert capsys.readouterr().out.startswith(verdict)
    assert main(["run", str(path), "--let", "nn=1"]) == 2
    assert main(["run", str(path), "--let", "1"]) == 2
    assert "did you mean n?" in capsys.readouterr().err


def test_a_case_that_expects_nothing_is_counted_apart(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "nothing.sql"
    path.write_text("--# case one\nSELECT 1;\n--# case two\nSELECT 1;\n--> value 1\n")
    assert main(["run", str(path)]) == 0
    out = capsys.readouterr().out
    assert "one  (expects nothing)" in out
    assert "2 cases: 1 met, 1 expects nothing" in out


@pytest.mark.parametrize(("columns", "width"), [(0, 38), (20, 38), (70, 68), (99, 97), (300, 98), (None, 98)])
def test_help_is_as_wide_as_the_terminal(columns: int | None, width: int, monkeypatch: pytest.MonkeyPatch) -> None:
    def size() -> os.terminal_size:
        if columns is None:
            raise OSError
        return os.terminal_size((columns, 30))

    monkeypatch.setattr(os, "get_terminal_size", size)
    assert _formatter("glimb")._width == width


@pytest.mark.parametrize(
    ("line", "status"), [("value 1", 0), ("value 2", 1), ("valu 1", 2), ("rows", 2), ("value 2\n--> valu 1", 2)]
)
def test_exec_says_whether_all_is_as_expected(line: str, status: int, tmp_path: Path) -> None:
    (tmp_path / "a.sql").write_text(f"SELECT 1;\n--> {line}\nSELECT 2;\n--> value 2\n")
    assert main(["exec", "--check-expectations", str(tmp_path / "a.sql")]) == status
    assert main(["exec", str(tmp_path / "a.sql")]) == 0
