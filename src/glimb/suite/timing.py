"""How long cases take, and the statements in which each routine ran; and how long they took the last time.

In: cases of a project. Out: `Times` in seconds of this machine, the least of a few runs, so that what is loaded and
compiled first counts for none of them. The last times are kept in the project's own folder.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from glimb.engine.outcomes.steps import walk_steps
from glimb.suite.letting import Lets
from glimb.suite.project import make_own_folder, own_folder
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Script

RUNS = 3
LAST = "times.json"


class Timed(NamedTuple):
    """A case or routine: its file as shown, its title or name, seconds, and those of the last time (None: it was not
    there)."""

    file: str
    name: str
    seconds: float
    before: float | None


class Times(NamedTuple):
    """What takes longest first."""

    cases: list[Timed]
    routines: list[Timed]


Seconds = dict[tuple[str, str], float]
"""By file and name."""


def measured(some: Iterable[tuple[Script, Case]], lets: Lets) -> tuple[Seconds, Seconds]:
    """The seconds of cases, and of each routine those of the statements in which it ran. Cases that are not run have
    none."""
    runner = Runner(lets)
    cases: Seconds = {}
    routines: Seconds = {}
    for script, case in some:
        runs = [runner.run_case(script, case) for _ in range(RUNS)]
        best = min(runs, key=lambda run: run.seconds)
        if not best.ladders:
            continue
        cases[script.name, case.title] = best.seconds
        seen = runner.run_case(script, case, recording=True)
        for ladder, recorded in zip(best.ladders, seen.ladders, strict=True):
            for rung, other in zip(ladder.rungs, recorded.rungs, strict=True):
                frames = {s.frame for s in walk_steps(other.steps) if s.frame is not None}
                for place in {(frame.source.name, frame.name) for frame in frames}:
                    routines[place] = routines.get(place, 0.0) + rung.seconds
                other.forget_steps()
    return cases, routines


def beside_last(root: Path | None, cases: Seconds, routines: Seconds) -> Times:
    """These times beside those that were kept, which they replace."""
    place = own_folder(root) / LAST
    last: dict[str, dict[str, float]] = {}
    with suppress(OSError, ValueError, AttributeError, TypeError):
        last = {kind: dict(known) for kind, known in json.loads(place.read_text()).items()}
    kinds = {"cases": cases, "routines": routines}
    found = Times(*(_timed(root, now, last.get(kind, {})) for kind, now in kinds.items()))
    kept = {
        kind: {**last.get(kind, {}), **{_key(root, *which): seconds for which, seconds in now.items()}}
        for kind, now in kinds.items()
    }
    with suppress(OSError):
        (make_own_folder(root) / LAST).write_text(json.dumps(kept))
    return found


def _timed(root: Path | None, now: Seconds, last: dict[str, float]) -> list[Timed]:
    found = []
    for (file, name), seconds in now.items():
        before = last.get(_key(root, file, name))
        found.append(Timed(_shown(root, file), name, seconds, before if isinstance(before, float) else None))
    return sorted(found, key=lambda one: (-one.seconds, one.file, one.name))


def _shown(root: Path | None, file: str) -> str:
    path = Path(file).absolute()
    return str(path.relative_to(root)) if root is not None and path.is_relative_to(root) else path.name


def _key(root: Path | None, file: str, name: str) -> str:
    return f"{_shown(root, file)}\t{name}"
