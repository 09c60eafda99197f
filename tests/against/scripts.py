"""The same random statements as scripts, for the commands: what has once come out as it does in the servers stays so.

Faults are asked for as well as rows, so a script is executed, not run: `exec` goes on after a statement that fails.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path

from against import functions, moments, queries, routines, shapes, two
from against.changes import Chain, Changer, Viewer
from against.definitions import Definer
from against.firing import Firer


def _queries(seed: int, make: type[queries.Maker] = queries.Maker) -> Iterator[str]:
    maker = make(seed)
    yield from (*queries.SCHEMA.split(";")[:-1], *queries.rows(maker.chance))
    for _ in range(100):
        yield shapes.SPELLED.sub(r"\1", maker.statement()).replace("BOOL_OR(", "SOME(")


def _shapes(seed: int) -> Iterator[str]:
    return _queries(seed, shapes.Shapes)


def _moments(seed: int) -> Iterator[str]:
    made = moments.Moments(seed)
    yield from (moments.SCHEMA, *made.rows(), *(made.query() for _ in range(100)))


def _functions(seed: int) -> Iterator[str]:
    made = functions.Functions(seed)
    yield from (functions.SCHEMA, *made.rows(), *(made.query() for _ in range(200)))


def _changes(seed: int, make: type[Changer]) -> Iterator[str]:
    changer = make(seed)
    yield changer.schema().format(stored="").rstrip(";\n") + ";" + changer.triggers()["here"]
    for _ in range(60):
        yield changer.statement().replace("{stored}", "")
    yield from (f"SELECT * FROM {name}" for name in (*changer.TABLES, *changer.VIEWS))


def _body(seed: int) -> str:
    return routines.CLOSED_THERE.sub("", routines.Writer(seed, seed % 3 == 0).body())


def _routines(seed: int) -> Iterator[str]:
    yield from routines.SCHEMA
    for number in range(seed, seed + 15):
        yield "DELETE FROM r"
        yield "INSERT INTO r VALUES (1, 1), (2, NULL), (3, 3)"
        signature, call = (
            ("FUNCTION f() RETURNS INTEGER", "VALUES f()") if number % 3 == 0 else ("PROCEDURE p()", "CALL p()")
        )
        yield f"CREATE OR REPLACE {signature} MODIFIES SQL DATA {_body(number)}"
        yield call
        yield "SELECT * FROM trace"


def _sessions(seed: int) -> Iterator[str]:
    chance = random.Random(seed)
    level = two.LEVELS[seed % len(two.LEVELS)]
    yield from (*two.SCHEMA, "COMMIT")
    here, waiting = two.Here(level), set[str]()
    for name in two.NAMES:
        yield f"--# session {name}\nSET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL {level}"
    for name, text in [*two.statements(chance), *((name, "COMMIT") for name in two.NAMES * 2)]:
        if name not in waiting:
            yield f"--# session {name}\n{text}"
            told = here.run(name, text)
            waiting = {n for n in {*waiting, name} if (told.get(n) or two.Told(waits=n in waiting)).waits}


KINDS = {
    "queries": _queries,
    "shapes": _shapes,
    "moments": _moments,
    "functions": _functions,
    "routines": _routines,
    "sessions": _sessions,
} | {
    make.__name__.lower(): lambda seed, make=make: _changes(seed, make)
    for make in (Changer, Chain, Viewer, Definer, Firer)
}


def write(root: Path) -> None:
    """A project with two scripts of each kind, and some of the routines as files."""
    for name in ("scripts", "schema", "routines"):
        (root / name).mkdir(parents=True)
    (root / "glimb.toml").write_text("")
    (root / "schema" / "tables.sql").write_text(";\n".join(routines.SCHEMA) + ";\n")
    for number in range(60, 72):
        text = f"CREATE PROCEDURE p{number}() MODIFIES SQL DATA {_body(number)};\n"
        (root / "routines" / f"p{number}.sql").write_text(text)
    for kind, made in KINDS.items():
        for seed in (1, 2):
            (root / "scripts" / f"{kind}-{seed}.sql").write_text("".join(f"{text.strip()};\n" for text in made(seed)))
