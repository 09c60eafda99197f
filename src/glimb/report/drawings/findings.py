"""What a check tells, drawn: each finding with its place and what may be done."""

from __future__ import annotations

from collections.abc import Callable

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.listing import Cell, listing
from glimb.report.drawings.paper import Drawing, Entry
from glimb.suite.checking import ERROR, Told, codes


def drawing(told: list[Told], facts: list[str], shown: Callable[[str], str]) -> Drawing:
    """Findings as a drawing."""
    errors = sum(one.severity == ERROR for one in told)
    legend = [
        Entry(D.sample("cross", C.SLIP), "an error, by its SQLSTATE"),
        Entry(D.sample("open diamond", C.WARN), "something dubious, by the code of its rule"),
    ]
    counts = [f"{errors} error{'s' * (errors != 1)}", f"{len(told) - errors} dubious"]
    made = Drawing("What is wrong or dubious", [*facts, *counts], legend)
    if not told:
        made.left_out.append("nothing is wrong, nothing is dubious")
    remedies = codes()
    return listing(
        made, ("code", "place", "what", "what may be done"), [_row(one, remedies, shown) for one in told], "finding"
    )


def _row(one: Told, remedies: dict[str, str], shown: Callable[[str], str]) -> list[Cell]:
    is_error = one.severity == ERROR
    colour, shape = (C.SLIP, "cross") if is_error else (C.WARN, "open diamond")
    place = f"{shown(one.file)}:{one.line}" if one.file else ""
    return [
        Cell(one.code, colour, True, shape),
        Cell(place, C.QUIET),
        Cell(one.message),
        Cell(one.hint or remedies.get(one.code, ""), C.QUIET),
    ]
