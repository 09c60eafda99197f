"""Calls of the functions that this engine and PostgreSQL share, each with all that is awkward for it: NULL, nothing,
negative numbers, ends, characters of several bytes; and within each other."""

from __future__ import annotations

import random
import re

SCHEMA = "CREATE TABLE g (id INTEGER, s VARCHAR(20), n INTEGER, d DECIMAL(12,4), r DOUBLE PRECISION, x VARBINARY(9))"
TEXTS = ("''", "'a'", "' a b '", "'abcabc'", "'xxhutxx'", "'→ den Grat'", "'%_a'")
NUMBERS = ("0", "1", "-1", "2", "3", "7", "-4", "30")
EXACT = ("0", "0.5", "-0.5", "1.5", "2.5", "-2.5", "123.4567", "-99.995", "1")
BYTES = ("X''", "X'00'", "X'0102'", "X'010201'", "X'FF00FF'")
OF = {"s": TEXTS, "n": NUMBERS, "d": EXACT, "r": tuple(f"CAST({v} AS DOUBLE PRECISION)" for v in EXACT), "x": BYTES}
TYPES = {"s": "VARCHAR(20)", "n": "INTEGER", "d": "DECIMAL(12,4)", "r": "DOUBLE PRECISION", "x": "VARBINARY(9)"}
FORMS = {
    "s": (
        "UPPER({s})", "LOWER({s})", "TRIM({s})", "TRIM(LEADING {c} FROM {s})", "TRIM(TRAILING {c} FROM {s})",
        "TRIM(BOTH 'x' FROM {s})", "LPAD({s}, {n}, {s})", "RPAD({s}, {n}, {s})", "LPAD({s}, {n})", "RPAD({s}, {n})",
        "LEFT({s}, ABS({n}))", "RIGHT({s}, ABS({n}))", "REPEAT({s}, {n})", "REPLACE({s}, {s}, {s})", "REVERSE({s})",
        "SUBSTRING({s} FROM {n})", "SUBSTRING({s} FROM {n} FOR {n})", "OVERLAY({s} PLACING {s} FROM {n})",
        "OVERLAY({s} PLACING {s} FROM {n} FOR {n})", "{s} || {s}", "COALESCE({s}, {s})", "NULLIF({s}, {s})",
        "CASE WHEN {s} < {s} THEN {s} ELSE {s} END",
    ),
    "n": (
        "CHAR_LENGTH({s})", "OCTET_LENGTH({s})", "OCTET_LENGTH({x})", "POSITION({s} IN {s})", "POSITION({x} IN {x})",
        "ABS({n})", "MOD({n}, {n})", "{n} / {n}", "{n} * {n} - {n}", "COALESCE({n}, {n})", "NULLIF({n}, {n})",
        "WIDTH_BUCKET({d}, {d}, {d}, {n})", "CAST({d} AS INTEGER)",
    ),
    "d": (
        "ABS({d})", "{d} + {d}", "{d} - {d}", "FLOOR(CAST({d} AS DECIMAL(12,4)))", "CEILING(CAST({d} AS DECIMAL(12,4)))", "ROUND({d}, 2)", "ROUND({d}, 0)",
        "ROUND({d}, -1)", "TRUNCATE({d}, 1)", "TRUNCATE({d}, -2)", "MOD({d}, {d})", "- {d}",
        "CAST({s} AS DECIMAL(12,4))", "CAST({n} AS DECIMAL(12,4))",
    ),
    "r": (
        "SQRT({r})", "EXP({n})", "LN({r})", "POWER({r}, {n})", "ABS({r})", "FLOOR({r})", "CEILING({r})", "{r} * {r}",
        "{r} / {r}", "SIN({r})", "COS({r})", "TAN({r})", "ATAN({r})", "SIGN({r})", "CAST({d} AS DOUBLE PRECISION)",
    ),
    "x": (
        "{x} || {x}", "SUBSTRING({x} FROM {n})", "SUBSTRING({x} FROM {n} FOR {n})", "TRIM(X'00' FROM {x})",
        "OVERLAY({x} PLACING {x} FROM {n} FOR {n})", "COALESCE({x}, {x})",
    ),
}  # fmt: skip


def there(text: str) -> str:
    """As the peer spells it."""
    text = re.sub(r"X'([0-9A-F]*)'", r"'\\x\1'::bytea", text.replace("VARBINARY(9)", "BYTEA"))
    return text.replace("TRUNCATE(", "TRUNC(")


class Functions:
    """Makes queries from a seed: constants and columns as arguments, for they take different ways."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)

    def rows(self) -> list[str]:
        found = []
        for number in range(6):
            values = [self.chance.choice(("NULL", *OF[kind])) for kind in OF]
            found.append(f"INSERT INTO g VALUES ({number}, {', '.join(values)})")
        return found

    def query(self) -> str:
        """A call for each row."""
        self.kind = self.chance.choice("ssssnnddrx")
        return f"SELECT id, {self.value(self.kind, 2)} AS c FROM g"

    def value(self, kind: str, depth: int) -> str:
        if depth == 0 or self.chance.random() < 0.25:
            return self.chance.choice((kind, *OF[kind], f"CAST(NULL AS {TYPES[kind]})"))
        form = self.chance.choice(FORMS[kind])
        for inner in (*OF, "c"):
            while f"{{{inner}}}" in form:
                made = self.chance.choice(("' '", "'a'", "'x'")) if inner == "c" else self.value(inner, depth - 1)
                form = form.replace(f"{{{inner}}}", made, 1)
        return f"({form})"
