"""Text areas for statements, with our colours, what is wrong as one types, and completion: the open rung, which has a
history, and the file of a routine."""

from __future__ import annotations

from typing import ClassVar

from textual import events
from textual.binding import Binding
from textual.message import Message
from textual.widget import Widget
from textual.widgets import TextArea
from textual.widgets.text_area import TextAreaTheme

from glimb.lang.parser import is_complete, parse
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.suite.completing import Offer, Words, offers
from glimb.tui.guarded import Guarded
from glimb.tui.palette import Palette
from glimb.tui.sql import stretches, styles


class SqlArea(Guarded, TextArea):
    """A text area for SQL."""

    class Wrong(Message):
        """What is wrong with the text as it stands; None for nothing yet."""

        def __init__(self, problem: Problem | None) -> None:
            super().__init__()
            self.problem = problem

    class Offered(Message):
        """What the word at the cursor may go on to has changed."""

    class Left(Message):
        """Typing has ended."""

    def __init__(self, id: str, numbers: bool = False) -> None:
        super().__init__("", id=id, show_line_numbers=numbers, tab_behavior="focus", soft_wrap=not numbers)
        self.words = Words()
        """The names that can be completed."""
        self.offers: list[Offer] = []
        """What may stand in the place of the word at the cursor."""
        self.taking: int | None = None
        """Which of them stands there; None: what was typed."""
        self.leaves_to: Widget | None = None
        """What has the focus when typing ends."""
        self._word = ""

    def colour(self, colours: Palette) -> None:
        """Take the colours of a theme."""
        self.register_theme(TextAreaTheme(f"sql-{colours.text}", syntax_styles=styles(colours)))
        self.theme = f"sql-{colours.text}"

    def put(self, text: str) -> None:
        """Have another text to go on with."""
        self.load_text(text)
        self.move_cursor(self.document.end)

    def action_leave_typing(self) -> None:
        """End typing; the text stays. What is pressed next is no longer for it."""
        self._give_focus()
        self.post_message(self.Left())

    def _give_focus(self) -> None:
        if self.leaves_to is not None:
            self.screen.set_focus(self.leaves_to)

    # -- colours

    def _build_highlight_map(self) -> None:
        """Colours from our own tokens. (Private to the framework: its version is held, and a test looks at the map.)"""
        self._line_cache.clear()
        self._highlights.clear()
        text = self.text
        source = Source(text)
        for start, end, kind in stretches(source):
            self._mark(text, start, end, kind)
        problem = self._problem(source)
        if problem is not None:
            self._mark(text, problem.span.start, max(problem.span.end, problem.span.start + 1), "problem")
        if self.is_mounted:
            self.post_message(self.Wrong(problem))

    def _mark(self, text: str, start: int, end: int, kind: str) -> None:
        """Colour a stretch, line by line; columns count bytes."""
        row, at = text.count("\n", 0, start), text.rfind("\n", 0, start) + 1
        for line in text[at:end].split("\n"):
            first = max(0, start - at)
            columns = len(line[:first].encode()), len(line[: max(first, end - at)].encode())
            self._highlights[row].append((*columns, kind))
            row, at = row + 1, at + len(line) + 1

    def _problem(self, source: Source) -> Problem | None:
        """The first thing that is wrong, and would be whatever came behind."""
        end = len(source.text.rstrip())
        wrong = (p for p in parse(source).problems if p.span.start < end - 1)
        return next((p for p in wrong if p.span.end < end), None)

    # -- completion

    def update_suggestion(self) -> None:
        """What the word at the cursor may go on to; the rest of the first stands there dimly, the key to the right
        takes it. (A method of the framework, called whenever the text or the cursor is another one.)"""
        if self.taking is not None:
            return
        row, column = self.cursor_location
        lines = self.text.split("\n")
        before = "\n".join([*lines[:row], lines[row][:column]])
        self._word, self.offers = offers(before, self.words) if self.has_focus else ("", [])
        first = self.offers[0].text if self.offers and self._word else ""
        at_end = column == len(lines[row])
        self.suggestion = first[len(self._word) :] if first.startswith(self._word) and at_end else ""
        self.post_message(self.Offered())

    def action_complete(self) -> None:
        """Take what is offered; once more, the next of it in its place."""
        if not self.offers:
            return
        there = self.offers[self.taking].text if self.taking is not None else self._word
        self.taking = 0 if self.taking is None else (self.taking + 1) % len(self.offers)
        self._replace_word(there, self.offers[self.taking].text)
        self.post_message(self.Offered())

    def take(self, number: int) -> None:
        """Take one of what is offered."""
        if number < len(self.offers):
            there = self.offers[self.taking].text if self.taking is not None else self._word
            self._replace_word(there, self.offers[number].text)
            self.taking = None
            self.update_suggestion()

    def _replace_word(self, there: str, text: str) -> None:
        row, column = self.cursor_location
        self.replace(text, (row, max(0, column - len(there))), (row, column))

    def on_text_area_changed(self) -> None:
        """Something else is typed: what was taken is typed text now."""
        row, column = self.cursor_location
        line = self.document.get_line(row)[:column]
        if self.taking is not None and not line.endswith(self.offers[self.taking].text):
            self.taking = None
            self.update_suggestion()


class OpenRung(SqlArea):
    """Enter on its last line runs a statement that is complete, and begins a line otherwise; Ctrl+R runs the text from
    anywhere; Escape leaves."""

    class Submitted(Message):
        """A text is to be run."""

        def __init__(self, text: str) -> None:
            super().__init__()
            self.text = text

    BINDINGS: ClassVar = [
        Binding("enter", "submit_text", "run, or a new line", key_display="Enter"),
        Binding("ctrl+r", "submit_text", "run", key_display="Ctrl+R"),
        Binding("escape", "leave_typing", "end typing", key_display="Esc"),
        Binding("tab", "complete", "complete", key_display="Tab"),
        Binding("ctrl+up", "look_back(1)", "typed before", key_display="↑"),
    ]

    def __init__(self, id: str) -> None:
        super().__init__(id)
        self.past: list[str] = []
        """Texts that were run, the last one last."""
        self.is_for_once = False
        """Whether typing ends when the text is run."""
        self._back = 0
        self._draft = ""

    # -- keys

    async def take_key(self, event: events.Key) -> bool:
        """What keys do here; others are left to the bindings."""
        row, last = self.cursor_location[0], self.document.line_count - 1
        if event.key == "escape":
            self.action_leave_typing()
        elif event.key == "enter" and self.selected_text.strip():
            self.post_message(self.Submitted(self.selected_text.strip()))
        elif event.key == "ctrl+r" or (event.key == "enter" and self._is_on_last_line and is_complete(self.text)):
            self.action_submit_text()
        elif event.key == "tab" and self.offers:
            self.action_complete()
        elif event.key == "right" and self.suggestion:
            self.insert(self.suggestion)
        elif event.key == "up" and row == 0 and self.past:
            self.action_look_back(1)
        elif event.key == "down" and row == last and self._back:
            self.action_look_back(-1)
        elif event.is_printable or event.key == "enter":
            await TextArea._on_key(self, event)
        else:
            return False
        return True

    @property
    def _is_on_last_line(self) -> bool:
        """Whether nothing but blanks stands in the lines below the cursor."""
        lines = range(self.cursor_location[0] + 1, self.document.line_count)
        return not any(self.document.get_line(line).strip() for line in lines)

    def action_submit_text(self) -> None:
        """Run the text."""
        text = self.text.strip()
        if text:
            self.past.append(text)
            self._back, self._draft = 0, ""
            self.put("")
            self.post_message(self.Submitted(text))
            if self.is_for_once:
                self._give_focus()

    def action_look_back(self, by: int) -> None:
        """A text that was run before."""
        if self._back == 0:
            self._draft = self.text
        self._back = max(0, min(len(self.past), self._back + by))
        self.put(self.past[-self._back] if self._back else self._draft)


class RoutineArea(SqlArea):
    """The file of a routine: Ctrl+S saves it, Escape leaves it. (Undo, redo and the clipboard are the framework's.)"""

    class Saved(Message):
        """The text is to be written."""

    BINDINGS: ClassVar = [
        Binding("ctrl+s", "save", "save and run what it touches", key_display="Ctrl+S"),
        Binding("escape", "leave_typing", "end editing", key_display="Esc"),
        Binding("tab", "complete", "complete", key_display="Tab"),
        Binding("ctrl+z", "undo", "undo", key_display="Ctrl+Z"),
        Binding("ctrl+y", "redo", "redo", key_display="Ctrl+Y"),
        Binding("ctrl+g", "ask_search", "search", key_display="Ctrl+G"),
    ]

    class Sought(Message):
        """A text is to be asked for, and looked for."""

    async def take_key(self, event: events.Key) -> bool:
        """What keys do here; others are left to the bindings."""
        if event.key == "escape":
            self.action_leave_typing()
        elif event.key == "tab":
            if self.offers and self._word:
                self.action_complete()
            else:
                self.insert("  ")
        elif event.key == "right" and self.suggestion:
            self.insert(self.suggestion)
        elif event.key == "enter":
            row, _ = self.cursor_location
            line = self.document.get_line(row)
            self.insert("\n" + line[: len(line) - len(line.lstrip())])
        elif event.is_printable:
            await TextArea._on_key(self, event)
        else:
            return False
        return True

    def action_save(self) -> None:
        """Have the text written."""
        self.post_message(self.Saved())

    def action_ask_search(self) -> None:
        """Look for a text."""
        self.post_message(self.Sought())

    def go(self, line: int, column: int = 1) -> None:
        """Put the cursor at a place, from 1, and have it in sight."""
        row = max(0, min(line - 1, self.document.line_count - 1))
        self.move_cursor((row, max(0, min(column - 1, len(self.document.get_line(row))))), center=True)

    def find(self, text: str) -> bool:
        """Go to where a text stands next, from the cursor on and round; says whether it does."""
        row, column = self.cursor_location
        whole = self.text.lower()
        lines = self.text.split("\n")
        at = sum(len(line) + 1 for line in lines[:row]) + column
        found = whole.find(text.lower(), at + 1)
        found = found if found >= 0 else whole.find(text.lower())
        if found >= 0:
            self.go(whole.count("\n", 0, found) + 1, found - (whole.rfind("\n", 0, found) + 1) + 1)
        return found >= 0
