"""Weaving: merging orders by their states gives the same groups as trying every order by itself."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.report.woven import kept_script, weave_lines
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.suite.weave import Loom, Weave, make_loom, order_text, weave, weave_plainly, weave_some
from glimb.suite.weave_pool import pool

SCRIPT = Path(__file__).parent / "weave" / "cases.sql"
SMALL = ("one bunk", "deadlocks and", "serializable", "locking readers")


def loom(word: str) -> Loom:
    title = next(c.title for c in read_script(SCRIPT).cases if c.title.startswith(word))
    return make_loom(SCRIPT, title)


def whole(word: str) -> Weave:
    *_, last = weave(loom(word))
    return last


@pytest.mark.parametrize("word", SMALL)
def test_merged_like_one_by_one(word: str) -> None:
    merged, plain = whole(word), weave_plainly(loom(word))
    assert {e: g.count for e, g in merged.groups.items()} == {e: g.count for e, g in plain.groups.items()}


def test_many_orders_are_exhausted() -> None:
    woven = whole("three who")
    assert woven.loom.orders == 756_756
    assert woven.complete
    assert woven.runs < 10_000
    assert 0 < woven.covered <= woven.loom.orders


def test_conditions_that_do_not_hold() -> None:
    woven = whole("one bunk")
    assert any(g.broken for g in woven.groups.values())
    assert not all(g.broken for g in woven.groups.values())
    assert "does not hold" in "\n".join(weave_lines(woven))


@pytest.mark.parametrize("word", SMALL)
def test_a_kept_group_is_met(word: str, tmp_path: Path) -> None:
    woven = whole(word)
    for number in range(1, len(woven.groups) + 1):
        path = tmp_path / f"group{number}.sql"
        path.write_text(kept_script(woven, number))
        for result in Runner().run_script(read_script(path)):
            slips = [v for rung in (result.ladder.rungs if result.ladder else ()) for v in rung.slips]
            waits = [s for s in (result.ladder.slips if result.ladder else ()) if s.expectation is not None]
            left = [v for v in slips if v.expected != "the statement ends"]
            assert not left + waits, path.read_text()
            assert not result.problems, [p.describe() for p in result.problems]


def test_some_orders_and_their_text() -> None:
    *_, woven = weave_some(loom("three who"), 20, 7)
    again = list(weave_some(loom("three who"), 20, 7))[-1]
    assert woven.covered == again.covered == 20
    assert not woven.complete
    assert order_text(("a", "a", "b", "a", "c")) == "a 1-2, b 1, a 3, c 1"


def test_several_processes() -> None:
    alone = whole("deadlocks and")
    made = loom("deadlocks and")
    with pool(SCRIPT, made.case.title, 2) as expander:
        *_, shared = weave(made, expander)
    assert {e: g.count for e, g in shared.groups.items()} == {e: g.count for e, g in alone.groups.items()}


def test_an_engine_that_has_run_something_is_as_loaded() -> None:
    script, runner = read_script(SCRIPT), Runner()
    case = next(c for c in script.cases if c.title.startswith("one bunk"))
    engine, source = runner.world(runner.project(SCRIPT), ""), Source("CREATE TABLE bunk (n INTEGER); COMMIT;")
    for statement in parse(source).statements:
        engine.execute(engine.session("main"), statement, source)
    used = weave_plainly(Loom(engine, script.source, case))
    assert used.groups.keys() == weave_plainly(loom("one bunk")).groups.keys()
