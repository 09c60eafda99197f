"""The user's own editor, opened at a line while the screen waits."""

from __future__ import annotations

import os
import shlex
import subprocess
from pathlib import Path
from typing import Any

from textual.app import App, SuspendNotSupported


def edit(app: App[Any], path: Path, line: int) -> str:
    """Open a file at a line in what VISUAL or EDITOR names, as `COMMAND +LINE FILE`, which editors of terminals know;
    or with `{file}` and `{line}` where the command says these. Gives what went wrong, empty when nothing did."""
    command = os.environ.get("VISUAL") or os.environ.get("EDITOR") or ""
    if not command:
        return "no editor is named: set VISUAL or EDITOR"
    if not path.is_file():
        return "this text stands in no file: on the ladder, e opens its rung"
    try:
        words = shlex.split(command)
        if any("{file}" in word for word in words):
            words = [word.replace("{file}", str(path)).replace("{line}", str(line)) for word in words]
        else:
            words += [f"+{line}", str(path)]
        with app.suspend():
            done = subprocess.run(words, check=False)
    except (OSError, ValueError, SuspendNotSupported) as error:
        return f"{command} cannot be started: {error}"
    app.refresh(layout=True)
    return f"{command} ended with status {done.returncode}" if done.returncode else ""
