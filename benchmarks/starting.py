"""Start-up of whole processes."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from functools import partial

from benchmarks.measure import Benchmark

Pair = tuple[Callable[[], object], Callable[[], object]]


def process(arguments: list[str], text: str = "") -> None:
    subprocess.run([sys.executable, *arguments], input=text, text=True, capture_output=True, check=True)


def against_pass(arguments: list[str], text: str = "") -> Pair:
    return partial(process, arguments, text), partial(process, ["-c", "pass"])


ALL = [
    Benchmark("glimb --help, whole process", "python -c pass", 3, partial(against_pass, ["-m", "glimb", "--help"])),
    Benchmark(
        "glimb exec of one SELECT, whole process",
        "python -c pass",
        5,
        partial(against_pass, ["-m", "glimb", "exec", "-"], "SELECT 7 / 2;"),
    ),
]
