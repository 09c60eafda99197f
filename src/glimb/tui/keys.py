"""The list of keys that work on a screen."""

from __future__ import annotations

from textual import events
from textual.app import ComposeResult
from textual.containers import Horizontal, VerticalScroll
from textual.widgets import Static

from glimb.tui import palette as P
from glimb.tui.asking import Question
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


class KeysScreen(Question[bool]):
    """Shows keys, and on the ladder what its signs mean. Any key closes it."""

    DEFAULT_CSS = """
    KeysScreen { align: center middle; background: $background 60%; }
    KeysScreen VerticalScroll { width: auto; max-width: 96%; height: auto; max-height: 96%; padding: 0 2;
        background: $panel; border: round $accent; }
    KeysScreen Horizontal { width: auto; height: auto; }
    KeysScreen Horizontal.narrow { layout: vertical; }
    KeysScreen Static { width: auto; height: auto; }
    """

    def __init__(self, title: str, keys: list[tuple[str, str]], with_signs: bool) -> None:
        """`keys` are keys as they are shown, each with what it does."""
        super().__init__()
        self._title = title
        self._keys = keys
        self._with_signs = with_signs

    def on_key(self, event: events.Key) -> None:
        event.stop()
        self.answer(True)

    def compose(self) -> ComposeResult:
        with VerticalScroll():
            yield Static(
                Text(f"{self._title}", style="bold").append("   any key closes this\n", style="not bold italic")
            )
            with Horizontal(classes="narrow" if self.app.size.width < 130 else ""):
                yield Static(_listed("", self._keys))
                if self._with_signs:
                    yield Static(_listed("Signs", SIGNS))


def _listed(title: str, pairs: list[tuple[str, str]]) -> Text:
    """Keys or signs below one another, with what they mean."""
    text = Text(f"{title}\n\n" if title else "", style="bold")
    for sign, meaning in pairs:
        text.append(f"{sign:>12}  ", style="bold")
        text.append(f"{meaning}\n", style="not bold")
    return text
