"""The application as its screens know it: what they ask of it, and how it stands faults and signals, how keys come to
them."""

from __future__ import annotations

import asyncio
import os
import signal
import threading
import time
from abc import abstractmethod
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple, Protocol, TypeVar, runtime_checkable

from textual import events
from textual.app import App
from textual.message import Message
from textual.widgets import Input, OptionList

from glimb.engine.values.conditions import condition_of
from glimb.lang.visible import visible
from glimb.suite.climber import Way
from glimb.suite.course import Course
from glimb.suite.ladder import Ladder
from glimb.tui.asking import FaultScreen, Finding, Question, is_early_or_late
from glimb.tui.drawing import Row
from glimb.tui.palette import Palette
from glimb.tui.text import Text
from glimb.tui.worker import Worker

A = TypeVar("A")
MOST_FAULTS = 20
"""So many within a second are no faults one could go on from."""


MOST_SECONDS_TO_END = 3.0
SETTLING_SECONDS, SETTLING_STEPS = 0.3, 60
"""How long a key waits for a screen that is being opened."""


@runtime_checkable
class TakesKeys(Protocol):
    """A widget that takes keys itself, before they mean anything else."""

    async def take_key(self, event: events.Key) -> bool:
        """Do what a key does here; says whether it does anything."""


class Found(NamedTuple):
    """Something that can be chosen by name: how it is called, what it is, what is done."""

    name: str
    told: str
    act: Callable[[], object]


class Host(App[int]):
    """The application, as its screens know it."""

    worker: Worker
    title_text: str
    root: Path | None
    came_from = "survey"
    """The page from which one came to this one."""

    def __init__(self) -> None:
        super().__init__()
        self.faults: list[float] = []
        """When faults of ours came up last."""
        self.told: set[str] = set()
        """What has been told of them."""

    def end_on_signals(self) -> None:
        """Leave in order, so that the terminal is as it was, when somebody wants the program to end."""
        loop = asyncio.get_running_loop()
        for name in ("SIGTERM", "SIGHUP"):
            if hasattr(signal, name):
                number = getattr(signal, name)
                loop.add_signal_handler(number, partial(self._end, 128 + number))

    def _end(self, status: int) -> None:
        """Leave in order; where that does not come to an end, since the terminal has gone, without. (What was typed has
        been kept.)"""
        last = threading.Timer(MOST_SECONDS_TO_END, os._exit, [status])
        last.daemon = True
        last.start()
        self.exit(return_code=status)

    def notify(self, message: str, **options: Any) -> None:
        super().notify(visible(message), **{**options, "markup": False})

    # -- faults of ours

    def fault(self, error: Exception) -> None:
        """Tell of a fault of ours, and go on."""
        if is_early_or_late(error):
            return
        now = time.monotonic()
        self.faults = [at for at in self.faults if at > now - 1] + [now]
        if len(self.faults) > MOST_FAULTS:
            super()._handle_exception(error)
            return
        told, name = condition_of(error).message, f"{type(error).__name__} {error}"
        if name in self.told:
            self.notify(told, severity="error")
        else:
            self.told.add(name)
            self.push_screen(FaultScreen(told))

    def _handle_exception(self, error: Exception) -> None:
        """Whatever comes out of a part of the framework. (A method of its; its version is held.)"""
        self.fault(error)

    async def _dispatch_message(self, message: Message) -> None:
        try:
            await super()._dispatch_message(message)
        except Exception as error:
            self.fault(error)

    def _fatal_error(self) -> None:
        """The end of the screen: in place of the framework's traceback, a sentence and the kept report."""
        fault = self._exception or RuntimeError("the screen ended without a reason")
        self.panic(Text(f"glimb: {condition_of(fault).message}"))

    def ask(self, question: Question[A], take: Callable[[A | None], object]) -> None:
        """Ask something over the page; `take` is given the answer, None for none."""
        question.take = take
        self.push_screen(question)

    # -- keys

    async def on_event(self, event: events.Event) -> None:
        """Keys are carried out one after the other, each with all that it does to the focus: the framework would send
        each through queues of its own, and one that changes the focus would come behind those that were typed next."""
        if isinstance(event, events.Key) and not event.is_forwarded:
            await self._key(event)
        else:
            await super().on_event(event)

    async def _key(self, event: events.Key) -> None:
        if event.key.startswith("alt+"):  # a terminal sends the same for Escape with a key behind it
            key = event.key.removeprefix("alt+")
            await self._key(events.Key("escape", None))
            await self._key(events.Key(key, key if len(key) == 1 else None))
            return
        await self._be_ready()
        focused = self.focused
        taker: object = focused  # of no class of the framework's: their metaclass and the protocol's do not go together
        if await self._check_bindings(event.key, priority=True):
            return
        if event.key == "enter" and isinstance(self.screen, Question) and self.screen.take_enter():
            return
        if isinstance(focused, OptionList) and not focused.size:
            self.screen._forward_event(event)  # there is no room for it, and so nothing that could be chosen
        elif isinstance(focused, Input) and event.is_printable:
            await focused._on_key(event)
        elif not (isinstance(taker, TakesKeys) and await taker.take_key(event)):
            if not await self._check_bindings(event.key):
                (focused or self.screen)._forward_event(event)

    def action_command_palette(self) -> None:
        """Once, and not over a question. (The framework gives it a name, which one that is being closed still has.)"""
        if not self.screen.is_modal:
            self.push_screen(Finding())

    def action_press(self, key: str) -> None:
        """A key that was clicked at the foot."""
        self.post_message(events.Key(key, None))

    async def _be_ready(self) -> None:
        """Wait until the screen that was opened last is there, with something that has the focus."""
        for _ in range(SETTLING_STEPS):
            screen = self.screen
            if screen.is_mounted and (screen.focused is not None or not screen.focus_chain):
                return
            await asyncio.sleep(SETTLING_SECONDS / SETTLING_STEPS)
        if self.screen.focus_chain:
            self.screen.set_focus(self.screen.focus_chain[0])

    # -- what it gives and does

    @property
    @abstractmethod
    def colours(self) -> Palette:
        """The colours to draw with."""

    @abstractmethod
    def shown(self, path: Path) -> str:
        """A path from the project's folder."""

    @abstractmethod
    def reread(self, then: Callable[[], None] | None = None) -> None:
        """Read the scripts again, and forget what was loaded; then do something with them."""

    @abstractmethod
    def open_ladder(self, row: Row, rung: int = 0, line: int = 0) -> None:
        """Go to a case's ladder, and run it for that; stand at a rung, from 1, or at that of a line."""

    @property
    @abstractmethod
    def current(self) -> Row | None:
        """The case of the current ladder."""

    @property
    @abstractmethod
    def current_ladder(self) -> Ladder | None:
        """The current ladder."""

    @property
    @abstractmethod
    def current_rung(self) -> int | None:
        """Its chosen rung, from 1."""

    @abstractmethod
    def stand_at(self, rung: int) -> None:
        """Choose a rung of the current ladder."""

    @abstractmethod
    def insert_in_open_rung(self, text: str) -> None:
        """Go to the ladder and type something in its open rung."""

    @abstractmethod
    def go_to_place(self, file: str, line: int) -> None:
        """To what stands in a file: the rung of a case, or a routine."""

    @property
    @abstractmethod
    def known_routines(self) -> list[tuple[str, str, int]]:
        """The routines of the project: name, file, line."""

    @property
    @abstractmethod
    def known_tables(self) -> list[str]:
        """The names of its tables."""

    @abstractmethod
    def go_to_table(self, name: str) -> None:
        """Look at the rows of a table."""

    @abstractmethod
    def edit_here(self, file: str, line: int) -> None:
        """Edit a file here, at a line."""

    @abstractmethod
    def files_saved(self, files: set[Path]) -> None:
        """Files were written here: read everything again, and run what they concern."""

    @abstractmethod
    def open_scratch(self) -> None:
        """Go to the ladder that belongs to no case."""

    @abstractmethod
    def type_on_scratch(self, text: str, fixture: str) -> None:
        """Have a text in the open rung of that ladder, with the rows of a fixture."""

    @abstractmethod
    def show_ladder(self) -> None:
        """Go to the ladder that was seen last."""

    @abstractmethod
    async def back(self) -> None:
        """Go to where one came from."""

    @abstractmethod
    def places(self) -> Iterator[Found]:
        """Where one can go by name: cases, routines, tables."""

    @abstractmethod
    def run_again(self, row: Row) -> None:
        """Read everything again and run this case."""

    @abstractmethod
    def neighbour(self, by: int) -> None:
        """The ladder of the case after or before."""

    @abstractmethod
    def edit(self, file: str, line: int) -> None:
        """Open a file in the user's editor, then read everything again and run what is shown."""

    # -- climbing

    @abstractmethod
    def climb(self, row: Row, rung: int) -> None:
        """Go into a rung."""

    @abstractmethod
    def climb_on(self, course: Course, at: int, way: Way, by: int, in_scene: bool, nothing: str) -> None:
        """Follow a way through rounds that are folded; `nothing` is said when it leads nowhere."""

    @abstractmethod
    def climb_to_round(self, course: Course, at: int, number: int) -> None:
        """Show a round that is folded."""

    @abstractmethod
    def take_out(self, course: Course, at: int) -> None:
        """Have the statement of a step in the open rung of the ladder."""
