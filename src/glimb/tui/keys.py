"""The list of keys that work on a screen."""

from __future__ import annotations

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.screen import ModalScreen
from textual.widgets import Static

from glimb.tui import palette as P
from glimb.tui.text import Text

SIGNS = [
    (f"{P.RAIL_NONE} {P.RAIL_OPEN} {P.RAIL_WAITING}", "rail: no transaction, open, waiting"),
    (f"{P.COMMIT} {P.ROLLBACK}", "commit, rollback"),
    (f"{P.KNOT} {P.BACK}", "savepoint, back to one"),
    (f"{P.WAIT} {P.WAKE}", "starts to wait, goes on"),
    (f"{P.LOCK_TAKEN} {P.LOCK_HELD} {P.LOCK_WANTED} {P.LOCK_FREED}", "lock: taken, held, wanted by another, let go"),
    (f"{P.LOCK_CONVERTED}", "the same lock, now in another mode"),
    (" ".join(P.LOCK_MODES.values()), f"its mode: {', '.join(P.LOCK_MODES)}"),
    ("+1 ~1 -1", "rows inserted, updated, deleted"),
    (f"{P.MET}2 {P.SLIP}1", "expectations met, slipped"),
]


class KeysScreen(ModalScreen[None]):
    """Shows keys, and on the ladder what its signs mean. Any key closes it."""

    DEFAULT_CSS = """
    KeysScreen { align: center middle; background: $background 60%; }
    KeysScreen Vertical { width: auto; max-width: 90%; height: auto; max-height: 90%; padding: 1 3;
        background: $panel; border: round $accent; }
    KeysScreen Static { width: auto; height: auto; }
    """

    def __init__(self, title: str, keys: list[tuple[str, str]], with_signs: bool) -> None:
        super().__init__()
        self._title = title
        self._keys = keys
        self._with_signs = with_signs

    def on_key(self, event: events.Key) -> None:
        event.stop()
        if self.is_current:  # a second key may have been on its way already
            self.dismiss()

    def compose(self) -> ComposeResult:
        text = Text(f"{self._title}\n\n", style="bold")
        for key, meaning in self._keys:
            text.append(f"{key:>12}  ", style="bold")
            text.append(f"{meaning}\n", style="not bold")
        if self._with_signs:
            text.append("\nSigns\n\n")
            for sign, meaning in SIGNS:
                text.append(f"{sign:>12}  ", style="bold")
                text.append(f"{meaning}\n", style="not bold")
        text.append("\nany key closes this", style="not bold italic")
        with Vertical():
            yield Static(text)
