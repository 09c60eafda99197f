"""Texts of new things, right for their kind as they stand: projects, routines, cases, fixtures; a query as a routine.

In: names, an engine for what must fit a schema. Out: texts; nothing is written here.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import chain, count
from typing import NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone
from glimb.engine.binding.outside import Outside
from glimb.engine.engine import Engine
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.parser import parse
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source, Span
from glimb.suite.expectations.line import name_text
from glimb.suite.tables import written_field

KINDS = ("scalar", "table", "table-body", "procedure")
README = """# {title}

Routines and what is expected of them.

- `schema/` tables, `routines/` functions and procedures, `fixtures/` rows, `cases/` what is expected
- `glimb run` runs the cases, `glimb open` opens them on the screen
- `glimb check` tells what is dubious, `glimb cover --missing` what no case has tried
- `glimb new routine NAME`, `new case NAME`, `new fixture NAME`, `sheet ROUTINE` make new ones

Commit everything but `.glimb/`.
"""
PROJECT = {
    "glimb.toml": 'title = "{title}"\nfixture = "small"\n',
    "README.md": README,
    ".gitignore": ".glimb/\n",
    "schema/1_tables.sql": "CREATE TABLE item (\n  id    INTEGER     PRIMARY KEY,\n  name  VARCHAR(40) NOT NULL,\n"
    "  stock INTEGER     NOT NULL CHECK (stock >= 0)\n);\n",
    "routines/stock.sql": "CREATE FUNCTION in_stock (item_id INTEGER) RETURNS BOOLEAN\nREADS SQL DATA\n"
    "RETURN EXISTS (SELECT 1 FROM item i WHERE i.id = item_id AND i.stock > 0);\n",
    "fixtures/small/item.csv": "id,name,stock\n1,lamp,3\n2,rope,0\n",
    "cases/stock.sql": "--# case what is in stock\n"
    "SELECT in_stock(1);\n--> value TRUE\nSELECT in_stock(2);\n--> value FALSE\n",
}
ROUTINES = {
    "scalar": "CREATE FUNCTION {name} (a INTEGER) RETURNS INTEGER\nDETERMINISTIC CONTAINS SQL\nRETURN a;\n",
    "table": "CREATE FUNCTION {name} (a INTEGER)\nRETURNS TABLE (n INTEGER)\nCONTAINS SQL\n"
    "RETURN TABLE (\n  SELECT v.n FROM (VALUES (1), (2)) AS v (n) WHERE v.n <= a\n);\n",
    "table-body": "CREATE FUNCTION {name} (a INTEGER)\nRETURNS TABLE (n INTEGER)\nCONTAINS SQL\nBEGIN\n"
    "  DECLARE most INTEGER DEFAULT 0;\n  IF a > 0 THEN\n    SET most = a;\n  END IF;\n"
    "  RETURN TABLE (SELECT v.n FROM (VALUES (1), (2)) AS v (n) WHERE v.n <= most);\nEND;\n",
    "procedure": "CREATE PROCEDURE {name} (IN a INTEGER, OUT b INTEGER)\nCONTAINS SQL\nBEGIN\n  IF a IS NULL THEN\n"
    "    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a is missing';\n  END IF;\n  SET b = a;\nEND;\n",
}
CASE = "--# case {title}\nSELECT 1 AS one;\n--> value 1\n"


def project_files(title: str) -> dict[str, str]:
    """The files of a new project, by path: a table, a routine, a fixture, and a case that is met."""
    return {path: text.replace("{title}", title) for path, text in PROJECT.items()}


def fixture_files(engine: Engine) -> dict[str, str]:
    """An empty CSV file for each table, with the names of the columns that can be given."""
    tables = [t for t in engine.catalog.relations.values() if isinstance(t, Table)]
    given = {t.name: [c.name for c in t.columns if c.generated is None and not c.always] for t in tables}
    return {f"{name}.csv": ",".join(map(written_field, columns)) + "\n" for name, columns in given.items()}


# ---- a query as a table function


class Parameter(NamedTuple):
    """What a constant of a query becomes."""

    name: str
    type: Type
    constant: Span
    condition: Span


def wrapped(engine: Engine, name: str, text: str) -> str:
    """A table function that gives what a query gives: a constant that a column is compared with becomes a parameter,
    which leaves its condition out when it is NULL or not given. ProblemError for what is no query."""
    text = text.strip().rstrip(";")
    source = Source(text, "query")
    parsed = parse(source)
    if parsed.problems:
        raise ProblemError(*parsed.problems)
    statements = parsed.statements
    if len(statements) != 1 or not isinstance(statements[0], tree.QueryStatement):
        raise ProblemError(Problem("42601", "one query is wanted", Span(0, len(text)), "", source))
    bound = bind_alone(engine.catalog, statements[0], source, "", Outside({})).statement
    assert isinstance(bound, R.QueryStmt)
    parameters = list(_parameters(bound, statements[0]))
    heads = ", ".join(f"{p.name} {p.type} DEFAULT NULL" for p in parameters)
    columns = ", ".join(f"{name_text(name)} {c.type}" for name, c in _named_apart(bound.query.columns))
    body = "\n".join(f"  {line}" for line in _with_parameters(text, parameters).split("\n"))
    return f"CREATE FUNCTION {name} ({heads})\nRETURNS TABLE ({columns})\nREADS SQL DATA\nRETURN TABLE (\n{body}\n);\n"


def _named_apart(columns: Iterable[R.Output]) -> Iterator[tuple[str, R.Output]]:
    """Columns with names of which no two are the same."""
    taken = set[str]()
    for column in columns:
        names = chain((column.name,), (f"{column.name}_{n}" for n in count(2)))
        name = next(name for name in names if name not in taken)
        taken.add(name)
        yield name, column


def _parameters(bound: R.QueryStmt, statement: tree.Statement) -> Iterator[Parameter]:
    """The constants that columns are compared with, in the order of the text."""
    types = {n.place.span: n for n in walk(bound) if isinstance(n, R.Compare) and n.place is not None}
    taken: set[str] = set()
    comparisons = [n for n in walk(statement) if isinstance(n, tree.Comparison)]
    for node in sorted(comparisons, key=lambda n: n.span.start):
        for column, constant in ((node.left, node.right), (node.right, node.left)):
            compared = types.get(node.span)
            if isinstance(column, tree.Reference) and _is_constant(constant) and compared is not None:
                type_ = _type_of(compared)
                if type_ is not None:
                    name = _fresh(f"p_{column.parts[-1]}", taken)
                    yield Parameter(name, type_, constant.span, node.span)
                break


def _is_constant(node: Node) -> bool:
    return isinstance(node, tree.Literal) and node.kind != "null"


def _type_of(compared: R.Compare) -> Type | None:
    """The type of the column in a comparison."""
    columns = [n for n in walk((compared.left, compared.right)) if isinstance(n, R.Column)]
    return columns[0].type if len(columns) == 1 else None


def _fresh(name: str, taken: set[str]) -> str:
    number, made = 1, name
    while made in taken:
        number += 1
        made = f"{name}_{number}"
    taken.add(made)
    return made


def _with_parameters(text: str, parameters: list[Parameter]) -> str:
    for p in sorted(parameters, key=lambda p: -p.condition.start):
        condition = text[p.condition.start : p.constant.start] + p.name + text[p.constant.end : p.condition.end]
        text = f"{text[: p.condition.start]}({p.name} IS NULL OR {condition}){text[p.condition.end :]}"
    return text
