"""Wrong lines in scripts: each has its place and a hint, and the other cases still run."""

from __future__ import annotations

from pathlib import Path

import pytest

from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.script import read_script

FOLDER = Path(__file__).parent / "scripts"


def run(path: Path, text: str | None = None) -> list[CaseResult]:
    return list(Runner().run_script(read_script(path, text)))


def told(results: list[CaseResult]) -> str:
    """Verdicts, problems and slips of all cases, as text."""
    lines: list[str] = []
    for result in results:
        lines.append(f"{result.verdict}: {result.title}")
        for problem in result.problems:
            place = problem.describe().split("/")[-1].split("\n")[0]
            lines.append(f"  {place}")
        rungs = result.ladder.rungs if result.ladder else []
        slips = [(r.number, v) for r in rungs for v in r.slips]
        slips += [(0, v) for v in (result.ladder.slips if result.ladder else [])]
        lines += [f"  rung {number}: expected {v.expected} / seen {v.seen}" for number, v in slips]
    return "\n".join(lines) + "\n"


@pytest.mark.parametrize("path", sorted(FOLDER.glob("*.sql")), ids=lambda p: p.stem)
def test_scripts(path: Path, update: bool) -> None:
    seen = told(run(path))
    expected = path.with_suffix(".out")
    if update:
        expected.write_text(seen)
    assert seen == expected.read_text()


def test_cases_do_not_see_each_other(tmp_path: Path) -> None:
    """Every case starts from the fixture, whatever the one before it committed, dropped or made."""
    (tmp_path / "glimb.toml").write_text("fixture = 'one'\n")
    for folder, name, text in (
        ("schema", "t.sql", "CREATE TABLE t (id INTEGER PRIMARY KEY, v VARCHAR(9) DEFAULT 'd');"),
        ("fixtures/one", "t.csv", 'id,v\n3,"a,b"\n1,\n2,""\n4,NULL\n5,"NULL"\n'),
    ):
        (tmp_path / folder).mkdir(parents=True, exist_ok=True)
        (tmp_path / folder / name).write_text(text)
    look = """SELECT id, v FROM t;
--> rows
-->   3 | 'a,b'
-->   1 | NULL
-->   2 | ''
-->   4 | NULL
-->   5 | 'NULL'
"""
    ruin = [
        "DELETE FROM t WHERE id = 3; COMMIT;",
        "UPDATE t SET id = id + 10; INSERT INTO t VALUES (99, 'x'); COMMIT; DELETE FROM t; COMMIT;",
        "DROP TABLE t; COMMIT; CREATE TABLE t (z INTEGER); COMMIT;",
        "CREATE FUNCTION f() RETURNS INTEGER RETURN 1; COMMIT; DELETE FROM t; INSERT INTO t (id) VALUES (3); COMMIT;",
    ]
    text = (
        "".join(f"--# case look {n}\n{look}--# case ruin {n}\n{r}\n" for n, r in enumerate(ruin))
        + f"--# case end\n{look}"
    )
    results = run(tmp_path / "all.sql", text)
    assert [r.verdict for r in results] == ["met"] * 9, told(results)


def test_columns_of_one_name() -> None:
    """A name that stands again in the expected rows means the next column of that name."""
    query = "SELECT 1 AS a, 2 AS a, 3 AS b, 4 AS a;\n--> rows\n"
    for header, row, verdict in (
        ("a | a | b | a", "1 | 2 | 3 | 4", "met"),
        ("a | a | b | a", "1 | 1 | 3 | 1", "slipped"),
        ("b | a | a", "3 | 1 | 2", "met"),
        ("b | a", "3 | 1", "met"),
    ):
        text = f"--# case one\n{query}-->   {header}\n-->   {row}\n"
        assert [result.verdict for result in run(Path("one.sql"), text)] == [verdict], (header, row)


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("SELECT 1; --> value 1", "this is a comment: nothing is expected"),
        ("SELECT 1;\n-- > value 1", "`-- >` is a comment"),
        ("SELECT 1;\n-->value 1", "a blank is missing behind `-->`"),
        ("-- # case two\nSELECT 1;", "`-- #` is a comment"),
        ("SELECT 1; --> see above", ""),
        ("SELECT '; --> value 1' || 'x';", ""),
        ("-- SELECT 1; --> value 1\nSELECT 1;", ""),
    ],
)
def test_what_looks_like_an_expecting_line_is_told(line: str, told: str) -> None:
    script = read_script("a.sql", f"--# case one\n{line}\n")
    assert [w.message for w in script.warnings] == [told] * bool(told)
    for one in script.warnings:  # the sign that is meant, or all of the comment behind a statement
        assert script.source[one.span] in ("-- >", "-->", "-- #", "--> value 1")


def test_cases_that_share_a_setup_have_the_rails_of_their_own_sessions(tmp_path: Path) -> None:
    cases = [f"--# case {name}\n--# session {name}\nSELECT 1;\n" for name in "pq"]
    text = "--# setup\nCREATE TABLE t (a INTEGER);\n" + "".join(cases)
    for session, result in zip("pq", run(tmp_path / "s.sql", text), strict=True):
        ladder = result.ladder
        assert ladder is not None
        assert ladder.sessions == ["main", session]
        assert [rung.rails[session].state for rung in ladder.rungs] == ["none", "none"]


def test_an_out_parameter_of_any_name(tmp_path: Path) -> None:
    text = (
        'CREATE PROCEDURE p (OUT "a=b" INTEGER, OUT "say ""x""" INTEGER) BEGIN SET "a=b" = 1; SET "say ""x""" = 2; END;\n'
        'CALL p(?, ?);\n--> value "a=b" = 1\n--> value "say ""x""" = 2\n--> value "a=b" = 3\n'
    )
    (result,) = run(tmp_path / "s.sql", text)
    assert result.ladder is not None
    assert [verdict.met for rung in result.ladder.rungs for verdict in rung.verdicts] == [True, True, False]
