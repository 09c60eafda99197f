"""All there is to know about a routine: its head, what it promises and whether it keeps that, what it reads, changes
and calls, who calls it and which calls no longer fit, and how often each of its lines was run.

In: an engine with the routine, the scripts of its project, and what runs have counted. Out: an `About`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from glimb.engine.binding import bind_alone, bind_routine
from glimb.engine.binding.outside import Outside
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import ParameterInfo, Routine
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import ARM, CONDITION, HANDLER, LOOP, STATEMENT
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.coverage import NAMES, Counted
from glimb.suite.findings.finding import Subject, findings_of
from glimb.suite.script import Script, StatementStep
from glimb.suite.uses import called, changed, read


class Promise(NamedTuple):
    """What a routine promises, whether it keeps it, and why not."""

    text: str
    is_kept: bool
    why: str = ""


class Use(NamedTuple):
    """A call of a routine: in what (a routine or a case), where, its line, and what is wrong with it."""

    owner: str
    file: str
    line: int
    text: str
    problem: str = ""


class LineCount(NamedTuple):
    """What was counted at a line: how often its first statement was run (None: nothing is counted there), and for arms,
    loops, handlers and conditions that begin there what was never met."""

    hits: int | None
    missing: tuple[str, ...]
    met: tuple[str, ...]


class About(NamedTuple):
    """A routine; `lines` are those of its text from `line` on."""

    name: str
    kind: str
    file: str
    line: int
    signature: str
    lines: tuple[str, ...]
    parameters: tuple[tuple[str, str, str, str], ...]
    """Name, mode, type and default of each."""
    returns: tuple[str, ...]
    promises: tuple[Promise, ...]
    reads: tuple[str, ...]
    changes: tuple[str, ...]
    calls: tuple[str, ...]
    callers: tuple[Use, ...]
    counts: dict[int, LineCount]
    findings: tuple[tuple[int, str, str], ...]
    """Line, code, and what is dubious there."""
    problem: str
    """Why its body cannot be made anything of; empty when it can."""

    @property
    def misfits(self) -> list[Use]:
        """The calls that no longer fit."""
        return [use for use in self.callers if use.problem]


def about(engine: Engine, routine: Routine, scripts: Iterable[Script], counts: Iterable[Counted]) -> About:
    """Look at a routine from all sides."""
    definition, source = routine.definition, routine.source
    facts = routine.bind()
    nodes = list(walk(facts.body)) if facts is not None else []
    found = []
    if facts is not None:
        subject = Subject(engine, source, definition, facts.body, facts.parameters, routine)
        found = [(source.line(f.span.start), f.code, f.message) for f in findings_of(subject)]
    first = source.line(definition.span.start)
    lines = tuple(source[definition.span].split("\n"))
    return About(
        routine.name,
        routine.kind_word,
        source.name,
        first,
        routine.signature,
        lines,
        tuple(_parameter(p, source) for p in routine.parameters),
        _returns(routine),
        tuple(_promises(routine, found)),
        tuple(sorted({table.name for table in read(nodes)})),
        tuple(sorted({table.name for table in changed(nodes)})),
        tuple(sorted({engine.catalog.told(one) for one in called(nodes)})),
        (*_in_routines(engine.catalog, routine), *_in_cases(engine.catalog, routine, scripts)),
        counts_of(engine.catalog, routine, counts),
        tuple(found),
        _problem(engine, routine) if facts is None else "",
    )


def _parameter(parameter: ParameterInfo, source: Source) -> tuple[str, str, str, str]:
    default = source[parameter.default.span] if parameter.default is not None else ""
    return parameter.name, parameter.mode, str(parameter.type), default


def _returns(routine: Routine) -> tuple[str, ...]:
    if routine.table:
        return tuple(f"{name} {type_}" for name, type_ in routine.table)
    return (str(routine.returns),) if routine.returns is not None else ()


def _promises(routine: Routine, found: list[tuple[int, str, str]]) -> Iterator[Promise]:
    """DETERMINISTIC, and what it does with data; of a promise that is kept the standard says so itself (2F002, 2F003),
    so that only the findings are left to tell."""
    if routine.deterministic:
        why = next((message for _, code, message in found if code == "not-deterministic"), "")
        yield Promise("DETERMINISTIC", not why, why)
    if routine.access:
        does = routine.does
        promised = tree.ACCESS.index(routine.access)
        kept = does is None or does <= promised
        yield Promise(routine.access.upper(), kept, "" if kept else f"its body is {tree.ACCESS[does or 0].upper()}")
    elif routine.does is not None:
        yield Promise(f"(says nothing; its body is {tree.ACCESS[routine.does].upper()})", True)


def _problem(engine: Engine, routine: Routine) -> str:
    """What keeps a routine from being bound."""
    span = routine.definition.span
    for problem in engine.problems():
        if problem.source is not None and problem.source.name == routine.source.name:
            if span.start <= problem.span.start < span.end:
                return f"line {problem.source.line(problem.span.start)}: {problem.message}"
    return "its body names something that is not there any more"


# ---- who calls it


def _in_routines(catalog: Catalog, routine: Routine) -> Iterator[Use]:
    """Calls in routines, triggers and views of the files; a body that can no longer be bound is told of its call."""
    for other in catalog.written_routines():
        facts = other.bind()
        if facts is not None and not _may_call(catalog, routine, facts.body):
            continue
        for node in calls_in(catalog, other.definition.body, routine, other.schema):
            problem = "" if facts is not None else _misfit(catalog, other, node)
            yield _use(catalog.told(other), other.source, node.span, problem)
    for trigger in catalog.triggers.values():
        for node in calls_in(catalog, trigger.definition.body, routine, trigger.schema):
            yield _use(f"trigger {trigger.name}", trigger.source, node.span, "")


def _may_call(catalog: Catalog, routine: Routine, bound: Node) -> bool:
    """Whether what is bound calls a routine and not only others of its name."""
    return not catalog.is_overloaded(routine) or routine in set(called(walk(bound)))


def _misfit(catalog: Catalog, other: Routine, call: Node) -> str:
    """What is wrong with a call in a routine that cannot be bound."""
    try:
        bind_routine(catalog, other)
    except ProblemError as error:
        for problem in error.problems:
            if problem.span.start < call.span.end and call.span.start < problem.span.end:
                return problem.message
    return ""


def _in_cases(catalog: Catalog, routine: Routine, scripts: Iterable[Script]) -> Iterator[Use]:
    """Calls in the statements of cases; setups once."""
    for script in scripts:
        if routine.short.lower() not in script.source.text.lower():
            continue
        seen = set()
        for case in script.cases:
            for step in (*case.setup, *case.steps):
                if isinstance(step, StatementStep) and step.span not in seen:
                    seen.add(step.span)
                    calls = list(calls_in(catalog, step.statement, routine, ""))
                    bound = _bound(catalog, step.statement, script.source) if calls else None
                    if isinstance(bound, Node) and not _may_call(catalog, routine, bound):
                        continue
                    failing = any(e.kind in ("fails", "deadlock") for e in step.expectations)
                    for node in calls:
                        problem = _unfit(node, bound) if isinstance(bound, ProblemError) and not failing else ""
                        yield _use(case.title, script.source, node.span, problem)


def _bound(catalog: Catalog, statement: tree.Statement, source: Source) -> Node | ProblemError | None:
    """A statement that stands alone as it is bound, or what is wrong with it; None where host variables say that."""
    if any(isinstance(n, tree.HostVariable) for n in walk(statement)):
        return None
    try:
        return bind_alone(catalog, statement, source, "", Outside({})).statement
    except ProblemError as error:
        return error


def _unfit(call: Node, error: ProblemError) -> str:
    """What is wrong with a call in a statement that cannot be bound."""
    for problem in error.problems:
        if problem.sqlstate in ("42883", "42884") and problem.span.start < call.span.end:
            return problem.message
    return ""


def calls_in(catalog: Catalog, body: Node, routine: Routine, schema: str) -> Iterator[Node]:
    """The calls of a routine, by the name that it has seen from a schema."""
    for node in walk(body):
        if isinstance(node, tree.FunctionCall | tree.Call):
            if node.name[-1] == routine.short and catalog.key("routines", node.name, schema) == routine.name:
                yield node


def _use(owner: str, source: Source, span: Span, problem: str) -> Use:
    line = source.line(span.start)
    return Use(owner, source.name, line, source.line_text(line).strip(), problem)


# ---- how often its lines were run


def counts_of(catalog: Catalog, routine: Routine, counts: Iterable[Counted]) -> dict[int, LineCount]:
    """By line of the file."""
    mine = [c for c in counts if (c.file, c.owner) == (routine.source.name, catalog.told(routine))]
    first, last = (routine.source.line(at) for at in (routine.definition.span.start, routine.definition.span.end))
    by_line: dict[int, list[Counted]] = {}
    for one in mine:
        if first <= one.line <= last:
            by_line.setdefault(one.line, []).append(one)
    return {line: _line_count(some) for line, some in by_line.items()}


def _line_count(some: list[Counted]) -> LineCount:
    statements = [one.hits for one in some if one.kind == STATEMENT]
    missing: list[str] = []
    met: list[str] = []
    for one in some:
        names = NAMES.get(one.kind, ("",))
        if one.kind == ARM or one.kind == HANDLER:
            (met if one.hits else missing).append(f"{one.kind} {one.hits}×" if one.hits else f"{one.kind} never taken")
        elif one.kind in (LOOP, CONDITION):
            told = " ".join(f"{name} {one.counts[side]}" for side, name in enumerate(names) if side in one.sides)
            what = "rounds" if one.kind == LOOP else one.text
            (missing if one.missing() else met).append(f"{what}: {told}")
        elif one.kind == STATEMENT and not one.hits:
            missing.append("never run")
    return LineCount(statements[0] if statements else None, tuple(missing), tuple(met))
