"""New projects, routines, cases, sheets and fixtures: what is written is right as it stands."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest


def glimb(folder: Path, *arguments: str, text: str = "") -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "glimb", *arguments]
    return subprocess.run(command, capture_output=True, text=True, cwd=folder, timeout=60, input=text)


@pytest.fixture(scope="module")
def project(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("new") / "stock"
    assert glimb(folder.parent, "new", "stock").returncode == 0
    return folder


def test_new_project_and_what_is_new_in_it(project: Path) -> None:
    assert (glimb(project, "run").returncode, glimb(project, "check").returncode) == (0, 0)
    assert len((project / "README.md").read_text().splitlines()) == 10
    for kind in ("scalar", "table", "table-body", "procedure"):
        assert glimb(project, "new", "routine", f"r_{kind.replace('-', '_')}", "--kind", kind).returncode == 0
    for arguments in (("case", "an empty shelf"), ("sheet", "r_scalar"), ("fixture", "none")):
        done = glimb(project, "new", *arguments)
        assert done.returncode == 0, done.stderr
    assert (project / "sheets" / "r_scalar.csv").read_text() == "a,value,fails\n"
    assert (project / "fixtures" / "none" / "item.csv").read_text() == "id,name,stock\n"
    calls = "CALL r_procedure(2, ?); SELECT * FROM TABLE(r_table(2)); SELECT * FROM TABLE(r_table_body(1)); VALUES r_scalar(4);"
    done = glimb(project, "exec", "-", "--project", ".", "--strict", text=calls)
    assert done.returncode == 0, done.stdout
    assert (glimb(project, "run").returncode, glimb(project, "check").returncode) == (0, 0)


QUERY = "SELECT i.id, UPPER(i.name) FROM item i WHERE i.stock >= 1 AND name <> 'rope' ORDER BY i.id;"


def test_a_query_as_a_routine(project: Path) -> None:
    """Its constants are parameters, and one that is not given leaves its condition out."""
    assert glimb(project, "new", "routine", "stocked", "--wrap", QUERY).returncode == 0
    head = "CREATE FUNCTION stocked (p_stock INTEGER DEFAULT NULL, p_name VARCHAR(40) DEFAULT NULL)\nRETURNS TABLE (id INTEGER, "
    assert (project / "routines" / "stocked.sql").read_text().startswith(head)
    for call, count in (("stocked()", 2), ("stocked(1)", 1), ("stocked(0, 'lamp')", 1), ("stocked(p_name => 'x')", 2)):
        done = glimb(project, "exec", "-", "--project", ".", text=f"SELECT * FROM TABLE({call});")
        assert f"{count} row" in done.stdout, done.stdout


def test_the_page_of_the_first_project(tmp_path: Path) -> None:
    """What docs/first-project.md has one write is right, and its cases are met."""
    assert glimb(tmp_path, "new", "stock").returncode == 0
    page = (Path(__file__).parents[1] / "docs" / "first-project.md").read_text()
    routine, cases, last = re.findall(r"```sql\n(.*?)```", page, re.DOTALL)
    (tmp_path / "stock" / "routines" / "take.sql").write_text(routine)
    (tmp_path / "stock" / "cases" / "take.sql").write_text(cases + last)
    done = glimb(tmp_path / "stock", "run")
    assert (done.returncode, "4 cases: 4 met" in done.stdout) == (0, True), done.stdout
    assert glimb(tmp_path / "stock", "check").stdout == "nothing is wrong, nothing is dubious\n"


WRONG = [
    (("new",), "the following arguments are required"),
    (("new", "routine"), "what is the new routine called?"),
    (("new", "routine", "in_stock"), "there is a routine in_stock already"),
    (("new", "routine", "2x"), "is no name for a routine"),
    (("new", "routine", "w", "--wrap", "SELECT nope FROM item"), "there is no column nope"),
    (("new", "routine", "w", "--wrap", "DELETE FROM item"), "one query is wanted"),
    (("new", "case", "stock"), "is there already, and stays as it is"),
    (("new", "sheet", "nobody"), "there is no routine nobody"),
    (("new", "cases"), "exists and is not empty"),
    (("new", "one", "two"), "one name is wanted"),
]


@pytest.mark.parametrize(("arguments", "told"), WRONG)
def test_what_cannot_be_made(project: Path, arguments: tuple[str, ...], told: str) -> None:
    done = glimb(project, *arguments)
    assert (done.returncode, told in done.stderr) == (2, True), done.stderr


def test_outside_a_project(tmp_path: Path) -> None:
    done = glimb(tmp_path, "new", "case", "x")
    assert (done.returncode, "there is no project here (glimb new DIR makes one)" in done.stderr) == (2, True)
