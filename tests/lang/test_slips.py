"""Statements with a slip of the hand: a word too few, too many or in another's place. What is told of each, where, with
which hint, and what is read of the statement behind it.

Each line of `slips.tsv` has the word with which statements begin and a digest of all that is told of them. A change is
noticed, looked at, and taken with `--update`.
"""

from __future__ import annotations

import random
import re
from collections import defaultdict
from pathlib import Path

import pytest
from tools.conformance import features

from digests import hold
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.lang.tokens import tokenize

TOLD = Path(__file__).parent / "slips.tsv"


def statements() -> dict[str, list[str]]:
    """The statements of the cases of all rules, each once, by their first words."""
    found = defaultdict[str, list[str]](list)
    for text in (feature.script.source.text for feature in features() if feature.script is not None):
        for statement in parse(Source(text)).statements:
            told = text[statement.span.start : statement.span.end]
            first = " ".join(re.findall(r"\w+", told.upper())[: 2 if told[:6].upper() in ("CREATE", "ALTER ") else 1])
            if len(told) < 2_000 and told not in found[first]:
                found[first].append(told)
    return found


STATEMENTS = statements()


def slips(text: str, chance: random.Random) -> list[str]:
    """The text with one word left out, twice, and in the place of another."""
    words = tokenize(Source(text)).tokens[:-1]
    made = []
    for kind in ("out", "twice", "other"):
        at, other = chance.choice(words), chance.choice(words)
        put = {"out": "", "twice": f"{text[at.start : at.end]} {text[at.start : at.end]}"}.get(kind)
        put = text[other.start : other.end] if put is None else put
        made.append(f"{text[: at.start]}{put}{text[at.end :]}")
    return made


@pytest.mark.parametrize("first", sorted(STATEMENTS))
def test_slips(first: str, update: bool) -> None:
    chance, told = random.Random(1), []
    for text in STATEMENTS[first]:
        for slip in slips(text, chance):
            read = parse(Source(f"{slip};\nVALUES 1;"))
            problems = [f"{p.sqlstate} {p.span.start}-{p.span.end} {p.message} ({p.hint})" for p in read.problems]
            told.append(f"{slip}\n   {'; '.join(problems)} {len(read.statements)}")
    hold(TOLD, sorted(STATEMENTS), first, "\n".join(told), update)
