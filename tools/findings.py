"""Write the table of findings in docs/findings.md from the rules themselves: `python -m tools.findings`."""

from __future__ import annotations

from pathlib import Path

from glimb.suite.checking import CASE_RULES, CASE_WORDS
from glimb.suite.findings.finding import RULES

DOCS = Path(__file__).parents[1] / "docs" / "findings.md"
START = "| code | what it finds | what may be done |\n| --- | --- | --- |\n"


def table() -> str:
    """A line for each finding."""
    rows = [(code, " ".join((rule.look.__doc__ or "").split()), rule.remedy) for code, rule in RULES.items()]
    rows += [(code, CASE_WORDS[code], remedy) for code, remedy in CASE_RULES.items()]
    return "".join(f"| {code} | {what.replace('|', chr(92) + '|')} | {remedy} |\n" for code, what, remedy in rows)


def text() -> str:
    """The whole document with the table as the rules have it."""
    head, _, rest = DOCS.read_text().partition(START)
    _, gap, behind = rest.partition("\n\n")
    return f"{head}{START}{table()}{gap[1:]}{behind}"


if __name__ == "__main__":
    DOCS.write_text(text())
