"""Binding of WITH: common tables, those that refer to themselves or to one another, SEARCH and CYCLE (clause 7.17)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.conversions import assign, unified
from glimb.engine.binding.dispatch import expression
from glimb.engine.values import types as T
from glimb.engine.values.search_cycle import Trail
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import nearest


def common_tables(b: Binding, query: tree.Query) -> tuple[R.Common | R.Recursion, ...]:
    """The common tables of a query in the order in which they can be computed."""
    by_name: dict[str, tree.CommonTable] = {}
    for node in query.common:
        if node.name in by_name:
            b.fail("42701", f"{node.name} is defined twice", node)
        by_name[node.name] = node
    if not query.recursive:
        return tuple(_plain(b, node) for node in query.common)
    reach = _reach(by_name)
    bound: list[R.Common | R.Recursion] = []
    done: set[str] = set()
    while len(done) < len(by_name):
        ready = (n for n in by_name if n not in done and all(m in done or n in reach[m] for m in reach[n]))
        name = next(ready)
        group = [m for m in by_name if m == name or (m in reach[name] and name in reach[m])]
        recursive = name in reach[name]
        bound.append(_recursion(b, [by_name[m] for m in group]) if recursive else _plain(b, by_name[name]))
        done.update(group)
    return tuple(bound)


def _plain(b: Binding, node: tree.CommonTable) -> R.Common:
    if node.search is not None or node.cycle is not None:
        b.fail("42601", f"SEARCH and CYCLE are for a table that refers to itself; {node.name} does not", node)
    number = b.new_source()
    query = b.later.bind_query(b, node.query)
    _known(b, node, number, b.later.renamed(b, query.columns, node.columns, node))
    return R.Common(number, query)


def _known(b: Binding, node: tree.CommonTable, number: int, columns: tuple[R.Output, ...]) -> None:
    """From here on the name means this table."""
    b.common[-1][node.name] = number
    b.common_columns[number] = columns


# -- recursion


def _recursion(b: Binding, nodes: list[tree.CommonTable]) -> R.Recursion:
    """Tables that refer to one another: what begins without them gives the types, the rest is repeated."""
    names = {n.name for n in nodes}
    numbers = {n.name: b.new_source() for n in nodes}
    parts = {n.name: _parts(b, n, names) for n in nodes}
    starts: dict[str, R.Query | None] = {}
    waiting = list(nodes)
    while waiting:
        ready = next((n for n in waiting if parts[n.name][0]), None)
        ready = ready or next((n for n in waiting if _named(n.query, names) <= set(starts)), None)
        if ready is None:
            hint = "start UNION [ALL] step"
            b.fail("42601", f"{waiting[0].name} refers to itself: it needs a query to start with", nodes[0], hint)
        starts[ready.name] = _start(b, ready, parts[ready.name][0], numbers[ready.name])
        waiting.remove(ready)
    tables = []
    for node in nodes:
        columns = b.common_columns[numbers[node.name]]
        trail = _trail(b, node, columns)
        wanted = tuple(c.type for c in columns)
        steps = [_step(b, s, wanted, trail, set(numbers.values()), node) for s in parts[node.name][1]]
        every = not isinstance(node.query.body, tree.SetOperation) or node.query.body.all
        tables.append(R.Recursive(numbers[node.name], starts[node.name], tuple(steps), every, trail))
    for node in nodes:
        number = numbers[node.name]
        b.common_columns[number] = _traced_columns(b, node, b.common_columns[number])
    return R.Recursion(tuple(tables))


def _parts(
    b: Binding, node: tree.CommonTable, names: set[str]
) -> tuple[tuple[tree.QueryBody, ...], tuple[tree.QueryBody, ...]]:
    """The branches of the UNION that do without the tables of the recursion, and those that do not."""
    query = node.query
    if query.order or query.fetch is not None or query.offset is not None or query.common:
        what = "an order, a limit or a WITH of its own"
        b.fail("42601", f"{node.name} refers to itself: its query cannot have {what}", node)
    branches = _branches(query.body)
    for branch in branches:
        if isinstance(branch, tree.SetOperation) and branch.kind != "union" and _named(branch.right, names):
            b.fail("42601", f"behind {branch.kind.upper()} there can be no reference to {node.name}", branch)
    starts = tuple(right for right in branches if not _named(right, names))
    return starts, tuple(right for right in branches if _named(right, names))


def _start(b: Binding, node: tree.CommonTable, branches: tuple[tree.QueryBody, ...], number: int) -> R.Query | None:
    """What a table begins with; one without such a query takes its types from the tables that it names."""
    body = branches[0] if branches else node.query.body
    for branch in branches[1:]:
        assert isinstance(node.query.body, tree.SetOperation)
        body = tree.SetOperation("union", node.query.body.all, body, branch, span=branch.span)
    start = b.later.bind_query(b, tree.Query(body, span=body.span))
    columns = tuple(R.Output(c.name, c.type, True) for c in start.columns)
    _known(b, node, number, b.later.renamed(b, columns, node.columns, node))
    return replace(start, columns=columns) if branches else None


def _step(
    b: Binding,
    branch: tree.QueryBody,
    wanted: tuple[Type, ...],
    trail: Trail | None,
    numbers: set[int],
    node: tree.Node,
) -> R.Query:
    step = b.later.bind_query(b, tree.Query(branch, span=branch.span), wanted)
    if len(step.columns) != len(wanted):
        b.fail("42601", f"start has {len(wanted)} columns, step {len(step.columns)}", branch)
    allowed = _references(step, numbers)
    if len(allowed) != 1 or sum(_is_one_of(n, numbers) for n in walk(step)) != 1:
        why = "once, in FROM: not in a subquery, a grouped query or the optional side of a join"
        b.fail("42601", "a step refers to the recursion in a way that has no meaning", branch, why)
    if trail is None:
        return b.later.converted_columns(b, step, wanted, branch)
    body = step.body
    if not isinstance(body, R.Select) or not any(n is allowed[0] for n in _joined(body.relation)):
        b.fail("42601", "with SEARCH or CYCLE, the step names the table in its own FROM", branch)
    items = (assign(b, i, t, branch, "the column") for i, t in zip(body.items, wanted, strict=True))
    before = (R.Column(T.NULL, True, allowed[0].source, trail.width + k, "") for k in range(trail.extra))
    columns = tuple(R.Output(c.name, t, True) for c, t in zip(step.columns, wanted, strict=True))
    columns += tuple(R.Output("", T.NULL, True) for _ in range(trail.extra))
    return replace(step, body=replace(body, items=(*items, *before)), columns=columns)


# -- SEARCH and CYCLE


def _trail(b: Binding, node: tree.CommonTable, columns: tuple[R.Output, ...]) -> Trail | None:
    if node.search is None and node.cycle is None:
        return None
    search, cycle = node.search, node.cycle
    by = _places(b, search.columns, columns, search) if search is not None else ()
    for place in by:
        b.sort_value(R.Const(columns[place].type, True, None), node)
    round_ = _places(b, cycle.columns, columns, cycle) if cycle is not None else ()
    marks: tuple[object, ...] = (True, False)
    if cycle is not None and cycle.mark is not None:
        marks = tuple(c.value for c in _marks(b, cycle))
    return Trail(len(columns), by, search is None or search.depth_first, round_, *marks)


def _places(b: Binding, names: tree.Parts, columns: tuple[R.Output, ...], node: tree.Node) -> tuple[int, ...]:
    known = [c.name for c in columns]
    for name in names:
        if name not in known:
            b.fail("42703", f"the recursion has no column {name}", node, nearest(name, known))
    return tuple(known.index(n) for n in names)


def _marks(b: Binding, cycle: tree.Cycle) -> list[R.Const]:
    given = [expression(b, m) for m in (cycle.mark, cycle.otherwise) if m is not None]
    marks = unified(b, given, cycle, "CYCLE")
    found = [m for m in marks if isinstance(m, R.Const)]
    if len(found) != 2 or found[0].value == found[1].value:
        b.fail("42601", "the marks of CYCLE are two different literals", cycle)
    return found


def _traced_columns(b: Binding, node: tree.CommonTable, columns: tuple[R.Output, ...]) -> tuple[R.Output, ...]:
    """The columns, and behind them those that SEARCH and CYCLE add."""
    added = []
    if node.search is not None:
        added.append(R.Output(node.search.name, T.INTEGER, False))
    if node.cycle is not None:
        type_ = T.BOOLEAN if node.cycle.mark is None else _marks(b, node.cycle)[0].type
        fields = [c for c in columns if c.name in node.cycle.columns]
        row = T.row((c.name, c.type) for c in fields)
        added += [R.Output(node.cycle.name, type_, False), R.Output(node.cycle.path, T.array(row), False)]
    names = [c.name for c in columns]
    for column in added:
        if column.name in names:
            b.fail("42701", f"{node.name} has a column {column.name} already", node)
    return (*columns, *added)


def _reach(nodes: dict[str, tree.CommonTable]) -> dict[str, set[str]]:
    """Of each common table: those that it refers to, directly or through others."""
    reach = {name: _named(node.query, set(nodes)) for name, node in nodes.items()}
    for middle in nodes:
        for known in reach.values():
            if middle in known:
                known |= reach[middle]
    return reach


def _named(node: tree.Node, names: set[str]) -> set[str]:
    found = {n.name[0] for n in walk(node) if isinstance(n, tree.TableName) and len(n.name) == 1}
    return found & names


def _branches(body: tree.QueryBody) -> list[tree.QueryBody]:
    """The queries that UNIONs of one kind put together."""
    branches: list[tree.QueryBody] = []
    at = body
    while isinstance(at, tree.SetOperation) and at.kind == "union" and not at.corresponding:
        if isinstance(body, tree.SetOperation) and at.all != body.all:
            break
        branches.append(at.right)
        at = at.left
    return [at, *reversed(branches)]


def _is_one_of(node: object, numbers: set[int]) -> bool:
    return isinstance(node, R.CommonRows) and node.number in numbers


def _references(query: R.Query, numbers: set[int]) -> list[R.CommonRows]:
    """References to a recursion where every row of the table counts for itself."""
    body = query.body
    if isinstance(body, R.SetQuery):
        both = [body.left, body.right] if body.kind == "union" else [body.left] if body.kind == "except" else []
        return [n for q in both for n in _references(q, numbers)]
    if not isinstance(body, R.Select) or body.grouped or body.windows or query.fetch is not None:
        return []
    found = []
    for relation in _joined(body.relation):
        if isinstance(relation, R.CommonRows) and relation.number in numbers:
            found.append(relation)
        elif isinstance(relation, R.Derived):
            found += _references(relation.query, numbers)
    return found


def _joined(relation: R.Relation | None) -> list[R.Relation]:
    """The tables of a FROM whose rows are all kept."""
    if not isinstance(relation, R.JoinRows):
        return [relation] if relation is not None else []
    kept = {"inner": (relation.left, relation.right), "left": (relation.left,)}.get(relation.kind, ())
    return [r for side in kept for r in _joined(side)]
