"""A list of drawn items, one of them chosen. Items have one line or several; it draws only what is in sight."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from itertools import accumulate
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


class Stack:
    """Items below one another: some fixed ones, then as many as wanted that are made when they come into sight, each of
    the same height but for a few, then fixed ones again. So 20,000 of them cost nothing until they are seen."""

    def __init__(
        self,
        above: list[Item],
        count: int = 0,
        height: int = 1,
        make: Callable[[int], Item] | None = None,
        below: Sequence[Item] = (),
        heights: Mapping[int, int] | None = None,
    ) -> None:
        self.above, self.count, self.height, self.make, self.below = above, count, height, make, list(below)
        others = sorted((heights or {}).items())
        self._others = [number for number, _ in others]
        self._gone = list(accumulate((h - height for _, h in others), initial=0))
        """How many lines more the first so many of the others have."""
        self._above = list(accumulate((item.height for item in above), initial=0))
        self._below = list(accumulate((item.height for item in self.below), initial=0))

    def __len__(self) -> int:
        return len(self.above) + self.count + len(self.below)

    def __getitem__(self, number: int) -> Item:
        at = number - len(self.above)
        if at < 0:
            return self.above[number]
        if at < self.count:
            assert self.make is not None
            return self.make(at)
        return self.below[at - self.count]

    def start(self, number: int) -> int:
        """The line at which an item begins."""
        at = number - len(self.above)
        if at <= 0:
            return self._above[number]
        made = min(at, self.count)
        lines = self._above[-1] + made * self.height + self._gone[bisect_left(self._others, made)]
        return lines + self._below[at - made]

    @property
    def total(self) -> int:
        """The number of all lines."""
        return self.start(len(self))

    def at_line(self, line: int) -> int:
        """The item to which a line belongs."""
        return bisect_right(range(len(self)), line, key=self.start) - 1

    def index(self, key: int | None) -> int:
        """The item with a key, or the first that has one; 0 where none has. (Those that are made have all of them.)"""
        if self.make is not None and self.count:
            return len(self.above) + (key if key is not None and 0 <= key < self.count else 0)
        items = [*self.above, *self.below]
        keys = [n for n, item in enumerate(items) if item.key is not None]
        return next((n for n in keys if items[n].key == key), keys[0] if keys else 0)


class Groups(Stack):
    """Items of one line below the heads of their groups, an empty line between two groups. Whatever their number, only
    those in sight are made: keys count all items, those of folded groups too, whose head has the key of the first."""

    def __init__(
        self,
        sizes: Sequence[int],
        head: Callable[[int], Text],
        line: Callable[[int], Text],
        folded: Collection[int] = (),
    ) -> None:
        super().__init__([])
        self._head, self._line, self._folded = head, line, folded
        self._firsts = list(accumulate(sizes, initial=0))
        """Key of the first item of each group; behind them the number of all."""
        shown = (2 + (0 if group in folded else size) for group, size in enumerate(sizes))
        self._starts = [start - 1 for start in accumulate(shown, initial=0)]
        """Line of the empty one above each group's head (-1: there is none)."""

    def __len__(self) -> int:
        return max(0, self._starts[-1])

    def __getitem__(self, number: int) -> Item:
        group = bisect_right(self._starts, number) - 1
        at = number - self._starts[group]
        if at == 0:
            return fixed(Text(""))
        if at == 1:
            return Item(lambda: [self._head(group)], self._firsts[group] if group in self._folded else None)
        key = self._firsts[group] + at - 2
        return Item(lambda: [self._line(key)], key)

    def start(self, number: int) -> int:
        return number

    def at_line(self, line: int) -> int:
        return line

    def index(self, key: int | None) -> int:
        if self._firsts[-1] == 0:
            return 0
        known = key if key is not None and 0 <= key < self._firsts[-1] else 0
        group = bisect_right(self._firsts, known) - 1
        inner = 0 if group in self._folded else 1 + known - self._firsts[group]
        return self._starts[group] + 1 + inner


def around(count: int, start: int) -> Iterator[int]:
    """All of so many places, from one on and round to it."""
    return ((start + n) % count for n in range(count))


def fixed(text: Text) -> Item:
    """One line that is there already."""
    return Item(lambda: [text])


class Lines(Guarded, ScrollView, can_focus=True):
    """Shows items and moves a choice among them."""

    BINDINGS = [
        Binding("down", "move(1)", "next"),
        Binding("up", "move(-1)", "previous"),
        Binding("pagedown,space", "page(1)", "page on"),
        Binding("pageup", "page(-1)", "page back"),
        Binding("home,g", "edge(0)", "first"),
        Binding("end,G", "edge(-1)", "last"),
        Binding("enter", "enter", "go in"),
    ]

    class _About(Message):
        """Something about one item of those that are shown."""

        def __init__(self, lines: Lines, key: int) -> None:
            super().__init__()
            self.key = key
            self.lines, self._about = lines, lines.about

        @property
        def is_late(self) -> bool:
            """Whether something else is shown by now: then the key means nothing."""
            return bool(self.lines.about != self._about)

    class Chosen(_About):
        """Another item has been chosen."""

    class Entered(_About):
        """Enter was pressed on an item."""

    def __init__(self, **arguments: str) -> None:
        super().__init__(**arguments)  # type: ignore[arg-type]
        self.items = Stack([])
        self.about: object = self.items
        """What the items show: as long as it is the same thing, their keys mean the same, however it is drawn."""
        self.drawn: dict[int, list[Text]] = {}
        """Lines of the items that have been in sight."""
        self.chosen = 0
        self.highlight = "#333333"

    @property
    def key(self) -> int | None:
        """Key of the chosen item."""
        return self.items[self.chosen].key if self.chosen < len(self.items) else None

    def show(self, items: list[Item] | Stack, key: int | None, highlight: str, about: object = None) -> None:
        """Show other items, choosing the one with `key` or the first that can be chosen; they show `about`."""
        self.items = items if isinstance(items, Stack) else Stack(items)
        self.about = items if about is None else about
        self.highlight = highlight
        self.drawn = {}
        self.virtual_size = Size(max(1, self.size.width), max(1, self.items.total))
        self.chosen = self.items.index(key)
        self.refresh()
        self.call_after_refresh(self.keep_in_sight)

    def choose(self, key: int) -> None:
        """Choose the item with this key."""
        number = self.items.index(key)
        if number < len(self.items) and self.items[number].key == key:
            self._choose(number)

    def _choose(self, number: int) -> None:
        if number != self.chosen and self.items[number].key is not None:
            self.chosen = number
            self.refresh()
            self.keep_in_sight()
            self.post_message(self.Chosen(self, self.items[number].key or 0))

    def keep_in_sight(self) -> None:
        """Scroll to where the chosen item is."""
        if self.chosen < len(self.items):
            region = Region(0, self.items.start(self.chosen), 1, self.items[self.chosen].height)
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
        if not len(self.items):
            return
        line = self.items.start(self.chosen) + by * max(1, self.size.height - 2)
        self._choose_near(max(0, min(len(self.items) - 1, self.items.at_line(line))), by)

    def action_edge(self, index: int) -> None:
        if len(self.items):
            self._choose_near(index % len(self.items), 1 if index == 0 else -1)

    def _choose_near(self, number: int, by: int) -> None:
        """Choose the item that can be chosen nearest to one."""
        count = len(self.items)
        for distance in range(count):
            for place in (number + by * distance, number - by * distance):
                if 0 <= place < count and self.items[place].key is not None:
                    self._choose(place)
                    return

    def action_enter(self) -> None:
        if self.key is not None:
            self.post_message(self.Entered(self, self.key))

    def on_click(self, event: events.Click) -> None:
        line = event.y + self.scroll_offset.y
        if line < self.items.total:
            number = self.items.at_line(line)
            if number == self.chosen and event.chain > 1:
                self.action_enter()
            else:
                self._choose(number)

    def render_line(self, y: int) -> Strip:
        line = y + self.scroll_offset.y
        width = self.size.width
        base = self.rich_style
        if not 0 <= line < self.items.total:
            return Strip.blank(width, base)
        number = self.items.at_line(line)
        if number not in self.drawn:
            self.drawn[number] = self.items[number].draw()
        # A text without parts is rendered without its own style: as a part it has it.
        text = Text().append_text(self.drawn[number][line - self.items.start(number)])
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
        Binding("pagedown", "scroll(1)", "page on"),
        Binding("pageup", "scroll(-1)", "page back"),
    ]

    def action_scroll(self, by: int) -> None:
        """Look further on or back."""
        self.scroll_relative(y=by * max(1, self.size.height - 2), animate=False)
