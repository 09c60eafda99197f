"""Faults of ours: what a statement met that is no SQL condition is kept as a report, with the text that led there.
Imported when there is one."""

from __future__ import annotations

import os
import traceback
from pathlib import Path
from tempfile import gettempdir
from zlib import crc32

from glimb import __version__
from glimb.lang.source import Source


def keep(error: BaseException, source: Source | None) -> str:
    """Write a report: what went wrong where, and the whole script. Gives its path; the same fault has the same."""
    told = "".join(traceback.format_exception(error))
    text = f"glimb {__version__}\n\n{told}\n"
    if source is not None:
        text += f"---- {source.name}\n{source.text}\n"
    name = f"fault-{crc32(told.encode('utf-8', 'replace')):08x}.txt"
    for folder in (state_folder(), Path(gettempdir())):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            (folder / name).write_text(text, encoding="utf-8", errors="backslashreplace")
            return str(folder / name)
        except OSError:
            continue
    return "no file: none could be written"


def state_folder() -> Path:
    """Where a program keeps what it has seen (XDG Base Directory Specification)."""
    state = os.environ.get("XDG_STATE_HOME", "")
    return (Path(state) if os.path.isabs(state) else Path.home() / ".local" / "state") / "glimb"
