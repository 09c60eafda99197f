"""A real terminal for tests: tmux sends keys and reads the screen."""

from __future__ import annotations

import os
import shlex
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path


class Terminal:
    """A tmux session of its own, on a server of its own."""

    def __init__(self, path: Path, width: int, height: int, command: str, more: str = "", around: str = "") -> None:
        self.server = f"glimb-test-{os.getpid()}-{time.monotonic_ns()}"
        arguments = [command, str(path)] if command == "open" else [command, "--project", str(path)]
        command = f"{shlex.join([sys.executable, '-m', 'glimb', *arguments])} {more}"
        clean = f"env -u COLUMNS -u LINES TERM=xterm-256color {around}"
        size = ["-x", str(width), "-y", str(height)]
        self.tmux("-f", "/dev/null", "new-session", "-d", *size, f"{clean} {command}; echo ended=$?; sleep 60")

    def tmux(self, *arguments: str) -> str:
        done = subprocess.run(["tmux", "-L", self.server, *arguments], capture_output=True, text=True, timeout=20)
        return done.stdout

    def keys(self, *keys: str) -> None:
        """Press keys; a terminal cannot tell Escape with a key right behind it from that key with Alt."""
        while "Escape" in keys[:-1]:
            at = keys.index("Escape") + 1
            self.tmux("send-keys", *keys[:at])
            time.sleep(0.2)
            keys = keys[at:]
        self.tmux("send-keys", *keys)

    def screen(self) -> str:
        return self.tmux("capture-pane", "-p")

    def until(self, *texts: str, seconds: float = 20) -> str:
        """Wait until all of these are on the screen."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            screen = self.screen()
            if all(text in screen for text in texts):
                return screen
            time.sleep(0.05)
        raise AssertionError(f"{texts} did not come:\n{self.screen()}")

    def until_gone(self, text: str) -> None:
        """Wait until this is no longer on the screen."""
        end = time.monotonic() + 20
        while text in self.screen():
            assert time.monotonic() < end, f"{text} stays:\n{self.screen()}"
            time.sleep(0.05)

    def type(self, *lines: str) -> None:
        """Type lines, each with Enter behind it."""
        for line in lines:
            self.keys("-l", "--", line.removesuffix(";") + "\\;" * line.endswith(";"))
            self.keys("Enter")

    def close(self) -> None:
        self.tmux("kill-server")


Opener = Callable[..., Terminal]
