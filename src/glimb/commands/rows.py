"""`glimb rows`: rows of a table of a fixture, by a condition and in an order; without one, the tables themselves."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse_for, say

if TYPE_CHECKING:
    from glimb.engine.engine import Engine
    from glimb.suite.project import Project


def options(command: argparse.ArgumentParser) -> None:
    choose_options(command, "?")
    command.add_argument("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")


def choose_options(command: argparse.ArgumentParser, needed: str | None = None) -> None:
    """What says which rows are meant."""
    add = command.add_argument
    told = "the table, or stamps.NAME for rows that a stamp makes"
    add("table", nargs=needed, default="", metavar="TABLE", help=told)
    add("--project", type=path_of, default=None, metavar="DIR", help="the project (here)")
    add("--fixture", default="", metavar="NAME", help="the fixture (the project's default)")
    add("--where", default="", metavar="CONDITION", help="only rows for which this is true")
    add("--order", default="", metavar="COLUMNS", help="what would stand behind ORDER BY")


def world_of(given: argparse.Namespace) -> tuple[Project, Engine]:
    """The project, and an engine with its fixture; ProblemError when it cannot be had."""
    from glimb.suite.project import open_project
    from glimb.suite.world import build

    project = open_project(given.project or path_of("."))
    return project, build(project, given.fixture or project.settings.default_fixture)


def run(given: argparse.Namespace) -> int:
    """Rows as they are held; blanks and empty texts in quotes."""
    import json

    from glimb.engine.values.conversion import literal_of
    from glimb.lang.problem import ProblemError
    from glimb.report.text import table_lines
    from glimb.suite.tables import shown, tables

    try:
        _, engine = world_of(given)
        if given.table:
            found = shown(engine, given.table, given.where, given.order)
            heads = [name for name, _ in found.note.columns]
            rows = [
                [literal_of(value, type_) for value, type_ in zip(row, found.note.types, strict=True)]
                for row in found.rows
            ]
        else:
            heads = ["table", "rows", "key", "refers to"]
            rows = [
                [
                    n.name,
                    "stamp" if n.is_stamp else str(n.total),
                    ", ".join(n.key),
                    ", ".join(r.target for r in n.refers),
                ]
                for n in tables(engine)
            ]
        engine.close()
    except ProblemError as error:
        return refuse_for(error)
    if given.format == "jsonl":
        for row in rows:
            say(json.dumps(dict(zip(heads, row, strict=True)), ensure_ascii=False))
    elif not rows and not given.table:
        say("there is no table: schema/*.sql makes them")
    else:
        for line in table_lines(heads, rows):
            say(line)
    return MET
