"""A call sheet as a table that is typed into: cells read and written, rows run as they stand, what was seen beside what
is expected.

In: the text of a sheet. Out: a `SheetTable`, whose changes give other ones, and `Ran` for each row. A cell is what
stands in the file: nothing for the default, NULL, a text as it is.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conversion import literal_of
from glimb.lang.printer import quoted
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.csv_reading import read_csv
from glimb.suite.results import CaseResult
from glimb.suite.runner import Runner
from glimb.suite.sheet_making import cell_of
from glimb.suite.sheets import ARRANGING, CHECK, EXPECTING, routines_of, script_of_sheet
from glimb.suite.tables import written_field

Cells = tuple[tuple[str, ...], ...]


class SheetTable(NamedTuple):
    """The columns by name, and the rows; a cell is written as it stands in the file, quotes included."""

    columns: tuple[str, ...]
    rows: Cells
    parameters: frozenset[str] = frozenset()
    """The names of the routine's parameters: a column of such a name is an argument, whatever else it might say."""

    def text(self) -> str:
        """The CSV file; rows in which nothing stands are none yet."""
        rows = (",".join(self.rows[number]) for number in self.calls)
        lines = [",".join(written_field(name) for name in self.columns), *rows]
        # A line of one empty cell would be no record at all.
        return "\n".join(line if line or len(self.columns) > 1 else '""' for line in lines) + "\n"

    @property
    def calls(self) -> list[int]:
        """The rows in which something stands."""
        return [number for number, row in enumerate(self.rows) if any(row)]

    def shown(self, row: int, column: int) -> str:
        """A cell as one reads it: without the quotes of the file."""
        return bare(self.rows[row][column])

    def put(self, row: int, column: int, texts: Sequence[Sequence[str]]) -> SheetTable:
        """With a block of cells put at a place; rows are added where it needs them, and what has no column is cut."""
        rows = [list(one) for one in self.rows]
        for down, line in enumerate(texts):
            while row + down >= len(rows):
                rows.append([""] * len(self.columns))
            for right, text in enumerate(line[: len(self.columns) - column]):
                rows[row + down][column + right] = written_field(text)
        return self._replace(rows=tuple(tuple(one) for one in rows))

    def with_rows(self, at: int, rows: Iterable[Sequence[str]]) -> SheetTable:
        """With more rows before one; short ones are filled up."""
        width = len(self.columns)
        new = [tuple([*map(written_field, row), *[""] * width][:width]) for row in rows]
        return self._replace(rows=(*self.rows[:at], *new, *self.rows[at:]))

    def without_row(self, row: int) -> SheetTable:
        return self._replace(rows=self.rows[:row] + self.rows[row + 1 :])

    def with_column(self, name: str) -> SheetTable:
        """With one more column, the last."""
        return self._replace(columns=(*self.columns, name), rows=tuple((*row, "") for row in self.rows))

    def filled_down(self, row: int, column: int) -> SheetTable:
        """With a cell in the empty ones below it, down to the next that is not empty."""
        rows = [list(one) for one in self.rows]
        for one in rows[row + 1 :]:
            if one[column]:
                break
            one[column] = rows[row][column]
        return self._replace(rows=tuple(tuple(one) for one in rows))

    def is_expected(self, column: int) -> bool:
        """Whether a column says what is expected."""
        name = self.columns[column].lower()
        return name not in self.parameters and name.split()[:1] != [] and name.split()[0] in EXPECTING


class Ran(NamedTuple):
    """A row that was run: its verdict, what was seen for each expecting column (None where that cannot be a cell), and
    what slipped or is wrong."""

    verdict: str
    seen: dict[int, str | None]
    told: tuple[str, ...]
    slipped: frozenset[int]
    """The columns whose expectations were not met."""

    def is_met(self, column: int) -> bool:
        """Whether an expectation of a column was met: of a row that could not be run none was."""
        return self.verdict in ("met", "slipped") and column not in self.slipped


def bare(cell: str) -> str:
    """A cell without the quotes of the file."""
    if len(cell) > 1 and cell[0] == cell[-1] == '"':
        return cell[1:-1].replace('""', '"') or "''"
    return cell


def parameters_of(root: Path | None, routine: str) -> frozenset[str]:
    """The names of a routine's parameters; none for one that there is not."""
    node = routines_of(root).get(routine)
    return frozenset(p.name.lower() for p in node.parameters) if node is not None else frozenset()


def read_table(source: Source, parameters: frozenset[str] = frozenset()) -> SheetTable:
    """A sheet's cells. ProblemError for what is no CSV."""
    records = [[source[field.span] for field in record] for record in read_csv(source)]
    if not records:
        return SheetTable((), (), parameters)
    columns, *rows = records
    width = len(columns)
    cells = tuple(tuple([*row, *[""] * width][:width]) for row in rows)
    return SheetTable(tuple(map(bare, columns)), cells, parameters)


def new_table(root: Path | None, routine: str) -> SheetTable:
    """The columns of a new sheet of a routine."""
    node = routines_of(root)[routine]
    wanted = [p.name for p in node.parameters if p.mode != "out"]
    outs = [p.name for p in node.parameters if p.mode != "in"]
    expected = ["count"] if node.table else ["value"] if node.kind == "function" else [f"value {name}" for name in outs]
    return SheetTable((*wanted, *expected, "fails"), (), parameters_of(root, routine))


def columns_for(table: SheetTable, root: Path | None, routine: str) -> list[str]:
    """The columns that a sheet could have and has not."""
    node = routines_of(root).get(routine)
    names = [p.name for p in node.parameters] if node is not None else []
    outs = [f"value {p.name}" for p in node.parameters if p.mode != "in"] if node is not None else []
    known = [*names, *(outs or ["value"]), "fails", "count", "holds", "note", CHECK, *ARRANGING]
    return [name for name in known if name not in table.columns]


def run_rows(runner: Runner, path: Path, table: SheetTable, rows: Iterable[int]) -> dict[int, Ran]:
    """Run some rows of a sheet as they stand, whatever the file has."""
    script = script_of_sheet(path, Source(table.text(), str(path)))
    if script.problems:
        told = tuple(problem.message for problem in script.problems)
        return {row: Ran("broken", {}, told, frozenset()) for row in rows}
    found, case_of = {}, dict(zip(table.calls, script.cases, strict=False))
    for row in rows:
        if row in case_of:
            try:
                found[row] = _ran(table, runner.run_case(script, case_of[row]))
            except ProblemError as error:
                found[row] = Ran("broken", {}, tuple(p.message for p in error.problems), frozenset())
    return found


def _ran(table: SheetTable, result: CaseResult) -> Ran:
    told = [problem.message for problem in result.problems]
    ladder = result.ladder
    if ladder is None or not ladder.rungs:
        return Ran(result.verdict, {}, tuple(told), frozenset())
    rung = ladder.rungs[-1]
    slips, slipped = list(rung.slips), set()
    for number, name in enumerate(table.columns):
        if table.is_expected(number):
            mine = [v for v in slips if v.expectation is not None and _is_of(name, v.expectation.text)]
            if mine:
                slipped.add(number)
    for verdict in slips:
        told.append(
            "; ".join(part for part in (verdict.expectation.text if verdict.expectation else "", verdict.seen) if part)
        )
    seen = {n: seen_in(rung.last, name) for n, name in enumerate(table.columns) if table.is_expected(n)}
    return Ran(result.verdict, seen, tuple(told), frozenset(slipped))


def _is_of(column: str, text: str) -> bool:
    """Whether an expectation was made of a column."""
    words, said = column.lower().split(), text.lower().split()
    return said[: len(words)] == words and (len(words) > 1 or words[0] != "value" or "=" not in said[2:3])


def seen_in(outcome: Outcome, column: str) -> str | None:
    """What a call gave, as a cell of an expecting column; None for a column of which that cannot be said."""
    word, *names = column.lower().split()
    if word == "fails":
        return outcome.failure.sqlstate if outcome.failure is not None else ""
    if outcome.failure is not None:
        return "" if word in ("value", "count") else None
    if word == "count" and not names:
        return str(len(outcome.rows)) if outcome.rows is not None else None
    if word == "value" and names:
        return next((cell_of(literal_of(v, t)) for name, t, v in outcome.out if name.lower() == " ".join(names)), None)
    if word == "value" and outcome.rows:
        return cell_of(literal_of(outcome.rows[0][0], outcome.columns[0].type))
    if word == "note":
        return quoted(outcome.notes[0]) if len(outcome.notes) == 1 else None
    return None


def taken(table: SheetTable, row: int, ran: Ran, columns: Iterable[int]) -> SheetTable:
    """With what was seen in the place of what was expected."""
    for column in columns:
        seen = ran.seen.get(column)
        if seen is not None and seen != table.shown(row, column):
            table = table.put(row, column, [[seen]])
    return table


def pasted(text: str) -> list[list[str]]:
    """Cells that were copied from a spreadsheet (tabs between them), or lines of CSV."""
    # A terminal sends line ends as carriage returns.
    lines = text.replace("\r\n", "\n").replace("\r", "\n").rstrip("\n").split("\n")
    if any("\t" in line for line in lines):
        return [line.split("\t") for line in lines]
    try:
        source = Source("\n".join(lines), "pasted")
        return [[bare(source[field.span]) for field in record] for record in read_csv(source)]
    except ProblemError:
        return [[line] for line in lines]
