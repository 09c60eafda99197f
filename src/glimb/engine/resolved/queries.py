"""The resolved tree: what the binder makes of a parsed statement. Every name is bound, every expression has a type.

What follows (planning, code generation) never looks a name up. A row source has a number; a column is the number of
its source and its position. `nullable` false means: proven never NULL."""

from __future__ import annotations

from typing import Any, NamedTuple

from glimb.engine.catalog.objects import Routine, SystemView
from glimb.engine.storage.table import Sequence, Table
from glimb.engine.values.search_cycle import Trail
from glimb.engine.values.types import Type
from glimb.lang.node import Node as Node
from glimb.lang.node import keyword_only
from glimb.lang.source import Source, Span


class Stmt(Node):
    """Whatever is executed inside a routine or on its own (see `statements`)."""


# ---- expressions ----------------------------------------------------------------------------------------------------


class Place(NamedTuple):
    """Where something stands whose outcomes are counted (see `outcomes.coverage`): a condition, or a CASE with its
    `arms`. A `part` of a condition that is a conjunction has others behind it: it alone does not make it true."""

    source: Source
    span: Span
    part: bool = False
    arms: tuple[Span, ...] = ()


class Expr(Node):
    """Whatever has a value of a known type."""

    type: Type
    nullable: bool
    place: Place | None = keyword_only(default=None, kw_only=True)


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
    """A built-in operation, by its name: NULL when an argument is. `constants` are what the binder knows beside the
    arguments, such as a number of digits (see `codegen.operations`)."""

    operation: str
    arguments: tuple[Expr, ...]
    constants: tuple[Any, ...] = ()


class Loose(Expr):
    """An operation that sees NULLs as None."""

    operation: str
    arguments: tuple[Expr, ...]
    constants: tuple[Any, ...] = ()


class Tuple(Expr):
    """An array or a row of these values."""

    items: tuple[Expr, ...]


class InDomain(Expr):
    """A value that must meet the CHECKs of a domain, in which Shared number `number` stands for it."""

    number: int
    operand: Expr
    checks: tuple[tuple[str, Expr], ...]


class GroupingCall(Expr):
    """GROUPING(...), until the groups of its query are known."""

    arguments: tuple[Expr, ...]
    owner: int


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
    exclude: str
    ignore_nulls: bool
    from_last: bool
    owner: int


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


class KnownRows:
    """Rows of plain values; no node, since nothing in it is looked at."""

    __slots__ = ("rows",)

    def __init__(self, rows: list[tuple[Any, ...]]) -> None:
        self.rows = rows


class Rows(Body):
    """VALUES; where every value of many rows is known, `rows` is empty and `known` has them."""

    rows: tuple[tuple[Expr, ...], ...]
    known: KnownRows | None = None


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
