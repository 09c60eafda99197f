"""The rules of the standard, and the scripts of traps: all are met, bare, recorded, covered and with plain queries, in both
concurrency models; the table in the docs is theirs."""

from __future__ import annotations

import random
import re
from collections.abc import Callable
from copy import copy
from pathlib import Path

import pytest
from tools import conformance

from amounts import IS_THOROUGH
from glimb.engine.outcomes.steps import walk_steps
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import Script, read_script

CASES = Path(__file__).parent / "conformance" / "cases"
FEATURES = conformance.features()
RULES = [f.script for f in FEATURES if f.script is not None and f.group != "locks"]
SCRIPTS = [*RULES, *map(read_script, sorted(CASES.rglob("*.sql")))]
RUNNER, PLAIN, COVERING = Runner(), Runner(), Runner(covering=True)


def is_met(result: CaseResult) -> None:
    problems = [p.describe() for p in result.problems]
    slips = [v for rung in (result.ladder.rungs if result.ladder else ()) for v in rung.verdicts if not v.met]
    assert result.verdict == "met", (result.title, problems, slips)


@pytest.mark.parametrize("script", SCRIPTS, ids=lambda s: Path(s.name).stem)
def test_cases_are_met(script: Script) -> None:
    assert script.cases
    assert not script.problems
    for case in script.cases:
        is_met(RUNNER.run_case(script, case))
        is_met(COVERING.run_case(script, case))
        recorded = RUNNER.run_case(script, case, recording=True)
        is_met(recorded)
        assert recorded.ladder is not None
        for rung in recorded.ladder.rungs:
            assert list(walk_steps(rung.steps)) is not None
        project = PLAIN.project(Path(script.name))
        PLAIN.world(project, case.fixture or project.settings.default_fixture).shared.plain = True
        is_met(PLAIN.run_case(script, case))


@pytest.mark.parametrize("script", RULES, ids=lambda s: Path(s.name).stem)
def test_rules_hold_in_the_other_model(script: Script) -> None:
    for case in script.cases:
        if len(case.sessions()) == 1:
            other = copy(case)
            other.model = "locking" if case.model != "locking" else "versions"
            is_met(RUNNER.run_case(script, other))


CHANGES: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], str]], ...] = (
    (re.compile(r"(?<![\w.'])(?<!DAY\()\d+(?![\w.'])"), lambda found: str(int(found[0]) + 1)),
    (re.compile(r"\b(TRUE|FALSE)\b"), lambda found: "FALSE" if found[0] == "TRUE" else "TRUE"),
    (re.compile(r"(?<=[a-z])'(?=\s|$)"), lambda found: "q'"),
    (re.compile(r"\bNULL\b"), lambda found: "7"),
)
"""What an expectation may say otherwise, so that it is no longer what comes out."""


@pytest.mark.parametrize("script", SCRIPTS[:: 1 if IS_THOROUGH else 9], ids=lambda s: Path(s.name).stem)
def test_what_is_expected_otherwise_slips(script: Script) -> None:
    lines = script.source.text.split("\n")
    chance, start = random.Random(len(lines)), 0
    for number, line in enumerate(lines):
        ways = [(found, make) for pattern, make in CHANGES for found in pattern.finditer(line)]
        if line.startswith("-->") and ways:
            found, make = chance.choice(ways)
            changed = line[: found.start()] + make(found) + line[found.end() :]
            other = read_script(Path(script.name), "\n".join([*lines[:number], changed, *lines[number + 1 :]]))
            case = next(c for c in other.cases if c.span.start <= start <= c.end)
            assert RUNNER.run_case(other, case).verdict != "met", (case.title, line, changed)
        start += len(line) + 1


def test_table_in_the_docs() -> None:
    assert conformance.TABLE.read_text() == conformance.table(FEATURES)
