"""The printer gives back SQL that parses to the same tree: over all the SQL that the project holds."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.lang.parser import parse
from glimb.lang.printer import write
from glimb.lang.source import Source

ROOT = Path(__file__).parent.parent.parent
FOLDERS = ("src/glimb/demo", "tests/engine/golden", "tests/conformance", "tests/suite")
FILES = sorted(p for folder in FOLDERS for p in (ROOT / folder).rglob("*.sql"))


@pytest.mark.parametrize("path", FILES, ids=lambda p: str(p.relative_to(ROOT)))
def test_round_trip(path: Path) -> None:
    for statement in parse(Source(path.read_text())).statements:
        text = write(statement)
        again = parse(Source(text))
        assert not again.problems, (text, again.problems)
        assert len(again.statements) == 1, text
        assert again.statements[0] == statement, text
