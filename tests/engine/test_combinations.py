"""Every construct of a query within everything that can hold a query: the same rows as the query alone gives.

Random queries over tables of NULLs, of no, one, two and several rows; what holds them is a view, a routine, a cursor, a
trigger and so on. docs/combinations.md counts the pairs that were tried:

    PYTHONPATH=.:tests python tests/engine/test_combinations.py 400 [SEED]
"""

from __future__ import annotations

import random
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from against.queries import SCHEMA, Maker, rows
from against.shapes import SPELLED, Shapes
from amounts import amount
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.parser import parse
from glimb.lang.source import Source

PAGE = Path(__file__).parent.parent.parent / "docs" / "combinations.md"
Way = Callable[["World", str, Outcome], Outcome]


def filled(seed: int) -> list[str]:
    """Rows of the tables; of two seeds in three so many that few queries find none."""
    chance = random.Random(seed)
    found = rows(chance)
    while seed % 3 and len(found) < 16:
        found = rows(chance)
    return found


class World:
    """An engine with the tables of `against.queries`, filled from a seed."""

    def __init__(self, seed: int, plain: bool = False, recording: bool = False) -> None:
        self.engine = Engine()
        self.engine.shared.plain, self.engine.shared.recording = plain, recording
        self.engine.use_model(("versions", "locking")[seed % 2])
        self.run(SCHEMA + ";".join(filled(seed)) + "; COMMIT")

    def run(self, text: str) -> Outcome:
        """Run statements; gives what the last of them did, or the first that failed."""
        source = Source(text)
        parsed = parse(source)
        assert not parsed.problems, (parsed.problems[0].brief(), text)
        *before, last = parsed.statements
        for statement in before:
            outcome = self.engine.execute(self.engine.session("main"), statement, source)[0]
            if outcome.failure is not None:
                return outcome
        return self.engine.execute(self.engine.session("main"), last, source)[0]


# ---- what holds a query


def names(plain: Outcome) -> str:
    return ", ".join(f"c{number}" for number in range(len(plain.columns)))


def typed(plain: Outcome) -> str:
    return ", ".join(f"c{number} {column.type}" for number, column in enumerate(plain.columns))


def into_made(world: World, plain: Outcome, *texts: str) -> Outcome:
    """The rows that statements put into a table."""
    return world.run("; ".join((f"CREATE TABLE made ({typed(plain)})", *texts, "SELECT * FROM made")))


def by_trigger(world: World, query: str, plain: Outcome) -> Outcome:
    fill = f"BEGIN ATOMIC INSERT INTO made {query}; END"
    fired = f"CREATE TABLE fires (n INTEGER); CREATE TRIGGER t AFTER INSERT ON fires FOR EACH STATEMENT {fill}"
    return into_made(world, plain, fired, "INSERT INTO fires VALUES (1)")


def by_loop(world: World, query: str, plain: Outcome) -> Outcome:
    values = ", ".join(f"r.c{number}" for number in range(len(plain.columns)))
    loop = f"FOR r AS SELECT * FROM ({query}) AS w ({names(plain)}) DO INSERT INTO made VALUES ({values}); END FOR"
    return into_made(world, plain, f"CREATE PROCEDURE p() {loop}", "CALL p()")


def by_handler(world: World, query: str, plain: Outcome) -> Outcome:
    """In the action of a handler, after a statement that failed half-way."""
    action = f"INSERT INTO made {query}"
    fails = "UPDATE a SET x = 0; INSERT INTO c VALUES (1, NULL, 1, 'x')"
    undone = f"BEGIN ATOMIC DECLARE UNDO HANDLER FOR SQLEXCEPTION {action}; {fails}; END"
    return into_made(world, plain, f"CREATE PROCEDURE p() {undone}", "CALL p()")


def by_savepoint(world: World, query: str, plain: Outcome) -> Outcome:
    """After a change that was taken back, and before one."""
    steps = (
        "SAVEPOINT s",
        "DELETE FROM b",
        "UPDATE c SET x = 9",
        "ROLLBACK TO SAVEPOINT s",
        f"INSERT INTO made {query}",
    )
    return into_made(world, plain, *steps, "SAVEPOINT s", "DELETE FROM made", "ROLLBACK TO SAVEPOINT s")


def by_cursor(world: World, query: str, plain: Outcome) -> Outcome:
    body = f"BEGIN DECLARE c CURSOR WITH RETURN FOR {query}; OPEN c; END"
    return world.run(f"CREATE PROCEDURE p() DYNAMIC RESULT SETS 1 {body}; CALL p()")


def by_dynamic(world: World, query: str, plain: Outcome) -> Outcome:
    quoted = query.replace("'", "''")
    body = f"BEGIN DECLARE c CURSOR WITH RETURN FOR s; PREPARE s FROM '{quoted}'; OPEN c; END"
    return world.run(f"CREATE PROCEDURE p() DYNAMIC RESULT SETS 1 {body}; CALL p()")


def by_table_function(world: World, query: str, plain: Outcome) -> Outcome:
    made = f"CREATE FUNCTION f() RETURNS TABLE ({typed(plain)}) RETURN TABLE ({query})"
    return world.run(
        f"{made}; SELECT t.* FROM (VALUES 1) AS one (n) LEFT JOIN TABLE(f()) AS t ON TRUE WHERE EXISTS ({query})"
    )


def all_but(world: World, query: str, plain: Outcome) -> Outcome:
    """With itself twice over, less itself."""
    return world.run(f"({query}) UNION ALL ({query}) EXCEPT ALL ({query})")


WAYS: dict[str, Way] = {
    "view": lambda w, q, p: w.run(f"CREATE VIEW v ({names(p)}) AS {q}; SELECT * FROM v"),
    "WITH": lambda w, q, p: w.run(f"WITH w ({names(p)}) AS ({q}) SELECT * FROM w"),
    "derived table": lambda w, q, p: w.run(f"SELECT d.* FROM ({q}) AS d ({names(p)})"),
    "LATERAL": lambda w, q, p: w.run(f"SELECT d.* FROM (VALUES 1) AS one (n), LATERAL ({q}) AS d ({names(p)})"),
    "table operator": all_but,
    "table of a query": lambda w, q, p: w.run(f"CREATE TABLE made ({names(p)}) AS ({q}) WITH DATA; SELECT * FROM made"),
    "INSERT": lambda w, q, p: into_made(w, p, f"INSERT INTO made {q}"),
    "FINAL TABLE": lambda w, q, p: w.run(
        f"CREATE TABLE made ({typed(p)}); SELECT * FROM FINAL TABLE (INSERT INTO made {q}) AS f"
    ),
    "table function": by_table_function,
    "cursor": by_cursor,
    "dynamic": by_dynamic,
    "FOR": by_loop,
    "trigger": by_trigger,
    "handler": by_handler,
    "savepoint": by_savepoint,
}
FORMS = {"plain": {"plain": True}, "recorded": {"recording": True}}
"""Other forms of code for the query alone."""


# ---- what a query holds


def constructs(query: str) -> set[str]:
    """What stands in a query, by name."""
    found = set[str]()
    for node in walk(parse(Source(query)).statements[0]):
        found |= set(_own(node))
    return found


def _own(node: Any) -> Iterator[str]:
    simple: dict[type, str] = {
        tree.CaseExpression: "CASE", tree.Quantified: "ALL, ANY", tree.Exists: "EXISTS", tree.InQuery: "IN (query)",
        tree.InList: "IN (list)", tree.Like: "LIKE", tree.Between: "BETWEEN", tree.IsDistinct: "IS DISTINCT FROM",
        tree.IsNull: "IS NULL", tree.IsTruth: "IS TRUE", tree.RowValue: "row value", tree.Cast: "CAST", tree.Logical: "AND, OR",
        tree.DerivedTable: "derived table", tree.Grouping: "ROLLUP, CUBE",
    }  # fmt: skip
    if type(node) in simple:
        yield simple[type(node)]
    match node:
        case tree.SetOperation():
            yield f"{node.kind.upper()}{' ALL' if node.all else ''}"
        case tree.Join():
            yield f"{node.kind.upper()} JOIN"
            if node.condition is not None and any(isinstance(n, tree.Subquery) for n in walk(node.condition)):
                yield "subquery in ON"
        case tree.FunctionCall() if node.over is not None:
            yield "window"
        case tree.FunctionCall() if node.name[-1] in ("count", "sum", "min", "max", "every", "some"):
            yield "set function"
        case tree.Select():
            yield from (["DISTINCT"] if node.distinct else [])
            yield from (["HAVING"] if node.having is not None else [])
            for clause in ("items", "where", "having"):
                inner = getattr(node, clause)
                if inner and any(isinstance(n, tree.Subquery) for n in walk(inner)):
                    yield f"subquery in {'SELECT' if clause == 'items' else clause.upper()}"
        case tree.Query():
            yield from (["FETCH FIRST"] if node.fetch is not None else [])
            yield from (["WITH RECURSIVE"] if node.recursive else ["WITH"] if node.common else [])


# ---- trying


def shown(outcome: Outcome) -> list[str]:
    return sorted(map(repr, outcome.rows or []))


def attempt(seed: int, tried: Counter[tuple[str, str]], sizes: Counter[str]) -> None:
    """A random query in every way."""
    query = SPELLED.sub(r"\1", (Maker, Shapes)[seed // 2 % 2](seed).statement()).replace("BOOL_OR(", "SOME(")
    world = World(seed)
    plain = world.run(query)
    if plain.failure is not None:
        assert plain.failure.sqlstate[:2] in ("21", "22") or plain.failure.sqlstate == "42803", (
            seed,
            query,
            plain.failure,
        )
        return
    if any(column.type.kind == "null" for column in plain.columns):
        return
    sizes[{0: "no rows", 1: "one row", 2: "two rows"}.get(len(plain.rows or ()), "many rows")] += 1
    held = constructs(query)
    for name, form in FORMS.items():
        assert shown(World(seed, **form).run(query)) == shown(plain), (seed, name, query)
        tried.update((what, name) for what in held)
    for name, way in WAYS.items():
        other = way(world, query, plain)
        assert other.failure is None, (seed, name, other.failure, query)
        assert shown(other) == shown(plain), (seed, name, query)
        world.run("ROLLBACK")  # what it made is gone again
        tried.update((what, name) for what in held)


@pytest.mark.parametrize("seed", range(amount(240)))
def test_the_same_rows_within_everything(seed: int) -> None:
    attempt(seed, Counter(), Counter())


def main(count: int, seed: int) -> None:
    tried, sizes = Counter[tuple[str, str]](), Counter[str]()
    for number in range(seed, seed + count):
        attempt(number, tried, sizes)
    ways = [*FORMS, *WAYS]
    kinds = sorted({what for what, _ in tried})
    lines = [
        "# Combinations\n",
        "Made by `tests/engine/test_combinations.py`: how many random queries with a construct (down) were tried within what can",
        "hold a query (across), and gave the rows that they give alone: `plain` with nothing planned, `recorded` step by step.",
        "`make cross` compares the same queries with another database server.\n",
        f"{count} queries; of these, with {', '.join(f'{word}: {sizes[word]}' for word in ('no rows', 'one row', 'two rows', 'many rows'))}.\n",
        f"| | {' | '.join(ways)} |",
        f"| --- |{' ---: |' * len(ways)}",
        *(f"| {what} | {' | '.join(str(tried[what, way]) for way in ways)} |" for what in kinds),
    ]
    PAGE.write_text("\n".join(lines) + "\n")


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
