"""A table of cells: rows by what is in sight, a cell chosen with the arrows. What they are is for others to know."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from textual import events
from textual.binding import Binding
from textual.message import Message

from glimb.suite.wording import cut
from glimb.tui.lines import Item, Lines, Stack
from glimb.tui.palette import Palette
from glimb.tui.text import Text

MEASURED, WIDEST, LEAST = 200, 34, 3
"""Rows that are looked at for how wide columns are; and how wide they are at most and at least."""


class Drawn(NamedTuple):
    """A cell as it is drawn: its text, and its style (a colour, or several words)."""

    text: str
    style: str


class Column(NamedTuple):
    """A column: its head, what stands behind the head dimly, and whether its values stand at the right."""

    head: str
    told: str
    is_number: bool


class Cells(Lines):
    """Shows `count` rows; a cell is drawn by `draw(row, column)`, what stands before a row by `mark(row)`."""

    BINDINGS = [
        Binding("left", "across(-1)", "to the left"),
        Binding("right", "across(1)", "to the right"),
    ]

    class Moved(Message):
        """Another cell has been chosen."""

        def __init__(self, cells: Cells) -> None:
            super().__init__()
            self.cells = cells

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self.columns: Sequence[Column] = ()
        self.widths: list[int] = []
        self.column, self.first = 0, 0
        """The chosen column, and the first one in sight."""
        self.is_typed_into = False
        """Whether the chosen cell is told apart though something else has the focus."""
        self._count = 0
        self._draw: Callable[[int, int], Drawn] = lambda row, column: Drawn("", "")
        self._mark: Callable[[int], Drawn] = lambda row: Drawn(" ", "")
        self._colours: Palette | None = None

    @property
    def row(self) -> int | None:
        """The chosen row."""
        return self.key if self._count else None

    def show_cells(
        self,
        columns: Sequence[Column],
        count: int,
        draw: Callable[[int, int], Drawn],
        colours: Palette,
        mark: Callable[[int], Drawn] | None = None,
        row: int | None = None,
        about: object = None,
    ) -> None:
        """Show other rows, standing at one of them."""
        self.columns, self._count, self._draw, self._colours = columns, count, draw, colours
        self._mark = mark or (lambda row: Drawn(" ", ""))
        self.column = max(0, min(self.column, len(columns) - 1))
        measured = range(min(count, MEASURED))
        self.widths = [
            max(LEAST, min(WIDEST, max([len(c.head), *(len(draw(r, n).text) for r in measured)])))
            for n, c in enumerate(columns)
        ]
        self.first = min(self.first, self.column)
        stack = Stack([], count, 1, lambda n: Item(lambda: [self._line(n)], n))
        self.show(stack, self.key if row is None else row, colours.chosen, about)
        self._keep_column()

    def head(self, colours: Palette) -> Text:
        """The heads of the columns in sight."""
        head = Text("    ")
        for number in self._in_sight():
            column, width = self.columns[number], self.widths[number]
            is_here = number == self.column and (self.has_focus or self.is_typed_into)
            text = cut(column.head, width)
            style = f"bold {colours.accent if is_here else colours.quiet}"
            head.append(text.rjust(width) if column.is_number else text.ljust(width), style=style).append("  ")
        return head

    def _in_sight(self) -> range:
        room, last = self.size.width - 5, self.first
        while last < len(self.columns) and (room := room - self.widths[last] - 2) >= -2:
            last += 1
        return range(self.first, max(last, min(self.first + 1, len(self.columns))))

    def _line(self, number: int) -> Text:
        mark = self._mark(number)
        line = Text("  ").append(mark.text, style=mark.style).append(" ")
        for at in self._in_sight():
            text, style = self._draw(number, at)
            width, column = self.widths[at], self.columns[at]
            text = cut(text, width)
            is_here = number == self.key and at == self.column and (self.has_focus or self.is_typed_into)
            shown = text.rjust(width) if column.is_number else text.ljust(width)
            line.append(shown, style=f"{style} reverse" if is_here else style).append("  ")
        return line

    # -- moving

    def _keep_column(self) -> None:
        """Have the chosen column in sight."""
        before = self.first
        if self.column < self.first:
            self.first = self.column
        while self.column not in self._in_sight() and self.first < self.column:
            self.first += 1
        if self.first != before:
            self.drawn = {}
            self.refresh()

    def _choose(self, number: int) -> None:
        before = self.chosen
        super()._choose(number)
        self.draw_anew(before, number)

    def draw_anew(self, *numbers: int) -> None:
        """Draw some rows again, and tell that another cell is chosen."""
        for number in numbers:
            self.drawn.pop(number, None)
        self.refresh()
        self.post_message(self.Moved(self))

    def go_to(self, row: int, column: int) -> None:
        """Choose a cell."""
        self.column = max(0, min(len(self.columns) - 1, column))
        self._keep_column()
        if 0 <= row < self._count:
            self._choose(row)
        self.draw_anew(self.chosen)

    def action_across(self, by: int) -> None:
        self.column = max(0, min(len(self.columns) - 1, self.column + by))
        self._keep_column()
        self.draw_anew(self.chosen)

    def on_click(self, event: events.Click) -> None:
        start = 4
        for number in self._in_sight():
            if start <= event.x < start + self.widths[number] + 2:
                self.column = number
            start += self.widths[number] + 2
        super().on_click(event)
        self.draw_anew(self.chosen)

    def on_focus(self) -> None:
        self.draw_anew(self.chosen)

    def on_blur(self) -> None:
        self.draw_anew(self.chosen)
