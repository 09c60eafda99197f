"""Parts of expecting lines have their places; what a script says beside its cases is told."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from glimb.suite.expectations.line import split
from glimb.suite.script import read_script


@given(st.text("ab '|,([])\"", max_size=20))
def test_parts_stand_where_they_say(text: str) -> None:
    parts = split(text, ",")
    assert all(text[at : at + len(part)] == part for at, part in parts)
    assert all(part == part.strip() for _, part in parts)
    assert len(parts) <= text.count(",") + 1


def test_a_delimiter_is_passed_over_with_a_word() -> None:
    script = read_script("one.sql", "--# case a\nDELIMITER //\nSELECT 1;\n")
    told = [(w.message, script.source.line(w.span.start)) for w in script.warnings]
    assert told == [("DELIMITER is passed over: the end of a routine is found without it", 2)]
