"""What is to be told of a case, as plain data: it can be sent from one process to another."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from glimb.lang.problem import Problem, indent
from glimb.report.since import Told, rungs_of
from glimb.report.text import one_line, plural, rung_slips, twin_lines, verdict_lines
from glimb.suite.results import CaseResult

Key = tuple[str, int, str]
"""What makes a problem the same as one that has been told."""


class Reported(NamedTuple):
    """A case that was run: its file and how that is shown, its title and line, its verdict, seconds, expectations met
    and all; warnings; problems that others may share; further lines; where and why it slipped first; rungs in a line
    each."""

    path: Path
    shown: str
    title: str
    line: int
    verdict: str
    seconds: float
    met: int
    total: int
    reason: str
    warnings: tuple[str, ...]
    twin: tuple[str, ...]
    problems: tuple[tuple[Key, str], ...]
    slips: tuple[str, ...]
    cause: tuple[int, str]
    rungs: tuple[str, ...]
    sides: tuple[tuple[Told, ...], ...] = ()
    """What each rung did, on each side of a twin, where that is asked for."""

    @property
    def expects_nothing(self) -> bool:
        """Whether it is met because there was nothing that could have slipped."""
        return self.verdict == "met" and not self.total

    @property
    def is_bad(self) -> bool:
        return self.verdict in ("slipped", "broken")


def reported(result: CaseResult, shown: str, whole: bool = False) -> Reported:
    """What is to be told of a result; `whole` with all that its rungs did."""
    source, case = result.script.source, result.case
    warnings = dict.fromkeys(text for ladder in result.ladders for text in ladder.warnings)
    slips = [
        f"    {line}" for ladder in result.ladders for v in ladder.slips for line in verdict_lines(v, ladder.source)
    ]
    slips += [line for ladder in result.ladders for r in ladder.rungs for line in rung_slips(r, shown, ladder.source)]
    return Reported(
        result.script.path,
        shown,
        result.title,
        source.line(case.span.start) if case is not None else 1,
        result.verdict,
        result.seconds,
        result.met_count,
        result.total_count,
        case.skip if case is not None and result.verdict == "skipped" else "",
        tuple(warnings),
        tuple(f"    {line}" for line in twin_lines(result)) if result.twin is not None else (),
        tuple((_key(p), indent(p.describe())) for p in result.problems),
        tuple(slips),
        _cause(result),
        tuple(_rungs(result)),
        tuple(rungs_of(ladder) for ladder in result.ladders) if whole else (),
    )


def _key(problem: Problem) -> Key:
    return problem.source.name if problem.source is not None else "", problem.span.start, problem.message


def _cause(result: CaseResult) -> tuple[int, str]:
    """The line of the first slip or problem, and what it is in one line."""
    for problem in result.problems:
        line = problem.source.line(problem.span.start) if problem.source is result.script.source else 0
        return line, problem.message
    for ladder in result.ladders:
        for verdict in ladder.slips:
            return 0, f"expected {verdict.expected}; seen: {verdict.seen}"
        for rung in ladder.rungs:
            for verdict in rung.slips:
                line = rung.line
                if verdict.expectation is not None:
                    line = ladder.source.line(verdict.expectation.span.start)
                return line, f"expected {verdict.expected}; seen: {verdict.seen}"
    return 0, ""


def _rungs(result: CaseResult) -> Iterator[str]:
    for ladder in result.ladders:
        for rung in ladder.rungs:
            met = len(rung.verdicts) - len(rung.slips)
            counts = [f"{n} {word}" for n, word in ((met, "met"), (len(rung.slips), "slipped")) if n]
            text = one_line(rung.text)
            text = text if len(text) < 90 else f"{text[:89]}…"
            yield f"    {rung.number} {rung.session}> {text}{'  ' * bool(counts)}{', '.join(counts)}"


def told_lines(one: Reported, already: set[Key] | None = None, verbose: bool = False) -> Iterator[str]:
    """The verdict line of a case, and below it its slips. `already` are the problems that have been told: those of a
    file that many cases share are told once."""
    count = f"  ({one.met} of {one.total} expectations met)" if one.verdict == "slipped" else ""
    count = "  (expects nothing)" if one.expects_nothing else count
    yield f"{one.verdict:8} {one.shown}: {one.title}{count}{f'  ({one.reason})' * bool(one.reason)}"
    if verbose:
        yield from one.rungs
    yield from (f"         warning: {text}" for text in one.warnings)
    yield from one.twin
    told = [(key, text) for key, text in one.problems if already is None or key not in already]
    yield from (text for _, text in told)
    if len(told) < len(one.problems):
        yield f"    {plural(len(one.problems) - len(told), 'problem')} told above"
    if already is not None:
        already.update(key for key, _ in told)
    yield from one.slips


def summary(results: list[Reported], seconds: float) -> str:
    """How many cases of each verdict, in one line."""
    counts = {v: sum(r.verdict == v for r in results) for v in ("met", "slipped", "broken", "skipped")}
    idle = sum(r.expects_nothing for r in results)
    counts["met"] -= idle
    told = [f"{n} {verdict}" for verdict, n in counts.items() if n]
    told += [f"{idle} expect{'s' * (idle == 1)} nothing"] if idle else []
    shown = ", ".join(told) or "no cases"
    return f"{len(results)} case{'s' * (len(results) != 1)}: {shown}, in {seconds:.2f} s"
