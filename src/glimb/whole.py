"""Files that are written whole or not at all: beside the old one, which stays as it is until the new one is there."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterator
from pathlib import Path
from shutil import rmtree
from tempfile import mkdtemp, mkstemp


def write_whole(path: Path, content: bytes) -> None:
    """Write a file; OSError when that cannot be done, and then the old one is as it was. A device or pipe is written
    to as it is."""
    if path.exists() and not path.is_file():
        path.write_bytes(content)
        return
    target = path.resolve()  # a link goes on being one
    try:
        mode = target.stat().st_mode if target.exists() else 0o666 & ~_mask()
        number, name = mkstemp(prefix=".", suffix=".part", dir=target.parent)
        try:
            with os.fdopen(number, "wb") as file:
                file.write(content)
                file.flush()
                os.fsync(number)
            os.chmod(name, mode & 0o7777)
            os.replace(name, target)
        finally:
            with contextlib.suppress(OSError):  # where it did not take its name
                os.unlink(name)
    except OSError as error:
        raise OSError(error.errno, error.strerror, str(path)) from None


def append(path: Path, text: str) -> None:
    """Add to a file; it is on the disk then. OSError when that cannot be done: some of it may be there."""
    with path.open("ab") as file:
        file.write(text.encode())
        file.flush()
        os.fsync(file.fileno())


def write_script(path: Path, text: str) -> None:
    """Write a text with plain line ends, as UTF-8; with those that the file has had."""
    ending = b"\r\n" if path.exists() and b"\r\n" in path.read_bytes() else b"\n"
    write_whole(path, text.encode().replace(b"\n", ending))


@contextlib.contextmanager
def made_whole(folder: Path) -> Iterator[Path]:
    """A folder to fill, which then takes the name of `folder` (that may be there, but empty)."""
    folder = folder.resolve()
    folder.parent.mkdir(parents=True, exist_ok=True)
    part = Path(mkdtemp(prefix=".", suffix=".part", dir=folder.parent))
    try:
        part.chmod(0o777 & ~_mask())
        yield part
        part.rename(folder)
    finally:
        rmtree(part, ignore_errors=True)


def _mask() -> int:
    """The rights that new files do not get."""
    mask = os.umask(0)
    os.umask(mask)
    return mask
