"""Statements that would never end, or take all memory, end with a condition of class 5B; the session goes on."""

from __future__ import annotations

import pytest

from glimb.engine.codegen.builder import loaded
from glimb.engine.engine import Engine, Limits
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conditions import Condition
from glimb.engine.values.origins import GeneratedCode
from glimb.lang.parser import parse
from glimb.lang.source import Source

NUMBERS = "CREATE TABLE n (a INTEGER); INSERT INTO n WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM r WHERE n < 20000) SELECT n FROM r; "
DOUBLED = "".join(
    f"CREATE VIEW v{i} AS SELECT x.a FROM v{i - 1} x JOIN v{i - 1} y ON x.a = y.a; " for i in range(1, 26)
)
GROWING = "BEGIN DECLARE s CLOB DEFAULT 'aaaaaaaaaaaaaaaa'; WHILE TRUE DO SET s = {}; END WHILE; END"
SECONDS, DEPTH, MEMORY = {"5B002"}, {"5B003"}, {"5B005"}


def outcomes(engine: Engine, text: str) -> list[Outcome]:
    source = Source(text)
    return [engine.execute(engine.session("main"), s, source)[0] for s in parse(source).statements]


@pytest.mark.parametrize(
    ("text", "states"),
    [
        (
            "CREATE FUNCTION fib(n INTEGER) RETURNS BIGINT RETURN CASE WHEN n < 2 THEN n ELSE fib(n-1) + fib(n-2) END; "
            "SELECT fib(60)",
            SECONDS,
        ),
        (
            "CREATE TABLE t (a INTEGER); CREATE TRIGGER x AFTER INSERT ON t REFERENCING NEW AS r FOR EACH ROW "
            "INSERT INTO t VALUES (r.a + 1); INSERT INTO t VALUES (1)",
            DEPTH,
        ),
        (f"{NUMBERS} SELECT COUNT(*) FROM n x, n y, n z WHERE x.a + y.a = z.a * 3", SECONDS),
        (f"{NUMBERS} SELECT x.a, y.a FROM n x, n y", SECONDS | MEMORY),
        (
            f"{NUMBERS} SELECT COUNT(*) FROM n x WHERE EXISTS (SELECT 1 FROM n y WHERE y.a > x.a + 100000 OR "
            "EXISTS (SELECT 1 FROM n z WHERE z.a + y.a < x.a - 100000))",
            SECONDS,
        ),
        (f"CREATE VIEW v0 AS SELECT 1 AS a; {DOUBLED} SELECT * FROM v25", SECONDS | {"54001"}),
        ("SELECT " + "+".join(["1"] * 60_000), {"54001"}),
        (GROWING.format("s || s"), MEMORY),
        (GROWING.format("REPLACE(s, 'a', 'aa')"), MEMORY | SECONDS),
    ],
)
def test_budget(text: str, states: set[str]) -> None:
    engine = Engine(Limits(seconds=1.0 if states & SECONDS else 60.0, memory=60_000_000))
    failures = [o.failure for o in outcomes(engine, text) if o.failure is not None]
    assert failures
    assert failures[0].sqlstate in states
    assert outcomes(engine, "SELECT 1")[0].rows == [(1,)]


TABLES = "CREATE TABLE t (n INTEGER, s CHAR(900)); CREATE TABLE u (n INTEGER, s CHAR(900))"
NUMBERED = "INSERT INTO {} WITH RECURSIVE n (a) AS (VALUES 1 UNION ALL SELECT a + 1 FROM n WHERE a < {}) SELECT a, CAST(a AS VARCHAR(9)) FROM n"


def test_tables_together_hold_so_much() -> None:
    """About: rows of all tables count, and what they are of; it is looked at when a transaction has changed many."""
    engine = Engine(Limits(memory=20_000_000))
    assert not [o for o in outcomes(engine, f"{TABLES}; {NUMBERED.format('t', 12_000)}; COMMIT") if o.failure]
    (outcome,) = outcomes(engine, NUMBERED.format("u", 12_000))
    assert outcome.failure is not None
    assert outcome.failure.message == "the tables hold more than 20,000,000 bytes"
    assert outcomes(engine, "SELECT COUNT(*) FROM u")[0].rows == [(0,)]


def test_windows_hold_no_frames() -> None:
    frame = "ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE CURRENT ROW"
    engine = Engine(Limits(seconds=20.0, memory=100_000_000))
    last = outcomes(engine, f"{NUMBERS} SELECT MAX(s) FROM (SELECT SUM(a) OVER (ORDER BY a {frame}) AS s FROM n) AS q")[
        -1
    ]
    assert last.rows == [(20_000 * 20_001 // 2 - 1,)]


def test_a_long_cascade() -> None:
    text = (
        "CREATE TABLE t (a INTEGER PRIMARY KEY, p INTEGER REFERENCES t ON DELETE CASCADE); INSERT INTO t VALUES (0, NULL); "
        f"{NUMBERS} INSERT INTO t SELECT a, a - 1 FROM n; DELETE FROM t WHERE a = 0; SELECT COUNT(*) FROM t"
    )
    assert outcomes(Engine(), text)[-1].rows == [(0,)]


def test_notes_are_bounded() -> None:
    text = "BEGIN DECLARE i INTEGER DEFAULT 0; WHILE i < 20000 DO CALL note('n'); SET i = i + 1; END WHILE; END"
    assert len(outcomes(Engine(), text)[-1].notes) <= 10_001


def lines_of_nested_handlers(depth: int) -> int:
    """Lines of Python for blocks in blocks, each with a handler whose action can raise what those around take."""
    body = "SET x = x + 1; "
    for number in range(depth):
        action = "BEGIN SET x = x + 1; SET x = x * 2; END"
        handler = f"DECLARE CONTINUE HANDLER FOR SQLSTATE '4500{number}' {action}"
        body = f"BEGIN {handler}; {body} {'SET x = x + 1; ' * 4} END; "
    engine = Engine()
    outcomes(engine, f"CREATE PROCEDURE p() BEGIN DECLARE x INTEGER DEFAULT 0; {body} END")
    return engine.compiler.routines.routine_unit(engine.catalog.routines["p"][0], False).text()[0].count("\n")


def test_nested_handlers_are_written_once() -> None:
    few, many = lines_of_nested_handlers(2), lines_of_nested_handlers(8)
    assert many < 8 * few


def test_wrong_text_is_read_in_proportion() -> None:
    assert len(parse(Source("SELEC 1; " * 8_000)).problems) == 8_000
    assert parse(Source("$" * 10_000)).problems


@pytest.mark.parametrize(
    ("text", "fault"),
    [
        ("x = (", SyntaxError),
        ("".join(f"{' ' * n}if 1:\n" for n in range(150)) + f"{' ' * 150}pass", Condition),
        ("x = " + "(" * 300 + ")" * 300, Condition),
    ],
)
def test_only_what_is_too_deep_is_too_complex(text: str, fault: type[Exception]) -> None:
    """A fault of our own in what is written is not told as one of the user's."""
    with pytest.raises(fault):
        loaded(GeneratedCode("made", "", Source(""), text, [], {}), {})


@pytest.mark.parametrize(
    ("opening", "inside", "closing", "deepest"),
    [
        ("(", "1", ")", 57),
        ("CASE WHEN TRUE THEN ", "1", " END", 57),
        ("ABS(", "1", ")", 57),
        ("ARRAY[", "1", "]", 57),
        ("1 IN (", "1", ")", 57),
        ("-(", "1", ")", 28),
        ("NOT (", "TRUE", ")", 28),
        ("(SELECT ", "1", ")", 28),
        ("EXISTS (SELECT 1 WHERE ", "TRUE", ")", 28),
    ],
)
def test_how_deep_expressions_may_be(opening: str, inside: str, closing: str, deepest: int) -> None:
    """One level more is refused at its place, before it could break anything, and what follows is read."""
    for depth in (deepest, deepest + 1, 3_000):
        text = f"SELECT {opening * depth}{inside}{closing * depth}; SELECT 1"
        read = parse(Source(text))
        assert [p.sqlstate for p in read.problems] == ["54001"] * (depth > deepest)
        assert len(read.statements) == 2 - (depth > deepest)
