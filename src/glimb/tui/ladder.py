"""The ladder: one case, rung by rung, with the rails of its sessions and the facets of the chosen rung."""

from __future__ import annotations

from typing import ClassVar

from textual import events
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Horizontal, Vertical
from textual.screen import Screen
from textual.widgets import Static

from glimb.engine.outcomes.steps import Step
from glimb.suite.ladder import Ladder
from glimb.suite.results import CaseResult
from glimb.tui import facets
from glimb.tui.drawing import Row, ladder_items, step_items, step_title
from glimb.tui.heading import case_head, counts_head, side_head, why_empty
from glimb.tui.host import Host
from glimb.tui.keys import KeysScreen
from glimb.tui.lines import Lines, around, fixed
from glimb.tui.pane import Pane
from glimb.tui.text import Text
from glimb.tui.worker import Worked
from glimb.tui.working import Work

KEYS = [
    ("↑ ↓", "choose a rung"),
    ("Enter", "climb into a call or loop"),
    ("Esc", "climb out; from the case, back to the survey"),
    ("o", "type a statement below the last rung; Enter runs it, Esc ends typing"),
    ("e", "change the chosen rung, and run again from there"),
    ("u", "take back the last rung, a commit too"),
    ("d", "take back all rungs below the chosen one"),
    ("U", "bring back what was taken back"),
    ("c", "the session to type in"),
    ("p", "pin: what was seen of the chosen rung, as expectations"),
    ("k", "keep what was worked on as a case of its file"),
    ("x", "next slip"),
    ("r", "run again, with the file as it is now"),
    ("n  b", "next case, case before"),
    ("f", "facets in full, or beside the rungs"),
    ("l", "all sessions and locks at the rung, or its facets"),
    ("w", "the other run of a twin"),
    ("Tab", "scroll the facets"),
    ("s", "stop the run"),
    ("t", "dark or light"),
    ("S", "survey"),
    ("?", "these keys"),
    ("q", "quit"),
]

BINDINGS: list[BindingType] = [
    Binding("escape", "out", "out"),
    Binding("o", "work('type')", "type"),
    Binding("e", "work('change')", "change"),
    Binding("u", "work('rewind')", "take back"),
    Binding("d", "work('rewind_to')", "back to here"),
    Binding("U", "work('bring')", "bring back"),
    Binding("c", "work('next_session')", "session"),
    Binding("p", "work('pin')", "pin"),
    Binding("k", "work('keep')", "keep"),
    Binding("x", "next_slip", "next slip"),
    Binding("r", "again", "run again"),
    Binding("n", "case(1)", "next case"),
    Binding("b", "case(-1)", "case before"),
    Binding("f", "full", "facets"),
    Binding("l", "locks", "locks"),
    Binding("w", "side", "other side"),
    Binding("s", "stop", "stop"),
    Binding("S", "survey", "survey"),
    Binding("question_mark", "keys", "keys"),
    Binding("q", "app.quit", "quit"),
]


class Level:
    """Where one has climbed to: the steps shown, the path to them, and which one was chosen."""

    def __init__(self, title: str, steps: list[Step], chosen: int = 0) -> None:
        self.title = title
        self.steps = steps
        self.chosen = chosen


class LadderScreen(Screen[None]):
    """Rungs at the left, facets at the right (below them where there is little room)."""

    app: Host
    BINDINGS: ClassVar = BINDINGS

    def __init__(self) -> None:
        super().__init__()
        self.row: Row | None = None
        self.result: CaseResult | None = None
        self.levels: list[Level] = []
        self.rung = 0
        self.full = False
        self.locks = False
        """Whether the pane shows all sessions and locks at the chosen rung, instead of its facets."""
        self.changed = False
        self.side = 0
        """Which run of a twin is shown."""
        self.head, self.foot = Static("", id="head"), Static("", id="foot")
        self.lines, self.pane = Lines(id="rungs"), Pane(id="facets")
        self.work = Work(id="work")

    def compose(self) -> ComposeResult:
        yield self.head
        with Horizontal(id="body"):
            with Vertical(id="left"):
                yield self.lines
                yield self.work
            yield self.pane
        yield self.foot

    @property
    def ladders(self) -> list[Ladder]:
        if self.work.view is not None:
            return [self.work.view.ladder]
        return self.result.ladders if self.result is not None else []

    @property
    def ladder(self) -> Ladder | None:
        return self.ladders[self.side] if self.side < len(self.ladders) else None

    def on_mount(self) -> None:
        self.lines.focus()
        self.draw()

    def on_resize(self, event: events.Resize) -> None:
        self.set_class(event.size.width < 100, "narrow")
        self.call_after_refresh(self.draw)

    # -- contents

    def show_case(self, row: Row) -> None:
        """Show another case; its ladder comes when it has been run."""
        self.row, self.result = row, None
        self.levels, self.rung, self.changed, self.side = [], 0, False, 0
        self.work.leave()
        self.draw()

    def show_result(self, result: CaseResult) -> None:
        self.result = result
        self.levels, self.changed = [], False
        if self.side >= len(self.ladders) or not self.ladders[self.side].slip_count:
            self.side = next((n for n, side in enumerate(self.ladders) if side.slip_count), 0)
        ladder = self.ladder
        if ladder is not None:
            slipped = next((n for n, rung in enumerate(ladder.rungs) if rung.slips), None)
            if slipped is not None and not self.rung:
                self.rung = slipped
            self.rung = max(0, min(self.rung, len(ladder.rungs) - 1))
        self.draw()

    def draw(self) -> None:
        """Draw everything anew."""
        if not self.is_mounted:
            return
        colours, lines = self.app.colours, self.lines
        width = (lines.size.width or self.size.width) - 1
        if self.levels:
            level = self.levels[-1]
            lines.show(step_items(level.steps, colours, width), level.chosen, colours.chosen, level.steps)
        elif self.ladder is not None:
            differs = self.work.view.differs if self.work.view is not None else {}
            items = ladder_items(self.ladder, colours, width, differs)
            lines.show(items, self.rung, colours.chosen, self.ladder)
        else:
            told = [
                fixed(Text(f"  {line}", style=colours.text)) for line in why_empty(self.row, self.result, width - 3)
            ]
            lines.show(told, None, colours.chosen)
        self._draw_head()
        self.work.about(self.row, self.ladder)
        self.work.draw()
        self._draw_facets()

    def _draw_head(self) -> None:
        colours = self.app.colours
        head = Text().append(" Ladder ", style=f"bold reverse {colours.accent}")
        if self.row is not None:
            head.append_text(case_head(self.row, self.result, [level.title for level in self.levels], colours))
            head.append_text(side_head(self.result, self.side, colours))
            if self.work.view is not None and self.work.view.typed:
                head.append("  worked on, kept in no file", style=f"bold {colours.warn}")
            if not self.levels and self.ladder is not None:
                head.append_text(counts_head(self.ladder, colours))
            if self.changed:
                head.append("  the file has changed: r runs it again", style=f"bold {colours.warn}")
        self.head.update(head)
        self.foot.update(Text(" " + self._keys(), style=colours.quiet))

    def _keys(self) -> str:
        keys = "Enter in  Esc out  o type  e change  u back  p pin  k keep  x slip  r again  n b cases  l locks  ? keys"
        return f"running, s stops  {keys}" if self.row is not None and self.result is None else keys

    def _draw_facets(self) -> None:
        colours, pane = self.app.colours, self.pane
        key = self.lines.key
        ladder = self.ladder
        if self.levels and key is not None:
            step = self.levels[-1].steps[key]
            pane.draw(lambda width: facets.step_facets(step, colours, width))
        elif ladder is not None and key is not None:
            rung = ladder.rungs[key]
            if self.locks:
                pane.draw(lambda width: facets.locks_at(ladder, key, colours, width))
            else:
                pane.draw(lambda width: facets.rung_facets(rung, ladder, colours, width))
        else:
            pane.draw(lambda width: Text("The facets of the chosen rung stand here.", style=colours.quiet))

    # -- working

    def worked(self, message: Worked) -> None:
        """The ladder has changed: stand where it does something else, or at its last rung if their number is new."""
        if self.row is None or self.row.id != message.case_id:
            return
        before, count = len(self.ladder.rungs) if self.ladder is not None else 0, len(message.view.ladder.rungs)
        self.levels = []
        self.work.worked(message.view, message.names)
        if message.view.differs:
            self.rung = min(message.view.differs) - 1
        elif count != before:
            self.rung = max(0, count - 1)
        self.draw()

    def action_work(self, name: str) -> None:
        """Something that is done with the open rung, or the chosen one (see `Work`)."""
        ladder, key = self.ladder, self.lines.key
        rung = ladder.rungs[key] if ladder is not None and key is not None and not self.levels else None
        getattr(self.work, name)(rung)

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        if message.is_late:
            return
        if self.levels:
            self.levels[-1].chosen = message.key
        else:
            self.rung = message.key
        self._draw_facets()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        """Climb into a call; where it holds one routine only, straight into that."""
        if not self.is_current:  # one has left meanwhile: the key is for the screen that is there now
            for lines in self.app.screen.query(Lines):
                lines.action_enter()
            return
        if message.is_late:
            return
        if self.levels:
            step = self.levels[-1].steps[message.key]
            steps, title = step.steps, step_title(step)
        elif self.ladder is not None:
            rung = self.ladder.rungs[message.key]
            steps, title = rung.steps, f"rung {rung.number}"
        else:
            return
        if len(steps) == 1 and steps[0].frame is not None:
            title = steps[0].frame.name
            steps = steps[0].steps
        if not steps:
            self.notify("there is nothing inside")
            return
        self.levels.append(Level(title, steps))
        self.draw()

    # -- keys

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        elif self.levels:
            self.levels.pop()
            self.draw()
        else:
            await self.app.show_survey()

    def action_next_slip(self) -> None:
        ladder = self.ladder
        if ladder is None:
            return
        self.levels = []
        order = around(len(ladder.rungs), self.rung + 1)
        found = next((n for n in order if ladder.rungs[n].slips), None)
        if found is None:
            self.notify("no slip in this case")
            found = self.rung
        self.rung = found
        self.draw()

    def action_again(self) -> None:
        if self.row is not None:
            self.app.run_again(self.row)

    def action_case(self, by: int) -> None:
        self.app.neighbour(by)

    def action_full(self) -> None:
        """Give the facets the whole screen, or their side of it."""
        self.full = not self.full
        self.set_class(self.full, "full")
        (self.pane if self.full else self.lines).focus()
        self.call_after_refresh(self._draw_facets)

    def action_side(self) -> None:
        """The other run of a twin."""
        if len(self.ladders) > 1:
            self.side, self.levels = 1 - self.side, []
            self.draw()
        else:
            self.app.notify("this case is no twin: it runs once")

    def action_locks(self) -> None:
        """Sessions and locks at the chosen rung, or its facets."""
        self.locks = not self.locks
        self._draw_facets()

    def action_stop(self) -> None:
        self.app.worker.stop()

    async def action_survey(self) -> None:
        await self.app.show_survey()

    def action_keys(self) -> None:
        self.app.push_screen(KeysScreen("Ladder", KEYS, True))
