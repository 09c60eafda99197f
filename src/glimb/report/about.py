"""A routine from all sides, as text and as an object."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator

from glimb.suite.about import About, LineCount

Shown = Callable[[str], str]


def about_lines(about: About, shown: Shown) -> Iterator[str]:
    """Head, promises, what it touches, who calls it; then its source with how often each line was run."""
    yield f"{about.kind} {about.signature}   {shown(about.file)}:{about.line}"
    for name, mode, type_, default in about.parameters:
        yield f"  {mode:5} {name} {type_}" + (f" default {default}" if default else "")
    if about.returns:
        yield f"  returns {', '.join(about.returns)}"
    if about.problem:
        yield f"  not valid: {about.problem}"
    for promise in about.promises:
        yield f"  {promise.text}" + (f": NOT KEPT, {promise.why}" if not promise.is_kept else "")
    for word, names in (("reads", about.reads), ("changes", about.changes), ("calls", about.calls)):
        if names:
            yield f"  {word} {', '.join(names)}"
    for use in about.callers:
        yield f"  called by {use.owner}  {shown(use.file)}:{use.line}" + (
            f"  NO LONGER FITS: {use.problem}" * bool(use.problem)
        )
    for line, code, message in about.findings:
        yield f"  {code}, line {line}: {message}"
    yield ""
    for number, text in enumerate(about.lines, about.line):
        count = about.counts.get(number)
        yield f"{_hits(count):>8} {number:>5}  {text}"
        for one in count.missing if count is not None else ():
            yield f"{'·':>8} {'':>5}    {one}"


def _hits(count: LineCount | None) -> str:
    return "" if count is None or count.hits is None else f"{count.hits:,}"


def about_json(about: About, shown: Shown) -> str:
    """All of it as one object."""
    told = {
        "name": about.name,
        "kind": about.kind,
        "file": shown(about.file),
        "line": about.line,
        "signature": about.signature,
        "parameters": [dict(zip(("name", "mode", "type", "default"), p, strict=True)) for p in about.parameters],
        "returns": about.returns,
        "promises": [promise._asdict() for promise in about.promises],
        "reads": about.reads,
        "changes": about.changes,
        "calls": about.calls,
        "callers": [{**use._asdict(), "file": shown(use.file)} for use in about.callers],
        "lines": {
            str(n): {"hits": c.hits, "missing": c.missing, "met": c.met} for n, c in sorted(about.counts.items())
        },
        "findings": [dict(zip(("line", "code", "message"), f, strict=True)) for f in about.findings],
        "problem": about.problem,
    }
    return json.dumps(told, ensure_ascii=False)
