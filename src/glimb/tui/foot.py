"""The foot of a screen: the keys that work now, each to be clicked. One line of text: the framework's own foot makes a
widget of every key, anew whenever the focus moves, which takes longer than all else that a key does."""

from __future__ import annotations

from textual.screen import Screen
from textual.widgets import Static

from glimb.tui.palette import PALETTES
from glimb.tui.text import Text


class Foot(Static):
    """Is drawn when what can be done has changed."""

    def on_mount(self) -> None:
        self.screen.bindings_updated_signal.subscribe(self, self.draw)

    def draw(self, screen: Screen[object]) -> None:
        """Show the keys of what has the focus, and of the screen."""
        colours = PALETTES.get(self.app.theme, PALETTES["glimb-dusk"])
        line, shown = Text(" "), set[str]()
        for key, found in screen.active_bindings.items():
            binding = found.binding
            if not binding.show or not found.enabled or binding.action in shown:
                continue
            shown.add(binding.action)
            start = len(line)
            line.append(binding.key_display or key, style=f"bold {colours.accent}")
            line.append(f" {binding.description}", style=colours.quiet)
            line.apply_meta({"@click": f"app.press('{key}')"}, start, len(line))
            line.append("  ")
        self.update(line)
