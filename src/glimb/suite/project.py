"""A project folder: glimb.toml, schema/, routines/, fixtures/NAME/, cases/. Finds files; reads no SQL."""

from __future__ import annotations

import os
import re
import stat
from collections import Counter
from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import TYPE_CHECKING, NoReturn

from glimb.engine.engine import Limits
from glimb.engine.transactions.isolation import MODELS
from glimb.lang.node import Record
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span

if TYPE_CHECKING:
    from pathlib import Path

FILE = "glimb.toml"


class Settings(Record):
    """What glimb.toml says."""

    title: str = ""
    default_fixture: str = ""
    rollback_unhandled: bool = False
    model: str = "versions"
    limits: Limits = Limits()
    fixture_triggers: str = ""
    """Whether triggers fire for the rows of CSV files: on, off, or nothing said, which is off and told by a check."""
    allowed: Mapping[str, str] = MappingProxyType({})
    """Findings that are switched off, by code, with the reasons."""


class Project(Record):
    """A folder with its settings; `root` None for scripts outside any project."""

    root: Path | None
    settings: Settings

    @property
    def name(self) -> str:
        if self.settings.title:
            return self.settings.title
        return self.root.name if self.root is not None else "no project"

    def files(self, folder: str) -> list[Path]:
        """The .sql files of a folder and the folders in it, by name."""
        if self.root is None:
            return []
        return sorted((self.root / folder).rglob("*.sql"))

    def fixtures(self) -> list[str]:
        """Names of the fixtures."""
        if self.root is None or not (self.root / "fixtures").is_dir():
            return []
        return sorted(p.name for p in (self.root / "fixtures").iterdir() if p.is_dir())

    def usual_fixture(self, used: Iterable[str]) -> str:
        """The default fixture; where there is none, that of those in use which is used most."""
        counts = Counter(name for name in used if name)
        return self.settings.default_fixture or (counts.most_common(1)[0][0] if counts else "")

    def fixture_files(self, name: str) -> list[Path]:
        """The CSV and SQL files of a fixture, by name."""
        assert self.root is not None
        folder = self.root / "fixtures" / name
        return sorted(p for p in folder.iterdir() if p.suffix in (".csv", ".sql"))

    def state(self) -> frozenset[FileState]:
        """The files that worlds are made of, as they are now; nothing where they cannot be listed."""
        if self.root is None:
            return frozenset()
        try:
            of_fixtures = [path for name in self.fixtures() for path in (self.root / "fixtures" / name).iterdir()]
            listed = [*self.files("schema"), *self.files("routines"), *of_fixtures]
        except OSError:
            return frozenset()
        return frozenset(filter(None, map(file_state, [*listed, self.root / FILE, self.root / "stamps.toml"])))

    def stamp_files(self, fixtures: list[str]) -> list[Path]:
        """stamps.toml of the project and of some fixtures, where there is one."""
        if self.root is None:
            return []
        folders = [self.root, *(self.root / "fixtures" / name for name in fixtures)]
        return [path for folder in folders if (path := folder / "stamps.toml").is_file()]

    def shown(self, path: Path) -> str:
        """A path as it is shown: from the root, where it lies below it."""
        if self.root is not None and path.is_relative_to(self.root):
            return str(path.relative_to(self.root))
        return str(path)


FileState = tuple[str, int, int, int]
"""The path of a file, what it is stored as, when it was changed last, its size: what is written anew differs in it."""


def file_state(path: Path | str) -> FileState | None:
    """What a file is now; None for one that is not there."""
    try:
        told = os.stat(path)
    except OSError:
        return None
    return str(path), told.st_ino, told.st_ctime_ns, told.st_size


def read_text(path: Path | str) -> Source:
    """A file as a source; ProblemError when it cannot be read as UTF-8."""
    try:
        if stat.S_IFMT(os.stat(path).st_mode) not in (stat.S_IFREG, stat.S_IFDIR):
            raise ProblemError(Problem("58030", f"{path}: a pipe or device, no file"))
        with open(path, "rb") as file:
            return Source(decoded(file.read(), str(path)), str(path))
    except OSError as error:
        raise ProblemError(Problem("58030", f"{path}: {error.strerror}")) from None


def decoded(content: bytes, name: str) -> str:
    """Bytes as a text with plain line ends; ProblemError when they are not UTF-8."""
    try:
        return content.decode("utf-8-sig").replace("\r\n", "\n")
    except UnicodeDecodeError as error:
        raise ProblemError(Problem("58030", f"{name}: not UTF-8, at byte {error.start}")) from None


def find_root(path: Path | str) -> Path | None:
    """The nearest folder, from `path` upwards, that holds glimb.toml."""
    folder, before = os.path.join(os.getcwd(), path), ""  # as it is given: places are shown as they were written
    while folder != before:
        if os.path.isfile(os.path.join(folder, FILE)):
            from pathlib import Path  # slow to import, and not needed outside a project

            return Path(folder)
        folder, before = os.path.dirname(folder), folder
    return None


def open_project(path: Path | str) -> Project:
    """The project that a file or folder belongs to, or none."""
    root = find_root(path)
    if root is None:
        return Project(None, Settings())
    return Project(root, read_settings(root / FILE))


def read_settings(path: Path) -> Settings:
    """Read glimb.toml; ProblemError for what it may not say."""
    import tomllib  # slow to import, and not needed outside a project

    source = read_text(path)
    try:
        data = tomllib.loads(source.text)
    except tomllib.TOMLDecodeError as error:
        raise ProblemError(_toml_problem(source, str(error))) from None
    known = ("title", "fixture", "on_unhandled", "model", "limits", "allow", "fixture_triggers")
    for key in data:
        if key not in known:
            _refuse(source, key, f"there is no setting {key}", nearest(key, known))
    unhandled = data.get("on_unhandled", "keep")
    if unhandled not in ("keep", "rollback"):
        _refuse(source, "on_unhandled", "on_unhandled is keep or rollback")
    model = str(data.get("model", "versions"))
    if model not in MODELS:
        _refuse(source, model, f"model is {' or '.join(MODELS)}", nearest(model, MODELS))
    fires = str(data.get("fixture_triggers", ""))
    if "fixture_triggers" in data and fires not in ("on", "off"):
        _refuse(source, "fixture_triggers", "fixture_triggers is on or off")
    title, fixture = str(data.get("title", "")), str(data.get("fixture", ""))
    return Settings(
        title, fixture, unhandled == "rollback", model, _limits(source, data), fires, _allowed(source, data)
    )


def _allowed(source: Source, data: dict[str, object]) -> dict[str, str]:
    """[allow]: a reason for the code of each finding that is switched off."""
    given = data.get("allow", {})
    if not isinstance(given, dict):
        _refuse(source, "allow", "allow is a table: [allow], with a reason for each code")
    for code, reason in given.items():
        if not isinstance(reason, str) or not reason.strip():
            _refuse(source, code, f"{code} is switched off with a reason, a text")
    return given


def _toml_problem(source: Source, message: str) -> Problem:
    """What the reader of TOML says, at its place."""
    place = re.search(r" \(at line (\d+), column (\d+)\)", message)
    if place is None:
        end = len(source.text.rstrip())
        return Problem("58030", message, Span(max(0, end - 1), end), "", source)
    at = source.starts[min(int(place[1]), len(source.starts)) - 1] + int(place[2]) - 1
    return Problem("58030", message.replace(place[0], ""), Span(at, at + 1), "", source)


def _limits(source: Source, data: dict[str, object]) -> Limits:
    given = data.get("limits", {})
    if not isinstance(given, dict):
        _refuse(source, "limits", "limits is a table: [limits]")
    for key, value in given.items():
        if key not in Limits._fields:
            _refuse(source, key, f"there is no limit {key}", nearest(key, Limits._fields))
        if not isinstance(value, int | float) or isinstance(value, bool) or not 0 < value < 1e18:
            _refuse(source, key, f"the limit {key} is a number above 0")
        if isinstance(value, float) and isinstance(Limits._field_defaults[key], int) and value != int(value):
            _refuse(source, key, f"the limit {key} is a whole number")
    return Limits(**{k: type(Limits._field_defaults[k])(v) for k, v in given.items()})


def _refuse(source: Source, word: str, message: str, hint: str = "") -> NoReturn:
    at = max(0, source.text.find(word))
    raise ProblemError(Problem("58030", message, Span(at, at + len(word)), hint, source))


def script_paths(paths: list[Path]) -> list[Path]:
    """The scripts meant by paths: a file itself, the cases and call sheets of a project folder, or all .sql files of
    another folder (those of a project within it aside); sheets of the folder with those."""
    found: list[Path] = []
    for path in paths:
        if path.is_file():
            found.append(path)
        elif not path.is_dir():
            raise ProblemError(Problem("58030", f"there is no file or folder {path}"))
        elif (path / FILE).is_file():
            found += _cases_and_sheets(path)
        else:
            projects = sorted(p.parent for p in path.rglob(FILE))
            if projects:
                outer = [p for p in projects if not any(q != p and q in p.parents for q in projects)]
                for folder in outer:
                    found += _cases_and_sheets(folder)
            else:
                found += sorted(path.rglob("*.sql"))
                found += sorted(path.glob("*.csv")) if _holds_sheets(path) else []
    return list(dict.fromkeys(p.absolute() for p in found))


def _holds_sheets(path: Path) -> bool:
    root = find_root(path)
    return root is not None and path.absolute() == root.absolute() / "sheets"


def _cases_and_sheets(root: Path) -> list[Path]:
    return open_project(root).files("cases") + sorted((root / "sheets").glob("*.csv"))


def project_roots(paths: list[Path]) -> list[Path]:
    """The projects that paths lie in or hold (see `script_paths`), the outer ones first."""
    found: list[Path] = []
    for path in paths:
        root = find_root(path)
        if root is not None:
            found.append(root)
        elif path.is_dir():
            projects = sorted(p.parent.absolute() for p in path.rglob(FILE))
            found += [p for p in projects if not any(q != p and q in p.parents for q in projects)]
    return list(dict.fromkeys(found))


def own_folder(root: Path | None) -> Path:
    """Where what is no source is kept: `.glimb/` of a project; outside any project a folder of the user's. It need not
    be there (see `make_own_folder`)."""
    if root is not None:
        return root / ".glimb"
    from glimb.engine.values.faults import state_folder

    return state_folder()


def make_own_folder(root: Path | None) -> Path:
    """Make that folder; git is told to pass over that of a project. OSError when it cannot be made."""
    folder = own_folder(root)
    folder.mkdir(parents=True, exist_ok=True)
    if root is not None and not (folder / ".gitignore").exists():
        (folder / ".gitignore").write_text("*\n")
    return folder
