"""Colours and signs. Every meaning has a shape of its own; colour only repeats it."""

from __future__ import annotations

from typing import NamedTuple

from textual.theme import Theme

MET, SLIP, NOT_RUN, BROKEN, SKIPPED = "✓", "×", "·", "■", "–"
VERDICT_SIGNS = {"met": MET, "slipped": SLIP, "broken": BROKEN, "skipped": SKIPPED, "": NOT_RUN}

RAIL_NONE, RAIL_OPEN, RAIL_WAITING = "┊", "┃", "╏"
DIFFERS, MARKED, LANE = "≠", "*", "│"
NODE, NODE_NONE = "●", "○"
COMMIT, ROLLBACK, KNOT, BACK, WAIT, WAKE = "◆", "◇", "■", "↺", "⧗", "▶"
LOCK_TAKEN, LOCK_CONVERTED, LOCK_HELD, LOCK_WANTED, LOCK_FREED = "┬", "┼", "│", "║", "┴"
LOCK_MODES = {"S": "S", "U": "U", "X": "X", "IS": "s", "IX": "x", "SIX": "$"}
"""The mode on a lock bar: small letters for intentions on a table, both at once for shared with the intention of X."""


class Palette(NamedTuple):
    """The colours of one theme."""

    text: str
    quiet: str
    faint: str
    accent: str
    met: str
    slip: str
    warn: str
    chosen: str
    sessions: tuple[str, ...]

    def session(self, number: int) -> str:
        """Colour of the session with this number."""
        return self.sessions[number % len(self.sessions)]


DUSK = Palette(
    "#d9dee6", "#8f9bab", "#4a5666", "#e3b062", "#8cc98a", "#ff8a75", "#e3b062", "#233246",
    ("#7cc4dd", "#d9a6e8", "#e3c37a", "#9bd08f", "#f0a08c"),
)  # fmt: skip
NOON = Palette(
    "#1f2a33", "#5b6875", "#b3bbb8", "#8a5a00", "#1d6b34", "#b3261e", "#8a5a00", "#d9e6ea",
    ("#00607d", "#7b2f91", "#7a5600", "#2c6e1f", "#a33b1c"),
)  # fmt: skip

PALETTES = {"glimb-dusk": DUSK, "glimb-noon": NOON}
THEMES = (
    Theme(
        name="glimb-dusk",
        primary="#7cc4dd",
        secondary="#d9a6e8",
        accent="#e3b062",
        foreground="#d9dee6",
        background="#10161e",
        surface="#161e29",
        panel="#1c2735",
        success="#8cc98a",
        warning="#e3b062",
        error="#ff8a75",
        dark=True,
    ),
    Theme(
        name="glimb-noon",
        primary="#00607d",
        secondary="#7b2f91",
        accent="#8a5a00",
        foreground="#1f2a33",
        background="#f6f5ef",
        surface="#eeede4",
        panel="#e3e4dc",
        success="#1d6b34",
        warning="#8a5a00",
        error="#b3261e",
        dark=False,
    ),
)
