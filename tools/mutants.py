"""Small changes to our own source, one at a time: which of them does no test notice?

    python -m tools.mutants map [TEST...]    runs all tests (these) and writes which lines each of them reaches (.mutants/)
    python -m tools.mutants run 600 [SEED [PART...]]   so many changes, chosen by a seed over all files, or those in these
                                             parts of src/glimb; the tests that reach them are asked

A change that is noticed fails a test or never ends. Those that are not are told with their place, and kept in
.mutants/unnoticed.tsv; `tests/equivalents.tsv` argues for those that change nothing that could be noticed. The map may be
older than the source: lines are followed through what was changed since.
"""

from __future__ import annotations

import ast
import compileall
import json
import os
import random
import re
import subprocess
import sys
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from difflib import SequenceMatcher
from functools import cache
from itertools import chain
from pathlib import Path
from queue import Queue
from shutil import copytree, ignore_patterns
from tempfile import TemporaryDirectory
from typing import Any, NamedTuple

import pytest

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "glimb"
KEPT = ROOT / ".mutants"
EQUIVALENTS = ROOT / "tests" / "equivalents.tsv"
ROUNDS = ((15, 100), (60, 100), (10_000, 900))
"""How many tests are asked, one round after the other, and for how many seconds: those first that reach the fewest
lines. What every query goes through is reached by a thousand tests, and noticed by few of them: in the end all are asked."""
WORKERS = 2


class Mutant(NamedTuple):
    """A change: a file, the lines it touches, what stood there and what stands there now, and the whole new text."""

    path: Path
    first: int
    last: int
    before: str
    after: str
    text: str

    @property
    def place(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.first}"


# ---- changes


COMPARISONS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
OPERATORS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Add, ast.FloorDiv: ast.Mult, ast.Div: ast.Mult, ast.Mod: ast.Add,
    ast.BitOr: ast.BitAnd, ast.BitAnd: ast.BitOr,
}  # fmt: skip


def changed(node: ast.AST) -> Iterator[ast.AST]:
    """What could stand in the place of a node, each a small step away."""
    match node:
        case ast.Compare(ops=[one]):
            yield ast.Compare(node.left, [COMPARISONS[type(one)]()], node.comparators)
        case ast.BoolOp():
            yield ast.BoolOp(ast.Or() if isinstance(node.op, ast.And) else ast.And(), node.values)
        case ast.BinOp() if type(node.op) in OPERATORS and not _is_text(node):
            yield ast.BinOp(node.left, OPERATORS[type(node.op)](), node.right)
        case ast.UnaryOp(op=ast.Not()):
            yield node.operand
        case ast.Constant(value=bool() as value):
            yield ast.Constant(not value)
        case ast.Constant(value=int() as value):
            yield ast.Constant(value + 1)
        case ast.If() | ast.While() | ast.IfExp():
            yield ast.UnaryOp(ast.Not(), node.test)
        case ast.Return(value=ast.expr() as value) if not isinstance(value, ast.Constant):
            yield ast.Return(ast.Constant(None))
        case ast.Expr(value=ast.Call()) | ast.AugAssign() | ast.Raise():
            yield ast.Pass()
        case ast.Break():
            yield ast.Continue()
        case ast.Continue():
            yield ast.Break()


def _is_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(side, ast.JoinedStr | ast.Constant) and not isinstance(getattr(side, "value", 0), int)
        for side in (node.left, node.right)
    )


def mutants_of(path: Path) -> list[Mutant]:
    """All changes of a file. Annotations, docstrings and what is for the type checker stay as they are."""
    text = path.read_text()
    lines = text.splitlines(keepends=True)
    starts = [0]
    for line in lines:
        starts.append(starts[-1] + len(line))
    found = []
    for node in _alive(ast.parse(text)):
        spot: Any = node.test if isinstance(node, ast.If | ast.While | ast.IfExp) else node
        for new in changed(node):
            first = starts[spot.lineno - 1] + len(lines[spot.lineno - 1].encode()[: spot.col_offset].decode())
            last = starts[spot.end_lineno - 1] + len(
                lines[spot.end_lineno - 1].encode()[: spot.end_col_offset].decode()
            )
            written = ast.unparse(ast.fix_missing_locations(new))
            if isinstance(new, ast.expr):
                written = f"({written})"
            found.append(
                Mutant(
                    path, spot.lineno, spot.end_lineno, text[first:last], written, text[:first] + written + text[last:]
                )
            )
    return found


def _alive(node: ast.AST) -> Iterator[ast.AST]:
    for name, value in ast.iter_fields(node):
        if name in ("annotation", "returns", "decorator_list", "keywords" if isinstance(node, ast.ClassDef) else ""):
            continue
        for inner in value if isinstance(value, list) else [value]:
            if not isinstance(inner, ast.AST) or (
                isinstance(inner, ast.If) and "TYPE_CHECKING" in ast.unparse(inner.test)
            ):
                continue
            if isinstance(inner, ast.JoinedStr):
                yield from chain.from_iterable(
                    _alive(part.value) for part in inner.values if isinstance(part, ast.FormattedValue)
                )
                continue
            yield inner
            yield from _alive(inner)


def chosen(count: int, seed: int, parts: list[str]) -> list[Mutant]:
    """So many changes over all files of these parts."""
    paths = sorted(path for part in parts or [""] for path in (SOURCE / part).rglob("*.py"))
    everything = [mutant for path in paths for mutant in mutants_of(path)]
    return random.Random(seed).sample(everything, min(count, len(everything)))


# ---- which tests reach what


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """As a plugin of pytest: coverage is told which test runs, here and in the processes that it starts."""
    import coverage

    measuring = coverage.Coverage.current()
    if measuring is not None:
        measuring.switch_context(item.nodeid)
        os.environ[RUNNING] = item.nodeid
    yield


RUNNING = "GLIMB_TEST"
"""Where processes find the name of the test that has started them."""


def write_map(tests: list[str]) -> None:
    """Run tests (all) under coverage, and keep who reaches which line. Processes that tests start are measured too: many
    tests of the command line and of the screens reach nothing themselves."""
    KEPT.mkdir(exist_ok=True)
    copytree(SOURCE, KEPT / "source", ignore=ignore_patterns("__pycache__"), dirs_exist_ok=True)
    own, started = KEPT / "coveragerc", KEPT / "startedrc"
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
        "tools.mutants",
        *tests,
    ]
    subprocess.run(command, cwd=ROOT, env=around)


def reached_by() -> tuple[dict[str, dict[int, list[str]]], dict[str, int]]:
    """By file and line the tests that reach it, and how many lines each test reaches."""
    import coverage

    files: dict[str, dict[int, list[str]]] = {}
    size: dict[str, int] = defaultdict(int)
    for path in sorted(KEPT.glob("data*")):
        data = coverage.CoverageData(str(path))
        data.read()
        for name in data.measured_files():
            place = name.partition("/src/glimb/")[2]
            kept, now = files.setdefault(place, {}), _followed(place)
            for line, tests in data.contexts_by_lineno(name).items():
                for test in filter(None, tests):
                    kept.setdefault(now.get(line, 0), []).append(test)
                    size[test] += 1
    return files, size


@cache
def _followed(place: str) -> dict[int, int]:
    """Where the lines of a file that the map knows are now."""
    before, now = KEPT / "source" / place, SOURCE / place
    if not (before.exists() and now.exists()):
        return {}
    same = SequenceMatcher(None, before.read_text().splitlines(), now.read_text().splitlines(), autojunk=False)
    return {a + step + 1: b + step + 1 for a, b, size in same.get_matching_blocks() for step in range(size)}


def present() -> set[str]:
    """The names of all tests that there are."""
    listed = subprocess.run(
        [sys.executable, "-m", "pytest", "--collect-only", "-q", "-o", "addopts="], cwd=ROOT, capture_output=True
    )
    return set(listed.stdout.decode().splitlines())


class Asked(NamedTuple):
    """What is known of tests: who reaches what, and which are still there."""

    files: dict[str, dict[int, list[str]]]
    size: dict[str, int]
    present: set[str]

    def tests(self, mutant: Mutant) -> list[str]:
        """Those that reach the change, or else its file; the narrowest first."""
        lines = self.files.get(str(mutant.path.relative_to(SOURCE)), {})
        near = {test for line in range(mutant.first, mutant.last + 1) for test in lines.get(line, ())}
        near = near or {test for tests in lines.values() for test in tests}
        return sorted(near & self.present, key=lambda test: (self.size[test], test))


# ---- running


def is_noticed(folder: Path, mutant: Mutant, tests: list[str], sound: set[str]) -> bool:
    """Whether one of the tests fails, or does not end where it ends without the change."""
    place = folder / mutant.path.relative_to(ROOT)
    begun = 0
    for count, seconds in ROUNDS:
        some, begun = tests[begun : begun + count], begun + count
        while some:
            place.write_text(mutant.text)
            try:
                ended = failing(folder, some, seconds)
            finally:
                place.write_text(mutant.path.read_text())
            if ended == []:
                break
            blamed = [test for test in ended or () if test in some] or some
            if _is_sound(folder, blamed, seconds, sound):
                return True
            some = [test for test in some if test not in blamed]
    return False


def _is_sound(folder: Path, tests: list[str], seconds: int, sound: set[str]) -> bool:
    """Whether tests pass without the change; asked once, but for screens, which answer in time or fail."""
    if not sound.issuperset(tests):
        if failing(folder, tests, seconds) != []:
            return False
        sound.update(test for test in tests if not test.startswith("tests/tui"))
    return True


def failing(folder: Path, tests: list[str], seconds: int) -> list[str] | None:
    """The first test that fails in a folder, or what else was told when none could be run; None when they are not over
    in time."""
    around = {**os.environ, "PYTHONPATH": f"{folder}/src", "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, "-m", "pytest", "-x", "-q", "--tb=no", "-p", "no:cacheprovider", *tests]
    with subprocess.Popen(
        command,
        cwd=folder,
        env=around,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        start_new_session=True,
    ) as process:
        try:
            told = process.communicate(timeout=seconds)[0]
        except subprocess.TimeoutExpired:
            os.killpg(process.pid, 9)
            return None
    if process.returncode == 0:
        return []
    return re.findall(r"^(?:FAILED|ERROR) (\S.*?)(?: - .*)?$", told, re.MULTILINE) or [told]


def run(count: int, seed: int, parts: list[str]) -> int:
    """Try so many changes; gives how many nobody notices, but for those that are argued for."""
    asked = Asked(*reached_by(), present())
    argued = (
        {tuple(line.split("\t")[:3]) for line in EQUIVALENTS.read_text().splitlines()}
        if EQUIVALENTS.exists()
        else set()
    )
    folders: Queue[Path] = Queue()
    unnoticed: list[Mutant] = []
    sound: set[str] = set()
    with TemporaryDirectory() as top, ThreadPoolExecutor(WORKERS) as pool:
        for number in range(WORKERS):
            folder = Path(top) / str(number)
            copytree(ROOT, folder, ignore=ignore_patterns(".venv", ".git", ".mutants", ".*_cache", "__pycache__"))
            compileall.compile_dir(folder / "src", quiet=1)
            folders.put(folder)

        def attempt(mutant: Mutant) -> tuple[Mutant, bool]:
            folder = folders.get()
            try:
                return mutant, is_noticed(folder, mutant, asked.tests(mutant), sound)
            finally:
                folders.put(folder)

        for done, (mutant, noticed) in enumerate(pool.map(attempt, chosen(count, seed, parts)), 1):
            is_argued = (str(mutant.path.relative_to(ROOT)), mutant.before, mutant.after) in argued
            if not noticed and not is_argued:
                unnoticed.append(mutant)
                print(f"{mutant.place}: {mutant.before!r} -> {mutant.after!r}", flush=True)
            if done % 20 == 0:
                print(f"{done} tried, {len(unnoticed)} unnoticed", flush=True)
    (KEPT / "unnoticed.tsv").write_text(
        "".join(f"{m.place}\t{json.dumps(m.before)}\t{json.dumps(m.after)}\n" for m in unnoticed)
    )
    print(f"{count} changes, {len(unnoticed)} unnoticed: {100 * len(unnoticed) / max(1, count):.1f} in a hundred")
    return len(unnoticed)


if __name__ == "__main__":
    if sys.argv[1:2] == ["map"]:
        write_map(sys.argv[2:])
    else:
        run(int(sys.argv[2]), int(sys.argv[3]) if len(sys.argv) > 3 else 1, sys.argv[4:])
