"""The course of a rung: what its lines did, ways through folded rounds beside the same with all of them, statements
taken out of routines, what can be typed, a ladder worked on."""

from __future__ import annotations

import random
from collections.abc import Callable
from functools import partial
from pathlib import Path

import pytest

from glimb.engine.engine import Engine
from glimb.engine.outcomes.events import UNFOLDED
from glimb.lang.problem import ProblemError
from glimb.suite import ways
from glimb.suite.climber import Climber
from glimb.suite.completing import offers, words_of
from glimb.suite.course import Course
from glimb.suite.kept import case_text, moves_of
from glimb.suite.project import open_project
from glimb.suite.replay import Replay, replay
from glimb.suite.script import read_script
from glimb.suite.signs import was_signs
from glimb.suite.taking_out import NOT_ALONE, taken_out
from glimb.suite.workbench import Workbench

DEMO = Path(__file__).parent.parent.parent / "demo"
LOOPS = """--# case loops
CREATE TABLE seen (n INTEGER);
CREATE FUNCTION odd (n INTEGER) RETURNS INTEGER
BEGIN
  DECLARE r INTEGER DEFAULT 0;
  IF MOD(n, 2) = 1 THEN SET r = n;
  END IF;
  RETURN r;
END;
CREATE PROCEDURE p (IN rounds INTEGER)
BEGIN
  DECLARE i, x, y INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET y = -1;
  WHILE i < rounds DO
    SET i = i + 1;
    IF MOD(i, 997) = 0 THEN
      SET x = odd(i);
    ELSEIF MOD(i, 1501) = 0 THEN
      SET y = i / (i - i);
    END IF;
  END WHILE;
  FOR f AS SELECT * FROM (VALUES 1, 2, 3) AS t (v) DO
    INSERT INTO seen VALUES (f.v);
    BEGIN
      DECLARE x INTEGER DEFAULT 7;
      SET y = x;
    END;
  END FOR;
  IF rounds < 0 THEN SET x = 9; END IF;
END;
CALL p(6000);
"""
RUNG = 4


@pytest.fixture(scope="module")
def loops() -> tuple[Climber, Course, Course]:
    script = read_script("loops.sql", LOOPS)
    climber = Climber(Replay(Engine(), script.cases[0], script.source))
    climber.replay.at(RUNG)
    return climber, climber.climb(RUNG), climber.climb(RUNG, UNFOLDED)


def test_counts(loops: tuple[Climber, Course, Course]) -> None:
    _, folded, whole = loops
    assert folded.folds
    assert not whole.folds
    for course in (folded, whole):
        ran = course.ran(course.scenes[0])
        first = course.scenes[0].first
        counts = {number - first: count for number, count in ran.items()}
        once = dict.fromkeys((2, 4, 12, 19), 1)
        assert counts == once | {3: 3, 5: 6000, 6: 6000, 7: 6, 9: 3, 13: 3, 15: 3, 16: 3}
        assert course.idle(course.scenes[0]) == set()


def test_what_stands_at_a_step(loops: tuple[Climber, Course, Course]) -> None:
    _, _, whole = loops
    last = max(at for at, line in enumerate(whole.lines) if line.kind == "set")
    groups = [(g.title, [(now.name, now.value) for _, now in g.variables]) for g in whole.variables(last)]
    assert groups == [
        ("parameters", [("rounds", 6000)]),
        ("rows of loops", [("v", 3)]),
        ("block of line 11", [("i", 6000), ("y", 7)]),
        ("block of line 24", [("x", 7)]),
    ]
    assert len(whole.changes(last)) == 3
    assert [scene.title for scene in whole.path(ways.next_said(whole, 0, "n = 997", 1))] == ["p", "odd"]


def test_ways_through_folds(loops: tuple[Climber, Course, Course]) -> None:
    """What is found by running parts of a loop again is what is found in all of it at once."""
    climber, folded, whole = loops
    chance = random.Random(7)
    found: dict[str, Callable[[Course, int, int], int]] = {
        "condition": lambda course, at, by: ways.next_condition(course, at, by),
        "i = 4500": lambda course, at, by: ways.next_said(course, at, "i = 4500", by),
        "x = 2991": lambda course, at, by: ways.next_said(course, at, "x = 2991", by),
        "x": lambda course, at, by: ways.change_of(course, at, "x", by),
    }
    starts = [0, len(folded) - 1, *(chance.randrange(len(folded)) for _ in range(2))]
    for start in starts:
        for name, way in found.items():
            for by in (1, -1):
                if name == "x" and folded.scene_of[start] != 0:
                    continue
                course, at = climber.climb_on(folded, start, partial(_turned, way, by), by, name == "x")
                expected = way(whole, ways.at_address(whole, ways.address(folded, start)), by)
                assert ways.address(course, at) == ways.address(whole, expected), (name, by, folded.lines[start])


def _turned(way: Callable[[Course, int, int], int], by: int, course: Course, at: int) -> int:
    return way(course, at, by)


def test_a_round(loops: tuple[Climber, Course, Course]) -> None:
    climber, folded, _ = loops
    at = folded.children[ways.loop_of(folded, folded.folds[0]) or 0][0]
    for number in (1, 3000, 5999, 6000):
        course, step = climber.climb_to_round(folded, at, number)
        assert ways.round_at(course, step) == number
        assert course.lines[step].changed[0][1].value == number


def test_statements_taken_out_can_be_run() -> None:
    """All statements of all routines that the demo's cases run: alone, with host variables, none is wrong."""
    project = open_project(DEMO)
    taken = []
    for path in sorted((DEMO / "cases").glob("*.sql")):
        script = read_script(path)
        for case in script.cases[:3]:
            bench = Workbench(replay(project, script, case))
            bench.begin()
            for rung in range(1, bench.replay.length + 1):
                course = bench.sides.climber.climb(rung)
                for at in range(0, len(course), 3):
                    line = course.lines[at]
                    try:
                        text = taken_out(course, at, bench.replay.engine)
                    except ProblemError:
                        assert line.kind in (*NOT_ALONE, "declare")
                        continue
                    (new, *_) = bench.replay.run(f"--# session apart\n{text}")
                    failure = new.last.failure
                    assert failure is None or failure.sqlstate[:2] not in ("42", "07", "22"), (text, failure.message)
                    taken.append(text)
                    bench.replay.back()
    assert len(taken) > 50
    lets = {line for text in taken for line in text.splitlines() if line.startswith("--# let")}
    assert {"--# let base = CAST(NULL AS DECIMAL(8,2))", "--# let chosen = 3", "--# let hut = 'VARN'"} < lets
    assert not any(f" {name} = CAST(NULL" in line for line in lets for name in ("chosen", "hut", "night", "guest"))


def test_what_is_taken_out_of_a_block_of_the_case(tmp_path: Path) -> None:
    """Its variables are known, beside host variables of the same name, and in the schema of the session."""
    (tmp_path / "glimb.toml").write_text('title = "made"\n')
    (tmp_path / "a.sql").write_text(
        "CREATE SCHEMA y; SET SCHEMA y; CREATE TABLE t (a INTEGER);\n--# let k = 5\n"
        "BEGIN DECLARE k, n INTEGER DEFAULT 3; SET n = k + :k; DELETE FROM t WHERE a IN (n) OR a < :k; END;"
    )
    script = read_script(tmp_path / "a.sql")
    bench = Workbench(replay(open_project(tmp_path), script, script.cases[0]))
    bench.begin()
    course = bench.sides.climber.climb(bench.replay.length)
    assert [taken_out(course, at, bench.replay.engine) for at in range(2, len(course))] == [
        "--# let k_2 = 3\nSELECT :k_2 + :k;",
        "--# let n = 8\nDELETE FROM t WHERE a IN (:n) OR a < :k;",
    ]


OFFERED = [
    ("", "CREATE", True),
    ("SEL", "SELECT", True),
    ("SELECT * FROM st", "stay", True),
    ("SELECT * FROM stay s WHERE s.", "nights", True),
    ("SELECT * FROM stay s WHERE b.", "nights", False),
    ("SELECT * FROM bunk WHERE hut = ", "'VARN'", True),
    ("SELECT * FROM bunk WHERE state = ", "'VARN'", False),
    ("CALL book_bunk(", "'VARN'", True),
    ("CALL book_bunk('VARN', ", "night => ", True),
    ("CALL book_bunk(COALESCE('VARN', 'x'), ", "night => ", True),
    ("CALL book_bunk(COALESCE('VARN', ", "guest => ", False),
    ("CALL book_bunk(hut => ", "'VARN'", True),
    ("UPDATE bunk ", "SET", True),
    ("UPDATE bunk ", "hut", False),
    ("UPDATE bunk SET ", "hut", True),
    ("DELETE ", "FROM", True),
    ("COMMIT; SELECT * FROM ", "guest", True),
    ("SELECT 'a", "and", False),
    ("SELECT 1 ", "FROM", True),
    ("SELECT * FROM bunk, ", "stay", True),
    ("BEGIN DECLARE total, most DECIMAL(5, 2); SET mo", "most", True),
    ("BEGIN DECLARE c CURSOR FOR SELECT 1; DECLARE n INTEGER; FETCH c INTO ", "n", True),
    ("BEGIN DECLARE c CURSOR FOR SELECT 1; DECLARE n INTEGER; OPEN ", "c", True),
    ("BEGIN DECLARE c CURSOR FOR SELECT 1; OPEN ", "n", False),
    ("BEGIN DECLARE no_bunk CONDITION; SELECT 1 INTO ", "no_bunk", False),
    ("CREATE PROCEDURE p (IN berth CHAR(4), OUT rate DECIMAL(3, 1)) BEGIN SET ra", "rate", True),
    ("CALL book_bunk(f(1, 2), DATE '2031-07-14', ", "101", True),
    ("CALL book_bunk(f(1, 2), ", "101", False),
]


RIDGE = Path(__file__).parent.parent / "ridge"
OFFERED_THERE = [
    ("SELECT * FROM ya", "yard.log_of_all_that_happened_in_the_yard", True),
    ("SELECT * FROM yard.", "log_of_all_that_happened_in_the_yard", True),
    ("SELECT yard.hap", "happened(", True),
    ("CALL walkers.", "happened(", True),
    ("CALL walkers.", "log_of_all_that_happened_in_the_yard", False),
    ("CALL walkers.happened(", "walker => ", True),
    ("CALL walkers.happened(", "wanted => ", False),
    ("SELECT * FROM yard.log_of_all_that_happened_in_the_yard g WHERE g.", "spent", True),
    ("SELECT * FROM yard.log_of_all_that_happened_in_the_yard WHERE sp", "spent", True),
    ("SELECT * FROM parcel, de", "depot", True),
    ("SELECT id, de", "depot", False),
    ("VALUES fare(", "kilograms => ", True),
    ("fare(", "kilograms => ", True),
    ("VALUES fare((1), ", "how => ", True),
    ("UPDATE parcel SET depot = ", "'N'", True),
    ("UPDATE parcel SET label = ", "'N'", False),
    ("SELECT * FROM red", '"Red Hut"', True),
    ('SELECT * FROM "Red Hut" h WHERE h.', '"x.y"', True),
    ("VALUES two", '"Two Words"(', True),
    ('VALUES "Two Words"(', '"In It" => ', True),
]


@pytest.mark.parametrize(
    ("project", "text", "word", "is_offered"), [(DEMO, *o) for o in OFFERED] + [(RIDGE, *o) for o in OFFERED_THERE]
)
def test_offers(project: Path, text: str, word: str, is_offered: bool) -> None:
    script = read_script(next((project / "cases").glob("*.sql")))
    engine = replay(open_project(project), script, script.cases[0]).engine
    found = [offer.text for offer in offers(text, words_of(engine, "main"))[1]]
    assert (word in found) is is_offered, found


def test_a_ladder_worked_on() -> None:
    """Taken back, shelved, taken again, some once more, only some, watched; kept as text it makes the same ladder."""
    script = read_script("work.sql", "--# case work\nCREATE TABLE t (n INTEGER);\nCOMMIT;\nSELECT 1;\n")
    bench = Workbench(Replay(Engine(), script.cases[0], script.source))
    bench.begin()
    bench.watch("SELECT COUNT(*) FROM t")
    with pytest.raises(ProblemError):
        bench.watch("DELETE FROM t")
    for n in range(3):
        bench.type(f"INSERT INTO t VALUES ({n});")
    bench.type("COMMIT;")
    view = bench.rewind(4)
    assert [rung.text for rung in view.taken] == ["INSERT INTO t VALUES (1)", "INSERT INTO t VALUES (2)", "COMMIT"]
    assert len(bench.bring().ladder.rungs) == 7
    bench.rewind()
    view = bench.type("SELECT COUNT(*) FROM t;", "other")
    assert not view.taken
    assert [len(one.rungs) for one in view.tries] == [1]
    view = bench.look()
    assert view.watches[0].values == [
        "42704",
        "0",
        "0",
        "0",
        "1",
        "2",
        "3",
        "0",
    ]  # the last one as another session sees it
    view = bench.take(0)
    assert view.ladder.rungs[-1].text == "COMMIT"
    assert [one.rungs[0].text for one in view.tries] == ["SELECT COUNT(*) FROM t"]
    view = bench.again([4, 4])
    assert [rung.last.row_count for rung in view.ladder.rungs[-2:]] == [1, 1]
    view = bench.only([1, 2, 5])
    assert [rung.text for rung in view.ladder.rungs] == [
        "CREATE TABLE t (n INTEGER)",
        "COMMIT",
        "INSERT INTO t VALUES (1)",
    ]
    text = bench.text("work")
    again = Workbench(Replay(Engine(), script.cases[0], script.source))
    again.resume(*moves_of(text))
    again.begin()
    assert case_text(script.cases[0], "work", again.replay.moves) == text
    assert [r.last.row_count for r in again.view().ladder.rungs] == [r.last.row_count for r in view.ladder.rungs]


def test_what_was_seen_takes_the_place_of_what_slipped() -> None:
    text = (
        "--# case slips\nCREATE TABLE t (n INTEGER);\nINSERT INTO t VALUES (1);\n"
        "UPDATE t SET n = n + 1;\n--> change t (1) n 1 -> 3\n--> note 'never'\n--> open\n"
        "VALUES (1, 'a'), (2, 'b');\n--> rows\n-->   1 | 'a'\n-->   3 | 'c'\n--> no notes\n"
    )
    script = read_script("slips.sql", text)
    bench = Workbench(Replay(Engine(), script.cases[0], script.source))
    bench.begin()
    view = bench.pin(3, bench.pins(3))
    assert [v.expectation.text for v in view.ladder.rungs[2].slips if v.expectation is not None] == ["note 'never'"]
    assert "--> change t ~1" in bench.text("slips")
    view = bench.pin(4, bench.pins(4))
    assert not view.ladder.rungs[3].slips
    assert "3 | 'c'" not in bench.text("slips")


def test_what_was_otherwise_is_told_where_the_signs_are_the_same() -> None:
    text = (
        "--# case other\nCREATE TABLE t (k INTEGER PRIMARY KEY, n INTEGER);\nINSERT INTO t VALUES (1, 1), (2, 2);\n"
        "UPDATE t SET n = n * 2;\nSELECT n FROM t ORDER BY k;\nDELETE FROM t WHERE k = 1;\nCALL note('sum 1');\nCOMMIT;\n"
    )
    script = read_script("other.sql", text)
    bench = Workbench(Replay(Engine(), script.cases[0], script.source))
    bench.begin()
    view = bench.change(2, "INSERT INTO t VALUES (1, 1), (2, 3);")
    now = view.ladder.rungs
    told = {n: [sign.text for sign in was_signs(old.last, now[n - 1].last)] for n, old in view.differs.items()}
    assert told == {2: ["+ t 2, 2"], 3: ["t (2) n 2 → 4"], 4: ["4"]}
    view = bench.change(3, "UPDATE t SET n = n * 2 WHERE k = 2;")
    told = {n: [s.text for s in was_signs(old.last, view.ladder.rungs[n - 1].last)] for n, old in view.differs.items()}
    assert told == {3: ["~2 t"], 4: ["2"], 5: ["- t 1, 2"]}
