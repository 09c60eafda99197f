"""Ways through a course: by the rounds of a loop, by what changes or comes up, and through rounds that are folded."""

from __future__ import annotations

from bisect import bisect_left, bisect_right

from glimb.engine.values.conversion import literal_of
from glimb.suite.climbing import Line, head_of
from glimb.suite.course import Course


def loop_of(course: Course, at: int) -> int | None:
    """The loop that a step stands in, or is."""
    while at >= 0:
        info = course.lines[at].step.info
        if info is not None and info.is_loop:
            return at
        at = course.parents[at]
    return None


def round_at(course: Course, at: int) -> int:
    """In which round of that loop it is; 0: in none."""
    loop = loop_of(course, at)
    if loop is None or loop == at:
        return 0
    while course.parents[at] != loop:
        at = course.parents[at]
    return course.lines[at].round


def first_of_round(course: Course, at: int, number: int) -> int | None:
    """The first step of a round of the loop around; None when it is not there, or folded."""
    loop = loop_of(course, at)
    if loop is None:
        return None
    steps = course.children.get(loop, [])
    place = bisect_left(steps, number, key=lambda step: course.lines[step].round)
    return steps[place] if place < len(steps) and course.lines[steps[place]].round == number else None


def change_of(course: Course, at: int, name: str, by: int) -> int:
    """The next or the last step of the scene that changes a variable."""
    scene = course.scene_of[at]

    def wanted(line: Line) -> bool:
        return course.scene_of[line.number - 1] == scene and any(now.name == name for _, now in line.changed)

    return course.first(at, by, wanted)


def next_condition(course: Course, at: int, by: int) -> int:
    """The next or the last step that raised a condition."""
    return course.first(at, by, lambda line: line.step.condition is not None)


def next_said(course: Course, at: int, text: str, by: int) -> int:
    """The next or the last step with a text in its statement, or in what it assigned (`name = value`)."""
    wanted = " ".join(text.lower().split())
    return course.first(at, by, lambda line: wanted in _said(line))


def next_fold(course: Course, at: int, by: int, scene: int | None) -> int | None:
    """The next or the last step from here in front of which rounds are folded, of this scene if one is given."""
    folds = [f for f in course.folds if scene is None or course.scene_of[course.parents[f]] == scene]
    place = bisect_right(folds, at)
    if by > 0:
        return folds[place] if place < len(folds) else None
    return folds[place - 1] if place else None


def rounds_span(course: Course, loop: int, first: int, last: int) -> tuple[int, int]:
    """The steps of a loop from one round to another, what is within them included: the first, and that behind."""
    steps = course.children.get(loop, [])
    low = bisect_left(steps, first, key=lambda step: course.lines[step].round)
    high = bisect_right(steps, last, key=lambda step: course.lines[step].round)
    end = steps[high] if high < len(steps) else behind(course, loop)
    return (steps[low] if low < len(steps) else end), end


def child_of(course: Course, loop: int, at: int) -> int:
    """The step right within a loop in which another one stands."""
    while course.parents[at] != loop:
        at = course.parents[at]
    return at


def before_in_loop(course: Course, at: int) -> int:
    """The step before one right within the same loop; the loop where it is the first."""
    loop = course.parents[at] if at < len(course) else -1
    steps = course.children[loop]
    place = bisect_left(steps, at)
    return steps[place - 1] if place else loop


def behind(course: Course, at: int) -> int:
    """The step behind all that is within one."""
    following = course.over(at, 1)
    return following if following != at else len(course)


def address(course: Course, at: int) -> list[tuple[int, int]]:
    """Where a step is, whatever is folded: its round and number in the round, below those of the steps around."""
    found = []
    while at >= 0:
        steps, number = course.children[course.parents[at]], course.lines[at].round
        first = bisect_left(steps, number, key=lambda step: course.lines[step].round)
        found.append((number, steps.index(at, first) - first))
        at = course.parents[at]
    return found[::-1]


def at_address(course: Course, address: list[tuple[int, int]]) -> int:
    """The step there, or the last one around it that is not folded."""
    at = -1
    for number, place in address:
        steps = course.children.get(at, [])
        first = bisect_left(steps, number, key=lambda step: course.lines[step].round)
        if first + place >= len(steps) or course.lines[steps[first]].round != number:
            break
        at = steps[first + place]
    return course.near(at)


def _said(line: Line) -> str:
    values = "; ".join(f"{now.name} = {literal_of(now.value, now.type)}" for _, now in line.changed)
    return f"{' '.join(head_of(line.text, line.kind).split())}; {values}".lower()
