"""Small questions over a screen: a line to type, lines to tick, one of several to choose."""

from __future__ import annotations

import traceback
from collections.abc import Callable
from typing import Any, ClassVar, TypeVar

from textual import events
from textual.app import ComposeResult
from textual.await_complete import AwaitComplete
from textual.binding import Binding
from textual.command import CommandPalette
from textual.containers import Vertical
from textual.css.query import NoMatches
from textual.screen import ModalScreen
from textual.widgets import Input, OptionList, SelectionList, Static
from textual.widgets import _option_list as option_list
from textual.widgets.option_list import Option
from textual.widgets.selection_list import Selection
from textual.worker import WorkerFailed

from glimb.tui.guarded import Guarded
from glimb.tui.text import Text

T = TypeVar("T")

STYLE = """
{0} {{ align: center middle; background: $background 60%; }}
{0} Vertical {{ width: 80%; max-width: 110; min-width: 24; height: auto; max-height: 90%;
    padding: 1 2; background: $panel;
    border: round $accent; }}
{0} Static {{ width: 100%; height: auto; }}
{0} SelectionList {{ height: auto; max-height: 20; min-width: 12; border: none; background: $surface; }}
{0} OptionList {{ height: auto; max-height: 20; min-width: 12; border: none; background: $surface; }}
"""


class Question(Guarded, ModalScreen[T]):
    """Is answered once, whatever else is pressed until it is gone."""

    BINDINGS: ClassVar = [Binding("escape", "leave", "leave it")]
    _is_answered = False
    take: Callable[[T | None], object] | None = None
    """What is done with the answer: at once, since a key that was pressed behind it is for what comes of it."""

    def answer(self, value: T | None) -> None:
        """Give an answer, and go."""
        if not self._is_answered and self.is_current:
            self._is_answered = True
            self.dismiss(None)
            if self.take is not None:
                self.take(value)

    def take_enter(self) -> bool:
        """Answer with what Enter takes; says whether it does."""
        return False

    def action_leave(self) -> None:
        """No answer."""
        self.answer(None)


class LineScreen(Question[str]):
    """Asks for a line of text; Esc gives None."""

    DEFAULT_CSS = STYLE.format("LineScreen")

    def __init__(self, question: str, value: str = "") -> None:
        super().__init__()
        self._question, self._value = question, value

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield Input(self._value, select_on_focus=False)
            yield Static("Enter takes it, Esc leaves it", markup=False)

    def on_mount(self) -> None:
        # At once, and not when the focus has come: what is typed right behind would be taken for what is selected.
        self.set_focus(self.query_one(Input))
        self.query_one(Input).action_select_all()

    def take_enter(self) -> bool:
        value = self.query_one(Input).value.strip()
        if value:
            self.answer(value)
        return True


class TicksScreen(Question[list[int]]):
    """Asks which of some lines are wanted, all of them ticked at first; Esc gives None."""

    DEFAULT_CSS = STYLE.format("TicksScreen")
    BINDINGS: ClassVar = [Binding("enter", "take", "take the ticked ones", priority=True)]

    def __init__(self, question: str, lines: list[str]) -> None:
        super().__init__()
        self._question, self._lines = question, lines

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield SelectionList(*(Selection(line, number, True) for number, line in enumerate(self._lines)))
            yield Static("Space ticks, Enter takes the ticked ones, Esc leaves it", markup=False)

    def action_take(self) -> None:
        self.answer(sorted(self.query_one(SelectionList).selected))


class ChoiceScreen(Question[int | str]):
    """Asks for one of several; with a `line`, for a text instead of them. Gives the number of what was chosen, or the
    text; Esc gives None."""

    DEFAULT_CSS = STYLE.format("ChoiceScreen")
    AUTO_FOCUS = None

    def __init__(self, question: str, options: list[str], chosen: int = 0, line: str = "") -> None:
        super().__init__()
        self._question, self._options, self._chosen, self._line = question, options, chosen, line

    def compose(self) -> ComposeResult:
        with Vertical():
            yield Static(self._question, markup=False)
            yield OptionList(*(Option(Text(option)) for option in self._options))
            if self._line:
                yield Static(self._line, markup=False)
                yield Input(select_on_focus=False)
            told = "Enter takes it, Esc leaves it" + (", Tab goes to the line and back" if self._line else "")
            yield Static(told, markup=False)

    def on_mount(self) -> None:
        options = self.query_one(OptionList)
        if self._options:
            options.highlighted = self._chosen
        self.set_focus(options if self._options else self.query_one(Input))  # at once: keys may come right behind

    def take_enter(self) -> bool:
        focused = self.focused
        if isinstance(focused, OptionList) and focused.highlighted is not None:
            self.answer(focused.highlighted)
        elif isinstance(focused, Input) and focused.value.strip():
            self.answer(focused.value.strip())
        return True

    def on_option_list_option_selected(self, message: OptionList.OptionSelected) -> None:
        """One was clicked."""
        self.answer(message.option_index)


class FaultScreen(Question[bool]):
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

    def on_key(self, event: events.Key) -> None:
        event.stop()
        self.answer(True)

    def on_click(self) -> None:
        self.answer(True)


class Finding(Guarded, CommandPalette):
    """The command palette, which is left once only."""

    _is_left = False

    def dismiss(self, result: Any = None) -> AwaitComplete:
        """Close it, unless that is being done."""
        if self._is_left:
            return AwaitComplete()
        self._is_left = True
        return super().dismiss(result)


def is_early_or_late(error: Exception) -> bool:
    """Whether this is but the framework's list that is asked for a page before it is laid out, or the search of a
    palette that is closed by now."""
    if isinstance(error, WorkerFailed):
        return isinstance(error.error, NoMatches)
    frames = list(traceback.walk_tb(error.__traceback__))
    return isinstance(error, KeyError) and bool(frames) and frames[-1][0].f_code.co_filename == option_list.__file__
