"""The projects of the tests with parts exchanged: lines of scripts, words of what they expect, cells of sheets and of rows.

Most of what comes out still runs, much of it is not met, some of it is refused: what is told of it is held by digests.
"""

from __future__ import annotations

import random
import re
from collections.abc import Callable
from pathlib import Path
from shutil import copytree, ignore_patterns

from mutations import graft, parts_of

TESTS = Path(__file__).parent
PROJECTS = {"demo": TESTS.parent / "demo", "ridge": TESTS / "ridge", "faulty": TESTS / "faulty"}
EACH = 10
"""Changed files for each one that is there."""
_WORDS = re.compile(r"'[^']*'|[\w.]+|[^\w\s]+")
_SPARE = "NULL 0 1 2 -1 7.50 TRUE 'x' '' UNKNOWN DATE'2031-02-03' 22012 23505 a b main = <> , ( ) within or and".split()
_CELLS = ["", "NULL", "0", "1", "-3", "2.5", "x", "'x'", "22012", "22", "DATE '2030-01-01'", "1 + 1", "(", "?"]


def _changed_script(text: str, chance: random.Random) -> str:
    """Two to five lines otherwise: gone, twice, in another place, or with other words."""
    lines = text.splitlines()
    said = [line for line in lines if line.startswith("--")]
    words = [*_SPARE, *(word for line in said for word in _WORDS.findall(line)[1:])]
    parts = parts_of(text)
    for _ in range(chance.randint(2, 5)):
        at = chance.randrange(len(lines))
        kind = chance.randrange(8)
        if kind == 0:
            del lines[at : at + 1]
            lines = lines or [""]
        elif kind == 1:
            lines.insert(at, chance.choice(said or lines))
        elif kind == 2:
            lines.insert(chance.randrange(len(lines)), lines[at])
        elif lines[at].startswith("--"):
            lines[at] = _other_word(lines[at], chance, words)
        else:
            lines[at] = graft(lines[at], chance, parts, parts)
    return "\n".join(lines) + "\n"


def _other_word(line: str, chance: random.Random, words: list[str]) -> str:
    """A line that says something, with a word more, less or in the place of another one."""
    places = list(_WORDS.finditer(line))[1:]
    if not places:
        return line
    place = chance.choice(places)
    new = chance.choice((chance.choice(words), chance.choice(words), "", f"{place[0]} {chance.choice(words)}"))
    return line[: place.start()] + new + line[place.end() :]


def _changed_cells(text: str, chance: random.Random) -> str:
    """One to three cells otherwise, or a row gone or twice."""
    rows = [line.split(",") for line in text.splitlines()]
    cells = [*_CELLS, *(cell for row in rows[1:] for cell in row)]
    for _ in range(chance.randint(1, 3)):
        row = chance.randrange(len(rows))
        kind = chance.randrange(10)
        if kind == 0 and len(rows) > 2:
            del rows[row]
        elif kind == 1:
            rows.insert(row, list(rows[row]))
        elif kind == 2:
            rows[row].append(chance.choice(cells))
        elif row or kind == 3:  # the heads more seldom
            rows[row][chance.randrange(len(rows[row]))] = chance.choice(cells)
    return "".join(",".join(row) + "\n" for row in rows)


def _add(files: list[Path], named: Callable[[Path, int], Path], change: Callable[[str, random.Random], str]) -> None:
    for path in files:
        text = path.read_text()
        for number in range(EACH):
            new = named(path, number)
            new.parent.mkdir(parents=True, exist_ok=True)
            new.write_text(change(text, random.Random(f"{path.name} {number}")))


def write(folder: Path) -> None:
    """Write the projects there. Their scripts and sheets are changed ones only; beside each fixture there are some that have
    a file changed, with a script that tells its rows."""
    for name, source in PROJECTS.items():
        root = folder / name
        copytree(source, root, ignore=ignore_patterns(".glimb", "slips", "inner", "odd"))
        scripts, sheets = sorted((root / "cases").glob("*.sql")), sorted((root / "sheets").glob("*.csv"))
        _add(scripts, lambda path, number: path.with_stem(f"{path.stem}-{number}"), _changed_script)
        _add(sheets, lambda path, number: path.with_stem(f"{path.stem}.{number}"), _changed_cells)
        for path in (*scripts, *sheets):
            path.unlink()
        _add_fixtures(root)


def _add_fixtures(root: Path) -> None:
    for path in sorted((root / "fixtures").glob("*/*.csv")):
        other = path.parent.with_name(f"{path.parent.name}-{path.stem}")
        copytree(path.parent, other)
        (other / path.name).write_text(_changed_cells(path.read_text(), random.Random(path.name)))
        case = f"--# fixture {other.name}\n--# case its rows\nSELECT * FROM {path.stem};\n--> no rows\n"
        (root / "cases" / f"fixture-{path.stem}.sql").write_text(case)
