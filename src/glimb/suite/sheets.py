"""Call sheets: a CSV file of calls of one routine, read as a script with a case for each row.

In: `sheets/ROUTINE.csv` or `sheets/ROUTINE.NAME.csv` of a project. Out: a Script whose places are those of the file.
A column for each parameter (empty: the default; NULL: NULL), then columns named by expecting words, `check`, and
columns that arrange: `case`, `fixture`, `tags`, `skip`.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple, NoReturn

from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.parser import parse
from glimb.lang.printer import name as written
from glimb.lang.printer import names
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.visible import escaped
from glimb.suite.csv_reading import Field, read_csv
from glimb.suite.expectations.line import name_text
from glimb.suite.project import find_root, read_text
from glimb.suite.script import Script, read_source

ARRANGING = ("case", "fixture", "tags", "skip")
CHECK = "check"
EXPECTING = (
    "value",
    "fails",
    "handled",
    "count",
    "change",
    "holds",
    "note",
    "rows",
    "no",
    "at",
    "never",
    "deadlock",
    "lock",
    "rolled",
)
QUOTED = frozenset("char varchar clob character text nchar nclob".split())
MOMENTS = frozenset(("date", "time", "timestamp"))


class SheetSource(Source):
    """The script that a sheet makes; its places are told as lines of the sheet."""

    __slots__ = ("lines", "sheet")

    def __init__(self, text: str, sheet: Source, lines: list[int]) -> None:
        super().__init__(text, sheet.name)
        self.sheet = sheet
        self.lines = lines
        """Of each line of the script, the line of the sheet."""

    def line(self, offset: int) -> int:
        """The line of the sheet."""
        return self.lines[min(super().line(offset), len(self.lines)) - 1]

    def column(self, offset: int) -> int:
        """Always the first: a call is made of a whole row."""
        return 1

    def excerpt(self, span: Span) -> str:
        """The row, and below it the line of the script."""
        text = self.sheet.line_text(self.line(span.start))
        return f"{text}\n{self.text[span.start : span.end].strip()}"


class Routine(NamedTuple):
    """What a sheet needs to know of its routine: how it is called."""

    node: tree.CreateRoutine

    @property
    def parameters(self) -> dict[str, tree.Parameter]:
        return {p.name: p for p in self.node.parameters}

    @property
    def outs(self) -> list[tree.Parameter]:
        return [p for p in self.node.parameters if p.mode != "in"]


def is_sheet(path: Path) -> bool:
    """Whether a file is a sheet, not a script."""
    return path.suffix == ".csv"


def read_sheet(path: Path) -> Script:
    """A sheet as a script; what is wrong with it as a whole is among the script's problems."""
    try:
        return script_of_sheet(path, read_text(path))
    except ProblemError as error:
        return Script(str(path), Source("", str(path)), [], list(error.problems), [], [])


def script_of_sheet(path: Path, sheet: Source) -> Script:
    """The text of a sheet as a script, whatever stands in its file."""
    try:
        text, lines = _script_of(path, sheet)
    except ProblemError as error:
        return Script(str(path), Source("", str(path)), [], list(error.problems), [], [])
    return read_source(str(path), SheetSource(text, sheet, lines))


def _script_of(path: Path, sheet: Source) -> tuple[str, list[int]]:
    """The text of the script, and the line of the sheet for each of its lines."""
    routine = _routine(path, sheet)
    records = read_csv(sheet)
    header = next(records, None)
    if header is None:
        raise ProblemError(Problem("22018", "a sheet begins with the names of its columns", Span(0, 1), "", sheet))
    columns = [_column(routine, field, sheet) for field in header]
    for number, field in enumerate(header):
        if columns[number] in columns[:number]:
            _fail("42701", f"column {columns[number]} stands twice", field, sheet)
    out: list[str] = []
    lines: list[int] = []
    for number, record in enumerate(records, 1):
        if len(record) != len(columns):
            _fail("22018", f"{len(record)} fields, the header has {len(columns)}", record[-1], sheet)
        row = {name: sheet[f.span] if f.text is None else f.text for name, f in zip(columns, record, strict=True)}
        bare = {name for name, f in zip(columns, record, strict=True) if sheet[f.span] in ("", "NULL")}
        made = list(_case(routine, row, bare, f"{path.stem} row {number}"))
        out += made
        lines += [sheet.line(record[0].span.start)] * sum(line.count("\n") + 1 for line in made)
    return "\n".join(out) + "\n", lines or [1]


def _fail(sqlstate: str, message: str, field: Field, sheet: Source, hint: str = "") -> NoReturn:
    raise ProblemError(Problem(sqlstate, message, field.span, hint, sheet))


def _routine(path: Path, sheet: Source) -> Routine:
    """The routine that a sheet is named after, as the project's files define it last."""
    known = routines_of(find_root(path.parent))
    name = routine_of(path, known)
    if name not in known:
        hint = nearest(name, known) or "sheets/ROUTINE.csv or sheets/ROUTINE.NAME.csv"
        raise ProblemError(Problem("42883", f"there is no routine {name} for this sheet", Span(0, 1), hint, sheet))
    return Routine(known[name])


def routine_of(path: Path, known: Collection[str]) -> str:
    """The name of the routine that a sheet is of: the longest one that there is of ROUTINE.csv or ROUTINE.NAME.csv."""
    words = path.name.lower().split(".")[:-1]
    spelled = {name.lower(): name for name in known}
    said = [".".join(words[:count]) for count in range(len(words), 0, -1)]
    return next((spelled[name] for name in said if name in spelled), words[0])


def routines_of(root: Path | None) -> dict[str, tree.CreateRoutine]:
    """The routines that the files of a project define, by name, those of a schema or module without its name too."""
    if root is None:
        return {}
    paths = sorted((root / "schema").rglob("*.sql")) + sorted((root / "routines").rglob("*.sql"))
    return dict(_defined(tuple((str(p), p.stat().st_mtime_ns) for p in paths)))


@lru_cache(maxsize=4)
def _defined(files: tuple[tuple[str, int], ...]) -> tuple[tuple[str, tree.CreateRoutine], ...]:
    found: list[tuple[str, tree.CreateRoutine]] = []
    for statement in (s for name, _ in files for s in parse(read_text(name)).statements):
        module = statement.name if isinstance(statement, tree.CreateModule) else ()
        for one in statement.elements if isinstance(statement, tree.CreateModule) else [statement]:
            if isinstance(one, tree.CreateRoutine):
                parts = (*module, *one.name)[-2:]
                found.append((".".join(p for p in parts if p != DEFAULT_SCHEMA), replace(one, name=parts)))
    return (*((name.rpartition(".")[2], one) for name, one in found), *found)  # whole names go before short ones


def _column(routine: Routine, field: Field, sheet: Source) -> str:
    name = (field.text or "").strip()
    words = name.lower().split()
    if not words:
        _fail("42703", "a column without a name", field, sheet)
    mine = next((p for p in routine.parameters if p.lower() == name.lower()), "")
    if mine or name.lower() in (*ARRANGING, CHECK):
        return mine or name.lower()
    if words[0] in EXPECTING:
        return name
    known = [*routine.parameters, *ARRANGING, CHECK, "value", "fails", "count", "change TABLE", "holds"]
    _fail("42703", f"{names(routine.node.name)} has no parameter {name}", field, sheet, nearest(name.lower(), known))


def _case(routine: Routine, row: dict[str, str], bare: set[str], title: str) -> Iterator[str]:
    """The lines of the case that a row makes."""
    yield f"--# case {' '.join(row.get('case', '').split()) or title}"
    yield from (f"--# {word} {row[word]}" for word in ARRANGING[1:] if row.get(word))
    yield f"{_call(routine, row, bare)};"
    for name, cell in row.items():
        if name.split()[0].lower() in EXPECTING and name not in routine.parameters and cell:
            yield f"--> {_on_one_line(_expected(routine, name, cell, name in bare))}"
    if row.get(CHECK):
        yield f"--> {_on_one_line(_check(routine, row[CHECK]))}"


_TEXT = r"(?:[uU]&)?'(?:[^']|'')*'"


def _on_one_line(text: str) -> str:
    """A cell of several lines as an expecting line has it: ends of lines within texts by their number."""

    def told(found: re.Match[str]) -> str:
        text = found[0]
        if "\n" not in text or text[0] != "'":
            return text.replace("\n", r"\000A")
        return escaped(text[1:-1].replace("''", "'"))

    return re.sub(_TEXT, told, text).replace("\n", " ")


def _call(routine: Routine, row: dict[str, str], bare: set[str]) -> str:
    node = routine.node
    arguments = []
    for parameter in node.parameters:
        if parameter.mode == "out":
            arguments.append(f"{written(parameter.name)} => ?")
        elif row.get(parameter.name, "") or (parameter.name in row and parameter.name not in bare):
            value = "NULL" if parameter.name in bare else literal(row[parameter.name], parameter.type)
            arguments.append(f"{written(parameter.name)} => {value}")
    call = f"{names(node.name)}({', '.join(arguments)})"
    if node.kind == "procedure":
        return f"CALL {call}"
    return f"SELECT * FROM TABLE({call})" if node.table else f"SELECT {call} AS value"


_WRITTEN = r"(?s)(?:[uU]&)?'.*'"


def literal(text: str, type_: tree.TypeName) -> str:
    """A cell as a value of a type: texts and moments need no quotes; what is written as in SQL stays so."""
    name = type_.name.split()[0]
    if name in QUOTED and not re.fullmatch(_WRITTEN, text):
        return "'" + text.replace("'", "''") + "'"
    if name in MOMENTS and text[:1].isdigit():
        return f"{name.upper()} '{text}'"
    return text


def _expected(routine: Routine, name: str, cell: str, is_null: bool) -> str:
    """An expecting line: the words of the column and the cell; a value as its type has it."""
    words = name.split()
    if words[0].lower() == "holds" and routine.node.kind == "function" and not routine.node.table:
        return f"holds EXISTS (SELECT * FROM RESULT WHERE {cell})"
    if words[0].lower() != "value":
        return f"{name} {cell}"
    out = name[len("value") :].strip()
    found = next((p for p in routine.outs if p.name.lower() == out.lower()), None)
    type_ = routine.node.returns if not out else found.type if found is not None else None
    value = "NULL" if is_null else cell if type_ is None else literal(cell, type_)
    return f"value {name_text(found.name if found is not None else out)} = {value}" if out else f"value {value}"


def _check(routine: Routine, query: str) -> str:
    """The call's value, that of its one OUT parameter, or its rows, must be those of an independent query."""
    if routine.node.table:
        return (
            f"holds NOT EXISTS (SELECT * FROM RESULT EXCEPT ALL {query}) "
            f"AND NOT EXISTS ({query} EXCEPT ALL SELECT * FROM RESULT)"
        )
    seen = "(SELECT value FROM RESULT)" if routine.node.kind == "function" else _one_out(routine)
    return f"holds {seen} IS NOT DISTINCT FROM ({query})"


def _one_out(routine: Routine) -> str:
    return routine.outs[0].name if routine.outs else "NULL"
