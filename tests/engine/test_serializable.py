"""SERIALIZABLE, under both models: what random transactions of three sessions did equals what they would have done one
after the other, in some order."""

from __future__ import annotations

from itertools import permutations
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from test_properties import execute

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome

SETUP = """
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE u (n INTEGER);
CREATE TABLE w (id INTEGER REFERENCES t, n INTEGER UNIQUE);
INSERT INTO t VALUES (1, 1), (2, 2), (3, 3);
COMMIT;
"""
KEYS = st.integers(1, 4)
STATEMENTS = st.one_of(
    st.builds("SELECT v FROM t WHERE id = {}".format, KEYS),
    st.builds("SELECT COUNT(*), SUM(v) FROM t WHERE v >= {}".format, KEYS),
    st.builds("SELECT COUNT(*) FROM u".format),
    st.builds("UPDATE t SET v = v + {} WHERE id = {}".format, KEYS, KEYS),
    st.builds("UPDATE t SET v = (SELECT MAX(x.v) FROM t x) + 1 WHERE id = {}".format, KEYS),
    st.builds("UPDATE t SET v = 0 WHERE v = {}".format, KEYS),
    st.builds("INSERT INTO u SELECT SUM(v) FROM t".format),
    st.builds("INSERT INTO t VALUES ({}, {})".format, KEYS, KEYS),
    st.builds("DELETE FROM t WHERE id = {}".format, KEYS),
    st.builds("INSERT INTO w VALUES ({}, {})".format, KEYS, KEYS),
    st.builds("UPDATE w SET n = n + 1 WHERE id = {}".format, KEYS),
    st.builds("SELECT n FROM w WHERE n BETWEEN {} AND 3".format, KEYS),
)
TRANSACTIONS = st.tuples(*[st.lists(STATEMENTS, min_size=1, max_size=3)] * 3)
TURNS = st.lists(st.sampled_from("abc"), min_size=3, max_size=14)
MODELS = ["versions", "locking"]


def fresh(model: str) -> Engine:
    engine = Engine()
    assert all(o.ok for o in execute(engine, "setup", SETUP))
    engine.use_model(model)
    return engine


def digest(outcome: Outcome) -> Any:
    rows = None if outcome.rows is None else sorted(tuple(r[: len(outcome.columns)]) for r in outcome.rows)
    return outcome.failure.sqlstate if outcome.failure else "", rows, outcome.row_count


def contents(engine: Engine) -> Any:
    return [sorted(map(repr, (r[:-1] for r in t.scan()))) for t in engine.catalog.tables()]


def interleaved(model: str, transactions: tuple[list[str], ...], turns: list[str]) -> tuple[dict[str, list[Any]], Any]:
    """Run the turns, then everything that is left; gives what the committed transactions saw, and the final tables."""
    engine = fresh(model)
    left = {name: [*texts, "COMMIT"] for name, texts in zip("abc", transactions, strict=True)}
    seen: dict[str, list[Any]] = {name: [] for name in left}
    dead: set[str] = set()
    for name in left:
        engine.session(name).set({"isolation": "serializable"})
    for name in [*turns, *"abc" * 12]:
        if name in dead or not left[name] or engine.session(name).claims.waiting is not None:
            continue
        for outcome in execute(engine, name, left[name].pop(0)):
            if outcome.waiting is None:
                seen[outcome.session].append(digest(outcome))
                if outcome.failure is not None and outcome.failure.sqlstate == "40001":
                    dead.add(outcome.session)
    assert not any(s.claims.waiting for s in engine.sessions.values())
    return {name: found for name, found in seen.items() if name not in dead}, contents(engine)


def one_by_one(order: tuple[str, ...], transactions: tuple[list[str], ...]) -> tuple[dict[str, list[Any]], Any]:
    engine = fresh("versions")
    texts = dict(zip("abc", transactions, strict=True))
    seen = {
        name: [digest(o) for text in [*texts[name], "COMMIT"] for o in execute(engine, name, text)] for name in order
    }
    return seen, contents(engine)


@pytest.mark.parametrize("model", MODELS)
@settings(max_examples=150, deadline=None)
@given(transactions=TRANSACTIONS, turns=TURNS)
def test_equals_some_serial_order(model: str, transactions: tuple[list[str], ...], turns: list[str]) -> None:
    seen, final = interleaved(model, transactions, turns)
    serial = (one_by_one(order, transactions) for order in permutations(seen))
    assert any(found == (seen, final) for found in serial), (seen, final)
