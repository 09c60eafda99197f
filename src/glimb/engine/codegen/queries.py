"""Queries as Python functions: nested loops that hand every row on to what comes next, without building what is only
passed through. Only ORDER BY, DISTINCT, grouping, set operations and the inner sides of hash joins collect rows.

Long on purpose: the forms of a query (rows, one value, set, exists) share how its body is written.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Atom, Unit, tuple_text
from glimb.engine.codegen.groups import GroupWriter, Ordered
from glimb.engine.codegen.joins import Sink
from glimb.engine.resolved.relations import is_volatile
from glimb.engine.values import types as T
from glimb.lang.node import replace, walk
from glimb.lang.source import NOWHERE, Span

MANY_ROWS = 20
"""From so many rows on, VALUES is data, not code."""


def write_query(
    unit: Unit, query: R.Query, form: str, again: bool = False, at: Span = NOWHERE
) -> tuple[str, list[R.Expr]]:
    """Write a function for a query. Forms: `rows` (list of tuples), `scalar`, `exists`, `set` (for IN), `column`.
    Gives its name, and what its callers must pass behind session and depth. One that is run `again` and again takes
    a dictionary first, in which it keeps its hash tables."""
    span = query.span if query.span != NOWHERE else at
    function = unit.function(f"query_{form}_", ["s", "d", "memo"] if again else ["s", "d"], span)
    writer = QueryWriter(function, True)
    writer.volatile, writer.again = is_volatile(query), again
    function.line("if s.stop: s.check()")
    function.hoist_here()
    getattr(writer, f"form_{form}")(query)
    return function.name, list(writer.free)


class QueryWriter(GroupWriter):
    """Writes one query into one function."""

    # -- forms

    def form_rows(self, query: R.Query) -> None:
        rows = self.rows(query, at_top=True)
        self.function.line(f"return {rows}")

    def form_scalar(self, query: R.Query) -> None:
        line = self.function.line
        rows = self.rows(query)
        line(f"if len({rows}) > 1:")
        line(f"    same_row_error({rows})")
        line(f"return {rows}[0][0] if {rows} else None")

    def form_row(self, query: R.Query) -> None:
        line = self.function.line
        rows = self.rows(query)
        line(f"if len({rows}) > 1:")
        line(f"    same_row_error({rows})")
        line(f"return {rows}[0] if {rows} else None")

    def form_exists(self, query: R.Query) -> None:
        self.each(query, lambda texts: self.function.line("return True"))
        self.function.line("return False")

    def form_set(self, query: R.Query) -> None:
        line = self.function.line
        line("values, has_null, any_rows = set(), False, False")

        def sink(texts: list[str]) -> None:
            line("any_rows = True")
            if len(texts) > 1:
                line(f"values.add({tuple_text(texts)})")
            elif query.columns[0].nullable:
                with self.function.indented(f"if (v := {texts[0]}) is None:"):
                    line("has_null = True")
                with self.function.indented("else:"):
                    line("values.add(v)")
            else:
                line(f"values.add({texts[0]})")

        self.each(query, sink)
        line("return values, has_null, any_rows")

    def form_column(self, query: R.Query) -> None:
        self.function.line("values = []")
        self.each(query, lambda texts: self.function.line(f"values.append({texts[0]})"))
        self.function.line("return Found(values)")

    # -- rows of a query

    def each(self, query: R.Query, sink: Sink) -> None:
        """Write loops that call the sink's code for every row."""
        if self.is_plain(query):
            self._common(query)
            self.body(query.body, sink)
            return
        rows = self.rows(query)
        row = self.function.temp("row")
        with self.function.indented(f"for {row} in {rows}:"):
            sink([Atom(f"{row}[{i}]") for i in range(len(query.columns))])

    def is_plain(self, query: R.Query) -> bool:
        """Whether rows can be handed on as they come."""
        if query.order or query.fetch is not None or query.offset is not None or query.lock:
            return False
        return isinstance(query.body, R.Select) and not query.body.distinct

    def rows(self, query: R.Query, at_top: bool = False) -> str:
        """Write code that collects all rows in a list; gives the name of the list."""
        self._common(query)
        if query.lock:
            return self._locked_rows(query)
        return self._collected(query, query.extra, at_top)

    def _collected(self, query: R.Query, extra: int, at_top: bool = False) -> str:
        line, function = self.function.line, self.function
        body = query.body
        offset = self._count(query.offset, "2201X", 0)
        fetch = "" if query.percent else self._count(query.fetch, "2201W", 1)
        if isinstance(body, R.SetQuery):
            out = self._set_operation(body)
        else:
            out = function.temp("out")
            distinct = isinstance(body, R.Select) and body.distinct
            line(f"{out} = {'{}' if distinct else '[]'}")
            early = at_top and fetch and not query.order and not offset and not distinct and not self.unit.plain
            if early:
                with function.indented(f"if {fetch} < 1:"):
                    line(f"return {out}")

            prune = self._pruning(query, fetch, offset) if not distinct else None

            def sink(texts: list[str]) -> None:
                if prune is not None:
                    prune(out, texts)
                    return
                function.row(*((f"{out}[", texts, "] = None") if distinct else (f"{out}.append(", texts)))
                if early:
                    with function.indented(f"if len({out}) >= {fetch}:"):
                        line(f"return {out}")

            self.body(body, sink)
            if distinct:
                line(f"{out} = list({out})")
        if not self.is_small(body):
            line(f"s.budget.measure({out})")
        if query.order:
            line(f"sort_rows({out}, {self.unit.constant(query.order, 'ORDER')})")
        if query.percent and query.fetch is not None:
            fetch = function.temp("n")
            line(f"{fetch} = row_percent({self.value(query.fetch)}, len({out}))")
        if query.ties and fetch:
            line(f"{fetch} = with_ties({out}, {self.unit.constant(query.order, 'ORDER')}, {offset or 0}, {fetch})")
        if offset or fetch:
            start, end = offset or "0", f"{offset} + {fetch}" if offset and fetch else fetch or ""
            line(f"{out} = {out}[{start}:{end}]")
        if extra:
            line(f"{out} = [r[:{len(query.columns)}] for r in {out}]")
        return out

    @staticmethod
    def is_small(body: R.Body) -> bool:
        """Whether a body gives no more rows than are stored or written down."""
        return isinstance(body, R.Rows) or (
            isinstance(body, R.Select) and (body.relation is None or isinstance(body.relation, R.Scan))
        )

    def _pruning(self, query: R.Query, fetch: str, offset: str) -> Callable[[str, list[str]], None] | None:
        """ORDER BY with FETCH FIRST: rows that sort behind all that will be kept are not even collected. What is
        collected is sorted and cut whenever it has grown much; then its last row sets the mark."""
        if not query.order or not fetch or query.ties or self.unit.plain:
            return None
        line, function = self.function.line, self.function
        position, descending, _ = query.order[0]
        room, mark, key = function.temp("room"), function.temp("mark"), function.temp("key")
        order = self.unit.constant(query.order, "ORDER")
        line(f"{room}, {mark} = {fetch}{' + ' + offset if offset else ''}, None")

        def collect(out: str, texts: list[str]) -> None:
            line(f"{key} = {texts[position]}")
            behind = f"{key} {'>=' if descending else '<='} {mark}"
            with function.indented(f"if {mark} is None or {key} is None or {behind}:"):
                function.row(f"{out}.append(", [*texts[:position], key, *texts[position + 1 :]])
                with function.indented(f"if len({out}) > 4 * {room} + 100:"):
                    line(f"sort_rows({out}, {order})")
                    line(f"del {out}[{room}:]")
                    line(f"{mark} = {out}[-1][{position}] if {out} else None")

        return collect

    def _count(self, e: R.Expr | None, sqlstate: str, least: int) -> str:
        """A checked number of rows in a local; empty when there is none."""
        if e is None:
            return ""
        name = self.function.temp("n")
        self.function.line(f"{name} = row_limit({self.value(e)}, {self.unit.constant(sqlstate, 'STATE')}, {least})")
        return name

    def _locked_rows(self, query: R.Query) -> str:
        """FOR UPDATE: the rows of the result are locked; when one had to be waited for and has changed, look again."""
        function, select = self.function, query.body
        assert isinstance(select, R.Select)
        assert select.relation is not None
        scans = {n.source: n for n in walk(select.relation) if isinstance(n, R.Scan)}
        carried = tuple(WholeRow(T.NULL, False, source) for source in query.lock)
        widened = replace(query, body=replace(select, items=select.items + carried), lock=())
        first = len(select.items)
        mode, skip, wait = query.lock_mode
        self.changing = dict.fromkeys(query.lock, ("U" if mode == "X" else "S", wait, skip))
        function.line("s.begin()")
        if skip and not query.percent and not query.ties:
            self._free_rows(query, replace(widened, fetch=None, offset=None), scans, first)
            return "free"
        with function.indented("while True:"):
            function.hoist_here()
            out = self._collected(widened, 0)
            tests = []
            for number, source in enumerate(query.lock):
                table = self.unit.table(scans[source].table)
                picked = f"[r[{first + number}] for r in {out} if r[{first + number}][-1] is not None]"
                if skip:
                    function.line(
                        f"{out} = s.claims.free_rows({out}, (({first + number}, {table}),), {mode!r}, 0, None)"
                    )
                    tests.append("True")
                else:
                    tests.append(f"s.claims.lock_rows({table}, {picked}, {mode!r}, {wait})")
            with function.indented(f"if {' & '.join(tests)}:"):
                function.line("break")
        function.line(f"{out} = [r[:{len(query.columns)}] for r in {out}]")
        return out

    def _free_rows(self, query: R.Query, widened: R.Query, scans: dict[int, R.Scan], first: int) -> None:
        """SKIP LOCKED: what is locked is passed over before OFFSET and FETCH FIRST count."""
        function, mode = self.function, query.lock_mode[0]
        offset, fetch = self._count(query.offset, "2201X", 0), self._count(query.fetch, "2201W", 1)
        function.hoist_here()
        out = self._collected(widened, 0)
        tables = ", ".join(f"({first + n}, {self.unit.table(scans[s].table)})" for n, s in enumerate(query.lock))
        rows = f"s.claims.free_rows({out}, ({tables},), {mode!r}, {offset or 0}, {fetch or None})"
        function.line(f"free = [r[:{len(query.columns)}] for r in {rows}]")

    def value(self, e: R.Expr) -> str:
        if isinstance(e, Ordered):
            return "None"
        if isinstance(e, WholeRow):
            row = self.columns[e.source]
            assert isinstance(row, str)
            return row
        return super().value(e)

    # -- common tables

    def _common(self, query: R.Query) -> None:
        for common in query.common:
            if isinstance(common, R.Recursion):
                self._recursion(common)
            else:
                local = f"common{common.number}"
                self.function.line(f"{local} = {self.rows(common.query)}")
                self.locals.add(local)

    def _recursion(self, node: R.Recursion) -> None:
        """Repeat the steps over the rows of the round before, until they give no more (clause 7.17)."""
        line, function = self.function.line, self.function
        latest = [f"common{t.number}" for t in node.tables]
        results = [function.temp("all") for _ in node.tables]
        trails = [self.unit.constant(t.trail, "TRAIL") if t.trail is not None else "" for t in node.tables]
        for table, local, result, trail in zip(node.tables, latest, results, trails, strict=True):
            start = self.rows(table.start) if table.start is not None else "[]"
            start = f"first_rows({start}, {trail})" if trail else start
            line(f"{local} = {start}" if table.all else f"{local} = list(dict.fromkeys({start}))")
            line(f"{result} = list({local})" if table.all else f"{result} = dict.fromkeys({local})")
            self.locals.add(local)
        with function.indented(f"while {' or '.join(latest)}:"):
            line("if s.stop: s.check()")
            line(f"if {' + '.join(f'len({r})' for r in results)} > s.budget.rows: s.budget.too_many()")
            for local in latest:
                line(f"s.budget.measure({local})")
            made = [self._made(t, trail) for t, trail in zip(node.tables, trails, strict=True)]
            for table, local, result, new, trail in zip(node.tables, latest, results, made, trails, strict=True):
                if table.all:
                    line(f"{result} += {new}")
                else:
                    line(f"{new} = [r for r in dict.fromkeys({new}) if r not in {result}]")
                    line(f"{result}.update(dict.fromkeys({new}))")
                line(f"{local} = to_follow({new}, {trail})" if trail else f"{local} = {new}")
        for local, result, trail in zip(latest, results, trails, strict=True):
            line(f"{local} = finished(list({result}), {trail})" if trail else f"{local} = list({result})")

    def _made(self, table: R.Recursive, trail: str) -> str:
        """The rows that one round makes for a table."""
        new = self.function.temp("new")
        rows = [self.rows(step) for step in table.steps]
        made = " + ".join(rows) or "[]"
        self.function.line(f"{new} = next_rows({made}, {trail})" if trail else f"{new} = {made}")
        return new

    def _set_operation(self, body: R.SetQuery) -> str:
        line = self.function.line
        left, right = self.rows(body.left), self.rows(body.right)
        out = self.function.temp("out")
        if body.kind == "union":
            line(f"{out} = {left} + {right}" if body.all else f"{out} = list(dict.fromkeys({left} + {right}))")
        else:
            line(f"{out} = set_{body.kind}({left}, {right}, {body.all})")
        return out

    # -- bodies

    def body(self, body: R.Body, sink: Sink) -> None:
        if isinstance(body, R.Rows):
            known = constant_rows(body)
            if known is not None:
                row = self.function.temp("row")
                with self.function.indented(f"for {row} in {self.unit.constant(known, 'ROWS')}:"):
                    sink([Atom(f"{row}[{i}]") for i in range(len(known[0]))])
                return
            for given in body.rows:
                sink(self.row_values(given))
        elif isinstance(body, R.SetQuery):
            row = self.function.temp("row")
            out = self._set_operation(body)
            with self.function.indented(f"for {row} in {out}:"):
                sink([Atom(f"{row}[{i}]") for i in range(len(body.left.columns))])
        else:
            assert isinstance(body, R.Select)
            if body.windows:
                self.windowed(body, sink)
            elif body.grouped:
                self.grouped(body, sink)
            else:
                self.loops(body.relation, body.where, lambda: sink(self.row_values(body.items)))


def constant_rows(body: R.Rows) -> list[tuple[Any, ...]] | None:
    """The rows of a long VALUES in which everything is known."""
    if body.known is not None:
        return body.known.rows
    if len(body.rows) < MANY_ROWS or not all(isinstance(value, R.Const) for row in body.rows for value in row):
        return None
    return [tuple(value.value for value in row if isinstance(value, R.Const)) for row in body.rows]


class WholeRow(R.Expr):
    """A whole row of a base table, with its row id; carried along by FOR UPDATE."""

    source: int


def with_whole_row(query: R.Query) -> R.Query:
    """A query over one table whose result has the row of the table behind its columns."""
    body, width = query.body, len(query.columns)
    assert isinstance(body, R.Select)
    assert isinstance(body.relation, R.Scan)
    items = (*body.items[:width], WholeRow(T.NULL, False, body.relation.source), *body.items[width:])
    order = tuple((p + (p >= width), descending, first) for p, descending, first in query.order)
    columns = (*query.columns, R.Output("", T.NULL, False))
    return replace(query, body=replace(body, items=items), columns=columns, order=order)
