"""Random well-typed queries, run as planned and as they stand (nested loops over scans, nothing remembered or cut
short): they agree. What the printer makes of each is the same query again.

    python tests/engine/test_planner.py N    tries N of them
"""

from __future__ import annotations

import sys
from functools import cache, lru_cache

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.strategies import SearchStrategy

from amounts import amount
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.printer import write
from glimb.lang.source import Source

SETUP = """
CREATE TABLE hut (code CHAR(4) PRIMARY KEY, name VARCHAR(10), height INTEGER, opened DATE, free BOOLEAN);
CREATE TABLE bunk (id INTEGER PRIMARY KEY, hut CHAR(4) REFERENCES hut, no SMALLINT, price DECIMAL(6,2), kind VARCHAR(5), UNIQUE (hut, no));
CREATE TABLE stay (bunk INTEGER REFERENCES bunk, night DATE, paid DECIMAL(8,2), note VARCHAR(5));
INSERT INTO hut VALUES ('VARN', 'Varn', 1840, DATE '1931-06-01', TRUE), ('KOLM', 'Kolm', 2310, NULL, FALSE), ('SELT', NULL, NULL, DATE '1990-01-01', NULL), ('DORN', 'Dorn', 1840, DATE '1988-09-30', TRUE);
INSERT INTO bunk VALUES (1, 'VARN', 1, 10.00, 'a'), (2, 'VARN', 2, NULL, 'b'), (3, 'KOLM', 1, 12.50, NULL), (4, NULL, NULL, 10.00, 'a'), (5, 'KOLM', 2, 7.25, 'b'), (6, 'DORN', 1, NULL, NULL), (7, NULL, 1, 12.50, 'c');
INSERT INTO stay VALUES (1, DATE '2031-07-01', 10.00, 'a'), (1, DATE '2031-07-02', NULL, NULL), (3, DATE '2031-07-01', 12.5, 'b'), (NULL, NULL, 3.00, 'a'), (5, DATE '2031-07-03', 7.25, NULL), (5, NULL, NULL, 'c');
CREATE TABLE shift (hut CHAR(4) REFERENCES hut, day INTEGER, wage DECIMAL(6,2), who VARCHAR(5), PRIMARY KEY (hut, day));
INSERT INTO shift VALUES ('VARN', 1, 10.00, 'a'), ('VARN', 2, NULL, 'b'), ('VARN', 5, 7.5, NULL), ('KOLM', 0, 12.50, 'c'), ('KOLM', 1, 10.00, 'a'), ('SELT', 5, NULL, NULL), ('DORN', 2, 7.25, 'b');
CREATE FUNCTION half(n INTEGER) RETURNS INTEGER RETURN n / 2;
CREATE VIEW high AS SELECT code, height FROM hut WHERE height > 2000;
CREATE VIEW counts (hut, n, dear) AS SELECT hut, COUNT(*), MAX(price) FROM bunk GROUP BY hut;
"""
TABLES = {
    "hut": {"code": "text", "name": "text", "height": "int", "opened": "date", "free": "bool"},
    "bunk": {"id": "int", "hut": "text", "no": "int", "price": "dec", "kind": "text"},
    "stay": {"bunk": "int", "night": "date", "paid": "dec", "note": "text"},
    "shift": {"hut": "text", "day": "int", "wage": "dec", "who": "text"},
    "high": {"code": "text", "height": "int"},
    "counts": {"hut": "text", "n": "int", "dear": "dec"},
    "lateral": {"id": "int", "price": "dec", "kind": "text"},
}
LITERALS = {
    "int": ["0", "1", "2", "5", "1840", "CAST(NULL AS INTEGER)"],
    "dec": ["10.00", "7.5", "0.0", "CAST(NULL AS DECIMAL(6,2))"],
    "text": ["'a'", "'VARN'", "''", "CAST(NULL AS VARCHAR(4))"],
    "date": ["DATE '2031-07-01'", "DATE '1990-01-01'", "CAST(NULL AS DATE)"],
    "bool": ["TRUE", "FALSE", "UNKNOWN"],
}
Aliases = tuple[tuple[str, str], ...]
"""Correlation names with their tables."""


@cache
def value(kind: str, aliases: Aliases, depth: int) -> SearchStrategy[str]:
    """An expression of a kind over the tables in reach."""
    if kind == "bool" and depth:
        return condition(aliases, depth - 1)
    columns = [f"{a}.{c}" for a, t in aliases for c, k in TABLES[t].items() if k == kind]
    leaf = st.sampled_from([*columns, *columns, *LITERALS[kind]])
    if not depth:
        return leaf
    same = value(kind, aliases, depth - 1)
    forms = [
        leaf,
        st.builds("COALESCE({}, {})".format, same, same),
        st.builds("NULLIF({}, {})".format, same, same),
        st.builds("CASE WHEN {} THEN {} ELSE {} END".format, condition(aliases, depth - 1), same, same),
        scalar_query(kind, aliases, depth - 1),
    ]
    if kind in ("int", "dec"):
        forms.append(st.builds("({} {} {})".format, same, st.sampled_from("+-"), same))
    if kind == "int":
        forms += [
            st.builds("half({})".format, same),
            st.builds("CHAR_LENGTH({})".format, value("text", aliases, depth - 1)),
            st.builds("MOD({}, 7)".format, same),
            st.builds("({} - {})".format, value("date", aliases, depth - 1), value("date", aliases, depth - 1)),
        ]
    if kind == "text":
        forms += [st.builds("UPPER({})".format, same), st.builds("SUBSTRING({} FROM 2)".format, same)]
    return st.one_of(forms)


@cache
def scalar_query(kind: str, aliases: Aliases, depth: int) -> SearchStrategy[str]:
    own = ((f"q{depth}", "bunk"),)
    inner = aliases + own
    function = "MAX" if kind != "bool" else "EVERY"
    return st.builds(
        f"(SELECT {function}({{}}) FROM bunk q{depth} WHERE {{}})".format, value(kind, own, 0), condition(inner, depth)
    )


@cache
def condition(aliases: Aliases, depth: int) -> SearchStrategy[str]:
    """A search condition."""
    simple: list[SearchStrategy[str]] = []
    for kind in ("int", "dec", "text", "date"):
        v = value(kind, aliases, depth)
        simple += [
            st.builds("{} {} {}".format, v, st.sampled_from(["=", "=", "<>", "<", "<=", ">", ">="]), v),
            st.builds("{} IS {}NULL".format, v, st.sampled_from(["", "NOT "])),
            st.builds("{} {}IN ({}, {})".format, v, st.sampled_from(["", "NOT "]), v, v),
            st.builds("{} IS {}DISTINCT FROM {}".format, v, st.sampled_from(["", "NOT "]), v),
            st.builds("{} BETWEEN {}{} AND {}".format, v, st.sampled_from(["", "SYMMETRIC "]), v, v),
        ]
    text = value("text", aliases, depth)
    simple.append(
        st.builds("{} {}LIKE {}".format, text, st.sampled_from(["", "NOT "]), st.sampled_from(["'%a%'", "'V_R%'"]))
    )
    for alias, table in aliases:
        if table == "shift":
            shape = f"{alias}.hut = {{}} AND {alias}.day {{}} {{}}".format
            simple.append(st.builds(shape, value("text", aliases, 0), st.sampled_from("<>="), value("int", aliases, 0)))
    if depth:
        n = value("int", aliases, depth - 1)
        inner = (*aliases, (f"e{depth}", "stay"))
        where = condition(inner, depth - 1)
        for column, kind in TABLES["stay"].items():
            shape = f"{{}}EXISTS (SELECT * FROM stay e{depth} WHERE e{depth}.{column} = {{}} AND {{}})".format
            simple.append(st.builds(shape, st.sampled_from(["", "NOT "]), value(kind, aliases, depth - 1), where))
        simple += [
            st.builds(
                f"{{}} {{}}IN (SELECT e{depth}.bunk FROM stay e{depth} WHERE {{}})".format,
                n,
                st.sampled_from(["", "NOT "]),
                where,
            ),
            st.builds(
                "{} {} {} (SELECT price FROM bunk WHERE {})".format,
                value("dec", aliases, depth - 1),
                st.sampled_from(["=", "<>", "<", "<=", ">", ">="]),
                st.sampled_from(["ALL", "ANY"]),
                st.sampled_from(["price < 11", "price IS NULL", "id > 99", "id IN (1, 4)", "id = 3", "TRUE"]),
            ),
            st.builds(
                f"{{}} {{}} {{}} (SELECT e{depth}.bunk FROM stay e{depth} WHERE {{}})".format,
                n,
                st.sampled_from(["=", "<", ">="]),
                st.sampled_from(["ALL", "ANY"]),
                where,
            ),
        ]
    base = st.one_of(simple)
    return st.one_of(
        base,
        st.builds("({} AND {})".format, base, base),
        st.builds("({} OR {})".format, base, base),
        st.builds("NOT ({})".format, base),
        st.builds("({}) IS {}".format, base, st.sampled_from(["TRUE", "NOT FALSE", "UNKNOWN"])),
    )


JOINS = [
    ("JOIN", True),
    ("LEFT JOIN", True),
    ("RIGHT JOIN", True),
    ("FULL JOIN", True),
    ("CROSS JOIN", False),
    (",", False),
]
KEYS = {
    ("hut", "bunk"): "{0}.code = {1}.hut",
    ("bunk", "stay"): "{0}.id = {1}.bunk",
    ("bunk", "counts"): "{0}.hut = {1}.hut",
    ("hut", "shift"): "{0}.code = {1}.hut",
    ("bunk", "shift"): "{0}.hut = {1}.hut AND {0}.no < {1}.day",
    ("shift", "stay"): "{0}.who = {1}.note",
}


CHAINS = [[], [], [], ["hut", "bunk"], ["hut", "bunk", "stay"], ["bunk", "stay"], ["hut", "shift"], ["shift", "stay"]]
INDEXED = {
    "hut": {"code": "text"},
    "bunk": {"id": "int", "hut": "text"},
    "stay": {"bunk": "int"},
    "shift": {"hut": "text"},
}


@cache
def keyed_condition(aliases: Aliases, depth: int) -> SearchStrategy[str]:
    """A condition that an index may serve, and another one."""
    simple = [
        st.builds(f"{a}.{c} {{}} {{}}".format, st.sampled_from(["=", "=", "<", ">", "<=", ">="]), value(k, aliases, 0))
        for a, t in aliases
        for c, k in INDEXED.get(t, {}).items()
    ]
    other = condition(aliases, depth)
    return st.builds("{} AND {}".format, st.one_of(simple), other) if simple else other


@st.composite
def sources(draw: st.DrawFn) -> tuple[str, Aliases]:
    """FROM with one to three tables, often joined by their keys."""
    tables = draw(st.sampled_from(CHAINS)) or draw(
        st.lists(st.sampled_from([t for t in TABLES if t != "lateral"]), min_size=1, max_size=3)
    )
    aliases: Aliases = (("t1", tables[0]),)
    text = f"{tables[0]} t1"
    for number, table in enumerate(tables[1:], 2):
        alias = f"t{number}"
        before = aliases
        aliases = (*before, (alias, table))
        join, has_on = draw(st.sampled_from(JOINS))
        text += f" {join} {table} {alias}" if join != "," else f" CROSS JOIN {table} {alias}"
        if has_on:
            keyed = [
                k.format(a, alias)
                for a, t in before
                for (left, right), k in KEYS.items()
                if (left, right) == (t, table)
            ]
            by_key = bool(keyed) and draw(st.integers(0, 3)) > 0
            on = draw(st.sampled_from(keyed) if by_key else condition(aliases, 0))
            if draw(st.integers(0, 3)) == 0:  # an OR, each side of which can be looked up, or some
                on = f"({on} AND {draw(equality(before, alias, table))} OR {draw(equality(before, alias, table))})"
            on += f" AND {draw(condition(aliases, 0))}" if by_key and draw(st.booleans()) else ""
            text += f" ON {on}"
    if draw(st.integers(0, 4)) == 0:
        inner = f"SELECT l.id, l.price, l.kind FROM bunk l WHERE {draw(equality(aliases, 'l', 'bunk'))}"
        inner += f" AND {draw(condition((*aliases, ('l', 'bunk')), 0))}" if draw(st.booleans()) else ""
        text += f" {draw(st.sampled_from(['CROSS JOIN', 'LEFT JOIN']))} LATERAL ({inner}) t9"
        text += " ON TRUE" if "LEFT JOIN LATERAL" in text else ""
        aliases = (*aliases, ("t9", "lateral"))
    return text, aliases


@cache
def equality(before: Aliases, alias: str, table: str) -> SearchStrategy[str]:
    """A column of a table is equal to one of those before it, or to a value."""
    pairs = [
        f"{a}.{c} = {alias}.{d}"
        for a, t in before
        for c, k in TABLES[t].items()
        for d, other in TABLES[table].items()
        if k == other
    ]
    return st.sampled_from([*pairs, "1 = 0", f"{alias}.{next(iter(TABLES[table]))} IS NULL"])


@st.composite
def queries(draw: st.DrawFn) -> str:
    """A query, perhaps with groups, a set operation, an order and limits that leave no choice."""
    text, aliases = draw(sources())
    kind_of_where = draw(st.integers(0, 2))
    where = f" WHERE {draw((condition, keyed_condition)[kind_of_where - 1](aliases, 1))}" if kind_of_where else ""
    kinds = draw(st.lists(st.sampled_from(["int", "dec", "text", "date"]), min_size=1, max_size=3))
    form = draw(st.sampled_from(["plain", "plain", "distinct", "grouped", "union", "window", "limited"]))
    items = [draw(value(k, aliases, 1)) for k in kinds]
    if form == "grouped":
        keys = [f"COALESCE({draw(value(k, aliases, 0))}, {draw(value(k, aliases, 0))})" for k in kinds]
        n = draw(value("int", aliases, 1))
        sets = draw(st.sampled_from(["{}", "ROLLUP ({})", "CUBE ({})"])).format(", ".join(keys))
        having = draw(st.sampled_from(["", " HAVING COUNT(*) > 1", f" HAVING SUM({n}) IS NOT NULL"]))
        return f"SELECT {', '.join(keys)}, COUNT(*), SUM({n}), COUNT(DISTINCT {n}) FROM {text}{where} GROUP BY {sets}{having}"
    select = f"SELECT {'DISTINCT ' if form == 'distinct' else ''}{', '.join(items)} FROM {text}{where}"
    if form == "union":
        other, more = draw(sources())
        kind = draw(st.sampled_from(["UNION", "UNION ALL", "EXCEPT", "INTERSECT", "EXCEPT ALL", "INTERSECT ALL"]))
        return f"{select} {kind} SELECT {', '.join(draw(value(k, more, 0)) for k in kinds)} FROM {other}"
    if form == "window":
        n = draw(value("int", aliases, 0))
        frame = draw(
            st.sampled_from(["", " ROWS 1 PRECEDING", " GROUPS BETWEEN 1 PRECEDING AND CURRENT ROW EXCLUDE TIES"])
        )
        order = ", ".join(items) if "ROWS" in frame else n
        return f"SELECT {', '.join(items)}, SUM({n}) OVER (PARTITION BY {items[0]} ORDER BY {n}, {order}{frame.replace('ROWS 1 PRECEDING', 'RANGE UNBOUNDED PRECEDING')}) FROM {text}{where}"
    if form == "limited":
        order = ", ".join(f"{n + 1}{draw(st.sampled_from(['', ' DESC', ' NULLS FIRST']))}" for n in range(len(items)))
        offset = draw(st.sampled_from(["", " OFFSET 1 ROWS", " OFFSET 3 ROWS"]))
        return f"{select} ORDER BY {order}{offset} FETCH FIRST {draw(st.integers(0, 5))} ROWS ONLY"
    return select


@lru_cache(maxsize=1)
def engine() -> Engine:
    made = Engine()
    source = Source(SETUP)
    for statement in parse(source).statements:
        outcome = made.execute(made.session("main"), statement, source)[0]
        assert outcome.failure is None, outcome.failure
    return made


def run(text: str, plain: bool) -> Outcome:
    source = Source(text)
    parsed = parse(source)
    assert not parsed.problems, (text, [p.describe() for p in parsed.problems])
    made = engine()
    made.shared.plain = plain
    return made.execute(made.session("main"), parsed.statements[0], source)[0]


def agree(text: str) -> bool:
    """Whether both forms give the same bag of rows, or fail alike; False when the query is refused."""
    planned, plain = run(text, False), run(text, True)
    for outcome in (planned, plain):
        assert outcome.failure is None or outcome.failure.sqlstate[:2] in ("22", "42"), (text, outcome.failure)
    if planned.failure is not None or plain.failure is not None:
        return False
    assert planned.rows is not None
    assert plain.rows is not None
    assert sorted(map(repr, planned.rows)) == sorted(map(repr, plain.rows)), text
    return True


def round_trip(text: str) -> None:
    statement = parse(Source(text)).statements[0]
    again = parse(Source(write(statement)))
    assert not again.problems, (text, write(statement))
    assert again.statements[0] == statement, (text, write(statement))


@settings(max_examples=amount(2_000), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(queries())
def test_planned_and_plain_agree(text: str) -> None:
    agree(text)
    round_trip(text)


def try_many(count: int) -> None:
    """Try `count` random queries, not the same ones every time."""
    seen = {"run": 0, "compared": 0}

    @settings(max_examples=count, deadline=None, database=None, suppress_health_check=list(HealthCheck))
    @given(queries())
    def attempt(text: str) -> None:
        seen["run"] += 1
        seen["compared"] += agree(text)
        round_trip(text)

    attempt()
    print(f"{seen['run']} queries, {seen['compared']} of them gave rows in both forms", flush=True)


if __name__ == "__main__":
    for _ in range(0, int(sys.argv[1]), 5_000):
        try_many(min(int(sys.argv[1]), 5_000))
