"""Random queries of the shapes that `queries` has not: recursion, grouping sets, ties, named joins, ordered sets, ranges of
windows, functions of texts and dates; each over what `queries` makes, and within it."""

from __future__ import annotations

import re

from against.queries import KINDS, LITERALS, TABLES, Columns, Maker

SPELLED = re.compile(r"\[\[(.*?)\|\|(.*?)\]\]")
"""What is spelled in two ways, here and there."""
COMMON = {("a", "b"): "id x d s b t".split(), ("a", "c"): "x y d".split(), ("b", "c"): "x d".split()}
"""The names that two tables have in common."""


class Shapes(Maker):
    """Texts in which `[[here||there]]` is spelled in two ways."""

    def statement(self) -> str:
        self.names = 0
        shape, kinds = self.shape()
        if self.once_in(2):
            return shape
        names = [f"k{n}" for n in range(len(kinds))]
        own = [(f"w.{name}", kind) for name, kind in zip(names, kinds, strict=True)]
        items = ", ".join(self.value(self.pick(KINDS), own, 1) for _ in range(2))
        if self.once_in(2):
            return f"SELECT {items} FROM ({shape}) w ({', '.join(names)}) WHERE {self.condition(own, 1)}"
        source, columns = self.source([], 0)
        return f"SELECT {items} FROM {source} LEFT JOIN ({shape}) w ({', '.join(names)}) ON {self.condition(own + columns, 1)}"

    def shape(self) -> tuple[str, list[str]]:
        return self.chance.choice(
            (
                self.recursive,
                self.sets,
                self.ties,
                self.named,
                self.ordered,
                self.ranges,
                self.told,
                self.chained,
                self.ranked,
            )
        )()

    def columns_of(self) -> tuple[str, Columns]:
        return self.source([], self.pick_depth())

    def pick_depth(self) -> int:
        return self.chance.choice((0, 0, 1))

    def keys(self, columns: Columns) -> str:
        return ", ".join(f"{c} {self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}" for c, _ in columns)

    # -- shapes: a query and the kinds of its columns

    def recursive(self) -> tuple[str, list[str]]:
        """Rows that are made of rows, at most four times."""
        kind = self.pick(KINDS)
        source, columns = self.columns_of()
        own: Columns = [("r.n", "int"), ("r.k", kind)]
        first = f"SELECT 0, {self.typed(kind, columns)} FROM {source} WHERE {self.condition(columns, 1)}"
        if self.once_in(2):
            other, more = self.primary([], 0, False)
            step = f"SELECT r.n + 1, {self.typed(kind, own + more)} FROM r JOIN {other}"
            step += f" ON {self.condition(own + more, 1)} WHERE r.n < 2"
        else:
            step = f"SELECT r.n + 1, {self.typed(kind, own)} FROM r WHERE r.n < 4 AND ({self.condition(own, 1)})"
        union = self.pick(("UNION", "UNION ALL"))
        cycle = " CYCLE k SET c TO TRUE DEFAULT FALSE USING p" if union == "UNION ALL" and self.once_in(4) else ""
        told = "SELECT n, k FROM r" if self.once_in(2) else "SELECT COUNT(*), MAX(k) FROM r GROUP BY n"
        if kind == "bool":
            told = "SELECT n, k FROM r"
        return f"WITH RECURSIVE r (n, k) AS ({first} {union} {step}){cycle} {told}", ["int", kind]

    def typed(self, kind: str, columns: Columns) -> str:
        """A value of exactly the type of its kind: a recursive column has that of its first rows."""
        names = {"int": "INTEGER", "dec": "DECIMAL(12,2)", "text": "VARCHAR(40)", "bool": "BOOLEAN", "date": "DATE"}
        return f"CAST({self.value(kind, columns, 1)} AS {names[kind]})"

    def sets(self) -> tuple[str, list[str]]:
        """Grouping sets of all spellings, with GROUPING."""
        source, columns = self.columns_of()
        some = self.chance.sample(columns, min(len(columns), self.chance.randint(1, 3)))
        names = [c for c, _ in some]
        parts = []
        for _ in range(self.chance.randint(1, 2)):
            few = self.chance.sample(names, self.chance.randint(1, len(names)))
            listed = ", ".join(few)
            parts.append(
                self.pick(
                    [
                        f"ROLLUP ({listed})",
                        f"CUBE ({listed})",
                        f"GROUPING SETS (({listed}), ({few[0]}), ())",
                        f"GROUPING SETS (ROLLUP ({listed}), {few[-1]})",
                        listed,
                    ]
                )
            )
        grouped = {
            c
            for part in parts
            for c in names
            if c in part.replace(",", " ").replace("(", " ").replace(")", " ").split()
        }
        keys = [(c, k) for c, k in some if c in grouped]
        reach = [*keys, (self.aggregate("int", columns), "int"), (f"GROUPING({', '.join(c for c, _ in keys)})", "int")]
        kinds = [k for _, k in keys] + ["int", "int"]
        having = f" HAVING {self.condition(reach, 1)}" if self.once_in(3) else ""
        where = f" WHERE {self.condition(columns, 1)}" if self.once_in(2) else ""
        distinct = "DISTINCT " if self.once_in(4) else ""
        items = ", ".join(c for c, _ in reach)
        return f"SELECT {items} FROM {source}{where} GROUP BY {distinct}{', '.join(parts)}{having}", kinds

    def ties(self) -> tuple[str, list[str]]:
        """The first rows, with those that are equal to the last of them."""
        source, columns = self.columns_of()
        kinds = [self.pick(KINDS) for _ in range(2)]
        items = [self.value(kind, columns, 1) for kind in kinds]
        order = f"1 {self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}"
        most = self.chance.randint(1, 4)
        offset = f"OFFSET {self.chance.randint(0, 2)} ROWS " if self.once_in(4) else ""
        if offset:  # which rows are left out must not hang on the order of equal ones
            order += f", 2 {self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}"
        where = f" WHERE {self.condition(columns, 1)}"
        return (
            f"SELECT {', '.join(items)} FROM {source}{where} ORDER BY {order} {offset}FETCH FIRST {most} ROWS WITH TIES",
            kinds,
        )

    def named(self) -> tuple[str, list[str]]:
        """NATURAL and USING: columns of one name become one."""
        (one, other), shared = self.chance.choice(list(COMMON.items()))
        if self.once_in(2):
            one, other = other, one
        kind = self.pick(("", "LEFT ", "RIGHT ", "FULL "))
        if self.once_in(2):
            text, names = f"{one} {self.pick(('NATURAL ' + kind, 'NATURAL '))}JOIN {other}", shared
        else:
            names = self.chance.sample(shared, self.chance.randint(1, min(2, len(shared))))
            text = f"{one} {kind}JOIN {other} USING ({', '.join(names)})"
        kinds = {**TABLES[other], **TABLES[one]}
        columns: Columns = [(n, kinds[n]) for n in names]
        columns += [(f"{t}.{c}", k) for t in (one, other) for c, k in TABLES[t].items() if c not in names]
        shown = [self.pick(KINDS) for _ in range(3)]
        where = f" WHERE {self.condition(columns, 1)}" if self.once_in(2) else ""
        if self.once_in(4):
            return f"SELECT * FROM {text}{where}", [k for _, k in self._all_of(one, other, names)]
        return f"SELECT {', '.join(self.value(k, columns, 1) for k in shown)} FROM {text}{where}", shown

    @staticmethod
    def _all_of(one: str, other: str, names: list[str]) -> Columns:
        kinds = {**TABLES[other], **TABLES[one]}
        rest = [(c, k) for t in (one, other) for c, k in TABLES[t].items() if c not in names]
        return [(n, kinds[n]) for n in names] + rest

    def ordered(self) -> tuple[str, list[str]]:
        """Ordered sets and hypothetical ones."""
        source, columns = self.columns_of()
        kind = self.pick(("int", "dec", "text", "date"))
        inner, order = self.column(kind, columns), f"{self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}"
        text, where = (
            self.column("text", columns),
            f" FILTER (WHERE {self.condition(columns, 0)})" if self.once_in(4) else "",
        )
        numbers = self.column(self.pick(("int", "dec")), columns)
        literal = self.chance.choice(LITERALS[kind][:3])
        calls = [
            (f"PERCENTILE_DISC({self.pick(('0', '0.25', '0.5', '1'))}) WITHIN GROUP (ORDER BY {inner}){where}", kind),
            (
                f"CAST(PERCENTILE_CONT({self.pick(('0', '0.25', '0.5'))}) WITHIN GROUP (ORDER BY {numbers}){where} AS DECIMAL(12,4))",
                "dec",
            ),
            (f"RANK({literal}) WITHIN GROUP (ORDER BY {inner} {order})", "int"),
            (f"DENSE_RANK({literal}) WITHIN GROUP (ORDER BY {inner} {order})", "int"),
            (f"CAST(CUME_DIST({literal}) WITHIN GROUP (ORDER BY {inner} {order}) AS DECIMAL(8,5))", "dec"),
            (f"CAST(PERCENT_RANK({literal}) WITHIN GROUP (ORDER BY {inner} {order}) AS DECIMAL(8,5))", "dec"),
            (
                f"[[LISTAGG({text}, '-') WITHIN GROUP (ORDER BY {text})||STRING_AGG({text}, '-' ORDER BY {text})]]{where}",
                "text",
            ),
        ]
        some = [self.chance.choice(calls) for _ in range(2)]
        group = f" GROUP BY {self.chance.choice(columns)[0]}" if self.once_in(2) else ""
        condition = f" WHERE {self.condition(columns, 1)}" if self.once_in(2) else ""
        return f"SELECT {', '.join(c for c, _ in some)} FROM {source}{condition}{group}", [k for _, k in some]

    def ranges(self) -> tuple[str, list[str]]:
        """Frames by value, of a named window that is gone on with."""
        source, columns = self.columns_of()
        kind = self.pick(("int", "dec", "date"))
        key, inner = self.column(kind, columns), self.column("int", columns)
        step = {"int": "1", "dec": "0.75", "date": "INTERVAL '1' DAY"}[kind]
        start = self.pick([f"{step} PRECEDING", "CURRENT ROW", "UNBOUNDED PRECEDING", f"{step} FOLLOWING"])
        end = self.pick(
            [f"{step} FOLLOWING", "UNBOUNDED FOLLOWING"] + ([] if "FOLLOWING" in start else ["CURRENT ROW"])
        )
        order = f"{key} {self.pick(('ASC', 'DESC'))} NULLS {self.pick(('FIRST', 'LAST'))}"
        part = f"PARTITION BY {self.chance.choice(columns)[0]}" if self.once_in(2) else ""
        exclude = self.pick(("", "", " EXCLUDE CURRENT ROW", " EXCLUDE GROUP"))
        frame = f"RANGE BETWEEN {start} AND {end}{exclude}"
        function = self.pick(
            [f"COUNT({inner})", f"MIN({inner})", f"CAST(SUM({inner}) OVER (w {frame}) AS INTEGER)", "COUNT(*)"]
        )
        call = function if " OVER " in function else f"{function} OVER (w {frame})"
        return f"SELECT {call}, {key} FROM {source} WINDOW w AS ({part} ORDER BY {order})", ["int", kind]

    def ranked(self) -> tuple[str, list[str]]:
        """Ranks, also of groups."""
        source, columns = self.columns_of()
        if self.once_in(3):
            key, kind = self.chance.choice(columns)
            call = self.pick(["RANK()", "DENSE_RANK()", "CAST(SUM(COUNT(*)) AS INTEGER)", "MAX(COUNT(*))"])
            if call.startswith("CAST"):
                call = f"CAST(SUM(COUNT(*)) OVER (ORDER BY COUNT(*), {key} NULLS FIRST) AS INTEGER)"
            else:
                call = f"{call} OVER (ORDER BY COUNT(*), {key} NULLS FIRST)"
            return f"SELECT {key}, {call} FROM {source} GROUP BY {key}", [kind, "int"]
        key, kind = self.chance.choice(columns)
        call = self.pick(
            [
                "RANK()",
                "DENSE_RANK()",
                "CAST(PERCENT_RANK() OVER v AS DECIMAL(8,5))",
                "CAST(CUME_DIST() OVER v AS DECIMAL(8,5))",
            ]
        )
        part = f"PARTITION BY {self.chance.choice(columns)[0]}" if self.once_in(2) else ""
        shown = call if " OVER " in call else f"{call} OVER v"
        return f"SELECT {key}, {shown} FROM {source} WINDOW v AS ({part} ORDER BY {self.keys([(key, kind)])})", [
            kind,
            "dec",
        ]

    def told(self) -> tuple[str, list[str]]:
        """Functions of texts, numbers and dates."""
        source, columns = self.columns_of()
        text, other = (self.value("text", columns, 1) for _ in range(2))
        number, date, dec = (self.value(kind, columns, 1) for kind in ("int", "date", "dec"))
        calls = [
            (f"POSITION({text} IN {other})", "int"),
            (f"OVERLAY({text} PLACING {other} FROM {self.pick('12')} FOR {self.pick('012')})", "text"),
            (f"SUBSTRING({text} FROM {self.pick(('-1', '0', '1', '2'))} FOR {self.pick('0123')})", "text"),
            (f"TRIM({self.pick(('LEADING', 'TRAILING', 'BOTH'))} 'a' FROM {text})", "text"),
            (f"EXTRACT({self.pick(('YEAR', 'MONTH', 'DAY'))} FROM {date})", "int"),
            (f"{self.pick(('CEIL', 'FLOOR', 'ABS'))}(CAST({dec} AS DECIMAL(8,2)))", "dec"),
            (f"MOD({number}, {self.pick(('2', '-3'))})", "int"),
            (f"WIDTH_BUCKET({dec}, 0, 3, {self.pick('134')})", "int"),
            (f"{self.pick(('LOWER', 'UPPER'))}({text} || {other})", "text"),
            (
                f"({text} SIMILAR TO {self.pick(['%(a|b)%'.join(chr(39) * 2), chr(39) + '[a-b]+' + chr(39), chr(39) + '_?' + chr(39)])})",
                "bool",
            ),
            (f"({text} LIKE {other} ESCAPE '!')", "bool"),
            (f"({date} + INTERVAL '1' DAY > {date})", "bool"),
            (f"CHAR_LENGTH(CAST({number} AS VARCHAR(12)))", "int"),
            (f"CAST({dec} AS INTEGER)", "int"),
            (f"CAST(({text} || '7') AS VARCHAR({self.pick('123')}))", "text"),
            (f"({self.condition(columns, 1)})", "bool"),
        ]
        some = [self.chance.choice(calls) for _ in range(3)]
        return f"SELECT {', '.join(c for c, _ in some)} FROM {source}", [k for _, k in some]

    def chained(self) -> tuple[str, list[str]]:
        """Queries with names, one built on the other, and arms of set operations with an order of their own."""
        first, kinds = self.query([], 1)
        names = [f"k{n}" for n in range(len(kinds))]
        own = [(f"p.{name}", kind) for name, kind in zip(names, kinds, strict=True)]
        second = f"SELECT {', '.join(c for c, _ in own)} FROM p WHERE {self.condition(own, 1)}"
        order = ", ".join(f"{n} NULLS {self.pick(('FIRST', 'LAST'))}" for n in range(1, len(kinds) + 1))
        arm = f"(SELECT * FROM q ORDER BY {order} FETCH FIRST {self.pick('123')} ROWS ONLY)"
        word = self.pick(("UNION", "UNION ALL", "EXCEPT", "EXCEPT ALL", "INTERSECT", "INTERSECT ALL"))
        values = ", ".join(self.chance.choice(LITERALS[kind]) for kind in kinds)
        last = self.pick(["SELECT * FROM p", f"(VALUES ({values}))", "(SELECT * FROM p UNION SELECT * FROM q)"])
        listed = ", ".join(names)
        return f"WITH p ({listed}) AS ({first}), q ({listed}) AS ({second}) {arm} {word} {last}", kinds
