"""`glimb at`: the state after a rung of a case, or what a query gives there."""

from __future__ import annotations

import argparse
import sys

from glimb.commands.common import COULD_NOT_RUN, MET, case_options, opened, refuse, refuse_for, say


def options(command: argparse.ArgumentParser) -> None:
    add = command.add_argument
    case_options(command)
    add("--rung", type=int, metavar="N", help="after this rung; 0: at the fixture (the last)")
    add("--session", default="", metavar="S", help="as this session sees it (that of the rung)")
    add("--ask", action="append", default=[], metavar="QUERY", help="what this query gives there, without a trace")
    add("--format", choices=("text", "jsonl"), default="text", help="how to print (text)")


def run(given: argparse.Namespace) -> int:
    from glimb.lang.problem import ProblemError
    from glimb.report.standing import asked_line, asked_lines, standing_line, standing_lines
    from glimb.suite.standing import standing

    try:
        replay = opened(given)
        rung = replay.length if given.rung is None else given.rung
        if not 0 <= rung <= replay.length:
            return refuse(f"there is no rung {rung}", f"there are rungs 1 to {replay.length}; 0 is the fixture")
        replay.at(rung)
        if not given.ask:
            state = standing(replay)
            for text in [standing_line(state)] if given.format == "jsonl" else standing_lines(state):
                say(text)
            return MET
        status = MET
        for query in given.ask:
            session = given.session or replay.session
            outcome = replay.ask(query, session)
            for text in (
                [asked_line(query, session, rung, outcome)] if given.format == "jsonl" else asked_lines(outcome)
            ):
                say(text)
            status = COULD_NOT_RUN if outcome.failure is not None else status
        sys.stdout.flush()
        return status
    except ProblemError as error:
        return refuse_for(error)
