"""What is known of a routine, drawn: its source with counts, its head and callers, what was counted at a line."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from difflib import unified_diff
from functools import partial
from pathlib import Path

from glimb.suite.about import About, LineCount, Use
from glimb.suite.desk import Installed
from glimb.suite.wording import cut
from glimb.tui.drawing import plural
from glimb.tui.lines import Item, fixed
from glimb.tui.palette import MET, SLIP, Palette
from glimb.tui.source import wrapped_rows
from glimb.tui.sql import coloured_lines
from glimb.tui.text import Text

COUNT_WIDTH = 8
GUTTER = COUNT_WIDTH + 8
UNTRIED, TRIED = "·", "■"
SIDES = {"+": "met", "-": "slip", "@": "accent"}


def routine_items(about: About, colours: Palette, width: int) -> list[Item]:
    """The lines of a routine: how often each ran, a mark where something was never tried, number and text."""
    texts = coloured_lines("\n".join(about.lines), colours)
    marked = {line for line, _, _ in about.findings}
    items = []
    for number, text in enumerate(texts, about.line):
        rows = wrapped_rows(text, max(10, width - GUTTER))
        draw = partial(_line, number, rows, about.counts.get(number), number in marked, colours)
        items.append(Item(draw, number, len(rows)))
    return items


def _line(number: int, rows: list[Text], count: LineCount | None, is_dubious: bool, colours: Palette) -> list[Text]:
    hits = "" if count is None or count.hits is None else f"{count.hits:,}"
    is_idle = count is not None and count.hits == 0
    line = Text(" ").append(hits.rjust(COUNT_WIDTH - 1), style=colours.slip if is_idle else colours.quiet)
    mark = UNTRIED if count is not None and count.missing else TRIED if count is not None and count.met else " "
    line.append(f" {mark}", style=f"bold {colours.slip}" if mark == UNTRIED else colours.met)
    line.append("?" if is_dubious else " ", style=f"bold {colours.warn}")
    line.append(f"{number:>4}  ", style=colours.quiet)
    rows = [Text(row.plain, style=colours.faint) for row in rows] if is_idle else rows
    return [line.append_text(rows[0]), *(Text(" " * (GUTTER + 1)).append_text(row) for row in rows[1:])]


def about_items(about: About, shown: Callable[[Path], str], colours: Palette, width: int) -> list[Item]:
    """What is known of a routine; its callers can be chosen."""
    items = [*(fixed(line) for line in _head(about, colours, width)), fixed(Text(""))]
    if about.callers:
        items.append(fixed(_title("called by", colours)))
    else:
        items += [fixed(_title("called by nobody", colours))]
    for number, use in enumerate(about.callers):
        items.append(Item(partial(_use, use, shown, colours, width), number, 2 if use.problem else 1))
    if about.findings:
        items.append(fixed(_title("dubious (?)", colours)))
        for line, code, message in about.findings:
            items.append(fixed(Text(cut(f"  line {line}  {code}: {message}", width), style=colours.warn)))
    return items


def _title(text: str, colours: Palette) -> Text:
    return Text(f" {text}", style=f"bold {colours.accent}")


def _head(about: About, colours: Palette, width: int) -> Iterator[Text]:
    yield Text(f" {cut(about.signature, width - 1)}", style=f"bold {colours.text}")
    for name, mode, type_, default in about.parameters:
        line = Text("   ").append(f"{mode:6}", style=colours.quiet).append(name, style=colours.text)
        line.append(f"  {type_}", style=colours.accent)
        yield line.append(f"  default {default}" if default else "", style=colours.quiet)
    if about.returns:
        yield Text("   returns ", style=colours.quiet).append(
            cut(", ".join(about.returns), width - 12), style=colours.accent
        )
    if about.problem:
        yield Text(f" {SLIP} not valid: {about.problem}", style=f"bold {colours.slip}")
    for promise in about.promises:
        if promise.is_kept:
            sign = MET if not promise.text.startswith("(") else " "
            yield Text(f" {sign} {promise.text}", style=colours.met if sign == MET else colours.quiet)
        else:
            yield Text(f" {SLIP} {promise.text} is not kept: {promise.why}", style=f"bold {colours.slip}")
    for word, names in (("reads", about.reads), ("changes", about.changes), ("calls", about.calls)):
        told = ", ".join(names) or "nothing"
        yield Text(f"   {word:8} ", style=colours.quiet).append(cut(told, width - 13), style=colours.text)


def _use(use: Use, shown: Callable[[Path], str], colours: Palette, width: int) -> list[Text]:
    place = f"{shown(Path(use.file))}:{use.line}"
    line = Text("  ").append(f"{SLIP if use.problem else ' '} ", style=f"bold {colours.slip}")
    line.append(cut(use.owner, max(10, width - len(place) - 7)), style=colours.text)
    line.append(f"  {place}", style=colours.quiet)
    return [line, Text(f"      {cut(use.problem, width - 6)}", style=colours.slip)] if use.problem else [line]


def line_text(about: About, number: int, colours: Palette, width: int) -> Text:
    """What was counted at a line, and what is dubious there."""
    count = about.counts.get(number)
    lines = [Text(f"line {number}", style=f"bold {colours.text}")]
    if not about.counts:
        lines.append(Text("nothing is counted yet: S, a runs and counts all cases", style=colours.quiet))
    elif count is None:
        lines.append(Text("nothing is counted here", style=colours.quiet))
    else:
        if count.hits is not None:
            lines.append(Text(f"run {plural(count.hits, 'time')} over all cases", style=colours.text))
        lines += [Text(f"{UNTRIED} {one}", style=colours.slip) for one in count.missing]
        lines += [Text(f"{TRIED} {one}", style=colours.met) for one in count.met]
    for line, code, message in about.findings:
        if line == number:
            lines.append(Text(f"? {code}: {message}", style=colours.warn))
    lines += [Text(""), Text(f"{UNTRIED} something was never met   {TRIED} all was   ? dubious", style=colours.quiet)]
    return Text("\n").join(lines)


def difference_text(about: About, other: Installed, colours: Palette) -> Text:
    """How what the ladder has differs from the file."""
    if not other.text:
        return Text("The ladder has no routine of this name.", style=colours.warn)
    lines = [Text(f"The ladder has another one, made at {other.file}:{other.line}", style=f"bold {colours.warn}")]
    for line in list(unified_diff(about.lines, other.text.split("\n"), "file", "ladder", lineterm="", n=2))[2:]:
        style = getattr(colours, SIDES.get(line[:1], "text"))
        lines.append(Text(line, style=style))
    return Text("\n").join(lines)
