"""What changed since a run that was accepted: whole outcomes of all rungs, kept compactly and compared.

In: what each rung did, as facts by name. Out: the rungs that now do something else, with both sides. The base stands in
`.glimb/` of a project (git passes over it); the same run makes the same bytes.
"""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterable, Iterator
from contextlib import suppress
from hashlib import sha256
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.outcomes.outcome import Outcome
from glimb.report.jsonl import change_object, fields_of
from glimb.report.text import one_line
from glimb.suite.ladder import Ladder
from glimb.suite.project import find_root, make_own_folder, own_folder
from glimb.suite.telling import parts

BASE = "base.json.gz"
MOST_FACT = 600
"""Characters of a fact that are kept; of a longer one also a hash of the whole."""
MOST_BASE = 40_000_000
"""Characters of a whole base; beyond it only hashes of rungs are kept."""
PLACES = ("origin", "calls", "first", "again")
"""Fields that tell lines of source: they move when something above them is written."""

Facts = dict[str, str]
"""What a rung did, by the name of the field (see docs/jsonl.md), as JSON."""


class Told(NamedTuple):
    """A rung: whose statement, which, and what it did."""

    session: str
    text: str
    facts: Facts


class Difference(NamedTuple):
    """A rung that does something else: its number, its statement, and of each field that differs both sides (empty: it
    was or is not there)."""

    number: int
    session: str
    text: str
    fields: tuple[tuple[str, str, str], ...]


def rungs_of(ladder: Ladder) -> tuple[Told, ...]:
    """What the rungs of a ladder did, waits included."""
    return tuple(Told(r.session, one_line(r.text), {**_facts(r.outcome), **_ended(r.final)}) for r in ladder.rungs)


def _ended(final: Outcome | None) -> Facts:
    return {f"then {name}": fact for name, fact in _facts(final).items()} if final is not None else {}


def _facts(outcome: Outcome) -> Facts:
    found: dict[str, Any] = {"sqlstate": outcome.failure.sqlstate if outcome.failure is not None else None}
    for part in parts(outcome):
        found |= fields_of(part)
    found["rows changed"] = [change_object(change) for change in outcome.changes]
    return {
        name: _bounded(value) for name, value in found.items() if value not in (None, [], {}) and name not in PLACES
    }


_encode = json.JSONEncoder(ensure_ascii=False).encode


def _bounded(value: Any) -> str:
    text = _encode(value)
    return text if len(text) <= MOST_FACT else f"{text[:MOST_FACT]}… {sha256(text.encode()).hexdigest()[:12]}"


# ---- the base


class Base:
    """The rungs of the cases of one project, as they were accepted: by file from the root, title and side."""

    def __init__(self, root: Path | None) -> None:
        self.root = root
        self.cases: dict[str, list[Any]] = {}
        self.is_there = False
        self._names: dict[Path, str] = {}
        with suppress(OSError, ValueError, EOFError):
            self.cases = json.loads(gzip.decompress((own_folder(root) / BASE).read_bytes()))
            self.is_there = True

    def key(self, path: Path, title: str, side: int) -> str:
        file = self._names.get(path)
        if file is None:
            root = self.root
            below = path.relative_to(root) if root is not None and path.is_relative_to(root) else None
            file = self._names[path] = below.as_posix() if below is not None else str(path)
        return f"{file}|{title}|{side}"

    def differences(self, key: str, now: Iterable[Told]) -> Iterator[Difference] | None:
        """The rungs of a case that do something else; None for a case that was not there."""
        before = self.cases.get(key)
        if before is None:
            return None
        old, new = [_read(one) for one in before], list(now)
        return _differences(old, new) if old != new else iter(())

    def accept(self, cases: dict[str, tuple[Told, ...]]) -> None:
        """Make these cases as they are now part of the base. OSError when it cannot be written."""
        self.cases |= {key: [list(one) for one in rungs] for key, rungs in cases.items()}
        text = json.dumps(self.cases, ensure_ascii=False, sort_keys=True)
        if len(text) > MOST_BASE:
            hashed = {key: [[s, t[:80], {"#": _hash(f)}] for s, t, f in rungs] for key, rungs in self.cases.items()}
            text = json.dumps(hashed, ensure_ascii=False, sort_keys=True)
        place = make_own_folder(self.root) / BASE
        part = place.with_suffix(".part")
        part.write_bytes(gzip.compress(text.encode(), 6, mtime=0))
        part.replace(place)


def _read(one: list[Any]) -> Told:
    return Told(*one)


def _hash(facts: Facts) -> str:
    return sha256(json.dumps(facts, sort_keys=True).encode()).hexdigest()[:24]


def _differences(before: list[Told], now: list[Told]) -> Iterator[Difference]:
    for number in range(max(len(before), len(now))):
        old = before[number] if number < len(before) else Told("", "", {})
        new = now[number] if number < len(now) else Told("", "", {})
        facts = {"#": _hash(new.facts)} if "#" in old.facts else new.facts
        fields = [("statement", old.text, new.text)] if old.text != new.text[: len(old.text) or None] else []
        fields += [
            (name, old.facts.get(name, ""), facts.get(name, ""))
            for name in dict.fromkeys([*old.facts, *facts])
            if old.facts.get(name) != facts.get(name)
        ]
        if fields:
            yield Difference(number + 1, new.session or old.session, new.text or old.text, tuple(fields))


def base_of(path: Path) -> Base:
    """The base of the project that a script belongs to."""
    return Base(find_root(path.parent))


def difference_lines(difference: Difference) -> Iterator[str]:
    """A rung that does something else: below its statement what it was, and what it is."""
    yield f"    {difference.number} {difference.session}> {difference.text[:100]}"
    for name, before, now in difference.fields:
        yield f"      {name:13} was  {before or 'nothing'}"
        yield f"      {'':13} is   {now or 'nothing'}"
