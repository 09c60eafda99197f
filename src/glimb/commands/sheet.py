"""`glimb sheet`: a new call sheet of a routine."""

from __future__ import annotations

import argparse

from glimb.commands.common import MET, path_of, refuse, refuse_for, say, shown_path


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("routine", metavar="ROUTINE", help="the routine that is called")
    add("--project", type=path_of, default=None, metavar="DIR", help="the project (here)")
    add("--name", default="", metavar="NAME", help="write sheets/ROUTINE.NAME.csv")
    add("--fixture", default="", metavar="NAME", help="the fixture that rows come from (the project's default)")
    add("--edges", action="store_true", help="rows of arguments that are worth trying: NULL, ends of types, constants")
    add("--from", dest="query", default="", metavar="QUERY", help="a row for each row of this query")
    add("--take", action="store_true", help="run each call, and expect what was seen")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.suite.project import open_project
    from glimb.suite.reaching import quick_engine
    from glimb.suite.sheet_making import edge_rows, query_rows, routine_named, sheet_text
    from glimb.whole import write_whole

    try:
        project = open_project(given.project or path_of("."))
        if project.root is None:
            return refuse("a sheet belongs to a project, and there is none here", "glimb new DIR makes one")
        engine = quick_engine(project, given.fixture or project.settings.default_fixture)
        routine = routine_named(engine, given.routine)
        name = f"{routine.name}.{given.name}" if given.name else routine.name
        path = project.root / "sheets" / f"{name}.csv"
        if path.exists():
            return refuse(f"{shown_path(path)} is there already, and stays as it is", "--name gives it another name")
        rows = query_rows(engine, routine, given.query) if given.query else []
        rows += edge_rows(engine, routine) if given.edges else []
        text = sheet_text(engine, routine, rows, given.take)
    except ProblemError as error:
        return refuse_for(error)
    path.parent.mkdir(exist_ok=True)
    write_whole(path, text.encode())
    say(f"{shown_path(path)}: {len(rows)} row{'s' * (len(rows) != 1)}")
    return MET
