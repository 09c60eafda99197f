"""Keys, foreign keys and CHECKs of a table (ISO/IEC 9075-2 clauses 11.6 to 11.9)."""

from __future__ import annotations

from glimb.engine.binding.dispatch import bind_condition
from glimb.engine.binding.statements import bind_column
from glimb.engine.binding.stored import row_scope
from glimb.engine.definition.context import Definition, Texts
from glimb.engine.storage.indexes import Index
from glimb.engine.storage.table import CheckInfo, ForeignKey, Table
from glimb.engine.values.types import common
from glimb.lang import tree
from glimb.lang.node import replace


def add_constraint(d: Definition, table: Table, node: tree.Constraint, texts: Texts) -> tree.Constraint:
    """Add a constraint; gives it with its name."""
    if node.kind == "not null":
        return node
    name = _constraint_name(d, table, node)
    if node.kind in ("primary", "unique"):
        _add_key(d, table, node, name)
    elif node.kind == "check":
        assert node.condition is not None
        scope, _ = row_scope(d.binder, table, table.name)
        with d.binder.scoped(scope, "in CHECK"), d.binder.only_reading("a CHECK", node.condition):
            bind_condition(d.binder, node.condition, "CHECK")
        fresh = " ".join(d.source[node.condition.span].split()), d.source
        info = CheckInfo(name, node.condition, *(texts.get(name) or d.texts.get(name) or fresh))
        info.deferrable, info.deferred, info.enforced = node.deferrable, node.deferred, node.enforced
        table.checks.append(info)
    else:
        _add_foreign(d, table, node, name)
    return replace(node, name=name)


def _constraint_name(d: Definition, table: Table, node: tree.Constraint) -> str:
    kind = {"primary": "pk", "unique": "key", "check": "check", "foreign": "fk"}[node.kind]
    name = node.name or "_".join([table.short, *node.columns, kind])
    if node.name and name in table.constraint_names:
        d.binder.fail("42710", f"constraint {name} is defined twice", node)
    number = 1
    base = name
    while name in table.constraint_names:
        number += 1
        name = f"{base}{number}"
    table.constraint_names.add(name)
    return name


def _positions(d: Definition, table: Table, names: tuple[str, ...], node: tree.Node) -> tuple[int, ...]:
    for name in names:
        if names.count(name) > 1:
            d.binder.fail("42701", f"column {name} is named twice", node)
    return tuple(bind_column(d.binder, table, n, node) for n in names)


def _add_key(d: Definition, table: Table, node: tree.Constraint, name: str) -> None:
    index = Index(name, _positions(d, table, node.columns, node), True)
    for position in index.columns:
        if table.columns[position].type.kind in ("array", "row"):
            d.binder.fail("42804", f"a key cannot be over {table.columns[position].type}", node)
    index.deferrable, index.deferred, index.enforced = node.deferrable, node.deferred, node.enforced
    index.null_key = not node.nulls_distinct
    index.unique = not (index.deferrable or index.null_key) and index.enforced
    if node.kind == "primary":
        if table.primary is not None:
            d.binder.fail("42710", f"{table.name} has a primary key already", node)
        table.primary = index
        for position in index.columns:
            table.columns[position].not_null = True
        table.indexes.insert(0, index)
    else:
        table.indexes.append(index)


def _add_foreign(d: Definition, table: Table, node: tree.Constraint, name: str) -> None:
    own_key = d.binder.key("relations", node.target, node)
    target = table if own_key == table.name else d.binder.base_table(node.target, node)
    if target.temporary:
        d.binder.fail("42830", f"{target.name} is a temporary table", node)
    if node.target_columns:
        wanted = _positions(d, target, node.target_columns, node)
    elif target.primary is not None:
        wanted = target.primary.columns
    else:
        d.binder.fail("42830", f"{target.name} has no primary key", node, "name the columns")
    keys = [i for i in target.indexes if i.key and sorted(i.columns) == sorted(wanted)]
    found = next((i for i in keys if not i.deferrable), None)
    names = ", ".join(target.columns[c].name for c in wanted)
    if found is None and keys:
        d.binder.fail("42830", f"the key ({names}) of {target.name} is DEFERRABLE: nothing can refer to it", node)
    if found is None or len(wanted) != len(node.columns):
        d.binder.fail("42830", f"({names}) is no key of {target.name} for {len(node.columns)} columns", node)
    own = _positions(d, table, node.columns, node)
    columns = tuple(own[wanted.index(c)] for c in found.columns)
    for mine, theirs in zip(columns, found.columns, strict=True):
        a, b = table.columns[mine], target.columns[theirs]
        if common(a.type, b.type) is None:
            d.binder.fail("42830", f"{a.name} {a.type} cannot refer to {b.name} {b.type}", node)
    foreign = ForeignKey(name, table, columns, target, (node.on_delete, node.on_update))
    foreign.match, foreign.enforced = node.match, node.enforced
    foreign.deferrable, foreign.deferred = node.deferrable, node.deferred
    foreign.target_index = found
    child = next((i for i in table.indexes if i.columns == columns), None)
    if child is None:
        child = Index(name, columns, False)
        table.indexes.append(child)
    foreign.child_index = child
    table.foreign.append(foreign)
