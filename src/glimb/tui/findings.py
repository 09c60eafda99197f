"""Findings: what is wrong and what is dubious in the files, without running them; to be gone to or switched off."""

from __future__ import annotations

from collections import Counter
from functools import partial
from itertools import groupby
from pathlib import Path
from typing import ClassVar

from textual.app import ComposeResult
from textual.containers import Horizontal

from glimb.lang.problem import ProblemError
from glimb.suite.checking import ERROR, Told
from glimb.suite.desk import Desk
from glimb.suite.project import read_text
from glimb.suite.switching import switched_off
from glimb.suite.wording import cut
from glimb.tui.asking import ChoiceScreen, LineScreen
from glimb.tui.drawing import plural
from glimb.tui.lines import Item, Lines, fixed
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.palette import SLIP, Palette
from glimb.tui.pane import Pane
from glimb.tui.sql import coloured_lines
from glimb.tui.text import Text

KEYS = [
    Key("escape", "out", "out", "back to where one came from", True),
    Key("enter", "enter", "go there", "go to the place: the routine, the rung of a case, or its file", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("k", "allow", "switch off", "switch the finding off here, with a reason", True),
    Key("e", "edit", "edit", "edit the file here, at the place", True),
    Key("c", "only", "only", "only findings of one code, or all", True),
    Key("r", "again", "check again", "look at all files again", True),
    Key("E", "own_editor", "editor", "the file in your editor, at the place"),
    Key("tab", "app.focus_next", "next pane", "findings, and the chosen one at length"),
    Key("f", "full", "at length", "the chosen one on the whole screen, or beside the others"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name", True),
    Key("q", "app.quit", "quit", "quit", True),
]
AROUND = 5
"""Lines of the file that are shown before and behind the place."""


class FindingsScreen(Page):
    """All that `glimb check` tells, by file; at the side the chosen one with its lines."""

    NAME: ClassVar = "Findings"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    def __init__(self) -> None:
        super().__init__()
        self.told_all: list[Told] | None = None
        self.code = ""
        """The code whose findings alone are shown."""
        self.lines, self.pane = Lines(id="findings"), Pane(id="finding")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            yield self.lines
            yield self.pane

    def on_mount(self) -> None:
        self.lines.focus()
        self.draw()

    def come(self) -> None:
        """Look at all files."""
        self.app.worker.ask(Desk.findings, self._take)

    def _take(self, found: list[Told]) -> None:
        self.told_all = found
        self.draw()

    @property
    def some(self) -> list[Told]:
        return [one for one in self.told_all or () if self.code in ("", one.code)]

    @property
    def chosen(self) -> Told | None:
        key, some = self.lines.key, self.some
        return some[key] if key is not None and key < len(some) else None

    # -- drawing

    def draw(self) -> None:
        if not self.is_mounted:
            return
        colours, some = self.app.colours, self.some
        width = (self.lines.size.width or self.size.width) - 2
        items: list[Item] = []
        for file, mine in groupby(enumerate(some), key=lambda one: one[1].file):
            if items:
                items.append(fixed(Text("")))
            items.append(fixed(Text(f" {self.app.shown(Path(file))}", style=f"bold {colours.accent}")))
            items += [Item(partial(_line, one, colours, width), number) for number, one in mine]
        if not items:
            told = "looking ..." if self.told_all is None else "Nothing is wrong, and nothing dubious."
            items = [fixed(Text("")), fixed(Text(f"  {told}", style=colours.text))]
        self.lines.show(items, self.lines.key, colours.chosen, some)
        self._draw_head()
        self._draw_side()

    def _draw_head(self) -> None:
        colours, head = self.app.colours, self.named()
        every = self.told_all or []
        errors = sum(one.severity == ERROR for one in every)
        head.append(f"  {SLIP} {plural(errors, 'error')}", style=f"bold {colours.slip}" if errors else colours.quiet)
        head.append(f"  ? {len(every) - errors} dubious", style=colours.warn if every else colours.quiet)
        if self.code:
            head.append(f"  only {self.code}", style=f"bold {colours.accent}")
        self.head.update(head)

    def _draw_side(self) -> None:
        one, colours = self.chosen, self.app.colours
        if one is not None:
            self.pane.draw(lambda width: _at_length(one, self.app.shown(Path(one.file)), colours))
        else:
            hint = "What is wrong or dubious stands at the left; what may be done about it here."
            self.pane.draw(lambda width: Text(hint, style=colours.quiet))

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        self._draw_side()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        if not message.is_late and self.chosen is not None:
            self._go(self.chosen)

    # -- keys

    def _go(self, one: Told) -> None:
        if one.file:
            self.app.go_to_place(one.file, one.line)

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        else:
            await self.app.back()

    def action_enter(self) -> None:
        self.lines.action_enter()

    def action_allow(self) -> None:
        """Ask for the reason, and write it above the line."""
        one = self.chosen
        if one is None:
            return
        if one.severity == ERROR:
            self.told("an error is mended, not switched off")
        elif not one.file.endswith(".sql"):
            self.told("no comment can stand in this file: [allow] in glimb.toml switches a finding off everywhere")
        else:
            self.app.ask(LineScreen(f"Why may {one.code} stand here?"), partial(self._allow, one))

    def _allow(self, one: Told, reason: str | None) -> None:
        if not reason:
            return
        path = Path(one.file)
        try:
            before = read_text(path).text
            text = switched_off(before, one.line, one.code, reason)
        except ProblemError as error:
            self.told(error.problems[0].message, severity="error")
            return

        def saved() -> None:
            self.told(f"{one.code} is switched off at {self.app.shown(path)}:{one.line}")
            self.app.files_saved({path})
            self.come()

        self.app.worker.save(path, text, before, saved)

    def action_edit(self) -> None:
        if self.chosen is not None:
            self.app.edit_here(self.chosen.file, self.chosen.line)

    def action_own_editor(self) -> None:
        if self.chosen is not None:
            self.app.edit(self.chosen.file, self.chosen.line)

    def action_only(self) -> None:
        counts = Counter(one.code for one in self.told_all or ())
        codes = ["", *sorted(counts)]

        def take(number: int | str | None) -> None:
            if isinstance(number, int):
                self.code = codes[number]
                self.draw()

        options = [f"{code}  {counts[code]}" if code else "all" for code in codes]
        self.app.ask(ChoiceScreen("Only findings of", options, codes.index(self.code)), take)

    def action_again(self) -> None:
        self.told_all = None
        self.draw()
        self.app.reread(self.come)


def _line(one: Told, colours: Palette, width: int) -> list[Text]:
    is_error = one.severity == ERROR
    line = Text("   ").append(
        f"{SLIP if is_error else '?'} ", style=f"bold {colours.slip if is_error else colours.warn}"
    )
    line.append(f"{one.line:>5}  ", style=colours.quiet).append(f"{one.code}  ", style=colours.accent)
    return [line.append(cut(one.message, max(10, width - 14 - len(one.code))), style=colours.text)]


def _at_length(one: Told, shown: str, colours: Palette) -> Text:
    """A finding with its lines, and what may be done."""
    text = Text().append(f"{one.code}\n", style=f"bold {colours.accent}")
    text.append(f"{shown}, line {one.line}, column {one.column}\n\n", style=colours.quiet)
    text.append(f"{one.message}\n", style=f"bold {colours.text}")
    if one.hint:
        text.append(f"{one.hint}\n", style=colours.met)
    try:
        lines = (
            coloured_lines(read_text(one.file).text, colours) if one.file.endswith((".sql", ".csv", ".toml")) else ()
        )
    except ProblemError:  # it is gone meanwhile
        lines = ()
    text.append("\n")
    for number in range(max(1, one.line - AROUND), min(len(lines), one.line + AROUND) + 1):
        is_here = number == one.line
        text.append(f"{'▶' if is_here else ' '}{number:>5}  ", style=colours.warn if is_here else colours.quiet)
        text.append_text(lines[number - 1]).append("\n")
    return text
