"""What binds each kind of statement and expression, and what areas of the binder need of areas above them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding.arithmetic import binary, difference, unary
from glimb.engine.binding.calls import bind_call
from glimb.engine.binding.changed_views import seen_through
from glimb.engine.binding.comparisons import (
    between,
    comparison,
    in_list,
    in_query,
    is_distinct,
    like,
    overlaps,
    quantified,
    similar,
)
from glimb.engine.binding.context import Areas, Binding
from glimb.engine.binding.control import (
    case_statement,
    for_statement,
    if_statement,
    iterate,
    leave,
    loop,
    return_statement,
)
from glimb.engine.binding.dynamic import (
    allocate_cursor,
    allocate_descriptor,
    bind_fetch,
    close_cursor,
    cursor_named,
    deallocate,
    describe,
    execute,
    execute_immediate,
    get_descriptor,
    open_cursor,
    prepare,
    set_descriptor,
)
from glimb.engine.binding.expressions import (
    array_query,
    bind_array,
    bind_case,
    bind_cast,
    bind_default,
    bind_element,
    bind_field,
    bind_reference,
    bind_row,
    bind_star,
    case_operand,
    exists,
    grouping,
    interval,
    is_null,
    is_truth,
    literal,
    logical,
    negation,
    next_value,
    placeholder,
    scalar_query,
    unique,
)
from glimb.engine.binding.hosts import host_variable
from glimb.engine.binding.queries import bind_over, bind_query, converted_columns, renamed
from glimb.engine.binding.routines import block, call_statement, change_statement, query_statement, waymark
from glimb.engine.binding.settings import (
    commit_or_rollback,
    explain,
    get_diagnostics,
    schema_statement,
    signal,
)
from glimb.engine.binding.sources import elsewhere
from glimb.engine.binding.statements import bind_insert, delete, merge, transaction, truncate, update
from glimb.engine.binding.targets import bind_receives, bind_target, select_into, set_variable
from glimb.engine.binding.windows import bind_window
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import Routine
from glimb.lang import tree
from glimb.lang.source import Source

STATEMENTS: dict[type, Callable[[Binding, Any], R.Stmt]] = {
    tree.QueryStatement: query_statement,
    tree.SelectInto: select_into,
    tree.Insert: bind_insert,
    tree.Update: update,
    tree.Delete: delete,
    tree.Truncate: truncate,
    tree.Merge: merge,
    tree.Call: call_statement,
    tree.SetVariable: set_variable,
    tree.Block: block,
    tree.Waymark: waymark,
    tree.If: if_statement,
    tree.CaseStatement: case_statement,
    tree.While: loop,
    tree.Loop: loop,
    tree.Repeat: loop,
    tree.For: for_statement,
    tree.Leave: leave,
    tree.Iterate: iterate,
    tree.Return: return_statement,
    tree.Open: open_cursor,
    tree.Fetch: bind_fetch,
    tree.Close: close_cursor,
    tree.Signal: signal,
    tree.GetDiagnostics: get_diagnostics,
    tree.Prepare: prepare,
    tree.Execute: execute,
    tree.ExecuteImmediate: execute_immediate,
    tree.Deallocate: deallocate,
    tree.AllocateCursor: allocate_cursor,
    tree.AllocateDescriptor: allocate_descriptor,
    tree.Describe: describe,
    tree.GetDescriptor: get_descriptor,
    tree.SetDescriptor: set_descriptor,
    tree.Explain: explain,
    **dict.fromkeys(
        (
            tree.CreateTable,
            tree.CreateView,
            tree.CreateRoutine,
            tree.CreateSequence,
            tree.AlterSequence,
            tree.CreateTrigger,
            tree.AlterTable,
            tree.Drop,
            tree.CreateSchema,
            tree.CreateModule,
            tree.CreateDomain,
            tree.AlterDomain,
            tree.CreateType,
            tree.AlterRoutine,
        ),
        schema_statement,
    ),
    tree.StartTransaction: transaction,
    tree.SetTransaction: transaction,
    tree.Savepoint: transaction,
    tree.ReleaseSavepoint: transaction,
    tree.Commit: commit_or_rollback,
    tree.Rollback: commit_or_rollback,
}
EXPRESSIONS: dict[type, Callable[[Binding, Any], R.Expr]] = {
    tree.Literal: literal,
    tree.IntervalLiteral: interval,
    tree.Reference: bind_reference,
    tree.HostVariable: host_variable,
    tree.Star: bind_star,
    tree.Placeholder: placeholder,
    tree.DefaultValue: bind_default,
    tree.NextValue: next_value,
    tree.Unary: unary,
    tree.Binary: binary,
    tree.Comparison: comparison,
    tree.Logical: logical,
    tree.Not: negation,
    tree.IsNull: is_null,
    tree.IsTruth: is_truth,
    tree.IsDistinct: is_distinct,
    tree.Between: between,
    tree.InList: in_list,
    tree.InQuery: in_query,
    tree.Like: like,
    tree.Similar: similar,
    tree.Overlaps: overlaps,
    tree.Difference: difference,
    tree.Unique: unique,
    tree.Grouping: grouping,
    tree.ArrayValue: bind_array,
    tree.ArrayQuery: array_query,
    tree.Element: bind_element,
    tree.Field: bind_field,
    tree.Exists: exists,
    tree.Quantified: quantified,
    tree.Subquery: scalar_query,
    tree.RowValue: bind_row,
    tree.CaseExpression: bind_case,
    tree.CaseOperand: case_operand,
    tree.Cast: bind_cast,
    tree.FunctionCall: bind_call,
}
AREAS = Areas(
    EXPRESSIONS,
    STATEMENTS,
    change_statement=change_statement,
    converted_columns=converted_columns,
    cursor_named=cursor_named,
    elsewhere=elsewhere,
    bind_over=bind_over,
    bind_query=bind_query,
    bind_receives=bind_receives,
    renamed=renamed,
    seen_through=seen_through,
    bind_target=bind_target,
    bind_window=bind_window,
)


def binding_for(
    catalog: Catalog,
    source: Source,
    routine: Routine | None = None,
    schema: str = "",
) -> Binding:
    """A binding of one text, with all areas of the binder behind it."""
    return Binding(AREAS, catalog, source, routine, schema)
