"""Every operation with every pair of values at the edges of the types: its type and value, or why there is none.

Each line of `operations.tsv` has an operation and a digest of all that comes out. A change is noticed, looked at (all
results are told), and taken with `--update`.
"""

from __future__ import annotations

import random
from itertools import product
from pathlib import Path

import pytest

from digests import hold
from glimb.engine.engine import Engine
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.signatures import AGGREGATES, ORDERED
from glimb.lang.parser import parse
from glimb.lang.source import Source

TOLD = Path(__file__).parent / "operations.tsv"
VALUES = [
    "NULL",
    "CAST(NULL AS INTEGER)",
    "0",
    "-7",
    "32767",
    "9223372036854775807",
    "12.50",
    "-0.05",
    "1.5E0",
    "-2E300",
    "''",
    "'12'",
    "'b_%'",
    "CAST('ab ' AS CHAR(4))",
    "CAST('2031-07-14' AS VARCHAR(20))",
    "X'00FF'",
    "TRUE",
    "CAST(NULL AS BOOLEAN)",
    "DATE '2032-02-29'",
    "DATE '1999-12-31'",
    "TIME '23:59:59.5'",
    "TIME '06:30:10'",
    "TIMESTAMP '2031-12-31 23:00:00'",
    "TIMESTAMP '2031-12-31 23:00:00.123456'",
    "INTERVAL '1-03' YEAR TO MONTH",
    "INTERVAL '-2 03:00:00.5' DAY TO SECOND(1)",
    "INTERVAL '5' DAY",
    "ARRAY[1, NULL, 3]",
    "ROW(1, 'a')",
]
FEW = [v for v in VALUES if v not in ("9223372036854775807", "'12'", "CAST(NULL AS BOOLEAN)", "32767", "-2E300")]
TYPES = (
    "SMALLINT/BIGINT/DECIMAL(4,1)/REAL/DOUBLE PRECISION/CHAR(3)/VARCHAR(2)/VARCHAR(30)/CLOB/VARBINARY(2)/BOOLEAN/DATE/TIME/"
    "TIME(1)/TIMESTAMP/TIMESTAMP(3)/INTERVAL YEAR/INTERVAL MONTH/INTERVAL DAY TO SECOND/INTERVAL HOUR/INTEGER ARRAY"
).split("/")
ONE = [
    *(f"CAST({{0}} AS {type_})" for type_ in TYPES),
    *(f"EXTRACT({f} FROM {{0}})" for f in "YEAR MONTH DAY HOUR MINUTE SECOND".split()),
    *(f"{{0}} IS {word}" for word in ("NULL", "NOT NULL", "TRUE", "NOT FALSE", "UNKNOWN")),
    *(f"TRIM({word} FROM {{0}})" for word in ("LEADING", "TRAILING '0'", "BOTH ''")),
    *("-{0}/+{0}/NOT {0}/{0}[1]/CARDINALITY({0})/ABS({0})/SQRT({0})/LN({0})/EXP({0})/FLOOR({0})/CEILING({0})/SIGN({0})".split("/")),
    *("UPPER({0})/LOWER({0})/CHAR_LENGTH({0})/OCTET_LENGTH({0})/SIN({0})/LOG10({0})/ATAN({0})/RADIANS({0})".split("/")),
    *("(SELECT SUM(x) FROM (VALUES ({0}), ({0})) AS t (x))/(SELECT AVG(x) FROM (VALUES ({0}), ({0})) AS t (x))".split("/")),
    *("(SELECT MAX(x) FROM (VALUES ({0}), ({0})) AS t (x))/(SELECT COUNT(x) FROM (VALUES ({0}), ({0})) AS t (x))".split("/")),
    *("(SELECT STDDEV_POP(x) FROM (VALUES ({0})) AS t (x))/(SELECT EVERY(x) FROM (VALUES ({0})) AS t (x))".split("/")),
]  # fmt: skip
TWO = [
    *(f"{{0}} {sign} {{1}}" for sign in ("+", "-", "*", "/", "||", "=", "<", ">=", "<>", "AND", "OR", "LIKE")),
    *("({0}, {1}) OVERLAPS ({1}, {0})/{0} IS DISTINCT FROM {1}/{0} IN ({1}, NULL)/{0} BETWEEN {1} AND {1}/{0} = ANY (VALUES ({1}), (NULL))".split("/")),
    *("NULLIF({0}, {1})/COALESCE({0}, {1})/GREATEST({0}, {1})/CASE WHEN TRUE THEN {0} ELSE {1} END".split("/")),
    *("MOD({0}, {1})/POWER({0}, {1})/POSITION({0} IN {1})/SUBSTRING({0} FROM {1})/SUBSTRING('abcd' FROM {0} FOR {1})".split("/")),
    *("ROUND({0}, {1})/TRUNCATE({0}, {1})/LEFT({0}, {1})/REPLACE({0}, {1}, 'x')/OVERLAY({0} PLACING 'zz' FROM {1})".split("/")),
    *("SELECT {0} UNION SELECT {1}/SELECT {0} INTERSECT SELECT {1}/({0} - {1}) DAY TO HOUR/LOG({0}, {1})".split("/")),
]  # fmt: skip


def told(engine: Engine, expression: str) -> str:
    """The types and values of an expression, or the condition and its message."""
    source = Source(expression if expression.startswith("SELECT") else f"VALUES ({expression})")
    read = parse(source)
    if read.problems:
        return f"{read.problems[0].sqlstate} {read.problems[0].message}"
    outcome = engine.execute(engine.session("main"), read.statements[0], source)[0]
    if outcome.failure is not None:
        return f"{outcome.failure.sqlstate} {outcome.failure.message}"
    columns, rows = outcome.columns or (), outcome.rows or ()
    cells = (literal_of(value, c.type) for row in sorted(rows, key=repr) for value, c in zip(row, columns, strict=True))
    return f"{', '.join(str(c.type) for c in columns)}: {', '.join(cells)}"


ROWS = """
CREATE TABLE w (p INTEGER, k INTEGER, i INTEGER, d DECIMAL(6,2), f DOUBLE PRECISION, s VARCHAR(3), b BOOLEAN, t DATE, v INTERVAL DAY TO SECOND);
INSERT INTO w VALUES
(1, 1, 5, 1.25, 0.5E0, 'b', TRUE, DATE '2031-07-14', INTERVAL '1 02:00:00' DAY TO SECOND), (1, 2, NULL, NULL, NULL, NULL, NULL, NULL, NULL),
(1, 2, -3, 4.00, 2E0, 'a', FALSE, DATE '2031-07-01', INTERVAL '-0 00:30:00' DAY TO SECOND), (1, 4, 5, 0.01, -1E0, '', TRUE, DATE '2031-07-14', INTERVAL '0' SECOND),
(1, NULL, 0, -2.50, 1E0, 'c', FALSE, DATE '2030-01-31', INTERVAL '3 00:00:00' DAY TO SECOND), (2, 7, 1, 9.99, 4E0, 'z', NULL, DATE '2032-02-29', NULL),
(NULL, 3, 2, 7.00, 8E0, 'y', TRUE, NULL, INTERVAL '9' DAY);
"""  # fmt: skip
COLUMNS = ("i", "d", "f", "s", "b", "t", "v", "NULL", "i + k")
FRAMES = [
    "",
    "ORDER BY k",
    "PARTITION BY p ORDER BY k DESC NULLS LAST",
    "PARTITION BY p ORDER BY k ROWS BETWEEN 1 PRECEDING AND CURRENT ROW",
    "ORDER BY k ROWS BETWEEN CURRENT ROW AND 2 FOLLOWING EXCLUDE CURRENT ROW",
    "ORDER BY k ROWS BETWEEN 2 PRECEDING AND 1 PRECEDING",
    "ORDER BY k ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE TIES",
    "ORDER BY k RANGE BETWEEN 1 PRECEDING AND 1 FOLLOWING EXCLUDE GROUP",
    "PARTITION BY p ORDER BY t RANGE BETWEEN INTERVAL '15' DAY PRECEDING AND CURRENT ROW",
    "ORDER BY k GROUPS BETWEEN 1 PRECEDING AND 1 FOLLOWING",
    "PARTITION BY p ORDER BY k, i ROWS BETWEEN UNBOUNDED PRECEDING AND 1 FOLLOWING",
]
WINDOWS = [
    f"SELECT {function} {{over}}"
    for function in (
        "COUNT(*)/COUNT({0})/COUNT(DISTINCT {0})/SUM({0})/AVG({0})/MIN({0})/MAX({0})/EVERY({0})/ANY({0})/STDDEV_POP({0})/VAR_SAMP({0})/"
        "SUM({0}) FILTER (WHERE b)/FIRST_VALUE({0})/LAST_VALUE({0})/LAST_VALUE({0}) IGNORE NULLS/NTH_VALUE({0}, 2)/"
        "NTH_VALUE({0}, 2) FROM LAST IGNORE NULLS/LAG({0})/LEAD({0}, 2, {0})/LAG({0}, 1) IGNORE NULLS/NTILE(3)/RANK()/DENSE_RANK()/"
        "PERCENT_RANK()/CUME_DIST()/ROW_NUMBER()/ARRAY_AGG({0})/ANY_VALUE({0})"
    ).split("/")
]
OPERATIONS = [*ONE, *TWO, *WINDOWS]


def fill(engine: Engine) -> None:
    """Make the table of the window functions."""
    source = Source(ROWS)
    for statement in parse(source).statements:
        assert engine.execute(engine.session("main"), statement, source)[0].failure is None


KNOWN = {*TYPES, "INTEGER", "DECIMAL(8,6)", "INTERVAL YEAR TO MONTH", "INTEGER ARRAY[3]", "TIME(6)", "TIMESTAMP(6)"}


@pytest.mark.parametrize("operation", OPERATIONS)
def test_operation(operation: str, update: bool) -> None:
    engine = Engine()
    pairs = product(FEW, FEW) if "{1}" in operation else product(VALUES, ("",))
    if operation in WINDOWS:
        fill(engine)
        pairs = product(
            COLUMNS if "{0}" in operation else COLUMNS[:1], (f"OVER ({frame}), k, i FROM w" for frame in FRAMES)
        )
    expressions = [operation.format(one, other, over=other) for one, other in pairs]
    results = {expression: told(engine, expression) for expression in expressions}
    for result in set(results.values()):
        type_, _, literal = result.partition(": ")
        if type_ in KNOWN and literal and not operation.startswith("SELECT"):  # it is read as that value again
            assert told(engine, f"CAST({literal} AS {type_})") == result
    text = "\n".join(f"{expression}   {result}" for expression, result in results.items())
    hold(TOLD, OPERATIONS, operation, text, update)


@pytest.mark.parametrize("name", sorted(AGGREGATES))
def test_a_set_function_over_one_window_of_all_rows(name: str) -> None:
    """It is that of the rows without a window: the same type, the same value, or refused both times."""
    engine = Engine()
    fill(engine)
    for column, where in product((*COLUMNS, "'x'", "i, k"), ("", "FILTER (WHERE b)", "FILTER (WHERE FALSE)")):
        plain = told(engine, f"SELECT {name}({column}) {where} FROM w")
        window = told(engine, f"SELECT DISTINCT {name}({column}) {where} OVER () FROM w")
        assert window == plain or window[:5] == plain[:5] or name in ORDERED - {"array_agg"}, (column, where)


PLACES = {
    "group": "SELECT r FROM (SELECT {ab} AS r FROM {rows}) AS q GROUP BY r",
    "subquery": "SELECT (SELECT {ab}) FROM {rows}",
    "window": "SELECT FIRST_VALUE({ab}) OVER () FROM {rows}",
    "common table": "SELECT r FROM (WITH q (r) AS (SELECT {ab} FROM {rows}) SELECT r FROM q UNION ALL SELECT r FROM q WHERE FALSE) AS z",
    "set function": "SELECT ANY_VALUE({ab}) FROM {rows}",
    "outer join": "SELECT r FROM (VALUES (1)) AS o (o) LEFT JOIN (SELECT {ab} AS r FROM {rows}) AS q ON TRUE",
    "condition": "SELECT {ab} FROM {rows} WHERE EXISTS (SELECT {ab} IS NULL)",
}
ROUTINES = {
    "function": "CREATE FUNCTION f(a {a}, b {b}) RETURNS {r} BEGIN DECLARE z {r}; SET z = {ab}; RETURN z; END",
    "expression": "CREATE FUNCTION f(a {a}, b {b}) RETURNS {r} RETURN {ab}",
    "column": "CREATE TABLE t (a {a}, b {b}, r {r} GENERATED ALWAYS AS ({ab}));"
    "CREATE FUNCTION f(x {a}, y {b}) RETURNS {r} MODIFIES SQL DATA BEGIN INSERT INTO t (a, b) VALUES (x, y); RETURN (SELECT r FROM t); END",
}  # fmt: skip
PLAIN = [one for one in (*ONE, *TWO) if "SELECT" not in one and "VALUES" not in one]


@pytest.mark.parametrize("operation", PLAIN)
def test_an_operation_is_the_same_wherever_it_stands(operation: str) -> None:
    """With columns and variables in the place of literals, in a query, below one, in a routine, behind a column."""
    chance, typed = random.Random(operation), [v for v in FEW if v not in ("NULL", "ROW(1, 'a')")]
    for one, other in chance.sample(list(product(typed, typed)), 12):
        engine, ab = Engine(), operation.format("a", "b")
        rows = f"(VALUES ({one}, {other})) AS t (a, b)"
        plain = told(engine, f"SELECT {ab} FROM {rows}")
        for place, text in PLACES.items():
            found = told(engine, text.format(ab=ab, rows=rows))
            assert found == plain or (found[:5] == plain[:5] and plain[:2].isdigit()), (one, other, place)
        type_ = plain.partition(":")[0]
        if type_ == "NULL" or plain[:2].isdigit():
            continue
        types = {"a": told(engine, one).partition(":")[0], "b": told(engine, other).partition(":")[0], "r": type_}
        for place, text in ROUTINES.items():
            engine, source = Engine(), Source(text.format(ab=ab, **types))
            for statement in parse(source).statements:
                assert engine.execute(engine.session("main"), statement, source)[0].failure is None, source.text
            assert told(engine, f"f({one}, {other})") == plain, (one, other, place)
