"""A routine: its source with what its lines did over all cases, what is known about it, and its file to edit."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any, ClassVar

from textual import events
from textual.app import ComposeResult
from textual.containers import Horizontal, Vertical
from textual.timer import Timer
from textual.widgets import Static, TextArea

from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.about import About
from glimb.suite.desk import Desk, Installed, Named, installed
from glimb.suite.drafts import Remark
from glimb.suite.making import routine_text
from glimb.suite.project import read_text
from glimb.suite.templates import KINDS
from glimb.tui.asking import ChoiceScreen, LineScreen
from glimb.tui.editor import RoutineArea, SqlArea
from glimb.tui.known import about_items, difference_text, line_text, routine_items
from glimb.tui.lines import Lines, around, fixed
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.pane import Pane
from glimb.tui.text import Text

KEYS = [
    Key("escape", "out", "out", "back to where one came from", True),
    Key("enter", "enter", "go in", "a caller: the case or routine that calls; a line: what was counted there", True),
    Key("question_mark", "keys", "keys", "these keys", True),
    Key("e", "edit", "edit", "edit the file here; Ctrl+S saves it, and runs what it touches", True),
    Key("o", "new", "new", "a new routine from a template, or a query wrapped as one", True),
    Key("c", "choose", "choose", "choose another routine", True),
    Key("n", "next(1)", "next", "the next routine", True),
    Key("b", "next(-1)", "before", "the routine before"),
    Key("l", "call", "call", "type a call of it on the scratch ladder", True),
    Key("x", "next_missing", "next untried", "the next line with something that no case has tried", True),
    Key("m", "next_misfit", "next misfit", "the next call that no longer fits"),
    Key("v", "installed", "installed", "what the ladder has in its place, and how that differs"),
    Key("slash", "search", "search", "search the source", True),
    Key("full_stop", "found(1)", "next found", "the next line found"),
    Key("comma", "found(-1)", "found before", "the line found before"),
    Key("E", "own_editor", "editor", "the file in your editor, at the chosen line"),
    Key("tab", "app.focus_next", "next pane", "source, what is known, and what was counted at the line"),
    Key("f", "full", "known", "what is known on the whole screen, or beside the source"),
    Key("s", "stop", "stop", "stop the run"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name"),
    Key("q", "app.quit", "quit", "quit"),
]
PAUSE = 0.4
"""Seconds without a key behind which a text is looked at."""
NEW = ("a scalar function", "an inline table function", "a table function with a body", "a procedure")
WRAP = "a query wrapped as a table function, its constants as parameters"


class RoutineView(Page):
    """What is shown of a routine: its source, what is known of it, what was counted at the chosen line."""

    def __init__(self) -> None:
        super().__init__()
        self.about: About | None = None
        self.names: list[Named] = []
        self.sought = ""
        self.other: Installed | None = None
        """What the ladder has in the place of this routine."""
        self.shows_other = False
        self.file_text = ""
        """The file as it was when editing began."""
        self.path: Path | None = None
        """The file that is edited; None while none is."""
        self.is_editing = False
        self.drafts: dict[str, tuple[str, str]] = {}
        """What was typed and not saved, by file, each with the file as it was."""
        self.remarks: list[Remark] = []
        self._timer: Timer | None = None
        self.lines, self.known, self.pane = Lines(id="source"), Lines(id="known"), Pane(id="counted")
        self.area, self.said = RoutineArea(id="file", numbers=True), Static("", id="said")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            with Vertical(id="written"):
                yield self.lines
                yield self.area
                yield self.said
            with Vertical(id="beside"):
                yield self.known
                yield self.pane

    def on_mount(self) -> None:
        self.area.leaves_to = self.lines
        self.lines.focus()
        self.draw()

    # -- contents

    def show(self, file: str, line: int, at: int = 0) -> None:
        """Show the routine that begins at a place, standing at a line of it."""
        self.shows_other = False

        def take(found: tuple[About | None, list[Named]]) -> None:
            self._take(found)
            if at:
                self.lines.choose(at)

        self.app.worker.ask(lambda desk: (desk.about(file, line), desk.routines()), take)

    def refresh_about(self) -> None:
        """More is known of it, or its file has changed."""
        about = self.about
        if about is None:
            self.app.worker.ask(Desk.routines, self._take_first)
            return

        def again(desk: Desk) -> tuple[About | None, list[Named]]:
            names = desk.routines()
            same = next((n for n in names if (n.file, n.signature) == (about.file, about.signature)), None)
            same = same or next((n for n in names if (n.file, n.name) == (about.file, about.name)), None)
            return (desk.about(same.file, same.line) if same is not None else None), names

        self.app.worker.ask(again, self._take)

    def _take_first(self, names: list[Named]) -> None:
        self.names = names
        if names and self.about is None:
            self.show(names[0].file, names[0].line)
        self.draw()

    def _take(self, found: tuple[About | None, list[Named]]) -> None:
        before = self.about
        self.about, self.names = found
        about, row = self.about, self.app.current
        self.other = None
        if about is not None and row is not None:
            self.app.worker.ask_bench(
                row.id, row.script, lambda bench: installed(bench.replay.engine, about), self._take_other
            )
        if before is not None and about is not None and before.file == about.file and before.name == about.name:
            key = (self.lines.key or 0) - before.line + about.line
        else:
            key = about.line if about is not None else 0
        self.draw(key)

    def _take_other(self, other: Installed | None) -> None:
        self.other = other
        self._draw_head()
        self._draw_pane()

    def draw(self, key: int | None = None) -> None:
        if not self.is_mounted:
            return
        colours, about = self.app.colours, self.about
        self.lines.display, self.area.display, self.said.display = not self.is_editing, self.is_editing, self.is_editing
        self.area.colour(colours)
        if about is None:
            hint = "There is no routine here yet: o makes one from a template, or of a query."
            self.lines.show([fixed(Text("")), fixed(Text(f"  {hint}", style=colours.text))], None, colours.chosen)
            self.known.show([], None, colours.chosen)
        else:
            # Not that of the lines themselves, which have none while one types in their place, and a moment longer.
            width = (self.query_one("#written").size.width or self.size.width) - 2
            items = routine_items(about, colours, width)
            self.lines.show(items, self.lines.key if key is None else key, colours.chosen, about.lines)
            room = (self.known.size.width or 40) - 2
            self.known.show(
                about_items(about, self.app.shown, colours, room), self.known.key, colours.chosen, about.callers
            )
        self._draw_head()
        self._draw_pane()
        self._draw_said()

    def _draw_head(self) -> None:
        colours, head, about = self.app.colours, self.named(), self.about
        if self.is_editing and self.path is not None:
            head.append(f"  {self.app.shown(self.path)}", style=f"bold {colours.text}")
            if self.area.text != self.file_text:
                head.append("  not saved: Ctrl+S", style=f"bold {colours.warn}")
        elif about is not None:
            head.append(f"  {about.name}", style=f"bold {colours.text}")
            head.append(f"  {about.kind}  {self.app.shown(Path(about.file))}:{about.line}", style=colours.quiet)
            if about.misfits:
                head.append(f"  {len(about.misfits)} calls no longer fit: m", style=f"bold {colours.slip}")
            if self.other is not None:
                where = f"since {self.other.file.rsplit('/', 1)[-1]}:{self.other.line}" if self.other.text else "none"
                head.append(f"  the ladder has another one, {where}: v", style=f"bold {colours.warn}")
        self.head.update(head)

    def _draw_pane(self) -> None:
        colours, about, other = self.app.colours, self.about, self.other
        if about is None:
            self.pane.draw(lambda width: Text("What was counted at the chosen line stands here.", style=colours.quiet))
        elif self.shows_other and other is not None:
            self.pane.draw(lambda width: difference_text(about, other, colours))
        else:
            self.pane.draw(lambda width: line_text(about, self.lines.key or about.line, colours, width))

    def _draw_said(self) -> None:
        colours, said = self.app.colours, Text()
        row = self.area.cursor_location[0] + 1
        ordered = sorted(self.remarks, key=lambda r: (r.line != row, not r.is_error, r.line))
        for one in ordered[:3]:
            style = colours.slip if one.is_error else colours.warn
            said.append(f" line {one.line}  ", style=colours.quiet).append(f"{one.code}  {one.message}\n", style=style)
        if not self.remarks:
            said.append(" nothing wrong, nothing dubious", style=colours.quiet)
        self.said.update(said)


class RoutineEditing(RoutineView):
    """Its file edited here, and new ones made."""

    # -- editing

    def action_edit(self) -> None:
        """Edit the file, at the chosen line."""
        about = self.about
        if about is not None:
            self.edit_file(Path(about.file), self.lines.key or about.line)

    def edit_file(self, path: Path, line: int) -> None:
        """Edit a file here, at a line."""
        try:
            text = read_text(path).text
        except ProblemError as error:
            self.told(error.problems[0].message, severity="error")
            return
        if self.path != path or self.area.text == self.file_text:
            self._lay_aside()
            draft, before = self.drafts.pop(str(path), (text, text))
            self.path, self.file_text, self.remarks = path, before, []
            self.area.put(draft)
            if before != text:
                self.told(f"{path.name} has been changed since: what was typed stands here", severity="warning")
        self.is_editing = True
        self.draw()
        self.area.go(line)
        self.set_focus(self.area)
        self.app.worker.ask(Desk.words, self._know)
        self._look()

    def _lay_aside(self) -> None:
        """Keep what is typed and not saved."""
        if self.path is not None and self.area.text != self.file_text:
            self.drafts[str(self.path)] = self.area.text, self.file_text

    def state(self) -> dict[str, object]:
        """What is to be there at the next start: what was typed and is in no file."""
        self._lay_aside()
        return {"drafts": self.drafts}

    def recall(self, state: dict[str, Any]) -> None:
        """Take what was kept."""
        kept = state.get("drafts")
        for file, pair in kept.items() if isinstance(kept, dict) else ():
            if isinstance(pair, list) and len(pair) == 2:
                self.drafts[file] = str(pair[0]), str(pair[1])

    def _know(self, words: object) -> None:
        self.area.words = words  # type: ignore[assignment]

    def on_text_area_changed(self, message: TextArea.Changed) -> None:
        if self._timer is not None:
            self._timer.stop()
        self._timer = self.set_timer(PAUSE, self._look)
        self._draw_head()

    def _look(self) -> None:
        """Ask what is wrong or dubious in the text as it stands."""
        if self.path is not None:
            source = Source(self.area.text, str(self.path))
            self.app.worker.ask(lambda desk: desk.remarks(source), self._remark)

    def _remark(self, remarks: list[Remark]) -> None:
        self.remarks = remarks
        self._draw_said()

    def on_text_area_selection_changed(self) -> None:
        self._draw_said()

    def on_routine_area_saved(self) -> None:
        """Write the file, then run what it touches."""
        path, text = self.path, self.area.text
        if path is None:
            return

        def saved() -> None:
            self.file_text = text
            self.told(f"saved {self.app.shown(path)}")
            self.app.files_saved({path.absolute()})
            self._draw_head()

        self.app.worker.save(path, text, self.file_text, saved)

    def on_routine_area_sought(self) -> None:
        def take(text: str | None) -> None:
            if text:
                self.sought = text
                if not self.area.find(text):
                    self.told(f"{text} stands nowhere in this file")
            self.set_focus(self.area)

        self.app.ask(LineScreen("Search the file:", self.sought), take)

    def on_sql_area_left(self, message: SqlArea.Left) -> None:
        """Back to the source. What is not saved stays in the text area."""
        self.is_editing = False
        if self.path is not None and self.area.text != self.file_text:
            self.told(f"{self.path.name} is not saved: e goes on with it, Ctrl+S there saves", severity="warning")
        self.draw()
        self.set_focus(self.lines)
        self.refresh_about()

    def action_new(self) -> None:
        """Ask for a kind and a name, and for a query to be wrapped."""

        def take(choice: int | str | None) -> None:
            if isinstance(choice, int):
                kind = KINDS[choice] if choice < len(KINDS) else ""
                self.app.ask(LineScreen("Its name:"), partial(self._name_new, kind))

        self.app.ask(ChoiceScreen("A new routine", [*NEW, WRAP]), take)

    def _name_new(self, kind: str, name: str | None) -> None:
        if not name:
            return
        if kind:
            self._make(name, kind, "")
        else:
            question = "The query; its constants become parameters, one that is NULL means all:"
            self.app.ask(LineScreen(question), lambda query: self._make(name, "", query) if query else None)

    def _make(self, name: str, kind: str, query: str) -> None:
        root = self.app.root
        if root is None:
            self.told("there is no project here: `glimb new DIR` makes one", severity="warning")
            return
        path = root / "routines" / f"{name}.sql"

        def write(text: str) -> None:
            def saved() -> None:
                self.app.files_saved({path})
                self.show(str(path), 1)
                self.edit_file(path, 1)

            self.app.worker.save(path, text, "", saved)

        self.app.worker.ask(lambda desk: routine_text(desk.engine(), name, kind, query.rstrip("; ")), write)


class RoutineScreen(RoutineEditing):
    """Source at the left, or its file being edited; at the right what is known, below it what the chosen line did."""

    NAME: ClassVar = "Routine"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        if message.lines is self.lines:
            self._draw_pane()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        if message.is_late or self.about is None:
            return
        if message.lines is self.known:
            use = self.about.callers[message.key]
            self.app.go_to_place(use.file, use.line)
        elif message.lines is self.lines:
            self.action_edit()

    def on_descendant_focus(self, event: events.DescendantFocus) -> None:
        self._draw_pane()

    # -- keys

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        elif self.shows_other:
            self.action_installed()
        else:
            await self.app.back()

    def action_full(self) -> None:
        self.full = not self.full
        self.set_class(self.full, "full")
        self.set_focus(self.known if self.full else self.lines)
        self.call_after_refresh(self.draw)

    def action_enter(self) -> None:
        (self.known if self.focused is self.known else self.lines).action_enter()

    def action_next(self, by: int) -> None:
        about = self.about
        at = next((n for n, r in enumerate(self.names) if about and (r.file, r.line) == (about.file, about.line)), -1)
        if self.names:
            found = self.names[(at + by) % len(self.names)]
            self.show(found.file, found.line)

    def action_choose(self) -> None:
        if not self.names:
            self.told("there is no routine here yet: o makes one")
            return

        def take(number: int | str | None) -> None:
            if isinstance(number, int):
                self.show(self.names[number].file, self.names[number].line)

        options = [f"{r.name}  {r.kind}  {self.app.shown(Path(r.file))}:{r.line}" for r in self.names]
        self.app.ask(ChoiceScreen("Routines", options), take)

    def action_call(self) -> None:
        about = self.about
        if about is not None:
            ask = lambda desk: (desk.call(about.file, about.line), desk.study.fixture(desk.project))  # noqa: E731
            self.app.worker.ask(ask, lambda found: self.app.type_on_scratch(f"{found[0]};", found[1]))

    def action_next_missing(self) -> None:
        about = self.about
        if about is None:
            return
        there = sorted(line for line, count in about.counts.items() if count.missing)
        here = self.lines.key or 0
        found = next((line for line in there if line > here), there[0] if there else None)
        if found is None:
            self.told("nothing is counted here yet: a in the survey runs and counts all cases"
                      if not about.counts else "all that is counted here has been tried")  # fmt: skip
        else:
            self.lines.choose(found)

    def action_next_misfit(self) -> None:
        about = self.about
        order = around(len(about.callers), (self.known.key or 0) + 1) if about is not None and about.callers else ()
        found = next((n for n in order if about is not None and about.callers[n].problem), None)
        if found is None:
            self.told("all calls fit")
        else:
            self.set_focus(self.known)
            self.known.choose(found)

    def action_installed(self) -> None:
        if self.other is None:
            self.told("the ladder has this very routine")
        else:
            self.shows_other = not self.shows_other
            self._draw_pane()

    def action_search(self) -> None:
        def take(text: str | None) -> None:
            if text:
                self.sought = text
                self.action_found(1)

        self.app.ask(LineScreen("Search the source:", self.sought), take)

    def action_found(self, by: int) -> None:
        about = self.about
        if about is None or not self.sought:
            self.action_search()
            return
        count, here = len(about.lines), (self.lines.key or about.line) - about.line
        order = ((here + by * n) % count for n in range(1, count + 1))
        found = next((n for n in order if self.sought.lower() in about.lines[n].lower()), None)
        if found is None:
            self.told(f"{self.sought} stands in no line")
        else:
            self.lines.choose(about.line + found)

    def action_own_editor(self) -> None:
        about = self.about
        if about is not None:
            self.app.edit(about.file, self.lines.key or about.line)
