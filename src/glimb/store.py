"""What was worked out before, kept between runs in the user's cache folder: parsed scripts, compiled Python.

One file for each project. A key is made of everything that a value hangs on: the text, the version of Python, the
program's own files. So nothing is ever out of date, and a file may be lost, cut off or foreign: it is then as if there
was none. It is written whole, beside the old one, and takes its place at once.
"""

from __future__ import annotations

import marshal
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from functools import cache
from types import CodeType
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pathlib import Path

MOST = 64_000_000
"""Bytes that a file may hold: what was used last stays."""
OFF = "GLIMB_CACHE"
"""The environment variable that says `off`."""


class Store:
    """Values by key, of one project."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._values = _read(path)
        self._used: dict[bytes, None] = {}
        self._is_new = False

    def parsed(self, kind: str, text: str, make: Callable[[], Any]) -> Any:
        """What is made of a text, or was before. A tree of too many levels to be kept is made each time."""
        import pickle  # for the start: most commands keep nothing

        known = self.value(kind, text)
        if known is not None:
            return pickle.loads(known)
        made = make()
        with suppress(RecursionError):
            self.keep(kind, text, pickle.dumps(made, pickle.HIGHEST_PROTOCOL))
        return made

    def code(self, name: str, text: str, make: Callable[[], CodeType]) -> CodeType:
        """A text of Python, compiled, or as it was compiled before."""
        known = self.value(f"code {name}", text)
        if known is not None:
            found: CodeType = marshal.loads(known)
            return found
        made = make()
        self.keep(f"code {name}", text, marshal.dumps(made))
        return made

    def value(self, kind: str, text: str) -> bytes | None:
        """What is kept for a text."""
        key = _key(kind, text)
        known = self._values.get(key)
        if known is not None:
            self._used[key] = None
        return known

    def keep(self, kind: str, text: str, value: bytes) -> None:
        """Keep what has been made of a text."""
        key = _key(kind, text)
        self._values[key] = value
        self._used[key] = None
        self._is_new = True

    def save(self) -> None:
        """Write what is new; where that cannot be done, nothing is kept."""
        if not self._is_new:
            return
        values = {**_read(self.path), **self._values}  # another process may have written
        kept: dict[bytes, bytes] = {}
        room = MOST
        for key in (*self._used, *(k for k in values if k not in self._used)):
            room -= len(values[key])
            if room < 0:
                break
            kept[key] = values[key]
        from glimb.whole import write_whole

        content = marshal.dumps(kept)
        with suppress(OSError):
            self.path.parent.mkdir(parents=True, exist_ok=True)
            write_whole(self.path, _digest(content) + content)
            self._is_new = False


_in_use: Store | None = None


@contextmanager
def keeping(root: Path) -> Iterator[None]:
    """Use the store of the project in a folder; what is new in it is written at the end."""
    global _in_use
    if os.environ.get(OFF, "").lower() != "off":
        _in_use = Store(folder() / f"{_digest(str(root.absolute()).encode()).hex()[:24]}.cache")
    try:
        yield
    finally:
        save()
        _in_use = None


def save() -> None:
    """Write what is new, if something is kept."""
    if _in_use is not None:
        _in_use.save()


def in_use() -> Store | None:
    """The store of this process, if it has one."""
    return _in_use


def folder() -> Path:
    """Where stores are kept."""
    from platformdirs import user_cache_path  # only where something is kept

    return user_cache_path("glimb", appauthor=False)


def size() -> int:
    """How many bytes all stores have."""
    return sum(path.stat().st_size for path in folder().glob("*.cache"))


def clear() -> int:
    """Remove all stores; gives how many bytes they had."""
    before = size()
    for path in folder().glob("*.cache"):
        path.unlink(missing_ok=True)
    return before


def _read(path: Path) -> dict[bytes, bytes]:
    """The values of a file that this user has written whole; nothing for any other."""
    try:
        with open(path, "rb") as file:
            if hasattr(os, "getuid") and os.fstat(file.fileno()).st_uid != os.getuid():
                return {}
            digest, content = file.read(32), file.read()
    except OSError:
        return {}
    if _digest(content) != digest:
        return {}
    values: dict[bytes, bytes] = marshal.loads(content)
    return values


def _key(kind: str, text: str) -> bytes:
    return _digest(_program() + f"\0{kind}\0{text}".encode("utf-8", "surrogatepass"))


def digest(*texts: str) -> str:
    """What stands for some texts, in their order."""
    return _digest("\0".join(f"{len(t)} {t}" for t in texts).encode("utf-8", "surrogatepass")).hex()


def _digest(content: bytes) -> bytes:
    from hashlib import sha256

    return sha256(content).digest()


@cache
def _program() -> bytes:
    """What stands for this program: Python's version, and every file of it with its time and size."""
    files = []
    for folder_, _, names in os.walk(os.path.dirname(__file__)):
        for name in names:
            if name.endswith(".py"):
                told = os.stat(os.path.join(folder_, name))
                files.append(f"{name} {told.st_mtime_ns} {told.st_size}")
    return _digest(f"{sys.version} {sys.implementation.cache_tag} {sorted(files)}".encode())
