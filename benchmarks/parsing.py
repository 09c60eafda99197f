"""Parsing queries, beside a well-known parser of SQL in Python."""

from __future__ import annotations

from collections.abc import Callable

import sqlglot

from benchmarks.measure import Benchmark
from glimb.lang.parser import parse
from glimb.lang.source import Source

QUERY = (
    "SELECT h.id, h.name, COUNT(*) AS n, SUM(s.nights * s.price) + {n} AS total FROM hut h JOIN stay s ON s.hut = h.id "
    "AND s.nights > 2 LEFT JOIN guest g ON g.id = s.guest WHERE h.region = 'north' AND (s.price BETWEEN 10 AND 90.5 OR "
    "g.name LIKE 'A%') AND NOT EXISTS (SELECT 1 FROM closed c WHERE c.hut = h.id) GROUP BY h.id, h.name "
    "HAVING COUNT(*) > 3 ORDER BY total DESC, h.name FETCH FIRST 10 ROWS ONLY"
)


def queries() -> tuple[Callable[[], object], Callable[[], object]]:
    texts = [QUERY.format(n=n) for n in range(1_000)]

    def ours() -> None:
        for text in texts:
            assert not parse(Source(text)).problems

    def theirs() -> None:
        for text in texts:
            sqlglot.parse(text)

    return ours, theirs


ALL = [Benchmark("1,000 queries of 400 characters parsed", "sqlglot.parse", 0.35, queries, 3)]
"""`at most` is what is to be reached, here as in all files beside."""
