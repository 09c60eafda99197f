"""Random keys, clicks and resizes, quickly one after the other, while files change: nothing ends the screen, and no
fault of ours comes up."""

from __future__ import annotations

import asyncio
import contextlib
import random
import shutil
import time
from collections.abc import Callable
from itertools import count
from pathlib import Path

import pytest
from textual import events
from textual.errors import NoWidget
from textual.pilot import OutOfBounds

from amounts import IS_THOROUGH, MINUTES, amount
from glimb.engine.transactions.budget import memory_taken
from glimb.tui.app import GlimbApp
from glimb.tui.asking import FaultScreen

DEMO = Path(__file__).parent.parent.parent / "demo"
KEYS = (
    "enter escape o e u d U c p k semicolon x r n b f l h w z m a i v j g s S L R T C F D E t v y B question_mark slash full_stop comma "
    "tab shift+tab down up left right pagedown pageup home end space backspace delete minus ctrl+p A 1 C alt+k"
).split()
OFTEN = "enter enter escape o right down right n S L R T C F".split()
SIZES = ((160, 45), (80, 24), (100, 30), (20, 5), (1, 1), (3, 3))
TEXTS = (
    "SELECT * FROM bunk;",
    "CALL book_bunk('VARN', DATE '2031-07-14', 104);",
    "COMMIT;",
    "--# session phone",
    "UPDATE bunk SET state = 'x' WHERE id = 1;",
    "SELEC",
    "SELECT ';",
)
ROUNDS, AT_A_TIME = amount(25), 100


NAMES = {
    "*": "asterisk",
    ";": "semicolon",
    "(": "left_parenthesis",
    ")": "right_parenthesis",
    ",": "comma",
    "'": "apostrophe",
    "-": "minus",
    "=": "equals_sign",
    "#": "number_sign",
    "_": "underscore",
}


def typed(key: str) -> events.Key:
    """The key as a terminal sends it."""
    return events.Key(key, key)


def change_a_file(chance: random.Random, root: Path) -> None:
    """Somebody else cuts a file, writes a line of it twice, or has it as it was."""
    path = chance.choice(sorted(p for p in root.rglob("*") if p.suffix in (".sql", ".csv") and ".glimb" not in p.parts))
    text, at = path.read_text(), chance.randrange(2000)
    there = DEMO / path.relative_to(root)
    changed = [text[:at], text[:at] + text[max(0, at - 60) :], there.read_text() if there.exists() else ""]
    path.write_text(chance.choice([*changed, changed[2], changed[2]]))


async def press(chance: random.Random, root: Path, is_over: Callable[[], bool]) -> None:
    """Keys, and what else can happen, until it is over or the program has been left."""
    app = GlimbApp(root)
    async with app.run_test(size=SIZES[0]) as pilot:
        await pilot.pause(0.2)
        pressed: list[str] = []
        while app.return_code is None and not is_over():
            for _ in range(AT_A_TIME // 5):
                some = chance.choices((*KEYS, *OFTEN), k=5)
                if chance.random() < 0.1:
                    some = ["o", *(c if c.isalnum() else NAMES.get(c, "space") for c in chance.choice(TEXTS)), "enter"]
                for key in some:
                    app.simulate_key(key) if len(key) > 1 else app.post_message(typed(key))
                pressed += some
                if chance.random() < 0.1:
                    await pilot.pause()
            width, height = app.size
            if width and height:
                with contextlib.suppress(OutOfBounds, NoWidget):
                    await pilot.click(offset=(chance.randrange(width), chance.randrange(height)))
            if chance.random() < 0.1:
                change_a_file(chance, root)
            if chance.random() < 0.2:
                await pilot.resize_terminal(*chance.choice(SIZES))
            assert not app.told, (app.told, pressed[-300:])
            assert app.is_running or app.return_code is not None, pressed[-300:]
        await pilot.pause()
        assert app.return_code in (None, 0)


@pytest.mark.parametrize("seed", range(4 if IS_THOROUGH else 3))
def test_random_keys(seed: int, tmp_path: Path) -> None:
    """2,500 keys each (of `make thorough`); with MINUTES so long, and memory stays as it is."""
    shutil.copytree(DEMO, tmp_path / "huts")
    chance, rounds, until = random.Random(seed), count(1), time.monotonic() + 60 * MINUTES
    taken: list[int] = []

    def is_over() -> bool:
        taken.append(memory_taken())
        return time.monotonic() > until if MINUTES else next(rounds) > ROUNDS

    while not is_over():
        asyncio.run(press(chance, tmp_path / "huts", is_over))
    if MINUTES:
        settled = max(taken[: len(taken) // 3])
        print(
            f"{len(taken) * AT_A_TIME:,} keys; memory {settled >> 20} MB after a third, {taken[-1] >> 20} MB at the end"
        )
        assert taken[-1] < 1.2 * settled


@pytest.mark.parametrize("way", ["key", "click"])
def test_a_fault_that_was_told_is_left(way: str, tmp_path: Path) -> None:
    async def left() -> None:
        app = GlimbApp(tmp_path)
        async with app.run_test() as pilot:
            before = app.screen
            app.push_screen(FaultScreen("odd"))
            await pilot.pause()
            assert app.screen is not before
            await (pilot.press("x") if way == "key" else pilot.click())
            await pilot.pause()
            assert app.screen is before

    asyncio.run(left())
