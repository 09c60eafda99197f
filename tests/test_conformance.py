"""The rules of the standard, and the scripts of traps: all are met, bare, recorded, covered and with plain queries, in both
concurrency models; the table in the docs is theirs."""

from __future__ import annotations

from copy import copy
from pathlib import Path

import pytest
from tools import conformance

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


def test_table_in_the_docs() -> None:
    assert conformance.TABLE.read_text() == conformance.table(FEATURES)
