"""What stands above a ladder: its case and verdict; and what stands there in place of one."""

from __future__ import annotations

from textwrap import wrap
from typing import NamedTuple

from glimb.suite.ladder import Ladder
from glimb.suite.results import CaseResult
from glimb.suite.wording import cut
from glimb.suite.workbench import View
from glimb.tui.drawing import Row, plural, verdict_style
from glimb.tui.palette import VERDICT_SIGNS, Palette
from glimb.tui.text import Text


class Shown(NamedTuple):
    """Which ladder is shown: its case, the result of its run, all ladders (of a twin both sides, behind them the try
    that was laid beside), and the number of the one that is shown."""

    row: Row
    result: CaseResult | None
    ladders: list[Ladder]
    side: int


def ladder_head(shown: Shown, view: View | None, lens: str, changed: bool, colours: Palette) -> Text:
    """All that stands above a ladder."""
    head = case_head(shown.row, _verdict(shown, view), colours)
    if len(shown.ladders) > 1:
        head.append_text(side_head(shown, colours))
    if view is not None and view.typed:
        head.append("  worked on, kept in no file", style=f"bold {colours.warn}")
    if shown.side < len(shown.ladders):
        head.append_text(counts_head(shown.ladders[shown.side], colours))
    if lens:
        head.append(f"  lens: {lens}", style=f"bold {colours.accent}")
    if changed:
        head.append("  the file has changed: r runs it again", style=f"bold {colours.warn}")
    if shown.result is None:
        head.append("  running, s stops", style=f"bold {colours.warn}")
    return head


def _verdict(shown: Shown, view: View | None) -> str:
    """The verdict of the run, or, of a ladder that is worked on, of what stands there now."""
    if shown.result is None:
        return ""
    if view is None or not view.typed:
        return shown.result.verdict
    twin = shown.row.case.twin if shown.row.case is not None else None
    sides = shown.ladders[: len(twin.values) if twin is not None else 1]
    return "slipped" if any(ladder.slip_count for ladder in sides) else "met"


def case_head(row: Row, verdict: str, colours: Palette) -> Text:
    """Verdict and title."""
    head = Text().append(f"  {VERDICT_SIGNS[verdict]} ", style=verdict_style(verdict, colours))
    head.append(cut(row.title, 70), style=f"bold {colours.text}")
    return head


def side_head(shown: Shown, colours: Palette) -> Text:
    """Which of several ladders is shown, which comes next, and how that one is."""
    twin = shown.row.case.twin if shown.row.case is not None else None
    sides = [f"{twin.setting} {value}" for value in twin.values] if twin is not None else [""]
    names = [*sides, *["the try beside it"] * (len(shown.ladders) - len(sides))]
    following = (shown.side + 1) % len(shown.ladders)
    head = Text(f"  {names[shown.side]}" if names[shown.side] else "", style=f"bold {colours.accent}")
    told = f"D: {names[following] or 'back'}"
    if slips := shown.ladders[following].slip_count:
        told += f", {plural(slips, 'slip')}"
    return head.append(f"  ({told})", style=colours.slip if slips else colours.quiet)


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
