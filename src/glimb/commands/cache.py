"""`glimb cache`: where parsed scripts and compiled routines are kept between runs, and removing them."""

from __future__ import annotations

import argparse

from glimb.commands.common import MET, say


def options(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "deed", nargs="?", choices=("show", "clear"), default="show", help="show where it is and its size, or remove it"
    )


def run(given: argparse.Namespace) -> int:
    """0 always: what is not there need not be removed."""
    from glimb.store import clear, folder, size

    if given.deed == "clear":
        say(f"{clear():,} bytes removed")
        return MET
    say(f"{folder()}: {size():,} bytes")
    return MET
