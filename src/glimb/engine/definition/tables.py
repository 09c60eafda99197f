"""CREATE TABLE (ISO/IEC 9075-2 clause 11.3)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import expression
from glimb.engine.binding.queries import bind_query
from glimb.engine.binding.sources import elsewhere
from glimb.engine.binding.stored import row_scope
from glimb.engine.definition.constraints import add_constraint
from glimb.engine.definition.context import Definition, Texts
from glimb.engine.definition.references import listed
from glimb.engine.definition.sequences import sequence_of
from glimb.engine.definition.settling import settled
from glimb.engine.definition.type_names import type_name
from glimb.engine.storage.table import ColumnInfo, Table
from glimb.lang import tree
from glimb.lang.node import replace, rewrite, walk

# -- tables


def create_table(d: Definition, node: tree.CreateTable) -> None:
    """CREATE TABLE, of columns, of another table's (LIKE), or of a query."""
    name = d.new_key("relations", node.name, node)
    if name in d.catalog.relations:
        if node.if_absent:
            return
        d.binder.fail("42710", f"{d.catalog.relations[name].kind} {name} exists already", node)
    query = None
    if node.query is not None:
        query = bind_query(d.binder, node.query)
        node = _table_of_query(d, node, query)
    made, constraints = settled(d, (node.columns, node.constraints), name)
    node = replace(_with_likes(d, replace(node, columns=made, constraints=constraints)), name=(name,))
    with elsewhere(d.binder, d.source, ""):
        table = build_table(d, node, {})
    if node.temporary:
        table.temporary, table.source = ("preserve" if node.preserve else "delete"), d.source
        if table.foreign:
            d.binder.fail("42601", "a temporary table has no foreign keys", node)
    d.change("relations", name, table)
    for foreign in table.foreign:
        listed(d, foreign.target.referenced, foreign)
    if query is not None and node.with_data:
        insert = tree.Insert((name,), (), node.query, span=node.span)
        d.session.shared.compiler.statement_now(d.session, insert, d.source)


def _table_of_query(d: Definition, node: tree.CreateTable, query: R.Query) -> tree.CreateTable:
    """CREATE TABLE ... AS: the columns of a query."""
    names = node.query_columns or tuple(c.name for c in query.columns)
    if len(names) != len(query.columns):
        d.binder.fail("42601", f"{len(names)} names for {len(query.columns)} columns", node)
    columns = []
    for name, column in zip(names, query.columns, strict=True):
        if column.type.kind == "null":
            d.binder.fail("42804", f"column {name} has no type", node, "CAST(NULL AS ...)")
        columns.append(tree.ColumnDefinition(name, type_name(column.type), span=node.span))
    return replace(node, columns=tuple(columns))


def _with_likes(d: Definition, node: tree.CreateTable) -> tree.CreateTable:
    """LIKE table: the columns of another table, with what is included (T171, T173)."""
    columns = list(node.columns)
    for like in reversed(node.likes):
        other = d.binder.base_table(like.table, like)
        assert other.definition is not None
        copied = []
        for column, info in zip(other.definition.columns, other.columns, strict=True):
            column = replace(column, not_null=info.not_null, constraints=())
            if "identity" not in like.including:
                column = replace(column, identity=None, always=column.always and column.generated is not None)
            if "defaults" not in like.including:
                column = replace(column, default=None)
            if "generated" not in like.including:
                column = replace(column, generated=None, always=column.always and column.identity is not None)
            copied.append(column)
        columns[like.position : like.position] = copied
    return replace(node, columns=tuple(columns), likes=())


def build_table(d: Definition, node: tree.CreateTable, texts: Texts) -> Table:
    """A table with its columns, keys and constraints; `texts` are those of CHECKs that were there before."""
    node = replace(node, columns=_typed(d, node.columns))
    columns = [_column(d, c) for c in node.columns]
    second = next((c for c in [c for c in node.columns if c.identity is not None][1:]), None)
    if second is not None:
        d.binder.fail("42601", f"{node.name[-1]} has an identity column before {second.name}", second)
    for number, column in enumerate(columns):
        if any(c.name == column.name for c in columns[:number]):
            d.binder.fail("42701", f"column {column.name} is defined twice", node.columns[number])
    table = Table(node.name[-1], columns)
    constraints = [k for c in node.columns for k in c.constraints] + list(node.constraints)
    constraints += [k for c in node.columns for k in _domain_checks(d, c, constraints)]
    constraints.sort(key=lambda k: (k.kind == "foreign", not k.name))  # which may refer to a key of the table
    named = [add_constraint(d, table, k, texts) for k in constraints]
    if table.has_generated:
        _check_generated(d, table)
    bare = tuple(replace(c, constraints=(), not_null=i.not_null) for c, i in zip(node.columns, columns, strict=True))
    kept = tuple(k for k in named if k.kind != "not null")
    table.definition = replace(node, columns=bare, constraints=kept, if_absent=False, query=None)
    return table


def _typed(d: Definition, columns: tuple[tree.ColumnDefinition, ...]) -> tuple[tree.ColumnDefinition, ...]:
    """The columns, those that are generated without a type with that of their expression (11.4)."""
    known = [ColumnInfo(c.name, d.binder.type(c.type), False, None) for c in columns if c.type != tree.UNTYPED]
    scope, _ = row_scope(d.binder, Table("", known), "")
    found = []
    for column in columns:
        if column.type == tree.UNTYPED:
            if column.generated is None:
                d.binder.fail("42601", f"column {column.name} has no type", column)
            with d.binder.scoped(scope, "in a generated column"):
                type_ = expression(d.binder, column.generated).type
            if type_.kind == "null":
                d.binder.fail("42804", f"column {column.name} has no type", column, "CAST(NULL AS ...)")
            column = replace(column, type=type_name(type_))
        found.append(column)
    return tuple(found)


def _domain_checks(d: Definition, column: tree.ColumnDefinition, known: list[tree.Constraint]) -> list[tree.Constraint]:
    """The CHECKs of a column's domain, over the column."""
    if column.type.fields or column.type.element is not None:
        return []
    domain = d.binder.domain(column.type)
    if domain is None:
        return []
    reference = tree.Reference((column.name,), span=column.span)
    found = []
    for check in domain.checks:
        condition = rewrite(
            check.condition,
            lambda n: reference if isinstance(n, tree.Reference) and n.parts == ("value",) else None,
        )
        name = f"{column.name}_{check.name}"
        if not any(k.name == name for k in known):
            found.append(tree.Constraint("check", name, (), condition, span=column.span))
            d.texts[name] = check.text, check.source
    return found


def _check_generated(d: Definition, table: Table) -> None:
    """Generated columns are over the other columns of their row."""
    scope, _ = row_scope(d.binder, table, table.name)
    for column in table.columns:
        if column.generated is not None:
            within = d.binder.only_reading("a generated column", column.generated)
            with d.binder.scoped(scope, "in a generated column"), within:
                value = expression(d.binder, column.generated)
                assign(d.binder, value, column.type, column.generated, f"column {column.name}")
            for part in walk(column.generated):
                other = part.parts[-1] if isinstance(part, tree.Reference) else ""
                if other and table.columns[table.positions[other]].generated is not None:
                    d.binder.fail("42601", f"{other} is generated itself", part)


def _column(d: Definition, node: tree.ColumnDefinition) -> ColumnInfo:
    type_ = d.binder.type(node.type)
    default = node.default
    domain = d.binder.domain(node.type) if not node.type.fields and node.type.element is None else None
    if default is None and domain is not None and node.identity is None and node.generated is None:
        default = domain.default
    if default is not None:
        assign(d.binder, expression(d.binder, default), type_, default, f"column {node.name}")
    kinds = {c.kind for c in node.constraints}
    column = ColumnInfo(node.name, type_, node.not_null or bool(kinds & {"primary", "not null"}), default)
    column.generated, column.always = node.generated, node.always
    if node.identity is not None:
        column.identity = sequence_of(d, node.name, node.identity, type_)
    if default is not None and (node.identity is not None or node.generated is not None):
        d.binder.fail("42601", f"column {node.name} cannot have a default and be generated", node)
    return column
