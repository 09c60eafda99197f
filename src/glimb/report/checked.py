"""What a check tells, in four formats: text, JSON lines, SARIF 2.1.0 (OASIS), annotations of GitHub's runners."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from typing import Any

from glimb.lang.problem import indent
from glimb.suite.checking import ERROR, Told, codes

Shown = Callable[[str], str]


def text_lines(told: list[Told], shown: Shown) -> Iterator[str]:
    """Each with its place, and the line with a mark below it; a last line counts."""
    for one in told:
        message = f"{one.message} ({one.hint})" if one.hint else one.message
        place = f"{shown(one.file)}:{one.line}:{one.column}: " if one.file else ""
        yield f"{place}{one.severity} {one.code}: {message}"
        if one.excerpt:
            yield indent(one.excerpt)
    errors = sum(one.severity == ERROR for one in told)
    counts = [f"{n} {word}{'s' * (n != 1)}" for n, word in ((errors, "error"), (len(told) - errors, "finding")) if n]
    yield ", ".join(counts) or "nothing is wrong, nothing is dubious"


def json_lines(told: list[Told], shown: Shown) -> Iterator[str]:
    """An object for each (docs/findings.md tells its fields)."""
    for one in told:
        fields = one._replace(file=shown(one.file) if one.file else "")._asdict()
        del fields["excerpt"]
        yield json.dumps(fields, ensure_ascii=False)


def github_lines(told: list[Told], shown: Shown) -> Iterator[str]:
    """Workflow commands, which show each at its line of a change."""
    for one in told:
        message = f"{one.message} ({one.hint})" if one.hint else one.message
        file = shown(one.file) if one.file else ""
        yield annotation(one.severity, file, one.line, one.column, one.code, message)


def annotation(level: str, file: str, line: int, column: int, title: str, message: str) -> str:
    """One workflow command; without a file it belongs to the run."""
    place = f"file={_property(file)},line={line},col={column}," if file else ""
    return f"::{level} {place}title={_property(title)}::{_data(message)}"


def _data(text: str) -> str:
    return text.replace("%", "%25").replace("\r", "%0D").replace("\n", "%0A")


def _property(text: str) -> str:
    return _data(text).replace(":", "%3A").replace(",", "%2C")


def sarif_lines(told: list[Told], shown: Shown) -> Iterator[str]:
    """One log with one run."""
    known = codes()
    rules = [
        {"id": code, "help": {"text": known[code]}} for code in dict.fromkeys(o.code for o in told) if code in known
    ]
    driver = {"name": "glimb", "rules": rules}
    results = [_result(one, shown) for one in told]
    log = {
        "$schema": "https://json.schemastore.org/sarif-2.1.0.json",
        "version": "2.1.0",
        "runs": [{"tool": {"driver": driver}, "results": results}],
    }
    yield json.dumps(log, indent=2, ensure_ascii=False)


def _result(one: Told, shown: Shown) -> dict[str, Any]:
    message = f"{one.message} ({one.hint})" if one.hint else one.message
    result: dict[str, Any] = {"ruleId": one.code, "level": one.severity, "message": {"text": message}}
    if one.file:
        region = {"startLine": one.line, "startColumn": one.column}
        place = {"artifactLocation": {"uri": shown(one.file).replace("\\", "/")}, "region": region}
        result["locations"] = [{"physicalLocation": place}]
    return result


FORMATS: dict[str, Callable[[list[Told], Shown], Iterator[str]]] = {
    "text": text_lines,
    "jsonl": json_lines,
    "sarif": sarif_lines,
    "github": github_lines,
}
