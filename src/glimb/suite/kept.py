"""A ladder as text: the case of a script that makes its moves, where it stands in a file, and where it is kept between
two sessions at the screen."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from difflib import SequenceMatcher
from functools import lru_cache
from hashlib import sha256
from pathlib import Path

from glimb.lang.problem import ProblemError
from glimb.lang.source import Span
from glimb.suite.expectations.kind import Expectation
from glimb.suite.project import own_folder
from glimb.suite.replay import Move
from glimb.suite.script import (
    MAIN,
    BrokenStep,
    Case,
    ClockSet,
    Let,
    ModelSet,
    StampStep,
    StatementStep,
    Turn,
    Wait,
    read_script,
)

SCRATCH = "scratch"
"""The title of a case on which everything is typed."""


Known = dict[int, tuple[Move, list[str]]]
"""The lines of moves that have been written before, by identity."""


def case_text(case: Case, title: str, moves: Iterable[Move], known: Known | None = None) -> str:
    """A case of a script with these moves, those of the setup left out: they belong to all its cases. What `known` has
    is not written again."""
    known = known if known is not None else {}
    moves = [move for move in moves if not move.is_setup]
    lines_of = {id(move): known.get(id(move)) or (move, list(written(move))) for move in moves}
    known.clear()
    known.update(lines_of)
    lines = [f"--# case {title}"]
    lines += [f"--# fixture {case.fixture}"] if case.fixture else []
    lines += [f"--# model {case.model}"] if case.model else []
    lines += [f"--# clock {case.clock:%Y-%m-%d %H:%M:%S}"] if case.clock is not None else []
    lines += [f"--# tags {' '.join(dict.fromkeys(case.tags))}"] if case.tags else []
    lines += [f"--# twin {case.twin.setting} = {' | '.join(case.twin.values)}"] if case.twin is not None else []
    session = MAIN
    for move in moves:
        named = getattr(move.step, "session", session)
        if named != session and not isinstance(move.step, Turn):
            lines.append(f"--# session {named}")
        session = named
        lines += lines_of[id(move)][1]
    return "\n".join(lines) + "\n"


def kept_in(text: str, case: str, title: str) -> str:
    """The text of a script with a case in it: in the place of the one that has its title, or behind all others."""
    found = next((c for c in read_script("kept", text).cases if c.title == title), None)
    if found is None:
        gap = "" if not text or text.endswith("\n\n") else "\n" if text.endswith("\n") else "\n\n"
        return f"{text}{gap}{case}"
    behind = text[found.end :]
    case = _commented(case, found, text)
    return f"{text[: found.span.start]}{case}{chr(10) * bool(behind.strip())}{behind}"


def _commented(case: str, old: Case, source: str) -> str:
    """A case with the comments and empty lines that the one before had between its statements; a statement that was
    changed keeps those of the one in whose place it stands."""
    new = read_script("kept", case).cases[0]
    before = [source[step.span.start : step.span.end] for step in old.steps]
    after = [case[step.span.start : step.span.end] for step in new.steps]
    stretches = SequenceMatcher(None, before, after, autojunk=False).get_opcodes()
    same = {a: b for _, *ends in stretches for a, b in zip(range(*ends[:2]), range(*ends[2:]), strict=False)}
    put: list[tuple[int, str]] = []
    ends = [source.find("\n", old.span.start) + 1, *(step.span.end for step in old.steps)]
    starts = [*(step.span.start for step in old.steps), old.end]
    for number, (end, start) in enumerate(zip(ends, starts, strict=True)):
        beside, *lines = source[end:start].split("\n") if number else ["", *source[end:start].split("\n")]
        if (behind := beside.lstrip("; \t")) and number - 1 in same:
            put.append((case.index("\n", new.steps[same[number - 1]].span.end), f" {behind}"))
        if kept := [line for line in lines[:-1] if not line.lstrip().startswith(("--#", "-->"))]:
            if number in same:
                put.append((new.steps[same[number]].span.start, "\n".join([*kept, ""])))
            elif number == len(old.steps) and any(line.strip() for line in kept):
                put.append((len(case), "\n".join([*kept, ""]).rstrip() + "\n"))
    for place, words in sorted(put, reverse=True):
        case = case[:place] + words + case[place:]
    return case


def written(move: Move) -> Iterator[str]:
    """The lines of a script that make a move."""
    step, source = move.step, move.source
    match step:
        case Turn() | StampStep():
            yield source[step.span].strip()
        case Let():
            yield f"--# let {step.name} = {step.text}"
        case Wait():
            yield f"--# wait {step.seconds * 1000:g}ms"
        case ClockSet():
            yield f"--# clock {step.moment:%Y-%m-%d %H:%M:%S}"
        case ModelSet():
            yield f"--# model {step.model}"
        case StatementStep() | BrokenStep():
            text = source[step.span].rstrip()
            yield text if text.endswith(";") else f"{text};"
    yield from expected_lines(move)


def expected_lines(move: Move, without: Collection[Expectation] = ()) -> Iterator[str]:
    """The lines that say what is expected of a move, with the rows below them; some may be left out."""
    step, source = move.step, move.source
    if isinstance(step, Turn | StatementStep | BrokenStep) and step.expectations:
        lines = _lines_of(source.text)
        for expectation in step.expectations:
            if any(expectation is one for one in without):
                continue
            first, last = source.line(expectation.span.start), source.line(expectation.span.end - 1)
            yield from (line.strip() for line in lines[first - 1 : last])
            below = lines[last : last + len(expectation.rows) + bool(expectation.header)]
            yield from (line.strip() for line in below)


@lru_cache(maxsize=8)
def _lines_of(text: str) -> tuple[str, ...]:
    """The lines of a text; it is asked for each of its statements."""
    return tuple(text.split("\n"))


def empty_case(fixture: str = "", model: str = "") -> Case:
    """The case of a ladder on which everything will be typed."""
    case = Case(SCRATCH, Span(0, 0))
    case.fixture, case.model = fixture, model
    return case


def place_of(root: Path | None, script: Path, title: str) -> Path:
    """Where the ladder of a case is kept while it is worked on."""
    name = "".join(c if c.isalnum() else "-" for c in title.lower())[:40].strip("-")
    told = script.relative_to(root) if root is not None and script.is_relative_to(root) else script
    mark = sha256(f"{told.as_posix()}|{title}".encode()).hexdigest()[:8]
    return own_folder(root) / "ladders" / f"{name}-{mark}.sql"


def moves_of(text: str) -> list[Move]:
    """The moves of a ladder that was kept; ProblemError when it cannot be read."""
    script = read_script("kept ladder", text)
    if script.problems or len(script.cases) != 1:
        raise ProblemError(*script.problems)
    return [Move(step, script.source) for step in script.cases[0].steps]
