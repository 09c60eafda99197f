"""Colours on white. Every meaning has a shape or a word too: a drawing can be printed in grey."""

from __future__ import annotations

INK, QUIET, FAINT, PALE = "#1f2a33", "#5b6875", "#c3cad1", "#e9edf0"
MET, SLIP, WARN = "#1d6b34", "#b3261e", "#8a5a00"
SLIP_PALE, WARN_PALE, MET_PALE = "#fbe9e7", "#fbf3df", "#e6f2e9"
SESSIONS = ("#00607d", "#7b2f91", "#7a5600", "#2c6e1f", "#a33b1c")
SESSIONS_PALE = ("#e2f0f4", "#f2e7f5", "#f4eddb", "#e6f0e2", "#f7e8e2")


def session_colour(number: int) -> str:
    """The colour of the session with this number; there are more sessions than colours."""
    return SESSIONS[number % len(SESSIONS)]


def session_pale(number: int) -> str:
    """The same, as a ground for words."""
    return SESSIONS_PALE[number % len(SESSIONS_PALE)]
