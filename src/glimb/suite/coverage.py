"""What the cases have tried of a project's routines, triggers, views and CHECKs: counts by place, merged over engines,
processes and runs.

In: engines that have counted (see `engine.outcomes.coverage`), or JSON lines of an earlier run. Out: `Counted` for
each place, in the order of files and lines, and `Share`s: how much of what there is has been tried.
"""

from __future__ import annotations

import json
from bisect import bisect_right
from collections.abc import Iterable, Iterator
from operator import add
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.compiling.points import owners
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import ARM, CONDITION, HANDLER, LOOP, SIDES, STATEMENT, Point
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source

KINDS = (STATEMENT, ARM, LOOP, HANDLER, CONDITION)
NAMES: dict[str, tuple[str, ...]] = {LOOP: ("none", "one", "more"), CONDITION: ("true", "false", "unknown")}
"""What the counts of a kind are called, where it has several."""


class Counted(NamedTuple):
    """The counts of one place: whose it is, of what kind, where it begins (line and column from 1, `number` of several
    at one place), its text in one line, the counts, and the sides that cannot be."""

    file: str
    line: int
    column: int
    number: int
    kind: str
    owner: str
    text: str
    counts: tuple[int, ...]
    cannot: tuple[int, ...]
    end: tuple[int, int]
    """Line and column behind it."""

    @property
    def place(self) -> tuple[Any, ...]:
        """What makes it the same place in another run: all but the counts and what cannot be."""
        return self[:7]

    @property
    def sides(self) -> list[int]:
        """The sides that can be met."""
        return [side for side in range(len(self.counts)) if side not in self.cannot]

    @property
    def taken(self) -> int:
        """How many of its sides have been met."""
        return sum(self.counts[side] > 0 for side in self.sides)

    @property
    def hits(self) -> int:
        """How often it was come to."""
        return sum(self.counts)

    def since(self, before: Counted | None) -> Counted:
        """What has been counted since then."""
        if before is None:
            return self
        return self._replace(counts=tuple(now - old for now, old in zip(self.counts, before.counts, strict=True)))

    def missing(self) -> list[str]:
        """Names of the sides that were not met; one without a name for what has only one."""
        return [NAMES.get(self.kind, ("",))[side] for side in self.sides if not self.counts[side]]


class Share(NamedTuple):
    """How many sides of how many have been met."""

    taken: int
    all: int

    @property
    def percent(self) -> float:
        """In hundredths; of nothing, all has been met."""
        return 100.0 * self.taken / self.all if self.all else 100.0


Counts = dict[tuple[Any, ...], Counted]
"""By place."""


def counted(engine: Engine) -> Counts:
    """What an engine has counted."""
    return {one.place: one for _, one in points_of(engine)}


def points_of(engine: Engine) -> Iterator[tuple[Point, Counted]]:
    """The points of an engine, each as it stands now; what belongs to nothing any more is left out."""
    coverage = engine.shared.coverage
    if coverage is not None:
        stretches: Stretches = {}
        for file, span, owner in sorted(owners(engine.compiler)):
            stretches.setdefault(file, []).append((span.start, span.end, owner))
        for point in coverage.points.values():
            one = _counted(point, stretches)
            if one is not None:
                yield point, one


Stretches = dict[str, list[tuple[int, int, str]]]
"""By file what stands there: from, to (excluded), whose it is."""


def _counted(point: Point, stretches: Stretches) -> Counted | None:
    key = point.key
    known = stretches.get(key.source, [])
    at = bisect_right(known, key.start, key=lambda one: one[0]) - 1
    owner = known[at][2] if at >= 0 and key.start < known[at][1] else point.owner
    if not owner:
        return None
    cannot = tuple(side for side, can in enumerate(point.possible) if not can)
    line, column = point.source.line(key.start), point.source.column(key.start)
    text = _bare(" ".join(point.text.split()))
    end = point.source.line(key.end), point.source.column(key.end)
    return Counted(key.source, line, column, key.number, key.kind, owner, text, point.counts, cannot, end)


def _bare(text: str) -> str:
    """A text without parentheses around the whole of it."""
    depth = 0
    for at, sign in enumerate(text):
        depth += (sign == "(") - (sign == ")")
        if not depth:
            return _bare(text[1:-1].strip()) if 0 < at == len(text) - 1 else text
    return text


def merged(*runs: Counts) -> Counts:
    """The counts of several runs together."""
    total: Counts = {}
    for run in runs:
        for place, one in run.items():
            before = total.get(place)
            total[place] = one if before is None else _together(before, one)
    return total


def _together(one: Counted, other: Counted) -> Counted:
    counts = tuple(map(add, one.counts, other.counts))
    return one._replace(counts=counts, cannot=tuple(side for side in one.cannot if side in other.cannot))


def relative(counts: Counts, folder: Path) -> Counts:
    """The same counts with files told from a folder, where they lie below it: so runs elsewhere can be added."""
    moved = (one._replace(file=_from(folder, one.file)) for one in counts.values())
    return {one.place: one for one in moved}


def _from(folder: Path, file: str) -> str:
    path = Path(file).absolute()
    return path.relative_to(folder).as_posix() if path.is_relative_to(folder) else file


def ordered(counts: Counts) -> list[Counted]:
    """By file, place and kind: a statement before what is counted within it."""
    return sorted(counts.values(), key=lambda c: (c.file, c.line, c.column, KINDS.index(c.kind), c.number, c.text))


def share_of(some: Iterable[Counted], kind: str = "") -> Share:
    """How much of these places has been met, of one kind or of all."""
    wanted = [one for one in some if kind in ("", one.kind)]
    return Share(sum(one.taken for one in wanted), sum(len(one.sides) for one in wanted))


def by_owner(counts: Counts) -> dict[tuple[str, str], list[Counted]]:
    """The places of each routine, trigger, view or table, by file and name, in the order of the text."""
    found: dict[tuple[str, str], list[Counted]] = {}
    for one in ordered(counts):
        found.setdefault((one.file, one.owner), []).append(one)
    return found


# ---- JSON lines


def as_json(one: Counted) -> dict[str, Any]:
    """A line of `glimb cover --jsonl` (docs/coverage.md tells its fields)."""
    told: dict[str, Any] = {
        "file": one.file,
        "line": one.line,
        "column": one.column,
        "end_line": one.end[0],
        "end_column": one.end[1],
        "routine": one.owner,
        "kind": one.kind,
        "text": one.text,
        "hits": one.hits,
    }
    names = NAMES.get(one.kind)
    if names is not None:
        told |= dict(zip(names, one.counts, strict=True))
        told["cannot"] = [names[side] for side in one.cannot]
    if one.number:
        told["number"] = one.number
    return told


def from_json(path: Path) -> Counts:
    """The counts of an earlier run; ProblemError with the line that is none of its."""
    from glimb.suite.project import read_text

    source = read_text(path)
    found = (_from_json(number, line, source) for number, line in enumerate(source.text.split("\n"), 1) if line.strip())
    return {one.place: one for one in found}


def _from_json(number: int, line: str, source: Source) -> Counted:
    try:
        told = json.loads(line)
        kind = told["kind"]
        names = NAMES.get(kind)
        counts = tuple(int(told[name]) for name in names) if names is not None else (int(told["hits"]),)
        cannot = tuple(names.index(name) for name in told.get("cannot", ())) if names is not None else ()
        place = str(told["file"]), int(told["line"]), int(told["column"]), int(told.get("number", 0))
        if len(counts) != SIDES[kind]:
            raise ValueError(kind)
        end = int(told["end_line"]), int(told["end_column"])
        return Counted(*place, kind, str(told["routine"]), str(told["text"]), counts, cannot, end)
    except (ValueError, KeyError, TypeError, AttributeError):
        raise ProblemError(Problem("58030", f"{source.name}: line {number} is no count of an earlier run")) from None


def json_lines(counts: Counts) -> Iterator[str]:
    """All places in their order."""
    yield from (json.dumps(as_json(one), ensure_ascii=False) for one in ordered(counts))
