"""LIKE and SIMILAR give what `re` gives for the same pattern, and take time in proportion to the text."""

from __future__ import annotations

import random
import re

import pytest

from glimb.engine.values.patterns import like, similar, substring_similar

AS_RE = str.maketrans({"%": ".*", "_": "."})


def text_of(chance: random.Random, letters: str, most: int) -> str:
    return "".join(chance.choice(letters) for _ in range(chance.randint(0, most)))


def pattern_of(chance: random.Random, depth: int) -> str:
    """A random pattern of SIMILAR."""
    kind = chance.randint(0, 7)
    if not depth or kind < 3:
        return chance.choice(["a", "b", "_", "%", "[ab]", "[a-b]", "[^a]"])
    inner = pattern_of(chance, depth - 1)
    if kind == 3:
        return inner + pattern_of(chance, depth - 1)
    if kind == 4:
        return f"({inner}|{pattern_of(chance, depth - 1)})"
    return f"({inner})" + chance.choice(["*", "+", "?", "{2}", "{1,2}", "{1,}"])


def is_match(pattern: str, text: str) -> bool:
    return re.fullmatch(pattern.translate(AS_RE), text, re.DOTALL) is not None


def test_like() -> None:
    chance = random.Random(3)
    for _ in range(20_000):
        text, pattern = text_of(chance, "ab\n", 8), text_of(chance, "ab%_", 6)
        assert like(text, pattern) == is_match(pattern, text), (text, pattern)


def test_similar() -> None:
    chance = random.Random(4)
    for _ in range(6_000):
        text, pattern = text_of(chance, "abc", 6), pattern_of(chance, 3)
        if len(pattern) <= 40:
            assert similar(text, pattern, "") == is_match(pattern, text), (text, pattern)


def test_substring_similar() -> None:
    """The first part is as short as it can be, then the last one (clause 6.32)."""
    chance = random.Random(5)
    for _ in range(1_500):
        text, parts = text_of(chance, "abc", 7), [pattern_of(chance, depth) for depth in (1, 2, 1)]
        ends = [(i, j) for i in range(len(text) + 1) for j in range(i, len(text) + 1)]
        fits = [(i, -j) for i, j in ends if all(map(is_match, parts, (text[:i], text[i:j], text[j:])))]
        start, end = min(fits, default=(0, 0))
        expected = text[start:-end] if fits else None
        assert substring_similar(text, '{}#"{}#"{}'.format(*parts), "#") == expected, (text, parts)


@pytest.mark.parametrize("pattern", ["%a" * 40 + "b", "%_a_%" * 20 + "b"])
def test_long_texts_for_like(pattern: str) -> None:
    assert not like("a" * 100_000, pattern)


@pytest.mark.parametrize("pattern", ["(a*)*b", "(a|aa)*b", "((a*)*)*b", "(a|_)*b"])
def test_long_texts_for_similar(pattern: str) -> None:
    assert not similar("a" * 50_000, pattern, "")
    assert similar("a" * 50_000 + "b", pattern, "")
