"""The open rung: a text area for statements, with our colours, what is wrong as one types, and a history."""

from __future__ import annotations

import re
from typing import ClassVar

from rich.style import Style
from textual import events
from textual.message import Message
from textual.widgets import TextArea
from textual.widgets.text_area import TextAreaTheme

from glimb.lang.parser import is_complete, parse
from glimb.lang.parser.base import RESERVED
from glimb.lang.problem import Problem
from glimb.lang.source import Source
from glimb.lang.tokens import Token, tokenize
from glimb.tui.palette import Palette

KINDS = {"string": "text", "bytes": "text", "integer": "number", "decimal": "number", "float": "number"}


MOVES = {
    "left": "cursor_left",
    "right": "cursor_right",
    "up": "cursor_up",
    "down": "cursor_down",
    "home": "cursor_line_start",
    "end": "cursor_line_end",
    "backspace": "delete_left",
    "delete": "delete_right",
}


class OpenRung(TextArea):
    """Enter runs a statement that is complete, and begins a line otherwise; Escape leaves."""

    class Submitted(Message):
        """A text is to be run."""

        def __init__(self, text: str) -> None:
            super().__init__()
            self.text = text

    class Left(Message):
        """Typing has ended."""

    class Wrong(Message):
        """What is wrong with the text as it stands; None for nothing yet."""

        def __init__(self, problem: Problem | None) -> None:
            super().__init__()
            self.problem = problem

    BINDINGS: ClassVar = []

    def __init__(self, id: str) -> None:
        super().__init__("", id=id, show_line_numbers=False, tab_behavior="focus", soft_wrap=True)
        self.past: list[str] = []
        """Texts that were run, the last one last."""
        self._back = 0
        self._draft = ""
        self._names: list[str] = []

    def know(self, names: list[str]) -> None:
        """The names that can be completed: of tables, columns, routines, host variables."""
        self._names = sorted(set(names))

    def colour(self, colours: Palette) -> None:
        """Take the colours of a theme."""
        styles = {
            "word": Style(color=colours.accent),
            "text": Style(color=colours.met),
            "number": Style(color=colours.sessions[1]),
            "comment": Style(color=colours.quiet, italic=True),
            "host": Style(color=colours.sessions[0], bold=True),
            "problem": Style(color=colours.slip, underline=True),
        }
        self.register_theme(TextAreaTheme(f"sql-{colours.text}", syntax_styles=styles))
        self.theme = f"sql-{colours.text}"

    def put(self, text: str) -> None:
        """Have another text to go on with."""
        self.load_text(text)
        self.move_cursor(self.document.end)

    # -- colours

    def _build_highlight_map(self) -> None:
        """Colours from our own tokens. (Private to the framework: its version is held, and a test looks at the map.)"""
        self._line_cache.clear()
        self._highlights.clear()
        text = self.text
        source = Source(text)
        found = tokenize(source)
        before: Token | None = None
        for token in found.tokens[:-1]:
            kind = KINDS.get(token.kind, "")
            if token.kind == "name" and token.value in RESERVED:
                kind = "word"
            if before is not None and before.value == ":" and before.end == token.start and token.kind == "name":
                kind = "host"
            if kind:
                self._mark(text, token.start, token.end, kind)
            before = token
        for mark in found.marks:
            self._mark(text, mark.start, mark.end, "comment")
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

    # -- keys

    async def _on_key(self, event: events.Key) -> None:
        """Keys that move go the same way as those that type: bindings would be carried out behind what comes later."""
        row, last = self.cursor_location[0], self.document.line_count - 1
        if event.key == "escape":
            self.post_message(self.Left())
        elif event.key == "enter" and self.cursor_location == self.document.end and is_complete(self.text):
            self._submit()
        elif event.key == "up" and row == 0 and self.past:
            self._look_back(1)
        elif event.key == "down" and row == last and self._back:
            self._look_back(-1)
        elif event.key in MOVES:
            getattr(self, f"action_{MOVES[event.key]}")()
        else:
            await super()._on_key(event)
            return
        event.stop()
        event.prevent_default()

    def _submit(self) -> None:
        text = self.text.strip()
        if text:
            self.past.append(text)
            self._back, self._draft = 0, ""
            self.put("")
            self.post_message(self.Submitted(text))

    def _look_back(self, by: int) -> None:
        if self._back == 0:
            self._draft = self.text
        self._back = max(0, min(len(self.past), self._back + by))
        self.put(self.past[-self._back] if self._back else self._draft)

    def update_suggestion(self) -> None:
        """The rest of the word at the cursor, where a name goes on so; the key to the right takes it."""
        row, column = self.cursor_location
        line = self.document.get_line(row)
        found = re.search(r":?\w*\Z", line[:column])
        word = found[0] if found is not None else ""
        name = next((n for n in self._names if len(word) > 1 and n.startswith(word) and n != word), "")
        self.suggestion = name[len(word) :] if column == len(line) else ""
