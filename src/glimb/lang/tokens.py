"""Text to tokens: ISO/IEC 9075-2 clause 5 (lexical elements), with offsets.

In: a Source. Out: tokens ending with one of kind `end`, the marks (`--#`, `-->`, `--@` comment lines that scripts
use), and the problems met. Regular identifiers are folded to lower case, delimited ones keep theirs.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import cache
from typing import NamedTuple

from glimb.lang.problem import SYNTAX, Problem
from glimb.lang.source import Source, Span
from glimb.lang.spellings import SIGNS, spelled


class Token(NamedTuple):
    """Kinds: name, quoted, string, bytes, integer, decimal, float, op, end; for who wants them together, rows."""

    kind: str
    value: str
    start: int
    end: int
    sign: str = ""
    """The value of a name or operator, which may be one that the grammar looks for; nothing for all others."""

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


class Mark(NamedTuple):
    """A comment line that arranges (`#`), expects (`>`) or marks (`@`); `text` is what follows the sign."""

    sign: str
    text: str
    start: int
    end: int
    text_start: int

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


_PATTERN = re.compile(
    r"""\s*+(?:
      (?P<name>(?![nNxX]'|[uU]&')[^\W\d]\w*)
    | (?P<op><>|<=|>=|\|\||=>|!=|::|-(?!-)|/(?!\*)|\.(?![0-9])|[+*(),;:<>=?\[\]%])
    | (?P<comment>--[^\n]*)
    | (?P<bracketed>/\*)
    | (?P<string>[nN]?'[^']*(?:''[^']*)*'?)
    | (?P<float>(?:[0-9]+(?:\.[0-9]*)?|\.[0-9]+)[eE][+-]?[0-9]+)(?!\w)
    | (?P<decimal>[0-9]+\.[0-9]*|\.[0-9]+)(?!\w)
    | (?P<integer>[0-9]+)(?!\w)
    | (?P<glued>\.?[0-9]\w*)
    | (?P<quoted>"[^"]*(?:""[^"]*)*"?)
    | (?P<bytes>[xX]'[^']*'?)
    | (?P<unicode>[uU]&'[^']*(?:''[^']*)*'?)
    | (?P<bad>.)
    | (?P<space>\Z))
    """,
    re.VERBOSE | re.DOTALL,
)
PLAIN_NUMBER = r"-?(?:[0-9]++(?:\.[0-9]*+)?+|\.[0-9]++)(?![\w.])"
PLAIN_STRING = r"'[^'\n]*+(?:''[^'\n]*+)*+'"
PLAIN_NULL = r"(?i:null)(?!\w)"
PLAIN_DATE = rf"(?i:date)\s*+{PLAIN_STRING}"


@cache
def _rows() -> re.Pattern[str]:
    """Twenty rows and more of plain literals, which stand behind VALUES by the thousand: one token, or reading them
    would take most of the time that storing them takes."""
    plain = rf"(?:{PLAIN_NUMBER}|{PLAIN_STRING}|{PLAIN_NULL}|{PLAIN_DATE})"
    row = rf"\(\s*+{plain}(?:\s*+,\s*+{plain})*+\s*+\)"
    return re.compile(rf"\s*+({row}(?:\s*+,\s*+{row}){{19,}}+)(?=\s*+(?:[,;)]|\Z))")


_DELIMITER = re.compile(r"(?i:delimiter)[ \t]+(\S+)[ \t]*(?=\n|\Z)")
"""A line for the programs that need to be told where a routine ends."""
_SPACE = re.compile(r"\s*")
_MULTIPLE = re.compile("[0-9]+[kmgtpKMGTP]")
"""The length of a large object, as in CLOB(2M) (clause 5.2)."""
_MARK_INSIDE = r"\n[ \t]*--[#>]"
"""A text that runs over an arranging or expecting line has lost its closing quote: it ends at the end of its line."""
_UESCAPE = r"\s+(?i:uescape)\s*'([^'])'"
"""What stands behind a Unicode literal with an escape character of its own (clause 5.3)."""


class Tokens(NamedTuple):
    """What a text is made of."""

    tokens: list[Token]
    marks: list[Mark]
    problems: list[Problem]
    notes: list[Problem]
    """What was passed over, and is no fault."""


def tokenize(source: Source, together: bool = False) -> Tokens:
    """Split `source`; characters that belong to nothing are reported and passed over. `together`: one token for many
    rows of plain literals."""
    text = source.text
    found = Tokens([], [], [], [])
    add, make = found.tokens.append, tuple.__new__  # what NamedTuple does besides costs more than all else here
    terminator = ""
    at, end = 0, len(text)
    following = _tokens_from(text, 0)
    while at < end:
        if terminator and (ahead := _SPACE.match(text, at)) and text.startswith(terminator, ahead.end()):
            start, at = ahead.end(), ahead.end() + len(terminator)
            add(Token("op", ";", start, at, ";"))
            following = _tokens_from(text, at)
            continue
        match = following()
        assert match is not None
        kind = match.lastgroup or "bad"
        start, at = match.span(kind)
        if kind == "op":
            value = match[kind]
            add(make(Token, (kind, value, start, at, value)))
        elif kind == "name":
            value = match[kind].lower()
            told = _DELIMITER.match(text, start) if value == "delimiter" and _begins_statement(found.tokens) else None
            if told is None:
                add(make(Token, (kind, value, start, at, value)))
                if together and value == "values" and not terminator:
                    rows = _rows().match(text, at)
                    if rows is not None:
                        add(make(Token, ("rows", "", *rows.span(1), "")))
                        at = rows.end(1)
                        following = _tokens_from(text, at)
                continue
            terminator, at = told[1].rstrip(";") and told[1], told.end()
            following = _tokens_from(text, at)
            message = "DELIMITER is passed over: the end of a routine is found without it"
            if not found.notes:
                found.notes.append(Problem("01000", message, Span(start, at), "", source))
        elif kind in ("integer", "decimal", "float"):
            add(make(Token, (kind, match[kind], start, at, "")))
        elif kind == "space":
            break
        elif kind == "comment":
            _mark(source, match[kind], start, at, found.marks)
        elif kind == "bracketed":
            at = _bracketed_end(source, start, found.problems)
            following = _tokens_from(text, at)
        elif kind == "glued" and found.tokens and found.tokens[-1].value == "(" and _MULTIPLE.fullmatch(match[kind]):
            found.tokens.append(Token("integer", text[start : at - 1], start, at - 1))
            found.tokens.append(Token("name", text[at - 1].lower(), at - 1, at, text[at - 1].lower()))
        elif kind == "glued":
            message = f"{match[kind][:40]} is neither a number nor a name"
            hint = "a name begins with a letter; digits stand together; X'1F' is binary"
            found.problems.append(Problem(SYNTAX, message, Span(start, at), hint, source))
            found.tokens.append(Token("integer", "0", start, at))
        elif kind == "bad":
            shown = match[kind] if match[kind].isprintable() else f"U+{ord(match[kind]):04X}"
            found.problems.append(
                Problem(
                    SYNTAX,
                    f"the character {shown} has no place in SQL",
                    Span(start, at),
                    spelled(match[kind], SIGNS),
                    source,
                )
            )
        else:
            closed = _is_closed(match[kind]) and not re.search(_MARK_INSIDE, match[kind])
            if not closed:
                line_end = text.find("\n", start)
                at = line_end if line_end >= 0 else end
                following = _tokens_from(text, at)
            raw, escape = text[start:at], "\\"
            if kind == "unicode" and (told := re.compile(_UESCAPE).match(text, at)) is not None:
                escape, at = told[1], told.end()
                following = _tokens_from(text, at)
            value = _value(kind, raw, Span(start, at), source, found.problems, escape)
            found.tokens.append(Token("string" if kind == "unicode" else kind, value, start, at))
    found.tokens.append(Token("end", "", end, end))
    return found


def _tokens_from(text: str, at: int) -> Callable[[], re.Match[str] | None]:
    """Gives one token after the other."""
    return _PATTERN.scanner(text, at).match  # type: ignore[attr-defined, no-any-return]


def _begins_statement(tokens: list[Token]) -> bool:
    return not tokens or tokens[-1].value == ";"


def _mark(source: Source, comment: str, start: int, end: int, marks: list[Mark]) -> None:
    """Keep a comment that carries a sign and stands alone at the start of its line (`--@` may follow code)."""
    if comment[2:3] not in ("#", ">", "@"):
        return
    before = source.text[source.text.rfind("\n", 0, start) + 1 : start]
    if before.strip() and comment[2] != "@":
        return
    text = comment[3:]
    stripped = text.lstrip()
    marks.append(Mark(comment[2], stripped.rstrip(), start, end, start + 3 + len(text) - len(stripped)))


def _bracketed_end(source: Source, start: int, problems: list[Problem]) -> int:
    """Offset behind a bracketed comment, which may hold others."""
    depth, at, text = 1, start + 2, source.text
    while depth:
        opening, closing = text.find("/*", at), text.find("*/", at)
        if closing < 0:
            problem = Problem(SYNTAX, "this comment is not closed", Span(start, start + 2), "end it with */", source)
            problems.append(problem)
            line_end = text.find("\n", start)
            return line_end if line_end >= 0 else len(text)
        if 0 <= opening < closing:
            depth, at = depth + 1, opening + 2
        else:
            depth, at = depth - 1, closing + 2
    return at


def _is_closed(raw: str) -> bool:
    """Whether a literal that starts with a quote also ends with one of its own."""
    quote = raw[-1]
    body = raw[raw.find(quote) + 1 :]
    return quote in "'\"" and (len(body) - len(body.rstrip(quote))) % 2 == 1


def _value(kind: str, raw: str, span: Span, source: Source, problems: list[Problem], escape: str) -> str:
    """Value of a literal or delimited identifier without its quotes; `escape` begins those of a Unicode literal."""
    quote = '"' if kind == "quoted" else "'"
    body = raw[raw.index(quote) + 1 :]
    closed = _is_closed(raw)
    if not closed:
        what = "identifier" if kind == "quoted" else "text"
        problems.append(Problem(SYNTAX, f"this {what} is not closed", span, f"end it with {quote}", source))
    body = (body[:-1] if closed else body).replace(quote * 2, quote)
    if kind == "unicode":
        if escape in '+"' or escape.isspace() or re.match("[0-9a-fA-F]", escape):
            problems.append(Problem(SYNTAX, f"`{escape}` cannot be an escape character", span, source=source))
            return body
        begins = re.escape(escape)
        return re.sub(
            rf"{begins}(?:{begins}|\+([0-9a-fA-F]{{6}})|([0-9a-fA-F]{{4}}))",
            lambda m: escape if m.group() == escape * 2 else _character(m, span, source, problems),
            body,
        )
    if kind == "bytes":
        digits = re.sub(r"[ \t\r\n]", "", body)
        if len(digits) % 2 or re.search(r"[^0-9a-fA-F]", digits):
            problems.append(Problem(SYNTAX, "a binary literal holds pairs of hexadecimal digits", span, source=source))
            return ""
        return digits
    if kind == "quoted" and closed and not body:
        problems.append(Problem(SYNTAX, "a delimited identifier needs at least one character", span, source=source))
    return body


def _character(match: re.Match[str], span: Span, source: Source, problems: list[Problem]) -> str:
    """The character that a Unicode escape names."""
    code = int(match.group(1) or match.group(2), 16)
    if code > 0x10FFFF or 0xD800 <= code <= 0xDFFF:
        problems.append(Problem(SYNTAX, f"U+{code:X} is no character", span, source=source))
        return ""
    return chr(code)
