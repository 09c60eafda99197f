"""Findings on queries and comparisons: by no key, with NULL, of texts that cannot be equal, with gaps, with losses."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

from glimb.engine import resolved as R
from glimb.engine.resolved.relations import conjuncts, names
from glimb.engine.storage.table import Table
from glimb.engine.values.types import SECOND_DIGITS, Type
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.source import Span
from glimb.suite.findings.finding import Found, Subject, finding, place_of

# ---- keys


@finding("select-into-by-no-key", "ask for a key, or say which row is wanted: FETCH FIRST ROW ONLY")
def select_into_by_no_key(subject: Subject) -> Found:
    """SELECT INTO that may find several rows (21000)."""
    for node in subject.nodes:
        if isinstance(node, R.SelectIntoStmt) and not node.optional and not is_one_row(node.query):
            yield node.span, "this may find more than one row (21000)"


@finding("change-by-no-key", "name all columns of a key, or say in the condition which rows are meant")
def change_by_no_key(subject: Subject) -> Found:
    """UPDATE or DELETE of all rows, or of those with a value in a column that is no key and refers to none."""
    for node in subject.nodes:
        if isinstance(node, R.UpdateStmt | R.DeleteStmt) and node.cursor is None:
            verb = "UPDATE" if isinstance(node, R.UpdateStmt) else "DELETE"
            if node.where is None:
                yield node.span, f"{verb} of all rows of {node.table.name}"
                continue
            fixed = _fixed(conjuncts(node.where), node.source)
            columns = {c for c, e in fixed.items() if not isinstance(e, R.Const)}
            if columns and not _has_key(node.table, set(fixed)) and not _refers(node.table, set(fixed)):
                told = ", ".join(node.table.columns[c].name for c in sorted(columns))
                yield node.span, f"{verb} by {told}, which is no key of {node.table.name}: it may meet several rows"


def is_one_row(query: R.Query) -> bool:
    """Whether a query gives one row at most."""
    if isinstance(query.fetch, R.Const) and query.fetch.value == 1 and not query.ties and not query.percent:
        return True
    body = query.body
    if isinstance(body, R.Rows):
        return len(body.rows) == 1 and body.known is None
    if not isinstance(body, R.Select):
        return False
    if body.relation is None or (body.grouped and not body.keys and not body.sets):
        return True
    if body.grouped:
        return False
    scans, pool = _scans(body.relation, conjuncts(body.where))
    if scans is None:
        return False
    bound: set[int] = set()
    waiting = dict(scans)
    while waiting:
        done = [s for s, table in waiting.items() if _has_key(table, set(_fixed(pool, s, bound)))]
        if not done:
            return False
        for source in done:
            bound.add(source)
            del waiting[source]
    return True


def _scans(relation: R.Relation, pool: list[R.Expr]) -> tuple[dict[int, Table] | None, list[R.Expr]]:
    """The tables of a relation by their number, and all conditions; None where there is more than tables."""
    if isinstance(relation, R.Scan):
        return {relation.source: relation.table}, pool
    if isinstance(relation, R.JoinRows) and relation.kind in ("inner", "left"):
        left, pool = _scans(relation.left, pool)
        right, pool = _scans(relation.right, [*pool, *conjuncts(relation.condition)])
        if left is not None and right is not None:
            return {**left, **right}, pool
    return None, pool


def _fixed(pool: list[R.Expr], source: int, bound: set[int] | None = None) -> dict[int, R.Expr]:
    """The columns of a source that must be equal to something that does not come from it, but from `bound` sources."""
    found: dict[int, R.Expr] = {}
    for condition in pool:
        if isinstance(condition, R.Compare) and condition.sign == "=":
            for one, other in ((condition.left, condition.right), (condition.right, condition.left)):
                outside = {
                    s
                    for s in names(other)
                    if s == source or (bound is not None and s not in bound and _is_near(s, pool))
                }
                if isinstance(one, R.Column) and one.source == source and not outside:
                    found[one.index] = other
    return found


def _is_near(source: int, pool: list[R.Expr]) -> bool:
    """Whether a source is one of the query's own, not of a subquery or of what is around."""
    return any(isinstance(n, R.Column) and n.source == source for c in pool for n in _own(c))


def _own(e: Node) -> Iterator[Node]:
    """The parts of an expression that lie in no query within it."""
    yield e
    for name in e._fields:
        value = getattr(e, name)
        for inner in value if type(value) is tuple else (value,):
            if isinstance(inner, Node) and not isinstance(inner, R.Query):
                yield from _own(inner)


def _has_key(table: Table, columns: set[int]) -> bool:
    return any(index.unique and set(index.columns) <= columns for index in table.indexes)


def _refers(table: Table, columns: set[int]) -> bool:
    """Whether a whole foreign key is fixed: then the rows of one other row are meant."""
    return any(set(key.columns) <= columns for key in table.foreign)


# ---- NULL


@finding("null-comparison", "write IS NULL or IS NOT NULL")
def null_comparison(subject: Subject) -> Found:
    """`= NULL`, which is never true."""
    for node in walk(subject.definition):
        if isinstance(node, tree.Comparison):
            if any(isinstance(side, tree.Literal) and side.kind == "null" for side in (node.left, node.right)):
                yield node.span, f"{node.sign} NULL is never true"


@finding("not-in-null", "write NOT EXISTS, or leave NULLs out of the query")
def not_in_null(subject: Subject) -> Found:
    """NOT IN over what may be NULL: one NULL, and it is never true."""
    for statement, expressions in subject.statements:
        for e in expressions:
            if (
                isinstance(e, R.InQuery)
                and e.negated
                and e.query.columns[0].nullable
                and not _leaves_nulls_out(e.query)
            ):
                yield place_of(e, statement), "one NULL among the rows, and NOT IN is never true"
            elif (
                isinstance(e, R.InList)
                and e.negated
                and any(isinstance(i, R.Const) and i.value is None for i in e.items)
            ):
                yield place_of(e, statement), "there is a NULL in the list: NOT IN is never true"


def _leaves_nulls_out(query: R.Query) -> bool:
    body = query.body
    if not isinstance(body, R.Select):
        return False
    kept = [c.operand for c in conjuncts(body.where) if isinstance(c, R.IsNull) and c.negated]
    compared = [s for c in conjuncts(body.where) if isinstance(c, R.Compare) for s in (c.left, c.right)]
    return any(item in kept or item in compared for item in body.items[:1])


# ---- texts and numbers


@finding("text-too-long", "mend the text, or the length of the type")
def text_too_long(subject: Subject) -> Found:
    """A text compared with one of a type that is too short ever to be equal to it."""
    for statement, expressions in subject.statements:
        for e in expressions:
            pairs = [(e.left, e.right), (e.right, e.left)] if isinstance(e, R.Compare) and e.sign in ("=", "<>") else []
            if isinstance(e, R.InList):
                pairs = [(e.operand, item) for item in e.items]
            for side, text in pairs:
                size = _size(side)
                if (
                    size
                    and isinstance(text, R.Const)
                    and isinstance(text.value, str)
                    and len(text.value.rstrip()) > size
                ):
                    yield (
                        place_of(e, statement),
                        f"'{text.value}' is longer than {_inner(side).type}: they are never equal",
                    )


def _inner(e: R.Expr) -> R.Expr:
    """A value, without what makes it comparable."""
    while isinstance(e, R.Strict) and e.operation in ("without_padding", "padded_to", "as_is"):
        e = e.arguments[0]
    return e


def _size(e: R.Expr) -> int:
    """The length of the type of a column or variable of text; 0 for anything else."""
    inner = _inner(e)
    is_named = isinstance(inner, R.Column | R.Variable) and inner.type.kind in ("char", "varchar")
    return inner.type.size if is_named else 0


@finding("lossy-conversion", "write CAST or ROUND where that is meant, or take another type")
def lossy_conversion(subject: Subject) -> Found:
    """A number that is given to an integer, or a plain value to a type with fewer digits behind the point."""
    spans: set[Span] = set()
    for statement, expressions in subject.statements:
        if statement.span in spans:
            continue
        for e in expressions:
            if isinstance(e, R.Convert) and not e.explicit and _loses(e.operand, e.type):
                spans.add(statement.span)
                yield statement.span, f"{e.operand.type} becomes {e.type} and loses {_lost(e.type)}"
                break
    for node in subject.written:
        if isinstance(node, tree.SetVariable) and isinstance(node.value, tree.Literal) and node.value.kind == "decimal":
            target = next(
                (n.targets[0] for n in subject.nodes if isinstance(n, R.SetStmt) and n.span == node.span), None
            )
            if target is not None and target.type.is_integer and Decimal(node.value.value) % 1:
                yield node.span, f"{node.value.value} becomes {target.type} and loses what is behind the point"


def _loses(e: R.Expr, into: Type) -> bool:
    """Whether digits are lost: of any number that becomes an integer; with other types of what has not been computed,
    since a product is meant to be rounded."""
    if into.is_integer:
        return e.type.family == "approximate" or (e.type.family == "exact" and e.type.scale > 0)
    is_plain = isinstance(e, R.Column | R.Variable)
    return is_plain and e.type.family == into.family and _has_digits(into) and e.type.scale > into.scale


def _has_digits(type_: Type) -> bool:
    """Whether the scale of a type is digits behind the point."""
    return type_.family == "exact" or type_.kind in SECOND_DIGITS


def _lost(into: Type) -> str:
    return "what is behind the point" if not into.scale else f"what is behind the first {into.scale} digits"


# ---- arms


@finding("gap-between-arms", "write <= or >= in one of the two, or ELSE")
def gap_between_arms(subject: Subject) -> Found:
    """Two conditions that leave out one value, `< 50` and `> 50`, with no ELSE to take it."""
    for conditions, is_closed in _choices(subject.written):
        ends = [end for c in conditions for end in _ends(c)]
        if is_closed:
            continue
        for operand, _, limit, _ in ends:
            others = {s for o, s, n, _ in ends if (o, n) == (operand, limit)}
            if others == {"<", ">"} and Decimal(_number(limit)):
                last = next(c for c in reversed(conditions) if any(e[0] == operand and e[2] == limit for e in _ends(c)))
                yield last.span, f"no arm takes the value {subject.source[limit.span]} itself"
                break


@finding("overlapping-arms", "take the value out of one of the two")
def overlapping_arms(subject: Subject) -> Found:
    """Two conditions that both take one value, `<= 50` and `>= 50`: the second one never gets it."""
    for conditions, _ in _choices(subject.written):
        seen: list[tuple[tree.Expression, str, tree.Expression]] = []
        for condition in conditions:
            for operand, sign, limit, is_alone in _ends(condition):
                turned = {"<=": (">=", "="), ">=": ("<=", "="), "=": ("=",)}.get(sign, ())
                if is_alone and any((operand, other, limit) in seen for other in turned):
                    yield condition.span, f"an arm before this one has taken the value {subject.source[limit.span]}"
            seen += [(o, s, n) for o, s, n, is_alone in _ends(condition) if is_alone]


def _number(limit: tree.Expression) -> str:
    """The number that a literal is, 1 for any other: at 0 the sign of a number is asked for, with no gap meant."""
    return limit.value if isinstance(limit, tree.Literal) and limit.kind in ("integer", "decimal") else "1"


def _choices(nodes: list[Node]) -> Iterator[tuple[list[tree.Expression], bool]]:
    """The conditions among which something is chosen, and whether something takes what is left: those of an IF or CASE,
    and those of IFs that stand one behind the other and each leave."""
    for node in nodes:
        match node:
            case tree.If(arms=arms, otherwise=otherwise) if len(arms) > 1:
                yield [condition for condition, _ in arms], otherwise is not None
            case tree.CaseStatement(operand=None, arms=arms, otherwise=otherwise):
                yield [conditions[0] for conditions, _ in arms], otherwise is not None
            case tree.CaseExpression(operand=None, whens=whens, otherwise=otherwise):
                yield [when.conditions[0] for when in whens], otherwise is not None
        for name in node._fields:
            value = getattr(node, name)
            if type(value) is tuple:
                yield from _rows_of_ifs(value)


def _rows_of_ifs(statements: tuple[object, ...]) -> Iterator[tuple[list[tree.Expression], bool]]:
    row: list[tree.Expression] = []
    for node in (*statements, None):
        if isinstance(node, tree.If) and len(node.arms) == 1 and node.otherwise is None:
            row.append(node.arms[0][0])
            continue
        if len(row) > 1:
            yield row, False
        row = []


def _ends(condition: tree.Expression) -> Iterator[tuple[tree.Expression, str, tree.Expression, bool]]:
    """The comparisons of a condition with a constant: operand, sign, constant, and whether nothing else is asked."""
    if isinstance(condition, tree.Logical) and condition.sign == "and":
        for side in (condition.left, condition.right):
            yield from ((*end[:3], False) for end in _ends(side))
    elif isinstance(condition, tree.Comparison) and condition.sign != "<>":
        turned = {"<": ">", "<=": ">=", ">": "<", ">=": "<=", "=": "="}
        if isinstance(condition.right, tree.Literal):
            yield condition.left, condition.sign, condition.right, True
        elif isinstance(condition.left, tree.Literal):
            yield condition.right, turned[condition.sign], condition.left, True
    elif isinstance(condition, tree.Between) and not condition.negated:
        yield condition.operand, ">=", condition.low, False
        yield condition.operand, "<=", condition.high, False
