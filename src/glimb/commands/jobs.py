"""Cases run in this process, or in several at once; what is told of them comes back in the order of the files."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple
from zlib import crc32

from glimb.commands.common import shown_path
from glimb.engine.transactions.budget import Watch
from glimb.lang.node import walk
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.tree import Call, FunctionCall
from glimb.report.reported import Reported, reported
from glimb.store import in_use, save
from glimb.suite.choosing import Chosen, read_any
from glimb.suite.coverage import Counts, merged
from glimb.suite.letting import Lets, read_lets
from glimb.suite.runner import Runner
from glimb.suite.script import Case, Script, StatementStep

if TYPE_CHECKING:
    from concurrent.futures import ProcessPoolExecutor

SHARES = 8
"""Shares of the cases for each process: as one is done, the next is taken."""


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
_saves = False
"""Whether this process writes what it has compiled when it ends."""
_chosen: list[Chosen] = []
Share = list[tuple[int, list[int]]]
"""Cases for one process, by the number of their script among those chosen."""


def _start(work: Work, some: list[Chosen]) -> None:
    """In each process, unless all of this was there when it was forked."""
    global _runner, _whole, _chosen
    _whole, _chosen = work.whole, some
    _runner = Runner(_lets(work), work.covering)


def _start_spawned(work: Work, paths: list[tuple[Path, list[int]]]) -> None:
    _start(work, [Chosen(read_any(path), cases) for path, cases in paths])


def _task(share: Share) -> tuple[list[list[Reported]], Counts]:
    """Run a share; gives what is told of each script in it, and what its cases have counted."""
    global _before, _saves
    assert _runner is not None
    if not _saves and in_use() is not None:
        from multiprocessing.util import Finalize

        Finalize(None, save, exitpriority=1)
        _saves = True
    told = [list(_run(_runner, _chosen[number].script, cases, _whole)) for number, cases in share]
    now = _runner.counts
    added = {place: one.since(_before.get(place)) for place, one in now.items()}
    _before = now
    return told, added


def _in_processes(some: list[Chosen], work: Work, jobs: int, ran: Ran) -> Iterator[Reported]:
    from multiprocessing import get_all_start_methods

    pool = _forked(some, work, jobs) if "fork" in get_all_start_methods() else _spawned(some, work, jobs)
    try:
        shares = _shares(some, jobs * SHARES)
        share_of = {(number, case): at for at, share in enumerate(shares) for number, cases in share for case in cases}
        futures = [pool.submit(_task, share) for share in shares]
        told: dict[int, dict[tuple[int, int], list[Reported]]] = {}
        for number, one in enumerate(some):
            for case in _numbers(one):
                at = share_of[number, case]
                if at not in told:
                    reports, counts = futures[at].result()
                    ran.counts = merged(ran.counts, counts)
                    told[at] = _by_case(shares[at], reports, some)
                for report in told[at].pop((number, case)):
                    yield report
                    if work.stops and report.is_bad:
                        return
    except RuntimeError as error:  # a process was ended from outside
        raise ProblemError(Problem("58030", f"a process that runs cases has ended: {error}")) from None
    finally:
        pool.shutdown(wait=False, cancel_futures=True)
        gc.unfreeze()
        if _runner is not None:  # it may be that the next run begins in this process
            _runner.forget()


def _forked(some: list[Chosen], work: Work, jobs: int) -> ProcessPoolExecutor:
    """Processes that begin with what this one has: the scripts, and the worlds that their cases need."""
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    _start(work, some)
    assert _runner is not None
    for one in some:
        _runner.prepare(one.script, one.cases)
    Watch.rest()
    gc.freeze()  # what is there is shared: looking through it would copy it
    return ProcessPoolExecutor(jobs, get_context("fork"))


def _spawned(some: list[Chosen], work: Work, jobs: int) -> ProcessPoolExecutor:
    from concurrent.futures import ProcessPoolExecutor
    from multiprocessing import get_context

    paths = [(one.script.path, one.cases) for one in some]
    return ProcessPoolExecutor(jobs, get_context("spawn"), _start_spawned, (work, paths))


def _shares(some: list[Chosen], many: int) -> list[Share]:
    """The cases dealt out. Those that call the same routine first go together, so that one process compiles it."""
    shares: list[dict[int, list[int]]] = [{} for _ in range(many)]
    for number, one in enumerate(some):
        for case in _numbers(one):
            word = _first_called(one.script.cases[case]) if case >= 0 and not one.script.problems else ""
            place = crc32((word or str(one.script.path)).encode()) % many
            shares[place].setdefault(number, []).append(case)
    return [list(share.items()) for share in shares if share]


def _numbers(one: Chosen) -> list[int]:
    """The cases of a script that are run; a script that cannot be read counts as one."""
    return [-1] if one.script.problems else one.cases


def _first_called(case: Case) -> str:
    """The first routine that a case names; nothing where it names none."""
    for step in case.steps:
        if isinstance(step, StatementStep):
            for node in walk(step.statement):
                if isinstance(node, Call | FunctionCall):
                    return node.name[-1]
    return ""


def _by_case(share: Share, reports: list[list[Reported]], some: list[Chosen]) -> dict[tuple[int, int], list[Reported]]:
    """What is told, by script and case; of a script that cannot be read all is told at its first case."""
    found: dict[tuple[int, int], list[Reported]] = {}
    for (number, cases), told in zip(share, reports, strict=True):
        if some[number].script.problems:
            found |= {(number, case): told if at == 0 else [] for at, case in enumerate(cases)}
        else:
            found |= {(number, case): [one] for case, one in zip(cases, told, strict=True)}
    return found
