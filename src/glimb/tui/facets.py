"""The facets of a rung or step as text: what was expected, what was seen, side by side and cell by cell."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import assert_never

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.changes import Change
from glimb.suite import telling
from glimb.suite.evidence import ASSERTED, CANNOT, NEVER, SEEN, Where
from glimb.suite.evidence import Row as ProofRow
from glimb.suite.expectations.kind import Comparison, Verdict
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.results import CaseResult
from glimb.suite.telling import Part, parts, told
from glimb.suite.wording import cut, failure_text, waiting_text
from glimb.tui import palette as P
from glimb.tui.drawing import Row, one_line, plural, verdict_style
from glimb.tui.palette import Palette
from glimb.tui.proof import HEADS, SIGNS, STANDING, cell_text, standing, told_standing
from glimb.tui.sql import coloured_lines
from glimb.tui.text import Text

MAX_ROWS = 200
MOST_LINES = 400
"""Lines of a case's text that the survey shows beside it."""


def head_text(title: str, colours: Palette) -> Text:
    """The title of a facet."""
    return Text(f"\n{title}", style=f"bold {colours.accent}")


def aligned(header: list[str], rows: list[list[Text]], colours: Palette, width: int) -> Iterator[Text]:
    """Aligned columns; where they do not fit, the widest give way, and what has no room at all is counted."""
    widths = [max(len(h), *(len(r[i]) for r in rows)) if rows else len(h) for i, h in enumerate(header)]
    while sum(widths) + 2 * len(widths) > width and max(widths) > 6:
        widths[widths.index(max(widths))] -= 1
    shown = len(widths)
    while shown > 1 and sum(widths[:shown]) + 2 * shown > width:
        shown -= 1
    missing = f" +{plural(len(widths) - shown, 'column')}" if shown < len(widths) else ""
    line = Text(
        "  ".join(cut(h, w).ljust(w) for h, w in zip(header[:shown], widths, strict=False)), style=colours.quiet
    )
    yield line.append(missing, style=colours.quiet)
    for row in rows:
        drawn = Text()
        for cell, cell_width in zip(row[:shown], widths, strict=False):
            fitted = cell.copy()
            fitted.truncate(cell_width, overflow="ellipsis", pad=True)
            drawn.append_text(fitted)
            drawn.append("  ")
        yield drawn


def locks_at(ladder: Ladder, number: int, colours: Palette, width: int) -> Text:
    """All sessions after a rung: their transactions and waits, and who holds what in which mode, since which rung."""
    rung = ladder.rungs[number]
    waits = ladder.waits_at(number)
    lines = [Text(f"sessions and locks after rung {rung.number}", style=f"bold {colours.accent}"), Text("")]
    for at, name in enumerate(ladder.sessions):
        state = rung.rails[name]
        words = {"none": "no transaction", "open": "transaction open", "waiting": "waits"}[state.state]
        sign = {"none": P.RAIL_NONE, "open": P.RAIL_OPEN, "waiting": P.RAIL_WAITING}[state.state]
        line = Text(f"{sign} ", style=colours.session(at)).append(f"{name:<10}", style=f"bold {colours.session(at)}")
        if name in waits:
            waiting = waits[name].outcome.waiting
            words = f"{waiting_text(waiting)}, since rung {waits[name].number}"
            line.append(f"{P.WAIT} {words}", style=colours.warn)
        else:
            line.append(f"{words}, {plural(len(ladder.held_at(number, name)), 'lock')}", style=colours.text)
        lines.append(line)
    lines += _lock_table(ladder, number, waits, colours, width)
    lines.append(Text("\nh goes back to the facets", style=f"italic {colours.quiet}"))
    return Text("\n").join(lines)


def _lock_table(ladder: Ladder, number: int, waits: dict[str, Rung], colours: Palette, width: int) -> Iterator[Text]:
    """A line for every resource, a column for every session: mode and the rung that took it, or what it waits for."""
    cells: dict[tuple[str, str, str], dict[str, Text]] = {}
    for name in ladder.sessions:
        for spell in ladder.held_at(number, name)[:MAX_ROWS]:
            lock, first = spell.at(number), spell.lock.mode
            mode = lock.mode if first == lock.mode else f"{first} → {lock.mode}"
            cell = Text(f"{mode:<3} rung {ladder.rungs[spell.start].number}", style=colours.text)
            cells.setdefault((lock.table, lock.kind, lock.key), {})[name] = cell
    for name, rung in waits.items():
        waiting = rung.outcome.waiting
        if waiting is not None:
            held = cells.setdefault((waiting.table, waiting.kind, waiting.key), {})
            before = held[name].plain.split()[0] + " → " if name in held else ""
            held[name] = Text(f"{P.WAIT} {before}{waiting.mode}", style=f"bold {colours.warn}")
    yield head_text("locks", colours)
    if not cells:
        yield Text("nobody holds a lock", style=colours.quiet)
        return
    ordered = sorted(cells, key=lambda c: (c[0], c[1] != "table", c[2]))
    rows = [
        [Text(f"{kind} {table} {key}".rstrip()), *(cells[table, kind, key].get(n, Text("")) for n in ladder.sessions)]
        for table, kind, key in ordered
    ]
    yield from aligned(["", *ladder.sessions], rows, colours, width)


def rung_facets(rung: Rung, ladder: Ladder, colours: Palette, width: int) -> Text:
    """Everything about the chosen rung."""
    outcome = rung.last
    lines: list[Text] = [Text(f"{rung.session} · rung {rung.number} · line {rung.line}", style=colours.quiet)]
    lines += [Text(line, style=colours.text) for line in _dedented(rung.text)]
    if rung.verdicts:
        lines.append(head_text("expected", colours))
        for verdict in rung.verdicts:
            lines += _verdict(verdict, colours, width)
    if rung.outcome.waiting is not None:
        lines.append(head_text("wait", colours))
        lines.append(Text(f"{P.WAIT} {waiting_text(rung.outcome.waiting)}", style=colours.warn))
        ended = (
            "it was still waiting at the end"
            if rung.final is None
            else f"it went on at rung {(rung.ended_at or 0) + 1}"
        )
        lines.append(Text(ended, style=colours.quiet))
    lines += outcome_facets(outcome, colours, width)
    if outcome.failure is not None and outcome.failure.circle:
        lines += _circle_locks(rung, ladder, colours, width)
    if outcome.version is not None and outcome.failure is None:
        lines.append(head_text("version", colours))
        seen = ladder.version_rung(outcome.version)
        told = f"rows as committed at rung {seen.number}" if seen is not None else "rows as they are in the fixture"
        lines.append(Text(f"{told}; others have changed them since", style=colours.text))
    if rung.steps:
        lines.append(Text("\nEnter climbs into the call", style=f"italic {colours.quiet}"))
    return Text("\n").join(lines)


def _circle_locks(rung: Rung, ladder: Ladder, colours: Palette, width: int) -> Iterator[Text]:
    """The locks that closed a circle of waits, each with the statement that took it."""
    number = rung.number - 2
    failure = rung.outcome.failure
    if number < 0 or failure is None:
        return
    yield head_text("locks in the circle", colours)
    for name in ladder.sessions:
        for spell in ladder.held_at(number, name):
            lock = spell.at(number)
            if any((b.holder, b.lock.table, b.lock.key) == (name, lock.table, lock.key) for b in failure.circle):
                taken = ladder.rungs[spell.start]
                told = f"{name} holds {lock.mode} {lock.kind} {lock.table} {lock.key}".rstrip()
                yield Text(f"{told} since rung {taken.number}", style=colours.text)
                yield Text(f"  {cut(one_line(taken.text), max(10, width - 3))}", style=colours.quiet)


def _dedented(text: str) -> list[str]:
    lines = text.split("\n")
    rest = [len(line) - len(line.lstrip()) for line in lines[1:] if line.strip()]
    by = min(rest, default=0)
    return [lines[0], *(line[by:] for line in lines[1:])][:30]


def _verdict(verdict: Verdict, colours: Palette, width: int) -> Iterator[Text]:
    text = verdict.expectation.text if verdict.expectation is not None else verdict.expected
    if verdict.met:
        yield Text(f"{P.MET} {text}", style=colours.met)
        return
    yield Text(f"{P.SLIP} {text}", style=f"bold {colours.slip}")
    yield Text(f"  seen: {verdict.seen}", style=colours.text)
    if verdict.comparison is not None:
        yield from _comparison(verdict.comparison, colours, width)


def _comparison(comparison: Comparison, colours: Palette, width: int) -> Iterator[Text]:
    """Expected and seen rows: `=` both, `-` only expected, `+` only seen; cells that differ stand out."""
    rows: list[list[Text]] = []
    for expected, seen in zip(comparison.expected, comparison.seen, strict=True):
        if expected and seen and all(c.agrees for c in expected):
            rows.append([Text("="), *(Text(c.text, style=colours.quiet) for c in expected)])
            continue
        for sign, cells, colour in (("-", expected, colours.met), ("+", seen, colours.slip)):
            if cells:
                style = f"bold underline {colour}"
                rows.append([Text(sign, style=colour), *(Text(c.text, style="" if c.agrees else style) for c in cells)])
    yield from aligned(["", *comparison.header], rows[:MAX_ROWS], colours, width)
    yield Text("- expected  + seen", style=colours.quiet)


def outcome_facets(outcome: Outcome, colours: Palette, width: int) -> Iterator[Text]:
    """Condition, rows, values, notes, changes, locks and transaction of a statement."""
    for part in parts(outcome):
        yield from _facet(part, colours, width)


def _facet(part: Part, colours: Palette, width: int) -> Iterator[Text]:
    match part:
        case telling.Waits() | telling.Count() | telling.Wakes():
            pass  # The rung tells its wait from its beginning to its end, the rows count themselves, the rails wake.
        case telling.Condition(failure):
            yield head_text("condition", colours)
            yield Text(failure_text(failure), style=f"bold {colours.slip}")
            yield from (Text(f"  {P.WAIT} {blocked}", style=colours.warn) for blocked in failure.circle)
            if failure.details:
                yield Text(failure.details, style=colours.text)
        case telling.Rows(number, of, columns, rows):
            which = f"result {number}: " if of > 1 else ""
            yield head_text(which + plural(len(rows), "row"), colours)
            cells = [[Text(text) for text in texts] for texts in part.texts(MAX_ROWS)]
            yield from aligned([c.name for c in columns], cells, colours, width)
            if len(rows) > MAX_ROWS:
                yield Text(f"and {len(rows) - MAX_ROWS} more", style=colours.quiet)
        case telling.Values():
            yield from _listed("values", [f"{name} = {text}" for name, text in part.texts()], colours)
        case telling.Given():
            yield from _listed("host variables", [f"{name} = {text}" for name, text in part.texts()], colours)
        case telling.Passed():
            yield from _listed("waymarks passed", [f"{name}  {text}" for name, text in part.texts()], colours)
        case telling.Notes(notes):
            yield from _listed("notes", notes, colours)
        case telling.Changes(changes):
            yield head_text("changes", colours)
            yield from (change_text(change, colours) for change in changes[:MAX_ROWS])
        case telling.Locks():
            held = [f"{lock.mode:3} {lock.kind} {lock.table} {lock.key}" for lock in part.held]
            yield from _listed("locks held", held or ["no locks"], colours)
        case telling.Transaction(state):
            yield from _listed("transaction", ["no transaction" if state == "none" else state], colours)
        case _:
            assert_never(part)


def _listed(title: str, lines: list[str], colours: Palette) -> Iterator[Text]:
    yield head_text(title, colours)
    yield from (Text(line, style=colours.text) for line in lines[:MAX_ROWS])


def change_text(change: Change, colours: Palette) -> Text:
    """One row: + inserted, - deleted, ~ updated with its columns old -> new."""
    sign, table, key, cells = told(change)
    if sign != "~":
        shown = ", ".join(f"{name} {after if sign == '+' else before}" for name, before, after in cells)
        return Text(f"{sign} {table}: {shown}", style=colours.met if sign == "+" else colours.slip)
    text = Text().append(f"~ {table} {key}", style=colours.text)
    for name, before, after in cells:
        text.append(f"\n    {name} {before} → {after}", style=colours.accent)
    return text


def case_facets(row: Row, colours: Palette, width: int) -> Text:
    """What there is to say of a case in the survey: its verdict, its slips, its statements."""
    lines: list[Text] = [Text(row.title, style=f"bold {colours.text}")]
    case, result = row.case, row.result
    if case is not None:
        facts = [f"line {row.script.source.line(case.span.start)}", f"fixture {case.fixture or '(default)'}"]
        facts += [f"tags {' '.join(case.tags)}"] if case.tags else []
        lines.append(Text(" · ".join(facts), style=colours.quiet))
    verdict = row.verdict or "not run yet"
    sign = P.VERDICT_SIGNS[row.verdict]
    lines.append(Text(f"\n{sign} {verdict}", style=verdict_style(row.verdict, colours)))
    lines += _differing(row, colours)
    if result is None:
        lines.append(Text("\nr runs it, a runs all, Enter goes to its ladder", style=f"italic {colours.quiet}"))
    else:
        lines += _case_details(result, colours, width)
    if case is not None:
        lines.append(head_text("text", colours))
        text = row.script.source.text[case.span.start : case.end].rstrip().split("\n", MOST_LINES)
        lines += coloured_lines("\n".join(text[:MOST_LINES]), colours)
        if len(text) > MOST_LINES:
            more = plural(text[-1].count("\n") + 1, "line")
            lines.append(Text(f"and {more} more: Enter goes to its ladder", style=colours.quiet))
    return Text("\n").join(lines)


def _differing(row: Row, colours: Palette) -> Iterator[Text]:
    """The rungs that do something else than in the run that was accepted, with both sides."""
    if row.differs:
        yield head_text("does something else than in the run that was accepted", colours)
    for one in row.differs[:MOST_LINES]:
        yield Text(f"{P.DIFFERS} {one.number} {one.session}> {cut(one.text, 90)}", style=f"bold {colours.warn}")
        for name, before, now in one.fields:
            yield Text(f"    {name}", style=colours.quiet)
            yield Text(f"      was  {cut(before or 'nothing', 200)}", style=colours.text)
            yield Text(f"      is   {cut(now or 'nothing', 200)}", style=colours.text)


def cell_facets(
    row: ProofRow, column: str, behind: list[Where], shown: Callable[[Path], str], colours: Palette, width: int
) -> Text:
    """What there is to say of a cell of the proof grid, with the rungs behind it."""
    state = standing(row, column)
    lines = [
        Text()
        .append(row.name, style=f"bold {colours.text}")
        .append(f"  {row.kind}, line {row.line}", style=colours.quiet),
        Text(f"{HEADS[column].told}: ", style=colours.text),
        Text(f"{cell_text(row, column)}  {told_standing(row, column)}", style=f"bold {colours.accent}"),
        Text(""),
        Text(ENTER[state], style=colours.quiet),
    ]
    for where in behind[:MOST_LINES]:
        place = f"{shown(where.path)}, rung {where.rung}"
        line = Text("  ").append(cut(where.title, max(10, width - len(place) - 4)), style=colours.text)
        lines.append(line.append(f"  {place}", style=colours.quiet))
    signs = "  ".join(f"{SIGNS[s]} {w.split(':')[0]}" for s, w in STANDING.items())
    return Text("\n").join([*lines, Text(""), Text(signs, style=colours.quiet)])


ENTER = {
    ASSERTED: "Enter goes to the rungs that assert it",
    SEEN: "Enter goes to the rungs in which it was seen; p pins there what was seen",
    NEVER: "Enter types a call that shows it on a scratch ladder, as far as one is found",
    CANNOT: "by what the routine is made of",
}


def _case_details(result: CaseResult, colours: Palette, width: int) -> Iterator[Text]:
    for problem in result.problems:
        yield Text(problem.describe(), style=colours.slip)
    if result.case is not None and result.case.skip:
        yield Text(result.case.skip, style=colours.text)
    for at, ladder in enumerate(result.ladders):
        if len(result.ladders) > 1:
            yield head_text(side_name(result, at), colours)
        yield from _ladder_slips(ladder, colours, width)


def side_name(result: CaseResult, side: int) -> str:
    """What a side of a twin is run with."""
    assert result.case is not None
    assert result.case.twin is not None
    return f"{result.case.twin.setting} {result.case.twin.values[side]}"


def _ladder_slips(ladder: Ladder, colours: Palette, width: int) -> Iterator[Text]:
    for verdict in ladder.slips:
        yield from _verdict(verdict, colours, width)
    slipped = [rung for rung in ladder.rungs if rung.slips]
    for rung in slipped[:MAX_ROWS]:
        yield Text(f"\n{rung.number} {rung.session}> {cut(one_line(rung.text), width - 12)}", style=colours.text)
        for verdict in rung.slips:
            yield from _verdict(verdict, colours, width)
    if len(slipped) > MAX_ROWS:
        yield Text(f"and {plural(len(slipped) - MAX_ROWS, 'rung')} more that slipped", style=colours.quiet)
