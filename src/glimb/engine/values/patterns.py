"""Patterns of LIKE and SIMILAR TO, matched in time linear in the text (ISO/IEC 9075-2 clauses 8.5, 8.6 and 6.30).

LIKE: the pieces between `%` are looked for from the left, the last one at the end; the leftmost place of each is good
enough. SIMILAR TO: the pattern becomes a nondeterministic automaton (Thompson, "Regular expression search algorithm",
1968), whose sets of states are followed through the text and remembered, so that no pattern runs back and forth.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from functools import lru_cache
from typing import NoReturn

from glimb.engine.values.conditions import fail

Piece = str | re.Pattern[str]
MOST_STATES = 5_000
MOST_REMEMBERED = 20_000


# ---- LIKE -----------------------------------------------------------------------------------------------------------


class LikePattern:
    """A LIKE pattern: its pieces between `%`, and how long each is."""

    def __init__(self, pieces: list[list[str]]) -> None:
        self.widths = [len(piece) for piece in pieces]
        self.pieces: list[Piece] = [_piece(piece) for piece in pieces]

    def matches(self, text: str) -> bool:
        """Whether the whole text fits."""
        first, last = self.pieces[0], self.pieces[-1]
        if len(self.pieces) == 1:
            return len(text) == self.widths[0] and _found(first, text, 0, len(text)) == 0
        at, end = self.widths[0], len(text) - self.widths[-1]
        if at > end or _found(first, text, 0, at) != 0 or _found(last, text, end, len(text)) != end:
            return False
        for piece, width in zip(self.pieces[1:-1], self.widths[1:-1], strict=True):
            place = _found(piece, text, at, end)
            if place < 0:
                return False
            at = place + width
        return True


def _piece(characters: list[str]) -> Piece:
    """A piece to look for: a text, or where `_` (here empty) stands in it, an expression of one length."""
    if all(characters):
        return "".join(characters)
    return re.compile("".join(re.escape(c) if c else "." for c in characters), re.DOTALL)


def _found(piece: Piece, text: str, start: int, end: int) -> int:
    """Where a piece stands first between two places; -1: nowhere."""
    if isinstance(piece, str):
        return text.find(piece, start, end)
    match = piece.search(text, start, end)
    return match.start() if match else -1


@lru_cache(maxsize=512)
def like_pattern(pattern: str, escape: str | None) -> LikePattern:
    """Read a LIKE pattern: 22019 for an escape that is not one character, 22025 for one that escapes nothing."""
    if escape is not None and len(escape) != 1:
        fail("22019", f"ESCAPE is one character, not '{escape[:20]}'")
    pieces: list[list[str]] = [[]]
    characters = iter(pattern)
    for character in characters:
        if character == escape:
            literal = next(characters, "")
            if literal not in ("%", "_", escape) or not literal:
                fail("22025", f"'{escape}' in LIKE must be followed by %, _ or itself")
            pieces[-1].append(literal)
        elif character == "%":
            pieces.append([])
        else:
            pieces[-1].append("" if character == "_" else character)
    return LikePattern([pieces[0], *(p for p in pieces[1:-1] if p), *pieces[1:][-1:]])


def like(text: str, pattern: str, escape: str | None = None) -> bool:
    """Whether the whole text fits the pattern."""
    return like_pattern(pattern, escape).matches(text)


# ---- SIMILAR TO: the automaton --------------------------------------------------------------------------------------


Test = Callable[[str], bool]


class Automaton:
    """States with what leads on from each: characters that pass a test, or nothing. It accepts in state `end`."""

    def __init__(self) -> None:
        self.steps: list[list[tuple[Test, int]]] = []
        self.free: list[list[int]] = []
        self.start: int
        self.end: int
        self._sets: dict[frozenset[int], int] = {}
        self._members: list[frozenset[int]] = []
        self._next: dict[tuple[int, str], int] = {}

    def state(self) -> int:
        if len(self.steps) >= MOST_STATES:
            fail("2201B", f"the pattern is too long: it has more than {MOST_STATES:,} states")
        self.steps.append([])
        self.free.append([])
        return len(self.steps) - 1

    def backwards(self) -> Automaton:
        """The automaton of the texts read from their ends."""
        other = Automaton()
        other.steps, other.free = [[] for _ in self.steps], [[] for _ in self.free]
        for number, steps in enumerate(self.steps):
            for test, target in steps:
                other.steps[target].append((test, number))
            for target in self.free[number]:
                other.free[target].append(number)
        other.start, other.end = self.end, self.start
        return other

    # -- following a text

    def _closed(self, states: Iterable[int]) -> int:
        """The number of a set of states with all that can be reached from them without a character."""
        found, waiting = set(states), list(states)
        while waiting:
            for target in self.free[waiting.pop()]:
                if target not in found:
                    found.add(target)
                    waiting.append(target)
        members = frozenset(found)
        number = self._sets.get(members)
        if number is None:
            number = self._sets[members] = len(self._members)
            self._members.append(members)
        return number

    def begin(self) -> int:
        if len(self._next) > MOST_REMEMBERED:
            self._sets, self._members, self._next = {}, [], {}
        return self._closed([self.start])

    def follow(self, at: int, character: str) -> int:
        """The set behind one more character."""
        known = self._next.get((at, character))
        if known is None:
            targets = {t for s in self._members[at] for test, t in self.steps[s] if test(character)}
            known = self._next[at, character] = self._closed(targets)
        return known

    def accepts(self, at: int) -> bool:
        return self.end in self._members[at]

    def matches(self, text: str) -> bool:
        """Whether the whole text is accepted."""
        at, following = self.begin(), self._next
        for character in text:
            known = following.get((at, character))
            at = known if known is not None else self.follow(at, character)
        return self.accepts(at)

    def places(self, text: str, start: int = 0) -> list[int]:
        """How far the beginnings of a text that are accepted reach."""
        at = self.begin()
        found = [start] if self.accepts(at) else []
        for number in range(start, len(text)):
            at = self.follow(at, text[number])
            if self.accepts(at):
                found.append(number + 1)
        return found


# ---- SIMILAR TO: reading a pattern ----------------------------------------------------------------------------------


class _Reader:
    """Reads a pattern into an automaton, part by part; each part is a pair of states, its start and its end."""

    def __init__(self, pattern: str, escape: str) -> None:
        if len(escape) > 1:
            fail("22019", f"ESCAPE is one character, not '{escape[:20]}'")
        self.pattern = pattern
        self.escape = escape
        self.at = 0
        self.depth = 0
        self.automaton = Automaton()

    def read(self) -> Automaton:
        self.automaton.start, self.automaton.end = self._choice()
        if self.at < len(self.pattern):
            self._refuse()
        return self.automaton

    def _refuse(self) -> NoReturn:
        fail("2201B", f"'{self.pattern[:40]}' is no pattern of SIMILAR TO")

    def _peek(self) -> str:
        return self.pattern[self.at : self.at + 1]

    def _choice(self) -> tuple[int, int]:
        """Alternatives, parted by `|`."""
        self.depth += 1
        if self.depth > 200:
            self._refuse()
        start, end = self.automaton.state(), self.automaton.state()
        while True:
            first, last = self._sequence()
            self.automaton.free[start].append(first)
            self.automaton.free[last].append(end)
            if self._peek() != "|":
                break
            self.at += 1
        self.depth -= 1
        return start, end

    def _sequence(self) -> tuple[int, int]:
        start = at = self.automaton.state()
        while self._peek() not in ("", "|", ")"):
            begin = self.at
            first, last = self._factor()
            repeat = self._repetition()
            if repeat is None:
                self.automaton.free[at].append(first)
                at = last
            else:
                at = self._repeated(at, begin, first, last, *repeat)
        return start, at

    def _repetition(self) -> tuple[int, int | None] | None:
        """How often the part before is to stand there: at least, and at most."""
        sign = self._peek()
        if sign in ("*", "+", "?") and sign:
            self.at += 1
            return {"*": (0, None), "+": (1, None), "?": (0, 1)}[sign]
        if sign != "{":
            return None
        match = re.compile(r"\{([0-9]{1,4})(?:(,)([0-9]{1,4})?)?\}").match(self.pattern, self.at)
        if match is None:
            self._refuse()
        self.at = match.end()
        least = int(match[1])
        most = int(match[3]) if match[3] else None if match[2] else least
        if most is not None and most < least:
            self._refuse()
        return least, most

    def _repeated(self, at: int, begin: int, first: int, last: int, least: int, most: int | None) -> int:
        """A part so many times, from state `at` on; it is read again for every copy. Gives the state behind."""
        behind = self.at
        copies = max(least, 1) if most is None else most
        exits: list[int] = []
        for number in range(copies):
            if number:
                self.at = begin
                first, last = self._factor()
            if number >= least:
                exits.append(at)
            self.automaton.free[at].append(first)
            at = last
        if most is None:
            self.automaton.free[last].append(first)
        self.at = behind
        end = self.automaton.state()
        for state in [*exits, at]:
            self.automaton.free[state].append(end)
        return end

    def _factor(self) -> tuple[int, int]:
        """One character, a set of them, or alternatives in parentheses."""
        character = self._peek()
        self.at += 1
        if self.escape and character == self.escape:
            return self._one(self._escaped())
        if character == "(":
            part = self._choice()
            if self._peek() != ")":
                self._refuse()
            self.at += 1
            return part
        if character == "%":
            state = self.automaton.state()
            self.automaton.steps[state].append((lambda c: True, state))
            return state, state
        if character == "_":
            return self._tested(lambda c: True)
        if character == "[":
            return self._tested(self._set())
        if character in "*+?{}]":
            self._refuse()
        return self._one(character)

    def _escaped(self) -> str:
        character = self._peek()
        if not character:
            fail("22025", f"'{self.escape}' must be followed by a character")
        self.at += 1
        return character

    def _one(self, character: str) -> tuple[int, int]:
        return self._tested(lambda c: c == character)

    def _tested(self, test: Test) -> tuple[int, int]:
        start, end = self.automaton.state(), self.automaton.state()
        self.automaton.steps[start].append((test, end))
        return start, end

    def _set(self) -> Test:
        """What stands between brackets: characters, ranges, named kinds; behind `^` those that are left out."""
        kept: list[Test] = []
        left_out: list[Test] = []
        into = kept
        while True:
            character = self._peek()
            self.at += 1
            if not character:
                self._refuse()
            if character == "]":
                break
            named = re.compile(r"\[:(\w+):\]").match(self.pattern, self.at - 1)
            if named:
                if named[1].lower() not in KINDS:
                    fail("2201B", f"there are no characters of kind {named[1]}")
                into.append(KINDS[named[1].lower()])
                self.at = named.end()
            elif character == "^" and into is kept:
                into = left_out
            else:
                into.append(self._range(self._escaped() if self.escape and character == self.escape else character))
        if not kept and not left_out:
            self._refuse()
        return lambda c: (not kept or any(t(c) for t in kept)) and not any(t(c) for t in left_out)

    def _range(self, low: str) -> Test:
        """A character, or all from one to another."""
        if self._peek() != "-" or self.pattern[self.at + 1 : self.at + 2] in ("", "]"):
            return lambda c: c == low
        self.at += 1
        high = self._peek()
        self.at += 1
        if self.escape and high == self.escape:
            high = self._escaped()
        if high < low:
            self._refuse()
        return lambda c: low <= c <= high


KINDS: dict[str, Test] = {
    "alpha": lambda c: "a" <= c <= "z" or "A" <= c <= "Z",
    "upper": lambda c: "A" <= c <= "Z",
    "lower": lambda c: "a" <= c <= "z",
    "digit": lambda c: "0" <= c <= "9",
    "alnum": lambda c: "a" <= c <= "z" or "A" <= c <= "Z" or "0" <= c <= "9",
    "space": lambda c: c == " ",
    "whitespace": str.isspace,
}


@lru_cache(maxsize=256)
def similar_pattern(pattern: str, escape: str) -> Automaton:
    """The automaton of a SIMILAR TO pattern; 2201B when it is none."""
    return _Reader(pattern, escape).read()


def similar(text: str, pattern: str, escape: str) -> bool:
    """Whether the whole text fits the pattern."""
    return similar_pattern(pattern, escape).matches(text)


@lru_cache(maxsize=256)
def _parts(pattern: str, escape: str) -> tuple[Automaton, Automaton, Automaton, Automaton]:
    """Of a pattern in three parts: the first, the middle; backwards the last, and middle and last together."""
    pieces = pattern.split(escape + '"')
    if len(pieces) != 3:
        fail("2200C", f'the pattern needs the part to take between two {escape}"')
    first, middle, last = (_Reader(piece, escape).read() for piece in pieces)
    rest = _Reader(f"({pieces[1]})({pieces[2]})", escape).read()
    return first, middle, last.backwards(), rest.backwards()


def substring_similar(text: str, pattern: str, escape: str) -> str | None:
    """SUBSTRING(text SIMILAR pattern ESCAPE e): what fits the part between e" and e" (clause 6.30). What comes before
    it is as short as may be, then it is as long as may be."""
    if len(escape) != 1:
        fail("22019", f"ESCAPE is one character, not '{escape[:20]}'")
    first, middle, last, rest = _parts(pattern, escape)
    turned = text[::-1]
    begins = {len(text) - n for n in rest.places(turned)}
    start = next((n for n in first.places(text) if n in begins), None)
    if start is None:
        return None
    ends = {len(text) - n for n in last.places(turned)}
    return text[start : max(n for n in middle.places(text, start) if n in ends)]
