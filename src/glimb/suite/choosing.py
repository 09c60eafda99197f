"""Which cases are meant: by paths and lines, by words joined with AND, OR and NOT, by what became of them last time."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from glimb.lang.problem import Problem, ProblemError
from glimb.suite.project import find_root, make_own_folder, own_folder, script_paths
from glimb.suite.script import Case, Script, read_script
from glimb.suite.sheets import is_sheet, read_sheet

LAST = "last-run.json"
Test = Callable[[str], bool]
"""Whether the words of a case (its title, file and tags, in small letters) are meant."""


class Chosen(NamedTuple):
    """A script and the numbers of the cases that are meant of it; a script that is wrong as a whole has none."""

    script: Script
    cases: list[int]


def chosen(paths: Iterable[str]) -> list[Chosen]:
    """Scripts with their cases; of `FILE:LINE`, the case that stands at the line."""
    found: list[Chosen] = []
    for text in paths:
        path, line = _path_and_line(text)
        for script in map(read_any, script_paths([path])):
            cases = [n for n, case in enumerate(script.cases) if not line or _holds(script, case, line)]
            if cases or script.problems:
                found.append(Chosen(script, cases))
            elif line:
                raise ProblemError(Problem("42704", f"no case stands at line {line} of {path}"))
    return found


def meant(some: Iterable[Chosen], word: str) -> list[Chosen]:
    """Of these cases, those that a word means."""
    test = word_test(word)
    left = (Chosen(s, [n for n in cases if test(_words(s, s.cases[n]))]) for s, cases in some)
    return [one for one in left if one.cases or one.script.problems]


def read_any(path: Path) -> Script:
    """A script, or a call sheet as one."""
    return read_sheet(path) if is_sheet(path) else read_script(path)


def _path_and_line(text: str) -> tuple[Path, int]:
    name, _, line = text.rpartition(":")
    return (Path(name), int(line)) if line.isdecimal() and name and not Path(text).exists() else (Path(text), 0)


def _holds(script: Script, case: Case, line: int) -> bool:
    return script.source.line(case.span.start) <= line <= script.source.line(max(case.span.start, case.end - 1))


def _words(script: Script, case: Case) -> str:
    return " ".join((case.title, script.path.name, *case.tags)).lower()


# ---- words


def word_test(text: str) -> Test:
    """What `-k` says: words that must stand there as they are, joined by `and`, `or`, `not` and parentheses.
    ProblemError for what cannot be read."""
    reader = _Words(re.findall(r"[()]|[^\s()]+", text.lower()))
    if not reader.left:
        return lambda words: True
    test = reader.either()
    if reader.left:
        raise ProblemError(Problem("42601", f"-k: `{reader.left[0]}` is one too many in `{text}`"))
    return test


class _Words:
    """Reads the words of `-k`, the first one next."""

    def __init__(self, words: list[str]) -> None:
        self.left = words

    def take(self, word: str) -> bool:
        if self.left[:1] == [word]:
            self.left.pop(0)
            return True
        return False

    def either(self) -> Test:
        tests = [self.both()]
        while self.take("or"):
            tests.append(self.both())
        return lambda words: any(test(words) for test in tests)

    def both(self) -> Test:
        tests = [self.one()]
        while self.take("and"):
            tests.append(self.one())
        return lambda words: all(test(words) for test in tests)

    def one(self) -> Test:
        if self.take("not"):
            inner = self.one()
            return lambda words: not inner(words)
        if self.take("("):
            inner = self.either()
            if not self.take(")"):
                raise ProblemError(Problem("42601", "-k: `)` is missing"))
            return inner
        phrase = []
        while self.left and self.left[0] not in ("and", "or", "not", "(", ")"):
            phrase.append(self.left.pop(0))
        if not phrase:
            raise ProblemError(Problem("42601", f"-k: a word is missing before `{(self.left or ['the end'])[0]}`"))
        wanted = " ".join(phrase)
        return lambda words: wanted in words


# ---- the last run


def failed_last(some: list[Chosen]) -> list[Chosen]:
    """Of these cases, those that were not met when they were run last; a script that was not run has all of its own."""
    known: dict[str, set[str]] = {}
    for root in {find_root(one.script.path.parent) for one in some}:
        with suppress(OSError, ValueError):
            told = json.loads((own_folder(root) / LAST).read_text())
            known |= {str(path): set(titles) for path, titles in told.items()}
    kept = (
        Chosen(one.script, [n for n in one.cases if one.script.cases[n].title in known.get(str(one.script.path), ())])
        for one in some
    )
    return [one for one in kept if one.cases or one.script.problems]


def keep_failed(ran: dict[Path, tuple[set[str], set[str]]]) -> None:
    """Remember of each script the titles of cases that were run, and of those that were not met."""
    for root in {find_root(path.parent) for path in ran}:
        mine = {path: titles for path, titles in ran.items() if find_root(path.parent) == root}
        with suppress(OSError, ValueError):
            place = make_own_folder(root) / LAST
            known = json.loads(place.read_text()) if place.is_file() else {}
            for path, (all_titles, failed) in mine.items():
                before = set(known.get(str(path), ())) - all_titles
                known[str(path)] = sorted(before | failed)
            place.write_text(json.dumps({path: titles for path, titles in known.items() if titles}))
