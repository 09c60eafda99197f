"""SIGNAL, RESIGNAL and GET DIAGNOSTICS."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.completion import (
    handles_completion,
)
from glimb.engine.codegen.jumps import write_jump
from glimb.engine.codegen.protection import (
    call_action,
    chain_of,
    chain_text,
)
from glimb.engine.codegen.recording import record, record_values
from glimb.engine.codegen.variables import (
    unpack_one,
)
from glimb.engine.codegen.writing import StatementWriter
from glimb.engine.runtime.handlers import find_handler
from glimb.engine.values.command_codes import ITEMS as COMMAND_ITEMS
from glimb.engine.values.conditions import Condition
from glimb.lang.node import walk

# -- conditions


def signal(w: StatementWriter, node: R.SignalStmt) -> None:
    """SIGNAL: a jump where a handler of the same routine takes it, else an exception."""
    record(w, "resignal" if node.again else "signal", node)
    items = ", ".join(f"{w.unit.constant(n, 'K')}: {w.value(v)}" for n, v in node.items)
    name = w.unit.constant(node.condition, "K")
    if node.again:
        handled = w.handling[-1].condition if w.handling else "None"
        again = w.function.temp("again")
        w.line(f"{again} = resignal({handled}, {node.sqlstate!r}, {name}, {{{items}}})")
        chain = chain_text(w, w.protections)
        w.line(f"if is_exception({again}.sqlstate) or find_handler({again}, {chain}): raise {again}")
        w.line(f"s.diagnostics.note(d, {again})")
        return
    raised = f"signal(s, {w.unit.constant(node.sqlstate, 'STATE')}, {name}, {{{items}}})"
    if _jump_to_handler(w, node, raised):
        return
    if node.sqlstate[:2] in ("01", "02") and not handles_completion(w, node.sqlstate):
        w.line(f"s.diagnostics.note(d, {raised})")
    else:
        w.line(f"raise {raised}")


def _jump_to_handler(w: StatementWriter, node: R.SignalStmt, raised: str) -> bool:
    """SIGNAL in the reach of a handler of its own routine: what is raised, and who takes it, is known here, so
    the action is written in place, and for EXIT a jump behind the block. Says whether that could be done."""
    condition = Condition(node.sqlstate, "", {"condition_identifier": node.condition})
    chain = chain_of(w.protections)
    number = find_handler(condition, chain)
    block, handler = next(((b, h) for b in w.protections for h in b.handlers if h.number == number), (None, None))
    if block is None or handler is None or _leaves_atomic(w, block):
        return False
    told = w.function.temp("condition")
    w.line(f"{told} = {raised}")
    call_action(w, handler, block, told)
    if handler.kind != "continue":
        write_jump(w, block.label, "leave")
    return True


def _leaves_atomic(w: StatementWriter, block: R.BlockStmt) -> bool:
    """Whether leaving to a block passes an ATOMIC one, which must take its work back before the action. The action of
    a handler may be wanted anywhere in its block: each ATOMIC block inside of the one that is left to may be one."""
    if w.handling:
        return any(isinstance(node, R.BlockStmt) and node.atomic for node in walk(block.body))
    return any(b.atomic for b in w.protections if b.depth > block.depth)


def get_diagnostics(w: StatementWriter, node: R.DiagnosticsStmt) -> None:
    """GET DIAGNOSTICS: items of an area into targets."""
    targets = tuple(r.target for r, _ in node.items if r.target is not None)
    record(w, "get diagnostics", node, targets)
    handled = w.handling[-1].condition if w.handling else ""
    area = f"[{handled}, *{handled}.below]" if handled and node.stacked else "s.diagnostics.areas.get(d, ())"
    command = w.handling[-1].command if w.handling and node.stacked else "command"
    if node.stacked and not w.handling:
        w.line("raise Condition('0Z002', 'GET STACKED DIAGNOSTICS needs a handler that is active')")
    number = w.value(node.condition) if node.condition is not None else "1"
    name = w.function.temp("area")
    w.line(f"{name} = chosen_condition({area}, {number})")
    if node.all is not None:
        w.line(f"{node.all.temp} = all_diagnostics(s, d, {name}, {command}, {node.part!r})")
        unpack_one(w, node.all)
    for receive, item in node.items:
        what = f"command_item(s, {command}" if item in COMMAND_ITEMS else f"diagnostics(s, d, {name}"
        w.line(f"{receive.temp} = {what}, {w.unit.constant(item, 'K')})")
        unpack_one(w, receive)
    record_values(w, targets)
