"""A step of a course, drawn: the source it stands in, the variables in sight, and all steps as a strip. No widgets."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from textwrap import wrap

from glimb.engine.outcomes.steps import Variable
from glimb.engine.values.conversion import literal_of
from glimb.suite import ways
from glimb.suite.climbing import Line
from glimb.suite.course import Course, Scene
from glimb.suite.wording import counts_text, cut
from glimb.tui import palette as P
from glimb.tui.drawing import one_line, plural
from glimb.tui.facets import aligned, change_text, head_text
from glimb.tui.lines import Item
from glimb.tui.palette import Palette
from glimb.tui.sql import coloured_lines
from glimb.tui.text import Text

COUNT_WIDTH = 7
GUTTER = COUNT_WIDTH + 8
"""Columns before the text: how often, the present step's mark, the number of the line."""
LEAST_BESIDE, MOST_BESIDE = 12, 34
WIDEST_STEP = 6
"""Columns of the strip that a step has, where there are few."""
HEIGHTS = "▁▂▃▄▅▆▇█"
MARKS = {"row": "~", "condition": "!", "handler": "⚑"}


# ---- source


def source_items(course: Course, at: int, colours: Palette, width: int) -> list[Item]:
    """The source of the scene of a step, with how often its lines ran and what they assigned."""
    scene = course.scene(at)
    ran, certain = course.ran(scene), course.is_certain(scene)
    texts = coloured_lines("\n".join(scene.lines), colours)
    most = min(MOST_BESIDE, (width - GUTTER) // 3)
    told = {number: _told(course.told_at(scene, number, at), most) for number in scene.at_line}
    beside = max(LEAST_BESIDE, *(len(t) for t in told.values()))
    here = course.lines[at]
    items, idle = [], course.idle(scene)
    for number, text in enumerate(texts, scene.first):
        rows = wrapped_rows(text, max(10, width - GUTTER - beside - 2))
        draw = partial(
            _source_line,
            number,
            rows,
            _count(ran.get(number), certain),
            (told.get(number, ""), _is_later(scene, number, at)),
            (number == here.line, number in idle),
            colours,
            width - beside,
        )
        items.append(Item(draw, number, len(rows)))
    return items


def wrapped_rows(text: Text, width: int) -> list[Text]:
    """A line of source on as many lines as it needs; the later ones are set in as the first is."""
    if len(text) <= width:
        return [text]
    indent = len(text.plain) - len(text.plain.lstrip()) + 2
    if indent > width // 2:
        indent = 2
    rows, start, room = [], 0, width
    while start < len(text):
        rest = text.plain[start:]
        end = len(rest) if len(rest) <= room else max(rest.rfind(" ", 0, room + 1), 0) or room
        rows.append(Text(" " * indent if start else "").append_text(text[start : start + end]))
        start += end
        while start < len(text) and text.plain[start] == " ":
            start += 1
        room = width - indent
    return rows


def _source_line(
    number: int,
    rows: list[Text],
    count: str,
    told: tuple[str, bool],
    state: tuple[bool, bool],
    colours: Palette,
    beside_at: int,
) -> list[Text]:
    (values, is_later), (is_here, is_idle) = told, state
    drawn = []
    for at, row in enumerate(rows):
        line = Text(" ").append((count if not at else "").rjust(COUNT_WIDTH - 1), style=colours.quiet)
        line.append(f" {P.WAKE if is_here and not at else ' '}", style=f"bold {colours.warn}")
        line.append(f"{number if not at else '':>4} ", style=colours.warn if is_here else colours.quiet)
        text = row.copy()
        if is_idle:
            text = Text(row.plain, style=colours.faint)
        if is_here:
            text.stylize("bold")
        line.append_text(text)
        if not at and values:
            line.append(" " * max(1, beside_at - len(line)))
            line.append(values, style=colours.faint if is_later else colours.text)
        drawn.append(line)
    return drawn


def _count(count: int | None, certain: bool) -> str:
    if count is None:
        return ""
    shown = f"{count:,}" if count < 1_000_000 else f"{count / 1_000_000:.1f}M"
    return "·" if not count else shown if certain else f"≥{shown}"


def _is_later(scene: Scene, number: int, at: int) -> bool:
    """Whether a line has not run by a step."""
    steps = scene.at_line.get(number, [])
    return bool(steps) and steps[0] > at


def _told(lines: list[Line], width: int) -> str:
    """What a source line has done: the values that it assigned (without their names where there is no room for them),
    the arm it took, rows, a condition."""
    told = "  ".join(part for line in lines for part in _done(line, True))
    return told if len(told) <= width else cut("  ".join(p for line in lines for p in _done(line, False)), width)


def _done(line: Line, with_names: bool) -> Iterator[str]:
    step = line.step
    if step.condition is not None:
        yield step.condition.sqlstate + (f" {MARKS['handler']}" if step.handled else "")
    if line.branch:
        yield line.branch
    if step.frame is None:
        yield from (f"{v.name} = " * with_names + literal_of(v.value, v.type) for v in step.assigned)
    else:
        yield ", ".join(literal_of(v.value, v.type) for v in step.assigned)
    if step.found_none:
        yield "no row"
    if step.rounds:
        yield plural(step.rounds, "round")
    if step.row_count is not None:
        counts: dict[str, list[int]] = {}
        for change in step.changes:
            kind = 0 if change.before is None else 2 if change.after is None else 1
            counts.setdefault(change.table.name, [0, 0, 0])[kind] += 1
        yield ", ".join(f"{counts_text(n)} {name}" for name, n in counts.items()) or "no row"


# ---- what there is at a step


def step_text(course: Course, at: int, variable: str, colours: Palette, width: int) -> Text:
    """The variables in sight before and behind a step, the one that is followed marked; diagnostics; rows changed."""
    line, lines = course.lines[at], list[Text]()
    for group in course.variables(at):
        lines.append(head_text(group.title, colours))
        rows = [_variable(before, now, variable, colours) for before, now in group.variables]
        lines += aligned(["", "", "before", "behind it"], rows, colours, width)
    if not lines:
        lines.append(Text("\nno variables are in sight here", style=colours.quiet))
    lines += _diagnostics(line, colours, width)
    changes = course.changes(at)
    title = "rows changed so far in this call" if course.scene(at).entered is not None else "rows changed so far"
    lines.append(head_text(title, colours))
    lines += [change_text(change, colours) for change in changes[-60:]]
    if not changes:
        lines.append(Text("none yet", style=colours.quiet))
    return Text("\n").join(lines)


def _variable(before: Variable | None, now: Variable, followed: str, colours: Palette) -> list[Text]:
    was = literal_of(before.value, before.type) if before is not None else "–"
    value = literal_of(now.value, now.type)
    changed = was != value
    return [
        Text("▸" if now.name == followed else "•" if changed else " ", style=f"bold {colours.warn}"),
        Text(now.name, style=f"bold {colours.accent}" if changed else colours.text),
        Text(was, style=colours.quiet),
        Text(value, style=f"bold {colours.text}" if changed else colours.quiet),
    ]


def _diagnostics(line: Line, colours: Palette, width: int) -> Iterator[Text]:
    step = line.step
    yield head_text("diagnostics", colours)
    condition = step.condition
    if condition is not None:
        for text in wrap(f"{condition.sqlstate} {condition.message}", max(20, width)):
            yield Text(text, style=f"bold {colours.slip}")
        handler = step.handler
        if handler is not None:
            told = f"taken by the {handler.name.upper()} handler of line {handler.source.line(handler.span.start)}"
        else:
            told = "no handler takes it here: it leaves"
        yield Text(told, style=colours.warn)
    elif step.found_none:
        yield Text("02000 no row was found", style=colours.warn)
    else:
        yield Text("00000", style=colours.text)
    if step.row_count is not None:
        yield Text(f"ROW_COUNT {step.row_count}", style=colours.text)
    for caller in line.callers:
        told = f"called by {caller.routine or 'the rung'}, line {caller.line}: {one_line(caller.text)}"
        yield Text(cut(told, max(20, width)), style=colours.quiet)


# ---- the strip of all steps


Column = tuple[int, str]
"""A part of the strip: how deep its steps are in calls, and the mark that weighs most."""


def strip(course: Course, width: int) -> list[Column]:
    """All steps from left to right, in no more columns than there is room for."""
    count = len(course)
    columns = count * min(WIDEST_STEP, width // count) if count <= width else max(10, width)
    found: list[Column] = []
    for column in range(columns):
        if column and steps_of(column, columns, count) == steps_of(column - 1, columns, count):
            found.append(found[-1])
            continue
        lines = course.lines[slice(*steps_of(column, columns, count))]
        mark = next((m for m in MARKS if any(_is_marked(line, m) for line in lines)), "")
        found.append((max(len(line.callers) for line in lines), mark))
    return found


def strip_lines(columns: list[Column], here: range, colours: Palette) -> list[Text]:
    """How deep each is in calls, and marks above it; the column of the present step stands out."""
    deepest = max((depth for depth, _ in columns), default=0) or 1
    marks, heights = Text(" "), Text(" ")
    for number, (depth, mark) in enumerate(columns):
        style = {"condition": colours.slip, "handler": colours.warn}.get(mark, colours.accent)
        is_first = not number or columns[number - 1] is not columns[number]
        marks.append(MARKS.get(mark, " ") if is_first else " ", style=f"bold {style}")
        sign = HEIGHTS[depth * (len(HEIGHTS) - 1) // deepest]
        heights.append(
            sign, style=f"bold {colours.warn} on {colours.chosen}" if number in here else colours.sessions[0]
        )
    return [marks, heights]


def steps_of(column: int, columns: int, count: int) -> tuple[int, int]:
    """The steps that a column of the strip stands for."""
    first = column * count // columns
    return first, max(first + 1, -(-(column + 1) * count // columns))


def _is_marked(line: Line, mark: str) -> bool:
    if mark == "handler":
        return line.step.handled
    return line.step.condition is not None if mark == "condition" else bool(line.step.changes)


def legend(course: Course, at: int, variable: str, colours: Palette) -> Text:
    """What the strip's signs mean, where one is, and what is folded."""
    text = Text(f" step {at + 1} of {len(course)}", style=f"bold {colours.text}")
    loop = ways.loop_of(course, at)
    number = ways.round_at(course, at)
    if loop is not None and number:
        text.append(f"   round {number:,} of {course.lines[loop].step.rounds:,}", style=colours.accent)
    if variable:
        text.append(f"   ▸ {variable}", style=colours.warn)
    text.append(f"   {MARKS['row']} row changed  {MARKS['condition']} condition", style=colours.quiet)
    text.append(f"  {MARKS['handler']} handled", style=colours.quiet)
    if course.folds:
        text.append("   some rounds are folded: g goes to one", style=colours.quiet)
    return text
