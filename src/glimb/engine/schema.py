"""Schema statements at work: they make and drop objects of the catalog, and all they do is in the session's log."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glimb.engine.binder.routines import RoutineBinder, bind_trigger
from glimb.engine.catalog import (
    CheckInfo,
    ColumnInfo,
    ForeignKey,
    Index,
    ParameterInfo,
    Routine,
    Sequence,
    Table,
    Trigger,
    View,
)
from glimb.engine.conditions import fail
from glimb.engine.types import BIGINT, Type
from glimb.engine.values import convert
from glimb.lang import tree
from glimb.lang.node import replace, walk
from glimb.lang.problem import nearest
from glimb.lang.source import Source

if TYPE_CHECKING:
    from glimb.engine.session import Session


class Definer:
    """Carries out one schema statement."""

    def __init__(self, session: Session, source: Source) -> None:
        self.session = session
        self.source = source
        self.catalog = session.engine.catalog
        self.binder = RoutineBinder(self.catalog, source)

    def define(self, node: tree.Statement) -> Routine | Trigger | None:
        """Do it; gives a routine or trigger that has been made."""
        self.session.begin()
        if self.session.read_only:
            fail("25006", "the transaction is READ ONLY")
        if isinstance(node, tree.CreateTable):
            self._create_table(node)
        elif isinstance(node, tree.CreateView):
            self._create_view(node)
        elif isinstance(node, tree.CreateRoutine):
            return self._create_routine(node)
        elif isinstance(node, tree.AlterTable):
            self._alter_table(node)
        elif isinstance(node, tree.CreateTrigger):
            return self._create_trigger(node)
        elif isinstance(node, tree.CreateSequence):
            self._create_sequence(node)
        elif isinstance(node, tree.AlterSequence):
            self._restart(node)
        else:
            assert isinstance(node, tree.Drop)
            self._drop(node)
        return None

    # -- triggers

    def _create_trigger(self, node: tree.CreateTrigger) -> Trigger:
        name = node.name[-1]
        if name in self.catalog.triggers:
            self.binder.fail("42710", f"trigger {name} exists already", node)
        table = self.binder.base_table(node.table, node)
        for column in node.columns:
            self.binder._column(table, column, node)
        number = max((t.number for t in self.catalog.triggers.values()), default=0) + 1
        trigger = Trigger(node, self.source, table, number)
        self._change("triggers", name, trigger)
        return trigger

    # -- sequences

    def _create_sequence(self, node: tree.CreateSequence) -> None:
        name = node.name[-1]
        if name in self.catalog.sequences:
            self.binder.fail("42710", f"sequence {name} exists already", node)
        self._change("sequences", name, self._sequence(name, node.options, BIGINT))

    def _sequence(self, name: str, options: tree.SequenceOptions, default: Type) -> Sequence:
        """A sequence with the standard's defaults for what is not said."""
        type_ = self.binder.type(options.type) if options.type is not None else default
        if type_.family != "exact" or (type_.kind == "decimal" and type_.scale):
            self.binder.fail("42804", f"a sequence has whole numbers, not {type_}", options)
        increment = 1 if options.increment is None else options.increment
        if increment == 0:
            self.binder.fail("42601", "a sequence cannot go on by 0", options)
        limit = type_.limit - 1
        low = options.minimum if options.minimum is not None else 1 if increment > 0 else -limit
        high = options.maximum if options.maximum is not None else limit if increment > 0 else -1
        start = options.start if options.start is not None else low if increment > 0 else high
        if not -limit - 1 <= low <= start <= high <= limit:
            self.binder.fail(
                "42601", f"a sequence of {type_} cannot start at {start} between {low} and {high}", options
            )
        return Sequence(name, type_, start, increment, (low, high), options.cycle)

    def _restart(self, node: tree.AlterSequence) -> None:
        sequence = self.catalog.sequences.get(node.name[-1])
        if sequence is None:
            self.binder.fail("42704", f"there is no sequence {node.name[-1]}", node)
        value = sequence.start if node.restart is None else node.restart
        if not sequence.bounds[0] <= value <= sequence.bounds[1]:
            self.binder.fail("42601", f"{value} is outside the sequence", node)
        sequence.next = value

    def _change(self, space: str, name: str, value: object) -> None:
        self.catalog.change(self.session.log, space, name, value)

    # -- tables

    def _create_table(self, node: tree.CreateTable) -> None:
        name = node.name[-1]
        if name in self.catalog.relations:
            if node.if_absent:
                return
            self.binder.fail("42710", f"{self.catalog.relations[name].kind} {name} exists already", node)
        table = self._build_table(node, {})
        self._change("relations", name, table)
        for foreign in table.foreign:
            self._listed(foreign.target.referenced, foreign)

    def _build_table(self, node: tree.CreateTable, texts: dict[str, str]) -> Table:
        """A table with its columns, keys and constraints; `texts` are those of CHECKs that were there before."""
        columns = [self._column(c) for c in node.columns]
        for number, column in enumerate(columns):
            if any(c.name == column.name for c in columns[:number]):
                self.binder.fail("42701", f"column {column.name} is defined twice", node.columns[number])
        table = Table(node.name[-1], columns)
        constraints = [k for c in node.columns for k in c.constraints] + list(node.constraints)
        order = {"not null": 0, "primary": 0, "unique": 0, "check": 1, "foreign": 2}
        named = [
            self._add_constraint(table, k, texts)
            for k in sorted(constraints, key=lambda k: (order[k.kind], not k.name))
        ]
        if table.has_generated:
            self._check_generated(table)
        bare = tuple(
            replace(c, constraints=(), not_null=i.not_null) for c, i in zip(node.columns, columns, strict=True)
        )
        table.definition = tree.CreateTable(node.name, bare, tuple(k for k in named if k.kind != "not null"))
        return table

    def _check_generated(self, table: Table) -> None:
        """Generated columns are over the other columns of their row."""
        scope, _ = self.binder.row_scope(table, table.name)
        self.binder.scope, outer = scope, self.binder.scope
        self.binder.why_no_aggregate = "in a generated column"
        for column in table.columns:
            if column.generated is not None:
                value = self.binder.expression(column.generated)
                self.binder.assign(value, column.type, column.generated, f"column {column.name}")
                for part in walk(column.generated):
                    other = part.parts[-1] if isinstance(part, tree.Reference) else ""
                    if other and table.columns[table.positions[other]].generated is not None:
                        self.binder.fail("42601", f"{other} is generated itself", part)
        self.binder.scope = outer

    def _listed(self, keys: list[ForeignKey], foreign: ForeignKey) -> None:
        """Put a foreign key into a list of them; a logged change, like everything here."""
        self.session.log.append((_Listed(keys, foreign), None, None, None))
        keys.append(foreign)

    def _column(self, node: tree.ColumnDefinition) -> ColumnInfo:
        type_ = self.binder.type(node.type)
        default = node.default
        if default is not None:
            self.binder.assign(self.binder.expression(default), type_, default, f"column {node.name}")
        kinds = {c.kind for c in node.constraints}
        column = ColumnInfo(node.name, type_, node.not_null or bool(kinds & {"primary", "not null"}), default)
        column.generated, column.always = node.generated, node.always
        if node.identity is not None:
            column.identity = self._sequence(node.name, node.identity, type_)
        if default is not None and (node.identity is not None or node.generated is not None):
            self.binder.fail("42601", f"column {node.name} cannot have a default and be generated", node)
        return column

    def _add_constraint(self, table: Table, node: tree.Constraint, texts: dict[str, str]) -> tree.Constraint:
        """Add a constraint; gives it with its name."""
        if node.kind == "not null":
            return node
        name = self._constraint_name(table, node)
        if node.kind in ("primary", "unique"):
            self._add_key(table, node, name)
        elif node.kind == "check":
            assert node.condition is not None
            scope, _ = self.binder.row_scope(table, table.name)
            self.binder.scope, outer = scope, self.binder.scope
            self.binder.why_no_aggregate = "in CHECK"
            self.binder.condition(node.condition, "CHECK")
            self.binder.scope = outer
            text = texts.get(name) or " ".join(self.source[node.condition.span].split())
            table.checks.append(CheckInfo(name, node.condition, text))
        else:
            self._add_foreign(table, node, name)
        return replace(node, name=name)

    def _constraint_name(self, table: Table, node: tree.Constraint) -> str:
        kind = {"primary": "pk", "unique": "key", "check": "check", "foreign": "fk"}[node.kind]
        name = node.name or "_".join([table.name, *node.columns, kind])
        if node.name and name in table.constraint_names:
            self.binder.fail("42710", f"constraint {name} is defined twice", node)
        number = 1
        base = name
        while name in table.constraint_names:
            number += 1
            name = f"{base}{number}"
        table.constraint_names.add(name)
        return name

    def _positions(self, table: Table, names: tuple[str, ...], node: tree.Node) -> tuple[int, ...]:
        return tuple(self.binder._column(table, n, node) for n in names)

    def _add_key(self, table: Table, node: tree.Constraint, name: str) -> None:
        index = Index(name, self._positions(table, node.columns, node), True)
        if node.kind == "primary":
            if table.primary is not None:
                self.binder.fail("42710", f"{table.name} has a primary key already", node)
            table.primary = index
            for position in index.columns:
                table.columns[position].not_null = True
            table.indexes.insert(0, index)
        else:
            table.indexes.append(index)

    def _add_foreign(self, table: Table, node: tree.Constraint, name: str) -> None:
        target = table if node.target[-1] == table.name else self.binder.base_table(node.target, node)
        if node.target_columns:
            wanted = self._positions(target, node.target_columns, node)
        elif target.primary is not None:
            wanted = target.primary.columns
        else:
            self.binder.fail("42830", f"{target.name} has no primary key", node, "name the columns")
        found = next((i for i in target.indexes if i.unique and sorted(i.columns) == sorted(wanted)), None)
        if found is None or len(wanted) != len(node.columns):
            names = ", ".join(target.columns[c].name for c in wanted)
            self.binder.fail("42830", f"({names}) is no key of {target.name} for {len(node.columns)} columns", node)
        own = self._positions(table, node.columns, node)
        columns = tuple(own[wanted.index(c)] for c in found.columns)
        for mine, theirs in zip(columns, found.columns, strict=True):
            a, b = table.columns[mine], target.columns[theirs]
            same = a.type.family == b.type.family and a.type.scale == b.type.scale
            if not same or (a.type.kind == "char") != (b.type.kind == "char"):
                self.binder.fail("42830", f"{a.name} {a.type} cannot refer to {b.name} {b.type}", node)
        foreign = ForeignKey(name, table, columns, target, (node.on_delete, node.on_update))
        foreign.target_index = found
        child = next((i for i in table.indexes if i.columns == columns), None)
        if child is None:
            child = Index(name, columns, False)
            table.indexes.append(child)
        foreign.child_index = child
        table.foreign.append(foreign)

    # -- ALTER TABLE: a new table is built from the changed definition, and takes the rows of the old one

    def _alter_table(self, node: tree.AlterTable) -> None:
        old = self.binder.base_table(node.table, node)
        others = [s.name for s in old.writers if s is not self.session]
        if others:
            self.binder.fail("42893", f"{old.name} has uncommitted changes of {', '.join(others)}", node)
        assert old.definition is not None
        for foreign in old.foreign:
            self._unrefer(foreign.target.referenced, foreign)
        self._change("relations", old.name, None)
        new = self._build_table(self._altered(old, old.definition, node), {c.name: c.text for c in old.checks})
        for column in new.columns:
            before = old.columns[old.positions[column.name]] if column.name in old.positions else None
            if before is not None and before.identity is not None:
                column.identity = before.identity
        self._change("relations", old.name, new)
        self._move_references(old, new, node)
        self._copy_rows(old, new)
        for trigger in self.catalog.triggers_of(old):
            moved = Trigger(trigger.definition, trigger.source, new, trigger.number)
            self._change("triggers", trigger.name, moved)
            bind_trigger(self.catalog, moved)
        self.session.engine.locks.rename(old, new)

    def _altered(self, table: Table, definition: tree.CreateTable, node: tree.AlterTable) -> tree.CreateTable:
        """The definition with the change."""
        columns, constraints = list(definition.columns), list(definition.constraints)
        if node.verb == "add column" and node.column is not None:
            if node.column.name in table.positions:
                self.binder.fail("42701", f"{table.name} has a column {node.column.name} already", node.column)
            columns.append(node.column)
        elif node.verb == "add constraint" and node.constraint is not None:
            constraints.append(node.constraint)
        elif node.verb == "drop constraint":
            kept = [k for k in constraints if k.name != node.name]
            if len(kept) == len(constraints):
                hint = nearest(node.name, [k.name for k in constraints])
                self.binder.fail("42704", f"{table.name} has no constraint {node.name}", node, hint)
            constraints = kept
        else:
            position = self.binder._column(table, node.name, node)
            if node.verb == "drop column":
                self._check_unused(constraints, columns, node)
                constraints = [k for k in constraints if not _uses(k, node.name)]
                del columns[position]
            else:
                columns[position] = self._altered_column(columns[position], node)
        if not columns:
            self.binder.fail("42601", "a table needs at least one column", node)
        return tree.CreateTable(definition.name, tuple(columns), tuple(constraints))

    def _altered_column(self, column: tree.ColumnDefinition, node: tree.AlterTable) -> tree.ColumnDefinition:
        if node.verb in ("set default", "drop default"):
            return replace(column, default=node.value)
        if node.verb in ("set not null", "drop not null"):
            return replace(column, not_null=node.verb == "set not null")
        return replace(column, type=node.type)

    def _check_unused(
        self, constraints: list[tree.Constraint], columns: list[tree.ColumnDefinition], node: tree.AlterTable
    ) -> None:
        """RESTRICT: a column stays while a constraint over several columns, or a generated one, uses it."""
        users = [k.name for k in constraints if _uses(k, node.name) and (len(k.columns) > 1 or k.kind == "check")]
        users += [c.name for c in columns if c.generated is not None and _names(c.generated, node.name)]
        if users and not node.cascade:
            self.binder.fail("42893", f"{node.name} is used by {', '.join(users)}", node, "DROP ... CASCADE")

    def _move_references(self, old: Table, new: Table, node: tree.AlterTable) -> None:
        """Foreign keys of the new table, and those of others that referred to the old one."""
        for foreign in new.foreign:
            self._listed(foreign.target.referenced, foreign)
        for foreign in [f for f in old.referenced if f.table is not old]:
            names = [old.columns[c].name for c in foreign.target_index.columns]
            found = next(
                (i for i in new.indexes if i.unique and [new.columns[c].name for c in i.columns] == names), None
            )
            if found is None:
                self.binder.fail("42893", f"{foreign.table.name} refers to this key of {old.name}", node)
            moved = ForeignKey(
                foreign.name, foreign.table, foreign.columns, new, (foreign.on_delete, foreign.on_update)
            )
            moved.target_index, moved.child_index = found, foreign.child_index
            self._unrefer(foreign.table.foreign, foreign)
            self._listed(foreign.table.foreign, moved)
            self._listed(new.referenced, moved)

    def _copy_rows(self, old: Table, new: Table) -> None:
        """Rows with their ids; each is converted and meets the constraints of the new table, or nothing is done."""
        compiler, session = self.session.engine.compiler, self.session
        check = compiler.validator(new)
        places = [old.positions.get(c.name) for c in new.columns]
        new.next_id = old.next_id
        for row in old.scan():
            defaults = compiler.defaults(new)(session, 1) if None in places else ()
            values = [
                defaults[n] if p is None else convert(row[p], old.columns[p].type, c.type, explicit=False)
                for n, (p, c) in enumerate(zip(places, new.columns, strict=True))
            ]
            made = (*values, row[-1])
            if new.has_generated:
                made = compiler.generator(new)(session, 1, made)
            check(session, 1, made)
            for index in new.indexes:
                key = index.get_key(made)
                if index.unique and not index.has_null(key) and key in index.map:
                    fail("23505", f"{new.name} has several rows with one key ({index.name})")
            new.put(row[-1], None, made)
        for foreign in new.foreign:
            for made in new.scan():
                key = foreign.child_index.get_key(made)
                if not foreign.child_index.has_null(key) and key not in foreign.target_index.map:
                    fail("23503", f"{foreign.target.name} has no row for a row of {new.name} ({foreign.name})")

    # -- views and routines

    def _create_view(self, node: tree.CreateView) -> None:
        name = node.name[-1]
        existing = self.catalog.relations.get(name)
        if existing is not None and not (node.replace and isinstance(existing, View)):
            self.binder.fail("42710", f"{existing.kind} {name} exists already", node)
        view = View(name, node.columns, node.query, self.source)
        self.binder.view_query(view, node)
        self._change("relations", name, view)

    def _create_routine(self, node: tree.CreateRoutine) -> Routine:
        routine = self.make_routine(node)
        group = self.catalog.routines.get(routine.name, ())
        types = [p.type for p in routine.parameters]
        same = [r for r in group if [p.type for p in r.parameters] == types]
        if same and not node.replace:
            self.binder.fail(
                "42710", f"{same[0].kind_word} {same[0].signature} exists already", node, "CREATE OR REPLACE"
            )
        if group and group[0].kind != routine.kind:
            self.binder.fail("42710", f"{routine.name} is a {group[0].kind_word} already", node)
        kept = tuple(r for r in group if r not in same)
        self._change("routines", routine.name, (*kept, routine))
        return routine

    def make_routine(self, node: tree.CreateRoutine) -> Routine:
        """The routine of a definition, with the types of its parameters; its body is not yet looked at."""
        parameters = []
        for number, parameter in enumerate(node.parameters):
            if any(p.name == parameter.name for p in node.parameters[:number]):
                self.binder.fail("42701", f"parameter {parameter.name} is defined twice", parameter)
            type_ = self.binder.type(parameter.type)
            if parameter.default is not None:
                self.binder.assign(self.binder.expression(parameter.default), type_, parameter.default, parameter.name)
            parameters.append(ParameterInfo(parameter.name, type_, parameter.mode, parameter.default))
        returns = self.binder.type(node.returns) if node.returns is not None else None
        table = tuple((c.name, self.binder.type(c.type)) for c in node.table)
        return Routine(node, self.source, tuple(parameters), returns, table)

    # -- DROP

    def _drop(self, node: tree.Drop) -> None:
        name = node.name[-1]
        if node.kind in ("sequence", "trigger"):
            if name in getattr(self.catalog, f"{node.kind}s"):
                self._change(f"{node.kind}s", name, None)
            elif not node.if_exists:
                self.binder.fail("42704", f"there is no {node.kind} {name}", node)
            return
        if node.kind in ("table", "view"):
            self._drop_relation(node, name)
            return
        group = self.catalog.routines.get(name, ())
        found = tuple(r for r in group if node.kind in ("routine", r.kind))
        if not found:
            if node.if_exists:
                return
            self.binder.fail("42704", f"there is no {node.kind} {name}", node)
        if len(found) > 1:
            self.binder.fail("42725", f"there are several: {', '.join(r.signature for r in found)}", node)
        self._change("routines", name, tuple(r for r in group if r not in found) or None)

    def _drop_relation(self, node: tree.Drop, name: str) -> None:
        existing = self.catalog.relations.get(name)
        if existing is None or existing.kind != node.kind:
            if existing is None and node.if_exists:
                return
            hint = f"{name} is a {existing.kind}" if existing is not None else ""
            self.binder.fail("42704", f"there is no {node.kind} {name}", node, hint)
        users = self._users(name, existing)
        if users and not node.cascade:
            self.binder.fail("42893", f"{name} is used by {', '.join(users)}", node, "DROP ... CASCADE drops them too")
        if isinstance(existing, Table):
            for child in [f for f in existing.referenced if f.table is not existing]:
                self._unrefer(child.table.foreign, child)
            for foreign in existing.foreign:
                self._unrefer(foreign.target.referenced, foreign)
            for trigger in self.catalog.triggers_of(existing):
                self._change("triggers", trigger.name, None)
        for user in users:
            if isinstance(self.catalog.relations.get(user), View):
                self._drop(tree.Drop("view", (user,), False, True, span=node.span))
        self._change("relations", name, None)

    def _unrefer(self, keys: list[ForeignKey], key: ForeignKey) -> None:
        self.session.log.append((_Unreference(keys, key, keys.index(key)), None, None, None))
        keys.remove(key)

    def _users(self, name: str, dropped: Table | View) -> list[str]:
        """Views over a relation, and tables that refer to it."""
        users = []
        for other in self.catalog.relations.values():
            if isinstance(other, View) and other is not dropped:
                if any(isinstance(n, tree.TableName) and n.name[-1] == name for n in walk(other.query)):
                    users.append(other.name)
        if isinstance(dropped, Table):
            users += [f.table.name for f in dropped.referenced if f.table is not dropped]
        return sorted(set(users))


def _names(expression: tree.Expression, column: str) -> bool:
    """Whether an expression names a column."""
    return any(isinstance(n, tree.Reference) and n.parts[-1] == column for n in walk(expression))


def _uses(constraint: tree.Constraint, column: str) -> bool:
    """Whether a constraint is about a column."""
    return column in constraint.columns or (constraint.condition is not None and _names(constraint.condition, column))


class _Listed:
    """A log entry: a foreign key has been put into a list of them."""

    def __init__(self, keys: list[ForeignKey], foreign: ForeignKey) -> None:
        self.keys = keys
        self.foreign = foreign

    def undo(self, key: object, before: object, after: object) -> None:
        self.keys.remove(self.foreign)


class _Unreference:
    """A log entry: a foreign key has been taken from a list of them."""

    def __init__(self, keys: list[ForeignKey], key: ForeignKey, position: int) -> None:
        self.keys = keys
        self.key = key
        self.position = position

    def undo(self, key: object, before: object, after: object) -> None:
        self.keys.insert(self.position, self.key)
