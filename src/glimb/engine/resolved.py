"""The resolved tree: what the binder makes of a parsed statement. Every name is bound, every expression has a type.

What follows (planning, code generation) never looks a name up. A row source has a number; a column is the number of
its source and its position. `nullable` false means: proven never NULL.
"""

from __future__ import annotations

from typing import Any

from glimb.engine.catalog import Routine, Sequence, SystemView, Table
from glimb.engine.trails import Trail
from glimb.engine.types import Type
from glimb.lang.node import Node as Node

# ---- expressions ----------------------------------------------------------------------------------------------------


class Expr(Node):
    """Whatever has a value of a known type."""

    type: Type
    nullable: bool


class Const(Expr):
    """A constant; NULL when `value` is None."""

    value: Any


class Column(Expr):
    """Column number `index` of row source `source`."""

    source: int
    index: int
    name: str = ""


class Variable(Expr):
    """A variable or parameter of a routine, by the name of its Python local."""

    local: str
    name: str


class Arith(Expr):
    """`+ - *` over numbers already brought to the scale that the result needs; integer `/` too."""

    sign: str
    left: Expr
    right: Expr


class Strict(Expr):
    """A built-in operation: NULL when an argument is; `code` is the Python expression with {0}, {1}, ..."""

    code: str
    arguments: tuple[Expr, ...]


class Loose(Expr):
    """An operation that sees NULLs as None; `code` as in Strict."""

    code: str
    arguments: tuple[Expr, ...]


class Tuple(Expr):
    """An array or a row of these values."""

    items: tuple[Expr, ...]


class InDomain(Expr):
    """A value that must meet the CHECKs of a domain, in which Shared number `number` stands for it."""

    number: int
    operand: Expr
    checks: tuple[tuple[str, Expr], ...]


class GroupingCall(Expr):
    """GROUPING(...), until the groups are known."""

    arguments: tuple[Expr, ...]


class SetNumber(Expr):
    """Of a query with GROUPING SETS: which set a group belongs to."""


class Convert(Expr):
    """A value brought to another type; `explicit` for CAST, which may cut texts. `what` takes it, for the message."""

    operand: Expr
    explicit: bool = False
    what: str = ""


class Checked(Expr):
    """An exact number, unchecked so far, that must fit `type`. `what` takes it, for the message."""

    operand: Expr
    what: str = ""


class Compare(Expr):
    """`= <> < <= > >=` over operands of one representation."""

    sign: str
    left: Expr
    right: Expr


class And(Expr):
    items: tuple[Expr, ...]


class Or(Expr):
    items: tuple[Expr, ...]


class Not(Expr):
    operand: Expr


class IsNull(Expr):
    operand: Expr
    negated: bool


class IsTruth(Expr):
    """Whether a BOOLEAN is exactly `value` (None: unknown)."""

    operand: Expr
    value: bool | None
    negated: bool


class IsDistinct(Expr):
    left: Expr
    right: Expr
    negated: bool


class Case(Expr):
    """Searched CASE; a simple one has been rewritten."""

    arms: tuple[tuple[Expr, Expr], ...]
    otherwise: Expr


class Coalesce(Expr):
    items: tuple[Expr, ...]


class Shared(Expr):
    """The value of the Let of this number."""

    number: int


class Let(Expr):
    """`body`, in which Shared number `number` stands for `value`, computed once."""

    number: int
    value: Expr
    body: Expr


class InList(Expr):
    operand: Expr
    items: tuple[Expr, ...]
    negated: bool


class Like(Expr):
    operand: Expr
    pattern: Expr
    escape: Expr | None
    negated: bool


class NextValue(Expr):
    """NEXT VALUE FOR a sequence, or the value of an identity column."""

    sequence: Sequence


class RoutineCall(Expr):
    """A call of a stored scalar function."""

    routine: Routine
    arguments: tuple[Expr, ...]


class Aggregate(Expr):
    """A set function; `argument` None for COUNT(*). `more` are further arguments taken from each row, `order` the sort
    keys (value, descending, nulls first) of an ordered one, `fixed` what is said once: separator, fraction."""

    function: str
    argument: Expr | None
    distinct: bool
    where: Expr | None
    more: tuple[Expr, ...] = ()
    order: tuple[tuple[Expr, bool, bool], ...] = ()
    fixed: tuple[Any, ...] = ()
    owner: int = 0
    """The number of the query whose set function it is: another one's may look the same."""


class WindowCall(Expr):
    """A function over a window. Sort keys are (value, descending, nulls first); the frame is a unit with its two ends,
    each a kind (see `tree.Bound`) and an offset."""

    function: str
    arguments: tuple[Expr, ...]
    where: Expr | None
    partition: tuple[Expr, ...]
    order: tuple[tuple[Expr, bool, bool], ...]
    unit: str
    start: tuple[str, Expr | None]
    end: tuple[str, Expr | None]
    exclude: str = ""
    ignore_nulls: bool = False
    from_last: bool = False
    owner: int = 0


class ScalarQuery(Expr):
    query: Query


class ExistsQuery(Expr):
    query: Query


class UniqueQuery(Expr):
    """UNIQUE (query); with `distinct` false, NULLs count as equal."""

    query: Query
    distinct: bool


class ArrayQuery(Expr):
    """ARRAY(query)."""

    query: Query


class InQuery(Expr):
    """operand [NOT] IN (query); several operands for a row value."""

    operands: tuple[Expr, ...]
    query: Query
    negated: bool


class QuantifiedQuery(Expr):
    """operand sign ANY | ALL (query); several operands for a row value."""

    sign: str
    every: bool
    operands: tuple[Expr, ...]
    query: Query


# ---- queries --------------------------------------------------------------------------------------------------------


class Relation(Node):
    """Whatever yields rows in FROM."""


class Scan(Relation):
    """A base table as row source `source`."""

    table: Table
    source: int


class Derived(Relation):
    """A query as row source `source`; a lateral one may refer to the sources before it."""

    query: Query
    source: int
    lateral: bool
    label: str = ""


class CallRows(Relation):
    """A table function as row source `source`."""

    routine: Routine
    arguments: tuple[Expr, ...]
    source: int


class CommonRows(Relation):
    """A common table, by its number, as row source `source`; `width` columns."""

    number: int
    source: int
    width: int


class SystemRows(Relation):
    """A view of the information schema as row source `source`."""

    view: SystemView
    source: int


class UnnestRows(Relation):
    """The elements of arrays side by side, perhaps numbered; an array of rows gives its fields. `widths` are the
    columns that each array gives."""

    arrays: tuple[Expr, ...]
    widths: tuple[int, ...]
    ordinality: bool
    source: int


class ChangedRows(Relation):
    """The rows that a change statement has made (`final`, `new`) or found (`old`)."""

    statement: Stmt
    table: Table
    kind: str
    source: int


class TransitionRows(Relation):
    """The OLD TABLE or NEW TABLE of a trigger, which comes in as Python local `local`."""

    local: str
    width: int
    source: int


class JoinRows(Relation):
    """Kinds: inner, left, full. Right joins have been turned round, cross joins have no condition."""

    kind: str
    left: Relation
    right: Relation
    condition: Expr | None


class Output(Node):
    """A column of a result."""

    name: str
    type: Type
    nullable: bool


class Body(Node):
    """What a query does before ordering and limits."""


class Select(Body):
    """Group keys and aggregates, where there are any, make row source `group_source`; windows `window_source`."""

    relation: Relation | None
    where: Expr | None
    items: tuple[Expr, ...]
    grouped: bool
    keys: tuple[Expr, ...]
    aggregates: tuple[Aggregate, ...]
    group_source: int
    having: Expr | None
    distinct: bool
    windows: tuple[WindowCall, ...] = ()
    window_source: int = 0
    sets: tuple[tuple[int, ...], ...] = ()
    """Grouping sets: for each the positions of its keys; none for plain grouping."""


class SetQuery(Body):
    kind: str
    all: bool
    left: Query
    right: Query


class Rows(Body):
    """VALUES."""

    rows: tuple[tuple[Expr, ...], ...]


class Common(Node):
    """A common table."""

    number: int
    query: Query


class Recursive(Node):
    """A common table of a recursion: it begins with the rows of `start`, and takes in those of the steps over the rows
    of the round before, all of them or only those that are new."""

    number: int
    start: Query | None
    steps: tuple[Query, ...]
    all: bool
    trail: Trail | None


class Recursion(Node):
    """Common tables that refer to themselves or to one another."""

    tables: tuple[Recursive, ...]


class Query(Node):
    """A query with its result columns; `extra` hidden columns behind them serve ORDER BY."""

    body: Body
    columns: tuple[Output, ...]
    common: tuple[Common | Recursion, ...]
    order: tuple[tuple[int, bool, bool], ...]
    extra: int
    offset: Expr | None
    fetch: Expr | None
    ties: bool
    lock: tuple[int, ...]
    percent: bool = False
    lock_mode: tuple[str, bool, float | None] = ("X", False, None)
    """Mode of the row locks, whether locked rows are skipped, and how long to wait (None: the session's patience)."""


# ---- statements -----------------------------------------------------------------------------------------------------


class Stmt(Node):
    """Whatever is executed inside a routine or on its own."""


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


class LockStmt(Stmt):
    tables: tuple[Table, ...]
    mode: str
    wait: float | None


class SettingStmt(Stmt):
    """SET SCHEMA, SET SESSION, SET CONSTRAINTS: a setting and its value (an expression, or what it needs)."""

    setting: str
    value: Any


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

    statement: Any
    text: str
