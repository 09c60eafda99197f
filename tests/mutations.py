"""Mutated scripts, statements and projects: bytes and tokens changed, cut, doubled and put from one into another.
Whatever comes out must be judged, never crash or hang.

`python tests/mutations.py KIND COUNT [SEED]` runs many; the test keeps a smaller, seeded form.
"""

from __future__ import annotations

import random
import re
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from shutil import copytree, rmtree
from tempfile import TemporaryDirectory

from tools.conformance import features

from glimb.engine.engine import Engine, Limits
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.node import replace
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import Statement
from glimb.suite.project import Project, open_project
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import StatementStep, read_script

DEMO = Path(__file__).parent.parent / "demo"
CONFORMANCE = Path(__file__).parent / "conformance"
_TOKENS = re.compile(r"\s+|\w+|.", re.DOTALL)
_WORDS = (
    "SELECT FROM WHERE NULL ( ) , ; ' \" --> --# case BEGIN END IF LOOP 1 0 -1 99999999999999999999 1e400 'x' . * / "
    "session waits for rows value fails DECLARE HANDLER COMMIT ROLLBACK CAST AS INTEGER DATE /* */ \x00 é ( SELECT"
).split(" ")


def texts() -> list[tuple[Path, str]]:
    """What is mutated: the demo's scripts, its routines as scripts, and the rules and scripts of conformance."""
    paths = sorted([*(DEMO / "cases").glob("*.sql"), *(DEMO / "routines").glob("*.sql")])
    paths += sorted((CONFORMANCE / "cases").rglob("*.sql"))
    rules = [f.script for f in features() if f.script is not None and f.group != "locks"]
    return [*((path, path.read_text()) for path in paths), *((script.path, script.source.text) for script in rules)]


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


def project_of(path: Path) -> Path:
    return CONFORMANCE if path.is_relative_to(CONFORMANCE) else DEMO


def limited(root: Path) -> Project:
    project = open_project(root)
    limits = Limits(rounds=20_000, depth=100, seconds=5.0, memory=300_000_000)
    return replace(project, settings=replace(project.settings, limits=limits))


Found = Iterator[tuple[str, str, str]]
"""A verdict or state, what is wrong with it (mostly nothing), and the text it came from."""


def scripts(count: int, seed: int) -> Found:
    """Run so many mutated scripts."""
    chance = random.Random(seed)
    originals = texts()
    words = vocabulary(originals)
    runner = Runner()
    for root in (DEMO, CONFORMANCE):
        runner.use(limited(root), root / "cases")
    for _ in range(count):
        path, original = chance.choice(originals)
        text = mutate(original, chance, words)
        for result in runner.run_script(read_script(project_of(path) / "cases" / path.name, text)):
            yield result.verdict, complaint(result), text


def complaint(result: CaseResult) -> str:
    """What is wrong with a result, apart from being a slip: an internal error, or a problem without a place."""
    for problem in result.problems:
        if problem.source is None:
            return f"no place: {problem.message}"
        if problem.sqlstate == "XX000":
            return problem.message
    for rung in result.ladder.rungs if result.ladder else []:
        failure = rung.last.failure
        if failure is not None and failure.sqlstate == "XX000":
            return f"{failure.message} from {rung.text}"
    return ""


_PARTS = re.compile(r"\((?:[^()]|\((?:[^()]|\([^()]*\))*\))*\)|'[^']*'|\w+")


def sort_of(part: str) -> str:
    """Parts of one sort can mostly stand for each other: words of the language are written in capitals here."""
    return "1" if part[0].isdigit() else "A" if part.isupper() else "a" if part[0].isalpha() else part[0]


def parts_of(text: str) -> dict[str, list[str]]:
    """What can stand in the place of something else: words, literals, and what is in parentheses; by sort."""
    parts: dict[str, list[str]] = {"": []}
    for part in _PARTS.findall(text):
        parts.setdefault(sort_of(part), []).append(part)
        parts[""].append(part)
    return parts


def graft(text: str, chance: random.Random, near: dict[str, list[str]], far: dict[str, list[str]]) -> str:
    """One to three parts replaced by parts of other statements, mostly of the same file and sort."""
    for _ in range(chance.randint(1, 3)):
        words = chance.random() < 0.1  # of the language: mostly what comes out does not even parse
        places = [place for place in _PARTS.finditer(text) if words or sort_of(place[0]) != "A"]
        if places:
            place = chance.choice(places)
            sort = sort_of(place[0]) if chance.random() < 0.9 else ""
            parts = near if chance.random() < 0.7 else far
            text = text[: place.start()] + chance.choice(parts.get(sort) or parts[""]) + text[place.end() :]
    return text


def statements(count: int, seed: int) -> Found:
    """Run mutated statements where the originals stand: behind those before them in their case, twenty of each."""
    chance = random.Random(seed)
    originals = texts()
    words = vocabulary(originals)
    near = {path: parts_of(text) for path, text in originals}
    far = parts_of("\n".join(text for _, text in originals))
    runner, done = Runner(), 0
    for root in (DEMO, CONFORMANCE):
        runner.use(limited(root), root / "cases")
    while done < count:
        path, original = chance.choice(originals)
        script = read_script(project_of(path) / "cases" / path.name, original)
        case = chance.choice(script.cases)
        project = runner.project(script.path)
        engine = runner.world(project, case.fixture or project.settings.default_fixture)
        engine.reset()
        steps = [s for s in case.steps if isinstance(s, StatementStep)]
        stop = chance.randrange(len(steps)) if steps else 0
        for step in steps[:stop]:
            _execute(engine, step.session, script.source, step.statement)
        for step in steps[stop : stop + 1]:
            text = script.source.text[step.span.start : step.span.end]
            for _ in range(20):
                mutant = graft(text, chance, near[path], far) if chance.random() < 0.8 else mutate(text, chance, words)
                yield *_judged(engine, step.session, mutant), mutant
                done += 1


def _execute(engine: Engine, name: str, source: Source, statement: Statement) -> list[Outcome]:
    session = engine.session(name)
    return [] if session.claims.waiting is not None else engine.execute(session, statement, source)


def _judged(engine: Engine, name: str, text: str) -> tuple[str, str]:
    source = Source(text)
    parsed = parse(source)
    outcomes = [o for s in parsed.statements for o in _execute(engine, name, source, s)]
    states = [o.failure.sqlstate for o in outcomes if o.failure is not None]
    wrong = [o.failure.message for o in outcomes if o.failure is not None and o.failure.sqlstate == "XX000"]
    return "refused" if parsed.problems else "failed" if states else "ran", "; ".join(wrong)


def projects(count: int, seed: int) -> Found:
    """Load so many projects of which one file has been mutated, and run a case."""
    chance = random.Random(seed)
    words = vocabulary(texts())
    with TemporaryDirectory() as folder:
        for number in range(count):
            root = Path(folder) / str(number)
            copytree(DEMO, root)
            path = chance.choice([p for p in sorted(root.rglob("*")) if p.is_file()])
            text = mutate(path.read_text(), chance, words)
            path.write_text(text)
            try:
                runner = Runner()
                for file in sorted((root / "cases").rglob("*.sql"))[:2]:
                    for result in runner.run_script(read_script(file)):
                        yield result.verdict, complaint(result), f"{path.name}: {text}"
                runner.forget()
            except ProblemError as error:
                yield "refused", "" if error.problems[0].source else "no place", f"{path.name}: {text}"
            rmtree(root)


KINDS = {"scripts": scripts, "statements": statements, "projects": projects}


def main() -> int:
    kind, count, seed = sys.argv[1], int(sys.argv[2]), int(sys.argv[3]) if len(sys.argv) > 3 else 1
    started, verdicts, bad = time.perf_counter(), dict[str, int](), 0
    for verdict, wrong, text in KINDS[kind](count, seed):
        verdicts[verdict] = verdicts.get(verdict, 0) + 1
        if wrong:
            bad += 1
            print(f"{wrong}\n---\n{text}", flush=True)
    print(f"{count} {kind}, {verdicts}, {bad} bad, {time.perf_counter() - started:.1f} s")
    return min(bad, 1)


if __name__ == "__main__":
    sys.exit(main())
