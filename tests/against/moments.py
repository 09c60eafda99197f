"""Random values of dates, times, timestamps and intervals, in the SQL that this engine and PostgreSQL share.

Each is made to a wanted type: `d` date, `t` time, `s` timestamp, `i` interval of days and seconds, `n` number, `b` truth value.
"""

from __future__ import annotations

import random

SCHEMA = "CREATE TABLE e (id INTEGER, d DATE, t TIME(6), s TIMESTAMP(6), i INTERVAL DAY TO SECOND)"
FIELDS: dict[str, tuple[str, ...]] = {"d": ("YEAR", "MONTH", "DAY"), "t": ("HOUR", "MINUTE", "SECOND")}
FIELDS["s"] = FIELDS["d"] + FIELDS["t"]


class Moments:
    """Makes queries from a seed."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)

    def rows(self) -> list[str]:
        values = [[self.pick("NULL", self.literal(kind), self.literal(kind)) for kind in "dtsi"] for _ in range(5)]
        return [f"INSERT INTO e VALUES ({number}, {', '.join(row)})" for number, row in enumerate(values)]

    def pick(self, *items: str) -> str:
        return self.chance.choice(items)

    def query(self) -> str:
        items = ", ".join(f"{self.value(self.pick(*'dtsinbb'), 3)} AS c{n}" for n in range(3))
        return f"SELECT id, {items} FROM e WHERE {self.value('b', 2)}"

    def literal(self, kind: str) -> str:
        number = self.chance.randrange
        day = f"{self.pick('2031', '2032', '1999', '2000', '1900')}-{number(1, 13):02}-{self.pick('01', '02', '15', '27', '28')}"
        time = f"{number(24):02}:{number(60):02}:{number(60):02}" + self.pick("", "", ".5", ".000001", ".25")
        if kind == "i":
            sign = self.pick("", "", "-")
            return self.pick(
                f"INTERVAL '{sign}{number(40)}' DAY",
                f"INTERVAL '{sign}{number(99)}' HOUR",
                f"INTERVAL '{sign}{number(99)}' MINUTE",
                f"INTERVAL '{sign}{number(99)}.5' SECOND",
                f"INTERVAL '{number(40)} {number(24):02}:{number(60):02}' DAY TO MINUTE",
                f"INTERVAL '{number(40):02}:{number(60):02}' HOUR TO MINUTE",
            )
        return {"d": f"DATE '{day}'", "t": f"TIME '{time}'", "s": f"TIMESTAMP '{day} {time}'"}[kind]

    def value(self, kind: str, depth: int) -> str:
        if kind in "dtsi" and (depth == 0 or self.chance.random() < 0.3):
            return self.pick(
                kind,
                kind,
                self.literal(kind),
                "CAST(NULL AS {})".format(
                    {"d": "DATE", "t": "TIME(6)", "s": "TIMESTAMP", "i": "INTERVAL DAY TO SECOND"}[kind]
                ),
            )
        inner = depth - 1
        sign = self.pick("+", "-")
        if kind == "d":
            days = f"INTERVAL '{self.chance.randrange(60)}' DAY"
            months = f"INTERVAL '{self.chance.randrange(30)}' MONTH"
            return self.pick(
                f"CAST({self.value('s', inner)} AS DATE)",
                f"CAST({self.value('d', inner)} {sign} {self.pick(days, months)} AS DATE)",
                self.choice("d", inner),
            )
        if kind == "t":
            return self.pick(
                f"CAST({self.value('s', inner)} AS TIME(6))",
                f"({self.value('t', inner)} {sign} INTERVAL '{self.chance.randrange(30)}' HOUR)",
                self.choice("t", inner),
            )
        if kind == "s":
            return self.pick(
                f"CAST({self.value('d', inner)} AS TIMESTAMP)",
                f"({self.value('s', inner)} {sign} {self.value('i', inner)})",
                self.choice("s", inner),
            )
        if kind == "i":
            return self.pick(
                f"({self.value('s', inner)} - {self.value('s', inner)})",
                f"({self.value('i', inner)} {sign} {self.value('i', inner)})",
                f"(- {self.value('i', inner)})",
                self.choice("i", inner),
            )
        if kind == "n":
            of = self.pick("d", "t", "s")
            return self.pick(
                f"EXTRACT({self.pick(*FIELDS[of])} FROM {self.value(of, max(inner, 0))})",
                f"({self.value('d', max(inner, 0))} - {self.value('d', max(inner, 0))})",
            )
        return self.truth(max(inner, 0))

    def choice(self, kind: str, depth: int) -> str:
        a, b = self.value(kind, depth), self.value(kind, depth)
        return self.pick(
            f"COALESCE({a}, {b})",
            f"CASE WHEN {self.truth(0)} THEN {a} ELSE {b} END",
            f"NULLIF({a}, {b})",
            f"(SELECT {self.pick('MIN', 'MAX')}({kind}) FROM e)",
        )

    def truth(self, depth: int) -> str:
        kind = self.pick(*"dtsi")
        a, b, c = (self.value(kind, depth) for _ in range(3))
        period = self.pick("d", "s", "t")
        starts = [self.value(period, depth) for _ in range(4)]
        return self.pick(
            f"({a} {self.pick('=', '<', '<=', '<>', '>', '>=')} {b})",
            f"({a} BETWEEN {b} AND {c})",
            f"({a} IN ({b}, {c}))",
            f"({a} IS {self.pick('', 'NOT ')}DISTINCT FROM {b})",
            f"({a} IS NULL)",
            f"(({starts[0]}, {starts[1]}) OVERLAPS ({starts[2]}, {starts[3]}))",
            f"(EXTRACT({self.pick(*FIELDS[period])} FROM {starts[0]}) > {self.chance.randrange(40)})",
        )
