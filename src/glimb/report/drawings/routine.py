"""A routine drawn: what it promises and touches, and its source with how often each line was run and what was never
met there."""

from __future__ import annotations

from collections.abc import Callable

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.listing import Cell, listing
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, folded
from glimb.suite.about import About


def drawing(about: About, facts: list[str], shown: Callable[[str], str]) -> Drawing:
    """A routine as a drawing."""
    place = f"{shown(about.file)}:{about.line}"
    legend = [
        Entry(D.sample("point", C.WARN, 9), "something that no case has met"),
        Entry(D.sample("open diamond", C.WARN), "dubious"),
    ]
    made = Drawing(about.signature, [*facts, about.kind, place], legend)
    made.top += [_line(text, made.width - 2 * D.MARGIN) for text in _told(about, shown)]
    made.top.append(Band(8, lambda page, y: None))
    dubious = {line: f"{code}: {message}" for line, code, message in about.findings}
    rows = [_row(about, number, text, dubious) for number, text in enumerate(about.lines, about.line)]
    return listing(made, ("run", "line", "source", "never met, or dubious"), rows, "line")


def _line(text: str, room: float) -> Band:
    rows = folded(text, int(room / (D.CELL * D.TEXT)))

    def draw(page: Page, y: float) -> None:
        for number, row in enumerate(rows):
            page.words(D.MARGIN, y + 9 + number * D.line_height(), row, C.INK)

    return Band(len(rows) * D.line_height(), draw)


def _told(about: About, shown: Callable[[str], str]) -> list[str]:
    """What it promises, reads, changes and calls, and who calls it."""
    told = [f"not valid: {about.problem}"] if about.problem else []
    told += [f"returns {', '.join(about.returns)}"] if about.returns else []
    told += [p.text + (f": not kept, {p.why}" if not p.is_kept else "") for p in about.promises]
    touched = (("reads", about.reads), ("changes", about.changes), ("calls", about.calls))
    told += [f"{word} {', '.join(names)}" for word, names in touched if names]
    callers = [f"{use.owner} ({shown(use.file)}:{use.line})" for use in about.callers]
    told += [f"called by {', '.join(callers)}"] if callers else []
    return told + [f"no longer fits: {use.owner}: {use.problem}" for use in about.misfits]


def _row(about: About, number: int, text: str, dubious: dict[int, str]) -> list[Cell]:
    count = about.counts.get(number)
    hits = f"{count.hits:,}" if count is not None and count.hits is not None else ""
    missing = list(count.missing) if count is not None else []
    told = "\n".join([*missing, *([dubious[number]] if number in dubious else [])])
    shape = "point" if missing else "open diamond" if number in dubious else ""
    is_idle = count is not None and count.hits == 0
    return [
        Cell(hits, C.WARN if is_idle else C.QUIET, is_idle, is_right=True),
        Cell(str(number), C.QUIET, is_right=True),
        Cell(text, C.INK),
        Cell(told, C.WARN, False, shape),
    ]
