"""Host variables of scripts: what `--# let` sets, and what `--let` gives from outside in its place."""

from __future__ import annotations

import re
from collections.abc import Mapping

from glimb.engine.engine import Engine
from glimb.engine.transactions.hosts import HostValue
from glimb.engine.values.conditions import Condition
from glimb.engine.values.conversion import convert
from glimb.engine.values.types import CLOB, NULL, varchar
from glimb.lang import tree
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.expectations.line import literal
from glimb.suite.script import Let, Script

Lets = Mapping[str, HostValue]
"""What host variables are given from outside, by name."""
_NAMED = re.compile(r"(?::|--#\s*let\s+)([^\W\d]\w*)")
_GIVEN = re.compile(r"\s*([^\W\d]\w*)\s*=(.*)", re.DOTALL)


def read_lets(texts: list[str]) -> dict[str, HostValue]:
    """`name=value` from a command line: a literal of SQL, or any other text as it stands. ProblemError for what has no
    name."""
    lets = {}
    for text in texts:
        found = _GIVEN.fullmatch(text)
        if found is None:
            raise ProblemError(
                Problem("42601", f"--let {text}: a name, = and a value are wanted", hint="--let guest=104")
            )
        lets[found[1].lower()] = _value(found[2].strip())
    return lets


def _value(text: str) -> HostValue:
    try:
        node = parse_expression(Source(text))
        if isinstance(node, tree.Unary):
            node = node.operand
        if isinstance(node, tree.Literal | tree.IntervalLiteral):
            value = literal(Source(text), text, 0)
            return HostValue(value.type, value.value)
    except ProblemError:
        pass
    return HostValue(varchar(max(1, len(text))), text)


def check_lets(lets: Lets, scripts: list[Script]) -> None:
    """ProblemError for a name that no script speaks of."""
    known = {
        n.lower()
        for s in scripts
        for n in re.findall(r":([^\W\d]\w*)|--#\s*let\s+(\w+)", s.source.text)
        for n in n
        if n
    }
    for name in lets:
        if name not in known:
            hint = nearest(name, known) or "a script names it as :name"
            raise ProblemError(Problem("42703", f"no script here has a host variable {name}", hint=hint))


def let(engine: Engine, source: Source, step: Let, lets: Lets) -> None:
    """Set a host variable: to what is given from outside for it, as the type that it has in the script where it is
    given as a text; otherwise to its value. ProblemError at its place when that cannot be had."""
    given = lets.get(step.name)
    own = HostValue(NULL, None)
    try:
        value = Asker(engine, step.session).value(step.text)
        own = HostValue(value.type, value.value)
        if given is not None and given.type.family == "text" and own.type.family not in ("text", "null"):
            given = HostValue(own.type, convert(given.value, CLOB, own.type, explicit=True))
    except ProblemError as error:
        if given is None:
            problem = error.problems[0]
            raise ProblemError(Problem(problem.sqlstate, problem.message, step.span, problem.hint, source)) from None
    except Condition as condition:
        raise ProblemError(
            Problem(condition.sqlstate, f"{step.name}: {condition.message}", step.span, "", source)
        ) from None
    engine.shared.hosts[step.name] = given or own
