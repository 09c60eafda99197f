"""Cases run in this process, or in several at once; what is told of them comes back in the order of the files."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from glimb.commands.common import shown_path
from glimb.lang.problem import Problem, ProblemError
from glimb.report.reported import Reported, reported
from glimb.suite.choosing import Chosen, read_any
from glimb.suite.coverage import Counts, merged
from glimb.suite.letting import Lets, read_lets
from glimb.suite.runner import Runner
from glimb.suite.script import Script


class Work(NamedTuple):
    """How cases are run: host variables as they were given, whether what they try is counted, whether the first that
    is not met ends it, whether all that rungs did is told."""

    lets: tuple[str, ...] = ()
    covering: bool = False
    stops: bool = False
    whole: bool = False


class Ran:
    """What has been counted while cases ran."""

    def __init__(self) -> None:
        self.counts: Counts = {}


def run_cases(some: list[Chosen], work: Work, jobs: int, ran: Ran) -> Iterator[Reported]:
    """Run cases, and give what is to be told of each, in their order."""
    if jobs > 1:
        yield from _in_processes(some, work, jobs, ran)
        return
    runner = Runner(_lets(work), work.covering)
    for one in some:
        for told in _run(runner, one.script, one.cases, work.whole):
            yield told
            if work.stops and told.is_bad:
                ran.counts = runner.counts
                return
    ran.counts = runner.counts


def _lets(work: Work) -> Lets:
    return read_lets(list(work.lets))


def _run(runner: Runner, script: Script, cases: list[int], whole: bool) -> Iterator[Reported]:
    shown = shown_path(script.path)
    if script.problems:
        yield from (reported(result, shown) for result in runner.run_script(script))
    else:
        yield from (reported(runner.run_case(script, script.cases[number]), shown, whole) for number in cases)


# ---- several processes

_runner: Runner | None = None
_whole = False
_before: Counts = {}
_scripts: dict[Path, Script] = {}


def _start(work: Work) -> None:
    global _runner, _whole
    _whole = work.whole
    _runner = Runner(_lets(work), work.covering)


def _task(path: Path, cases: list[int]) -> tuple[list[Reported], Counts]:
    """Run some cases of a script; gives what is told of them, and what they have counted."""
    global _before
    assert _runner is not None
    if path not in _scripts:
        _scripts.clear()
        _scripts[path] = read_any(path)
    told = list(_run(_runner, _scripts[path], cases, _whole))
    now = _runner.counts
    added = {place: one.since(_before.get(place)) for place, one in now.items()}
    _before = now
    return told, added


def _in_processes(some: list[Chosen], work: Work, jobs: int, ran: Ran) -> Iterator[Reported]:
    from concurrent.futures import ProcessPoolExecutor  # slow to import
    from multiprocessing import get_context

    total = sum(len(one.cases) for one in some)
    size = max(1, total // (jobs * 6))
    tasks = [
        (one.script.path, one.cases[at : at + size]) for one in some for at in range(0, max(1, len(one.cases)), size)
    ]
    pool = ProcessPoolExecutor(jobs, get_context("spawn"), _start, (work,))
    try:
        futures = [pool.submit(_task, *task) for task in tasks]
        for future in futures:
            told, counts = future.result()
            ran.counts = merged(ran.counts, counts)
            for one in told:
                yield one
                if work.stops and one.is_bad:
                    return
    except RuntimeError as error:  # a process was ended from outside
        raise ProblemError(Problem("58030", f"a process that runs cases has ended: {error}")) from None
    finally:
        pool.shutdown(wait=False, cancel_futures=True)
