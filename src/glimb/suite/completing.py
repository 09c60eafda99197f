"""What can be typed next: words that the grammar allows, and names that there are, each with what it is.

In: a text up to the cursor, and `Words`, the names in an engine. Out: `Offer`s for the word that is being typed.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import NamedTuple

from glimb.engine.catalog.objects import Routine
from glimb.engine.engine import Engine
from glimb.engine.storage.table import Table
from glimb.engine.values.conversion import literal_of
from glimb.lang.parser import STARTERS, wanted_behind
from glimb.lang.parser.base import RESERVED
from glimb.lang.printer import name as written
from glimb.lang.printer import names
from glimb.lang.source import Source
from glimb.lang.tokens import Token, tokenize
from glimb.suite.declared import compared, cursors_in, variables_in

MOST_VALUES = 20
MOST_OFFERS = 40
VALUE_WORDS = "case cast current_date current_timestamp exists false not null true".split()
BEFORE_TABLES = frozenset("from join into update table on lock truncate".split())
"""Words behind which a table is named (of ON: in CREATE TRIGGER and CREATE INDEX)."""
BEFORE_NAMES = {
    "open": "cursors",
    "fetch": "cursors",
    "close": "cursors",
    "of": "cursors",
    "savepoint": "savepoints",
    "to": "savepoints",
    "execute": "prepared",
}


MEANT = {"a statement": STARTERS, "a value": VALUE_WORDS}
"""What the grammar's labels stand for."""


class Offer(NamedTuple):
    """A text that may go on from the word that is being typed, and what it is."""

    text: str
    told: str


class Column(NamedTuple):
    """A column of a table or a parameter of a routine; `values` are some that are there in what it refers to."""

    name: str
    told: str
    values: tuple[str, ...] = ()


class Callable(NamedTuple):
    """A routine: `function`, `table` function or `procedure`, and how it is called."""

    name: str
    kind: str
    told: str
    parameters: tuple[Column, ...]


class Words(NamedTuple):
    """All names that there are at a moment."""

    tables: dict[str, tuple[Column, ...]] = {}
    routines: tuple[Callable, ...] = ()
    hosts: dict[str, str] = {}
    cursors: tuple[str, ...] = ()
    savepoints: tuple[str, ...] = ()
    prepared: tuple[str, ...] = ()
    sequences: tuple[str, ...] = ()


def words_of(engine: Engine, session: str) -> Words:
    """The names in an engine, as a session can use them."""
    catalog = engine.catalog
    tables = {table.name: tuple(_columns(engine, table)) for table in catalog.tables()}
    for name in catalog.relations:
        tables.setdefault(name, ())
    refers = {c.name: c.values for columns in tables.values() for c in columns if c.values}
    routines = tuple(_routine(r, refers) for group in catalog.routines.values() for r in group)
    hosts = {f":{name}": str(value.type) for name, value in engine.shared.hosts.items()}
    words = Words(tables, routines, hosts, sequences=tuple(catalog.sequences))
    found = engine.sessions.get(session)
    if found is None:
        return words
    prepared = tuple(name for name in found.dynamic.prepared if name)
    return words._replace(savepoints=tuple(p.name for p in found.savepoints.points), prepared=prepared)


def _columns(engine: Engine, table: Table) -> Iterator[Column]:
    """The columns of a table with their types, keys and what they refer to."""
    primary = set(table.primary.columns) if table.primary is not None else set()
    refers = {key.columns[0]: key for key in table.foreign if len(key.columns) == 1}
    for number, column in enumerate(table.columns):
        told = str(column.type)
        values: tuple[str, ...] = ()
        key = refers.get(number)
        if number in primary:
            told += " primary key"
        if key is not None:
            told += f" → {key.target.name}"
            values = tuple(_values(key.target, key.target_index.columns[0]))
        yield Column(column.name, told, values)


def _values(table: Table, position: int) -> Iterator[str]:
    type_ = table.columns[position].type
    for row in islice(table.rows.values(), MOST_VALUES):
        if row is not None and row[position] is not None:
            yield literal_of(row[position], type_)


def _routine(routine: Routine, refers: dict[str, tuple[str, ...]]) -> Callable:
    parameters = tuple(
        Column(
            p.name,
            f"{p.mode.upper()} {p.type}" if routine.kind == "procedure" else str(p.type),
            _of_compared(routine, p.name, refers),
        )
        for p in routine.parameters
    )
    told = ", ".join(f"{p.name} {p.told}" for p in parameters)
    returns = " → table" if routine.table else f" → {routine.returns}" if routine.returns is not None else ""
    return Callable(routine.name, "table" if routine.table else routine.kind, f"({told}){returns}", parameters)


def _of_compared(routine: Routine, parameter: str, refers: dict[str, tuple[str, ...]]) -> tuple[str, ...]:
    """The values for a parameter: those of the column that has its name, or to which the routine compares it."""
    text = routine.source[routine.definition.span]
    likely = (parameter, *compared(text, parameter)) if parameter not in refers else (parameter,)
    return next((refers[name] for name in likely if name in refers), ())


# ---- what fits


def offers(text: str, words: Words) -> tuple[str, list[Offer]]:
    """The word at the end of a text that is being typed, and what may stand in its place."""
    found = re.search(r":?[^\W\d]\w*\Z|:\Z", text)
    word = found[0] if found is not None else ""
    before = text[: len(text) - len(word)]
    if re.search(r"'[^']*\Z", re.sub(r"'[^']*'", "", before.rpartition("\n")[2])):
        return word, []
    tokens = [t for t in tokenize(Source(before)).tokens if t.kind != "end"]
    fitting = dict.fromkeys(_fitting(before, tokens, words))
    lower = word.lower()
    chosen = [o for o in fitting if o.text.lower().lstrip('"').startswith(lower) and o.text.lower() != lower]
    return word, chosen[:MOST_OFFERS]


def _fitting(before: str, tokens: list[Token], words: Words) -> Iterator[Offer]:
    """All that may stand behind a text, what is likely first."""
    variables, cursors = dict(variables_in(tokens)), tuple(cursors_in(tokens))
    words = words._replace(cursors=(*cursors, *words.cursors))
    start = next((n for n in range(len(tokens) - 1, -1, -1) if tokens[n].value == ";"), -1)
    tokens = _whole_names(tokens[start + 1 :], words)
    last = tokens[-1].value if tokens else ""
    reach = dict(_tables_in_reach(tokens, words))
    if last == "." and len(tokens) > 1:
        yield from _of_columns(reach.get(tokens[-2].value, ()))
        yield from _of_schema(f"{tokens[-2].value}.", words)
        return
    if last == ":":
        return
    call = _open_call(tokens, words)
    yield from _values_for(tokens, reach, call)
    if call is not None and last in ("(", ","):
        yield from (Offer(f"{written(p.name)} => ", p.told) for p in call.parameters)
    if last in BEFORE_TABLES or (last == "," and _is_in_from(tokens)):
        yield from (Offer(_whole(name), _told_table(columns)) for name, columns in words.tables.items())
    if last in BEFORE_NAMES:
        yield from (Offer(name, BEFORE_NAMES[last].removesuffix("s")) for name in getattr(words, BEFORE_NAMES[last]))
    called = "procedure" if last == "call" else "table" if [t.value for t in tokens[-2:]] == ["table", "("] else ""
    yield from (Offer(f"{_whole(r.name)}(", r.told) for r in words.routines if r.kind == called)
    wanted = wanted_behind(before)
    if "the name of a sequence" in wanted:
        yield from (Offer(_whole(name), "sequence") for name in words.sequences)
    if {"a value", "the name of a column"} & set(wanted):
        for columns in dict.fromkeys(reach.values()):
            yield from _of_columns(columns)
    if {"a value", "a variable"} & set(wanted):
        yield from (Offer(name, told) for name, told in variables.items())
    if "a value" in wanted:
        yield from (Offer(f"{_whole(r.name)}(", r.told) for r in words.routines if r.kind == "function")
        yield from (Offer(name, told) for name, told in words.hosts.items())
    yield from (Offer(w.upper(), "") for label, more in MEANT.items() if label in wanted for w in more)
    yield from (Offer(w, "") for w in wanted if w[:1].isalpha() and w.upper() == w)


def _whole_names(tokens: list[Token], words: Words) -> list[Token]:
    """The tokens, with one for the name of a table or routine and that of its schema before it."""
    known = {*words.tables, *(r.name for r in words.routines)}
    found: list[Token] = []
    for token in tokens:
        before = found[-2].value if len(found) > 1 and found[-1].value == "." else ""
        if before and f"{before}.{token.value}" in known:
            found[-2:] = [token._replace(value=f"{before}.{token.value}")]
        else:
            found.append(token)
    return found


def _of_schema(schema: str, words: Words) -> Iterator[Offer]:
    """What is in a schema or module, without its name."""
    for name, columns in words.tables.items():
        if name.startswith(schema):
            yield Offer(written(name.removeprefix(schema)), _told_table(columns))
    for routine in words.routines:
        if routine.name.startswith(schema):
            yield Offer(f"{written(routine.name.removeprefix(schema))}(", routine.told)


def _of_columns(columns: Iterable[Column]) -> Iterator[Offer]:
    return (Offer(written(column.name), column.told) for column in columns)


def _whole(name: str) -> str:
    """A name with that of its schema, delimited where it must be."""
    return names(tuple(name.split(".")))


def _told_table(columns: tuple[Column, ...]) -> str:
    return ", ".join(column.name for column in columns)


def _tables_in_reach(tokens: list[Token], words: Words) -> Iterator[tuple[str, tuple[Column, ...]]]:
    """The tables that a statement names, by their names and by the names that it gives them."""
    for at, token in enumerate(tokens):
        if token.value in words.tables and at and tokens[at - 1].value in (*BEFORE_TABLES, ","):
            yield token.value, words.tables[token.value]
            behind = [t for t in tokens[at + 1 : at + 3] if t.value != "as"]
            if behind and behind[0].kind in ("name", "quoted") and behind[0].value not in RESERVED:
                yield behind[0].value, words.tables[token.value]


def _is_in_from(tokens: list[Token]) -> bool:
    """Whether a comma stands between tables."""
    for token in reversed(tokens):
        if token.value in ("select", "where", "group", "order", "set", "("):
            return False
        if token.value == "from":
            return True
    return False


def _open_call(tokens: list[Token], words: Words) -> Callable | None:
    """The routine between whose parentheses one types."""
    depth = 0
    for at in range(len(tokens) - 1, 0, -1):
        value = tokens[at].value
        depth += (value == ")") - (value == "(")
        if depth < 0:
            return next((r for r in words.routines if r.name == tokens[at - 1].value), None)
    return None


def _values_for(tokens: list[Token], reach: dict[str, tuple[Column, ...]], call: Callable | None) -> Iterator[Offer]:
    """Values that are there for the column or parameter that one gives a value."""
    last = tokens[-1].value if tokens else ""
    name = tokens[-2].value if len(tokens) > 1 else ""
    if last == "=":
        columns: Iterable[Column] = [c for columns in reach.values() for c in columns if c.name == name]
    elif last == "=>" and call is not None:
        columns = [p for p in call.parameters if p.name == name]
    elif last in ("(", ",") and call is not None:
        place = _place_in_call(tokens)
        columns = call.parameters[place : place + 1]
    else:
        return
    for column in columns:
        yield from (Offer(value, f"{column.name} {column.told}") for value in column.values)


def _place_in_call(tokens: list[Token]) -> int:
    """How many arguments stand before."""
    depth = place = 0
    for token in reversed(tokens):
        depth += (token.value == ")") - (token.value == "(")
        if depth < 0:
            break
        place += token.value == "," and depth == 0
    return place
