"""The survey of a project with 1,000 routines and 10,000 cases: until it is up, and from a key to its paint there:
`python -m benchmarks.surveying [ROUTINES CASES]`, beside the same on one of 10 routines and 100 cases;
`python -m benchmarks.surveying run [ROUTINES CASES]`: all cases run on the screen, beside `glimb run`.

Apart from the others, since the screen wants a loop of its own. Keys are medians of several presses, in milliseconds."""

from __future__ import annotations

import asyncio
import statistics
import subprocess
import sys
import time
from pathlib import Path
from tempfile import mkdtemp

from textual.pilot import Pilot

from benchmarks.screens import MOST, press, until
from glimb.tui.app import GlimbApp

MANY, FEW = (1_000, 10_000), (10, 100)
MOST_BESIDE_RUN = 1.3
MOST_UP = 2.0
"""Seconds within which cases are seen."""
ROUTINE = """CREATE FUNCTION f{n} (a INTEGER) RETURNS INTEGER READS SQL DATA
BEGIN
  DECLARE r INTEGER;
  SELECT n INTO r FROM t WHERE id = a;
  IF r IS NULL THEN RETURN -1; END IF;
  RETURN r + {n};
END;
"""
CASE = "--# case number {n} of f{f}\nSELECT f{f}({a});\n--> value {value}\nSELECT COUNT(*) FROM t;\n--> value 50\n"


def project(routines: int, cases: int) -> Path:
    """A project with so many of both, 20 routines and 100 cases to a file."""
    root = Path(mkdtemp())
    for name in ("schema", "routines", "fixtures/base", "cases"):
        (root / name).mkdir(parents=True)
    (root / "glimb.toml").write_text('fixture = "base"\n')
    (root / "schema/t.sql").write_text("CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER);\n")
    (root / "fixtures/base/t.csv").write_text("id,n\n" + "".join(f"{n},{n}\n" for n in range(50)))
    for first in range(0, routines, 20):
        some = range(first, min(routines, first + 20))
        (root / f"routines/r{first:05}.sql").write_text("".join(ROUTINE.format(n=n) for n in some))
    for first in range(0, cases, 100):
        text = "".join(
            CASE.format(n=n, f=n % routines, a=n % 60, value=n % 60 + n % routines if n % 60 < 50 else -1)
            for n in range(first, min(cases, first + 100))
        )
        (root / f"cases/c{first:05}.sql").write_text(text)
    return root


async def measured(routines: int, cases: int) -> dict[str, float]:
    """Seconds until the survey shows cases, all cases, the grid; milliseconds for keys."""
    found: dict[str, float] = {}
    root = project(routines, cases)
    started = time.perf_counter()
    app = GlimbApp(root)
    async with app.run_test(size=(160, 45)) as pilot:
        survey = app.survey
        await until(lambda: bool(survey.rows))
        found["s: first cases seen"] = time.perf_counter() - started
        await until(lambda: len(survey.rows) == cases and not survey.is_reading)
        found["s: all cases read"] = time.perf_counter() - started
        await until(lambda: len(survey.proof.rows) == routines)
        found["s: grid there"] = time.perf_counter() - started
        found |= await _keys(app, pilot, "")
        await press(app, pilot, "a")
        await until(lambda: survey.done > min(50, cases // 2))
        found |= await _keys(app, pilot, ", running")
    return found


async def _keys(app: GlimbApp, pilot: Pilot[int], when: str) -> dict[str, float]:
    found: dict[str, float] = {}
    for key in ("down", "up", "end", "home", "pagedown"):
        found[f"{key}{when}"] = statistics.median([await press(app, pilot, key) for _ in range(7)])
    await press(app, pilot, "tab")
    for key in ("down", "right", "end", "home"):
        found[f"grid {key}{when}"] = statistics.median([await press(app, pilot, key) for _ in range(7)])
    await press(app, pilot, "shift+tab")
    return found


async def ran(root: Path, cases: int) -> float:
    """Seconds from `a` until all cases of a project have their verdicts on the screen."""
    app = GlimbApp(root)
    async with app.run_test(size=(160, 45)) as pilot:
        survey = app.survey
        await until(lambda: len(survey.rows) == cases and not survey.is_reading)
        await until(lambda: len(survey.proof.rows) > 0)
        started = time.perf_counter()
        await press(app, pilot, "a")
        await until(lambda: all(row.result is not None for row in survey.rows))
        return time.perf_counter() - started


def beside_run(routines: int, cases: int) -> None:
    """All cases run on the screen, beside `glimb run` of the same, the whole process."""
    root = project(routines, cases)
    for _ in range(3):
        on_screen = asyncio.run(ran(root, cases))
        started = time.perf_counter()
        subprocess.run([sys.executable, "-m", "glimb", "run", "-q"], cwd=root, check=True, capture_output=True)
        whole = time.perf_counter() - started
        mark = "   OVER" if on_screen / whole > MOST_BESIDE_RUN else ""
        print(
            f"{cases:,} cases on the screen {on_screen:.1f} s, glimb run {whole:.1f} s: {on_screen / whole:.2f}{mark}"
        )


def main() -> None:
    """Print the figures side by side."""
    if sys.argv[1:2] == ["run"]:
        beside_run(*(tuple(map(int, sys.argv[2:4])) or (500, 5_000)))
        return
    many = tuple(map(int, sys.argv[1:3])) if len(sys.argv) > 2 else MANY
    large, small = asyncio.run(measured(*many)), asyncio.run(measured(*FEW))
    print(f"{'':28}{many[1]:>12,}{FEW[1]:>12,}")
    for name, took in large.items():
        bound = (MOST_UP if "first" in name else 1e9) if name.startswith("s:") else MOST
        print(f"{name:28}{took:>12.2f}{small[name]:>12.2f}{'   OVER' if took > bound else ''}")


if __name__ == "__main__":
    main()
