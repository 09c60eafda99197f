"""The prompt of `glimb exec` at a terminal: statements, over several lines, with a history that is kept.

A statement runs at Enter when it is complete; until then Enter begins a new line. Arranging lines (`--# session phone`,
`--# wait 5s`, `--# let n = 2`) work as in a script; Ctrl-D ends.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from glimb.commands.common import arranging_problems, say

if TYPE_CHECKING:
    from prompt_toolkit import PromptSession
    from prompt_toolkit.key_binding import KeyBindings, KeyPressEvent

    from glimb.suite.execute import Execution
    from glimb.suite.project import Project
    from glimb.suite.script import Script

GREETING = "Statements end with ; and run at Enter. --# session NAME changes the session. Ctrl-D ends."


def prompt(execution: Execution, project: Project, run: Callable[[Script], None]) -> None:
    """Read statements and run them, until the input ends."""
    from prompt_toolkit import PromptSession
    from prompt_toolkit.history import FileHistory

    from glimb.suite.project import make_own_folder
    from glimb.suite.script import MAIN, read_typed

    asking: PromptSession[str] = PromptSession(
        history=FileHistory(str(make_own_folder(project.root) / "history")),
        multiline=True,
        key_bindings=_keys(),
        enable_open_in_editor=True,
    )
    say(f"{project.name}: {GREETING}")
    session = MAIN
    while True:
        try:
            text = asking.prompt(f"{session}> ", prompt_continuation=lambda width, number, wrapped: " " * width)
        except KeyboardInterrupt:
            continue
        except EOFError:
            return
        if text.strip():
            script = read_typed(text, session)
            for problem in [*script.warnings, *arranging_problems(script)]:
                say(problem.describe())
            run(script)
            session = script.session


def _keys() -> KeyBindings:
    """Enter runs what is complete, and begins a line otherwise."""
    from prompt_toolkit.key_binding import KeyBindings

    from glimb.lang.parser import is_complete

    keys = KeyBindings()

    @keys.add("enter")
    def _(event: KeyPressEvent) -> None:
        buffer = event.current_buffer
        at_end = not buffer.document.text_after_cursor.strip()
        if at_end and is_complete(buffer.text):
            buffer.validate_and_handle()
        else:
            buffer.insert_text("\n")

    return keys
