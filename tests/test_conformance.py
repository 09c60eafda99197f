"""The project of conformance cases: all are met, bare, recorded, covered and with plain queries; the table in the docs is theirs."""

from __future__ import annotations

from pathlib import Path

import pytest
from tools import conformance

from glimb.engine.outcomes.steps import walk_steps
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import read_script

CASES = Path(__file__).parent / "conformance" / "cases"
FILES = sorted(CASES.rglob("*.sql"))
RUNNER, PLAIN, COVERING = Runner(), Runner(), Runner(covering=True)


def is_met(result: CaseResult) -> None:
    problems = [p.describe() for p in result.problems]
    slips = [v for rung in (result.ladder.rungs if result.ladder else ()) for v in rung.verdicts if not v.met]
    assert result.verdict == "met", (result.title, problems, slips)


@pytest.mark.parametrize("path", FILES, ids=lambda p: p.stem)
def test_cases_are_met(path: Path) -> None:
    script = read_script(path)
    assert script.cases
    for case in script.cases:
        is_met(RUNNER.run_case(script, case))
        is_met(COVERING.run_case(script, case))
        recorded = RUNNER.run_case(script, case, recording=True)
        is_met(recorded)
        assert recorded.ladder is not None
        for rung in recorded.ladder.rungs:
            assert list(walk_steps(rung.steps)) is not None


def test_cases_are_met_by_plain_queries() -> None:
    for path in FILES:
        script = read_script(path)
        for case in script.cases:
            project = PLAIN.project(path)
            PLAIN.world(project, case.fixture or project.settings.default_fixture).shared.plain = True
            is_met(PLAIN.run_case(script, case))


def test_table_in_the_docs() -> None:
    assert conformance.TABLE.read_text() == conformance.table(conformance.features())
