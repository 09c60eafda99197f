"""Writes docs/conformance.md: the features of the standard, how many of their rules are met, and which are not done.

    python -m tools.conformance          writes the table
    python -m tools.conformance FOLDER   makes a project there, with the rules as scripts, to be opened and worked in

The rules stand in tests/conformance/rules, a file for each group of features, in the order of features.tsv:

    # E061-07
    8.9 ALL over no rows is true, SOME over no rows is false
    SELECT 1 > ALL (SELECT a FROM pair WHERE a > 9); --> TRUE
    8.9 one row for which it is unknown, and none for which it is false :: SELECT 9 > ALL (SELECT a FROM pair); --> NULL
    ! 8.9 a rule that is not done: why

`#` begins a feature. A line that begins with a clause of ISO/IEC 9075-2 (`4/` and `11/`: of parts 4 and 11) is a rule;
its case stands behind `::` or in the lines below it, as in a script. What is expected of a statement may stand behind it: an expectation, or
the values of its rows, parted by ` / `. The features of locks have scripts in cases.
"""

from __future__ import annotations

import argparse
import re
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from glimb.suite.expectations.kinds import KINDS
from glimb.suite.runner import Runner
from glimb.suite.script import Script, read_script

ROOT = Path(__file__).parent.parent
PROJECT = ROOT / "tests" / "conformance"
TABLE = ROOT / "docs" / "conformance.md"
HEAD = """# Conformance

Made by `python -m tools.conformance` from [tests/conformance](../tests/conformance): each feature of ISO/IEC 9075 has the rules
behind it, in our words, with the clause they come from (edition of 2016), and each rule a case that shows it. A feature
is done when all its rules are met, and its parts are done, in both concurrency models, run bare, recorded and covered, planned and plain.
L01 to L08 are features of Glimb's own, about locks. What is easy to get wrong has cases in `cases/traps`.
"""
_FEATURE = re.compile(r"# (\S+)$")
_RULE = re.compile(r"(! )?((?:\d+/)?\d+\.\d+) (.+)$")
_OUTCOME = re.compile(r"^(.*;) --> (.+)$")
_WORDS = {words.split()[0] for words in KINDS}
_ANY = "in any order "


class Feature(NamedTuple):
    """A feature: its rules as a script of cases, and those that are not done, with the reasons."""

    group: str
    identifier: str
    name: str
    script: Script | None
    undone: list[str]

    @property
    def rules(self) -> int:
        return len(self.script.cases) if self.script is not None else 0


def features() -> list[Feature]:
    """All features, in the order of features.tsv."""
    found = []
    rules = dict(part for path in sorted((PROJECT / "rules").glob("*.rules")) for part in _parts(path))
    for line in (PROJECT / "features.tsv").read_text().splitlines()[1:]:
        group, identifier, name = line.split("\t")
        path = PROJECT / "cases" / f"{identifier}.sql"
        text, undone = rules.pop(identifier, ("", []))
        script = read_script(path, text) if text else read_script(path) if path.is_file() else None
        found.append(Feature(group, identifier, name, script, undone))
    if rules:
        raise ValueError(f"no such features: {', '.join(rules)}")
    return found


def _parts(path: Path) -> Iterator[tuple[str, tuple[str, list[str]]]]:
    """The features of a file, each with its rules as the text of a script, and what is not done."""
    identifier, lines, undone = "", list[str](), list[str]()
    for line in [*path.read_text().splitlines(), "# end"]:
        feature = _FEATURE.match(line)
        rule = _RULE.match(line)
        if feature is not None:
            if identifier:
                yield identifier, ("\n".join(lines), undone)
            identifier, lines, undone = feature[1], [], []
        elif rule is not None and rule[1]:
            undone.append(f"{rule[2]} {rule[3]}")
        elif rule is not None:
            title, _, case = rule[3].partition(" :: ")
            lines.append(f"--# case {identifier} {rule[2]} {title}")
            lines += _script_lines(case) if case else []
        else:
            lines += _script_lines(line)


def _script_lines(line: str) -> list[str]:
    """A line as it stands in a script: what is expected behind a statement comes below it."""
    found = _OUTCOME.match(line)
    if found is None:
        return [line]
    statement, outcome = found.groups()
    if outcome.split(" ", 1)[0] in _WORDS:
        return [statement, f"--> {outcome}"]
    if " | " not in outcome and " / " not in outcome:
        return [statement, f"--> value {outcome}"]
    mode = " in any order" if outcome.startswith(_ANY) else ""
    rows = outcome.removeprefix(_ANY).split(" / ")
    return [statement, f"--> rows{mode}", *(f"-->   {row}" for row in rows)]


def done_among(found: list[Feature]) -> set[str]:
    """The features whose rules are all met, or, of those that have none of their own, whose parts are done."""
    runner, done = Runner(), set[str]()
    for feature in reversed(found):  # its parts follow a feature
        parts = [f.identifier for f in found if f.identifier.startswith(f"{feature.identifier}-")]
        met = feature.script is None or all(r.verdict == "met" for r in runner.run_script(feature.script))
        if met and not feature.undone and (feature.script or parts) and done.issuperset(parts):
            done.add(feature.identifier)
    return done


def table(found: list[Feature]) -> str:
    """The document."""
    parts = [HEAD]
    done = done_among(found)
    standard = [f for f in found if f.group != "locks"]
    locks = [f for f in found if f.group == "locks"]
    parts.append(
        f"{sum(f.identifier in done for f in standard)} of {len(standard)} features of the standard are done, with"
        f" {sum(f.rules for f in standard)} rules, and {sum(f.identifier in done for f in locks)} of {len(locks)} of our own.\n"
    )
    for group in dict.fromkeys(f.group for f in found):
        parts.append(f"## {group.capitalize()}\n\n| feature | name | done | rules |\n| --- | --- | --- | --- |")
        for f in (f for f in found if f.group == group):
            shown = "yes" if f.identifier in done else f"no: {'; '.join(f.undone)}" if f.undone else "no"
            parts.append(f"| {f.identifier} | {f.name} | {shown} | {f.rules or ''} |")
        parts.append("")
    return "\n".join(parts)


def lay_out(folder: Path) -> None:
    """Make a project in a folder that is not there yet, with a script for each feature."""
    shutil.copytree(PROJECT, folder, ignore=shutil.ignore_patterns("rules", ".glimb"))
    for feature in features():
        if feature.script is not None:
            (folder / "cases" / Path(feature.script.name).name).write_text(feature.script.source.text)


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", nargs="?", type=Path, help="lay the rules out as a project there, and write no table")
    given = parser.parse_args()
    if given.folder is not None:
        lay_out(given.folder)
    else:
        TABLE.write_text(table(features()))
