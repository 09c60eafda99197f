"""Code generation for FROM and WHERE: the steps of a plan as nested loops, look-ups, hash tables and outer joins.

Long on purpose: each step of a plan is a few closures over the function being written; parted, they would hand it and
the names of its rows to each other at every step.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Atom, tuple_text
from glimb.engine.codegen.expressions import PYTHON_SIGNS, ExpressionWriter, may_raise
from glimb.engine.planning.explain import describe
from glimb.engine.planning.planner import TURNED, Access, Plan, Step, equal_sides, plan
from glimb.engine.resolved.relations import conjuncts, names, sources_of
from glimb.engine.values import types as T
from glimb.lang.node import holds, replace, walk

Sink = Callable[[list[str]], None]
SIMPLE = R.Compare | R.And | R.Or | R.Not | R.IsNull | R.Column | R.Const | R.Variable
"""Of what conditions are made that need nothing but the row and values that stand."""


class JoinWriter(ExpressionWriter):
    """Writes the loops of a query."""

    key_texts: Mapping[R.Expr, str] = MappingProxyType({})
    """For the covered form: the locals that hold what is looked for."""
    volatile = again = False
    changing: Mapping[int, tuple[Any, ...]] = MappingProxyType({})
    """Row sources whose rows are to be changed or locked: mode, how long to wait, whether to skip."""

    def rows(self, query: R.Query, at_top: bool = False) -> str:
        """Write code that collects all rows of a query in a list; gives the name of the list."""
        raise NotImplementedError

    def each(self, query: R.Query, sink: Sink) -> None:
        """Write loops that call the sink's code for every row of a query."""
        raise NotImplementedError

    def is_plain(self, query: R.Query) -> bool:
        """Whether the rows of a query can be handed on as they come."""
        raise NotImplementedError

    def loops(self, relation: R.Relation | None, where: R.Expr | None, inside: Callable[[], None]) -> None:
        """Loops over a relation with its conditions; `inside` writes what is done for every row."""
        if relation is None:
            self._when(conjuncts(where), inside)
            return
        planned: Plan = plan(relation, where, self.unit.plain, self.again, self.unit.coverage is None)
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

    def counted_rows(self, body: R.Select) -> str | None:
        """Text of the number of rows of one scan with simple conditions: counting in one expression is faster than a
        loop. None for everything else."""
        relation, conditions = body.relation, conjuncts(body.where)
        if not isinstance(relation, R.Scan) or self.unit.plan is not None or self.unit.plain or self.volatile:
            return None
        if not all(isinstance(n, SIMPLE) for c in conditions for n in walk(c)):
            return None
        planned = plan(relation, body.where, False, self.again)
        if planned.before or planned.steps[0].access.kind != "scan":
            return None
        rows, pattern = self._rows_of(relation), self._pattern(relation)
        tests = f" if {' and '.join(self.true(c) for c in conditions)}" if conditions else ""
        return f"len([1 for {pattern} in {rows}{tests}])"

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
        if step.access.kind == "either":
            found = self._either(step)
            pattern = self._pattern(step.relation)
            return lambda inside: self._loop(pattern, found(), inside)
        if step.access.kind == "hash":
            table = self._hash_table(step)
            pattern = self._pattern(step.relation)
            return lambda inside: self._loop(pattern, self._found(step, f"{table}.get({{}}, ())", table), inside)
        return self._prepare_scan(step.relation, first)

    def _loop(self, pattern: str, iterable: str, inside: Callable[[], None]) -> None:
        with self.function.indented(f"for {pattern} in {iterable}:"):
            inside()

    def _prepare_scan(self, relation: R.Relation, first: bool) -> Callable[[Callable[[], None]], None]:
        if isinstance(relation, R.Derived) and relation.lateral and not first and self._is_sought(relation):
            return lambda inside: self._loop(self._pattern(relation), self._rows_again(relation), inside)
        if isinstance(relation, R.Derived) and (first or relation.lateral):
            return lambda inside: self._through(relation, inside)
        if isinstance(relation, R.CallRows | R.UnnestRows):
            return lambda inside: self._loop(self._pattern(relation), self._rows_of(relation), inside)
        iterable = self._rows_of(relation)
        pattern = self._pattern(relation)
        return lambda inside: self._loop(pattern, iterable, inside)

    def _is_sought(self, relation: R.Derived) -> bool:
        """Whether the rows of a lateral table are looked for in tables, again and again: a function of its own keeps
        hash tables."""
        if self.unit.plain or self.unit.plan is not None or self.unit.coverage is not None or self.changing:
            return False
        return holds(relation.query, R.Scan)

    def _rows_again(self, relation: R.Derived) -> str:
        """Text of these rows for the row before. They are not remembered: they may be many for each."""
        return self._query_call(*self._query_function(relation.query, "rows", relation.query.span), remembers=False)

    def _either(self, step: Step) -> Callable[[], str]:
        """Hash tables and indexes for the sides of an OR; text of the rows that any of them has, each once, as they
        would come in a scan."""
        ways = [self._way(step, way) for way in step.access.ways]

        def found() -> str:
            looks = [way() for way in ways]
            if len(looks) > 2:
                return f"either_rows({', '.join(looks)})"
            one, other = self.function.temp("rows"), self.function.temp("rows")
            self.function.line(f"{one} = {looks[0]}")
            self.function.line(f"{other} = {looks[1]}")
            return f"either_rows({one}, {other}) if {one} and {other} else {one} or {other}"

        return found

    def _way(self, step: Step, access: Access) -> Callable[[], str]:
        """Text of the rows that one side of an OR finds."""
        if access.kind == "hash" or self.volatile:  # what is called may change the rows meanwhile
            table = self._hash_table(replace(step, access=replace(access, kind="hash"), local=()))
            return lambda: f"{table}.get({self._key(access.keys)()}, NO_ROWS)"
        assert isinstance(step.relation, R.Scan)
        look_up, row = self._look_up(step.relation, access.number), self.function.temp("row")
        return lambda: f"NO_ROWS if ({row} := {look_up}({self._key(access.keys)()})) is None else ({row},)"

    def _through(self, relation: R.Derived, inside: Callable[[], None]) -> None:
        """Hand the rows of a derived table on as they come."""

        def sink(texts: list[str]) -> None:
            names: list[str] = []
            for text in texts:
                if isinstance(text, Atom):
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

        def write(inside: Callable[[], None]) -> None:
            if index.unique:
                self.function.line(f"{row} = {look_up}({self._key_once(step)})")
                self._told(step, row)
                with self.function.indented(f"if {row} is not None:"):
                    inside()
            else:
                rows = self._found(step, f"{look_up}({{}}, NO_ROWS).values()")
                self._loop(row, f"list({rows})" if self.volatile else rows, inside)

        return write

    # -- conditions that are not tested row by row, for the covered form

    def _told(self, step: Step, row: str) -> None:
        """Count the conditions that an index or a range answers: one row or None has been found."""
        tests = self._tests(step)
        if tests:
            assert isinstance(step.relation, R.Scan)
            self.function.line(f"count_look_up({self.unit.table(step.relation.table)}.rows, {tests}, {row})")

    def _key_once(self, step: Step) -> str:
        """Text of the key that a step looks for; in the covered form of locals, since it is looked at again."""
        keys = step.access.keys
        if self.unit.coverage is not None and any(self.point_of(c) for c in step.met):
            self.key_texts = {**self.key_texts, **{k: self.function.temp("key") for k in keys}}
            for k in keys:
                self.function.line(f"{self.key_texts[k]} = {self.value(k)}")
            texts = [self.key_texts[k] for k in keys]
            return texts[0] if len(keys) == 1 else tuple_text(texts)
        return self._key(keys)()

    def _found(self, step: Step, look: str, table: str = "") -> str:
        """The rows that an index or hash table gives (`{}` in how it is asked is the key), with the conditions counted
        that they meet."""
        rows = look.format(self._key_once(step))
        tests = self._tests(step)
        if not tests:
            return rows
        if table:
            return f"count_bucket({table}, {tests}, {rows})"
        assert isinstance(step.relation, R.Scan)
        return f"count_rows({self.unit.table(step.relation.table)}.rows, {tests}, {rows})"

    def _tests(self, step: Step) -> str:
        """Text of the conditions that a step answers, each with the position of its column (-1 where it is none), how
        it is compared, with what, and where it is counted."""
        mine = sources_of(step.relation)
        tests = [] if step.access.kind == "range" else [self._test(c, mine, True) for c in step.met]
        if step.access.kind == "range":
            tests = [self._test(c, mine, False) for c in step.after]
            # The rows that a range passes by are looked at there; it may give some that do not belong to it.
            self.told |= {id(c) for c, test in zip(step.after, tests, strict=True) if test}
        told = [test for test in tests if test]
        return tuple_text(told) if told else ""

    def _test(self, c: R.Expr, mine: set[int], is_met: bool) -> str:
        point = self.point_of(c)
        if point is None or not isinstance(c, R.Compare):
            return ""
        turned = not names(c.left) & mine
        own, other = (c.right, c.left) if turned else (c.left, c.right)
        text = self.key_texts.get(other) if is_met else None  # what another step looked for may not be known here
        if names(other) & mine or (text is None and may_raise(other)) or not (is_met or isinstance(own, R.Column)):
            return ""
        column = own.index if isinstance(own, R.Column) else -1
        sign = PYTHON_SIGNS[TURNED[c.sign] if turned else c.sign]
        is_true = is_met and not (c.place is not None and c.place.part)
        return f"({column}, {sign!r}, {text or self.value(other)}, {self.unit.constant(point, 'POINT')}, {is_true})"

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
            self._told(step, "True")
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
        name, free = self.unit.write_change(self.unit, relation.statement)
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
        self.function.line(f"s.budget.measure({out})")
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
        if access.kind == "index":
            assert isinstance(relation, R.Scan)
            pattern = self._pattern(relation)
            look_up = self._look_up(relation, access.number)
            if relation.table.indexes[access.number].unique:
                return lambda inside: self._left_unique(step, pattern, look_up, inside)
            look = f"{look_up}({{}}, NO_ROWS).values()"
            return lambda inside: self._left_loop(step, pattern, self._found(step, look), inside)
        if access.kind == "either":
            either = self._either(step)
            pattern = self._pattern(relation)
            return lambda inside: self._left_loop(step, pattern, either(), inside)
        if access.kind == "hash":
            table = self._hash_table(step)
            pattern = self._pattern(relation)
            found = f"{table}.get({{}}, ())"
            return lambda inside: self._left_loop(step, pattern, self._found(step, found, table), inside)
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

    def _left_unique(self, step: Step, row: str, look_up: str, inside: Callable[[], None]) -> None:
        nulls = self._null_row(step.relation)
        self.function.line(f"{row} = {look_up}({self._key_once(step)}, {nulls})")
        self._told(step, f"{row} if {row} is not {nulls} else None")
        if step.match:
            with self.function.indented(
                f"if {row} is not {nulls} and not ({' and '.join(self.true(c) for c in step.match)}):"
            ):
                self.function.line(f"{row} = {nulls}")
        inside()

    def _left_loop(self, step: Step, pattern: str, iterable: str, inside: Callable[[], None]) -> None:
        """The matching rows, or one of NULLs where there is none. What is not tested here is false when it is empty, as
        no iterator is."""
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
        if sides and not self.unit.plain and self.unit.coverage is None:
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
