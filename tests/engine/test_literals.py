"""Statements that differ in literals share their code: against an engine in which each is compiled by itself."""

from __future__ import annotations

import random
from typing import Any

import pytest

from amounts import amount
from glimb.engine.compiling import compiler
from glimb.engine.engine import Engine
from glimb.engine.values.library import and3, or3
from glimb.lang.parser import parse
from glimb.lang.source import Source

SCHEMA = """
CREATE TABLE t (i INTEGER PRIMARY KEY, s SMALLINT, d DECIMAL(6,2), c CHAR(5), v VARCHAR(6), dt DATE, f DOUBLE PRECISION,
  UNIQUE (c), UNIQUE (d), CHECK (s <> 13));
INSERT INTO t VALUES (1, 1, 1.5, 'ab', 'ab', DATE '2024-02-29', 1.5), (2, -1, -1.25, 'abc', 'ab ', NULL, 0),
  (3, NULL, 10, 'x', '', DATE '2023-01-01', 1e3), (4, 300, 0.05, NULL, NULL, DATE '1999-12-31', NULL);
CREATE FUNCTION num(x DECIMAL(5,1)) RETURNS DECIMAL(7,2) RETURN x * 1.5;
CREATE FUNCTION txt(x CHAR(4), y VARCHAR(4)) RETURNS VARCHAR(12) RETURN '[' || x || y || ']';
CREATE FUNCTION kind(x INTEGER) RETURNS VARCHAR(9) RETURN 'integer';
CREATE FUNCTION kind(x VARCHAR(9)) RETURNS VARCHAR(9) RETURN 'text';
CREATE FUNCTION kind(x DOUBLE PRECISION) RETURNS VARCHAR(9) RETURN 'double';
CREATE PROCEDURE put(IN k INTEGER, IN x DECIMAL(6,2), INOUT y VARCHAR(5)) UPDATE t SET d = x, v = y WHERE i = k;
CREATE PROCEDURE seek(IN a DATE, OUT n INTEGER) SET n = (SELECT COUNT(*) FROM t WHERE dt >= a);
CREATE VIEW low AS SELECT i, d FROM t WHERE d < 5 WITH CHECK OPTION;
"""
LITERALS = {
    "number": "0 1 -1 2 3 13 300 40000 1.5 1.50 -1.25 10.0 10 0.05 99999.99 2147483648 1e0 1.5e3 -0".split(),
    "text": ["''", "'ab'", "'ab '", "'abc'", "'abcdef'", "'abcdefg'", "'x'", "'2024-02-29'", "' 1'", "'it''s'"],
    "date": ["DATE '2024-02-29'", "DATE '2023-01-01'", "DATE '1999-12-31'", "DATE '2023-02-29'"],
}
COLUMNS = {"i": "number", "s": "number", "d": "number", "f": "number", "c": "text", "v": "text", "dt": "date"}


def literal(random_: random.Random, kind: str) -> str:
    return random_.choice(LITERALS[kind if random_.random() < 0.95 else random_.choice(list(LITERALS))])


def condition(random_: random.Random, depth: int = 0) -> str:
    if depth < 2 and random_.random() < 0.35:
        both = f"({condition(random_, depth + 1)} {random_.choice(('AND', 'OR'))} {condition(random_, depth + 1)})"
        return random_.choice(("", "NOT ")) + both
    column = random_.choice(list(COLUMNS))
    value = literal(random_, COLUMNS[column])
    side = random_.choice((column, column, f"COALESCE({column}, {value})"))
    form = random_.random()
    if form < 0.2:
        return f"{side} {random_.choice(('', 'NOT '))}BETWEEN {value} AND {literal(random_, COLUMNS[column])}"
    sign = random_.choice(("=", "=", "<>", "<", ">="))
    return f"{side} {sign} {value}" if form < 0.8 else f"{value} {sign} {side}"


def statement(random_: random.Random) -> str:
    """A statement of one of a few shapes, so that shapes come again with other literals."""
    number, text = literal(random_, "number"), literal(random_, "text")
    column = random_.choice(list(COLUMNS))
    return random_.choice(
        (
            lambda: f"SELECT i, d FROM t WHERE {condition(random_)} ORDER BY i",
            lambda: f"SELECT COUNT(*), MAX(d) FROM t WHERE {condition(random_)}",
            lambda: f"SELECT s, COUNT(*) FROM t WHERE i > {number} GROUP BY s HAVING COUNT(*) >= 1 ORDER BY 1",
            lambda: f"SELECT x.i FROM t x JOIN t y ON x.i = y.s WHERE y.c = {text}",
            lambda: f"SELECT num({number}), txt({text}, {literal(random_, 'text')}) FROM t WHERE i = {number}",
            lambda: f"VALUES (kind({random_.choice((number, text))}), num({number}))",
            lambda: f"CALL put({number}, {literal(random_, 'number')}, {text})",
            lambda: f"CALL put({number}, {literal(random_, 'number')}, ?)",
            lambda: f"CALL seek({literal(random_, 'date')}, ?)",
            lambda: f"UPDATE t SET {column} = {literal(random_, COLUMNS[column])} WHERE {condition(random_)}",
            lambda: f"DELETE FROM t WHERE i = {number} AND {condition(random_)}",
            lambda: f"INSERT INTO t (i, {column}) VALUES ({number}, {literal(random_, COLUMNS[column])})",
            lambda: f"INSERT INTO low VALUES ({number}, {literal(random_, 'number')}), (9, {number})",
        )
    )()


def outcomes(texts: list[str]) -> list[Any]:
    engine = Engine()
    found = []
    for text in texts:
        source = Source(text)
        for node in parse(source).statements:
            (outcome,) = engine.execute(engine.session("main"), node, source)
            failure = outcome.failure and (outcome.failure.sqlstate, outcome.failure.message)
            told = [(c.table.name, c.before, c.after) for c in outcome.changes]
            shown = outcome.columns, outcome.rows, outcome.row_count, outcome.out, told
            found.append((text, outcome.kind, failure, shown))
    return found


@pytest.mark.parametrize("seed", range(amount(120)))
def test_shared_code_against_own_code(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    random_ = random.Random(seed)
    texts = [SCHEMA, *(statement(random_) for _ in range(60))]
    shared = outcomes(texts)
    monkeypatch.setattr(compiler, "shape_of", lambda *_: None)
    for ours, own in zip(shared, outcomes(texts), strict=True):
        assert ours == own


def test_one_compilation_serves_many() -> None:
    engine = Engine()
    source = Source(SCHEMA + "".join(f"CALL seek(DATE '2024-01-{n:02}', ?);" for n in range(1, 29)))
    for node in parse(source).statements:
        engine.execute(engine.session("main"), node, source)
    calls = [key for key in engine.compiler._shapes[engine.catalog.version] if key[0][0].startswith("CALL seek")]
    assert len(calls) == 1


def test_a_listing_shows_the_statement_itself() -> None:
    """Not the one like it that was compiled first."""
    engine = Engine()
    source = Source(SCHEMA + "SELECT d FROM t WHERE i = 1; SELECT d FROM t WHERE i = 4711;")
    nodes = parse(source).statements
    session = engine.session("main")
    for node in nodes:
        engine.execute(session, node, source)
    code = engine.compiler.code_of(nodes[-1], source, session)
    assert {source[span] for span in code.spans} == {"SELECT d FROM t WHERE i = 4711"}


@pytest.mark.parametrize(
    ("query", "rows"),
    [
        ("SELECT i FROM n WHERE a <> ANY (SELECT a FROM n WHERE i < 3)", []),
        ("SELECT i FROM n WHERE a = ALL (SELECT a FROM n WHERE i = 2)", [(2,)]),
        ("SELECT COUNT(*) FROM n x JOIN n y ON x.i = y.i OR (y.z <> 0 AND x.i = 4 / y.z)", [(3,)]),
        ("SELECT COUNT(*) FROM n x LEFT JOIN n y ON y.z IS NULL AND x.i = y.z OR x.i = y.i + 9", [(3,)]),
        ("SELECT i, m FROM n, LATERAL (SELECT MAX(o.z) AS m FROM n o WHERE o.i = n.i) d ORDER BY i", [(1, 0), (2, 2), (3, None)]),
        ("SELECT COUNT(*) FROM n WHERE z > ALL (SELECT z FROM n WHERE i > 9)", [(3,)]),
        ("SELECT COUNT(*) FROM n WHERE z > ALL (SELECT z FROM n)", [(0,)]),
        ("SELECT i FROM n WHERE z >= ALL (SELECT z FROM n WHERE z IS NOT NULL)", [(2,)]),
    ],
)  # fmt: skip
def test_what_is_looked_up_once(query: str, rows: list[Any]) -> None:
    """Arrays with NULLs, what one side of an OR keeps from being reckoned, no rows, NULLs."""
    source = Source(
        "CREATE TABLE n (i INTEGER PRIMARY KEY, z INTEGER, a INTEGER ARRAY[2]);"
        f"INSERT INTO n VALUES (1, 0, ARRAY[1, NULL]), (2, 2, ARRAY[1, 2]), (3, NULL, NULL); {query}"
    )
    engine = Engine()
    outcomes = [engine.execute(engine.session("main"), node, source)[0] for node in parse(source).statements]
    assert [outcome.failure for outcome in outcomes] == [None] * 3
    assert outcomes[-1].rows == rows


@pytest.mark.parametrize("left", [True, False, None])
@pytest.mark.parametrize("right", [True, False, None])
def test_truth_of_three_values(left: bool | None, right: bool | None) -> None:
    """As the least and the greatest of false, unknown, true (clause 8.21, table 14)."""
    order = [False, None, True]
    assert and3(left, right) is order[min(order.index(left), order.index(right))]
    assert or3(left, right) is order[max(order.index(left), order.index(right))]
