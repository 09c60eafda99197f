"""A project checked without running its cases: every problem of its files once, each where it is, and findings.

In: a project. Out: `Told`s in the order of files and places. Findings are switched off where they are, by a comment on
their line or the one above (`-- allow CODE: reason`), or for all of a project in glimb.toml.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.binding import bind_alone
from glimb.engine.binding.outside import Outside
from glimb.engine.catalog.dependents import dependents
from glimb.engine.compiling.literals import shape_of
from glimb.engine.engine import Engine
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.parser import parse
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.suite.choosing import read_any
from glimb.suite.findings import control, promises, queries, variables  # noqa: F401, rules enter themselves
from glimb.suite.findings.finding import RULES, Finding, findings_of, subjects
from glimb.suite.findings.rerun import broken_promises
from glimb.suite.project import Project, read_text
from glimb.suite.script import Case, Script, StatementStep
from glimb.suite.world import build, schema_problems, try_fixture

ERROR, WARNING = "error", "warning"
CASE_RULES = {
    "drop-under-users": "drop what uses it before, or expect what becomes of it",
    "triggers-off": 'say fixture_triggers = "off" or "on" in glimb.toml',
    "open-transaction": "end it with COMMIT or ROLLBACK, or expect that it is open",
    "hardly-meant": "an arranging or expecting line stands alone, and says a thing once",
}
"""Findings in cases, with what may be done."""
CASE_WORDS = {
    "drop-under-users": "DROP, in a case, of something that routines, views or triggers of the project use.",
    "triggers-off": "Rows of a CSV file for whose table there are triggers: they do not fire, and nobody said so.",
    "open-transaction": "A case that begins a transaction, does not end it and does not expect that it is open.",
    "hardly-meant": "A comment that looks like an expecting or arranging line; a title or fixture that is said twice.",
}
BINDABLE = tree.QueryStatement | tree.Insert | tree.Update | tree.Delete | tree.Merge | tree.Call
DEFINING = (
    tree.CreateTable | tree.CreateView | tree.CreateRoutine | tree.CreateSchema | tree.CreateModule | tree.CreateType
)
DEFINING |= tree.CreateDomain | tree.CreateTrigger | tree.CreateSequence | tree.AlterTable | tree.Drop | tree.SetSchema
SPACES = {
    "table": "relations",
    "view": "relations",
    "function": "routines",
    "procedure": "routines",
    "sequence": "sequences",
}


class Told(NamedTuple):
    """One thing that is wrong (an error, by its SQLSTATE) or dubious (a warning, by the code of its rule)."""

    file: str
    line: int
    column: int
    code: str
    severity: str
    message: str
    hint: str
    excerpt: str


def codes() -> dict[str, str]:
    """The codes of all findings, each with what may be done."""
    return {**{code: rule.remedy for code, rule in RULES.items()}, **CASE_RULES}


def check(project: Project, scripts: Iterable[Path]) -> list[Told]:
    """All that is to be told of a project and of scripts that belong to it."""
    problems: list[Problem] = []
    findings: list[Finding] = []
    engine = _loaded(project, problems)
    if engine is not None:
        problems += engine.problems()
        findings += (found for subject in subjects(engine) for found in findings_of(subject))
        with _collecting(problems):
            findings += broken_promises(project, engine)
    for name in project.fixtures():
        if engine is not None:
            with _collecting(problems):
                try_fixture(engine, project, name)
            engine.reset()
            findings += _without_triggers(engine, project, name)
    fit: set[Any] = set()
    for path in scripts:
        script = read_any(path)
        problems += [*script.problems, *(p for case in script.cases for p in case.problems)]
        findings += (_hardly_meant(script, problem) for problem in script.warnings)
        if engine is not None:
            for case in script.cases:
                problems += _unfit(engine, script, case, fit)
                findings += _case_findings(engine, script, case)
    told = [_told(p.source, p.span, p.sqlstate, ERROR, p.message, p.hint) for p in problems]
    told += [
        _told(f.source, f.span, f.code, WARNING, f.message, f.hint) for f in findings if not _is_allowed(project, f)
    ]
    told += _wrong_switches(project, {f.source.name: f.source for f in findings})
    return sorted(dict.fromkeys(told), key=lambda one: (one.file, one.line, one.column, one.code))


class _collecting(suppress):
    """Problems that are raised within are added to a list."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__(ProblemError)
        self._problems = problems

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, traceback: object) -> bool:
        if isinstance(error, ProblemError):
            self._problems += error.problems
            return True
        return False


def _loaded(project: Project, problems: list[Problem]) -> Engine | None:
    """An engine with the schema and the routines; where the schema cannot be had, all texts are at least read."""
    first: list[Problem] = []
    with _collecting(first):
        return build(project, "")
    for path in (*project.files("schema"), *project.files("routines")):
        with _collecting(problems):
            problems += parse(read_text(path)).problems
    with _collecting(problems):
        problems += schema_problems(project)
    problems += first if not problems else ()
    return None


def told_of(error: ProblemError) -> list[Told]:
    """What keeps a project from being opened at all."""
    return [_told(p.source, p.span, p.sqlstate, ERROR, p.message, p.hint) for p in error.problems]


def _told(source: Source | None, span: Span, code: str, severity: str, message: str, hint: str) -> Told:
    if source is None:
        return Told("", 1, 1, code, severity, message, hint, "")
    line, column = source.line(span.start), source.column(span.start)
    return Told(source.name, line, column, code, severity, message, hint, source.excerpt(span))


# ---- cases


def _statements(case: Case) -> list[StatementStep]:
    return [step for step in (*case.setup, *case.steps) if isinstance(step, StatementStep)]


def _hardly_meant(script: Script, problem: Problem) -> Finding:
    code = "hardly-meant"
    return Finding(code, script.source, problem.span, problem.message, problem.hint or CASE_RULES[code])


def _without_triggers(engine: Engine, project: Project, fixture: str) -> Iterator[Finding]:
    """Files of rows for whose tables there are triggers, where nobody said whether they fire."""
    triggers = engine.catalog.triggers.values()
    tables = {trigger.table.name for trigger in triggers if trigger.definition.event == "insert"}
    for path in project.fixture_files(fixture) if not project.settings.fixture_triggers else ():
        if path.suffix == ".csv" and path.stem in tables:
            message = f"triggers of {path.stem} do not fire for these rows"
            yield Finding("triggers-off", read_text(path), Span(0, 1), message, CASE_RULES["triggers-off"])


def _unfit(engine: Engine, script: Script, case: Case, fit: set[Any]) -> Iterator[Problem]:
    """Statements of a case that do not fit what is there: calls with other arguments, names that there are not. Where a
    case defines something itself, that is known only when it runs. What differs from a statement that is `fit` in the
    values of literals only, is."""
    names = engine.catalog.routine_names()
    steps = _statements(case)
    if any(isinstance(step.statement, DEFINING) for step in steps) or case.skip:
        return
    for step in steps:
        is_expected = any(e.kind in ("fails", "deadlock") for e in step.expectations)
        is_known = isinstance(step.statement, BINDABLE) and not _asks_outside(step.statement)
        if is_known and not is_expected:
            shape = shape_of(step.statement, script.source, names)
            key = (shape.text, shape.types) if shape is not None else script.source[step.statement.span]
            if key in fit:
                continue
            try:
                bind_alone(engine.catalog, step.statement, script.source, "", Outside({}))
                fit.add(key)
            except ProblemError as error:
                yield from error.problems


def _asks_outside(statement: tree.Statement) -> bool:
    """Whether a statement names what only a run knows: host variables and what is prepared."""
    return any(isinstance(n, tree.HostVariable) for n in walk(statement))


def _case_findings(engine: Engine, script: Script, case: Case) -> Iterator[Finding]:
    opened: dict[str, StatementStep] = {}
    for step in _statements(case):
        statement = step.statement
        if isinstance(statement, tree.Drop) and statement.kind in SPACES and not step.expectations:
            users = dependents(engine.catalog, SPACES[statement.kind], statement.name[-1])
            if users:
                told = ", ".join(user.name for user in users[:4])
                yield _case_finding("drop-under-users", script, step, f"{told} still use{'s' * (len(users) == 1)} it")
        if isinstance(statement, tree.StartTransaction):
            opened[step.session] = step
        elif isinstance(statement, tree.Commit) or (isinstance(statement, tree.Rollback) and not statement.savepoint):
            opened.pop(step.session, None)
        if any(e.kind in ("open", "rolled back", "deadlock", "fails") for e in step.expectations):
            opened.pop(step.session, None)
    for step in opened.values():
        yield _case_finding("open-transaction", script, step, "the case ends with this transaction open")


def _case_finding(code: str, script: Script, step: StatementStep, message: str) -> Finding:
    return Finding(code, script.source, step.span, message, CASE_RULES[code])


# ---- what is switched off

_SWITCH = r"--\s*allow\s+([\w-]+)\s*(?::\s*(.*))?$"


def _switches(source: Source) -> dict[int, dict[str, str]]:
    """The codes that each line switches off, with the reasons."""
    found: dict[int, dict[str, str]] = {}
    for number, line in enumerate(source.text.split("\n"), 1):
        match = re.search(_SWITCH, line)
        if match is not None:
            found.setdefault(number, {})[match[1]] = (match[2] or "").strip()
    return found


_known_switches = cache(_switches)


def _is_allowed(project: Project, found: Finding) -> bool:
    if found.code in project.settings.allowed:
        return True
    switches = _known_switches(found.source)
    line = found.source.line(found.span.start)
    above = line - 1
    while above in switches and found.code not in switches[above]:
        above -= 1
    return any(found.code in switches.get(number, {}) for number in (line, above))


def _wrong_switches(project: Project, sources: dict[str, Source]) -> Iterator[Told]:
    """Switches that name no finding, or give no reason."""
    known = codes()
    files = [*project.files("schema"), *project.files("routines")]
    for source in [*sources.values(), *(read_text(f) for f in files if f.is_file() and str(f) not in sources)]:
        for line, some in _known_switches(source).items():
            for code, reason in some.items():
                at = source.starts[line - 1] + source.line_text(line).index("--")
                if code not in known:
                    yield _told(
                        source, Span(at, at + 2), "42704", ERROR, f"there is no finding {code}", nearest(code, known)
                    )
                elif not reason:
                    message = f"{code} is switched off without a reason"
                    yield _told(source, Span(at, at + 2), "42601", ERROR, message, f"-- allow {code}: reason")
