"""A list of drawn items, one of them chosen. Items have one line or several; it draws only what is in sight."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Iterator
from typing import NamedTuple

from rich.segment import Segment
from rich.style import Style
from textual import events
from textual.binding import Binding
from textual.geometry import Region, Size
from textual.message import Message
from textual.scroll_view import ScrollView
from textual.strip import Strip

from glimb.tui.guarded import Guarded
from glimb.tui.text import Text


class Item(NamedTuple):
    """Lines that belong together, drawn when they come into sight; one without a key cannot be chosen."""

    draw: Callable[[], list[Text]]
    key: int | None = None
    height: int = 1


def around(count: int, start: int) -> Iterator[int]:
    """All of so many places, from one on and round to it."""
    return ((start + n) % count for n in range(count))


def fixed(text: Text) -> Item:
    """One line that is there already."""
    return Item(lambda: [text])


class Lines(Guarded, ScrollView, can_focus=True):
    """Shows items and moves a choice among them."""

    BINDINGS = [
        Binding("down", "move(1)", "next", show=False),
        Binding("up", "move(-1)", "previous", show=False),
        Binding("pagedown,space", "page(1)", "page on", show=False),
        Binding("pageup", "page(-1)", "page back", show=False),
        Binding("home,g", "edge(0)", "first", show=False),
        Binding("end,G", "edge(-1)", "last", show=False),
        Binding("enter", "enter", "go in", show=False),
    ]

    class _About(Message):
        """Something about one item of those that are shown."""

        def __init__(self, lines: Lines, key: int) -> None:
            super().__init__()
            self.key = key
            self._lines, self._about = lines, lines.about

        @property
        def is_late(self) -> bool:
            """Whether something else is shown by now: then the key means nothing."""
            return self._lines.about is not self._about

    class Chosen(_About):
        """Another item has been chosen."""

    class Entered(_About):
        """Enter was pressed on an item."""

    def __init__(self, **arguments: str) -> None:
        super().__init__(**arguments)  # type: ignore[arg-type]
        self.items: list[Item] = []
        self.about: object = self.items
        """What the items show: as long as it is the same thing, their keys mean the same, however it is drawn."""
        self.drawn: dict[int, list[Text]] = {}
        """Lines of the items that have been in sight."""
        self.starts: list[int] = []
        self.chosen = 0
        self.highlight = "#333333"

    @property
    def key(self) -> int | None:
        """Key of the chosen item."""
        return self.items[self.chosen].key if self.items else None

    def show(self, items: list[Item], key: int | None, highlight: str, about: object = None) -> None:
        """Show other items, choosing the one with `key` or the nearest that can be chosen; they show `about`."""
        self.items, self.about = items, items if about is None else about
        self.highlight = highlight
        self.drawn = {}
        self.starts, at = [], 0
        for item in items:
            self.starts.append(at)
            at += item.height
        self.virtual_size = Size(max(1, self.size.width), max(1, at))
        keys = [i for i, item in enumerate(items) if item.key is not None]
        self.chosen = next((i for i in keys if items[i].key == key), keys[0] if keys else 0)
        self.refresh()
        self.call_after_refresh(self.keep_in_sight)

    def choose(self, key: int) -> None:
        """Choose the item with this key."""
        for number, item in enumerate(self.items):
            if item.key == key:
                self._choose(number)
                return

    def _choose(self, number: int) -> None:
        if number != self.chosen and self.items[number].key is not None:
            self.chosen = number
            self.refresh()
            self.keep_in_sight()
            self.post_message(self.Chosen(self, self.items[number].key or 0))

    def keep_in_sight(self) -> None:
        """Scroll to where the chosen item is."""
        if self.items:
            region = Region(0, self.starts[self.chosen], 1, self.items[self.chosen].height)
            self.scroll_to_region(region, animate=False, force=True)

    def action_move(self, by: int) -> None:
        number = self.chosen + by
        while 0 <= number < len(self.items):
            if self.items[number].key is not None:
                self._choose(number)
                return
            number += by
        if by < 0:
            self.scroll_home(animate=False)

    def action_page(self, by: int) -> None:
        if not self.items:
            return
        line = self.starts[self.chosen] + by * max(1, self.size.height - 2)
        number = max(0, min(len(self.items) - 1, bisect_right(self.starts, line) - 1))
        self._choose_near(number, by)

    def action_edge(self, index: int) -> None:
        if self.items:
            self._choose_near(index % len(self.items), 1 if index == 0 else -1)

    def _choose_near(self, number: int, by: int) -> None:
        keys = [i for i, item in enumerate(self.items) if item.key is not None]
        if keys:
            self._choose(min(keys, key=lambda i: (abs(i - number), -by * i)))

    def action_enter(self) -> None:
        if self.key is not None:
            self.post_message(self.Entered(self, self.key))

    def on_click(self, event: events.Click) -> None:
        line = event.y + self.scroll_offset.y
        if self.items and line < self.starts[-1] + self.items[-1].height:
            number = bisect_right(self.starts, line) - 1
            if number == self.chosen and event.chain > 1:
                self.action_enter()
            else:
                self._choose(number)

    def render_line(self, y: int) -> Strip:
        line = y + self.scroll_offset.y
        width = self.size.width
        base = self.rich_style
        if not self.items or line >= self.starts[-1] + self.items[-1].height:
            return Strip.blank(width, base)
        number = bisect_right(self.starts, line) - 1
        if number not in self.drawn:
            self.drawn[number] = self.items[number].draw()
        text = self.drawn[number][line - self.starts[number]]
        if number == self.chosen and self.items[number].key is not None:
            base += Style(bgcolor=self.highlight)
            mark = "▌" if self.has_focus else " "
            text = Text(mark).append_text(text[1:])
        segments = [s for s in text.render(self.app.console) if s.text != "\n"]
        drawn = [Segment(s.text, base + s.style if s.style else base) for s in segments]
        return Strip(drawn).adjust_cell_length(width, base)

    def on_focus(self) -> None:
        self.refresh()

    def on_blur(self) -> None:
        self.refresh()


class StillLines(Lines, can_focus=True, inherit_bindings=False):
    """Lines in which the keys that move are for the screen; a click chooses one."""

    BINDINGS = [
        Binding("pagedown", "scroll(1)", "page on", show=False),
        Binding("pageup", "scroll(-1)", "page back", show=False),
    ]

    def action_scroll(self, by: int) -> None:
        """Look further on or back."""
        self.scroll_relative(y=by * max(1, self.size.height - 2), animate=False)
