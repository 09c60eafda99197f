"""The parser's hands: looking at tokens, taking them, and saying what could have stood there."""

from __future__ import annotations

from collections.abc import Callable
from typing import NoReturn, TypeVar

from glimb.lang import tree
from glimb.lang.problem import SYNTAX, Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.spellings import misread
from glimb.lang.tokens import Mark, Token

T = TypeVar("T")

RESERVED = frozenset(
    """
    all and any array as atomic begin between by call case cast check close constraint create cross current_date
    current_time current_timestamp declare default delete distinct do drop else elseif end except exists false
    fetch for foreign from full function group having if in inner insert intersect into is iterate join lateral
    leave left like limit localtime localtimestamp loop natural not null offset on open or order outer primary
    procedure references release repeat resignal return right rollback savepoint select set signal some table
    then true union unique until update using values when where while window with
    """.split()
)
LONGEST_NAME = 128
"""Characters of an identifier (9075-2 clause 5.2)."""
MAX_NESTING = 60
MOST_AHEAD = 3
"""How far the grammar looks beyond the present token."""
AFTER_QUERY = frozenset("union except intersect order offset fetch limit for".split())
"""Words that may stand behind a query in parentheses that begins a longer one."""


class ParserBase:
    """Holds the tokens and the position. `wanted` collects what was looked for at this position, if the parser `tells`
    it: reading is quicker without, and what cannot be read is read once more to say what is wrong."""

    def __init__(self, source: Source, tokens: list[Token], tells: bool) -> None:
        self.source = source
        self.tokens = [*tokens, *tokens[-1:] * MOST_AHEAD]
        self.at = 0
        self.tells = tells
        self.wanted: dict[str, None] = {}
        self.nesting = 0
        self.closings: dict[int, int] | None = None
        self.waymarks: list[Mark] = []
        """Waymarks that no statement has been read behind."""

    # -- looking

    @property
    def token(self) -> Token:
        return self.tokens[self.at]

    def peek(self, ahead: int = 1) -> Token:
        return self.tokens[self.at + ahead]

    def is_word(self, *words: str, ahead: int = 0) -> bool:
        """Whether the token `ahead` is one of these words."""
        if self.tokens[self.at + ahead].sign in words:
            return True
        if self.tells and not ahead:
            for word in words:
                self.wanted[word.upper()] = None
        return False

    def is_op(self, *ops: str, ahead: int = 0) -> bool:
        """Whether the token `ahead` is one of these operators."""
        if self.tokens[self.at + ahead].sign in ops:
            return True
        if self.tells and not ahead:
            for op in ops:
                self.wanted[f"`{op}`"] = None
        return False

    def is_name(self) -> bool:
        """Whether an identifier can start here."""
        token = self.tokens[self.at]
        return (token.kind == "name" and token.sign not in RESERVED) or token.kind == "quoted"

    def is_host_variable(self) -> bool:
        """Whether `:name` comes next, with nothing between the two."""
        if not self.is_op(":"):
            return False
        name = self.peek()
        return name.start == self.token.end and name.kind in ("name", "quoted")

    # -- taking

    def host_variable(self) -> tree.HostVariable:
        """`:name` (clause 5.4)."""
        start = self.advance().start
        name = self.advance().value
        return tree.HostVariable((f":{name}",), span=self.span_from(start))

    def advance(self) -> Token:
        token = self.tokens[self.at]
        if token.kind != "end":
            self.at += 1
        self.wanted.clear()
        return token

    def accept(self, *words: str) -> bool:
        """Take the words if all of them come next."""
        tokens, at = self.tokens, self.at
        for word in words:
            if tokens[at].sign != word:
                if self.tells:
                    self._missed(words, at > self.at)
                return False
            at += 1
        self.at = at
        self.wanted.clear()
        return True

    def _missed(self, words: tuple[str, ...], begun: bool) -> None:
        """Words that do not all come next, though the first may."""
        if begun:
            self.wanted = {" ".join(words).upper(): None, **self.wanted}
        else:
            self.wanted[words[0].upper()] = None

    def accept_op(self, op: str) -> bool:
        if self.tokens[self.at].sign == op:
            self.advance()
            return True
        if self.tells:
            self.wanted[f"`{op}`"] = None
        return False

    def expect(self, *words: str) -> None:
        for word in words:
            if not self.accept(word):
                self.fail()

    def expect_op(self, op: str) -> None:
        if not self.accept_op(op):
            self.fail()

    def identifier(self, what: str = "a name") -> str:
        token = self.tokens[self.at]
        if (token.kind == "name" and token.sign not in RESERVED) or token.kind == "quoted":
            if len(token.value) > LONGEST_NAME:
                self.fail(f"a name has {LONGEST_NAME} characters at most, this has {len(token.value)}")
            return self.advance().value
        self.wanted = {what: None, **self.wanted}
        if self.token.kind == "name" and self.token.value in RESERVED:
            self.fail(
                hint=f'{self.token.value.upper()} is a reserved word; as a name it is written "{self.token.value}"'
            )
        self.fail()

    def parts(self, what: str = "a name") -> tuple[str, ...]:
        """A dotted name."""
        names = [self.identifier(what)]
        while self.tokens[self.at].sign == "." and self.tokens[self.at + 1].sign != "*":
            self.advance()
            names.append(self.identifier(what))
        if self.tells:
            self.is_op(".")
        return tuple(names)

    def comma_list(self, item: Callable[[], T]) -> tuple[T, ...]:
        items = [item()]
        while self.tokens[self.at].sign == ",":
            self.advance()
            items.append(item())
        if self.tells:
            self.is_op(",")
        return tuple(items)

    def in_parentheses(self, inner: Callable[[], T]) -> T:
        self.expect_op("(")
        value = inner()
        self.expect_op(")")
        return value

    def integer(self, what: str = "a whole number") -> int:
        if self.token.kind != "integer":
            self.wanted = {what: None}
            self.fail()
        if len(self.token.value) > 9:
            self.fail(f"{self.token.value[:12]}... is too large here")
        return int(self.advance().value)

    def text(self, what: str = "a text in quotes") -> str:
        if self.token.kind != "string":
            self.wanted = {what: None}
            self.fail()
        return self.advance().value

    # -- places and problems

    def span_from(self, start: int) -> Span:
        """From the offset `start` to the end of the last token taken."""
        end = self.tokens[self.at - 1].end if self.at else start
        return tuple.__new__(Span, (start, end if end > start else start))  # twice as quick as by its name

    def fail(self, message: str = "", hint: str = "", span: Span | None = None) -> NoReturn:
        """Raise a syntax problem at the current token."""
        token = self.token
        shown = "the end of the text" if token.kind == "end" else f"`{self.source[token.span][:40]}`"
        if not message:
            wanted = sorted(self.wanted, key=lambda word: word.startswith("`"))
            some = ", ".join(wanted[:7]) + (", ..." if len(wanted) > 7 else "")
            message = f"found {shown}" + (f" where {some} could stand" if wanted else ", which does not belong here")
            hint = hint or self.foreign()
            if token.kind == "name" and not hint:
                hint = nearest(token.value, [w.lower() for w in wanted if w.isalpha()]).upper()
                hint = hint.replace("DID YOU MEAN", "did you mean").replace(" OR ", " or ")
        raise ProblemError(Problem(SYNTAX, message, span or token.span, hint, self.source))

    def foreign(self) -> str:
        """How the standard says what could not be read here, if it is known from elsewhere."""
        start, furthest = self.at, max(0, self.at - 200)
        while start > furthest and self.tokens[start - 1].value != ";":
            start -= 1
        before = [t.value for t in self.tokens[start : self.at]]
        return misread(before, self.token.value, [self.peek(1).value, self.peek(2).value])

    def deeper(self) -> None:
        """Count one more level of nesting; too many are refused, before they break anything."""
        self.nesting += 1
        if self.nesting > MAX_NESTING:
            self.too_deep()

    def too_deep(self) -> NoReturn:
        """Refuse one more level."""
        self.nesting = 0
        raise ProblemError(
            Problem("54001", f"nested more than {MAX_NESTING} levels deep", self.token.span, "", self.source)
        )

    # -- what one area of the grammar needs of another

    def expression(self) -> tree.Expression:
        raise NotImplementedError

    def query(self) -> tree.Query:
        raise NotImplementedError

    def statement(self) -> tree.Statement:
        raise NotImplementedError

    def is_query(self) -> bool:
        """Whether a query starts here."""
        return self._begins_query(self.at)

    def _begins_query(self, at: int) -> bool:
        word = self.tokens[at].sign
        return word in ("select", "values", "with") or (word == "table" and self.tokens[at + 1].kind != "op")

    def holds_query(self, opening: int) -> bool:
        """Whether a query fills the parentheses that open at this token: one that begins there, or one in parentheses
        of its own with nothing behind it but what goes on with a query."""
        at = opening
        while self.tokens[at].sign == "(":
            at += 1
        if not self._begins_query(at):
            return False
        ends = self._closings()
        for inner in range(at - 1, opening, -1):
            follows = self.tokens[ends.get(inner, len(self.tokens) - 2) + 1]
            if follows.kind != "end" and follows.sign != ")" and follows.sign not in AFTER_QUERY:
                return False
        return True

    def _closings(self) -> dict[int, int]:
        """The closing parenthesis of every opening one, by their numbers; found once."""
        if self.closings is None:
            self.closings, opened = {}, []
            for number, token in enumerate(self.tokens):
                if token.sign == "(":
                    opened.append(number)
                elif token.sign == ")" and opened:
                    self.closings[opened.pop()] = number
        return self.closings
