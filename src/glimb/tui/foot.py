"""The foot of a screen: the keys that work now, each to be clicked. One line of text: the framework's own foot makes a
widget of every key, anew whenever the focus moves, which takes longer than all else that a key does."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from textual import events
from textual.binding import Binding
from textual.screen import Screen
from textual.widget import Widget
from textual.widgets import Static, TextArea

from glimb.tui.palette import PALETTES
from glimb.tui.text import Text

Told = tuple[str, str, str]
"""A key, how it is shown, and the word for what it does."""


class Foot(Static):
    """Is drawn when what can be done has changed: while one types, it tells the keys of the text area."""

    def __init__(self, keys: Callable[[], Iterator[Told]], id: str) -> None:
        super().__init__("", id=id)
        self._keys = keys

    def on_mount(self) -> None:
        self.screen.bindings_updated_signal.subscribe(self, self.draw)

    def draw(self, screen: Screen[object]) -> None:
        """Show the keys."""
        colours = PALETTES.get(self.app.theme, PALETTES["glimb-dusk"])
        focused = self.screen.focused
        line = Text(" ")
        for key, shown, word in typing_keys(focused) if focused is not None and is_typing(focused) else self._keys():
            start = len(line)
            line.append(shown, style=f"bold {colours.accent}").append(f" {word}", style=colours.quiet)
            line.apply_meta({"press": key}, start, len(line))
            line.append("  ")
        self.update(line)

    async def on_click(self, event: events.Click) -> None:
        key = event.style.meta.get("press")
        if key:
            await self.app.run_action(f"app.press('{key}')")


def is_typing(widget: Widget) -> bool:
    """Whether one types into a widget that tells its own keys."""
    return isinstance(widget, TextArea) or getattr(widget, "TELLS_KEYS", False)


def typing_keys(area: Widget) -> Iterator[Told]:
    """The keys that a widget of ours tells while one types into it."""
    for binding in type(area).__dict__.get("BINDINGS", ()):
        if isinstance(binding, Binding):
            yield binding.key, binding.key_display or binding.key, binding.description
