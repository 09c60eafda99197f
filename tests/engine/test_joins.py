"""Conditions under which rows go together, alone and in pairs, in each kind of join and subquery, over tables with and without
keys, with NULLs, of one row and of none: as planned they give what they give as they stand (nested loops over scans).

Each line of `joins.tsv` has a kind of join and a digest of the codes it comes to: a change of how rows are found is
noticed, looked at, and taken with `--update`.
"""

from __future__ import annotations

from functools import cache
from itertools import combinations
from pathlib import Path

import pytest

from digests import hold
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.source import Source

TOLD = Path(__file__).parent / "joins.tsv"
SETUP = """
CREATE TABLE keyed (i INTEGER PRIMARY KEY, k INTEGER, d DECIMAL(4,1), t CHAR(3), UNIQUE (k, t));
CREATE TABLE loose (i BIGINT, k INTEGER, d DECIMAL(6,2), t VARCHAR(5));
CREATE TABLE single (i INTEGER PRIMARY KEY, k INTEGER UNIQUE, d DECIMAL(4,1), t CHAR(3));
CREATE TABLE bare (i INTEGER PRIMARY KEY, k INTEGER, d DECIMAL(4,1), t CHAR(3));
INSERT INTO keyed VALUES (1, 1, 1.0, 'a'), (2, 1, NULL, 'b'), (3, NULL, 2.5, NULL), (4, 3, 0.0, 'ab'), (7, 7, 7.0, 'a');
INSERT INTO loose VALUES (1, 1, 1.00, 'a'), (1, 2, 2.5, 'a  '), (NULL, 1, NULL, 'b'), (3, NULL, 0, NULL), (9, 3, 7, ''), (4, 4, 1, 'ab');
INSERT INTO single VALUES (3, 1, 2.5, 'a');
CREATE VIEW few AS SELECT i, k, d, t FROM keyed WHERE i < 4;
CREATE VIEW groups_of (i, k, d, t) AS SELECT MIN(i), k, MAX(d), t FROM loose GROUP BY k, t;
"""
PAIRS = [("loose", "keyed"), ("keyed", "loose"), ("keyed", "single"), ("single", "loose"), ("loose", "bare"),
         ("bare", "keyed"), ("loose", "few"), ("few", "groups_of"), ("keyed", "keyed")]  # fmt: skip
SINGLE = ["b.i = a.i", "a.k = b.i", "b.k = a.k", "b.t = a.t", "a.d = b.d", "b.i = 3", "b.k IS NULL", "a.i < b.i",
          "b.i BETWEEN a.k AND a.i", "b.i = a.k + 1", "b.i + 1 = a.i", "a.k = 1", "b.k IS NOT DISTINCT FROM a.k",
          "b.i IN (a.i, a.k)", "(b.k, b.t) = (a.k, a.t)", "NOT b.i = a.i", "b.t LIKE a.t || '%'", "a.i = a.k",
          "b.i >= 2 AND b.i < 5", "10 / b.i > a.i"]  # fmt: skip
CONDITIONS = [
    *SINGLE,
    *(f"{one} AND {other}" for one, other in combinations(SINGLE[:12], 2)),
    *(f"({one} OR {other})" for one, other in combinations(SINGLE[:9], 2)),
    *(f"({one} AND {other} OR b.i = a.k)" for one, other in combinations(SINGLE[2:7], 2)),
]
KINDS = {
    "inner": "SELECT a.i, a.k, b.i, b.t FROM {a} a JOIN {b} b ON {on}",
    "left": "SELECT a.i, a.k, b.i, b.t FROM {a} a LEFT JOIN {b} b ON {on}",
    "right": "SELECT a.i, a.k, b.i, b.t FROM {a} a RIGHT JOIN {b} b ON {on}",
    "full": "SELECT a.i, a.k, b.i, b.t FROM {a} a FULL JOIN {b} b ON {on}",
    "where": "SELECT a.i, a.k, b.i, b.t FROM {a} a, {b} b WHERE {on}",
    "behind": "SELECT a.i, b.i, c.i FROM {a} a LEFT JOIN {b} b ON {on} JOIN keyed c ON c.i = b.k OR c.k = a.i",
    "exists": "SELECT a.i, a.k FROM {a} a WHERE EXISTS (SELECT 1 FROM {b} b WHERE {on})",
    "none": "SELECT a.i, a.k FROM {a} a WHERE NOT EXISTS (SELECT 1 FROM {b} b WHERE {on})",
    "in": "SELECT a.i, a.k FROM {a} a WHERE a.k IN (SELECT b.k FROM {b} b WHERE {on})",
    "not in": "SELECT a.i, a.k FROM {a} a WHERE a.k NOT IN (SELECT b.i FROM {b} b WHERE {on})",
    "count": "SELECT a.i, (SELECT COUNT(b.k) FROM {b} b WHERE {on}) FROM {a} a",
    "lateral": "SELECT a.i, l.i FROM {a} a, LATERAL (SELECT b.i FROM {b} b WHERE {on} ORDER BY b.i FETCH FIRST ROW ONLY) l",
    "grouped": "SELECT a.k, COUNT(*), SUM(b.d) FROM {a} a JOIN {b} b ON {on} GROUP BY a.k",
    "first": "SELECT a.i, b.i FROM {a} a JOIN {b} b ON {on} ORDER BY a.i, b.i, a.k, a.t FETCH FIRST 2 ROWS ONLY",
}


@cache
def engine() -> Engine:
    made, source = Engine(), Source(SETUP)
    for statement in parse(source).statements:
        assert made.execute(made.session("main"), statement, source)[0].failure is None
    return made


def run(text: str, plain: bool) -> tuple[Outcome, str]:
    """What a query gives, and the code it comes to."""
    source, made = Source(text), engine()
    made.shared.plain = plain
    (statement,), session = parse(source).statements, made.session("main")
    (outcome,) = made.execute(session, statement, source)
    return outcome, "" if outcome.failure else made.compiler.code_of(statement, source, session).text


@pytest.mark.parametrize("kind", KINDS)
def test_joins(kind: str, update: bool) -> None:
    codes = []
    for number, on in enumerate(CONDITIONS, list(KINDS).index(kind)):
        a, b = PAIRS[number % len(PAIRS)]
        text = KINDS[kind].format(a=a, b=b, on=on)
        (planned, code), (plain, _) = run(text, False), run(text, True)
        assert (planned.failure and planned.failure.sqlstate) == (plain.failure and plain.failure.sqlstate), text
        assert sorted(map(repr, planned.rows or [])) == sorted(map(repr, plain.rows or [])), text
        codes.append(f"{text}\n{planned.failure and planned.failure.message}\n{code}")
    hold(TOLD, KINDS, kind, "\n".join(codes), update)
