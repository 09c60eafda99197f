"""Random queries over tables full of NULLs, in the SQL that this engine and PostgreSQL share."""

from __future__ import annotations

import random

TABLES: dict[str, dict[str, str]] = {
    "a": {"id": "int", "x": "int", "y": "int", "d": "dec", "s": "text", "b": "bool", "t": "date"},
    "b": {"id": "int", "x": "int", "a": "int", "d": "dec", "s": "text", "b": "bool", "t": "date"},
    "c": {"x": "int", "y": "int", "d": "dec", "c": "text"},
}
SCHEMA = """
CREATE TABLE a (id INTEGER PRIMARY KEY, x INTEGER NOT NULL, y INTEGER, d DECIMAL(6,2), s VARCHAR(5), b BOOLEAN, t DATE);
CREATE TABLE b (id INTEGER PRIMARY KEY, x INTEGER, a INTEGER REFERENCES a, d DECIMAL(6,2), s VARCHAR(5), b BOOLEAN NOT NULL, t DATE);
CREATE TABLE c (x INTEGER, y INTEGER NOT NULL, d DECIMAL(8,3), c VARCHAR(5));
"""
LITERALS = {
    "int": ["0", "1", "2", "3", "-1", "CAST(NULL AS INTEGER)"],
    "dec": ["0.00", "1.50", "2.25", "3", "CAST(NULL AS DECIMAL(6,2))"],
    "text": ["'a'", "'b'", "'ab'", "''", "CAST(NULL AS VARCHAR(5))"],
    "bool": ["TRUE", "FALSE", "CAST(NULL AS BOOLEAN)"],
    "date": ["DATE '2031-07-14'", "DATE '2031-07-15'", "CAST(NULL AS DATE)"],
}
KINDS = tuple(LITERALS)
SIGNS = ("=", "=", "<>", "<", "<=", ">", ">=")
Columns = list[tuple[str, str]]
"""What is in reach: texts of columns with their kinds."""


def rows(chance: random.Random) -> list[str]:
    """Statements that fill the tables."""
    value = {
        "int": lambda: chance.choice(["NULL", "0", "1", "2", "3", "4"]),
        "dec": lambda: chance.choice(["NULL", "0.00", "1.00", "1.50", "2.25", "3.00"]),
        "text": lambda: chance.choice(["NULL", "''", "'a'", "'b'", "'ab'", "'c'"]),
        "bool": lambda: chance.choice(["NULL", "TRUE", "FALSE"]),
        "date": lambda: chance.choice(["NULL", "DATE '2031-07-14'", "DATE '2031-07-15'", "DATE '2031-08-01'"]),
    }
    found = []
    for table, columns in TABLES.items():
        for number in range(chance.choice((0, 1, 2, 5, 8))):
            values = []
            for name, kind in columns.items():
                text = value[kind]()
                if (table, name) in (("a", "x"), ("c", "y")):
                    text = text.replace("NULL", "2")
                if (table, name) == ("b", "b"):
                    text = text.replace("NULL", "TRUE")
                if (table, name) == ("b", "a"):
                    text = "NULL"
                values.append(str(number + 1) if name == "id" else text)
            found.append(f"INSERT INTO {table} VALUES ({', '.join(values)})")
    found.append("UPDATE b SET a = (SELECT MAX(a.id) FROM a WHERE a.id <= b.id) WHERE b.x IS NOT NULL")
    return found


class Maker:
    """Makes queries from a seed."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.names = 0

    def pick(self, items: list[str] | tuple[str, ...] | str) -> str:
        return self.chance.choice(items)

    def once_in(self, number: int) -> bool:
        return self.chance.randrange(number) == 0

    def name(self, letter: str) -> str:
        self.names += 1
        return f"{letter}{self.names}"

    # -- expressions

    def value(self, kind: str, columns: Columns, depth: int) -> str:
        mine = [text for text, k in columns if k == kind]
        if depth <= 0 or self.once_in(3):
            return self.pick(mine) if mine and not self.once_in(4) else self.pick(LITERALS[kind])

        def v(k: str = kind) -> str:
            return self.value(k, columns, depth - 1)

        which = self.chance.randrange(9)
        if which == 0:
            return f"COALESCE({v()}, {v()})"
        if which == 1:
            return f"NULLIF({v()}, {v()})"
        if which == 2:
            return f"CASE WHEN {self.condition(columns, depth - 1)} THEN {v()} ELSE {v()} END"
        if which == 3:
            other = self.pick(KINDS)
            tested = self.value(other, columns, depth - 1)
            return f"CASE {tested} WHEN {self.value(other, columns, depth - 1)} THEN {v()} WHEN {self.value(other, columns, 0)} THEN {v()} END"
        if which == 4:
            return self.scalar_query(kind, columns, depth - 1)
        if kind == "bool":
            return f"({self.condition(columns, depth - 1)})"
        if kind == "int" and which < 7:
            return f"({v()} {self.pick('+-*')} {v()})"
        if kind == "int" and which == 7:
            return self.pick([f"CHAR_LENGTH({v('text')})", f"ABS({v()})", f"MOD({v()}, 3)"])
        if kind == "dec":
            return f"({v()} {self.pick('+-')} {v(self.pick(('dec', 'int')))})"
        if kind == "text":
            return self.pick([f"({v()} || {v()})", f"UPPER({v()})", f"SUBSTRING({v()} FROM 1 FOR 1)", f"TRIM({v()})"])
        return v()

    def column(self, kind: str, columns: Columns) -> str:
        """A column, or where there is none of this kind a value that has its type in every spelling."""
        mine = [text for text, k in columns if k == kind]
        return self.pick(mine) if mine else self.pick(LITERALS[kind][-1:])

    def scalar_query(self, kind: str, columns: Columns, depth: int) -> str:
        source, inner = self.source(columns, depth, lateral=True)
        own = inner + columns
        function = "MAX" if kind != "bool" else "BOOL_OR"
        if kind == "int" and self.once_in(2):
            return f"(SELECT COUNT({self.pick(['*', self.value('int', own, 0)])}) FROM {source} WHERE {self.condition(own, depth)})"
        if self.once_in(4):
            order = ", ".join(f"{text} NULLS LAST" for text, _ in inner)
            return f"(SELECT {self.value(kind, own, 1)} FROM {source} WHERE {self.condition(own, depth)} ORDER BY {order} FETCH FIRST 1 ROW ONLY)"
        return f"(SELECT {function}({self.value(kind, own, 1)}) FROM {source} WHERE {self.condition(own, depth)})"

    def condition(self, columns: Columns, depth: int) -> str:
        kind = self.pick(KINDS)

        def v() -> str:
            return self.value(kind, columns, depth - 1)

        which = self.chance.randrange(15)
        if which == 14 and depth > 0:
            return f"{self.scalar_query('int', columns, 0)} {self.pick(SIGNS)} {self.value('int', columns, 0)}"
        if depth > 0 and which < 3:
            return f"({self.condition(columns, depth - 1)} {self.pick(('AND', 'OR'))} {self.condition(columns, depth - 1)})"
        if depth > 0 and which == 3:
            return f"NOT ({self.condition(columns, depth - 1)})"
        if depth > 0 and which < 7:
            return self.subquery_condition(kind, columns, depth - 1)
        if which == 7:
            return f"{v()} IS {self.pick(('', 'NOT '))}NULL"
        if which == 8:
            return f"{v()} {self.pick(('', 'NOT '))}BETWEEN {self.pick(('', 'SYMMETRIC '))}{v()} AND {v()}"
        if which == 9:
            return f"{v()} {self.pick(('', 'NOT '))}IN ({v()}, {v()}, {v()})"
        if which == 10:
            return f"{v()} IS {self.pick(('', 'NOT '))}DISTINCT FROM {v()}"
        if which == 11:
            return f"({self.condition(columns, depth - 1)}) IS {self.pick(('', 'NOT '))}{self.pick(('TRUE', 'FALSE', 'UNKNOWN'))}"
        if which == 12:
            other = self.pick(KINDS)
            w = [self.value(other, columns, 0) for _ in range(2)]
            return f"({v()}, {w[0]}) {self.pick(SIGNS)} ({v()}, {w[1]})"
        if which == 13:
            text = self.value("text", columns, depth - 1)
            return f"{text} {self.pick(('', 'NOT '))}LIKE {self.pick(['%a%'.join(chr(39) * 2), chr(39) + 'a_' + chr(39), chr(39) + '%' + chr(39), chr(39) + '_' + chr(39)])}"
        return f"{v()} {self.pick(SIGNS)} {v()}"

    def subquery_condition(self, kind: str, columns: Columns, depth: int) -> str:
        source, inner = self.source(columns, depth, lateral=True)
        own = inner + columns
        where = self.condition(own, depth)
        which = self.chance.randrange(5)
        if which == 0:
            return f"{self.pick(('', 'NOT '))}EXISTS (SELECT 1 FROM {source} WHERE {where})"
        column = self.value(kind, own, 0)
        operand = self.value(kind, columns, 0)
        if which == 1:
            return f"{operand} {self.pick(SIGNS)} {self.pick(('ANY', 'ALL'))} (SELECT {column} FROM {source} WHERE {where})"
        if which == 2:
            other = self.pick(KINDS)
            pair = f"({operand}, {self.value(other, columns, 0)})"
            return f"{pair} {self.pick(('', 'NOT '))}IN (SELECT {column}, {self.value(other, own, 0)} FROM {source} WHERE {where})"
        if which == 3 and kind in ("int", "dec"):
            column = self.value(self.pick(("int", "dec")), own, 0)
        return f"{operand} {self.pick(('', 'NOT '))}IN (SELECT {column} FROM {source} WHERE {where})"

    # -- FROM

    def primary(self, outer: Columns, depth: int, lateral: bool) -> tuple[str, Columns]:
        if depth > 0 and self.once_in(4):
            alias = self.name("q")
            text, kinds = self.query(outer if lateral and self.once_in(2) else [], depth - 1)
            names = [f"k{n}" for n in range(len(kinds))]
            word = "LATERAL " if lateral else ""
            return f"{word}({text}) {alias} ({', '.join(names)})", [
                (f"{alias}.{n}", k) for n, k in zip(names, kinds, strict=True)
            ]
        table, alias = self.pick(tuple(TABLES)), self.name("t")
        return f"{table} {alias}", [(f"{alias}.{c}", k) for c, k in TABLES[table].items()]

    def source(self, outer: Columns, depth: int, lateral: bool = False) -> tuple[str, Columns]:
        text, columns = self.primary(outer, depth, lateral)
        while self.once_in(2) and len(columns) < 24:
            kind = self.pick(("JOIN", "JOIN", "LEFT JOIN", "RIGHT JOIN", "FULL JOIN", "CROSS JOIN"))
            other, more = self.primary(outer, depth, False)
            both = columns + more
            if kind == "CROSS JOIN":
                text = f"{text} CROSS JOIN {other}"
            else:
                # The peer takes no other condition for FULL JOIN than equalities of columns.
                left = [(c, k) for c, k in columns if any(k == m for _, m in more)]
                on = self.condition(both, 1)
                if kind == "FULL JOIN" or (left and self.once_in(2)):
                    if not left:
                        continue
                    c, k = self.chance.choice(left)
                    equal = f"{c} = {self.pick([m for m, mk in more if mk == k])}"
                    on = equal if kind == "FULL JOIN" or self.once_in(2) else f"{equal} AND {on}"
                text = f"{text} {kind} {other} ON {on}"
            columns = both
        return text, columns

    # -- queries

    def query(self, outer: Columns, depth: int) -> tuple[str, list[str]]:
        """A query and the kinds of its columns."""
        if depth > 0 and self.once_in(6):
            left, kinds = self.select(outer, depth - 1)
            right, _ = self.select(outer, depth - 1, kinds)
            word = self.pick(("UNION", "UNION ALL", "EXCEPT", "EXCEPT ALL", "INTERSECT", "INTERSECT ALL"))
            return f"({left}) {word} ({right})", kinds
        return self.select(outer, depth)

    def select(self, outer: Columns, depth: int, kinds: list[str] | None = None) -> tuple[str, list[str]]:
        source, columns = self.source(outer, depth)
        own = columns + outer
        kinds = kinds or [self.pick(KINDS) for _ in range(self.chance.randint(1, 3))]
        where = f" WHERE {self.condition(own, depth)}" if not self.once_in(3) else ""
        shape = self.chance.randrange(6)
        if shape == 0:
            return self.grouped(source, columns, where, kinds, depth), kinds
        if shape == 1 and columns:
            return self.windowed(source, columns, where, kinds), kinds
        items = ", ".join(self.value(k, own, depth) for k in kinds)
        distinct = "DISTINCT " if self.once_in(5) else ""
        return f"SELECT {distinct}{items} FROM {source}{where}", kinds

    def grouped(self, source: str, columns: Columns, where: str, kinds: list[str], depth: int) -> str:
        keys = [self.chance.choice(columns) for _ in range(self.chance.randint(0, 2))]
        if keys and self.once_in(4) and keys[0][1] in ("int", "dec"):
            keys[0] = (f"({keys[0][0]} + 1)", keys[0][1])
        names = ", ".join(dict.fromkeys(k for k, _ in keys))
        group = f" GROUP BY {names}" if keys else ""
        if keys and self.once_in(3):
            group = f" GROUP BY {self.pick(('ROLLUP', 'CUBE'))} ({names})"
        reach: Columns = [(k, kind) for k, kind in keys]
        for kind in KINDS:
            reach.append((self.aggregate(kind, columns), kind))
        items = ", ".join(self.value(k, reach, min(depth, 1)) for k in kinds)
        having = f" HAVING {self.condition(reach, 1)}" if self.once_in(2) else ""
        if not keys and not having and not any(call in items for call, _ in reach):
            having = " HAVING COUNT(*) >= 0"
        return f"SELECT {items} FROM {source}{where}{group}{having}"

    def aggregate(self, kind: str, columns: Columns) -> str:
        inner = self.column(kind, columns)
        where = f" FILTER (WHERE {self.condition(columns, 0)})" if self.once_in(4) else ""
        if kind == "int":
            distinct = self.pick(("", "DISTINCT "))
            return self.pick(
                [
                    f"COUNT(*){where}",
                    f"COUNT({distinct}{inner}){where}",
                    f"CAST(SUM({distinct}{inner}){where} AS INTEGER)",
                    f"MIN({inner}){where}",
                ]
            )
        if kind == "bool":
            return f"{self.pick(('EVERY', 'BOOL_OR'))}({inner}){where}"
        return f"{self.pick(('MIN', 'MAX'))}({inner}){where}"

    def windowed(self, source: str, columns: Columns, where: str, kinds: list[str]) -> str:
        order = ", ".join(
            f"{text} {self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}" for text, _ in columns
        )
        items: list[str] = []
        for kind in kinds:
            inner = self.column(kind, columns)
            if items:  # rows that are equal in all columns are not told apart: one window only
                items.append(inner)
                continue
            part = f"PARTITION BY {self.chance.choice(columns)[0]} " if self.once_in(2) else ""
            frame = self.frame()
            call = self.pick([f"{f}({inner})" for f in ("FIRST_VALUE", "LAST_VALUE")] + [f"NTH_VALUE({inner}, 2)"])
            if kind == "int":
                call = self.pick(
                    [
                        call,
                        f"COUNT({inner})",
                        f"CAST(SUM({inner}) OVER ({part}ORDER BY {order}{frame}) AS INTEGER)",
                        "COUNT(*)",
                    ]
                )
            elif kind != "bool":
                call = self.pick([call, f"MIN({inner})", f"MAX({inner})"])
            if self.once_in(4):
                call, frame = self.pick([f"LAG({inner})", f"LEAD({inner}, 2)"]), ""
            items.append(call if " OVER " in call else f"{call} OVER ({part}ORDER BY {order}{frame})")
        return f"SELECT {', '.join(items)} FROM {source}{where}"

    def frame(self) -> str:
        if self.once_in(3):
            return ""
        starts = ["UNBOUNDED PRECEDING", "2 PRECEDING", "CURRENT ROW", "1 FOLLOWING"]
        ends = ["1 PRECEDING", "CURRENT ROW", "2 FOLLOWING", "UNBOUNDED FOLLOWING"]
        start = self.pick(starts)
        end = self.pick(ends[(0, 0, 1, 2)[starts.index(start)] :])
        exclude = self.pick(("", "", " EXCLUDE CURRENT ROW", " EXCLUDE GROUP", " EXCLUDE TIES"))
        return f" {self.pick(('ROWS', 'GROUPS'))} BETWEEN {start} AND {end}{exclude}"

    def statement(self) -> str:
        """One query."""
        self.names = 0
        text, _ = self.query([], self.chance.choice((1, 1, 1, 2)))
        if self.once_in(8):
            inner, kinds = self.query([], 1)
            names = ", ".join(f"k{n}" for n in range(len(kinds)))
            items = ", ".join(
                self.value(self.pick(KINDS), [(f"w.k{n}", k) for n, k in enumerate(kinds)], 1) for _ in range(2)
            )
            return f"WITH w ({names}) AS ({inner}) SELECT {items} FROM w"
        return text
