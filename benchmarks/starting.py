"""Start-up of whole processes, of a copy of the program whose bytecode is written, and of one whose bytecode is not."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable
from functools import cache, partial
from pathlib import Path
from tempfile import mkdtemp

import glimb
from benchmarks.measure import Benchmark

Pair = tuple[Callable[[], object], Callable[[], object]]


@cache
def copied(is_written: bool) -> dict[str, str]:
    """The environment of a copy of the program: without bytecode, which is written by its first run, or never."""
    folder = Path(mkdtemp())
    shutil.copytree(Path(glimb.__file__).parent, folder / "glimb", ignore=shutil.ignore_patterns("__pycache__"))
    rest = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return {**rest, "PYTHONPATH": str(folder), **({} if is_written else {"PYTHONDONTWRITEBYTECODE": "1"})}


def process(arguments: list[str], text: str, is_written: bool) -> None:
    command = [sys.executable, *arguments]
    subprocess.run(command, input=text, text=True, capture_output=True, check=True, env=copied(is_written))


def against_pass(arguments: list[str], text: str = "", is_written: bool = True) -> Pair:
    return partial(process, arguments, text, is_written), partial(process, ["-c", "pass"], text, is_written)


EXEC = ["-m", "glimb", "exec", "-"], "SELECT 7 / 2;"
ALL = [
    Benchmark("glimb --help, whole process", "python -c pass", 3, partial(against_pass, ["-m", "glimb", "--help"])),
    Benchmark("glimb exec of one SELECT, whole process", "python -c pass", 5, partial(against_pass, *EXEC)),
    Benchmark("the same without written bytecode", "python -c pass", 5, partial(against_pass, *EXEC, is_written=False)),
]
