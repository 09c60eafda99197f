"""Lines of generated Python: functions of one unit, their constants, and the span of SQL behind every line."""

from __future__ import annotations

import math
import warnings
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import lru_cache, partial
from itertools import repeat
from types import CodeType
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.outcomes.coverage import Coverage
from glimb.engine.storage.indexes import Bounds
from glimb.engine.storage.table import Table
from glimb.engine.values import compared_with_queries, conditions, conversion, library, patterns, window_frames
from glimb.engine.values.conditions import Condition
from glimb.engine.values.origins import GeneratedCode
from glimb.lang.node import Node
from glimb.lang.source import NOWHERE, Source, Span
from glimb.store import in_use

RUNTIME: dict[str, Any] = {
    **{
        n: v
        for m in (conversion, library, compared_with_queries, patterns, conditions, window_frames)
        for n, v in vars(m).items()
        if callable(v)
    },
    "math": math,
    "partial": partial,
    "repeat": repeat,
    "Bounds": Bounds,
    "NO_ROWS": library.NO_ROWS,
}
BLOCKS = {"while": 1, "for": 1, "try:": 1, "finally:": 1, "except": 2}
MAX_INDENT = 90
MAX_LINE = 100
MOST_TEXT = 20_000_000
MOST_FUNCTIONS = 20_000
"""What Python's compiler is given at most, which cannot be stopped in the middle."""


def tuple_text(texts: Sequence[str]) -> str:
    """A tuple display."""
    return f"({', '.join(texts)}{',' if len(texts) == 1 else ''})"


class Atom(str):
    """A text that may be written twice at no cost: a name, a literal, a column of a row."""

    __slots__ = ()


class NullTest(str):
    """`operand is None`, which can be turned round."""

    __slots__ = ("operand",)
    operand: str

    def __new__(cls, operand: str) -> NullTest:
        made = super().__new__(cls, f"{operand} is None")
        made.operand = operand
        return made

    @property
    def turned(self) -> str:
        return f"{self.operand} is not None"


class Unit:
    """One piece of generated code: a top-level statement, a routine, or the checks of a table."""

    def __init__(
        self,
        title: str,
        source: Source,
        routine: str,
        write_query: Callable[..., tuple[str, list[R.Expr]]],
        write_change: Callable[[Unit, R.Stmt], tuple[str, list[R.Expr]]],
    ) -> None:
        self.write_query, self.write_change = write_query, write_change
        """How a query within an expression, and a change within a query, become functions: what writes expressions
        stands below what writes those."""
        self.title = title
        self.source = source
        self.routine = routine
        self.recording = False
        self.coverage: Coverage | None = None
        """Where the covered form counts; `is_counted` says that its statements belong to something that is stored."""
        self.is_counted = False
        self.warns = False
        """Whether set functions say that they have left NULLs out (01003)."""
        self.plain = False
        """Whether queries are written as they stand: nested loops over scans, nothing remembered, nothing cut short."""
        self.plan: Any = None
        """Of EXPLAIN: the plan that takes a line for every step (see `plans`)."""
        self.waymarks: list[tuple[Span, str]] = []
        """What stands behind which waymark (see `waymarks_of`)."""
        self.functions: list[Function] = []
        self.names: dict[str, Any] = {}
        """What every unit may name at run time."""
        self.constants: dict[str, Any] = {}
        """Objects of this one, numbered as they were needed."""
        self._names: dict[tuple[type, Any], Atom] = {}

    def constant(self, value: Any, hint: str) -> Atom:
        """The name under which generated code reaches an object."""
        key = (type(value), id(value) if isinstance(value, Node) else value)  # what nodes hold is not gone through
        try:
            known = self._names.get(key)
        except TypeError:
            key = (type(value), id(value))
            known = self._names.get(key)
        if known is None:
            known = self._names[key] = Atom(f"{hint}{len(self.constants) + 1}")
            self.constants[known] = value
        return known

    def owns(self, source: Source, span: Span) -> bool:
        """Whether a place lies in what this unit is made of, not in a view or a CHECK that it uses."""
        own = self.functions[0].span
        return source is self.source and own.start <= span.start < own.end

    def table(self, table: Table) -> str:
        """Python text of a table; of a temporary one, that of the session."""
        name = self.constant(table, "T")
        return f"s.private({name})" if table.temporary else name

    def function(self, hint: str, parameters: list[str], span: Span) -> Function:
        """A new function; its parameters may still grow while it is written."""
        if len(self.functions) > MOST_FUNCTIONS:
            raise Condition("54001", "the statement is too complex to compile")
        function = Function(self, f"{hint}{len(self.functions) + 1}", parameters, span)
        self.functions.append(function)
        return function

    def text(self) -> tuple[str, list[Span]]:
        """The whole source, and the span behind each line."""
        lines: list[str] = []
        spans: list[Span] = []
        for function in self.functions:
            for depth, text, span in function.assembled():
                lines.append("    " * depth + text)
                spans.append(span)
            lines += ["", ""]
            spans += [function.span, function.span]
        return "\n".join(lines).rstrip("\n") + "\n", spans

    def compile(self) -> tuple[dict[str, Any], GeneratedCode]:
        """Run the source; gives its namespace."""
        code = self.code()
        return loaded(code, self.names), code

    def code(self) -> GeneratedCode:
        """The source, and what it names."""
        text, spans = self.text()
        if len(text) > MOST_TEXT:
            raise Condition("54001", f"the statement is too complex to compile: {len(text):,} characters of Python")
        code = GeneratedCode(self.title, self.routine, self.source, text, spans, self.constants)
        code.waymarks = self.waymarks
        return code


def loaded(code: GeneratedCode, names: dict[str, Any]) -> dict[str, Any]:
    """The namespace in which code has run, with what all units may name. What Python cannot compile is 54001."""
    namespace = {**RUNTIME, **names, **code.constants, "SPANS": code.spans}
    try:
        exec(_compiled(code.filename, code.text), namespace)
    except (SyntaxError, RecursionError, MemoryError) as error:
        if isinstance(error, SyntaxError) and "nested" not in str(error) and "indent" not in str(error):
            raise
        raise Condition("54001", f"the statement is too complex to compile ({error})") from None
    code.register(namespace)
    return namespace


def _compiled(name: str, text: str) -> CodeType:
    """A text of Python, compiled, or as it was compiled before."""
    store = in_use()
    return (
        store.code(name, text, lambda: _compiled_now(name, text)) if store is not None else _compiled_once(name, text)
    )


def _compiled_now(name: str, text: str) -> CodeType:
    """What is written by a program may look odd: Python's warnings are for those who write by hand."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return compile(text, name, "exec")


_compiled_once = lru_cache(maxsize=256)(_compiled_now)


class Function:
    """A function being written."""

    def __init__(self, unit: Unit, name: str, parameters: list[str], span: Span) -> None:
        self.unit = unit
        self.name = name
        self.parameters = parameters
        self.span = span
        self.at = span
        self.lines: list[tuple[int, str, Span]] = []
        self.depth = 1
        self.blocks = 0
        """How many of Python's blocks are open, of which a function may nest 20: loops, `try`, two for `except`."""
        self._hoist_to = (0, 1)
        self._temps = 0

    def line(self, text: str) -> None:
        """One line at the current depth; it stands for the statement at `self.at`."""
        self.lines.append((self.depth, text, self.at))

    def row(self, before: str, values: Sequence[str], after: str = ")") -> None:
        """A row of values within a call: in one line, or where that is long a line for each value."""
        text = f"{before}{tuple_text(values)}{after}"
        if len(text) <= MAX_LINE:
            self.line(text)
            return
        self.line(f"{before}(")
        for value in values:
            self.line(f"    {value},")
        self.line(f"){after}")

    @contextmanager
    def indented(self, header: str = "") -> Iterator[None]:
        """Write `header`, then the lines of the body one level deeper; an empty body gets `pass`."""
        if header:
            self.line(header)
        self.depth += 1
        if self.depth > MAX_INDENT:
            raise Condition("54001", "the statement is nested too deep to compile")
        before, outer = len(self.lines), self.blocks
        word = header.partition(" ")[0]
        self.blocks = 0 if word == "def" else outer + BLOCKS.get(word, 0)
        yield
        if len(self.lines) == before:
            self.line("pass")
        self.depth -= 1
        self.blocks = outer

    @contextmanager
    def placed(self, span: Span) -> Iterator[None]:
        """Lines written in the body stand for another statement."""
        outer, self.at = self.at, span if span != NOWHERE else self.at
        yield
        self.at = outer

    def temp(self, hint: str = "t") -> Atom:
        """A new local name."""
        self._temps += 1
        return Atom(f"{hint}{self._temps}")

    def assembled(self) -> list[tuple[int, str, Span]]:
        """All lines with the header."""
        header = f"def {self.name}({', '.join(self.parameters)}):"
        return [(0, header, self.span), *(self.lines or [(1, "pass", self.span)])]

    def placeholder(self) -> tuple[int, str, Span]:
        """A line whose text is known later (see `fill`)."""
        place = (self.depth, "pass", self.at)
        self.lines.append(place)
        return place

    def fill(self, place: tuple[int, str, Span], text: str) -> None:
        """Give a placeholder its text; without one, take it out."""
        number = next(n for n in range(len(self.lines) - 1, -1, -1) if self.lines[n] is place)
        self.lines[number : number + 1] = [(place[0], text, place[2])] if text else []

    def called(self, attribute: str) -> str:
        """What calls an attribute that is no method: by a name, since Python would look for a method first each time,
        which takes a tenth of a short call."""
        return f"({self.temp('call')} := {attribute})"

    def hoist(self, text: str) -> None:
        """A line that must come before all loops: at the start of the function, or where `hoist_here` was said."""
        at, depth = self._hoist_to
        self.lines.insert(at, (depth, text, self.at))
        self._hoist_to = (at + 1, depth)

    def hoist_here(self) -> None:
        """From now on, hoisted lines go here."""
        self._hoist_to = (len(self.lines), self.depth)
