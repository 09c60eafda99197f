"""`glimb demo`: the demo project, written to a folder."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import MET, path_of, refuse, say

if TYPE_CHECKING:
    from pathlib import Path


def options(command: argparse.ArgumentParser) -> None:
    command.add_argument("folder", type=path_of, metavar="DIR", help="the folder to make")


def run(given: argparse.Namespace) -> int:
    import shutil
    from importlib.resources import as_file, files

    from glimb.whole import made_whole

    folder: Path = given.folder
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        return refuse(f"{folder} exists and is not empty")
    with as_file(files("glimb") / "demo") as source, made_whole(folder) as part:
        shutil.copytree(source, part, dirs_exist_ok=True, ignore=shutil.ignore_patterns("__pycache__", "*.py"))
    say(f"wrote {folder}: try `glimb open {folder}` or `glimb run {folder}`")
    return MET
