"""A statement from within a routine as a text that can be run alone: its variables become host variables with the
values that they have at a step, so that a routine's inner query can be tried, changed, and put back."""

from __future__ import annotations

from collections.abc import Iterator

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone
from glimb.engine.binding.outside import Outside
from glimb.engine.engine import Engine
from glimb.engine.outcomes.steps import Variable
from glimb.engine.values.conversion import literal_of
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.lang.tokens import tokenize
from glimb.suite.course import Course, Scene

NOT_ALONE = frozenset(
    (
        "enter,loop,leave,iterate,fetch,close,signal,resignal,waymark,row,execute,prepare,deallocate,describe,"
        "get diagnostics,get descriptor,set descriptor,allocate cursor"
    ).split(",")
)
"""Kinds of steps that mean nothing outside their routine."""


def taken_out(course: Course, at: int, engine: Engine) -> str:
    """The text of a step's statement, below lines that set its host variables; of one that holds others, its condition
    or query. ProblemError for one that means nothing outside its routine."""
    line, scene = course.lines[at], course.scene(at)
    source = scene.source
    node = next((n for n in walk(scene.body) if n.span == line.span and _can_be_taken(n)), None)
    if line.kind in NOT_ALONE or (isinstance(node, tree.DeclareVariable) and node.default is None):
        raise ProblemError(Problem("42601", f"{line.kind.upper()} is nothing that could be run alone"))
    before, span, behind = _part(node, scene, line.span)
    text, pieces, lets, names = source.text, [], dict[str, str](), dict[str, str]()
    place = span.start
    hosts = {n.name for n in walk(scene.body) if isinstance(n, tree.HostVariable)}
    for used, local in _variables(_bound(course, scene, engine), span):
        variable = line.step.values.get(local)
        if variable is None or used.start < place:
            continue
        name = names.setdefault(local, _free(variable.name.rpartition(".")[2], {*hosts, *names.values()}))
        lets[name] = _literal(variable)
        pieces += [text[place : used.start], f":{name}"]
        place = used.end
    pieces.append(text[place : span.end])
    body = _without_into("".join(pieces), node)
    told = [f"--# let {name} = {value}" for name, value in lets.items()]
    return "\n".join([*told, f"{before}{_dedented(body, source, span)}{behind};"])


def _can_be_taken(node: Node) -> bool:
    return isinstance(node, tree.Statement | tree.DeclareVariable)


def _part(node: Node | None, scene: Scene, span: Span) -> tuple[str, Span, str]:
    """What of a statement is run alone, with what comes before and behind it."""
    value: Node | None = None
    match node:
        case tree.SetVariable():
            value = node.value
        case tree.If():
            value = node.arms[0][0]
        case tree.While():
            value = node.condition
        case tree.Repeat():
            value = node.until
        case tree.Return():
            value = node.value or node.query
        case tree.DeclareVariable():
            value = node.default
        case tree.For():
            value = node.query
        case tree.Open():
            value = _cursor_query(scene, node.cursor)
    if value is None:
        return "", span, ""
    inner = value.query if isinstance(value, tree.Subquery) else value
    return ("", inner.span, "") if isinstance(inner, tree.Query) else ("SELECT ", value.span, "")


def _cursor_query(scene: Scene, name: object) -> Node | None:
    found = (n for n in walk(scene.body) if isinstance(n, tree.DeclareCursor) and n.name == name)
    declared = next(found, None)
    return declared.query if declared is not None else None


def _bound(course: Course, scene: Scene, engine: Engine) -> Node | None:
    """The body of a scene as it is bound: there it is known which names are variables."""
    if scene.entered is not None:
        frame = course.lines[scene.entered].step.frame
        if frame is not None and frame.bound is not None:
            return frame.bound
    if not isinstance(scene.body, tree.Statement):
        return None
    session, hosts = engine.session(course.rung.session), engine.shared.hosts
    outside = Outside({name: host.type for name, host in hosts.items()})
    try:
        return bind_alone(engine.catalog, scene.body, scene.source, session.schema, outside).statement
    except ProblemError:
        return None


def _variables(bound: Node | None, span: Span) -> Iterator[tuple[Span, str]]:
    """The places of variables within a part of the text, in order, with the locals that hold them."""
    found = {
        n.span: n.local
        for n in (walk(bound) if bound is not None else ())
        if isinstance(n, R.Variable) and span.start <= n.span.start < n.span.end <= span.end
    }
    return iter(sorted(found.items(), key=lambda pair: pair[0].start))


def _free(name: str, taken: set[str]) -> str:
    """A name that no other variable has."""
    plain = name.strip('"').replace(" ", "_") or "value"
    return next(n for n in (plain, *(f"{plain}_{k}" for k in range(2, 1000))) if n not in taken)


def _literal(variable: Variable) -> str:
    if variable.value is None:
        return f"CAST(NULL AS {variable.type})"
    return literal_of(variable.value, variable.type)


def _without_into(text: str, node: Node | None) -> str:
    """A SELECT INTO without its targets."""
    if not isinstance(node, tree.SelectInto):
        return text
    tokens = tokenize(Source(text)).tokens
    depth, start = 0, None
    for token in tokens:
        depth += (token.value == "(") - (token.value == ")")
        if depth == 0 and token.value == "into" and token.kind == "name" and start is None:
            start = token.start
        elif start is not None and depth == 0 and token.value in ("from", "where") and token.kind == "name":
            return text[:start] + text[token.start :]
    return text[:start].rstrip() if start is not None else text


def _dedented(text: str, source: Source, span: Span) -> str:
    """A part of a source with its later lines as far left as its first one."""
    by = source.column(span.start) - 1
    first, *rest = text.split("\n")
    return "\n".join([first, *(line[min(by, len(line) - len(line.lstrip())) :] for line in rest)])
