"""Text on the screen: whatever it comes from, nothing in it steers the terminal or hides."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rich import text as rich_text

from glimb.lang.visible import visible


class Text(rich_text.Text):
    """A styled text that shows its control characters as signs, one for each, so that widths stay."""

    def __init__(self, text: str = "", *arguments: Any, **options: Any) -> None:
        super().__init__(visible(text), *arguments, **options)

    def append(self, text: rich_text.Text | str, style: Any = None) -> Text:
        super().append(visible(text) if isinstance(text, str) else text, style)
        return self

    def append_text(self, text: rich_text.Text) -> Text:
        super().append_text(text)
        return self

    def blank_copy(self, plain: str = "") -> Text:
        return Text(plain, self.style)

    def join(self, lines: Iterable[rich_text.Text]) -> Text:
        joined = super().join(lines)
        assert isinstance(joined, Text)
        return joined
