"""A process in which all tests are collected once: for each change it forks a child, in which functions get the code of
the changed text, and which runs tests until one fails. A plugin of pytest; asked and answering by lines of JSON.

What a test starts (the command line, screens in a terminal) reads the changed file, as the folder holds it meanwhile.
"""

from __future__ import annotations

import gc
import json
import os
import resource
import select
import signal
import time
from collections.abc import Iterator
from contextlib import suppress
from functools import _lru_cache_wrapper
from pathlib import Path
from types import CodeType, FunctionType
from typing import Any

import pytest

MEMORY = 4 << 30
"""Bytes that a child may take: a loop that never ends may fill the machine."""
MARK = "GLIMB_ATTEMPT"
"""In the environment of what a child starts."""


class Serving:
    """Asked for tests with a change in place; answers which of them fails first."""

    def __init__(self, asked: int, answered: int) -> None:
        self._asked, self._answered = os.fdopen(asked), os.fdopen(answered, "w")
        self._failed = False

    @pytest.hookimpl(tryfirst=True)
    def pytest_runtestloop(self, session: pytest.Session) -> bool:
        """In the place of running what was collected: wait to be asked."""
        items = {item.nodeid: item for item in session.items}
        self._say(present=sorted(items))
        for line in self._asked:
            self._say(**self._attempt(items, json.loads(line)))
        return True

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        """A part of a test is over."""
        self._failed = self._failed or report.failed

    def _say(self, **answer: Any) -> None:
        print(json.dumps(answer), file=self._answered, flush=True)

    def _attempt(self, items: dict[str, pytest.Item], asked: dict[str, Any]) -> dict[str, Any]:
        reading, writing = os.pipe()
        child = os.fork()
        if child == 0:
            os.close(reading)
            with suppress(BaseException):
                self._child(items, asked, writing)
            os._exit(0)
        os.close(writing)
        answer = _watched(reading, asked["seconds"])
        with suppress(ProcessLookupError):
            os.killpg(child, signal.SIGKILL)
        os.waitpid(child, 0)
        _end_started(child)
        return answer

    def _child(self, items: dict[str, pytest.Item], asked: dict[str, Any], writing: int) -> None:
        os.setsid()
        os.environ[MARK] = str(os.getpid())
        resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
        if asked["path"] and not swap(asked["path"], asked["before"], asked["after"]):
            os.write(writing, b"cannot\n")
            return
        some = [items[test] for test in asked["tests"]]
        for item, following in zip(some, [*some[1:], None], strict=True):
            os.write(writing, f"run {json.dumps(item.nodeid)}\n".encode())
            item.config.hook.pytest_runtest_protocol(item=item, nextitem=following)
            if self._failed:
                os.write(writing, b"failed\n")
                item.session._setupstate.teardown_exact(None)
                return
        os.write(writing, b"passed\n")


def _watched(reading: int, seconds: dict[str, float]) -> dict[str, Any]:
    """What a child tells: how it ended (`passed`, `failed`, `cannot`, `late`, or `died`), and the last test it ran."""
    running, text = "", b""
    with os.fdopen(reading, "rb", buffering=0) as pipe:
        end = time.monotonic() + 60
        while True:
            if not select.select([pipe], [], [], max(0.0, end - time.monotonic()))[0]:
                return {"how": "late", "test": running}
            some = pipe.read(65536)
            if not some:
                return {"how": "died", "test": running}
            text += some
            *lines, text = text.split(b"\n")
            for line in lines:
                told = line.decode()
                if not told.startswith("run "):
                    return {"how": told, "test": running}
                running = json.loads(told[4:])
                end = time.monotonic() + seconds[running]


def _end_started(child: int) -> None:
    """End what a child has started and left behind, such as a terminal that waits for a screen."""
    mark = f"{MARK}={child}".encode()
    for path in Path("/proc").glob("[0-9]*/environ"):
        with suppress(OSError):
            if mark in path.read_bytes().split(b"\0"):
                os.kill(int(path.parent.name), signal.SIGKILL)


def swap(path: str, before: str, after: str) -> bool:
    """Give all functions of a file the code of its changed text; False where something else differs than functions."""
    old, new = compile(before, path, "exec"), compile(after, path, "exec")
    pairs = list(_paired(old, new))
    if old.co_code != new.co_code or _plain(old) != _plain(new) or None in pairs:
        return False
    codes = {one: other for pair in pairs if pair is not None for one, other in [pair]}
    functions = [
        one
        for one in gc.get_objects()
        if isinstance(one, FunctionType) and one.__code__ in codes and one.__code__.co_filename.endswith(path)
    ]
    if not functions:  # none lives, or it cannot be told: code that has run may not equal what is compiled anew
        return False
    if any(one.__code__.co_freevars != codes[one.__code__].co_freevars for one in functions):
        return False
    for one in functions:
        one.__code__ = codes[one.__code__]
    for one in gc.get_objects():
        if isinstance(one, _lru_cache_wrapper) and (one.__module__ or "").startswith("glimb"):
            one.cache_clear()
    return True


def _plain(code: CodeType) -> list[Any]:
    return [one for one in code.co_consts if not isinstance(one, CodeType)]


def _paired(old: CodeType, new: CodeType) -> Iterator[tuple[CodeType, CodeType] | None]:
    """Functions of a module that differ, before and after; None where they cannot be told from one another. The body of
    a class is run once, when it is made: a change there is none of a function."""
    ones, others = ([one for one in code.co_consts if isinstance(one, CodeType)] for code in (old, new))
    if [one.co_name for one in ones] != [one.co_name for one in others]:
        yield None
        return
    for one, other in zip(ones, others, strict=True):
        if one == other:
            continue
        if one.co_flags & 2:  # CO_NEWLOCALS: a function
            yield one, other
        elif one.co_code != other.co_code or _plain(one) != _plain(other):
            yield None
        yield from _nested(one, other) if one.co_flags & 2 else _paired(one, other)


def _nested(one: CodeType, other: CodeType) -> Iterator[tuple[CodeType, CodeType]]:
    """Functions within a function: those that live already get their code too."""
    inner, outer = ([code for code in whole.co_consts if isinstance(code, CodeType)] for whole in (one, other))
    if [code.co_name for code in inner] == [code.co_name for code in outer]:
        for a, b in zip(inner, outer, strict=True):
            if a != b:
                yield a, b
                yield from _nested(a, b)


def pytest_configure(config: pytest.Config) -> None:
    """Begin to serve, where the environment names the two pipes."""
    asked, answered = os.environ["GLIMB_PIPES"].split(",")
    config.pluginmanager.register(Serving(int(asked), int(answered)))
