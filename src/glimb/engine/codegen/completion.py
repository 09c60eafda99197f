"""Conditions of completion: warnings and no data, where somebody asks for them."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.codegen.command_names import asks_for_commands, command_of
from glimb.engine.codegen.writing import StatementWriter
from glimb.lang.node import holds, walk


def tell_command(w: StatementWriter, node: R.Stmt) -> None:
    """Keep the name of the statement where GET DIAGNOSTICS asks for it."""
    if w.commands is None:
        w.commands = asks_for_commands(node)
        if w.commands:
            w.function.hoist("command = ''")
    command = command_of(node) if w.commands else ""
    if command:
        w.line(f"command = {command!r}")


def handles_completion(w: StatementWriter, sqlstate: str) -> bool:
    """Whether some handler in reach takes a completion condition (no data, a warning) of this state."""
    words = {sqlstate, "02" if sqlstate[:2] == "02" else "warning"}
    return any(words & set(h.states) for b in w.protections for h in b.handlers)


def handles_warnings(w: StatementWriter) -> bool:
    """Whether some handler in reach takes warnings, all or some."""
    return any(s == "warning" or s[:2] == "01" for b in w.protections for h in b.handlers for s in h.states)


def no_data(w: StatementWriter, message: str) -> None:
    """The condition 02000: raised for a handler that waits for it, otherwise only noted."""
    text = w.unit.constant(message, "K")
    if w.recording:
        w.line("E(NO_DATA)")
    if handles_completion(w, "02000"):
        w.line(f"raise Condition('02000', {text})")
    elif w.diagnoses:
        w.line(f"s.diagnostics.warn(d, '02000', {text})")
    else:
        w.line("pass")


def looks_at_completion(body: R.Stmt) -> bool:
    """Whether something asks for conditions of completion: GET DIAGNOSTICS, or a handler of warnings."""
    if holds(body, R.DiagnosticsStmt):
        return True
    handlers = (n for n in walk(body) if isinstance(n, R.Handler)) if holds(body, R.Handler) else ()
    return any(s == "warning" or s[:2] == "01" for handler in handlers for s in handler.states)
