"""Statements and their outcomes: each golden/*.sql is executed and compared with the .out beside it, which has the number
and session of each statement and what it did: in one line where that is short."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.report.text import executed_text
from glimb.suite.execute import Execution
from glimb.suite.script import read_script

FOLDER = Path(__file__).parent / "golden"
SHORT = 110
"""Characters up to which what a statement did stands in its line."""


def shown(who: str, lines: list[str]) -> str:
    """What a statement did; the line below the heads of columns tells nothing."""
    lines = [line.strip() for line in lines if line.strip("-+ ")]
    together = f"{who}: {' / '.join(lines)}"
    return together if len(together) <= SHORT else "\n   ".join([who, *lines])


@pytest.mark.parametrize("path", sorted(FOLDER.glob("*.sql")), ids=lambda p: p.stem)
def test_golden(path: Path, update: bool) -> None:
    script = read_script(Path(path.name), path.read_text())
    told = (executed_text(executed).partition("> ") for executed in Execution(Engine(), script.source).run(script))
    seen = "\n".join(shown(who, rest.split("\n")[1:]) for who, _, rest in told) + "\n"
    expected = path.with_suffix(".out")
    if update:
        expected.write_text(seen)
    assert seen == expected.read_text()
