"""Writes docs/keys.md, the keys of all screens, from the tables that the screens themselves have."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from glimb.tui import climb, editor, findings, ladder, routine, sheet, survey, tables
from glimb.tui.foot import typing_keys
from glimb.tui.page import Key

PAGE = Path(__file__).parent.parent / "docs" / "keys.md"
SCREENS = (
    ("Survey", survey.KEYS),
    ("Ladder", ladder.KEYS),
    ("Climb", climb.KEYS),
    ("Routine", routine.KEYS),
    ("Call sheet", sheet.KEYS),
    ("Tables", tables.KEYS),
    ("Findings", findings.KEYS),
)
HEAD = """# Keys

Written by `python -m tools.keys` from the program. What the foot of a screen names, and what is offered while one types,
can be clicked too; `Ctrl+P` finds every action, case, routine and table by name. An editor is that of `VISUAL` or
`EDITOR`, called as `COMMAND +LINE FILE`, or with `{file}` and `{line}` where it says these.
"""


def listed(keys: list[Key]) -> Iterator[str]:
    yield "| key | |\n| --- | --- |"
    yield from (f"| {key.shown()} | {key.told} |" for key in keys)


def page() -> str:
    """The text of the page."""
    parts = [HEAD]
    for name, keys in SCREENS:
        parts.append(f"## {name}\n\n" + "\n".join(listed(keys)) + "\n")
    typed = [f"| {shown} | {word} |" for _, shown, word in typing_keys(editor.OpenRung("typed"))]
    typed.append("| → | take the rest of the word that is offered |")
    parts.append("## While one types\n\n| key | |\n| --- | --- |\n" + "\n".join(typed) + "\n")
    edited = [f"| {shown} | {word} |" for _, shown, word in typing_keys(editor.RoutineArea("file"))]
    parts.append("## While one edits a file\n\n| key | |\n| --- | --- |\n" + "\n".join(edited) + "\n")
    return "\n".join(parts)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
