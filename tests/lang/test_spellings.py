"""What one is used to from elsewhere: each has a hint with the standard's way, and a place."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.lang.parser import parse
from glimb.lang.problem import Problem
from glimb.lang.source import Source

LINES = (Path(__file__).parent / "spellings.tsv").read_text().splitlines()


def first_problem(text: str) -> Problem:
    engine, source = Engine(), Source(f"CREATE TABLE t (a INTEGER, b INTEGER); CREATE TABLE b (a INTEGER);\n{text}")
    parsed = parse(source)
    if parsed.problems:
        return parsed.problems[0]
    *_, failure = (engine.execute(engine.session("main"), s, source)[0].failure for s in parsed.statements)
    assert failure is not None, f"it ran: {text}"
    return failure.problems[0]


@pytest.mark.parametrize("line", LINES)
def test_hint(line: str) -> None:
    text, standard = line.split("\t")
    problem = first_problem(text)
    assert standard in problem.hint
    assert problem.source is not None
    assert problem.source.line(problem.span.start) == 2


def test_delimiters_are_passed_over_with_one_note() -> None:
    text = "DELIMITER //\nCREATE PROCEDURE p() BEGIN SET x = '//'; END//\ndelimiter ;\nCALL p();"
    parsed = parse(Source(text))
    assert [n.span.start for n in parsed.notes] == [0]
    assert not parsed.problems
    assert [type(s).__name__ for s in parsed.statements] == ["CreateRoutine", "Call"]
