"""One expecting line, read from left to right: words, names, literals of SQL."""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import pairwise
from typing import Any, NoReturn

from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.dispatch import expression
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.resolved.queries import Const, Expr, Tuple
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import INTEGER, NULL, Type, varchar
from glimb.lang import tree
from glimb.lang.node import Record, walk
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span


class Value(Record):
    """An expected value: a literal of SQL with its type, and its text as written. `asks` says that the text is an
    expression, whose value is asked for when the statement has run; `anything` stands for any value at all."""

    value: Any
    type: Type
    text: str
    asks: bool = False
    anything: bool = False


ANYTHING = "..."


class Line:
    """Reads one expecting line from left to right."""

    def __init__(self, source: Source, text: str, start: int) -> None:
        self.source = source
        self.text = text
        self.start = start
        self.at = 0

    def fail(self, message: str, hint: str = "") -> NoReturn:
        """Raise a ProblemError at the next word."""
        start = self.start + self.at
        end = start + max(1, len(self.peek()))
        raise ProblemError(Problem("42601", message, Span(start, end), hint, self.source))

    def skip(self) -> None:
        """Go behind blanks."""
        self.at = len(self.text) - len(self.text[self.at :].lstrip())

    @property
    def rest(self) -> str:
        """What has not been read."""
        self.skip()
        return self.text[self.at :]

    def peek(self) -> str:
        """The next word."""
        return (self.rest.split(maxsplit=1) or [""])[0]

    def word(self, what: str) -> str:
        """Take the next word."""
        word = self.peek()
        if not word:
            self.fail(f"{what} is missing")
        self.at += len(word)
        return word

    def accept(self, word: str) -> bool:
        """Take a word if it comes next."""
        if self.peek().lower() == word:
            self.at += len(word)
            return True
        return False

    def name(self, what: str) -> str:
        """A name: an identifier, folded, or a delimited one."""
        rest = self.rest
        if rest.startswith('"'):
            found = re.match(_DELIMITED, rest)
            if found is None:
                self.fail("this name is not closed", 'end it with "')
            self.at += found.end()
            return found[1].replace('""', '"')
        length = 0
        while length < len(rest) and (rest[length].isalnum() or rest[length] == "_"):
            length += 1
        if not length:
            self.fail(f"{what} is missing")
        self.at += length
        return rest[:length].lower()

    def table(self) -> str:
        """The name of a table, perhaps behind that of its schema, as the catalog has it."""
        return self.dotted("the name of a table")

    def dotted(self, what: str) -> str:
        """A name, perhaps behind other names and dots; the project's own schema is left out."""
        parts = [self.name(what)]
        while self.text[self.at : self.at + 1] == ".":
            self.at += 1
            parts.append(self.name(what))
        return ".".join(parts).removeprefix(f"{DEFAULT_SCHEMA}.")

    def until(self, *stops: str) -> str:
        """The text up to a stop outside quotes and parentheses, or to the end of the line; it stays the next."""
        rest, depth, end = self.rest, 0, len(self.rest)
        for at, character in bare(rest):
            depth += (character == "(") - (character == ")")
            if depth == 0 and any(rest.startswith(stop, at) for stop in stops):
                end = at
                break
        self.at += end
        return rest[:end].strip()

    def parenthesised(self, what: str) -> str:
        """What stands in the parentheses that come next."""
        rest, depth = self.rest, 0
        if not rest.startswith("("):
            self.fail(f"{what} is missing", "in parentheses, such as (3)")
        for at, character in bare(rest):
            depth += (character == "(") - (character == ")")
            if not depth:
                self.at += at + 1
                return rest[1:at]
        self.fail("this parenthesis is not closed")

    def literal(self, *stops: str) -> Value:
        """A literal, up to a stop or to the end of the line."""
        text = self.until(*stops)
        return literal(self.source, text, self.start + self.at - len(text))

    def key(self) -> tuple[Value, ...]:
        """The literals of a key in parentheses."""
        self.skip()
        at = self.at
        return literals(self.source, self.parenthesised("the key"), self.start + at + 1)

    def number(self, what: str) -> int:
        """Take a whole number."""
        word = self.word(what)
        if not word.isdecimal() or len(word) > 9:
            self.at -= len(word)
            self.fail(f"`{word}` is not {what}")
        return int(word)

    def end(self) -> None:
        """Nothing more may stand here."""
        if self.rest:
            self.fail(f"`{self.rest[:30]}` does not belong here")


_REGULAR = r"[a-z_][a-z0-9_]*\Z"


_DELIMITED = r'"((?:[^"]|"")*)"'
NAME = rf"(?:[^\W\d]\w*|{_DELIMITED})"
"""A name, delimited or not."""


def name_text(name: str) -> str:
    """A name as `Line.name` reads it: delimited where it is no regular identifier."""
    return name if re.match(_REGULAR, name) else '"' + name.replace('"', '""') + '"'


def table_text(name: str) -> str:
    """The name of a table, as `Line.table` reads it."""
    return ".".join(map(name_text, name.split(".")))


def literal(source: Source, text: str, start: int) -> Value:
    """A literal of SQL as a value; `start` is its offset in the source."""
    plain = _plain(text)
    if plain is not None:
        return plain
    if text == ANYTHING:
        return Value(None, NULL, text, anything=True)
    try:
        node = parse_expression(Source(text))
        if any(isinstance(n, tree.HostVariable | tree.Query | tree.FunctionCall) for n in walk(node)):
            return Value(None, NULL, text, asks=True)
        bound = expression(binding_for(Catalog(), Source(text)), node)
    except ProblemError as error:
        problem = error.problems[0]
        span = Span(start + problem.span.start, start + problem.span.end)
        raise ProblemError(Problem(problem.sqlstate, problem.message, span, problem.hint, source)) from None
    except Condition as condition:
        raise ProblemError(
            Problem(condition.sqlstate, condition.message, Span(start, start + len(text)), "", source)
        ) from None
    constant = constant_of(bound)
    if constant is None:
        return Value(None, NULL, text, asks=True)
    return Value(constant.value, bound.type, text)


def _plain(text: str) -> Value | None:
    """A literal that needs no parser: a small whole number, a text without quotes in it, NULL."""
    digits = text.removeprefix("-")
    if digits.isascii() and digits.isdigit() and len(digits) < 10 and (digits == "0" or digits[0] != "0"):
        value = int(text)
        return Value(value, INTEGER, text) if abs(value) < INTEGER.limit else None
    if len(text) > 1 and text[0] == text[-1] == "'" and "'" not in text[1:-1] and "\n" not in text:
        return Value(text[1:-1], varchar(len(text) - 2), text)
    return Value(None, NULL, text) if text.upper() == "NULL" else None


def constant_of(bound: Expr) -> Const | None:
    """A constant, or an array or row of constants."""
    if isinstance(bound, Const):
        return bound
    if not isinstance(bound, Tuple):
        return None
    items = [constant_of(i) for i in bound.items]
    if any(i is None for i in items):
        return None
    return Const(bound.type, False, tuple(i.value for i in items if i is not None))


def literals(source: Source, text: str, start: int) -> tuple[Value, ...]:
    """Several literals, parted by commas."""
    return tuple(literal(source, part, start + at) for at, part in split(text, ","))


def bare(text: str) -> Iterator[tuple[int, str]]:
    """The characters of a text outside its texts and delimited names, with their places."""
    quote = ""
    for at, character in enumerate(text):
        if quote:
            quote = "" if character == quote else quote
        elif character in "'\"":
            quote = character
        else:
            yield at, character


def split(text: str, by: str) -> list[tuple[int, str]]:
    """Parts of a text with their offsets, parted outside quotes and brackets, stripped."""
    depth, ends = 0, []
    doubled = {n for m in re.finditer(r"\|\|", text) for n in (m.start(), m.start() + 1)}  # `||` concatenates
    for at, character in bare(text):
        depth += (character in "([") - (character in ")]")
        if character == by and depth <= 0 and at not in doubled:
            ends.append(at)
    parts = [(before + 1, text[before + 1 : end]) for before, end in pairwise([-1, *ends, len(text)])]
    return [(begin + len(part) - len(part.lstrip()), part.strip()) for begin, part in parts]
