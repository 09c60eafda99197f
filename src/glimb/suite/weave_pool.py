"""Weaving in several processes: each has a loom of its own, and is sent the orders to go on from."""

from __future__ import annotations

import signal
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from glimb.lang.problem import ProblemError
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.suite.weave import Expander, Loom, Node, Step

_own: list[Loom] = []
"""The loom of this process."""


def make_loom(path: Path, title: str) -> Loom:
    """A loom for a case of a script; ProblemError when something is wrong with either."""
    script = read_script(path)
    case = next(c for c in script.cases if c.title == title)
    if script.problems or case.problems:
        raise ProblemError(*script.problems, *case.problems)
    runner = Runner()
    project = runner.project(script.path)
    return Loom(runner.world(project, case.fixture or project.settings.default_fixture), script.source, case)


def _start(path: Path, title: str) -> None:
    _own.append(make_loom(path, title))


def _expand(node: Node) -> tuple[Node, list[Step]]:
    return node, _own[0].expand(node)


@contextmanager
def pool(path: Path, title: str, jobs: int) -> Iterator[Expander | None]:
    """What expands nodes in `jobs` processes; None for one, which needs no pool."""
    if jobs < 2:
        yield None
        return
    from multiprocessing import get_context  # only a weave in several processes pays for it

    # An interrupt from the keyboard goes to all processes: this one tells the others, that were started without it.
    interrupt = signal.signal(signal.SIGINT, signal.SIG_IGN)
    workers = get_context("spawn").Pool(jobs, _start, (path, title))
    signal.signal(signal.SIGINT, interrupt)
    with workers:

        def expand(nodes: list[Node]) -> Iterable[tuple[Node, list[Step]]]:
            return workers.imap(_expand, nodes, max(1, len(nodes) // (jobs * 8)))

        yield expand
