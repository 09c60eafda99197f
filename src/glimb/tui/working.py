"""The foot of the ladder: the open rung, and what is done with it: run, take back, change, pin, keep."""

from __future__ import annotations

from collections.abc import Callable

from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from glimb.lang.problem import Problem
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.script import MAIN
from glimb.suite.workbench import View, Workbench
from glimb.tui.asking import LineScreen, TicksScreen
from glimb.tui.drawing import Row
from glimb.tui.editor import OpenRung
from glimb.tui.host import Host
from glimb.tui.text import Text
from glimb.tui.worker import PinsFound, Refused


class Work(Vertical):
    """Asks the worker for steps of work on the ladder that is shown."""

    app: Host

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self.view: View | None = None
        """The ladder as it is being worked on; None while it is that of the file."""
        self.changing: int | None = None
        """The rung whose text is being changed; None: what is typed comes below the last one."""
        self.session = ""
        """The session that was chosen to type in; empty: that of the last rung."""
        self.row: Row | None = None
        self.ladder: Ladder | None = None
        self.label, self.typed = Static("", id="typing"), OpenRung(id="typed")

    def compose(self) -> ComposeResult:
        yield self.label
        yield self.typed

    def about(self, row: Row | None, ladder: Ladder | None) -> None:
        """What is shown above."""
        self.row, self.ladder = row, ladder

    def leave(self) -> None:
        """Another case is shown."""
        self.view, self.changing, self.session = None, None, ""

    def worked(self, view: View, names: list[str]) -> None:
        """A step of work is done."""
        self.view, self.changing = view, None
        self.typed.know(names)

    def draw(self, problem: Problem | None = None) -> None:
        """Above the open rung: what will become of the text, or what is wrong with it."""
        colours = self.app.colours
        line = Text()
        if problem is not None:
            line.append(f" {problem.message}", style=colours.slip)
            line.append(f"  {problem.hint}" if problem.hint else "", style=colours.quiet)
        elif self.changing is not None:
            line.append(f" rung {self.changing} again, and all below it", style=f"bold {colours.warn}")
        else:
            line.append(f" ▸ {self._session()}", style=f"bold {colours.accent}")
            tries = self.view.tries if self.view is not None else 0
            told = "  o type  c session  e change" + (f"  U bring back ({tries})" if tries else "")
            typing = "  Enter runs, Esc ends, ↑ what was typed before"
            line.append(typing if self.typed.has_focus else told, style=colours.quiet)
        self.label.update(line)
        self.typed.colour(colours)

    def _session(self) -> str:
        """The session in which one types."""
        if self.session:
            return self.session
        if self.view is not None:
            return self.view.session
        rungs = self.ladder.rungs if self.ladder is not None else []
        return rungs[-1].session if rungs else MAIN

    def _ask(self, action: Callable[[Workbench], View], text: str = "") -> None:
        """Ask for a step of work."""
        row = self.row
        if row is None or row.case is None:
            self.app.notify("there is no ladder to work on: choose a case in the survey")
        else:
            self.app.worker.work(row.id, row.script, action, text)

    # -- the open rung

    def refused(self, message: Refused) -> None:
        """It could not be run: the text stands there again."""
        self.app.notify(message.message, severity="error")
        if message.text and not self.typed.text:  # otherwise it is in the history
            self.typed.put(message.text)
            self.typed.focus()

    def on_open_rung_submitted(self, message: OpenRung.Submitted) -> None:
        text, session, changing = message.text, self.session, self.changing
        self.session = ""
        if changing is not None:
            self._ask(lambda bench: bench.change(changing, text), text)
            self.screen.query_one("#rungs").focus()
        else:
            self._ask(lambda bench: bench.type(text, session), text)

    def on_open_rung_left(self) -> None:
        if self.changing is not None:
            self.changing = None
            self.typed.put("")
        self.screen.query_one("#rungs").focus()
        self.draw()

    def on_open_rung_wrong(self, message: OpenRung.Wrong) -> None:
        self.draw(message.problem)

    def on_descendant_focus(self) -> None:
        self.draw()

    def on_descendant_blur(self) -> None:
        self.draw()

    # -- what keys do, each with the chosen rung

    def type(self, rung: Rung | None) -> None:
        """Type below the last rung."""
        self.changing = None
        self.typed.focus()

    def change(self, rung: Rung | None) -> None:
        """Change the chosen rung."""
        if rung is None or not self._is_own(rung):
            return
        self.changing = rung.number
        self.typed.put(f"{rung.text};")
        self.typed.focus()
        self.draw()

    def _is_own(self, rung: Rung) -> bool:
        """Whether a rung belongs to the case alone; says so if not."""
        if rung.is_setup:
            self.app.notify("this rung belongs to the setup of all cases: it is changed in the file")
        return not rung.is_setup

    def rewind(self, rung: Rung | None) -> None:
        """Take back the last rung."""
        self._ask(lambda bench: bench.rewind())

    def rewind_to(self, rung: Rung | None) -> None:
        """Take back what is below the chosen rung."""
        if rung is not None:
            self._ask(lambda bench: bench.rewind(rung.number))

    def bring(self, rung: Rung | None) -> None:
        """Bring back what was taken back last."""
        self._ask(lambda bench: bench.bring())

    def next_session(self, rung: Rung | None) -> None:
        """The next of the sessions that there are; another one is made by `--# session NAME`."""
        sessions = self.ladder.sessions if self.ladder is not None else []
        if sessions:
            at = sessions.index(self._session()) if self._session() in sessions else -1
            self.session = sessions[(at + 1) % len(sessions)]
            self.draw()

    def pin(self, rung: Rung | None) -> None:
        """Ask what could be said of the chosen rung."""
        if self.row is not None and rung is not None and self._is_own(rung):
            self.app.worker.find_pins(self.row.id, self.row.script, rung.number)

    def pins_found(self, message: PinsFound) -> None:
        """Tick which of the lines are wanted."""
        if not message.blocks:
            self.app.notify("all that is telling of this rung is expected already")
            return

        def take(ticked: list[int] | None) -> None:
            lines = [line for number in ticked or () for line in message.blocks[number]]
            if lines:
                self._ask(lambda bench: bench.pin(message.rung, lines))

        shown = ["\n".join(block) for block in message.blocks]
        self.app.push_screen(TicksScreen(f"Expect of rung {message.rung}:", shown), take)

    def keep(self, rung: Rung | None) -> None:
        """Keep what was worked on in the case's file: under its title in its place, under another as a new case."""
        row = self.row
        if row is None or row.case is None:
            return
        if self.view is None or not self.view.typed:
            self.app.notify("nothing has been worked on here that its file does not have")
            return

        def take(title: str | None) -> None:
            if title:
                self.app.worker.keep(row.id, row.script, row.script.path, title)

        question = f"Keep this ladder in {self.app.shown(row.script.path)} as the case:"
        self.app.push_screen(LineScreen(question, row.case.title), take)
