"""Binding of blocks, control statements and routine bodies (ISO/IEC 9075-4 clauses 13 and 14).

Which variables can never be NULL is found by assuming it of all that start with a value, and binding again without
those to which something nullable is assigned, until nothing changes.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from copy import copy
from typing import Any, NamedTuple

from glimb.engine import resolved as R
from glimb.engine.binding.dynamic import DynamicBinder, Names
from glimb.engine.binding.scope import RowScope, Scope, VariableScope, suggest
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import ParameterInfo, Routine, Trigger
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import Record, replace, walk
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source
from glimb.lang.spellings import PROCEDURES, spelled

DIAGNOSTICS_TYPES = {
    "transactions_committed": T.INTEGER,
    "transactions_rolled_back": T.INTEGER,
    "transaction_active": T.INTEGER,
    "command_function_code": T.INTEGER,
    "row_count": T.BIGINT,
    "number": T.INTEGER,
    "condition_number": T.INTEGER,
    "message_length": T.INTEGER,
    "message_octet_length": T.INTEGER,
    "parameter_ordinal_position": T.INTEGER,
    "dynamic_function_code": T.INTEGER,
}
MESSAGE = T.varchar(4000)
TEMPORARY = frozenset(
    (
        "scope source schema aggregates why_no_aggregate groups windows_allowed named_windows transition_tables "
        "outer_aggregates common case_of depth names labels block_depth atomic_depth"
    ).split()
)
"""What a binder holds for the construct that it is in the middle of."""


class Facts(Record):
    """What binding a routine has shown."""

    body: R.Stmt
    parameters: tuple[R.Target, ...]
    writes: bool
    level: int
    """What it does with SQL data: a position in tree.ACCESS."""


class Place(NamedTuple):
    """What a value is assigned to: the variable, the type that the value takes on its way, what to call it, and what
    then goes to the variable."""

    target: R.Target
    type: Type
    name: str
    whole: Callable[[R.Expr], R.Expr]


NULL = tree.Literal("null", "")


class Label(Record):
    """A label that encloses: kind is `block` or `loop`, `local` names its flag."""

    name: str
    kind: str
    local: str


class RoutineBinder(DynamicBinder):
    """Binds any statement, alone or inside a routine."""

    def __init__(
        self,
        catalog: Catalog,
        source: Source,
        routine: Routine | None = None,
        never_null: Any = None,
        schema: str = "",
    ) -> None:
        super().__init__(catalog, source, schema)
        self.routine = routine
        self.never_null: set[str] | None = never_null
        self.violations: set[str] = set()
        self.problems: list[Problem] = []
        self.locals = 0
        self.labels: list[Label] = []
        self.names: Names | None = None
        self.block_depth = 0
        self.atomic_depth = 0

    # -- entry points

    def statement(self, node: tree.Statement) -> R.Stmt:
        handler = _STATEMENTS.get(type(node))
        if handler is not None:
            bound: R.Stmt = handler(self, node)
            return bound
        if isinstance(node, _SCHEMA):
            self.writes = True
            self.does(3, node)
            return R.SchemaStmt(node, self.source[node.span], span=node.span)
        return self.transaction(node)

    def change_statement(self, node: tree.Statement) -> R.Stmt:
        bound = self.statement(node)
        if not isinstance(bound, R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt):
            self.fail("42807", "a view with an INSTEAD OF trigger gives no changed rows", node)
        return bound

    def statements(self, nodes: tuple[tree.Statement, ...]) -> tuple[R.Stmt, ...]:
        """Bind each by itself, so that one wrong statement does not hide what is wrong in the others."""
        bound = []
        for node in nodes:
            with self.attempt():
                bound.append(self.statement(node))
        return tuple(bound)

    @contextmanager
    def attempt(self) -> Iterator[None]:
        """Keep the problems that binding the body meets, and go on behind it as if it had not been there: whatever was
        open in it is open no more."""
        state = {n: copy(v) if isinstance(v, list) else v for n, v in vars(self).items() if n in TEMPORARY}
        try:
            yield
        except ProblemError as error:
            self.problems += error.problems
            vars(self).update(state)

    def local(self, name: str, letter: str = "v") -> str:
        """A new Python local: a number, and what of the name is harmless, for readers."""
        self.locals += 1
        return f"{letter}{self.locals}_{re.sub('[^a-z0-9_]', '', name)[:24]}"

    def declare(self, scope: VariableScope, name: str, type_: Type, node: tree.Node, nullable: bool = True) -> R.Target:
        if name in scope.variables:
            self.fail("42701", f"{name} is declared twice here", node)
        local = self.local(name)
        if self.never_null is not None and nullable:
            nullable = local not in self.never_null
        scope.variables[name] = R.Variable(type_, nullable, local, name)
        return R.Target(local, name, type_)

    # -- variables as targets

    def target(self, node: tree.Reference) -> R.Target:
        scope: Scope | None = self.scope
        while scope is not None:
            found = scope.find(node.parts)
            if found and isinstance(found[0], R.Variable):
                variable = found[0]
                if isinstance(scope, VariableScope) and variable.name in scope.readonly:
                    hint = "" if variable.type.kind == "row" else "declare a variable, and set that"
                    self.fail("42807", f"{variable.name} can only be read here", node, hint)
                return R.Target(variable.local, variable.name, variable.type)
            scope = scope.parent
        name = ".".join(node.parts)
        self.fail("42703", f"there is no variable {name} to assign to", node, suggest(self.scope, node.parts))

    def assigned(self, target: R.Target, value: R.Expr) -> None:
        """Note that a variable may become NULL."""
        if value.nullable:
            self.violations.add(target.local)

    def place(self, node: tree.Reference | tree.Element) -> Place:
        """A variable, a field or an element to assign to (clause 14.15)."""
        if isinstance(node, tree.Element):
            assert isinstance(node.array, tree.Reference)
            target, array = self.target(node.array), self.expression(node.array)
            if target.type.kind != "array":
                self.fail("42804", f"{target.name} is {target.type}, it has no elements", node)
            at = self.assign(self.expression(node.position), T.INTEGER, node.position, "the position")
            code = f"with_element({{0}}, {{1}}, {{2}}, {target.type.size})"
            element = target.type.parts[0]
            return Place(target, element, "the element", lambda v: R.Loose(target.type, False, code, (array, at, v)))
        row = self._variable_named(node.parts[:-1]) if len(node.parts) > 1 else None
        if row is None or row.type.kind != "row" or self._variable_named(node.parts) is not None:
            target = self.target(node)
            return Place(target, target.type, target.name, lambda v: v)
        target, name, type_ = self.target(replace(node, parts=node.parts[:-1])), node.parts[-1], row.type
        if name not in type_.names:
            self.fail("42703", f"this row has no field {name}", node, nearest(name, type_.names))
        number = type_.names.index(name)
        code = f"with_field({{0}}, {number}, {{1}}, {len(type_.parts)})"
        return Place(target, type_.parts[number], name, lambda v: R.Loose(type_, False, code, (row, v)))

    def receive(self, node: tree.Reference | tree.Element, type_: Type, nullable: bool) -> R.Receive:
        """A target that takes a value which arrives in a local."""
        place, arriving = self.place(node), self._arriving(type_, nullable)
        value = place.whole(self.assign(arriving, place.type, node, place.name))
        self.assigned(place.target, value)
        return R.Receive(arriving.local, place.target, value)

    def _arriving(self, type_: Type, nullable: bool) -> R.Variable:
        """A local in which a value arrives."""
        self.locals += 1
        return R.Variable(type_, nullable, f"in{self.locals}", "")

    def receives(
        self, targets: tuple[tree.Reference | tree.Element, ...], query: R.Query, node: tree.Node
    ) -> tuple[R.Receive, ...]:
        """How the columns of a query are assigned; those that are not a row themselves may go to a row together."""
        if len(targets) == 1 and [c.type.kind for c in query.columns] != ["row"]:
            place = self.place(targets[0])
            if place.type.kind == "row":
                return self._receive_row(place, query, targets[0])
        if len(targets) != len(query.columns):
            self.fail("42601", f"{len(query.columns)} columns for {len(targets)} variables", node)
        return tuple(self.receive(t, c.type, c.nullable) for t, c in zip(targets, query.columns, strict=True))

    def _receive_row(self, place: Place, query: R.Query, node: tree.Node) -> tuple[R.Receive, ...]:
        parts = place.type.parts
        if len(parts) != len(query.columns):
            self.fail("42601", f"{len(query.columns)} columns for a row of {len(parts)} fields", node)
        arriving = [self._arriving(c.type, c.nullable) for c in query.columns]
        fields = zip(arriving, parts, place.type.names, strict=True)
        row = R.Tuple(place.type, False, tuple(self.assign(a, t, node, n) for a, t, n in fields))
        value = place.whole(row)
        self.assigned(place.target, value)
        return (
            *(R.Receive(a.local, None, a) for a in arriving[:-1]),
            R.Receive(arriving[-1].local, place.target, value),
        )

    # -- simple statements

    def query_statement(self, node: tree.QueryStatement) -> R.Stmt:
        if self.routine is not None or self.scope is not None:
            self.fail("42612", "a query inside a routine or block needs INTO, a cursor or FOR", node)
        return R.QueryStmt(self.query(node.query), span=node.span)

    def select_into(self, node: tree.SelectInto) -> R.Stmt:
        query = self.query(node.query)
        return R.SelectIntoStmt(query, self.receives(node.targets, query, node), False, span=node.span)

    def _variable_named(self, parts: tree.Parts) -> R.Variable | None:
        scope = self.scope
        while scope is not None:
            found = scope.find(parts)
            if found and isinstance(found[0], R.Variable):
                return found[0]
            scope = scope.parent
        return None

    def set_variable(self, node: tree.SetVariable) -> R.Stmt:
        if isinstance(node.value, tree.Subquery):
            query = self.query(node.value.query)
            if len(node.targets) > 1 or len(query.columns) > 1:
                nullable = tuple(R.Output(c.name, c.type, True) for c in query.columns)
                received = self.receives(node.targets, replace(query, columns=nullable), node)
                return R.SelectIntoStmt(query, received, True, span=node.span)
        if len(node.targets) > 1:
            if not isinstance(node.value, tree.RowValue) or len(node.value.items) != len(node.targets):
                self.fail("42601", f"{len(node.targets)} variables need as many values", node)
            nodes = node.value.items
        else:
            nodes = (node.value,)
        places = tuple(self.place(t) for t in node.targets)
        targets = tuple(p.target for p in places)
        if len(set(targets)) < len(targets) and any(isinstance(t, tree.Element) for t in node.targets):
            self.fail("42601", "two elements of one array cannot be set at once", node)
        self.why_no_aggregate = "in SET"
        values = []
        for place, value_node in zip(places, nodes, strict=True):
            value = place.whole(self.assign(self.expression(value_node), place.type, value_node, place.name))
            self.assigned(place.target, value)
            values.append(value)
        return R.SetStmt(targets, tuple(values), span=node.span)

    def call_statement(self, node: tree.Call) -> R.Stmt:
        name = node.name[-1]
        key = self.key("routines", node.name, node)
        if key not in self.catalog.routines:
            if name == "note" and len(node.arguments) == 1:
                return self._note(node)
            known = [n for n, g in self.catalog.routines.items() if g[0].kind == "procedure"]
            self.fail(
                "42883",
                f"there is no procedure {name}",
                node,
                spelled(name, PROCEDURES) or nearest(name, [*known, "note"]),
            )
        if all(r.kind != "procedure" for r in self.catalog.routines[key]):
            routine = self.catalog.routines[key][0]
            how = f"SELECT * FROM TABLE({name}(...))" if routine.table else f"SELECT {name}(...)"
            self.fail("42809", f"{name} is a {routine.kind_word}, not a procedure", node, how)
        routine, arguments = self.resolve(key, node.arguments, node, "procedure")
        self.writes = True
        positions = self._positions_of(routine, node)
        receives: list[R.Receive | None] = []
        for number, parameter in enumerate(routine.parameters):
            if parameter.mode == "in":
                continue
            given = positions.get(number)
            receives.append(self._out(given, parameter, node))
        return R.CallStmt(routine, tuple(arguments), tuple(receives), span=node.span)

    def _positions_of(self, routine: Routine, node: tree.Call) -> dict[int, tree.Argument]:
        """Arguments by the number of their parameter."""
        names = [p.name for p in routine.parameters]
        return {names.index(a.name) if a.name else i: a for i, a in enumerate(node.arguments)}

    def _out(self, given: tree.Argument | None, parameter: ParameterInfo, node: tree.Node) -> R.Receive | None:
        """Where the value of an OUT or INOUT parameter goes: to a variable, or, outside a routine, into the outcome:
        then `?` (or NULL) stands for it, and the value that an INOUT parameter begins with."""
        value, name, type_ = given.value if given else None, parameter.name, parameter.type
        is_element = isinstance(value, tree.Element) and isinstance(value.array, tree.Reference)
        if (isinstance(value, tree.Reference) or is_element) and self.scope is not None:
            assert isinstance(value, tree.Reference | tree.Element)
            return self.receive(value, type_, True)
        plain = (
            value is None
            or isinstance(value, tree.Placeholder | tree.DefaultValue)
            or value == NULL
            or parameter.mode == "inout"
        )
        if self.scope is None and plain and not isinstance(value, tree.Reference):
            return None
        hint = "declare a variable for it" if self.scope is not None else "write ? for it"
        self.fail("42804", f"{name} is an OUT parameter and needs a variable", given or node, hint)

    def _note(self, node: tree.Call) -> R.Stmt:
        value = self.expression(node.arguments[0].value)
        if value.type.kind != "null" and value.type.family != "text":
            value = self.converted(value, T.CLOB, explicit=True)
        return R.NoteStmt(value, span=node.span)

    # -- blocks

    def block(self, node: tree.Block) -> R.Stmt:
        outer_scope, outer_names = self.scope, self.names
        scope = self.scope = VariableScope(outer_scope, node.label)
        names = self.names = Names(outer_names)
        self.block_depth += 1
        depth = self.block_depth
        self.atomic_depth += node.atomic
        label = Label(node.label, "block", self.local(node.label, "left"))
        self._enclose(label, node)
        declares: list[R.Declare] = []
        handlers: list[tree.DeclareHandler] = []
        for declaration in node.declarations:
            with self.attempt():
                self._declaration(declaration, scope, names, declares, handlers)
        bound_handlers = self._handlers(handlers, depth, node.atomic)
        body = self.statements(node.body)
        self.labels.pop()
        self.atomic_depth -= node.atomic
        self.block_depth -= 1
        self.scope, self.names = outer_scope, outer_names
        cursors = tuple(c for c in names.cursors.values() if c is not None)
        return R.BlockStmt(
            tuple(declares), cursors, bound_handlers, body, node.atomic, label.local, depth, span=node.span
        )

    def _declaration(
        self,
        node: tree.Node,
        scope: VariableScope,
        names: Names,
        declares: list[R.Declare],
        handlers: list[tree.DeclareHandler],
    ) -> None:
        if isinstance(node, tree.DeclareVariable):
            scope.broken.update(n for n in node.names if n not in scope.variables)
            type_ = self.type(node.type)
            for name in node.names:
                value: R.Expr = R.Const(type_, True, None)
                if node.default is not None:
                    value = self.assign(self.expression(node.default), type_, node.default, name)
                scope.broken.discard(name)
                target = self.declare(scope, name, type_, node)
                self.assigned(target, value)
                declares.append(R.Declare(target, value, span=node.span))
        elif isinstance(node, tree.DeclareCondition):
            if node.name in names.conditions:
                self.fail("42701", f"condition {node.name} is declared twice here", node)
            names.conditions[node.name] = node.sqlstate
        elif isinstance(node, tree.DeclareCursor):
            if node.name in names.cursors:
                self.fail("42701", f"cursor {node.name} is declared twice here", node)
            names.cursors[node.name] = None
            names.cursors[node.name] = self.cursor_definition(node)
        else:
            assert isinstance(node, tree.DeclareHandler)
            handlers.append(node)

    def _handlers(self, nodes: list[tree.DeclareHandler], depth: int, atomic: bool) -> tuple[R.Handler, ...]:
        handlers = []
        taken: set[str] = set()
        for number, node in enumerate(nodes):
            with self.attempt():
                states = tuple(self._handled(c, node) for c in node.conditions)
                if node.kind == "undo" and not atomic:
                    self.fail("42612", "an UNDO handler needs an ATOMIC block", node, "BEGIN ATOMIC")
                if len(set(states)) < len(states):
                    self.fail("42710", "this handler names a condition twice", node)
                double = taken & set(states)
                if double:
                    self.fail("42710", f"two handlers of this block handle {', '.join(sorted(double))}", node)
                taken |= set(states)
                action = self.statement(node.action)
                handlers.append(R.Handler(node.kind, states, action, depth * 10_000 + number, span=node.span))
        return tuple(handlers)

    def _handled(self, condition: str, node: tree.Node) -> str:
        """What a handler handles, as matched at run time."""
        general = {"sqlexception": "exception", "sqlwarning": "warning", "not found": "02"}
        if condition in general:
            return general[condition]
        if len(condition) == 5 and (condition.isupper() or condition.isdigit()) and condition == condition.upper():
            return condition
        return self._named_condition(condition, node) or f"name:{condition}"

    def _named_condition(self, name: str, node: tree.Node) -> str:
        state = self.names.condition(name) if self.names is not None else None
        if state is None:
            known: list[str] = []
            names = self.names
            while names is not None:
                known += names.conditions
                names = names.parent
            self.fail(
                "42704", f"there is no condition {name}", node, nearest(name, known) or f"DECLARE {name} CONDITION"
            )
        return state

    # -- control

    def if_statement(self, node: tree.If) -> R.Stmt:
        arms = []
        for condition, body in node.arms:
            bound = self._guarded_condition(condition, "IF")
            arms.append((bound, self.statements(body)))
        return R.IfStmt(tuple(arms), self.statements(node.otherwise or ()), span=node.span)

    def _guarded_condition(self, node: tree.Expression, where: str) -> R.Expr:
        """A condition; when it is wrong, its problem is kept and binding goes on with what follows."""
        with self.attempt():
            self.why_no_aggregate = f"in {where}"
            return self.condition(node, where)
        return R.Const(T.BOOLEAN, True, None)

    def case_statement(self, node: tree.CaseStatement) -> R.Stmt:
        operand: R.Expr | None = None
        reference: R.Expr | None = None
        local = ""
        if node.operand is not None:
            operand = self.expression(node.operand)
            local = self.local("case", "k")
            reference = R.Variable(operand.type, operand.nullable, local, "")
        arms = [(self.when(reference, conditions), self.statements(body)) for conditions, body in node.arms]
        otherwise = self.statements(node.otherwise) if node.otherwise is not None else None
        return R.CaseStmt(tuple(arms), otherwise, operand, local, span=node.span)

    def _enclose(self, label: Label, node: tree.Node) -> None:
        """The statements that are bound next stand in a block or loop with this label (clause 13.1 of part 4)."""
        if label.name and any(outer.name == label.name for outer in self.labels):
            self.fail("42710", f"a statement around this one has the label {label.name} too", node)
        self.labels.append(label)

    def loop(self, node: tree.While | tree.Loop | tree.Repeat) -> R.Stmt:
        local = self.local(node.label, "again")
        before = self._guarded_condition(node.condition, "WHILE") if isinstance(node, tree.While) else None
        self._enclose(Label(node.label, "loop", local), node)
        body = self.statements(node.body)
        self.labels.pop()
        after = self._guarded_condition(node.until, "UNTIL") if isinstance(node, tree.Repeat) else None
        return R.LoopStmt(before, body, after, node.label, local, span=node.span)

    def for_statement(self, node: tree.For) -> R.Stmt:
        cursor = None
        outer_names = self.names
        if node.cursor:
            declared = tree.DeclareCursor(node.cursor, node.query, "", node.sensitivity, span=node.span)
            cursor = self.cursor_definition(declared)
            self.names = Names(outer_names)
            self.names.cursors[node.cursor] = cursor
        query = cursor.query if cursor is not None and cursor.query is not None else self.query(node.query)
        outer = self.scope
        scope = self.scope = VariableScope(outer, node.name or node.label)
        targets = tuple(self.declare(scope, c.name, c.type, node, c.nullable) for c in query.columns)
        for column, target in zip(query.columns, targets, strict=True):
            if column.nullable:
                self.violations.add(target.local)
        scope.readonly |= {c.name for c in query.columns}
        local = self.local(node.label, "again")
        self._enclose(Label(node.label, "loop", local), node)
        body = self.statements(node.body)
        self.labels.pop()
        self.scope, self.names = outer, outer_names
        return R.ForStmt(query, targets, body, node.label, local, cursor, span=node.span)

    def leave(self, node: tree.Leave) -> R.Stmt:
        label = self._label(node.label, node)
        return R.LeaveStmt(node.label, label.local, span=node.span)

    def iterate(self, node: tree.Iterate) -> R.Stmt:
        label = self._label(node.label, node)
        if label.kind != "loop":
            self.fail("42612", f"ITERATE {node.label} needs a loop, {node.label} is a block", node)
        return R.IterateStmt(node.label, label.local, span=node.span)

    def _label(self, name: str, node: tree.Node) -> Label:
        known = [label.name for label in self.labels if label.name]
        for label in reversed(self.labels):
            if label.name == name:
                return label
        self.fail("42704", f"no enclosing statement has the label {name}", node, nearest(name, known))

    def return_statement(self, node: tree.Return) -> R.Stmt:
        routine = self.routine
        if routine is None:
            self.fail("42612", "RETURN stands in a routine", node)
        if routine.kind == "procedure":
            if node.value is not None or node.query is not None:
                self.fail("42601", "a procedure returns no value", node, "use an OUT parameter")
            return R.ReturnStmt(None, None, span=node.span)
        if routine.table:
            return R.ReturnStmt(None, self._returned_rows(routine, node), span=node.span)
        assert routine.returns is not None
        if node.value is None:
            if node.query is not None:
                value: tree.Expression = tree.Subquery(node.query, span=node.query.span)
            else:
                self.fail("42601", f"RETURN needs a value of type {routine.returns}", node)
        else:
            value = node.value
        bound = self.assign(self.expression(value), routine.returns, value, f"the result of {routine.name}")
        return R.ReturnStmt(bound, None, span=node.span)

    def _returned_rows(self, routine: Routine, node: tree.Return) -> R.Query:
        if node.query is None:
            self.fail("42601", f"{routine.name} returns a table", node, "RETURN TABLE (SELECT ...)")
        query = self.query(node.query, tuple(t for _, t in routine.table))
        if len(query.columns) != len(routine.table):
            self.fail("42601", f"{len(query.columns)} columns returned, {routine.name} has {len(routine.table)}", node)
        over = self.over(query)
        items = tuple(
            self.assign(i, t, node, f"column {n}") for i, (n, t) in zip(over.items, routine.table, strict=True)
        )
        if items == over.items:
            return query
        columns = tuple(R.Output(n, t, True) for n, t in routine.table)
        return R.Query(replace(over, items=items), columns, (), (), 0, None, None, False, ())

    # -- settings, locks, plans

    def setting(self, node: tree.SetSchema | tree.SetSession | tree.SetConstraints) -> R.Stmt:
        if isinstance(node, tree.SetSchema):
            name = self.expression(node.name)
            if name.type.family != "text":
                self.fail("42804", f"the name of a schema is a text, this is {name.type}", node)
            return R.SettingStmt("schema", name, span=node.span)
        if isinstance(node, tree.SetSession):
            return R.SettingStmt(node.setting, node.value, span=node.span)
        known: dict[str, bool] = {}
        for table in self.catalog.tables():
            for constraint, found in table.constraints():
                known[constraint] = known.get(constraint, False) or found.deferrable
        for parts in node.names:
            if parts[-1] not in known:
                self.fail("42704", f"there is no constraint {parts[-1]}", node, nearest(parts[-1], known))
            if not known[parts[-1]]:
                self.fail("42809", f"constraint {parts[-1]} is not DEFERRABLE", node)
        return R.SettingStmt("constraints", (tuple(n[-1] for n in node.names), node.deferred), span=node.span)

    def lock_table(self, node: tree.LockTable) -> R.Stmt:
        tables = tuple(self.base_table(t, node) for t in node.tables)
        return R.LockStmt(tables, node.mode, node.wait, span=node.span)

    def explain(self, node: tree.Explain) -> R.Stmt:
        if self.scope is not None:
            self.fail("42612", "EXPLAIN stands alone", node)
        bound = self.statement(node.statement)
        if not isinstance(bound, R.QueryStmt | R.InsertStmt | R.UpdateStmt | R.DeleteStmt | R.MergeStmt):
            self.fail("42612", "EXPLAIN takes a query, INSERT, UPDATE, DELETE or MERGE", node)
        return R.ExplainStmt(bound, span=node.span)

    # -- conditions

    def signal(self, node: tree.Signal) -> R.Stmt:
        state = node.sqlstate
        if node.condition:
            state = self._named_condition(node.condition, node) or "45000"
        items = []
        for name, value_node in node.items:
            value = self.expression(value_node)
            if value.type.family not in ("text", "null"):
                self.fail(
                    "42804", f"{name.upper()} is a text, this is {value.type}", value_node, "CAST(... AS VARCHAR(100))"
                )
            items.append((name, value))
        return R.SignalStmt(node.again, state, node.condition, tuple(items), span=node.span)

    def get_diagnostics(self, node: tree.GetDiagnostics) -> R.Stmt:
        if node.all is not None:
            everything = self.receive(node.all, MESSAGE, True)
            return R.DiagnosticsStmt(
                (), self._condition_number(node), node.stacked, everything, node.part, span=node.span
            )
        items = []
        for target, name in node.items:
            items.append((self.receive(target, DIAGNOSTICS_TYPES.get(name, MESSAGE), True), name))
        return R.DiagnosticsStmt(tuple(items), self._condition_number(node), node.stacked, span=node.span)

    def _condition_number(self, node: tree.GetDiagnostics) -> R.Expr | None:
        number = self.expression(node.condition) if node.condition is not None else None
        if number is not None and number.type.family not in ("exact", "null"):
            self.fail("42804", "the number of a condition is a whole number", node)
        return number

    def commit_or_rollback(self, node: tree.Commit | tree.Rollback) -> R.Stmt:
        ends = not (isinstance(node, tree.Rollback) and node.savepoint)
        if ends and self.atomic_depth:
            self.fail("42612", "a transaction may not end inside an ATOMIC block", node)
        if ends and self.routine is not None and self.routine.kind == "function":
            self.fail("42612", "a function may not end a transaction", node)
        return self.transaction(node)


class AloneFacts(NamedTuple):
    """A statement that stands alone, bound: what it does with SQL data (see ACCESS), and its dynamic parameters."""

    statement: R.Stmt
    level: int
    parameters: int


def bind_statement(
    catalog: Catalog, node: tree.Statement, source: Source, schema: str = "", parameters: list[Type] | None = None
) -> AloneFacts:
    """Bind a statement that stands alone, with the types of its dynamic parameters; raises ProblemError."""

    def bind(assumed: set[str] | None) -> tuple[R.Stmt, RoutineBinder]:
        binder = RoutineBinder(catalog, source, None, assumed, schema)
        binder.parameters = parameters
        return binder.statement(node), binder

    bound, binder = _until_stable(bind)
    return AloneFacts(bound, _level(binder), binder.placeholders)


def _level(binder: RoutineBinder) -> int:
    """What a statement or routine does with SQL data, what it calls included."""
    levels = list(binder.levels)
    for routine, _ in binder.called:
        levels.append(routine.level)
    return max(levels, default=0)


def _check_access(routine: Routine, binder: RoutineBinder) -> None:
    """A routine does no more than it promises (9075-2 clause 11.60): 42985."""
    if not routine.access:
        return
    allowed = tree.ACCESS.index(routine.access)
    places = list(binder.levels.items()) + [(r.level, span) for r, span in binder.called if r is not routine]
    for level, span in sorted(places, reverse=True):
        if level > max(allowed, 1):
            what = "changes data" if level == 3 else "reads tables"
            message = f"{routine.name} says {routine.access.upper()}, but this {what}"
            raise ProblemError(Problem("42985", message, span, "", routine.source))


def bind_routine(catalog: Catalog, routine: Routine) -> Facts:
    """Bind the body of a routine; raises ProblemError with everything that is wrong in it."""
    targets: list[R.Target] = []

    def bind(assumed: set[str] | None) -> tuple[R.Stmt, RoutineBinder]:
        binder = RoutineBinder(catalog, routine.source, routine, assumed, routine.schema)
        scope = binder.scope = VariableScope(None, routine.name)
        targets.clear()
        for parameter, node in zip(routine.parameters, routine.definition.parameters, strict=True):
            target = binder.declare(scope, parameter.name, parameter.type, node)
            targets.append(target)
            binder.violations.add(target.local)
            if parameter.mode == "in" and routine.kind == "procedure":
                scope.readonly.add(parameter.name)
        return binder.statement(routine.definition.body), binder

    bound, binder = _until_stable(bind)
    _check_access(routine, binder)
    return Facts(bound, tuple(targets), binder.writes, _level(binder))


class TriggerFacts(Record):
    """A bound trigger: locals for the columns of the old and new row, its condition and its body."""

    old: tuple[str, ...]
    new: tuple[str, ...]
    condition: R.Expr | None
    body: R.Stmt
    tables: tuple[str, ...]
    """Which transition tables it looks at: `old`, `new`."""


def bind_trigger(catalog: Catalog, trigger: Trigger) -> TriggerFacts:
    """Bind a trigger; raises ProblemError. Only a BEFORE trigger may assign to the new row."""
    node, table = trigger.definition, trigger.table
    binder = RoutineBinder(catalog, trigger.source, None, None, trigger.schema)
    tables = []
    for which, name, missing in (("old", node.old_table, "insert"), ("new", node.new_table, "delete")):
        if name:
            if node.timing != "after" or node.event == missing:
                binder.fail("42601", f"only an AFTER trigger of rows that are there has a {which.upper()} TABLE", node)
            binder.transition_tables[name] = (f"{which}_rows", table)
            tables.append(which)
    locals_: dict[str, tuple[str, ...]] = {"old": (), "new": ()}
    for which, name, missing in (("old", node.old, "insert"), ("new", node.new, "delete")):
        if name and (not node.each_row or node.event == missing):
            why = "needs FOR EACH ROW" if not node.each_row else f"has no {which.upper()} row"
            binder.fail("42601", f"a trigger of {node.event.upper()} {why}", node)
        if node.each_row and node.event != missing:
            scope = binder.scope = RowScope(binder.scope, name or which)
            targets = [binder.declare(scope, c.name, c.type, node) for c in table.columns]
            locals_[which] = tuple(t.local for t in targets)
            if which == "old" or node.timing != "before":
                scope.readonly |= {c.name for c in table.columns}
    binder.why_no_aggregate = "in WHEN"
    condition = binder.condition(node.condition, "WHEN") if node.condition is not None else None
    binder.atomic_depth = 1
    body = binder.statement(node.body)
    if binder.problems:
        raise ProblemError(*binder.problems)
    return TriggerFacts(locals_["old"], locals_["new"], condition, body, tuple(tables))


def _until_stable(bind: Callable[[set[str] | None], tuple[R.Stmt, RoutineBinder]]) -> tuple[R.Stmt, RoutineBinder]:
    """Bind, first assuming that every variable is nullable; then with ever fewer assumed not to be."""
    bound, binder = bind(None)
    if binder.problems:
        raise ProblemError(*binder.problems)
    assumed = _all_locals(bound) - _starting_null(bound)
    if not assumed:
        return bound, binder
    while True:
        bound, binder = bind(assumed)
        broken = assumed & binder.violations
        if not broken:
            return bound, binder
        assumed -= broken


def _all_locals(bound: R.Stmt) -> set[str]:
    return {n.target.local for n in walk(bound) if isinstance(n, R.Declare)}


def _starting_null(bound: R.Stmt) -> set[str]:
    """Variables that start as NULL."""
    return {
        n.target.local
        for n in walk(bound)
        if isinstance(n, R.Declare) and isinstance(n.value, R.Const) and n.value.value is None
    }


_SCHEMA = (
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
)
_STATEMENTS: dict[type, Any] = {
    tree.QueryStatement: RoutineBinder.query_statement,
    tree.SelectInto: RoutineBinder.select_into,
    tree.Insert: RoutineBinder.insert,
    tree.Update: RoutineBinder.update,
    tree.Delete: RoutineBinder.delete,
    tree.Truncate: RoutineBinder.truncate,
    tree.Merge: RoutineBinder.merge,
    tree.Call: RoutineBinder.call_statement,
    tree.SetVariable: RoutineBinder.set_variable,
    tree.Block: RoutineBinder.block,
    tree.If: RoutineBinder.if_statement,
    tree.CaseStatement: RoutineBinder.case_statement,
    tree.While: RoutineBinder.loop,
    tree.Loop: RoutineBinder.loop,
    tree.Repeat: RoutineBinder.loop,
    tree.For: RoutineBinder.for_statement,
    tree.Leave: RoutineBinder.leave,
    tree.Iterate: RoutineBinder.iterate,
    tree.Return: RoutineBinder.return_statement,
    tree.Open: RoutineBinder.open_cursor,
    tree.Fetch: RoutineBinder.fetch,
    tree.Close: RoutineBinder.close_cursor,
    tree.Signal: RoutineBinder.signal,
    tree.GetDiagnostics: RoutineBinder.get_diagnostics,
    tree.Prepare: RoutineBinder.prepare,
    tree.Execute: RoutineBinder.execute,
    tree.ExecuteImmediate: RoutineBinder.execute_immediate,
    tree.Deallocate: RoutineBinder.deallocate,
    tree.AllocateCursor: RoutineBinder.allocate_cursor,
    tree.AllocateDescriptor: RoutineBinder.allocate_descriptor,
    tree.Describe: RoutineBinder.describe,
    tree.GetDescriptor: RoutineBinder.get_descriptor,
    tree.SetDescriptor: RoutineBinder.set_descriptor,
    tree.SetSchema: RoutineBinder.setting,
    tree.SetSession: RoutineBinder.setting,
    tree.SetConstraints: RoutineBinder.setting,
    tree.LockTable: RoutineBinder.lock_table,
    tree.Explain: RoutineBinder.explain,
    tree.Commit: RoutineBinder.commit_or_rollback,
    tree.Rollback: RoutineBinder.commit_or_rollback,
}
