"""What screens ask of the application they stand in."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from pathlib import Path

from textual.app import App

from glimb.tui.drawing import Row
from glimb.tui.palette import Palette
from glimb.tui.worker import Worker


class Host(App[int]):
    """The application, as its screens know it."""

    worker: Worker
    title_text: str

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
    def open_ladder(self, row: Row) -> None:
        """Go to a case's ladder, and run it for that."""

    @abstractmethod
    def show_ladder(self) -> None:
        """Go to the ladder that was seen last."""

    @abstractmethod
    async def show_survey(self) -> None:
        """Go back to the survey; keys that come behind are for it."""

    @abstractmethod
    def run_again(self, row: Row) -> None:
        """Read everything again and run this case."""

    @abstractmethod
    def neighbour(self, by: int) -> None:
        """The ladder of the case after or before."""
