"""Tree nodes: what the parser makes and the binder reads. One class for one thing that can be written.

Names are as the author wrote them after folding (see `tokens`); a dotted name is a tuple of its parts.

Long on purpose: the grammar as classes, each with the fields that it can be written with; nothing happens here.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from glimb.lang.node import Node as Node

if TYPE_CHECKING:
    from collections.abc import Sequence
    from typing import TypeAlias

Parts = tuple[str, ...]
ACCESS = ("no sql", "contains sql", "reads sql data", "modifies sql data")
"""What a routine may do with SQL data (9075-2 clause 11.60), from the least to the most."""


# ---- types ----------------------------------------------------------------------------------------------------------


class TypeName(Node):
    """A data type as written: `DECIMAL(8,2)` is name `decimal`, arguments (8, 2)."""

    name: str
    arguments: tuple[int, ...] = ()
    element: TypeName | None = None
    """Of `t ARRAY[n]`: the type t; the name is `array`."""
    fields: tuple[ResultColumn, ...] = ()
    """Of ROW (...): its fields; the name is `row`."""
    schema: Parts = ()
    """What stands before the name of a domain or a distinct type."""

    @property
    def parts(self) -> Parts:
        return *self.schema, self.name


UNTYPED = TypeName("")
"""Of a generated column that is written without a type: it has that of its expression (11.4)."""


# ---- expressions ----------------------------------------------------------------------------------------------------


DynamicName: TypeAlias = "str | Expression"
"""The name of a statement or a cursor: an identifier, or extended, a value that gives it when it runs."""


class Expression(Node):
    """Whatever has a value."""


class Literal(Expression):
    """Kinds: integer, decimal, float, string, bytes, boolean, null, date, time, timestamp."""

    kind: str
    value: str


class IntervalLiteral(Expression):
    """INTERVAL 'text' field [TO field]."""

    value: str
    negative: bool
    first: str
    last: str


class Reference(Expression):
    """A column, variable or parameter, perhaps qualified."""

    parts: Parts


class HostVariable(Reference):
    """`:name`: a value from outside. Its only part has the colon, which no name begins with."""

    @property
    def name(self) -> str:
        return self.parts[0][1:]


class Star(Expression):
    """`*` or `q.*` in a select list or in COUNT(*)."""

    qualifier: Parts = ()


class Placeholder(Expression):
    """`?`: an OUT argument of a CALL from outside, or a dynamic parameter."""


class Unary(Expression):
    """`+` or `-` before a value."""

    sign: str
    operand: Expression


class Binary(Expression):
    """Arithmetic and concatenation: `+ - * / ||`."""

    sign: str
    left: Expression
    right: Expression


class Comparison(Expression):
    """`= <> < <= > >=`."""

    sign: str
    left: Expression
    right: Expression


class Logical(Expression):
    """AND, OR."""

    sign: str
    left: Expression
    right: Expression


class Not(Expression):
    operand: Expression


class Difference(Expression):
    """(left - right) DAY TO SECOND and the like: the interval between two moments."""

    left: Expression
    right: Expression
    type: TypeName


class IsNull(Expression):
    operand: Expression
    negated: bool = False


class IsTruth(Expression):
    """IS [NOT] TRUE, FALSE or UNKNOWN."""

    operand: Expression
    value: str
    negated: bool = False


class IsDistinct(Expression):
    """IS [NOT] DISTINCT FROM."""

    left: Expression
    right: Expression
    negated: bool = False


class Between(Expression):
    operand: Expression
    low: Expression
    high: Expression
    negated: bool = False
    symmetric: bool = False


class InList(Expression):
    operand: Expression
    items: tuple[Expression, ...]
    negated: bool = False


class InQuery(Expression):
    operand: Expression
    query: Query
    negated: bool = False


class Like(Expression):
    operand: Expression
    pattern: Expression
    escape: Expression | None = None
    negated: bool = False


class Similar(Expression):
    """SIMILAR TO."""

    operand: Expression
    pattern: Expression
    escape: Expression | None = None
    negated: bool = False


class Overlaps(Expression):
    """(start, end or length) OVERLAPS (start, end or length)."""

    left: Expression
    right: Expression


class Exists(Expression):
    query: Query


class Unique(Expression):
    """UNIQUE (query): no two rows are equal."""

    query: Query
    nulls_distinct: bool = True


class Quantified(Expression):
    """operand sign ALL|SOME (query)."""

    sign: str
    every: bool
    operand: Expression
    query: Query


class Subquery(Expression):
    """A query in parentheses used as a value."""

    query: Query


class RowValue(Expression):
    items: tuple[Expression, ...]


class ArrayValue(Expression):
    """ARRAY[a, b, ...]."""

    items: tuple[Expression, ...]


class ArrayQuery(Expression):
    """ARRAY(query)."""

    query: Query


class Element(Expression):
    """array[position], counted from 1."""

    array: Expression
    position: Expression


class Field(Expression):
    """A field of a row: (row).name."""

    operand: Expression
    name: str


Target = Reference | Element | Field
"""What a value is assigned to: a variable, or a part of one."""


class CaseOperand(Expression):
    """The operand of the simple CASE around, at the left of `WHEN > 3`."""


class OperandTest(Expression):
    """A predicate written without its left side: `> 3`, `IS NULL`, `NOT LIKE 'a%'` (F262, P004)."""

    test: Expression


class When(Node):
    """One arm of a CASE expression; with an operand the condition may be several values or tests of it."""

    conditions: tuple[Expression, ...]
    result: Expression


class CaseExpression(Expression):
    operand: Expression | None
    whens: tuple[When, ...]
    otherwise: Expression | None = None


class Cast(Expression):
    operand: Expression
    type: TypeName


class Argument(Node):
    """An argument of a call, perhaps named with `=>`."""

    value: Expression
    name: str = ""


class FunctionCall(Expression):
    """A call of a built-in or stored function, or an aggregate; `bare` is a word such as CURRENT_DATE."""

    name: Parts
    arguments: tuple[Argument, ...] = ()
    distinct: bool = False
    where: Expression | None = None
    order: tuple[SortKey, ...] = ()
    over: Window | None = None
    bare: bool = False
    nulls: str = ""
    """Of LAG, LEAD and their kind: `ignore` or `respect`."""
    from_last: bool = False
    overflow: Overflow | None = None


class Overflow(Node):
    """LISTAGG ... ON OVERFLOW TRUNCATE filler WITH or WITHOUT COUNT."""

    filler: str
    count: bool


class Bound(Node):
    """An end of a window frame. Kinds: unbounded preceding, preceding, current row, following, unbounded following."""

    kind: str
    value: Expression | None = None


class Window(Node):
    """OVER (PARTITION BY ... ORDER BY ... frame). `unit` is rows, range, groups, or empty for the default frame;
    `name` is a window of the WINDOW clause on which it builds; `exclude` is empty, current row, group or ties."""

    partition: tuple[Expression, ...] = ()
    order: tuple[SortKey, ...] = ()
    unit: str = ""
    start: Bound | None = None
    end: Bound | None = None
    name: str = ""
    exclude: str = ""


class NamedWindow(Node):
    """One definition of the WINDOW clause."""

    name: str
    window: Window


class Grouping(Expression):
    """ROLLUP, CUBE or GROUPING SETS in GROUP BY; an item is a tuple of expressions or one more of these."""

    kind: str
    items: tuple[Expression, ...]


# ---- queries --------------------------------------------------------------------------------------------------------


class SortKey(Node):
    """One item of ORDER BY; `nulls` is empty, `first` or `last`."""

    value: Expression
    descending: bool = False
    nulls: str = ""


class SelectItem(Node):
    value: Expression
    alias: str = ""


class FromItem(Node):
    """Whatever stands in FROM."""


class TableName(FromItem):
    name: Parts
    alias: str = ""
    columns: Parts = ()


class DerivedTable(FromItem):
    query: Query
    alias: str
    columns: Parts = ()
    lateral: bool = False


class TableCall(FromItem):
    """TABLE(f(x)) or f(x)."""

    call: FunctionCall
    alias: str = ""
    columns: Parts = ()


class Unnest(FromItem):
    """UNNEST(array, ...) [WITH ORDINALITY]."""

    arrays: tuple[Expression, ...]
    ordinality: bool = False
    alias: str = ""
    columns: Parts = ()


class ChangedRows(FromItem):
    """FINAL, NEW or OLD TABLE (INSERT, UPDATE, DELETE or MERGE)."""

    kind: str
    statement: Statement
    alias: str = ""
    columns: Parts = ()


class Join(FromItem):
    """Kinds: inner, left, right, full, cross; `alias` names the columns of USING."""

    kind: str
    left: FromItem
    right: FromItem
    condition: Expression | None = None
    using: Parts = ()
    natural: bool = False
    alias: str = ""


class QueryBody(Node):
    """Select, set operation, VALUES or a query in parentheses."""


class Select(QueryBody):
    items: tuple[SelectItem, ...]
    sources: tuple[FromItem, ...] = ()
    where: Expression | None = None
    group: tuple[Expression, ...] | None = None
    having: Expression | None = None
    distinct: bool = False
    windows: tuple[NamedWindow, ...] = ()
    distinct_groups: bool = False


class SetOperation(QueryBody):
    """union, except or intersect; `all` keeps duplicates. With `corresponding`, columns are paired by name: those of
    `by`, or all that both sides have."""

    kind: str
    all: bool
    left: QueryBody
    right: QueryBody
    corresponding: bool = False
    by: Parts = ()


class Values(QueryBody):
    """`rows` is a tuple, or of many plain ones what reads them when they are looked at (`written_rows`)."""

    rows: Sequence[tuple[Expression, ...]]


class Nested(QueryBody):
    """A whole query, with its own ORDER BY, used as an operand."""

    query: Query


class Search(Node):
    """SEARCH DEPTH|BREADTH FIRST BY columns SET name: numbers the rows of a recursion in that order."""

    depth_first: bool
    columns: Parts
    name: str


class Cycle(Node):
    """CYCLE columns SET name TO mark DEFAULT otherwise USING path; without marks they are TRUE and FALSE."""

    columns: Parts
    name: str
    mark: Expression | None
    otherwise: Expression | None
    path: str


class CommonTable(Node):
    name: str
    columns: Parts
    query: Query
    search: Search | None = None
    cycle: Cycle | None = None


class RowLock(Node):
    """FOR UPDATE or FOR SHARE [OF tables] [NOWAIT | SKIP LOCKED | WAIT n]. Modes: update, share, read only;
    `wait` is in seconds, None as long as the session's patience."""

    tables: Parts = ()
    mode: str = "update"
    skip: bool = False
    wait: float | None = None


class Query(Node):
    """A query expression: body, common tables, order and limits."""

    body: QueryBody
    common: tuple[CommonTable, ...] = ()
    recursive: bool = False
    order: tuple[SortKey, ...] = ()
    offset: Expression | None = None
    fetch: Expression | None = None
    ties: bool = False
    lock: RowLock | None = None
    percent: bool = False


# ---- statements -----------------------------------------------------------------------------------------------------


class Statement(Node):
    """Whatever can be executed."""


class QueryStatement(Statement):
    query: Query


class SelectInto(Statement):
    """SELECT ... INTO targets: the query yields one row."""

    query: Query
    targets: tuple[Target, ...]


class NextValue(Expression):
    """NEXT VALUE FOR sequence."""

    name: Parts


class DefaultValue(Expression):
    """DEFAULT in a row of values."""


class Insert(Statement):
    """`query` is None for DEFAULT VALUES; `overriding` is empty or system."""

    table: Parts
    columns: Parts
    query: Query | None
    overriding: str = ""


class Assignment(Node):
    """target = value in UPDATE; several columns take a row. `element` is the position in an array column."""

    columns: Parts
    value: Expression
    element: Expression | None = None


class Update(Statement):
    table: Parts
    alias: str
    assignments: tuple[Assignment, ...]
    where: Expression | None = None
    cursor: DynamicName = ""


class Delete(Statement):
    table: Parts
    alias: str
    where: Expression | None = None
    cursor: DynamicName = ""


# ---- schema ---------------------------------------------------------------------------------------------------------


class Constraint(Node):
    """Kinds: primary, unique, check, foreign. References fill `target`, `target_columns` and the actions."""

    kind: str
    name: str = ""
    columns: Parts = ()
    condition: Expression | None = None
    target: Parts = ()
    target_columns: Parts = ()
    on_delete: str = "no action"
    on_update: str = "no action"
    match: str = "simple"
    deferrable: bool = False
    deferred: bool = False
    enforced: bool = True
    nulls_distinct: bool = True


class ColumnDefinition(Node):
    name: str
    type: TypeName
    default: Expression | None = None
    not_null: bool = False
    constraints: tuple[Constraint, ...] = ()
    identity: SequenceOptions | None = None
    always: bool = False
    generated: Expression | None = None


class MergeClause(Node):
    """WHEN [NOT] MATCHED [AND condition] THEN: assignments for UPDATE, none of them for DELETE, values for INSERT."""

    matched: bool
    condition: Expression | None
    assignments: tuple[Assignment, ...]
    columns: Parts
    values: tuple[Expression, ...]


class Merge(Statement):
    table: Parts
    alias: str
    source: FromItem
    condition: Expression
    clauses: tuple[MergeClause, ...]


class SequenceOptions(Node):
    """Options of a sequence; None where nothing is said."""

    type: TypeName | None = None
    start: int | None = None
    increment: int | None = None
    minimum: int | None = None
    maximum: int | None = None
    cycle: bool = False


class CreateSequence(Statement):
    name: Parts
    options: SequenceOptions


class AlterSequence(Statement):
    """ALTER SEQUENCE name [RESTART [WITH n]] options."""

    name: Parts
    restart: bool
    start: int | None
    options: SequenceOptions


class Truncate(Statement):
    """TRUNCATE TABLE name [CONTINUE | RESTART IDENTITY]."""

    table: Parts
    restart: bool = False


class CreateTable(Statement):
    name: Parts
    columns: tuple[ColumnDefinition, ...]
    constraints: tuple[Constraint, ...] = ()
    if_absent: bool = False
    likes: tuple[LikeTable, ...] = ()
    query: Query | None = None
    """Of CREATE TABLE ... AS."""
    query_columns: Parts = ()
    with_data: bool = True
    temporary: str = ""
    """`global`, `local` or empty."""
    preserve: bool = False
    """Of a temporary table: ON COMMIT PRESERVE ROWS."""


class LikeTable(Node):
    """LIKE table in a table definition; `position` is the number of columns before it; `including` may hold identity,
    defaults and generated."""

    table: Parts
    position: int
    including: Parts = ()


class CreateSchema(Statement):
    name: Parts
    elements: tuple[Statement, ...] = ()


class CreateModule(Statement):
    """CREATE MODULE name DECLARE routine or local temporary table; ... END MODULE."""

    name: Parts
    elements: tuple[Statement, ...] = ()


class CreateDomain(Statement):
    """A type with a default and CHECK constraints over VALUE."""

    name: Parts
    type: TypeName
    default: Expression | None = None
    constraints: tuple[Constraint, ...] = ()


class AlterDomain(Statement):
    """Verbs: set default, drop default, add constraint, drop constraint."""

    name: Parts
    verb: str
    value: Expression | None = None
    constraint: Constraint | None = None
    dropped: str = ""


class CreateType(Statement):
    """CREATE TYPE name AS type: a distinct type."""

    name: Parts
    type: TypeName


class AlterTable(Statement):
    """Verbs: add column, drop column, add constraint, drop constraint, alter constraint, and of a column: set default,
    drop default, set not null, drop not null, set type, restart, drop identity, drop expression, set generated."""

    table: Parts
    verb: str
    name: str = ""
    column: ColumnDefinition | None = None
    constraint: Constraint | None = None
    value: Expression | None = None
    type: TypeName | None = None
    cascade: bool = False
    start: int | None = None
    restrict: bool = False


class CreateView(Statement):
    """`check` is empty, local or cascaded."""

    name: Parts
    columns: Parts
    query: Query
    replace: bool = False
    check: str = ""
    recursive: bool = False


class Drop(Statement):
    """Kinds: table, view, function, procedure, routine, sequence, trigger, schema, module, domain, type. `types` are
    those of a routine's parameters, None when not given; `specific` says that the name is the specific one."""

    kind: str
    name: Parts
    if_exists: bool = False
    cascade: bool = False
    types: tuple[TypeName, ...] | None = None
    specific: bool = False
    restrict: bool = False


class AlterRoutine(Statement):
    """ALTER FUNCTION, PROCEDURE or ROUTINE: other characteristics."""

    kind: str
    name: Parts
    types: tuple[TypeName, ...] | None
    deterministic: bool | None
    access: str
    result_sets: int | None
    null_call: bool | None = None


class CreateTrigger(Statement):
    """Timings: before, after, instead. Events: insert, update, delete; `columns` of UPDATE OF. `old` and `new` name the
    rows, `old_table` and `new_table` all rows of the statement."""

    name: Parts
    timing: str
    event: str
    columns: Parts
    table: Parts
    old: str
    new: str
    each_row: bool
    condition: Expression | None
    body: Statement
    old_table: str = ""
    new_table: str = ""


class Parameter(Node):
    """Modes: in, out, inout."""

    name: str
    type: TypeName
    mode: str = "in"
    default: Expression | None = None


class ResultColumn(Node):
    """A column of RETURNS TABLE (...)."""

    name: str
    type: TypeName


class CreateRoutine(Statement):
    """Kinds: function, procedure. A table function has `table` and no `returns`."""

    kind: str
    name: Parts
    parameters: tuple[Parameter, ...]
    body: Statement
    returns: TypeName | None = None
    table: tuple[ResultColumn, ...] = ()
    replace: bool = False
    deterministic: bool = False
    access: str = ""
    specific: str = ""
    result_sets: int = 0
    null_call: bool = True
    """False: RETURNS NULL ON NULL INPUT."""
    new_level: bool = False
    """NEW SAVEPOINT LEVEL: the savepoints of its caller are out of its reach, and its own end with it."""


# ---- control statements (ISO/IEC 9075-4) ----------------------------------------------------------------------------


class Call(Statement):
    name: Parts
    arguments: tuple[Argument, ...]


class DeclareVariable(Node):
    names: Parts
    type: TypeName
    default: Expression | None = None


class DeclareCondition(Node):
    name: str
    sqlstate: str = ""


class DeclareCursor(Node):
    """A cursor over a query, or over a prepared statement. Sensitivity is empty, sensitive, insensitive or asensitive;
    `returns` says that its result set goes to the caller (or, with `client`, to whoever called from outside)."""

    name: str
    query: Query | None
    statement: str = ""
    sensitivity: str = ""
    scroll: bool = False
    hold: bool = False
    returns: bool = False


class DeclareHandler(Node):
    """Kinds: continue, exit, undo. Conditions are SQLSTATEs (5 characters), names, or the general words."""

    kind: str
    conditions: tuple[str, ...]
    action: Statement


class Block(Statement):
    """[label:] BEGIN [ATOMIC] ... END."""

    body: tuple[Statement, ...]
    declarations: tuple[Node, ...] = ()
    atomic: bool = False
    label: str = ""


class SetVariable(Statement):
    """SET target = value, or SET (a, b) = (row or query); SET a = 1, b = 2 is a row too."""

    targets: tuple[Target, ...]
    value: Expression


class If(Statement):
    """Conditions with their statements, in order; `otherwise` last."""

    arms: tuple[tuple[Expression, tuple[Statement, ...]], ...]
    otherwise: tuple[Statement, ...] | None = None


class CaseStatement(Statement):
    operand: Expression | None
    arms: tuple[tuple[tuple[Expression, ...], tuple[Statement, ...]], ...]
    otherwise: tuple[Statement, ...] | None = None


class While(Statement):
    condition: Expression
    body: tuple[Statement, ...]
    label: str = ""


class Loop(Statement):
    body: tuple[Statement, ...]
    label: str = ""


class Repeat(Statement):
    body: tuple[Statement, ...]
    until: Expression
    label: str = ""


class For(Statement):
    """FOR name AS [cursor [sensitivity] CURSOR FOR] query DO ... END FOR."""

    name: str
    query: Query
    body: tuple[Statement, ...]
    cursor: str = ""
    label: str = ""
    sensitivity: str = ""


class Waymark(Statement):
    """`--@ name`: a point of a body at which a case may look at variables."""

    name: str


class Leave(Statement):
    label: str


class Iterate(Statement):
    label: str


class Return(Statement):
    """RETURN value, RETURN TABLE (query) or RETURN query."""

    value: Expression | None = None
    query: Query | None = None


class Open(Statement):
    cursor: DynamicName
    using: tuple[Expression, ...] = ()
    using_descriptor: Expression | None = None


class Fetch(Statement):
    """Orientations: next, prior, first, last, absolute, relative (the last two with a position)."""

    cursor: DynamicName
    targets: tuple[Target, ...]
    orientation: str = "next"
    position: Expression | None = None
    into_descriptor: Expression | None = None


class Close(Statement):
    cursor: DynamicName


class Signal(Statement):
    """SIGNAL and RESIGNAL: a state, a condition name or neither; items are (name, value)."""

    again: bool
    sqlstate: str = ""
    condition: str = ""
    items: tuple[tuple[str, Expression], ...] = ()


class GetDiagnostics(Statement):
    """`condition` tells GET DIAGNOSTICS CONDITION n; `stacked` looks at what a handler handles."""

    items: tuple[tuple[Reference, str], ...]
    condition: Expression | None = None
    stacked: bool = False
    all: Reference | None = None
    """GET DIAGNOSTICS target = ALL."""
    part: str = ""
    """Of ALL: empty for both, or `statement` or `condition`."""


# ---- dynamic SQL (ISO/IEC 9075-2 clause 20) --------------------------------------------------------------------------


class Prepare(Statement):
    name: DynamicName
    text: Expression


class Execute(Statement):
    """EXECUTE name [INTO targets] [USING values]; a descriptor can stand for either."""

    name: DynamicName
    using: tuple[Expression, ...] = ()
    into: tuple[Reference, ...] = ()
    using_descriptor: Expression | None = None
    into_descriptor: Expression | None = None


class ExecuteImmediate(Statement):
    text: Expression


class Deallocate(Statement):
    """DEALLOCATE PREPARE name."""

    name: DynamicName


class AllocateCursor(Statement):
    """ALLOCATE name ... CURSOR FOR statement: a cursor that a value names."""

    name: Expression
    statement: DynamicName
    scroll: bool = False
    hold: bool = False
    returns: bool = False


class AllocateDescriptor(Statement):
    """ALLOCATE DESCRIPTOR name [WITH MAX n]; without `allocate` DEALLOCATE DESCRIPTOR."""

    name: Expression
    maximum: Expression | None = None
    allocate: bool = True


class Describe(Statement):
    """DESCRIBE: the output or input of a prepared statement, or the structure of a cursor (`what`)."""

    what: str
    name: DynamicName
    descriptor: Expression


class GetDescriptor(Statement):
    """GET DESCRIPTOR name [VALUE number] target = item, ...; without a number the items are COUNTs."""

    name: Expression
    number: Expression | None
    items: tuple[tuple[Reference, str], ...]


class SetDescriptor(Statement):
    """SET DESCRIPTOR name [VALUE number] item = value, ...; without a number the item is COUNT."""

    name: Expression
    number: Expression | None
    items: tuple[tuple[str, Expression], ...]


class Explain(Statement):
    """EXPLAIN statement: how it is planned, and how many rows each step gave."""

    statement: Statement


class LockTable(Statement):
    """LOCK TABLE t IN mode MODE: share or exclusive, as words before MODE."""

    tables: tuple[Parts, ...]
    mode: str
    wait: float | None = None


# ---- transactions ---------------------------------------------------------------------------------------------------


class StartTransaction(Statement):
    """Characteristics are words such as `read only`, `isolation serializable`."""

    modes: tuple[str, ...] = ()


class SetTransaction(Statement):
    modes: tuple[str, ...] = ()
    local: bool = False


class SetConstraints(Statement):
    """SET CONSTRAINTS names | ALL {DEFERRED | IMMEDIATE}; no names for ALL."""

    names: tuple[Parts, ...]
    deferred: bool


class SetSchema(Statement):
    name: Expression


class SetSession(Statement):
    """SET SESSION setting: `autocommit` on or off, `characteristics` with the modes of a transaction."""

    setting: str
    value: str | tuple[str, ...]


class Commit(Statement):
    chain: bool = False


class Rollback(Statement):
    """With `savepoint`: ROLLBACK TO SAVEPOINT."""

    savepoint: str = ""
    chain: bool = False


class Savepoint(Statement):
    name: str


class ReleaseSavepoint(Statement):
    name: str
