"""Dynamic SQL at run time: PREPARE, EXECUTE, DESCRIBE, extended names (ISO/IEC 9075-2 clause 20)."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.events import END, FrameInfo, StatementInfo
from glimb.engine.outcomes.outcome import Result, ResultColumn
from glimb.engine.runtime.cursors import Cursor, CursorKind
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import convert
from glimb.engine.values.problems import problem_condition
from glimb.engine.values.types import NULL, Type, assignable
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.parser import parse
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.lang.tree import Placeholder, Statement

CHANGES = ("insert", "update", "delete", "merge")
"""Kinds of statements that change rows."""

# ---- dynamic SQL ----------------------------------------------------------------------------------------------------


def prepare(session: Session, name: str | None, text: str | None) -> None:
    """PREPARE (clause 20.7): the statement is parsed now, and bound when the types of its parameters are known."""
    if text is None:
        fail("22004", "the text of a statement is NULL")
    source = Source(text, "dynamic statement")
    parsed = parse(source)
    if parsed.problems:
        raise problem_condition(ProblemError(*parsed.problems))
    if len(parsed.statements) != 1:
        fail("42601", f"a dynamic statement is one statement, not {len(parsed.statements)}")
    session.dynamic.prepared[name] = (parsed.statements[0], source)


def _prepared(session: Session, name: str | None) -> tuple[Statement, Source]:
    found = session.dynamic.prepared.get(name)
    if found is None:
        known = ", ".join(n for n in session.dynamic.prepared if n)
        fail("26000", f"there is no prepared statement {name}" + (f"; there are: {known}" if known else ""))
    return found


def execute_dynamic(
    session: Session, depth: int, name: str | None, values: tuple[Any, ...], types: tuple[Type, ...]
) -> Result:
    """EXECUTE (clause 20.13)."""
    return _run_prepared(session, depth, name, values, types)[0]


def _run_prepared(
    session: Session,
    depth: int,
    name: str | None,
    values: tuple[Any, ...],
    types: tuple[Type, ...],
    for_cursor: bool = False,
) -> tuple[Result, Table | None]:
    """The result of a prepared statement; for a cursor, with the table whose rows stand behind its columns."""
    node, source = _prepared(session, name)
    if session.stop or depth > session.depth_limit:
        session.enter(depth)
    try:
        compiled = session.shared.compiler.statement(node, source, session, types, for_cursor)
    except ProblemError as error:
        raise problem_condition(error) from None
    if len(values) > compiled.parameters:
        fail("07001", f"{len(values)} values for {compiled.parameters} parameters")
    if compiled.level > session.dynamic.access:
        state = "2F002" if compiled.level == 3 else "2F004"
        fail(state, f"the routine says {tree.ACCESS[session.dynamic.access].upper()}")
    session.dynamic.command = compiled.command
    if session.shared.recording and len(session.trace) < session.shared.most_events:
        result = _run_recorded(session, depth + 1, compiled, node, source, values, types)
    else:
        result = Result(*compiled.run(session, depth + 1, *values))
    if result.rows is not None and compiled.kind == "select":
        session.diagnostics.row_count = len(result.rows)
    return result, compiled.table


OWN_STATEMENTS = ("select", "call", *CHANGES)
"""Kinds of statements that are recorded only within something."""


def _run_recorded(
    session: Session,
    depth: int,
    compiled: Any,
    node: Statement,
    source: Source,
    values: tuple[Any, ...],
    types: tuple[Type, ...],
) -> Result:
    """Run a prepared statement, recorded as something of its own that is entered and left."""
    trace, mark = session.trace, len(session.log)
    names = tuple(f"?{number}" for number in range(1, len(values) + 1))
    trace += [FrameInfo("dynamic statement", source, node.span, node, names, types), depth, *values]
    if compiled.kind in OWN_STATEMENTS:
        trace.append(StatementInfo(compiled.kind, source, node.span, (), (), compiled.kind in CHANGES))
    result = Result(*compiled.run(session, depth, *values))
    if compiled.kind in CHANGES:
        trace += [result.row_count, session.log[mark:]]
    trace.append(END)
    return result


def open_dynamic(
    session: Session, depth: int, cursor: Cursor, name: str, values: tuple[Any, ...], types: tuple[Type, ...]
) -> None:
    """OPEN of a cursor over a prepared statement."""
    result, table = _run_prepared(session, depth, name, values, types, True)
    if result.rows is None:
        fail("07005", f"{name} is no query")
    cursor.kind = replace(cursor.kind, columns=result.columns, by_row=table is not None, over=table)
    cursor.open(session, result.rows)


def described(session: Session, name: str, is_input: bool) -> tuple[ResultColumn, ...]:
    """DESCRIBE (clause 20.9): the columns of a prepared query, or its dynamic parameters, whose types come with their
    values."""
    node, source = _prepared(session, name)
    unknown = [NULL for n in walk(node) if isinstance(n, Placeholder)]
    if is_input:
        return tuple(ResultColumn("", NULL) for _ in unknown)
    columns: tuple[ResultColumn, ...] = session.shared.compiler.described_columns(node, source, session, unknown)
    return columns


def one_row(result: Result) -> tuple[tuple[Any, ...], tuple[ResultColumn, ...]] | None:
    """The row of EXECUTE ... INTO with its columns: the OUT values of a CALL, or the only row; None where there is
    none."""
    if result.out:
        return tuple(value for _, _, value in result.out), tuple(ResultColumn(n, t) for n, t, _ in result.out)
    if not result.rows:
        return None
    if len(result.rows) > 1:
        fail("21000", f"the statement gives {len(result.rows)} rows where one may be")
    return result.rows[0], result.columns


def taken(row: tuple[Any, ...], columns: tuple[ResultColumn, ...], types: tuple[Type, ...]) -> tuple[Any, ...]:
    """The values of a row as they are assigned to variables of these types."""
    if len(columns) != len(types):
        fail("07008", f"{len(columns)} columns for {len(types)} variables")
    for column, type_ in zip(columns, types, strict=True):
        if not assignable(column.type, type_):
            fail("42804", f"column {column.name} is {column.type}, the variable is {type_}")
    return tuple(convert(v, c.type, t, explicit=False) for v, c, t in zip(row, columns, types, strict=False))


def extended(name: str | None) -> str:
    """The name of a statement that a value gives: it is none of those that are identifiers."""
    if not name:
        fail("26000", "the name of a statement is empty")
    return f"'{name}'"


def allocate_cursor(
    session: Session, name: str | None, statement: str, scroll: bool, hold: bool, returns: bool
) -> None:
    """ALLOCATE ... CURSOR (clause 20.17): the statement must be prepared already."""
    if not name or name in session.dynamic.cursors:
        fail("34000", f"cursor {name} is there already" if name else "the name of a cursor is empty")
    _prepared(session, statement)
    cursor = session.dynamic.cursors[name] = Cursor(CursorKind(name, (), hold, returns, scroll=scroll))
    cursor.statement = statement


def named_cursor(session: Session, name: str | None) -> Cursor:
    """A cursor that ALLOCATE has made; 34000 when there is none of that name."""
    found = session.dynamic.cursors.get(name or "")
    if found is None:
        known = ", ".join(session.dynamic.cursors)
        fail("34000", f"there is no cursor {name}" + (f"; there are: {known}" if known else ""))
    cursor: Cursor = found
    return cursor


def deallocate(session: Session, name: str) -> None:
    """DEALLOCATE PREPARE; 26000 when there is no such statement."""
    _prepared(session, name)
    del session.dynamic.prepared[name]
