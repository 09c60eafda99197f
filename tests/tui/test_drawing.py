"""What screens draw, without a screen: the rungs and rails of a ladder, the facets of a rung, as plain text."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.suite.ladder import Ladder
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.tui.facets import locks_at, rung_facets
from glimb.tui.lines import Groups, Item
from glimb.tui.palette import PALETTES
from glimb.tui.rungs import LENSES, LadderDrawing, Look
from glimb.tui.source import steps_of
from glimb.tui.text import Text

ROOT = Path(__file__).parent.parent.parent
CASES = ROOT / "demo" / "cases"
COLOURS = PALETTES["glimb-dusk"]
SNAPSHOTS = Path(__file__).parent / "snapshots"


def ladder_of(script: str, title: str) -> Ladder:
    read = read_script(CASES / script)
    case = next(c for c in read.cases if title in c.title)
    ladder = Runner().run_case(read, case, recording=True).ladder
    assert ladder is not None
    return ladder


def items_of(drawing: LadderDrawing) -> list[Item]:
    stack = drawing.items()
    items = [stack[number] for number in range(len(stack))]
    for number, item in enumerate(items):
        assert len(item.draw()) == item.height == stack.start(number + 1) - stack.start(number)
        assert stack.at_line(stack.start(number)) == number
    return items


def drawn(ladder: Ladder, width: int) -> str:
    """The ladder, and the facets and locks of its last rung that has waited or failed."""
    lines = [
        line.plain.rstrip()
        for item in items_of(LadderDrawing(ladder, Look(width, 45), COLOURS))
        for line in item.draw()
    ]
    at = max(n for n, rung in enumerate(ladder.rungs) if rung.outcome.waiting or rung.outcome.failure or not n)
    facets = [rung_facets(ladder.rungs[at], ladder, COLOURS, width // 2), locks_at(ladder, at, COLOURS, width // 2)]
    text = "\n".join([*lines, *(f"----\n{text.plain}" for text in facets)]).replace(f"{ROOT}/", "")
    return "\n".join(line.rstrip() for line in text.split("\n")) + "\n"


@pytest.mark.parametrize("width", [80, 120])
@pytest.mark.parametrize(
    ("name", "script", "title"),
    [
        ("deadlock", "gear.sql", "opposite directions"),
        ("waiting", "booking.sql", "the last free bunk"),
        ("savepoints", "cancelling.sql", "a savepoint that is kept"),
    ],
)
def test_ladder(name: str, script: str, title: str, width: int, update: bool) -> None:
    seen = drawn(ladder_of(script, title), width)
    expected = SNAPSHOTS / f"{name}-{width}.txt"
    if update:
        SNAPSHOTS.mkdir(exist_ok=True)
        expected.write_text(seen)
    assert seen == expected.read_text()
    assert all(len(line) <= width for line in seen.split("\n----\n")[0].splitlines())


def test_a_rail_tells_how_its_transaction_ended() -> None:
    text = drawn(ladder_of("gear.sql", "opposite directions"), 120)
    assert "40001 deadlock" in text
    assert "◇ rolled back" in text
    assert "◆ committed" in text
    assert "upper holds X row gear (1) since rung 1" in text


def test_each_result_set_is_told(tmp_path: Path) -> None:
    script = tmp_path / "sets.sql"
    script.write_text(
        """--# case two sets
CREATE PROCEDURE p(OUT n INTEGER) DYNAMIC RESULT SETS 2 BEGIN
  DECLARE a CURSOR WITH RETURN FOR VALUES 7;
  DECLARE b CURSOR WITH RETURN FOR VALUES (1, 'x'), (2, NULL);
  OPEN a; OPEN b; SET n = 5;
END;
CALL p(?);
"""
    )
    read = read_script(script)
    ladder = Runner().run_case(read, read.cases[0], recording=True).ladder
    assert ladder is not None
    shown = [
        line.plain.strip(" ●·│")
        for item in items_of(LadderDrawing(ladder, Look(100, 12), COLOURS))
        for line in item.draw()
    ]
    assert any("= 7  + 2 rows  n = 5" in line for line in shown)
    assert shown[-1].split() == ["┃", "2", "NULL"]
    facets = rung_facets(ladder.rungs[-1], ladder, COLOURS, 60).plain
    assert "result 1: 1 row" in facets
    assert "result 2: 2 rows" in facets
    assert "n = 5" in facets


@pytest.mark.parametrize("lens", LENSES)
def test_many_rungs_in_every_lens(lens: str, tmp_path: Path) -> None:
    """What says how high a rung is and what draws it agree, for rungs that are opened too."""
    script = tmp_path / "many.sql"
    texts = (
        "SELECT 1;",
        "VALUES (1, 'a'), (2, NULL);",
        "SELECT n FROM (VALUES 1, 2, 3, 4, 5, 6, 7, 8, 9, 10) AS t (n);",
        f"SELECT '{'long ' * 60}';",
        "SELECT n FROM (VALUES 1) AS t (n) WHERE n > 1;",
        "SELECT 1 / 0;",
        "CALL note('x');",
    )
    script.write_text("--# case many\n" + "\n".join(texts * 9))
    read = read_script(script)
    ladder = Runner().run_case(read, read.cases[0], recording=True).ladder
    assert ladder is not None
    for opened in (frozenset[int](), frozenset({2, 3, 4, 63})):
        assert len(items_of(LadderDrawing(ladder, Look(90, 40, lens, opened), COLOURS))) == 64


@pytest.mark.parametrize("sizes", [(), (0,), (1,), (2,), (0, 0), (1, 0, 2), (3, 1)])
@pytest.mark.parametrize("folded", [(), (0,), (1,)])
def test_groups_find_their_items(sizes: tuple[int, ...], folded: tuple[int, ...]) -> None:
    stack = Groups(sizes, lambda n: Text(f"group {n}"), lambda n: Text(f"item {n}"), folded)
    texts = [stack[n].draw()[0].plain for n in range(len(stack))]
    first = 0
    for group, size in enumerate(sizes):
        for key in range(first, first + size):
            wanted = f"group {group}" if group in folded else f"item {key}"
            assert texts[stack.index(key)] == wanted
            assert stack[stack.index(key)].key == (first if group in folded else key)
        first += size
    assert stack.index(None) == stack.index(first) == (stack.index(0) if first else 0)
    assert texts.count("") == max(0, len(sizes) - 1)


@pytest.mark.parametrize("count", [1, 2, 7, 40, 99])
@pytest.mark.parametrize("columns", [1, 3, 7, 40])
def test_columns_of_the_strip_stand_for_all_steps(columns: int, count: int) -> None:
    found = [steps_of(column, columns, count) for column in range(columns)]
    assert {step for first, end in found for step in range(first, end)} == set(range(count))
    assert found[-1] == (((columns - 1) * count) // columns, count)
    for first, end in found:  # as many as there is room for, and one more where they do not come out even
        assert count // columns <= end - first <= count // columns + 2
