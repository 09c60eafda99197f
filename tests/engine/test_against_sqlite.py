"""Random queries over NULL-rich tables, run here and in Python's sqlite3, where both mean the same."""

from __future__ import annotations

import sqlite3
from functools import lru_cache

from hypothesis import Phase, example, given, settings
from hypothesis import strategies as st
from hypothesis.strategies import SearchStrategy
from test_properties import execute

from amounts import amount
from glimb.engine.engine import Engine

PHASES = (Phase.explicit, Phase.reuse, Phase.generate)
"""Without shrinking, which takes minutes here."""
SETUP = """
CREATE TABLE a (id INTEGER PRIMARY KEY, x INTEGER, y INTEGER, s VARCHAR(5));
CREATE TABLE b (id INTEGER PRIMARY KEY, x INTEGER, a INTEGER REFERENCES a, s VARCHAR(5));
CREATE TABLE c (x INTEGER, y INTEGER NOT NULL);
INSERT INTO a VALUES (1, 1, NULL, 'p'), (2, NULL, 2, 'q'), (3, 3, 3, NULL), (4, 1, 5, 'p'), (5, NULL, NULL, 'r'), (6, 3, 0, '');
INSERT INTO b VALUES (1, 1, 1, 'p'), (2, 2, NULL, 'q'), (3, NULL, 3, 'p'), (4, 1, 4, NULL), (5, 0, 1, 'r');
INSERT INTO c VALUES (1, 1), (NULL, 2), (3, 3), (3, 4), (NULL, 1);
"""
COLUMNS = {"a": ("id", "x", "y"), "b": ("id", "x", "a"), "c": ("x", "y")}


def number(aliases: dict[str, str]) -> SearchStrategy[str]:
    """An expression of type INTEGER."""
    leaves = [f"{alias}.{column}" for alias, table in aliases.items() for column in COLUMNS[table]]
    leaf = st.sampled_from([*leaves, "0", "1", "3", "CAST(NULL AS INTEGER)"])
    return st.recursive(
        leaf,
        lambda inner: st.one_of(
            st.builds("({} {} {})".format, inner, st.sampled_from("+-*"), inner),
            st.builds("COALESCE({}, {})".format, inner, inner),
            st.builds("NULLIF({}, {})".format, inner, inner),
            st.builds("CASE WHEN {} > {} THEN {} ELSE {} END".format, inner, inner, inner, inner),
        ),
        max_leaves=3,
    )


def condition(aliases: dict[str, str], depth: int = 1) -> SearchStrategy[str]:
    """A search condition; with subqueries while `depth` lasts."""
    n = number(aliases)
    simple = [
        st.builds("{} {} {}".format, n, st.sampled_from(["=", "<>", "<", "<=", ">", ">="]), n),
        st.builds("{} IS {}NULL".format, n, st.sampled_from(["", "NOT "])),
        st.builds("{} {}BETWEEN {} AND {}".format, n, st.sampled_from(["", "NOT "]), n, n),
        st.builds("{} {}IN ({}, {}, 3)".format, n, st.sampled_from(["", "NOT "]), n, n),
        st.builds("({} = {}) IS {}".format, n, n, st.sampled_from(["TRUE", "NOT TRUE", "FALSE", "NOT FALSE"])),
    ]
    if depth:
        inner = {"q": "b", **aliases}
        simple += [
            st.builds("EXISTS (SELECT 1 FROM b q WHERE {})".format, condition(inner, depth - 1)),
            st.builds("NOT EXISTS (SELECT 1 FROM b q WHERE q.a = {} AND {})".format, n, condition(inner, depth - 1)),
            st.builds(
                "{} {}IN (SELECT {} FROM b q WHERE {})".format,
                n,
                st.sampled_from(["", "NOT "]),
                number({"q": "b"}),
                condition(inner, depth - 1),
            ),
            st.builds(
                "{} = (SELECT MAX({}) FROM b q WHERE {})".format, n, number({"q": "b"}), condition(inner, depth - 1)
            ),
        ]
    return st.recursive(
        st.one_of(simple),
        lambda c: st.one_of(
            st.builds("({} AND {})".format, c, c), st.builds("({} OR {})".format, c, c), st.builds("NOT ({})".format, c)
        ),
        max_leaves=3,
    )


@st.composite
def queries(draw: st.DrawFn) -> str:
    """A query; its rows compare as a bag."""
    tables = draw(st.lists(st.sampled_from("abc"), min_size=1, max_size=3))
    aliases = {f"t{n}": table for n, table in enumerate(tables)}
    source, bound = "", dict[str, str]()
    for alias, table in aliases.items():
        bound[alias] = table
        if not source:
            source = f"{table} {alias}"
            continue
        kind = draw(st.sampled_from(["JOIN", "LEFT JOIN", "RIGHT JOIN", "FULL JOIN", "CROSS JOIN"]))
        on = ""
        if kind != "CROSS JOIN":
            first = draw(st.sampled_from(list(bound)[:-1]))
            equal = f"{first}.{draw(st.sampled_from(COLUMNS[bound[first]]))} = {alias}.{draw(st.sampled_from(COLUMNS[table]))}"
            wide = st.sampled_from([equal, f"{equal} AND {draw(condition(bound, 0))}", draw(condition(bound, 0))])
            # The peer takes a constant condition of an inner join for one of WHERE, also below a RIGHT or FULL JOIN.
            on = f" ON {equal if kind == 'JOIN' else draw(wide)}"
        source += f" {kind} {table} {alias}{on}"
    where = f" WHERE {draw(condition(aliases))}" if draw(st.booleans()) else ""
    values = draw(st.lists(number(aliases), min_size=1, max_size=3))
    shape = draw(st.integers(0, 3))
    if shape == 0:
        return f"SELECT {', '.join(values)} FROM {source}{where}"
    if shape == 1:
        return f"SELECT DISTINCT {', '.join(values)} FROM {source}{where}"
    if shape == 2:
        return f"SELECT COUNT(*), COUNT({values[0]}), SUM({values[0]}), MIN({values[-1]}), COUNT(DISTINCT {values[-1]}) FROM {source}{where}"
    having = (
        f" HAVING COUNT(*) > 1 OR MAX({values[-1]}) {draw(st.sampled_from(['= 1', 'IS NULL', '< 3']))}"
        if draw(st.booleans())
        else ""
    )
    return f"SELECT t0.x, COUNT(*), MAX({values[-1]}) FROM {source}{where} GROUP BY t0.x{having}"


@st.composite
def windows(draw: st.DrawFn) -> str:
    """A window function over one table, with any frame; the order is total, so that the result is certain."""
    partition = draw(st.sampled_from(["", "PARTITION BY t.x ", "PARTITION BY t.s, t.x "]))
    direction = draw(st.sampled_from(["", " DESC"]))
    nulls = draw(st.sampled_from([" NULLS FIRST", " NULLS LAST"]))
    unit = draw(st.sampled_from(["ROWS", "RANGE", "GROUPS"]))
    key = draw(st.sampled_from(["t.id", "t.y", "t.x"]))
    total = "" if unit == "RANGE" else ", t.id"
    starts = ["UNBOUNDED PRECEDING", "2 PRECEDING", "1 PRECEDING", "CURRENT ROW", "1 FOLLOWING"]
    ends = ["1 PRECEDING", "CURRENT ROW", "1 FOLLOWING", "3 FOLLOWING", "UNBOUNDED FOLLOWING"]
    start = draw(st.sampled_from(starts))
    end = draw(st.sampled_from(ends[(0, 0, 0, 1, 2)[starts.index(start)] :]))
    frame = draw(st.sampled_from(["", f" {unit} {'UNBOUNDED PRECEDING'}", f" {unit} BETWEEN {start} AND {end}"]))
    call = draw(
        st.sampled_from(
            [
                *"SUM(t.y) COUNT(t.y) COUNT(*) MIN(t.x) MAX(t.y) FIRST_VALUE(t.id) LAST_VALUE(t.id) NTH_VALUE(t.id,2)".split(),
                "ROW_NUMBER()",
                "RANK()",
                "DENSE_RANK()",
                "NTILE(3)",
                "LAG(t.id)",
                "LEAD(t.y,2,-1)",
                "SUM(t.y) FILTER (WHERE t.x = 1)",
            ]
        )
    )
    if call.startswith(("FIRST", "LAST", "NTH", "ROW", "NTILE", "LAG", "LEAD")):
        total = ", t.id"
    if call.startswith(("ROW", "RANK", "DENSE", "NTILE", "LAG", "LEAD")):
        frame = ""
    if total and " RANGE " in frame and (" 1 " in frame or " 2 " in frame or " 3 " in frame):
        frame = ""
    return f"SELECT t.id, {call} OVER ({partition}ORDER BY {key}{direction}{nulls}{total}{frame}) FROM a t"


@lru_cache(maxsize=1)
def engines() -> tuple[Engine, sqlite3.Connection]:
    engine = Engine()
    assert all(o.ok for o in execute(engine, "main", SETUP))
    peer = sqlite3.connect(":memory:")
    peer.executescript(SETUP)
    return engine, peer


@settings(max_examples=amount(200), deadline=None, phases=PHASES)
@given(windows())
def test_same_windows(text: str) -> None:
    same_rows(text)


@settings(max_examples=amount(300), deadline=None, phases=PHASES)
@given(queries())
@example("SELECT t0.x FROM a t0 WHERE t0.x NOT IN (SELECT q.x FROM b q WHERE q.id > 3)")
def test_same_rows(text: str) -> None:
    same_rows(text)


def same_rows(text: str) -> None:
    engine, peer = engines()
    (outcome,) = execute(engine, "main", text)
    assert outcome.failure is None, (outcome.failure, text)
    theirs = peer.execute(text).fetchall()
    assert outcome.rows is not None
    assert sorted(outcome.rows, key=repr) == sorted(theirs, key=repr), text
