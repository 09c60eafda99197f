"""What all screens share: a head, the keys that work at the foot, sizes, help, and faults that end nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, ClassVar, NamedTuple

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.screen import Screen
from textual.widgets import Static

from glimb.tui.foot import Foot, Told
from glimb.tui.guarded import Guarded
from glimb.tui.host import Host
from glimb.tui.keys import KeysScreen
from glimb.tui.text import Text

SHOWN = {
    "escape": "Esc",
    "enter": "Enter",
    "space": "Space",
    "backspace": "Backspace",
    "delete": "Del",
    "minus": "-",
    "tab": "Tab",
    "up": "↑",
    "down": "↓",
    "left": "←",
    "right": "→",
    "home": "Home",
    "end": "End",
    "slash": "/",
    "full_stop": ".",
    "comma": ",",
    "question_mark": "?",
    "ctrl+p": "Ctrl+P",
}
"""How keys are named that are no letters."""

NARROW = 100
"""Columns below which a screen has room for one pane."""


class Key(NamedTuple):
    """A key (several, with commas), what it does, the word for it at the foot and the sentence in the help."""

    keys: str
    action: str
    word: str
    told: str
    at_foot: bool = False
    display: str = ""

    def shown(self) -> str:
        """The key as the help names it."""
        return self.display or "  ".join(SHOWN.get(key, key) for key in self.keys.split(","))


GOING = [
    Key("S", "app.go('survey')", "Survey", "the survey: cases and proof grid"),
    Key("L", "app.go('ladder')", "Ladder", "the ladder seen last"),
    Key("T", "app.go('tables')", "Tables", "the tables: rows of the fixture, or behind the chosen rung"),
    Key("C", "app.go('sheet')", "Call sheet", "the call sheet of the routine that is chosen, or the one seen last"),
    Key("F", "app.go('findings')", "Findings", "the findings: what is wrong or dubious in the files"),
    Key("R", "app.go('routine')", "Routine", "the routine that is chosen, or the one seen last"),
]
"""Keys that change the screen."""
DRAW = Key("P", "app.draw_shown", "draw", "draw what is shown into a file, SVG or PDF", True)
"""On every screen."""


def bindings(keys: Iterable[Key]) -> list[BindingType]:
    """The keys of a screen as the framework wants them."""
    return [Binding(k.keys, k.action, k.word, key_display=k.shown().split("  ")[0], tooltip=k.told) for k in keys]


class Page(Guarded, Screen[None]):
    """A full screen. Its class says its `NAME` and `KEYS`."""

    app: Host
    NAME: ClassVar[str]
    KEYS: ClassVar[list[Key]]
    WITH_SIGNS: ClassVar = False
    HORIZONTAL_BREAKPOINTS = [(0, "narrow"), (NARROW, "wide")]

    def __init__(self) -> None:
        super().__init__()
        self.head = Static("", id="head")
        self.full = False
        """Whether the pane has the whole screen."""

    def compose(self) -> ComposeResult:
        yield self.head
        yield from self.body()
        yield Foot(self._at_foot, id="foot")

    def _at_foot(self) -> Iterator[Told]:
        return ((key.keys.split(",")[0], key.shown().split("  ")[0], key.word) for key in self.KEYS if key.at_foot)

    def body(self) -> ComposeResult:
        """What stands between head and foot."""
        raise NotImplementedError

    def draw(self) -> None:
        """Draw everything anew."""
        raise NotImplementedError

    def on_resize(self) -> None:
        self.call_after_refresh(self.draw)

    def named(self) -> Text:
        """How the head begins."""
        return Text().append(f" {self.NAME} ", style=f"bold reverse {self.app.colours.accent}")

    def action_full(self) -> None:
        """Give the pane the whole screen, or its side of it."""
        self.full = not self.full
        self.set_class(self.full, "full")
        self.query_one("Pane" if self.full else "Lines").focus()
        self.call_after_refresh(self.draw)

    def action_stop(self) -> None:
        """End what the worker does."""
        self.app.worker.stop()

    def action_keys(self) -> None:
        """The list of all keys."""
        keys = [(key.shown(), key.told) for key in self.KEYS]
        self.app.push_screen(KeysScreen(self.NAME, keys, self.WITH_SIGNS))

    def told(self, message: str, **options: Any) -> None:
        """Say something at the corner."""
        self.app.notify(message, **options)
