"""What happened inside a rung, as lines of text and as JSON lines (docs/jsonl.md)."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from glimb.engine.outcomes.steps import Variable
from glimb.engine.values.conversion import literal_of, plain_of
from glimb.report.jsonl import change_object
from glimb.report.text import one_line
from glimb.suite.climbing import Line, Variables, head_of
from glimb.suite.wording import counts_text

MOST_OF_A_STATEMENT = 90
BESIDE = 66
"""The column in which it is told what a statement did, on its line where both have room."""
WIDTH = 140


def climbed_lines(lines: list[Line], shown: Callable[[Path], str]) -> Iterator[str]:
    """One line for each step: its number, line in its file, statement, and what it did; calls are indented."""
    for line in lines:
        pad = "  " * line.depth
        if line.kind == "enter":
            values = ", ".join(_value(v) for v in line.step.assigned)
            yield f"{line.number:>6} {'':>5} {pad}{line.routine}({values})  {shown(Path(line.file))}:{line.line}"
            continue
        text = line.text if line.kind == "waymark" else one_line(head_of(line.text, line.kind))
        text += f"  [round {line.round:,}]" if line.round else ""
        if len(text) > MOST_OF_A_STATEMENT:
            text = text[: MOST_OF_A_STATEMENT - 1] + "…"
        start, did = f"{line.number:>6} {line.line:>5} {pad}{text}", list(done(line))
        beside = "; ".join(did)
        if did and len(start) < BESIDE and len(beside) < WIDTH - BESIDE:
            yield f"{start:{BESIDE}}{beside}"
            continue
        yield start
        yield from (f"{'':{BESIDE}}{told_}" for told_ in did)


def done(line: Line) -> Iterator[str]:
    """What a step did, and what it looked at."""
    step = line.step
    if line.read:
        yield "with " + ", ".join(_value(v) for v in line.read)
    if line.branch:
        yield line.branch
    if step.found_none:
        yield "no row was found"
    for before, now in line.changed:
        was = f"{literal_of(before.value, before.type)} → " if before is not None else ""
        yield f"{now.name}: {was}{literal_of(now.value, now.type)}"
    yield from (f"{v.name} stays {literal_of(v.value, v.type)}" for v in line.kept)
    if step.rounds:
        yield f"{step.rounds:,} round{'s' * (step.rounds != 1)}"
    if step.row_count is not None and not step.changes:
        yield "no row" if not step.row_count else f"{step.row_count} row{'s' * (step.row_count != 1)}"
    for table, counts in _counts(line).items():
        yield f"{table} {counts_text(counts)}"
    if step.condition is not None:
        yield f"{step.condition.sqlstate}: {step.condition.message}{_called(line)}"
        if step.handler is not None:
            place = step.handler.source.line(step.handler.span.start)
            yield f"taken by the {step.handler.name.upper()} handler of line {place}"


def _called(line: Line) -> str:
    """By which calls a step was come to."""
    return "".join(f", called by {routine or 'line'} {number}" for routine, _, number in line.calls[1:])


def _value(variable: Variable) -> str:
    return f"{variable.name} = {literal_of(variable.value, variable.type)}"


def _counts(line: Line) -> dict[str, list[int]]:
    counts: dict[str, list[int]] = {}
    for change in line.step.changes:
        kind = 0 if change.before is None else 2 if change.after is None else 1
        counts.setdefault(change.table.name, [0, 0, 0])[kind] += 1
    return counts


def climbed_line(line: Line, ascii: bool) -> str:
    """A step as a JSON line."""
    return json.dumps(as_object(line), ensure_ascii=ascii, allow_nan=False)


def as_object(line: Line) -> dict[str, Any]:
    """The object of one line; its keys are there always."""
    step, condition, handler = line.step, line.step.condition, line.step.handler
    return {
        "step": line.number,
        "depth": line.depth,
        "routine": line.routine or None,
        "file": line.file,
        "line": line.line,
        "kind": line.kind,
        "text": line.text,
        "round": line.round or None,
        "rounds": step.rounds or None,
        "branch": line.branch or None,
        "before": _plain(line.before),
        "after": _plain(line.after),
        "row_count": 0 if step.found_none else step.row_count,
        "changes": [change_object(change) for change in step.changes],
        "condition": None
        if condition is None
        else {
            "sqlstate": condition.sqlstate,
            "name": condition.name or None,
            "message": condition.message,
            "calls": [{"routine": routine or None, "file": file, "line": at} for routine, file, at in line.calls],
        },
        "handler": None
        if handler is None
        else {"kind": handler.name, "line": handler.source.line(handler.span.start), "file": handler.source.name},
    }


def _plain(variables: Variables) -> dict[str, Any]:
    return {name: plain_of(v.value, v.type) for name, v in variables.items()}
