"""The proof grid as text and as JSON lines."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator

from glimb.report.text import table_lines
from glimb.suite.evidence import ASSERTED, CANNOT, EVIDENCE, NEVER, SEEN, Row

SIGNS = {ASSERTED: "■", SEEN: "□", NEVER: "·", CANNOT: "–"}
HEADS = ("called", "result", "NULL", "none", "many", "raises", "handled", "undone", "waits")
Shown = Callable[[str], str]


def grid_lines(rows: list[Row], shown: Shown) -> Iterator[str]:
    """Routines down, kinds of evidence across, told apart by shape."""
    cells = [
        [
            f"{shown(row.file)}:{row.line}",
            row.name,
            row.kind,
            *(SIGNS[row.evidence[kind]] for kind in EVIDENCE),
            f"{row.arms.taken}/{row.arms.all}" if row.arms.all else "–",
            f"{row.conditions.taken}/{row.conditions.all}" if row.conditions.all else "–",
        ]
        for row in rows
    ]
    yield from table_lines(["file", "routine", "kind", *HEADS, "arms", "conditions"], cells)
    yield ""
    yield f"{SIGNS[ASSERTED]} asserted   {SIGNS[SEEN]} only seen   {SIGNS[NEVER]} never   {SIGNS[CANNOT]} cannot be"


def json_lines(rows: list[Row], shown: Shown) -> Iterator[str]:
    """An object for each routine (docs/evidence.md tells its fields)."""
    for row in rows:
        told = {
            "file": shown(row.file),
            "line": row.line,
            "routine": row.name,
            "kind": row.kind,
            "evidence": row.evidence,
            "arms": row.arms._asdict(),
            "conditions": row.conditions._asdict(),
        }
        yield json.dumps(told, ensure_ascii=False)
