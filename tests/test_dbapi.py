"""Python's database interface: values both ways, errors by class, transactions, result sets."""

from __future__ import annotations

import datetime
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest

from glimb import dbapi

PROJECT = Path(__file__).parent / "conformance"


@pytest.fixture
def connection() -> dbapi.Connection:
    return dbapi.connect(project=PROJECT, fixture="valley")


VALUES: list[Any] = [
    None,
    True,
    5,
    2**40,
    Decimal(-(10**25)),
    1.5,
    Decimal("12.50"),
    Decimal("-0.001"),
    Decimal("3E+2"),
    "it's",
    "",
    b"\x00\xff",
    datetime.date(2031, 7, 14),
    datetime.time(8, 30, 15, 250000),
    datetime.datetime(2031, 7, 14, 8, 30),
    datetime.timedelta(days=2, seconds=5, microseconds=7),
    [1, None, 3],
    ["a", "b"],
]


@pytest.mark.parametrize("value", VALUES, ids=repr)
def test_values_come_back(connection: dbapi.Connection, value: Any) -> None:
    (seen,) = connection.cursor().execute("SELECT ?", [value]).fetchone() or (object(),)
    assert seen == value
    assert type(seen) is type(value) or isinstance(value, Decimal)


def test_rows_and_description(connection: dbapi.Connection) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT id, price, night FROM stay WHERE hut = ? ORDER BY id", ["VARN"])
    assert cursor.description is not None
    assert [d[0] for d in cursor.description] == ["id", "price", "night"]
    assert cursor.description[0][1] == dbapi.NUMBER
    assert cursor.description[2][1] == dbapi.DATETIME
    assert cursor.fetchone() == (1, Decimal("31.50"), datetime.date(2031, 7, 14))
    assert cursor.fetchmany(5) == [(2, Decimal("42.00"), datetime.date(2031, 7, 14))]
    assert cursor.fetchone() is None
    assert [row[0] for row in cursor.execute("SELECT id FROM guest WHERE id > ?", (102,))] == [103, 104]


ERRORS = [
    ("SELECT 1 / 0", dbapi.DataError, "22012"),
    ("INSERT INTO hut (code) VALUES ('VARN')", dbapi.IntegrityError, "23502"),
    ("SELECT nothing", dbapi.ProgrammingError, "42703"),
    ("SELEC 1", dbapi.ProgrammingError, "42601"),
    ("ROLLBACK TO nowhere", dbapi.InternalError, "3B001"),
    (
        "WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n FROM r) SELECT COUNT(*) FROM r",
        dbapi.OperationalError,
        "5B004",
    ),
]


@pytest.mark.parametrize(("text", "error", "sqlstate"), ERRORS)
def test_errors(connection: dbapi.Connection, text: str, error: type[dbapi.Error], sqlstate: str) -> None:
    with pytest.raises(error) as raised:
        connection.cursor().execute(text)
    assert raised.value.sqlstate == sqlstate


def test_wrong_use(connection: dbapi.Connection) -> None:
    cursor = connection.cursor()
    with pytest.raises(dbapi.ProgrammingError):
        cursor.execute("SELECT ?, ?", [1])
    with pytest.raises(dbapi.ProgrammingError):
        cursor.execute("SELECT ?", [1, 2])
    with pytest.raises(dbapi.InterfaceError):
        cursor.execute("SELECT ?", [object()])
    with pytest.raises(dbapi.ProgrammingError):
        cursor.execute("DELETE FROM pair").fetchone()
    assert cursor.execute("SELECT 1").fetchall() == [(1,)]
    with pytest.raises(dbapi.DataError):
        cursor.execute("SELECT 1 / 0")
    assert (cursor.description, cursor.rowcount) == (None, -1)
    with pytest.raises(dbapi.ProgrammingError):
        cursor.fetchall()
    cursor.close()
    with pytest.raises(dbapi.InterfaceError):
        cursor.execute("SELECT 1")
    with pytest.raises(dbapi.InterfaceError):
        dbapi.connect(project="/")
    connection.close()
    for use in (connection.commit, connection.rollback, connection.cursor):
        with pytest.raises(dbapi.InterfaceError, match="closed"):
            use()


def test_transactions_and_sessions(connection: dbapi.Connection) -> None:
    cursor = connection.cursor().executemany("INSERT INTO pair VALUES (?, ?)", [(50, 1), (51, None)])
    assert cursor.rowcount == 2
    other = connection.connect("other").cursor()
    count = "SELECT COUNT(*) FROM pair"
    assert other.execute(count).fetchone() == (6,)
    connection.commit()
    assert other.execute(count).fetchone() == (8,)
    cursor.execute("UPDATE guest SET name = 'x' WHERE id = 101")
    with pytest.raises(dbapi.OperationalError, match="locked by main"):
        other.execute("UPDATE guest SET name = 'y' WHERE id = 101")
    connection.rollback()
    with connection:
        cursor.execute("UPDATE guest SET name = 'with' WHERE id = 101")
    assert other.execute("SELECT name FROM guest WHERE id = 101").fetchone() == ("with",)

    def fail() -> None:
        with connection:
            cursor.execute("UPDATE guest SET name = 'x' WHERE id = 101")
            raise KeyError

    with pytest.raises(KeyError):
        fail()
    connection.commit()
    assert other.execute("SELECT name FROM guest WHERE id = 101").fetchone() == ("with",)
    assert other.execute("SELECT COUNT(*) FROM guest WHERE name = 'y'").fetchone() == (0,)
    assert other.execute("UPDATE guest SET name = 'y' WHERE id = 101").rowcount == 1


def test_procedures(connection: dbapi.Connection) -> None:
    cursor = connection.cursor()
    cursor.execute("CREATE PROCEDURE p(IN a INTEGER, INOUT b INTEGER, OUT c VARCHAR(9)) SET b = a + b, c = 'done'")
    assert cursor.callproc("p", [1, 2, None]) == [1, 3, "done"]
    cursor.execute(
        "CREATE PROCEDURE sets() BEGIN DECLARE a CURSOR WITH RETURN FOR SELECT 1 AS one; "
        "DECLARE b CURSOR WITH RETURN FOR SELECT 2 AS two; OPEN a; OPEN b; CALL note('said'); END"
    )
    cursor.execute("CALL sets()")
    assert (cursor.fetchall(), cursor.notes) == ([(1,)], ["said"])
    assert cursor.nextset()
    assert cursor.fetchall() == [(2,)]
    assert cursor.nextset() is None


def test_host_variables_and_calls() -> None:
    """Parameters by name are host variables; an error tells the calls that led to it, and what RESIGNAL has changed."""
    connection = dbapi.connect()
    cursor = connection.cursor()
    cursor.execute(
        "CREATE PROCEDURE inner_one (IN n INTEGER, OUT twice INTEGER) BEGIN SET twice = 2 * n / (n - 3); END"
    )
    cursor.execute(
        "CREATE PROCEDURE outer_one (IN n INTEGER)\nBEGIN\n DECLARE r INTEGER;\n"
        " DECLARE EXIT HANDLER FOR SQLSTATE '22012' RESIGNAL SQLSTATE '45001';\n CALL inner_one(n, r);\nEND"
    )
    cursor.execute("CALL inner_one(:n, :back)", {"n": 5, "day": datetime.date(2031, 7, 14)})
    assert connection.hosts == {"n": 5, "day": datetime.date(2031, 7, 14), "back": 5}
    assert cursor.execute("SELECT :back + ?, :day", [1]).fetchall() == [(6, datetime.date(2031, 7, 14))]
    with pytest.raises(dbapi.Error) as raised:
        cursor.execute("BEGIN CALL outer_one(3); END")
    error = raised.value
    assert (error.sqlstate, error.routine, error.line) == ("45001", "outer_one", 4)
    assert error.calls == (("block", 1, "statement"),)
    assert error.first == ("22012", "inner_one", 1, "statement")


@pytest.mark.parametrize(
    ("text", "values"),
    [
        ("SELECT b + {}, CASE WHEN a = {} THEN {} END FROM pair WHERE a = {} AND b < {} ORDER BY 1", (5, 1, 7, 1, 11)),
        ("SELECT a + {}, COUNT(*) FROM pair WHERE b > {} GROUP BY a HAVING COUNT(*) < {} ORDER BY 1", (5, 9, 2)),
        ("WITH x (n) AS (SELECT a + {} FROM pair) SELECT n + {} FROM x WHERE n < {} ORDER BY 1", (1, 2, 4)),
        (
            "SELECT p.a, q.b + {} FROM pair p LEFT JOIN pair q ON q.a = p.a + {} WHERE p.a <= {} ORDER BY 1, 2",
            (5, 1, 2),
        ),
        ("SELECT {} - (SELECT MAX(a) + {} FROM pair WHERE a < {}), {} FROM pair WHERE a = {}", (9, 1, 3, 8, 1)),
        (
            "SELECT a + {} FROM pair WHERE a = {} UNION ALL SELECT a - {} FROM pair WHERE a = {} ORDER BY 1",
            (5, 1, 7, 3),
        ),
        (
            "SELECT SUM(b + {}) OVER (ORDER BY a) FROM pair WHERE a IN ({}, {}) AND b BETWEEN {} AND {}",
            (1, 1, 3, 0, 10),
        ),
        ("SELECT a + {}, d.n FROM pair, LATERAL (SELECT b + {} AS n) d WHERE a = {}", (100, 50, 3)),
    ],
)
def test_parameters_count_as_they_are_read(connection: dbapi.Connection, text: str, values: tuple[int, ...]) -> None:
    """Beside the same text with the values in their places."""
    plain = connection.cursor().execute(text.format(*values)).fetchall()
    assert connection.cursor().execute(text.format(*"?" * len(values)), values).fetchall() == plain != []
