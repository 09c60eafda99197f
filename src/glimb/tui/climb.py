"""The climb: what happened inside a rung, step by step in the source of its routines, forward and backward."""

from __future__ import annotations

from functools import partial
from typing import ClassVar

from textual import events
from textual.app import ComposeResult
from textual.containers import Horizontal
from textual.message import Message
from textual.widgets import Static

from glimb.suite import ways
from glimb.suite.climber import Way
from glimb.suite.course import Course
from glimb.tui.asking import LineScreen
from glimb.tui.guarded import Guarded
from glimb.tui.lines import Lines, StillLines
from glimb.tui.page import DRAW, GOING, Key, Page, bindings
from glimb.tui.pane import Pane
from glimb.tui.source import Column, legend, source_items, step_text, steps_of, strip, strip_lines
from glimb.tui.text import Text

KEYS = [
    Key("escape", "out", "out", "back to the ladder", True),
    Key("question_mark", "keys", "keys", "these keys", True, "?"),
    Key("f", "full", "variables", "the variables on the whole screen, or beside the source", True),
    Key("right", "step(1)", "step", "one step on", True, "→"),
    Key("left", "step(-1)", "back", "one step back", True, "←"),
    Key("down,enter", "into", "into", "into what the step calls, or the first step of its loop", True, "↓"),
    Key("up", "up", "up", "up to the step that called this", True, "↑"),
    Key("space", "over(1)", "over", "on to the next step at this level or above", True),
    Key("backspace", "over(-1)", "over back", "back to the last step at this level or above"),
    Key("n", "round(1)", "next round", "the next round of the loop", True),
    Key("b", "round(-1)", "round before", "the round before of the loop"),
    Key("g", "ask_round", "round ...", "go to a round of the loop, by its number", True),
    Key("v", "variable(1)", "variable", "follow a variable: the next one in sight", True),
    Key("m", "change(1)", "next change", "on to the next step that changes the followed variable", True),
    Key("j", "change(-1)", "change before", "back to the last step that changed it"),
    Key("x", "condition(1)", "condition", "on to the next step that raised a condition", True),
    Key("z", "condition(-1)", "condition before", "back to the last step that raised a condition"),
    Key(
        "slash", "ask_text", "search", "on to a step with a text in it, or in what it assigned: level = NULL", True, "/"
    ),
    Key("full_stop", "again(1)", "next found", "on to the next such step", False, "."),
    Key("comma", "again(-1)", "found before", "back to the last such step", False, ","),
    Key("home", "edge(0)", "first step", "the first step of all"),
    Key("end", "edge(-1)", "last step", "the last step of all"),
    Key("o", "take_out", "take out", "the statement into the open rung, its variables as host variables", True),
    Key("E", "edit", "editor", "the source in your editor, at this line"),
    Key("tab", "app.focus_next", "scroll", "scroll the source or the variables"),
    Key("s", "stop", "stop", "stop what runs"),
    DRAW,
    *GOING,
    Key("t", "app.theme", "colours", "dark or light"),
    Key("q", "app.quit", "quit", "quit"),
]


class Strip(Guarded, Static):
    """All steps of a course from left to right; a click goes to one."""

    class Clicked(Message):
        """A part of the strip was clicked: its first step."""

        def __init__(self, at: int) -> None:
            super().__init__()
            self.at = at

    def __init__(self, id: str) -> None:
        super().__init__("", id=id)
        self._course: Course | None = None
        self._columns: list[Column] = []
        self._width = 0

    def draw(self, course: Course, at: int, variable: str) -> None:
        """Show where in the course a step is."""
        colours = self.app.colours  # type: ignore[attr-defined]
        width = max(10, self.size.width - 2)
        if course is not self._course or width != self._width:
            self._course, self._width, self._columns = course, width, strip(course, width)
        columns, count = len(self._columns), len(course)
        first = -(-at * columns // count) if columns > count else at * columns // count
        here = range(first, max(first + 1, (at + 1) * columns // count))
        lines = [*strip_lines(self._columns, here, colours), legend(course, at, variable, colours)]
        self.update(Text("\n").join(lines))

    def on_click(self, event: events.Click) -> None:
        if self._course is not None and 1 <= event.x <= len(self._columns) and event.y < 2:
            self.post_message(self.Clicked(steps_of(event.x - 1, len(self._columns), len(self._course))[0]))


class ClimbScreen(Page):
    """The source at the left, the variables at the right (with `f` alone), all steps below."""

    NAME: ClassVar = "Climb"
    KEYS: ClassVar = KEYS
    BINDINGS: ClassVar = bindings(KEYS)

    def __init__(self) -> None:
        super().__init__()
        self.course: Course | None = None
        self.at = 0
        self.variable = ""
        """The variable that is followed."""
        self.sought = ""
        self.is_waiting = False
        """Whether something was asked of the worker."""
        self.lines, self.pane, self.strip = StillLines(id="source"), Pane(id="variables"), Strip(id="strip")

    def body(self) -> ComposeResult:
        with Horizontal(id="body"):
            yield self.lines
            yield self.pane
        yield self.strip

    def on_mount(self) -> None:
        self.lines.focus()
        self.draw()

    # -- contents

    def climbed(self, course: Course, at: int) -> None:
        """Show a course, at a step."""
        self.course, self.is_waiting = course, False
        self.go(at)

    def go(self, at: int) -> None:
        """To a step."""
        if self.course is not None and len(self.course):
            self.at = self.course.near(at)
            names = self._names()
            if self.variable not in names:
                self.variable = ""
            self.draw()

    def draw(self) -> None:
        course = self.course
        if not self.is_mounted or course is None or not len(course):
            return
        colours = self.app.colours
        at, line = self.at, course.lines[self.at]
        width = (self.lines.size.width or self.size.width) - 1
        self.lines.show(source_items(course, at, colours, width), line.line, colours.chosen, course.scene(at))
        self.pane.draw(lambda width: step_text(course, at, self.variable, colours, width))
        self.strip.draw(course, at, self.variable)
        self._draw_head(course)

    def _draw_head(self, course: Course) -> None:
        colours = self.app.colours
        head = self.named()
        head.append(f"  rung {course.rung.number}", style=colours.quiet)
        for scene in course.path(self.at):
            head.append(f" › {scene.title}", style=f"bold {colours.accent}")
        scene = course.scene(self.at)
        head.append(f"   {scene.source.name.rsplit('/', 1)[-1]}", style=colours.quiet)
        if self.is_waiting:
            head.append("   running again to look into folded rounds: s stops", style=f"bold {colours.warn}")
        self.head.update(head)

    def _names(self) -> list[str]:
        if self.course is None or not len(self.course):
            return []
        return [now.name for group in self.course.variables(self.at) for _, now in group.variables]

    # -- messages

    def on_lines_chosen(self, message: Lines.Chosen) -> None:
        """A line of the source was clicked: to the step there, the last one up to here or the first behind."""
        if self.course is None or message.is_late:
            return
        steps = self.course.scene(self.at).at_line.get(message.key)
        if steps:
            self.go(next((s for s in reversed(steps) if s <= self.at), steps[0]))
        else:
            self.told("that line did not run in this call", severity="warning")
            self.draw()

    def on_strip_clicked(self, message: Strip.Clicked) -> None:
        self.go(message.at)

    # -- keys

    def action_step(self, by: int) -> None:
        self.go(self.at + by)

    def action_over(self, by: int) -> None:
        if self.course is not None:
            self.go(self.course.over(self.at, by))

    def action_into(self) -> None:
        if self.course is None:
            return
        if self.course.into(self.at) == self.at:
            self.told("nothing is called here")
        self.go(self.course.into(self.at))

    def action_up(self) -> None:
        if self.course is None:
            return
        if self.course.out(self.at) == self.at:
            self.told("nothing called this: Esc goes back to the ladder")
        self.go(self.course.out(self.at))

    def action_edge(self, index: int) -> None:
        if self.course is not None:
            self.go(index % max(1, len(self.course)))

    def action_round(self, by: int) -> None:
        course = self.course
        if course is None:
            return
        if ways.loop_of(course, self.at) is None:
            self.told("this step is in no loop")
        else:
            self._to_round(ways.round_at(course, self.at) + by)

    def _to_round(self, number: int) -> None:
        course, at = self.course, self.at
        if course is None:
            return
        loop = ways.loop_of(course, at)
        rounds = course.lines[loop].step.rounds if loop is not None else 0
        if not 1 <= number <= rounds:
            self.told(f"this loop has rounds 1 to {rounds:,}" if rounds else "this loop had no round")
            return
        found = ways.first_of_round(course, at, number)
        if found is not None:
            self.go(found)
        else:
            self._wait()
            self.app.climb_to_round(course, at, number)

    def action_ask_round(self) -> None:
        course = self.course
        loop = ways.loop_of(course, self.at) if course is not None else None
        if course is None or loop is None:
            self.told("this step is in no loop")
            return

        def take(text: str | None) -> None:
            number = (text or "").replace(",", "")
            if number.isdigit():
                self._to_round(int(number))
            elif text:
                self.told(f"{text} is no number of a round", severity="warning")

        self.app.ask(LineScreen(f"To which of the {course.lines[loop].step.rounds:,} rounds?"), take)

    def action_variable(self, by: int) -> None:
        names = self._names()
        if names:
            at = names.index(self.variable) if self.variable in names else -1
            self.variable = names[(at + by) % len(names)]
            self.draw()

    def action_change(self, by: int) -> None:
        if not self.variable:
            self.action_variable(1)
        name = self.variable
        self._follow(lambda course, at: ways.change_of(course, at, name, by), by, f"{name} does not change there", True)

    def action_condition(self, by: int) -> None:
        self._follow(lambda course, at: ways.next_condition(course, at, by), by, "no condition comes up there")

    def action_ask_text(self) -> None:
        def take(text: str | None) -> None:
            if text:
                self.sought = text
                self.action_again(1)

        told = "Search the steps for a text, or for a value that is assigned (name = value):"
        self.app.ask(LineScreen(told, self.sought), take)

    def action_again(self, by: int) -> None:
        text = self.sought
        if text:
            self._follow(lambda course, at: ways.next_said(course, at, text, by), by, f"{text} is not found there")
        else:
            self.action_ask_text()

    def _follow(self, way: Way, by: int, nothing: str, in_scene: bool = False) -> None:
        """Go a way: at once where no folded rounds lie on it, otherwise by running again."""
        course, at = self.course, self.at
        if course is None or not len(course):
            return
        found = way(course, at)
        fold = ways.next_fold(course, at, by, course.scene_of[at] if in_scene else None)
        if fold is not None and (found == at or (found >= fold if by > 0 else found < fold)):
            self._wait()
            self.app.climb_on(course, at, partial(way), by, in_scene, nothing)
        elif found == at:
            self.told(nothing)
        else:
            self.go(found)

    def _wait(self) -> None:
        self.is_waiting = True
        self.draw()

    def waited(self) -> None:
        """What was asked for came to nothing."""
        self.is_waiting = False
        self.draw()

    def action_take_out(self) -> None:
        if self.course is not None and len(self.course):
            self.app.take_out(self.course, self.at)

    def action_edit(self) -> None:
        if self.course is not None and len(self.course):
            line = self.course.lines[self.at]
            self.app.edit(line.file, line.line)

    async def action_out(self) -> None:
        if self.full:
            self.action_full()
        else:
            await self.app.back()
