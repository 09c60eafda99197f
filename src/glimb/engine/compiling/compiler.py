"""The memory of what has been compiled: a statement for its text and the version of the catalog."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding import bind_alone, bind_trigger
from glimb.engine.binding.areas import binding_for
from glimb.engine.binding.changed_views import change_target
from glimb.engine.binding.outside import Outside
from glimb.engine.binding.sources import view_query
from glimb.engine.catalog.objects import Routine, View
from glimb.engine.compiling.literals import shape_of
from glimb.engine.compiling.routines import RoutineCompiler
from glimb.engine.compiling.statements import Compiled, compile_statement
from glimb.engine.compiling.tables import TableCompiler
from glimb.engine.compiling.units import Units
from glimb.engine.outcomes.outcome import ResultColumn
from glimb.engine.storage.table import Table, TableCode
from glimb.engine.transactions.session import Session
from glimb.engine.transactions.shared import Shared
from glimb.engine.values.origins import GeneratedCode
from glimb.engine.values.problems import problem_condition
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.node import walk
from glimb.lang.problem import Problem, ProblemError
from glimb.lang.source import Source

MAX_STATEMENTS = 2_000
_WITHOUT_PLACE = (
    tree.QueryStatement,
    tree.Insert,
    tree.Update,
    tree.Delete,
    tree.Call,
    tree.SetVariable,
    tree.Commit,
    tree.Rollback,
    tree.Savepoint,
    tree.StartTransaction,
)
"""Statements that, once they are compiled, say nothing of where they stand: the same text has the same code."""
_RECORDED_WITHOUT_PLACE = (tree.QueryStatement, tree.Insert, tree.Update, tree.Delete, tree.Call)
"""Of these, those of which the recorded form says nothing either: only what they call is recorded."""
_MAY_NAME_HOST = r':(?:"|[^\W\d])'


class Compiler:
    """Compiles for one engine (see `shared.RuntimeCompiler` for what run time asks of it)."""

    def __init__(self, shared: Shared) -> None:
        self.shared = shared
        self.catalog = shared.catalog
        self.catalog.on_change = self.forget
        self.units = Units(shared)
        self.tables = TableCompiler(self.units)
        self.routines = RoutineCompiler(self.units)
        self._statements: dict[int, dict[Any, Compiled]] = {}
        self._shapes: dict[int, dict[Any, Compiled]] = {}

    # -- statements

    def statement(
        self,
        node: tree.Statement,
        source: Source,
        session: Session,
        types: tuple[Type, ...] | None = None,
        for_cursor: bool = False,
        named: Mapping[str, Type] | None = None,
    ) -> Compiled:
        """Compile a statement that stands alone, with the types of its dynamic parameters if it may have any; for a
        cursor, with the rows that it may change; with values that it may name. Raises ProblemError when it is wrong."""
        known = self._statements.setdefault(self.catalog.version, {})
        recording = self.shared.recording
        # Its code holds the source, so that no other one gets the same identity.
        without = _RECORDED_WITHOUT_PLACE if recording else _WITHOUT_PLACE
        place = None if isinstance(node, without) else (id(source), node.span.start)
        text = source[node.span]
        hosts = self._host_types(node) if ":" in text and re.search(_MAY_NAME_HOST, text) else {}
        outside = (*hosts.items(), *(named or {}).items()) if hosts or named else ()
        around = recording, self.shared.coverage is not None, self.shared.plain, place, session.schema
        key = (text, around, types, for_cursor, outside)
        compiled = known.get(key)
        if compiled is None:
            is_alone = place is None and types is None and not (for_cursor or outside)
            if is_alone and not self.shared.plain:
                compiled = self._shaped(node, source, session.schema, around)
            if compiled is None:
                from_outside = Outside(hosts, named, parameters=None if types is None else list(types))
                of = self._kept_as(text, session.schema) if is_alone else ""
                compiled = compile_statement(
                    self.units, node, source, recording, session.schema, from_outside, for_cursor, of
                )
            _keep(known, key, compiled)
        return compiled

    def _shaped(self, node: tree.Statement, source: Source, schema: str, around: tuple[Any, ...]) -> Compiled | None:
        """The statement with the code of all that differ from it in literals only; None where there are none that may
        differ."""
        shape = shape_of(node, source, self.catalog.routine_names())
        if shape is None:
            return None
        known = self._shapes.setdefault(self.catalog.version, {})
        key = (shape.text, shape.types, around)
        compiled = known.get(key)
        if compiled is None:
            outside = Outside({}, literals=shape.nodes)
            of = self._kept_as(f"{shape.text} {shape.types}", schema)
            compiled = compile_statement(self.units, node, source, self.shared.recording, schema, outside, of=of)
            _keep(known, key, compiled)
        return compiled.given(shape.values)

    def _kept_as(self, text: str, schema: str) -> str:
        """What stands for a statement of a text alone between runs; nothing where it may not be kept."""
        return f"statement {schema} {text}" if self.units.may_be_kept(self.shared.recording) else ""

    def code_of(self, node: tree.Statement, source: Source, session: Session) -> GeneratedCode:
        """The code of a statement as it runs, made of this very text: to be shown, not that of another one like it."""
        hosts = self._host_types(node)
        may_share = isinstance(node, _WITHOUT_PLACE) and not hosts
        shape = shape_of(node, source, self.catalog.routine_names()) if may_share else None
        outside = Outside(hosts, literals=None if shape is None else shape.nodes)
        return compile_statement(self.units, node, source, False, session.schema, outside).code

    def _host_types(self, node: tree.Statement) -> dict[str, Type]:
        """The types of the host variables that a statement names, of those that have a value."""
        names = sorted({n.name for n in walk(node) if isinstance(n, tree.HostVariable)})
        hosts = self.shared.hosts
        return {name: hosts[name].type for name in names if name in hosts}

    def forget(self) -> None:
        """The catalog has changed, or another form is wanted: what was compiled is compiled anew when next needed."""
        for group in self.catalog.routines.values():
            for routine in group:
                if routine.is_bound:
                    self.routines.reset(routine)
        private = (t for s in self.shared.sessions.values() for t in s.private_tables.values())
        for table in (*self.catalog.tables(), *private):
            table.compiled = TableCode()
        for trigger in self.catalog.triggers.values():
            trigger.code = trigger.recorded = None
        for known in (self._statements, self._shapes):
            if len(known) > 8:
                for version in [v for v in known if v != self.catalog.version]:
                    del known[version]

    def view_columns(self, view: View) -> tuple[R.Output, ...]:
        """The columns of a view; none when its query has become wrong."""
        try:
            return view_query(binding_for(self.catalog, view.source), view, view.query).columns
        except ProblemError:
            return ()

    def is_updatable(self, view: View) -> bool:
        """Whether rows of a view are rows of one table, so that they can be changed through it."""
        try:
            change_target(binding_for(self.catalog, view.source), (), "", view.query, view)
        except ProblemError:
            return False
        return True

    def statement_now(self, session: Session, node: tree.Statement, source: Source) -> None:
        """Compile and run a statement that another one is made of."""
        compile_statement(self.units, node, source, False, session.schema, Outside({})).run(session, 1)

    def described_columns(
        self, node: tree.Statement, source: Source, session: Session, types: list[Type]
    ) -> tuple[ResultColumn, ...]:
        """The columns of the result of a statement; none when it has no result."""
        try:
            bound = bind_alone(self.catalog, node, source, session.schema, Outside({}, parameters=types)).statement
        except ProblemError as error:
            raise problem_condition(error) from None
        if not isinstance(bound, R.QueryStmt):
            return ()
        return tuple(ResultColumn(c.name, c.type) for c in bound.query.columns)

    def private_copy(self, session: Session, table: Table) -> Table:
        """A table like a temporary one, empty, for the rows of one session."""
        from glimb.engine.definition.definer import private_copy

        return private_copy(session, table)

    def define(self, session: Session, statement: R.SchemaStmt, source: Source) -> None:
        """Carry out a schema statement: all of it, or nothing."""
        from glimb.engine.definition.definer import define  # for the start: many runs define nothing

        mark = len(session.log)
        try:
            problems: list[Problem] = []
            for made in define(session, source, statement.statement):
                try:
                    if isinstance(made, Routine):
                        self.routines.check(made)
                    else:
                        bind_trigger(self.catalog, made)
                except ProblemError as error:
                    problems += error.problems
            if problems:
                raise ProblemError(*problems)
        except ProblemError as error:
            session.undo_to(mark)
            raise problem_condition(error) from None
        except BaseException:
            session.undo_to(mark)
            raise


def _keep(known: dict[Any, Compiled], key: Any, compiled: Compiled) -> None:
    """Remember what has been compiled, of a bounded number."""
    if len(known) >= MAX_STATEMENTS:
        known.clear()
    known[key] = compiled
