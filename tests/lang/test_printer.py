"""The printer gives back SQL that parses to the same tree: over all the SQL that the project holds."""

from __future__ import annotations

from pathlib import Path

import pytest
from tools.conformance import features

from glimb.lang.parser import parse
from glimb.lang.printer import write
from glimb.lang.source import Source

ROOT = Path(__file__).parent.parent.parent
FOLDERS = ("src/glimb/demo", "tests/engine/golden", "tests/conformance", "tests/suite")
FILES = sorted(p for folder in FOLDERS for p in (ROOT / folder).rglob("*.sql"))
TEXTS = {str(path.relative_to(ROOT)): path.read_text() for path in FILES}
TEXTS |= {f.identifier: f.script.source.text for f in features() if f.script is not None}


@pytest.mark.parametrize("name", TEXTS)
def test_round_trip(name: str) -> None:
    for statement in parse(Source(TEXTS[name])).statements:
        text = write(statement)
        again = parse(Source(text))
        assert not again.problems, (text, again.problems)
        assert len(again.statements) == 1, text
        assert again.statements[0] == statement, text
