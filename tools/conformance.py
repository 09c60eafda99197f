"""Writes docs/conformance.md: each feature of the standard, whether it is done, and where not, why.

    python -m tools.conformance          writes the table
    python -m tools.conformance --check  fails when it is not what the cases give

A feature is done when the cases in tests/conformance/cases/FEATURE.sql are all met.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import NamedTuple

from glimb.suite.runner import Runner
from glimb.suite.script import read_script

ROOT = Path(__file__).parent.parent
PROJECT = ROOT / "tests" / "conformance"
TABLE = ROOT / "docs" / "conformance.md"
HEAD = """# Conformance

Made by `python -m tools.conformance` from the cases in [tests/conformance](../tests/conformance): a feature of ISO/IEC 9075 is done
when there is a file of its name there and all of its cases are met. They show its plain use, NULL, and the wrong use with
its SQLSTATE. L01 to L08 are features of Glimb's own, about locks. What is easy to get wrong has cases in `cases/traps`.
"""


class Feature(NamedTuple):
    """A line of features.tsv, with the number of its cases, how many were met, and why it is not done."""

    group: str
    identifier: str
    name: str
    cases: int
    met: int
    why: str

    @property
    def done(self) -> bool:
        return self.cases > 0 and self.met == self.cases and not self.why


def pairs(path: Path) -> list[list[str]]:
    """The lines of a file of values parted by tabs."""
    return [line.split("\t") for line in path.read_text().splitlines() if line]


def features() -> list[Feature]:
    """Run the cases of every feature."""
    runner = Runner()
    undone = dict(pairs(PROJECT / "undone.tsv"))
    found = []
    for group, identifier, name in pairs(PROJECT / "features.tsv")[1:]:
        path = PROJECT / "cases" / f"{identifier}.sql"
        results = list(runner.run_script(read_script(path))) if path.is_file() else []
        met = sum(r.verdict == "met" for r in results)
        found.append(Feature(group, identifier, name, len(results), met, undone.get(identifier, "")))
    return found


def table(found: list[Feature]) -> str:
    """The document."""
    parts = [HEAD]
    standard = [f for f in found if f.group != "locks"]
    done = sum(f.done for f in standard)
    locks = [f for f in found if f.group == "locks"]
    parts.append(
        f"{done} of {len(standard)} features of the standard are done, and {sum(f.done for f in locks)} of {len(locks)} of our own.\n"
    )
    for group in dict.fromkeys(f.group for f in found):
        parts.append(f"## {group.capitalize()}\n\n| feature | name | done | cases |\n| --- | --- | --- | --- |")
        for f in (f for f in found if f.group == group):
            shown = "yes" if f.done else f"no: {f.why}" if f.why else "no"
            parts.append(f"| {f.identifier} | {f.name} | {shown} | {f.cases or ''} |")
        parts.append("")
    return "\n".join(parts)


def main() -> int:
    text = table(features())
    if "--check" in sys.argv[1:]:
        if TABLE.read_text() == text:
            return 0
        print("docs/conformance.md is not what the cases give; run python -m tools.conformance", file=sys.stderr)
        return 1
    TABLE.write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
