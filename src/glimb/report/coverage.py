"""What has been tried, for people and for programs: a table by routine, lines of what is missing, LCOV."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from itertools import groupby
from typing import Any

from glimb.engine.outcomes.coverage import ARM, CONDITION, HANDLER, LOOP, STATEMENT
from glimb.report.text import table_lines
from glimb.suite.coverage import KINDS, NAMES, Counted, Counts, Share, by_owner, ordered, share_of

Shown = Callable[[str], str]
"""How the path of a file is told."""
HEAD = {STATEMENT: "statements", ARM: "arms", LOOP: "loops", HANDLER: "handlers", CONDITION: "conditions"}
VERBS = {STATEMENT: "never ran", ARM: "never taken", HANDLER: "never took a condition"}
MOST_TEXT = 70


def coverage_lines(counts: Counts, shown: Shown) -> Iterator[str]:
    """A table: each routine, trigger, view and table with how much of what it is made of has been tried."""
    rows = []
    for (file, owner), some in by_owner(counts).items():
        rows.append(
            [shown(file), owner, *(_fraction(share_of(some, kind)) for kind in KINDS), _percent(share_of(some))]
        )
    total = list(counts.values())
    rows.append(["all", "", *(_fraction(share_of(total, kind)) for kind in KINDS), _percent(share_of(total))])
    yield from table_lines(["file", "routine", *(HEAD[kind] for kind in KINDS), "tried"], rows)


def _fraction(share: Share) -> str:
    return f"{share.taken}/{share.all}" if share.all else "–"


def _percent(share: Share) -> str:
    """Never 100 % while something is missing."""
    shown = min(share.percent, 99.9) if share.taken < share.all else 100.0
    return f"{shown:.1f} %"


def missing_lines(counts: Counts, shown: Shown, reached: Mapping[tuple[tuple[Any, ...], int], str]) -> Iterator[str]:
    """What has never been tried, each with its place and, where one is known, a statement that would try it. Of a
    routine that was never called that alone is told."""
    for (file, owner), some in by_owner(counts).items():
        idle = [one for one in some if one.kind == STATEMENT]
        if idle and not any(one.taken for one in some):
            call = next((text for (place, _), text in reached.items() if place in {one.place for one in idle}), "")
            yield f"{shown(file)}:{idle[0].line}: {owner}: never called{_hint(call)}"
            continue
        for one in some:
            for side in one.sides:
                if not one.counts[side]:
                    hint = _hint(reached.get((one.place, side), ""))
                    yield f"{shown(file)}:{one.line}: {owner}: {_told(one, side)}{hint}"


def _told(one: Counted, side: int) -> str:
    text = one.text if len(one.text) <= MOST_TEXT else f"{one.text[: MOST_TEXT - 1]}…"
    if one.kind == CONDITION:
        return f"never {NAMES[CONDITION][side]}: {text}"
    if one.kind == LOOP:
        rounds = ("no round", "just one round", "more than one round")[side]
        return f"never with {rounds}: {text}"
    return f"{VERBS[one.kind]}: {text}"


def _hint(call: str) -> str:
    return f"   try {call};" if call else ""


def lcov(counts: Counts, shown: Shown) -> str:
    """The tracefile format that coverage viewers read (geninfo(1)): lines by their statements, branches by arms and by
    the sides of loops and conditions, functions by their first statement
    that is in no handler."""
    lines: list[str] = []
    for file, group in groupby(ordered(counts), key=lambda one: one.file):
        some = list(group)
        lines += ["TN:", f"SF:{shown(file)}", *_functions(some), *_branches(some), *_lines(some), "end_of_record"]
    return "".join(f"{line}\n" for line in lines)


def _functions(some: list[Counted]) -> Iterator[str]:
    handlers = [one for one in some if one.kind == HANDLER]
    firsts: dict[str, Counted] = {}
    for one in some:
        is_in_handler = any((h.line, h.column) <= (one.line, one.column) < h.end for h in handlers)
        if one.kind == STATEMENT and not is_in_handler:
            firsts.setdefault(one.owner, one)
    yield from (f"FN:{one.line},{name}" for name, one in firsts.items())
    yield from (f"FNDA:{one.hits},{name}" for name, one in firsts.items())
    yield f"FNF:{len(firsts)}"
    yield f"FNH:{sum(one.hits > 0 for one in firsts.values())}"


def _branches(some: list[Counted]) -> Iterator[str]:
    branching = [one for one in some if one.kind in (ARM, LOOP, CONDITION)]
    taken = [
        (one.line, block, branch, one.counts[side])
        for block, one in enumerate(branching)
        for branch, side in enumerate(one.sides)
    ]
    yield from (f"BRDA:{line},{block},{branch},{count}" for line, block, branch, count in taken)
    yield f"BRF:{len(taken)}"
    yield f"BRH:{sum(count > 0 for *_, count in taken)}"


def _lines(some: list[Counted]) -> Iterator[str]:
    hits: dict[int, int] = {}
    for one in some:
        if one.kind == STATEMENT:
            hits[one.line] = max(hits.get(one.line, 0), one.hits)
    yield from (f"DA:{line},{count}" for line, count in sorted(hits.items()))
    yield f"LF:{len(hits)}"
    yield f"LH:{sum(count > 0 for count in hits.values())}"
