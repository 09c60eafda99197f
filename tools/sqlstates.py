"""Writes docs/sqlstates.md: every SQLSTATE that the engine raises, from the one list in the code, with a sentence and an
example, which is a case of tests/conformance/cases/states.sql."""

from __future__ import annotations

import sys
from pathlib import Path

from glimb.engine.values.conditions import STATES
from glimb.suite.script import BrokenStep, StatementStep, read_script

ROOT = Path(__file__).parent.parent
CASES = ROOT / "tests" / "conformance" / "cases" / "states.sql"
TABLE = ROOT / "docs" / "sqlstates.md"
HEAD = """# SQLSTATEs

Made by `python -m tools.sqlstates` from the list in the code (`engine/values/conditions.py`) and the cases in
[tests/conformance/cases/states.sql](../tests/conformance/cases/states.sql). Class 5B (budgets) and 5L (locks), and subclasses where the
standard has none, are Glimb's own. SIGNAL can raise any other state.

| state | meaning | example |
| --- | --- | --- |
"""
WITHOUT_EXAMPLE = {
    "00000": "every statement that succeeds",
    "01000": "SIGNAL of class 01 that nobody handles goes on",
    "57014": "the run is stopped on the screen, or by a keyboard interrupt",
    "58030": "a file of the project that is not UTF-8",
    "5B002": "a statement that takes longer than `[limits] seconds` in glimb.toml",
    "5B005": "a statement that takes more memory than `[limits] memory` in glimb.toml",
    "XX000": "a fault of ours; the message asks to report it",
}


def examples() -> dict[str, str]:
    """The last statement of each case that is expected to fail, by the case's title."""
    script = read_script(CASES)
    found = {}
    for case in script.cases:
        for step in case.steps:
            if isinstance(step, StatementStep | BrokenStep) and any(
                e.kind in ("fails", "waits") for e in step.expectations
            ):
                found[case.title] = " ".join(script.source[step.span].split())
    return found


def table() -> str:
    shown = {**{state: f"`{text}`" for state, text in examples().items()}, **WITHOUT_EXAMPLE}
    lines = (
        f"| {state} | {meaning} | {shown[state].replace('|', chr(92) + '|')} |"
        for state, meaning in sorted(STATES.items())
    )
    return HEAD + "\n".join(lines) + "\n"


if __name__ == "__main__":
    TABLE.write_text(table())
    sys.exit(0)
