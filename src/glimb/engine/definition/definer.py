"""Schema statements at work: they make and drop objects of the catalog, and all they do is in the session's log."""

from __future__ import annotations

from typing import TYPE_CHECKING

from glimb.engine import resolved as R
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.changed_views import change_target
from glimb.engine.binding.conversions import assign
from glimb.engine.binding.dispatch import bind_condition, expression
from glimb.engine.binding.entry import bind_routine, bind_trigger
from glimb.engine.binding.expressions import in_domain
from glimb.engine.binding.queries import bind_query
from glimb.engine.binding.sources import view_query
from glimb.engine.binding.statements import bind_column
from glimb.engine.binding.stored import row_scope
from glimb.engine.catalog.dependents import Dependent, dependents
from glimb.engine.catalog.objects import (
    DEFAULT_SCHEMA,
    SYSTEM_SCHEMAS,
    Domain,
    ParameterInfo,
    Routine,
    Schema,
    Trigger,
    View,
)
from glimb.engine.storage.indexes import Index
from glimb.engine.storage.table import CheckInfo, ColumnInfo, ForeignKey, Sequence, Table
from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import convert
from glimb.engine.values.types import BIGINT, Type, assignable, common
from glimb.lang import tree
from glimb.lang.node import replace, rewrite, walk
from glimb.lang.problem import ProblemError, nearest
from glimb.lang.source import Source

if TYPE_CHECKING:
    from glimb.engine.transactions.session import Session


def private_copy(session: Session, table: Table) -> Table:
    """A table like a temporary one, empty, for the rows of one session."""
    assert table.definition is not None
    assert table.source is not None
    made = Definer(session, table.source).build_table(table.definition, {c.name: c.text for c in table.checks})
    made.name, made.temporary = table.name, table.temporary
    made.shared, made.private_to = table, session.name
    return made


class Definer:
    """Carries out one schema statement."""

    def __init__(self, session: Session, source: Source) -> None:
        self.session = session
        self.source = source
        self.catalog = session.shared.catalog
        self.binder = binding_for(self.catalog, source, schema=session.schema)
        self.made: list[Routine | Trigger] = []
        self.texts: dict[str, str] = {}
        """Texts of the CHECKs that come from domains, by constraint."""

    def define(self, node: tree.Statement) -> list[Routine | Trigger]:
        """Do it; gives the routines and triggers that have been made, whose bodies are to be looked at."""
        self.session.begin()
        self.session.must_write()
        self._define(node)
        return self.made

    def _define(self, node: tree.Statement) -> None:
        getattr(self, _VERBS[type(node)])(node)

    def _new_key(self, space: str, name: tree.Parts, node: tree.Node) -> str:
        """The key of an object to be made: in the schema that it names, or the current one."""
        if len(name) > 1:
            if name[-2] in SYSTEM_SCHEMAS:
                self.binder.fail("42807", f"schema {name[-2]} cannot be changed", node)
            return self.binder.key(space, name, node)
        return f"{self.binder.schema}.{name[0]}" if self.binder.schema else name[0]

    # -- schemas, modules, domains, types

    def _create_schema(self, node: tree.CreateSchema) -> None:
        """CREATE SCHEMA (clause 11.1), with the objects in it."""
        name = node.name[-1]
        if self.catalog.has_schema(name):
            self.binder.fail("42710", f"schema {name} exists already", node)
        self._change("schemas", name, Schema(name, "schema"))
        outer, self.binder.schema = self.binder.schema, name
        for element in node.elements:
            self._define(element)
        self.binder.schema = outer

    def _create_module(self, node: tree.CreateModule) -> None:
        """CREATE MODULE (9075-4 clause 9.1): routines called by module.routine, and by name among each other; temporary
        tables of theirs, MODULE.table."""
        name = node.name[-1]
        if self.catalog.has_schema(name):
            kind = "module" if self.catalog.is_module(name) else "schema"
            self.binder.fail("42710", f"{kind} {name} exists already", node)
        self._change("schemas", name, Schema(name, "module"))
        outer, self.binder.schema = self.binder.schema, name
        for element in node.elements:
            self._define(element)
        self.binder.schema = outer

    def _create_domain(self, node: tree.CreateDomain) -> None:
        key = self._new_key("domains", node.name, node)
        if key in self.catalog.domains or key in self.catalog.types:
            self.binder.fail("42710", f"{key} exists already", node)
        type_ = self.binder.type(node.type)
        if node.default is not None:
            assign(self.binder, expression(self.binder, node.default), type_, node.default, "the default")
        domain = Domain(key, type_, node.default, ())
        for constraint in node.constraints:
            domain = self._with_check(domain, constraint)
        self._change("domains", key, domain)

    def _with_check(self, domain: Domain, node: tree.Constraint) -> Domain:
        """A domain with one more CHECK."""
        assert node.condition is not None
        name = node.name or f"{domain.name}_check{len(domain.checks) + 1 if domain.checks else ''}"
        if any(c.name == name for c in domain.checks):
            self.binder.fail("42710", f"constraint {name} is defined twice", node)
        check = CheckInfo(name, node.condition, " ".join(self.source[node.condition.span].split()))
        found = Domain(domain.name, domain.type, domain.default, (*domain.checks, check))
        self.binder.why_no_aggregate = "in CHECK"
        in_domain(self.binder, R.Const(domain.type, True, None), found)
        return found

    def _domain(self, name: tree.Parts, node: tree.Node) -> Domain:
        key = self.binder.key("domains", name, node)
        found = self.catalog.domains.get(key)
        if found is None:
            self.binder.fail("42704", f"there is no domain {key}", node, nearest(key, self.catalog.domains))
        return found

    def _alter_domain(self, node: tree.AlterDomain) -> None:
        """ALTER DOMAIN (clause 11.36): columns of the domain get its new default and its new constraints, and lose the
        dropped ones; a dropped default stays theirs."""
        domain = self._domain(node.name, node)
        if node.constraint is not None:
            domain = self._with_check(domain, node.constraint)
        elif node.dropped:
            kept = tuple(c for c in domain.checks if c.name != node.dropped)
            if len(kept) == len(domain.checks):
                hint = nearest(node.dropped, [c.name for c in domain.checks])
                self.binder.fail("42704", f"domain {domain.name} has no constraint {node.dropped}", node, hint)
            domain = Domain(domain.name, domain.type, domain.default, kept)
        else:
            if node.value is not None:
                assign(self.binder, expression(self.binder, node.value), domain.type, node.value, "the default")
            domain = Domain(domain.name, domain.type, node.value, domain.checks)
        self._change("domains", domain.name, domain)
        if node.verb != "drop default":
            for table in self.catalog.tables():
                assert table.definition is not None
                for column in table.definition.columns:
                    if self.binder.domain(column.type) is domain:
                        self._follow_domain(table.name, f"{column.name}_{node.dropped}" if node.dropped else "", node)

    def _follow_domain(self, table: str, dropped: str, node: tree.Node) -> None:
        """Give a table what has changed in the domain of a column."""
        verb = "drop constraint" if dropped else "rebuild"
        self._alter_table(tree.AlterTable((table,), verb, dropped, span=node.span))

    def _create_type(self, node: tree.CreateType) -> None:
        """A distinct type (clause 11.51): its values are compared among themselves only."""
        key = self._new_key("types", node.name, node)
        if key in self.catalog.types or key in self.catalog.domains:
            self.binder.fail("42710", f"type {key} exists already", node)
        source = self.binder.type(node.type)
        if source.kind in ("distinct", "array", "row"):
            self.binder.fail("42601", f"a distinct type is made of a built-in type, not of {source}", node)
        self._change("types", key, Type("distinct", 0, 0, (source,), (key,)))

    # -- triggers

    def _create_trigger(self, node: tree.CreateTrigger) -> None:
        name = self._new_key("triggers", node.name, node)
        if name in self.catalog.triggers:
            self.binder.fail("42710", f"trigger {name} exists already", node)
        number = max((t.number for t in self.catalog.triggers.values()), default=0) + 1
        if node.timing == "instead":
            trigger = self._instead_trigger(node, number)
        else:
            table = self.binder.base_table(node.table, node)
            for column in node.columns:
                bind_column(self.binder, table, column, node)
            trigger = Trigger(node, self.source, table, number)
        trigger.name, trigger.schema = name, self.binder.schema
        self._change("triggers", name, trigger)
        self.made.append(trigger)

    def _instead_trigger(self, node: tree.CreateTrigger, number: int) -> Trigger:
        """A trigger of a view, whose columns it sees as those of a table."""
        view = self.binder.relation(node.table, node)
        if not isinstance(view, View):
            self.binder.fail("42809", f"{view.name} is no view", node, "BEFORE or AFTER")
        if not node.each_row or node.columns:
            self.binder.fail("42601", "an INSTEAD OF trigger is FOR EACH ROW, of all columns", node)
        columns = [ColumnInfo(c.name, c.type, False, None) for c in view_query(self.binder, view, node).columns]
        trigger = Trigger(node, self.source, Table(view.name, columns), number)
        trigger.view = view
        return trigger

    # -- sequences

    def _create_sequence(self, node: tree.CreateSequence) -> None:
        name = self._new_key("sequences", node.name, node)
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
        key = self.binder.key("sequences", node.name, node)
        sequence = self.catalog.sequences.get(key)
        if sequence is None:
            self.binder.fail("42704", f"there is no sequence {key}", node, nearest(key, self.catalog.sequences))
        options, (low, high) = node.options, sequence.bounds
        given = (
            sequence.start if options.start is None else options.start,
            sequence.increment if options.increment is None else options.increment,
            low if options.minimum is None else options.minimum,
            high if options.maximum is None else options.maximum,
        )
        made = self._sequence(key, replace(options, **dict(zip(_SEQUENCE_FIELDS, given, strict=True))), sequence.type)
        made.next = (made.start if node.start is None else node.start) if node.restart else sequence.next
        if not made.bounds[0] <= made.next <= made.bounds[1]:
            self.binder.fail("42601", f"{made.next} is outside the sequence", node)
        self._change("sequences", key, made)

    def _change(self, space: str, name: str, value: object) -> None:
        if space == "relations":
            for table in (self.catalog.relations.get(name), value):
                if isinstance(table, Table):
                    self.session.claims.own(table)
        if space == "triggers":
            for trigger in (self.catalog.triggers.get(name), value):
                if isinstance(trigger, Trigger) and trigger.view is None:
                    self.session.claims.lock_table(trigger.table, "X")
        self.catalog.change(self.session.log, space, name, value)

    # -- tables

    def _create_table(self, node: tree.CreateTable) -> None:
        name = self._new_key("relations", node.name, node)
        if name in self.catalog.relations:
            if node.if_absent:
                return
            self.binder.fail("42710", f"{self.catalog.relations[name].kind} {name} exists already", node)
        query = None
        if node.query is not None:
            query = bind_query(self.binder, node.query)
            node = self._table_of_query(node, query)
        node = replace(self._with_likes(node), name=(name,))
        table = self.build_table(node, {})
        if node.temporary:
            table.temporary, table.source = ("preserve" if node.preserve else "delete"), self.source
            if table.foreign:
                self.binder.fail("42601", "a temporary table has no foreign keys", node)
        self._change("relations", name, table)
        for foreign in table.foreign:
            self._listed(foreign.target.referenced, foreign)
        if query is not None and node.with_data:
            insert = tree.Insert((name,), (), node.query, span=node.span)
            self.session.shared.compiler.statement_now(self.session, insert, self.source)

    def _table_of_query(self, node: tree.CreateTable, query: R.Query) -> tree.CreateTable:
        """CREATE TABLE ... AS: the columns of a query."""
        names = node.query_columns or tuple(c.name for c in query.columns)
        if len(names) != len(query.columns):
            self.binder.fail("42601", f"{len(names)} names for {len(query.columns)} columns", node)
        columns = []
        for name, column in zip(names, query.columns, strict=True):
            if column.type.kind == "null":
                self.binder.fail("42804", f"column {name} has no type", node, "CAST(NULL AS ...)")
            columns.append(tree.ColumnDefinition(name, type_name(column.type), span=node.span))
        return replace(node, columns=tuple(columns))

    def _with_likes(self, node: tree.CreateTable) -> tree.CreateTable:
        """LIKE table: the columns of another table, with what is included (T171, T173)."""
        columns = list(node.columns)
        for like in reversed(node.likes):
            other = self.binder.base_table(like.table, like)
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

    def build_table(self, node: tree.CreateTable, texts: dict[str, str]) -> Table:
        """A table with its columns, keys and constraints; `texts` are those of CHECKs that were there before."""
        columns = [self._column(c) for c in node.columns]
        second = next((c for c in [c for c in node.columns if c.identity is not None][1:]), None)
        if second is not None:
            self.binder.fail("42601", f"{node.name[-1]} has an identity column before {second.name}", second)
        for number, column in enumerate(columns):
            if any(c.name == column.name for c in columns[:number]):
                self.binder.fail("42701", f"column {column.name} is defined twice", node.columns[number])
        table = Table(node.name[-1], columns)
        constraints = [k for c in node.columns for k in c.constraints] + list(node.constraints)
        constraints += [k for c in node.columns for k in self._domain_checks(c, constraints)]
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
        kept = tuple(k for k in named if k.kind != "not null")
        table.definition = replace(node, columns=bare, constraints=kept, if_absent=False, query=None)
        return table

    def _domain_checks(self, column: tree.ColumnDefinition, known: list[tree.Constraint]) -> list[tree.Constraint]:
        """The CHECKs of a column's domain, over the column."""
        if column.type.fields or column.type.element is not None:
            return []
        domain = self.binder.domain(column.type)
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
                self.texts[name] = check.text
        return found

    def _check_generated(self, table: Table) -> None:
        """Generated columns are over the other columns of their row."""
        scope, _ = row_scope(self.binder, table, table.name)
        self.binder.scope, outer = scope, self.binder.scope
        self.binder.why_no_aggregate = "in a generated column"
        for column in table.columns:
            if column.generated is not None:
                value = expression(self.binder, column.generated)
                assign(self.binder, value, column.type, column.generated, f"column {column.name}")
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
        domain = self.binder.domain(node.type) if not node.type.fields and node.type.element is None else None
        if default is None and domain is not None and node.identity is None and node.generated is None:
            default = domain.default
        if default is not None:
            assign(self.binder, expression(self.binder, default), type_, default, f"column {node.name}")
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
            scope, _ = row_scope(self.binder, table, table.name)
            self.binder.scope, outer = scope, self.binder.scope
            self.binder.why_no_aggregate = "in CHECK"
            bind_condition(self.binder, node.condition, "CHECK")
            self.binder.scope = outer
            text = texts.get(name) or self.texts.get(name) or " ".join(self.source[node.condition.span].split())
            info = CheckInfo(name, node.condition, text)
            info.deferrable, info.deferred, info.enforced = node.deferrable, node.deferred, node.enforced
            table.checks.append(info)
        else:
            self._add_foreign(table, node, name)
        return replace(node, name=name)

    def _constraint_name(self, table: Table, node: tree.Constraint) -> str:
        kind = {"primary": "pk", "unique": "key", "check": "check", "foreign": "fk"}[node.kind]
        name = node.name or "_".join([table.short, *node.columns, kind])
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
        for name in names:
            if names.count(name) > 1:
                self.binder.fail("42701", f"column {name} is named twice", node)
        return tuple(bind_column(self.binder, table, n, node) for n in names)

    def _add_key(self, table: Table, node: tree.Constraint, name: str) -> None:
        index = Index(name, self._positions(table, node.columns, node), True)
        for position in index.columns:
            if table.columns[position].type.kind in ("array", "row"):
                self.binder.fail("42804", f"a key cannot be over {table.columns[position].type}", node)
        index.deferrable, index.deferred, index.enforced = node.deferrable, node.deferred, node.enforced
        index.null_key = not node.nulls_distinct
        index.unique = not (index.deferrable or index.null_key) and index.enforced
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
        own_key = self.binder.key("relations", node.target, node)
        target = table if own_key == table.name else self.binder.base_table(node.target, node)
        if target.temporary:
            self.binder.fail("42830", f"{target.name} is a temporary table", node)
        if node.target_columns:
            wanted = self._positions(target, node.target_columns, node)
        elif target.primary is not None:
            wanted = target.primary.columns
        else:
            self.binder.fail("42830", f"{target.name} has no primary key", node, "name the columns")
        found = next((i for i in target.indexes if i.key and sorted(i.columns) == sorted(wanted)), None)
        if found is None or len(wanted) != len(node.columns):
            names = ", ".join(target.columns[c].name for c in wanted)
            self.binder.fail("42830", f"({names}) is no key of {target.name} for {len(node.columns)} columns", node)
        own = self._positions(table, node.columns, node)
        columns = tuple(own[wanted.index(c)] for c in found.columns)
        for mine, theirs in zip(columns, found.columns, strict=True):
            a, b = table.columns[mine], target.columns[theirs]
            if common(a.type, b.type) is None:
                self.binder.fail("42830", f"{a.name} {a.type} cannot refer to {b.name} {b.type}", node)
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

    # -- ALTER TABLE: a new table is built from the changed definition, and takes the rows of the old one

    def _alter_table(self, node: tree.AlterTable) -> None:
        old = self.binder.base_table(node.table, node)
        if old.temporary:
            self.binder.fail("42601", f"{old.name} is a temporary table", node, "drop it, and create it anew")
        self.session.claims.own(old)
        assert old.definition is not None
        narrows = node.verb in ("drop column", "drop constraint", "set type")
        users = [u for u in dependents(self.catalog, "relations", old.name) if self._fits(u)] if narrows else []
        columns = {u.key: self._view_columns(u) for u in users}
        if node.verb in ("drop column", "drop constraint") and node.cascade:
            self._drop_references(old, node)
        for foreign in old.foreign:
            self._unrefer(foreign.target.referenced, foreign)
        self._change("relations", old.name, None)
        new = self.build_table(self._altered(old, old.definition, node), {c.name: c.text for c in old.checks})
        for column in new.columns:
            before = old.columns[old.positions[column.name]] if column.name in old.positions else None
            if before is not None and before.identity is not None and column.identity is not None:
                column.identity = self._same_sequence(before.identity, node, column.name)
        self._change("relations", old.name, new)
        self._move_references(old, new, node)
        self._copy_rows(old, new, node)
        lost = [u for u in users if not self._fits(u) or self._view_columns(u) != columns[u.key]]
        for trigger in self.catalog.triggers_of(old):
            if any(c not in new.positions for c in trigger.definition.columns):
                lost.append(Dependent("triggers", trigger.name, trigger))
                continue
            moved = Trigger(trigger.definition, trigger.source, new, trigger.number)
            moved.name, moved.schema = trigger.name, trigger.schema
            self._change("triggers", trigger.name, moved)
            user = Dependent("triggers", trigger.name, moved)
            if not self._fits(user):
                lost.append(user)
        self._drop_users(lost, node.name or old.name, node)
        self.session.shared.locks.rename(old, new)

    def _view_columns(self, user: Dependent) -> tuple[str, ...]:
        """Of a view: the names of its columns; those of `*` are those that there were when it was made."""
        view = user.object
        if not isinstance(view, View):
            return ()
        try:
            return tuple(c.name for c in view_query(binding_for(self.catalog, view.source), view, view.query).columns)
        except ProblemError:
            return ()

    def _drop_references(self, table: Table, node: tree.AlterTable) -> None:
        """CASCADE: the foreign keys that refer to a key that goes, by its name or with a column of it."""
        assert table.definition is not None
        going = {k.name for k in table.definition.constraints if node.name in (k.name, *k.columns)}
        for foreign in [f for f in table.referenced if f.table is not table and f.target_index.name in going]:
            self._drop_reference(foreign, node)

    @staticmethod
    def _same_sequence(sequence: Sequence, node: tree.AlterTable, column: str) -> Sequence:
        """The sequence of an identity column; RESTART gives it a new one that starts again."""
        if node.verb != "restart" or node.name != column:
            return sequence
        made = Sequence(
            sequence.name, sequence.type, sequence.start, sequence.increment, sequence.bounds, sequence.cycle
        )
        made.next = sequence.start if node.start is None else node.start
        return made

    def _altered(self, table: Table, definition: tree.CreateTable, node: tree.AlterTable) -> tree.CreateTable:
        """The definition with the change."""
        columns, constraints = list(definition.columns), list(definition.constraints)
        if node.verb == "add column" and node.column is not None:
            if node.column.name in table.positions:
                self.binder.fail("42701", f"{table.name} has a column {node.column.name} already", node.column)
            columns.append(node.column)
        elif node.verb == "add constraint" and node.constraint is not None:
            constraints.append(node.constraint)
        elif node.verb == "alter constraint" and node.constraint is not None:
            places = [n for n, k in enumerate(constraints) if k.name == node.name]
            if not places:
                hint = nearest(node.name, [k.name for k in constraints])
                self.binder.fail("42704", f"{table.name} has no constraint {node.name}", node, hint)
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
                self.binder.fail("42704", f"{table.name} has no constraint {node.name}", node, hint)
            constraints = kept
        else:
            position = bind_column(self.binder, table, node.name, node)
            if node.verb == "drop column":
                self._check_unused(constraints, columns, node)
                constraints = [k for k in constraints if not _uses(k, node.name)]
                del columns[position]
            else:
                columns[position] = self._altered_column(columns[position], node)
        if not columns:
            self.binder.fail("42601", "a table needs at least one column", node)
        return replace(definition, columns=tuple(columns), constraints=tuple(constraints))

    def _altered_column(self, column: tree.ColumnDefinition, node: tree.AlterTable) -> tree.ColumnDefinition:
        if node.verb in ("set default", "drop default"):
            return replace(column, default=node.value)
        if node.verb in ("set not null", "drop not null"):
            return replace(column, not_null=node.verb == "set not null")
        if node.verb in ("restart", "drop identity"):
            if column.identity is None:
                self.binder.fail("42704", f"column {column.name} is no identity column", node)
            return column if node.verb == "restart" else replace(column, identity=None, always=False)
        if node.verb == "drop expression":
            if column.generated is None:
                self.binder.fail("42704", f"column {column.name} is not generated", node)
            return replace(column, generated=None, always=False)
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
            found = next((i for i in new.indexes if i.key and [new.columns[c].name for c in i.columns] == names), None)
            if found is None:
                self.binder.fail("42893", f"{foreign.table.name} refers to this key of {old.name}", node)
            moved = ForeignKey(
                foreign.name, foreign.table, foreign.columns, new, (foreign.on_delete, foreign.on_update)
            )
            moved.target_index, moved.child_index = found, foreign.child_index
            moved.match, moved.enforced = foreign.match, foreign.enforced
            moved.deferrable, moved.deferred = foreign.deferrable, foreign.deferred
            self._unrefer(foreign.table.foreign, foreign)
            self._listed(foreign.table.foreign, moved)
            self._listed(new.referenced, moved)

    def _copy_rows(self, old: Table, new: Table, node: tree.Node) -> None:
        """Rows with their ids; each is converted and meets the constraints of the new table, or nothing is done."""
        compiler, session = self.session.shared.compiler, self.session
        for column in new.columns:
            before = old.columns[old.positions[column.name]].type if column.name in old.positions else column.type
            if not assignable(before, column.type):
                what = f"column {column.name} is {before}, its values cannot become {column.type}"
                self.binder.fail("42804", what, node, "add a column, and fill it by UPDATE with CAST")
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
                if index.key and index.enforced and not index.has_null(key) and key in index.map:
                    fail("23505", f"{new.name} has several rows with one key ({index.name})")
            new.put(row[-1], None, made)
        for number, condition in enumerate(new.checks):
            if condition.deferrable and condition.enforced:
                for made in new.scan():
                    compiler.check_code(new, number)(session, 1, made)
        for foreign in [f for f in new.foreign if f.enforced]:
            for made in new.scan():
                own = tuple(made[c] for c in foreign.columns)
                key = foreign.as_target(own)
                there = key[0] if foreign.target_index.single else key
                if None not in own and (None in key or there not in foreign.target_index.map):
                    fail("23503", f"{foreign.target.name} has no row for a row of {new.name} ({foreign.name})")

    # -- views and routines

    def _create_view(self, node: tree.CreateView) -> None:
        name = self._new_key("relations", node.name, node)
        existing = self.catalog.relations.get(name)
        if existing is not None and not (node.replace and isinstance(existing, View)):
            self.binder.fail("42710", f"{existing.kind} {name} exists already", node)
        view = View(name, node.columns, node.query, self.source, self.binder.schema, node.check)
        view.recursive = node.recursive
        names = [c.name for c in view_query(self.binder, view, node).columns]
        twice = next((n for n in names if names.count(n) > 1), None)
        if twice is not None:
            self.binder.fail("42701", f"two columns of view {name} are called {twice}", node, "name its columns")
        if node.check:
            change_target(self.binder, (name,), "", node, view)
        self._change("relations", name, view)

    def _create_routine(self, node: tree.CreateRoutine) -> None:
        routine = self.make_routine(node)
        routine.schema = self.binder.schema if len(node.name) == 1 else node.name[-2]
        routine.schema = "" if routine.schema == DEFAULT_SCHEMA else routine.schema
        routine.key = self._new_key("routines", node.name, node)
        group = self.catalog.routines.get(routine.key, ())
        types = [p.type for p in routine.parameters]
        same = [r for r in group if r.kind == routine.kind and [p.type for p in r.parameters] == types]
        if same and not node.replace:
            self.binder.fail(
                "42710", f"{same[0].kind_word} {same[0].signature} exists already", node, "CREATE OR REPLACE"
            )
        kept = tuple(r for r in group if r not in same)
        self._change("routines", routine.key, (*kept, routine))
        self.made.append(routine)

    def _alter_routine(self, node: tree.AlterRoutine) -> None:
        """ALTER FUNCTION, PROCEDURE, ROUTINE (clause 11.61): other characteristics."""
        old = self._routine_named(node.kind, node.name, node.types, False, node)
        said = {
            "deterministic": node.deterministic,
            "access": node.access or None,
            "result_sets": node.result_sets,
            "null_call": node.null_call,
        }
        definition = replace(old.definition, replace=True, **{k: v for k, v in said.items() if v is not None})
        new = Routine(definition, old.source, old.parameters, old.returns, old.table)
        new.schema, new.key = old.schema, old.key
        group = tuple(new if r is old else r for r in self.catalog.routines[old.key])
        self._change("routines", old.key, group)
        self.made.append(new)

    def _routine_named(
        self, kind: str, name: tree.Parts, types: tuple[tree.TypeName, ...] | None, specific: bool, node: tree.Node
    ) -> Routine:
        """The one routine that a name means, with the types of its parameters where there are several."""
        if specific:
            found = [r for r in self.catalog.all_routines() if r.definition.specific == name[-1]]
        else:
            found = list(self.catalog.routines.get(self.binder.key("routines", name, node), ()))
        found = [r for r in found if kind in ("routine", r.kind)]
        if types is not None:
            wanted = [self.binder.type(t) for t in types]
            found = [r for r in found if [p.type for p in r.parameters] == wanted]
        if not found:
            known = [n for n, g in self.catalog.routines.items() if kind in ("routine", g[0].kind)]
            self.binder.fail("42704", f"there is no {kind} {name[-1]}", node, nearest(name[-1], known))
        if len(found) > 1:
            ways = ", ".join(r.signature for r in found)
            self.binder.fail("42725", f"there are several: {ways}", node, "name the types of the parameters")
        return found[0]

    def make_routine(self, node: tree.CreateRoutine) -> Routine:
        """The routine of a definition, with the types of its parameters; its body is not yet looked at."""
        parameters = []
        for number, parameter in enumerate(node.parameters):
            if any(p.name == parameter.name for p in node.parameters[:number]):
                self.binder.fail("42701", f"parameter {parameter.name} is defined twice", parameter)
            type_ = self.binder.type(parameter.type)
            if parameter.default is not None:
                assign(
                    self.binder, expression(self.binder, parameter.default), type_, parameter.default, parameter.name
                )
            parameters.append(ParameterInfo(parameter.name, type_, parameter.mode, parameter.default))
        returns = self.binder.type(node.returns) if node.returns is not None else None
        if (node.returns or node.table) and not any(isinstance(part, tree.Return) for part in walk(node.body)):
            self.binder.fail("42601", f"the body of {node.name[-1]} has no RETURN", node)
        table = tuple((c.name, self.binder.type(c.type)) for c in node.table)
        return Routine(node, self.source, tuple(parameters), returns, table)

    # -- DROP

    def _drop(self, node: tree.Drop) -> None:
        if node.kind in ("table", "view"):
            self._drop_relation(node, self.binder.key("relations", node.name, node))
        elif node.kind in ("function", "procedure", "routine"):
            self._drop_routine(node)
        elif node.kind in ("schema", "module"):
            self._drop_schema(node)
        else:
            self._drop_plain(node)

    def _drop_plain(self, node: tree.Drop) -> None:
        """DROP of a sequence, trigger, domain or type."""
        space = f"{node.kind}s"
        key = self.binder.key(space, node.name, node)
        objects = getattr(self.catalog, space)
        if key not in objects:
            if node.if_exists:
                return
            self.binder.fail("42704", f"there is no {node.kind} {key}", node, nearest(key, objects))
        users = self._type_users(objects[key], key) if node.kind in ("type", "domain") else []
        if users and not (node.cascade and node.kind == "domain"):
            self.binder.fail("42893", f"{key} is used by {', '.join(users)}", node)
        if node.kind == "sequence":
            self._drop_users(dependents(self.catalog, "sequences", key), key, node)
        self._change(space, key, None)

    def _drop_users(self, users: list[Dependent], name: str, node: tree.Drop | tree.AlterTable) -> None:
        """RESTRICT: refuse while somebody uses the object; CASCADE: drop the users too. A table that uses it in a
        CHECK, a default or a generated column stays in the way of both. With neither word, routines may stay: they are
        looked at when they run, so that one can be dropped and made again under those that call it."""
        if not (node.restrict or node.cascade):
            users = [u for u in users if not isinstance(u.object, Routine)]
        fixed = [u for u in users if isinstance(u.object, Table | Domain)]
        if users and (fixed or not node.cascade):
            names = ", ".join(dict.fromkeys(u.name for u in (fixed or users)))
            hint = "" if node.cascade else "DROP ... CASCADE drops them too"
            self.binder.fail("42893", f"{name} is used by {names}", node, hint)
        for user in users:
            self._drop_user(user, node)

    def _drop_user(self, user: Dependent, node: tree.Node) -> None:
        """Drop a dependent, with its own dependents, unless that has been done."""
        there = getattr(self.catalog, user.space).get(user.key)
        if isinstance(user.object, Routine):
            if there is not None and user.object in there:
                self._remove_routine(user.object, tree.Drop("routine", (user.key,), False, True, span=node.span))
        elif there is user.object and isinstance(user.object, View):
            self._drop_relation(tree.Drop("view", (user.key,), False, True, span=node.span), user.key)
        elif there is user.object:
            self._change(user.space, user.key, None)

    def _type_users(self, dropped: object, name: str) -> list[str]:
        """Tables and routines that use a distinct type or a domain."""
        users = []
        for table in self.catalog.tables():
            definition = table.definition
            used = (
                any(isinstance(n, tree.TypeName) and n.name == name for n in walk(definition)) if definition else False
            )
            if used:
                users.append(table.name)
        for routine in self.catalog.all_routines():
            if any(isinstance(n, tree.TypeName) and n.name == name for n in walk(routine.definition)):
                users.append(routine.name)
        return users

    def _drop_routine(self, node: tree.Drop) -> None:
        try:
            found = self._routine_named(node.kind, node.name, node.types, node.specific, node)
        except ProblemError as error:
            if node.if_exists and error.problems[0].sqlstate == "42704":
                return
            raise
        self._remove_routine(found, node)

    def _remove_routine(self, routine: Routine, node: tree.Drop) -> None:
        """Drop one routine; who calls it is known by name, and where several have the name, by trying without it."""
        group = self.catalog.routines[routine.key]
        rest = tuple(r for r in group if r is not routine) or None
        users = dependents(self.catalog, "routines", routine.key)
        if rest is not None:
            fitting = [u for u in users if self._fits(u)]
            self._change("routines", routine.key, rest)
            self._drop_users([u for u in fitting if not self._fits(u)], routine.name, node)
            return
        self._change("routines", routine.key, None)
        self._drop_users(users, routine.name, node)

    def _fits(self, user: Dependent) -> bool:
        """Whether the text of an object can be bound as things are now."""
        found = user.object
        try:
            if isinstance(found, View):
                view_query(binding_for(self.catalog, found.source), found, found.query)
            elif isinstance(found, Routine):
                bind_routine(self.catalog, found)
            elif isinstance(found, Trigger):
                bind_trigger(self.catalog, found)
            elif isinstance(found, Table) and found.definition is not None:
                self.build_table(found.definition, {c.name: c.text for c in found.checks})
            elif isinstance(found, Domain):
                in_domain(self.binder, R.Const(found.type, True, None), found)
        except ProblemError:
            return False
        return True

    def _drop_schema(self, node: tree.Drop) -> None:
        """DROP SCHEMA name CASCADE | RESTRICT, DROP MODULE."""
        name = node.name[-1]
        found = self.catalog.schemas.get(name)
        if found is None or found.kind != node.kind:
            if node.if_exists and found is None:
                return
            known = [n for n, s in self.catalog.schemas.items() if s.kind == node.kind]
            self.binder.fail("42704", f"there is no {node.kind} {name}", node, nearest(name, known))
        inside = [
            (space, key)
            for space in ("triggers", "relations", "routines", "sequences", "domains", "types")
            for key in getattr(self.catalog, space)
            if key.startswith(f"{name}.")
        ]
        if inside and not node.cascade and node.kind == "schema":
            shown = ", ".join(key for _, key in inside[:5])
            self.binder.fail("42893", f"schema {name} holds {shown}", node, "DROP SCHEMA ... CASCADE")
        for space, key in inside:
            existing = getattr(self.catalog, space).get(key)
            if space == "relations" and existing is not None:
                self._drop_relation(tree.Drop(existing.kind, (key,), False, True, span=node.span), key)
            elif existing is not None:
                self._change(space, key, None)
        if self.session.schema == name:
            self.session.schema = ""
        self._change("schemas", name, None)

    def _drop_relation(self, node: tree.Drop, name: str) -> None:
        existing = self.catalog.relations.get(name)
        if existing is None or existing.kind != node.kind:
            if existing is None and node.if_exists:
                return
            hint = f"{name} is a {existing.kind}" if existing is not None else ""
            self.binder.fail("42704", f"there is no {node.kind} {name}", node, hint)
        children = [f for f in existing.referenced if f.table is not existing] if isinstance(existing, Table) else []
        if children and not node.cascade:
            names = ", ".join(dict.fromkeys(f.table.name for f in children))
            self.binder.fail("42893", f"{name} is used by {names}", node, "DROP ... CASCADE drops them too")
        own = [t for t in self.catalog.triggers.values() if existing in (t.view, t.table)]
        users = dependents(self.catalog, "relations", name)
        self._drop_users([u for u in users if u.object not in own], name, node)
        for trigger in own:
            self._change("triggers", trigger.name, None)
        for child in children:
            self._drop_reference(child, node)
        if isinstance(existing, Table):
            for foreign in existing.foreign:
                self._unrefer(foreign.target.referenced, foreign)
        self._change("relations", name, None)

    def _drop_reference(self, foreign: ForeignKey, node: tree.Node) -> None:
        """Drop the constraint of a foreign key from its table."""
        self._alter_table(tree.AlterTable((foreign.table.name,), "drop constraint", foreign.name, span=node.span))

    def _unrefer(self, keys: list[ForeignKey], key: ForeignKey) -> None:
        self.session.log.append((_Unreference(keys, key, keys.index(key)), None, None, None))
        keys.remove(key)


def _names(expression: tree.Expression, column: str) -> bool:
    """Whether an expression names a column."""
    return any(isinstance(n, tree.Reference) and n.parts[-1] == column for n in walk(expression))


def _uses(constraint: tree.Constraint, column: str) -> bool:
    """Whether a constraint is about a column."""
    return column in constraint.columns or (constraint.condition is not None and _names(constraint.condition, column))


def type_name(type_: Type) -> tree.TypeName:
    """A type as it would be written."""
    if type_.kind == "array":
        return tree.TypeName("array", (type_.size,), type_name(type_.parts[0]))
    if type_.kind == "row":
        fields = (tree.ResultColumn(n, type_name(t)) for n, t in zip(type_.names, type_.parts, strict=True))
        return tree.TypeName("row", (), None, tuple(fields))
    if type_.kind in ("months", "micros"):
        return tree.TypeName(str(type_).lower())
    if type_.kind == "distinct":
        return tree.TypeName(type_.names[0])
    arguments = {"decimal": (type_.size, type_.scale)}.get(type_.kind, (type_.size,) if type_.size else ())
    return tree.TypeName(type_.kind, arguments)


_SEQUENCE_FIELDS = ("start", "increment", "minimum", "maximum")
_VERBS: dict[type, str] = {
    tree.CreateTable: "_create_table",
    tree.CreateView: "_create_view",
    tree.CreateRoutine: "_create_routine",
    tree.AlterRoutine: "_alter_routine",
    tree.AlterTable: "_alter_table",
    tree.CreateTrigger: "_create_trigger",
    tree.CreateSequence: "_create_sequence",
    tree.AlterSequence: "_restart",
    tree.CreateSchema: "_create_schema",
    tree.CreateModule: "_create_module",
    tree.CreateDomain: "_create_domain",
    tree.AlterDomain: "_alter_domain",
    tree.CreateType: "_create_type",
    tree.Drop: "_drop",
}


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
