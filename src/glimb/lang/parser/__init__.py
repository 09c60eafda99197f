"""Tokens to tree: recursive descent with precedence climbing, and recovery at the ends of statements.

In: a Source. Out: Parsed, with every statement that could be read, every problem met, and the marks between them.
"""

from __future__ import annotations

import re
from bisect import bisect_left

from glimb.lang.node import Record
from glimb.lang.parser.routines import RoutineParser
from glimb.lang.problem import SYNTAX, Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.lang.tokens import Mark, Token, Tokens, tokenize
from glimb.lang.tree import Expression, Statement

_IS_NAME = r"[^\W\d]\w*\Z"
_BODIES = ("function", "procedure", "trigger", "module")
STARTERS = tuple(
    (
        "create drop alter call insert update delete select with values "
        "commit rollback start savepoint release begin set lock explain"
    ).split()
)


class Broken(Record):
    """A stretch of text that should have been a statement, with what is wrong in it."""

    span: Span
    problems: tuple[Problem, ...]


class Parsed(Record):
    """Statements and broken ones in the order of the text; all problems; the marks; notes."""

    source: Source
    items: list[Statement | Broken]
    problems: list[Problem]
    marks: list[Mark]
    notes: list[Problem]

    @property
    def statements(self) -> list[Statement]:
        return [item for item in self.items if isinstance(item, Statement)]


def parse(source: Source) -> Parsed:
    """Read all statements of a text, separated by semicolons."""
    read = tokenize(source, together=True)
    found = _parse(source, read)
    if found.problems and any(token.kind == "rows" for token in read.tokens):
        return _parse(source, tokenize(source))  # what is wrong is told token by token
    return found


def _parse(source: Source, read: Tokens) -> Parsed:
    tokens, marks, problems, notes = read
    parser = RoutineParser(source, tokens, tells=False)
    parser.waymarks = [m for m in marks if m.sign == "@" and re.match(_IS_NAME, m.text)]
    stops = [m.start for m in marks if m.sign == "#"]
    lines = [m.start for m in marks if m.sign != "@"]
    items: list[Statement | Broken] = []
    faults = sorted(p.span.start for p in problems)
    by_place = {p.span.start: p for p in problems}
    while parser.token.kind != "end":
        if parser.accept_op(";"):
            continue
        opening = parser.at
        try:
            statement = _read(parser, lines)
            inside = [by_place[at] for at in _between(faults, statement.span)]
            if inside:
                raise ProblemError(*inside)
            items.append(statement)
        except ProblemError as error:
            _recover(parser, opening, stops, faults)
            span = parser.span_from(tokens[opening].start)
            lexical = tuple(by_place[at] for at in _between(faults, span))
            if not lexical:
                problems += error.problems
            items.append(Broken(span, lexical or error.problems))
    problems.sort(key=lambda p: p.span.start)
    notes += _lost_waymarks(source, items, [m for m in marks if m.sign == "@"], parser.waymarks)
    return Parsed(source, items, problems, marks, notes)


def _read(parser: RoutineParser, lines: list[int]) -> Statement:
    """One statement and that it ends; what cannot be read is read again by a parser that tells what was wanted."""
    opening, waymarks = parser.at, list(parser.waymarks)
    parser.nesting = 0
    try:
        statement = parser.statement()
        _expect_end(parser, lines)
        return statement
    except ProblemError:
        if parser.tells:
            raise
    parser.at, parser.tells, parser.waymarks = opening, True, waymarks
    parser.wanted.clear()
    try:
        return _read(parser, lines)
    finally:
        parser.tells = False


def parse_expression(source: Source) -> Expression:
    """Read one expression that fills the whole text; a ProblemError tells what is wrong."""
    tokens, _, problems, _ = tokenize(source)
    if problems:
        raise ProblemError(*problems)
    try:
        return _whole_expression(RoutineParser(source, tokens, tells=False))
    except ProblemError:
        return _whole_expression(RoutineParser(source, tokens, tells=True))


def _whole_expression(parser: RoutineParser) -> Expression:
    value = parser.expression()
    if parser.token.kind != "end":
        parser.fail()
    return value


def is_complete(text: str) -> bool:
    """Whether a text that is being typed can be run: it ends with a semicolon outside a body that is still open, or
    holds only lines that arrange. What is wrong in the middle is complete: nothing behind it mends it."""
    source = Source(text)
    tokens, marks, _, _ = tokenize(source)
    if len(tokens) == 1:
        return not text.strip() or bool(marks)
    if tokens[-2].value != ";":
        return False
    end = tokens[-1].start
    return all(p.span.start < min(end, len(text.rstrip())) for p in parse(source).problems)


def wanted_behind(text: str) -> list[str]:
    """What could stand behind a text that is being typed: words in capitals, signs in backquotes, and `a name` and the
    like for what the text may choose."""
    source = Source(text)
    tokens, _, _, _ = tokenize(source)
    parser = RoutineParser(source, tokens, tells=True)
    while True:
        while parser.accept_op(";"):
            pass
        opening = parser.at
        try:
            parser.statement()
            _expect_end(parser, [])
        except ProblemError:
            if parser.token.kind == "end":
                return list(parser.wanted)
            _recover(parser, opening, [], [])
        if parser.token.kind == "end" and (parser.wanted or opening == parser.at):
            return list(parser.wanted)


def _lost_waymarks(
    source: Source, items: list[Statement | Broken], marks: list[Mark], unread: list[Mark]
) -> list[Problem]:
    """Waymarks that mark nothing: said, unless the statement around them is wrong anyway."""
    found = []
    broken = [i.span for i in items if isinstance(i, Broken)]
    for mark in marks:
        if any(span.start <= mark.start < span.end for span in broken):
            continue
        if not re.match(_IS_NAME, mark.text):
            message, hint = f"`{mark.text[:40]}` is no name of a waymark", "--@ name, and nothing behind it"
        elif mark in unread:
            message, hint = f"the waymark {mark.text} marks nothing", "it stands between two statements of a body"
        else:
            continue
        found.append(Problem("01000", message, mark.span, hint, source))
    return found


def _between(places: list[int], span: Span) -> list[int]:
    """Those of some ordered places that lie in a stretch of text."""
    return places[bisect_left(places, span.start) : bisect_left(places, span.end)]


def _expect_end(parser: RoutineParser, lines: list[int]) -> None:
    if parser.token.kind != "end" and not parser.is_op(";"):
        end = parser.tokens[parser.at - 1].end
        if _between(lines, Span(end, parser.token.start)):
            parser.fail("a semicolon is missing behind this statement", "", Span(end - 1, end))
        parser.fail()


def _recover(parser: RoutineParser, opening: int, stops: list[int], faults: list[int]) -> None:
    """Go behind the end of the statement that starts at token `opening`, or to a new one that starts a line."""
    tokens = parser.tokens
    failed = parser.at
    bodies = _has_body(tokens, opening)
    headed = bodies and tokens[opening].value == "create"
    depth, at = 0, opening
    while tokens[at].kind != "end":
        token = tokens[at]
        if at > opening and _between(stops, Span(tokens[at - 1].end, token.start)):
            break
        if at >= failed and at > opening and token.value in STARTERS and parser.source.column(token.start) == 1:
            if headed and token.value not in ("create", "drop", "alter"):
                headed = False  # the body, below the head that is wrong
            elif bodies or _between(faults, Span(tokens[opening].start, token.start)):
                break
        if token.value in ("begin", "case") and tokens[at - 1].value != "end":
            depth += 1
        elif token.value == "end" and tokens[at + 1].value not in ("if", "while", "loop", "for", "repeat"):
            depth -= 1
        at += 1
        if token.kind == "op" and token.value == ";" and (depth <= 0 or not bodies) and at > failed:
            break
    parser.at = max(at, opening + 1) if tokens[opening].kind != "end" else opening
    parser.wanted.clear()


def _has_body(tokens: list[Token], opening: int) -> bool:
    """Whether the statement that starts here may hold semicolons of its own."""
    words = [t.value for t in tokens[opening : opening + 4]]
    return (
        words[0] not in set(STARTERS) - {"create", "begin"} or any(w in _BODIES for w in words) or words[0] == "begin"
    )


__all__ = ["STARTERS", "SYNTAX", "Broken", "Parsed", "parse", "parse_expression", "wanted_behind"]
