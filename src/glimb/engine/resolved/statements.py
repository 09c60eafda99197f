"""The resolved tree: bound statements of SQL and of routines."""

from __future__ import annotations

from typing import Any

from glimb.engine.catalog.objects import Routine
from glimb.engine.resolved.queries import Expr, Query, Relation, Stmt, Variable
from glimb.engine.storage.table import Table
from glimb.engine.values.types import Type
from glimb.lang.node import Foreign
from glimb.lang.node import Node as Node


class Target(Node):
    """A variable that is assigned to, with its declared type."""

    local: str
    name: str
    type: Type


class QueryStmt(Stmt):
    query: Query


class InsertStmt(Stmt):
    """`positions` are the columns that the query gives, `defaults` the others."""

    table: Table
    query: Query | None
    positions: tuple[int, ...]
    defaults: tuple[tuple[int, Expr], ...]
    source: int = 0
    checks: tuple[tuple[str, Expr], ...] = ()
    """WITH CHECK OPTION: views, and what a row (as row source `source`) must meet to be in them."""


class UpdateStmt(Stmt):
    table: Table
    source: int
    values: tuple[tuple[int, Expr], ...]
    where: Expr | None
    cursor: CursorDef | None
    checks: tuple[tuple[str, Expr], ...] = ()


class DeleteStmt(Stmt):
    table: Table
    source: int
    where: Expr | None
    cursor: CursorDef | None


class InsteadStmt(Stmt):
    """A change of a view, done by its INSTEAD OF triggers: `relation` gives the rows of the view with its conditions;
    `old` and `new` are the rows before and after (empty for INSERT and DELETE)."""

    view: Any
    event: str
    query: Query
    width: int


class Receive(Node):
    """A value that comes in as Python local `temp`, and `value` (over that local, and those of the ones before) that
    goes to the target; without one, a later one takes it."""

    temp: str
    target: Target | None
    value: Expr


class MergeAction(Node):
    """One WHEN clause. `values` are columns with what they get (UPDATE) or the whole row (INSERT); none for DELETE."""

    matched: bool
    condition: Expr | None
    values: tuple[tuple[int, Expr], ...]


class MergeStmt(Stmt):
    """`relation` joins the source with the target, row source `target`, where they match."""

    table: Table
    relation: Relation
    target: int
    actions: tuple[MergeAction, ...]
    checks: tuple[tuple[str, Expr], ...] = ()


class TruncateStmt(Stmt):
    table: Table
    restart: bool


class CallStmt(Stmt):
    """`receives` take the OUT and INOUT values, in the order of the parameters (None: reported, not assigned)."""

    routine: Routine
    arguments: tuple[Expr, ...]
    receives: tuple[Receive | None, ...]


class NoteStmt(Stmt):
    value: Expr


class WaymarkStmt(Stmt):
    """A named point, with all variables that can be seen there."""

    name: str
    names: tuple[str, ...]
    variables: tuple[Variable, ...]


class SetStmt(Stmt):
    """One value for each target, all computed before the first is assigned."""

    targets: tuple[Target, ...]
    values: tuple[Expr, ...]


class SelectIntoStmt(Stmt):
    """`optional`: no row gives NULLs (SET from a query) instead of the condition 02000."""

    query: Query
    receives: tuple[Receive, ...]
    optional: bool


class Declare(Node):
    target: Target
    value: Expr


class Handler(Node):
    """`states` are SQLSTATEs, classes of two characters, `exception`, `warning`, or `name:` and a condition name."""

    kind: str
    states: tuple[str, ...]
    action: Stmt
    number: int


class CursorDef(Node):
    """`table` is the base table that the cursor can change rows of, `columns` those that may be set (empty: all).
    `statement` names the prepared statement of a dynamic cursor, which has no query here."""

    local: str
    name: str
    query: Query | None
    number: int
    scroll: bool = False
    hold: bool = False
    returns: bool = False
    sensitive: bool = False
    table: Any = None
    columns: tuple[str, ...] = ()
    statement: str = ""
    named: Expr | None = None
    """Of one that ALLOCATE has made: the value that names it."""


class BlockStmt(Stmt):
    declares: tuple[Declare, ...]
    cursors: tuple[CursorDef, ...]
    handlers: tuple[Handler, ...]
    body: tuple[Stmt, ...]
    atomic: bool
    label: str
    depth: int


class IfStmt(Stmt):
    arms: tuple[tuple[Expr, tuple[Stmt, ...]], ...]
    otherwise: tuple[Stmt, ...]


class CaseStmt(Stmt):
    """`operand` is computed once into `local`; without an ELSE that applies: 20000."""

    arms: tuple[tuple[Expr, tuple[Stmt, ...]], ...]
    otherwise: tuple[Stmt, ...] | None
    operand: Expr | None
    local: str


class LoopStmt(Stmt):
    """All loops: `before` is tested at the start of a round, `after` at its end (True ends the loop)."""

    before: Expr | None
    body: tuple[Stmt, ...]
    after: Expr | None
    label: str
    local: str


class ForStmt(Stmt):
    """One round for each row; its columns are the variables `targets`. With a name, its cursor stands at that row."""

    query: Query
    targets: tuple[Target, ...]
    body: tuple[Stmt, ...]
    label: str
    local: str
    cursor: CursorDef | None = None


class LeaveStmt(Stmt):
    """`local` names the flag of the block or loop that is left."""

    label: str
    local: str


class IterateStmt(Stmt):
    label: str
    local: str


class ReturnStmt(Stmt):
    value: Expr | None
    query: Query | None


class OpenStmt(Stmt):
    cursor: CursorDef
    using: tuple[Expr, ...] = ()
    descriptor: Expr | None = None


class FetchStmt(Stmt):
    """`receives` of a dynamic cursor convert at run time: their values come as CLOB or as they are."""

    cursor: CursorDef
    receives: tuple[Receive, ...]
    orientation: str = "next"
    position: Expr | None = None
    targets: tuple[Target, ...] = ()
    descriptor: Expr | None = None


class CloseStmt(Stmt):
    cursor: CursorDef


class SignalStmt(Stmt):
    again: bool
    sqlstate: str
    condition: str
    items: tuple[tuple[str, Expr], ...]


class DiagnosticsStmt(Stmt):
    items: tuple[tuple[Receive, str], ...]
    condition: Expr | None
    stacked: bool
    all: Receive | None = None
    part: str = ""
    """Of ALL: empty for both, or `statement` or `condition`."""


class PrepareStmt(Stmt):
    name: str | Expr
    text: Expr


class ExecuteStmt(Stmt):
    """EXECUTE of a prepared statement, or of a text at once (`text`)."""

    name: str | Expr
    text: Expr | None
    using: tuple[Expr, ...]
    targets: tuple[Target, ...]
    using_descriptor: Expr | None = None
    into_descriptor: Expr | None = None


class DeallocateStmt(Stmt):
    name: str | Expr


class AllocateCursorStmt(Stmt):
    """ALLOCATE ... CURSOR FOR a prepared statement."""

    name: Expr
    statement: str | Expr
    scroll: bool
    hold: bool
    returns: bool


class DescriptorStmt(Stmt):
    """ALLOCATE, DEALLOCATE, SET ... COUNT, SET ... VALUE and GET of a descriptor (`verb`). `number` is the room of a
    new one, a count, or which item; `given` are items with their values, `asked` the items for the targets."""

    verb: str
    name: Expr
    number: Expr | None
    given: tuple[tuple[str, Expr], ...] = ()
    asked: tuple[str, ...] = ()
    targets: tuple[Target, ...] = ()


class DescribeStmt(Stmt):
    """DESCRIBE of a prepared statement (input, output) or of a cursor."""

    what: str
    statement: str | Expr
    cursor: CursorDef | None
    descriptor: Expr


class RunStmt(Stmt):
    """A statement that only calls a function at run time (see `runtime.verbs`): what outcomes call it, a step, the
    standard; the function; and what that is given behind the session: bound expressions, or objects."""

    kind: str
    step: str
    command: str
    function: str
    values: tuple[Any, ...]


class ExplainStmt(Stmt):
    """EXPLAIN: the statement, bound."""

    statement: Stmt


class TransactionStmt(Stmt):
    """Verbs: start, set, commit, rollback, savepoint, rollback to, release."""

    verb: str
    name: str
    modes: tuple[str, ...]
    chain: bool


class SchemaStmt(Stmt):
    """A schema statement is done by the catalog; it keeps the parsed tree."""

    statement: Foreign
    text: str
