"""Checking routines: parsing and binding 10,000 lines, beside Python's `ast.parse` of as many tokens."""

from __future__ import annotations

import ast
from collections.abc import Callable

from benchmarks.measure import Benchmark, Glimb
from glimb.lang.source import Source
from glimb.lang.tokens import tokenize

Pair = tuple[Callable[[], object], Callable[[], object]]
ROUTINE = """CREATE FUNCTION price_{n}(wanted INTEGER, nights INTEGER DEFAULT 1) RETURNS DECIMAL(9,2)
BEGIN
  DECLARE total, extra DECIMAL(9,2) DEFAULT 0;
  DECLARE EXIT HANDLER FOR NOT FOUND RETURN NULL;
  SELECT SUM(s.price) INTO total FROM stay s JOIN hut h ON h.id = s.hut WHERE h.id = wanted AND s.price > {n};
  IF total > 100 AND nights > 3 THEN
    SET extra = total * 0.05;
  ELSEIF total IS NULL THEN
    SET total = 0;
  END IF;
  WHILE nights > 1 DO
    SET total = total + extra, nights = nights - 1;
    IF nights = {n} THEN
      SET extra = 0;
    END IF;
  END WHILE;
  RETURN total + CASE wanted WHEN 1 THEN 2.5 WHEN 2 THEN 3.5 ELSE 0 END;
END;
"""
LINES = 10_000


def checked() -> Pair:
    text = "".join(ROUTINE.format(n=n) for n in range(LINES // ROUTINE.count("\n")))
    source = Source(text)
    tokens = len(tokenize(source).tokens)
    line = "total = total + extra * 3 - price(wanted, nights)\n"
    python = line * (tokens // 13)

    def ours() -> None:
        glimb = Glimb(
            "CREATE TABLE hut (id INTEGER PRIMARY KEY);"
            "CREATE TABLE stay (id INTEGER PRIMARY KEY, hut INTEGER, price DECIMAL(8,2))"
        )
        glimb.run(text)

    return ours, lambda: ast.parse(python)


ALL = [Benchmark(f"{LINES:,} lines of routines checked", "ast.parse of as many tokens", 2.5, checked, 3)]
