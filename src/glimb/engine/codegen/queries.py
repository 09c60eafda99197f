"""Queries as Python functions: nested loops that hand every row on to what comes next, without building what is only
passed through. Only ORDER BY, DISTINCT, grouping, set operations and the inner sides of hash joins collect rows."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any

from glimb.engine import functions as F
from glimb.engine import resolved as R
from glimb.engine import types as T
from glimb.engine.catalog import Routine
from glimb.engine.codegen.builder import Unit
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.codegen.plans import describe
from glimb.engine.planner import Plan, Step, conjuncts, equal_sides, plan, sources_of
from glimb.engine.windows import WindowSpecification
from glimb.lang.node import Node, replace, walk

Sink = Callable[[list[str]], None]


def is_volatile(node: Node) -> bool:
    """Whether running this may change data or wait, so that it must not be remembered nor run beside a live scan."""
    return any(
        isinstance(n, R.ChangedRows | R.NextValue)
        or (isinstance(n, R.RoutineCall | R.CallRows) and _may_write(n.routine))
        for n in walk(node)
    )


def _may_write(routine: Routine) -> bool:
    facts = routine.facts or routine.bind()
    return facts is None or bool(facts.writes)


def write_query(unit: Unit, query: R.Query, form: str, again: bool = False) -> tuple[str, list[R.Expr]]:
    """Write a function for a query. Forms: `rows` (list of tuples), `scalar`, `exists`, `set` (for IN), `column`.
    Gives its name, and what its callers must pass behind session and depth. One that is run `again` and again takes
    a dictionary first, in which it keeps its hash tables."""
    function = unit.function(f"query_{form}_", ["s", "d", "memo"] if again else ["s", "d"], query.span)
    writer = QueryWriter(function, True)
    writer.volatile, writer.again = is_volatile(query), again
    getattr(writer, f"form_{form}")(query)
    return function.name, list(writer.free)


def tuple_text(texts: list[str]) -> str:
    """A tuple display."""
    return f"({', '.join(texts)}{',' if len(texts) == 1 else ''})"


class QueryWriter(ExpressionWriter):
    """Writes one query into one function."""

    volatile = again = False
    changing: Mapping[int, tuple[Any, ...]] = MappingProxyType({})
    """Row sources whose rows are to be changed or locked: mode, how long to wait, whether to skip."""

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
        self.function.line("return values")

    # -- rows of a query

    def each(self, query: R.Query, sink: Sink) -> None:
        """Write loops that call the sink's code for every row."""
        if self._is_plain(query):
            self._common(query)
            self.body(query.body, sink)
            return
        rows = self.rows(query)
        row = self.function.temp("row")
        with self.function.indented(f"for {row} in {rows}:"):
            sink([f"{row}[{i}]" for i in range(len(query.columns))])

    def _is_plain(self, query: R.Query) -> bool:
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
        fetch = "" if query.percent else self._count(query.fetch, "2201W", 0)
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
                line(f"{out}[{tuple_text(texts)}] = None" if distinct else f"{out}.append({tuple_text(texts)})")
                if early:
                    with function.indented(f"if len({out}) >= {fetch}:"):
                        line(f"return {out}")

            self.body(body, sink)
            if distinct:
                line(f"{out} = list({out})")
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
                line(f"{out}.append({tuple_text([*texts[:position], key, *texts[position + 1 :]])})")
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
        with function.indented("while True:"):
            function.hoist_here()
            out = self._collected(widened, 0)
            tests = []
            for number, source in enumerate(query.lock):
                table = self.unit.table(scans[source].table)
                picked = f"[r[{first + number}] for r in {out} if r[{first + number}][-1] is not None]"
                if skip:
                    free = function.temp("free")
                    function.line(f"{free} = s.free_rows({table}, {picked}, {mode!r})")
                    row = f"r[{first + number}]"
                    function.line(f"{out} = [r for r in {out} if {row}[-1] is None or {row} in {free}]")
                    tests.append("True")
                else:
                    tests.append(f"s.lock_rows({table}, {picked}, {mode!r}, {wait})")
            with function.indented(f"if {' & '.join(tests)}:"):
                function.line("break")
        function.line(f"{out} = [r[:{len(query.columns)}] for r in {out}]")
        return out

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
            line(f"if {' + '.join(f'len({r})' for r in results)} > s.row_limit: s.too_many()")
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
            for given in body.rows:
                sink(self.row_values(given))
        elif isinstance(body, R.SetQuery):
            row = self.function.temp("row")
            out = self._set_operation(body)
            with self.function.indented(f"for {row} in {out}:"):
                sink([f"{row}[{i}]" for i in range(len(body.left.columns))])
        else:
            assert isinstance(body, R.Select)
            if body.windows:
                self._windowed(body, sink)
            elif body.grouped:
                self._grouped(body, sink)
            else:
                self.loops(body.relation, body.where, lambda: sink(self.row_values(body.items)))

    def loops(self, relation: R.Relation | None, where: R.Expr | None, inside: Callable[[], None]) -> None:
        """Loops over a relation with its conditions; `inside` writes what is done for every row."""
        if relation is None:
            self._when(conjuncts(where), inside)
            return
        planned: Plan = plan(relation, where, self.unit.plain, self.again)
        plan_lines = self._tell(planned)
        ready = [self._prepare(step, first=number == 0) for number, step in enumerate(planned.steps)]
        slow = [number for number, step in enumerate(planned.steps) if not self._is_short(step)]

        def nest(number: int) -> None:
            if number == len(planned.steps):
                inside()
                return
            step = planned.steps[number]

            def deeper() -> None:
                if any(later > number for later in slow):
                    self.function.line("if s.stop: s.check()")
                self._when(list(step.after), lambda: counted(number))

            def counted(number: int) -> None:
                if plan_lines:
                    self.function.line(
                        f"{self.unit.constant(self.unit.plan, 'PLAN')}.counts[{plan_lines[number]}] += 1"
                    )
                nest(number + 1)

            ready[number](deeper)

        self._when(list(planned.before), lambda: nest(0))

    @staticmethod
    def _is_short(step: Step) -> bool:
        """Whether a step gives one row at most: no loop that somebody may want to stop."""
        return step.access.kind == "index" and step.relation.table.indexes[step.access.number].unique  # type: ignore[attr-defined]

    def _tell(self, planned: Plan) -> list[int]:
        """For EXPLAIN: a line for every step; their numbers."""
        told = self.unit.plan
        if told is None:
            return []
        told.depth += 1
        numbers = [told.add(describe(step)) for step in planned.steps]
        told.depth -= 1
        return numbers

    def _when(self, conditions: list[R.Expr], inside: Callable[[], None]) -> None:
        if not conditions:
            inside()
            return
        with self.function.indented(f"if {' and '.join(self.true(c) for c in conditions)}:"):
            inside()

    # -- steps: what to write before all loops, and then the loop itself

    def _prepare(self, step: Step, first: bool) -> Callable[[Callable[[], None]], None]:
        if step.kind == "left":
            return self._prepare_left(step)
        if step.access.kind == "index":
            return self._prepare_index(step)
        if step.access.kind == "range":
            return self._prepare_range(step)
        if step.access.kind == "hash":
            table = self._hash_table(step)
            pattern = self._pattern(step.relation)
            key = self._key(step.access.keys)
            return lambda inside: self._loop(pattern, f"{table}.get({key()}, ())", inside)
        return self._prepare_scan(step.relation, first)

    def _loop(self, pattern: str, iterable: str, inside: Callable[[], None]) -> None:
        with self.function.indented(f"for {pattern} in {iterable}:"):
            inside()

    def _prepare_scan(self, relation: R.Relation, first: bool) -> Callable[[Callable[[], None]], None]:
        if isinstance(relation, R.Derived) and (first or relation.lateral):
            return lambda inside: self._through(relation, inside)
        if isinstance(relation, R.CallRows | R.UnnestRows):
            return lambda inside: self._loop(self._pattern(relation), self._rows_of(relation), inside)
        iterable = self._rows_of(relation)
        pattern = self._pattern(relation)
        return lambda inside: self._loop(pattern, iterable, inside)

    def _through(self, relation: R.Derived, inside: Callable[[], None]) -> None:
        """Hand the rows of a derived table on as they come."""

        def sink(texts: list[str]) -> None:
            names = []
            for text in texts:
                if self.is_atom(text):
                    names.append(text)
                else:
                    names.append(self.function.temp("c"))
                    self.function.line(f"{names[-1]} = {text}")
            self.columns[relation.source] = names
            inside()

        self.each(relation.query, sink)

    def _prepare_index(self, step: Step) -> Callable[[Callable[[], None]], None]:
        relation = step.relation
        assert isinstance(relation, R.Scan)
        index = relation.table.indexes[step.access.number]
        look_up = self._look_up(relation, step.access.number)
        row = self._pattern(relation)
        key = self._key(step.access.keys)

        def write(inside: Callable[[], None]) -> None:
            if index.unique:
                self.function.line(f"{row} = {look_up}({key()})")
                with self.function.indented(f"if {row} is not None:"):
                    inside()
            else:
                rows = f"{look_up}({key()}, NO_ROWS).values()"
                self._loop(row, f"list({rows})" if self.volatile else rows, inside)

        return write

    def _look_up(self, relation: R.Scan, number: int, what: str = "lookup") -> str:
        name = self.function.temp("find")
        self.function.hoist(f"{name} = {self._view(relation)}.{what}({number})")
        return name

    def _prepare_range(self, step: Step) -> Callable[[Callable[[], None]], None]:
        relation, access = step.relation, step.access
        assert isinstance(relation, R.Scan)
        find = self._look_up(relation, access.number, "ranges")
        row = self._pattern(relation)

        def end(limit: tuple[R.Expr, bool] | None) -> str:
            return f"({self.value(limit[0])}, {limit[1]})" if limit is not None else "None"

        def write(inside: Callable[[], None]) -> None:
            keys = tuple_text([self.value(k) for k in access.keys]) if access.keys else "()"
            self._loop(row, f"{find}(Bounds({keys}, {end(access.low)}, {end(access.high)}))", inside)

        return write

    def _view(self, relation: R.Scan) -> str:
        """How a table is looked at: to read it, or to find the rows that are to be changed or locked."""
        table = self.unit.table(relation.table)
        asked = self.changing.get(relation.source)
        if asked is None:
            return f"s.view({table})"
        return f"s.view_to_change({table}{''.join(f', {a!r}' for a in asked)})"

    def _key(self, keys: tuple[R.Expr, ...]) -> Callable[[], str]:
        """Text of a key: one value, or a tuple."""
        return lambda: self.value(keys[0]) if len(keys) == 1 else tuple_text([self.value(k) for k in keys])

    def _pattern(self, relation: R.Relation) -> str:
        """The loop variables of a relation; its columns are in reach from here on."""
        if isinstance(relation, R.JoinRows):
            return f"({self._pattern(relation.left)}, {self._pattern(relation.right)})"
        source: int = relation.source  # type: ignore[attr-defined]
        self.columns[source] = f"r{source}"
        return f"r{source}"

    def _rows_of(self, relation: R.Relation) -> str:
        """Text of an iterable over the rows of a relation; what must be computed first is written here."""
        if isinstance(relation, R.Scan):
            table = self.function.temp("t")
            self.function.hoist(f"{table} = {self._view(relation)}")
            return f"list({table}.scan())" if self.volatile else f"{table}.scan()"
        if isinstance(relation, R.Derived):
            return self.rows(relation.query)
        if isinstance(relation, R.CallRows):
            routine = self.unit.constant(relation.routine, "R")
            arguments = "".join(f", {self.value(a)}" for a in relation.arguments)
            return f"{routine}.{self.form}(s, d + 1{arguments})"
        if isinstance(relation, R.SystemRows):
            return f"{self.unit.constant(relation.view, 'VIEW')}.rows(s)"
        if isinstance(relation, R.UnnestRows):
            arrays = "".join(f"{self.value(a)}, " for a in relation.arrays)
            return f"unnest(({arrays}), {relation.widths!r}, {relation.ordinality})"
        if isinstance(relation, R.ChangedRows):
            return self._changed(relation)
        if isinstance(relation, R.TransitionRows):
            return self.variable(R.Variable(T.NULL, False, relation.local, ""))
        if isinstance(relation, R.CommonRows):
            return self.variable(R.Variable(T.NULL, False, f"common{relation.number}", ""))
        assert isinstance(relation, R.JoinRows)
        return self._full(relation) if relation.kind == "full" else self._joined(relation)

    def _changed(self, relation: R.ChangedRows) -> str:
        """Do the change, and give the rows that it has made or found."""
        from glimb.engine.codegen.statements import write_change

        name, free = write_change(self.unit, relation.statement)
        mark, rows = self.function.temp("mark"), self.function.temp("changed")
        arguments = "".join(f", {self.value(e)}" for e in free)
        self.function.line(f"{mark} = len(s.log)")
        self.function.line(f"{name}(s, d{arguments})")
        table = self.unit.table(relation.table)
        self.function.line(f"{rows} = changed_rows(s, {table}, {mark}, {relation.kind!r})")
        return rows

    def _joined(self, relation: R.JoinRows) -> str:
        """The rows of a join, collected: tuples in the shape of its pattern."""
        out = self.function.temp("joined")
        self.function.line(f"{out} = []")
        self.loops(relation, None, lambda: self.function.line(f"{out}.append({self._shape(relation)})"))
        return out

    def _shape(self, relation: R.Relation) -> str:
        """The pattern of a relation as an expression, from what is bound."""
        if isinstance(relation, R.JoinRows):
            return f"({self._shape(relation.left)}, {self._shape(relation.right)})"
        row = self.columns[relation.source]  # type: ignore[attr-defined]
        return row if isinstance(row, str) else tuple_text(row)

    def _null_row(self, relation: R.Relation) -> str:
        """A row of NULLs in the shape of a relation."""
        return self.unit.constant(_nulls(relation), "NULLS")

    def _hash_table(self, step: Step) -> str:
        """Collect the rows of a relation by key; rows with a NULL in it match nothing."""
        function = self.function
        table = function.temp("hash")
        if not step.access.kept:
            self._fill_hash_table(step, table, f"{table} = {{}}")
            return table
        function.line(f"{table} = memo.get({table!r})")
        with function.indented(f"if {table} is None:"):
            self._fill_hash_table(step, table, f"{table} = memo[{table!r}] = {{}}")
        return table

    def _fill_hash_table(self, step: Step, table: str, made: str) -> None:
        function = self.function
        key = function.temp("key")
        iterable = self._rows_of(step.relation)
        pattern = self._pattern(step.relation)
        function.line(made)
        with function.indented(f"for {pattern} in {iterable}:"):

            def put() -> None:
                function.line(f"{key} = {self._key(step.access.own)()}")
                test = self._key_test(step.access.own, key)
                bucket = function.temp("rows")

                def add() -> None:
                    function.line(f"{bucket} = {table}.get({key})")
                    function.line(f"if {bucket} is None: {table}[{key}] = [{pattern}]")
                    function.line(f"else: {bucket}.append({pattern})")

                if test:
                    with function.indented(f"if {test}:"):
                        add()
                else:
                    add()

            self._when(list(step.local), put)

    @staticmethod
    def _key_test(keys: tuple[R.Expr, ...], key: str) -> str:
        if not any(k.nullable for k in keys):
            return ""
        return f"{key} is not None" if len(keys) == 1 else f"None not in {key}"

    def _prepare_left(self, step: Step) -> Callable[[Callable[[], None]], None]:
        """An outer join: the rows that match, or one row of NULLs."""
        relation, access = step.relation, step.access
        key = self._key(access.keys)
        if access.kind == "index":
            assert isinstance(relation, R.Scan)
            pattern = self._pattern(relation)
            look_up = self._look_up(relation, access.number)
            if relation.table.indexes[access.number].unique:
                return lambda inside: self._left_unique(step, pattern, look_up, key, inside)
            return lambda inside: self._left_loop(step, pattern, f"{look_up}({key()}, NO_ROWS).values()", inside)
        if access.kind == "hash":
            table = self._hash_table(step)
            pattern = self._pattern(relation)
            return lambda inside: self._left_loop(step, pattern, f"{table}.get({key()}, ())", inside)
        depends = isinstance(relation, R.CallRows | R.UnnestRows)
        iterable = "" if depends or (isinstance(relation, R.Derived) and relation.lateral) else self._filtered(step)
        pattern = self._pattern(relation)
        return lambda inside: self._left_loop(step, pattern, iterable or self._rows_of(relation), inside)

    def _filtered(self, step: Step) -> str:
        """The rows of the inner side of an outer join that meet what the join says of them alone."""
        iterable = self._rows_of(step.relation)
        if not step.local:
            return iterable
        pattern = self._pattern(step.relation)
        out = self.function.temp("inner")
        self.function.line(f"{out} = []")
        with self.function.indented(f"for {pattern} in {iterable}:"):
            self._when(list(step.local), lambda: self.function.line(f"{out}.append({pattern})"))
        return out

    def _left_unique(
        self, step: Step, row: str, look_up: str, key: Callable[[], str], inside: Callable[[], None]
    ) -> None:
        nulls = self._null_row(step.relation)
        self.function.line(f"{row} = {look_up}({key()}, {nulls})")
        if step.match:
            with self.function.indented(
                f"if {row} is not {nulls} and not ({' and '.join(self.true(c) for c in step.match)}):"
            ):
                self.function.line(f"{row} = {nulls}")
        inside()

    def _left_loop(self, step: Step, pattern: str, iterable: str, inside: Callable[[], None]) -> None:
        nulls = self.unit.constant((_nulls(step.relation),), "NULLS")
        conditions = list(step.match)
        if isinstance(step.relation, R.CallRows | R.UnnestRows) or (
            isinstance(step.relation, R.Derived) and step.relation.lateral
        ):
            conditions += step.local
        if conditions:
            matches = self.function.temp("matches")
            self.function.line(f"{matches} = []")
            with self.function.indented(f"for {pattern} in {iterable}:"):
                self._when(conditions, lambda: self.function.line(f"{matches}.append({pattern})"))
            iterable = matches
        elif not iterable.endswith(", ())"):
            iterable = f"list({iterable})"
        self._loop(pattern, f"{iterable} or {nulls}", inside)

    def _full(self, relation: R.JoinRows) -> str:
        """FULL JOIN: matching pairs, then the rows of either side without a match."""
        function = self.function
        line = function.line
        lefts, rights, out, seen = (function.temp(n) for n in ("lefts", "rights", "joined", "seen"))
        line(f"{lefts} = list({self._rows_of(relation.left)})")
        line(f"{rights} = list({self._rows_of(relation.right)})")
        left, right = self._pattern(relation.left), self._pattern(relation.right)
        line(f"{out}, {seen} = [], set()")
        number, hit = function.temp("number"), function.temp("hit")
        sides = equal_sides(relation.condition, sources_of(relation.left), sources_of(relation.right))
        candidates = f"enumerate({rights})"
        if sides and not self.unit.plain:
            table, key = function.temp("hash"), function.temp("key")
            line(f"{table} = {{}}")
            with function.indented(f"for {number}, {right} in enumerate({rights}):"):
                line(f"{key} = {self._key(tuple(b for _, b in sides))()}")
                line(f"{table}.setdefault({key}, []).append(({number}, {right}))")
            candidates = f"{table}.get({self._key(tuple(a for a, _ in sides))()}, ())"
        with function.indented(f"for {left} in {lefts}:"):
            line("if s.stop: s.check()")
            line(f"{hit} = False")
            with function.indented(f"for {number}, {right} in {candidates}:"):

                def pair() -> None:
                    line(f"{hit} = True")
                    line(f"{seen}.add({number})")
                    line(f"{out}.append(({left}, {right}))")

                self._when(conjuncts(relation.condition), pair)
            line(f"if not {hit}: {out}.append(({left}, {self._null_row(relation.right)}))")
        with function.indented(f"for {number}, {right} in enumerate({rights}):"):
            line(f"if {number} not in {seen}: {out}.append(({self._null_row(relation.left)}, {right}))")
        return out

    # -- windows

    def _windowed(self, body: R.Select, sink: Sink) -> None:
        """Collect what windows and select list need of every row, compute each window over all of them, then go on."""
        function, line = self.function, self.function.line
        own = {body.group_source} if body.grouped else sources_of(body.relation) if body.relation else set()
        columns = tuple(dict.fromkeys(n for n in walk(body.items) if isinstance(n, R.Column) and n.source in own))
        inputs = tuple(dict.fromkeys(e for w in body.windows for e in _inputs(w)))
        inner = replace(body, items=(*columns, *inputs), windows=(), distinct=False)
        rows, row = function.temp("rows"), function.temp("row")
        line(f"{rows} = []")
        self.body(inner, lambda texts: line(f"{rows}.append({tuple_text(texts)})"))
        results = [function.temp("w") for _ in body.windows]
        place = {e: len(columns) + n for n, e in enumerate(inputs)}
        for name, window in zip(results, body.windows, strict=True):
            line(f"{name} = window_values({rows}, {self.unit.constant(_specification(window, place), 'WINDOW')})")
        with function.indented(f"for {row}, {', '.join(results)} in zip({rows}, {', '.join(results)}):"):
            for source in own:
                width = max((c.index for c in columns if c.source == source), default=-1) + 1
                texts = ["None"] * width
                for number, column in enumerate(columns):
                    if column.source == source:
                        texts[column.index] = f"{row}[{number}]"
                self.columns[source] = texts
            self.columns[body.window_source] = results
            sink(self.row_values(body.items))

    # -- grouping

    def _grouped(self, body: R.Select, sink: Sink) -> None:
        slots = _slots(body)
        counted = not body.keys and slots == [((None,), None)]
        groups = self.function.temp("groups")
        self.function.line(f"{groups} = {'0' if counted else self._first_groups(body, slots)}")
        adds = self._adders(body, slots, groups)

        def collect() -> None:
            if counted:
                self.function.line(f"{groups} += 1")
            else:
                self._collect_group(body, slots, groups, adds)

        self.loops(body.relation, body.where, collect)
        if counted:
            self._group_done(body, sink, [], [groups])
            return
        key, group = self.function.temp("k"), self.function.temp("g")
        with self.function.indented(f"for {key}, {group} in {groups}.items():"):
            single = len(body.keys) == 1
            keys = [key] if single else [f"{key}[{i}]" for i in range(len(body.keys))]
            results = [self._aggregate(a, f"{group}[{slots.index(_slot(a))}]") for a in body.aggregates]
            self._group_done(body, sink, keys, results)

    def _group_done(self, body: R.Select, sink: Sink, keys: list[str], results: list[str]) -> None:
        """HAVING and the select list over one group."""
        names = list(keys)
        for text in results:
            name = self.function.temp("a")
            self.function.line(f"{name} = {text}")
            names.append(name)
        self.columns[body.group_source] = names
        self._when(conjuncts(body.having), lambda: sink(self.row_values(body.items)))

    def _first_groups(self, body: R.Select, slots: list[Any]) -> str:
        """The groups that there are even over no rows: the one of everything."""
        if body.sets:
            nothing = "None, " * (len(body.keys) - 1)
            empty = [f"({nothing}{n},): {self._empty_group(slots)}" for n, s in enumerate(body.sets) if not s]
            return f"{{{', '.join(empty)}}}"
        return "{}" if body.keys else f"{{(): {self._empty_group(slots)}}}"

    @staticmethod
    def _empty_group(slots: list[Any]) -> str:
        return tuple_text(["[]"] * len(slots)) if slots else "True"

    def _adders(self, body: R.Select, slots: list[Any], groups: str) -> list[str]:
        """With one group of all rows: locals that add to its lists, made before the loops."""
        if body.keys or slots == [((None,), None)]:
            return []
        names = [self.function.temp("add") for _ in slots]
        for number, name in enumerate(names):
            self.function.line(f"{name} = {groups}[()][{number}].append")
        return names

    def _collect_group(self, body: R.Select, slots: list[Any], groups: str, adds: list[str]) -> None:
        """Add a row to the lists of its group, one list for each distinct argument."""
        line, function = self.function.line, self.function
        if not body.keys:
            self._add_to_lists(slots, adds)
            return
        key, group = function.temp("k"), function.temp("g")
        if body.sets:
            with function.indented(f"for {key} in ({', '.join(self._set_keys(body))},):"):
                self._into_group(slots, groups, key, group)
            return
        texts = [self.value(k) for k in body.keys]
        line(f"{key} = {texts[0] if len(texts) == 1 else tuple_text(texts)}")
        self._into_group(slots, groups, key, group)

    def _set_keys(self, body: R.Select) -> list[str]:
        """With grouping sets: the key of a row in each of them, with the number of the set behind it."""
        names = []
        for key in body.keys[:-1]:
            names.append(self.function.temp("k"))
            self.function.line(f"{names[-1]} = {self.value(key)}")
        return [
            tuple_text([*(name if n in chosen else "None" for n, name in enumerate(names)), str(number)])
            for number, chosen in enumerate(body.sets)
        ]

    def _into_group(self, slots: list[Any], groups: str, key: str, group: str) -> None:
        line = self.function.line
        if not slots:
            line(f"{groups}[{key}] = True")
            return
        line(f"{group} = {groups}.get({key})")
        line(f"if {group} is None: {group} = {groups}[{key}] = {self._empty_group(slots)}")
        self._add_to_lists(slots, [f"{group}[{number}].append" for number in range(len(slots))])

    def _add_to_lists(self, slots: list[Any], adds: list[str]) -> None:
        """Add what the set functions take from a row; `adds` are the texts of the lists' append."""
        line, function = self.function.line, self.function
        for add, (taken, where) in zip(adds, slots, strict=True):

            def append(add: str = add, taken: tuple[R.Expr | None, ...] = taken) -> None:
                argument = taken[0]
                if argument is None:
                    line(f"{add}(1)")
                elif len(taken) > 1:
                    self._append_several(add, taken)
                elif argument.nullable:
                    value = function.temp("v")
                    line(f"if ({value} := {self.value(argument)}) is not None: {add}({value})")
                else:
                    line(f"{add}({self.value(argument)})")

            self._when(conjuncts(where), append)

    def _append_several(self, add: str, taken: tuple[R.Expr | None, ...]) -> None:
        """A value with its sort keys, or two values of which none may be NULL."""
        names = [self.function.temp("v") for _ in taken]
        for name, e in zip(names, taken, strict=True):
            assert e is not None
            self.function.line(f"{name} = {self.value(e)}")
        tested = [n for n, e in zip(names, taken, strict=True) if isinstance(e, R.Expr) and e.nullable]
        if isinstance(taken[-1], Ordered):
            tested = [] if taken[-1].keeps_null else [n for n in tested if n == names[0]]
        tests = " and ".join(f"{n} is not None" for n in tested)
        self.function.line(f"{f'if {tests}: ' if tests else ''}{add}({tuple_text(names)})")

    def _aggregate(self, a: R.Aggregate, values: str) -> str:
        """Text of a set function over the list of its values, which holds no NULL."""
        if a.function in F.ORDERED:
            return self._ordered(a, values)
        if a.more:
            return f"regression({'set(' if a.distinct else ''}{values}{')' if a.distinct else ''}, {a.function!r})"
        if a.function in F.STATISTICS:
            return f"spread({f'list(set({values}))' if a.distinct else values}, {a.function!r})"
        items = f"set({values})" if a.distinct else values
        if a.function == "count":
            return f"len({items})"
        assert a.argument is not None
        text = {
            "min": f"min({values})",
            "max": f"max({values})",
            "every": f"all({values})",
            "any": f"any({values})",
            "any_value": f"{values}[0]",
        }.get(a.function)
        if text is None:
            text = self._sum_or_average(a, items)
        return f"({text} if {values} else None)"

    def _ordered(self, a: R.Aggregate, values: str) -> str:
        """A set function whose values come in an order."""
        keys = tuple((n + 1, descending, first) for n, (_, descending, first) in enumerate(a.order))
        sorted_ = f"ordered({values}, {self.unit.constant(keys, 'ORDER')}, {a.distinct})"
        if a.function == "array_agg":
            text = f"tuple({sorted_})"
        elif a.function == "listagg":
            separator, overflow = a.fixed
            text = f"listagg({sorted_}, {self.unit.constant(separator, 'K')}, {self.unit.constant(overflow, 'K')})"
        else:
            fraction = self.unit.constant(a.fixed[0], "K")
            text = f"percentile({sorted_}, {fraction}, {a.function == 'percentile_cont'})"
        return f"({text} if {values} else None)"

    def _sum_or_average(self, a: R.Aggregate, items: str) -> str:
        assert a.argument is not None
        type_ = self.type(a.type)
        if a.type.family == "approximate":
            total = f"check_float(sum({items}))"
            return total if a.function == "sum" else f"{total} / len({items})"
        if a.type.family in ("months", "micros"):
            return f"sum({items})" if a.function == "sum" else f"average(list({items}), 0)"
        if a.function == "sum":
            return f"check_{'integer' if a.type.is_integer else 'decimal'}(sum({items}), {type_})"
        shift = a.type.scale - (a.argument.type.scale if a.argument.type.kind == "decimal" else 0)
        return f"average(list({items}), {shift})"


class WholeRow(R.Expr):
    """A whole row of a base table, with its row id; carried along by FOR UPDATE."""

    source: int


def _inputs(window: R.WindowCall) -> list[R.Expr]:
    """Everything a window function reads from a row."""
    ends = [e for _, e in (window.start, window.end) if e is not None]
    where = [window.where] if window.where is not None else []
    return [*window.arguments, *where, *window.partition, *(e for e, _, _ in window.order), *ends]


def _specification(window: R.WindowCall, place: dict[R.Expr, int]) -> WindowSpecification:
    """A window for `window_values`: positions in the collected rows instead of expressions."""

    def end(bound: tuple[str, R.Expr | None]) -> tuple[str, int]:
        return bound[0], place[bound[1]] if bound[1] is not None else -1

    return WindowSpecification(
        window.function,
        tuple(place[a] for a in window.arguments),
        place[window.where] if window.where is not None else -1,
        tuple(place[p] for p in window.partition),
        tuple((place[e], descending, first) for e, descending, first in window.order),
        window.unit,
        end(window.start),
        end(window.end),
        window.type,
        window.arguments[0].type if window.arguments else window.type,
        window.exclude,
        window.ignore_nulls,
        window.from_last,
    )


class Ordered(R.Expr):
    """Stands at the end of the slot of an ordered set function; it is no value, but says whether NULLs count."""

    keeps_null: bool


Slot = tuple[tuple[R.Expr | None, ...], R.Expr | None]


def _slot(a: R.Aggregate) -> Slot:
    """What a set function takes from each row, and from which rows."""
    taken: tuple[R.Expr | None, ...] = (a.argument, *a.more, *(e for e, _, _ in a.order))
    if a.function in F.ORDERED:
        taken = (*taken, Ordered(T.NULL, False, a.function == "array_agg"))
    return taken, a.where


def _slots(body: R.Select) -> list[Slot]:
    """The different things that the set functions of a query take."""
    return list(dict.fromkeys(_slot(a) for a in body.aggregates))


def _nulls(relation: R.Relation) -> Any:
    """A row of NULLs; in the shape of the pattern for a join."""
    if isinstance(relation, R.JoinRows):
        return (_nulls(relation.left), _nulls(relation.right))
    if isinstance(relation, R.Scan):
        return (None,) * (len(relation.table.columns) + 1)
    if isinstance(relation, R.Derived):
        return (None,) * len(relation.query.columns)
    if isinstance(relation, R.CallRows):
        return (None,) * len(relation.routine.table)
    if isinstance(relation, R.SystemRows):
        return (None,) * len(relation.view.columns)
    if isinstance(relation, R.UnnestRows):
        return (None,) * (sum(abs(w) for w in relation.widths) + relation.ordinality)
    if isinstance(relation, R.ChangedRows):
        return (None,) * (len(relation.table.columns) + 1)
    assert isinstance(relation, R.CommonRows | R.TransitionRows)
    return (None,) * relation.width
