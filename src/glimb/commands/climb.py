"""`glimb climb`: a rung of a case, statement by statement."""

from __future__ import annotations

import argparse
import sys
from typing import TYPE_CHECKING

from glimb.commands.common import MET, case_options, opened, path_of, refuse_for, say, shown_path

if TYPE_CHECKING:
    from glimb.engine.outcomes.events import Rounds
    from glimb.suite.climbing import Line
    from glimb.suite.course import Course
    from glimb.suite.replay import Replay


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    case_options(command)
    add("--rung", type=int, metavar="N", help="this rung (the last one in which routines run)")
    add("--into", default="", metavar="ROUTINE", help="only what happens within calls of this routine")
    add(
        "--changes-of",
        default="",
        metavar="VARIABLE[=VALUE]",
        help="only steps that change it; with a value, the rounds in which it becomes that",
    )
    add("--round", type=int, metavar="N", help="only steps of this round of a loop")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")


def run(given: argparse.Namespace) -> int:
    from glimb.engine.outcomes.events import UNFOLDED
    from glimb.lang.problem import ProblemError
    from glimb.report.climbed import climbed_line, climbed_lines
    from glimb.report.text import one_line
    from glimb.suite.climbing import Wanted, chosen
    from glimb.suite.wording import failure_text

    try:
        replay = opened(given)
        course = course_of(replay, given.rung, UNFOLDED)
    except ProblemError as error:
        return refuse_for(error)
    rung, lines = course.rung, course.lines
    variable, _, value = given.changes_of.partition("=")
    wanted = Wanted(given.into.lower(), variable.strip().lower(), value.strip(), given.round)
    found = chosen(lines, wanted)
    if given.format == "jsonl":
        ascii = not sys.stdout.encoding.lower().startswith("utf")
        for line in found:
            say(climbed_line(line, ascii))
        return MET
    place = f"{shown_path(path_of(replay.source.name))}:{rung.line}"
    say(f"rung {rung.number} {rung.session}> {one_line(rung.text)}  ({place})")
    for text in climbed_lines(found, shown_path):
        say(text)
    if not found:
        say("       " + _why_nothing(lines, wanted))
    failure = rung.last.failure
    if failure is not None:
        say(f"       {failure_text(failure)}")
    elif rung.last.waiting is not None:
        say("       it waits here")
    return MET


def course_of(replay: Replay, rung: int | None, rounds: Rounds) -> Course:
    """The course of a rung, of the last one with routines where none is named, with these rounds of its loops beside
    the first and the last ones; ProblemError when there is none."""
    from glimb.lang.problem import Problem, ProblemError
    from glimb.suite.climber import climbed

    number = rung if rung is not None else _last_with_routines(replay)
    if not 1 <= number <= replay.length:
        told = f"there are rungs 1 to {replay.length}" if replay.length else "there are none"
        raise ProblemError(Problem("42704", f"there is no rung {number}", hint=told))
    return climbed(replay, number, rounds)


def _last_with_routines(replay: Replay) -> int:
    """The last rung in which something happens inside: one of the others is seldom meant."""
    replay.engine.shared.recording = True
    try:
        ladder = replay.finish()
    finally:
        replay.engine.shared.recording = False
    return next((r.number for r in reversed(ladder.rungs) if r.steps), len(ladder.rungs))


def _why_nothing(lines: list[Line], wanted: object) -> str:
    if not lines:
        return "nothing happens inside this statement: it calls no routine and is no block"
    names = sorted({v for line in lines for v in line.after})
    routines = sorted({line.routine for line in lines if line.routine})
    return f"no step is like that; there are {len(lines):,} steps, variables {', '.join(names)}" + (
        f", routines {', '.join(routines)}" if routines else ""
    )
