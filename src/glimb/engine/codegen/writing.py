"""What writing the statements of one function knows and keeps: loops, handlers, what has been proven."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.builder import Function
from glimb.engine.codegen.expressions import ExpressionWriter
from glimb.engine.outcomes.coverage import Later, Point
from glimb.engine.outcomes.events import StatementInfo
from glimb.lang.node import Record


class NoArm(R.Stmt):
    """The missing ELSE of a CASE statement."""


class Frame:
    """A Python loop being written: a loop of SQL, or a block that LEAVE leaves; or a function within, which
    `return` leaves. `pending` are jumps past it; `returns` is whether a RETURN has been written into such a function,
    of its own or of a handler around it."""

    __slots__ = ("leave", "local", "pending", "returns")

    def __init__(self, local: str, leave: str = "break") -> None:
        self.local = local
        self.leave = leave
        self.pending: dict[tuple[str, str], None] = {}
        self.returns = False


class Action(Record):
    """A function within the routine's, such as that of a handler's action: its name, and the frame in which it has been
    written. The jumps past it are made behind it; a RETURN is given back in a tuple."""

    name: str
    frame: Frame


class Handled(Record):
    """What the handler around handles: the locals that hold the condition, and the name of the statement."""

    condition: str
    command: str


Writers = Mapping[type, tuple[Callable[["StatementWriter", Any], None], bool]]
"""What writes each kind of statement, and whether what it raises goes to the handlers in reach."""


class StatementWriter(ExpressionWriter):
    """Writes statements into the function of a routine, or of a statement outside one."""

    def __init__(self, writers: Writers, function: Function, recording: bool) -> None:
        super().__init__(function, False)
        self.writers = writers
        self.recording = recording
        self.result = "none"
        self.frames: list[Frame] = []
        self.protections: list[R.BlockStmt] = []
        self.flags: dict[str, None] = {}
        """Jumps across several frames that have been written into the function."""
        self.handling: list[Handled] = []
        self.actions: dict[int, Action] = {}
        """Functions of handlers, by the identity of the handler."""
        self.in_action = False
        self.diagnoses: bool | None = None
        """Whether somebody looks at conditions of completion; known from the first statement."""
        self.reach: dict[str, str] = {}
        """The locals of the variables in sight, by name, for a recorded form."""
        self.reaches: dict[int, dict[str, str]] = {}
        """The same of the blocks around, by their identity: what their handlers can see."""
        self.shown: dict[str, str] = {}
        """How a recorded form names locals that are no variables: the columns of a trigger's rows."""
        self.follows = self.starts_round = False
        """Of the statement that is recorded next: whether its marker is certain, and whether it tells of a round."""
        self.latest: StatementInfo | None = None
        self.later: Later = {}
        """For the covered form: the points of statements that are counted together with one before them."""
        self.with_rounds: list[tuple[Point, int]] | None = None
        """What is counted with the rounds of the loop whose body is written next."""
        self.commands: bool | None = None
        """Whether the local `command` holds what the statement before was; known from the first statement."""
        self.out: tuple[str, ...] = ()
        self.bounds: dict[str, int] = {}
        self.marks: dict[int, str] = {}
        """Of the ATOMIC blocks around, by depth: the local that holds the place in the log where it began."""
        self.line = function.line
