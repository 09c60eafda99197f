"""What has been tried: counts against the recorded form, the covered form against the bare one, planted holes, merging,
the command."""

from __future__ import annotations

import json
import random
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from against.routines import SCHEMA, Writer
from glimb.engine.engine import Engine
from glimb.engine.outcomes.coverage import STATEMENT
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.outcomes.steps import Step, read_steps
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.suite.coverage import Counted, Counts, counted, from_json, json_lines, merged
from glimb.suite.ladder import Ladder
from glimb.suite.runner import Runner
from glimb.suite.script import read_script

DEMO = Path(__file__).parents[2] / "demo"


def places_of(steps: list[Step]) -> Iterator[tuple[str, int]]:
    """The statements that a recorded run has begun, by the name and offset of their text."""
    for step in steps:
        if step.info is not None and step.info.name not in ("row", "declare", "waymark"):
            yield step.info.source.name, step.info.span.start
        yield from places_of(step.steps)


def recorded(ladders: list[Ladder]) -> Counter[tuple[str, int]]:
    return Counter(place for ladder in ladders for rung in ladder.rungs for place in places_of(rung.steps))


def statements(engine: Engine) -> dict[tuple[str, int], int]:
    """How often each statement of what is stored ran, of those that did."""
    assert engine.shared.coverage is not None
    points = engine.shared.coverage.points.values()
    return {(p.key.source, p.key.start): p.counts[0] for p in points if p.key.kind == STATEMENT and p.counts[0]}


@pytest.mark.parametrize("path", sorted((DEMO / "cases").glob("*.sql")), ids=lambda p: p.stem)
def test_statements_are_counted_as_they_are_recorded(path: Path) -> None:
    """On the demo: each statement of a routine ran as often as the record of the same run says."""
    runner = Runner(covering=True)
    script = read_script(path)
    for case in script.cases:
        project = runner.project(path)
        engine = runner.world(project, case.fixture or project.settings.default_fixture)
        engine.cover()
        result = runner.run_case(script, case)
        seen = statements(engine)
        again = Runner().run_case(script, case, recording=True)
        assert result.verdict == again.verdict
        told = recorded(again.ladders)
        assert seen == {place: told[place] for place in seen}
        stored = {(p.key.source, p.key.start) for p in engine.shared.coverage.points.values()}  # type: ignore[union-attr]
        assert not [place for place in told if place in stored and place not in seen]


def run(text: str, form: str) -> tuple[Engine, list[Outcome]]:
    """Run statements in an engine of their own: bare, recorded or covered."""
    engine = Engine()
    source = Source(text, "made")
    outcomes = []
    for number, statement in enumerate(parse(source).statements):
        if number == len(SCHEMA) + 1 and form == "covered":
            engine.cover()
        engine.shared.recording = form == "recorded"
        outcomes += engine.execute(engine.session("main"), statement, source)
    return engine, outcomes


def said(outcomes: list[Outcome]) -> list[object]:
    changes = [[(c.table.name, c.before, c.after) for c in o.changes] for o in outcomes]
    return [
        (o.failure and (o.failure.sqlstate, o.failure.message), o.rows, c)
        for o, c in zip(outcomes, changes, strict=True)
    ]


@pytest.mark.parametrize("seeds", [range(1, 16), range(101, 116), range(201, 216)], ids=str)
def test_random_routines(seeds: range) -> None:
    """Loops, handlers, jumps and conditions at random: the covered form does what the bare one does, and counts each
    statement as often as the recorded form tells of it."""
    for seed in seeds:
        is_function = seed % 3 == 0
        body = Writer(seed, is_function).body()
        head = "FUNCTION p () RETURNS INTEGER MODIFIES SQL DATA" if is_function else "PROCEDURE p ()"
        call = "VALUES p();" if is_function else "CALL p();"
        text = f"{'; '.join(SCHEMA)}; CREATE {head} {body}; {call} {call} SELECT * FROM trace; SELECT * FROM r;"
        bare, recorded, covered = (run(text, form) for form in ("bare", "recorded", "covered"))
        assert said(bare[1]) == said(recorded[1]) == said(covered[1]), text
        steps = [step for o in recorded[1] if o.trace for step in read_steps(o.trace)]
        told = Counter(place for place in places_of(steps) if place[0] == "made")
        points = covered[0].shared.coverage.points.values()  # type: ignore[union-attr]
        counts = {p.key.start: p.counts[0] for p in points if p.key.kind == STATEMENT}
        assert {at: n for at, n in counts.items() if n} == {at: n for (_, at), n in told.items() if at in counts}, text


ROWS = "(1, 1, 'a'), (2, NULL, 'b'), (3, 3, ''), (4, 5, 'ab'), (5, 3, NULL), (6, 0, 'b')"
CONDITIONS = [
    "n > 2",
    "n = 3",
    "id = 3",
    "id = 9",
    "id > 2",
    "id <= 4",
    "id BETWEEN 2 AND 4",
    "n BETWEEN 1 AND 3",
    "n NOT BETWEEN 1 AND 3",
    "n IN (1, 3)",
    "n NOT IN (1, 3)",
    "n IS NULL",
    "n IS NOT NULL",
    "s LIKE 'a%'",
    "s = 'b'",
    "n = (SELECT MAX(n) - 2 FROM t)",
    "id = (SELECT MIN(id) FROM t)",
    "n > ALL (SELECT n FROM t WHERE n < 2)",
    "n IN (SELECT id FROM t)",
    "EXISTS (SELECT 1 FROM t u WHERE u.id = t.n)",
    "(n, s) = (3, '')",
    "n IS DISTINCT FROM 3",
]


def counts_of(engine: Engine, text: str) -> tuple[int, ...]:
    found = [one.counts for one in counted(engine).values() if one.kind == "condition" and one.text == text]
    assert len(found) == 1, (text, found)
    return found[0]


@pytest.mark.parametrize("negated", [False, True], ids=["", "not"])
@pytest.mark.parametrize("condition", CONDITIONS)
def test_conditions_are_counted_for_each_row(condition: str, negated: bool) -> None:
    """In WHERE, whatever index or plan answers it, as the values that the condition has for the rows of the table."""
    where = f"NOT ({condition})" if negated else condition
    text = (
        "CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER, s VARCHAR(5));"
        f"CREATE FUNCTION f () RETURNS INTEGER RETURN (SELECT COUNT(*) FROM t WHERE {where});"
        f"INSERT INTO t VALUES {ROWS};"
    )
    engine, source = Engine(), Source(text, "made")
    for statement in parse(source).statements:
        engine.execute(engine.session("main"), statement, source)
    asked = Source(f"SELECT {condition} FROM t; VALUES f();", "asked")
    values, call = parse(asked).statements
    (told,) = engine.execute(engine.session("main"), values, asked)
    assert told.rows is not None
    engine.cover()
    engine.execute(engine.session("main"), call, asked)
    seen = Counter(row[0] for row in told.rows)
    if (
        condition == "(n, s) = (3, '')" and not negated
    ):  # its parts are compared one by one: what is unknown is found at the first
        seen = Counter({True: 1, False: 3, None: 2})
    assert counts_of(engine, condition) == (seen[True], seen[False], seen[None])


HOLES = """
CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER CHECK (n < 100), kind VARCHAR(5) NOT NULL);
CREATE VIEW big AS SELECT id, CASE WHEN n > 50 THEN 'huge' ELSE 'big' END AS size FROM t WHERE n > 10;
CREATE FUNCTION grade (p INTEGER) RETURNS VARCHAR(10)
BEGIN
  DECLARE word VARCHAR(10);
  DECLARE EXIT HANDLER FOR SQLSTATE '22012' RETURN 'none';
  IF p > 5 AND p < 9 THEN
    SET word = 'good';
  ELSEIF p = 0 THEN
    SET word = 'zero';
  ELSE
    SET word = CASE WHEN p IS NULL THEN 'null' WHEN p < 0 THEN 'less' ELSE 'other' END;
  END IF;
  IF 10 / p > 100 THEN RETURN 'never'; END IF;
  RETURN word;
END;
CREATE PROCEDURE walk (IN lowest INTEGER, OUT total INTEGER)
BEGIN
  SET total = 0;
  FOR one AS SELECT id FROM big WHERE id > lowest DO
    SET total = total + one.id;
  END FOR;
  WHILE total > 100 DO SET total = total - 100; END WHILE;
END;
CREATE PROCEDURE down () BEGIN DECLARE i INTEGER DEFAULT 3; WHILE i > 0 DO SET i = i - 1; END WHILE; END;
CREATE PROCEDURE idle () BEGIN IF 1 = 1 THEN CALL note('x'); END IF; END;
CREATE TRIGGER seen AFTER INSERT ON t REFERENCING NEW ROW AS r FOR EACH ROW WHEN (r.kind = 'x')
BEGIN ATOMIC
  UPDATE t SET n = 1 WHERE id = r.id AND r.n IS NULL;
END;
"""
HOLE_CASES = """--# fixture f
--# case one
SELECT grade(7);
SELECT grade(1);
SELECT grade(0);
CALL walk(0, ?);
CALL down();
--# case two
INSERT INTO t VALUES (10, NULL, 'x');
CALL walk(2, ?);
"""
EXPECTED = {
    ("t", "n < 100", "false"),
    ("big", "WHEN n > 50 THEN 'huge'", ""),
    ("big", "n > 50", "true"),
    ("big", "n > 50", "unknown"),
    ("grade", "p > 5", "unknown"),
    ("grade", "p < 9", "false"),
    ("grade", "p < 9", "unknown"),
    ("grade", "p = 0", "unknown"),
    ("grade", "WHEN p IS NULL THEN 'null'", ""),
    ("grade", "p IS NULL", "true"),
    ("grade", "WHEN p < 0 THEN 'less'", ""),
    ("grade", "p < 0", "true"),
    ("grade", "p < 0", "unknown"),
    ("grade", "10 / p > 100", "true"),
    ("grade", "10 / p > 100", "unknown"),
    ("grade", "IF 10 / p > 100 THEN", ""),
    ("grade", "RETURN 'never'", ""),
    ("walk", "FOR one AS SELECT id FROM big WHERE id > lowest DO", "none"),
    ("walk", "id > lowest", "unknown"),
    ("walk", "WHILE total > 100 DO", "one"),
    ("walk", "WHILE total > 100 DO", "more"),
    ("walk", "total > 100", "true"),
    ("walk", "total > 100", "unknown"),
    ("walk", "SET total = total - 100", ""),
    ("down", "WHILE i > 0 DO", "none"),
    ("down", "WHILE i > 0 DO", "one"),
    ("idle", "IF 1 = 1 THEN", ""),
    ("idle", "1 = 1", "true"),
    ("idle", "1 = 1", "false"),
    ("idle", "CALL note('x')", ""),
    ("seen", "r.kind = 'x'", "false"),
    ("seen", "r.n IS NULL", "false"),
}


@pytest.fixture
def holes(tmp_path: Path) -> Path:
    """A project with a known set of what its cases do not try."""
    for folder in ("schema", "routines", "cases", "fixtures/f"):
        (tmp_path / folder).mkdir(parents=True)
    (tmp_path / "glimb.toml").write_text('title = "holes"\nfixture = "f"\n')
    (tmp_path / "schema" / "s.sql").write_text(HOLES)
    (tmp_path / "fixtures" / "f" / "t.csv").write_text("id,n,kind\n1,5,a\n2,20,a\n3,40,b\n4,,b\n")
    (tmp_path / "cases" / "c.sql").write_text(HOLE_CASES)
    return tmp_path


def cover(*arguments: object, folder: Path) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "glimb", "cover", *map(str, arguments)]
    return subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60)


def test_planted_holes(holes: Path) -> None:
    """What was not tried is found, all of it and nothing else; the fixture's own rows do not count as tries."""
    lines = [json.loads(line) for line in cover("--jsonl", folder=holes).stdout.splitlines()]
    names = {"loop": ("none", "one", "more"), "condition": ("true", "false", "unknown")}
    found = {
        (one["routine"], one["text"], side)
        for one in lines
        for side in names.get(one["kind"], ("",))
        if not one[side or "hits"] and side not in one.get("cannot", ())
    }
    assert found == EXPECTED
    assert {one["file"] for one in lines} == {"schema/s.sql"}


def test_cover_tells_and_judges(holes: Path) -> None:
    """The table, what is missing with calls that would try it, LCOV, the bound, and runs added to one another."""
    told = cover("--missing", "--lcov", "out.info", "--at-least", "80", folder=holes)
    assert told.returncode == 1
    assert "tried, at least 80 % is wanted" in told.stderr
    assert "grade: never true: p IS NULL   try VALUES grade(NULL);" in told.stdout
    assert "walk: never with no round: FOR one AS" in told.stdout
    assert "idle: never called" in told.stdout
    assert cover("--at-least", "10", folder=holes).returncode == 0
    records = (holes / "out.info").read_text().splitlines()
    assert records[:2] == ["TN:", "SF:schema/s.sql"]
    assert {
        "FN:27,idle",
        "FNDA:0,idle",
        "FN:8,grade",
        "FNDA:3,grade",
        "DA:7,1",
        "DA:13,1",
        "DA:15,3",
        "DA:16,2",
    } <= set(records)
    (holes / "notes.txt").write_text("mine")
    assert cover("--lcov", "notes.txt", folder=holes).returncode == 2
    (holes / "first.jsonl").write_text(cover("-k", "one", "--jsonl", folder=holes).stdout)
    both = cover("-k", "two", "--add", "first.jsonl", "--jsonl", folder=holes).stdout
    assert both == cover("--jsonl", folder=holes).stdout
    (holes / "first.jsonl").write_text("{}\n")
    wrong = cover("--add", "first.jsonl", folder=holes)
    assert (wrong.returncode, "line 1 is no count" in wrong.stderr) == (2, True)


def test_both_models_recursion_and_dynamic_sql() -> None:
    """Counted in the same way: what a routine prepares belongs to no routine, what it calls does."""
    text = (
        "CREATE FUNCTION down (n INTEGER) RETURNS INTEGER BEGIN IF n < 1 THEN RETURN 0; END IF; RETURN down(n - 1); END;"
        "CREATE PROCEDURE made (n INTEGER) BEGIN EXECUTE IMMEDIATE 'CREATE TABLE x (i INTEGER)';"
        " EXECUTE IMMEDIATE 'INSERT INTO x SELECT down(2) FROM (VALUES (1)) AS v (a) WHERE a > 0'; END;"
    )
    counts: list[Counts] = []
    for model in ("versions", "locking"):
        engine, source = Engine(), Source(text + " SELECT down(3); CALL made(1);", "made")
        engine.use_model(model)
        *definitions, select, call = parse(source).statements
        for statement in definitions:
            engine.execute(engine.session("main"), statement, source)
        engine.cover()
        for statement in (select, call):
            assert engine.execute(engine.session("main"), statement, source)[0].failure is None
        counts.append(counted(engine))
    assert counts[0] == counts[1]
    by_text = {(one.kind, one.text): one for one in counts[0].values()}
    assert by_text["condition", "n < 1"].counts == (2, 5, 0)
    assert by_text["statement", "RETURN down(n - 1)"].counts == (5,)
    assert {one.owner for one in counts[0].values()} == {"down", "made"}
    assert merged(counts[0], counts[1])[by_text["condition", "n < 1"].place].counts == (4, 10, 0)


def test_what_one_branch_looks_for_is_not_taken_for_another() -> None:
    """A key that is looked for in a loop without rows is not known where a range of another branch needs it."""
    text = (
        "CREATE TABLE x (n INTEGER); CREATE TABLE t (id INTEGER PRIMARY KEY); INSERT INTO t VALUES (1), (5);"
        "CREATE FUNCTION f (a INTEGER) RETURNS TABLE (n INTEGER) RETURN TABLE (SELECT x.n FROM x LEFT JOIN t ON t.id = a"
        " UNION ALL SELECT t.id FROM t WHERE t.id > a);"
    )
    engine, source = Engine(), Source(text + "SELECT n FROM TABLE(f(2)) AS r;", "made")
    *definitions, call = parse(source).statements
    for statement in definitions:
        engine.execute(engine.session("main"), statement, source)
    engine.cover()
    (outcome,) = engine.execute(engine.session("main"), call, source)
    assert (outcome.failure, outcome.rows) == (None, [(5,)])
    assert counts_of(engine, "t.id > a") == (1, 1, 0)


def test_a_case_without_an_arm_is_one_statement() -> None:
    """That no arm applies (20000) is no statement of its own."""
    text = (
        "CREATE PROCEDURE p (n INTEGER) BEGIN CASE n WHEN 1 THEN CALL note('one'); END CASE; END; CALL p(1); CALL p(2);"
    )
    engine, source = Engine(), Source(text, "made")
    definition, *calls = parse(source).statements
    engine.execute(engine.session("main"), definition, source)
    engine.cover()
    for call in calls:
        engine.execute(engine.session("main"), call, source)
    found = {one.text: one.counts for one in counted(engine).values() if one.kind == "statement"}
    assert found == {"CASE n WHEN 1 THEN": (2,), "CALL note('one')": (1,)}


ROUNDS = [
    ("i IS DISTINCT FROM n", "", 3, (3, 1, 0)),
    ("i < n", "", 3, (3, 1, 0)),
    ("i < n", "", None, (0, 0, 1)),
    ("i < n", "DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' CALL note('on');", 3, (3, 1, 0)),
    ("i < n", "DECLARE EXIT HANDLER FOR SQLSTATE '45000' CALL note('out');", 3, (2, 0, 0)),
    ("10 / (2 - i) > 0", "DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' CALL note('on');", 3, (2, 0, 0)),
]


@pytest.mark.parametrize(("condition", "handler", "n", "counts"), ROUNDS)
def test_the_condition_of_while_is_counted_each_time(
    condition: str, handler: str, n: int | None, counts: tuple[int, ...]
) -> None:
    raised = "SIGNAL SQLSTATE '45000'" if "45000" in handler else "SET i = i"
    text = (
        f"CREATE PROCEDURE p (n INTEGER) BEGIN DECLARE i INTEGER DEFAULT 0; {handler} WHILE {condition} DO "
        f"SET i = i + 1; IF i = 2 THEN {raised}; END IF; END WHILE; END;"
    )
    engine, source = Engine(), Source(f"{text} CALL p({'NULL' if n is None else n});", "made")
    definition, call = parse(source).statements
    engine.execute(engine.session("main"), definition, source)
    engine.cover()
    assert engine.execute(engine.session("main"), call, source)[0].failure is None
    found = {one.counts for one in counted(engine).values() if one.kind == "condition" and one.text == condition}
    assert found == {counts}


def test_json_lines_are_read_again(tmp_path: Path) -> None:
    """What is written is what is read, whatever stands in the texts."""
    chance = random.Random(1)
    counts: Counts = {}
    for n in range(50):
        kind = chance.choice(("statement", "arm", "loop", "handler", "condition"))
        several = tuple(chance.randrange(5) for _ in range(3 if kind in ("loop", "condition") else 1))
        one = Counted("a.sql", n, 1, n % 2, kind, "r", "é '\"\\ \t", several, (2,) * (kind == "condition"), (n + 1, 5))
        counts[one.place] = one
    (tmp_path / "c.jsonl").write_text("\n".join(json_lines(counts)))
    assert from_json(tmp_path / "c.jsonl") == counts
