"""A pane of text at the side, that scrolls."""

from __future__ import annotations

from collections.abc import Callable

from textual.app import ComposeResult
from textual.containers import VerticalScroll
from textual.widgets import Static

from glimb.tui.guarded import Guarded
from glimb.tui.text import Text


class Pane(Guarded, VerticalScroll, can_focus=True):
    """Shows a text that is drawn anew for its width."""

    def compose(self) -> ComposeResult:
        yield Static("", id="pane-text")

    def draw(self, make: Callable[[int], Text]) -> None:
        """Show what `make` gives for the width of the pane."""
        width = max(20, self.size.width - 3)
        self.query_one("#pane-text", Static).update(make(width))
        self.scroll_home(animate=False)
