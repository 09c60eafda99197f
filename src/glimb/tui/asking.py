"""Small questions over a screen: a line to type, lines to tick."""

from __future__ import annotations

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding
from textual.containers import Vertical
from textual.screen import ModalScreen
from textual.widgets import Input, SelectionList, Static
from textual.widgets.selection_list import Selection

STYLE = """
{0} {{ align: center middle; background: $background 60%; }}
{0} Vertical {{ width: 80%; max-width: 110; height: auto; max-height: 90%; padding: 1 2; background: $panel;
    border: round $accent; }}
{0} Static {{ width: 100%; height: auto; }}
{0} SelectionList {{ height: auto; max-height: 20; border: none; background: $surface; }}
"""


class LineScreen(ModalScreen[str | None]):
    """Asks for a line of text; Esc gives None."""

    DEFAULT_CSS = STYLE.format("LineScreen")
    BINDINGS: ClassVar = [Binding("escape", "leave", "leave it")]

    def __init__(self, question: str, value: str = "") -> None:
        super().__init__()
        self._question, self._value = question, value

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield Input(self._value)
            yield Static("Enter takes it, Esc leaves it", markup=False)

    def on_input_submitted(self, message: Input.Submitted) -> None:
        if self.is_current and message.value.strip():
            self.dismiss(message.value.strip())

    def action_leave(self) -> None:
        if self.is_current:
            self.dismiss(None)


class TicksScreen(ModalScreen[list[int] | None]):
    """Asks which of some lines are wanted, all of them ticked at first; Esc gives None."""

    DEFAULT_CSS = STYLE.format("TicksScreen")
    BINDINGS: ClassVar = [
        Binding("enter", "take", "take the ticked ones", priority=True),
        Binding("escape", "leave", "leave it"),
    ]

    def __init__(self, question: str, lines: list[str]) -> None:
        super().__init__()
        self._question, self._lines = question, lines

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield SelectionList(*(Selection(line, number, True) for number, line in enumerate(self._lines)))
            yield Static("Space ticks, Enter takes the ticked ones, Esc leaves it", markup=False)

    def action_take(self) -> None:
        if self.is_current:
            self.dismiss(sorted(self.query_one(SelectionList).selected))

    def action_leave(self) -> None:
        if self.is_current:
            self.dismiss(None)
