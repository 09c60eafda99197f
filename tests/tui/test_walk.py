"""Walks through the screens of the demo, and of a project of long names and many rungs (`ridge`, also in a small terminal):
after each key, everything that is drawn, with its colours, and written is what it was.

Each line of a walk has keys, or a text that is typed, and a digest of what the screen then comes to. A change of what is
drawn is noticed, looked at (the screen is told, as text), and taken with `--update`.
"""

from __future__ import annotations

import asyncio
import re
import shutil
import threading
from hashlib import sha256
from pathlib import Path

import pytest
from textual import events
from textual._compositor import Compositor
from textual._context import visible_screen_stack
from textual.pilot import Pilot
from textual.screen import Screen
from textual.widgets import Input, TextArea

from glimb.tui.app import GlimbApp

TESTS = Path(__file__).parent.parent
WORLDS = {
    "ridge": TESTS / "ridge",
    "faulty": TESTS / "faulty",
    "slips": TESTS.parent / "demo" / "slips",
    "plain": TESTS / "suite" / "scripts",
}
WALKS = Path(__file__).parent / "walks"
TIMES = re.compile(r"\d+(\.\d+)? ?(µs|ms|s)\b")
PRESSED = re.compile(r'(paste)?"([^"]*)"|@(\d+),(\d+)|(\S+)')
KEPT = {".sql", ".csv", ".toml", ".svg"}
SIZES = {"": (132, 40), "small": (84, 24), "wide": (260, 44)}
"""By the end of a walk's name; one that ends in `file` begins with a file of the demo."""


def drawn_when_asked(screen: Compositor, full: bool = False, screen_stack: list[Screen[object]] | None = None) -> None:
    """In the place of drawing each change on the way for a terminal that is not there, half of what a walk takes."""
    screen._dirty_regions.clear()


async def settled(app: GlimbApp, pilot: Pilot[int]) -> None:
    """Wait until the worker has nothing to do, and what it told is drawn: what is told may ask for more, so that nothing
    else may come twice over. A cursor does not blink."""
    before, same = "", 0
    for _ in range(100):
        worker = app.worker
        while worker._behind or not worker._work.empty() or app.survey.stale:  # results are drawn now and then
            await asyncio.sleep(0.002)
        done = threading.Event()
        worker._work.put(done.set)
        await asyncio.to_thread(done.wait)
        for widget in (*app.screen.query(Input), *app.screen.query(TextArea)):
            widget.cursor_blink = False
            widget._cursor_visible = widget.has_focus
            widget.refresh()  # as it is drawn when it has just blinked away
        await pilot.pause()
        now, _ = seen(app, [])
        same = same + 1 if now == before else 0
        before = now
        if same == 2:
            return
    raise AssertionError("the screen does not come to rest")


def seen(app: GlimbApp, told: list[str]) -> tuple[str, str]:
    """A digest of all that is drawn and of what has been told in passing or written, and their text."""
    visible_screen_stack.set(app._background_screens)
    lines = app.screen._compositor.render_strips(app.size)
    drawn = "\n".join(
        " ".join(TIMES.sub("", line.text).split())  # a time may be shorter or longer
        if TIMES.search(line.text)
        else "\n".join(f"{one.text} {one.style}" for one in line)
        for line in lines
    )
    drawn += "".join(f"\n{TIMES.sub('', message)}" for message in told)
    return sha256(drawn.encode()).hexdigest()[:10], "\n".join([*(line.text.rstrip() for line in lines), *told])


def written(before: dict[Path, str]) -> list[str]:
    """What has been written to files since, drawings too; `before` is what they are now."""
    files = (p for p in sorted(Path().rglob("*")) if p.suffix in KEPT and ".glimb" not in p.parts)
    now = {path: path.read_text() for path in files}
    told = [f"{path}\n{text}" for path, text in now.items() if before.get(path) != text]
    told += [f"{path} is gone" for path in before if path not in now]
    before.clear()
    before.update(now)
    return told


async def walk(root: Path, steps: list[str], size: tuple[int, int]) -> list[tuple[str, str]]:
    """What is seen after each step: keys, with blanks between them, a text to be typed or pasted in quotes, `@x,y` for a
    click."""
    app, found, told, files = GlimbApp(root), [], list[str](), dict[Path, str]()
    written(files)
    app.notify = lambda message, **_: told.append(message)  # type: ignore[method-assign]
    async with app.run_test(size=size) as pilot:
        await settled(app, pilot)
        for step in steps:
            told.clear()
            for pasted, quoted, x, y, key in PRESSED.findall(step):
                if pasted:
                    app.post_message(events.Paste(quoted.encode().decode("unicode_escape")))
                elif x:
                    await pilot.click(offset=(int(x), int(y)))
                else:
                    for one in quoted or [key]:
                        await pilot.press(one)
            await settled(app, pilot)
            found.append(seen(app, [*told, *written(files)]))
            assert not app.told, (step, app.told)
    return found


@pytest.mark.parametrize("name", sorted(path.stem for path in WALKS.iterdir()))
def test_walk(name: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, update: bool) -> None:
    monkeypatch.setenv("TEXTUAL_ANIMATIONS", "none")
    monkeypatch.setattr(
        "glimb.tui.routine.PAUSE", 0.001
    )  # what is said of a text comes at once, not in some later step
    monkeypatch.setattr("textual._wait.SLEEP_GRANULARITY", 0.004)  # between two looks whether a key is done with
    monkeypatch.setattr(Compositor, "render_update", drawn_when_asked)
    monkeypatch.setattr("glimb.tui.survey.DRAW_SECONDS", 0.02)
    monkeypatch.setattr("glimb.tui.survey.BUSY_DRAW_SECONDS", 0.02)
    monkeypatch.chdir(tmp_path)  # paths are shown from here
    world, *kind = name.split("-")
    root, path = Path("demo"), WALKS / f"{name}.tsv"
    begun = root / "cases" / "booking.sql" if kind == ["file"] else root
    rows = [line.split("\t") for line in path.read_text().splitlines()]
    # On a machine with much to do something may still be drawn a step late: the walk is gone again then. What is drawn
    # otherwise is so each time.
    found: list[tuple[str, str]] = []
    for _ in range(3):
        shutil.rmtree(root, ignore_errors=True)
        shutil.copytree(WORLDS.get(world, TESTS.parent / "demo"), root, ignore=shutil.ignore_patterns(".glimb"))
        found = asyncio.run(walk(begun, [step for step, *_ in rows], SIZES.get(kind[-1] if kind else "", SIZES[""])))
        if update or [digest for digest, _ in found] == [row[-1] for row in rows]:
            break
    if update:
        path.write_text("".join(f"{step}\t{digest}\n" for (step, *_), (digest, _) in zip(rows, found, strict=True)))
        return
    for (step, expected), (digest, text) in zip(rows, found, strict=True):
        assert digest == expected, f"after {step}:\n{text}"
