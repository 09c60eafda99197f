"""Findings on control: what is never reached, never ends, and on cursors, handlers, conditions, diagnostics."""

from __future__ import annotations

from itertools import pairwise

from glimb.engine import resolved as R
from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.values.conditions import STATES
from glimb.lang import tree
from glimb.lang.node import Node, walk
from glimb.suite.findings.finding import Found, Subject, finding, lists_of

CHANGES = (R.InsertStmt, R.UpdateStmt, R.DeleteStmt, R.MergeStmt, R.InsteadStmt)


@finding("unreachable-code", "take it out, or put it before")
def unreachable_code(subject: Subject) -> Found:
    """A statement behind RETURN, LEAVE, ITERATE or SIGNAL in the same list."""
    continuing = any(isinstance(n, R.Handler) and n.kind == "continue" for n in subject.nodes)
    words = {R.ReturnStmt: "RETURN", R.LeaveStmt: "LEAVE", R.IterateStmt: "ITERATE", R.SignalStmt: "SIGNAL"}
    for statements in lists_of(subject.nodes):
        for before, after in pairwise(statements):
            word = words.get(type(before))
            if word is None or isinstance(after, R.WaymarkStmt):
                continue
            if isinstance(before, R.SignalStmt) and (continuing or before.sqlstate[:2] in ("01", "02")):
                continue
            yield after.span, f"this is never reached, behind {word}"
            break


@finding("endless-loop", "leave it, or change in it what its condition reads")
def endless_loop(subject: Subject) -> Found:
    """A loop with no way out: no LEAVE, RETURN or SIGNAL, and a condition that nothing in it changes."""
    for node, blocks in subject.reached:
        if not isinstance(node, R.LoopStmt):
            continue
        inside = {id(n) for n in walk(node)}
        handlers = [n for n in subject.nodes if isinstance(n, R.Handler) and n.kind != "continue"]
        caught = any(h for b in blocks for h in b.handlers if h in handlers) or any(id(h) in inside for h in handlers)
        if caught or any(_leaves(n, node) for n in walk(node.body)) or _may_change(node):
            continue
        condition = node.before or node.after
        told = "it has no way out" if condition is None else "nothing in it changes what its condition reads"
        yield node.span._replace(end=node.body[0].span.start if node.body else node.span.end), told


def _leaves(node: Node, loop: R.LoopStmt) -> bool:
    if isinstance(node, R.LeaveStmt):
        return node.local not in {n.local for n in walk(loop.body) if isinstance(n, R.LoopStmt | R.ForStmt)} - {
            loop.local
        }
    if isinstance(node, R.IterateStmt):
        return node.local != loop.local and node.local not in {
            n.local for n in walk(loop.body) if isinstance(n, R.LoopStmt | R.ForStmt)
        }
    return isinstance(node, R.ReturnStmt | R.SignalStmt)


def _may_change(loop: R.LoopStmt) -> bool:
    """Whether what a loop's condition gives may be another value in another round."""
    condition = loop.before or loop.after
    if condition is None:
        return False
    parts = list(walk(condition))
    if any(isinstance(n, R.Query | R.RoutineCall | R.NextValue | R.Loose | R.Column) for n in parts):
        return True
    if isinstance(condition, R.Const):
        return condition.value is (loop.before is None)
    set_ = {n.local for n in walk(loop.body) if isinstance(n, R.Target)}
    clock = any(isinstance(n, R.Strict) and not n.arguments for n in parts)
    return clock or any(isinstance(n, R.Variable) and n.local in set_ for n in parts)


# ---- cursors


@finding("cursor-not-closed", "close it behind its last use")
def cursor_not_closed(subject: Subject) -> Found:
    """A cursor that is opened and that nothing closes."""
    closed = {n.cursor.local for n in subject.nodes if isinstance(n, R.CloseStmt)}
    seen: set[str] = set()
    for node in subject.nodes:
        if isinstance(node, R.OpenStmt) and not node.cursor.returns and node.cursor.named is None:
            if node.cursor.local not in closed | seen:
                seen.add(node.cursor.local)
                yield node.span, f"{node.cursor.name} is opened and not closed"


@finding("fetch-without-handler", "declare a handler for NOT FOUND in the block around")
def fetch_without_handler(subject: Subject) -> Found:
    """FETCH in whose reach no handler takes NOT FOUND: its end goes by unseen."""
    for node, blocks in subject.reached:
        if isinstance(node, R.FetchStmt) and not any(_takes_no_data(h) for b in blocks for h in b.handlers):
            yield node.span, f"nothing here notices that {node.cursor.name} has no further row"


def _takes_no_data(handler: R.Handler) -> bool:
    return any(state == "02" or state.startswith("02") for state in handler.states)


# ---- handlers and conditions


@finding("handler-never-fires", "take it out, or raise what it waits for")
def handler_never_fires(subject: Subject) -> Found:
    """A handler for conditions that nothing in its reach can raise: those that only SIGNAL raises, and NOT FOUND."""
    for node in subject.nodes:
        if not isinstance(node, R.BlockStmt):
            continue
        for handler in node.handlers:
            if not any(_can_come(subject.engine, node.body, state) for state in handler.states):
                words = subject.source[handler.span].partition(" FOR ")[2] or "it"
                end = handler.action.span.start
                yield handler.span._replace(end=end), f"nothing in its block raises {' '.join(words.split()[:2])}"


def _can_come(engine: Engine, body: tuple[R.Stmt, ...], state: str) -> bool:
    raised = Raised(engine)
    raised.look(body)
    if raised.anything:
        return True
    if state in ("exception", "warning"):
        return True
    if state.startswith("name:"):
        return state.removeprefix("name:") in raised.names
    if state.startswith("02"):
        return raised.finds_nothing or any(s.startswith("02") for s in raised.states)
    if len(state) == 2 or state in STATES or state[2:] == "000":
        return state[:2] in {s[:2] for s in (*STATES, *raised.states)}
    return state in raised.states


class Raised:
    """What statements and all that they call can raise by SIGNAL."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self.states: set[str] = set()
        self.names: set[str] = set()
        self.finds_nothing = self.anything = False
        self._seen: set[Routine] = set()

    def look(self, body: object) -> None:
        for node in walk(body):
            if isinstance(node, R.SignalStmt):
                self.states.add(node.sqlstate)
                self.names |= {node.condition} - {""}
                self.anything |= node.again and not node.sqlstate
            elif isinstance(
                node, R.FetchStmt | R.SelectIntoStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt | R.InsertStmt
            ):
                self.finds_nothing = True
                self._triggers(node)
            elif isinstance(
                node, R.ExecuteStmt | R.InsteadStmt | R.RunStmt | R.SchemaStmt | R.TruncateStmt | R.DescriptorStmt
            ):
                self.anything = True
            elif isinstance(node, R.CallStmt | R.RoutineCall | R.CallRows):
                self._routine(node.routine)

    def _routine(self, routine: Routine) -> None:
        if routine not in self._seen:
            self._seen.add(routine)
            facts = routine.bind()
            if facts is None:
                self.anything = True
            else:
                self.look(facts.body)

    def _triggers(self, node: Node) -> None:
        if isinstance(node, CHANGES):
            for trigger in self.engine.catalog.triggers.values():
                for inner in walk(trigger.definition.body):
                    if isinstance(inner, tree.Signal):
                        self.states.add(inner.sqlstate or "45000")
                    elif isinstance(inner, tree.Call | tree.FunctionCall):
                        for routine in self.engine.catalog.routines.get(inner.name[-1], ()):
                            self._routine(routine)


@finding("unused-condition", "take it out, or signal it")
def unused_condition(subject: Subject) -> Found:
    """A condition that is declared, and neither signalled nor handled."""
    nodes = list(subject.written)
    used = {n.condition for n in nodes if isinstance(n, tree.Signal)}
    used |= {name.lower() for n in nodes if isinstance(n, tree.DeclareHandler) for name in n.conditions}
    for node in nodes:
        if isinstance(node, tree.DeclareCondition) and node.name not in used:
            yield node.span, f"{node.name} is neither signalled nor handled"


@finding("unhandled-condition", "declare it FOR SQLSTATE '...', so that a caller can tell it from others")
def unhandled_condition(subject: Subject) -> Found:
    """SIGNAL of a condition without an SQLSTATE that nothing here handles: it leaves the routine as 45000."""
    nodes = list(subject.written)
    bare = {n.name for n in nodes if isinstance(n, tree.DeclareCondition) and not n.sqlstate}
    handled = {name.lower() for n in nodes if isinstance(n, tree.DeclareHandler) for name in n.conditions}
    if {"sqlexception", "exception"} & handled:
        return
    for node in nodes:
        if isinstance(node, tree.Signal) and node.condition in bare - handled - {
            n.removeprefix("name:") for n in handled
        }:
            yield node.span, f"{node.condition} has no SQLSTATE and no handler here: no caller can tell it"


# ---- diagnostics


@finding("late-row-count", "read it right behind the statement it is meant of")
def late_row_count(subject: Subject) -> Found:
    """ROW_COUNT read behind a later statement that has overwritten it."""
    for statements in lists_of(subject.nodes):
        for at, node in enumerate(statements):
            if isinstance(node, R.DiagnosticsStmt) and any(item == "row_count" for _, item in node.items):
                meant = _overwritten(statements[:at])
                if meant is not None:
                    line = subject.source.line(meant.span.start)
                    yield node.span, f"this is the row count of a later statement than that of line {line}"


def _overwritten(before: tuple[R.Stmt, ...]) -> R.Stmt | None:
    """The change whose row count was meant, when another statement between has set it."""
    counting = [n for n in before if isinstance(n, (*CHANGES, R.SelectIntoStmt, R.CallStmt))]
    if not counting or not any(isinstance(n, CHANGES) for n in counting):
        return None
    *earlier, last = counting
    changes = [n for n in earlier if isinstance(n, CHANGES)]
    if not changes or before[before.index(last) + 1 :]:
        return changes[-1] if changes and not isinstance(last, CHANGES) else None
    if isinstance(last, R.InsertStmt) and not isinstance(changes[-1], R.InsertStmt):
        return changes[-1]
    return None if isinstance(last, CHANGES) else changes[-1]
