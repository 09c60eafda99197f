"""What all parts of the binder share: the catalog, the current scope, numbers for row sources, and problems."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from contextlib import AbstractContextManager, contextmanager
from typing import Any, NamedTuple, NoReturn

from glimb.engine import resolved as R
from glimb.engine.binding.outside import Outside
from glimb.engine.binding.scope import GroupKeys, Label, Names, QueryScope, Scope
from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import DEFAULT_SCHEMA, SYSTEM_SCHEMAS, Domain, Routine, View
from glimb.engine.storage.table import Table
from glimb.engine.values import types as T
from glimb.engine.values.types import Type
from glimb.lang import tree
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import Source, Span
from glimb.lang.spellings import NAMES, PROCEDURES, TYPES, spelled

DEFAULT_LENGTHS = {"char": 1, "varchar": 4000, "binary": 1, "varbinary": 4000}
TYPE_NAMES = [
    "smallint",
    "integer",
    "bigint",
    "decimal",
    "real",
    "float",
    "double",
    "boolean",
    "char",
    "varchar",
    "clob",
    "text",
    "binary",
    "varbinary",
    "blob",
    "date",
    "time",
    "timestamp",
]


class Areas(NamedTuple):
    """What one area of the binder needs of areas above it, and the entry for every kind of node (see `areas`)."""

    expressions: Mapping[type, Callable[[Binding, Any], R.Expr]]
    statements: Mapping[type, Callable[[Binding, Any], R.Stmt]]

    change_statement: Callable[..., R.Stmt]
    converted_columns: Callable[..., R.Query]
    cursor_named: Callable[..., Any]
    elsewhere: Callable[..., AbstractContextManager[None]]
    bind_over: Callable[..., R.Select]
    bind_query: Callable[..., R.Query]
    bind_receives: Callable[..., tuple[R.Receive, ...]]
    renamed: Callable[..., tuple[R.Output, ...]]
    seen_through: Callable[..., Any]
    bind_target: Callable[..., R.Target]
    bind_window: Callable[..., R.Expr]


class Effects:
    """What a text does beside giving values."""

    def __init__(self) -> None:
        self.writes = False
        self.levels: dict[int, Span] = {}
        """What is done with SQL data, as a number (see tree.ACCESS), and where first."""
        self.called: list[tuple[Routine, Span]] = []
        """The routines that it calls, and where."""

    @property
    def level(self) -> int:
        """What is done with SQL data, by the text itself and by what it calls."""
        return max([*self.levels, *(routine.level for routine, _ in self.called)], default=0)


class Having:
    """Attributes that are others for a part of the text. (A generator would take three times as long.)"""

    __slots__ = ("_kept", "_space", "_state")

    def __init__(self, space: dict[str, Any], state: dict[str, Any]) -> None:
        self._space, self._state = space, state

    def __enter__(self) -> None:
        space = self._space
        self._kept = {name: space[name] for name in self._state}
        space.update(self._state)

    def __exit__(self, *raised: object) -> None:
        self._space.update(self._kept)


class Attempt:
    """Something that may go wrong: its problems are kept."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems

    def __enter__(self) -> None: ...

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: object) -> bool:
        if isinstance(error, ProblemError):
            self.problems += error.problems
            return True
        return False


class Binding:
    """What binding one statement knows and keeps: the catalog, the scope it is in, what it has found."""

    def __init__(
        self,
        later: Areas,
        catalog: Catalog,
        source: Source,
        routine: Routine | None = None,
        schema: str = "",
    ) -> None:
        self.later = later
        self.catalog = catalog
        self.source = source
        self.schema = schema
        """The current schema; empty for the project's own."""
        self.scope: Scope | None = None
        self.sources = 0
        self.aggregates: list[R.Aggregate] | None = None
        self.why_no_aggregate = ""
        self.stars: dict[int, tuple[tree.SelectItem, ...]] | None = None
        """Where it is asked for: what each star in a select list stands for, by the identity of its item."""
        self.through_views = False
        """Whether the next query sees through views, because its rows may be changed."""
        self.groups: list[GroupKeys] = []
        """Of the grouped queries around, innermost last, while what is over their groups is bound."""
        self.windows_allowed = False
        self.named_windows: dict[str, tree.Window] = {}
        self.transition_tables: dict[str, tuple[str, Table]] = {}
        """Of a trigger: OLD TABLE and NEW TABLE by name, with the local that holds the rows."""
        self.outside: Outside | None = None
        """Dynamic parameters and host variables; None in a text that is kept."""
        self.outer_aggregates: list[tuple[QueryScope, list[R.Aggregate] | None]] = []
        """Of the queries around: their scopes, and the set functions found in them so far; None where what is being
        bound of them can have none."""
        self.common: list[dict[str, int]] = []
        """Numbers of the common tables by name, of the queries around, innermost last."""
        self.common_columns: dict[int, tuple[R.Output, ...]] = {}
        self.case_of: R.Expr | None = None
        """The operand of the simple CASE whose test is being bound."""
        self.effects = Effects()
        self.depth = 0
        self.routine = routine
        self.assignments: list[tuple[str, R.Expr]] = []
        """What is assigned to variables, by their locals."""
        self.may_be_null: set[str] = set()
        """Variables that get values of which nothing is known (see `nullability`)."""
        self.problems: list[Problem] = []
        self.locals = 0
        self.labels: list[Label] = []
        self.names: Names | None = None
        self.block_depth = 0
        self.atomic_depth = 0

    def attempt(self) -> Attempt:
        """Keep the problems that binding the body meets, and go on behind it as if it had not been there."""
        return Attempt(self.problems)

    def local(self, name: str, letter: str = "v") -> str:
        """A new Python local: a number, and what of the name is harmless, for readers."""
        self.locals += 1
        return f"{letter}{self.locals}_{re.sub('[^a-z0-9_]', '', name)[:24]}"

    # -- what holds for a part of the text only

    def having(self, **state: Any) -> Having:
        """Set attributes for a part of the text; whatever happens in it, they are as they were behind it."""
        return Having(vars(self), state)

    def scoped(self, scope: Scope | None, clause: str | None = None) -> Having:
        """Names are looked for in this scope first; in a clause in which no set function can stand."""
        if clause is None:
            return self.having(scope=scope)
        return self.having(scope=scope, why_no_aggregate=clause)

    def clause(self, text: str) -> Having:
        """A clause in which no set function can stand, such as `in WHERE`."""
        return self.having(why_no_aggregate=text)

    def fail(self, sqlstate: str, message: str, node: tree.Node | Span, hint: str = "") -> NoReturn:
        span = node if isinstance(node, Span) else node.span
        raise ProblemError(Problem(sqlstate, message, span, hint, self.source))

    def does(self, level: int, node: tree.Node) -> None:
        """Note that data are read (2) or changed (3)."""
        self.effects.levels.setdefault(level, node.span)

    @contextmanager
    def only_reading(self, what: str, node: tree.Node) -> Iterator[None]:
        """What is bound within changes no data, nor does what it calls (clauses 11.4, 11.9, 11.49): 42985."""
        around, self.effects = self.effects, Effects()
        try:
            yield
            if self.effects.level == tree.ACCESS.index("modifies sql data"):
                self.fail("42985", f"{what} cannot change data", node)
        finally:
            around.levels = {**self.effects.levels, **around.levels}
            around.called += self.effects.called
            self.effects = around

    def new_source(self) -> int:
        self.sources += 1
        return self.sources

    # -- names of objects

    def key(self, space: str, name: tuple[str, ...], node: tree.Node) -> str:
        """The key of an object in the catalog: that of one there is, otherwise that of one to be made. MODULE stands
        for the module that the text is in."""
        if len(name) > 1 and name[-2] == "module" and self.catalog.is_module(self.schema):
            name = self.schema, name[-1]
        if len(name) > 1 and not self.catalog.has_schema(name[-2]):
            known = [*self.catalog.schemas, DEFAULT_SCHEMA]
            hint = spelled(name[-1], PROCEDURES) or nearest(name[-2], known)
            self.fail("42704", f"there is no schema {name[-2]}", node, hint)
        return self.catalog.key(space, name, self.schema)

    def relation(self, name: tuple[str, ...], node: tree.Node) -> Table | View:
        """The table or view of this name."""
        found = self.catalog.relations.get(self.key("relations", name, node))
        if found is None:
            shown = ".".join(name)
            if len(name) > 1 and name[-2] in SYSTEM_SCHEMAS:
                self.fail("42807", f"{shown} is made by the engine, it cannot be changed", node)
            routines = self.catalog.routines.get(name[-1])
            hint = spelled(name[-1], NAMES) or nearest(name[-1], self.catalog.relations)
            if routines:
                hint = f"{name[-1]} is a {routines[0].kind_word}"
                if routines[0].table:
                    hint += f": write TABLE({name[-1]}(...))"
            self.fail("42704", f"there is no table {shown}", node, hint)
        return found

    def base_table(self, name: tuple[str, ...], node: tree.Node) -> Table:
        """The base table of this name: views cannot be changed."""
        found = self.relation(name, node)
        if not isinstance(found, Table):
            self.fail("42807", f"{name[-1]} is a view and cannot be changed", node)
        return found

    # -- types

    def type(self, name: tree.TypeName) -> Type:
        """The type that a type name stands for, with its defaults."""
        word, arguments = name.name, name.arguments
        if name.schema:
            return self._user_type(name)
        if name.element is not None:
            return T.array(self.type(name.element), arguments[0] if arguments else T.MAX_CARDINALITY)
        if name.fields:
            names = tuple(f.name for f in name.fields)
            if len(set(names)) < len(names):
                self.fail("42701", "two fields of this row have one name", name)
            return T.row((f.name, self.type(f.type)) for f in name.fields)
        if word.startswith("interval "):
            fields = [T.INTERVAL_FIELDS.index(f) for f in word[9:].split(" to ")]
            return Type("months" if fields[0] < 2 else "micros", fields[0], fields[-1])
        if word in ("char", "varchar", "binary", "varbinary"):
            size = arguments[0] if arguments else DEFAULT_LENGTHS[word]
            if not 1 <= size <= T.MAX_LENGTH or len(arguments) > 1:
                self.fail("42601", f"a length is one number from 1 to {T.MAX_LENGTH:,}", name)
            return Type(word, size)
        if word == "decimal":
            return self._decimal(name)
        if word == "float":
            if arguments and (len(arguments) > 1 or not 1 <= arguments[0] <= 53):
                self.fail("42601", "FLOAT takes one number of binary digits, from 1 to 53", name)
            return T.REAL if arguments and arguments[0] <= 24 else T.DOUBLE
        if word in ("clob", "blob"):
            if len(arguments) > 1 or (arguments and arguments[0] < 1):
                self.fail("42601", "a length is one number from 1", name)
            return Type(word, arguments[0] if arguments else 0)
        if word == "text":
            return T.CLOB
        if word not in TYPE_NAMES:
            return self._user_type(name)
        if word in T.SECOND_DIGITS:
            return self.moment_type(word, arguments, name)
        if arguments:
            self.fail("42601", f"{word.upper()} takes no length", name)
        return Type(word)

    def moment_type(self, word: str, arguments: tuple[int, ...], node: tree.Node) -> Type:
        """TIME or TIMESTAMP with so many digits behind the point of the seconds."""
        scale = arguments[0] if arguments else T.SECOND_DIGITS[word]
        if scale > T.MOST_SECOND_DIGITS or len(arguments) > 1:
            self.fail("42601", f"seconds have 0 to {T.MOST_SECOND_DIGITS} digits behind the point", node)
        return Type(word, 0, scale)

    def _user_type(self, name: tree.TypeName) -> Type:
        """A distinct type, or the type of a domain."""
        made = self.catalog.types.get(self.key("types", name.parts, name))
        if made is not None:
            return made
        domain = self.domain(name)
        if domain is None:
            known = [*TYPE_NAMES, *self.catalog.types, *self.catalog.domains]
            self.fail(
                "42704",
                f"there is no type {'.'.join(name.parts).upper()}",
                name,
                spelled(name.name, TYPES) or nearest(name.name, known),
            )
        return domain.type

    def domain(self, name: tree.TypeName) -> Domain | None:
        """The domain that a type name means, if it means one."""
        return self.catalog.domains.get(self.key("domains", name.parts, name))

    def _decimal(self, name: tree.TypeName) -> Type:
        precision, scale = (*name.arguments, 0)[:2] if name.arguments else (18, 0)
        if not 1 <= precision <= T.MAX_PRECISION or scale > precision or len(name.arguments) > 2:
            self.fail("42601", f"DECIMAL has 1 to {T.MAX_PRECISION} digits, and not more behind the point", name)
        return Type("decimal", precision, scale)

    def sort_value(self, bound: R.Expr, node: tree.Node) -> R.Expr:
        """A value to sort by: arrays and rows have no order."""
        if bound.type.kind in ("array", "row"):
            hint = "name its fields" if bound.type.kind == "row" else ""
            self.fail("42804", f"{bound.type} has no order", node, hint)
        return bound
