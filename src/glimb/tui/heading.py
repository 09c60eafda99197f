"""What stands above a ladder: its case and verdict; and what stands there in place of one."""

from __future__ import annotations

from textwrap import wrap
from typing import NamedTuple

from glimb.suite.ladder import Ladder
from glimb.suite.results import CaseResult
from glimb.suite.wording import cut
from glimb.suite.workbench import View
from glimb.tui import facets
from glimb.tui.drawing import Row, plural, verdict_style
from glimb.tui.palette import VERDICT_SIGNS, Palette
from glimb.tui.text import Text


class Shown(NamedTuple):
    """Which ladder is shown: its case, the result of its run, the side of a twin or the try laid beside it."""

    row: Row
    result: CaseResult | None
    ladder: Ladder | None
    side: int
    has_try: bool


def ladder_head(shown: Shown, view: View | None, lens: str, changed: bool, colours: Palette) -> Text:
    """All that stands above a ladder."""
    head = case_head(shown.row, shown.result, colours)
    if not shown.has_try:
        head.append_text(side_head(shown.result, shown.side, colours))
    elif shown.side:
        head.append("  the try beside it (D: back)", style=f"bold {colours.accent}")
    if view is not None and view.typed:
        head.append("  worked on, kept in no file", style=f"bold {colours.warn}")
    if shown.ladder is not None:
        head.append_text(counts_head(shown.ladder, colours))
    if lens:
        head.append(f"  lens: {lens}", style=f"bold {colours.accent}")
    if changed:
        head.append("  the file has changed: r runs it again", style=f"bold {colours.warn}")
    if shown.result is None:
        head.append("  running, s stops", style=f"bold {colours.warn}")
    return head


def case_head(row: Row, result: CaseResult | None, colours: Palette) -> Text:
    """Verdict and title."""
    verdict = result.verdict if result is not None else ""
    head = Text().append(f"  {VERDICT_SIGNS[verdict]} ", style=verdict_style(verdict, colours))
    head.append(cut(row.title, 70), style=f"bold {colours.text}")
    return head


def side_head(result: CaseResult | None, side: int, colours: Palette) -> Text:
    """Of a case that runs twice: which run is shown, and how the other one is."""
    head = Text()
    if result is not None and len(result.ladders) > 1:
        head.append(f"  {facets.side_name(result, side)}", style=f"bold {colours.accent}")
        other = result.ladders[1 - side].slip_count
        told = f" (D: the other side, {plural(other, 'slip')})" if other else " (D: the other side)"
        head.append(told, style=colours.slip if other else colours.quiet)
    return head


def counts_head(ladder: Ladder, colours: Palette) -> Text:
    """How many expectations were met, and how many slipped."""
    head = Text().append(f"  {ladder.met_count} met", style=colours.met)
    if ladder.slip_count:
        head.append(f"  {plural(ladder.slip_count, 'slip')}", style=f"bold {colours.slip}")
    return head


def why_empty(row: Row | None, result: CaseResult | None, width: int) -> list[str]:
    """What to say where there is no ladder."""
    if result is None:
        return ["", "running ..."] if row is not None else ["", "Choose a case in the survey: S"]
    lines = ["", f"This case was not run: it is {result.verdict}.", ""]
    for problem in result.problems:
        lines += problem.describe().split("\n")
    if result.case is not None and result.case.skip:
        lines.append(result.case.skip)
    return [part for line in lines for part in wrap(line, max(20, width), drop_whitespace=False) or [""]]
