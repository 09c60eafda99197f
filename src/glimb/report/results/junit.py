"""Results as JUnit XML, the form that pipelines read: a testsuite for each script, a testcase for each case."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from collections.abc import Callable
from itertools import groupby
from pathlib import Path

from glimb.report.text import result_lines
from glimb.suite.results import CaseResult

_NOT_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")


def document(results: list[CaseResult], shown: Callable[[Path], str]) -> bytes:
    """The XML document."""
    root = ET.Element("testsuites", _counts(results))
    for path, group in groupby(results, key=lambda r: r.script.path):
        members = list(group)
        suite = ET.SubElement(root, "testsuite", {"name": _clean(shown(path)), **_counts(members)})
        for result in members:
            _testcase(suite, result, shown(path))
    ET.indent(root)
    document: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return document


def is_report(path: Path) -> bool:
    """Whether a report can take this file's place: it is not there, is empty or a device, or is a report."""
    if not path.is_file() or not path.stat().st_size:
        return True
    try:
        _, first = next(ET.iterparse(path, ("start",)))
    except ET.ParseError:
        return False
    return first.tag in ("testsuites", "testsuite")


def _counts(results: list[CaseResult]) -> dict[str, str]:
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


def _testcase(suite: ET.Element, result: CaseResult, shown: str) -> None:
    attributes = {"name": _clean(result.title), "classname": _clean(shown), "time": f"{result.seconds:.4f}"}
    case = ET.SubElement(suite, "testcase", attributes)
    tag = {"slipped": "failure", "broken": "error", "skipped": "skipped"}.get(result.verdict)
    if tag is not None:
        lines = [_clean(line) for line in result_lines(result, shown)]
        detail = ET.SubElement(case, tag, {"message": lines[0]})
        detail.text = "\n".join(lines[1:])


def _clean(text: str) -> str:
    """Without the characters that XML cannot hold."""
    return _NOT_XML.sub("\N{REPLACEMENT CHARACTER}", text)
