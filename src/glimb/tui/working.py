"""The end of the ladder: the open rung, what is said around it, and what is known of the work on the ladder."""

from __future__ import annotations

from collections.abc import Callable

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from glimb.lang.problem import Problem
from glimb.suite.completing import Words
from glimb.suite.ladder import Ladder
from glimb.suite.script import MAIN
from glimb.suite.wording import cut
from glimb.suite.workbench import View, Workbench
from glimb.tui.drawing import Row, plural
from glimb.tui.editor import OpenRung
from glimb.tui.guarded import Guarded
from glimb.tui.host import Host
from glimb.tui.lines import Lines
from glimb.tui.messages import Refused
from glimb.tui.text import Text


class Work(Guarded, Vertical):
    """Asks the worker for steps of work on the ladder that is shown."""

    app: Host

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self.view: View | None = None
        """The ladder as it is being worked on; None while it is that of the file."""
        self.changing: int | None = None
        """The rung whose text is being changed; None: what is typed comes below the last one."""
        self.session = ""
        """The session that was chosen to type in, with its settings if it is new; empty: that of the last rung."""
        self.marked: set[int] = set()
        """The rungs that are marked."""
        self.beside: Ladder | None = None
        """The ladder of a try that was laid beside the present one."""
        self.words = Words()
        self.row: Row | None = None
        self.ladder: Ladder | None = None
        self.problem: Problem | None = None
        self.label, self.typed, self.offered = Static("", id="typing"), OpenRung(id="typed"), Static("", id="offered")

    def compose(self) -> ComposeResult:
        yield self.label
        yield self.typed
        yield self.offered

    def on_resize(self) -> None:
        self._draw_offers()

    def share_room(self, lines: Lines) -> None:
        """The open rung stands right below the last one; with many rungs, at the foot."""
        wanted = 1 + max(1, min(10, self.typed.wrapped_document.height)) + (2 if self.typed.has_focus else 0)
        room = self.screen.query_one("#left").size.height
        if room:
            lines.styles.height = max(3, min(lines.virtual_size.height, room - wanted))
            lines.keep_in_sight()

    def about(self, row: Row | None, ladder: Ladder | None) -> None:
        """What is shown above."""
        self.row, self.ladder = row, ladder

    def leave(self) -> None:
        """Another case is shown."""
        self.view, self.changing, self.session = None, None, ""
        self.marked, self.beside = set(), None

    def worked(self, view: View, words: Words) -> None:
        """A step of work is done."""
        self.view, self.changing = view, None
        self.marked = {number for number in self.marked if number <= len(view.ladder.rungs)}
        self.know(words)

    def know(self, words: Words) -> None:
        """The names that can be typed."""
        self.words = self.typed.words = words
        self.typed.update_suggestion()

    def put(self, text: str) -> None:
        """Have a text in the open rung."""
        self.typed.put(text)
        self.start(None)
        self.draw()

    def insert(self, text: str) -> None:
        """Type something where the cursor stands in the open rung."""
        self.start(None)
        self.typed.insert(text)
        self.draw()

    def start(self, changing: int | None) -> None:
        """Type from now on: below the last rung, or another text for one."""
        self.changing, self.typed.is_for_once = changing, changing is not None
        self.screen.set_focus(self.typed)

    def draw(self) -> None:
        """Around the open rung: what will become of the text, what is wrong with it, what it may go on to."""
        colours = self.app.colours
        line = Text()
        if self.changing is not None:
            rungs = self.ladder.rungs if self.ladder is not None else []
            is_setup = self.changing <= len(rungs) and rungs[self.changing - 1].is_setup
            told = ": it belongs to the setup of all cases" if is_setup else ""
            line.append(f" rung {self.changing} again, and all below it{told}", style=f"bold {colours.warn}")
        else:
            line.append(f" ▸ {self.typing_in()}", style=f"bold {self._colour()}")
        problem = self.problem
        if problem is not None:
            line.append(f"  {problem.message}", style=colours.slip)
            line.append(f"  {problem.hint}" if problem.hint else "", style=colours.quiet)
        elif not self.typed.has_focus:
            told = f"   {plural(len(self.marked), 'rung')} marked" if self.marked else ""
            taken = len(self.view.taken) if self.view is not None else 0
            told += f"   {plural(taken, 'rung')} taken back: U brings them again" if taken else ""
            line.append(told or "   o: the next statement", style=colours.quiet)
        self.label.update(line)
        self.offered.display = self.typed.has_focus
        self._draw_offers()
        self.typed.colour(colours)

    def _draw_offers(self) -> None:
        """What may stand at the cursor, what it is of the first; a click takes it."""
        colours, typed = self.app.colours, self.typed
        line, room = Text(" "), max(20, self.size.width - 2)
        shown = typed.taking or 0
        first = max(0, shown - 3)
        for number, offer in enumerate(typed.offers[first:], first):
            if len(line) + len(offer.text) > room:
                break
            style = f"bold {colours.accent}" if number == typed.taking else colours.text
            start = len(line)
            line.append(offer.text, style=style)
            line.apply_meta({"offer": number}, start, len(line))
            line.append("   ")
        told = typed.offers[shown].told if typed.offers else ""
        self.offered.update(Text("\n").join([line, Text(f" {cut(told, room)}", style=colours.quiet)]))

    def typing_in(self) -> str:
        """The session in which one types."""
        if self.session:
            return self.session
        if self.view is not None:
            return self.view.session
        rungs = self.ladder.rungs if self.ladder is not None else []
        return rungs[-1].session if rungs else MAIN

    def _colour(self) -> str:
        sessions = self.ladder.sessions if self.ladder is not None else []
        name = self.typing_in()
        return self.app.colours.session(sessions.index(name) if name in sessions else len(sessions))

    def ask(self, action: Callable[[Workbench], View], text: str = "") -> None:
        """Ask for a step of work."""
        row = self.row
        if row is None or row.case is None:
            self.app.notify("there is no ladder to work on: choose a case in the survey")
        else:
            self.app.worker.work(row.id, row.script, action, text)

    def turn(self, side: int) -> None:
        """Work on another side of a case that runs twice."""
        if self.row is not None:
            self.app.worker.turn(self.row.id, self.row.script, side)

    # -- the open rung

    def refused(self, message: Refused) -> None:
        """It could not be run: the text stands there again."""
        self.app.notify(message.message, severity="error")
        if message.text and not self.typed.text:  # otherwise it is in the history
            self.put(message.text)

    def on_open_rung_submitted(self, message: OpenRung.Submitted) -> None:
        text, session, changing = message.text, self.session, self.changing
        self.session, self.problem, self.beside = "", None, None
        if changing is not None:
            self.changing = None
            self.ask(lambda bench: bench.change(changing, text), text)
        elif " " in session:
            self.ask(lambda bench: bench.type(f"--# session {session}\n{text}"), text)
        else:
            self.ask(lambda bench: bench.type(text, session), text)

    def on_sql_area_left(self) -> None:
        if self.changing is not None:
            self.changing = None
            self.typed.put("")
        self.draw()

    def on_sql_area_wrong(self, message: OpenRung.Wrong) -> None:
        self.problem = message.problem
        self.draw()

    def on_sql_area_offered(self) -> None:
        self._draw_offers()

    def on_click(self, event: events.Click) -> None:
        """A click on what is offered takes it."""
        number = event.style.meta.get("offer")
        if number is not None:
            self.typed.take(number)

    def on_descendant_focus(self) -> None:
        self.typed.update_suggestion()
        self.draw()
        self.screen.refresh_bindings()

    def on_descendant_blur(self) -> None:
        self.draw()
        self.screen.refresh_bindings()
