"""ALTER TABLE: the table is built anew from its changed definition, and its rows are copied (ISO/IEC 9075-2 clauses
11.10 to 11.31)."""

from __future__ import annotations

from collections.abc import Iterable

from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.sources import elsewhere, view_query
from glimb.engine.binding.statements import bind_column
from glimb.engine.catalog.dependents import Dependent, dependents
from glimb.engine.catalog.objects import (
    Trigger,
    View,
)
from glimb.engine.definition.context import Definition
from glimb.engine.definition.drop import drop_reference, drop_users, fits
from glimb.engine.definition.references import listed, unrefer
from glimb.engine.definition.settling import settled
from glimb.engine.definition.tables import build_table
from glimb.engine.storage.table import ForeignKey, Sequence, Table
from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import convert
from glimb.engine.values.types import assignable
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import ProblemError, nearest

# -- ALTER TABLE: a new table is built from the changed definition, and takes the rows of the old one


def alter_table(d: Definition, node: tree.AlterTable) -> None:
    """ALTER TABLE, all of it or nothing; 42893 while others use what is to go."""
    old = d.binder.base_table(node.table, node)
    if old.temporary:
        d.binder.fail("42601", f"{old.name} is a temporary table", node, "drop it, and create it anew")
    d.session.claims.own(old)
    assert old.definition is not None
    narrows = node.verb in ("drop column", "drop constraint", "set type")
    users = [u for u in dependents(d.catalog, "relations", old.name) if fits(d, u)] if narrows else []
    columns = {u.key: _view_columns(d, u) for u in users}
    if node.verb in ("drop column", "drop constraint") and node.cascade:
        _drop_references(d, old, node)
    for foreign in old.foreign:
        unrefer(d, foreign.target.referenced, foreign)
    d.change("relations", old.name, None)
    own = {part: settled(d, getattr(node, part), old.name) for part in ("column", "constraint", "value", "type")}
    changed = _altered(d, old, old.definition, replace(node, **own))
    with elsewhere(d.binder, d.source, ""):
        new = build_table(d, changed, {c.name: (c.text, c.source) for c in old.checks})
    for column in new.columns:
        before = old.columns[old.positions[column.name]] if column.name in old.positions else None
        if before is not None and before.identity is not None and column.identity is not None:
            column.identity = _same_sequence(before.identity, node, column.name)
    d.change("relations", old.name, new)
    _move_references(d, old, new, node)
    _copy_rows(d, old, new, node)
    lost = [u for u in users if not fits(d, u) or _view_columns(d, u) != columns[u.key]]
    for trigger in d.catalog.triggers_of(old):
        if any(c not in new.positions for c in trigger.definition.columns):
            lost.append(Dependent("triggers", trigger.name, trigger))
            continue
        moved = Trigger(trigger.definition, trigger.source, new, trigger.number)
        moved.name, moved.schema = trigger.name, trigger.schema
        d.change("triggers", trigger.name, moved)
        user = Dependent("triggers", trigger.name, moved)
        if not fits(d, user):
            lost.append(user)
    drop_users(d, lost, node.name or old.name, node)
    d.session.shared.locks.rename(old, new)


def _view_columns(d: Definition, user: Dependent) -> tuple[str, ...]:
    """Of a view: the names of its columns; those of `*` are those that there were when it was made."""
    view = user.object
    if not isinstance(view, View):
        return ()
    try:
        return tuple(c.name for c in view_query(binding_for(d.catalog, view.source), view, view.query).columns)
    except ProblemError:
        return ()


def _drop_references(d: Definition, table: Table, node: tree.AlterTable) -> None:
    """CASCADE: the foreign keys that refer to a key that goes, by its name or with a column of it."""
    assert table.definition is not None
    columns = _going(table.definition.columns, node)
    going = {k.name for k in table.definition.constraints if k.name == node.name or columns & {*k.columns}}
    for foreign in [f for f in table.referenced if f.table is not table and f.target_index.name in going]:
        drop_reference(d, foreign, node)


def _same_sequence(sequence: Sequence, node: tree.AlterTable, column: str) -> Sequence:
    """The sequence of an identity column; RESTART gives it a new one that starts again."""
    if node.verb != "restart" or node.name != column:
        return sequence
    made = Sequence(sequence.name, sequence.type, sequence.start, sequence.increment, sequence.bounds, sequence.cycle)
    made.next = sequence.start if node.start is None else node.start
    return made


def _altered(d: Definition, table: Table, definition: tree.CreateTable, node: tree.AlterTable) -> tree.CreateTable:
    """The definition with the change."""
    columns, constraints = list(definition.columns), list(definition.constraints)
    if node.verb == "add column" and node.column is not None:
        if node.column.name in table.positions:
            d.binder.fail("42701", f"{table.name} has a column {node.column.name} already", node.column)
        columns.append(node.column)
    elif node.verb == "add constraint" and node.constraint is not None:
        constraints.append(node.constraint)
    elif node.verb == "alter constraint" and node.constraint is not None:
        places = [n for n, k in enumerate(constraints) if k.name == node.name]
        if not places:
            hint = nearest(node.name, [k.name for k in constraints])
            d.binder.fail("42704", f"{table.name} has no constraint {node.name}", node, hint)
        change = node.constraint
        constraints[places[0]] = replace(
            constraints[places[0]],
            enforced=change.enforced,
            deferrable=change.deferrable,
            deferred=change.deferred,
        )
    elif node.verb == "rebuild":
        pass
    elif node.verb == "drop constraint":
        kept = [k for k in constraints if k.name != node.name]
        if len(kept) == len(constraints):
            hint = nearest(node.name, [k.name for k in constraints])
            d.binder.fail("42704", f"{table.name} has no constraint {node.name}", node, hint)
        constraints = kept
    else:
        position = bind_column(d.binder, table, node.name, node)
        if node.verb == "drop column":
            _check_unused(d, constraints, columns, node)
            going = _going(columns, node)
            constraints = [k for k in constraints if not any(_uses(k, name) for name in going)]
            columns = [c for c in columns if c.name not in going]
        else:
            columns[position] = _altered_column(d, columns[position], node)
    if not columns:
        d.binder.fail("42601", "a table needs at least one column", node)
    return replace(definition, columns=tuple(columns), constraints=tuple(constraints))


def _altered_column(d: Definition, column: tree.ColumnDefinition, node: tree.AlterTable) -> tree.ColumnDefinition:
    if node.verb in ("set default", "drop default", "drop not null") and (column.identity or column.generated):
        given = "numbers of its own, and is never NULL" if column.identity else "what it is computed from"
        if column.identity or node.verb != "drop not null":
            d.binder.fail("42601", f"column {column.name} has {given}", node)  # 11.4, 11.12
    if node.verb in ("set default", "drop default"):
        return replace(column, default=node.value)
    if node.verb in ("set not null", "drop not null"):
        return replace(column, not_null=node.verb == "set not null")
    if node.verb in ("restart", "drop identity"):
        if column.identity is None:
            d.binder.fail("42704", f"column {column.name} is no identity column", node)
        return column if node.verb == "restart" else replace(column, identity=None, always=False)
    if node.verb == "drop expression":
        if column.generated is None:
            d.binder.fail("42704", f"column {column.name} is not generated", node)
        return replace(column, generated=None, always=False)
    return replace(column, type=node.type)


def _going(columns: Iterable[tree.ColumnDefinition], node: tree.AlterTable) -> set[str]:
    """The names of the columns that go with one that is dropped: those that are computed from it."""
    return {c.name for c in columns if c.name == node.name or (c.generated and _names(c.generated, node.name))}


def _check_unused(
    d: Definition, constraints: list[tree.Constraint], columns: list[tree.ColumnDefinition], node: tree.AlterTable
) -> None:
    """RESTRICT: a column stays while a constraint over several columns, or a generated one, uses it (11.19)."""
    others = [c.name for c in columns if c.name != node.name]
    users = [k.name for k in constraints if _uses(k, node.name) and any(_uses(k, other) for other in others)]
    users += [c.name for c in columns if c.generated is not None and _names(c.generated, node.name)]
    if users and not node.cascade:
        d.binder.fail("42893", f"{node.name} is used by {', '.join(users)}", node, "DROP ... CASCADE")


def _move_references(d: Definition, old: Table, new: Table, node: tree.AlterTable) -> None:
    """Foreign keys of the new table, and those of others that referred to the old one."""
    for foreign in new.foreign:
        listed(d, foreign.target.referenced, foreign)
    for foreign in [f for f in old.referenced if f.table is not old]:
        names = [old.columns[c].name for c in foreign.target_index.columns]
        found = next((i for i in new.indexes if i.key and [new.columns[c].name for c in i.columns] == names), None)
        if found is None:
            d.binder.fail("42893", f"{foreign.table.name} refers to this key of {old.name}", node)
        moved = ForeignKey(foreign.name, foreign.table, foreign.columns, new, (foreign.on_delete, foreign.on_update))
        moved.target_index, moved.child_index = found, foreign.child_index
        moved.match, moved.enforced = foreign.match, foreign.enforced
        moved.deferrable, moved.deferred = foreign.deferrable, foreign.deferred
        unrefer(d, foreign.table.foreign, foreign)
        listed(d, foreign.table.foreign, moved)
        listed(d, new.referenced, moved)


def _copy_rows(d: Definition, old: Table, new: Table, node: tree.Node) -> None:
    """Rows with their ids; each is converted and meets the constraints of the new table, or nothing is done."""
    compiler, session = d.session.shared.compiler, d.session
    for column in new.columns:
        before = old.columns[old.positions[column.name]].type if column.name in old.positions else column.type
        if not assignable(before, column.type):
            what = f"column {column.name} is {before}, its values cannot become {column.type}"
            d.binder.fail("42804", what, node, "add a column, and fill it by UPDATE with CAST")
    check = compiler.tables.validator(new)
    places = [old.positions.get(c.name) for c in new.columns]
    added = tuple(n for n, place in enumerate(places) if place is None)
    new.next_id = old.next_id
    for row in old.scan():
        defaults = iter(compiler.tables.defaults(new, added)(session, 1) if added else ())
        values = [
            next(defaults) if p is None else convert(row[p], old.columns[p].type, c.type, explicit=False)
            for p, c in zip(places, new.columns, strict=True)
        ]
        made = (*values, row[-1])
        if new.has_generated:
            made = compiler.tables.generator(new)(session, 1, made)
        check(session, 1, made)
        for index in new.indexes:
            key = index.get_key(made)
            if index.key and index.enforced and not index.has_null(key) and key in index.map:
                fail("23505", f"{new.name} has several rows with one key ({index.name})")
        new.put(row[-1], None, made)
    for number, condition in enumerate(new.checks):
        if condition.deferrable and condition.enforced:
            for made in new.scan():
                compiler.tables.check_code(new, number)(session, 1, made)
    for foreign in [f for f in new.foreign if f.enforced]:
        for made in new.scan():
            own = tuple(made[c] for c in foreign.columns)
            key = foreign.as_target(own)
            there = key[0] if foreign.target_index.single else key
            if None not in own and (None in key or there not in foreign.target_index.map):
                fail("23503", f"{foreign.target.name} has no row for a row of {new.name} ({foreign.name})")


def _names(expression: tree.Expression, column: str) -> bool:
    """Whether an expression names a column."""
    return any(isinstance(n, tree.Reference) and n.parts[-1] == column for n in walk(expression))


def _uses(constraint: tree.Constraint, column: str) -> bool:
    """Whether a constraint is about a column."""
    return column in constraint.columns or (constraint.condition is not None and _names(constraint.condition, column))
