"""Small changes to our own source, one at a time: which of them does no test notice?

    python -m tools.mutants map [TEST...]    runs all tests (these) and writes which lines each of them reaches (.mutants/)
    python -m tools.mutants run 600 [SEED [PART...]]   so many changes, chosen by a seed over all files, or those in these
                                             parts of src/glimb; the tests that reach them are asked
    python -m tools.mutants again            those once more that nobody has noticed: the cases of the rules are asked too, and
                                             tests that the map does not know

A change that is noticed fails a test, never ends, or is refused by mypy, which is part of the test command too. Those that
are not are told with their place, and kept in .mutants/unnoticed.tsv; `tests/equivalents.tsv` argues for those that change
nothing that could be noticed. The map may be older than the source: lines are followed through what was changed since.
"""

from __future__ import annotations

import compileall
import csv
import json
import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from itertools import accumulate
from pathlib import Path
from queue import Queue
from shutil import copy2, copytree, ignore_patterns
from tempfile import TemporaryDirectory
from typing import Any

from tools.mutants.changes import ROOT, Mutant, chosen, mutants_of
from tools.mutants.reach import KEPT, Reach, reached_by, seconds, write_map

EQUIVALENTS = ROOT / "tests" / "equivalents.tsv"
UNNOTICED = KEPT / "unnoticed.tsv"
RULES = "tests/test_conformance.py"
WORKERS = int(os.environ.get("WORKERS", "2"))
PATIENCE = 130
"""Seconds that the tests asked for one change take together, as the map has measured them."""


class Folder:
    """A copy of the project, with a process that has collected its tests."""

    def __init__(self, path: Path, reach: Reach, has_new: bool) -> None:
        self.path, self.reach, self.sound, self.has_new = path, reach, set[str](), has_new
        copytree(ROOT, path, ignore=ignore_patterns(".venv", ".git", ".mutants", ".*_cache", "__pycache__"))
        compileall.compile_dir(path / "src", quiet=1)
        asking, asked = os.pipe()[::-1]
        answered, answering = os.pipe()
        around = self._around() | {"GLIMB_PIPES": f"{asked},{answering}"}
        command = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "-p", "tools.mutants.serve"]
        self._process = subprocess.Popen(
            command, cwd=path, env=around, stdout=subprocess.DEVNULL, pass_fds=(asked, answering)
        )
        os.close(asked)
        os.close(answering)
        self._asking, self._answered = os.fdopen(asking, "w"), os.fdopen(answered)
        self._dmypy("run", "--", "src")
        self.present = set(json.loads(self._answered.readline())["present"])

    def close(self) -> None:
        """End the process."""
        self._asking.close()
        self._process.wait()
        self._dmypy("stop")

    def is_noticed(self, mutant: Mutant) -> bool:
        """Whether one of the tests fails, or does not end where it ends without the change."""
        near = [test for test in self.reach.tests(mutant) if test in self.present]
        if self.has_new:
            new = sorted(test for test in self.present if test not in self.reach.seconds or test.startswith(RULES))
            near = list(dict.fromkeys([*new, *near, *self.reach.tests_of_file(mutant)]))
        taken = accumulate(self.reach.seconds.get(test, 0) for test in near)
        most = 3 * PATIENCE if self.has_new else PATIENCE
        tests = [test for test, seconds in zip(near, taken, strict=True) if seconds < most]
        place = self.path / mutant.path.relative_to(ROOT)
        while tests:
            place.write_text(mutant.text)
            try:
                answer = self._anew(tests) if self.reach.at_import(mutant) else self._ask(tests, mutant)
                if answer["how"] == "cannot":
                    answer = self._anew(tests)
                if answer["how"] == "passed":
                    return self._is_refused()
            finally:
                copy2(mutant.path, place)
            if self._is_sound(answer["test"]):
                return True
            tests = tests[tests.index(answer["test"]) + 1 :]
        return False

    def _is_refused(self) -> bool:
        """Whether the types do not go together."""
        return self._dmypy("run", "--", "src").returncode != 0

    def _dmypy(self, *arguments: str) -> subprocess.CompletedProcess[bytes]:
        return subprocess.run([Path(sys.executable).with_name("dmypy"), *arguments], cwd=self.path, capture_output=True)

    def _is_sound(self, test: str) -> bool:
        """Whether a test passes without the change; asked once, but for screens, which answer in time or fail."""
        if not test:
            return True
        if test not in self.sound:
            if self._ask([test], None)["how"] != "passed":
                return False
            if not test.startswith("tests/tui"):
                self.sound.add(test)
        return True

    def _ask(self, tests: list[str], mutant: Mutant | None) -> dict[str, Any]:
        limits = {test: 10 + 6 * self.reach.seconds.get(test, 10) for test in tests}
        change = {
            "path": str(mutant.path.relative_to(ROOT)) if mutant else "",
            "before": mutant.path.read_text() if mutant else "",
            "after": mutant.text if mutant else "",
        }
        print(json.dumps({"tests": tests, "seconds": limits, **change}), file=self._asking, flush=True)
        answer: dict[str, Any] = json.loads(self._answered.readline())
        return answer

    def _anew(self, tests: list[str]) -> dict[str, Any]:
        """Ask in a new process; a fault before any test counts as noticed."""
        command = [sys.executable, "-m", "pytest", "-x", "-v", "--tb=no", "-p", "no:cacheprovider", *tests]
        limit = 60 + 3 * sum(self.reach.seconds.get(test, 0) for test in tests)
        with subprocess.Popen(
            command, cwd=self.path, env=self._around(), stdout=subprocess.PIPE, text=True, start_new_session=True
        ) as process:
            try:
                told = process.communicate(timeout=limit)[0]
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, 9)
                return {"how": "late", "test": ""}
        if process.returncode == 0:
            return {"how": "passed"}
        failed = [
            line.partition(" ")[2].partition(" - ")[0] for line in told.splitlines() if line.startswith("FAILED ")
        ]
        return {"how": "failed", "test": failed[0] if failed and failed[0] in tests else ""}

    def _around(self) -> dict[str, str]:
        return {**os.environ, "PYTHONPATH": f"{self.path}/src", "PYTHONDONTWRITEBYTECODE": "1"}


def argued() -> set[tuple[str, ...]]:
    """The changes that are argued for, by their names."""
    if not EQUIVALENTS.exists():
        return set()
    with EQUIVALENTS.open(newline="") as file:
        return {tuple(row[:4]) for row in csv.reader(file, delimiter="\t")}


def again() -> list[Mutant]:
    """The changes that nobody has noticed, as far as they can still be made."""
    with UNNOTICED.open(newline="") as file:
        wanted = {tuple(row) for row in csv.reader(file, delimiter="\t")}
    everything = [mutant for path in sorted({ROOT / path for path, *_ in wanted}) for mutant in mutants_of(path)]
    return [m for m in everything if m.name in wanted]


def run(mutants: list[Mutant], has_new: bool = False) -> int:
    """Try changes; gives how many nobody notices, but for those that are argued for."""
    reach, well = Reach(reached_by(), seconds()), argued()
    unnoticed: list[Mutant] = []
    UNNOTICED.unlink(missing_ok=True)
    with TemporaryDirectory() as top, ThreadPoolExecutor(WORKERS) as pool:
        made = [Folder(Path(top) / str(number), reach, has_new) for number in range(WORKERS)]
        folders: Queue[Folder] = Queue()
        for folder in made:
            folders.put(folder)

        def attempt(mutant: Mutant) -> tuple[Mutant, bool]:
            folder = folders.get()
            try:
                return mutant, folder.is_noticed(mutant)
            finally:
                folders.put(folder)

        for done, (mutant, noticed) in enumerate(pool.map(attempt, mutants), 1):
            if not noticed and mutant.name not in well:
                unnoticed.append(mutant)
                print(f"{mutant.place}: {mutant.before!r} -> {mutant.after!r}", flush=True)
                with UNNOTICED.open("w", newline="") as file:
                    csv.writer(file, delimiter="\t").writerows(m.name for m in unnoticed)
            if done % 20 == 0:
                print(f"{done} tried, {len(unnoticed)} unnoticed", flush=True)
        for folder in made:
            folder.close()
    count = len(mutants)
    print(f"{count} changes, {len(unnoticed)} unnoticed: {100 * len(unnoticed) / max(1, count):.1f} in a hundred")
    return len(unnoticed)


if __name__ == "__main__":
    if sys.argv[1:2] == ["map"]:
        write_map(sys.argv[2:])
    elif sys.argv[1:2] == ["again"]:
        run(again(), has_new=True)
    else:
        run(chosen(int(sys.argv[2]), int(sys.argv[3]) if len(sys.argv) > 3 else 1, sys.argv[4:]))
