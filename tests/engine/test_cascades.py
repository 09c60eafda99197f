"""Referential actions against a model of sets: what refers is found before anything is changed (clause 11.8)."""

from __future__ import annotations

import random
from collections import defaultdict
from typing import Any, NamedTuple

import pytest

from amounts import amount
from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.source import Source


class Key(NamedTuple):
    """A column that refers to the id of a table. That of m is its own key: what changes r goes on to l."""

    table: str
    column: str
    target: str
    on_update: str
    on_delete: str


REFERRING = (("m", "id", "r"), ("l", "up", "m"), ("k", "up", "r"), ("k", "also", "r"), ("r", "near", "r"))
COLUMNS = {"r": ("id", "near"), "m": ("id",), "l": ("id", "up"), "k": ("id", "up", "also")}
Row = dict[str, Any]
World = dict[str, list[Row]]


def keys_of(random_: random.Random) -> list[Key]:
    actions = ("CASCADE", "CASCADE", "SET NULL", "SET DEFAULT", "NO ACTION")
    keys = []
    for table, column, target in REFERRING:
        on_update, on_delete = random_.choices([a for a in actions if (column, a) != ("id", "SET NULL")], k=2)
        keys.append(Key(table, column, target, on_update, on_delete))
    return keys


def world_of(random_: random.Random) -> World:
    ids = [0, *random_.sample(range(1, 9), 4)]
    own = [0, *random_.sample(ids[1:], 2)]
    some, few = [None, *ids], [None, *own]
    return {
        "r": [{"id": n, "near": random_.choice(some)} for n in ids],
        "m": [{"id": n} for n in own],
        "l": [{"id": n, "up": random_.choice(few)} for n in range(4)],
        "k": [{"id": n, "up": random_.choice(some), "also": random_.choice(some)} for n in range(5)],
    }


def updated(world: World, keys: list[Key], table: str, changes: dict[int, Row]) -> World:
    """The world when rows of a table, by their number, have been given values."""
    before, world = world[table], {**world, table: [{**r, **changes.get(n, {})} for n, r in enumerate(world[table])]}
    for other in COLUMNS:
        moved: dict[int, Row] = defaultdict(dict)
        for key in [key for key in keys if (key.table, key.target) == (other, table) and key.on_update != "NO ACTION"]:
            for old, new in zip(before, world[table], strict=True):
                if old["id"] != new["id"]:
                    value = {"CASCADE": new["id"], "SET NULL": None, "SET DEFAULT": 0}[key.on_update]
                    for number, row in enumerate(world[other]):
                        if row[key.column] == old["id"]:
                            moved[number][key.column] = value
        if moved:
            world = updated(world, keys, other, moved)
    return world


def deleted(world: World, keys: list[Key], ids: set[int]) -> World:
    """The world without rows of r."""
    gone: dict[str, set[int]] = {table: set() for table in COLUMNS}
    gone["r"] = {n for n, row in enumerate(world["r"]) if row["id"] in ids}
    while True:
        named = {table: {world[table][n]["id"] for n in rows} for table, rows in gone.items()}
        found = [
            (key, n) for key in keys for n, row in enumerate(world[key.table]) if row[key.column] in named[key.target]
        ]
        more = [(key.table, n) for key, n in found if key.on_delete == "CASCADE" and n not in gone[key.table]]
        if not more:
            break
        for table, number in more:
            gone[table].add(number)
    changes: dict[str, dict[int, Row]] = defaultdict(lambda: defaultdict(dict))
    for key, number in found:
        if key.on_delete.startswith("SET") and number not in gone[key.table]:
            changes[key.table][number][key.column] = None if key.on_delete == "SET NULL" else 0
    for table, changed in changes.items():
        world = updated(world, keys, table, changed)
    return {table: [row for n, row in enumerate(rows) if n not in gone[table]] for table, rows in world.items()}


def holds(world: World, keys: list[Key]) -> bool:
    ids = {table: [row["id"] for row in rows] for table, rows in world.items()}
    return all(len(found) == len(set(found)) for found in ids.values()) and all(
        row[key.column] in (None, *ids[key.target]) for key in keys for row in world[key.table]
    )


def run(engine: Engine, text: str) -> Any:
    source = Source(text)
    return [o for s in parse(source).statements for o in engine.execute(engine.session("main"), s, source)]


def engine_of(world: World, keys: list[Key]) -> Engine:
    engine = Engine()
    for table, columns in COLUMNS.items():
        made = ", ".join(f"{c} INTEGER{' PRIMARY KEY' if c == 'id' else ''} DEFAULT 0" for c in columns)
        run(engine, f"CREATE TABLE {table} ({made});")
    for table, rows in world.items():
        for row in rows:
            run(
                engine,
                f"INSERT INTO {table} VALUES ({', '.join('NULL' if v is None else str(v) for v in row.values())})",
            )
    for key in keys:
        told = (
            f"ALTER TABLE {key.table} ADD FOREIGN KEY ({key.column}) REFERENCES {key.target} "
            f"ON UPDATE {key.on_update} ON DELETE {key.on_delete}"
        )
        assert run(engine, told)[0].ok
    return engine


@pytest.mark.parametrize("seed", range(amount(60)))
def test_actions_are_those_of_sets(seed: int) -> None:
    random_ = random.Random(seed)
    for _ in range(10):
        keys, world = keys_of(random_), world_of(random_)
        if random_.random() < 0.6:
            step = random_.choice((1, -1, 2, 10))
            text = random_.choice(
                (f"id + {step}", "CASE WHEN id > 0 THEN 9 - id ELSE 0 END", "CASE id WHEN 0 THEN 0 ELSE id + 1 END")
            )
            statement = f"UPDATE r SET id = {text}"
            into = {
                row["id"]: run(Engine(), f"SELECT {text} FROM (VALUES ({row['id']})) t (id)")[0].rows[0][0]
                for row in world["r"]
            }
            expected = updated(world, keys, "r", {n: {"id": into[row["id"]]} for n, row in enumerate(world["r"])})
        else:
            ids = set(random_.sample([row["id"] for row in world["r"]], 2))
            statement = f"DELETE FROM r WHERE id IN {tuple(ids)}"
            expected = deleted(world, keys, ids)
        engine = engine_of(world, keys)
        outcome = run(engine, statement)[0]
        told = f"{keys}\n{world}\n{statement}"
        assert outcome.ok == holds(expected, keys), f"{told}\n{outcome.failure}\n{expected}"
        for table, columns in COLUMNS.items():
            rows = [tuple(row[c] for c in columns) for row in (expected if outcome.ok else world)[table]]
            found = run(engine, f"SELECT * FROM {table}")[0].rows
            assert sorted(found, key=str) == sorted(rows, key=str), f"{told}\n{table}"
