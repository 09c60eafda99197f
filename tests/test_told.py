"""Everything that the commands tell and write, of the demo, of a project of long names and many rungs (`ridge`), of one with
findings, of all rules, of statements at random, of projects with parts exchanged and of all expectations behind all kinds of
statements: it is what it was.

`told.tsv` has a command in each line (`*` stands for each file), and a digest of what it tells and of the files that it
writes. A change is noticed, looked at (what is told is shown) and taken with `--update`.
"""

from __future__ import annotations

import re
import shlex
import shutil
from hashlib import sha256
from pathlib import Path

import pytest
from tools import conformance

import exchanged
import expected
from against import scripts
from glimb.cli import main

TESTS = Path(__file__).parent
TOLD = TESTS / "told.tsv"
TIMES = re.compile(r"\d+(\.\d+)? *(µs|ms|s)\b|time=\"[\d.]+\"|\"seconds\": ?[\d.e-]+")
LINES = [tuple(line.split("\t")) for line in TOLD.read_text().splitlines()]


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("told")
    conformance.lay_out(folder / "rules")
    shutil.copytree(TESTS / "conformance" / "cases" / "traps", folder / "traps")
    shutil.copytree(TESTS / "suite" / "weave", folder / "weave")
    for name in ("schema", "routines"):
        (folder / "findings" / name).mkdir(parents=True)
        shutil.copy(TESTS / "suite" / "findings" / f"{name}.sql", folder / "findings" / name)
    (folder / "findings" / "glimb.toml").write_text("")
    scripts.write(folder / "random")
    exchanged.write(folder / "exchanged")
    expected.write(folder / "expected")
    return folder


def files() -> dict[str, bytes]:
    """All files here, but for those which no command writes to."""
    found = (
        path
        for top in sorted(Path().iterdir())
        if top.name not in ("rules", "random", "traps", "exchanged", "expected")
        for path in (top, *sorted(top.rglob("*")))
    )
    return {str(path): path.read_bytes() for path in found if path.is_file()}


def told(command: str, capsys: pytest.CaptureFixture[str]) -> str:
    """What a command tells, its status, and what it writes."""
    words, before = shlex.split(command), files()
    many = next((word for word in words if "*" in word and " " not in word), "")
    text = ""
    for path in sorted(Path().glob(many)) if many else [Path()]:
        status: object = None
        try:
            status = main([str(path) if word == many else word for word in words])
        except SystemExit as ended:
            status = ended.code
        out, err = capsys.readouterr()
        text += f"{out}\n{err}\n{status}\n"
        found = files()
        for name, content in found.items():
            if content != before.get(name) and ".glimb" not in name:
                text += f"{name}\n{content.decode()}\n"
        before = found
    return TIMES.sub("", text.replace(str(Path().absolute()), ""))


@pytest.mark.parametrize("number", range(len(LINES)), ids=lambda n: LINES[n][0])
def test_told(
    number: int, world: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], update: bool
) -> None:
    monkeypatch.chdir(world)
    monkeypatch.setenv("COLUMNS", "100")
    for source in (TESTS.parent / "demo", TESTS / "ridge", TESTS / "faulty"):
        shutil.rmtree(source.name, ignore_errors=True)
        shutil.copytree(source, source.name, ignore=shutil.ignore_patterns(".glimb"))
    command, *kept = LINES[number]
    text = told(command, capsys)
    assert text, "no file is meant"
    digest = sha256(text.encode()).hexdigest()[:10]
    if update:
        lines = TOLD.read_text().splitlines()
        lines[number] = f"{command}\t{digest}"
        TOLD.write_text("\n".join(lines) + "\n")
        return
    assert [digest] == kept, text[:20_000]
