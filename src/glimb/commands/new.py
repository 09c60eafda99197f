"""`glimb new`: a new project, or a new routine, case, sheet or fixture in one."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse, refuse_for, say, shown_path

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.project import Project

THINGS = ("routine", "case", "sheet", "fixture")


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add(
        "what",
        metavar="DIR | routine | case | sheet | fixture",
        help="the folder of a new project, or what is new in one",
    )
    add("name", nargs="?", default="", metavar="NAME", help="its name")
    kinds = ("scalar", "table", "table-body", "procedure")
    add("--kind", choices=kinds, default="procedure", help="of a routine: what it is (procedure)")
    add("--wrap", default="", metavar="QUERY", help="of a routine: a table function that gives what this query gives")
    add("--project", type=path_of, default=None, metavar="DIR", help="the project (here)")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.suite.project import open_project

    if given.what not in THINGS:
        return refuse(f"{given.what}: one name is wanted") if given.name else _project(path_of(given.what))
    if not given.name:
        return refuse(f"what is the new {given.what} called?", f"glimb new {given.what} NAME")
    try:
        project = open_project(given.project or path_of("."))
        if project.root is None:
            return refuse("there is no project here", "glimb new DIR makes one")
        return _write(project.root, _files(given, project))
    except ProblemError as error:
        return refuse_for(error)


def _project(folder: Path) -> int:
    from glimb.suite.templates import project_files
    from glimb.whole import made_whole

    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        return refuse(f"{folder} exists and is not empty")
    title = folder.absolute().name.replace('"', "").replace("\\", "")
    with made_whole(folder) as part:
        for name, text in project_files(title).items():
            (part / name).parent.mkdir(parents=True, exist_ok=True)
            (part / name).write_text(text)
    say(f"wrote {folder}: `cd {folder}`, `glimb run`, `glimb open`")
    return MET


def _files(given: argparse.Namespace, project: Project) -> dict[str, str]:
    """What is to be written, by path from the project's folder."""
    from glimb.suite.making import routine_text
    from glimb.suite.sheet_making import routine_named, sheet_text
    from glimb.suite.sheets import routine_of
    from glimb.suite.templates import CASE, fixture_files
    from glimb.suite.world import build

    name = given.name
    if given.what == "case":
        return {f"cases/{_file(name)}.sql": CASE.replace("{title}", name)}
    engine = build(project, "")
    if given.what == "sheet":
        known = [r.name for r in engine.catalog.all_routines()]
        routine = routine_named(engine, routine_of(path_of(f"{name}.csv"), known))
        return {f"sheets/{name}.csv": sheet_text(engine, routine, [], False)}
    if given.what == "fixture":
        return {f"fixtures/{_file(name)}/{file}": text for file, text in fixture_files(engine).items()}
    return {f"routines/{name}.sql": routine_text(engine, name, given.kind, given.wrap)}


def _file(name: str) -> str:
    return "".join(c if c.isalnum() or c in "-_." else "-" for c in name.lower()).strip("-") or "new"


def _write(root: Path, files: dict[str, str]) -> int:
    from glimb.whole import write_whole

    there = [name for name in files if (root / name).exists()]
    if there:
        return refuse(f"{shown_path(root / there[0])} is there already, and stays as it is")
    for name, text in files.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        write_whole(root / name, text.encode())
        say(f"wrote {shown_path(root / name)}")
    return MET
