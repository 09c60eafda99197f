"""How long cases and routines take, drawn: a bar for each, this run beside the last."""

from __future__ import annotations

from functools import partial

from glimb.report.drawings import look as C
from glimb.report.drawings import paper as D
from glimb.report.drawings.paper import Band, Drawing, Entry, Page, shortened
from glimb.report.text import plural
from glimb.suite.timing import Timed, Times

MOST = 200
ROW, HEAD = 21.0, 30.0
NAMES, FIGURES = 300.0, 150.0
NOTABLE = 1.5
"""From this ratio on, something has become slower or faster."""


def drawing(times: Times, facts: list[str]) -> Drawing:
    """The times of cases, and of the statements in which each routine ran."""
    total = sum(one.seconds for one in times.cases)
    told = [plural(len(times.cases), "case"), f"{told_time(total)} together", "least of three runs"]
    made = Drawing("How long cases and routines take", [*facts, *told], _legend(times))
    if not times.cases:
        made.left_out.append("no case was run")
    for title, some in (
        ("Cases", times.cases),
        ("Routines, by the statements in which each ran (one within another counts for both)", times.routines),
    ):
        if not some:
            continue
        made.bands.append(Band(HEAD, partial(_head, title)))
        if len(some) > MOST:
            rest = sum(one.seconds for one in some[MOST:])
            kind = title.split(",")[0].lower()
            told_rest = f"the others take {told_time(rest)}"
            made.left_out.append(f"the {MOST} {kind} of {len(some):,} that take longest are drawn; {told_rest}")
        longest = max(max(one.seconds, one.before or 0.0) for one in some)
        made.bands += [Band(ROW, partial(_row, one, longest)) for one in some[:MOST]]
    return made


def told_time(seconds: float) -> str:
    """A time in the unit that suits it."""
    return (
        f"{seconds:.2f} s"
        if seconds >= 1
        else f"{seconds * 1e3:.2f} ms"
        if seconds >= 1e-3
        else f"{seconds * 1e6:.0f} µs"
    )


def _head(title: str, page: Page, y: float) -> None:
    page.words(D.MARGIN, y + 20, title, C.INK, D.LARGE, True)
    page.line([(D.MARGIN, y + 26), (page.width - D.MARGIN, y + 26)], C.FAINT)


def _row(one: Timed, longest: float, page: Page, y: float) -> None:
    room = page.width - 2 * D.MARGIN - NAMES - FIGURES
    x = D.MARGIN + NAMES
    columns = int((NAMES - 12) / (D.CELL * D.TEXT))
    page.words(D.MARGIN, y + 9, shortened(one.name, columns), C.INK, D.TEXT, name=f"time-{one.name}")
    page.words(D.MARGIN, y + 17, shortened(one.file, columns), C.QUIET, 6.0)
    page.box(x, y + 3, max(0.6, room * one.seconds / longest), 7.5, C.SESSIONS[0])
    if one.before is not None:
        page.box(x, y + 12, max(0.6, room * one.before / longest), 3.5, C.FAINT, C.QUIET)
    figure = told_time(one.seconds)
    ratio = one.seconds / one.before if one.before else 1.0
    notable = ratio >= NOTABLE or ratio <= 1 / NOTABLE
    page.words(page.width - D.MARGIN - FIGURES + 66, y + 10, figure, C.INK, D.TEXT, True, anchor="right")
    told = f"was {told_time(one.before)}" if one.before is not None else "new"
    told += f" ×{ratio:.1f}" if notable else ""
    page.words(page.width - D.MARGIN, y + 10, told, C.WARN if notable else C.QUIET, D.SMALL, notable, anchor="right")


def _legend(times: Times) -> list[Entry]:
    shown = [Entry(D.patch(C.SESSIONS[0]), "this run")]
    if any(one.before is not None for one in (*times.cases, *times.routines)):
        shown.append(Entry(D.patch(C.FAINT, C.QUIET), f"the last run; its ratio where that is {NOTABLE} or more"))
    return shown
