"""`glimb draw`: what the screens show, in a file of print quality."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from glimb.commands.common import MET, case_options, opened, path_of, refuse_for, say, script_at, shown_path

if TYPE_CHECKING:
    from glimb.report.drawings.paper import Drawing
    from glimb.suite.ladder import Ladder
    from glimb.suite.script import Case


def options(command: argparse.ArgumentParser) -> None:
    kinds = command.add_subparsers(dest="what", metavar="KIND", required=True)
    for name, (told, add_options, _) in KINDS.items():
        kind = kinds.add_parser(name, help=told, description=told)
        add_options(kind)
        told = f"where it is written, as .svg or .pdf ({name}.svg)"
        kind.add_argument("-o", dest="file", type=path_of, default=path_of(f"{name}.svg"), metavar="FILE", help=told)


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.drawings.files import write

    make = KINDS[given.what][2]
    try:
        write(make(given), given.file)
    except ProblemError as error:
        return refuse_for(error)
    say(str(given.file))
    return MET


def _facts(given: argparse.Namespace, case: Case, ladder: Ladder | None = None, both: bool = False) -> list[str]:
    """What stands below the title of the drawing of a case."""
    from glimb.report.drawings.facts import of_case
    from glimb.suite.project import open_project

    return of_case(open_project(given.script.parent), given.script, case, ladder, both)


def _ladder(given: argparse.Namespace) -> Drawing:
    from glimb.report.drawings import ladder

    replay = opened(given)
    replay.finish()
    return ladder.drawing(replay.ladder, _facts(given, replay.case, replay.ladder))


def _climb_options(command: argparse.ArgumentParser) -> None:
    case_options(command)
    add = command.add_argument
    add("--rung", type=int, metavar="N", help="this rung (the last one in which routines run)")
    add("--round", type=int, metavar="N", help="of long loops also this round and those around it")


def _climb(given: argparse.Namespace) -> Drawing:
    from glimb.commands.climb import course_of
    from glimb.engine.outcomes.events import FOLDED
    from glimb.report.drawings import climb
    from glimb.suite.climber import AROUND

    replay = opened(given)
    rounds = (max(1, given.round - AROUND), given.round + AROUND) if given.round is not None else FOLDED
    course = course_of(replay, given.rung, rounds)
    facts = _facts(given, replay.case, replay.ladder)
    chosen = next((at for at, line in enumerate(course.lines) if line.round == given.round), 0)
    return climb.drawing(course, replay.case.title, facts, chosen)


def _survey_options(command: argparse.ArgumentParser) -> None:
    from glimb.commands.run import choose_options

    told = "projects, folders, scripts, or FILE:LINE for the case there (here)"
    command.add_argument("paths", nargs="*", metavar="PATH", help=told)
    choose_options(command)


def _survey(given: argparse.Namespace) -> Drawing:
    from glimb.commands.survey import studied
    from glimb.report.drawings import survey
    from glimb.report.drawings.facts import of_project
    from glimb.suite.coverage import merged
    from glimb.suite.world import build

    found = list(studied(given))
    rows = []
    for project, study in found:
        engine = build(project, "")
        rows += study.grid(engine)
        engine.close()
    facts = of_project(found[0][0]) if len(found) == 1 else [f"project {project.name}" for project, _ in found]
    return survey.drawing(rows, merged(*(study.counts for _, study in found)), facts, _shown)


def _weave_options(command: argparse.ArgumentParser) -> None:
    from glimb.commands.weave import choose_options

    choose_options(command)


def _weave(given: argparse.Namespace) -> Drawing:
    from glimb.commands.weave import loom_of, woven_of
    from glimb.report.drawings import weave
    from glimb.suite.weave_web import Web

    loom = loom_of(given)
    woven = woven_of(given, loom, web=Web())
    return weave.drawing(woven, _facts(given, loom.case))


def _twin_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("script", type=path_of, metavar="SCRIPT", help="the script with the case")
    add("-k", dest="word", default="", metavar="CASE", help="the case with this in its title")
    add("--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value")
    told = "run a case that is no twin under two values of model, isolation or autocommit"
    add("--set", default="", metavar="'SETTING = A | B'", help=told)


def _twin(given: argparse.Namespace) -> Drawing:
    from glimb.lang.problem import Problem, ProblemError
    from glimb.report.drawings import twin
    from glimb.suite.letting import check_lets, read_lets
    from glimb.suite.replay import chosen_case
    from glimb.suite.runner import Runner
    from glimb.suite.script import read_twin

    script = script_at(given.script)
    case = chosen_case(script, given.word)
    lets = read_lets(given.let)
    check_lets(lets, [script])
    if given.set:
        case.twin = read_twin(given.set)
    if case.twin is None:
        told = "--set 'model = locking | versions' runs it under both"
        raise ProblemError(Problem("0A000", "the case runs once, and so has no second ladder", hint=told))
    result = Runner(lets).run_case(script, case)
    if len(result.ladders) < 2:
        raise ProblemError(*result.problems or [Problem("0A000", f"the case is {result.verdict}, and was not run")])
    one, other = (f"{case.twin.setting} {value}" for value in case.twin.values)
    facts = _facts(given, case, result.ladder, both=True)
    return twin.drawing(result.ladders[0], result.ladders[1], (one, other), facts)


def _project_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("path", nargs="?", default=".", metavar="PATH", help="a project (here)")


def _calls_options(command: argparse.ArgumentParser) -> None:
    _project_options(command)
    command.add_argument("--of", default="", metavar="NAME", help="only what this one uses, and what uses it")


def _calls(given: argparse.Namespace) -> Drawing:
    from glimb.lang.problem import Problem, ProblemError, nearest
    from glimb.report.drawings import calls
    from glimb.report.drawings.facts import of_project
    from glimb.suite.project import open_project
    from glimb.suite.uses import uses
    from glimb.suite.world import build

    project = open_project(path_of(given.path))
    engine = build(project, "")
    found = uses(engine.catalog)
    engine.close()
    names = [thing.name for thing in found.things]
    if given.of and given.of.lower() not in names:
        raise ProblemError(Problem("42704", f"there is nothing named {given.of}", hint=nearest(given.of, names)))
    return calls.drawing(found, of_project(project), given.of.lower())


def _tables_options(command: argparse.ArgumentParser) -> None:
    _project_options(command)
    command.add_argument(
        "--fixture", default="", metavar="NAME", help="the fixture (the default, or that of most cases)"
    )


def _tables(given: argparse.Namespace) -> Drawing:
    from glimb.report.drawings import tables
    from glimb.report.drawings.facts import of_project
    from glimb.suite.choosing import read_any
    from glimb.suite.project import open_project, script_paths
    from glimb.suite.tables import examples
    from glimb.suite.tables import tables as all_tables
    from glimb.suite.world import build

    project = open_project(path_of(given.path))
    scripts = [read_any(path) for path in script_paths([path_of(given.path)])]
    fixture = given.fixture or project.usual_fixture(case.fixture for script in scripts for case in script.cases)
    engine = build(project, fixture)
    notes = all_tables(engine)
    drawn = tables.drawing(notes, examples(engine, notes, tables.EXAMPLES), of_project(project, fixture))
    engine.close()
    return drawn


def _times(given: argparse.Namespace) -> Drawing:
    from glimb.commands.run import cases_of
    from glimb.report.drawings import times
    from glimb.report.drawings.facts import of_project
    from glimb.suite.letting import read_lets
    from glimb.suite.project import open_project
    from glimb.suite.timing import beside_last, measured

    some = [(one.script, one.script.cases[number]) for one in cases_of(given) for number in one.cases]
    project = open_project(some[0][0].path.parent)
    found = measured(some, read_lets(given.let))
    return times.drawing(beside_last(project.root, *found), of_project(project))


def _findings(given: argparse.Namespace) -> Drawing:
    from glimb.report.drawings import findings
    from glimb.report.drawings.facts import of_project
    from glimb.suite.checking import check
    from glimb.suite.project import open_project, script_paths

    path = path_of(given.path)
    project = open_project(path)
    return findings.drawing(check(project, script_paths([path])), of_project(project), _shown)


def _routine_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("name", metavar="ROUTINE", help="the name of the routine; with its types where several have it")
    _project_options(command)


def _routine(given: argparse.Namespace) -> Drawing:
    from glimb.commands.routine import told_of
    from glimb.lang.problem import Problem, ProblemError
    from glimb.report.drawings import routine
    from glimb.report.drawings.facts import of_project

    project, found = told_of(given.name, given.path)
    exact = [one for one in found if one.signature.lower() == given.name.lower()] or found
    if len(exact) != 1:
        told = "; ".join(one.signature for one in exact)
        raise ProblemError(Problem("42704", f"{len(exact) or 'no'} routines are named {given.name}", hint=told))
    return routine.drawing(exact[0], of_project(project), _shown)


def _rows_options(command: argparse.ArgumentParser) -> None:
    from glimb.commands.rows import choose_options

    choose_options(command)


def _rows(given: argparse.Namespace) -> Drawing:
    from glimb.commands.rows import world_of
    from glimb.report.drawings import rows
    from glimb.report.drawings.facts import of_project
    from glimb.suite.tables import shown

    project, engine = world_of(given)
    found = shown(engine, given.table, given.where, given.order)
    engine.close()
    return rows.drawing(found, of_project(project, given.fixture))


def _sheet_options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    add("sheet", type=path_of, metavar="SHEET", help="the CSV file of the sheet")
    add("--let", action="append", default=[], metavar="NAME=VALUE", help="give a host variable this value")


def _sheet(given: argparse.Namespace) -> Drawing:
    from glimb.report.drawings import sheet
    from glimb.report.drawings.facts import of_project
    from glimb.suite.letting import read_lets
    from glimb.suite.project import open_project, read_text
    from glimb.suite.runner import Runner
    from glimb.suite.sheet_table import parameters_of, read_table, run_rows
    from glimb.suite.sheets import routine_of, routines_of

    project = open_project(given.sheet.parent)
    parameters = parameters_of(project.root, routine_of(given.sheet, routines_of(project.root)))
    table = read_table(read_text(given.sheet), parameters)
    ran = run_rows(Runner(read_lets(given.let)), given.sheet.absolute(), table, table.calls)
    facts = [*of_project(project), project.shown(given.sheet.absolute())]
    return sheet.drawing(table, ran, given.sheet.stem, facts)


def _shown(file: str) -> str:
    return shown_path(path_of(file).absolute())


KINDS = {
    "ladder": ("a case: sessions, transactions, locks and waits, statement by statement", case_options, _ladder),
    "climb": ("what happened inside a rung: calls over steps, values where they change", _climb_options, _climb),
    "survey": ("the proof grid, and how much of each routine was tried", _survey_options, _survey),
    "weave": ("all orders of a case's sessions, merged where they lead to the same", _weave_options, _weave),
    "twin": ("a case under two settings, side by side, with the first difference", _twin_options, _twin),
    "calls": ("which routine calls, reads and changes what", _calls_options, _calls),
    "tables": ("tables with columns, keys, references and rows", _tables_options, _tables),
    "times": ("how long cases and routines take, this run beside the last", _survey_options, _times),
    "routine": ("a routine with what its lines did over all cases", _routine_options, _routine),
    "rows": ("rows of a table of a fixture", _rows_options, _rows),
    "sheet": ("a call sheet, with what its rows came to", _sheet_options, _sheet),
    "findings": ("what is wrong or dubious, without running", _project_options, _findings),
}
"""What each kind draws, its options, and what makes the drawing."""
