"""What the screens ask of a project: against the command line's own answers, against what is run, against other ways to
the same answer."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite import tables
from glimb.suite.choosing import read_any
from glimb.suite.desk import Desk, installed
from glimb.suite.evidence import EVIDENCE
from glimb.suite.project import open_project, read_text, script_paths
from glimb.suite.replay import replay
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.suite.sheet_table import SheetTable, bare, new_table, pasted, read_table, run_rows, taken
from glimb.suite.sheets import read_sheet
from glimb.suite.switching import switched_off

ROOT = Path(__file__).parents[2]
FINDINGS = Path(__file__).parent / "findings"


def at_desk(folder: Path) -> Desk:
    """A desk of a project, all of whose cases have been run and counted."""
    desk = Desk(open_project(folder / "glimb.toml"), Runner())
    desk.scripts = [read_any(path) for path in script_paths([folder])]
    cases = [(script, case) for script in desk.scripts for case in script.cases]
    for script, case in cases:
        desk.study.take(desk.run(script, case))
    for _ in desk.count(cases):
        pass
    return desk


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Desk]:
    folder = tmp_path_factory.mktemp("demo") / "huts"
    shutil.copytree(ROOT / "demo", folder, ignore=shutil.ignore_patterns(".glimb", "slips"))
    desk = at_desk(folder)
    yield desk
    desk.close()


def glimb(folder: Path, *arguments: str) -> str:
    command = [sys.executable, "-m", "glimb", *arguments]
    return subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=120).stdout


def root_of(desk: Desk) -> Path:
    assert desk.project.root is not None
    return desk.project.root


# ---- the proof grid


def test_the_grid_is_that_of_the_command(demo: Desk) -> None:
    told = [json.loads(line) for line in glimb(root_of(demo), "survey", "--format", "jsonl").splitlines()]
    rows = demo.proof().rows
    assert [(row.name, row.evidence, row.arms._asdict(), row.conditions._asdict()) for row in rows] == [
        (one["routine"], one["evidence"], one["arms"], one["conditions"]) for one in told
    ]


def test_a_cell_leads_to_rungs_that_show_it(demo: Desk) -> None:
    """Each rung named is one whose statement, run alone in its case, calls the routine."""
    for row in demo.proof().rows:
        cell = demo.cell(row, "called")
        scripts = {script.path: script for script in demo.scripts}
        for where in cell.rungs[:2]:
            case = next(c for c in scripts[where.path].cases if c.title == where.title)
            result = Runner().run_case(scripts[where.path], case, recording=True)
            frames = {
                s.frame.name for ladder in result.ladders for s in _steps(ladder.rungs[where.rung - 1].steps) if s.frame
            }
            assert row.name in frames, (row.name, where)


def _steps(steps: list) -> Iterator:  # type: ignore[type-arg]
    for step in steps:
        yield step
        yield from _steps(step.steps)


def test_a_call_that_is_offered_shows_what_is_missing(demo: Desk, tmp_path: Path) -> None:
    """Kept as a case and run with all others, it changes the grid."""
    folder = tmp_path / "huts"
    shutil.copytree(root_of(demo), folder)
    wanted = {}
    for row in demo.proof().rows:
        for kind in ("null_argument", "no_row", "raises", "result", "handler", "undone"):
            tried = demo.cell(row, kind).tried
            if tried is not None and tried.is_found:
                wanted[row.name, kind] = tried.text
    assert len(wanted) > 10
    cases = "".join(
        f"--# case {name} {kind}\n--# fixture valley\n{text};\nROLLBACK;\n\n" for (name, kind), text in wanted.items()
    )
    (folder / "cases/offered.sql").write_text(cases)
    told = [json.loads(line) for line in glimb(folder, "survey", "--format", "jsonl").splitlines()]
    now = {(one["routine"], kind): standing for one in told for kind, standing in one["evidence"].items()}
    assert {key: now[key] for key in wanted} == dict.fromkeys(wanted, "seen")


def test_a_case_that_is_run_again_replaces_what_it_showed(tmp_path: Path) -> None:
    for name, text in {
        "glimb.toml": "",
        "routines/f.sql": "CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN a;",
        "cases/c.sql": "--# case one\nSELECT f(NULL);\n--> value NULL\n",
    }.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text)
    desk = at_desk(tmp_path)
    (row,) = desk.proof().rows
    assert (row.evidence["null_argument"], row.evidence["called"]) == ("asserted", "asserted")
    other = read_script(str(tmp_path / "cases/c.sql"), "--# case one\nSELECT f(1);\n")
    desk.study.take(desk.run(other, other.cases[0]))
    (row,) = desk.proof().rows
    assert (row.evidence["null_argument"], row.evidence["called"]) == ("never", "seen")
    assert desk.study.touched([tmp_path / "routines/f.sql"]) == {(tmp_path / "cases/c.sql", "one")}
    assert desk.study.touched([tmp_path / "routines/g.sql"]) == set()
    desk.forget()
    assert desk.proof().rows[0].evidence["called"] == "seen"
    (tmp_path / "routines/f.sql").write_text("CREATE FUNCTION f (a INTEGER) RETURNS INTEGER RETURN 7;")
    desk.runner.forget()
    desk.forget()
    assert desk.proof().rows[0].evidence["called"] == "never"
    desk.study.take(desk.run(other, other.cases[0]))
    assert desk.proof().rows[0].evidence["called"] == "seen"
    desk.study.keep_only([])
    assert desk.proof().rows[0].evidence["called"] == "never"


# ---- routines


def test_callers_are_those_that_the_texts_name(demo: Desk) -> None:
    """Brute force: every line on which the name stands before a parenthesis, comments aside."""
    files = [*(root_of(demo) / "routines").rglob("*.sql"), *(root_of(demo) / "cases").rglob("*.sql")]
    for named in demo.routines():
        about = demo.about(named.file, named.line)
        assert about is not None
        there = set()
        for file in files:
            for number, line in enumerate(file.read_text().split("\n"), 1):
                text = line.partition("--")[0]
                if re.search(rf"\b{named.name}\s*\(", text) and "CREATE" not in text:
                    there.add((str(file), number))
        sheets = root_of(demo) / "sheets"
        assert {(use.file, use.line) for use in about.callers if not use.file.startswith(str(sheets))} == there


def test_counts_are_those_of_the_command(demo: Desk) -> None:
    told = glimb(root_of(demo), "routine", "book_bunk", "--format", "jsonl")
    one = json.loads(told)
    named = next(n for n in demo.routines() if n.name == "book_bunk")
    about = demo.about(named.file, named.line)
    assert about is not None
    assert {str(n): (c.hits, list(c.missing)) for n, c in about.counts.items()} == {
        n: (c["hits"], c["missing"]) for n, c in one["lines"].items()
    }
    assert one["changes"] == ["bunk", "stay"]
    assert one["promises"] == [{"text": "MODIFIES SQL DATA", "is_kept": True, "why": ""}]


def test_another_one_on_the_ladder(demo: Desk) -> None:
    script = next(s for s in demo.scripts if s.path.name == "rates.sql")
    made = replay(demo.project, script, script.cases[0])
    named = next(n for n in demo.routines() if n.name == "refund_percent")
    about = demo.about(named.file, named.line)
    assert about is not None
    assert installed(made.engine, about) is None
    made.run("CREATE OR REPLACE FUNCTION refund_percent (days_ahead INTEGER) RETURNS INTEGER RETURN 7;")
    other = installed(made.engine, about)
    assert other is not None
    assert other.text.endswith("RETURN 7")
    made.run("DROP FUNCTION refund_percent CASCADE;")
    gone = installed(made.engine, about)
    assert gone is not None
    assert gone.text == ""
    made.close()


def test_remarks_are_what_check_finds(tmp_path: Path) -> None:
    """As one types, the same is said as of the file."""
    for name in ("schema", "routines"):
        (tmp_path / name).mkdir()
        shutil.copy(FINDINGS / f"{name}.sql", tmp_path / name / "t.sql")
    (tmp_path / "glimb.toml").write_text("")
    desk = Desk(open_project(tmp_path / "glimb.toml"), Runner())
    path = tmp_path / "routines/t.sql"
    checked = {(t.line, t.code) for t in desk.findings() if t.file == str(path)}
    said = {
        (r.line, r.code) for r in desk.remarks(Source(path.read_text(), str(path))) if r.code != "overload-left-behind"
    }
    by_running = {
        (line, code) for line, code in checked - said if code in ("not-deterministic", "overload-left-behind")
    }
    assert said == checked - by_running
    assert len(by_running) <= 4
    wrong = desk.remarks(
        Source(path.read_text().replace("SELECT seats INTO n FROM ferry", "SELECT sets INTO n FROM ferry"), "t")
    )
    assert any(r.is_error and r.code == "42703" for r in wrong)
    assert {(t.line, t.code) for t in desk.findings()} == checked  # the engine is as it was
    for told in desk.findings()[::20]:
        text = switched_off(path.read_text(), told.line, told.code, "meant so")
        (tmp_path / "routines/t.sql").write_text(text)
        again = Desk(open_project(tmp_path / "glimb.toml"), Runner())
        gone = [t for t in desk.findings() if (t.line, t.code) == (told.line, told.code)]
        left = again.findings()
        assert len(left) == len(checked_all(desk)) - len(gone), told
        shutil.copy(FINDINGS / "routines.sql", path)
    with pytest.raises(ProblemError):
        switched_off("x", 1, "no-such-code", "r")
    with pytest.raises(ProblemError):
        switched_off("x", 1, "null-comparison", " ")


def checked_all(desk: Desk) -> list[object]:
    return list(desk.findings())


# ---- tables


def test_rows_behind_a_rung(demo: Desk) -> None:
    """Against EXCEPT of the rows before and after, asked of the engine itself."""
    script = next(s for s in demo.scripts if s.path.name == "booking.sql")
    case = script.cases[0]
    made = replay(demo.project, script, case)
    fixture = demo.engine("valley")
    for text in (
        "UPDATE bunk SET state = 'free' WHERE state <> 'free' AND id > 20;",
        "DELETE FROM loan WHERE id < 4;",
        "INSERT INTO guest (id, name) SELECT id + 1000, name FROM guest WHERE id < 104;",
        "DELETE FROM payment;",
    ):
        made.run(text, "desk")
    for note in tables.tables(made.engine):
        if note.is_stamp:
            continue
        found = tables.shown_at(made.engine, fixture, note.name, session="desk")
        before, now = (
            set(tables.rows_of(fixture, note.name)),
            set(tables.rows_of(made.engine, note.name, session="desk")),
        )
        states = list(found.states.values())
        assert states.count("added") + states.count("changed") == len(now - before), note.name
        assert states.count("removed") + states.count("changed") == len(before - now), note.name
        assert all(found.rows[n] in now for n, s in found.states.items() if s != "removed")
        committed = tables.shown_at(made.engine, fixture, note.name)
        everybody = set(tables.rows_of(made.engine, note.name))
        assert {row for n, row in enumerate(committed.rows) if committed.states.get(n) != "removed"} == everybody
    assert not tables.rows_of(made.engine, "payment", session="desk")
    assert tables.rows_of(made.engine, "payment")
    with pytest.raises(ProblemError):
        tables.rows_of(fixture, "bunk", "no such")
    assert tables.rows_of(fixture, "bunk", "state = 'broken'", "id DESC") == sorted(
        (r for r in tables.rows_of(fixture, "bunk") if r[4] == "broken"), reverse=True
    )
    assert len(tables.rows_of(fixture, "stamps.guest")) == tables.STAMPED
    made.close()


def test_every_reference_is_followed_and_back(demo: Desk) -> None:
    engine = demo.engine("valley")
    notes = {note.name: note for note in tables.tables(engine)}
    count = 0
    for note in notes.values():
        for row in tables.rows_of(engine, note.name)[:10]:
            for reference in note.refers:
                found = tables.followed(note, row, reference.columns[0])
                if found is not None:
                    (target,) = tables.rows_of(engine, *found)
                    back = dict(tables.referring(notes[found[0]], target))
                    assert row in tables.rows_of(engine, note.name, back[note.name])
                    count += 1
    assert count > 40


CSV = 'id,name,weight\n1,"a, b",1.50\n2,"",NULL\n3," x ",\n4,"say ""no""",2\n'


def seed_project(folder: Path) -> Desk:
    for name, text in {
        "glimb.toml": 'fixture = "f"\n',
        "schema/t.sql": "CREATE TABLE t (id INTEGER PRIMARY KEY, name VARCHAR(9), weight DECIMAL(5,2) CHECK (weight > 0));",
        "fixtures/f/t.csv": CSV,
    }.items():
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_text(text)
    return Desk(open_project(folder / "glimb.toml"), Runner())


@pytest.mark.parametrize("value", ["plain", "NULL", "", '""', "a,b", 'q"q', " lead", "trail ", "''", "x\ny"])
def test_a_cell_is_written_back(tmp_path: Path, value: str) -> None:
    """What is typed is what is loaded; nothing else in the file changes."""
    desk = seed_project(tmp_path)
    path = tmp_path / "fixtures/f/t.csv"
    note = tables.tables(desk.engine("f"))[0]
    for number, row in enumerate(tables.rows_of(desk.engine("f"), "t")):
        text = tables.changed_cell(desk.engine("f"), path, note, row, "name", value)
        path.write_text(text)
        fresh = Desk(desk.project, Runner())
        rows = tables.rows_of(fresh.engine("f"), "t")
        expected = None if value in ("NULL", "") else "" if value == '""' else value
        assert rows[number] == (row[0], expected, row[2])
        others = [r for r in tables.rows_of(desk.engine("f"), "t") if r != row]
        assert [r for n, r in enumerate(rows) if n != number] == others
        path.write_text(CSV)


def test_what_a_cell_cannot_be(tmp_path: Path) -> None:
    desk = seed_project(tmp_path)
    path = tmp_path / "fixtures/f/t.csv"
    note = tables.tables(desk.engine("f"))[0]
    row = tables.rows_of(desk.engine("f"), "t")[0]
    for column, value in (("weight", "1.555"), ("weight", "heavy"), ("name", "much too long"), ("id", "1.5")):
        with pytest.raises(ProblemError):
            tables.changed_cell(desk.engine("f"), path, note, row, column, value)
    with pytest.raises(ProblemError):
        tables.changed_cell(desk.engine("f"), path, note, (99, None, None), "name", "x")


# ---- call sheets


def test_a_sheet_is_read_and_written_as_it_stands() -> None:
    for text in (
        CSV,
        "a,b\n",
        "a,value\n1,2\nNULL,3\n",
        'a\n"x"\n""\n',
        (ROOT / "demo/sheets/refund_percent.csv").read_text(),
    ):
        table = read_table(Source(text, "s"))
        assert table.text() == text
    table = SheetTable(("a", "b"), (("1", "2"),))
    assert table.put(0, 1, [["x,y", "cut off"], ["z"]]).rows == (("1", '"x,y"'), ("", "z"))
    assert table.with_rows(1, [["3"]]).filled_down(0, 1).rows == (("1", "2"), ("3", "2"))
    assert table.with_column("value").rows == (("1", "2", ""),)
    assert table.with_rows(0, [[]]).with_rows(2, [[], ["3"]]).text() == "a,b\n1,2\n3,\n"
    assert pasted("1\t2\r\n3\t4\r\n") == [["1", "2"], ["3", "4"]]
    assert pasted("1\t2\r3\t4\r") == [["1", "2"], ["3", "4"]]
    assert pasted('1,"a, b"\n') == [["1", "a, b"]]
    assert bare('"say ""no"""') == 'say "no"'


def test_a_sheet_is_run_as_the_command_runs_it(demo: Desk) -> None:
    path = root_of(demo) / "sheets/refund_percent.csv"
    table = read_table(read_text(path))
    ran = run_rows(Runner(), path, table, range(len(table.rows)))
    results = [Runner().run_case(script, case) for script in [read_sheet(path)] for case in script.cases]
    assert [ran[n].verdict for n in range(len(results))] == [r.verdict for r in results]
    wrong = table.put(1, 2, [["55"]])
    slipped = run_rows(Runner(), path, wrong, [1])[1]
    assert (slipped.verdict, slipped.seen[2], slipped.slipped) == ("slipped", "100", frozenset({2}))
    assert taken(wrong, 1, slipped, [2]) == table
    broken = table.put(0, 1, [["no such"]])
    assert run_rows(Runner(), path, broken, [0])[0].verdict == "broken"


def test_what_is_taken_is_met(demo: Desk, tmp_path: Path) -> None:
    """Of every routine of the demo: a sheet of values worth trying, all that was seen taken, is met by `glimb run`."""
    folder = tmp_path / "huts"
    shutil.copytree(root_of(demo), folder)
    toml = folder / "glimb.toml"
    toml.write_text(toml.read_text() + 'fixture = "valley"\n')
    desk = at_desk(folder)
    count = 0
    for named in desk.routines():
        table = new_table(folder, named.name)
        rows = desk.rows_from(named.name, "")[:10]
        table = table.with_rows(0, [[*row, *[""] * (len(table.columns) - len(row))] for row in rows])
        path = folder / "sheets" / f"{named.name}.tried.csv"
        ran = desk.run_sheet(path, table, range(len(rows)))
        for row, one in ran.items():
            table = taken(table, row, one, list(one.seen))
        path.write_text(table.text())
        count += len(rows)
    out = glimb(folder, "run", *(f"sheets/{p.name}" for p in sorted((folder / "sheets").iterdir())), "-q")
    assert out.startswith(f"{count + 8} cases: "), out[-3000:]
    assert "slipped" not in out
    assert "broken" not in out


def test_rows_of_a_query(demo: Desk) -> None:
    assert demo.rows_from("refund_percent", "VALUES (3), (NULL)") == [["3"], ["NULL"]]
    assert demo.rows_from("book_bunk", "SELECT 'VARN' AS hut, 104 AS guest")[0] == ["VARN", "", "104"]
    with pytest.raises(ProblemError):
        demo.rows_from("refund_percent", "SELEC")
    assert set(EVIDENCE) >= {"called", "waits"}


def test_names_with_a_schema_and_in_quotes(tmp_path: Path) -> None:
    for name, text in {
        "glimb.toml": 'fixture = "f"\n',
        "schema/t.sql": (
            'CREATE SCHEMA wine; CREATE TABLE wine."Red Grape" (code CHAR(2) PRIMARY KEY);\n'
            'CREATE TABLE wine.bottle (id INTEGER PRIMARY KEY, "order" CHAR(2) REFERENCES wine."Red Grape");'
        ),
        "routines/r.sql": "CREATE FUNCTION wine.worth (g CHAR(2)) RETURNS BIGINT READS SQL DATA\n"
        'RETURN (SELECT COUNT(*) FROM wine.bottle b WHERE b."order" = g);',
        "fixtures/f/z.sql": "INSERT INTO wine.\"Red Grape\" VALUES ('RI'); INSERT INTO wine.bottle VALUES (1, 'RI');",
        "cases/c.sql": "--# case one\nSELECT wine.worth('RI');\n--> value 1\n",
    }.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    desk = at_desk(tmp_path)
    (row,) = desk.proof().rows
    tried = desk.cell(row, "null_argument").tried
    assert (tried and tried.text, tried and tried.is_found) == ("VALUES wine.worth(NULL)", True)
    about = desk.about(row.file, row.line)
    assert about is not None
    assert installed(desk.engine(), about) is None
    engine = desk.engine("f")
    bottle = next(note for note in tables.tables(engine) if note.name == "wine.bottle")
    found = tables.followed(bottle, tables.rows_of(engine, bottle.name)[0], "order")
    assert found == ("wine.Red Grape", "code = 'RI'")
    assert tables.rows_of(engine, *found) == [("RI",)]
    grape = next(note for note in tables.tables(engine) if note.name == "wine.Red Grape")
    assert tables.referring(grape, ("RI",)) == [("wine.bottle", "\"order\" = 'RI'")]
    (tmp_path / "routines/s.sql").write_text("CREATE FUNCTION twice (count INTEGER) RETURNS INTEGER RETURN 2 * count;")
    twice = new_table(tmp_path, "twice").put(0, 0, [["4"]])
    assert [twice.is_expected(n) for n in range(len(twice.columns))] == [False, True, True]
    table = new_table(tmp_path, "worth").put(0, 0, [["RI", "1"]])
    assert desk.run_sheet(tmp_path / "sheets/worth.csv", table, [0])[0].verdict == "met"


def test_a_desk_that_is_closed_gives_back_its_engines(tmp_path: Path) -> None:
    (tmp_path / "glimb.toml").write_text("")
    (tmp_path / "cases").mkdir()
    (tmp_path / "cases" / "a.sql").write_text("SELECT 1;\n")
    desk = at_desk(tmp_path)
    assert desk._counter._worlds
    desk.close()
    assert not desk._counter._worlds
