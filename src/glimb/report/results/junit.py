"""Results as JUnit XML, the form that pipelines read: a testsuite for each script, a testcase for each case."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from itertools import groupby
from pathlib import Path

from glimb.report.reported import Reported, told_lines

_NOT_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")


def document(results: list[Reported]) -> bytes:
    """The XML document."""
    root = ET.Element("testsuites", _counts(results))
    for shown, group in groupby(results, key=lambda one: one.shown):
        members = list(group)
        suite = ET.SubElement(root, "testsuite", {"name": _clean(shown), **_counts(members)})
        for result in members:
            _testcase(suite, result)
    ET.indent(root)
    made: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return made


def is_report(path: Path) -> bool:
    """Whether a report can take this file's place: it is not there, is empty or a device, or is a report."""
    if not path.is_file() or not path.stat().st_size:
        return True
    try:
        _, first = next(ET.iterparse(path, ("start",)))
    except ET.ParseError:
        return False
    return first.tag in ("testsuites", "testsuite")


def _counts(results: list[Reported]) -> dict[str, str]:
    def count(verdict: str) -> str:
        return str(sum(r.verdict == verdict for r in results))

    seconds = sum(r.seconds for r in results)
    return {
        "tests": str(len(results)),
        "failures": count("slipped"),
        "errors": count("broken"),
        "skipped": count("skipped"),
        "time": f"{seconds:.4f}",
    }


def _testcase(suite: ET.Element, result: Reported) -> None:
    attributes = {
        "name": _clean(result.title),
        "classname": _clean(result.shown),
        "file": _clean(result.shown),
        "line": str(result.line),
        "time": f"{result.seconds:.4f}",
    }
    case = ET.SubElement(suite, "testcase", attributes)
    tag = {"slipped": "failure", "broken": "error", "skipped": "skipped"}.get(result.verdict)
    if tag is not None:
        line, cause = result.cause
        message = result.reason or (f"line {line}: {cause}" if line else cause)
        detail = ET.SubElement(case, tag, {"message": _clean(message)})
        detail.text = "\n".join(_clean(text) for text in [*told_lines(result)][1:])
    if result.warnings:
        ET.SubElement(case, "system-err").text = "\n".join(_clean(f"warning: {text}") for text in result.warnings)


def _clean(text: str) -> str:
    """Without the characters that XML cannot hold."""
    return _NOT_XML.sub("\N{REPLACEMENT CHARACTER}", text)
