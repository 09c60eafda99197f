"""The project of conformance cases: all are met, and the table in the docs is what they give."""

from __future__ import annotations

from pathlib import Path

import pytest
from tools import conformance

from glimb.suite.runner import Runner
from glimb.suite.script import read_script

CASES = Path(__file__).parent / "conformance" / "cases"
RUNNER = Runner()


@pytest.mark.parametrize("path", sorted(CASES.rglob("*.sql")), ids=lambda p: p.stem)
def test_cases_are_met(path: Path) -> None:
    for result in RUNNER.run_script(read_script(path)):
        problems = [p.describe() for p in result.problems]
        slips = [v for rung in (result.ladder.rungs if result.ladder else ()) for v in rung.verdicts if not v.met]
        assert result.verdict == "met", (result.title, problems, slips)


def test_table_in_the_docs() -> None:
    assert conformance.TABLE.read_text() == conformance.table(conformance.features())
