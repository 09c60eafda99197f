"""What would steer a terminal is shown as a picture of itself."""

from __future__ import annotations

from glimb.lang.visible import visible


def test_control_characters_have_their_own_pictures() -> None:
    assert visible("\x00\x1b\x1f\n\x7f") == "␀␛␟\n␡"
