"""Mutated scripts: bytes and tokens changed, cut and doubled. Whatever comes out must be judged, never crash or hang.

`python tests/mutations.py COUNT [SEED]` runs many; the test keeps a smaller, seeded form.
"""

from __future__ import annotations

import random
import re
import sys
import time
from collections.abc import Iterator
from pathlib import Path

from glimb.engine.engine import Limits
from glimb.lang.node import replace
from glimb.suite.project import open_project
from glimb.suite.runner import CaseResult, Runner
from glimb.suite.script import read_script

DEMO = Path(__file__).parent.parent / "demo"
CONFORMANCE = Path(__file__).parent / "conformance"
_TOKENS = re.compile(r"\s+|\w+|.", re.DOTALL)
_WORDS = (
    "SELECT FROM WHERE NULL ( ) , ; ' \" --> --# case BEGIN END IF LOOP 1 0 -1 99999999999999999999 1e400 'x' . * / "
    "session waits for rows value fails DECLARE HANDLER COMMIT ROLLBACK CAST AS INTEGER DATE /* */ \x00 é ( SELECT"
).split(" ")


def texts() -> list[tuple[Path, str]]:
    """What is mutated: the demo's scripts, its routines as scripts, and the conformance cases."""
    paths = sorted([*(DEMO / "cases").glob("*.sql"), *(DEMO / "routines").glob("*.sql")])
    return [(path, path.read_text()) for path in [*paths, *sorted((CONFORMANCE / "cases").rglob("*.sql"))]]


def vocabulary(originals: list[tuple[Path, str]]) -> list[str]:
    """Words to put in: those that are awkward, and as many times as they occur those of the originals."""
    return [*_WORDS * 100, *(w for _, text in originals for w in _TOKENS.findall(text) if w.strip())]


def mutate(text: str, chance: random.Random, words: list[str]) -> str:
    """One to four changes of bytes, tokens or lines."""
    for _ in range(chance.randint(1, 4)):
        parts = _TOKENS.findall(text) if chance.random() < 0.7 else list(text)
        if not parts:
            return text
        at = chance.randrange(len(parts))
        end = min(len(parts), at + chance.choice((1, 1, 2, 5, 40)))
        kind = chance.randrange(5)
        if kind == 0:
            del parts[at:end]
        elif kind == 1:
            parts[at:at] = parts[at:end]
        elif kind == 2:
            parts[at] = chance.choice(words)
        elif kind == 3:
            parts.insert(at, " " + chance.choice(words) + " ")
        else:
            other = chance.randrange(len(parts))
            parts[at], parts[other] = parts[other], parts[at]
        text = "".join(parts)
    return text


def run_mutated(count: int, seed: int) -> Iterator[tuple[str, CaseResult]]:
    """Run so many mutated scripts; gives every result with the text it came from."""
    chance = random.Random(seed)
    originals = texts()
    words = vocabulary(originals)
    runner = Runner()
    limits = Limits(rounds=20_000, depth=100, seconds=5.0)
    for root in (DEMO, CONFORMANCE):
        project = open_project(root)
        runner.use(replace(project, settings=replace(project.settings, limits=limits)), root / "cases")
    for _ in range(count):
        path, original = chance.choice(originals)
        text = mutate(original, chance, words)
        root = CONFORMANCE if path.is_relative_to(CONFORMANCE) else DEMO
        script = read_script(root / "cases" / path.name, text)
        for result in runner.run_script(script):
            yield text, result


def complaint(result: CaseResult) -> str:
    """What is wrong with a result, apart from being a slip: an internal error, or a problem without a place."""
    for problem in result.problems:
        if problem.source is None:
            return f"no place: {problem.message}"
    for rung in result.ladder.rungs if result.ladder else []:
        failure = rung.last.failure
        if failure is not None and failure.sqlstate == "XX000":
            return f"{failure.message} from {rung.text}"
    return ""


def main() -> int:
    count, seed = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1
    started, verdicts, bad = time.perf_counter(), dict[str, int](), 0
    for text, result in run_mutated(count, seed):
        verdicts[result.verdict] = verdicts.get(result.verdict, 0) + 1
        wrong = complaint(result)
        if wrong:
            bad += 1
            print(f"{wrong}\n---\n{text}")
    print(f"{count} scripts, {verdicts}, {bad} bad, {time.perf_counter() - started:.1f} s")
    return min(bad, 1)


if __name__ == "__main__":
    sys.exit(main())
