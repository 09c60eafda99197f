"""`glimb rows`: rows of a table of a fixture, by a condition and in an order; without one, the tables themselves."""

from __future__ import annotations

import argparse

from glimb.commands.common import MET, path_of, refuse_for, say


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("table", nargs="?", default="", metavar="TABLE", help="the table, or stamps.NAME for rows that a stamp makes")
    add("--project", type=path_of, default=None, metavar="DIR", help="the project (here)")
    add("--fixture", default="", metavar="NAME", help="the fixture (the project's default)")
    add("--where", default="", metavar="CONDITION", help="only rows for which this is true")
    add("--order", default="", metavar="COLUMNS", help="what would stand behind ORDER BY")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")


def run(given: argparse.Namespace) -> int:
    """Rows as they are held; blanks and empty texts in quotes."""
    import json

    from glimb.engine.values.conversion import literal_of
    from glimb.lang.problem import ProblemError
    from glimb.report.text import table_lines
    from glimb.suite.project import open_project
    from glimb.suite.tables import shown, tables
    from glimb.suite.world import build

    try:
        project = open_project(given.project or path_of("."))
        engine = build(project, given.fixture or project.settings.default_fixture)
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
    else:
        for line in table_lines(heads, rows):
            say(line)
    return MET
