"""What stands below the title of a drawing: project, file, and what a case was run with."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from glimb.engine.transactions.shared import EPOCH
from glimb.suite.ladder import Ladder
from glimb.suite.project import Project
from glimb.suite.script import Case


def of_project(project: Project, fixture: str = "") -> list[str]:
    """The project, and what its cases are run with unless they say otherwise."""
    fixture = fixture or project.settings.default_fixture
    return [
        named(project),
        *([f"fixture {fixture}"] if fixture else []),
        f"model {project.settings.model}",
        clock(EPOCH),
    ]


def of_case(project: Project, path: Path, case: Case, ladder: Ladder | None, both: bool = False) -> list[str]:
    """The project and the case; of a ladder the model, the virtual clock, and the side of a case that runs twice: not
    where `both` sides are drawn."""
    fixture = case.fixture or project.settings.default_fixture
    facts = [named(project), project.shown(path.absolute())]
    facts += [f"fixture {fixture}"] if fixture else []
    setting = ladder.setting if ladder is not None else None
    if setting is None:
        return [*facts, f"model {case.model or project.settings.model}", clock(case.clock or EPOCH)]
    set_by = case.twin.setting if case.twin is not None and setting.side else ""
    if set_by not in ("", "model") and not both:
        facts.append(f"{set_by} {setting.side}")
    if set_by != "model" or not both:
        facts.append(f"model {setting.model}")
    return [*facts, clock(setting.clock)]


def clock(moment: datetime) -> str:
    """The virtual clock when a case begins."""
    return f"clock {moment:%Y-%m-%d %H:%M}"


def named(project: Project) -> str:
    """The project by its name; what belongs to none says so."""
    return f"project {project.name}" if project.root is not None else project.name
