"""Small questions over a screen: a line to type, lines to tick, one of several to choose."""

from __future__ import annotations

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding
from textual.containers import Vertical
from textual.screen import ModalScreen
from textual.widgets import Input, OptionList, SelectionList, Static
from textual.widgets.option_list import Option
from textual.widgets.selection_list import Selection

from glimb.tui.text import Text

STYLE = """
{0} {{ align: center middle; background: $background 60%; }}
{0} Vertical {{ width: 80%; max-width: 110; height: auto; max-height: 90%; padding: 1 2; background: $panel;
    border: round $accent; }}
{0} Static {{ width: 100%; height: auto; }}
{0} SelectionList {{ height: auto; max-height: 20; border: none; background: $surface; }}
{0} OptionList {{ height: auto; max-height: 20; border: none; background: $surface; }}
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


class ChoiceScreen(ModalScreen[int | str | None]):
    """Asks for one of several; with a `line`, for a text instead of them. Gives the number of what was chosen, or the
    text; Esc gives None."""

    DEFAULT_CSS = STYLE.format("ChoiceScreen")
    BINDINGS: ClassVar = [Binding("escape", "leave", "leave it")]

    def __init__(self, question: str, options: list[str], chosen: int = 0, line: str = "") -> None:
        super().__init__()
        self._question, self._options, self._chosen, self._line = question, options, chosen, line

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield OptionList(*(Option(Text(option)) for option in self._options))
            if self._line:
                yield Static(self._line, markup=False)
                yield Input()
            told = "Enter takes it, Esc leaves it" + (", Tab goes to the line and back" if self._line else "")
            yield Static(told, markup=False)

    def on_mount(self) -> None:
        options = self.query_one(OptionList)
        if self._options:
            options.highlighted = self._chosen
        (options if self._options else self.query_one(Input)).focus()

    def on_option_list_option_selected(self, message: OptionList.OptionSelected) -> None:
        if self.is_current:
            self.dismiss(message.option_index)

    def on_input_submitted(self, message: Input.Submitted) -> None:
        if self.is_current and message.value.strip():
            self.dismiss(message.value.strip())

    def action_leave(self) -> None:
        if self.is_current:
            self.dismiss(None)


class FaultScreen(ModalScreen[None]):
    """Tells of a fault of ours. Any key goes on."""

    DEFAULT_CSS = STYLE.format("FaultScreen")

    def __init__(self, told: str) -> None:
        super().__init__()
        self._told = told

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static("A fault of the program, not of what you did. What was typed is still there.", markup=False)
            yield Static(Text(f"\n{self._told}\n"))
            yield Static("any key goes on", markup=False)

    def on_key(self) -> None:
        if self.is_current:
            self.dismiss()

    def on_click(self) -> None:
        self.on_key()
