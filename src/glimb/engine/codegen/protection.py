"""A statement in the reach of handlers, and the actions of these."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.codegen.completion import (
    handles_warnings,
    looks_at_completion,
    tell_command,
)
from glimb.engine.codegen.covering import count_handler, count_statements
from glimb.engine.codegen.jumps import after_loop
from glimb.engine.codegen.recording import is_certain
from glimb.engine.codegen.variables import (
    assigned_in,
    declared_in,
)
from glimb.engine.codegen.writing import Action, Frame, Handled, StatementWriter
from glimb.engine.outcomes.events import HandlerInfo
from glimb.engine.runtime.handlers import Chain
from glimb.lang.node import walk

MOST_BLOCKS = 8
"""How many of Python's 20 blocks may be open where a statement is written in place: all that a block may put around its
statements, and a statement around itself, then still fits."""

# -- what surrounds a statement


def statements(w: StatementWriter, nodes: tuple[R.Stmt, ...]) -> None:
    before: R.Stmt | None = None
    for at, node in enumerate(nodes):
        count_statements(w, nodes, at)
        w.follows = before is not None and is_certain(w, before) and is_certain(w, node)
        write_statement(w, node)
        before = node


def write_statement(w: StatementWriter, node: R.Stmt) -> None:
    with w.function.placed(node.span):
        tell_command(w, node)
        if w.diagnoses is None:
            w.diagnoses = w.unit.warns = looks_at_completion(node)
            if w.diagnoses:  # another routine may have been here before
                w.line("s.diagnostics.forget(d)")
        handler, is_simple = w.writers[type(node)]
        if not is_simple and w.function.blocks > MOST_BLOCKS:
            _set_apart(w, node, handler)
        elif is_simple:
            if w.diagnoses and not isinstance(node, R.DiagnosticsStmt):
                w.line("s.diagnostics.forget(d)")
            with protected(w, node):
                handler(w, node)
                if w.diagnoses and handles_warnings(w) and not isinstance(node, R.SignalStmt):
                    w.line("if d in s.diagnostics.areas: s.diagnostics.raise_warning(d)")
        else:
            handler(w, node)


@contextmanager
def protected(w: StatementWriter, node: R.Stmt | None) -> Iterator[None]:
    """Write the body inside `try` when a CONTINUE handler may take what it raises."""
    continuing = [b for b in w.protections if any(h.kind == "continue" for h in b.handlers)]
    if not continuing or (isinstance(node, R.SetStmt) and all(isinstance(v, R.Const) for v in node.values)):
        yield
        return
    with w.function.indented("try:"):
        yield
    error, condition, number = (w.function.temp(n) for n in ("error", "condition", "handler"))
    with w.function.indented(f"except CAUGHT as {error}:"):
        w.line(f"{condition} = caught({error})")
        w.line(f"{number} = find_handler({condition}, {chain_text(w, w.protections)})")
        word = "if"
        for block in reversed(continuing):
            for handler in block.handlers:
                if handler.kind == "continue":
                    with w.function.indented(f"{word} {number} == {handler.number}:"):
                        call_action(w, handler, block, condition)
                    word = "elif"
        w.line("else: raise")


def chain_text(w: StatementWriter, blocks: list[R.BlockStmt]) -> str:
    return w.unit.constant(chain_of(blocks), "HANDLERS")


def chain_of(blocks: list[R.BlockStmt]) -> Chain:
    return tuple((b.depth, tuple((h.number, h.states) for h in b.handlers)) for b in reversed(blocks) if b.handlers)


def call_action(w: StatementWriter, handler: R.Handler, block: R.BlockStmt, condition: str) -> None:
    """Do what a handler does, in place or by its function; behind it the condition is there to be looked at."""
    action = w.actions.get(id(handler))
    if action is None:
        _write_action(w, handler, block, condition)
    else:
        _call(w, action, [*_parameters(w), condition])
    if w.diagnoses and handler.kind == "continue":
        w.line(f"s.diagnostics.areas[d] = [{condition}, *{condition}.below]")


def _parameters(w: StatementWriter) -> list[str]:
    """What a function within the routine's is given: what it would otherwise have to take from the routine's locals."""
    return ["s", "d", *(("trace", "E") if w.recording else ())]


def is_written_once(w: StatementWriter, handler: R.Handler, block: R.BlockStmt) -> bool:
    """Whether an action is more than a constant, and may be wanted at several places."""
    if isinstance(handler.action, R.SetStmt) and all(isinstance(v, R.Const) for v in handler.action.values):
        return False
    return handler.kind == "continue" or any(isinstance(n, R.SignalStmt) for n in walk(block.body))


def action_function(w: StatementWriter, handler: R.Handler, block: R.BlockStmt) -> None:
    """Write the function of a handler, in front of the block whose statements want it."""
    condition = w.function.temp("condition")
    # Conditions in the action are handled by the blocks around, whose short actions are written into it.
    around = [b for b in w.protections if b.depth < block.depth]
    with _function(w, "handle", condition, handler.action, around) as action:
        _write_action(w, handler, block, condition)
    w.actions[id(handler)] = action


def _set_apart(w: StatementWriter, node: R.Stmt, write: Callable[[StatementWriter, Any], None]) -> None:
    """Write a statement as a function within the routine's, which begins to count its blocks anew, and call it."""
    w.follows = False
    with _function(w, "deep", "", node, w.protections) as action:
        write(w, node)
    _call(w, action, _parameters(w))
    for local in assigned_in(node):
        w.bounds.pop(local, None)
        w.not_null.discard(local)


@contextmanager
def _function(w: StatementWriter, hint: str, more: str, node: R.Stmt, around: list[R.BlockStmt]) -> Iterator[Action]:
    """The body is written as a function: one that does a statement, in the reach of the handlers of some blocks."""
    action = Action(w.function.temp(hint), Frame("", "return"))
    kept = w.frames, w.bounds, w.not_null, w.in_action
    flags = w.flags
    w.frames, w.bounds, w.not_null, w.in_action, w.flags = [action.frame], {}, set(), True, {}
    parameters = [*_parameters(w), *([more] if more else [])]
    with w.function.indented(f"def {action.name}({', '.join(parameters)}):"):
        place = w.function.placeholder()
        yield action
        if w.function.lines[-1] is place:
            w.line("pass")
    w.frames, w.bounds, w.not_null, w.in_action = kept
    actions = (node, *(h.action for b in around for h in b.handlers))
    names = sorted(set[str]().union(*(assigned_in(a) - declared_in(a) for a in actions)))
    names += [*w.flags, *(["command"] if w.commands else [])]
    w.flags = {**flags, **w.flags}
    w.function.fill(place, f"nonlocal {', '.join(names)}" if names else "")


def _call(w: StatementWriter, action: Action, given: list[str]) -> None:
    """Call such a function; a RETURN in it is one here, and jumps past it go on here."""
    call = f"{action.name}({', '.join(given)})"
    if action.frame.returns:
        done = w.function.temp("done")
        if w.in_action:
            w.frames[0].returns = True
        w.line(f"if ({done} := {call}) is not None: return {done if w.in_action else f'{done}[0]'}")
    else:
        w.line(call)
    after_loop(w, action.frame)


def _write_action(w: StatementWriter, handler: R.Handler, block: R.BlockStmt, condition: str) -> None:
    """The statement of a handler, in whose reach are only the blocks around its own."""
    if w.diagnoses:
        w.line(f"s.diagnostics.areas[d] = [{condition}, *{condition}.below, *s.diagnostics.areas.get(d, ())]")
    if w.recording:
        info = HandlerInfo(handler.kind, w.unit.source, handler.span)
        w.line(f"E({w.unit.constant(info, 'HANDLER_')}); E(d); E({condition})")
    taker = w.unit.constant((w.unit.routine, handler.kind), "TAKER_")
    w.line(f"s.asides.handle({taker}, {condition})")
    count_handler(w, handler)
    if handler.kind == "undo":
        w.line(f"s.undo_to({w.marks[block.depth]})")
    protections, w.protections = w.protections, [b for b in w.protections if b.depth < block.depth]
    reach, w.reach = w.reach, w.reaches.get(id(block), w.reach)
    command = "''"
    if w.commands:
        command = w.function.temp("command")
        w.line(f"{command} = command")
    w.handling.append(Handled(condition, command))
    simple = isinstance(handler.action, R.SetStmt) and all(isinstance(v, R.Const) for v in handler.action.values)
    if simple:
        statements(w, (handler.action,))
    else:
        error = w.function.temp("error")
        with w.function.indented("try:"):
            statements(w, (handler.action,))
        with w.function.indented(f"except CAUGHT as {error}:"):
            w.line(f"raise escaped({error}, {block.depth}) from None")
    w.handling.pop()
    w.protections, w.reach = protections, reach
