"""Places in a text as they are shown: what stands over the carets is what is meant."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from glimb.lang.source import Source, Span

CUT = 160
"""A line longer than this is cut, around its place."""

lines = st.one_of(st.text("ab\t", max_size=8), st.text("abc", min_size=150, max_size=330))


@given(st.lists(lines, min_size=1, max_size=4), st.sampled_from(["\n", "\r\n"]), st.data())
def test_excerpts(lines: list[str], ended: str, data: st.DataObject) -> None:
    text = ended.join(lines)
    start = data.draw(st.integers(0, len(text)))
    end = data.draw(st.integers(start, min(len(text), start + 200)))
    source = Source(text)
    line, column = source.line(start), source.column(start)
    assert (line, column) == (text[:start].count("\n") + 1, start - (text[:start].rfind("\n") + 1) + 1)
    assert source.line_text(line) == lines[line - 1]
    shown, carets = source.excerpt(Span(start, end)).split("\n")
    left = len(carets) - len(carets.lstrip(" "))
    assert carets.strip(" ") == "^" * (len(carets) - left)
    whole = lines[line - 1].replace("\t", " ")
    meant = whole[column - 1 : column - 1 + end - start]
    if len(whole) <= CUT:
        assert (shown, left) == (whole, min(column - 1, len(whole) + 1))
    else:
        assert shown == whole[max(0, column - 60) :][:120]  # what is before it, and more behind
    assert len(carets) - left == max(1, min(end - start, len(shown) - left))
    assert shown[left : len(carets)][: len(meant)] == meant[: len(carets) - left]
