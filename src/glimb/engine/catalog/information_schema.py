"""The information schema (ISO/IEC 9075-11, the views that the features of part 2 name), and views of our own in schema
`glimb`: notes, changes, routines and their parameters. Their rows are made from the catalog when they are read."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, Protocol

from glimb.engine.catalog.catalog import Catalog
from glimb.engine.catalog.objects import DEFAULT_SCHEMA, SYSTEM_SCHEMAS, Domain, Routine, SystemView, View
from glimb.engine.storage.changes import net_changes
from glimb.engine.storage.indexes import Index, Row
from glimb.engine.storage.log import Entry
from glimb.engine.storage.table import ColumnInfo, ForeignKey, Table
from glimb.engine.values import types as T
from glimb.engine.values.conversion import literal_of
from glimb.engine.values.types import Type
from glimb.lang import tree

CATALOG = "glimb"
NAME, TEXT, YES_OR_NO, NUMBER = T.varchar(128), T.varchar(4000), T.varchar(3), T.INTEGER
VIEWS: dict[tuple[str, ...], SystemView] = {}
"""By schema and name."""


class Told(Protocol):
    """The notes of a session."""

    @property
    def told(self) -> list[str]: ...


class HasTold(Protocol):
    """What a session has told beside its results."""

    @property
    def notes(self) -> Told: ...


class Other(Protocol):
    """A session, so far as others can see it here."""

    @property
    def asides(self) -> HasTold: ...


class Bound(Protocol):
    """Who binds the queries of views."""

    def view_columns(self, view: View) -> Sequence[Any]: ...
    def is_updatable(self, view: View) -> bool: ...


class Surroundings(Protocol):
    """What the sessions of an engine share, so far as it is shown."""

    @property
    def catalog(self) -> Catalog: ...
    @property
    def compiler(self) -> Bound: ...
    @property
    def sessions(self) -> Mapping[str, Other]: ...


class Reader(Protocol):
    """The session that reads a view."""

    @property
    def shared(self) -> Surroundings: ...
    @property
    def log(self) -> list[Entry]: ...


Maker = Callable[[Reader], Iterator[Row]]


def _view(schema: str, name: str, **columns: Type) -> Callable[[Maker], Maker]:
    """Make a view of the rows that a function yields; a row gets a number behind it, as rows of tables have."""

    def decorate(maker: Maker) -> Maker:
        def rows(reader: Reader) -> list[Row]:
            return [(*row, number) for number, row in enumerate(maker(reader))]

        VIEWS[schema, name] = SystemView(f"{schema}.{name}", tuple(columns.items()), rows)
        return maker

    return decorate


def _split(key: str) -> tuple[str, str]:
    """Schema and name of an object's key."""
    schema, _, name = key.rpartition(".")
    return schema or DEFAULT_SCHEMA, name


def _yes(value: object) -> str:
    return "YES" if value else "NO"


def _name(type_: Type) -> str:
    """DATA_TYPE: the name of a type in the standard's words."""
    named = {"char": "CHARACTER", "varchar": "CHARACTER VARYING", "clob": "CHARACTER LARGE OBJECT"}
    named |= {"double": "DOUBLE PRECISION", "blob": "BINARY LARGE OBJECT", "varbinary": "BINARY VARYING"}
    named |= {"months": "INTERVAL", "micros": "INTERVAL", "distinct": "USER-DEFINED", "array": "ARRAY", "row": "ROW"}
    return named.get(type_.kind) or type_.kind.upper()


def _facts(type_: Type) -> tuple[Any, ...]:
    """What _TYPE_COLUMNS name, of a type."""
    plain = T.source_of(type_)
    length = T.length(plain) if plain.family in ("text", "bytes") else None
    octets = length * 4 if length is not None and plain.family == "text" else length
    precision, scale, radix = None, None, None
    if plain.family == "exact":
        (precision, scale), radix = T.digits(plain), 10
    elif plain.family == "approximate":
        precision, radix = (53 if plain.kind == "double" else 24), 2
    declared = plain.kind == "decimal"
    seconds = plain.scale if plain.kind in T.SECOND_DIGITS else 0 if plain.kind == "date" else None
    interval = str(plain).removeprefix("INTERVAL ") if plain.kind in ("months", "micros") else None
    return (
        *(_name(type_), length, octets, precision, radix, scale),
        *(_name(type_) if plain.family == "exact" else None, precision if declared else None),
        *(scale if declared else None, seconds, interval, plain.size if plain.kind == "array" else None),
    )


_TYPE_COLUMNS = {
    "data_type": NAME,
    "character_maximum_length": NUMBER,
    "character_octet_length": NUMBER,
    "numeric_precision": NUMBER,
    "numeric_precision_radix": NUMBER,
    "numeric_scale": NUMBER,
    "declared_data_type": NAME,
    "declared_numeric_precision": NUMBER,
    "declared_numeric_scale": NUMBER,
    "datetime_precision": NUMBER,
    "interval_type": NAME,
    "maximum_cardinality": NUMBER,
}
_NO_TYPE = (None,) * len(_TYPE_COLUMNS)


def _relations(catalog: Catalog) -> list[Table | View]:
    return [r for _, r in sorted(catalog.relations.items())]


@_view("information_schema", "schemata", catalog_name=NAME, schema_name=NAME, schema_owner=NAME)
def _schemata(reader: Reader) -> Iterator[Row]:
    for name in sorted([DEFAULT_SCHEMA, *SYSTEM_SCHEMAS, *reader.shared.catalog.schemas]):
        yield CATALOG, name, "glimb"


@_view(
    "information_schema",
    "tables",
    table_catalog=NAME,
    table_schema=NAME,
    table_name=NAME,
    table_type=NAME,
    is_insertable_into=YES_OR_NO,
    commit_action=NAME,
)
def _tables(reader: Reader) -> Iterator[Row]:
    for relation in _relations(reader.shared.catalog):
        kind, action = "VIEW", None
        if isinstance(relation, Table):
            temporary = relation.temporary
            kind, action = ("GLOBAL TEMPORARY", temporary.upper()) if temporary else ("BASE TABLE", None)
        yield (CATALOG, *_split(relation.name), kind, _yes(isinstance(relation, Table)), action)


def _columns_of(reader: Reader, relation: Table | View) -> list[tuple[str, Type, bool, ColumnInfo | None]]:
    """Name, type, whether it may be NULL, and of a base table more."""
    if isinstance(relation, Table):
        return [(c.name, c.type, not c.not_null, c) for c in relation.columns]
    return [(c.name, c.type, c.nullable, None) for c in reader.shared.compiler.view_columns(relation)]


@_view(
    "information_schema",
    "columns",
    table_catalog=NAME,
    table_schema=NAME,
    table_name=NAME,
    column_name=NAME,
    ordinal_position=NUMBER,
    column_default=TEXT,
    is_nullable=YES_OR_NO,
    **_TYPE_COLUMNS,
    domain_name=NAME,
    is_identity=YES_OR_NO,
    identity_generation=NAME,
    is_generated=NAME,
    generation_expression=TEXT,
    user_defined_type_name=NAME,
)
def _columns(reader: Reader) -> Iterator[Row]:
    for relation in _relations(reader.shared.catalog):
        for number, (name, type_, nullable, info) in enumerate(_columns_of(reader, relation)):
            identity = info is not None and info.identity is not None
            generated = info.generated if info is not None else None
            yield (
                *(CATALOG, *_split(relation.name), name, number + 1),
                *(_written(info.default) if info is not None and info.default is not None else None, _yes(nullable)),
                *(*_facts(type_), _domain_of(reader.shared.catalog, relation, number)),
                *(_yes(identity), ("ALWAYS" if info and info.always else "BY DEFAULT") if identity else None),
                *(
                    "ALWAYS" if generated is not None else "NEVER",
                    _written(generated) if generated is not None else None,
                ),
                type_.names[0] if type_.kind == "distinct" else None,
            )


def _domain_of(catalog: Catalog, relation: Table | View, number: int) -> str | None:
    """The domain of a column, if it has one."""
    if not isinstance(relation, Table) or relation.definition is None:
        return None
    key = catalog.key("domains", relation.definition.columns[number].type.parts, "")
    return key if key in catalog.domains else None


def _written(node: Any) -> str:
    from glimb.lang.printer import write  # only views look at texts

    return write(node)


@_view(
    "information_schema",
    "views",
    table_catalog=NAME,
    table_schema=NAME,
    table_name=NAME,
    view_definition=TEXT,
    check_option=NAME,
    is_updatable=YES_OR_NO,
)
def _views(reader: Reader) -> Iterator[Row]:
    for relation in _relations(reader.shared.catalog):
        if isinstance(relation, View):
            text = " ".join(relation.source[relation.query.span].split())
            updatable = reader.shared.compiler.is_updatable(relation)
            yield (CATALOG, *_split(relation.name), text, (relation.check or "none").upper(), _yes(updatable))


def _constraints(table: Table) -> Iterator[tuple[str, str, tuple[int, ...], Any]]:
    """Name, kind, columns, and the object: an Index, a ForeignKey or a CheckInfo."""
    for name, found in table.constraints():
        if isinstance(found, Index):
            yield name, "PRIMARY KEY" if found is table.primary else "UNIQUE", found.columns, found
        elif isinstance(found, ForeignKey):
            yield name, "FOREIGN KEY", found.columns, found
        else:
            yield name, "CHECK", (), found


@_view(
    "information_schema",
    "table_constraints",
    constraint_catalog=NAME,
    constraint_schema=NAME,
    constraint_name=NAME,
    table_schema=NAME,
    table_name=NAME,
    constraint_type=NAME,
    is_deferrable=YES_OR_NO,
    initially_deferred=YES_OR_NO,
    enforced=YES_OR_NO,
)
def _table_constraints(reader: Reader) -> Iterator[Row]:
    for table in reader.shared.catalog.tables():
        schema, short = _split(table.name)
        for name, kind, _, found in _constraints(table):
            flags = _yes(found.deferrable), _yes(found.deferred), _yes(found.enforced)
            yield (CATALOG, schema, name, schema, short, kind, *flags)


@_view(
    "information_schema",
    "key_column_usage",
    constraint_schema=NAME,
    constraint_name=NAME,
    table_schema=NAME,
    table_name=NAME,
    column_name=NAME,
    ordinal_position=NUMBER,
)
def _key_columns(reader: Reader) -> Iterator[Row]:
    for table in reader.shared.catalog.tables():
        schema, short = _split(table.name)
        for name, _, columns, _ in _constraints(table):
            for number, column in enumerate(columns):
                yield schema, name, schema, short, table.columns[column].name, number + 1


@_view(
    "information_schema",
    "referential_constraints",
    constraint_catalog=NAME,
    constraint_schema=NAME,
    constraint_name=NAME,
    unique_constraint_schema=NAME,
    unique_constraint_name=NAME,
    match_option=NAME,
    update_rule=NAME,
    delete_rule=NAME,
)
def _referential(reader: Reader) -> Iterator[Row]:
    for table in reader.shared.catalog.tables():
        schema, _ = _split(table.name)
        for key in table.foreign:
            target, _ = _split(key.target.name)
            match = "NONE" if key.match == "simple" else key.match.upper()
            rules = key.on_update.upper(), key.on_delete.upper()
            yield (CATALOG, schema, key.name, target, key.target_index.name, match, *rules)


@_view(
    "information_schema",
    "check_constraints",
    constraint_catalog=NAME,
    constraint_schema=NAME,
    constraint_name=NAME,
    check_clause=TEXT,
)
def _checks(reader: Reader) -> Iterator[Row]:
    catalog = reader.shared.catalog
    owners: list[Table | Domain] = [*catalog.tables(), *(d for _, d in sorted(catalog.domains.items()))]
    for owner in owners:
        for check in owner.checks:
            yield CATALOG, _split(owner.name)[0], check.name, check.text
    for table in catalog.tables():
        for column in table.columns:
            if column.not_null:
                name = f"{table.short}_{column.name}_not_null"
                yield CATALOG, _split(table.name)[0], name, f"{column.name} IS NOT NULL"


@_view(
    "information_schema",
    "domains",
    domain_catalog=NAME,
    domain_schema=NAME,
    domain_name=NAME,
    **_TYPE_COLUMNS,
    domain_default=TEXT,
)
def _domains(reader: Reader) -> Iterator[Row]:
    for key, domain in sorted(reader.shared.catalog.domains.items()):
        default = _written(domain.default) if domain.default is not None else None
        yield (CATALOG, *_split(key), *_facts(domain.type), default)


@_view(
    "information_schema",
    "domain_constraints",
    constraint_schema=NAME,
    constraint_name=NAME,
    domain_schema=NAME,
    domain_name=NAME,
)
def _domain_constraints(reader: Reader) -> Iterator[Row]:
    for key, domain in sorted(reader.shared.catalog.domains.items()):
        for check in domain.checks:
            yield (_split(key)[0], check.name, *_split(key))


@_view(
    "information_schema",
    "user_defined_types",
    user_defined_type_catalog=NAME,
    user_defined_type_schema=NAME,
    user_defined_type_name=NAME,
    user_defined_type_category=NAME,
    is_instantiable=YES_OR_NO,
    is_final=YES_OR_NO,
    ordering_form=NAME,
    **_TYPE_COLUMNS,
)
def _types(reader: Reader) -> Iterator[Row]:
    for key, type_ in sorted(reader.shared.catalog.types.items()):
        yield (CATALOG, *_split(key), "DISTINCT", "YES", "YES", "FULL", *_facts(type_.parts[0]))


@_view(
    "information_schema",
    "sequences",
    sequence_catalog=NAME,
    sequence_schema=NAME,
    sequence_name=NAME,
    **_TYPE_COLUMNS,
    start_value=T.BIGINT,
    minimum_value=T.BIGINT,
    maximum_value=T.BIGINT,
    increment=T.BIGINT,
    cycle_option=YES_OR_NO,
)
def _sequences(reader: Reader) -> Iterator[Row]:
    for key, sequence in sorted(reader.shared.catalog.sequences.items()):
        numbers = sequence.start, *sequence.bounds, sequence.increment
        yield (CATALOG, *_split(key), *_facts(sequence.type), *numbers, _yes(sequence.cycle))


@_view(
    "information_schema",
    "triggers",
    trigger_catalog=NAME,
    trigger_schema=NAME,
    trigger_name=NAME,
    event_manipulation=NAME,
    event_object_schema=NAME,
    event_object_table=NAME,
    action_order=NUMBER,
    action_condition=TEXT,
    action_statement=TEXT,
    action_orientation=NAME,
    action_timing=NAME,
)
def _triggers(reader: Reader) -> Iterator[Row]:
    for key, trigger in sorted(reader.shared.catalog.triggers.items()):
        node = trigger.definition
        condition = trigger.source[node.condition.span] if node.condition is not None else None
        yield (
            *(CATALOG, *_split(key), node.event.upper(), *_split(trigger.table.name), trigger.number, condition),
            *(" ".join(trigger.source[node.body.span].split()), "ROW" if node.each_row else "STATEMENT"),
            "INSTEAD OF" if node.timing == "instead" else node.timing.upper(),
        )


def _specific(reader: Reader) -> Iterator[tuple[str, Routine]]:
    """Routines with their specific names, which no two have in common."""
    taken: set[str] = set()
    for routine in reader.shared.catalog.all_routines():
        base = name = routine.definition.specific or routine.short
        number = 1
        while name in taken:
            number += 1
            name = f"{base}_{number}"
        taken.add(name)
        yield name, routine


@_view(
    "information_schema",
    "routines",
    specific_catalog=NAME,
    specific_schema=NAME,
    specific_name=NAME,
    routine_catalog=NAME,
    routine_schema=NAME,
    routine_name=NAME,
    module_name=NAME,
    routine_type=NAME,
    **_TYPE_COLUMNS,
    routine_body=NAME,
    routine_definition=TEXT,
    is_deterministic=YES_OR_NO,
    sql_data_access=NAME,
    is_null_call=YES_OR_NO,
    max_dynamic_result_sets=NUMBER,
)
def _routines(reader: Reader) -> Iterator[Row]:
    schemas = reader.shared.catalog.schemas
    for specific, routine in _specific(reader):
        schema = _split(routine.name)[0]
        module = schema if schema in schemas and schemas[schema].kind == "module" else None
        node = routine.definition
        returned = _facts(routine.returns) if routine.returns is not None else _NO_TYPE
        if routine.table:
            returned = ("TABLE", *_NO_TYPE[1:])
        yield (
            *(CATALOG, schema, specific, CATALOG, schema, routine.short, module, routine.kind.upper(), *returned),
            *("SQL", routine.source[node.body.span][:4000], _yes(routine.deterministic)),
            *((routine.access or "contains sql").split(" data")[0].removesuffix(" sql").upper(),),
            *(_yes(node.null_call) if routine.kind == "function" else None, node.result_sets),
        )


@_view(
    "information_schema",
    "parameters",
    specific_catalog=NAME,
    specific_schema=NAME,
    specific_name=NAME,
    ordinal_position=NUMBER,
    parameter_mode=NAME,
    is_result=YES_OR_NO,
    parameter_name=NAME,
    **_TYPE_COLUMNS,
    parameter_default=TEXT,
)
def _parameters(reader: Reader) -> Iterator[Row]:
    for specific, routine in _specific(reader):
        schema = _split(routine.name)[0]
        for number, parameter in enumerate(routine.parameters):
            default = _written(parameter.default) if parameter.default is not None else None
            start = CATALOG, schema, specific, number + 1, parameter.mode.upper(), "NO", parameter.name
            yield (*start, *_facts(parameter.type), default)


# ---- our own --------------------------------------------------------------------------------------------------------


@_view("glimb", "notes", session_name=NAME, position=NUMBER, note=TEXT)
def _notes(reader: Reader) -> Iterator[Row]:
    """Notes of all sessions since the start, or the start of the case."""
    for name, other in reader.shared.sessions.items():
        for number, note in enumerate(other.asides.notes.told):
            yield name, number + 1, note


@_view("glimb", "changes", table_name=NAME, kind=NAME, key_text=TEXT, before_row=TEXT, after_row=TEXT)
def _changes(reader: Reader) -> Iterator[Row]:
    """Net changes of the transaction that is open in this session."""
    for change in net_changes(reader.log):
        kind = "insert" if change.before is None else "delete" if change.after is None else "update"
        columns = change.table.columns
        shown = [
            ", ".join(literal_of(v, c.type) for v, c in zip(row, columns, strict=False)) if row is not None else None
            for row in (change.before, change.after)
        ]
        yield change.table.name, kind, ", ".join(str(k) for k in change.key), *shown


@_view(
    "glimb",
    "routines",
    routine_name=NAME,
    kind=NAME,
    signature=TEXT,
    promises=NAME,
    does=NAME,
    is_deterministic=YES_OR_NO,
    line_count=NUMBER,
    row_type=TEXT,
    create_text=T.CLOB,
    file_name=T.varchar(1000),
    line_number=NUMBER,
    is_valid=YES_OR_NO,
    installed_at=T.Type("timestamp", 0, 6),
)
def _our_routines(reader: Reader) -> Iterator[Row]:
    """What routines promise, what they do, of what they were made and where, whether they still can be bound."""
    for routine in reader.shared.catalog.all_routines():
        level, start = routine.does, routine.definition.span.start
        text = routine.source[routine.definition.span]
        does = tree.ACCESS[level] if level is not None else None
        row_type = ", ".join(f"{name} {type_}" for name, type_ in routine.table) or None
        yield (
            *(routine.name, routine.kind_word, routine.signature, routine.access or None, does),
            *(_yes(routine.deterministic), text.count("\n") + 1, row_type, text, routine.source.name),
            *(routine.source.line(start), _yes(level is not None), routine.installed_at),
        )


@_view(
    "glimb",
    "parameters",
    routine_name=NAME,
    signature=TEXT,
    position=NUMBER,
    mode=NAME,
    parameter_name=NAME,
    type=TEXT,
    default_text=TEXT,
)
def _our_parameters(reader: Reader) -> Iterator[Row]:
    """The parameters of routines in their order, and behind them the columns of the rows that a table function gives
    (mode COLUMN)."""
    for routine in reader.shared.catalog.all_routines():
        given = [(p.mode.upper(), p.name, p.type, p.default) for p in routine.parameters]
        given += [("COLUMN", name, type_, None) for name, type_ in routine.table]
        for number, (mode, name, type_, default) in enumerate(given, 1):
            told = _written(default) if default is not None else None
            yield routine.name, routine.signature, number, mode, name, str(type_), told
