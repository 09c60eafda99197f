"""Expectations: what the `-->` lines of a script say about the statement above them. Text in, values out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NoReturn

from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.dispatch import expression
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.resolved.queries import Const, Expr, Tuple
from glimb.engine.values.conditions import Condition
from glimb.engine.values.types import INTEGER, NULL, Type, varchar
from glimb.lang.node import Record, replace
from glimb.lang.parser import parse_expression
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.tokens import Mark


class Value(Record):
    """An expected value: a literal of SQL with its type, and its text as written."""

    value: Any
    type: Type
    text: str


class Expectation(Record):
    """One expectation: its kind, what it says, its text and its place. `rows` come from the lines below it."""

    kind: str
    parts: dict[str, Any]
    text: str
    span: Span
    rows: tuple[tuple[Value, ...], ...] = ()
    header: tuple[str, ...] = ()
    side: str = ""
    """Of a case that runs twice: under which value this is expected; empty for both."""


class Line:
    """Reads one expecting line from left to right."""

    def __init__(self, source: Source, text: str, start: int) -> None:
        self.source = source
        self.text = text
        self.start = start
        self.at = 0

    def fail(self, message: str, hint: str = "") -> NoReturn:
        start = self.start + self.at
        end = start + max(1, len(self.peek()))
        raise ProblemError(Problem("42601", message, Span(start, end), hint, self.source))

    def skip(self) -> None:
        while self.at < len(self.text) and self.text[self.at] == " ":
            self.at += 1

    @property
    def rest(self) -> str:
        self.skip()
        return self.text[self.at :]

    def peek(self) -> str:
        """The next word."""
        return self.rest.split(" ", 1)[0]

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
            end = rest.find('"', 1)
            if end < 0:
                self.fail("this name is not closed", 'end it with "')
            self.at += end + 1
            return rest[1:end]
        length = 0
        while length < len(rest) and (rest[length].isalnum() or rest[length] == "_"):
            length += 1
        if not length:
            self.fail(f"{what} is missing")
        self.at += length
        return rest[:length].lower()

    def table(self) -> str:
        """The name of a table, perhaps behind that of its schema, as the catalog has it."""
        parts = [self.name("the name of a table")]
        while self.text[self.at : self.at + 1] == ".":
            self.at += 1
            parts.append(self.name("the name of a table"))
        return ".".join(parts).removeprefix(f"{DEFAULT_SCHEMA}.")

    def until(self, *stops: str) -> str:
        """The text up to a stop outside quotes and parentheses, or to the end of the line; it stays the next."""
        rest, depth, quoted, at = self.rest, 0, False, 0
        while at < len(rest):
            character = rest[at]
            if character == "'":
                quoted = not quoted
            elif not quoted:
                depth += (character == "(") - (character == ")")
                if depth == 0 and any(rest.startswith(stop, at) for stop in stops):
                    break
            at += 1
        self.at += at
        return rest[:at].strip()

    def parenthesised(self, what: str) -> str:
        """What stands in the parentheses that come next."""
        rest, depth, quoted = self.rest, 0, False
        if not rest.startswith("("):
            self.fail(f"{what} is missing", "in parentheses, such as (3)")
        for at, character in enumerate(rest):
            if character == "'":
                quoted = not quoted
            elif not quoted:
                depth += (character == "(") - (character == ")")
            if not depth:
                self.at += at + 1
                return rest[1:at]
        self.fail("this parenthesis is not closed")

    def end(self) -> None:
        if self.rest:
            self.fail(f"`{self.rest[:30]}` does not belong here")


def literal(source: Source, text: str, start: int) -> Value:
    """A literal of SQL as a value; `start` is its offset in the source."""
    plain = _plain(text)
    if plain is not None:
        return plain
    try:
        node = parse_expression(Source(text))
        bound = expression(binding_for(Catalog(), Source(text)), node)
    except ProblemError as error:
        problem = error.problems[0]
        span = Span(start + problem.span.start, start + max(problem.span.end, problem.span.start + 1))
        raise ProblemError(Problem(problem.sqlstate, problem.message, span, problem.hint, source)) from None
    except Condition as condition:
        raise ProblemError(
            Problem(condition.sqlstate, condition.message, Span(start, start + len(text)), "", source)
        ) from None
    constant = constant_of(bound)
    if constant is None:
        raise ProblemError(Problem("42601", f"`{text}` is no literal", Span(start, start + len(text)), "", source))
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


def split(text: str, by: str) -> list[tuple[int, str]]:
    """Parts of a text with their offsets, parted outside quotes and brackets, stripped."""
    parts: list[tuple[int, str]] = []
    quoted, depth, begin = False, 0, 0
    for at, character in enumerate(text + by):
        if character in "'\"":
            quoted = not quoted
        elif not quoted:
            depth += (character in "([") - (character in ")]")
        if at == len(text) or (character == by and not quoted and depth <= 0):
            part = text[begin:at]
            parts.append((begin + len(part) - len(part.lstrip()), part.strip()))
            begin = at + 1
    return parts


# ---- kinds ----------------------------------------------------------------------------------------------------------


def _value(line: Line) -> dict[str, Any]:
    rest = line.rest
    name = ""
    head, equals, _ = rest.partition("=")
    if equals and head.strip().isidentifier():
        name = line.name("the name of a parameter")
        line.until("=")
        line.at += 1
    text = line.until(" within ")
    if not text:
        line.fail("a value is missing")
    value = literal(line.source, text, line.start + line.at - len(text))
    return {"name": name, "value": value, **_within(line)}


def _within(line: Line) -> dict[str, Any]:
    if not line.accept("within"):
        return {"within": None}
    text = line.until(" ")
    return {"within": literal(line.source, text, line.start + line.at - len(text))}


def _rows(line: Line) -> dict[str, Any]:
    mode, which = "ordered", _of_result(line)
    if line.accept("include"):
        mode = "include"
    elif line.accept("in"):
        for word in ("any", "order"):
            if not line.accept(word):
                line.fail("found something else", "rows in any order")
        mode = "any order"
    return {"mode": mode, **(which if which["result"] != 1 else _of_result(line))}


def _no_rows(line: Line) -> dict[str, Any]:
    return _of_result(line)


def _of_result(line: Line) -> dict[str, Any]:
    """Which of the result sets of a CALL: `of result 2`, the first where nothing is said."""
    if not line.accept("of"):
        return {"result": 1}
    if not line.accept("result"):
        line.fail("found something else", "rows of result 2")
    return {"result": _number(line, "the number of a result set")}


def _number(line: Line, what: str) -> int:
    word = line.word(what)
    if not word.isdecimal() or len(word) > 9:
        line.at -= len(word)
        line.fail(f"`{word}` is not {what}")
    return int(word)


def _count(line: Line) -> dict[str, Any]:
    return {"count": _number(line, "a number of rows"), **_of_result(line)}


def _note(line: Line) -> dict[str, Any]:
    text = line.until("\n")
    if not text:
        line.fail("the text of the note is missing")
    return {"text": literal(line.source, text, line.start + line.at - len(text))}


def _fails(line: Line) -> dict[str, Any]:
    state = line.word("an SQLSTATE or the name of a condition") if line.peek().lower() != "like" else ""
    if state.lower() == "not" and line.accept("found"):
        state = "NOT FOUND"
    parts: dict[str, Any] = {"state": state, "like": None, "routine": ""}
    if line.accept("like"):
        text = line.until(" in ")
        parts["like"] = literal(line.source, text, line.start + line.at - len(text))
    if line.accept("in"):
        parts["routine"] = line.name("the name of a routine")
    return parts


def _change(line: Line) -> dict[str, Any]:
    table = line.table()
    if line.rest.startswith("("):
        return _cell_change(line, table)
    counts = {"+": 0, "~": 0, "-": 0}
    if not line.rest:
        line.fail("what changed is missing", "+1 for inserted, ~1 for updated, -1 for deleted rows")
    while line.rest:
        word = line.peek()
        if word[0] not in counts or not word[1:].isdecimal():
            line.fail(f"`{word}` is no change", "+1 for inserted, ~1 for updated, -1 for deleted rows")
        counts[word[0]] = int(word[1:])
        line.at += len(word)
    return {"table": table, "counts": (counts["+"], counts["~"], counts["-"])}


def _cell_change(line: Line, table: str) -> dict[str, Any]:
    """(key) column old -> new."""
    at = line.at
    inner = line.parenthesised("the key")
    key = literals(line.source, inner, line.start + at + 1)
    column = line.name("the name of a column")
    old = line.until("->")
    old_at = line.start + line.at - len(old)
    if not line.rest.startswith("->"):
        line.fail("-> is missing", "change bunk (3) state 'free' -> 'held'")
    line.at += 2
    new = line.until("\n")
    new_at = line.start + line.at - len(new)
    return {
        "table": table,
        "key": key,
        "column": column,
        "old": literal(line.source, old, old_at),
        "new": literal(line.source, new, new_at),
    }


def _lock(line: Line) -> dict[str, Any]:
    kind = line.word("row or table")
    if kind not in ("row", "table"):
        line.at -= len(kind)
        line.fail(f"a lock is on a row or a table, not `{kind}`")
    table = line.table()
    key: tuple[Value, ...] = ()
    if kind == "row":
        line.skip()
        at = line.at
        key = literals(line.source, line.parenthesised("the key"), line.start + at + 1)
    mode = line.word("a lock mode").upper()
    if mode not in ("IS", "IX", "S", "U", "SIX", "X"):
        line.at -= len(mode)
        line.fail(f"`{mode}` is no lock mode", "IS, IX, S, U, SIX, X")
    return {"kind": kind, "table": table, "key": key, "mode": mode}


def _waits(line: Line) -> dict[str, Any]:
    if not line.accept("for"):
        line.fail("FOR and a session are missing", "waits for desk on bunk (3)")
    parts: dict[str, Any] = {"session": line.name("the name of a session"), "table": "", "key": ()}
    if line.accept("on"):
        line.accept("row")
        parts["table"] = line.table()
        if line.rest:
            at = line.at
            parts["key"] = literals(line.source, line.parenthesised("the key"), line.start + at + 1)
    return parts


def _wakes(line: Line) -> dict[str, Any]:
    return {"session": line.name("the name of a session")}


def _savepoint(line: Line) -> dict[str, Any]:
    return {"name": line.name("the name of a savepoint")}


def _holds(line: Line) -> dict[str, Any]:
    text = line.until("\n")
    start = line.start + line.at - len(text)
    try:
        parse_expression(Source(text))
    except ProblemError as error:
        problem = error.problems[0]
        span = Span(start + problem.span.start, start + problem.span.end)
        raise ProblemError(Problem(problem.sqlstate, problem.message, span, problem.hint, line.source)) from None
    return {"condition": text}


def _nothing(line: Line) -> dict[str, Any]:
    return {}


KINDS: dict[str, Callable[[Line], dict[str, Any]]] = {
    "no rows": _no_rows,
    "no notes": _nothing,
    "no change": _nothing,
    "no locks": _nothing,
    "rolled back": _nothing,
    "to savepoint": _savepoint,
    "value": _value,
    "rows": _rows,
    "count": _count,
    "note": _note,
    "fails": _fails,
    "change": _change,
    "lock": _lock,
    "waits": _waits,
    "wakes": _wakes,
    "deadlock": _nothing,
    "open": _nothing,
    "committed": _nothing,
    "holds": _holds,
}


def read_expectations(source: Source, marks: list[Mark]) -> tuple[list[Expectation], list[Problem]]:
    """The expectations of consecutive lines; a line indented by two blanks or more is a row of the one above."""
    found: list[Expectation] = []
    problems: list[Problem] = []
    rows: list[tuple[Value, ...]] = []
    for mark in marks:
        is_row = mark.text_start - mark.start >= 5
        try:
            if is_row and found and found[-1].kind == "rows":
                found[-1] = _with_row(source, found[-1], rows, mark)
            elif is_row and problems:
                continue
            else:
                _finish(found, rows)
                found.append(_read(source, mark))
        except ProblemError as error:
            problems += error.problems
    _finish(found, rows)
    for expectation in found:
        if expectation.kind == "rows" and not expectation.rows:
            hint = "rows stand on lines of their own, indented: -->   1 | 'south'"
            problems.append(Problem("42601", "the expected rows are missing", expectation.span, hint, source))
    return found, problems


def _read(source: Source, mark: Mark) -> Expectation:
    line = Line(source, mark.text, mark.text_start)
    side = ""
    if line.accept("under"):
        side = line.until(":").lower()
        if not line.rest.startswith(":"):
            line.fail("a colon is missing", "under locking: value 3")
        line.at += 1
    for kind, reader in KINDS.items():
        words = kind.split()
        at = line.at
        if all(line.accept(word) for word in words):
            parts = reader(line)
            line.end()
            return Expectation(kind, parts, mark.text, mark.span, side=side)
        line.at = at
    if not mark.text:
        line.fail("an expectation is missing behind -->")
    word = line.peek()
    line.fail(f"`{word}` is no expectation", nearest(word.lower(), [k.split()[0] for k in KINDS] + list(KINDS)))


def _finish(found: list[Expectation], rows: list[tuple[Value, ...]]) -> None:
    """Give the rows that have been read to their expectation."""
    if rows:
        found[-1] = replace(found[-1], rows=tuple(rows))
        rows.clear()


def _with_row(source: Source, expectation: Expectation, rows: list[tuple[Value, ...]], mark: Mark) -> Expectation:
    """Read a line: the header, when it is the first and holds only names; otherwise one more row."""
    cells = split(mark.text, "|")
    is_name = [_is_quoted(c) or (c.replace("_", "a").isalnum() and not c[0].isdigit()) for _, c in cells if c]
    names = all(is_name) and len(is_name) == len(cells)
    if not rows and not expectation.header and names and not _are_words(cells):
        return replace(expectation, header=tuple(c[1:-1] if _is_quoted(c) else c.lower() for _, c in cells))
    row = tuple(literal(source, cell, mark.text_start + at) for at, cell in cells)
    width = len(expectation.header or (rows[0] if rows else row))
    if len(row) != width:
        raise ProblemError(Problem("42601", f"{len(row)} values where {width} stand above", mark.span, "", source))
    rows.append(row)
    return expectation


def _is_quoted(cell: str) -> bool:
    """Whether a cell is a delimited identifier."""
    return len(cell) > 2 and cell[0] == cell[-1] == '"'


def _are_words(cells: list[tuple[int, str]]) -> bool:
    return any(c.lower() in ("null", "true", "false", "unknown") for _, c in cells)
