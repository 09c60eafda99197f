"""New routines for a project: from a template of a kind, or a query wrapped as one.

In: an engine with the project, a name. Out: the text of a file; nothing is written here.
"""

from __future__ import annotations

from glimb.engine.engine import Engine
from glimb.lang.problem import Problem, ProblemError
from glimb.suite.templates import ROUTINES, wrapped


def routine_text(engine: Engine, name: str, kind: str, query: str) -> str:
    """The text of a routine that is right as it stands. ProblemError for a name that is none or is taken, and for a
    query that cannot be wrapped."""
    schema, _, short = name.rpartition(".")
    if not short.isidentifier() or not name.isascii():
        raise ProblemError(Problem("42601", f"{name} is no name for a routine"))
    if schema and schema.lower() not in engine.catalog.schemas:
        raise ProblemError(Problem("3F000", f"there is no schema {schema}"))
    if name.lower() in engine.catalog.routines:
        raise ProblemError(Problem("42710", f"there is a routine {name} already"))
    return wrapped(engine, name, query) if query else ROUTINES[kind].replace("{name}", name)
