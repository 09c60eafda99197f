"""Random transactions of two and three sessions, both models: what SERIALIZABLE has committed is what an order of the
transactions one after the other brings about, and at every level no key is there twice and nothing refers to nothing."""

from __future__ import annotations

import random
from collections.abc import Callable
from itertools import permutations
from typing import Any

import pytest

from amounts import amount
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.source import Source

SCHEMA = """
CREATE TABLE p (k INTEGER PRIMARY KEY, n INTEGER);
CREATE TABLE c (k INTEGER PRIMARY KEY, p INTEGER REFERENCES p, u INTEGER UNIQUE);
CREATE TABLE e (k INTEGER PRIMARY KEY, p INTEGER REFERENCES p ON DELETE CASCADE ON UPDATE SET NULL);
CREATE TABLE loose (n INTEGER, m INTEGER);
INSERT INTO p VALUES (1, 10), (2, 20), (3, 30);
INSERT INTO c VALUES (1, 1, 100), (2, 2, 200);
INSERT INTO e VALUES (1, 1), (2, 2);
INSERT INTO loose VALUES (1, 1), (1, 2), (2, 3);
COMMIT
"""
WHOLE = (
    "SELECT k, COUNT(*) FROM p GROUP BY k HAVING COUNT(*) > 1",
    "SELECT u, COUNT(*) FROM c WHERE u IS NOT NULL GROUP BY u HAVING COUNT(*) > 1",
    "SELECT * FROM c WHERE p IS NOT NULL AND p NOT IN (SELECT k FROM p)",
    "SELECT * FROM e WHERE p IS NOT NULL AND p NOT IN (SELECT k FROM p)",
)
"""Queries that find what must not be there."""
ROWS = tuple(f"SELECT * FROM {table} ORDER BY 1, 2" for table in ("p", "c", "e", "loose"))


def statement(chance: random.Random) -> str:
    k, other, n = chance.randrange(1, 5), chance.randrange(1, 4), chance.randrange(1, 40)
    return chance.choice(
        (
            f"UPDATE p SET n = n + {n} WHERE k = {k}",
            f"UPDATE p SET n = n + 1 WHERE n < {n}",
            f"UPDATE p SET n = (SELECT SUM(n) FROM p) WHERE k = {k}",
            f"UPDATE p SET k = {k + 3} WHERE k = {k}",
            f"INSERT INTO p VALUES ({k + 2}, {n})",
            "INSERT INTO p SELECT MAX(k) + 1, COUNT(*) FROM p",
            f"DELETE FROM p WHERE k = {k}",
            f"DELETE FROM p WHERE n > {n + 30}",
            f"UPDATE c SET u = {n % 4 * 100} WHERE k = {k}",
            f"UPDATE c SET p = {chance.choice((other, 'NULL'))} WHERE k = {k}",
            f"INSERT INTO c VALUES ({k + 1}, {other}, {n % 4 * 100})",
            f"DELETE FROM c WHERE u <= {n * 5}",
            f"INSERT INTO e VALUES ({k + 1}, {other})",
            f"DELETE FROM e WHERE p = {other}",
            f"UPDATE loose SET m = m + 1 WHERE n = {k % 3}",
            f"INSERT INTO loose VALUES ({k % 3}, {n})",
            f"DELETE FROM loose WHERE m > {n}",
            f"SELECT n FROM p WHERE k = {k}",
            f"SELECT n FROM p WHERE k BETWEEN {other} AND {k} ORDER BY k",
            "SELECT COUNT(*), SUM(n) FROM p",
            f"SELECT COUNT(*), SUM(m) FROM loose WHERE n = {k % 3}",
            "SELECT c.k, p.n FROM c JOIN p ON p.k = c.p ORDER BY 1",
            f"SELECT n FROM p WHERE k = {k} FOR UPDATE",
        )
    )


def referring(chance: random.Random) -> str:
    """Statements about a few rows that refer to each other."""
    k, other = chance.randrange(1, 3), chance.randrange(1, 3)
    return chance.choice(
        (
            f"DELETE FROM p WHERE k = {k}",
            f"UPDATE p SET k = {k + 3} WHERE k = {k}",
            f"INSERT INTO p VALUES ({k + 3}, 0)",
            f"DELETE FROM c WHERE k = {k}",
            f"UPDATE c SET p = {chance.choice((other, other + 3, 'NULL'))} WHERE k = {k}",
            f"INSERT INTO c VALUES ({k + 1}, {other + chance.choice((0, 3))}, {other * 100})",
            f"UPDATE c SET u = {other * 100} WHERE k = {k}",
            f"DELETE FROM e WHERE k = {k}",
            f"UPDATE e SET p = {other + chance.choice((0, 3))} WHERE k = {k}",
        )
    )


class World:
    """An engine with sessions of a level."""

    def __init__(self, model: str, level: str, names: tuple[str, ...]) -> None:
        self.engine = Engine()
        self.engine.use_model(model)
        for text in SCHEMA.split(";"):
            self.run("setup", text)
        for name in names:
            self.engine.session(name).set({"isolation": level})

    def run(self, name: str, text: str) -> list[Outcome]:
        source = Source(text)
        (node,) = parse(source).statements
        return self.engine.execute(self.engine.session(name), node, source)

    def rows(self, texts: tuple[str, ...]) -> list[Any]:
        found = [self.run("setup", text)[0].rows for text in texts]
        self.run("setup", "COMMIT")
        return found


def told(outcome: Outcome) -> tuple[Any, ...]:
    """What a statement tells its session."""
    state = outcome.failure.sqlstate if outcome.failure is not None else ""
    rows = [tuple(row[: len(outcome.columns)]) for row in outcome.rows] if outcome.rows is not None else None
    return state, rows, outcome.row_count


Log = dict[str, list[tuple[str, tuple[Any, ...]]]]


def woven(
    world: World, names: tuple[str, ...], chance: random.Random, make: Callable[[random.Random], str]
) -> tuple[Log, list[str]]:
    """A transaction of each session, their statements in turns; what each was told, and which have been committed."""
    texts = {name: [make(chance) for _ in range(chance.randrange(2, 6))] for name in names}
    for some in texts.values():
        some.append(chance.choice(("COMMIT", "COMMIT", "ROLLBACK")))
    log: Log = {name: [] for name in names}
    waiting: dict[str, str] = {}
    committed: list[str] = []
    while ready := [name for name in names if texts[name] and name not in waiting]:
        name = chance.choice(ready)
        text = texts[name].pop(0)
        waiting[name] = text
        for outcome in world.run(name, text):
            if outcome.waiting is not None:
                continue
            done = waiting.pop(outcome.session)
            log[outcome.session].append((done, told(outcome)))
            if log[outcome.session][-1][1][0][:2] == "40":
                texts[outcome.session] = []
            elif done == "COMMIT":
                committed.append(outcome.session)
    assert not waiting
    return log, committed


@pytest.mark.parametrize("model", ["versions", "locking"])
@pytest.mark.parametrize("seed", range(amount(600)))
def test_some_order_gives_the_same(seed: int, model: str) -> None:
    chance = random.Random(seed)
    names = ("a", "b", "c")[: chance.choice((2, 2, 3))]
    world = World(model, "serializable", names)
    log, committed = woven(world, names, chance, statement)
    assert world.rows(WHOLE) == [[], [], [], []]
    final = world.rows(ROWS)
    for order in permutations(committed):
        again = World(model, "serializable", names)
        if all(told(again.run(name, text)[0]) == seen for name in order for text, seen in log[name]):
            if again.rows(ROWS) == final:
                return
    raise AssertionError((log, committed, final))


@pytest.mark.parametrize("model", ["versions", "locking"])
@pytest.mark.parametrize("level", ["read uncommitted", "read committed", "repeatable read"])
@pytest.mark.parametrize("seed", range(amount(300)))
def test_constraints_hold_at_every_level(seed: int, level: str, model: str) -> None:
    chance = random.Random(seed)
    names = ("a", "b", "c")[: chance.choice((2, 2, 3))]
    world = World(model, level, names)
    woven(world, names, chance, referring)
    assert world.rows(WHOLE) == [[], [], [], []]
