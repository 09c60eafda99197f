"""Climbing into rungs of a replay, any round of their loops: what is folded is had by running the rung again."""

from __future__ import annotations

from collections.abc import Callable

from glimb.engine.outcomes.events import FOLDED, UNFOLDED, Rounds
from glimb.lang.problem import Problem, ProblemError
from glimb.suite import ways
from glimb.suite.climbing import lines_of
from glimb.suite.course import Course
from glimb.suite.replay import Replay
from glimb.suite.script import StatementStep

Way = Callable[[Course, int], int]
"""From a step of a course to another one; to the same where it leads nowhere."""

AROUND = 200
"""Rounds that are shown before and behind one that is asked for."""

AT_A_TIME = 50_000
"""Rounds of a loop that are kept at a time when something is looked for in all of them."""


def climbed(replay: Replay, rung: int, rounds: Rounds = UNFOLDED) -> Course:
    """Run a rung so that what happens inside it is kept, with these rounds of its loops (all); gives its course.
    The replay stands behind it then; a rung that waits has come to its wait, or as far as it came in the end."""
    step = replay.step(rung)
    replay.at(rung - 1)
    shared = replay.engine.shared
    recording, shared.recording = shared.recording, True
    shared.keep_rounds(rounds)
    try:
        replay.at(rung)
        found = replay.ladder.rungs[rung - 1]
        if found.last.waiting is not None:
            replay.finish()
    finally:
        shared.recording = recording
        shared.keep_rounds(None)
    statement = step.statement if isinstance(step, StatementStep) else None
    return Course(found, list(lines_of(found, statement)), statement)


class Climber:
    """See above. The replay stands at its end before and behind."""

    def __init__(self, replay: Replay) -> None:
        self.replay = replay
        self.is_stopped = False

    def stop(self) -> None:
        """End what is being run, from any thread."""
        self.is_stopped = True
        self.replay.engine.watch.stop()

    def climb(self, rung: int, rounds: Rounds = FOLDED) -> Course:
        """What happened inside a rung; of long loops the first and the last rounds, and those that are wanted."""
        self.is_stopped = False
        course = climbed(self.replay, rung, rounds)
        if self.is_stopped:  # then it is not what happened
            self.replay.at(0)
        self.replay.at(self.replay.length)
        if self.is_stopped:
            raise ProblemError(Problem("57014", "the run was stopped"))
        return course

    def climb_to_round(self, course: Course, at: int, number: int) -> tuple[Course, int]:
        """Have a round of the loop around a step, with those around it: the course, and its first step."""
        loop = ways.loop_of(course, at)
        assert loop is not None
        opened = self.climb(course.rung.number, (max(1, number - AROUND), number + AROUND))
        return opened, ways.rounds_span(opened, ways.at_address(opened, ways.address(course, loop)), number, number)[0]

    def climb_on(self, course: Course, at: int, way: Way, by: int, in_scene: bool) -> tuple[Course, int]:
        """Follow a way from a step on, through folded rounds too: the course in which the step is that it leads to,
        and that step; where it leads nowhere, what was given. A way `in_scene` does not leave the call of the step."""
        given = course, at
        while True:
            found = way(course, at)
            fold = ways.next_fold(course, at, by, course.scene_of[at] if in_scene else None)
            if fold is None or (found != at and (found < fold if by > 0 else found >= fold)):
                return (course, found) if found != at else given
            loop = course.parents[fold]
            hit = self._within(course, loop, at, way, by)
            if hit is not None:
                return hit
            at = course.children[loop][-1] if by > 0 else loop

    def _within(self, course: Course, loop: int, at: int, way: Way, by: int) -> tuple[Course, int] | None:
        """Where a way leads within a loop of which rounds are folded: so many of them at a time are run again."""
        rounds, address = course.lines[loop].step.rounds, ways.address(course, loop)
        inside = loop < at < ways.behind(course, loop)
        first = course.lines[ways.child_of(course, loop, at)].round if inside else 1 if by > 0 else rounds
        while 0 < first <= rounds:
            window = (first, first + AT_A_TIME) if by > 0 else (max(1, first - AT_A_TIME), first)
            opened = self.climb(course.rung.number, window)
            low, end = ways.rounds_span(opened, ways.at_address(opened, address), *window)
            if inside:
                start, inside = ways.at_address(opened, ways.address(course, at)), False
            else:
                start = ways.before_in_loop(opened, low) if by > 0 else end - 1
            found = way(opened, start)
            if found != start and low <= found < end:
                return opened, found
            first = window[1] + 1 if by > 0 else window[0] - 1
        return None
