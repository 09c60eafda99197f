"""Writes docs/drawings, one drawing of each kind, from the demo project."""

from __future__ import annotations

import os
import shutil
from pathlib import Path
from tempfile import TemporaryDirectory

from glimb.cli import main

ROOT = Path(__file__).parent.parent
FOLDER = ROOT / "docs" / "drawings"
DRAWN = {
    "ladder": ("cases/gear.sql", "-k", "opposite directions"),
    "climb": ("cases/rates.sql", "-k", "change of season", "--rung", "1"),
    "survey": (),
    "weave": ("cases/booking.sql", "-k", "when the first gives up"),
    "twin": ("cases/two-at-once.sql", "-k", "out of use"),
    "calls": (),
    "tables": (),
    "times": (),
    "routine": ("night_rate",),
    "rows": ("hut", "--fixture", "valley"),
    "sheet": ("sheets/refund_percent.csv",),
    "findings": ("slips",),
}


def write() -> None:
    """Make all drawings anew, from a copy of the demo: of times, the second run beside the first."""
    FOLDER.mkdir(exist_ok=True)
    with TemporaryDirectory() as folder:
        demo = Path(folder) / "huts"
        shutil.copytree(ROOT / "demo", demo, ignore=shutil.ignore_patterns(".glimb"))
        os.chdir(demo)
        for kind, arguments in DRAWN.items():
            for _ in range(2 if kind == "times" else 1):
                status = main(["draw", kind, *arguments, "-o", str(FOLDER / f"{kind}.svg")])
                assert status == 0, kind


if __name__ == "__main__":
    write()
