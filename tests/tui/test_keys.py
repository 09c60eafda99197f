"""Random keys, clicks and resizes, quickly one after the other, while files change: nothing ends the screen, and no
fault of ours comes up."""

from __future__ import annotations

import asyncio
import contextlib
import random
import shutil
from pathlib import Path

import pytest
from textual import events
from textual.errors import NoWidget
from textual.pilot import OutOfBounds

from amounts import IS_THOROUGH, amount
from glimb.tui.app import GlimbApp

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


async def press(seed: int, root: Path) -> None:
    """2,500 keys (of `make thorough`), and what else can happen."""
    chance = random.Random(seed)
    app = GlimbApp(root)
    async with app.run_test(size=SIZES[0]) as pilot:
        await pilot.pause(0.2)
        pressed: list[str] = []
        for _ in range(ROUNDS):
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
                script = chance.choice(sorted((root / "cases").rglob("*.sql")))
                script.write_text(script.read_text()[: chance.randrange(2000)])
            if chance.random() < 0.2:
                await pilot.resize_terminal(*chance.choice(SIZES))
            assert not app.told, (app.told, pressed[-300:])
            assert app.is_running, pressed[-300:]
            if app.return_code is not None:
                break
        await pilot.pause()
        assert app.return_code in (None, 0)


@pytest.mark.parametrize("seed", range(4 if IS_THOROUGH else 2))
def test_random_keys(seed: int, tmp_path: Path) -> None:
    shutil.copytree(DEMO, tmp_path / "huts")
    asyncio.run(press(seed, tmp_path / "huts"))
