"""Weaving in several processes: each has a loom of its own, and is sent the orders to go on from."""

from __future__ import annotations

import signal
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from errno import ECHILD
from multiprocessing import get_context
from multiprocessing.connection import Connection, wait
from multiprocessing.context import SpawnProcess
from pathlib import Path

from glimb.suite.weave import Expander, Node, Step, make_loom

Expanded = tuple[Node, list[Step]]


def _work(path: Path, title: str, given: Connection) -> None:
    """What a process of the pool does: expand the nodes that it is given, until nobody is there to give any."""
    loom = make_loom(path, title)
    with suppress(EOFError, BrokenPipeError):
        while True:
            nodes = given.recv()
            given.send([(node, loom.expand(node)) for node in nodes])


class _Pool:
    """Processes with a pipe to each: none shares a lock with another, so that any of them may be killed."""

    def __init__(self, path: Path, title: str, jobs: int) -> None:
        context = get_context("spawn")
        self.processes: list[SpawnProcess] = []
        self.pipes: list[Connection] = []
        # An interrupt from the keyboard goes to all processes: this one ends the others, that start without it.
        interrupt = signal.signal(signal.SIGINT, signal.SIG_IGN)
        for _ in range(jobs):
            ours, theirs = context.Pipe()
            process = context.Process(target=_work, args=(path, title, theirs), daemon=True)
            process.start()
            theirs.close()
            self.processes.append(process)
            self.pipes.append(ours)
        signal.signal(signal.SIGINT, interrupt)

    def expand(self, nodes: list[Node]) -> Iterator[Expanded]:
        """All nodes with their steps, in the order of the nodes."""
        size = max(1, len(nodes) // (len(self.pipes) * 8))
        chunks = [nodes[at : at + size] for at in range(0, len(nodes), size)]
        waiting = enumerate(chunks)
        busy: dict[Connection, int] = {}
        done: dict[int, list[Expanded]] = {}
        for pipe, (number, chunk) in zip(self.pipes, waiting, strict=False):
            busy[pipe] = number
            pipe.send(chunk)
        for number in range(len(chunks)):
            while number not in done:
                for pipe in [p for p in wait(list(busy)) if isinstance(p, Connection)]:
                    done[busy.pop(pipe)] = _received(pipe)
                    following = next(waiting, None)
                    if following is not None:
                        busy[pipe] = following[0]
                        pipe.send(following[1])
            yield from done.pop(number)

    def close(self) -> None:
        for process in self.processes:
            process.kill()
            process.join()


def _received(pipe: Connection) -> list[Expanded]:
    try:
        received: list[Expanded] = pipe.recv()
    except EOFError:
        raise ChildProcessError(ECHILD, "a process of the weave has been ended from outside", "weave") from None
    return received


@contextmanager
def pool(path: Path, title: str, jobs: int) -> Iterator[Expander]:
    """What expands nodes in `jobs` processes."""
    workers = _Pool(path, title, jobs)
    try:
        yield workers.expand
    finally:
        workers.close()
