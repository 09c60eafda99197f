"""The proof grid: routines down, kinds of evidence across, one cell chosen."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
from typing import NamedTuple

from textual import events
from textual.binding import Binding
from textual.message import Message

from glimb.suite.coverage import Share
from glimb.suite.evidence import ASSERTED, CANNOT, EVIDENCE, NEVER, SEEN, Row
from glimb.suite.wording import cut
from glimb.tui.lines import Item, Lines, fixed
from glimb.tui.palette import Palette
from glimb.tui.text import Text

SIGNS = {ASSERTED: "■", SEEN: "□", NEVER: "·", CANNOT: "–"}
COLUMNS = (*EVIDENCE, "arms", "conditions")


class Column(NamedTuple):
    """A kind of evidence: its head where there is room, a short one, and what it says in a sentence."""

    head: str
    short: str
    told: str


HEADS = {
    "called": Column("called", "call", "it was called"),
    "result": Column("result", "res", "it gave a result, or did its work"),
    "null_argument": Column("NULL", "NULL", "an argument was NULL"),
    "no_row": Column("none", "none", "a query in it found no row, or it gave none"),
    "many_rows": Column("many", "many", "a query in it found more rows than one (21000)"),
    "raises": Column("raises", "rais", "it was left by an exception"),
    "handler": Column("handled", "hand", "each of its handlers took a condition"),
    "undone": Column("undone", "undo", "what it changed was rolled back"),
    "waits": Column("waits", "wait", "it waited for a lock, or lost a deadlock"),
    "arms": Column("arms", "arms", "arms of IF and CASE that were taken, of all"),
    "conditions": Column("conditions", "cond", "true, false and unknown of its conditions that were met, of all"),
}
STANDING = {
    ASSERTED: "asserted: an expectation that was met covers it",
    SEEN: "only seen: no expectation covers it",
    NEVER: "never: no case has shown it",
    CANNOT: "cannot be",
}
WIDEST_NAME = 26


class Widths(NamedTuple):
    """How wide the names and the columns are, and which heads stand above them."""

    name: int
    columns: tuple[int, ...]
    heads: tuple[str, ...]


def widths_for(rows: Sequence[Row], room: int) -> Widths:
    """The best heads that there is room for."""
    name = min(WIDEST_NAME, max((len(row.name) for row in rows), default=8) + 1, max(10, room // 3))
    numbers = max((len(_share(s)) for row in rows for s in (row.arms, row.conditions)), default=5) + 2
    for heads in ([HEADS[c].head for c in COLUMNS], [HEADS[c].short for c in COLUMNS]):
        columns = tuple(
            max(len(h) + 1, numbers if c in COLUMNS[-2:] else 0) for h, c in zip(heads, COLUMNS, strict=True)
        )
        if name + sum(columns) <= room:
            return Widths(name, columns, tuple(heads))
    columns = tuple(numbers if c in COLUMNS[-2:] else 2 for c in COLUMNS)
    return Widths(name, columns, tuple(h[:1] if c in EVIDENCE else h for h, c in zip(heads, COLUMNS, strict=True)))


def _share(share: Share) -> str:
    return f"{share.taken}/{share.all}" if share.all else SIGNS[CANNOT]


def standing(row: Row, column: str) -> str:
    """How a cell stands."""
    if column in EVIDENCE:
        return row.evidence[column]
    share = row.arms if column == "arms" else row.conditions
    return CANNOT if not share.all else ASSERTED if share.taken == share.all else SEEN if share.taken else NEVER


def told_standing(row: Row, column: str) -> str:
    """How a cell stands, in words."""
    if column in EVIDENCE:
        return STANDING[row.evidence[column]]
    share = row.arms if column == "arms" else row.conditions
    return (
        f"{share.all - share.taken} never met"
        if share.all > share.taken
        else "all met"
        if share.all
        else "there is none"
    )


def cell_text(row: Row, column: str) -> str:
    """What a cell shows."""
    if column in EVIDENCE:
        return SIGNS[row.evidence[column]]
    return _share(row.arms if column == "arms" else row.conditions)


class ProofGrid(Lines):
    """Cells are chosen with the arrows; Enter goes into one."""

    BINDINGS = [
        Binding("left", "across(-1)", "to the left"),
        Binding("right", "across(1)", "to the right"),
    ]

    class CellChosen(Message):
        """Another cell has been chosen."""

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self.rows: list[Row] = []
        self.column = 0
        self.widths = Widths(10, (2,) * len(COLUMNS), ("",) * len(COLUMNS))
        self._colours: Palette | None = None

    @property
    def cell(self) -> tuple[Row, str] | None:
        """The chosen cell: a routine and a kind of evidence."""
        key = self.key
        return (self.rows[key], COLUMNS[self.column]) if key is not None and key < len(self.rows) else None

    def show_rows(self, rows: list[Row], shown: dict[str, str], colours: Palette) -> None:
        """Show these routines, under the names of their files."""
        chosen = self.cell
        self.rows, self._colours = rows, colours
        self.widths = widths_for(rows, self.size.width - 3)
        items: list[Item] = []
        for file, some in groupby(enumerate(rows), key=lambda one: one[1].file):
            if items:
                items.append(fixed(Text("")))
            name = cut(shown.get(file, file), max(8, self.size.width - 3))
            items.append(fixed(Text(f" {name}", style=f"bold {colours.accent}")))
            items += [Item(lambda n=number: [self._line(n)], number) for number, _ in some]  # type: ignore[misc]
        same = (
            n for n, r in enumerate(rows) if chosen is not None and (r.file, r.name) == (chosen[0].file, chosen[0].name)
        )
        self.show(items, next(same, self.key), colours.chosen, rows)

    def head(self, colours: Palette) -> Text:
        """The heads of the columns."""
        head = Text("  ".ljust(self.widths.name + 2), style=colours.quiet)
        for number, (width, text) in enumerate(zip(self.widths.columns, self.widths.heads, strict=True)):
            is_here = number == self.column and self.has_focus
            head.append(" " + text.center(width - 1), style=f"bold {colours.accent}" if is_here else colours.quiet)
        return head

    def _line(self, number: int) -> Text:
        colours, row = self._colours, self.rows[number]
        assert colours is not None
        line = Text("  ").append(cut(row.name, self.widths.name - 1).ljust(self.widths.name), style=colours.text)
        styles = {ASSERTED: colours.met, SEEN: colours.warn, NEVER: f"bold {colours.slip}", CANNOT: colours.faint}
        for at, (width, column) in enumerate(zip(self.widths.columns, COLUMNS, strict=True)):
            style = styles[standing(row, column)]
            is_here = number == self.key and at == self.column and self.has_focus
            line.append(" " + cell_text(row, column).center(width - 1), style=f"{style} reverse" if is_here else style)
        return line

    def _choose(self, number: int) -> None:
        before = self.chosen
        super()._choose(number)
        self._draw_anew(before, number)

    def _draw_anew(self, *numbers: int) -> None:
        for number in numbers:
            self.drawn.pop(number, None)
        self.refresh()
        self.post_message(self.CellChosen())

    def action_across(self, by: int) -> None:
        self.column = max(0, min(len(COLUMNS) - 1, self.column + by))
        self._draw_anew(self.chosen)

    def on_click(self, event: events.Click) -> None:
        start = 2 + self.widths.name
        for number, width in enumerate(self.widths.columns):
            if start <= event.x < start + width:
                self.column = number
            start += width
        super().on_click(event)
        self._draw_anew(self.chosen)

    def on_focus(self) -> None:
        self._draw_anew(self.chosen)

    def on_blur(self) -> None:
        self._draw_anew(self.chosen)
