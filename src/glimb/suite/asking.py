"""Questions that expectations ask: conditions and values of SQL in the session of a statement, without a trace.

What the statement gave is there by name: its rows as table RESULT, the values of its OUT parameters, host variables.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from glimb.engine.asking import Rows, ask
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Failure, Outcome
from glimb.engine.transactions.hosts import HostValue
from glimb.engine.values.conversion import literal_of
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.parser import Broken, parse, parse_expression
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source
from glimb.suite.expectations.line import Value

MOST_ROWS_SHOWN = 3


class Asker:
    """Asks for one session of an engine; `outcome` is what the statement did (None: there is none)."""

    def __init__(self, engine: Engine, session: str, outcome: Outcome | None = None) -> None:
        self.engine = engine
        self.session = engine.sessions.get(session) or engine.new_session(session)
        self.outcome = outcome

    def query(self, text: str) -> Outcome:
        """What a query gives; ProblemError for a text that is none."""
        statement = parsed_query(text)
        outcome = self.outcome
        named = {name: HostValue(type_, value) for name, type_, value in outcome.out} if outcome is not None else {}
        tables: dict[str, Rows] = {}
        if outcome is not None and outcome.rows is not None and "result" in text.lower():
            tables["result"] = Rows(outcome.columns, outcome.rows)
        return ask(self.engine, self.session, statement, Source(text, "question"), named, tables)

    def value(self, text: str) -> Value:
        """The value of an expression; ProblemError when it has none."""
        seen = self.query(f"SELECT ({text})")
        if seen.failure is not None:
            failure = seen.failure
            raise ProblemError(*(failure.problems or (Problem(failure.sqlstate, failure.message),)))
        rows = seen.rows or [(None,)]
        column = seen.columns[0]
        return Value(rows[0][0], column.type, f"{text} ({literal_of(rows[0][0], column.type)})")

    def holds(self, text: str) -> tuple[bool, str]:
        """Whether a condition is true; if not, why: the values of both sides, the first rows that break it."""
        try:
            seen = self.query(f"SELECT ({text})")
            if seen.failure is not None:
                return False, _said(seen.failure)
            value = seen.rows[0][0] if seen.rows else None
            if value is True:
                return True, "true"
            why = "; ".join(self._reasons(parse_expression(Source(text))))
        except ProblemError as error:
            return False, error.problems[0].message
        return False, ("unknown" if value is None else "false") + (f": {why}" if why else "")

    # -- why a condition is not met

    def _reasons(self, node: tree.Expression) -> Iterator[str]:
        """What is to be said of a condition that is not true, of its parts where it is an AND."""
        if isinstance(node, tree.Logical) and node.sign == "and":
            for part in (node.left, node.right):
                if not self.holds(printed(part))[0]:
                    yield from self._reasons(part)
            return
        if isinstance(node, tree.Not) and isinstance(node.operand, tree.Exists):
            yield from self._rows(node.operand.query)
        elif isinstance(node, tree.Exists):
            yield "there is no such row"
        elif isinstance(node, tree.Comparison):
            yield f"{self._side(node.left)} {node.sign} {self._side(node.right)}"
            counted = _counted(node.left) or _counted(node.right)
            if counted is not None:
                yield from self._rows(counted)
        elif isinstance(node, tree.InQuery | tree.Quantified):
            yield from self._operand(node.operand)
            yield from self._rows(node.query)
        elif isinstance(node, tree.Unique):
            yield from self._rows(node.query)
        else:
            operand = getattr(node, "operand", None)
            if isinstance(operand, tree.Expression):
                yield from self._operand(operand)

    def _operand(self, node: tree.Expression) -> Iterator[str]:
        """What an operand is, unless its text says that."""
        text, value = printed(node), self._side(node)
        if text != value:
            yield f"{text} is {value}"

    def _side(self, node: tree.Expression) -> str:
        if isinstance(node, tree.RowValue):
            return f"({', '.join(map(self._side, node.items))})"
        seen = self.query(f"SELECT ({printed(node)})")
        if seen.failure is not None:
            return _said(seen.failure)
        return literal_of(seen.rows[0][0], seen.columns[0].type) if seen.rows else "NULL"

    def _rows(self, query: tree.Query) -> Iterator[str]:
        """The first rows of a query, with how many there are."""
        seen = self.query(printed(query))
        if seen.failure is not None or seen.rows is None:
            return
        names = ", ".join(c.name for c in seen.columns)
        shown = []
        for row in seen.rows[:MOST_ROWS_SHOWN]:
            cells = (literal_of(v, c.type) for v, c in zip(row, seen.columns, strict=True))
            shown.append(f"({', '.join(cells)})")
        more = f" and {len(seen.rows) - len(shown)} more" if len(seen.rows) > len(shown) else ""
        yield f"rows ({names}): {', '.join(shown)}{more}" if shown else "no rows"


def printed(node: tree.Expression | tree.Query) -> str:
    """The text of a part of a condition."""
    from glimb.lang.printer import write  # for the start: only what slips is taken apart

    return write(node)


def _said(failure: Failure) -> str:
    """What went wrong with a question, without the place in its text."""
    if not failure.problems:
        return failure.message
    problem = failure.problems[0]
    return problem.message + (f" ({problem.hint})" if problem.hint else "")


def _counted(node: tree.Expression) -> tree.Query | None:
    """The query whose rows `(SELECT COUNT(*) FROM ... WHERE ...)` counts."""
    if not isinstance(node, tree.Subquery) or not isinstance(node.query.body, tree.Select):
        return None
    body = node.query.body
    value = body.items[0].value if len(body.items) == 1 else None
    if (
        not isinstance(value, tree.FunctionCall)
        or value.name != ("count",)
        or value.distinct
        or value.where
        or value.over
    ):
        return None
    if body.group is not None or body.having is not None or node.query.common or not body.sources:
        return None
    return replace(node.query, body=replace(body, items=(tree.SelectItem(tree.Star()),)))


@lru_cache(maxsize=2_000)
def parsed_query(text: str) -> tree.QueryStatement:
    """A text that is one query; ProblemError for any other."""
    source = Source(text, "question")
    parsed = parse(source)
    if parsed.problems:
        raise ProblemError(*parsed.problems)
    statement = parsed.items[0] if len(parsed.items) == 1 else None
    if isinstance(statement, Broken) or not isinstance(statement, tree.QueryStatement):
        raise ProblemError(Problem("42601", "a question is one query", hint="such as SELECT COUNT(*) FROM bunk"))
    return statement
