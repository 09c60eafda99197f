"""The ladder: one case, rung by rung, with the rails of its sessions and the facets of the chosen rung."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar

from textual.app import ComposeResult
from textual.containers import Horizontal, Vertical
from textual.widgets import TextArea

from glimb.suite.ladder import Ladder, Rung
from glimb.suite.results import CaseResult
from glimb.suite.searching import says
from glimb.tui import facets
from glimb.tui.asking import LineScreen
from glimb.tui.deeds import Deeds
from glimb.tui.drawing import Row
from glimb.tui.heading import Shown, ladder_head, why_empty
from glimb.tui.lines import Lines, fixed
from glimb.tui.messages import Worked
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.pane import Pane
from glimb.tui.rungs import LENSES, NUMBER_WIDTH, LadderDrawing, Look
from glimb.tui.text import Text
from glimb.tui.working import Work

KEYS = [
    Key("escape", "out", "out", "back to where one came from", True),
    Key("enter", "enter", "climb", "climb into a call; of another rung, open all its rows", True),
    Key("question_mark", "keys", "keys", "these keys and signs", True),
    Key("o", "work('type')", "type", "type a statement below the last rung; Enter runs it, Esc ends typing", True),
    Key("e", "work('change')", "change", "change the chosen rung, and run again from there", True),
    Key("f", "full", "facets", "facets on the whole screen, or beside the rungs", True),
    Key("u", "work('rewind')", "take back", "take back the last rung, a commit too", True),
    Key("d", "work('rewind_to')", "back to here", "take back all rungs below the chosen one", True),
    Key("U", "work('bring')", "bring back", "bring back what was taken back", True),
    Key("z", "work('tries')", "tries", "the shelf: what was taken back before, to be taken again or laid beside", True),
    Key("p", "work('pin')", "pin", "pin: what was seen of the chosen rung, as expectations", True),
    Key("k", "work('keep')", "keep", "keep what was worked on as a case of a file", True),
    Key("c", "work('sessions')", "session", "the session to type in, or a new one", True),
    Key("w", "work('watching')", "watch", "watch a query: its value beside every rung", True),
    Key("l", "lens", "lens", "what rungs show: effects, rows, changes, notes, locks, time", True),
    Key("slash", "search", "search", "search statements, values and notes", True),
    Key("full_stop", "found(1)", "next found", "the next rung found"),
    Key("comma", "found(-1)", "found before", "the rung found before"),
    Key("m", "mark", "mark", "mark the chosen rung, or no longer"),
    Key("a", "work('again')", "again", "run the marked rungs, or the chosen one, once more below the last"),
    Key("i", "work('only')", "only marked", "run only the marked rungs, from the fixture"),
    Key("delete,minus", "work('leave_out')", "leave out", "run again with the chosen rung left out"),
    Key("r", "again", "run again", "run again, with the files as they are now", True),
    Key("x", "next_slip", "next slip", "the next rung with a slip"),
    Key("n", "case(1)", "next case", "the next case"),
    Key("b", "case(-1)", "case before", "the case before"),
    Key("h", "locks", "locks", "all sessions and locks at the rung, or its facets"),
    Key("D", "side", "other side", "the other run of a twin, or the try that was laid beside"),
    Key("E", "edit", "editor", "the file in your editor, at the chosen rung"),
    Key("tab", "app.focus_next", "scroll", "scroll the facets"),
    Key("s", "stop", "stop", "stop the run"),
    Key("t", "app.theme", "colours", "dark or light"),
    DRAW,
    *GOING,
    Key("ctrl+p", "app.command_palette", "find", "find an action, a case, a routine or a table by name"),
    Key("q", "app.quit", "quit", "quit"),
]


class LadderView(Page):
    """What is shown of a ladder: its rungs, and the facets of the chosen one."""

    def __init__(self) -> None:
        super().__init__()
        self.row: Row | None = None
        self.result: CaseResult | None = None
        self.rung = 0
        self.locks = False
        """Whether the pane shows all sessions and locks at the chosen rung, instead of its facets."""
        self.changed = False
        self.side = 0
        """Which run of a twin is shown."""
        self.lens = 0
        self.wanted_line = 0
        """The line of the script whose rung is to be chosen when the ladder comes."""
        self.opened: frozenset[int] = frozenset()
        self.sought = ""
        self.lines, self.pane = Lines(id="rungs"), Pane(id="facets")
        self.work = Work(id="work")
        self.deeds = Deeds(self.work)

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            with Vertical(id="left"):
                yield self.lines
                yield self.work
            yield self.pane

    @property
    def ladders(self) -> list[Ladder]:
        """What can be looked at: the ladder, of a twin both runs, behind them a try that was laid beside."""
        view, beside = self.work.view, self.work.beside
        if view is not None and (view.typed or self.result is None):
            return [*view.ladders, *([beside] if beside is not None else [])]
        return self.result.ladders if self.result is not None else []

    @property
    def ladder(self) -> Ladder | None:
        return self.ladders[self.side] if self.side < len(self.ladders) else None

    @property
    def is_own_side(self) -> bool:
        """Whether the ladder that is shown can be worked on: a try that was laid beside it cannot."""
        case = self.row.case if self.row is not None else None
        return self.side < (len(case.twin.values) if case is not None and case.twin is not None else 1)

    @property
    def chosen(self) -> Rung | None:
        """The rung that is chosen."""
        ladder, key = self.ladder, self.lines.key
        return ladder.rungs[key] if ladder is not None and key is not None and key < len(ladder.rungs) else None

    def on_mount(self) -> None:
        self.work.typed.leaves_to = self.lines
        self.lines.focus()
        self.draw()

    # -- contents

    def show_case(self, row: Row) -> None:
        """Show another case; its ladder comes when it has been run."""
        self.row, self.result = row, None
        self.rung, self.changed, self.side, self.opened = 0, False, 0, frozenset()
        self.work.leave()
        self.draw()

    def show_result(self, result: CaseResult) -> None:
        """The case has been run."""
        self.result, self.changed = result, False
        if self.side >= len(self.ladders) or not self.ladders[self.side].slip_count:
            self.side = next((n for n, side in enumerate(self.ladders) if side.slip_count), 0)
        if len(self.ladders) > 1:
            self.work.turn(self.side)
        ladder = self.ladder
        if ladder is not None:
            slipped = next((n for n, rung in enumerate(ladder.rungs) if rung.slips), None)
            if slipped is not None and not self.rung:
                self.rung = slipped
            if self.wanted_line:
                behind = [n for n, rung in enumerate(ladder.rungs) if rung.line <= self.wanted_line]
                self.rung, self.wanted_line = (behind or [0])[-1], 0
            self.rung = max(0, min(self.rung, len(ladder.rungs) - 1))
        self.draw()

    def draw(self) -> None:
        if not self.is_mounted:
            return
        colours, lines, ladder = self.app.colours, self.lines, self.ladder
        width = (self.query_one("#left").size.width or self.size.width) - 1
        self.work.about(self.row, ladder)
        if ladder is not None:
            drawing = LadderDrawing(ladder, self._look(width), colours)
            lines.show(drawing.items(), self.rung, colours.chosen, ladder)
            self.work.styles.margin = (0, 0, 0, drawing.rail_width + NUMBER_WIDTH - 1)
        else:
            told = [
                fixed(Text(f"  {line}", style=colours.text)) for line in why_empty(self.row, self.result, width - 3)
            ]
            lines.show(told, None, colours.chosen)
        self.work.draw()
        self.work.share_room(lines)
        self._draw_head()
        self._draw_facets()

    def _look(self, width: int) -> Look:
        """How the ladder is looked at: what was worked on is told of it alone, not of what stands beside it."""
        view = self.work.view
        height = max(10, self.size.height - 3)
        look = Look(width, height, LENSES[self.lens], self.opened, marked=frozenset(self.work.marked))
        if view is None or view.side != self.side:
            return look
        return look._replace(differs=view.differs, taken=view.taken, watches=view.watches)

    def _draw_head(self) -> None:
        head, colours, lens = self.named(), self.app.colours, LENSES[self.lens] if self.lens else ""
        if self.row is not None:
            shown = Shown(self.row, self.result, self.ladders, self.side)
            head.append_text(ladder_head(shown, self.work.view, lens, self.changed, colours))
        self.head.update(head)

    def _draw_facets(self) -> None:
        colours, pane = self.app.colours, self.pane
        key, ladder, rung = self.lines.key, self.ladder, self.chosen
        if ladder is None or rung is None or key is None:
            told = "What the chosen rung did stands here: what was expected, rows, changes, locks."
            pane.draw(lambda width: Text(told, style=colours.quiet))
        elif self.locks:
            pane.draw(lambda width: facets.locks_at(ladder, key, colours, width))
        else:
            pane.draw(lambda width: facets.rung_facets(rung, ladder, colours, width))

    # -- working

    def worked(self, message: Worked) -> None:
        """The ladder has changed: stand where it does something else, or at its last rung if their number is new."""
        if self.row is None or self.row.id != message.case_id:
            return
        before, count = len(self.ladder.rungs) if self.ladder is not None else 0, len(message.view.ladder.rungs)
        self.side = message.view.side
        self.work.worked(message.view, message.words)
        if message.view.differs:
            self.rung = min(message.view.differs) - 1
        elif count != before:
            self.rung = max(0, count - 1)
        self.draw()

    def action_work(self, name: str) -> None:
        """Something that is done with the open rung, or the chosen one (see `Deeds`)."""
        getattr(self.deeds, name)(self.chosen)
        self.draw()


class LadderScreen(LadderView):
    """Rungs at the left, facets at the right (with `f` alone, where there is little room)."""

    NAME: ClassVar = "Ladder"
    KEYS: ClassVar = KEYS
    WITH_SIGNS: ClassVar = True
    BINDINGS: ClassVar = bindings(KEYS)

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        if not message.is_late:
            self.rung = message.key
            self._draw_facets()

    def on_lines_entered(self, message: Lines.Entered) -> None:
        if not self.is_current:  # one has left meanwhile: the key is for the screen that is there now
            for lines in self.app.screen.query(Lines):
                lines.action_enter()
        elif not message.is_late:
            self.action_enter()

    def on_text_area_changed(self, message: TextArea.Changed) -> None:
        self.call_after_refresh(self.work.share_room, self.lines)

    # -- keys

    def action_enter(self) -> None:
        """Climb into the chosen rung; where nothing happened inside, show all its rows, or no longer."""
        rung = self.chosen
        if rung is None or self.row is None:
            return
        if rung.steps and self.is_own_side:
            self.app.climb(self.row, rung.number)
        else:
            self.opened ^= {rung.number}
            self.draw()

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        else:
            await self.app.back()

    def action_lens(self) -> None:
        self.lens = (self.lens + 1) % len(LENSES)
        self.draw()

    def action_search(self) -> None:
        def take(text: str | None) -> None:
            if text:
                self.sought = text
                self.action_found(1)

        self.app.ask(LineScreen("Search statements, values and notes:", self.sought), take)

    def action_found(self, by: int) -> None:
        """The next rung in which what is sought stands, from the chosen one on and round."""
        if self.sought:
            self._next(by, lambda rung: says(rung, self.sought), f"{self.sought} stands in no rung")
        else:
            self.action_search()

    def action_next_slip(self) -> None:
        self._next(1, lambda rung: bool(rung.slips), "no slip in this case")

    def _next(self, by: int, wanted: Callable[[Rung], bool], nothing: str) -> None:
        """The next or the last rung that is wanted, from the chosen one on and round to it."""
        rungs = self.ladder.rungs if self.ladder is not None else []
        order = [(self.rung + by * n) % len(rungs) for n in range(1, len(rungs) + 1)]
        found = next((n for n in order if wanted(rungs[n])), None)
        if found is None:
            self.told(nothing)
        else:
            self.rung = found
            self.draw()

    def action_mark(self) -> None:
        if self.chosen is not None:
            self.work.marked ^= {self.chosen.number}
            self.draw()

    def action_again(self) -> None:
        if self.row is not None:
            self.app.run_again(self.row)

    def action_case(self, by: int) -> None:
        self.app.neighbour(by)

    def action_edit(self) -> None:
        if self.row is not None:
            rung = self.chosen
            self.app.edit(str(self.row.script.path), rung.line if rung is not None else 1)

    def action_side(self) -> None:
        """The other run of a twin, or what was laid beside the ladder."""
        if len(self.ladders) > 1:
            self.side = (self.side + 1) % len(self.ladders)
            if self.is_own_side:
                self.work.turn(self.side)
            self.draw()
        elif self.ladder is None:
            self.told("this case has not been run yet")
        else:
            self.told("there is nothing beside it: this case is no twin, and no try was laid beside it (z)")

    def action_locks(self) -> None:
        """Sessions and locks at the chosen rung, or its facets."""
        self.locks = not self.locks
        self._draw_facets()
