"""Digests of what comes out, a line for each thing that is looked at, in files that `--update` writes anew."""

from __future__ import annotations

from collections.abc import Iterable
from hashlib import sha256
from pathlib import Path


def hold(file: Path, keys: Iterable[str], key: str, text: str, update: bool) -> None:
    """Hold what comes out for a key against the digest in the file's line, or write it there, in the order of all keys."""
    digest = sha256(text.encode()).hexdigest()[:10]
    lines = dict(line.split("\t") for line in file.read_text().splitlines()) if file.exists() else {}
    if update:
        lines = {one: lines.get(one, "") for one in keys} | {key: digest}
        file.write_text("".join(f"{one}\t{kept}\n" for one, kept in lines.items()))
    else:
        assert lines.get(key) == digest, text[:20_000]
