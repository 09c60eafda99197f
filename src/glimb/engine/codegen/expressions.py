"""Expressions as Python text, in three forms: the value (None is NULL), whether it is true, whether it is false.

A condition is written in the second form, so that most three-valued logic costs no more than Python's own: `a < b`
over columns that may be NULL becomes `(a is not None and b is not None and a < b)`.

Long on purpose: a method for each kind of expression, in the order of the resolved tree, over one state; those who
write joins, groups and queries are expressions' writers too, since each of these holds expressions and is held by
one.
"""

from __future__ import annotations

from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Atom, Function, NullTest
from glimb.engine.codegen.operations import QUIET, template_of
from glimb.engine.outcomes.coverage import ARM, CONDITION, Point
from glimb.engine.resolved.relations import is_volatile
from glimb.engine.values.types import Type
from glimb.lang.node import holds, replace, walk
from glimb.lang.source import NOWHERE, Span

PYTHON_SIGNS = {"=": "==", "<>": "!=", "<": "<", "<=": "<=", ">": ">", ">=": ">="}
OPPOSITE = {"=": "<>", "<>": "=", "<": ">=", "<=": ">", ">": "<=", ">=": "<"}
SMALL = 1_073_741_823


def may_raise(e: R.Expr) -> bool:
    """Whether computing a value may have an effect or raise a condition."""
    return any(
        isinstance(n, R.RoutineCall | R.NextValue | R.Checked | R.Convert | R.InDomain | R.Query | R.Loose)
        or (isinstance(n, R.Arith) and n.sign == "/")
        or (isinstance(n, R.Strict) and n.operation not in QUIET)
        for n in walk(e)
    )


def turned(test: str) -> str:
    """The opposite of a test."""
    return test.turned if isinstance(test, NullTest) else f"not {test}"


class ExpressionWriter:
    """Writes expressions into one function. `columns` gives the Python text of the columns of each row source that
    is in reach: the name of a row, or one text a column. What is not in reach becomes a parameter (`free`)."""

    def __init__(self, function: Function, inside_query: bool) -> None:
        self.function = function
        self.unit = function.unit
        self.columns: dict[int, str | list[str]] = {}
        self.locals: set[str] = set()
        self.shared: dict[int, str] = {}
        self.free: dict[R.Expr, str] = {}
        self.drawn: dict[int, str] = {}
        """Of the row that is being written: the local of a sequence's next value, by the identity of the sequence."""
        self._within: Span | None = None
        """Of the condition that is written and counted: its place, at which nothing else is counted."""
        self.told: set[int] = set()
        """Conditions that are counted elsewhere where they are not true, by identity."""
        self.inside_query = inside_query
        self.not_null: set[str] = set()
        """Variables that are known not to be NULL at this place."""

    def nullable(self, e: R.Expr) -> bool:
        """Whether a value may be NULL here."""
        if not e.nullable or not self.not_null:
            return e.nullable
        if isinstance(e, R.Variable):
            return e.local not in self.not_null
        if isinstance(e, R.Arith | R.Compare):
            return self.nullable(e.left) or self.nullable(e.right)
        if isinstance(e, R.Checked | R.Convert):
            return self.nullable(e.operand)
        return any(self.nullable(a) for a in e.arguments) if isinstance(e, R.Strict) else True

    # -- values

    def value(self, e: R.Expr) -> str:
        """Python text of the value."""
        e = self._whole(e)
        counted = self._counted(e) if e.place is not None else None
        if counted is None:
            return self.value_plain(e)
        sides, inner, is_known = counted
        if is_known:
            return f"({sides[0]} > 0 if {inner} else {sides[1]} < 0)"
        temp = self.function.temp()
        unknown = f"None if {temp} is None and {sides[2]}"
        return f"({sides[0]} > 0 if ({temp} := {inner}) else {unknown} else {sides[1]} < 0)"

    def value_plain(self, e: R.Expr) -> str:
        """The same, not counted."""
        handler = _VALUES.get(type(e))
        if handler is not None:
            text: str = handler(self, e)
            return text
        if not e.nullable:
            return self.true(e)
        return self._three_valued(e)

    def const(self, e: R.Const) -> str:
        value = e.value
        if value is None or isinstance(value, bool) or (isinstance(value, int) and abs(value) < 1 << 64):
            is_negative = isinstance(value, int) and not isinstance(value, bool) and value < 0
            return Atom(f"({value})" if is_negative else repr(value))
        return self.unit.constant(value, "K")

    def column(self, e: R.Column) -> str:
        row = self.columns.get(e.source)
        if row is None:
            return self._free(e)
        return Atom(f"{row}[{e.index}]") if isinstance(row, str) else row[e.index]

    def variable(self, e: R.Variable) -> str:
        if not self.inside_query or e.local in self.locals:
            return Atom(e.local)
        return self._free(e)

    def shared_value(self, e: R.Shared) -> str:
        return self.shared[e.number] if e.number in self.shared else self._free(e)

    def _free(self, e: R.Expr) -> str:
        """Something from outside this function: it comes in as a parameter."""
        name = self.free.get(e)
        if name is None:
            name = Atom(e.local if isinstance(e, R.Variable) else f"o{len(self.free) + 1}")
            self.free[e] = name
            self.function.parameters.append(name)
        return name

    def let(self, e: R.Let) -> str:
        temp = self.function.temp()
        value = self.value(e.value)
        self.shared[e.number] = temp
        return f"(({temp} := {value}), {self.value(e.body)})[1]"

    def type(self, type_: Type) -> str:
        return self.unit.constant(type_, "TYPE_")

    def guarded(self, arguments: tuple[R.Expr, ...]) -> tuple[list[str], list[str]]:
        """Texts of the arguments and the NULL tests to make before they are used. A test computes its argument where
        that is more than a name. Arguments are evaluated in the order written, all of them where one has an effect or
        may raise a condition: a NULL in another one does not keep it from being computed."""
        texts: list[str] = []
        tests: list[str] = []
        eager = self._is_kept_back(arguments)
        for argument in arguments:
            text = self.value(argument)
            if self.nullable(argument) or (eager and not isinstance(text, Atom)):
                if isinstance(text, Atom):
                    tests.append(NullTest(text))
                else:
                    temp = self.function.temp()
                    tests.append(NullTest(f"({temp} := {text})"))
                    text = temp
            texts.append(text)
        return texts, [f"({' | '.join(f'({t})' for t in tests)})"] if eager else tests

    def _is_kept_back(self, arguments: tuple[R.Expr, ...]) -> bool:
        """Whether a NULL test could keep an argument from raising its condition: of an earlier argument, or of a later
        one where it has no test of its own, in which it would be computed."""
        nullable = [self.nullable(a) for a in arguments]
        if not any(nullable):
            return False
        return any(
            (any(nullable[:at]) or (not nullable[at] and any(nullable[at:]))) and may_raise(argument)
            for at, argument in enumerate(arguments)
        )

    def strict(self, arguments: tuple[R.Expr, ...], code: str) -> str:
        """`code` over the arguments, NULL when one of them is."""
        if code == "{0}":
            return self.value(arguments[0])
        texts, tests = self.guarded(arguments)
        if code.count("{0}") > 1 and texts and not isinstance(texts[0], Atom):
            temp = self.function.temp()
            code = f"(({temp} := {{0}}), {code.replace('{0}', temp)})[1]"
        filled = code
        for number, text in enumerate(texts):
            filled = filled.replace(f"{{{number}}}", text)
        return f"(None if {' or '.join(tests)} else {filled})" if tests else filled

    def loose(self, e: R.Loose) -> str:
        text = template_of(e.operation, len(e.arguments), e.constants)
        for number, argument in enumerate(e.arguments):
            text = text.replace(f"{{{number}}}", self.value(argument))
        return text

    def row_value(self, e: R.Tuple) -> str:
        return f"({''.join(f'{self.value(i)}, ' for i in e.items)})"

    def in_domain(self, e: R.InDomain) -> str:
        temp = self.function.temp()
        value = self.value(e.operand)
        self.shared[e.number] = temp
        checks = "".join(
            f"outside_domain({temp}, {self.unit.constant(name, 'K')}) if {self.false(c)} else " for name, c in e.checks
        )
        return f"(({temp} := {value}), {checks}{temp})[1]"

    def array_query(self, e: R.ArrayQuery) -> str:
        return f"tuple({self.query_call(e.query, 'column', e.span)})"

    def unique_query(self, e: R.UniqueQuery) -> str:
        return f"is_unique({self.query_call(e.query, 'rows', e.span)}, {e.distinct})"

    def strict_call(self, e: R.Strict) -> str:
        text = self.strict(e.arguments, template_of(e.operation, len(e.arguments), e.constants))
        return Atom(text) if e.operation == "part" and not self.nullable(e.arguments[0]) else text

    def arith(self, e: R.Arith) -> str:
        if e.sign == "/":
            return self.strict((e.left, e.right), "divide({0}, {1})")
        if not self.nullable(e) and isinstance(e.left, R.Arith) and e.left.sign == e.sign and e.sign in "+*":
            return f"({f' {e.sign} '.join(self._chain(e))})"
        return self.strict((e.left, e.right), f"({{0}} {e.sign} {{1}})")

    def _chain(self, e: R.Expr, sign: str = "") -> list[str]:
        """The parts of a sum or product in which nothing is NULL, without parentheses between them."""
        if isinstance(e, R.Arith) and (not sign or (e.sign == sign and not self.nullable(e))):
            return [*self._chain(e.left, e.sign), self.value(e.right)]
        return [self.value(e)]

    def checked(self, e: R.Checked) -> str:
        temp, operand = self.function.temp(), e.operand
        call = f"check_{'integer' if e.type.is_integer else 'decimal'}"
        limit = min(e.type.limit - 1, SMALL)
        check = f"{call}({temp}, {self.type(e.type)}{self.what(e)})"
        if isinstance(operand, R.Arith) and operand.sign in "+-*" and self.nullable(operand):
            made = f"({temp} if -{limit} <= ({temp} := ({{0}} {operand.sign} {{1}})) <= {limit} else {check})"
            return self.strict((operand.left, operand.right), made)
        inner = self.value(operand)
        if self.nullable(operand):
            return f"({temp} if ({temp} := {inner}) is None or -{limit} <= {temp} <= {limit} else {check})"
        return f"({temp} if -{limit} <= ({temp} := {inner}) <= {limit} else {check})"

    def what(self, e: R.Convert | R.Checked) -> str:
        """What takes a value, as one more argument of what checks it."""
        return f", {self.unit.constant(e.what, 'WHAT')}" if e.what else ""

    def convert(self, e: R.Convert) -> str:
        source, target = e.operand.type, e.type
        call = f"convert({{0}}, {self.type(source)}, {self.type(target)}, {e.explicit})"
        if e.what:
            call = f"assigned({{0}}, {self.type(source)}, {self.type(target)}{self.what(e)})"
        elif source.is_integer and target.kind == "varchar" and target.size >= len(str(-source.limit)):
            call = "str({0})"
        if source.family == target.family == "text":
            more = ", s, d" if e.explicit else self.what(e)
            call = f"{'cut' if e.explicit else 'fit'}_text({{0}}, {self.type(target)}{more})"
        return self.strict((e.operand,), call)

    def case(self, e: R.Case) -> str:
        otherwise, *counts = reversed(self._arm_counts(e))
        text = f"{otherwise}{self.value(e.otherwise)}"
        for (condition, value), counted in zip(reversed(e.arms), counts, strict=True):
            text = f"({counted}{self.value(value)} if {self.true(condition)} else {text})"
        return text

    def _arm_counts(self, e: R.Case) -> list[str]:
        """What counts each arm of a CASE, ELSE last, where it is counted."""
        place, coverage = e.place, self.unit.coverage
        is_own = place is not None and self.unit.owns(place.source, place.span)
        if place is None or coverage is None or (is_own and not self.unit.is_counted):
            return [""] * (len(e.arms) + 1)
        points = [coverage.point(ARM, place.source, span, number) for number, span in enumerate(place.arms)]
        for point in points:
            point.owner = self.unit.routine if is_own else ""
            point.text = (
                f"{'ELSE' if point.key.number == len(e.arms) else 'WHEN'} {place.source[Span(*point.key[2:4])]}"
            )
        counts = [f"{self.unit.constant(point.counter().__next__, 'COUNT')}() and " for point in points]
        return [*counts, *[""] * (len(e.arms) + 1 - len(counts))]

    def coalesce(self, e: R.Coalesce) -> str:
        items = list(e.items)
        text = self.value(items.pop())
        for item in reversed(items):
            inner = self.value(item)
            if not item.nullable:
                text = inner
            elif isinstance(inner, Atom):
                text = f"({inner} if {inner} is not None else {text})"
            else:
                temp = self.function.temp()
                text = f"({temp} if ({temp} := {inner}) is not None else {text})"
        return text

    def next_value(self, e: R.NextValue) -> str:
        drawn = self.drawn.get(id(e.sequence))
        return drawn if drawn is not None else f"{self.unit.constant(e.sequence, 'SEQUENCE')}.draw()"

    def row_values(self, items: tuple[R.Expr, ...]) -> list[str]:
        """Python texts of the values of one row, in which a sequence gives one value, however often it stands there
        (clause 6.14)."""
        drawing = [n for item in items if holds(item, R.NextValue) for n in walk(item) if isinstance(n, R.NextValue)]
        for e in drawing:
            if sum(n.sequence is e.sequence for n in drawing) > 1 and id(e.sequence) not in self.drawn:
                temp = self.function.temp("drawn")
                self.function.line(f"{temp} = {self.next_value(e)}")
                self.drawn[id(e.sequence)] = temp
        texts = [self.value(item) for item in items]
        self.drawn.clear()
        return texts

    def routine_call(self, e: R.RoutineCall) -> str:
        routine = self.unit.constant(
            e.routine, f"R_{e.routine.short if e.routine.short.isidentifier() and e.routine.short.isascii() else ''}_"
        )
        arguments = "".join(f", {self.value(a)}" for a in e.arguments)
        if not self.inside_query:
            return f"{self.function.called(f'{routine}.{self.form}')}(s, d + 1{arguments})"
        call = self.function.temp("call")
        self.function.hoist(f"{call}, below = {routine}.{self.form}, d + 1")
        return f"{call}(s, below{arguments})"

    @property
    def form(self) -> str:
        """Which of the compiled forms of a routine to call."""
        return "recorded" if self.unit.recording else "covered" if self.unit.coverage is not None else "code"

    # -- subqueries

    def scalar_query(self, e: R.ScalarQuery) -> str:
        return self.query_call(e.query, "row" if len(e.query.columns) > 1 else "scalar", e.span)

    def exists_query(self, e: R.ExistsQuery) -> str:
        return self.query_call(e.query, "exists", e.span)

    def in_query(self, e: R.InQuery) -> str:
        found = self.query_call(e.query, "set", e.span)
        operand = ", ".join(self.value(o) for o in e.operands)
        probe = f"({operand},)" if len(e.operands) > 1 else operand
        call = f"is_in({probe}, {found})"
        return f"not3({call})" if e.negated else call

    def quantified(self, e: R.QuantifiedQuery) -> str:
        several = len(e.operands) > 1
        sign = PYTHON_SIGNS[e.sign]
        operand: str = ", ".join(self.value(o) for o in e.operands)
        again, name, free = self._query_function(e.query, "rows" if several else "column", e.span)
        if again and not free and not several:  # nothing of it hangs on the row: what decides is found once
            ask = self.function.temp("ask")
            told = f"{self.unit.constant(sign, 'SIGN')}, {e.every}"
            self.function.hoist(f"{ask} = Quantifier(lambda: {name}(s, d, {{}}), {told})")
            compared = f"{operand} {sign} {ask}.limit"
            if e.operands[0].nullable:
                value = self.function.temp("value")
                compared = f"(None if ({value} := {operand}) is None else {value} {sign} {ask}.limit)"
            return f"({compared} if {ask}.is_limit else {ask}({operand}))"
        found = self._query_call(again, name, free)
        compared = f"({operand})" if several else operand
        return f"quantified({compared}, {self.unit.constant(sign, 'SIGN')}, {e.every}, {found})"

    def query_call(self, query: R.Query, form: str, span: Span) -> str:
        """Call a function of its own that runs the query; inside a query its results are remembered by the values
        that come from outside it, unless it does more than read."""
        return self._query_call(*self._query_function(query, form, span))

    def _query_function(self, query: R.Query, form: str, span: Span) -> tuple[bool, str, list[R.Expr]]:
        """A function of its own that runs a query: whether it is run again and again, its name, what it is given."""
        again = self.inside_query and not self.unit.plain and not is_volatile(query)
        at = span if span != NOWHERE else self.function.at
        return again, *self.unit.write_query(self.unit, query, form, again, at)

    def _query_call(self, again: bool, name: str, free: list[R.Expr], remembers: bool = True) -> str:
        arguments = "".join(f", {self.value(e)}" for e in free)
        if not again:
            return f"{name}(s, d{arguments})"
        memo = self.function.temp("memo")
        self.function.hoist(f"{memo} = {{}}")
        lists = ("common", "old_rows", "new_rows", "given_rows")
        if not remembers or any(isinstance(e, R.Variable) and e.local.startswith(lists) for e in free):
            return f"{name}(s, d, {memo}{arguments})"
        return f"remembered({memo}, {name}, s, d{arguments})"

    # -- conditions

    def true(self, e: R.Expr) -> str:
        """Python text that is truthy exactly when the condition is true."""
        e = self._whole(e)
        counted = self._counted(e) if e.place is not None else None
        if counted is None:
            return self.true_plain(e)
        sides, inner, is_known = counted
        if is_known:
            return f"({sides[0]} if {inner} else not {sides[1]})"
        temp = self.function.temp()
        return f"({sides[0]} if ({temp} := {inner}) else not ({sides[2]} if {temp} is None else {sides[1]}))"

    def _whole(self, e: R.Expr) -> R.Expr:
        """For the covered form: a conjunction in which the parts of one condition are put together again, since they
        are not tested one by one here."""
        if not isinstance(e, R.And) or e.place is not None or self.unit.coverage is None:
            return e
        items: list[R.Expr] = []
        parts: list[R.Expr] = []
        for item in e.items:
            parts.append(item)
            if item.place is None or not item.place.part:
                last = R.And(item.type, any(p.nullable for p in parts), tuple(parts), place=item.place)
                items.append(last if len(parts) > 1 else item)
                parts = []
        return replace(e, items=tuple(items)) if len(items) > 1 else items[0]

    def _counted(self, e: R.Expr) -> tuple[tuple[str, str, str], str, bool] | None:
        """For the covered form, of a condition that is counted: calls that count it as true, false, unknown (each gives
        what is true), its own text, and whether that is a test, since it cannot be unknown. None for any other."""
        place, point = e.place, self.point_of(e)
        if place is None or point is None or place.span == self._within:
            return None
        is_known = not self.nullable(e)
        calls = [f"{self.unit.constant(point.counter(side).__next__, 'COUNT')}()" for side in range(3)]
        outer, self._within = self._within, place.span
        inner = self.true_plain(e) if is_known else self.value_plain(e)
        self._within = outer
        true = "True" if place.part else calls[0]
        return ((true, "True", "True") if id(e) in self.told else (true, calls[1], calls[2])), inner, is_known

    def point_of(self, e: R.Expr) -> Point | None:
        """Where a condition is counted; None where that is not asked for, or it belongs to nothing that is stored."""
        place, coverage = e.place, self.unit.coverage
        if place is None or coverage is None or place.arms:
            return None
        is_own = self.unit.owns(place.source, place.span)
        if is_own and not self.unit.is_counted:
            return None
        point = coverage.point(CONDITION, place.source, place.span)
        point.possible[2] |= self.nullable(e)
        if is_own:
            point.owner = self.unit.routine
        return point

    def true_plain(self, e: R.Expr) -> str:
        """The same, not counted."""
        handler = _CONDITIONS.get(type(e))
        if handler is not None:
            text: str = handler(self, e, True)
            return text
        value = self.value(e)
        return f"({value} is True)" if e.nullable and isinstance(value, Atom) else f"({value})"

    def false(self, e: R.Expr) -> str:
        """Python text that is truthy exactly when the condition is false."""
        e = self._whole(e)
        counted = self._counted(e) if e.place is not None else None
        if counted is None:
            return self.false_plain(e)
        sides, inner, is_known = counted
        if is_known:
            return f"(not {sides[0]} if {inner} else {sides[1]})"
        temp = self.function.temp()
        return f"(not {sides[0]} if ({temp} := {inner}) else not {sides[2]} if {temp} is None else {sides[1]})"

    def false_plain(self, e: R.Expr) -> str:
        """The same, not counted."""
        handler = _CONDITIONS.get(type(e))
        if handler is not None:
            text: str = handler(self, e, False)
            return text
        return f"({self.value(e)} is False)"

    def _three_valued(self, e: R.Expr) -> str:
        """The value of a condition that may be unknown."""
        if isinstance(e, R.Compare):
            return self.strict((e.left, e.right), f"({{0}} {PYTHON_SIGNS[e.sign]} {{1}})")
        if isinstance(e, R.Not):
            return f"not3({self.value(e.operand)})"
        if isinstance(e, R.And | R.Or):
            return self._three_valued_logic(e)
        if isinstance(e, R.Like):
            arguments = (e.operand, e.pattern) + ((e.escape,) if e.escape is not None else ())
            shown = ", ".join(f"{{{i}}}" for i in range(len(arguments)))
            return self.strict(arguments, f"{'not ' if e.negated else ''}like({shown})")
        if isinstance(e, R.InList):
            items = ", ".join(self.value(i) for i in e.items)
            call = f"is_in_list({self.value(e.operand)}, ({items},))"
            return f"not3({call})" if e.negated else call
        raise AssertionError(type(e))

    def _three_valued_logic(self, e: R.And | R.Or) -> str:
        """Left to right, stopping as soon as the result is certain."""
        decisive, other = ("False", "True") if isinstance(e, R.And) else ("True", "False")
        temps, tests = [], []
        for item in e.items:
            temp = self.function.temp()
            tests.append(f"({temp} := {self.value(item)}) is {decisive}")
            if item.nullable:
                temps.append(f"{temp} is None")
        unknown = " or ".join(temps)
        rest = f"(None if {unknown} else {other})" if unknown else other
        return f"({decisive} if {' or '.join(tests)} else {rest})"

    def _compare(self, e: R.Compare, wanted: bool) -> str:
        sign = PYTHON_SIGNS[e.sign if wanted else OPPOSITE[e.sign]]
        texts, tests = self.guarded((e.left, e.right))
        compared = f"{texts[0]} {sign} {texts[1]}"
        only_left = len(tests) == 1 and isinstance(tests[0], NullTest) and tests[0].operand == texts[0]
        if e.sign == "=" and wanted and only_left and not (isinstance(e.right, R.Const) and e.right.value is None):
            return f"({compared})"
        known = [turned(t) for t in tests]
        return f"({' and '.join([*known, compared])})"

    def _and_or(self, e: R.And | R.Or, wanted: bool) -> str:
        joiner = " and " if isinstance(e, R.And) == wanted else " or "
        write = self.true if wanted else self.false
        return f"({joiner.join(write(i) for i in e.items)})"

    def _not(self, e: R.Not, wanted: bool) -> str:
        return self.false(e.operand) if wanted else self.true(e.operand)

    def _is_null(self, e: R.IsNull, wanted: bool) -> str:
        positive = e.negated != wanted
        if isinstance(e.operand, R.Const) and e.operand.value is not None:
            return str(not positive)
        value = self.value(e.operand)
        return f"({value} is {'' if positive else 'not '}None)"

    def _is_truth(self, e: R.IsTruth, wanted: bool) -> str:
        positive = e.negated != wanted
        return f"({self.value(e.operand)} is {'' if positive else 'not '}{e.value})"

    def _is_distinct(self, e: R.IsDistinct, wanted: bool) -> str:
        distinct = e.negated != wanted
        return f"({self.value(e.left)} {'!=' if distinct else '=='} {self.value(e.right)})"

    def _in_list(self, e: R.InList, wanted: bool) -> str:
        """True form of IN over values that cannot be NULL: Python's own."""
        positive = e.negated != wanted
        constants = all(isinstance(i, R.Const) and i.value is not None for i in e.items)
        if not constants:
            value = self.value(e) if e.nullable else self._in_tuple(e)
            return f"({value} is {wanted})"
        known = frozenset(i.value for i in e.items if isinstance(i, R.Const))
        items = self.unit.constant(known, "SET")
        if positive:
            return f"({self.value(e.operand)} in {items})"
        texts, tests = self.guarded((e.operand,))
        return f"({' and '.join([*(turned(t) for t in tests), f'{texts[0]} not in {items}'])})"

    def _in_tuple(self, e: R.InList) -> str:
        items = ", ".join(self.value(i) for i in e.items)
        return f"({self.value(e.operand)} {'not ' if e.negated else ''}in ({items},))"

    def _like(self, e: R.Like, wanted: bool) -> str:
        positive = e.negated != wanted
        arguments = (e.operand, e.pattern) + ((e.escape,) if e.escape is not None else ())
        texts, tests = self.guarded(arguments)
        call = f"{'' if positive else 'not '}like({', '.join(texts)})"
        return f"({' and '.join([*(turned(t) for t in tests), call])})"

    def _exists(self, e: R.ExistsQuery, wanted: bool) -> str:
        return f"({'' if wanted else 'not '}{self.exists_query(e)})"

    def _const_condition(self, e: R.Const, wanted: bool) -> str:
        return str(e.value is wanted)

    def _let_condition(self, e: R.Let, wanted: bool) -> str:
        temp = self.function.temp()
        value = self.value(e.value)
        self.shared[e.number] = temp
        body = self.true(e.body) if wanted else self.false(e.body)
        return f"(({temp} := {value}), {body})[1]"


_VALUES: dict[type, Any] = {
    R.Const: ExpressionWriter.const,
    R.Column: ExpressionWriter.column,
    R.Variable: ExpressionWriter.variable,
    R.Shared: ExpressionWriter.shared_value,
    R.Let: ExpressionWriter.let,
    R.Strict: ExpressionWriter.strict_call,
    R.Arith: ExpressionWriter.arith,
    R.Checked: ExpressionWriter.checked,
    R.Convert: ExpressionWriter.convert,
    R.Case: ExpressionWriter.case,
    R.Coalesce: ExpressionWriter.coalesce,
    R.Loose: ExpressionWriter.loose,
    R.Tuple: ExpressionWriter.row_value,
    R.InDomain: ExpressionWriter.in_domain,
    R.ArrayQuery: ExpressionWriter.array_query,
    R.UniqueQuery: ExpressionWriter.unique_query,
    R.NextValue: ExpressionWriter.next_value,
    R.RoutineCall: ExpressionWriter.routine_call,
    R.ScalarQuery: ExpressionWriter.scalar_query,
    R.InQuery: ExpressionWriter.in_query,
    R.QuantifiedQuery: ExpressionWriter.quantified,
}
_CONDITIONS: dict[type, Any] = {
    R.Compare: ExpressionWriter._compare,
    R.And: ExpressionWriter._and_or,
    R.Or: ExpressionWriter._and_or,
    R.Not: ExpressionWriter._not,
    R.IsNull: ExpressionWriter._is_null,
    R.IsTruth: ExpressionWriter._is_truth,
    R.IsDistinct: ExpressionWriter._is_distinct,
    R.InList: ExpressionWriter._in_list,
    R.Like: ExpressionWriter._like,
    R.ExistsQuery: ExpressionWriter._exists,
    R.Const: ExpressionWriter._const_condition,
    R.Let: ExpressionWriter._let_condition,
}
