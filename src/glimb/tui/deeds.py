"""What keys do with the rungs of a ladder: type, change, take back, bring, pin, watch, keep."""

from __future__ import annotations

from pathlib import Path

from glimb.suite.kept import SCRATCH
from glimb.suite.ladder import Rung
from glimb.suite.script import MAIN
from glimb.suite.wording import cut
from glimb.suite.workbench import Try, Workbench
from glimb.tui.asking import ChoiceScreen, LineScreen, TicksScreen
from glimb.tui.drawing import Row, one_line
from glimb.tui.messages import PinsFound
from glimb.tui.working import Work

AS_IN_FILE = "the case as its file has it"
NEW_SESSION = "Or a new one: NAME, behind it perhaps isolation LEVEL, autocommit on, patience 5s"


class Deeds:
    """Asks what has to be asked, and has the worker do it. A public method for each key."""

    def __init__(self, work: Work) -> None:
        self.work = work

    def type(self, rung: Rung | None) -> None:
        """Type below the last rung."""
        self.work.start(None)

    def change(self, rung: Rung | None) -> None:
        """Change the chosen rung."""
        if rung is not None:
            self.work.typed.put(f"{rung.text};")
            self.work.start(rung.number)

    def rewind(self, rung: Rung | None) -> None:
        """Take back the last rung."""
        self.work.ask(Workbench.rewind)

    def rewind_to(self, rung: Rung | None) -> None:
        """Take back what is below the chosen rung."""
        if rung is not None:
            self.work.ask(lambda bench: bench.rewind(rung.number))

    def bring(self, rung: Rung | None) -> None:
        """Bring back what was taken back last."""
        if self.work.view is None or not self.work.view.taken:
            self.work.app.notify("nothing has been taken back since something was typed; z is the shelf of tries")
        else:
            self.work.ask(Workbench.bring)

    def tries(self, rung: Rung | None) -> None:
        """The shelf: choose one to be taken again, or to be laid beside."""
        row, view = self.work.row, self.work.view
        shelf = view.tries if view is not None else []
        options = [_told(one) for one in shelf]
        if row is not None and view is not None and view.typed and row.title != SCRATCH:
            options.append(AS_IN_FILE)
        if row is None or not options:
            self.work.app.notify("the shelf is empty: what is taken back comes there when something else is typed")
            return

        def take(number: int | str | None) -> None:
            if isinstance(number, int) and number == len(shelf):
                self.work.app.worker.leave(row.id, row.script)
            elif isinstance(number, int):
                self._take(shelf[number], number)

        self.work.app.ask(ChoiceScreen("Tries: what was taken back", options, len(options) - 1), take)

    def _take(self, one: Try, number: int) -> None:
        def take(choice: int | str | None) -> None:
            if choice == 0:
                self.work.ask(lambda bench: bench.take(number))
            elif choice == 1:
                self.work.beside = one.ladder
                self.work.app.notify("D goes from the ladder to the try and back")
                self.work.draw()

        options = ["take it again: what stands there now goes to the shelf", "lay its ladder beside the present one"]
        self.work.app.ask(ChoiceScreen(_told(one), options), take)

    def sessions(self, rung: Rung | None) -> None:
        """Choose the session to type in, or make one."""
        there = self.work.ladder.sessions if self.work.ladder is not None else []
        names = there or [MAIN]
        at = names.index(self.work.typing_in()) if self.work.typing_in() in names else -1

        def take(choice: int | str | None) -> None:
            if choice is not None:
                self.work.session = names[choice] if isinstance(choice, int) else " ".join(choice.split())
                self.type(None)
                self.work.draw()

        self.work.app.ask(ChoiceScreen("The session to type in", names, (at + 1) % len(names), NEW_SESSION), take)

    def watching(self, rung: Rung | None) -> None:
        """Watch a query, or no longer."""
        watched = [watch.query for watch in self.work.view.watches] if self.work.view is not None else []

        def take(choice: int | str | None) -> None:
            query = watched[choice] if isinstance(choice, int) else (choice or "").rstrip("; ")
            if query:
                self.work.ask(lambda bench: bench.watch(query))

        told = "Watched; Enter watches one no longer" if watched else "A query whose value stands beside every rung"
        self.work.app.ask(ChoiceScreen(told, watched, 0, "SELECT ... or an expression"), take)

    def again(self, rung: Rung | None) -> None:
        """Run the marked rungs, or the chosen one, once more."""
        rungs = sorted(self.work.marked) or ([rung.number] if rung is not None else [])
        if rungs:
            self.work.marked = set()
            self.work.ask(lambda bench: bench.again(rungs))

    def only(self, rung: Rung | None) -> None:
        """Run the marked rungs alone."""
        rungs = sorted(self.work.marked)
        if not rungs:
            self.work.app.notify("no rung is marked: m marks the chosen one")
            return
        self.work.marked = set()
        self.work.ask(lambda bench: bench.only(rungs))

    def leave_out(self, rung: Rung | None) -> None:
        """Run again without the chosen rung."""
        if rung is not None:
            self.work.ask(lambda bench: bench.leave_out(rung.number))

    def pin(self, rung: Rung | None) -> None:
        """Ask what could be said of the chosen rung."""
        if self.work.row is not None and rung is not None:
            self.work.app.worker.find_pins(self.work.row.id, self.work.row.script, rung.number)

    def pins_found(self, message: PinsFound) -> None:
        """Tick which of the lines are wanted."""
        if not message.blocks:
            self.work.app.notify("all that is telling of this rung is expected already")
            return

        def take(ticked: list[int] | None) -> None:
            lines = [line for number in ticked or () for line in message.blocks[number]]
            if lines:
                self.work.ask(lambda bench: bench.pin(message.rung, lines))

        shown = ["\n".join(block) for block in message.blocks]
        told = f"Expect of rung {message.rung}: (what slipped and says the same thing gives way)"
        self.work.app.ask(TicksScreen(told, shown), take)

    def keep(self, rung: Rung | None) -> None:
        """Keep what was worked on: in the case's file, under its title in its place, under another as a new case."""
        row = self.work.row
        if row is None or row.case is None:
            return
        if self.work.view is None or not self.work.view.typed:
            self.work.app.notify("nothing has been worked on here that its file does not have")
        elif row.title == SCRATCH:
            self._keep_scratch(row)
        else:
            self._keep_in(row, row.script.path, row.case.title)

    def _keep_scratch(self, row: Row) -> None:
        """Ask for a file first."""
        folder = self.work.app.root if self.work.app.root is not None else row.script.path.parent
        default = "cases/new.sql" if self.work.app.root is not None else "new.sql"

        def take(name: str | None) -> None:
            if name:
                path = folder / (name if name.endswith(".sql") else f"{name}.sql")
                self._keep_in(row, path, "")

        self.work.app.ask(LineScreen("In which file? It is made when it is not there.", default), take)

    def _keep_in(self, row: Row, path: Path, title: str) -> None:
        def take(title: str | None) -> None:
            if title:
                self.work.app.worker.keep(row.id, row.script, path, title)

        view = self.work.view
        too = ", the setup of all its cases with it," if view is not None and view.has_own_setup else ""
        self.work.app.ask(LineScreen(f"Keep this ladder in {self.work.app.shown(path)}{too} as the case:", title), take)


def _told(one: Try) -> str:
    """A try in a line."""
    rungs = one.rungs
    numbers = f"rung {rungs[0].number}" if len(rungs) == 1 else f"rungs {rungs[0].number} to {rungs[-1].number}"
    return f"{numbers}: {cut('; '.join(one_line(rung.text) for rung in rungs), 80)}"
