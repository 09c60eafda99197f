"""Parts of a screen in which a fault of ours ends nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol, cast

if TYPE_CHECKING:
    from textual.message import Message
    from textual.widget import Widget as Mixed
else:
    Mixed = object  # the framework finds the styles of a widget by the first of its bases that is one


class Told(Protocol):
    """An application that is told of faults."""

    def fault(self, error: Exception) -> None: ...


class Guarded(Mixed):
    """Put before a kind of widget: a fault in it is told, and ends nothing. (The framework ends the widget's loop with
    a fault that comes out of this method of its; its version is held.)"""

    async def _dispatch_message(self, message: Message) -> None:
        try:
            await super()._dispatch_message(message)
        except Exception as error:
            cast(Told, self.app).fault(error)
