"""Findings on what routines promise and how they may be called: DETERMINISTIC, functions that change data, COMMIT
where a transaction may not end, overloads."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.source import Span
from glimb.suite.findings.finding import Found, Subject, finding

CLOCK = ("current_date", "current_time", "current_timestamp")
CALLS = (R.RoutineCall, R.CallRows, R.CallStmt)
CHANGES = (R.InsertStmt, R.UpdateStmt, R.DeleteStmt, R.MergeStmt, R.TruncateStmt)
WHO = ("user_name", "current_schema")


@finding("not-deterministic", "take DETERMINISTIC away, or what depends on more than the arguments")
def not_deterministic(subject: Subject) -> Found:
    """A routine that promises to be DETERMINISTIC and reads tables, the clock or a sequence, or calls what does; one
    that runs texts is tried twice, with the clock moved."""
    routine = subject.routine
    if routine is not None and routine.deterministic:
        why = next(depends_on(routine, set()), "")
        if why:
            yield head_of(subject.definition), f"{routine.name} is DETERMINISTIC and {why}"


def depends_on(routine: Routine, seen: set[Routine]) -> Iterator[str]:
    """On what a routine depends beside its arguments."""
    seen.add(routine)
    facts = routine.bind()
    for node in walk(facts.body) if facts is not None else ():
        if isinstance(node, R.Scan):
            yield f"reads {node.table.name}"
        elif isinstance(node, R.SystemRows):
            yield "reads the catalog"
        elif isinstance(node, R.NextValue):
            yield "draws from a sequence"
        elif isinstance(node, R.Strict) and node.operation in CLOCK:
            yield "reads the clock"
        elif isinstance(node, R.Strict) and node.operation in WHO:
            yield "asks who runs it"
        elif isinstance(node, CALLS) and node.routine not in seen:
            yield from (f"calls {node.routine.name}, which {why}" for why in depends_on(node.routine, seen))


@finding("function-changes-data", "make it a procedure")
def function_changes_data(subject: Subject) -> Found:
    """A function that changes rows: every query that names it does, as often as it is computed."""
    routine = subject.routine
    if routine is not None and routine.kind == "function" and _changes_data(routine, set()):
        yield head_of(subject.definition), f"{routine.name} is a function and changes data"


def _changes_data(routine: Routine, seen: set[Routine]) -> bool:
    """Whether rows change by what is written in a routine or in what it calls. (What texts do that it runs is not
    known.)"""
    seen.add(routine)
    facts = routine.bind()
    for node in walk(facts.body) if facts is not None and facts.writes else ():
        if isinstance(node, CHANGES):
            return True
        if isinstance(node, CALLS) and node.routine not in seen and _changes_data(node.routine, seen):
            return True
    return False


@finding("commit-in-atomic", "end the transaction where it was begun")
def commit_in_atomic(subject: Subject) -> Found:
    """A call, in an ATOMIC block, a function or a trigger, of a routine that ends the transaction (2D000)."""
    for node, blocks in subject.reached:
        if isinstance(node, R.CallStmt) and (subject.is_atomic or any(b.atomic for b in blocks)):
            verb = _ends_transaction(node.routine, set())
            if verb:
                yield node.span, f"{node.routine.name} does {verb}, which may not stand in what is atomic"


def _ends_transaction(routine: Routine, seen: set[Routine]) -> str:
    seen.add(routine)
    facts = routine.bind()
    for node in walk(facts.body) if facts is not None else ():
        if isinstance(node, R.TransactionStmt) and node.verb in ("commit", "rollback"):
            return node.verb.upper()
        if isinstance(node, R.CallStmt) and node.routine not in seen:
            verb = _ends_transaction(node.routine, seen)
            if verb:
                return verb
    return ""


@finding("overload-left-behind", "drop the one that is no longer meant")
def overload_left_behind(subject: Subject) -> Found:
    """CREATE OR REPLACE with other parameters replaces nothing: both routines are there."""
    routine = subject.routine
    if routine is None or not routine.definition.replace:
        return
    group = list[Routine](subject.engine.catalog.routines.get(routine.name, ()))
    others = [r for r in group if r is not routine and group.index(r) < group.index(routine)]
    if others:
        yield head_of(subject.definition), f"{others[-1].signature} is still there beside {routine.signature}"


def head_of(definition: tree.CreateRoutine | tree.CreateTrigger) -> Span:
    """Where a routine is named, up to its body."""
    span = definition.span
    return span._replace(end=max(span.start + 1, min(span.end, definition.body.span.start)))
