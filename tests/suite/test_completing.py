"""What is offered while one types: all of it, for each of many texts, is what it was.

Each line of `offers.tsv` has a text up to the cursor, and how many offers there are, with a digest of them.
"""

from __future__ import annotations

from hashlib import sha256
from pathlib import Path

import pytest

from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.completing import Words, offers, words_of
from glimb.suite.declared import compared
from glimb.suite.project import open_project
from glimb.suite.replay import replay
from glimb.suite.script import read_script

HERE = Path(__file__).parent
TABLE = HERE / "offers.tsv"
LINES = [tuple(line.split("\t")) for line in TABLE.read_text().splitlines()]
DONE = "SAVEPOINT outward; SAVEPOINT back; PREPARE one FROM 'VALUES 1'; PREPARE two FROM 'VALUES 2';"


@pytest.fixture(scope="module")
def words() -> Words:
    """Names of the project of long names, in the middle of a transaction."""
    root = HERE.parent / "ridge"
    script = read_script(min((root / "cases").glob("*.sql")))
    engine = replay(open_project(root), script, script.cases[0]).engine
    source = Source(DONE)
    for statement in parse(source).statements:
        engine.execute(engine.session("main"), statement, source)
    return words_of(engine, "main")


@pytest.mark.parametrize("number", range(len(LINES)), ids=lambda n: LINES[n][0])
def test_offers(number: int, words: Words, update: bool) -> None:
    text, *expected = LINES[number]
    word, found = offers(text, words)
    told = f"{word}\n" + "\n".join(f"{offer.text}\t{offer.told}" for offer in found)
    digest = f"{len(found)} {sha256(told.encode()).hexdigest()[:10]}"
    if update:
        lines = TABLE.read_text().splitlines()
        lines[number] = f"{text}\t{digest}"
        TABLE.write_text("\n".join(lines) + "\n")
        return
    assert [digest] == expected, told


@pytest.mark.parametrize(
    ("text", "columns"),
    [
        ("SELECT 1 FROM t WHERE n = a", ["a"]),
        ("SELECT 1 FROM t WHERE t.a = n", ["a"]),
        ("SELECT 1 FROM s.t WHERE n = s.t.a AND b = n", ["a", "b"]),
        ('SELECT 1 FROM t WHERE n = t."A b" OR n = 3 OR n = (a)', ["A b"]),
        ("SET n = t.", ["t"]),
        ("SET n =", []),
        ("SET a = b", []),
    ],
)
def test_columns_that_a_parameter_is_compared_with(text: str, columns: list[str]) -> None:
    assert list(compared(text, "n")) == columns
