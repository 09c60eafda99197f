"""Findings on variables and parameters: which are never read, never set, or hidden."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine import resolved as R
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.source import NOWHERE, Span
from glimb.suite.findings.finding import Found, Subject, finding


@finding("unused-variable", "take it out, or use it")
def unused_variable(subject: Subject) -> Found:
    """A variable that is declared and never read."""
    read = _read(subject)
    for declare, name in _declared(subject):
        if declare.target.local not in read:
            yield declare.span, f"{name} is never read"


@finding("unused-parameter", "take it out, or use it")
def unused_parameter(subject: Subject) -> Found:
    """A parameter that is given a value which nothing reads."""
    read = _read(subject)
    named = {n.parts[-1] for n in subject.written if isinstance(n, tree.Reference)}
    for parameter, node in _parameters(subject):
        if node.mode == "in" and parameter.local not in read and parameter.name not in named:
            yield node.span, f"{parameter.name} is never read"


@finding("hidden-parameter", "write it with the name of the routine: routine.parameter")
def hidden_parameter(subject: Subject) -> Found:
    """A name that is meant as a parameter or variable and is a column: `WHERE id = id`."""
    names = {p.name for p in subject.parameters} | {name for _, name in _declared(subject)}
    for node in subject.written:
        match node:
            case tree.Comparison(left=tree.Reference(parts=left), right=tree.Reference(parts=right)):
                if left[-1] == right[-1] and left[-1] in names and min(len(left), len(right)) == 1:
                    if _is_column_twice(subject, node.span):
                        yield node.span, f"{left[-1]} is the column on both sides: it hides the parameter or variable"


@finding("unset-variable", "give it a DEFAULT, or set it before")
def unset_variable(subject: Subject) -> Found:
    """A variable that is read before anything could have set it: it is NULL there."""
    written = _writes(subject)
    handled = [n.span for n in subject.nodes if isinstance(n, R.Handler)]
    for declare, name in _declared(subject):
        if not _is_without_value(subject, declare):
            continue
        writes = written.get(declare.target.local, [])
        for variable in _reads(subject, declare.target.local):
            at = variable.span.start
            if variable.span == NOWHERE or any(span.start <= at < span.end for span in handled):
                continue
            if not writes:
                yield variable.span, f"{name} is never set: it is NULL"
                break
            if at < min(writes) and not _in_one_loop(subject, at, min(writes)):
                yield variable.span, f"{name} is read before it is set: it is NULL"
            break


def _declared(subject: Subject) -> Iterator[tuple[R.Declare, str]]:
    for node in subject.nodes:
        if isinstance(node, R.Declare) and node.target.name:
            yield node, node.target.name


def _parameters(subject: Subject) -> Iterator[tuple[R.Target, tree.Parameter]]:
    if isinstance(subject.definition, tree.CreateRoutine):
        yield from zip(subject.parameters, subject.definition.parameters, strict=False)


def _read(subject: Subject) -> set[str]:
    """The locals that are read."""
    return {n.local for n in subject.nodes if isinstance(n, R.Variable)}


def _reads(subject: Subject, local: str) -> list[R.Variable]:
    """Where a local is read, in the order of the text."""
    found = [n for n in subject.nodes if isinstance(n, R.Variable) and n.local == local]
    return sorted(found, key=lambda n: n.span.start)


def _writes(subject: Subject) -> dict[str, list[int]]:
    """Behind which places each local has been set."""
    found: dict[str, list[int]] = {}
    for node in subject.nodes:
        if isinstance(node, R.Stmt) and not isinstance(node, R.BlockStmt | R.IfStmt | R.CaseStmt | R.LoopStmt):
            for target in _targets(node):
                end = node.span.start if isinstance(node, R.ForStmt) else node.span.end
                found.setdefault(target.local, []).append(end)
    return found


def _targets(node: R.Stmt) -> Iterator[R.Target]:
    """What a statement sets, those within it aside."""
    for name in node._fields:
        value = getattr(node, name)
        for inner in value if type(value) is tuple else (value,):
            pairs = inner if type(inner) is tuple else (inner,)
            for one in pairs:
                if isinstance(one, R.Target):
                    yield one
                elif isinstance(one, R.Receive) and one.target is not None:
                    yield one.target


def _is_without_value(subject: Subject, declare: R.Declare) -> bool:
    """Whether a variable is declared without DEFAULT."""
    for node in subject.written:
        if isinstance(node, tree.DeclareVariable) and node.span == declare.span:
            return node.default is None
    return False


def _in_one_loop(subject: Subject, at: int, other: int) -> bool:
    """Whether both places lie in one loop: then the second round comes to the first one behind the other."""
    loops = (n.span for n in subject.nodes if isinstance(n, R.LoopStmt | R.ForStmt))
    return any(span.start <= at < span.end and span.start <= other <= span.end for span in loops)


def _is_column_twice(subject: Subject, span: Span) -> bool:
    """Whether a comparison was bound as that of two columns of one name."""
    for node in subject.nodes:
        if isinstance(node, R.Compare) and node.place is not None and node.place.span == span:
            sides = [n for n in walk((node.left, node.right)) if isinstance(n, R.Column)]
            return len(sides) == 2 and (sides[0].source, sides[0].index) == (sides[1].source, sides[1].index)
    return False
