"""What the commands write: signs for what steers a terminal, whole files, substitutes, statuses of signals."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
import unicodedata
from contextlib import suppress
from pathlib import Path

import pytest

from glimb.cli import main
from glimb.engine.values.conditions import condition_of
from glimb.engine.values.faults import keep
from glimb.lang.source import Source
from glimb.lang.visible import escaped, visible
from glimb.suite.project import read_text
from glimb.whole import made_whole, write_whole

STEERING = [
    chr(c)
    for c in (*range(10), *range(11, 32), *range(127, 160), 0x2028, 0x2029, 0xD800, 0xFEFF, 0xFFFE, 0xFFFF, 0x200B)
]
BIDI = {"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI"}
STEERING += [chr(c) for c in range(sys.maxunicode + 1) if unicodedata.bidirectional(chr(c)) in BIDI]
SEQUENCES = ["\x1b[2J", "\x1b]52;c;eA==\x07", "\x9b31m", "\x1bP1$r\x1b\\", "\u202etxt.exe", "\x1b]0;title\x1b\\"]


@pytest.mark.parametrize("text", [*STEERING, *SEQUENCES])
def test_signs_for_what_steers(text: str) -> None:
    shown = visible(f"a{text}b")
    assert len(shown) == len(text) + 2
    assert not set(shown) & set(STEERING)
    assert shown not in (f"a{text}b", "ab")
    literal = escaped(f"a{text}'\\b")
    assert literal.startswith("U&'")
    assert literal.isascii()


def test_plain_texts_stay() -> None:
    assert visible("\U00010000") == "\U00010000"
    assert visible("Hütte, größer → 漢字 😀\nline") == "Hütte, größer → 漢字 😀\nline"
    assert escaped("Hütte's\\n") == "'Hütte''s\\n'"


@pytest.mark.parametrize("where", ["title", "value", "name", "note", "message", "file"])
def test_nothing_steers_in_any_place(where: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bad = "".join(SEQUENCES)
    name = f"c{SEQUENCES[0]}.sql" if where == "file" else "c.sql"
    statement = {
        "value": f"SELECT '{bad}';\n--> value 1",
        "name": f'SELECT 1 AS "{bad}", 2 AS b;\n--> value 1',
        "note": f"CALL note('{bad}');\n--> note 'x'",
        "message": f"SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '{bad}';",
    }.get(where, "SELECT 1;\n--> value 2")
    (tmp_path / name).write_text(f"--# case {bad if where == 'title' else 'a'}\n{statement}\n")
    assert main(["run", str(tmp_path / name)]) == 1
    assert main(["exec", str(tmp_path / name)]) == 0
    assert main(["exec", "--format", "jsonl", str(tmp_path / name)]) == 0
    told = capsys.readouterr()
    assert not (set(told.out) | set(told.err)) & set(STEERING)
    assert json.loads(told.out.splitlines()[-1])["n"] == 1


def glimb(*arguments: str, **options: object) -> subprocess.Popen[bytes]:
    streams = {"stdin": subprocess.PIPE, "stdout": subprocess.PIPE, "stderr": subprocess.PIPE, **options}
    return subprocess.Popen([sys.executable, "-m", "glimb", *arguments], **streams)  # type: ignore[call-overload, no-any-return]


def test_an_encoding_without_the_sign() -> None:
    run = glimb("exec", "-", env={**os.environ, "PYTHONIOENCODING": "ascii"})
    out, err = run.communicate("SELECT 'é→';".encode())
    assert (run.returncode, err) == (0, b"")
    assert rb"'\xe9\u2192'" in out


def test_an_output_that_is_full() -> None:
    with open("/dev/full", "wb") as full:
        run = glimb("exec", "-", stdout=full)
        _, err = run.communicate(b"SELECT 1;")
    assert (run.returncode, err) == (2, b"glimb: output: No space left on device\n")


def half_a_folder(folder: Path) -> None:
    with made_whole(folder) as part:
        (part / "x").write_text("")
        raise ValueError("half")


def test_files_are_written_whole(tmp_path: Path) -> None:
    path, link = tmp_path / "a.xml", tmp_path / "link"
    path.write_bytes(b"old")
    path.chmod(0o640)
    link.symlink_to(path)
    write_whole(link, b"new")
    assert (path.read_bytes(), path.stat().st_mode & 0o777, link.is_symlink()) == (b"new", 0o640, True)
    with pytest.raises(OSError, match="nowhere"):
        write_whole(tmp_path / "nowhere" / "x", b"")
    with pytest.raises(ValueError, match="half"):
        half_a_folder(tmp_path / "folder")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a.xml", "link"]


def test_a_report_takes_the_place_of_a_report_only(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    script, other = tmp_path / "a.sql", tmp_path / "notes.xml"
    script.write_text("--# case a\nSELECT 1;\n--> value 1\n")
    other.write_text("<notes/>")
    assert main(["run", str(script), "--junit", str(other)]) == 2
    assert other.read_text() == "<notes/>"
    report = tmp_path / "report.xml"
    assert main(["run", str(script), "--junit", str(report)]) == 0
    assert main(["run", str(script), "--junit", str(report)]) == 0
    assert "no report" in capsys.readouterr().err


def test_an_order_is_kept_over_an_order_only(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    script, kept = tmp_path / "a.sql", tmp_path / "kept.sql"
    script.write_text("--# case a\n--# session x\nSELECT 1;\n--# session y\nSELECT 2;\n")
    asked = ["weave", str(script), "-k", "a", "--keep", "1"]
    assert main([*asked, str(script)]) == 2
    assert script.read_text().startswith("--# case a\n")
    assert "no order kept of this case" in capsys.readouterr().err
    assert main([*asked, str(kept)]) == main([*asked, str(kept)]) == main(["run", str(kept)]) == 0


def test_what_is_no_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    os.mkfifo(tmp_path / "a.sql")
    (tmp_path / "b.sql").symlink_to(tmp_path / "b.sql")
    (tmp_path / "c.sql").mkdir()
    assert main(["run", str(tmp_path)]) == 2
    told = capsys.readouterr().out
    assert all(word in told for word in ("a pipe or device", "levels of symbolic links", "Is a directory"))
    assert main(["run", "x" * 5000]) == 2
    assert "File name too long" in capsys.readouterr().err


def test_faults_are_kept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    path = Path(keep(ValueError("odd"), Source("SELECT 1;", "a.sql")))
    assert path.is_relative_to(tmp_path)
    assert "ValueError: odd" in read_text(path).text
    assert "---- a.sql\nSELECT 1;" in path.read_text()
    told = condition_of(ValueError("odd"))
    assert f"(kept with the script in {tmp_path}" in told.message
    assert condition_of(told).message.count("(kept") == 1


def is_gone(group: int) -> bool:
    """Whether no process of the group is left, after a moment at most."""
    end = time.monotonic() + 5
    while time.monotonic() < end:
        try:
            os.killpg(group, 0)
        except ProcessLookupError:
            return True
        time.sleep(0.05)
    return False


@pytest.mark.parametrize(
    ("jobs", "number", "status"), [("1", signal.SIGINT, 130), ("2", signal.SIGINT, 130), ("2", signal.SIGTERM, 143)]
)
def test_a_weave_ends_with_its_pool(jobs: str, number: signal.Signals, status: int, tmp_path: Path) -> None:
    script = tmp_path / "a.sql"
    sessions = (f"--# session s{n}\n" + f"SELECT {n};\nCOMMIT;\n" * 6 for n in range(6))
    script.write_text("--# case a\nCREATE TABLE t (n INTEGER);\nCOMMIT;\n" + "".join(sessions))
    run = glimb("weave", str(script), "--at-most", "10000000", "-j", jobs, start_new_session=True)
    time.sleep(2.5)
    os.killpg(run.pid, number)
    try:
        _, err = run.communicate(timeout=20)
    finally:
        with suppress(ProcessLookupError):
            os.killpg(run.pid, signal.SIGKILL)
    assert run.returncode == status, err
    assert b"Traceback" not in err
    assert number != signal.SIGINT or b"stopped" in err
    assert is_gone(run.pid)


def test_json_lines_hold_no_character_that_steers(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "steers.sql").write_text(r"VALUES U&'\009B31m\007F\202E', 'Hütte'")
    assert main(["exec", "--format", "jsonl", str(tmp_path / "steers.sql")]) == 0
    told = capsys.readouterr().out
    assert told.replace("\n", "").isprintable()
    assert "\\u009b31m\\u007f\\u202e" in told
