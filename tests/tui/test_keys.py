"""Random keys, quickly one after the other, while files and the size of the terminal change: nothing ends the screen."""

from __future__ import annotations

import asyncio
import random
import shutil
from pathlib import Path

import pytest

from glimb.tui.app import GlimbApp

DEMO = Path(__file__).parent.parent.parent / "demo"
KEYS = (
    "enter escape o e u d U c p k semicolon x r n b f l w s S L t question_mark tab down up pagedown pageup home end space j k g G a right left "
    "shift+tab A 1 backspace"
).split()
SIZES = ((160, 45), (80, 24), (1, 1), (3, 3))


async def press(seed: int, root: Path) -> None:
    chance = random.Random(seed)
    app = GlimbApp(root)
    async with app.run_test(size=chance.choice(SIZES)) as pilot:
        await pilot.pause(0.2)
        for _ in range(25):
            for key in chance.choices(KEYS, k=chance.choice((1, 1, 2, 3, 5))):
                app.simulate_key(key)
            if chance.random() < 0.5:
                await pilot.pause()
            if chance.random() < 0.1:
                script = chance.choice(sorted((root / "cases").rglob("*.sql")))
                script.write_text(script.read_text()[: chance.randrange(400)])
            if chance.random() < 0.1:
                await pilot.resize_terminal(chance.choice((1, 20, 100, 160)), chance.choice((1, 5, 45)))
        await pilot.pause()
        assert app.is_running
        assert app.return_code in (None, 0)


@pytest.mark.parametrize("seed", range(4))
def test_random_keys(seed: int, tmp_path: Path) -> None:
    shutil.copytree(DEMO, tmp_path / "huts")
    asyncio.run(press(seed, tmp_path / "huts"))
