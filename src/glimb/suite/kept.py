"""A ladder as text: the case of a script that makes its moves, where it stands in a file, and where it is kept between
two sessions at the screen."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Iterator
from difflib import SequenceMatcher
from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from typing import NamedTuple

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
    Step,
    Turn,
    Wait,
    read_script,
)
from glimb.whole import append, write_script

SETUP = "--# setup"
_SETTING = r"(?i)[ \t]*--#[ \t]*(fixture|clock|model|tags|twin)\b"
"""A line in which a script says something of all its cases; it may stand among the lines of the setup."""
SCRATCH = "scratch"
"""The title of a case on which everything is typed."""


def case_text(case: Case, title: str, moves: Iterable[Move]) -> str:
    """A case of a script with these moves, those of the setup left out: they belong to all its cases."""
    lines = [f"--# case {title}"]
    lines += [f"--# fixture {case.fixture}"] if case.fixture else []
    lines += [f"--# model {case.model}"] if case.model else []
    lines += [f"--# clock {case.clock:%Y-%m-%d %H:%M:%S}"] if case.clock is not None else []
    lines += [f"--# tags {' '.join(dict.fromkeys(case.tags))}"] if case.tags else []
    lines += [f"--# twin {case.twin.setting} = {' | '.join(case.twin.values)}"] if case.twin is not None else []
    lines += _in_sessions((move for move in moves if not move.is_setup), MAIN)
    return "\n".join(lines) + "\n"


class Keeping:
    """The ladder of a case in a file of its own, to which only what is new is added where it has grown."""

    def __init__(self, place: Path) -> None:
        self.place = place
        self._moves: list[Move] = []
        self._size = -1
        """How long the file is that has these moves; -1: there is none."""

    def keep(self, moves: list[Move], whole: Callable[[], str]) -> None:
        """Have these moves in the file; `whole` is its text. OSError when it cannot be written."""
        size, self._size = self._size, -1
        count = len(self._moves)
        if 0 <= size == _size_of(self.place) and moves[:count] == self._moves:
            session = next((getattr(m.step, "session", "") for m in reversed(self._moves)), "") or MAIN
            append(self.place, "".join(f"{line}\n" for line in _in_sessions(moves[count:], session)))
        else:
            self.place.parent.mkdir(exist_ok=True)
            write_script(self.place, whole())
        self._moves, self._size = moves, _size_of(self.place)

    def forget(self) -> None:
        """There is nothing to be kept."""
        self._size = -1
        self.place.unlink(missing_ok=True)


def _size_of(place: Path) -> int:
    return place.stat().st_size if place.exists() else -1


def setup_text(moves: Iterable[Move]) -> str:
    """The setup of a script with these moves."""
    return "\n".join([SETUP, *_in_sessions(moves, MAIN)]) + "\n"


def _in_sessions(moves: Iterable[Move], session: str) -> Iterator[str]:
    """The lines of moves that come behind those of a session, and where another one goes on the line that says so."""
    for move in moves:
        named = getattr(move.step, "session", session)
        if named != session and not isinstance(move.step, Turn):
            yield f"--# session {named}"
        session = named
        yield from written(move)


def kept_in(text: str, case: str, title: str) -> str:
    """The text of a script with a case in it: in the place of the one that has its title, or behind all others."""
    found = next((c for c in read_script("kept", text).cases if c.title == title), None)
    if found is None:
        gap = "" if not text or text.endswith("\n\n") else "\n" if text.endswith("\n") else "\n\n"
        return f"{text}{gap}{case}"
    behind = text[found.end :]
    old = Stretch(text, found.steps, text.find("\n", found.span.start) + 1, found.end)
    case = _commented(case, read_script("kept", case).cases[0].steps, old)
    return f"{text[: found.span.start]}{case}{chr(10) * bool(behind.strip())}{behind}"


def setup_in(text: str, setup: str) -> str:
    """The text of a script with another setup; its settings and comments stay, and so do its cases."""
    case = read_script("kept", text).cases[0]
    if not case.setup:
        return text
    start = text.rfind("\n", 0, case.setup[0].span.start) + 1
    old = text[start : case.span.start]
    if re.search(rf"(?mi)^[ \t]*{SETUP}\b", old) is None:  # it stands above
        setup = setup.removeprefix(f"{SETUP}\n")
    settings = [line for line in old.split("\n") if re.match(_SETTING, line)]
    steps = read_script("kept", setup).flow
    setup = _commented(setup, steps, Stretch(text, case.setup, start, case.span.start))
    return "".join([text[:start], *(f"{line}\n" for line in settings), setup, "\n", text[case.span.start :]])


class Stretch(NamedTuple):
    """Steps of a text, and the part of it in which they stand."""

    text: str
    steps: list[Step]
    start: int
    end: int


def _commented(case: str, steps: list[Step], old: Stretch) -> str:
    """The text of steps with the comments and empty lines that others had between them; a statement that was changed
    keeps those of the one in whose place it stands."""
    source = old.text
    before = [source[step.span.start : step.span.end] for step in old.steps]
    after = [case[step.span.start : step.span.end] for step in steps]
    stretches = SequenceMatcher(None, before, after, autojunk=False).get_opcodes()
    same = {a: b for _, *ends in stretches for a, b in zip(range(*ends[:2]), range(*ends[2:]), strict=False)}
    put: list[tuple[int, str]] = []
    ends = [old.start, *(step.span.end for step in old.steps)]
    starts = [*(step.span.start for step in old.steps), old.end]
    for number, (end, start) in enumerate(zip(ends, starts, strict=True)):
        beside, *lines = source[end:start].split("\n") if number else ["", *source[end:start].split("\n")]
        if (behind := beside.lstrip("; \t")) and number - 1 in same:
            put.append((case.index("\n", steps[same[number - 1]].span.end), f" {behind}"))
        if kept := [line for line in lines[:-1] if not line.lstrip().startswith(("--#", "-->"))]:
            if number in same:
                put.append((steps[same[number]].span.start, "\n".join([*kept, ""])))
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


def empty_case(fixture: str) -> Case:
    """The case of a ladder on which everything will be typed."""
    case = Case(SCRATCH, Span(0, 0))
    case.fixture = fixture
    return case


def place_of(root: Path | None, script: Path, title: str) -> Path:
    """Where the ladder of a case is kept while it is worked on."""
    name = "".join(c if c.isalnum() else "-" for c in title.lower())[:40].strip("-")
    told = script.relative_to(root) if root is not None and script.is_relative_to(root) else script
    mark = sha256(f"{told.as_posix()}|{title}".encode()).hexdigest()[:8]
    return own_folder(root) / "ladders" / f"{name}-{mark}.sql"


def moves_of(text: str) -> tuple[list[Move] | None, list[Move]]:
    """The moves of a ladder that was kept, before them those of its setup where it has one of its own; ProblemError
    when it cannot be read."""
    script = read_script("kept ladder", text)
    wrong = script.wrong_lines()
    if wrong or len(script.cases) != 1:
        raise ProblemError(*wrong)
    case = script.cases[0]
    setup = [Move(step, script.source, True) for step in case.setup] if text.startswith(SETUP) else None
    return setup, [Move(step, script.source) for step in case.steps]
