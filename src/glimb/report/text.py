"""Outcomes and verdicts as plain text, for a terminal or a log."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, assert_never

from glimb.engine.outcomes.outcome import HeldLock, Outcome
from glimb.lang.source import Source
from glimb.lang.visible import visible
from glimb.suite import telling
from glimb.suite.execute import Executed
from glimb.suite.telling import Part, parts
from glimb.suite.wording import changes_text, failure_text, locks_text, waiting_text

if TYPE_CHECKING:
    from glimb.engine.codegen.listing import Listed
    from glimb.suite.expectations.kind import Comparison, Verdict
    from glimb.suite.ladder import Rung
    from glimb.suite.results import CaseResult

MAX_WIDTH = 60


def table_lines(header: list[str], rows: list[list[str]], width: int = MAX_WIDTH) -> Iterator[str]:
    """Aligned columns below a header; cells are cut at a width."""
    widths = [min(width, max(len(h), *(len(r[i]) for r in rows)) if rows else len(h)) for i, h in enumerate(header)]

    def joined(cells: list[str]) -> str:
        return " | ".join(_cut(c, w).ljust(w) for c, w in zip(cells, widths, strict=True)).rstrip()

    yield joined(header)
    yield "-+-".join("-" * w for w in widths)
    for row in rows:
        yield joined(row)


def _cut(text: str, width: int) -> str:
    text = text.replace("\n", "↵")
    return text if len(text) <= width else text[: width - 1] + "…"


def one_line(text: str) -> str:
    """A statement in one line: what stands in quotes stays as it is, and so do comments."""
    return _LINES.sub(_on_one_line, text.strip())


_LINES = re.compile(r"'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|--([^\n]*)(?:\n\s*|$)|\s*\n\s*")


def _on_one_line(match: re.Match[str]) -> str:
    if match[0].startswith("--"):
        return f"/*{match[1].rstrip()} */ "
    return match[0].replace("\n", "↵") if match[0][0] in "'\"" else " "


def executed_text(executed: Executed, width: int = MAX_WIDTH) -> str:
    """One executed statement as text, cells of results cut at a width."""
    return "\n".join(executed_lines(executed, width))


def executed_lines(executed: Executed, width: int) -> Iterator[str]:
    """One executed statement: its first line, and below it what it did."""
    yield f"{executed.number} {executed.outcome.session}> {_cut(one_line(executed.text), 100)}"
    yield from (f"   {line}" for line in outcome_lines(executed.outcome, width))


def outcome_lines(outcome: Outcome, width: int) -> Iterator[str]:
    """What a statement did: lines for what needs room, and a last one of facts."""
    facts = []
    for part in parts(outcome):
        lines, fact = _said(part, width)
        yield from lines
        facts += [fact] if fact else []
    if outcome.waiting is None:
        yield ", ".join(facts) or "done"


def _said(part: Part, width: int) -> tuple[Iterable[str], str]:
    """The lines of a part, and what of it stands in the line of facts."""
    match part:
        case telling.Waits(waiting):
            return [waiting_text(waiting)], ""
        case telling.Condition(failure):
            text = f"{failure.sqlstate} {failure.details}" if failure.details else failure_text(failure)
            return text.split("\n") if failure.details else [text], ""
        case telling.Rows(number, _, columns):
            header = [c.name for c in columns]
            return [f"result {number}:"] * (number > 1) + [*table_lines(header, part.texts(), width)], ""
        case telling.Values():
            return [f"{name} = {text}" for name, text in part.texts()], ""
        case telling.Given():
            return [f"{name} = {text}" for name, text in part.texts()], ""
        case telling.Passed():
            return [f"at {name}: {text}".removesuffix(": ") for name, text in part.texts()], ""
        case telling.Notes(notes):
            return [f"note: {note}" for note in notes], ""
        case telling.Count(rows):
            return [], f"{rows} row{'s' * (rows != 1)}"
        case telling.Changes(_, counts):
            return [], changes_text(counts)
        case telling.Locks():
            return [], _locks_fact(part.held)
        case telling.Wakes(sessions):
            return [], f"wakes {', '.join(sessions)}"
        case telling.Transaction(state):
            return [], state if state != "none" else ""
        case _:
            assert_never(part)


def _locks_fact(held: list[HeldLock]) -> str:
    if len(held) > 3:
        return f"{len(held)} locks"
    return f"lock{'s' * (len(held) != 1)}: {locks_text(held)}" if held else ""


def plural(count: int, word: str) -> str:
    return f"{count:,} {word}{'s' * (count != 1)}"


def twin_lines(result: CaseResult) -> Iterator[str]:
    """The two runs of a case side by side; the first statement that came out differently is marked."""
    assert result.ladder is not None
    assert result.twin is not None
    assert result.case is not None
    assert result.case.twin is not None
    rows, marked = [], False
    for one, other in zip(result.ladder.rungs, result.twin.rungs, strict=True):
        texts = [_brief(rung) for rung in (one, other)]
        differs = texts[0] != texts[1]
        mark = " " if not differs else "=" if marked else ">"
        marked = marked or differs
        rows.append([mark, f"{one.session}> {_cut(one_line(one.text), 40)}", *texts])
    yield from table_lines(["", result.case.twin.setting, *result.case.twin.values], rows)
    yield "> the first difference, = a later one" if marked else "no difference"


def _brief(rung: Rung) -> str:
    """What a statement did, in a few words."""
    brief = [f"{waiting_text(rung.outcome.waiting)}, then"] if rung.outcome.waiting is not None else []
    for part in parts(rung.last):
        match part:
            case telling.Condition(failure):
                brief.append(failure.sqlstate)
            case telling.Rows(1):
                brief.append(_cut("; ".join(",".join(texts) for texts in part.texts()) or "no rows", 30))
            case telling.Changes(_, counts):
                brief.append(changes_text(counts))
            case telling.Transaction(_, events):
                brief += [e.kind for e in events if e.ends]
    return " ".join(brief) or "done"


def rung_slips(rung: Rung, shown: str, source: Source) -> Iterator[str]:
    """What of a rung slipped; nothing when all was met."""
    if rung.slips:
        yield f"    {shown}:{rung.line}: {rung.session}> {_cut(one_line(rung.text), 90)}"
        failure = failure_text(rung.last.failure) if rung.last.failure is not None else ""
        told = False
        for verdict in rung.slips:
            lines = verdict_lines(verdict, source)
            if told and verdict.seen == failure:
                lines = (line for line in lines if not line.startswith("seen"))
            told = told or verdict.seen == failure
            yield from (f"      {line}" for line in lines)


def verdict_lines(verdict: Verdict, source: Source | None) -> Iterator[str]:
    """What was expected, at which line, and what was seen."""
    place = ""
    if verdict.expectation is not None and source is not None:
        place = f"  (line {source.line(verdict.expectation.span.start)})"
    yield f"expected  {verdict.expected}{place}"
    yield f"seen      {verdict.seen}"
    if verdict.comparison is not None:
        yield from comparison_lines(verdict.comparison)


def comparison_lines(comparison: Comparison) -> Iterator[str]:
    """Rows side by side: `=` agree, `-` expected only, `+` seen only; cells that differ stand in brackets."""
    rows: list[list[str]] = []
    for expected, seen in zip(comparison.expected, comparison.seen, strict=True):
        if expected and seen and all(c.agrees for c in expected):
            rows.append(["=", *(c.text for c in expected)])
            continue
        for sign, cells in (("-", expected), ("+", seen)):
            if cells:
                marked = [c.text if c.agrees else f"[{c.text}]" for c in cells]
                rows.append([sign, *marked])
    yield from table_lines(["", *comparison.header], rows)


LISTING_COLOURS = {"legend": "2", "sql": "36", "code": ""}
"""Select Graphic Rendition (ECMA-48) of the lines of a listing."""


def listing_lines(code: list[Listed], coloured: bool) -> Iterator[str]:
    """Generated code, line by line, with numbers; in colours for a terminal."""
    for line in code:
        number = f"{line.number:>5} " if line.kind == "code" else " " * 6
        text = visible(line.text) + (f"  (line {line.number})" if line.kind == "sql" else "")
        colour = LISTING_COLOURS[line.kind]
        yield f"\x1b[2m{number}\x1b[0m\x1b[{colour}m{text}\x1b[0m" if coloured else f"{number}{text}".rstrip()
