"""From a key to its paint on a ladder of 20,000 rungs, beside the same on one of 20: `python -m benchmarks.screens`;
`python -m benchmarks.screens up`: until the screen is up with the demo, whole process; `python -m benchmarks.screens all`:
from `a` until 5,000 cases have been run and are told, beside `glimb run -q` of the same.

Apart from the others, since the screen wants a loop of its own. Each figure is the median of several presses, in
milliseconds, until all widgets have done what the key brought about and the screen is painted."""

from __future__ import annotations

import asyncio
import fcntl
import gc
import os
import pty
import shutil
import signal
import statistics
import struct
import subprocess
import sys
import termios
import time
from collections.abc import Callable
from pathlib import Path
from tempfile import mkdtemp

from textual import events
from textual.pilot import Pilot

from benchmarks.suites import projects
from glimb.cli import GARBAGE
from glimb.store import keeping
from glimb.tui.app import GlimbApp
from glimb.tui.rungs import LENSES

FIRST_SEEN = b"gear.sql"
MANY, FEW = 20_000, 20
CASES = 5_000
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


async def all_cases(root: Path) -> list[float]:
    """Seconds from `a` until all cases are told: of the first time, which compiles, and of two more."""
    app = GlimbApp(root)
    found: list[float] = []
    async with app.run_test(size=(160, 45)) as pilot:
        survey = app.survey
        await until(lambda: len(survey.rows) == CASES)
        for _ in range(3):
            await until(lambda: survey.proof.is_counted or not found)
            started = time.perf_counter()
            app.post_message(events.Key("a", "a"))
            await until(lambda: survey.asked > 0)
            await until(lambda: survey.asked == 0)
            await pilot._wait_for_screen(60)
            found.append(time.perf_counter() - started)
        assert all(row.verdict == "met" for row in survey.rows)
    return found


def against_run() -> None:
    """Tell both, in one run, each with what is kept between runs."""
    root, _ = projects(CASES)
    environment = {**os.environ, "XDG_CACHE_HOME": str(root / "cache")}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    command = [sys.executable, "-m", "glimb", "run", "-q"]
    ran: list[float] = []
    for _ in range(3):
        started = time.perf_counter()
        subprocess.run(command, cwd=root, env=environment, check=True, capture_output=True)
        ran.append(time.perf_counter() - started)
    os.environ["XDG_CACHE_HOME"] = environment["XDG_CACHE_HOME"]
    with keeping(root):
        shown = asyncio.run(all_cases(root))
    pairs = ", ".join(f"{a:.1f} s beside {b:.1f} s ({a / b:.2f})" for a, b in zip(shown, ran, strict=True))
    print(f"a over {CASES:,} cases, the first, second and third time, beside glimb run: {pairs}")


def main() -> None:
    gc.set_threshold(*GARBAGE)  # as the program runs
    if sys.argv[1:] == ["all"]:
        against_run()
        return
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
