"""Statements as Python: blocks, control, handlers, changes, calls. One line of Python or a few for each statement.

Behind every statement in the reach of a CONTINUE handler, its `except` finds the handler that takes what was raised; an
EXIT handler is looked for once, behind its block. An action that only sets a constant is written in place; any other is
a function inside the routine's, written once, so that only the variables that it assigns are no plain locals. LEAVE and
ITERATE across several loops set a flag that each loop on the way looks at when it has ended.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.engine.codegen.builder import Function
from glimb.engine.codegen.changes import write_delete, write_insert, write_merge, write_update
from glimb.engine.codegen.command_names import asks_for_commands, command_of
from glimb.engine.codegen.cursors import CursorWriter
from glimb.engine.codegen.expressions import SMALL
from glimb.engine.codegen.queries import with_whole_row
from glimb.engine.outcomes.events import END, HANDLED, ROUND, LoopFold, StatementInfo
from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.runtime.cursors import CursorKind
from glimb.engine.runtime.handlers import Chain, find_handler
from glimb.engine.values.command_codes import ITEMS as COMMAND_ITEMS
from glimb.engine.values.conditions import Condition
from glimb.lang import tree
from glimb.lang.node import Record, walk


class Frame:
    """A Python loop being written: a loop of SQL, or a block that LEAVE leaves; or the function of a handler, which
    `return` leaves. `pending` are jumps past it."""

    __slots__ = ("leave", "local", "pending")

    def __init__(self, local: str, leave: str = "break") -> None:
        self.local = local
        self.leave = leave
        self.pending: dict[tuple[str, str], None] = {}


class Action(Record):
    """The function of a handler's action: its name, the jumps that it wants to be made behind it, and whether it may
    hold a RETURN, which it gives back in a tuple."""

    name: str
    pending: dict[tuple[str, str], None]
    returns: bool


class Handled(Record):
    """What the handler around handles: the locals that hold the condition, and the name of the statement."""

    condition: str
    command: str


class StatementWriter(CursorWriter):
    """Writes statements into the function of a routine, or of a statement outside one."""

    def __init__(self, function: Function, recording: bool, result: str = "none") -> None:
        super().__init__(function, False)
        self.recording = recording
        self.result = result
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
        self.follows = self.starts_round = False
        """Of the statement that is recorded next: whether its marker is certain, and whether it tells of a round."""
        self.latest: StatementInfo | None = None
        self.commands: bool | None = None
        """Whether the local `command` holds what the statement before was; known from the first statement."""
        self.out: tuple[str, ...] = ()
        self.bounds: dict[str, int] = {}
        self.marks: dict[int, str] = {}
        """Of the ATOMIC blocks around, by depth: the local that holds the place in the log where it began."""
        self.line = function.line

    # -- what surrounds a statement

    def statements(self, nodes: tuple[R.Stmt, ...]) -> None:
        before: R.Stmt | None = None
        for node in nodes:
            self.follows = before is not None and self._is_certain(before) and self._is_certain(node)
            self.statement(node)
            before = node

    def _is_certain(self, node: R.Stmt) -> bool:
        """Whether a recorded assignment needs no marker behind another one: nothing comes between the two."""
        if not self.recording or not isinstance(node, R.SetStmt):
            return False
        if any(h.kind == "continue" for b in self.protections for h in b.handlers):
            return False
        return not any(isinstance(n, R.Query | R.RoutineCall) for n in walk(node.values))

    def statement(self, node: R.Stmt) -> None:
        with self.function.placed(node.span):
            self._tell_command(node)
            if self.diagnoses is None:
                self.diagnoses = self.unit.warns = looks_at_completion(node)
            handler, is_simple = _WRITERS[type(node)]
            if is_simple:
                if self.diagnoses and not isinstance(node, R.DiagnosticsStmt):
                    self.line("s.diagnostics.areas.pop(d, None)")
                with self.protected(node):
                    handler(self, node)
                    if self.diagnoses and self.handles_warnings() and not isinstance(node, R.SignalStmt):
                        self.line("if d in s.diagnostics.areas: s.diagnostics.raise_warning(d)")
            else:
                handler(self, node)

    def _tell_command(self, node: R.Stmt) -> None:
        """Keep the name of the statement where GET DIAGNOSTICS asks for it."""
        if self.commands is None:
            self.commands = asks_for_commands(node)
            if self.commands:
                self.function.hoist("command = ''")
        command = command_of(node) if self.commands else ""
        if command:
            self.line(f"command = {command!r}")

    @contextmanager
    def protected(self, node: R.Stmt | None) -> Iterator[None]:
        """Write the body inside `try` when a CONTINUE handler may take what it raises."""
        continuing = [b for b in self.protections if any(h.kind == "continue" for h in b.handlers)]
        if not continuing or (isinstance(node, R.SetStmt) and all(isinstance(v, R.Const) for v in node.values)):
            yield
            return
        with self.function.indented("try:"):
            yield
        error, condition, number = (self.function.temp(n) for n in ("error", "condition", "handler"))
        with self.function.indented(f"except CAUGHT as {error}:"):
            self.line(f"{condition} = caught({error})")
            self.line(f"{number} = find_handler({condition}, {self._chain(self.protections)})")
            word = "if"
            for block in reversed(continuing):
                for handler in block.handlers:
                    if handler.kind == "continue":
                        with self.function.indented(f"{word} {number} == {handler.number}:"):
                            self._action(handler, block, condition)
                        word = "elif"
            self.line("else: raise")

    def _chain(self, blocks: list[R.BlockStmt]) -> str:
        return self.unit.constant(self._chain_of(blocks), "HANDLERS")

    @staticmethod
    def _chain_of(blocks: list[R.BlockStmt]) -> Chain:
        return tuple((b.depth, tuple((h.number, h.states) for h in b.handlers)) for b in reversed(blocks) if b.handlers)

    def _action(self, handler: R.Handler, block: R.BlockStmt, condition: str) -> None:
        """Do what a handler does, in place or by its function; behind it the condition is there to be looked at."""
        action = self.actions.get(id(handler))
        if action is None:
            self._write_action(handler, block, condition)
        else:
            call = f"{action.name}({', '.join([*self._action_parameters(), condition])})"
            if action.returns:
                done = self.function.temp("done")
                self.line(f"if ({done} := {call}) is not None: return {done if self.in_action else f'{done}[0]'}")
            else:
                self.line(call)
            frame = Frame("")
            frame.pending.update(action.pending)
            self._after_loop(frame)
        if self.diagnoses and handler.kind == "continue":
            self.line(f"s.diagnostics.areas[d] = [{condition}]")

    def _action_parameters(self) -> list[str]:
        """What every function of a handler is given: what it would otherwise have to take from the routine's locals."""
        return ["s", "d", *(("trace", "E") if self.recording else ())]

    def _is_written_once(self, handler: R.Handler, block: R.BlockStmt) -> bool:
        """Whether an action is more than a constant, and may be wanted at several places."""
        if isinstance(handler.action, R.SetStmt) and all(isinstance(v, R.Const) for v in handler.action.values):
            return False
        return handler.kind == "continue" or any(isinstance(n, R.SignalStmt) for n in walk(block.body))

    def _action_function(self, handler: R.Handler, block: R.BlockStmt) -> None:
        """Write the function of a handler, in front of the block whose statements want it."""
        name, condition = self.function.temp("handle"), self.function.temp("condition")
        kept = self.frames, self.bounds, self.not_null, self.in_action
        frame, flags = Frame("", "return"), self.flags
        self.frames, self.bounds, self.not_null, self.in_action, self.flags = [frame], {}, set(), True, {}
        with self.function.indented(f"def {name}({', '.join([*self._action_parameters(), condition])}):"):
            place = self.function.placeholder()
            self._write_action(handler, block, condition)
        self.frames, self.bounds, self.not_null, self.in_action = kept
        # Conditions in the action are handled by the blocks around, whose short actions are written into it.
        around = [h.action for b in self.protections if b.depth < block.depth for h in b.handlers]
        names = sorted(set[str]().union(*(_assigned(a) - _declared(a) for a in (handler.action, *around))))
        names += [*self.flags, *(["command"] if self.commands else [])]
        self.flags = {**flags, **self.flags}
        self.function.fill(place, f"nonlocal {', '.join(names)}" if names else "")
        returns = any(isinstance(n, R.ReturnStmt) for n in walk(handler.action))
        self.actions[id(handler)] = Action(name, frame.pending, returns)

    def _write_action(self, handler: R.Handler, block: R.BlockStmt, condition: str) -> None:
        """The statement of a handler, in whose reach are only the blocks around its own."""
        if self.diagnoses:
            self.line(f"s.diagnostics.areas[d] = [{condition}, *s.diagnostics.areas.get(d, ())]")
        if self.recording:
            self.line(f"E(HANDLED); E(d); E({condition})")
        if handler.kind == "undo":
            self.line(f"s.undo_to({self.marks[block.depth]})")
        protections, self.protections = self.protections, [b for b in self.protections if b.depth < block.depth]
        command = "''"
        if self.commands:
            command = self.function.temp("command")
            self.line(f"{command} = command")
        self.handling.append(Handled(condition, command))
        simple = isinstance(handler.action, R.SetStmt) and all(isinstance(v, R.Const) for v in handler.action.values)
        if simple:
            self.statement(handler.action)
        else:
            error = self.function.temp("error")
            with self.function.indented("try:"):
                self.statement(handler.action)
            with self.function.indented(f"except CAUGHT as {error}:"):
                self.line(f"raise escaped({error}, {block.depth}) from None")
        self.handling.pop()
        self.protections = protections

    def handles_completion(self, sqlstate: str) -> bool:
        """Whether some handler in reach takes a completion condition (no data, a warning) of this state."""
        words = {sqlstate, "02" if sqlstate[:2] == "02" else "warning"}
        return any(words & set(h.states) for b in self.protections for h in b.handlers)

    def handles_warnings(self) -> bool:
        """Whether some handler in reach takes warnings, all or some."""
        return any(s == "warning" or s[:2] == "01" for b in self.protections for h in b.handlers for s in h.states)

    def no_data(self, message: str) -> None:
        """The condition 02000: raised for a handler that waits for it, otherwise only noted."""
        text = self.unit.constant(message, "K")
        if self.handles_completion("02000"):
            self.line(f"raise Condition('02000', {text})")
        elif self.diagnoses:
            self.line(f"s.diagnostics.warn(d, '02000', {text})")
        else:
            self.line("pass")

    # -- recording

    def record(
        self, name: str, node: R.Stmt | R.Node, targets: tuple[R.Target, ...] = (), is_change: bool = False
    ) -> None:
        """Say, in a recorded form, that a statement starts."""
        if self.recording:
            info = StatementInfo(
                name,
                self.unit.source,
                node.span,
                tuple(t.name for t in targets),
                tuple(t.type for t in targets),
                is_change,
            )
            info.starts_round, self.starts_round = self.starts_round, False
            if self.follows and self.latest is not None:
                self.latest.following = info
            else:
                self.line(f"E({self.unit.constant(info, 'AT_')})")
            self.latest, self.follows = info, False

    def record_values(self, targets: tuple[R.Target, ...]) -> None:
        if self.recording and targets:
            self.line("; ".join(f"E({t.local})" for t in targets))

    # -- variables

    def store(self, target: R.Target, value: R.Expr) -> None:
        """target = value, with the range check as a statement of its own, which costs nothing while it holds."""
        if not isinstance(value, R.Checked):
            self.bounds.pop(target.local, None)
            self.line(f"{target.local} = {self.value(value)}")
            self._know(target.local, not self.nullable(value))
            return
        unbounded = not self._cannot_overflow(value)
        self.bounds.pop(target.local, None)
        limit = min(value.type.limit - 1, SMALL)
        call = f"check_{'integer' if value.type.is_integer else 'decimal'}"
        local = self.function.temp() if self._has_handlers() and unbounded else target.local
        self.line(f"{local} = {self.value(value.operand)}")
        known = f"{local} is not None and " if self.nullable(value.operand) else ""
        if unbounded:
            far = value.type.limit - 1
            wide = f" and not -{far} <= {local} <= {far}" if far > limit else ""
            self.line(f"if {known}not -{limit} <= {local} <= {limit}{wide}: {call}({local}, {self.type(value.type)})")
        if local != target.local:
            self.line(f"{target.local} = {local}")
        self._know(target.local, not self.nullable(value))

    def _know(self, local: str, not_null: bool) -> None:
        """Remember what is known of a variable from here on; in the reach of handlers nothing is."""
        if not not_null or self._has_handlers():
            self.not_null.discard(local)

    def set_statement(self, node: R.SetStmt) -> None:
        self.record("set", node, node.targets)
        if len(node.targets) == 1:
            self.store(node.targets[0], node.values[0])
        else:
            names = ", ".join(t.local for t in node.targets)
            self.line(f"{names} = {', '.join(self.value(v) for v in node.values)}")
        self.record_values(node.targets)

    def unpack(self, receives: tuple[R.Receive, ...], row: str) -> None:
        """Take a row apart and store its parts."""
        self.line(f"{', '.join(r.temp for r in receives)}, = {row}")
        for receive in receives:
            self.unpack_one(receive)

    def unpack_one(self, receive: R.Receive) -> None:
        """Store what has arrived."""
        if receive.target is not None:
            self.store(receive.target, receive.value)

    def select_into(self, node: R.SelectIntoStmt) -> None:
        targets = tuple(r.target for r in node.receives if r.target is not None)
        self.record("set" if node.optional else "select into", node, targets)
        self.begin(node.query)
        rows = self.function.temp("rows")
        self.line(f"{rows} = {self.rows(node.query)}")
        self.line(f"if len({rows}) > 1: same_row_error({rows})")
        if not node.optional:
            self.line(f"s.diagnostics.row_count = len({rows})")
        with self.function.indented(f"if {rows}:"):
            self.unpack(node.receives, f"{rows}[0]")
        with self.function.indented("else:"):
            if node.optional:
                self.line(f"{' = '.join(t.local for t in targets)} = None")
            else:
                self.no_data("SELECT INTO found no row")
        self.record_values(targets)

    def begin(self, query: R.Query) -> None:
        """A query that reads a table starts a transaction."""
        if any(isinstance(n, R.Scan) for n in walk(query)):
            self.line("if not s.active: s.begin()")

    def rows(self, query: R.Query) -> str:
        """Text of a call that gives the rows of a query."""
        return self.query_call(query, "rows", query.span)

    # -- changes

    def insert(self, node: R.InsertStmt) -> None:
        self._change("insert", node, write_insert(self.unit, node))

    def update(self, node: R.UpdateStmt) -> None:
        self._change("update", node, write_update(self.unit, node))

    def delete(self, node: R.DeleteStmt) -> None:
        self._change("delete", node, write_delete(self.unit, node))

    def merge(self, node: R.MergeStmt) -> None:
        self._change("merge", node, write_merge(self.unit, node))

    def instead(self, node: R.InsteadStmt) -> None:
        """A change of a view: its triggers do it, row by row."""
        self.record(node.event, node, (), True)
        if self.recording:
            self.line("mark = len(s.log)")
        self.line("if not s.active: s.begin()")
        rows = self.rows(node.query)
        view = self.unit.constant(node.view, "VIEW")
        self.line(f"count = run_instead(s, d, {view}, {node.event!r}, {rows}, {node.width})")
        if self.recording:
            self.line("E(count); E(s.log[mark:])")

    def truncate(self, node: R.TruncateStmt) -> None:
        self.record("truncate", node)
        self.line(f"truncate(s, d, {self.unit.table(node.table)}, {node.restart})")

    def _change(self, verb: str, node: R.Stmt, written: tuple[str, list[R.Expr]]) -> None:
        name, free = written
        call = f"{name}(s, d{''.join(f', {self.value(e)}' for e in free)})"
        self.record(verb, node, (), True)
        if self.recording:
            self.line("mark = len(s.log)")
        self.line(f"count = {call}")
        if self.recording:
            self.line("E(count); E(s.log[mark:])")
        certain = isinstance(node, R.InsertStmt) and (node.query is None or isinstance(node.query.body, R.Rows))
        if not certain and (self.diagnoses or self.handles_completion("02000")):
            with self.function.indented("if not count:"):
                self.no_data(f"{verb.upper()} found no row")

    # -- calls

    def call(self, node: R.CallStmt) -> None:
        targets = tuple(r.target for r in node.receives if r is not None and r.target is not None)
        self.record("call", node, targets)
        routine = self.unit.constant(node.routine, "R")
        arguments = "".join(f", {self.value(a)}" for a in node.arguments)
        call = f"{routine}.{self.form}(s, d + 1{arguments})"
        returning = self.result != "out" and _may_return_rows(node.routine)
        if returning:
            mark = self.function.temp("mark")
            self.line(f"{mark} = len(s.cursors.returning)")
        if not node.receives:
            self.line(call)
            if returning:
                self._drop_results(mark)
            return
        temps = [r.temp if r is not None else self.function.temp("out") for r in node.receives]
        self.line(f"{', '.join(temps)}, = {call}")
        if returning:
            self._drop_results(mark)
        for receive in node.receives:
            if receive is not None:
                self.unpack_one(receive)
        if self.result == "out":
            self.out = tuple(temps)
        self.record_values(targets)

    def _drop_results(self, mark: str) -> None:
        """Result sets of a procedure that a routine has called: nobody takes them, but it is told that there were some
        (clause 13.4 of the standard's part 4)."""
        if self.diagnoses:
            self.line(f"if len(s.cursors.returning) > {mark}:")
            self.line("    s.diagnostics.warn(d, '0100C', 'the procedure has returned result sets')")
        self.line(f"del s.cursors.returning[{mark}:]")

    def note(self, node: R.NoteStmt) -> None:
        self.record("note", node)
        self.line(f"note(s, {self.value(node.value)})")

    # -- blocks

    def block(self, node: R.BlockStmt) -> None:
        if any(isinstance(n, R.LeaveStmt) and n.local == node.label for n in walk(node)) or (
            any(h.kind != "continue" for h in node.handlers)
            and any(isinstance(n, R.SignalStmt) for n in walk(node.body))
        ):
            self.frames.append(Frame(node.label))
            with self.function.indented("while True:"):
                self._block_body(node)
                self.line("break")
            self._after_loop(self.frames.pop())
        else:
            self._block_body(node)

    def _block_body(self, node: R.BlockStmt) -> None:
        for declare in node.declares:
            with self.function.placed(declare.span), self.protected(None):
                self.record("declare", declare, (declare.target,))
                self.store(declare.target, declare.value)
                self.record_values((declare.target,))
        for cursor in node.cursors:
            self.line(f"{cursor.local} = {self._new_cursor(cursor)}")
        if node.atomic:
            with self.atomic() as mark:
                self.marks[node.depth] = mark
                self._guarded_body(node)
        else:
            self._guarded_body(node)

    def _new_cursor(self, cursor: R.CursorDef) -> str:
        columns = tuple(ResultColumn(c.name, c.type) for c in cursor.query.columns) if cursor.query else ()
        kind = CursorKind(cursor.name, columns, cursor.hold, cursor.returns, cursor.table is not None)
        return f"Cursor({self.unit.constant(kind, 'CURSOR')})"

    @contextmanager
    def atomic(self) -> Iterator[str]:
        """An exception that leaves the body takes back what it has changed; a transaction may not end inside. Gives
        the local that holds the place in the log."""
        mark, level = self.function.temp("mark"), self.function.temp("level")
        self.line(f"{mark}, {level} = enter_atomic(s)")
        with self.function.indented("try:"):
            yield mark
        with self.function.indented("except BaseException:"):
            self.line(f"s.undo_to({mark})")
            self.line("raise")
        with self.function.indented("finally:"):
            self.line(f"leave_atomic(s, {level})")

    @contextmanager
    def savepoint_level(self) -> Iterator[None]:
        """NEW SAVEPOINT LEVEL (clause 11.60)."""
        level = self.function.temp("level")
        self.line(f"{level} = s.savepoints.open_level()")
        with self.function.indented("try:"):
            yield
        with self.function.indented("finally:"):
            self.line(f"s.savepoints.close_level({level})")

    @contextmanager
    def limited_access(self, access: int) -> Iterator[None]:
        """What dynamic SQL may do in a routine: no more than the routine."""
        self.line(f"access, s.dynamic.access = s.dynamic.access, {access}")
        with self.function.indented("try:"):
            yield
        with self.function.indented("finally:"):
            self.line("s.dynamic.access = access")

    def _guarded_body(self, node: R.BlockStmt) -> None:
        """The statements of a block, and behind them its EXIT handlers."""
        exits = [h for h in node.handlers if h.kind != "continue"]
        for handler in node.handlers:
            if self._is_written_once(handler, node):
                self._action_function(handler, node)
        self.protections.append(node)
        if not exits:
            self.statements(node.body)
            self.protections.pop()
            return
        with self.function.indented("try:"):
            self.statements(node.body)
        error, condition, number = (self.function.temp(n) for n in ("error", "condition", "handler"))
        with self.function.indented(f"except CAUGHT as {error}:"):
            self.line(f"{condition} = caught({error})")
            self.line(f"{number} = find_handler({condition}, {self._chain([node])})")
            word = "if"
            for handler in exits:
                with self.function.indented(f"{word} {number} == {handler.number}:"):
                    self._action(handler, node, condition)
                word = "elif"
            self.line("else: raise")
        self.protections.pop()

    # -- control

    def _condition_value(self, condition: R.Expr, fallback: str) -> str:
        """Text of a condition; inside the reach of a CONTINUE handler it is computed first, and counts as
        `fallback` when it raises, so that the statement ends."""
        continuing = any(h.kind == "continue" for b in self.protections for h in b.handlers)
        if not continuing or isinstance(condition, R.Const):
            return self.true(condition)
        test = self.function.temp("test")
        self.line(f"{test} = {fallback}")
        with self.protected(None):
            self.line(f"{test} = {self.true(condition)}")
        return test

    def if_statement(self, node: R.IfStmt) -> None:
        self.record("if", node)
        self._arms(node.arms, node.otherwise)

    def _arms(self, arms: tuple[tuple[R.Expr, tuple[R.Stmt, ...]], ...], otherwise: tuple[R.Stmt, ...]) -> None:
        continuing = any(h.kind == "continue" for b in self.protections for h in b.handlers)
        if continuing:
            self._nested_arms(arms, otherwise)
            return
        word = "if"
        for condition, body in arms:
            with self.function.indented(f"{word} {self.true(condition)}:"):
                outer = self.not_null
                self.not_null = outer | (set() if self._has_handlers() else proven(condition))
                self.statements(body)
                self.not_null = outer & self.not_null
            word = "elif"
        if otherwise:
            with self.function.indented("else:"):
                self.statements(otherwise)

    def _nested_arms(self, arms: tuple[tuple[R.Expr, tuple[R.Stmt, ...]], ...], otherwise: tuple[R.Stmt, ...]) -> None:
        """Arms whose conditions may be interrupted by a handler: which arm to take is found first."""
        arm = self.function.temp("arm")
        self.line(f"{arm} = -1")
        with self.protected(None):
            choice = str(len(arms))
            for number in range(len(arms) - 1, -1, -1):
                choice = f"({number} if {self.true(arms[number][0])} else {choice})"
            self.line(f"{arm} = {choice}")
        word = "if"
        for number, (_, body) in enumerate([*arms, (None, otherwise)]):
            with self.function.indented(f"{word} {arm} == {number}:"):
                self.statements(body)
            word = "elif"

    def case_statement(self, node: R.CaseStmt) -> None:
        self.record("case", node)
        if node.operand is not None:
            self.line(f"{node.local} = None")
            with self.protected(None):
                self.line(f"{node.local} = {self.value(node.operand)}")
        missing: tuple[R.Stmt, ...] = (NoArm(span=node.span),) if node.otherwise is None else node.otherwise
        self._arms(node.arms, missing)

    def no_arm(self, node: NoArm) -> None:
        self.line("case_not_found()")

    def loop(self, node: R.LoopStmt) -> None:
        word = "while" if node.before is not None else "repeat" if node.after is not None else "loop"
        self.record(word, node)
        numbered = self.recording or node.after is not None
        rounds = "range(s.budget.rounds)" if numbered else "repeat(None, s.budget.rounds)"
        bounds = self.bounds
        self.bounds = self._bounds_inside(node)
        told = bool(node.body) and self._is_certain(node.body[0])
        with self._rounds(node.local, rounds, "", node.before, node.after, told):
            self.statements(node.body)
        assigned = _assigned(node)
        self.bounds = {local: bound for local, bound in bounds.items() if local not in assigned}

    def _bounds_inside(self, node: R.LoopStmt) -> dict[str, int]:
        """Variables whose values are bounded from above in the body of a loop, by its condition: until they are
        assigned, an addition to them cannot overflow."""
        assigned = _assigned(node)
        bounds = {local: bound for local, bound in self.bounds.items() if local not in assigned}
        test = node.before
        if isinstance(test, R.Compare) and test.sign in ("<", "<=") and isinstance(test.left, R.Variable):
            if isinstance(test.right, R.Const) and isinstance(test.right.value, int) and not self._has_handlers():
                bounds[test.left.local] = test.right.value
        return bounds

    def _has_handlers(self) -> bool:
        return any(b.handlers for b in self.protections)

    def _cannot_overflow(self, value: R.Checked) -> bool:
        """variable + constant, of a variable that is bounded."""
        sum_ = value.operand
        if not isinstance(sum_, R.Arith) or sum_.sign != "+" or not value.type.is_integer:
            return False
        a, b = sum_.left, sum_.right
        if (
            not isinstance(a, R.Variable)
            or not isinstance(b, R.Const)
            or a.local not in self.bounds
            or a.type != value.type
        ):
            return False
        return bool(b.value >= 0 and self.bounds[a.local] + b.value < value.type.limit)

    @contextmanager
    def _rounds(
        self,
        local: str,
        iterable: str,
        unpack: str,
        before: R.Expr | None = None,
        after: R.Expr | None = None,
        told: bool = True,
    ) -> Iterator[None]:
        """A Python loop around the body, counted, stoppable and folded when it is recorded; `told` says that the first
        statement of the body tells of every round. UNTIL is tested at the start of the next round, so that ITERATE
        comes by it too."""
        number = self.function.temp("round")
        limit, fold = self.function.temp("limit"), self.function.temp("fold")
        if self.recording:
            self.line(f"{fold} = LoopFold(); {limit} = len(trace) + 3000")
        self.frames.append(Frame(local))
        self.not_null = set()
        header = f"for {number} in {iterable}:" if not unpack else f"for {number}, {unpack} in enumerate({iterable}):"
        with self.function.indented(header):
            self.line("if s.stop: s.check()")
            if before is not None:
                self.line(f"if not {self._condition_value(before, 'False')}: break")
            if after is not None:
                with self.function.indented(f"if {number}:"):
                    self.line(f"if {self._condition_value(after, 'True')}: break")
            if self.recording:
                self.line(f"if len(trace) > {limit}: {limit} = {fold}(trace, {number} + 1)")
                if told:
                    self.starts_round = True
                else:
                    self.line("E(ROUND)")
            yield
        if not unpack:
            self.line("else: s.budget.too_long()")
        self.not_null = set()
        frame = self.frames.pop()
        if self.recording:
            self.line("E(END)")
        self._after_loop(frame)

    def for_statement(self, node: R.ForStmt) -> None:
        self.record("for", node)
        rows = self.function.temp("rows")
        self.line(f"{rows} = ()")
        cursor = node.cursor if node.cursor is not None and node.cursor.table is not None else None
        if cursor is not None:
            self.line(f"{cursor.local} = {self._new_cursor(cursor)}")
        with self.protected(None):
            self.begin(node.query)
            self.line(f"{rows} = {self.rows(with_whole_row(node.query) if cursor is not None else node.query)}")
            if cursor is not None:
                self.line(f"{cursor.local}.open(s, {rows})")
        names = ", ".join(t.local for t in node.targets) + (", _" if cursor is not None else "")
        with self._rounds(node.local, rows, f"({names},)"):
            if cursor is not None:
                self.line(f"{cursor.local}.below = {cursor.local}.above = {cursor.local}.below + 1")
            if self.recording:
                self.record("row", node, node.targets)
                self.record_values(node.targets)
            self.statements(node.body)

    def leave(self, node: R.LeaveStmt) -> None:
        self.record("leave", node)
        self._jump(node.local, "leave")

    def iterate(self, node: R.IterateStmt) -> None:
        self.record("iterate", node)
        self._jump(node.local, "iterate")

    def _jump(self, local: str, kind: str) -> None:
        """Leave or repeat the frame `local`: at once when it is the innermost, otherwise by a flag."""
        if self.frames[-1].local == local:
            self.line("break" if kind == "leave" else "continue")
            return
        flag = f"{kind}_{local}"
        for frame in reversed(self.frames):
            if frame.local == local:
                break
            frame.pending[kind, local] = None
        self.flags[flag] = None
        self.function.hoist(f"{flag} = False")
        self.line(f"{flag} = True")
        self.line(self.frames[-1].leave)

    def _after_loop(self, frame: Frame) -> None:
        """Go on with jumps that go past the loop that has just ended."""
        for kind, local in frame.pending:
            self.flags[f"{kind}_{local}"] = None
            with self.function.indented(f"if {kind}_{local}:"):
                if self.frames[-1].local == local:
                    self.line(f"{kind}_{local} = False")
                    self.line("break" if kind == "leave" else "continue")
                else:
                    self.frames[-1].pending[kind, local] = None
                    self.line(self.frames[-1].leave)

    def return_statement(self, node: R.ReturnStmt) -> None:
        self.record("return", node)
        if node.query is not None:
            self.begin(node.query)
            result = self.rows(node.query)
        elif node.value is not None:
            if any(isinstance(n, R.Scan) for n in walk(node.value)):
                self.line("if not s.active: s.begin()")
            result = self.value(node.value)
        else:
            result = self.out_values()
        if self.recording:
            self.line(f"result = {result}")
            result = "result"
            self.line("E(END)")
        self.line(f"return ({result},)" if self.in_action else f"return {result}")

    def out_values(self) -> str:
        """What a procedure gives back: the values of its OUT and INOUT parameters."""
        return f"({', '.join(self.out)},)" if self.out else "None"

    # -- settings and table locks

    def setting(self, node: R.SettingStmt) -> None:
        self.record("set", node)
        expression = isinstance(node.value, R.Expr)
        value = self.value(node.value) if expression else self.unit.constant(node.value, "K")
        self.line(f"set_{node.setting}(s, {value})")

    def lock_tables(self, node: R.LockStmt) -> None:
        self.record("lock table", node)
        for table in node.tables:
            self.line(f"s.claims.lock_table({self.unit.table(table)}, {node.mode!r}, {node.wait})")

    # -- conditions

    def signal(self, node: R.SignalStmt) -> None:
        self.record("resignal" if node.again else "signal", node)
        items = ", ".join(f"{self.unit.constant(n, 'K')}: {self.value(v)}" for n, v in node.items)
        name = self.unit.constant(node.condition, "K")
        if node.again:
            handled = self.handling[-1].condition if self.handling else "None"
            again = self.function.temp("again")
            self.line(f"{again} = resignal({handled}, {node.sqlstate!r}, {name}, {{{items}}})")
            chain = self._chain(self.protections)
            self.line(f"if is_exception({again}.sqlstate) or find_handler({again}, {chain}): raise {again}")
            self.line(f"s.diagnostics.note(d, {again})")
            return
        raised = f"signal(s, {self.unit.constant(node.sqlstate, 'STATE')}, {name}, {{{items}}})"
        if self._jump_to_handler(node, raised):
            return
        if node.sqlstate[:2] in ("01", "02") and not self.handles_completion(node.sqlstate):
            self.line(f"s.diagnostics.note(d, {raised})")
        else:
            self.line(f"raise {raised}")

    def _jump_to_handler(self, node: R.SignalStmt, raised: str) -> bool:
        """SIGNAL in the reach of a handler of its own routine: what is raised, and who takes it, is known here, so
        the action is written in place, and for EXIT a jump behind the block. Says whether that could be done."""
        condition = Condition(node.sqlstate, "", {"condition_identifier": node.condition})
        chain = self._chain_of(self.protections)
        number = find_handler(condition, chain)
        block, handler = next(
            ((b, h) for b in self.protections for h in b.handlers if h.number == number), (None, None)
        )
        if block is None or handler is None or self._leaves_atomic(block):
            return False
        told = self.function.temp("condition")
        if node.items or self.recording or self.diagnoses or id(handler) in self.actions:
            self.line(f"{told} = {raised}")
        self._action(handler, block, told)
        if handler.kind != "continue":
            self._jump(block.label, "leave")
        return True

    def _leaves_atomic(self, block: R.BlockStmt) -> bool:
        """Whether leaving to a block passes an ATOMIC one, which must take its work back."""
        return any(b.atomic for b in self.protections if b.depth > block.depth)

    def get_diagnostics(self, node: R.DiagnosticsStmt) -> None:
        targets = tuple(r.target for r, _ in node.items if r.target is not None)
        self.record("get diagnostics", node, targets)
        area = (
            f"[{self.handling[-1].condition}]" if self.handling and node.stacked else "s.diagnostics.areas.get(d, ())"
        )
        command = self.handling[-1].command if self.handling and node.stacked else "command"
        if node.stacked and not self.handling:
            self.line("raise Condition('0Z002', 'GET STACKED DIAGNOSTICS needs a handler that is active')")
        number = self.value(node.condition) if node.condition is not None else "1"
        name = self.function.temp("area")
        self.line(f"{name} = chosen_condition({area}, {number})")
        if node.all is not None:
            self.line(f"{node.all.temp} = all_diagnostics(s, d, {name}, {command}, {node.part!r})")
            self.unpack_one(node.all)
        for receive, item in node.items:
            what = f"command_item(s, {command}" if item in COMMAND_ITEMS else f"diagnostics(s, d, {name}"
            self.line(f"{receive.temp} = {what}, {self.unit.constant(item, 'K')})")
            self.unpack_one(receive)
        self.record_values(targets)

    # -- transactions and schema

    def transaction(self, node: R.TransactionStmt) -> None:
        self.record(node.verb, node)
        name = self.unit.constant(node.name, "K")
        modes = self.unit.constant(node.modes, "MODES")
        self.line(
            {
                "start": f"start_transaction(s, {modes})",
                "set": f"set_transaction(s, {modes})",
                "set local": f"set_transaction(s, {modes})",
                "commit": f"commit(s, {node.chain})",
                "rollback": f"rollback(s, {node.chain})",
                "savepoint": f"s.savepoint({name})",
                "rollback to": f"s.rollback_to({name})",
                "release": f"s.release_savepoint({name})",
            }[node.verb]
        )

    def schema(self, node: R.SchemaStmt) -> None:
        self.record("schema", node)
        statement = self.unit.constant(node, "SCHEMA")
        self.line(f"s.shared.compiler.define(s, {statement}, {self.unit.constant(self.unit.source, 'SOURCE')})")


class NoArm(R.Stmt):
    """The missing ELSE of a CASE statement."""


_WRITERS: dict[type, tuple[Any, bool]] = {
    R.InsertStmt: (StatementWriter.insert, True),
    R.UpdateStmt: (StatementWriter.update, True),
    R.DeleteStmt: (StatementWriter.delete, True),
    R.TruncateStmt: (StatementWriter.truncate, True),
    R.MergeStmt: (StatementWriter.merge, True),
    R.InsteadStmt: (StatementWriter.instead, True),
    R.PrepareStmt: (StatementWriter.prepare, True),
    R.ExecuteStmt: (StatementWriter.execute, True),
    R.DeallocateStmt: (StatementWriter.deallocate, True),
    R.AllocateCursorStmt: (StatementWriter.allocate_cursor, True),
    R.DescriptorStmt: (StatementWriter.descriptor, True),
    R.DescribeStmt: (StatementWriter.describe, True),
    R.SettingStmt: (StatementWriter.setting, True),
    R.LockStmt: (StatementWriter.lock_tables, True),
    R.CallStmt: (StatementWriter.call, True),
    R.NoteStmt: (StatementWriter.note, True),
    R.SetStmt: (StatementWriter.set_statement, True),
    R.SelectIntoStmt: (StatementWriter.select_into, True),
    R.BlockStmt: (StatementWriter.block, False),
    R.IfStmt: (StatementWriter.if_statement, False),
    R.CaseStmt: (StatementWriter.case_statement, False),
    NoArm: (StatementWriter.no_arm, True),
    R.LoopStmt: (StatementWriter.loop, False),
    R.ForStmt: (StatementWriter.for_statement, False),
    R.LeaveStmt: (StatementWriter.leave, False),
    R.IterateStmt: (StatementWriter.iterate, False),
    R.ReturnStmt: (StatementWriter.return_statement, True),
    R.OpenStmt: (StatementWriter.open_cursor, True),
    R.FetchStmt: (StatementWriter.fetch, True),
    R.CloseStmt: (StatementWriter.close_cursor, True),
    R.SignalStmt: (StatementWriter.signal, True),
    R.DiagnosticsStmt: (StatementWriter.get_diagnostics, True),
    R.TransactionStmt: (StatementWriter.transaction, True),
    R.SchemaStmt: (StatementWriter.schema, True),
}


def proven(condition: R.Expr) -> set[str]:
    """Variables that are not NULL where a condition is true."""
    if isinstance(condition, R.And):
        return set().union(*(proven(i) for i in condition.items))
    if isinstance(condition, R.Compare):
        return {side.local for side in (condition.left, condition.right) if isinstance(side, R.Variable)}
    if isinstance(condition, R.IsNull) and condition.negated and isinstance(condition.operand, R.Variable):
        return {condition.operand.local}
    return set()


def looks_at_completion(body: R.Stmt) -> bool:
    """Whether something asks for conditions of completion: GET DIAGNOSTICS, or a handler of warnings."""
    return any(
        isinstance(n, R.DiagnosticsStmt)
        or (isinstance(n, R.Handler) and any(s == "warning" or s[:2] == "01" for s in n.states))
        for n in walk(body)
    )


def may_go_deeper(body: R.Stmt) -> bool:
    """Whether a routine may call another one, itself perhaps: then it looks how deep it is."""
    calling = R.RoutineCall | R.CallStmt | R.CallRows | R.ExecuteStmt | R.SchemaStmt
    changing = R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt | R.InsteadStmt | R.OpenStmt | R.TruncateStmt
    return any(isinstance(n, calling | changing) for n in walk(body))


def _may_return_rows(routine: Routine) -> bool:
    """Whether a procedure declares cursors WITH RETURN, or calls one that may."""
    return any(
        (isinstance(n, tree.DeclareCursor) and n.returns) or isinstance(n, tree.Call)
        for n in walk(routine.definition.body)
    )


def _assigned(node: R.Stmt) -> set[str]:
    """Variables that are assigned somewhere in a statement."""
    return {n.local for n in walk(node) if isinstance(n, R.Target)}


def _declared(node: R.Stmt) -> set[str]:
    """Variables that are declared inside a statement."""
    own = {n.target.local for n in walk(node) if isinstance(n, R.Declare)}
    return own | {t.local for n in walk(node) if isinstance(n, R.ForStmt) for t in n.targets}


RECORDING_NAMES: dict[str, Any] = {"END": END, "HANDLED": HANDLED, "ROUND": ROUND, "LoopFold": LoopFold}
