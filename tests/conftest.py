"""What several tests share."""

from __future__ import annotations

import os
import shutil
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from glimb.engine.engine import PYTHON_FRAMES
from terminals import Opener, Terminal

DEMO = Path(__file__).parent.parent / "demo"
sys.setrecursionlimit(PYTHON_FRAMES)
os.environ["GLIMB_CACHE"] = "off"  # what a test sees hangs on no run before it


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--update", action="store_true", help="write the expected files anew")


@pytest.fixture
def update(request: pytest.FixtureRequest) -> bool:
    """Whether expected files are written instead of compared."""
    return bool(request.config.getoption("--update"))


@pytest.fixture
def open_terminal(tmp_path: Path) -> Iterator[Opener]:
    opened: list[Terminal] = []

    def start(path: Path, width: int = 160, height: int = 45, command: str = "open", **more: str) -> Terminal:
        if path.is_relative_to(DEMO) and command == "open":  # the screen keeps what it is like in the project's folder
            copy = tmp_path / "copy"
            shutil.copytree(DEMO, copy, ignore=shutil.ignore_patterns(".glimb"))
            path = copy / path.relative_to(DEMO)
        opened.append(Terminal(path, width, height, command, **more))
        return opened[-1]

    yield start
    for terminal in opened:
        terminal.close()
