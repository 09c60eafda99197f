"""Writes docs/anomalies.md: the textbook anomalies under each concurrency model and isolation level.

Each file of tests/conformance/anomalies is a case that is run under both models and all levels; its last statement asks
whether the anomaly has happened.
"""

from __future__ import annotations

import sys
from pathlib import Path

from glimb.engine.transactions.isolation import MODELS
from glimb.lang.parser.statements import ISOLATION_LEVELS
from glimb.suite.ladder import Ladder
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Twin, read_script

ROOT = Path(__file__).parent.parent
CASES = ROOT / "tests" / "conformance" / "anomalies"
TABLE = ROOT / "docs" / "anomalies.md"
HEAD = """# Anomalies, level by level and model by model

Made by `python -m tools.anomalies` from the cases in [tests/conformance/anomalies](../tests/conformance/anomalies), each run under both
models and all levels. **happens**: what the case is about has come to be. Otherwise what kept it from happening: a session
`waits`, one is rolled back with `40001` (a deadlock's victim, a row that somebody else has changed first, or at COMMIT what was
read has changed), or the reader simply sees an older version (`no`). READ UNCOMMITTED of the model `versions` is READ COMMITTED.
"""
Results = dict[tuple[str, str, str], tuple[bool, str]]
"""By anomaly, model and level: whether it happens, and what is seen."""


def verdict(ladder: Ladder) -> tuple[bool, str]:
    """Whether the anomaly has happened, and how it was kept from it."""
    last = ladder.rungs[-1].last
    assert last.rows is not None, last.failure
    happened = last.rows[0][0] is True
    waits = any(r.outcome.waiting is not None for r in ladder.rungs)
    states = {r.last.failure.sqlstate for r in ladder.rungs if r.last.failure is not None}
    deadlock = any(r.last.failure is not None and r.last.failure.circle for r in ladder.rungs)
    parts = ["waits"] * waits + (["deadlock, 40001"] if deadlock else ["40001"] if "40001" in states else [])
    if ladder.case.title.startswith("fatal deadlock"):
        happened = deadlock
    if happened:
        return True, "**happens**" + (f" ({', '.join(parts)})" if deadlock else "")
    return False, ", ".join(parts) or "no"


def results() -> Results:
    runner = Runner()
    found: Results = {}
    for path in sorted(CASES.glob("*.sql")):
        script = read_script(path)
        case: Case = script.cases[0]
        for model in MODELS:
            for pair in (ISOLATION_LEVELS[:2], ISOLATION_LEVELS[2:]):
                case.model, case.twin = model, Twin("isolation", (pair[0], pair[1]))
                result = runner.run_case(script, case)
                assert result.ladder is not None, result.problems
                assert result.twin is not None
                for level, ladder in zip(pair, (result.ladder, result.twin), strict=True):
                    found[case.title.partition(":")[0], model, level] = verdict(ladder)
    return found


def table(found: Results) -> str:
    parts = [HEAD]
    titles = {read_script(p).cases[0].title for p in sorted(CASES.glob("*.sql"))}
    meanings = dict(t.split(": ", 1) for t in titles)
    for model in MODELS:
        parts.append(f"## Model `{model}`\n")
        parts.append(
            "| anomaly | " + " | ".join(level.upper() for level in ISOLATION_LEVELS) + " |\n" + "| --- " * 5 + "|"
        )
        for anomaly in dict.fromkeys(a for a, _, _ in found):
            cells = [found[anomaly, model, level][1] for level in ISOLATION_LEVELS]
            parts.append(f"| {anomaly} | {' | '.join(cells)} |")
        parts.append("")
    parts.append("What they are:\n")
    parts += [f"- {anomaly}: {meanings[anomaly]}" for anomaly in dict.fromkeys(a for a, _, _ in found)]
    return "\n".join(parts).replace("|\n\n|", "|\n|") + "\n"


if __name__ == "__main__":
    TABLE.write_text(table(results()))
    sys.exit(0)
