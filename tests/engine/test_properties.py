"""Properties of the engine under random statements: undo, reset, locks, and the same record twice."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.transactions.locks import compatible
from glimb.lang.parser import parse
from glimb.lang.source import Source

SETUP = """
CREATE TABLE p (id INTEGER PRIMARY KEY, v INTEGER UNIQUE);
CREATE TABLE c (id INTEGER PRIMARY KEY, p INTEGER REFERENCES p ON DELETE CASCADE);
INSERT INTO p VALUES (1, 10), (2, 20), (3, NULL);
INSERT INTO c VALUES (1, 1), (2, 1), (3, NULL);
CREATE PROCEDURE both(k INTEGER) BEGIN UPDATE p SET v = k WHERE id = k; INSERT INTO c VALUES (k + 5, k); END;
CREATE FUNCTION meddle(k INTEGER) RETURNS INTEGER MODIFIES SQL DATA BEGIN
  UPDATE p SET v = v + 1 WHERE id >= k; DELETE FROM c WHERE id = k; RETURN k; END;
CREATE TRIGGER t BEFORE DELETE ON c REFERENCING OLD AS o FOR EACH ROW WHEN (o.id > 5) UPDATE p SET v = NULL WHERE id < o.id;
CREATE TRIGGER u BEFORE UPDATE OF p ON c REFERENCING NEW AS n FOR EACH ROW WHEN (n.p > 2) DELETE FROM c WHERE id > n.id;
CREATE PROCEDURE tell(k INTEGER) DYNAMIC RESULT SETS 2 BEGIN
  DECLARE a CURSOR WITH RETURN FOR SELECT id, v FROM p WHERE id < k;
  DECLARE b CURSOR WITH RETURN FOR SELECT id FROM c WHERE id < k;
  CALL note('told ' || CAST(k AS VARCHAR(9))); OPEN a; OPEN b; END;
COMMIT;
"""
KEYS = st.integers(1, 4)
STATEMENTS = st.one_of(
    st.builds("INSERT INTO p VALUES ({}, {})".format, KEYS, st.sampled_from(["NULL", "10", "20", "30"])),
    st.builds("INSERT INTO c VALUES ({}, {})".format, KEYS, KEYS),
    st.builds("UPDATE p SET v = {} WHERE id >= {}".format, st.sampled_from(["v + 1", "NULL", "id", "5"]), KEYS),
    st.builds("UPDATE p SET id = id + {}".format, KEYS),
    st.builds("DELETE FROM p WHERE id = {}".format, KEYS),
    st.builds("DELETE FROM c WHERE p = {} OR id = {}".format, KEYS, KEYS),
    st.builds("SELECT COUNT(*), SUM(v) FROM p WHERE id > {}".format, KEYS),
    st.builds("SELECT v FROM p WHERE id = {} FOR UPDATE".format, KEYS),
    st.builds("SELECT v FROM p WHERE id >= {} FOR SHARE SKIP LOCKED".format, KEYS),
    st.builds("SELECT v FROM p WHERE id >= {} FOR UPDATE NOWAIT".format, KEYS),
    st.builds(
        "LOCK TABLE {} IN {} MODE".format,
        st.sampled_from("pc"),
        st.sampled_from(["SHARE", "ROW EXCLUSIVE", "EXCLUSIVE"]),
    ),
    st.builds("CALL both({})".format, KEYS),
    st.builds("CALL tell({})".format, KEYS),
    st.builds(
        "BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL note('taken'); INSERT INTO p VALUES ({0}, 1), ({0}, 2); END".format,
        KEYS,
    ),
    st.sampled_from(
        [
            "UPDATE p SET v = meddle(id)",
            "UPDATE p SET id = id + 9 WHERE meddle(id) > 1",
            "UPDATE c SET p = meddle(p) WHERE id > 1",
            "DELETE FROM p WHERE meddle(id) = 2",
            "DELETE FROM c WHERE meddle(id) > 1",
            "MERGE INTO p USING c ON p.id = c.p WHEN MATCHED AND meddle(c.id) > 1 THEN DELETE WHEN MATCHED THEN UPDATE SET v = meddle(p.id)",
        ]
    ),
    st.builds("INSERT INTO c SELECT meddle(id) + {}, id FROM p".format, KEYS),
    st.builds("SELECT meddle(id) FROM p WHERE id < {} FOR UPDATE".format, KEYS),
    st.sampled_from(["COMMIT", "ROLLBACK", "SAVEPOINT s", "ROLLBACK TO SAVEPOINT s", "COMMIT"]),
)
RUNS = st.lists(st.tuples(st.sampled_from("xyz"), STATEMENTS), max_size=25)


def execute(engine: Engine, session: str, text: str) -> list[Outcome]:
    source = Source(text)
    outcomes = []
    for statement in parse(source).statements:
        outcomes += engine.execute(engine.session(session), statement, source)
    return outcomes


MODELS = st.sampled_from(["versions", "locking"])
LEVELS = st.sampled_from(["read uncommitted", "read committed", "repeatable read", "serializable"])


def fresh(model: str = "versions", level: str = "read committed") -> Engine:
    engine = Engine()
    assert all(o.ok for o in execute(engine, "setup", SETUP))
    engine.set_base()
    engine.use_model(model)
    for name in "xyz":
        engine.session(name).set({"isolation": level})
    return engine


def contents(engine: Engine) -> Any:
    """Rows in their order, and every index."""
    found = []
    for table in engine.catalog.tables():
        indexes = [{k: dict(v) if isinstance(v, dict) else v for k, v in index.map.items()} for index in table.indexes]
        found.append((table.name, list(table.scan()), indexes, table.next_id))
    return found


def record(outcomes: list[Outcome]) -> list[Any]:
    return [
        (
            *(o.session, o.kind, o.failure, o.rows, o.more[:], o.row_count, o.out, o.counts(), o.locks, o.waiting),
            *(o.wakes[:], o.notes[:], o.handled[:], o.events[:], o.transaction),
        )
        for o in outcomes
    ]


@settings(max_examples=150, deadline=None)
@given(RUNS, MODELS, LEVELS)
def test_reset_gives_the_fixture_again(run: list[tuple[str, str]], model: str, level: str) -> None:
    engine = fresh(model, level)
    before = contents(engine)
    for session, text in run:
        execute(engine, session, text)
        consistent(engine)
    engine.reset()
    assert contents(engine) == before


def consistent(engine: Engine) -> None:
    """Indexes agree with rows, nobody holds what conflicts, everybody who waits has somebody to wait for."""
    for table in engine.catalog.tables():
        for index in table.indexes:
            rows = [r for r in table.scan() if not index.has_null(index.get_key(r))]
            if index.unique:
                assert {index.get_key(r): r for r in rows} == index.map
                assert len(rows) == len(index.map)
            else:
                assert sorted(r for group in index.map.values() for r in group.values()) == sorted(rows)
    for lock in engine.shared.locks.locks.values():
        held = list(lock.holders.items())
        assert all(compatible(a, b) or compatible(b, a) for n, (_, a) in enumerate(held) for _, b in held[:n])
    for session in engine.sessions.values():
        if session.claims.waiting is not None:
            assert engine.shared.locks.blockers(session.claims)
            assert not engine.shared.locks.circle(session.claims)
        if not session.active:
            assert not session.claims.held
            assert not session.log


@settings(max_examples=60, deadline=None)
@given(RUNS, MODELS, LEVELS)
def test_the_same_run_gives_the_same_record(run: list[tuple[str, str]], model: str, level: str) -> None:
    records = []
    for _ in range(2):
        engine = fresh(model, level)
        records.append([record(execute(engine, session, text)) for session, text in run])
    assert records[0] == records[1]


@settings(max_examples=60, deadline=None)
@given(st.lists(STATEMENTS.filter(lambda s: s not in ("COMMIT", "ROLLBACK")), max_size=12))
def test_rollback_leaves_nothing(run: list[str]) -> None:
    engine = fresh()
    before = [(t.name, sorted(t.scan())) for t in engine.catalog.tables()]
    for text in run:
        execute(engine, "x", text)
    execute(engine, "x", "ROLLBACK")
    assert [(t.name, sorted(t.scan())) for t in engine.catalog.tables()] == before


@settings(max_examples=100, deadline=None)
@given(RUNS, MODELS)
def test_an_outcome_stays_as_it_was(run: list[tuple[str, str]], model: str) -> None:
    engine = fresh(model)
    outcomes: list[Outcome] = []
    seen: list[Any] = []
    for session, text in run:
        found = execute(engine, session, text)
        outcomes += found
        seen += record(found)
    assert record(outcomes) == seen
