"""The printer gives back SQL that parses to the same tree: over all the SQL that the project holds. How it is written is what
it was: `printed.tsv` has a digest for each text."""

from __future__ import annotations

from hashlib import sha256
from pathlib import Path

import pytest
from tools.conformance import features

from glimb.lang.parser import parse
from glimb.lang.printer import write
from glimb.lang.source import Source

ROOT = Path(__file__).parent.parent.parent
FOLDERS = ("src/glimb/demo", "tests/engine/golden", "tests/conformance", "tests/ridge", "tests/suite")
PRINTED = Path(__file__).parent / "printed.tsv"
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


GROUPS = sorted({name if "/" in name else name[:2] for name in TEXTS})
"""Files, and the features whose identifiers begin alike."""


@pytest.fixture(scope="module")
def printed() -> dict[str, str]:
    return dict(line.split("\t") for line in PRINTED.read_text().splitlines())


@pytest.mark.parametrize("group", GROUPS)
def test_printed(group: str, printed: dict[str, str], update: bool) -> None:
    texts = [text for name, text in TEXTS.items() if name == group or ("/" not in name and name.startswith(group))]
    text = "\n".join(write(statement) for one in texts for statement in parse(Source(one)).statements)
    digest = sha256(text.encode()).hexdigest()[:10]
    if update:
        printed[group] = digest
        PRINTED.write_text("".join(f"{one}\t{printed[one]}\n" for one in GROUPS if one in printed))
    assert printed[group] == digest, text
