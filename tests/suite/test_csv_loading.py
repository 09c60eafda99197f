"""Whole columns of a CSV file against row by row: the same rows, keys and messages, whatever the texts are."""

from __future__ import annotations

import random
from typing import Any

import pytest

from amounts import amount
from glimb.engine.engine import Engine
from glimb.engine.storage.table import Table
from glimb.engine.values import column_texts
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite import csv_loading, csv_reading
from glimb.suite.world import LOADER

SCHEMA = """
CREATE TABLE hut (code CHAR(3) PRIMARY KEY, name VARCHAR(8) NOT NULL, UNIQUE (name));
CREATE TABLE stay (id INTEGER PRIMARY KEY, hut CHAR(3) REFERENCES hut, nights SMALLINT CHECK (nights > 0),
  price DECIMAL(5,2), born DATE, seen TIMESTAMP(0), paid BOOLEAN, big BIGINT, note CLOB, ratio DOUBLE PRECISION,
  pair INTEGER, UNIQUE (nights, pair));
"""
TEXTS: dict[str, list[str]] = {
    "id": ["1", "2", "3", "4", "-5", "007", " 8", "1e1", "2147483648", "x", "", "9.0", "1_0", "٣"],
    "hut": ["ab", "abc", "cd ", "zz", "", "NULL", '"ab"', '""'],
    "nights": ["1", "2", "0", "40000", "", "NULL", "-1"],
    "price": ["1", "1.5", "1.25", "-0.5", "999.99", "1000", "1.234", ".5", "5.", "-", "", "1.230"],
    "born": ["2024-02-29", "2023-02-29", "2024-2-1", "20240229", "", "0000-01-01", "9999-12-31"],
    "seen": ["2024-02-29 10:11:12", "2024-02-29", "2024-02-29 24:00:00", "2024-02-29 10:11:12.5", ""],
    "paid": ["true", "false", "TRUE", "unknown", "", "yes"],
    "big": ["9223372036854775807", "9223372036854775808", "-1", ""],
    "note": ["a", '"a,b"', '"say ""no"""', '"two\nlines"', "", '""', "NULL", '"NULL"', '"x"y', "it's", 'a"b'],
    "ratio": ["1.5", "1e3", "", "nan"],
    "pair": ["1", "2", "", "3"],
}


def world() -> Engine:
    engine = Engine()
    source = Source(SCHEMA)
    for statement in parse(source).statements:
        (outcome,) = engine.execute(engine.session(LOADER), statement, source)
        assert outcome.failure is None, outcome.failure
    return engine


def state(engine: Engine) -> list[Any]:
    tables = [t for t in engine.catalog.relations.values() if isinstance(t, Table)]
    return [
        (t.name, list(t.rows.items()), t.next_id, [(i.name, list(i.map.items())) for i in t.indexes]) for t in tables
    ]


def loaded(files: list[tuple[str, str]]) -> tuple[list[Any], list[str]]:
    """What tables hold after some files, or what was told about them."""
    engine = world()
    for table, text in files:
        engine.catalog.relations[table].compiled.triggers = []  # type: ignore[union-attr]
        try:
            csv_loading.load_csv(engine, Source(text, table), table, LOADER)
        except ProblemError as error:
            return [], [problem.describe() for problem in error.problems]
    return state(engine), []


def made(random_: random.Random, wild: float) -> list[tuple[str, str]]:
    """Files that are mostly right: with a chance of `wild` a field is anything of its column."""
    huts = ["code,name"] + [f"{c},{n}" for c, n in (("ab", "north"), ("abc", "south"), ("cd", '"a b"'))]
    names = random_.sample(list(TEXTS), random_.randint(2, len(TEXTS)))
    names = names if "id" in names else ["id", *names]
    lines = [",".join(n.upper() if random_.random() < 0.1 else n for n in names)]
    for number in range(random_.choice((0, 1, 2, 5, 9))):
        fields = []
        for name in names:
            plain = str(number) if name in ("id", "pair") else TEXTS[name][0]
            fields.append(random_.choice(TEXTS[name]) if random_.random() < wild else plain)
        lines.append(",".join(fields))
        if random_.random() < wild / 20:
            lines.append(random_.choice(("", "NULL", ",", "1,2", '"')))
    return [("hut", "\n".join(huts) + "\n"), ("stay", "\n".join(lines) + random_.choice(("", "\n", "\n\n")))]


@pytest.mark.parametrize("seed", range(amount(1_500)))
def test_columns_against_rows(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    random_ = random.Random(seed)
    files = made(random_, random_.choice((0.0, 0.02, 0.1, 0.5)))
    monkeypatch.setattr(csv_reading, "AT_ONCE", random_.choice((1, 40, csv_reading.AT_ONCE)))
    monkeypatch.setattr(column_texts, "FEW", random_.choice((3, column_texts.FEW)))
    by_column = loaded(files)
    monkeypatch.setattr(csv_loading, "_loaded_whole", lambda *_: False)
    assert by_column == loaded(files), files


def test_that_columns_are_taken() -> None:
    """What is plain takes the quick way, or the comparison above would say nothing."""
    engine = world()
    for table in ("hut", "stay"):
        engine.catalog.relations[table].compiled.triggers = []  # type: ignore[union-attr]
    hut, stay = (engine.catalog.relations[name] for name in ("hut", "stay"))
    assert isinstance(hut, Table)
    assert isinstance(stay, Table)
    assert csv_loading._loaded_whole(engine, Source('code,name\nab,north\ncd,"a, ""b"""\n'), hut, LOADER)
    text = "id,hut,nights,price,born,paid\n1,ab,2,1.5,2024-02-29,true\n2,,NULL,-0.25,,\n"
    assert csv_loading._loaded_whole(engine, Source(text), stay, LOADER)
    assert [row[3] for row in stay.scan()] == [150, -25]


@pytest.mark.parametrize(("match", "rows", "is_right"), [
    ("FULL", "1,1\n,\n", True), ("FULL", "1,\n", False), ("SIMPLE", "1,\n", True), ("SIMPLE", "2,1\n", False),
])  # fmt: skip
def test_what_a_key_of_two_columns_takes(match: str, rows: str, is_right: bool) -> None:
    engine = Engine()
    source = Source(
        "CREATE TABLE duo (a INTEGER, b INTEGER, PRIMARY KEY (a, b)); INSERT INTO duo VALUES (1, 1); COMMIT;"
        f"CREATE TABLE child (x INTEGER, y INTEGER, FOREIGN KEY (x, y) REFERENCES duo MATCH {match});"
    )
    for statement in parse(source).statements:
        engine.execute(engine.session(LOADER), statement, source)
    text = f"x,y\n{rows * 30}"
    if is_right:
        csv_loading.load_csv(engine, Source(text, "child.csv"), "child", LOADER)
    else:
        with pytest.raises(ProblemError):
            csv_loading.load_csv(engine, Source(text, "child.csv"), "child", LOADER)


@pytest.mark.parametrize(
    ("field", "told"),
    [
        ('"ARRAY[1, NULL, 3]",', [(1, None, 3), None]),
        ("ARRAY[],", [(), None]),
        (",", [None, None]),
        (",\"ROW(1, 'ab')\"", [None, (1, "ab")]),
        ('"ARRAY[1, 2, 3, 4]",', "4 elements do not fit"),
        ("\"ARRAY['a']\",", "an array or row of literals can stand there"),
        ("5,", "an array or row of literals can stand there"),
        (",ROW(1)", "an array or row of literals can stand there"),
        ('"ARRAY[1, x]",', "there is no column x"),
        ('"ARRAY[1,",', "found the end"),
    ],
)
def test_arrays_and_rows_are_written_as_in_sql(field: str, told: Any) -> None:
    engine, source = Engine(), Source("CREATE TABLE trip (many INTEGER ARRAY[3], pair ROW(a INTEGER, b VARCHAR(3)))")
    engine.execute(engine.session(LOADER), parse(source).statements[0], source)
    table = engine.catalog.relations["trip"]
    assert isinstance(table, Table)
    source = Source(f"many,pair\n{field}\n", "trip")
    if isinstance(told, str):
        with pytest.raises(ProblemError, match=told):
            csv_loading.load_csv(engine, source, "trip", LOADER)
    else:
        csv_loading.load_csv(engine, source, "trip", LOADER)
        assert [row[:2] for row in table.rows.values() if row] == [tuple(told)]
