"""Planning of FROM and WHERE: in which order row sources are visited, and how each one is reached.

In: a relation and its condition. Out: steps. Each step reaches one row source by index (primary key, unique, foreign
key), by a hash table over an equality with what was bound before, by a range of an index, or by scanning; conditions
are applied as soon as everything they name is bound. Inner joins are reordered greedily: index look-ups first.

A subquery that is run again and again for the values around it may keep its hash tables (`again`): then an equality
with one of those values is reason enough for one. So EXISTS and IN become semi and anti joins."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.resolved.relations import conjuncts, names, sources_of
from glimb.lang.node import Node, replace, walk


class Access(Node):
    """How a step finds its rows: kind `scan`, `index` (number and keys), `hash` (own keys, keys to probe with; `kept`
    says that the table stays true for the next run), `range`: those of index `number` that begin with `keys` and
    go on between `low` and `high`, each with whether it belongs to the range; or `either`: what any of the `ways`
    finds, each of them `hash` or `index` of a unique one, one for each side of an OR."""

    kind: str
    number: int = 0
    own: tuple[R.Expr, ...] = ()
    keys: tuple[R.Expr, ...] = ()
    low: tuple[R.Expr, bool] | None = None
    high: tuple[R.Expr, bool] | None = None
    kept: bool = False
    ways: tuple[Access, ...] = ()


class Step(Node):
    """One row source. `local` conditions name only it, `match` conditions belong to an outer join, `after` ones are
    tested once it is bound, `met` ones need no test, since only rows that meet them are found."""

    kind: str
    relation: R.Relation
    access: Access
    local: tuple[R.Expr, ...]
    match: tuple[R.Expr, ...]
    after: tuple[R.Expr, ...]
    met: tuple[R.Expr, ...] = ()


class Plan(Node):
    """Conditions that name no row source, and the steps."""

    before: tuple[R.Expr, ...]
    steps: tuple[Step, ...]


Part = tuple[str, R.Relation, list[R.Expr]]
TURNED = {"=": "=", "<>": "<>", "<": ">", "<=": ">=", ">": "<", ">=": "<="}


def is_fixed(e: Node, mine: set[int]) -> bool:
    """Whether an expression depends on these row sources, and on nothing else that changes while a statement runs."""
    return all((n.source in mine) if isinstance(n, R.Column) else not isinstance(n, R.Shared) for n in walk(e))


def plan(
    relation: R.Relation, where: R.Expr | None, plain: bool = False, again: bool = False, split: bool = True
) -> Plan:
    """Order and access for all row sources of a relation; a plain one scans them in the order in which they stand.
    `split` says that the sides of an OR may be looked up apart."""
    pool = conjuncts(where)
    parts = _flatten(relation, pool)
    own = sources_of(relation)
    pending = [(c, names(c) & own) for c in pool]
    before = tuple(c for c, used in pending if not used)
    pending = [(c, used) for c, used in pending if used]
    steps: list[Step] = []
    bound: set[int] = set()
    reorder = not plain and all(kind == "inner" and not _depends(r, own) for kind, r, _ in parts)
    while parts:
        part = _next(parts, pending, bound) if reorder else parts[0]
        parts.remove(part)
        step = _plain_step(part) if plain else _step(part, pending, bound, own, again, split)
        bound |= sources_of(part[1])
        after = [c for c, used in pending if used <= bound]
        pending = [(c, used) for c, used in pending if not used <= bound]
        steps.append(_finished(step, after))
    return Plan(before, tuple(steps))


def _plain_step(part: Part) -> Step:
    """A scan; what an outer join says is tested for every pair."""
    kind, relation, on = part
    return Step(kind, relation, Access("scan"), (), tuple(on), ())


def _finished(step: Step, after: list[R.Expr]) -> Step:
    """Give a step the conditions that can be tested now, without those its access has made true already."""
    mine = sources_of(step.relation)
    if step.kind == "left":
        return replace(step, after=tuple(after))
    met = tuple(c for c in after if _is_met(c, step.access))
    known = {id(c) for c in met}
    rest = [c for c in after if id(c) not in known]
    local = tuple(c for c in rest if is_fixed(c, mine)) if step.access.kind == "hash" else ()
    return replace(step, local=local, after=tuple(c for c in rest if c not in local), met=met)


def _is_met(condition: R.Expr, access: Access) -> bool:
    """Whether only rows that meet a condition are found."""
    if access.kind == "either" and isinstance(condition, R.Or) and len(condition.items) == len(access.ways):
        return all(map(_is_met, condition.items, access.ways))
    if access.kind == "range" or not isinstance(condition, R.Compare) or condition.sign != "=":
        return False
    pairs = list(zip(access.own, access.keys, strict=True))
    return any((condition.left, condition.right) in ((a, b), (b, a)) for a, b in pairs)


def _flatten(relation: R.Relation, pool: list[R.Expr]) -> list[Part]:
    """Row sources in the order written; conditions of inner joins go to the pool."""
    if isinstance(relation, R.JoinRows) and relation.kind == "inner":
        pool += conjuncts(relation.condition)
        return _flatten(relation.left, pool) + _flatten(relation.right, pool)
    if isinstance(relation, R.JoinRows) and relation.kind == "left":
        return [*_flatten(relation.left, pool), ("left", relation.right, conjuncts(relation.condition))]
    return [("inner", relation, [])]


def _depends(relation: R.Relation, own: set[int]) -> bool:
    """Whether a relation refers to its neighbours."""
    if isinstance(relation, R.CallRows):
        return any(names(a) & own for a in relation.arguments)
    if isinstance(relation, R.UnnestRows):
        return any(names(a) & own for a in relation.arrays)
    return isinstance(relation, R.Derived) and relation.lateral


def _next(parts: list[Part], pending: list[tuple[R.Expr, set[int]]], bound: set[int]) -> Part:
    """The part to bind next: one with a unique index look-up, then any index, then a hash join, then a range, then a
    common table (few rows, in a recursion) from which an index leads on, then as written."""
    conditions = [c for c, _ in pending]
    own = bound | {s for p in parts for s in sources_of(p[1])}

    def rank(part: Part) -> int:
        access = _access(part[1], conditions, bound, own)
        if access.kind == "index":
            table = part[1].table  # type: ignore[attr-defined]
            return 0 if table.indexes[access.number].unique else 1
        return {"hash": 2, "either": 3, "range": 3}.get(access.kind, 4 if leads_on(part) else 5)

    def leads_on(part: Part) -> bool:
        reached = bound | sources_of(part[1])
        others = (p[1] for p in parts if p is not part)
        common = isinstance(part[1], R.CommonRows)
        return common and any(_access(o, conditions, reached, own).kind == "index" for o in others)

    return min(parts, key=rank)


def _step(
    part: Part, pending: list[tuple[R.Expr, set[int]]], bound: set[int], own: set[int], again: bool, split: bool
) -> Step:
    kind, relation, on = part
    mine = sources_of(relation)
    conditions = on if kind == "left" else [c for c, _ in pending]
    access = Access("scan") if _depends(relation, own) else _access(relation, conditions, bound, own, again, split)
    if kind != "left":
        return Step(kind, relation, access, (), (), ())
    if access.kind == "range":
        access = Access("scan")
    met = tuple(c for c in on if _is_met(c, access))
    rest = [c for c in on if not _is_met(c, access)]
    inner = {"index": [], "either": [], "hash": [c for c in rest if is_fixed(c, mine)]}
    local = tuple(inner.get(access.kind, [c for c in rest if names(c) & own <= mine]))
    return Step(kind, relation, access, local, tuple(c for c in rest if c not in local), (), met)


def _access(
    relation: R.Relation,
    conditions: list[R.Expr],
    bound: set[int],
    own: set[int],
    again: bool = False,
    split: bool = True,
) -> Access:
    """The best way to reach a relation, given what is bound."""
    mine = sources_of(relation)
    compared = [
        (sign, a, b)
        for condition in conditions
        if isinstance(condition, R.Compare)
        for sign, a, b in _both_ways(condition)
        if names(a) & own and names(a) & own <= mine and names(b) & own <= bound
    ]
    equalities = [(a, b) for sign, a, b in compared if sign == "="]
    if isinstance(relation, R.Scan):
        indexed = _index_access(relation, equalities)
        if indexed is not None:
            return indexed
    joining = [(a, b) for a, b in equalities if names(b) & own] if bound else []
    kept = False
    if again and isinstance(relation, R.Scan):
        outer = [(a, b) for a, b in equalities if is_fixed(a, mine) and not is_fixed(b, mine)]
        kept = bool(outer) and all(pair in outer for pair in joining)
        joining = outer if kept else joining
    if joining:
        return Access("hash", 0, tuple(a for a, _ in joining), tuple(b for _, b in joining), kept=kept)
    if split and bound and isinstance(relation, R.Scan):
        for condition in conditions:
            ways = _ways(relation, condition, bound, own, mine)
            if ways:
                return Access("either", ways=ways)
    return (_range_access(relation, compared) if isinstance(relation, R.Scan) else None) or Access("scan")


def _ways(relation: R.Scan, condition: R.Expr, bound: set[int], own: set[int], mine: set[int]) -> tuple[Access, ...]:
    """The ways to the rows of an OR, when each side of it has an equality with what is bound. What they find is still
    to be tested."""
    if not isinstance(condition, R.Or):
        return ()
    ways = []
    for side in condition.items:
        pairs = [
            (a, b)
            for c in conjuncts(side)
            if isinstance(c, R.Compare)
            for sign, a, b in _both_ways(c)
            if sign == "=" and is_fixed(a, mine) and names(a) and names(b) & own and names(b) & own <= bound
        ]
        # A condition beside an equality may keep it from being reckoned at all, as in z <> 0 AND x = 10 / z.
        if not pairs or not all(_never_raises(e) for pair in pairs for e in pair):
            return ()
        indexed = _index_access(relation, pairs)
        if indexed is not None and relation.table.indexes[indexed.number].unique:
            ways.append(indexed)
        else:
            ways.append(Access("hash", 0, tuple(a for a, _ in pairs), tuple(b for _, b in pairs)))
    return tuple(ways)


def _never_raises(e: R.Expr) -> bool:
    """Whether an expression is only columns and values that stand, brought to a common scale or without padding."""
    return all(
        isinstance(n, R.Column | R.Variable | R.Const)
        or (isinstance(n, R.Arith) and n.sign != "/")
        or (isinstance(n, R.Strict) and n.operation in ("without_padding", "padded_to"))
        for n in walk(e)
    )


def _both_ways(condition: R.Compare) -> tuple[tuple[str, R.Expr, R.Expr], ...]:
    """A comparison as it stands, and turned round."""
    sign, turned = condition.sign, TURNED[condition.sign]
    return (sign, condition.left, condition.right), (turned, condition.right, condition.left)


def equal_sides(condition: R.Expr | None, left: set[int], right: set[int]) -> list[tuple[R.Expr, R.Expr]]:
    """The equalities of a join condition between its two sides, as (of the left, of the right)."""
    return [
        (a, b)
        for c in conjuncts(condition)
        if isinstance(c, R.Compare)
        for sign, a, b in _both_ways(c)
        if sign == "=" and names(a) and names(a) <= left and names(b) and names(b) <= right
    ]


def _range_access(scan: R.Scan, compared: list[tuple[str, R.Expr, R.Expr]]) -> Access | None:
    """A range of an index: the values of its first columns, and ends for the next. An index leaves out every row with
    a NULL in its key, so one of several columns must have none."""
    of_column: dict[tuple[int, str], R.Expr] = {}
    for sign, a, b in compared:
        if isinstance(a, R.Column):
            of_column.setdefault((a.index, sign), b)
    best, most = None, (0, 0)
    for number, index in enumerate(scan.table.indexes):
        if index.null_key or not (index.single or all(scan.table.columns[c].not_null for c in index.columns)):
            continue
        keys: list[R.Expr] = []
        while len(keys) < len(index.columns) and (index.columns[len(keys)], "=") in of_column:
            keys.append(of_column[index.columns[len(keys)], "="])
        low, high = (_end(of_column, index.columns, len(keys), signs) for signs in ((">=", ">"), ("<=", "<")))
        score = len(keys), (low is not None) + (high is not None)
        if score > most:
            best, most = Access("range", number, keys=tuple(keys), low=low, high=high), score
    return best


def _end(
    of_column: dict[tuple[int, str], R.Expr], columns: tuple[int, ...], position: int, signs: tuple[str, str]
) -> tuple[R.Expr, bool] | None:
    """An end for a column of an index, if some condition gives one."""
    for sign in signs:
        if position < len(columns) and (columns[position], sign) in of_column:
            return of_column[columns[position], sign], len(sign) == 2
    return None


def _index_access(scan: R.Scan, equalities: list[tuple[R.Expr, R.Expr]]) -> Access | None:
    by_column = {a.index: (a, b) for a, b in equalities if isinstance(a, R.Column)}
    best: Access | None = None
    for number, index in enumerate(scan.table.indexes):
        if not index.null_key and all(c in by_column for c in index.columns):
            pairs = [by_column[c] for c in index.columns]
            access = Access("index", number, tuple(a for a, _ in pairs), tuple(b for _, b in pairs))
            if index.unique:
                return access
            best = best or access
    return best
