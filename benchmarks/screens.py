"""From a key to its paint on a ladder of 20,000 rungs, beside the same on one of 20: `python -m benchmarks.screens`;
`python -m benchmarks.screens up`: until the screen is up with the demo, whole process.

Apart from the others, since the screen wants a loop of its own. Each figure is the median of several presses, in
milliseconds, until all widgets have done what the key brought about and the screen is painted."""

from __future__ import annotations

import asyncio
import fcntl
import os
import pty
import shutil
import signal
import statistics
import struct
import sys
import termios
import time
from collections.abc import Callable
from pathlib import Path
from tempfile import mkdtemp

from textual import events
from textual.pilot import Pilot

from glimb.tui.app import GlimbApp
from glimb.tui.rungs import LENSES

FIRST_SEEN = b"gear.sql"
MANY, FEW = 20_000, 20
MOST = 50.0
"""Milliseconds that no key should need."""
TYPED = "a rung typed, run and painted"
MOST_TYPED = 60.0
"""The same from Enter behind a statement until its rung is painted: the worker has run it meanwhile."""
KEYS = ("down", "up", "end", "home", "pagedown", "pageup", "m")


def script(rungs: int) -> Path:
    """A case of so many rungs."""
    path = Path(mkdtemp()) / "ladder.sql"
    lines = ["--# case many", "CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);", "INSERT INTO t VALUES (1, 0);"]
    texts = ("UPDATE t SET n = n + 1 WHERE id = 1;", "SELECT n FROM t;", "COMMIT;")
    path.write_text("\n".join([*lines, *(texts[number % 3] for number in range(rungs - 2))]))
    return path


async def until(is_so: Callable[[], bool]) -> None:
    while not is_so():
        await asyncio.sleep(0.001)


async def press(app: GlimbApp, pilot: Pilot[int], key: str) -> float:
    """Press a key; the milliseconds until it is painted."""
    started = time.perf_counter()
    app.post_message(events.Key(key, key if len(key) == 1 else None))
    await pilot._wait_for_screen(60)
    app.screen._compositor_refresh()
    return (time.perf_counter() - started) * 1000


async def measured(rungs: int) -> dict[str, float]:
    """What each key takes on a ladder of so many rungs."""
    app = GlimbApp(script(rungs))
    found: dict[str, float] = {}
    async with app.run_test(size=(160, 45)) as pilot:
        screen = app.ladder
        await until(lambda: screen.ladder is not None and len(screen.ladder.rungs) == rungs)
        for key in KEYS:
            found[key] = statistics.median([await press(app, pilot, key) for _ in range(7)])
        await press(app, pilot, "o")
        found["a letter typed"] = statistics.median([await press(app, pilot, key) for key in "select n from"])
        painted: list[float] = []
        for _ in range(9):
            before = len(screen.ladder.rungs) if screen.ladder is not None else 0
            screen.work.put("SELECT n FROM t;")
            await pilot._wait_for_screen(60)
            started = time.perf_counter()
            app.post_message(events.Key("enter", None))
            await until(lambda before=before: screen.ladder is not None and len(screen.ladder.rungs) > before)  # type: ignore[misc]
            await pilot._wait_for_screen(60)
            app.screen._compositor_refresh()
            painted.append((time.perf_counter() - started) * 1000)
        found[TYPED] = statistics.median(painted)
        await press(app, pilot, "escape")
        lenses: dict[str, list[float]] = {}
        for lens in [*LENSES[1:], LENSES[0]] * 3:
            lenses.setdefault(f"l: {lens}", []).append(await press(app, pilot, "l"))
        found |= {key: statistics.median(took) for key, took in lenses.items()}
    return found


def up() -> float:
    """Seconds from the start of the program until the first case of the demo is seen, in a terminal."""
    root = Path(mkdtemp()) / "demo"
    shutil.copytree(Path(__file__).parent.parent / "demo", root, ignore=shutil.ignore_patterns(".glimb"))
    child, terminal = pty.fork()
    started = time.perf_counter()
    if not child:
        os.environ["TERM"] = "xterm-256color"
        os.execv(sys.executable, [sys.executable, "-m", "glimb", "open", str(root)])
    fcntl.ioctl(terminal, termios.TIOCSWINSZ, struct.pack("HHHH", 45, 160, 0, 0))
    seen = b""
    while FIRST_SEEN not in seen:
        seen += os.read(terminal, 65_536)
    took = time.perf_counter() - started
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return took


def main() -> None:
    if sys.argv[1:] == ["up"]:
        print("up after", ", ".join(f"{up():.2f} s" for _ in range(5)))
        return
    few, many = asyncio.run(measured(FEW)), asyncio.run(measured(MANY))
    for key, took in many.items():
        most = MOST_TYPED if key == TYPED else MOST
        mark = "" if took <= most else f"   more than {most:g} ms"
        print(f"{key:<30}{took:8.1f} ms with {MANY:,} rungs {few[key]:8.1f} ms with {FEW}{mark}")


if __name__ == "__main__":
    main()
