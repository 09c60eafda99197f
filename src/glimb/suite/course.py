"""The course of a rung that is climbed: its steps in order, each in the source that it stands in, and ways through it.

In: the lines of `climbing`. A *scene* is what one looks at at a time: one call of a routine or trigger, one dynamic
statement, or the block that the rung itself is. Steps count from 0 here. Nothing is run.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

from glimb.engine.outcomes.events import Marker, StatementInfo
from glimb.engine.outcomes.steps import Variable
from glimb.engine.storage.changes import Change
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.lang.source import Source, Span
from glimb.suite.climbing import Line
from glimb.suite.ladder import Rung

Wanted = Callable[[Line], bool]
Key = tuple[int, tuple[str, ...]]
"""Tells statements of one text apart: where one begins, and what it assigns (DECLARE a, b are two)."""


MOST_DEPTH = 1_000_000


class Group(NamedTuple):
    """Variables that were declared together: each with its value before a step (None: it had none) and behind it."""

    title: str
    variables: list[tuple[Variable | None, Variable]]


class Scene:
    """See above. `first` and `last` are lines of its source, from 1; `entered` is the step that came in, None for the
    rung's own block; `steps` are those that stand in it, not in what they call."""

    def __init__(self, title: str, source: Source, span: Span, body: Node | None, entered: int | None) -> None:
        self.title = title
        self.source = source
        self.first, self.last = source.line(span.start), source.line(max(span.start, span.end - 1))
        self.body = body
        self.entered = entered
        self.steps: list[int] = []
        self.at_line: dict[int, list[int]] = {}
        """The steps that begin in each line."""
        self.ran: dict[int, int] | None = None
        self.changes: list[tuple[int, Change]] | None = None
        """Rows changed in it and in what it called, each with the step that told it first."""

    @property
    def lines(self) -> list[str]:
        """Its text, line by line."""
        return self.source.text.split("\n")[self.first - 1 : self.last]


class Course:
    """See above."""

    def __init__(self, rung: Rung, lines: list[Line], statement: tree.Statement | None) -> None:
        self.rung = rung
        self.lines = lines
        self.scenes: list[Scene] = []
        self.scene_of: list[int] = []
        self.parents: list[int] = []
        """The step around each: a loop, a call; -1 for none."""
        self.children: dict[int, list[int]] = {}
        self._read(statement)
        self.folds = sorted(self._folds())
        """The steps in front of which rounds are folded."""

    def _read(self, statement: tree.Statement | None) -> None:
        outside = -1
        around: list[tuple[int, int]] = []  # steps around, with their scenes
        for at, line in enumerate(self.lines):
            while around and self.lines[around[-1][0]].depth >= line.depth:
                around.pop()
            frame = line.step.frame
            if frame is not None:
                scene = self._scene(Scene(frame.name, frame.source, frame.span, frame.body, at))
            elif around:
                scene = around[-1][1]
            else:
                if outside < 0:
                    assert line.source is not None
                    span = statement.span if statement is not None else line.span
                    outside = self._scene(Scene(f"rung {self.rung.number}", line.source, span, statement, None))
                scene = outside
            self.parents.append(around[-1][0] if around else -1)
            self.children.setdefault(self.parents[-1], []).append(at)
            self.scene_of.append(scene)
            self.scenes[scene].steps.append(at)
            self.scenes[scene].at_line.setdefault(line.line, []).append(at)
            around.append((at, scene))

    def _folds(self) -> Iterator[int]:
        for at, line in enumerate(self.lines):
            steps = self.children.get(at, [])
            for gap in line.step.gaps:
                place = bisect_left(steps, gap.round, key=lambda step: self.lines[step].round)
                if place < len(steps):
                    yield steps[place]

    def _scene(self, scene: Scene) -> int:
        self.scenes.append(scene)
        return len(self.scenes) - 1

    def __len__(self) -> int:
        return len(self.lines)

    def scene(self, at: int) -> Scene:
        return self.scenes[self.scene_of[at]]

    def path(self, at: int) -> list[Scene]:
        """The scene of a step behind those that it was come from, the outermost first."""
        line = self.lines[at]
        callers = [self.scene(c.number - 1) for c in reversed(line.callers)]
        return list(dict.fromkeys([*callers, self.scene(at)]))

    # -- what the lines of a scene have done

    def ran(self, scene: Scene) -> dict[int, int]:
        """How often each line of a scene ran in it, rounds that are folded included: of several statements in a line
        the one that ran most. Lines in which a statement begins that never ran have 0."""
        if scene.ran is None:
            scene.ran = self._counted(scene)
        return scene.ran

    def _counted(self, scene: Scene) -> dict[int, int]:
        counts: Counter[Key] = Counter()
        for at in scene.steps:
            step = self.lines[at].step
            if step.info is not None and step.info.name != "row":
                counts[_key(step.info)] += 1
            for gap in step.gaps:
                counts.update(_folded(gap.counts, scene))
        found = {scene.source.line(start): 0 for start in _starts(scene.body)}
        for (start, _), count in counts.items():
            number = scene.source.line(start)
            found[number] = max(found.get(number, 0), count)
        return found

    def idle(self, scene: Scene) -> set[int]:
        """The lines of the statements of a scene that never ran in it."""
        ran, source = self.ran(scene), scene.source
        idle: set[int] = set()
        for node in walk(scene.body) if scene.body is not None else ():
            if isinstance(node, tree.Statement) and not isinstance(node, tree.Block):
                first, last = source.line(node.span.start), source.line(max(node.span.start, node.span.end - 1))
                if not ran.get(first):
                    idle.update(range(first, last + 1))
        return idle

    def is_certain(self, scene: Scene) -> bool:
        """Whether these numbers are right: not where a routine calls itself within rounds that are folded."""
        return not any(
            not isinstance(marker, StatementInfo) and getattr(marker, "body", None) is scene.body
            for at in scene.steps
            for gap in self.lines[at].step.gaps
            for marker in gap.counts
        )

    def told_at(self, scene: Scene, number: int, at: int) -> list[Line]:
        """What a line did when it ran last before or at a step; where it has not run yet, when it will."""
        steps = scene.at_line.get(number, [])
        place = bisect_right(steps, at)
        near = steps[:place][-8:][::-1] if place else steps[:8]
        found: dict[Key, int] = {}
        for step in near:
            info = self.lines[step].step.info
            if info is not None:
                found.setdefault(_key(info), step)
        return [self.lines[step] for step in sorted(found.values())]

    # -- what there is at a step

    def variables(self, at: int) -> list[Group]:
        """The variables in sight at a step, by the block that declares them, the innermost last."""
        line, scene = self.lines[at], self.scene(at)
        before = line.before
        pairs = {name: (before.get(name), now) for name, now in {**before, **line.after}.items()}
        groups: list[Group] = []
        for title, names in reversed(list(_blocks(scene, line.span))):  # of one name, the innermost is in sight
            found = [pairs.pop(name) for name in names if name in pairs]
            groups += [Group(title, found)] if found else []
        frame = self.lines[scene.entered].step.frame if scene.entered is not None else None
        given = [pairs.pop(name) for name in (frame.variables if frame is not None else ()) if name in pairs]
        groups += [Group("rows of loops", list(pairs.values()))] if pairs else []
        groups += [Group("parameters" if "." not in given[0][1].name else "rows", given)] if given else []
        return groups[::-1]

    def changes(self, at: int) -> list[Change]:
        """The rows that were changed in the scene of a step up to it, what was called included."""
        scene = self.scene(at)
        if scene.changes is None:
            scene.changes = list(self._changes(scene))
        return [change for _, change in scene.changes[: bisect_right(scene.changes, at, key=lambda c: c[0])]]

    def _changes(self, scene: Scene) -> Iterator[tuple[int, Change]]:
        """A statement tells all that it has changed: what was called by it does not tell that again."""
        first = scene.steps[0]
        depth = self.lines[first].depth if scene.entered is not None else -1
        told = MOST_DEPTH
        for at in range(first, len(self.lines)):
            line = self.lines[at]
            if at > first and line.depth <= depth:
                return
            if line.depth > told:
                continue
            told = line.depth if line.step.changes else MOST_DEPTH
            yield from ((at, change) for change in line.step.changes)

    # -- ways

    def near(self, at: int) -> int:
        """The step that there is, nearest to one."""
        return max(0, min(len(self.lines) - 1, at))

    def over(self, at: int, by: int) -> int:
        """The next or the last step that is not within this one."""
        depth = self.lines[at].depth
        return self.first(at, by, lambda line: line.depth <= depth)

    def out(self, at: int) -> int:
        """The step that called what this one stands in."""
        entered = self.scene(at).entered
        if entered is None or not self.lines[entered].callers:
            return at
        return self.lines[entered].callers[0].number - 1

    def into(self, at: int) -> int:
        """The first step within this one."""
        following = at + 1
        return following if following < len(self) and self.lines[following].depth > self.lines[at].depth else at

    def first(self, at: int, by: int, wanted: Wanted) -> int:
        """The next or the last step that is wanted; the same one where there is none."""
        order: Iterable[int] = range(at + 1, len(self)) if by > 0 else range(at - 1, -1, -1)
        return next((number for number in order if wanted(self.lines[number])), at)


def _key(info: StatementInfo) -> Key:
    return info.span.start, info.variables


def _folded(counts: Counter[Marker], scene: Scene) -> dict[Key, int]:
    """How often the statements of a scene ran in rounds that were folded."""
    found: Counter[Key] = Counter()
    first, end = (scene.body.span.start, scene.body.span.end) if scene.body is not None else (0, 0)
    for marker, count in counts.items():
        info = marker if isinstance(marker, StatementInfo) else None
        while info is not None and info.source is scene.source and first <= info.span.start < end:
            found[_key(info)] += count
            info = info.following
    return found


def _starts(body: Node | None) -> Iterator[int]:
    """Where the statements of a body begin; blocks do nothing themselves."""
    if body is not None:
        for node in walk(body):
            if isinstance(node, tree.Statement) and not isinstance(node, tree.Block):
                yield node.span.start


def _blocks(scene: Scene, span: Span) -> Iterator[tuple[str, list[str]]]:
    """The blocks and FOR loops around a place, with the names that they declare (of a FOR: none that the text has)."""
    if scene.body is None:
        return
    for node in walk(scene.body):
        if isinstance(node, tree.Block) and node.span.start <= span.start and span.end <= node.span.end:
            names = [name for d in node.declarations if isinstance(d, tree.DeclareVariable) for name in d.names]
            title = f"block {node.label}" if node.label else f"block of line {scene.source.line(node.span.start)}"
            yield title, names
