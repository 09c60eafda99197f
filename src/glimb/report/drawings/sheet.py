"""A call sheet drawn: each row a call, with what is expected and, where that is something else, what was seen."""

from __future__ import annotations

from collections.abc import Mapping

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.listing import Cell, listing
from glimb.report.drawings.paper import Drawing, Entry
from glimb.report.text import plural
from glimb.suite.sheet_table import Ran, SheetTable

SHAPES = {"met": ("check", C.MET), "slipped": ("cross", C.SLIP), "broken": ("square", C.SLIP)}


def drawing(table: SheetTable, ran: Mapping[int, Ran], title: str, facts: list[str]) -> Drawing:
    """A sheet as a drawing; `ran` has what its rows came to, by number."""
    verdicts = [one.verdict for one in ran.values()]
    told = [plural(len(table.calls), "call")]
    told += [f"{verdicts.count(word)} {word}" for word in ("met", "slipped", "broken") if word in verdicts]
    legend = [Entry(D.sample(shape, colour), word) for word, (shape, colour) in SHAPES.items()]
    made = Drawing(title, [*facts, *told], legend)
    heads = ["row", *table.columns]
    return listing(made, heads, [_row(table, at, ran.get(at)) for at in table.calls], "call")


def _row(table: SheetTable, at: int, ran: Ran | None) -> list[Cell]:
    shape, colour = SHAPES.get(ran.verdict, ("", C.INK)) if ran is not None else ("", C.INK)
    cells = [Cell(str(at + 1), colour, shape=shape)]
    for column in range(len(table.columns)):
        text = table.shown(at, column)
        is_slipped = ran is not None and column in ran.slipped
        seen = ran.seen.get(column) if ran is not None else None
        if is_slipped and seen is not None:
            text += f"\nseen {seen}"
        is_met = ran is not None and table.is_expected(column) and ran.is_met(column)
        ink = C.SLIP if is_slipped else C.MET if is_met and text else C.INK
        cells.append(Cell(text, ink, is_slipped, fill=C.SLIP_PALE if is_slipped else ""))
    told = "; ".join(ran.told) if ran is not None and not ran.slipped else ""
    if told and cells:
        cells[-1] = cells[-1]._replace(text=f"{cells[-1].text}\n{told}".strip(), colour=C.SLIP)
    return cells
