"""Which tests reach which lines, and how long each of them takes: coverage is told which test runs."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections import Counter, defaultdict
from collections.abc import Iterator
from difflib import SequenceMatcher
from functools import cache
from shutil import copytree, ignore_patterns

import pytest

from tools.mutants.changes import ROOT, SOURCE, Mutant

KEPT = ROOT / ".mutants"
DIGESTS = ("tests/test_told.py", "tests/tui/test_walk.py", "tests/test_grafts.py")
"""Tests of all that is told, drawn and written, which notice most changes: they have more time than others."""
SCREENS = 10.0
"""Seconds that each other file of tests has had before screens are asked."""


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """As a plugin of pytest: coverage is told which test runs, here and in the processes that it starts."""
    import coverage

    measuring = coverage.Coverage.current()
    if measuring is not None:
        measuring.switch_context(item.nodeid)
        os.environ[RUNNING] = item.nodeid
    yield


_seconds: dict[str, float] = defaultdict(float)


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """How long a test takes, with what it needs."""
    _seconds[report.nodeid] += report.duration


def pytest_sessionfinish() -> None:
    """Keep the times."""
    (KEPT / f"seconds-{os.getpid()}.json").write_text(json.dumps(_seconds))


RUNNING = "GLIMB_TEST"
"""Where processes find the name of the test that has started them."""


def write_map(tests: list[str]) -> None:
    """Run tests (all) under coverage, and keep who reaches which line. Processes that tests start are measured too: many
    tests of the command line and of the screens reach nothing themselves."""
    KEPT.mkdir(exist_ok=True)
    copytree(SOURCE, KEPT / "source", ignore=ignore_patterns("__pycache__"), dirs_exist_ok=True)
    own, started = (KEPT / f"{name}-{os.getpid()}.rc" for name in ("own", "started"))  # others may write a map beside
    settings = "[run]\nsource = glimb\nconcurrency = greenlet,thread\ndata_file = {}\n{}"
    own.write_text(settings.format(KEPT / f"data-{os.getpid()}", ""))
    started.write_text(settings.format(KEPT / "data", f"parallel = True\nsigterm = True\ncontext = ${{{RUNNING}}}\n"))
    (KEPT / "sitecustomize.py").write_text("import coverage\n\ncoverage.process_startup()\n")
    around = {**os.environ, "PYTHONPATH": f"{KEPT}:{SOURCE.parent}", "COVERAGE_PROCESS_START": str(started)}
    command = [
        sys.executable,
        "-m",
        "coverage",
        "run",
        f"--rcfile={own}",
        "-m",
        "pytest",
        "-p",
        "tools.mutants.reach",
        *tests,
    ]
    subprocess.run(command, cwd=ROOT, env=around)


def reached_by() -> dict[str, dict[int, set[str]]]:
    """By file and line the tests that reach it; the empty name is what is reached when modules are imported."""
    import coverage

    files: dict[str, dict[int, set[str]]] = {}
    for path in sorted(KEPT.glob("data*")):
        data = coverage.CoverageData(str(path))
        try:
            data.read()
        except coverage.exceptions.DataError:  # of a process that was ended while it wrote
            continue
        for name in data.measured_files():
            place = name.partition("/src/glimb/")[2]
            kept, now = files.setdefault(place, {}), _followed(place)
            for line, tests in data.contexts_by_lineno(name).items():
                kept.setdefault(now.get(line, 0), set()).update(tests)
    return files


def seconds() -> dict[str, float]:
    """How long each test takes."""
    return {
        test: took for path in sorted(KEPT.glob("seconds-*")) for test, took in json.loads(path.read_text()).items()
    }


@cache
def _followed(place: str) -> dict[int, int]:
    """Where the lines of a file that the map knows are now."""
    before, now = KEPT / "source" / place, SOURCE / place
    if not (before.exists() and now.exists()):
        return {}
    same = SequenceMatcher(None, before.read_text().splitlines(), now.read_text().splitlines(), autojunk=False)
    return {a + step + 1: b + step + 1 for a, b, size in same.get_matching_blocks() for step in range(size)}


class Reach:
    """What is known of tests: who reaches what, and how long each takes that is still there."""

    def __init__(self, files: dict[str, dict[int, set[str]]], seconds: dict[str, float]) -> None:
        self.files, self.seconds = files, seconds
        self._breadth = Counter(test for lines in files.values() for tests in lines.values() for test in tests)

    def tests(self, mutant: Mutant) -> list[str]:
        """Those that reach the change, of a line that nobody reaches those of its file."""
        lines = self.files.get(str(mutant.path.relative_to(SOURCE)), {})
        near = {test for line in range(mutant.first, mutant.last + 1) for test in lines.get(line, ())} - {""}
        return self._in_order(near, mutant) or self.tests_of_file(mutant)

    def tests_of_file(self, mutant: Mutant) -> list[str]:
        """Those that reach anything of its file."""
        lines = self.files.get(str(mutant.path.relative_to(SOURCE)), {})
        return self._in_order({test for tests in lines.values() for test in tests}, mutant)

    def _in_order(self, tests: set[str], mutant: Mutant) -> list[str]:
        """Each file of tests has as much time as any other, and gives first what is quick and reaches little; of digests
        first what reaches most. Screens come late, but for what is theirs: they show what others tell."""
        spent, order = defaultdict[str, float](float), list[tuple[float, float, str]]()
        is_shown = mutant.path.is_relative_to(SOURCE / "tui")
        for test in sorted(tests & self.seconds.keys(), key=self._place):
            file, took = test.partition("::")[0], self.seconds[test]
            late = 0 if is_shown or not test.startswith("tests/tui") else SCREENS
            order.append((spent[file] + late, took, test))
            spent[file] += took / (3 if file in DIGESTS else 1)
        return [test for *_, test in sorted(order)]

    def _place(self, test: str) -> tuple[float, str]:
        breadth = self._breadth[test]
        return (-breadth if test.startswith(DIGESTS) else self.seconds[test] * breadth), test

    def at_import(self, mutant: Mutant) -> bool:
        """Whether the change may have been gone through before any test began."""
        lines = self.files.get(str(mutant.path.relative_to(SOURCE)), {})
        return any("" in lines.get(line, ()) for line in range(mutant.first, mutant.last + 1))
