"""Code generation for GROUP BY, set functions and windows: rows are collected, and looked at when all are there."""

from __future__ import annotations

from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Atom, tuple_text
from glimb.engine.codegen.joins import JoinWriter, Sink
from glimb.engine.resolved.relations import conjuncts, sources_of
from glimb.engine.values import signatures as F
from glimb.engine.values import types as T
from glimb.engine.values.conversion import interval_unit
from glimb.engine.values.window_frames import WindowSpecification
from glimb.lang.node import replace, walk


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


class GroupWriter(JoinWriter):
    """Writes what is done with groups of rows."""

    def body(self, body: R.Body, sink: Sink) -> None:
        """Write loops over the rows of a body, in no order."""
        raise NotImplementedError

    # -- windows

    def windowed(self, body: R.Select, sink: Sink) -> None:
        """Collect what windows and select list need of every row, compute each window over all of them, then go on."""
        function, line = self.function, self.function.line
        own = {body.group_source} if body.grouped else sources_of(body.relation) if body.relation else set()
        columns = tuple(dict.fromkeys(n for n in walk(body.items) if isinstance(n, R.Column) and n.source in own))
        inputs = tuple(dict.fromkeys(e for w in body.windows for e in _inputs(w)))
        inner = replace(body, items=(*columns, *inputs), windows=(), distinct=False)
        rows, row = function.temp("rows"), function.temp("row")
        line(f"{rows} = []")
        self.body(inner, lambda texts: function.row(f"{rows}.append(", texts))
        results: list[str] = [function.temp("w") for _ in body.windows]
        place = {e: len(columns) + n for n, e in enumerate(inputs)}
        for name, window in zip(results, body.windows, strict=True):
            window_ = self.unit.constant(_specification(window, place), "WINDOW")
            line(f"{name} = window_values({rows}, {window_}, s.watch)")
        with function.indented(f"for {row}, {', '.join(results)} in zip({rows}, {', '.join(results)}):"):
            for source in own:
                width = max((c.index for c in columns if c.source == source), default=-1) + 1
                texts = ["None"] * width
                for number, column in enumerate(columns):
                    if column.source == source:
                        texts[column.index] = Atom(f"{row}[{number}]")
                self.columns[source] = texts
            self.columns[body.window_source] = results
            sink(self.row_values(body.items))

    # -- grouping

    def grouped(self, body: R.Select, sink: Sink) -> None:
        slots = _slots(body)
        counted = not body.keys and slots == [((None,), None)]
        at_once = self.counted_rows(body) if counted else None
        if at_once is not None:
            self._group_done(body, sink, [], [at_once])
            return
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
            keys: list[str] = [key] if single else [Atom(f"{key}[{i}]") for i in range(len(body.keys))]
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
        names: list[str] = [self.function.temp("add") for _ in slots]
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
                    if self.unit.warns:
                        line("else: s.diagnostics.warn_once(d, '01003', 'a set function has left NULLs out')")
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
            return f"sum({items})" if a.function == "sum" else f"average(list({items}), 0, {interval_unit(a.type)})"
        if a.function == "sum":
            return f"check_{'integer' if a.type.is_integer else 'decimal'}(sum({items}), {type_})"
        shift = a.type.scale - (a.argument.type.scale if a.argument.type.kind == "decimal" else 0)
        return f"average(list({items}), {shift}, 1)"


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
        any(e is not None and e.type.kind == "months" for _, e in (window.start, window.end)),
    )
